"""The side panel: one page at a time, the inspector unless something else was asked for."""

from __future__ import annotations

from PyQt6.QtCore import Qt, pyqtSignal
from PyQt6.QtWidgets import QFrame, QStackedWidget, QVBoxLayout, QWidget

from hexapod.desktop.actions.action import Registry
from hexapod.desktop.desk import Desk
from hexapod.desktop.panels.assignment_form import AssignmentForm
from hexapod.desktop.panels.columns_page import ColumnsPage, FieldForm
from hexapod.desktop.panels.export_page import ExportPage
from hexapod.desktop.panels.float_paths import FloatPathsPage
from hexapod.desktop.panels.forms import ResourceForm
from hexapod.desktop.panels.guard_page import GuardPage
from hexapod.desktop.panels.history import HistoryPage
from hexapod.desktop.panels.inspector import Inspector
from hexapod.desktop.panels.link_form import LinkForm
from hexapod.desktop.panels.page import Page
from hexapod.desktop.panels.planning_back import PlanningBackPage
from hexapod.desktop.panels.pool_page import PoolPage
from hexapod.desktop.panels.project_form import ProjectForm
from hexapod.desktop.panels.projects_page import ProjectsPage
from hexapod.desktop.panels.proposal import ProposalPage
from hexapod.desktop.panels.repeat_form import RepeatForm
from hexapod.desktop.panels.replace_page import ReplacePage
from hexapod.desktop.panels.reservations_page import ReservationsPage
from hexapod.desktop.panels.ripple import RipplePage
from hexapod.desktop.panels.save_template import SaveTemplateForm
from hexapod.desktop.panels.seats_page import SeatsPage
from hexapod.desktop.panels.sheets import Keys, Legend
from hexapod.desktop.panels.soundness import SoundnessPage
from hexapod.desktop.panels.split_form import SplitForm
from hexapod.desktop.panels.templates_page import TemplatesPage
from hexapod.desktop.panels.user_form import UserForm
from hexapod.desktop.panels.view_form import ViewForm
from hexapod.desktop.theme.style import scaled
from hexapod.plan.records import LinkKey

WIDTH = 268
# Pages that are looked at and left again by asking for them once more.
SHEETS = ("history", "legend", "keys", "soundness", "columns", "replace", "projects", "float_paths", "ripple", "seats",
          "guard", "pool")  # fmt: skip


