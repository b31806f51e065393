"""Cards and stages follow each other: a card that is moved says how far it is, what is told elsewhere moves it."""

from __future__ import annotations

from collections.abc import Sequence

from msgspec.structs import replace

from hexapod.plan.changes import Changes
from hexapod.plan.plan import Plan
from hexapod.plan.records import Stage, Task
from hexapod.plan.telling import follows, told_of


def stage_of(stages: Sequence[Stage], task: Task) -> Stage | None:
    """The stage in which a card is shown: the one it is in, else the one that its per cent means, else the first."""
    own = next((stage for stage in stages if stage.id == task.stage), None)
    return own or meant_by(stages, task.percent) or (stages[0] if stages else None)


def meant_by(stages: Sequence[Stage], percent: float) -> Stage | None:
    """The last stage, in their order, whose per cent is not above one that was told."""
    found = [stage for stage in stages if stage.percent is not None and stage.percent <= percent]
    return found[-1] if found else None


def boarded(plan: Plan, changes: Changes) -> Changes:
    """The changes of an edit with what follows from them for cards; ``plan`` is the one that they make.

    A card that was put into a stage is as far as the stage says, unless it is further and not yet at the next one. One
    of which something else was told goes into the stage that this means, and stays where that says nothing.
    """
    if not plan.stages or not changes.tasks:
        return changes
    stages = plan.stages_in_order()
    pairs = [
        (old, new if new is None or plan.is_summary(new.id) else _card(stages, old, new)) for old, new in changes.tasks
    ]
    is_same = all(a[1] is b[1] for a, b in zip(pairs, changes.tasks, strict=True))
    return changes if is_same else replace(changes, tasks=tuple(pairs))


def _card(stages: Sequence[Stage], old: Task | None, new: Task) -> Task:
    if old is None or not new.on_board:
        return new
    told = follows(old, new)
    if told_of(told) != told_of(old):
        return replace(new, stage=_told_into(stages, told)) if new.stage == old.stage else new
    own = next((stage for stage in stages if stage.id == new.stage), None)
    if own is None:
        meant = meant_by(stages, new.percent)
        return new if meant is None else replace(new, stage=meant.id)
    if own.id == old.stage or own.percent is None or meant_by(stages, new.percent) is own:
        return new
    return replace(new, percent=own.percent, remaining=None, as_of=None)


def _told_into(stages: Sequence[Stage], task: Task) -> str | None:
    own = next((stage for stage in stages if stage.id == task.stage), None)
    if own is not None and own.percent in (None, task.percent):
        return own.id
    meant = meant_by(stages, task.percent)
    return task.stage if meant is None else meant.id
