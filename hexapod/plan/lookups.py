"""The look-ups of a plan, made of all its records at once."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Callable, Iterable, Mapping
from itertools import groupby
from operator import attrgetter
from typing import Any

from immutables import Map

from hexapod.plan.accounts import WeekKey
from hexapod.plan.kinds import KIND_OF, KINDS
from hexapod.plan.records import Assignment, Link, LinkKey, Record, Task

Place = tuple[str, str | None]  # project, parent task or None for the top level
# What a large plan is read without at first.
LATER = ("links", "assignments", "logs", "sheets", "entries", "baselines", "risks")

_PLACE = attrgetter("project", "parent", "rank", "id")  # of a task, read at once


def by_kind(records: Iterable[Record]) -> dict[str, dict[Any, Any]]:
    kinds: dict[str, dict[Any, Any]] = {kind: {} for kind in KINDS}
    for kind, found in groupby(records, type):
        of_kind = list(found)
        keys = map(_KEYS.get(kind) or attrgetter("id" if hasattr(kind, "id") else "key"), of_kind)
        kinds[KIND_OF[kind]].update(zip(keys, of_kind, strict=True))
    return kinds


# The quick way to the keys of the kinds that have many records and no id.
_KEYS: dict[type[Record], Callable[[Any], Any]] = {
    Link: attrgetter("predecessor", "successor", "type._value_"),
    Assignment: attrgetter("task", "resource"),
}


def outline_lookups(
    kinds: Mapping[str, Mapping[Any, Any]], children: Mapping[Place, tuple[str, ...]] | None
) -> dict[str, Map[Any, Any]]:
    """All but links and assignments, with the look-ups of it."""
    return {
        **{kind: Map(found) for kind, found in kinds.items() if kind not in LATER},
        "children": Map(_children(kinds["tasks"].values()) if children is None else children),
        "comments_on": _by_task(kinds["comments"].values()),
        "delivers": _by_task(kinds["deliverables"].values()),
        "series": Map({task.id: None for task in kinds["tasks"].values() if task.repeats}),
    }


def _by_task(records: Iterable[Any]) -> Map[str, tuple[str, ...]]:
    """The ids of records by the task that they are of."""
    found: defaultdict[str, list[str]] = defaultdict(list)
    for record in records:
        found[record.task].append(record.id)
    return Map({task_id: tuple(sorted(ids)) for task_id, ids in found.items()})


def _children(tasks: Iterable[Task]) -> dict[Place, tuple[str, ...]]:
    found: defaultdict[Place, list[tuple[str, str]]] = defaultdict(list)
    for project, parent, rank, task_id in map(_PLACE, tasks):
        found[project, parent].append((rank, task_id))
    return {place: tuple([task_id for _, task_id in sorted(ranked)]) for place, ranked in found.items()}


def related_lookups(kinds: Mapping[str, Mapping[Any, Any]]) -> dict[str, Map[Any, Any]]:
    """What is read later, with its look-ups."""
    links_at: defaultdict[str, list[LinkKey]] = defaultdict(list)
    for key in kinds["links"]:
        predecessor, successor, _ = key
        links_at[predecessor].append(key)
        links_at[successor].append(key)
    for keys in links_at.values():
        keys.sort()
    assigned: dict[str, list[str]] = {}
    used_by: dict[str, dict[str, None]] = {}
    for task_id, resource_id in kinds["assignments"]:
        assigned.setdefault(task_id, []).append(resource_id)
        used_by.setdefault(resource_id, {})[task_id] = None
    logs_on: defaultdict[str, list[str]] = defaultdict(list)
    logs_in: defaultdict[WeekKey, list[str]] = defaultdict(list)
    for log_id in sorted(kinds["logs"]):
        log = kinds["logs"][log_id]
        logs_on[log.task].append(log_id)
        logs_in[log.week].append(log_id)
    return {
        **{kind: Map(kinds[kind]) for kind in LATER},
        "links_at": Map(zip(links_at, map(tuple, links_at.values()), strict=True)),
        "assigned": Map({task_id: tuple(sorted(keys)) for task_id, keys in assigned.items()}),
        "used_by": Map({resource_id: Map(found) for resource_id, found in used_by.items()}),
        "logs_on": Map({task_id: tuple(found) for task_id, found in logs_on.items()}),
        "logs_in": Map({week: tuple(found) for week, found in logs_in.items()}),
        "sheet_of": Map({(s.resource, s.week): s.id for s in kinds["sheets"].values()}),
    }
