"""Levelling: delay work until no capacity is exceeded, and argue for each move.

The first answer comes from lists ordered by priority rules (Kolisch, "Serial and parallel resource-constrained project
scheduling methods revisited", 1996); with more time a search goes on from it. What is found is placed to the minute
and checked; the best is kept, so that more time is never worse. The same input, seed and number of steps give the
same answer.
"""

from __future__ import annotations

import dataclasses
from collections.abc import Callable, Collection, Mapping, Sequence
from dataclasses import dataclass
from typing import NamedTuple

import numpy as np
from msgspec.structs import replace

from hexapod.plan import edits
from hexapod.plan.changes import Changes
from hexapod.plan.edits import Edit
from hexapod.plan.plan import Plan
from hexapod.plan.records import Direction
from hexapod.schedule.codes import NOT_BEGUN
from hexapod.schedule.engine import reschedule, schedule_network
from hexapod.schedule.network import Network
from hexapod.schedule.schedule import Schedule
from hexapod.staffing.demand import Demand
from hexapod.staffing.levelling.bound import Bound, lower_bound, of_path
from hexapod.staffing.levelling.improving import Improver, SearchBudget
from hexapod.staffing.levelling.parts import Part, parted, parting
from hexapod.staffing.levelling.placing import (
    Ground,
    Scope,
    ground_of,
    movable_tasks,
    outline_places,
    place_all,
    urgency_of,
)
from hexapod.staffing.levelling.serial import PlacedNodes, work_following
from hexapod.staffing.overloads import Overloads, overloads
from hexapod.worktime.calendars import Ints

LIST_LIMIT = 2_000  # tasks beyond which only one list is tried at first
SEARCHED_AT_ONCE = 400  # nodes up to which the first answer is already a searched one


class Move(NamedTuple):
    """A task's start before and after, in minutes; who it gives way to on which resource."""

    task: str
    before: int
    after: int
    hold: int
    resource: str | None
    gives_way_to: str | None


@dataclass(frozen=True)
class Proposal:
    """What levelling would do. ``holds`` is what accepting writes, 0 to clear a hold of before.

    ``without`` are resources of which more is asked at once than there ever is: nothing can level that.
    """

    plan: Plan
    within_float: bool
    moves: tuple[Move, ...]
    holds: dict[str, int]
    schedule: Schedule
    finish_before: int | None
    finish_after: int | None
    finishes_before: Mapping[str, int | None]  # by project
    overloads_before: Overloads
    overloads_after: Overloads
    bound: Bound | None
    scope: Scope
    steps: int = 0
    parts: tuple[Part, ...] = ()  # tasks that are interrupted; ``holds`` and ``schedule`` are of the plan with them
    nothing_because: str = ""  # a sentence, where nothing better than the plan as it is was found

    @property
    def lower_bound(self) -> int | None:
        """No arrangement ends before this."""
        return None if self.bound is None else self.bound.at

    @property
    def is_best(self) -> bool:
        """Whether it is proven that no project could end sooner."""
        one = sum(f is not None for f in self.finishes_before.values()) == 1
        return one and self.finish_after == self.lower_bound


@dataclass(frozen=True)
class _Outcome:
    """A list placed to the minute; ``score``: excess, the projects' finishes, how long all wait."""

    score: tuple[float, float, float]
    placed: PlacedNodes
    left: Overloads
    last_finish: int
    after: Schedule


