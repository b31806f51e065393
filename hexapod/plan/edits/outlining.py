"""Edits of the outline: rows come, go, and change their place and level."""

from __future__ import annotations

from collections.abc import Sequence

from msgspec.structs import replace

from hexapod.errors import EditRefused
from hexapod.plan.edits.edit import Edit, new_id, quoted
from hexapod.plan.lookups import Place
from hexapod.plan.outline import levels_of_text, without_descendants
from hexapod.plan.plan import Draft, Plan
from hexapod.plan.ranks import ranks_between
from hexapod.plan.records import Task


def ranks_at(draft: Draft, place: Place, index: int, count: int = 1) -> list[str]:
    """Rank keys for ``count`` rows put before position ``index`` among the children of a place."""
    siblings = draft.children_of(*place)
    before = draft.task(siblings[index - 1]).rank if index > 0 else None
    after = draft.task(siblings[index]).rank if index < len(siblings) else None
    if before is not None and after is not None and before >= after:
        _part(draft, place)
        return ranks_at(draft, place, index, count)
    return ranks_between(before, after, count)


def _part(draft: Draft, place: Place) -> None:
    """Give the rows of a place ranks of their own, where a file from elsewhere gave two the same."""
    siblings = list(draft.children_of(*place))
    for task_id, rank in zip(siblings, ranks_between(None, None, len(siblings)), strict=True):
        draft.put(replace(draft.task(task_id), rank=rank))


def _place_after(draft: Draft, project: str, after: str | None) -> tuple[Place, int]:
    """Where a row below ``after`` on the same level goes; None: at the end of the project."""
    if after is None:
        return (project, None), len(draft.children_of(project, None))
    row = draft.task(after)
    place = (row.project, row.parent)
    return place, draft.children_of(*place).index(after) + 1


def add_task(
    project: str,
    name: str,
    after: str | None = None,
    *,
    before: str | None = None,
    parent: str | None = None,
    task_id: str | None = None,
    duration: int | None = None,
) -> Edit:
    """A new row: below ``after`` on its level, above ``before``, or last under ``parent``."""
    task_id = task_id or new_id()

    def change(draft: Draft) -> None:
        if before is not None:
            row = draft.task(before)
            place: Place = (row.project, row.parent)
            index = draft.children_of(*place).index(before)
        elif parent is not None:
            place = (project, parent)
            index = len(draft.children_of(*place))
        else:
            place, index = _place_after(draft, project, after)
        rank = ranks_at(draft, place, index)[0]
        draft.put(Task(task_id, place[0], name, rank, parent=place[1], duration=duration))

    return Edit(f"Add “{name}”", change)


def add_text(project: str, text: str, after: str | None = None, *, ids: Sequence[str] | None = None) -> Edit:
    """Lines of text become rows below ``after``; their indentation or numbering becomes levels."""
    return add_rows(project, levels_of_text(text), after, ids=ids)


def add_rows(
    project: str, lines: Sequence[tuple[int, str]], after: str | None = None, *, ids: Sequence[str] | None = None
) -> Edit:
    """Rows by level and name, below ``after``; none is more than one level below the one before it."""
    ids = ids or [new_id() for _ in lines]

    def change(draft: Draft) -> None:
        place, index = _place_after(draft, project, after)
        tops = [i for i, (level, _) in enumerate(lines) if level == 0]
        top_ranks = dict(zip(tops, ranks_at(draft, place, index, len(tops)), strict=True))
        above: list[str] = []
        last_rank: dict[str, str | None] = {}
        for i, (level, name) in enumerate(lines):
            del above[level:]
            if level == 0:
                rank, parent = top_ranks[i], place[1]
            else:
                parent = above[-1]
                rank = ranks_between(last_rank.get(parent), None, 1)[0]
                last_rank[parent] = rank
            draft.put(Task(ids[i], place[0], name, rank, parent=parent))
            above.append(ids[i])

    return Edit(f"Add {quoted([name for _, name in lines])}", change)


def remove_tasks(plan: Plan, task_ids: Sequence[str]) -> Edit:
    """Rows with all below them, their links and assignments."""
    tops = without_descendants(plan, task_ids)

    def change(draft: Draft) -> None:
        for task_id in tops:
            draft.remove_task(task_id)

    return Edit(f"Delete {quoted([plan.task(t).name for t in tops])}", change)


