"""The dates of a plan: what every view reads and nothing writes."""

from __future__ import annotations

from collections.abc import Collection, Mapping
from dataclasses import dataclass, fields
from functools import cached_property
from typing import TYPE_CHECKING, NamedTuple

import numpy as np
from numpy.typing import NDArray

from hexapod.schedule.codes import FOREVER, NEVER
from hexapod.worktime.calendars import Ints

if TYPE_CHECKING:
    from hexapod.plan.accounts import BaselineTask
    from hexapod.plan.plan import Plan
    from hexapod.schedule.drifting import Drift
    from hexapod.schedule.network import Network
    from hexapod.schedule.passing import Passed
    from hexapod.schedule.planned import Planned
    from hexapod.schedule.standing import Standing
    from hexapod.schedule.states import Late, State


def known_float(minutes: int) -> int | None:
    """A float from the arrays, where FOREVER stands for none: what is done cannot be late any more."""
    return None if minutes >= FOREVER else minutes


class TaskDates(NamedTuple):
    """Times in minutes, floats in working minutes. A summary has its span and its least floats.

    ``start`` and ``finish`` are where the task is put: its early dates, or its late ones in a project that is
    scheduled back from its finish. What is done has no float.
    """

    start: int
    finish: int
    early_start: int
    early_finish: int
    late_start: int
    late_finish: int
    total_float: int | None
    free_float: int | None
    critical: bool
    longest_path: bool
    duration: int


@dataclass(frozen=True)
class Dates:
    """The dates of tasks, as arrays by slot; ``slots`` finds a task's. Computed (``Schedule``) or remembered."""

    slots: Mapping[str, int]
    start: Ints
    finish: Ints
    early_start: Ints
    early_finish: Ints
    late_start: Ints
    late_finish: Ints
    total_float: Ints
    free_float: Ints
    critical: Ints
    longest_path: Ints
    duration: Ints
    project_start: Mapping[str, int]
    project_finish: Mapping[str, int | None]

    def dates(self, task_id: str) -> TaskDates:
        i = self.slots[task_id]
        return TaskDates(
            int(self.start[i]),
            int(self.finish[i]),
            int(self.early_start[i]),
            int(self.early_finish[i]),
            int(self.late_start[i]),
            int(self.late_finish[i]),
            known_float(int(self.total_float[i])),
            known_float(int(self.free_float[i])),
            bool(self.critical[i]),
            bool(self.longest_path[i]),
            int(self.duration[i]),
        )

    def has(self, task_id: str) -> bool:
        """False for a task that is not in the plan that these dates are of."""
        return task_id in self.slots

    @property
    def last_finish(self) -> int | None:
        """The latest finish of all projects."""
        return max((f for f in self.project_finish.values() if f is not None), default=None)


@dataclass(frozen=True)
class StoredDates(Dates):
    """Dates that a file remembered, to paint from: nobody knows yet what they rest on."""


