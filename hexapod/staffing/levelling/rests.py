"""The network as levelling places it: what is done is out of the way, and of what is begun only the rest is there.

Actual dates are facts, so what they ask of others is worked out once and stands with those as a date not before. The
rest of begun work is an ordinary task that may not be moved: as long as the rest is, and not before the rest begins.
"""

from __future__ import annotations

from dataclasses import replace

import numpy as np
from numpy.typing import NDArray

from hexapod.schedule.codes import DONE, FF, FS, NOT_BEGUN, SF, SS, WARN
from hexapod.schedule.network import Network
from hexapod.schedule.schedule import Schedule
from hexapod.schedule.slack import powerless_arcs
from hexapod.worktime.arithmetic import shifted
from hexapod.worktime.calendars import Ints


def of_rests(free: Schedule, lags: Ints) -> Network:
    """The network of a schedule with rests in place of what is begun; ``lags`` by arc. The same where nothing is."""
    network = free.network
    tasks, shape = network.tasks, network.structure
    leaf = shape.leaf[: network.size] == 1
    is_done = leaf & (tasks.progress == DONE)
    is_begun = leaf & (tasks.progress != NOT_BEGUN) & ~is_done
    if not is_done.any() and not is_begun.any():
        return network
    ahead = leaf & ~is_done
    begin = int(np.where(is_begun, free.free_start, tasks.base)[ahead].min()) if ahead.any() else 0
    base = np.where(is_begun, free.free_start, tasks.base)
    base = np.where(is_done, np.maximum(tasks.actual_finish, begin), base)
    start_from, finish_from = tasks.start_from.copy(), tasks.finish_from.copy()
    kinds = shape.kind.copy()
    for arc in _facts(network, is_done, is_begun).tolist():
        _put_fact(free, lags, arc, start_from, finish_from)
        kinds[arc] = WARN
    kinds[powerless_arcs(network)] = WARN
    return replace(
        network,
        tasks=tasks._replace(
            base=base,
            start_from=start_from,
            finish_from=finish_from,
            duration=np.where(is_begun, tasks.rest, np.where(is_done, 0, tasks.duration)),
            span=np.where(is_begun | is_done, 0, tasks.span),
        ),
        structure=replace(shape, kind=kinds),
    )


def _facts(network: Network, is_done: NDArray[np.bool_], is_begun: NDArray[np.bool_]) -> Ints:
    """Links that lead on from an actual date: from what is done, from the start of what is begun, or from the start of
    a summary of which something is begun."""
    shape, n = network.structure, network.size
    done = np.concatenate((is_done, np.zeros(n, dtype=bool)))
    begun = np.concatenate((is_done | is_begun, np.zeros(n, dtype=bool)))
    for node in range(n, 2 * n):
        sources = shape.source[shape.into[node] : shape.into[node + 1]]
        begun[node] = len(sources) > 0 and bool(begun[sources].any())
    by_start = (shape.kind == SS) | (shape.kind == SF)
    by_finish = (shape.kind == FS) | (shape.kind == FF)
    return np.flatnonzero((by_start & begun[shape.source]) | (by_finish & done[shape.source]))


def _put_fact(free: Schedule, lags: Ints, arc: int, start_from: Ints, finish_from: Ints) -> None:
    """Write what an arc from an actual date asks of its successor, of a summary of all below it, into their bounds."""
    network = free.network
    shape, tasks, n = network.structure, network.tasks, network.size
    source, head, kind = int(shape.source[arc]) % n, int(shape.head[arc]), int(shape.kind[arc])
    moment = free.early_finish[source] if kind in (FS, FF) else free.early_start[source]
    counted = int(network.arcs.lag_calendar[arc])
    calendar = int(tasks.calendar[head % n]) if counted < 0 else counted
    at = int(shifted(network.timing.pool, calendar, int(moment), int(lags[arc])))
    plan, name = network.plan, network.slots.tasks[head % n]
    for leaf in network.slots.of_tasks(plan.branch(name)):
        bound = finish_from if kind in (FF, SF) else start_from
        if tasks.progress[leaf] == NOT_BEGUN:
            bound[leaf] = max(bound[leaf], at)