def _put_at(draft: Draft, task_ids: list[str], place: Place, index: int) -> None:
    """Give rows a new place; a place in another project takes their branches there."""
    for task_id, rank in zip(task_ids, ranks_at(draft, place, index, len(task_ids)), strict=True):
        task = draft.task(task_id)
        moved = {task_id} if task.project != place[0] else set()
        if moved:
            _take_below(draft, task, place[0], moved)
        draft.put(replace(task, project=place[0], parent=place[1], rank=rank))
        if moved:
            _take_along(draft, moved, place[0])


def _take_below(draft: Draft, task: Task, project: str, moved: set[str]) -> None:
    for child_id in list(draft.children_of(task.project, task.id)):
        child = draft.task(child_id)
        moved.add(child_id)
        _take_below(draft, child, project, moved)
        draft.put(replace(child, project=project))


def _take_along(draft: Draft, moved: set[str], project: str) -> None:
    """Money and budgets of rows go with them into another project."""
    for kind in ("entries", "budgets"):
        for key in draft.keys(kind):
            record = draft.get(kind, key)
            if record.task in moved:
                draft.put(replace(record, project=project))


def indent(plan: Plan, task_ids: Sequence[str]) -> Edit:
    """Each row goes one level down, under the row before it on its level."""
    tops = without_descendants(plan, task_ids)

    def change(draft: Draft) -> None:
        moved = 0
        for task_id in tops:
            task = draft.task(task_id)
            siblings = draft.children_of(task.project, task.parent)
            at = siblings.index(task_id)
            if at == 0:
                continue
            place = (task.project, siblings[at - 1])
            _put_at(draft, [task_id], place, len(draft.children_of(*place)))
            moved += 1
        if not moved:
            raise EditRefused("There is no row above on the same level to put this under.")

    return Edit(f"Move {quoted([plan.task(t).name for t in tops])} a level down", change)


def outdent(plan: Plan, task_ids: Sequence[str]) -> Edit:
    """Each row goes one level up, behind the row it was under."""
    tops = without_descendants(plan, task_ids)

    def change(draft: Draft) -> None:
        moved = 0
        for task_id in reversed(tops):
            task = draft.task(task_id)
            if task.parent is None:
                continue
            parent = draft.task(task.parent)
            place = (parent.project, parent.parent)
            _put_at(draft, [task_id], place, draft.children_of(*place).index(parent.id) + 1)
            moved += 1
        if not moved:
            raise EditRefused("These rows are on the top level already.")

    return Edit(f"Move {quoted([plan.task(t).name for t in tops])} a level up", change)


def move_up(plan: Plan, task_ids: Sequence[str]) -> Edit:
    """The rows change places with the sibling before them."""
    return _move_by(plan, task_ids, -1)


def move_down(plan: Plan, task_ids: Sequence[str]) -> Edit:
    """The rows change places with the sibling after them."""
    return _move_by(plan, task_ids, 1)


def _move_by(plan: Plan, task_ids: Sequence[str], step: int) -> Edit:
    tops = without_descendants(plan, task_ids)
    word = "up" if step < 0 else "down"

    def change(draft: Draft) -> None:
        chosen = set(tops)
        moved = 0
        for task_id in tops if step < 0 else reversed(tops):
            task = draft.task(task_id)
            siblings = draft.children_of(task.project, task.parent)
            at = siblings.index(task_id)
            if not 0 <= at + step < len(siblings) or siblings[at + step] in chosen:
                continue
            _put_at(draft, [task_id], (task.project, task.parent), at - 1 if step < 0 else at + 2)
            moved += 1
        if not moved:
            raise EditRefused(f"These rows cannot go further {word} on their level.")

    return Edit(f"Move {quoted([plan.task(t).name for t in tops])} {word}", change)


def move_to(plan: Plan, task_ids: Sequence[str], project: str, parent: str | None, before: str | None) -> Edit:
    """The rows with their branches go under ``parent`` (None: top level), before a row there or last."""
    tops = without_descendants(plan, task_ids)

    def change(draft: Draft) -> None:
        siblings = draft.children_of(project, parent)
        index = len(siblings) if before is None else siblings.index(before)
        while index < len(siblings) and siblings[index] in tops:
            index += 1
        _put_at(draft, tops, (project, parent), index)

    return Edit(f"Move {quoted([plan.task(t).name for t in tops])}", change)
