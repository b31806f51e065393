"""The side panel: one page at a time, the inspector unless something else was asked for."""

from __future__ import annotations

from PyQt6.QtCore import Qt, pyqtSignal
from PyQt6.QtWidgets import QFrame, QHBoxLayout, QWidget

from hexapod.desktop.action import Registry
from hexapod.desktop.forms import Form
from hexapod.desktop.models.desk import Desk
from hexapod.desktop.side.edge import Edge
from hexapod.desktop.side.pages import Pages
from hexapod.desktop.theme.style import scaled
from hexapod.plan.kept import TASKS
from hexapod.plan.records import LinkKey

WIDTH = 268
NARROW = 1430  # below it the usual columns, the chart and the side have no room beside one another
ROOM = 1200  # from which on there is room for a page that is half of what its leg is for
EDGE_WORDS = {"inspector": "Why these dates", "proposal": "Levelling", "round": "What it does",
              "scenario": "The scenario", "glance": "How it stands"}  # fmt: skip
HALVES = ("scenario", "glance", "report", "page", "request")  # they stay open in a window that has room
# Pages that are looked at and left again by asking for them once more.
SHEETS = ("history", "legend", "soundness", "columns", "replace", "projects", "float_paths", "ripple", "seats",
          "guard", "pool", "forms", "stages", "notices", "ways")  # fmt: skip


