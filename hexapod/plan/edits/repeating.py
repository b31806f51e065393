"""Recurring work: a series is a summary that holds its rule, its occurrences are tasks below it.

Occurrences are real rows with a date of their own (not before the moment of the rule), which can be
linked, assigned and moved. A change is made to *this one*, to *this and later* ones, which part off as a series
of their own where the rule changes, or to *all*.
"""

from __future__ import annotations

import re
from collections.abc import Sequence
from enum import StrEnum
from typing import Any

from msgspec.structs import replace

from hexapod.errors import EditRefused
from hexapod.plan.edits.edit import Edit, new_id
from hexapod.plan.edits.outlining import ranks_at
from hexapod.plan.plan import Draft, Plan
from hexapod.plan.records import Limit, LimitKind, Task
from hexapod.plan.recurrence import check_rule, moment_at, moments_of

MOST = 2000  # occurrences of one series


class Scope(StrEnum):
    """Which occurrences a change is about."""

    THIS = "this"
    LATER = "this and later"
    ALL = "all"


def repeat(plan: Plan, task_id: str, rule: str, until: int) -> Edit:
    """A task becomes a series. ``until`` (minutes) ends a rule that has no end of its own.

    Whoever is assigned works on every occurrence; links stay with the series.
    """
    check_rule(rule)
    task = plan.task(task_id)
    if plan.is_summary(task_id):
        raise EditRefused(f"“{task.name}” has parts; only a task without parts can be repeated.")
    if task.actual_start is not None:
        raise EditRefused(f"“{task.name}” has begun; only what is still to come can be repeated.")

    def change(draft: Draft) -> None:
        series = replace(task, repeats=rule)
        draft.put(series)
        _fill(draft, series, moments_of(rule, until, MOST))
        for resource in list(draft.assigned(task_id)):
            assignment = draft.get("assignments", (task_id, resource))
            draft.remove("assignments", (task_id, resource))
            for occurrence in draft.children_of(series.project, task_id):
                draft.put(replace(assignment, task=occurrence))

    return Edit(f"Repeat “{task.name}”", change)


def set_rule(plan: Plan, task_id: str, scope: Scope, rule: str, until: int) -> Edit:
    """Give a series another rule, from one occurrence on or for all; ``task_id`` may be the series itself."""
    check_rule(rule)
    series, siblings, at = _series_of(plan, task_id)
    if scope is Scope.THIS:
        raise EditRefused("One occurrence has a date, and no rule; drag it or type its start.")
    if scope is Scope.ALL or at == 0:

        def change_all(draft: Draft) -> None:
            changed = replace(draft.task(series.id), repeats=rule)
            draft.put(changed)
            _fill(draft, changed, moments_of(rule, until, MOST))

        return Edit(f"Change how “{series.name}” repeats", change_all)

    def change_later(draft: Draft) -> None:
        later = siblings[at:]
        first = plan.task(later[0]).occurrence
        assert first is not None
        draft.put(replace(series, repeats=_ended_before(series.repeats, first)))
        place = (series.project, series.parent)
        index = draft.children_of(*place).index(series.id) + 1
        part = replace(series, id=new_id(), rank=ranks_at(draft, place, index)[0], repeats=rule)
        draft.put(part)
        for child_id, rank in zip(later, ranks_at(draft, (series.project, part.id), 0, len(later)), strict=True):
            draft.put(replace(draft.task(child_id), parent=part.id, rank=rank))
        _fill(draft, part, moments_of(rule, until, MOST))

    return Edit(f"Change how “{series.name}” repeats from occurrence {at + 1} on", change_later)


def set_occurrences(plan: Plan, task_id: str, scope: Scope, words: str, **fields: Any) -> Edit:
    """Change some fields of one occurrence, of it and the later ones, or of all."""
    series, siblings, at = _series_of(plan, task_id)
    chosen = {Scope.THIS: siblings[at : at + 1], Scope.LATER: siblings[at:], Scope.ALL: siblings}[scope]

    def change(draft: Draft) -> None:
        for child in chosen:
            draft.put(replace(draft.task(child), **fields))
        if scope is Scope.ALL and "duration" in fields:
            draft.put(replace(draft.task(series.id), duration=fields["duration"]))

    return Edit(words, change)


def remove_occurrences(plan: Plan, task_id: str, scope: Scope) -> Edit:
    """Take one occurrence out, or end the series before it, or remove the series."""
    series, siblings, at = _series_of(plan, task_id)
    chosen = {Scope.THIS: siblings[at : at + 1], Scope.LATER: siblings[at:], Scope.ALL: siblings}[scope]

    def change(draft: Draft) -> None:
        if scope is Scope.ALL or len(chosen) == len(siblings):
            draft.remove_task(series.id)
            return
        first = plan.task(chosen[0]).occurrence
        assert first is not None
        rule = _without(series.repeats, first) if scope is Scope.THIS else _ended_before(series.repeats, first)
        draft.put(replace(draft.task(series.id), repeats=rule))
        for child in chosen:
            draft.remove_task(child)

    return Edit(f"Remove {len(chosen)} of “{series.name}”", change)


