"""Edits of estimates, and of how the streams of a project move together."""

from __future__ import annotations

from collections.abc import Iterable, Mapping

from msgspec.structs import replace

from hexapod.errors import EditRefused
from hexapod.plan.edits.edit import Edit, quoted
from hexapod.plan.estimates import Estimate, Shape, points_of
from hexapod.plan.plan import Draft, Plan
from hexapod.plan.records import TaskKind


def set_estimates(plan: Plan, task_ids: Iterable[str], estimate: Estimate, *, elapsed: bool | None = None) -> Edit:
    """How long tasks may take, in minutes; nothing takes it back. The likely length is the duration of a task then."""
    tasks = list(task_ids)

    def change(draft: Draft) -> None:
        for task_id in tasks:
            task = draft.task(task_id)
            minutes = points_of(estimate, task.minutes).likely if estimate else task.minutes
            duration = task.duration if minutes == task.minutes else minutes
            clock = task.elapsed if elapsed is None else elapsed
            draft.put(replace(task, estimate=estimate, duration=duration, elapsed=clock))

    word = "Estimate" if estimate else "Take the estimate off"
    return Edit(f"{word} {quoted([plan.task(t).name for t in tasks])}", change)


def set_shape(plan: Plan, task_ids: Iterable[str], shape: Shape) -> Edit:
    """How likely each length of the estimates of tasks is."""
    tasks = list(task_ids)

    def change(draft: Draft) -> None:
        for task_id in tasks:
            draft.put(replace(draft.task(task_id), shape=shape))

    return Edit(f"Set the shape of the estimate of {quoted([plan.task(t).name for t in tasks])}", change)


def spread_estimates(plan: Plan, spans: Mapping[str, tuple[int, int]], words: str) -> Edit:
    """An estimate by task from its duration: so many per cent less at best, and more at worst.

    Rows that last no time, summaries, and what is done are left out. ``EditRefused`` where nothing is left.
    """

    def change(draft: Draft) -> None:
        for task_id, (less, more) in wanted.items():
            task = draft.task(task_id)
            best = max(1, round(task.minutes * (100 - less) / 100))
            worst = max(best, round(task.minutes * (100 + more) / 100))
            draft.put(replace(task, estimate=(best, task.minutes, worst)))

    wanted = {t: span for t, span in spans.items() if can_be_estimated(plan, t)}
    if not wanted:
        raise EditRefused("None of these rows takes time that is still to come, so there is nothing to estimate.")
    return Edit(words, change)


def can_be_estimated(plan: Plan, task_id: str) -> bool:
    """Whether a row is a leaf that takes time and is not done."""
    task = plan.task(task_id)
    takes_time = task.kind is TaskKind.TASK and task.minutes > 0
    return takes_time and not plan.is_summary(task_id) and not task.is_done


def set_moves_together(plan: Plan, project_id: str, correlations: Mapping[str, float]) -> Edit:
    """By stream the rank correlation of the lengths of a project's tasks; 0 is not kept."""
    project = plan.project(project_id)
    kept = tuple(sorted((s, float(c)) for s, c in correlations.items() if c))
    words = f"Say what moves together in “{project.name}”"
    return Edit(words, lambda draft: draft.put(replace(draft.get("projects", project_id), moves_together=kept)))
