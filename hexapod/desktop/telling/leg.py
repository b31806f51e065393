"""The Tell leg: all projects at a glance, and their milestones."""

from __future__ import annotations

from hexapod.desktop.frame.parts_leg import PartsLeg

PARTS = {
    "projects": ("Projects", "telling.projects_view", "ProjectsView"),
    "milestones": ("Milestones", "telling.milestones_view", "MilestonesView"),
}


class TellLeg(PartsLeg):
    name, parts, sides = "telling", PARTS, {"projects": "glance"}