class SidePanel(QFrame):
    """``left`` says that a form was left and the keyboard is free to go back to the leg.

    It folds to its edge by a key or a press, and by itself in a narrow window. What is folded opens for a page that was
    asked for, or that has something to say, and folds again when that is left.
    """

    left = pyqtSignal()

    def __init__(self, desk: Desk, registry: Registry) -> None:
        super().__init__()
        self.setObjectName("panel")
        self._desk = desk
        self.is_folded = False
        self._wish = desk.memory.recall(
            "side_folded", bool | None, None
        )  # folded or open, if somebody said so; else the width of the window decides
        self._is_narrow, self._has_room = False, True
        self._edge = Edge()
        self._edge.clicked.connect(self.turn)
        self.pages = Pages(desk, registry)
        self.pages.left.connect(self.leave)
        self.pages.field_asked.connect(self.show_field)
        self.pages.assignment_asked.connect(self.show_assignment)
        self.home = "inspector"
        box = QHBoxLayout(self)
        box.setContentsMargins(0, 0, 0, 0)
        box.setSpacing(0)
        box.addWidget(self._edge)
        box.addWidget(self.pages)
        self.restyle()
        desk.proposal_changed.connect(self._on_proposal)
        desk.link_asked.connect(self.show_link)
        desk.staging.changed.connect(self._on_staged)
        desk.guard.changed.connect(self._on_guard)
        desk.past_changed.connect(self._on_other_plan)

    def restyle(self) -> None:
        """As wide as the size of text asks for."""
        self.pages.setFixedWidth(scaled(WIDTH))
        self._edge.update()

    # Folded to its edge

    def open_now(self) -> None:
        """Open what is folded: somebody asked for the page on show."""
        self._fold(False)

    def turn(self) -> None:
        """Fold it, or open it, until somebody says otherwise."""
        self._wish = not self.is_folded
        self._fold(self._wish)
        self._desk.memory.keep("side_folded", self._wish)

    def fit_in(self, width: int) -> None:
        """In a window of this width, unless somebody said what it shall be."""
        self._is_narrow, self._has_room = width < scaled(NARROW), width >= scaled(ROOM)
        self._fold(self._is_at_rest_folded and self.shown == self.home and not self._has_something_to_say)

    @property
    def _is_at_rest_folded(self) -> bool:
        return self._is_narrow if self._wish is None else self._wish

    @property
    def _has_something_to_say(self) -> bool:
        return (self.shown == "proposal" and self._desk.proposal is not None) or self._stays_open

    @property
    def _stays_open(self) -> bool:
        """Whether the page on show is half of what its leg is for, and nobody folded it."""
        return self.shown in HALVES and self._wish is None and self._has_room

    def _fold(self, folded: bool) -> None:
        self.is_folded = folded
        self.pages.setVisible(not folded)
        self._edge.show_folded(folded, EDGE_WORDS.get(self.home, ""))

    @property
    def shown(self) -> str:
        """The name of the page on show."""
        return self.pages.shown

    def first_field(self) -> QWidget:
        """What takes the keyboard when the panel does: its first part that can."""
        if self.is_folded:
            return self._edge
        page = self.pages[self.shown]
        wanted = Qt.FocusPolicy.TabFocus.value
        fields = [w for w in page.findChildren(QWidget) if w.focusPolicy().value & wanted and w.isVisible()]
        return fields[0] if fields else page

    def show_page(self, name: str) -> None:
        """Show a page; asking for the one on show again leads home, except home itself."""
        if name == self.shown and name in SHEETS:
            name = self.home
        self.pages.show_page(name)
        self._fold(self._is_at_rest_folded and name == self.home and not self._has_something_to_say)
        self.pages[name].refresh()

    def show_project(self, project: str | None, at: str = "") -> None:
        """The form of a project; the keyboard goes to the line of that name, else to the first."""
        self.pages.project.project, self.pages.project.begins_at = project, at
        self.show_page("project")
        self.pages.project.refresh_now()
        if at:
            self.pages.project.focus_part(at)

    def show_log(self) -> None:
        """The line in which hours on the selected task are logged."""
        self.open_now()
        if self.shown != "log":
            self.show_page("log")
        self.pages.log.refresh_now()
        self.pages.log.focus_part("logLine")

    def show_form(self, name: str, field: str) -> None:
        """A form, filled anew, with the keyboard in one of its fields."""
        self.open_now()
        self.show_page(name)
        self.pages[name].refresh_now()
        self.pages[name].focus_part(field)

    def show_resource(self, resource: str | None) -> None:
        self.pages.resource.resource = resource
        self.show_page("resource")
        self.pages.resource.refresh_now()

    def show_seat(self, key: tuple[str, str]) -> None:
        """Who could fill a seat."""
        self.pages.seats.seat = None
        if self.shown != "seats":
            self.show_page("seats")
        self.pages.seats.look_for(key)

    def show_reservations(self) -> None:
        self.pages.reservations.reservation = None
        self.show_page("reservations")
        self.pages.reservations.refresh_now()

    def show_link(self, link: LinkKey) -> None:
        self.pages.link.link = link
        self.show_page("link")
        self.pages.link.refresh_now()

    def show_planning_back(self, task: str | None) -> None:
        self.pages.planning_back.task = task
        self.show_page("planning_back")
        self.pages.planning_back.refresh_now()

    def show_repeat(self, task: str | None) -> None:
        self.pages.repeat.task = task
        self.show_page("repeat")
        self.pages.repeat.refresh_now()

    def show_assignment(self, task: str, resource: str) -> None:
        self.pages.assignment.key = (task, resource)
        self.show_page("assignment")
        self.pages.assignment.refresh_now()

    def show_split(self, task: str | None) -> None:
        self.pages.split.task = task
        self.show_page("split")
        self.pages.split.refresh_now()

    def show_field(self, field: str | None, of: str = TASKS) -> None:
        """An own field; a new one is ``of`` the tasks or the projects unless it is chosen otherwise."""
        self.pages.field.field_id, self.pages.field.of = field, of
        self.show_page("field")
        self.pages.field.refresh_now()

    def show_templates(self) -> None:
        self.show_page("templates")
        self.pages.templates.choose(None)

    def show_save_template(self) -> None:
        self.show_page("save_template")
        self.pages.save_template.refresh_now()

    def show_view_form(self) -> None:
        self.show_page("view")
        self.pages.view.refresh_now()

    def show_export(self) -> None:
        self.show_page("export")
        self.pages.export.refresh_now()

    def show_file(self, words: str) -> None:
        """What happened to the file of the workspace, and what can be done."""
        self.pages.file.words = words
        self.show_page("file")
        self.pages.file.refresh_now()

    def go_home(self, name: str) -> None:
        """What is shown when nothing else is asked for: the inspector in Build, the proposal in Staff, in Track
        what an answer does."""
        self.home = name
        self.show_page(name)

    def leave(self) -> None:
        """Home again; the keyboard is free to go back to the leg."""
        self.show_page(self.home)
        self.left.emit()

    def _on_staged(self) -> None:
        """What waits to be looked at is shown, and goes with its page."""
        if self._desk.staging.on_show is not None and self.shown != "ripple":
            self.show_page("ripple")

    def _on_other_plan(self) -> None:
        """What is filled in is about a plan that is not on show any more."""
        if isinstance(self.pages[self.shown], Form):
            self.show_page(self.home)

    def _on_guard(self) -> None:
        """What the guard stopped is shown, with what could be done instead."""
        if self._desk.guard.stopped is not None and self.shown != "guard":
            self.show_page("guard")

    def _on_proposal(self) -> None:
        if self._desk.proposal is not None:
            self.show_page("proposal")
        elif self.shown == "proposal":
            self.show_page(self.home)
