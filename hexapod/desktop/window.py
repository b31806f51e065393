"""The window: the frame round the legs, and what opens and closes a workspace in it."""

from __future__ import annotations

import contextlib
from collections.abc import Callable
from functools import cached_property
from pathlib import Path
from typing import TYPE_CHECKING, TypeVar, cast

from PyQt6.QtCore import QSettings, QSize, Qt, QTimer
from PyQt6.QtGui import QCloseEvent, QKeyEvent, QResizeEvent
from PyQt6.QtWidgets import QApplication, QHBoxLayout, QMainWindow, QStackedWidget, QVBoxLayout, QWidget

from hexapod.desktop.action import Registry
from hexapod.desktop.build.leg import BuildLeg
from hexapod.desktop.commands.catalogue import ACTIONS, BEGIN_A_GROUP
from hexapod.desktop.frame.actionbar import ActionBar
from hexapod.desktop.frame.hint import HintCard
from hexapod.desktop.frame.notice import Notice
from hexapod.desktop.frame.parts_leg import PartsLeg
from hexapod.desktop.frame.rail import Rail
from hexapod.desktop.frame.running_clock import RunningClockSign
from hexapod.desktop.frame.said_of_edits import SaidOfEdits
from hexapod.desktop.frame.scenario_frame import ScenarioFrame
from hexapod.desktop.frame.topbar import TopBar
from hexapod.desktop.kept_window import keep_window
from hexapod.desktop.models.background import in_background
from hexapod.desktop.models.desk import Desk
from hexapod.desktop.models.recent import remember
from hexapod.desktop.side.panel import SidePanel
from hexapod.desktop.window_looks import WindowLooks
from hexapod.errors import HexapodError
from hexapod.session import Session
from hexapod.system.files import shown

if TYPE_CHECKING:
    from hexapod.desktop.calendars.view import CalendarsView
    from hexapod.desktop.guide.view import GuideView
    from hexapod.desktop.importing.notes_view import NotesView
    from hexapod.desktop.importing.view import ImportView
    from hexapod.desktop.link.leg import LinkLeg
    from hexapod.desktop.month.view import MonthView
    from hexapod.desktop.paper.drawing import Drawing
    from hexapod.desktop.printing.paper_page import PaperPage
    from hexapod.desktop.staff.leg import StaffLeg
    from hexapod.desktop.telling.leg import TellLeg
    from hexapod.desktop.track.leg import TrackLeg
    from hexapod.desktop.trying.leg import TryLeg
    from hexapod.desktop.workspace.start_view import StartView

FIRST_SIZE = (1440, 900)
LOOK_AFTER = 4000  # milliseconds between two looks at whether the file is still there
AFTER_A_FOLD = 60  # milliseconds: other rows change few actions, and not within the frame that shows them
View = TypeVar("View", bound=QWidget)
Leg = TypeVar("Leg", bound=PartsLeg)


class Legs(QStackedWidget):
    """No view makes the window wider that is not on show."""

    def minimumSizeHint(self) -> QSize:
        shown = self.currentWidget()
        return shown.minimumSizeHint() if shown is not None else QSize()


