"""The Tell leg: all projects at a glance, their milestones, reports, the page, and requests."""

from __future__ import annotations

from hexapod.desktop.frame.parts_leg import PartsLeg

PARTS = {
    "projects": ("Projects", "telling.projects_view", "ProjectsView"),
    "milestones": ("Milestones", "telling.milestones_view", "MilestonesView"),
    "reports": ("Reports", "telling.reports_view", "ReportsView"),
    "page": ("Page", "telling.page_view", "PageView"),
    "requests": ("Requests", "telling.requests_view", "RequestsView"),
}


class TellLeg(PartsLeg):
    name, parts = "telling", PARTS
    sides = {"projects": "glance", "reports": "report", "page": "page", "requests": "request"}
