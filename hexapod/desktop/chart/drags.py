"""What can be dragged on the chart: a bar, its ends, its done part, and a link from one bar to another.

Each drag follows the pointer, says in words what it would do, and gives the one edit that it is when released.
"""

from __future__ import annotations

from typing import TYPE_CHECKING

from msgspec.structs import replace
from PyQt6.QtCore import QPointF
from PyQt6.QtGui import QPainter, QPen

from hexapod.desktop import dates
from hexapod.desktop.chart import geometry as g
from hexapod.desktop.chart.timescale import snap_of
from hexapod.desktop.theme.style import color
from hexapod.errors import HexapodError
from hexapod.plan import edits
from hexapod.plan.edits import Edit
from hexapod.plan.records import DAY, LinkType

NARROW = 24.0  # pixels up to which all of a bar counts as its start


if TYPE_CHECKING:
    from hexapod.desktop.chart.chart import Chart


class _OnBar:
    """A drag of something of one task's bar."""

    def __init__(self, chart: Chart, task: str, at: QPointF) -> None:
        self._chart, self._desk, self.task = chart, chart.desk, task
        self._from = at
        self._at = at
        self.refusal = ""

    def spot(self) -> QPointF:
        bar = self._chart.bar_of(self.task)
        return QPointF(self._at.x(), bar.center().y() if bar is not None else self._at.y())

    def _snapped(self, minute: int) -> int:
        """To the step of this zoom, counted from the day's usual beginning."""
        step = snap_of(self._chart.scale)
        if step >= 480:
            return (minute + DAY // 2) // DAY * DAY + dates.DAY_BEGINS
        return round(minute / step) * step

    def _tried(self, make) -> Edit | None:  # type: ignore[no-untyped-def]
        self.refusal = ""
        try:
            return make()  # type: ignore[no-any-return]
        except HexapodError as error:
            self.refusal = str(error)
            return None


class _OfStart(_OnBar):
    """A drag that puts the start at ``to``."""

    def __init__(self, chart: Chart, task: str, at: QPointF) -> None:
        super().__init__(chart, task, at)
        self._start = self._desk.schedule.dates(task).start
        self.to = self._start


class MoveBar(_OfStart):
    """The bar to another date: it starts not before that, or what has not begun of a branch is shifted."""

    def move(self, at: QPointF) -> bool:
        self._at = at
        by = round((at.x() - self._from.x()) * DAY / self._chart.scale.pixels)
        before, self.to = (
            self.to,
            self._snapped(self._start + by) if abs(by) * self._chart.scale.pixels > DAY else (self._start),
        )
        return self.to != before

    def edit(self) -> Edit | None:
        from hexapod.schedule.shifting import moved_to

        if self.to == self._start:
            return None
        name = self._desk.plan.tasks[self.task].name
        return self._tried(lambda: moved_to(self._desk.worked_out, self.task, self.to).named(f"“{name}” {self._aim()}"))

    def _aim(self) -> str:
        from hexapod.schedule.shifting import on_its_calendar

        if self._desk.plan.is_summary(self.task):
            return f"starts {_day_and_hour(self.to, self._chart.scale.pixels)}"
        at = on_its_calendar(self._desk.worked_out, self.task, self.to)
        return f"starts not before {_day_and_hour(at, self._chart.scale.pixels)}"

    def words(self) -> str:
        if self.refusal:
            return self.refusal
        if self.to == self._start:
            return "where it is"
        ghost = self._desk.ghost
        if ghost is not None and not self._desk.plan.is_summary(self.task) and ghost.has(self.task):
            start = ghost.dates(self.task).start
            if start > self.to + DAY // 2:
                return f"{self._aim()}; links put it at {_day_and_hour(start, self._chart.scale.pixels)}"
        return self._aim()


class StretchEnd(_OnBar):
    """The right end: another duration."""

    def __init__(self, chart: Chart, task: str, at: QPointF) -> None:
        super().__init__(chart, task, at)
        self.duration = self._desk.plan.tasks[task].minutes

    def move(self, at: QPointF) -> bool:
        from hexapod.worktime.arithmetic import worked

        self._at = at
        schedule = self._desk.worked_out
        network = schedule.network
        slot = schedule.slots[self.task]
        pool, calendar = network.timing.pool, int(network.tasks.calendar[slot])
        start = int(schedule.start[slot])
        minutes = worked(pool, calendar, self._chart.scale.minute(at.x())) - worked(pool, calendar, start)
        step = snap_of(self._chart.scale)
        before, self.duration = self.duration, max(step, round(minutes / step) * step)
        return self.duration != before

    def edit(self) -> Edit | None:
        if self.duration == self._desk.plan.tasks[self.task].duration:
            return None
        return edits.set_durations(self._desk.plan, [self.task], self.duration)

    def words(self) -> str:
        ghost = self._desk.ghost
        shown = ghost if ghost is not None and ghost.has(self.task) else self._desk.schedule
        return f"{self._desk.length(self.duration)}, to {dates.short_day(shown.dates(self.task).finish)}"


class StretchStart(_OfStart):
    """The left end: another start, with the finish where it is."""

    def move(self, at: QPointF) -> bool:
        self._at = at
        before, self.to = self.to, self._snapped(self._chart.scale.minute(at.x()))
        return self.to != before

    def edit(self) -> Edit | None:
        from hexapod.schedule.shifting import stretched_from

        if self.to == self._start:
            return None
        return self._tried(lambda: stretched_from(self._desk.worked_out, self.task, self.to)[0])

    def words(self) -> str:
        from hexapod.schedule.shifting import stretched_from

        if self.refusal or self.to == self._start:
            return self.refusal or "where it is"
        _, duration = stretched_from(self._desk.worked_out, self.task, self.to)
        return f"{self._desk.length(duration)}, from {_day_and_hour(self.to, self._chart.scale.pixels)}"


class DragDone(_OnBar):
    """The end of the done part: how much is done."""

    def __init__(self, chart: Chart, task: str, at: QPointF) -> None:
        super().__init__(chart, task, at)
        self.percent = self._desk.plan.tasks[task].percent

    def move(self, at: QPointF) -> bool:
        self._at = at
        bar = self._chart.bar_of(self.task)
        before = self.percent
        if bar is not None:
            self.percent = g.percent_at(bar, at.x(), self._chart.done_part(self.task))
        return self.percent != before

    def edit(self) -> Edit | None:
        if self.percent == self._desk.plan.tasks[self.task].percent:
            return None
        return edits.set_percent(self._desk.plan, [self.task], self.percent)

    def words(self) -> str:
        task = self._desk.plan.tasks[self.task]
        left = replace(task, percent=self.percent, remaining=None, actual_finish=None).rest
        return f"{self.percent:g} % done, {self._desk.length(left, task.id)} left" if left else "done"


class DrawLink:
    """A link from one end of a bar to one end of another; the type follows from the ends."""

    def __init__(self, chart: Chart, task: str, from_finish: bool, at: QPointF) -> None:
        self._chart, self._desk = chart, chart.desk
        self.task, self.from_finish, self._at = task, from_finish, at
        self.target: str | None = None
        self.type = LinkType.FS if from_finish else LinkType.SS
        self.refusal = ""

    def move(self, at: QPointF) -> bool:
        before = (self.target, self.type)
        self._at = at
        task = self._chart.task_at(at)
        self.target = task if task and task != self.task else None
        bar = self._chart.bar_of(task) if self.target and task else None
        at_finish = bar is not None and at.x() > bar.right() - (
            max(8.0, bar.width() / 3) if bar.width() > NARROW else 0
        )
        if self.from_finish:
            self.type = LinkType.FF if at_finish else LinkType.FS
        else:
            self.type = LinkType.SF if at_finish else LinkType.SS
        return (self.target, self.type) != before

    def edit(self) -> Edit | None:
        return edits.link(self._desk.plan, self.task, self.target, self.type) if self.target else None

    def words(self) -> str:
        name = self._desk.plan.tasks[self.task].name
        if self.target is None:
            return f"{name} → …"
        return self._desk.previews.refusal or f"{name} → {self._desk.plan.tasks[self.target].name}, {self.type.value}"

    def spot(self) -> QPointF:
        return self._at

    def paint(self, painter: QPainter) -> None:
        bar = self._chart.bar_of(self.task)
        if bar is not None:
            start = g.finish_handle(bar) if self.from_finish else g.start_handle(bar)
            painter.setPen(QPen(color("petrol"), 1.8))
            painter.drawLine(start, self._at)


def _day_and_hour(at: int, pixels: float) -> str:
    usual = at % DAY in (0, dates.DAY_BEGINS, dates.DAY_ENDS) and pixels < 180
    return dates.short_day(at) if usual else f"{dates.short_day(at)}, {dates.clock_time(at)}"
