"""What of a task's progress follows from what was told: per cent, rest and actual dates belong together."""

from __future__ import annotations

from msgspec.structs import replace

from hexapod.plan.bounds import FIRST_TIME, LAST_TIME, LONGEST
from hexapod.plan.records import Task

WHOLE = 100.0


def progress_trouble(task: Task) -> str | None:
    """What is wrong with what was told of a task, in a sentence."""
    if not 0 <= task.percent <= 100:
        return f"How much of “{task.name}” is done must be between 0 and 100 %."
    if task.remaining is not None and not 0 <= task.remaining <= LONGEST:
        return f"What is left of “{task.name}” must be between nothing and a hundred years."
    times = (t for t in (task.actual_start, task.actual_finish, task.as_of) if t is not None)
    if not all(FIRST_TIME <= t <= LAST_TIME for t in times):
        return f"An actual date of “{task.name}” lies outside 1970 to 2129."
    if task.actual_start is not None and task.actual_finish is not None and task.actual_finish < task.actual_start:
        return f"“{task.name}” would have ended before it began."
    return None


def follows(old: Task | None, new: Task) -> Task:
    """``new`` with what follows from the part that an edit changed.

    A finish or a rest of nothing is 100 %. Less than 100 % takes the finish back, a finish taken back leaves no per
    cent, and without an actual start nothing is told at all. Actual dates that are missing need the dates of the plan:
    ``schedule.telling`` writes those.
    """
    if not _is_told(new) or (old is not None and told_of(old) == told_of(new)):
        return new
    is_start_gone = old is not None and old.actual_start is not None and new.actual_start is None
    if old is not None and is_start_gone and told_of(replace(new, actual_start=old.actual_start)) == told_of(old):
        return not_begun(new)
    if old is not None and old.actual_finish is not None:
        if new.actual_finish is None and new.percent == WHOLE == old.percent and new.remaining in (None, 0):
            return replace(new, percent=0.0, remaining=None)
        if new.actual_finish == old.actual_finish and (new.percent < WHOLE or new.remaining):
            percent = new.percent if new.percent < WHOLE else percent_with(new, new.remaining or 0)
            return replace(new, actual_finish=None, remaining=new.remaining or None, percent=percent)
    is_whole = new.actual_finish is not None or new.remaining == 0 or new.percent == WHOLE
    if is_whole and (new.percent, new.remaining) != (WHOLE, None):
        return replace(new, percent=WHOLE, remaining=None)
    return new


def percent_with(task: Task, rest: int) -> float:
    """The per cent of a task of which so many minutes are left; never all of it while something is."""
    if not rest:
        return WHOLE
    return min(99.99, max(0.0, round(100 * (task.minutes - rest) / task.minutes, 2))) if task.minutes else 0.0


def not_begun(task: Task) -> Task:
    """The task with nothing told of it."""
    return replace(task, actual_start=None, actual_finish=None, remaining=None, as_of=None, percent=0.0)


def lacks_dates(task: Task) -> bool:
    """Whether what was told of a leaf needs an actual date that was not."""
    needs_finish = task.percent == WHOLE and task.actual_finish is None
    return needs_finish or (task.actual_start is None and _is_told(task))


def _is_told(task: Task) -> bool:
    return bool(task.percent) or any(part is not None for part in told_of(task)[1:])


def told_of(task: Task) -> tuple[float, int | None, int | None, int | None]:
    return task.percent, task.remaining, task.actual_start, task.actual_finish
