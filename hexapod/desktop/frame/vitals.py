"""The vitals: the few figures that say how the plan is, each a click away from its list."""

from __future__ import annotations

from itertools import repeat

import numpy as np
from PyQt6.QtCore import QTimer, pyqtSignal
from PyQt6.QtWidgets import QHBoxLayout, QMenu, QToolButton, QVBoxLayout, QWidget

from hexapod.desktop import dates
from hexapod.desktop.models.desk import Desk
from hexapod.desktop.models.progress import late_words
from hexapod.desktop.parts import label
from hexapod.desktop.theme.style import palette, points
from hexapod.outlook.words import share_words
from hexapod.schedule.conflicts import Conflict
from hexapod.schedule.schedule import Dates, Schedule
from hexapod.schedule.words import conflict_words
from hexapod.worktime.calendars import find_calendar
from hexapod.worktime.days import minutes_between
from hexapod.worktime.lengths import DAY_OF_WORK

MOST_LISTED = 40
GHOST_AFTER = 40  # milliseconds for which a pointer rests before the figures follow it


class Vital(QToolButton):
    """A caption over a figure."""

    def __init__(self, name: str, caption: str) -> None:
        super().__init__()
        self.setObjectName(f"vital.{name}")
        self._caption = label(caption)
        self._caption.setProperty("role", "muted")
        self._value = label("…")
        self._name = caption
        box = QVBoxLayout(self)
        box.setContentsMargins(6, 2, 6, 2)
        box.setSpacing(0)
        box.addWidget(self._caption)
        box.addWidget(self._value)
        self.setPopupMode(QToolButton.ToolButtonPopupMode.InstantPopup)
        self._list = QMenu(self)
        self.setMenu(self._list)
        self.show_value("…", False)

    @property
    def text_shown(self) -> str:
        return self._value.text()

    def show_value(self, text: str, attention: bool) -> None:
        p = palette()
        look = f"color: {p.frame_amber if attention else p.on_frame}; font-weight: 600; font-size: {points(10)};"
        if (text, look) == (self._value.text(), self._value.styleSheet()):
            return
        self._value.setText(text)
        if look != self._value.styleSheet():  # to read one takes longer than all the rest
            self._value.setStyleSheet(look)
            self._caption.setStyleSheet(f"font-size: {points(7.5)};")
        self.setAccessibleName(f"{self._name}: {text}")
        hint = self.layout().sizeHint() if self.layout() else self.sizeHint()
        self.setFixedSize(hint.width() + 4, 38)

    def name(self, caption: str) -> None:
        """What the figure is called, where that changes."""
        if caption != self._name:
            self._name = caption
            self._caption.setText(caption)

    def list_menu(self) -> QMenu:
        return self._list