class SidePanel(QFrame):
    """``left`` says that a form was left and the keyboard is free to go back to the leg."""

    left = pyqtSignal()

    def __init__(self, desk: Desk, registry: Registry) -> None:
        super().__init__()
        self.setObjectName("panel")
        self.restyle()
        self._desk = desk
        self.project_form = ProjectForm(desk, self.leave)
        self.resource_form = ResourceForm(desk, self.leave)
        self.link_form = LinkForm(desk, self.leave)
        self.planning_back = PlanningBackPage(desk, self.leave)
        self.repeat_form = RepeatForm(desk, self.leave)
        self.assignment_form = AssignmentForm(desk, self.leave)
        self.split_form = SplitForm(desk, self.leave)
        self.field_form = FieldForm(desk, lambda: self.show_page("columns"))
        self.templates = TemplatesPage(desk, self.leave)
        self.save_template = SaveTemplateForm(desk, self.leave)
        self.export = ExportPage(desk, self.leave)
        self.user_form = UserForm(desk, self.leave)
        self.view_form = ViewForm(desk, self.leave)
        self.inspector = Inspector(desk, registry)
        self.inspector.assignment_asked.connect(self.show_assignment)
        self.seats = SeatsPage(desk)
        self.reservations = ReservationsPage(desk, self.leave)
        self.pages: dict[str, Page] = {
            "inspector": self.inspector,
            "proposal": ProposalPage(desk, registry),
            "project": self.project_form,
            "resource": self.resource_form,
            "seats": self.seats,
            "reservations": self.reservations,
            "guard": GuardPage(desk, registry),
            "pool": PoolPage(desk),
            "link": self.link_form,
            "planning_back": self.planning_back,
            "repeat": self.repeat_form,
            "split": self.split_form,
            "assignment": self.assignment_form,
            "soundness": SoundnessPage(desk),
            "projects": ProjectsPage(desk),
            "templates": self.templates,
            "save_template": self.save_template,
            "export": self.export,
            "float_paths": FloatPathsPage(desk),
            "user": self.user_form,
            "view": self.view_form,
            "columns": ColumnsPage(desk, self.show_field),
            "field": self.field_form,
            "replace": ReplacePage(desk),
            "history": HistoryPage(desk),
            "ripple": RipplePage(desk),
            "legend": Legend(desk),
            "keys": Keys(desk, registry),
        }
        self.home = "inspector"
        self._stack = QStackedWidget()
        for page in self.pages.values():
            self._stack.addWidget(page)
        box = QVBoxLayout(self)
        box.setContentsMargins(0, 0, 0, 0)
        box.addWidget(self._stack)
        desk.proposal_changed.connect(self._on_proposal)
        desk.link_asked.connect(self.show_link)
        desk.staged_changed.connect(self._on_staged)
        desk.guard.changed.connect(self._on_guard)

    def restyle(self) -> None:
        """As wide as the size of text asks for."""
        self.setFixedWidth(scaled(WIDTH))

    def add_page(self, name: str, page: Page) -> None:
        """A page that needs more of the window than the desk."""
        self.pages[name] = page
        self._stack.addWidget(page)

    @property
    def shown(self) -> str:
        """The name of the page on show."""
        return next(name for name, page in self.pages.items() if page is self._stack.currentWidget())

    def first_field(self) -> QWidget:
        """What takes the keyboard when the panel does: its first part that can."""
        page = self.pages[self.shown]
        wanted = Qt.FocusPolicy.TabFocus.value
        fields = [w for w in page.findChildren(QWidget) if w.focusPolicy().value & wanted and w.isVisible()]
        return fields[0] if fields else page

    def show_page(self, name: str) -> None:
        """Show a page; asking for the one on show again leads home, except home itself."""
        if name == self.shown and name in SHEETS:
            name = self.home
        self._stack.setCurrentWidget(self.pages[name])
        self.pages[name].refresh()

    def show_project(self, project: str | None) -> None:
        self.project_form.project = project
        self.show_page("project")
        self.project_form.refresh_now()

    def show_resource(self, resource: str | None) -> None:
        self.resource_form.resource = resource
        self.show_page("resource")
        self.resource_form.refresh_now()

    def show_seat(self, key: tuple[str, str]) -> None:
        """Who could fill a seat."""
        self.seats.seat = None
        if self.shown != "seats":
            self.show_page("seats")
        self.seats.look_for(key)

    def show_reservations(self) -> None:
        self.reservations.reservation = None
        self.show_page("reservations")
        self.reservations.refresh_now()

    def show_link(self, link: LinkKey) -> None:
        self.link_form.link = link
        self.show_page("link")
        self.link_form.refresh_now()

    def show_planning_back(self, task: str | None) -> None:
        self.planning_back.task = task
        self.show_page("planning_back")
        self.planning_back.refresh_now()

    def show_repeat(self, task: str | None) -> None:
        self.repeat_form.task = task
        self.show_page("repeat")
        self.repeat_form.refresh_now()

    def show_assignment(self, task: str, resource: str) -> None:
        self.assignment_form.key = (task, resource)
        self.show_page("assignment")
        self.assignment_form.refresh_now()

    def show_split(self, task: str | None) -> None:
        self.split_form.task = task
        self.show_page("split")
        self.split_form.refresh_now()

    def show_field(self, field: str | None) -> None:
        self.field_form.field_id = field
        self.show_page("field")
        self.field_form.refresh_now()

    def show_templates(self) -> None:
        self.show_page("templates")
        self.templates.choose(None)

    def show_save_template(self) -> None:
        self.show_page("save_template")
        self.save_template.refresh_now()

    def show_view_form(self) -> None:
        self.show_page("view")
        self.view_form.refresh_now()

    def show_export(self) -> None:
        self.show_page("export")
        self.export.refresh_now()

    def go_home(self, name: str) -> None:
        """What is shown when nothing else is asked for: the inspector in Build, the proposal in Staff."""
        self.home = name
        self.show_page(name)

    def leave(self) -> None:
        """Home again; the keyboard is free to go back to the leg."""
        self.show_page(self.home)
        self.left.emit()

    def _on_staged(self) -> None:
        """What waits to be looked at is shown, and goes with its page."""
        if self._desk.staged is not None and self.shown != "ripple":
            self.show_page("ripple")

    def _on_guard(self) -> None:
        """What the guard stopped is shown, with what could be done instead."""
        if self._desk.guard.stopped is not None and self.shown != "guard":
            self.show_page("guard")

    def _on_proposal(self) -> None:
        if self._desk.proposal is not None:
            self.show_page("proposal")
