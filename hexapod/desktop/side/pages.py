"""The pages of the side panel, each made when it is first asked for: the window waits for none but the one it shows."""

from __future__ import annotations

from collections.abc import Iterator
from functools import cached_property
from typing import TYPE_CHECKING, TypeVar

from PyQt6.QtCore import pyqtSignal
from PyQt6.QtWidgets import QStackedWidget

from hexapod.desktop.action import Registry
from hexapod.desktop.frame.page import Page
from hexapod.desktop.models.desk import Desk

if TYPE_CHECKING:
    from hexapod.desktop.build.columns_page import ColumnsPage, FieldForm
    from hexapod.desktop.build.repeat_form import RepeatForm
    from hexapod.desktop.build.replace_page import ReplacePage
    from hexapod.desktop.build.sheets import Keys, Legend
    from hexapod.desktop.forms import ResourceForm
    from hexapod.desktop.inspector.inspector import Inspector
    from hexapod.desktop.inspector.ripple import RipplePage
    from hexapod.desktop.inspector.soundness import SoundnessPage
    from hexapod.desktop.link.float_paths import FloatPathsPage
    from hexapod.desktop.link.link_form import LinkForm
    from hexapod.desktop.link.planning_back import PlanningBackPage
    from hexapod.desktop.staff.assignment_form import AssignmentForm
    from hexapod.desktop.staff.guard_page import GuardPage
    from hexapod.desktop.staff.pool_page import PoolPage
    from hexapod.desktop.staff.proposal import ProposalPage
    from hexapod.desktop.staff.reservations_page import ReservationsPage
    from hexapod.desktop.staff.seats_page import SeatsPage
    from hexapod.desktop.staff.split_form import SplitForm
    from hexapod.desktop.views.view_form import ViewForm
    from hexapod.desktop.workspace.export_page import ExportPage
    from hexapod.desktop.workspace.file_page import FilePage
    from hexapod.desktop.workspace.history import HistoryPage
    from hexapod.desktop.workspace.project_form import ProjectForm
    from hexapod.desktop.workspace.projects_page import ProjectsPage
    from hexapod.desktop.workspace.save_template import SaveTemplateForm
    from hexapod.desktop.workspace.templates_page import TemplatesPage
    from hexapod.desktop.workspace.user_form import UserForm

