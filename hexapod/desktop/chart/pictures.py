"""From tasks to what the painting of their bars needs to know, and the same in words."""

from __future__ import annotations

from collections.abc import Iterable

from PyQt6.QtWidgets import QWidget

from hexapod.desktop import dates
from hexapod.desktop.chart import geometry as g
from hexapod.desktop.chart.coloring import row_color
from hexapod.desktop.chart.painter import RowPicture
from hexapod.desktop.models.desk import Desk
from hexapod.desktop.models.progress import progress_words
from hexapod.fields.assignment_text import format_assignments
from hexapod.plan.estimates import points_of
from hexapod.query.views import Labels
from hexapod.schedule.schedule import TaskDates, computed_dates

MOST_MADE = 1000


class Pictures:
    """Made once for each task, until its chart has reason to forget them."""

    def __init__(self, desk: Desk) -> None:
        self._desk = desk
        self._made: dict[str, RowPicture] = {}

    def forget(self) -> None:
        self._made.clear()

    def follow_ghost(self, on_show: Iterable[str]) -> set[str]:
        """Keep those of some tasks, with the ghosts that they have now. The tasks whose ghosts are where they were."""
        made, self._made, found = self._made, {}, set()
        for task_id in on_show:
            picture = made.get(task_id)
            if picture is not None:
                before, picture.ghosts = picture.ghosts, self._ghosts(task_id)
                self._made[task_id] = picture
                if [(g.start, g.finish) for g in before] == [(g.start, g.finish) for g in picture.ghosts]:
                    found.add(task_id)
        return found

    def of(self, task_id: str) -> RowPicture:
        found = self._made.get(task_id)
        if found is None:
            if len(self._made) >= MOST_MADE:
                self._made.clear()
            found = self._made[task_id] = self._make(task_id)
        return found

    def _make(self, task_id: str) -> RowPicture:
        desk = self._desk
        task = desk.plan.tasks[task_id]
        schedule = desk.schedule
        moved = desk.moved.get(task_id)
        known = computed_dates(schedule)
        return RowPicture(
            dates=schedule.dates(task_id),
            stream=row_color(desk, task_id),
            is_summary=desk.plan.is_summary(task_id),
            label=self.label(task_id),
            target=task.target,
            is_limited=bool(task.limits),
            free_start=int(known.free_start[known.slots[task_id]]) if known is not None and task.hold else None,
            moved=moved[1] or moved[0] if moved else 0,
            ghosts=self._ghosts(task_id),
            percent=desk.percent(task_id),
            done=self.done_part(task_id),
            rest_from=self._rest_from(task_id),
            is_struck=desk.is_struck(task_id),
            then=self._then(task_id),
            range=self._range(task_id),
            band=desk.chances.band_of(task_id) if desk.looks.shows_band and not task.is_done else None,
        )

    def _ghosts(self, task_id: str) -> tuple[TaskDates, ...]:
        """Where it would be, and its rest where a proposal parts it; nothing where it stays."""
        desk = self._desk
        shown, is_at = desk.ghost or desk.beside, desk.schedule.dates(task_id)
        if shown is None:
            return ()
        parts = desk.proposal.parts if desk.proposal is not None else ()
        would_be = (task_id, *(p.rest for p in parts if p.task == task_id))
        found = (shown.dates(t) for t in would_be if shown.has(t))
        return tuple(each for each in found if (each.start, each.finish) != (is_at.start, is_at.finish))

    def _range(self, task_id: str) -> tuple[int, int] | None:
        """When a leaf that is still to come would finish at best and at worst, starting when it does."""
        known, task = computed_dates(self._desk.schedule), self._desk.plan.tasks[task_id]
        if not task.estimate or known is None or task.is_done or self._desk.plan.is_summary(task_id):
            return None
        from hexapod.worktime.arithmetic import finish_side, worked

        network, slot = known.network, known.slots[task_id]
        points = points_of(task.estimate, task.minutes)
        begin = known.dates(task_id).start
        if task.is_begun:
            points, (_, begin) = points.lessened(task.rest / task.minutes), known.done_until(task_id)
        pool, calendar = network.timing.pool, network.tasks.calendar[slot]
        done = worked(pool, calendar, begin)
        return int(finish_side(pool, calendar, done + points.best)), int(
            finish_side(pool, calendar, done + points.worst)
        )

    def _then(self, task_id: str) -> tuple[int, int] | None:
        """Where the reference baseline had it, where that is shown."""
        known = computed_dates(self._desk.schedule)
        if known is None or not self._desk.looks.shows_baseline or not known.plan.is_whole:
            return None
        row = known.baseline_rows.get(task_id)
        return None if row is None else (row.start, row.finish)

    def done_part(self, task_id: str) -> g.DonePart:
        """How much of the bar of a leaf is done, and of its work."""
        desk = self._desk
        task, dates, known = desk.plan.tasks[task_id], desk.schedule.dates(task_id), computed_dates(desk.schedule)
        if task.is_done or dates.finish <= dates.start:
            return g.DonePart(float(task.is_done), task.percent)
        if not task.is_begun:
            return g.DonePart(0.0, 0.0)
        if known is None:
            return g.DonePart(task.percent / 100, task.percent)
        until, _ = known.done_until(task_id)
        share = (min(until, dates.finish) - dates.start) / (dates.finish - dates.start)
        return g.DonePart(max(0.0, share), task.percent)

    def _rest_from(self, task_id: str) -> int | None:
        """When the rest of a begun leaf starts, where something holds it back."""
        known = computed_dates(self._desk.schedule)
        if known is None or not self._desk.plan.tasks[task_id].is_begun or self._desk.plan.is_summary(task_id):
            return None
        until, rest = known.done_until(task_id)
        return rest if rest > until else None

    def label(self, task_id: str) -> str:
        """What the view puts on bars."""
        desk, kind = self._desk, self._desk.on_show.view.labels
        if kind is Labels.NAME:
            return desk.plan.tasks[task_id].name
        if kind is Labels.NOTHING or not desk.plan.is_whole:
            return ""
        if kind is Labels.PEOPLE:
            return ", ".join(desk.plan.resources[a.resource].name for a in desk.plan.assignments_of(task_id))
        return format_assignments(desk.plan, task_id)


