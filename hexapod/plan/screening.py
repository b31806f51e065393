"""A quick look at all records of a kind at once, for those that can break a rule at all.

Most plans are sound, and then few records need to be looked at one by one. Each look is stricter than the rule behind
it: the rules of ``validity`` say of the records that it leaves what is wrong with them, if anything.
"""

from __future__ import annotations

import math
from collections.abc import Callable, Iterable, Sequence
from operator import attrgetter, eq
from typing import Any

from hexapod.plan.accounts import Log
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
from hexapod.plan.in_memory import values_of
from hexapod.plan.kinds import BUILT_IN_CALENDARS, Kind
from hexapod.plan.plan import Plan
from hexapod.plan.priorities import FIRST, LAST
from hexapod.plan.records import DAY, DEEPEST, Assignment, Link, Task
from hexapod.plan.telling import progress_trouble


def suspects(plan: Plan, kind: str, records: Sequence[Any]) -> Sequence[Any]:
    """Of all records of a kind those that have to be looked at one by one."""
    look = _LOOKS.get(kind)
    return records if look is None or not records else look(plan, records)


def is_complete(plan: Plan, kind: Kind, records: Sequence[Any]) -> bool:
    """Whether all that the records of a kind refer to is there: looked at all at once, in a look-up if one has it."""
    for field, of, _ in kind.references:
        look_up = _NAMED.get((kind.name, field))
        named = look_up(plan) if look_up else _named(records, field, BUILT_IN_CALENDARS if of == "calendars" else ())
        if not all(map(getattr(plan, of).__contains__, named)):
            return False
    return True


def _named(records: Sequence[Any], field: str, but: Iterable[str]) -> set[Any]:
    """What records name in a field, which holds one key, or several, or None."""
    found: set[Any] = set(values_of(records, field))
    for several in [each for each in found if isinstance(each, tuple)]:
        found.discard(several)
        found.update(several)
    return found.difference((None,), but)


# What the records of a kind name in a field, from the look-ups.
_NAMED: dict[tuple[str, str], Callable[[Plan], Iterable[str]]] = {
    ("tasks", "project"): lambda plan: {project for project, _ in plan.children},
    ("tasks", "parent"): lambda plan: (parent for _, parent in plan.children if parent is not None),
    ("links", "predecessor"): lambda plan: plan.links_at,
    ("links", "successor"): lambda plan: (),  # they are with the predecessors
    ("assignments", "task"): lambda plan: plan.assigned,
    ("assignments", "resource"): lambda plan: plan.used_by,
}


def _tasks(plan: Plan, tasks: Sequence[Task]) -> Sequence[Task]:
    are_usual = (
        _longest(tasks, "name") <= LONGEST_NAME
        and _longest(tasks, "notes") <= LONGEST_TEXT
        and _within(tasks, "minutes", 0, LONGEST)
        and _within(tasks, "hold", 0, LONGEST)
        and set(values_of(tasks, "priority")) <= set(range(FIRST, LAST + 1))
        and _within(tasks, "percent", 0, 100)
        and _all_hang_together(plan)
    )
    if not are_usual:
        return tasks
    return [
        t
        for t, seldom in zip(tasks, map(_SELDOM, tasks), strict=True)
        if seldom != _SAID_NOTHING or not (_is_untold(t) or progress_trouble(t) is None)
    ]


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


def _links(plan: Plan, links: Sequence[Link]) -> Sequence[Link]:
    are_usual = (
        not any(map(eq, values_of(links, "predecessor"), values_of(links, "successor")))
        and _within(links, "lag", -LONGEST, LONGEST)
        and _within(links, "lag_percent", -MOST_PERCENT, MOST_PERCENT)
        and _within(links, "gap_kept", 0, LONGEST)
        and not any(lag and percent for lag, percent in set(map(attrgetter("lag", "lag_percent"), links)))
    )
    if not are_usual:
        return links
    summaries = {task for _, task in plan.children if task in plan.links_at}
    return [x for x in links if x.predecessor in summaries or x.successor in summaries] if summaries else ()


def _assignments(plan: Plan, assignments: Sequence[Assignment]) -> Sequence[Assignment]:
    if not _within(assignments, "units", LEAST_UNITS, MOST_UNITS):
        return assignments
    usual = (None, None, None, None)
    seldom = map(attrgetter("hours_a_day", "total", "first_day", "last_day"), assignments)
    return [a for a, said in zip(assignments, seldom, strict=True) if said != usual]


def _logs(plan: Plan, logs: Sequence[Log]) -> Sequence[Log]:
    are_usual = (
        _within(logs, "minutes", -MOST_WORKED, MOST_WORKED)
        and all(values_of(logs, "minutes"))
        and _within(logs, "day", FIRST_TIME // DAY, LAST_TIME // DAY)
        and _longest(logs, "note") <= LONGEST_TEXT
    )
    if not are_usual:
        return logs
    return [log for log in logs if log.percent is not None or log.remaining is not None]


def _within(records: Sequence[Any], field: str, least: float, most: float) -> bool:
    return all(math.isfinite(v) and least <= v <= most for v in set(values_of(records, field)))


def _longest(records: Sequence[Any], field: str) -> int:
    return max(map(len, values_of(records, field)))


_LOOKS: dict[str, Callable[[Plan, Any], Sequence[Any]]] = {
    "tasks": _tasks,
    "links": _links,
    "assignments": _assignments,
    "logs": _logs,
}