Made = TypeVar("Made", bound=Page)


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
        self._desk, self._registry = desk, registry
        self.shown = ""  # the name of the page on show
        self._others: dict[str, Page] = {}

    def __getitem__(self, name: str) -> Page:
        return self._others.get(name) or getattr(self, name)

    def __iter__(self) -> Iterator[str]:
        yield from NAMES
        yield from self._others

    def made(self) -> list[Page]:
        """Those that were asked for so far."""
        return [page for i in range(self.count()) if isinstance(page := self.widget(i), Page)]

    def add(self, name: str, page: Page) -> None:
        """A page that needs more of the window than the desk."""
        self._others[name] = self._kept(page)

    def show_page(self, name: str) -> None:
        self.setCurrentWidget(self[name])
        self.shown = name

    def _kept(self, page: Made) -> Made:
        self.addWidget(page)
        return page

    @cached_property
    def inspector(self) -> Inspector:
        from hexapod.desktop.inspector.inspector import Inspector

        page = self._kept(Inspector(self._desk, self._registry))
        page.assignment_asked.connect(self.assignment_asked)
        return page

    @cached_property
    def proposal(self) -> ProposalPage:
        from hexapod.desktop.staff.proposal import ProposalPage

        return self._kept(ProposalPage(self._desk, self._registry))

    @cached_property
    def project(self) -> ProjectForm:
        from hexapod.desktop.workspace.project_form import ProjectForm

        return self._kept(ProjectForm(self._desk, self.left.emit))

    @cached_property
    def resource(self) -> ResourceForm:
        from hexapod.desktop.forms import ResourceForm

        return self._kept(ResourceForm(self._desk, self.left.emit))

    @cached_property
    def seats(self) -> SeatsPage:
        from hexapod.desktop.staff.seats_page import SeatsPage

        return self._kept(SeatsPage(self._desk))

    @cached_property
    def reservations(self) -> ReservationsPage:
        from hexapod.desktop.staff.reservations_page import ReservationsPage

        return self._kept(ReservationsPage(self._desk, self.left.emit))

    @cached_property
    def guard(self) -> GuardPage:
        from hexapod.desktop.staff.guard_page import GuardPage

        return self._kept(GuardPage(self._desk, self._registry))

    @cached_property
    def pool(self) -> PoolPage:
        from hexapod.desktop.staff.pool_page import PoolPage

        return self._kept(PoolPage(self._desk))

    @cached_property
    def link(self) -> LinkForm:
        from hexapod.desktop.link.link_form import LinkForm

        return self._kept(LinkForm(self._desk, self.left.emit))

    @cached_property
    def planning_back(self) -> PlanningBackPage:
        from hexapod.desktop.link.planning_back import PlanningBackPage

        return self._kept(PlanningBackPage(self._desk, self.left.emit))

    @cached_property
    def repeat(self) -> RepeatForm:
        from hexapod.desktop.build.repeat_form import RepeatForm

        return self._kept(RepeatForm(self._desk, self.left.emit))

    @cached_property
    def split(self) -> SplitForm:
        from hexapod.desktop.staff.split_form import SplitForm

        return self._kept(SplitForm(self._desk, self.left.emit))

    @cached_property
    def assignment(self) -> AssignmentForm:
        from hexapod.desktop.staff.assignment_form import AssignmentForm

        return self._kept(AssignmentForm(self._desk, self.left.emit))

    @cached_property
    def soundness(self) -> SoundnessPage:
        from hexapod.desktop.inspector.soundness import SoundnessPage

        return self._kept(SoundnessPage(self._desk))

    @cached_property
    def projects(self) -> ProjectsPage:
        from hexapod.desktop.workspace.projects_page import ProjectsPage

        return self._kept(ProjectsPage(self._desk))

    @cached_property
    def templates(self) -> TemplatesPage:
        from hexapod.desktop.workspace.templates_page import TemplatesPage

        return self._kept(TemplatesPage(self._desk, self.left.emit))

    @cached_property
    def save_template(self) -> SaveTemplateForm:
        from hexapod.desktop.workspace.save_template import SaveTemplateForm

        return self._kept(SaveTemplateForm(self._desk, self.left.emit))

    @cached_property
    def export(self) -> ExportPage:
        from hexapod.desktop.workspace.export_page import ExportPage

        return self._kept(ExportPage(self._desk, self.left.emit))

    @cached_property
    def float_paths(self) -> FloatPathsPage:
        from hexapod.desktop.link.float_paths import FloatPathsPage

        return self._kept(FloatPathsPage(self._desk))

    @cached_property
    def user(self) -> UserForm:
        from hexapod.desktop.workspace.user_form import UserForm

        return self._kept(UserForm(self._desk, self.left.emit))

    @cached_property
    def view(self) -> ViewForm:
        from hexapod.desktop.views.view_form import ViewForm

        return self._kept(ViewForm(self._desk, self.left.emit))

    @cached_property
    def columns(self) -> ColumnsPage:
        from hexapod.desktop.build.columns_page import ColumnsPage

        return self._kept(ColumnsPage(self._desk, self.field_asked.emit))

    @cached_property
    def field(self) -> FieldForm:
        from hexapod.desktop.build.columns_page import FieldForm

        return self._kept(FieldForm(self._desk, lambda: self.show_page("columns")))

    @cached_property
    def replace(self) -> ReplacePage:
        from hexapod.desktop.build.replace_page import ReplacePage

        return self._kept(ReplacePage(self._desk))

    @cached_property
    def history(self) -> HistoryPage:
        from hexapod.desktop.workspace.history import HistoryPage

        return self._kept(HistoryPage(self._desk))

    @cached_property
    def ripple(self) -> RipplePage:
        from hexapod.desktop.inspector.ripple import RipplePage

        return self._kept(RipplePage(self._desk))

    @cached_property
    def file(self) -> FilePage:
        from hexapod.desktop.workspace.file_page import FilePage

        return self._kept(FilePage(self._desk, self._registry))

    @cached_property
    def legend(self) -> Legend:
        from hexapod.desktop.build.sheets import Legend

        return self._kept(Legend(self._desk))

    @cached_property
    def keys(self) -> Keys:
        from hexapod.desktop.build.sheets import Keys

        return self._kept(Keys(self._desk, self._registry))


NAMES = tuple(name for name, part in vars(Pages).items() if isinstance(part, cached_property))