def level(
    now: Schedule,
    *,
    within_float: bool,
    seconds: float = 0.0,
    seed: int = 1,
    steps: int | None = None,
    scope: Scope = Scope(),  # noqa: B008 - a value
    demand: Demand | None = None,
    known: Overloads | None = None,
    better: Callable[[Proposal], None] | None = None,
    is_stopped: Callable[[], bool] | None = None,
    beside: bool = False,
) -> Proposal:
    """A proposal for the plan of ``now``.

    With ``seconds`` a search goes on that long, or until ``is_stopped``, ``beside`` in a process of its own; with
    ``steps`` it makes so many instead, and the same ones every time. ``demand`` and ``known``, its overloads, are those
    of the plan where they are known. ``better`` is told of each better answer on the way. Holds of tasks that may move
    are set anew, others stay.
    """
    network = now.network
    plan = network.plan
    demand = Demand.of(now, plan, demand)
    before = overloads(now, demand) if known is None else known
    movable = movable_tasks(now, scope)
    free, ground = unheld(now, demand, movable, within_float, scope)
    bound = lower_bound(free, demand, ground)

    def outcome(priority: list[tuple[float, ...]]) -> _Outcome:
        placed = place_all(ground, priority)
        after = schedule_network(_with_holds(ground.network, placed.hold))
        left = overloads(after, demand)
        return _Outcome(_score(after, left, int(placed.hold.sum())), placed, left, after.last_finish or 0, after)

    as_it_is = _score(now, before, int(network.tasks.hold.sum()))

    def proposal(best: _Outcome, bound: Bound | None, made: int) -> Proposal:
        is_worse = best.score[0] > 0 and len(best.left) > len(before)
        if best.score >= as_it_is or is_worse:
            if before and bound is not None and bound.at > (now.last_finish or 0):
                bound = of_path(min(free.last_finish or 0, now.last_finish or 0))
            return _nothing(now, before, bound, within_float, scope, made, movable)
        if best.left and bound is not None and bound.at > best.last_finish:
            bound = of_path(min(free.last_finish or 0, best.last_finish))  # what is left over breaks the other argument
        return _proposal(now, demand, before, best, bound, within_float, scope, made, ground.rank)

    few = len(ground.asking) <= LIST_LIMIT
    effort = SearchBudget(seconds, steps, seed, is_stopped, beside)
    goes_on = effort.is_any or len(ground.network.structure.order) <= SEARCHED_AT_ONCE
    wishes = wishes_of(free, ground, len(RULES) if few or goes_on else 1)
    best = min((outcome(p) for p in wishes[: len(RULES) if few else 1]), key=lambda found: found.score)
    if not goes_on:
        return proposal(best, bound, 0)
    if effort.is_any and better is not None:
        better(proposal(best, bound, 0))
    least = [f for f in free.project_finish.values() if f is not None]
    improver = Improver(ground, wishes, best.last_finish, bound, least, effort)
    for priority in improver.run():
        found = outcome(priority)
        if found.score < best.score:
            best = found
            if better is not None:
                better(proposal(best, improver.bound, improver.made))
    return proposal(best, improver.bound, improver.made)


def unheld(now: Schedule, demand: Demand, movable: Ints, within_float: bool, scope: Scope) -> tuple[Schedule, Ground]:
    """The dates without the holds of what may move, and what all its lists share."""
    holds = np.where(movable == 1, 0, now.network.tasks.hold)
    free = schedule_network(_with_holds(now.network, holds))
    return free, ground_of(free, demand, movable, within_float, scope)


def _score(dates: Schedule, left: Overloads, held: int) -> tuple[float, float, float]:
    """Excess, then the projects' finishes, then how long all wait: the less, the better."""
    return left.total_excess, float(sum(f for f in dates.project_finish.values() if f is not None)), float(held)


def _nothing(
    now: Schedule,
    before: Overloads,
    bound: Bound | None,
    within_float: bool,
    scope: Scope,
    made: int,
    movable: Ints,
) -> Proposal:
    """The plan as it is, and why nothing better was found."""
    plan = now.network.plan
    backward = [p.name for p in plan.projects_in_order() if p.direction is Direction.BACKWARD and not p.archived]
    if not before:
        because = "Nobody is asked for too much, and nothing could end sooner."
    elif not movable.any():
        because = "No task may be moved: each is done, under way, pinned, or fixed by a date."
    elif backward:
        because = (
            f"Nothing better was found. “{backward[0]}” is scheduled back from its finish: "
            "what waits for somebody there would end later than it must."
        )
    elif within_float:
        because = "Nothing better was found within float; let the finish move."
    else:
        because = "Nothing better was found: what may be moved takes no overload away."
    last, finishes = now.last_finish, now.project_finish
    return Proposal(
        plan, within_float, (), {}, now, last, last, finishes, before, before, bound, scope, made, (), because
    )


def without(now: Schedule, proposal: Proposal, left_out: Collection[str]) -> Proposal:
    """A proposal without the moves of some tasks: what then moves, and what is left over, counted anew. Without the
    move of its rest a task is not parted."""
    parts = tuple(p for p in proposal.parts if p.rest not in left_out)
    now = parted(now, parts)
    network = now.network
    plan, demand = network.plan, Demand.of(now, network.plan)
    holds = {t: hold for t, hold in proposal.holds.items() if t not in left_out and t in plan.tasks}
    after = _held(now, holds)
    known = {m.task: m for m in proposal.moves}
    moves = []
    for i in _moved(now, after, outline_places(network)).tolist():
        task = network.slots.tasks[i]
        reason = known.get(task)
        argued = (reason.resource, reason.gives_way_to) if reason is not None and task in holds else (None, None)
        moves.append(
            Move(task, int(now.start[i]), int(after.start[i]), holds.get(task, plan.tasks[task].hold), *argued)
        )
    return dataclasses.replace(
        proposal,
        moves=tuple(moves),
        holds=holds,
        schedule=after,
        finish_after=after.last_finish,
        overloads_after=overloads(after, demand),
        parts=parts,
    )


