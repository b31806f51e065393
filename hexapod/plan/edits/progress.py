"""Edits that tell how far the work is. One edit stands behind every way of telling it.

Summaries stand for the leaves below them. What is said last counts: a per cent takes back an earlier rest, a rest an
earlier per cent. What follows, such as the actual dates of what is told done, is added when the edit is carried out.
"""

from __future__ import annotations

from collections.abc import Callable, Iterable

from msgspec.structs import replace

from hexapod.errors import EditRefused
from hexapod.plan.edits.edit import Edit, quoted
from hexapod.plan.plan import Draft, Plan
from hexapod.plan.records import Project, Task
from hexapod.plan.telling import WHOLE, not_begun, percent_with


def set_percent(plan: Plan, task_ids: Iterable[str], percent: float, as_of: int | None = None) -> Edit:
    """How much of each task is done, 0 to 100; of a summary it is what is below it."""

    def told(task: Task) -> Task:
        is_said = task.is_done or task.is_begun
        if is_said and task.percent == percent and as_of is None:
            return task  # what else was said of its rest stays
        finish = None if percent < WHOLE else task.actual_finish
        return replace(task, percent=float(percent), remaining=None, actual_finish=finish, as_of=as_of)

    words = "done" if percent == WHOLE else f"{percent:g} % done"
    return _telling(plan, task_ids, words, told)


def set_rest(plan: Plan, task_ids: Iterable[str], minutes: int, as_of: int | None = None) -> Edit:
    """How many working minutes of each task are left. The per cent follows, as far as it lies within the duration."""

    def told(task: Task) -> Task:
        percent = percent_with(task, minutes)
        return replace(task, remaining=minutes, percent=percent, actual_finish=None, as_of=as_of)

    return _telling(plan, task_ids, "has another rest", told)


def begin(plan: Plan, task_ids: Iterable[str], at: int) -> Edit:
    """Each task began at a moment. What has no length is reached by it."""

    def told(task: Task) -> Task:
        if task.minutes == 0:
            return replace(task, actual_start=at, actual_finish=at, percent=WHOLE, remaining=None)
        return replace(task, actual_start=at)

    return _telling(plan, task_ids, "begun", told)


def finish(plan: Plan, task_ids: Iterable[str], at: int) -> Edit:
    """Each task ended at a moment."""

    def told(task: Task) -> Task:
        begun = at if task.minutes == 0 else task.actual_start
        return replace(task, actual_start=begun, actual_finish=at, percent=WHOLE, remaining=None)

    return _telling(plan, task_ids, "done", told)


def reopen(plan: Plan, task_ids: Iterable[str]) -> Edit:
    """Tasks that were done are begun again, with nothing said of how far they are."""

    def told(task: Task) -> Task:
        return replace(task, actual_finish=None, percent=0.0, remaining=None) if task.is_done else task

    return _telling(plan, task_ids, "not done", told)


def take_back(plan: Plan, task_ids: Iterable[str]) -> Edit:
    """Tasks are not begun: all that was told of them goes."""
    return _telling(plan, task_ids, "not begun", not_begun)


def set_status_date(plan: Plan, project_id: str, at: int | None) -> Edit:
    """The moment up to which the progress of a project was told."""
    project = plan.project(project_id)
    refuse_early_status(project, at)
    words = "Set" if at is not None else "Clear"

    def change(draft: Draft) -> None:
        draft.put(replace(draft.get("projects", project_id), status_date=at))

    return Edit(f"{words} the status date of “{project.name}”", change)


def refuse_early_status(project: Project, at: int | None) -> None:
    """``EditRefused`` for a status date before the project starts: nothing can have been told by then."""
    if at is not None and at < project.start:
        raise EditRefused(f"“{project.name}” starts later than that: its status date cannot lie before its start.")


def _telling(plan: Plan, task_ids: Iterable[str], words: str, told: Callable[[Task], Task]) -> Edit:
    tasks = list(dict.fromkeys(leaf for t in task_ids for leaf in plan.branch(t) if not plan.is_summary(leaf)))

    def change(draft: Draft) -> None:
        for task_id in tasks:
            draft.put(told(draft.task(task_id)))

    return Edit(f"{quoted([plan.task(t).name for t in tasks])} {words}", change)
