"""Edits of the board: its stages, what is on it, and in which stage a card is."""

from __future__ import annotations

from collections.abc import Iterable

from msgspec.structs import replace

from hexapod.errors import EditRefused
from hexapod.plan.edits.edit import Edit, quoted, saving
from hexapod.plan.plan import Draft, Plan
from hexapod.plan.ranks import rank_moved
from hexapod.plan.records import Stage


def save_stage(plan: Plan, stage: Stage) -> Edit:
    """Add a stage, or change the one with its id."""
    return saving(plan, stage, f"the stage “{stage.name}”")


def remove_stage(plan: Plan, stage_id: str) -> Edit:
    """The stage goes; cards in it stay on the board, where their per cent puts them."""
    cards = [t.id for t in plan.tasks.values() if t.stage == stage_id]

    def change(draft: Draft) -> None:
        for task_id in cards:
            draft.put(replace(draft.task(task_id), stage=None))
        draft.remove("stages", stage_id)

    return Edit(f"Delete the stage “{plan.stage(stage_id).name}”", change)


def move_stage(plan: Plan, stage_id: str, by: int) -> Edit:
    """The stage changes places with the one before (-1) or behind it (1)."""
    order = [s.id for s in plan.stages_in_order()]
    at = order.index(plan.stage(stage_id).id)
    if not 0 <= at + by < len(order):
        raise EditRefused("The stage is at the end of the board already.")
    ranks = [stage.rank for stage in plan.stages_in_order()]
    stage = replace(plan.stage(order[at]), rank=rank_moved(ranks, at, by))
    return Edit(f"Move the stage “{stage.name}”", lambda draft: draft.put(stage))


def put_on_board(plan: Plan, task_ids: Iterable[str], on: bool) -> Edit:
    """The leaves of some rows are cards, or are not any more."""
    leaves = list(dict.fromkeys(t for row in task_ids for t in plan.branch(row) if not plan.is_summary(t)))

    def change(draft: Draft) -> None:
        for task_id in leaves:
            draft.put(replace(draft.task(task_id), on_board=on))

    names = quoted([plan.task(t).name for t in leaves])
    return Edit(f"{names} {'on' if on else 'off'} the board", change)


def put_in_stage(plan: Plan, task_ids: Iterable[str], stage_id: str) -> Edit:
    """Cards go into a stage. What its per cent means for them is an edit of its own: see ``control.stages``."""
    tasks, stage = list(task_ids), plan.stage(stage_id)

    def change(draft: Draft) -> None:
        for task_id in tasks:
            draft.put(replace(draft.task(task_id), stage=stage_id, on_board=True))

    return Edit(f"{quoted([plan.task(t).name for t in tasks])} in “{stage.name}”", change)