def accepting(proposal: Proposal, words: str, more: Sequence[Callable[[Plan], Edit]] = ()) -> Edit:
    """What a proposal proposes, as one edit; ``more`` is done in the plan that it leaves."""
    return parting(words, proposal.parts, [lambda plan: edits.set_holds(plan, proposal.holds, words), *more])


def _held(now: Schedule, holds: Mapping[str, int]) -> Schedule:
    """The dates with these holds."""
    plan = now.network.plan
    changes = _to_hold(plan, holds)
    return reschedule(now, changes.applied_to(plan), changes)


def _to_hold(plan: Plan, holds: Mapping[str, int]) -> Changes:
    return Changes(tasks=tuple((plan.tasks[t], replace(plan.tasks[t], hold=hold)) for t, hold in holds.items()))


def _moved(now: Schedule, after: Schedule, place: Ints) -> Ints:
    """Slots of the leaves that start at another moment, by their new start, then by their ``place`` in the outline."""
    leaves = np.flatnonzero(now.network.structure.leaf)
    moved = leaves[now.start[leaves] != after.start[leaves]]
    found: Ints = moved[np.lexsort((place[moved], after.start[moved]))]
    return found


def _with_holds(network: Network, holds: Ints) -> Network:
    return dataclasses.replace(network, tasks=network.tasks._replace(hold=holds))


# By what a list is ordered, the least first.
RULES: tuple[Callable[[Schedule, Ground], Ints], ...] = (
    lambda free, ground: free.late_start,
    lambda free, ground: free.late_finish,
    lambda free, ground: -work_following(ground.layout)[: ground.network.size],
)


def wishes_of(free: Schedule, ground: Ground, rules: int = len(RULES)) -> list[list[tuple[float, ...]]]:
    """Lists by the first priority rules: late start, late finish, work that follows. Urgency comes before the rule."""
    network = ground.network
    n, urgency = network.size, urgency_of(ground)

    def listed(values: Ints) -> list[tuple[float, ...]]:
        columns = (urgency[:n].tolist(), values.tolist(), free.total_float.tolist(), ground.rank.tolist())
        return list(zip(*columns, strict=True))

    return [listed(rule(free, ground)) for rule in RULES[:rules]]


def _proposal(
    now: Schedule,
    demand: Demand,
    overloads_before: Overloads,
    best: _Outcome,
    bound: Bound | None,
    within_float: bool,
    scope: Scope,
    made: int,
    place: Ints,
) -> Proposal:
    network = now.network
    plan, ids, placed = network.plan, network.slots.tasks[:], best.placed
    is_leaf = network.structure.leaf == 1
    leaves = np.flatnonzero(is_leaf & ((placed.hold != network.tasks.hold) | (network.tasks.progress != NOT_BEGUN)))
    wanted = {ids[i]: hold for i, hold in zip(leaves.tolist(), placed.hold[leaves].tolist(), strict=True)}
    holds = {t: hold for t, hold in wanted.items() if plan.tasks[t].hold != hold}
    after = best.after
    after = dataclasses.replace(
        after, network=dataclasses.replace(after.network, plan=_to_hold(plan, holds).applied_to(plan))
    )
    at = _moved(now, after, place)
    slots, *columns, waits_for, gives_way_to = (
        column.tolist()
        for column in (
            at,
            now.start[at],
            after.start[at],
            placed.hold[at],
            placed.waits_for[at],
            placed.gives_way_to[at],
        )
    )
    waits = [None if r < 0 else demand.resources[r] for r in waits_for]
    gives = [None if r < 0 else ids[slot] for r, slot in zip(waits_for, gives_way_to, strict=True)]
    moves = map(Move, map(ids.__getitem__, slots), *columns, waits, gives)
    return Proposal(
        plan,
        within_float,
        tuple(moves),
        holds,
        after,
        now.last_finish,
        after.last_finish,
        now.project_finish,
        overloads_before,
        best.left,
        bound,
        scope,
        made,
    )