class Window(WindowLooks, QMainWindow):
    """One open workspace. ``open_other`` opens another one (path, whether to create it).

    What is not on show at first is made when it is looked at: the first paint waits for nothing else.
    """

    def __init__(self, session: Session, open_other: Callable[[Path, bool], None]) -> None:
        super().__init__()
        self._open_other = open_other
        self.hint: HintCard | None = None
        self.find_museum: Callable[[], Path] | None = None  # builds the demo's workspace
        self.leg = "build"
        self.desk = Desk(session)
        self.desk.setParent(self)  # what is under way beside the interface ends with the window
        self.registry = Registry(ACTIONS, self, BEGIN_A_GROUP)
        self.topbar = TopBar(self)
        self.find_box = self.topbar.find_box
        self.side = SidePanel(self.desk, self.registry)
        self.build = BuildLeg(self.desk, self.registry)
        self.grid, self.chart = self.build.grid, self.build.chart
        self.rail = Rail()
        self.rail.chosen.connect(self.show_leg)
        self.rail.clock.clicked.connect(self.show_clock)
        self._legs = Legs()
        self._legs.addWidget(self.build)
        self._lay_out()
        self.topbar.build_menu()
        self._refresh_soon = QTimer(self, singleShot=True, interval=0)
        self._refresh_soon.timeout.connect(self.registry.refresh)
        self._refresh_later = QTimer(self, singleShot=True, interval=AFTER_A_FOLD)
        self._refresh_later.timeout.connect(self.registry.refresh)
        self.desk.rows_changed.connect(self._refresh_later.start)
        desk = self.desk
        for signal in (
            desk.changed,
            desk.computed,
            desk.selection_changed,
            desk.proposal_changed,
            desk.past_changed,
            desk.staging.changed,
            desk.scenarios.changed,
            desk.on_show.view_changed,
        ):
            signal.connect(lambda *_: self._refresh_soon.start())
        self._said_of_edits = SaidOfEdits(desk)
        desk.changed.connect(self.follow_projects)
        self.side.left.connect(lambda: self._main_part().setFocus())
        self.registry.refresh()
        session.listen_to_moves(self._on_moved)
        self._clock_sign = RunningClockSign(self.desk, self.rail.clock)
        self._look_after = QTimer(self, interval=LOOK_AFTER)
        self._look_after.timeout.connect(self.look_after)
        self._look_after.start()
        self._name_window()
        self.resize(*FIRST_SIZE)
        self.show_leg("build")
        self.grid.setFocus()

    # Made when they are looked at

    @cached_property
    def staff(self) -> StaffLeg:
        from hexapod.desktop.staff.leg import StaffLeg

        return self._added(StaffLeg(self.desk, self.registry, self.side))

    @cached_property
    def link(self) -> LinkLeg:
        from hexapod.desktop.link.leg import LinkLeg

        return self._added(LinkLeg(self.desk, self.registry))

    @cached_property
    def track(self) -> TrackLeg:
        from hexapod.desktop.track.leg import TrackLeg

        return self._of_parts(TrackLeg(self.desk, self.registry))

    @cached_property
    def trying(self) -> TryLeg:
        from hexapod.desktop.trying.leg import TryLeg

        return self._of_parts(TryLeg(self.desk, self.registry))

    @cached_property
    def telling(self) -> TellLeg:
        from hexapod.desktop.telling.leg import TellLeg

        _ = self.desk.calendar_folder  # it follows the plan from the start
        for wanted in (self.desk.portfolio.first_marked, self.desk.requests.asked):
            wanted.connect(self.side.open_now)
        return self._of_parts(TellLeg(self.desk, self.registry))

    def _of_parts(self, leg: Leg) -> Leg:
        """A leg of several parts; its bar and its side follow the part on show."""
        self._added(leg)
        leg.part_changed.connect(self._on_part)
        leg.bar_asked.connect(self.show_bar)
        leg.why_asked.connect(self._show_why)
        return leg

    @cached_property
    def calendars(self) -> CalendarsView:
        from hexapod.desktop.calendars.view import CalendarsView

        return self._added(CalendarsView(self.desk, lambda: self.show_leg("build")))

    @cached_property
    def month(self) -> MonthView:
        from hexapod.desktop.month.view import MonthView

        return self._added(MonthView(self.desk, self.registry, lambda: self.show_leg("build")))

    @cached_property
    def importing(self) -> ImportView:
        from hexapod.desktop.importing.view import ImportView

        return self._added(ImportView(self.desk, lambda: self.show_leg("build")))

    @cached_property
    def notes(self) -> NotesView:
        from hexapod.desktop.importing.notes_view import NotesView

        return self._added(NotesView(self.desk, lambda: self.show_leg("build")))

    @cached_property
    def guide(self) -> GuideView:
        from hexapod.desktop.guide.view import GuideView

        return self._added(GuideView(self.registry, lambda: self.show_leg(self.leg)))

    @cached_property
    def first(self) -> StartView:
        from hexapod.desktop.workspace.start_view import StartView

        view = self._added(StartView(self.desk, self.registry, self.open_path))
        view.typed.connect(self._type_first)
        view.noted.connect(lambda text: self.show_notes(text, None))
        view.import_asked.connect(self.show_import)
        view.museum_asked.connect(self._look_round)
        return view

    @cached_property
    def paper(self) -> PaperPage:
        from hexapod.desktop.printing.paper_page import PaperPage

        page = PaperPage(self.desk, self.side.leave, self.drawing)
        self.side.pages.add("paper", page)
        return page

    def _added(self, view: View) -> View:
        self._legs.addWidget(view)
        return view

    def shows(self, name: str) -> bool:
        """Whether a view is in the middle of the window: ``build``, ``link``, ``staff``, ``calendars``, ..."""
        return self._legs.currentWidget() is self.__dict__.get(name)

    def _lay_out(self) -> None:
        framed = ScenarioFrame(self.desk, self.registry)
        middle = framed.inner
        self.bar = ActionBar(self.registry)
        self.notice = Notice(self.desk, self.registry, self._legs, self._foot)
        self.notice.lie_above(self.build.foot)
        middle.addWidget(self.bar)
        middle.addWidget(self._legs, 1)
        below = QHBoxLayout()
        below.setSpacing(0)
        below.addWidget(self.rail)
        below.addWidget(framed, 1)
        below.addWidget(self.side)
        whole = QWidget()
        box = QVBoxLayout(whole)
        box.setContentsMargins(0, 0, 0, 0)
        box.setSpacing(0)
        box.addWidget(self.topbar)
        box.addLayout(below, 1)
        self.setCentralWidget(whole)

    def start(self) -> None:
        """After the first paint: compute the dates, and say what was recovered."""
        self.desk.first_dates.compute()
        self.follow_projects()
        desk = self.desk  # who I am, what came back on forms, and what is to be told
        _ = desk.mine, desk.forms, desk.notices, desk.chances
        workspace = self.desk.session.workspace
        if workspace.recovered:
            self.desk.told.emit(workspace.recovered, "", False)
        elif workspace.left_out:
            self.desk.told.emit("What is sound of a damaged file, to read.", "trouble", False)
            self.side.show_file("The file is damaged. What is sound is shown, to read; save a copy to work on it.")
        elif workspace.read_only:
            self.desk.told.emit("Open to read. Save a copy to change it.", "", False)

    def _foot(self) -> int:
        """The lower edge of what is shown above the load strip, where what happened is said."""
        if self.shows("track") and self.track.part == "round":
            foot = self.track.consequences
            return foot.mapTo(self._legs, foot.rect().topLeft()).y() - 4
        above = self._foot_of_chart()
        return self._legs.height() - 8 if above is None else above + self.build.foot.height()

    def _foot_of_chart(self) -> int | None:
        """The lower edge of the outline and the chart; None where another view is shown."""
        foot = self.build.foot
        return foot.mapTo(self._legs, foot.rect().topLeft()).y() if self.shows("build") else None

    def follow_projects(self) -> None:
        """An empty workspace offers what one may begin with; once there is a project, the plan is shown."""
        is_empty = not self.desk.plan.projects and not self.desk.is_read_only
        if is_empty and (self.shows("build") or self.shows("first")):
            self._show("first")
            self.first.refresh()
            self.first.line.setFocus()
        elif not is_empty and self.shows("first"):
            self.show_leg(self.leg)

    def give_hints(self) -> None:
        """Say once what is likely next, while somebody is new to this."""
        self.hint = HintCard(self.desk, self._legs, self._foot_of_chart)
        self.build.foot.installEventFilter(self.hint)

    def _type_first(self, line: str) -> None:
        self.show_leg("build")
        self.grid.type_row(line)

    def _look_round(self) -> None:
        """The museum, in a window of its own; building it takes a moment."""
        if self.find_museum is not None:
            in_background(
                self.desk, self.find_museum, self.open_path, lambda e: self.desk.told.emit(str(e), "trouble", False)
            )

    def look_after(self) -> None:
        """Notice that the file was taken away also while nothing is edited."""
        if self.desk.session.workspace.read_only:
            return
        try:
            self.desk.session.keep_safe()
        except HexapodError as error:
            self.desk.told.emit(str(error), "trouble", False)

    def _on_moved(self, words: str) -> None:
        """Everything goes on in another file."""
        path = self.desk.session.workspace.path
        QSettings().setValue("last", str(path))
        remember(path)
        self._name_window()
        self.topbar.refresh()
        self.desk.told.emit(words, "trouble", False)
        self.side.show_file(words)

    def _name_window(self) -> None:
        self.setWindowTitle(f"{shown(self.desk.session.workspace.path.stem)} – Hexapod")

    def show_leg(self, leg: str) -> None:
        self._show(leg)
        self.leg = leg
        self.rail.show_leg(leg)
        self.topbar.show_vitals(of_all=leg == "telling")
        self.side.go_home(getattr(getattr(self, leg), "side_page", "inspector"))
        if self._parts_on_show is not None:
            self._main_part().setFocus()
        self.follow_projects()

    def show_bar(self, task: str) -> None:
        """A task in the chart, from wherever it was looked at."""
        self.desk.go_to(task)
        self.show_leg("build")
        self.grid.setFocus()

    def _show_why(self, project: str) -> None:
        """What a project's finish rests on, in the chart."""
        self.desk.look_at_project(project)
        self.show_leg("build")
        self.registry.qt("walk.why").trigger()

    def show_card(self, task: str) -> None:
        """A task on the board of stages."""
        self.show_part("stages")
        self.track["stages"].refresh()
        self.track["stages"].board.go(task)

    def show_part(self, part: str, leg: str = "track") -> None:
        """A part of the Track leg, or of Try (``trying``) or Tell (``telling``)."""
        getattr(self, leg).show_part(part)
        self.show_leg(leg)

    @property
    def _parts_on_show(self) -> PartsLeg | None:
        """The leg on show, if it has parts."""
        view = self._legs.currentWidget()
        return view if isinstance(view, PartsLeg) else None

    def _on_part(self) -> None:
        parts = self._parts_on_show
        if parts is not None:
            self.side.go_home(parts.side_page)
            self.bar.show_for(parts.name, parts.bar)
            parts.main_part.setFocus()
            self.notice.settle()

    def _show(self, name: str) -> None:
        """A view in the middle of the window, with what it wants beside the actions."""
        view = getattr(self, name)
        self._legs.setCurrentWidget(view)
        self.bar.show_for(name, getattr(view, "bar", None))
        self.notice.settle()
        self.notice.raise_()
        if self.hint is not None:
            self.hint.follow()

    def resizeEvent(self, event: QResizeEvent) -> None:
        super().resizeEvent(event)
        self.side.fit_in(self.width())

    def drawing(self, what: str, columns: tuple[str, ...]) -> Drawing:
        """A view as a whole, for paper and pictures."""
        from hexapod.desktop.printing.views import drawing_of

        return drawing_of(self, what, columns)

    def show_paper(self) -> None:
        """What is on screen, for paper or a picture."""
        from hexapod.desktop.printing.views import shown_in

        self.paper.what = shown_in(self)
        self.side.show_page("paper")
        self.paper.refresh_now()

    def show_import(self, path: Path) -> None:
        """What a file would bring, before it is taken."""
        self._show("importing")
        self.importing.open_file(path)

    def show_notes(self, text: str, after: str | None) -> None:
        """What lines of notes are taken for, before they become rows."""
        self._show("notes")
        self.side.go_home("inspector")
        self.notes.read(text, after)

    def show_guide(self, page: str = "") -> None:
        """The guide in place of the leg, on the page about it or another; once more, and the plan is back."""
        if self.shows("guide") and not page:
            self.show_leg(self.leg)
            return
        self._show("guide")
        self.side.go_home("inspector")
        self.guide.open(self.leg)
        if page:
            self.guide.read(page)

    def show_clock(self) -> None:
        """The task on which my clock runs, with its hours at the side."""
        running = self.desk.hours.running
        if running is not None:
            self.desk.go_to(running.task)
            self.side.show_log()

    def show_month(self) -> None:
        """The month view in place of the leg."""
        self._show("month")
        self.month.canvas.setFocus()

    def show_calendars(self) -> None:
        """The calendars in place of the leg; the plan is a button away."""
        self._show("calendars")
        self.calendars.list.setFocus()

    def open_path(self, path: Path, *, create: bool = False) -> None:
        """Open another workspace, in a window of its own."""
        self._open_other(path, create)

    def open_menu(self) -> None:
        self.topbar.open_menu()

    def _main_part(self) -> QWidget:
        """Where the keyboard belongs in the view on show."""
        return cast(QWidget, getattr(self._legs.currentWidget(), "main_part", self.grid))

    def _cancel_drag(self) -> bool:
        """Leave off what is dragged in the view on show; whether there was anything."""
        cancel = getattr(self._legs.currentWidget(), "cancel", None)
        return self.chart.gestures.cancel() or (cancel is not None and bool(cancel()))

    def focus_next_part(self) -> None:
        """Take the keyboard round: rows or people, load, side panel, find box."""
        between = [self.chart, self.build.info.first_field] if self.shows("build") else []
        if self.shows("staff"):
            between = [w for w in (self.staff.behind.first_task,) if w is not None and w.isVisible()]
        side = self.side.first_field()
        parts = [self._main_part(), *between, side, self.find_box]
        focused = QApplication.focusWidget()
        held = [
            i for i, part in enumerate(parts)
            if focused is not None and (part is focused or (part is side and self.side.isAncestorOf(focused)))
        ]  # fmt: skip
        parts[(held[0] + 1 if held else 0) % len(parts)].setFocus(Qt.FocusReason.TabFocusReason)

    def keyPressEvent(self, event: QKeyEvent) -> None:
        if event.key() == Qt.Key.Key_Escape:
            if self.desk.staging.on_show is not None:
                self.desk.staging.drop()
            elif not self._cancel_drag():
                if self.side.shown == "proposal" and self.desk.proposal is not None:
                    self.desk.show_proposal(None)  # what is proposed goes with the page that says it
                if self.side.isAncestorOf(self.focusWidget()):
                    self.side.leave()
                else:
                    self.side.show_page(self.side.home)
            return
        super().keyPressEvent(event)

    def closeEvent(self, event: QCloseEvent) -> None:
        """Each step apart: the file is closed, and its lock given back, whatever goes wrong before."""
        self._look_after.stop()
        with contextlib.ExitStack() as steps:
            steps.callback(super().closeEvent, event)
            steps.callback(self.desk.close)
            steps.callback(self.grid.painter.forget)
            steps.callback(self.chart.forget_drawn)
            steps.callback(keep_window, self)
            self.grid.finish_typing()