def is_open_ended(rule: str) -> bool:
    """Whether only the project's finish ends it."""
    return not re.search(r"COUNT=|UNTIL=", rule, re.IGNORECASE) and "RRULE" in rule.upper()


def extend(plan: Plan, until: dict[str, int]) -> Edit | None:
    """Bring the open-ended series up to the finish of their projects (minutes by project); None if they are.

    Occurrences beyond it go, as long as nothing is linked to them and nothing was told of them.
    """
    due: list[tuple[Task, list[int]]] = []
    for task_id in plan.series:
        series = plan.task(task_id)
        end = until.get(series.project)
        if end is None or not is_open_ended(series.repeats):
            continue
        wanted = moments_of(series.repeats, end, MOST)
        present = [plan.task(c).occurrence for c in plan.children_of(series.project, task_id)]
        tasks = [plan.task(c) for c in plan.children_of(series.project, task_id)]
        held = {t.occurrence for t in tasks if plan.links_at.get(t.id) or t.actual_start is not None}
        keep = sorted({*wanted, *(m for m in held if m is not None)})
        if keep and keep != [m for m in present if m is not None]:
            due.append((series, keep))
    if not due:
        return None

    def change(draft: Draft) -> None:
        for series, moments in due:
            _fill(draft, series, moments)

    return Edit("Bring recurring work up to the finish", change)


def _series_of(plan: Plan, task_id: str) -> tuple[Task, list[str], int]:
    """The series, its occurrences in order, and which of them is meant (the first, for the series itself)."""
    task = plan.task(task_id)
    series = task if task.repeats else plan.tasks.get(task.parent or "")
    if series is None or not series.repeats:
        raise EditRefused(f"“{task.name}” does not repeat.")
    siblings = [c for c in plan.children_of(series.project, series.id) if plan.task(c).occurrence is not None]
    return series, siblings, siblings.index(task_id) if task_id in siblings else 0


def _fill(draft: Draft, series: Task, moments: Sequence[int]) -> None:
    """Give a series exactly these occurrences: those of the same moment stay, others are moved in their order.

    Those that have begun stay as they are, whatever the rule says now.
    """
    if not moments:
        raise EditRefused(f"The rule of “{series.name}” has no occurrence in the time of the project.")
    place = (series.project, series.id)
    present = [c for c in draft.children_of(*place) if draft.task(c).occurrence is not None]
    by_moment = {draft.task(c).occurrence: c for c in present}
    ahead = [c for c in present if draft.task(c).actual_start is None]
    spare = [c for c in ahead if draft.task(c).occurrence not in set(moments)]
    pattern = draft.task(present[0]) if present else None
    first_assigned = list(draft.assigned(pattern.id)) if pattern is not None else []
    for i, moment in enumerate(moments):
        child = by_moment.get(moment) or (spare.pop(0) if spare else None)
        if child is None:
            rank = ranks_at(draft, place, len(draft.children_of(*place)))[0]
            made = Task(new_id(), series.project, "", rank, parent=series.id, duration=series.duration)
            made = replace(made, calendar=series.calendar, elapsed=series.elapsed, kind=series.kind)
            child = made.id
            draft.put(dated(made, series.name, i, moment))
            for resource in first_assigned:
                assert pattern is not None
                draft.put(replace(draft.get("assignments", (pattern.id, resource)), task=child))
        else:
            draft.put(dated(draft.task(child), series.name, i, moment))
    for child in spare:
        draft.remove_task(child)


def dated(task: Task, name: str, index: int, moment: int) -> Task:
    """An occurrence, the ``index``-th of its series, put where the rule has it."""
    if task.occurrence == moment and task.name:
        return task
    others = tuple(limit for limit in task.limits if limit.kind is not LimitKind.START_NO_EARLIER)
    limits = (*others, Limit(LimitKind.START_NO_EARLIER, moment))
    return replace(task, name=task.name or f"{name} {index + 1}", occurrence=moment, limits=limits)


def _ended_before(rule: str, moment: int) -> str:
    """The rule with its last occurrence before a moment."""
    until = moment_at(moment - 1)
    bare = re.sub(r";?(COUNT|UNTIL)=[^;\n]*", "", rule, flags=re.IGNORECASE)
    return re.sub(r"(RRULE:[^\n]*)", rf"\1;UNTIL={until:%Y%m%dT%H%M00}", bare, flags=re.IGNORECASE)


def _without(rule: str, moment: int) -> str:
    return f"{rule.rstrip()}\nEXDATE:{moment_at(moment):%Y%m%dT%H%M00}"
