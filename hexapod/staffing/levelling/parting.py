"""Levelling that may interrupt work: a task in two parts where a project then ends sooner, or less is left over.

Each task is interrupted once at most, which is most of what interrupting gains (Ballestin, Valls and Quintanilla,
"Pre-emption in resource-constrained project scheduling", 2008, from memory). Two openings are tried: what is under way
when something that waits for it could begin is interrupted for it, and what waits begins with as much as fits before
what it waits for. A part is kept if the levelling of the plan with it is better than without, both looked for with the
same effort; so the answer is never worse than that without parts.
"""

from __future__ import annotations

import dataclasses
import itertools
import time
from collections.abc import Callable, Iterator
from typing import NamedTuple

import numpy as np

from hexapod.errors import HexapodError
from hexapod.plan.outline import outline_order
from hexapod.schedule.schedule import Schedule
from hexapod.staffing.demand import Demand
from hexapod.staffing.levelling.parts import Part, can_part, parted, worked_between
from hexapod.staffing.levelling.placing import Scope, may_touch
from hexapod.staffing.levelling.proposal import SEARCHED_AT_ONCE, Proposal, level, without
from hexapod.staffing.overloads import Overloads
from hexapod.worktime.calendars import Ints

LEAST_PART = 480  # minutes: nobody is sent from one work to another for less than a day of either
MOST_TRIED, TRIAL_STEPS = 40, 200  # parts, and steps for each, where neither time nor steps are given
MOST_WAITING, MOST_OPENINGS = 24, 3  # tasks that wait, and interruptions for each, in one round
CLIMB = 0.5  # of the time is for finding parts, the rest for a search with them and one without
TRIAL, MOST_TRIAL = 0.02, 1.5  # of the time, and seconds at most, are for each part that is tried


class PartsBudget(NamedTuple):
    """As of ``level``."""

    seconds: float
    steps: int | None
    seed: int
    beside: bool = False


