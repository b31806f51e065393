"""The first reason for the start of every task, by columns: most tasks wait for a link, or begin with their project."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np
from numpy.typing import NDArray

from hexapod.plan.records import Direction, Link
from hexapod.schedule.codes import BY_BASE, BY_LATENESS, BY_LINK, CLOSE
from hexapod.schedule.reasons import Reason, ReasonKind, base_kind, reason_of
from hexapod.schedule.schedule import Schedule


def all_reasons(schedule: Schedule, tasks: Sequence[str]) -> list[Reason]:
    """As ``reason_of`` says of each. ``tasks`` are all of the plan, in the order of the outline."""
    network = schedule.network
    slots = network.slots.of_tasks(tasks)
    by_link, by_project = _usual(schedule)
    links = _first_drivers(schedule)
    first = _first_leaves(schedule, tasks, slots)
    kind_of_project = [base_kind(network.plan.projects[p]) for p in network.projects]
    found: list[Reason] = []
    rows = zip(
        tasks, slots.tolist(), schedule.start[slots].tolist(), network.tasks.project[slots].tolist(),
        by_link[slots].tolist(), by_project[slots].tolist(), strict=True,
    )  # fmt: skip
    for task_id, slot, at, project, waits, begins in rows:
        if waits and slot in links:
            found.append(Reason(task_id, ReasonKind.LINK, at, links[slot]))
        elif begins:
            found.append(Reason(task_id, kind_of_project[project], at))
        elif task_id in first:
            found.append(Reason(task_id, ReasonKind.FIRST_OF, at, child=first[task_id]))
        else:
            found.append(reason_of(schedule, task_id))
    return found


def _usual(schedule: Schedule) -> tuple[NDArray[np.bool_], NDArray[np.bool_]]:
    """By task slot, whether nothing but a link, or nothing but its project, can be why the task starts when it does.

    It is a leaf, no hold moves it, it is not placed late, and nobody works on it who has hours of their own.
    """
    network, tasks, cause = schedule.network, schedule.network.tasks, schedule.cause[: schedule.network.size]
    is_one_calendar = np.array([len(chosen) == 1 for chosen in network.timing.index])
    backward = [network.plan.projects[p].direction is Direction.BACKWARD for p in network.projects]
    usual = (network.structure.leaf == 1) & (tasks.hold == 0) & (tasks.crew == 0) & (cause != BY_LATENESS)
    usual &= is_one_calendar[tasks.calendar]
    if any(backward):
        usual &= ~np.array(backward)[tasks.project]
    return usual & (cause == BY_LINK), usual & (cause == BY_BASE)


def _first_drivers(schedule: Schedule) -> dict[int, Link]:
    """By task slot the driving link into the task itself; that with the first key where there are several."""
    network, shape = schedule.network, schedule.network.structure
    arcs = np.flatnonzero((schedule.driving == 1) & (shape.kind != CLOSE) & (shape.link >= 0))
    keys, links = network.slots.links, network.plan.links
    found: dict[int, Link] = {}
    for slot, link in zip(shape.head[arcs].tolist(), shape.link[arcs].tolist(), strict=True):
        key = keys[link]
        if slot not in found or key < found[slot].key:
            found[slot] = links[key]
    return found


def _first_leaves(schedule: Schedule, tasks: Sequence[str], slots: NDArray[np.int64]) -> dict[str, str]:
    """By summary the leaf of its branch that starts first; the upper one where several do."""
    network = schedule.network
    parents = network.tasks.parent
    best: dict[int, tuple[int, str]] = {}
    leaf = network.structure.leaf
    # from below, so that what is in a branch is known when its summary comes, and the upper of equals stays
    rows = (column[slots[::-1]].tolist() for column in (leaf, parents, schedule.start))
    for task_id, slot, is_leaf, parent, start in zip(reversed(tasks), slots[::-1].tolist(), *rows, strict=True):
        mine = (start, task_id) if is_leaf else best[slot]
        if parent >= 0 and (parent not in best or mine[0] <= best[parent][0]):
            best[parent] = mine
    return {network.slots.tasks[slot]: name for slot, (_, name) in best.items()}
