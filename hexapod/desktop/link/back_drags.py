"""What a drag on the map of planning back means for the plan."""

from __future__ import annotations

from dataclasses import dataclass
from typing import TYPE_CHECKING

from PyQt6.QtCore import QPointF

from hexapod.desktop import dates
from hexapod.desktop.chart.timescale import snap_of
from hexapod.plan import edits
from hexapod.plan.records import DAY, LimitKind

if TYPE_CHECKING:
    from hexapod.desktop.link.back_canvas import BackCanvas

LEAST_PULL = 14.0  # pixels


@dataclass
class Pull:
    """A predecessor being pulled out of ``task``; ``at`` is the pointer, ``onto`` a bar that is there already."""

    task: str
    at: QPointF
    onto: str | None = None


@dataclass
class Shift:
    """A bar being dragged to another date."""

    task: str
    begun: QPointF
    at: QPointF


@dataclass
class Size:
    """The left end of a bar being dragged: it takes longer, or less."""

    task: str
    at: QPointF


Drag = Pull | Shift | Size


class BackEdits:
    """Turns drags into edits; where work would go past its date, the map asks."""

    def __init__(self, canvas: BackCanvas) -> None:
        self._canvas, self._desk = canvas, canvas.desk

    def drop(self, drag: Drag) -> None:
        """Carry out what a drag is when it is released."""
        plan, bar = self._desk.plan, self._canvas.bar(drag.task)
        if isinstance(drag, Shift):
            self._drop_shift(drag)
        elif isinstance(drag, Size):
            self._desk.do(edits.set_durations(plan, [drag.task], self._sized_length(drag)))
        elif drag.onto is not None:
            self._desk.do(edits.link(plan, drag.onto, drag.task))
        elif bar is not None and drag.at.x() < bar.left() - LEAST_PULL:
            self.pull_out(drag.task, self._pulled_length(drag))

    def words(self, drag: Drag) -> str:
        """What a release would do."""
        latest = self._canvas.picture.latest[drag.task]
        if isinstance(drag, Pull):
            if drag.onto is not None:
                return f"{self._desk.plan.tasks[drag.onto].name} → {self._desk.plan.tasks[drag.task].name}"
            return f"{self._desk.length(self._pulled_length(drag))} before {dates.short_day(latest.start)}"
        if isinstance(drag, Size):
            begins = dates.short_day(self._canvas.scale.minute(drag.at.x()))
            return f"{self._desk.length(self._sized_length(drag))}, from {begins}"
        return f"done by {dates.short_day(self._shifted_finish(drag))}"

    def _work(self, begin: int, end: int) -> int:
        from hexapod.worktime.arithmetic import worked

        network = self._desk.worked_out.network
        project = self._desk.plan.projects[self._desk.project or ""]
        pool, calendar = network.timing.pool, network.timing.index[(project.calendar,)]
        return int(worked(pool, calendar, end) - worked(pool, calendar, begin))

    def _rounded(self, minutes: int) -> int:
        step = snap_of(self._canvas.scale)
        return max(step, round(minutes / step) * step)

    def _pulled_length(self, drag: Pull) -> int:
        return self._rounded(
            self._work(self._canvas.scale.minute(drag.at.x()), self._canvas.picture.latest[drag.task].start)
        )

    def _sized_length(self, drag: Size) -> int:
        return self._rounded(
            self._work(self._canvas.scale.minute(drag.at.x()), self._canvas.picture.latest[drag.task].finish)
        )

    def _shifted_finish(self, drag: Shift) -> int:
        by = round((drag.at.x() - drag.begun.x()) * DAY / self._canvas.scale.pixels)
        return (self._canvas.picture.latest[drag.task].finish + by) // DAY * DAY + dates.DAY_ENDS

    def pull_out(self, task: str, length: int) -> None:
        """A new task before ``task``, of that length, whose name is asked for where it stands."""
        plan, made = self._desk.plan, edits.new_id()
        add = edits.add_task(plan.tasks[task].project, "New work", before=task, task_id=made, duration=length)
        edit = edits.in_steps(f"Pull work out before “{plan.tasks[task].name}”", [
            lambda p: add, lambda p: edits.link(p, made, task)])  # fmt: skip
        if self._desk.do(edit):
            self._desk.select((made,), made)
            self._canvas.rename(made)

    def _drop_shift(self, drag: Shift) -> None:
        finish, latest = self._shifted_finish(drag), self._canvas.picture.latest[drag.task]
        plan = self._desk.plan
        name = plan.tasks[drag.task].name
        if finish // DAY == latest.finish // DAY:
            return
        if drag.task in self._canvas.map.milestones:
            self._canvas.map.set_date(drag.task, finish)
        elif finish < latest.finish:
            edit = edits.set_limit(plan, drag.task, LimitKind.FINISH_NO_LATER, finish)
            if self._desk.do(edit.named(f"“{name}” finishes not after {dates.short_day(finish)}")):
                self._desk.told.emit(f"“{name}” finishes not after {dates.short_day(finish)}.", "", True)
        else:
            self._ask(drag.task, finish)

    def _ask(self, task: str, finish: int) -> None:
        """It stands as late as its date allows: later, the date moves or the work does not fit."""
        latest, plan = self._canvas.picture.latest[task], self._desk.plan
        milestone = latest.milestone
        by = self._work(latest.finish, finish)
        now = self._canvas.map.date_of(milestone)
        later = self._later(now, by)
        start = self._later(latest.start, by)
        goal = plan.tasks[milestone].name

        def keep() -> None:
            edit = edits.set_limit(plan, task, LimitKind.START_NO_EARLIER, start)
            words = f"“{plan.tasks[task].name}” starts not before {dates.short_day(start)}"
            if self._desk.do(edit.named(words)):
                self._desk.told.emit(f"{words}: it does not fit before “{goal}”.", "trouble", True)

        self._canvas.map.question.ask(
            f"So late, “{plan.tasks[task].name}” does not fit before “{goal}” on {dates.short_day(now)}.",
            f"Move the date to {dates.short_day(later)}",
            "Keep the date: it does not fit",
            lambda: self._canvas.map.set_date(milestone, later),
            keep,
        )

    def _later(self, moment: int, by: int) -> int:
        from hexapod.worktime.arithmetic import shifted

        network = self._desk.worked_out.network
        project = self._desk.plan.projects[self._desk.project or ""]
        return int(shifted(network.timing.pool, network.timing.index[(project.calendar,)], moment, by))
