"""The ripple of an edit: what it would do before it is taken, and what it did afterwards."""

from __future__ import annotations

from collections import Counter
from typing import TYPE_CHECKING

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QCheckBox, QHBoxLayout, QPushButton

from hexapod.desktop import dates
from hexapod.desktop.frame.page import Page
from hexapod.desktop.models.background import in_background
from hexapod.desktop.models.desk import Desk
from hexapod.desktop.parts import LineButton, heading, label
from hexapod.desktop.theme.tips import plain_tip
from hexapod.plan.changes import Changes
from hexapod.plan.kinds import KINDS
from hexapod.schedule.schedule import Dates, Schedule
from hexapod.system.words import count_of
from hexapod.worktime.lengths import format_days

if TYPE_CHECKING:
    from hexapod.control.ripple import ProjectFinish, Ripple

MOST_LISTED = 40
OVERLOADS_UP_TO = 20_000  # assignments: beyond, they are counted after the edit only


class RipplePage(Page):
    def __init__(self, desk: Desk) -> None:
        super().__init__(desk, "What an edit moves")
        self._counted: tuple[Schedule, int, int] | None = None
        for signal in (desk.staging.changed, desk.changed):
            signal.connect(self.refresh)

    def fill(self) -> None:
        desk = self.desk
        switch = QCheckBox("Look before each edit")
        switch.setObjectName("askFirst")
        switch.setChecked(desk.staging.asks_first)
        switch.toggled.connect(desk.staging.ask_first)
        if desk.staging.on_show is not None:
            self.box.addWidget(label(desk.staging.on_show.words, "title", wrap=True))
            self.box.addWidget(label("is not done yet. It would do this:", "muted", wrap=True))
            line = QHBoxLayout()
            take, leave = QPushButton("Do it"), QPushButton("Leave it")
            take.setProperty("role", "primary")
            take.setObjectName("takeStaged")
            leave.setObjectName("dropStaged")
            take.clicked.connect(desk.staging.take)
            leave.clicked.connect(desk.staging.drop)
            line.addWidget(take)
            line.addWidget(leave)
            line.addStretch(1)
            self.box.addLayout(line)
            self._fill_ripple(desk.staging.on_show.before, desk.staging.on_show.schedule)
            self._fill_else(desk.staging.on_show.changes)
        elif desk.last is not None and isinstance(desk.last.before, Schedule):
            self.box.addWidget(label("What just moved", "title"))
            undone = {"undo": "Undone: ", "redo": "Done again: "}.get(desk.last.kind, "")
            self.box.addWidget(label(f"{undone}{desk.last.words}", "muted", wrap=True))
            self._fill_ripple(desk.last.before, desk.last.after)
        else:
            self.box.addWidget(label("What an edit moves", "title"))
            said = "Nothing was changed yet. With the switch on, every edit shows here what it would do."
            self.box.addWidget(label(said, "muted", wrap=True))
        self.box.addSpacing(8)
        self.box.addWidget(switch)

    def _fill_ripple(self, before: Dates, after: Dates) -> None:
        if not isinstance(before, Schedule) or not isinstance(after, Schedule):
            return
        from hexapod.control.ripple import ripple

        found = ripple(before, after)
        for finish in found.finishes:
            self.box.addWidget(label(self._finish_words(finish, after), "value", wrap=True))
        if not found.finishes:
            self.box.addWidget(label("No finish moves.", "muted"))
        self._fill_overloads(before, after)
        self._list("become critical", "becomes critical", found.now_critical)
        self._list("are critical no longer", "is critical no longer", found.no_longer_critical)
        if found.negative_after != found.negative_before:
            said = f"Negative float: {count_of(found.negative_after, 'task')}, {found.negative_before} before."
            self.box.addWidget(label(said, "trouble" if found.negative_after > found.negative_before else "muted",
                                     wrap=True))  # fmt: skip
        self._fill_moved(found)

    def _fill_else(self, changes: Changes) -> None:
        """What an edit changes beside tasks and their links: nothing of that need move anything."""
        counts = Counter(kind for kind, _, _ in changes.pairs() if kind not in ("tasks", "links", "scenarios"))
        if counts:
            said = ", ".join(f"{n} {KINDS[kind].one if n == 1 else kind}" for kind, n in counts.items())
            self.box.addWidget(label(f"It also changes {said}.", "small", wrap=True))

    def _finish_words(self, finish: ProjectFinish, after: Schedule) -> str:
        name = self.desk.plan.projects[finish.project].name if finish.project in self.desk.plan.projects else "It"
        if finish.after is None:
            return f"{name} has no finish any more."
        said = f"{name} finishes {dates.long_day(finish.after)}"
        if finish.before is not None:
            from hexapod.schedule.slip import working_minutes

            calendar = after.plan.projects[finish.project].calendar
            by = working_minutes(after, calendar, finish.before, finish.after)
            said += f", {format_days(abs(by))} {'later' if by > 0 else 'earlier'}"
        if finish.target is not None:
            said += "; the target is missed" if finish.after > finish.target else "; the target is kept"
        return said + "."

    def _fill_overloads(self, before: Schedule, after: Schedule) -> None:
        """Counted beside the interface: it adds up the whole load twice."""
        plan_before, plan_after = before.plan, after.plan
        if not plan_after.assignments or len(plan_after.assignments) > OVERLOADS_UP_TO:
            return
        line = label("Overloads are being counted…", "muted", wrap=True)
        line.setObjectName("rippleOverloads")
        self.box.addWidget(line)

        def work() -> object:
            from hexapod.staffing.demand import Demand
            from hexapod.staffing.overloads import overloads

            return tuple(
                len(overloads(s, Demand.of(s, p, None))) for s, p in ((before, plan_before), (after, plan_after))
            )

        def show(counts: object) -> None:
            then, now = counts  # type: ignore[misc]
            line.setText(f"Overloads: {now}." if then == now else f"Overloads: {now}, {then} before.")
            line.setProperty("role", "trouble" if now > then else "muted")
            style = line.style()
            if style is not None:
                style.polish(line)

        in_background(line, work, show, lambda error: line.setText(str(error)))

    def _list(self, many: str, one: str, tasks: tuple[str, ...]) -> None:
        known = [t for t in tasks if t in self.desk.plan.tasks]
        if not known:
            return
        names = ", ".join(f"“{self.desk.plan.tasks[t].name}”" for t in known[:3])
        more = f" and {len(known) - 3} more" if len(known) > 3 else ""
        self.box.addWidget(label(f"{names}{more} {one if len(known) == 1 else many}.", wrap=True))

    def _fill_moved(self, found: Ripple) -> None:
        here = [m for m in found.moved if m.task in self.desk.plan.tasks]
        self.box.addWidget(heading(f"{count_of(len(here), 'task')} move"))
        for moved in here[:MOST_LISTED]:
            line = QHBoxLayout()
            button = LineButton(self.desk.plan.tasks[moved.task].name)
            button.clicked.connect(lambda _, t=moved.task: self.desk.go_to(t))
            line.addWidget(button, 1)
            by = label(f"{'+' if moved.by > 0 else '−'}{format_days(abs(moved.by))}", "attention")
            by.setAlignment(Qt.AlignmentFlag.AlignRight)
            by.setToolTip(plain_tip(f"{dates.short_day(moved.start)} to {dates.short_day(moved.finish)}"))
            line.addWidget(by)
            self.box.addLayout(line)
        if len(here) > MOST_LISTED:
            self.box.addWidget(label(f"and {len(here) - MOST_LISTED} more", "muted"))
