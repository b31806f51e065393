"""Kernels that put nodes and arcs in order. Linear in nodes and arcs.

Source of the ordering: Kahn, "Topological sorting of large networks" (1962).
"""

from __future__ import annotations

import numpy as np

from hexapod.system.compiler import njit
from hexapod.worktime.calendars import Ints


@njit(cache=True, nogil=True)
def bottom_up_order(alive: Ints, parent: Ints) -> tuple[Ints, Ints]:
    """Living slots with children before parents, and which of them are leaves."""
    n = len(alive)
    leaf = alive.copy()
    depth = np.full(n, -1, dtype=np.int64)
    deepest = 0
    path = np.empty(n, dtype=np.int64)
    for i in range(n):
        if not alive[i]:
            continue
        if parent[i] >= 0:
            leaf[parent[i]] = 0
        length, j = 0, i
        while depth[j] < 0 and parent[j] >= 0:
            path[length] = j
            length += 1
            j = parent[j]
        if depth[j] < 0:
            depth[j] = 0
        d = depth[j]
        for k in range(length - 1, -1, -1):
            d += 1
            depth[path[k]] = d
        deepest = max(deepest, depth[i])
    starts = np.zeros(deepest + 2, dtype=np.int64)
    for i in range(n):
        if alive[i]:
            starts[deepest - depth[i] + 1] += 1
    starts = np.cumsum(starts)
    order = np.empty(starts[-1], dtype=np.int64)
    for i in range(n):
        if alive[i]:
            at = deepest - depth[i]
            order[starts[at]] = i
            starts[at] += 1
    return order, leaf


@njit(cache=True, nogil=True)
def gate_and_close_arcs(
    alive: Ints, parent: Ints, leaf: Ints, tail: Ints, head: Ints, bottom_up: Ints
) -> tuple[Ints, Ints]:
    """Tasks that their summary's gate holds back, and tasks whose dates their summary's close gathers."""
    n = len(alive)
    gated = np.zeros(n, dtype=np.int64)
    closed = np.zeros(n, dtype=np.int64)
    for a in range(len(tail)):
        if not leaf[head[a]]:
            gated[head[a]] = 1
        if not leaf[tail[a]]:
            closed[tail[a]] = 1
    gate_heads = np.empty(n, dtype=np.int64)
    close_tails = np.empty(n, dtype=np.int64)
    gates = closes = 0
    for at in range(len(bottom_up) - 1, -1, -1):  # parents before children
        i = bottom_up[at]
        p = parent[i]
        if p < 0:
            continue
        if gated[p]:
            gate_heads[gates] = i
            gates += 1
            gated[i] = 1
        if closed[p]:
            close_tails[closes] = i
            closes += 1
            closed[i] = 1
    return gate_heads[:gates].copy(), close_tails[:closes].copy()


@njit(cache=True, nogil=True)
def compressed_rows(head: Ints, nodes: int) -> tuple[Ints, Ints]:
    """Arcs grouped by the node they lead to: row starts, and the arcs in that grouping."""
    starts = np.zeros(nodes + 1, dtype=np.int64)
    for a in range(len(head)):
        starts[head[a] + 1] += 1
    starts = np.cumsum(starts)
    at = starts.copy()
    grouped = np.empty(len(head), dtype=np.int64)
    for a in range(len(head)):
        grouped[at[head[a]]] = a
        at[head[a]] += 1
    return starts, grouped


@njit(cache=True, nogil=True)
def topological_order(into: Ints, source: Ints, alive: Ints, leaf: Ints) -> Ints:
    """Nodes such that every arc points onward; filled up with -1 where a loop makes that impossible.

    Nodes without arcs that are no leaf (dead slots, summaries that are not linked) are left out.
    """
    nodes = len(into) - 1
    n = len(alive)
    open_arcs = np.empty(nodes, dtype=np.int64)
    starts = np.zeros(nodes + 1, dtype=np.int64)
    for j in range(nodes):
        open_arcs[j] = into[j + 1] - into[j]
        for a in range(into[j], into[j + 1]):
            starts[source[a] + 1] += 1
    starts = np.cumsum(starts)
    at = starts.copy()
    onward = np.empty(len(source), dtype=np.int64)
    for j in range(nodes):
        for a in range(into[j], into[j + 1]):
            onward[at[source[a]]] = j
            at[source[a]] += 1
    wanted = 0
    order = np.full(nodes, -1, dtype=np.int64)
    filled = 0
    for j in range(nodes):
        linked = open_arcs[j] > 0 or starts[j + 1] > starts[j]
        if linked or (j < n and leaf[j]):
            wanted += 1
            if open_arcs[j] == 0:
                order[filled] = j
                filled += 1
    done = 0
    while done < filled:
        j = order[done]
        done += 1
        for k in range(starts[j], starts[j + 1]):
            following = onward[k]
            open_arcs[following] -= 1
            if open_arcs[following] == 0:
                order[filled] = following
                filled += 1
    return order[:wanted]


@njit(cache=True, nogil=True)
def carried(column: Ints, arc_was: Ints) -> Ints:
    """A column by arc in the order of other arcs; 0 for one that was not there."""
    found = np.zeros(len(arc_was), dtype=np.int64)
    for a in range(len(arc_was)):
        if arc_was[a] >= 0:
            found[a] = column[arc_was[a]]
    return found


@njit(cache=True, nogil=True)
def arcs_merged(into: Ints, gone: Ints, heads: Ints) -> tuple[Ints, Ints]:
    """Arcs by head, without those marked as ``gone``, and with new ones, whose ``heads`` are in order, behind the
    others of their heads: row starts, and by arc which one it was, -2 - i for the i-th new one."""
    nodes = len(into) - 1
    starts = np.empty(nodes + 1, dtype=np.int64)
    was = np.empty(len(gone) + len(heads), dtype=np.int64)
    count, new = 0, 0
    for j in range(nodes):
        starts[j] = count
        for a in range(into[j], into[j + 1]):
            if gone[a] == 0:
                was[count] = a
                count += 1
        while new < len(heads) and heads[new] == j:
            was[count] = -2 - new
            new += 1
            count += 1
    starts[nodes] = count
    return starts, was[:count].copy()
