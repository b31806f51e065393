"""The Tell leg: all projects at a glance."""

from __future__ import annotations

from hexapod.desktop.frame.parts_leg import PartsLeg

PARTS = {"projects": ("Projects", "telling.projects_view", "ProjectsView")}


class TellLeg(PartsLeg):
    name, parts, sides = "telling", PARTS, {"projects": "glance"}