def level_in_parts(
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
    """As ``level``, but tasks may be interrupted: ``parts`` of the proposal says which."""
    began = time.monotonic()
    climb = _Climb(now, within_float, scope, demand, known, is_stopped, better)
    is_small = len(now.network.structure.order) <= SEARCHED_AT_ONCE
    steps_each = TRIAL_STEPS if is_small and steps is None and not seconds else steps
    trial = PartsBudget(min(MOST_TRIAL, seconds * TRIAL), steps_each, seed)
    climb.take(climb.levelled((), trial))
    if not climb.best.overloads_before:
        return climb.best
    for tried, part in enumerate(climb.openings()):
        is_late = time.monotonic() - began > seconds * CLIMB if seconds else tried >= MOST_TRIED
        if is_late or climb.is_over():
            break
        climb.take(climb.tried((*climb.best.parts, part), trial))
    searched = [climb.best.parts, ()] if climb.best.parts else [()]
    for i, parts in enumerate(searched if seconds else []):
        left = (began + seconds - time.monotonic()) / (len(searched) - i)
        if left > 0 and not climb.is_over():
            climb.take(climb.tried(parts, PartsBudget(left, steps, seed, beside), climb.take))
    return climb.without_idle_parts()


def _score(proposal: Proposal) -> tuple[float, int, int]:
    """What is left over, then the projects' finishes, then how often work is interrupted."""
    finishes = (f for f in proposal.schedule.project_finish.values() if f is not None)
    return proposal.overloads_after.total_excess, sum(finishes), len(proposal.parts)


class _Climb:
    """From one proposal to a better one."""

    def __init__(
        self,
        now: Schedule,
        within_float: bool,
        scope: Scope,
        demand: Demand | None,
        known: Overloads | None,
        is_stopped: Callable[[], bool] | None,
        better: Callable[[Proposal], None] | None,
    ) -> None:
        self._now, self._within, self._scope = now, within_float, scope
        self._demand = Demand.of(now, now.network.plan, demand)
        self._known = known
        self.is_stopped = is_stopped or (lambda: False)
        self._better = better or (lambda _: None)
        self._whole: Proposal | None = None
        self.best: Proposal  # once the first one is taken

    def take(self, found: Proposal | None) -> None:
        """Keep a proposal if it is better than the best one so far."""
        if found is not None and (found is self._whole or _score(found) < _score(self.best)):
            self.best = found
            self._better(found)

    def is_over(self) -> bool:
        """Whether it was stopped, or nothing can be better."""
        return self.is_stopped() or (self.best.is_best and not self.best.overloads_after)

    def openings(self) -> Iterator[Part]:
        """Interruptions of the best proposal that were not tried yet; collected again when the best one changes."""
        seen: set[Part] = set()
        of: Proposal | None = None
        while of is not self.best:
            of = self.best
            for part in _openings(of, self._scope):
                if part not in seen:
                    seen.add(part)
                    yield part
                if of is not self.best:
                    break

    def tried(
        self, parts: tuple[Part, ...], effort: PartsBudget, better: Callable[[Proposal], None] | None = None
    ) -> Proposal | None:
        """None where a task cannot be parted so."""
        try:
            return self.levelled(parts, effort, better)
        except HexapodError:
            return None

    def levelled(
        self, parts: tuple[Part, ...], effort: PartsBudget, better: Callable[[Proposal], None] | None = None
    ) -> Proposal:
        now, scope = parted(self._now, parts), self._scope
        if scope.tasks is not None:
            scope = dataclasses.replace(scope, tasks={*scope.tasks, *(p.rest for p in parts)})
        found = level(
            now,
            within_float=self._within,
            seconds=effort.seconds,
            seed=effort.seed,
            steps=effort.steps,
            scope=scope,
            demand=self._demand,
            known=None if parts else self._known,
            better=None if better is None else lambda p: better(self._whole_plan(p, parts)),
            is_stopped=self.is_stopped,
            beside=effort.beside,
        )
        return self._whole_plan(found, parts)

    def _whole_plan(self, found: Proposal, parts: tuple[Part, ...]) -> Proposal:
        """The proposal in terms of the plan as it stands, in which no task is interrupted."""
        if self._whole is None:
            self._whole = found
            return found
        whole = self._whole
        return dataclasses.replace(
            found,
            plan=whole.plan,
            scope=self._scope,
            parts=parts,
            finish_before=whole.finish_before,
            finishes_before=whole.finishes_before,
            overloads_before=whole.overloads_before,
            bound=whole.bound,
        )

    def without_idle_parts(self) -> Proposal:
        """The best proposal, with parts joined again where no other work came to lie between them."""
        best, after = self.best, self.best.schedule
        ends = {p.rest: after.dates(p.task).finish for p in best.parts}
        idle = {rest for rest, end in ends.items() if not worked_between(after, rest, end, after.dates(rest).start)}
        found = without(self._now, best, idle) if idle else best
        return found if _score(found) <= _score(best) else best


def _openings(best: Proposal, scope: Scope) -> Iterator[Part]:
    """Interruptions that may gain, the most pressing first: for what is left over, then for what waits."""
    after = best.schedule
    network, free = after.network, after.free_start
    assert free is not None
    plan, ids = network.plan, network.slots.tasks
    parted_already = {name for p in best.parts for name in (p.task, p.rest)}
    rank = np.zeros(network.size, dtype=np.int64)  # slots are numbered as the plan happens to be stored
    rank[[network.slots.of_task[t] for t in outline_order(plan)]] = np.arange(len(plan.tasks))
    sharing = _sharing(after, rank)

    def part_of(slot: int, since: int, moment: int) -> Part | None:
        task = ids[slot]
        if task in parted_already or not may_touch(plan.tasks[task], scope):
            return None
        minutes = worked_between(after, task, since, moment)
        return Part.of(task, minutes) if can_part(plan, task, minutes, LEAST_PART) else None

    for over in best.overloads_after:
        for slot in sorted((network.slots.of_task[t] for t in over.tasks), key=lambda s: (after.start[s], rank[s])):
            found = part_of(slot, int(after.start[slot]), over.begin)
            if found is not None:
                yield found
    waiting = np.flatnonzero((network.structure.leaf == 1) & (network.tasks.hold > 0))
    order = np.lexsort((rank[waiting], after.start[waiting], after.total_float[waiting]))
    for slot in waiting[order][:MOST_WAITING].tolist():
        could, does = int(free[slot]), int(after.start[slot])
        others = sharing(slot)
        under_way = [o for o in others if after.start[o] < could < after.finish[o]]
        ahead = sorted({int(after.start[o]) for o in others if could < after.start[o] < does})
        found_here = itertools.chain(
            (part_of(o, int(after.start[o]), could) for o in under_way),
            (part_of(slot, could, moment) for moment in ahead),
        )
        yield from itertools.islice((p for p in found_here if p is not None), MOST_OPENINGS)


def _sharing(after: Schedule, rank: Ints) -> Callable[[int], list[int]]:
    """Which other leaves ask for a resource that a leaf asks for, by slot, in the order of their starts."""
    network = after.network
    demand = Demand.of(after, network.plan)
    asks: dict[int, set[int]] = {}
    tasks_of = [np.unique(demand.task[demand.of_resource(r)]).tolist() for r in range(len(demand.resources))]
    for resource, tasks in enumerate(tasks_of):
        for slot in tasks:
            asks.setdefault(slot, set()).add(resource)

    def others(slot: int) -> list[int]:
        found = {o for r in asks.get(slot, ()) for o in tasks_of[r] if network.structure.leaf[o]} - {slot}
        return sorted(found, key=lambda o: (int(after.start[o]), int(rank[o])))

    return others
