"""A quick look at all records of a kind at once: whether any of them can break a rule at all.

Most plans are sound, and then nothing needs to be looked at one by one. Each look is stricter than the rule behind it:
where it fails, the rules of ``validity`` say of each record what is wrong, if anything.
"""

from __future__ import annotations

import math
from collections.abc import Callable, Iterable
from operator import attrgetter, eq
from typing import Any

from hexapod.plan.bounds import (
    FIRST_TIME,
    LAST_TIME,
    LEAST_UNITS,
    LONGEST,
    LONGEST_NAME,
    LONGEST_TEXT,
    MOST_PERCENT,
    MOST_UNITS,
    MOST_WORKED,
)
from hexapod.plan.in_memory import in_memory_order
from hexapod.plan.kinds import BUILT_IN_CALENDARS, Kind
from hexapod.plan.plan import Plan
from hexapod.plan.priorities import FIRST, LAST
from hexapod.plan.records import DAY, DEEPEST, Assignment, Task
from hexapod.plan.telling import progress_trouble


def looks_sound(plan: Plan, kind: str) -> bool:
    """False where a record of the kind has to be looked at by itself."""
    look = _LOOKS.get(kind)
    return look is not None and look(plan)


def is_complete(plan: Plan, kind: Kind) -> bool:
    """Whether all that the records of a kind refer to is there: looked at all at once, in a look-up if one has it."""
    records = getattr(plan, kind.name).values()
    for field, of, _ in kind.references:
        look_up = _NAMED.get((kind.name, field))
        named: set[Any] = set(look_up(plan) if look_up else map(attrgetter(field), records))
        for several in [each for each in named if isinstance(each, tuple)]:
            named.discard(several)
            named.update(several)
        known = getattr(plan, of)
        named.difference_update((None,), BUILT_IN_CALENDARS if of == "calendars" else ())
        if not all(key in known for key in named):
            return False
    return True


# What the records of a kind name in a field, from the look-ups.
_NAMED: dict[tuple[str, str], Callable[[Plan], Iterable[str | None]]] = {
    ("tasks", "project"): lambda plan: (project for project, _ in plan.children),
    ("tasks", "parent"): lambda plan: (parent for _, parent in plan.children),
    ("links", "predecessor"): lambda plan: plan.links_at,
    ("links", "successor"): lambda plan: plan.links_at,
    ("assignments", "task"): lambda plan: plan.assigned,
    ("assignments", "resource"): lambda plan: plan.used_by,
}


def _tasks(plan: Plan) -> bool:
    _, tasks = in_memory_order(plan.tasks)
    if not tasks:
        return True
    get = _Column(tasks)
    return (
        get.longest("name") <= LONGEST_NAME
        and get.longest("notes") <= LONGEST_TEXT
        and get.within("minutes", 0, LONGEST)
        and get.within("hold", 0, LONGEST)
        and set(map(attrgetter("priority"), tasks)) <= set(range(FIRST, LAST + 1))
        and get.within("percent", 0, 100)
        and all(_is_untold(t) or progress_trouble(t) is None for t in tasks)
        and set(map(_SELDOM, tasks)) == {_SAID_NOTHING}
        and _all_hang_together(plan)
    )


_SELDOM = attrgetter(
    "reminders", "limits", "tags", "fields", "attachments", "repeats", "occurrence", "effort", "target", "weight",
    "estimate",
)  # fmt: skip
_SAID_NOTHING = _SELDOM(Task("", "", "", ""))


def _is_untold(t: Task) -> bool:
    return t.actual_start is t.actual_finish is t.remaining is t.as_of is None


def _all_hang_together(plan: Plan) -> bool:
    """Whether every task is reached from the top of its project, not too deep: so none lies below itself."""
    reached = 0
    for project in plan.projects:
        level: Iterable[str] = plan.children_of(project, None)
        depth = 0
        while level:
            level = list(level)
            reached += len(level)
            if depth > DEEPEST:
                return False
            level = [child for task in level for child in plan.children.get((project, task), ())]
            depth += 1
    return reached == len(plan.tasks)


def _links(plan: Plan) -> bool:
    _, links = in_memory_order(plan.links)
    get = _Column(links)
    return not links or (
        not any(map(eq, map(attrgetter("predecessor"), links), map(attrgetter("successor"), links)))
        and not any(task in plan.links_at for _, task in plan.children)  # none is of a summary
        and get.within("lag", -LONGEST, LONGEST)
        and get.within("lag_percent", -MOST_PERCENT, MOST_PERCENT)
        and get.within("gap_kept", 0, LONGEST)
        and not any(lag and percent for lag, percent in set(map(attrgetter("lag", "lag_percent"), links)))
    )


def _assignments(plan: Plan) -> bool:
    found: list[Assignment] = list(plan.assignments.values())
    return not found or (
        _Column(found).within("units", LEAST_UNITS, MOST_UNITS)
        and all(a.hours_a_day is None and a.total is None for a in found)
        and all(a.first_day is None and a.last_day is None for a in found)
    )


def _logs(plan: Plan) -> bool:
    _, found = in_memory_order(plan.logs)
    get = _Column(found)
    return not found or (
        get.within("minutes", -MOST_WORKED, MOST_WORKED)
        and all(log.minutes for log in found)
        and get.within("day", FIRST_TIME // DAY, LAST_TIME // DAY)
        and get.longest("note") <= LONGEST_TEXT
        and all(log.percent is None and log.remaining is None for log in found)
    )


class _Column:
    """A field of many records."""

    def __init__(self, records: list[Any]) -> None:
        self._records = records

    def within(self, field: str, least: float, most: float) -> bool:
        values = set(map(attrgetter(field), self._records))
        return all(math.isfinite(v) and least <= v <= most for v in values)

    def longest(self, field: str) -> int:
        return max(map(len, map(attrgetter(field), self._records)))


_LOOKS: dict[str, Callable[[Plan], bool]] = {
    "tasks": _tasks,
    "links": _links,
    "assignments": _assignments,
    "logs": _logs,
}
