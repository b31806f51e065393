"""Demand, overloads and conflicts of the dates; in a large plan they are counted beside the interface."""

from __future__ import annotations

from functools import cached_property
from typing import TYPE_CHECKING

import numpy as np
from numpy.typing import NDArray

from hexapod.desktop.models.background import in_background
from hexapod.plan.plan import Plan
from hexapod.plan.records import Link, LinkKey
from hexapod.schedule.schedule import Schedule, driving_links
from hexapod.worktime.calendars import Ints

if TYPE_CHECKING:
    from hexapod.desktop.models.desk import Desk
    from hexapod.schedule.conflicts import Conflict
    from hexapod.staffing.overloads import Overloads

COUNTED_AT_ONCE = 4000  # tasks whose load is counted within a frame or two
GHOST_LOAD_UP_TO = 1000  # tasks


class Counts:
    """What is counted of a desk's schedule, each once."""

    def __init__(self, desk: Desk) -> None:
        self._desk = desk
        self._load: Load | None = None
        self._ghost_load: Load | None = None
        self._counting: Schedule | None = None  # whose load is being counted
        self._driving: NDArray[np.bool_] = np.zeros(0, dtype=bool)
        self._driving_of: Schedule | None = None

    def load(self) -> Load | None:
        """Of the present dates; in a large plan, until they are counted, of those before the last edit."""
        desk = self._desk
        if self._load is None or self._load.schedule is not desk.schedule:
            if len(desk.plan.tasks) <= COUNTED_AT_ONCE:
                self._load = Load(desk.worked_out, desk.plan, self._load)
            elif self._counting is not desk.schedule:
                self._count()
        return self._load

    def _count(self) -> None:
        desk, before = self._desk, self._load
        schedule, plan = desk.worked_out, desk.plan
        self._counting = schedule

        def show(found: object) -> None:
            if self._counting is schedule:
                self._counting, self._load = None, found  # type: ignore[assignment]
                desk.load_changed.emit()

        def failed(error: Exception) -> None:
            self._counting = None
            desk.told.emit(str(error), "trouble", False)

        in_background(desk, lambda: Load(schedule, plan, before).counted(), show, failed)

    def load_of(self, ghost: Schedule) -> Load | None:
        if len(ghost.plan.tasks) > GHOST_LOAD_UP_TO:
            return None
        if self._ghost_load is None or self._ghost_load.schedule is not ghost:
            self._ghost_load = Load(ghost, ghost.plan, None)
        return self._ghost_load

    def is_driving(self, link: Link) -> bool:
        schedule = self._desk.schedule
        if not (schedule.has(link.predecessor) and schedule.has(link.successor)):
            return False
        before, after = schedule.slots[link.predecessor], schedule.slots[link.successor]
        if not (schedule.critical[before] and schedule.critical[after]):
            return False
        if not isinstance(schedule, Schedule):
            return True
        if self._driving_of is not schedule:
            self._driving, self._driving_of = driving_links(schedule), schedule
        return bool(self._driving[schedule.network.slots.of_link[link.key]])


class Load:
    """Demand, overloads and conflicts of one schedule."""

    def __init__(self, schedule: Schedule, plan: Plan, before: Load | None) -> None:
        from hexapod.staffing.demand import Demand

        self.schedule = schedule
        self.demand = Demand.of(schedule, plan, before.demand if before else None)
        self._before = (before.schedule, before.overloads) if before and before.demand is self.demand else None

    def counted(self) -> Load:
        """With all that views ask for, so that none of it is left to the interface."""
        assert self.overloads is not None and self.conflicts is not None
        assert self.in_conflict is not None and self.broken_links is not None
        return self

    @cached_property
    def independent(self) -> Ints:
        """Independent float by slot."""
        from hexapod.schedule.slack import independent_floats

        return independent_floats(self.schedule)

    @cached_property
    def conflicts(self) -> list[Conflict]:
        from hexapod.schedule.conflicts import conflicts

        return conflicts(self.schedule)

    @cached_property
    def in_conflict(self) -> set[str]:
        return {c.task for c in self.conflicts}

    @cached_property
    def broken_links(self) -> set[LinkKey]:
        return {c.link.key for c in self.conflicts if c.link is not None}

    @cached_property
    def overloads(self) -> Overloads:
        """Of resources none of whose tasks moved they are those of before."""
        from hexapod.staffing.overloads import overloads, overloads_again

        before, self._before = self._before, None
        if before is None:
            return overloads(self.schedule, self.demand)
        return overloads_again(self.schedule, self.demand, *before)
