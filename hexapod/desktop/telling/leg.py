"""The Tell leg: all projects at a glance, their milestones, reports, and the page."""

from __future__ import annotations

from hexapod.desktop.frame.parts_leg import PartsLeg

PARTS = {
    "projects": ("Projects", "telling.projects_view", "ProjectsView"),
    "milestones": ("Milestones", "telling.milestones_view", "MilestonesView"),
    "reports": ("Reports", "telling.reports_view", "ReportsView"),
    "page": ("Page", "telling.page_view", "PageView"),
}


class TellLeg(PartsLeg):
    name, parts, sides = "telling", PARTS, {"projects": "glance", "reports": "report", "page": "page"}
