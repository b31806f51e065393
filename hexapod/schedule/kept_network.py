"""The columns of a network without its plan: written beside the plan when a workspace is closed, so that a large one
need not be made from its records again.

What follows quickly from the columns, such as the order of the nodes and the compiled calendars, is made anew.
"""

from __future__ import annotations

from collections.abc import Sequence
from typing import TYPE_CHECKING, NamedTuple

import msgspec
import numpy as np

from hexapod.plan.plan import Plan
from hexapod.plan.records import LinkType
from hexapod.schedule.arrays import LINK_TYPES, LinkArrays, Slots, TaskArrays, longer
from hexapod.worktime.calendars import Ints, Window

if TYPE_CHECKING:
    from hexapod.schedule.network import Network

Column = int | bytes  # one value for all, or int64 each, little endian
_TYPES = tuple(LinkType(name) for name in LINK_TYPES)


class KeptNetwork(msgspec.Struct, frozen=True):
    """``tasks`` are by slot, all of them in use; ``sets`` and ``crews`` are the calendars that the columns number."""

    tasks: list[str]
    links: int
    projects: list[str]
    window: tuple[int, int]
    sets: list[tuple[str, ...]]
    crews: list[tuple[tuple[str, ...], ...]]
    task_columns: list[Column]
    link_columns: list[Column]


class _Shape(NamedTuple):
    """The slots that are in use, in the order in which they are kept."""

    tasks: Ints
    links: Ints


def kept_of(network: Network) -> KeptNetwork:
    """The columns of a network, its tasks in topological order, without slots and calendars that nobody uses."""
    from hexapod.schedule.network import renumbering, sets_of_owners

    shape = _shape(network)
    number = np.full(network.size, -1, dtype=np.int64)
    number[shape.tasks] = np.arange(len(shape.tasks))
    tasks = TaskArrays(*(column[shape.tasks] for column in network.tasks))
    tasks = tasks._replace(parent=np.where(tasks.parent >= 0, number[tasks.parent], -1))
    links = LinkArrays(*(column[shape.links] for column in network.links))
    links = links._replace(predecessor=number[links.predecessor], successor=number[links.successor])
    timing = network.timing
    sets, crews = list(timing.index), list(timing.crews)
    used_crews = sorted({(), *(crews[i] for i in np.unique(tasks.crew).tolist())})
    used = {sets[i] for i in np.unique(tasks.calendar).tolist()} | sets_of_owners(network.plan)
    used_sets = sorted(used | {chosen for crew in used_crews for chosen in crew})
    tasks = tasks._replace(
        calendar=renumbering(timing.index, {s: i for i, s in enumerate(used_sets)})[tasks.calendar],
        crew=renumbering(timing.crews, {c: i for i, c in enumerate(used_crews)})[tasks.crew],
    )
    names = network.slots.tasks
    return KeptNetwork(
        [names[i] for i in shape.tasks.tolist()],
        len(shape.links),
        list(network.projects),
        (timing.window.first_day, timing.window.last_day),
        used_sets,
        used_crews,
        [_packed(column) for column in tasks],
        [_packed(column) for column in links],
    )


def network_of(plan: Plan, kept: KeptNetwork) -> Network | None:
    """The network of a plan by its kept columns; None where they are not those of the plan."""
    from hexapod.schedule.network import Network
    from hexapod.schedule.structure import Structure
    from hexapod.schedule.timing import CalendarBook, Timing

    count = len(kept.tasks)
    if count != len(plan.tasks) or kept.links != len(plan.links) or set(kept.projects) != set(plan.projects):
        return None
    tasks = _unpacked(kept.task_columns, count, len(TaskArrays._fields))
    links = _unpacked(kept.link_columns, kept.links, len(LinkArrays._fields))
    if tasks is None or links is None:
        return None
    task_arrays, link_arrays = TaskArrays(*tasks), LinkArrays(*links)
    ends = (map(kept.tasks.__getitem__, column.tolist()) for column in (link_arrays.predecessor, link_arrays.successor))
    keys = zip(*ends, map(_TYPES.__getitem__, link_arrays.type.tolist()), strict=True)
    slots = Slots.of(kept.tasks, keys, with_spare=True)
    if len(slots.of_task) != count or not all(map(plan.tasks.__contains__, kept.tasks)):
        return None
    timing = Timing.in_order(CalendarBook(plan), kept.sets, kept.crews, Window(*kept.window))
    task_arrays = TaskArrays(*(longer(column, len(slots.tasks)) for column in task_arrays))
    link_arrays = LinkArrays(*(longer(column, len(slots.links)) for column in link_arrays))
    structure = Structure.of(task_arrays, link_arrays, slots, plan)
    return Network.made(plan, slots, task_arrays, link_arrays, tuple(kept.projects), timing, structure)


def _shape(network: Network) -> _Shape:
    order = network.structure.order
    first = order[order < network.size]
    first = first[network.tasks.alive[first] == 1]
    there = np.flatnonzero(network.tasks.alive == 1)
    rest = np.setdiff1d(there, first)
    return _Shape(np.concatenate((first, rest)), np.flatnonzero(network.links.alive == 1))


def _packed(column: Ints) -> Column:
    if len(column) and (column == column[0]).all():
        return int(column[0])
    return column.astype("<i8").tobytes()


def _unpacked(columns: Sequence[Column], count: int, wanted: int) -> list[Ints] | None:
    if len(columns) != wanted or any(isinstance(c, bytes) and len(c) != 8 * count for c in columns):
        return None
    return [
        np.frombuffer(c, dtype="<i8").astype(np.int64) if isinstance(c, bytes) else np.full(count, c, dtype=np.int64)
        for c in columns
    ]