def tell_current(widget: QWidget, desk: Desk) -> None:
    """What a screen reader says of a painted view: the task that the keyboard is at."""
    current = desk.current
    widget.setAccessibleDescription(words_of(desk, current) if current in desk.plan.tasks else "")


def words_of(desk: Desk, task_id: str) -> str:
    """A bar as a screen reader says it, and a tooltip shows it."""
    task = desk.plan.tasks.get(task_id)
    if task is None:  # deleted since it was drawn
        return ""
    if not desk.schedule.has(task_id):
        return task.name
    found = desk.schedule.dates(task_id)
    parts = [task.name]
    if found.start == found.finish:
        parts.append(dates.long_day(found.start))
    else:
        parts.append(f"{dates.short_day(found.start)} to {dates.long_day(found.finish)}")
        parts.append(desk.length(found.duration, task_id))
    if found.critical:
        parts.append("critical")
    elif found.total_float is not None:
        parts.append(f"float {desk.length(found.total_float, task_id)}")
    parts += progress_words(desk, task_id)
    if task.estimate and not task.is_done:
        best, worst = (desk.length(minutes, task_id) for minutes in (task.estimate[0], task.estimate[-1]))
        parts.append(f"best {best}, worst {worst}")
    known = computed_dates(desk.schedule)
    drift = known.drifts.get(task_id) if known is not None and known.plan.is_whole else None
    if drift is not None and drift.finish:
        way = "later" if drift.finish > 0 else "sooner"
        parts.append(f"{desk.length(abs(drift.finish), task_id)} {way} than the baseline")
    who = format_assignments(desk.plan, task_id) if desk.plan.is_whole else ""
    if who:
        parts.append(who)
    return ", ".join(parts)