class Vitals(QWidget):
    """Of the project on show; overloads are those of the whole workspace, which shares its people."""

    attention_asked = pyqtSignal()  # the list of all that needs somebody
    range_asked = pyqtSignal()  # how sure the finish is

    def __init__(self, desk: Desk) -> None:
        super().__init__()
        self._desk = desk
        self.finish = Vital("finish", "Finish")
        self.sure = Vital("sure", "8 in 10 by")
        self.target = Vital("target", "To target")
        self.late = Vital("late", "Late")
        self.critical = Vital("critical", "Critical")
        self.overloads = Vital("overloads", "Overloads")
        self.conflicts = Vital("conflicts", "Conflicts")
        line = QHBoxLayout(self)
        line.setContentsMargins(0, 0, 0, 0)
        line.setSpacing(3)
        for vital in (self.finish, self.sure, self.target, self.late, self.critical, self.overloads, self.conflicts):
            line.addWidget(vital)
        self.finish.list_menu().aboutToShow.connect(self._list_finish)
        self.sure.list_menu().aboutToShow.connect(self._list_sure)
        self.target.list_menu().aboutToShow.connect(self._list_targets)
        self.late.list_menu().aboutToShow.connect(self._list_late)
        self.critical.list_menu().aboutToShow.connect(self._list_critical)
        self.overloads.list_menu().aboutToShow.connect(self._list_overloads)
        self.conflicts.list_menu().aboutToShow.connect(self._list_conflicts)
        self._soon = QTimer(self, singleShot=True, interval=0)
        self._soon.timeout.connect(self.refresh)
        for signal in (desk.changed, desk.computed, desk.looked_at_changed, desk.moved_changed, desk.proposal_changed,
                       desk.load_changed, desk.chances.changed):  # fmt: skip
            signal.connect(lambda *_: self._soon.start())
        self._while_dragging = QTimer(self, singleShot=True, interval=GHOST_AFTER)
        self._while_dragging.timeout.connect(self.refresh)
        desk.ghost_changed.connect(self._while_dragging.start)
        self.refresh()

    def refresh(self) -> None:
        desk = self._desk
        shown = desk.ghost or desk.schedule
        project = desk.plan.projects.get(desk.project or "")
        finish = shown.project_finish.get(project.id) if project else None
        self.finish.show_value(dates.long_day(finish) if finish is not None else "–", False)
        self._show_target(project.target_finish if project else None, finish)
        self._show_sure()
        late = self._count_late(shown)
        self.late.show_value("…" if late is None else str(late), bool(late))
        count, critical = self._count_critical(shown)
        self.critical.show_value(f"{critical} of {count}" if count else "–", False)
        load = desk.load
        if desk.ghost is not None and desk.past is None and desk.proposal is None:
            load = desk.load_of(desk.ghost)
        overloads = len(load.overloads) if load else None
        said = "…" if overloads is None else str(overloads)
        if desk.proposal is not None and overloads is not None:
            said, overloads = f"{overloads} → {len(desk.proposal.overloads_after)}", len(desk.proposal.overloads_after)
        self.overloads.show_value(said, bool(overloads))

        conflicts = self._conflicts_here()
        self.conflicts.show_value("…" if load is None else str(len(conflicts)), bool(conflicts))

    def _count_late(self, shown: Dates) -> int | None:
        """How many leaves of the project on show are late; None until that is known."""
        desk = self._desk
        if not isinstance(shown, Schedule) or desk.project not in shown.network.projects:
            return None if desk.project else 0
        from hexapod.control.status import count_late

        return count_late(shown, desk.project)

    def _conflicts_here(self) -> list[Conflict]:
        desk = self._desk
        load = desk.load
        if desk.ghost is not None and desk.past is None and desk.proposal is None:
            load = desk.load_of(desk.ghost)
        found = load.conflicts if load else []
        return [c for c in found if c.task in desk.plan.tasks and desk.plan.tasks[c.task].project == desk.project]

    def _show_sure(self) -> None:
        """The date that is sure enough, where anything of the plan is a range."""
        work, project = self._desk.chances, self._desk.project
        self.sure.setVisible(work.has_ranges)
        known = work.of_project(project) if project is not None else None
        self.sure.name(f"{share_words(work.share)} by")
        if known is None:
            self.sure.show_value("…" if work.goes_by_itself else "–", False)
            return
        target = self._desk.plan.projects[project].target_finish if project is not None else None
        is_doubtful = target is not None and known.chance_by(target) < work.share
        self.sure.show_value(dates.short_day(known.quantile(work.share)), is_doubtful)

    def _show_target(self, target: int | None, finish: int | None) -> None:
        if target is None or finish is None:
            self.target.show_value("none set", False)
            return
        days = working_days_between(self._desk, target, finish)
        if finish <= target:
            self.target.show_value(f"{days} d to spare" if days else "met", False)
        else:
            self.target.show_value(f"{days} d late" if days else "late", True)

    def _count_critical(self, shown: Dates) -> tuple[int, int]:
        desk = self._desk
        network = shown.network if isinstance(shown, Schedule) else None
        if network is None or desk.project not in network.projects:
            outline = desk.on_show.project_outline()
            here = map(outline.tasks.__getitem__, outline.leaves.tolist())
            slots = np.fromiter(map(shown.slots.get, here, repeat(-1)), np.int64, len(outline.leaves))
            leaves = slots[slots >= 0]
            return len(leaves), int(shown.critical[leaves].sum())
        mine = (network.tasks.project == network.projects.index(desk.project)) & (network.structure.leaf == 1)
        return int(mine.sum()), int(shown.critical[mine].sum())

    # Lists

    def _list(self, vital: Vital, entries: list[tuple[str, str | None]]) -> None:
        menu = vital.list_menu()
        menu.clear()
        for text, task in entries[:MOST_LISTED]:
            action = menu.addAction(text)
            action.setEnabled(task is not None)
            action.triggered.connect(lambda _, t=task: self._desk.go_to(t))
        if len(entries) > MOST_LISTED:
            menu.addAction(f"and {len(entries) - MOST_LISTED} more").setEnabled(False)
        if vital in (self.late, self.conflicts, self.target):
            menu.addSeparator()
            menu.addAction("All that needs somebody").triggered.connect(self.attention_asked)

    def _tasks_here(self) -> list[str]:
        desk = self._desk
        from hexapod.plan.outline import rows

        found = [r.task for r in rows(desk.plan, desk.project)] if desk.project else []
        return [t for t in found if desk.schedule.has(t) and not desk.plan.is_summary(t)]

    def _list_finish(self) -> None:
        desk = self._desk
        finish = desk.schedule.project_finish.get(desk.project or "")
        last = [t for t in self._tasks_here() if desk.schedule.dates(t).finish == finish]
        self._list(self.finish, [(f"Ends last: {desk.plan.tasks[t].name}", t) for t in last] or [("No task yet", None)])

    def _list_sure(self) -> None:
        desk = self._desk
        known = desk.chances.of_project(desk.project) if desk.project is not None else None
        entries: list[tuple[str, str | None]] = [
            (f"{share_words(share)} by {dates.long_day(known.quantile(share))}", None)
            for share in (0.5, 0.8, 0.9)
            if known is not None
        ]
        self._list(self.sure, entries or [("The rounds are not done yet", None)])
        self.sure.list_menu().addSeparator()
        self.sure.list_menu().addAction("How sure is that?").triggered.connect(self.range_asked)

    def _list_targets(self) -> None:
        desk = self._desk
        entries = []
        for task in self._tasks_here():
            target = desk.plan.tasks[task].target
            if target is not None:
                late = desk.schedule.dates(task).finish > target
                entries.append((f"{desk.plan.tasks[task].name}: {'missed' if late else 'met'}", task))
        self._list(self.target, entries or [("No task has a target date", None)])

    def _list_late(self) -> None:
        desk, shown = self._desk, self._desk.schedule
        found: list[str] = []
        if isinstance(shown, Schedule) and desk.project in shown.network.projects:
            from hexapod.control.status import late_leaves

            found = late_leaves(shown, desk.project)
        entries: list[tuple[str, str | None]] = []
        entries += [(f"{desk.plan.tasks[t].name}: {late_words(desk, t)}", t) for t in found]
        self._list(self.late, entries or [("Nothing is late", None)])

    def _list_critical(self) -> None:
        desk = self._desk
        found = [t for t in self._tasks_here() if desk.schedule.dates(t).critical]
        found.sort(key=lambda t: desk.schedule.dates(t).start)
        entries = [(f"{dates.short_day(desk.schedule.dates(t).start)}  {desk.plan.tasks[t].name}", t) for t in found]
        self._list(self.critical, entries or [("Nothing is critical", None)])

    def _list_overloads(self) -> None:
        desk = self._desk
        menu = self.overloads.list_menu()
        menu.clear()
        found = desk.load.overloads if desk.load else []
        for over in [o for o in found[:MOST_LISTED] if o.resource in desk.plan.resources]:
            name = desk.plan.resources[over.resource].name
            action = menu.addAction(f"{name}, {dates.short_day(over.begin)}: {over.peak:g} asked for")
            action.triggered.connect(lambda _, o=over: self._go_to_overload(o))
        if not found:
            menu.addAction("Nobody is overloaded").setEnabled(False)

    def _list_conflicts(self) -> None:
        plan = self._desk.plan
        entries = [(f"{plan.tasks[c.task].name}: {conflict_words(plan, c)}", c.task) for c in self._conflicts_here()]
        self._list(self.conflicts, entries or [("Nothing contradicts itself", None)])

    def _go_to_overload(self, over) -> None:  # type: ignore[no-untyped-def]
        monday = over.begin // 1440 - (over.begin // 1440 + 3) % 7
        self._desk.look_at_resource(over.resource, (monday * 1440, (monday + 7) * 1440))
        if over.tasks:
            self._desk.go_to(over.tasks[0])


def working_days_between(desk: Desk, a: int, b: int) -> int:
    """Working days between two moments on the calendar of the project on show, rounded up."""
    schedule, project = desk.schedule, desk.plan.projects[desk.project or ""]
    if isinstance(schedule, Schedule) and (project.calendar,) in schedule.network.timing.index:
        from hexapod.schedule.slip import working_minutes

        minutes = abs(working_minutes(schedule, project.calendar, a, b))
    else:
        calendar = find_calendar(desk.plan.calendars, project.calendar)
        minutes = minutes_between(desk.plan.calendars, calendar, min(a, b), max(a, b))
    return -(-minutes // DAY_OF_WORK)
