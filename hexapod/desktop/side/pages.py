"""The pages of the side panel, each made when it is first asked for: the window waits for none but the one it shows."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from importlib import import_module
from typing import Any, NamedTuple

from PyQt6.QtCore import pyqtSignal
from PyQt6.QtWidgets import QStackedWidget

from hexapod.desktop.action import Registry
from hexapod.desktop.frame.page import Page
from hexapod.desktop.models.desk import Desk


class PageEntry(NamedTuple):
    """Where the class of a page is, below ``hexapod.desktop``, and what it is made with besides the desk.

    That is the ``registry`` of actions, or what to call: to ``leave`` it, to ``ask_field`` for the form of an own
    field, to go ``to_columns``.
    """

    module: str
    made_by: str
    needs: str = ""


PAGES = {
    "inspector": PageEntry("inspector.inspector", "Inspector", "registry"),
    "proposal": PageEntry("staff.proposal", "ProposalPage", "registry"),
    "project": PageEntry("workspace.project_form", "ProjectForm", "leave"),
    "resource": PageEntry("forms", "ResourceForm", "leave"),
    "seats": PageEntry("staff.seats_page", "SeatsPage"),
    "reservations": PageEntry("staff.reservations_page", "ReservationsPage", "leave"),
    "guard": PageEntry("staff.guard_page", "GuardPage", "registry"),
    "pool": PageEntry("staff.pool_page", "PoolPage"),
    "link": PageEntry("link.link_form", "LinkForm", "leave"),
    "planning_back": PageEntry("link.planning_back", "PlanningBackPage", "leave"),
    "repeat": PageEntry("build.repeat_form", "RepeatForm", "leave"),
    "split": PageEntry("staff.split_form", "SplitForm", "leave"),
    "assignment": PageEntry("staff.assignment_form", "AssignmentForm", "leave"),
    "round": PageEntry("track.round_page", "RoundPage"),
    "notices": PageEntry("track.notices_page", "NoticesPage"),
    "stages": PageEntry("track.stages_page", "StagesPage"),
    "forms": PageEntry("track.forms_page", "FormsPage"),
    "baselines": PageEntry("track.baselines_page", "BaselinesPage"),
    "money": PageEntry("track.money_page", "MoneyPage", "registry"),
    "entry": PageEntry("track.money_forms", "EntryForm", "leave"),
    "budget": PageEntry("track.money_forms", "BudgetForm", "leave"),
    "value": PageEntry("track.value_page", "ValuePage", "registry"),
    "estimates": PageEntry("trying.estimates_page", "EstimatesPage"),
    "scenario": PageEntry("trying.scenario_page", "ScenarioPage", "registry"),
    "ways": PageEntry("trying.ways_page", "WaysPage"),
    "risk": PageEntry("trying.risk_form", "RiskForm", "leave"),
    "risk_scales": PageEntry("trying.scales_form", "ScalesForm", "leave"),
    "risk_files": PageEntry("trying.risk_files_page", "RiskFilesPage"),
    "approval": PageEntry("telling.approval_page", "ApprovalPage"),
    "request": PageEntry("telling.request_page", "RequestPage", "registry"),
    "page": PageEntry("telling.page_page", "PagePage"),
    "report": PageEntry("telling.report_page", "ReportPage"),
    "glance": PageEntry("telling.glance_page", "GlancePage", "registry"),
    "thresholds": PageEntry("telling.thresholds_form", "ThresholdsForm", "leave"),
    "log": PageEntry("track.log_page", "LogPage"),
    "log_files": PageEntry("track.log_files_page", "LogFilesPage"),
    "soundness": PageEntry("inspector.soundness", "SoundnessPage"),
    "projects": PageEntry("workspace.projects_page", "ProjectsPage"),
    "templates": PageEntry("workspace.templates_page", "TemplatesPage", "leave"),
    "save_template": PageEntry("workspace.save_template", "SaveTemplateForm", "leave"),
    "export": PageEntry("workspace.export_page", "ExportPage", "leave"),
    "float_paths": PageEntry("link.float_paths", "FloatPathsPage"),
    "user": PageEntry("workspace.user_form", "UserForm", "leave"),
    "view": PageEntry("views.view_form", "ViewForm", "leave"),
    "columns": PageEntry("build.columns_page", "ColumnsPage", "ask_field"),
    "field": PageEntry("build.columns_page", "FieldForm", "to_columns"),
    "replace": PageEntry("build.replace_page", "ReplacePage"),
    "history": PageEntry("workspace.history", "HistoryPage"),
    "ripple": PageEntry("inspector.ripple", "RipplePage"),
    "file": PageEntry("workspace.file_page", "FilePage", "registry"),
    "legend": PageEntry("build.sheets", "Legend"),
}


class Pages(QStackedWidget):
    """By name or as an attribute: ``pages["project"]`` is ``pages.project``.

    ``left`` when a form was saved or given up, ``field_asked`` with the own field to change, None for a new one,
    ``assignment_asked`` with the task and the resource of an assignment that is to be changed.
    """

    left = pyqtSignal()
    field_asked = pyqtSignal(object)
    assignment_asked = pyqtSignal(str, str)

    def __init__(self, desk: Desk, registry: Registry) -> None:
        super().__init__()
        self._desk = desk
        self.shown = ""  # the name of the page on show
        self._made: dict[str, Page] = {}
        self._given: dict[str, Registry | Callable[..., None]] = {
            "registry": registry,
            "leave": self.left.emit,
            "ask_field": self.field_asked.emit,
            "to_columns": lambda: self.show_page("columns"),
        }

    def __getitem__(self, name: str) -> Page:
        if name not in self._made:
            entry = PAGES[name]
            made_by = getattr(import_module(f"hexapod.desktop.{entry.module}"), entry.made_by)
            page = made_by(self._desk, self._given[entry.needs]) if entry.needs else made_by(self._desk)
            if hasattr(page, "assignment_asked"):
                page.assignment_asked.connect(self.assignment_asked)
            self.add(name, page)
        return self._made[name]

    def __getattr__(self, name: str) -> Any:
        if name not in PAGES:
            raise AttributeError(name)
        return self[name]

    def __iter__(self) -> Iterator[str]:
        yield from PAGES
        yield from (name for name in self._made if name not in PAGES)

    def made(self) -> list[Page]:
        """Those that were asked for so far."""
        return [page for i in range(self.count()) if isinstance(page := self.widget(i), Page)]

    def add(self, name: str, page: Page) -> None:
        """A page that needs more of the window than the desk."""
        self._made[name] = page
        self.addWidget(page)

    def show_page(self, name: str) -> None:
        self.setCurrentWidget(self[name])
        self.shown = name