@dataclass(frozen=True)
class Schedule(Dates):
    """Dates computed from a plan, and what they rest on.

    ``free_start`` is a task's early start before its levelling hold, ``cause`` what it rests on. By arc of the network:
    ``driving`` marks those that hold their task where it is, ``lag`` is in minutes, percentages worked out, ``kept``
    the gap that a link goes on to keep. ``start_from`` is the limit on each start; after an edit it may have moved
    along.
    """

    network: Network
    passed: Passed

    @property
    def free_start(self) -> Ints:
        return self.passed.early.free_start

    @property
    def driving(self) -> Ints:
        return self.passed.early.driving

    @property
    def cause(self) -> Ints:
        return self.passed.early.cause

    @property
    def lag(self) -> Ints:
        return self.passed.early.lag

    @property
    def kept(self) -> Ints:
        return self.passed.early.kept

    @property
    def start_from(self) -> Ints:
        return self.passed.early.start_from

    @cached_property
    def planned(self) -> Planned:
        """Where tasks would lie without the status dates of their projects."""
        from hexapod.schedule.planned import planned_of

        return planned_of(self.network, self.start, self.finish)

    @cached_property
    def standing(self) -> Standing:
        """How far tasks are, and whether they are late."""
        from hexapod.schedule.standing import standing_of

        return standing_of(self)

    def shown(self) -> Schedule:
        """This schedule, with what a window shows of every row worked out, so that no frame has to wait for it."""
        _ = self.standing, self.network.percents
        return self

    def done_until(self, task_id: str) -> tuple[int, int]:
        """Of a begun task up to when it is as it was told, and from when its rest is worked: the same moment where
        nothing holds it back, pauses of its calendar aside."""
        from hexapod.worktime.arithmetic import advance, worked

        slot, tasks = self.slots[task_id], self.network.tasks
        pool, calendar = self.network.timing.pool, int(tasks.calendar[slot])
        until = int(tasks.rest_from[slot])
        if until == NEVER:
            done = max(0, int(tasks.duration[slot] - tasks.rest[slot]))
            until = int(advance(pool, calendar, int(tasks.actual_start[slot]), done))
        rest = int(self.free_start[slot])
        return until, rest if worked(pool, calendar, rest) > worked(pool, calendar, until) else until

    @cached_property
    def drifts(self) -> Mapping[str, Drift]:
        """By how much tasks have drifted from the reference baseline of their project, where they are in it."""
        from hexapod.schedule.drifting import reference_drifts

        return reference_drifts(self)

    @cached_property
    def baseline_rows(self) -> Mapping[str, BaselineTask]:
        """How tasks were planned in the reference baseline of their project."""
        from hexapod.schedule.drifting import reference_of

        chosen = (reference_of(self.plan, project) for project in self.plan.projects)
        return {row.task: row for baseline in chosen if baseline is not None for row in baseline.tasks}

    def state_of(self, task_id: str) -> State:
        from hexapod.schedule.states import STATES

        return STATES[int(self.standing.state[self.slots[task_id]])]

    def late_of(self, task_id: str) -> tuple[Late, int] | None:
        """In what way a task is late and by how many working minutes; None for one that is not."""
        from hexapod.schedule.states import LATES

        slot, standing = self.slots[task_id], self.standing
        return (LATES[int(standing.late[slot])], int(standing.late_by[slot])) if standing.late[slot] >= 0 else None

    def has(self, task_id: str) -> bool:
        slot = self.slots.get(task_id)
        return slot is not None and bool(self.network.tasks.alive[slot])

    @property
    def plan(self) -> Plan:
        """What these are the dates of."""
        return self.network.plan

    def remembered(self) -> StoredDates:
        """The dates alone, for a plan that can have none of its own just now."""
        return StoredDates(*(getattr(self, field.name) for field in fields(Dates)))


NO_DATES = StoredDates({}, *(np.zeros(0, dtype=np.int64),) * 11, project_start={}, project_finish={})


def computed_dates(dates: Dates) -> Schedule | None:
    """The dates, where they were computed; None where they were only remembered."""
    return dates if isinstance(dates, Schedule) else None


def finishes_without(schedule: Schedule, series: Collection[str]) -> dict[str, int]:
    """When each project would finish without its recurring work; its target where nothing else is in it."""
    network = schedule.network
    plan = network.plan
    apart = {c for task_id in series for c in plan.branch(task_id)}
    slots = network.slots.of_tasks(apart)
    counted = network.structure.leaf.copy()
    counted[slots] = 0
    found = {}
    for i, project_id in enumerate(network.projects):
        project = plan.projects[project_id]
        mine = np.flatnonzero(counted * (network.tasks.project == i))
        if len(mine):
            found[project_id] = int(schedule.finish[mine].max())
        elif project.target_finish is not None:
            found[project_id] = project.target_finish
    return found


def driving_links(schedule: Schedule) -> NDArray[np.bool_]:
    """By link slot, whether the link holds its successor where it is."""
    network = schedule.network
    holding = network.structure.link[schedule.driving == 1]
    found = np.zeros(len(network.links.alive), dtype=bool)
    found[holding[holding >= 0]] = True
    return found
