"""Tabu search where no two tasks of a resource can run side by side: what matters is their order on each resource.

Source: the critical-block moves of Nowicki and Smutnicki, "A fast taboo search algorithm for the job shop problem"
(1996), with the insertions, their conditions and their estimates of Balas and Vazacopoulos, "Guided local search with
shifting bottleneck for job shop scheduling" (1998); the tabu list is one of pairs of tasks, as in Zhang, Li, Guan and
Rao, "A tabu search algorithm with a new neighborhood structure for the job shop scheduling problem" (2007).
"""

from __future__ import annotations

from typing import NamedTuple

import numpy as np

from hexapod.schedule.codes import CLOSE as CLOSE_ARC
from hexapod.schedule.codes import FS
from hexapod.schedule.codes import GATE as GATE_ARC
from hexapod.staffing.levelling.grid import Grid
from hexapod.staffing.levelling.kinds import SPAN
from hexapod.staffing.levelling.search import Random, next_random
from hexapod.staffing.widening import copied
from hexapod.system.compiler import njit
from hexapod.worktime.calendars import Ints

MOST_NODES = 4000
STALE = 12_000  # moves without anything better, until it goes on from another good order
ELITE = 8
KICKS = 12  # random moves away from an order that it goes on from


class Shop(NamedTuple):
    """``machine`` is a node's resource, -1 for none; ``before`` and ``behind`` its neighbours on it, -1 for none."""

    machine: Ints
    before: Ints
    behind: Ints
    head: Ints
    tail: Ints
    tabu: Ints  # (a, b): until which move a may not be put before b
    best_start: Ints
    best: Ints  # finish
    elite: Ints  # orders: the nodes' starts, a row each
    elite_finish: Ints
    state: Random
    made: Ints  # moves, moves since the last improvement


def is_shop(grid: Grid) -> bool:
    """Whether all tasks work the same time, one resource each, never two at once, and wait for finishes only."""
    if len(grid.kind) > MOST_NODES or grid.work.shape[0] > 1 or (grid.capacity != grid.capacity[:, :1]).any():
        return False
    plain = np.isin(grid.arc_kind, (FS, GATE_ARC, CLOSE_ARC)).all() and (grid.lag >= 0).all()
    free = (grid.fixed < 0).all() and (grid.finish_from < 0).all() and (grid.kind != SPAN).all()
    single = (np.diff(grid.ask_into) <= 1).all() and len(set(grid.urgency.tolist())) <= 1
    all_worked = grid.work[0, -1] == grid.work.shape[1] - 1
    alone = (2 * grid.ask_units > grid.capacity[grid.ask_resource, 0]).all() if len(grid.ask_units) else False
    return bool(plain and free and single and all_worked and alone and grid.project.max(initial=0) == 0)


def open_shop(grid: Grid, start: Ints, seed: int) -> Shop:
    """Begin from the order of some dates."""
    n = len(grid.kind)
    machine = np.full(n, -1, dtype=np.int64)
    for k in range(n):
        if grid.ask_into[k + 1] > grid.ask_into[k] and grid.duration[k]:
            machine[k] = grid.ask_resource[grid.ask_into[k]]
    state = np.array([(seed * 2654435761 + 88172645463325252) % (1 << 64)], dtype=np.uint64)
    found = Shop(
        machine, np.full(n, -1, dtype=np.int64), np.full(n, -1, dtype=np.int64), np.zeros(n, dtype=np.int64),
        np.zeros(n, dtype=np.int64), np.zeros((n, n), dtype=np.int32), start.copy(),
        np.array([int((start + grid.duration).max())]), np.tile(start, (ELITE, 1)),
        np.full(ELITE, int((start + grid.duration).max())), state, np.zeros(2, dtype=np.int64),
    )  # fmt: skip
    _line_up(found.machine, found.before, found.behind, start)
    return found


@njit(cache=True, nogil=True)
def _line_up(machine: Ints, before: Ints, behind: Ints, start: Ints) -> None:
    """The neighbours of each node, by the order of some dates."""
    last = np.full(machine.max() + 1, -1, dtype=np.int64)
    before[:], behind[:] = -1, -1
    n = len(start)
    for k in np.argsort(start * n + np.arange(n)):
        m = machine[k]
        if m >= 0:
            before[k] = last[m]
            if last[m] >= 0:
                behind[last[m]] = k
            last[m] = k


@njit(cache=True, nogil=True)
def _measure(grid: Grid, shop: Shop, order: Ints) -> int:
    """Heads and tails of all nodes, and the finish; -1 where the orders contradict each other."""
    into, source, lag, duration, base = grid.into, grid.source, grid.lag, grid.duration, grid.base
    out_into, out_target, out_arc = grid.out_into, grid.out_target, grid.out_arc
    before, behind, head, tail = shop.before, shop.behind, shop.head, shop.tail
    n = len(duration)
    missing = np.empty(n, dtype=np.int64)
    filled = 0
    for k in range(n):
        missing[k] = into[k + 1] - into[k] + (1 if before[k] >= 0 else 0)
        if missing[k] == 0:
            order[filled] = k
            filled += 1
    i = 0
    finish = 0
    while i < filled:
        k = order[i]
        i += 1
        at = base[k]
        for a in range(into[k], into[k + 1]):
            at = max(at, head[source[a]] + duration[source[a]] + lag[a])
        if before[k] >= 0:
            at = max(at, head[before[k]] + duration[before[k]])
        head[k] = at
        finish = max(finish, at + duration[k])
        for o in range(out_into[k], out_into[k + 1]):
            missing[out_target[o]] -= 1
            if missing[out_target[o]] == 0:
                order[filled] = out_target[o]
                filled += 1
        if behind[k] >= 0:
            missing[behind[k]] -= 1
            if missing[behind[k]] == 0:
                order[filled] = behind[k]
                filled += 1
    if filled < n:
        return -1
    for i in range(n - 1, -1, -1):
        k = order[i]
        then = 0
        for o in range(out_into[k], out_into[k + 1]):
            t = out_target[o]
            then = max(then, tail[t] + duration[t] + lag[out_arc[o]])
        if behind[k] >= 0:
            then = max(then, tail[behind[k]] + duration[behind[k]])
        tail[k] = then
    return finish


@njit(cache=True, nogil=True)
def _move(shop: Shop, u: int, v: int, is_after: bool) -> None:
    """Take ``u`` out of its line and put it right behind ``v`` (``is_after``), or ``v`` right before ``u``."""
    before, behind = shop.before, shop.behind
    moved, beside = (u, v) if is_after else (v, u)
    a, b = before[moved], behind[moved]
    if a >= 0:
        behind[a] = b
    if b >= 0:
        before[b] = a
    if is_after:
        c = behind[beside]
        before[moved], behind[moved], behind[beside] = beside, c, moved
        if c >= 0:
            before[c] = moved
    else:
        c = before[beside]
        before[moved], behind[moved], before[beside] = c, beside, moved
        if c >= 0:
            behind[c] = moved


@njit(cache=True, nogil=True)
def _estimate(grid: Grid, shop: Shop, line: Ints, length: int) -> int:
    """The longest way through some neighbours if they stood in the order of ``line``, as far as that can be told."""
    head, tail, duration, before, behind = shop.head, shop.tail, grid.duration, shop.before, shop.behind
    into, source, lag, base = grid.into, grid.source, grid.lag, grid.base
    out_into, out_target, out_arc = grid.out_into, grid.out_target, grid.out_arc
    # Those at the ends of the present line: what stands before and behind it stays.
    first, last = line[0], line[0]
    for i in range(length):
        first = line[i] if head[line[i]] < head[first] else first
        last = line[i] if head[line[i]] > head[last] else last
    heads = np.empty(length, dtype=np.int64)
    at = head[before[first]] + duration[before[first]] if before[first] >= 0 else 0
    for i in range(length):
        k = line[i]
        at = max(at, base[k])
        for a in range(into[k], into[k + 1]):
            at = max(at, head[source[a]] + duration[source[a]] + lag[a])
        heads[i] = at
        at += duration[k]
    then = tail[behind[last]] + duration[behind[last]] if behind[last] >= 0 else 0
    found = 0
    for i in range(length - 1, -1, -1):
        k = line[i]
        for o in range(out_into[k], out_into[k + 1]):
            then = max(then, tail[out_target[o]] + duration[out_target[o]] + lag[out_arc[o]])
        found = max(found, heads[i] + duration[k] + then)
        then += duration[k]
    return found


@njit(cache=True, nogil=True)
def _may_follow(out_into: Ints, out_target: Ints, duration: Ints, tail: Ints, u: int, v: int) -> bool:
    """Whether nothing that waits for ``u`` leads to ``v``, so that ``u`` can be put behind it."""
    least = tail[v] + duration[v]
    for o in range(out_into[u], out_into[u + 1]):
        t = out_target[o]
        if tail[t] + duration[t] > least or (duration[t] == 0 and tail[t] == least):
            return False
    return True


@njit(cache=True, nogil=True)
def _may_lead(into: Ints, source: Ints, duration: Ints, head: Ints, u: int, v: int) -> bool:
    """Whether nothing that ``v`` waits for comes from ``u``, so that ``v`` can be put before it."""
    least = head[u] + duration[u]
    for a in range(into[v], into[v + 1]):
        s = source[a]
        if head[s] + duration[s] > least or (duration[s] == 0 and head[s] == least):
            return False
    return True


@njit(cache=True, nogil=True)
def _critical(grid: Grid, shop: Shop, finish: int, path: Ints) -> int:
    """One longest way from the beginning to the finish, drawn by lot where there are several; its length."""
    head, duration = shop.head, grid.duration
    n = len(duration)
    at = -1
    choices = 0
    for k in range(n):
        if head[k] + duration[k] == finish:
            choices += 1
            if next_random(shop.state) * choices < 1:
                at = k
    length = 0
    while at >= 0:
        path[length] = at
        length += 1
        came, choices = -1, 0
        if shop.before[at] >= 0 and head[shop.before[at]] + duration[shop.before[at]] == head[at]:
            came, choices = shop.before[at], 1
        for a in range(grid.into[at], grid.into[at + 1]):
            s = grid.source[a]
            if head[s] + duration[s] + grid.lag[a] == head[at]:
                choices += 1
                if next_random(shop.state) * choices < 1:
                    came = s
        at = came
    for i in range(length // 2):
        path[i], path[length - 1 - i] = path[length - 1 - i], path[i]
    return length


@njit(cache=True, nogil=True)
def _line_of(grid: Grid, shop: Shop, path: Ints, begin: int, end: int, i: int, way: int, line: Ints) -> int:
    """The ``way`` in which task ``i`` of a critical block path[begin:end] can change its place, as the line of those
    that it passes and itself; its length, 0 if there is none. 0 behind the last of the block, 1 before its first, 2 and
    3 the first, and the last, past its neighbour."""
    size = end - begin
    j = size - 1 if way == 0 else 0 if way == 1 else i + 1 if way == 2 else i - 1
    is_end = (way == 2 and i == 0 and size > 2) or (way == 3 and i == size - 1 and size > 2)
    if way >= 2 and not is_end:
        return 0
    if (way == 0 and i >= j) or (way == 1 and i <= j):
        return 0
    u, length = path[begin + i], abs(j - i) + 1
    if j > i:
        if j > i + 1 and not _may_follow(grid.out_into, grid.out_target, grid.duration, shop.tail, u, path[begin + j]):
            return 0
        for x in range(length - 1):
            line[x] = path[begin + i + 1 + x]
        line[length - 1] = u
    else:
        if i > j + 1 and not _may_lead(grid.into, grid.source, grid.duration, shop.head, path[begin + j], u):
            return 0
        line[0] = u
        for x in range(length - 1):
            line[x + 1] = path[begin + j + x]
    return length


@njit(cache=True, nogil=True)
def _is_tabu(tabu: Ints, now: int, line: Ints, length: int, is_after: bool) -> bool:
    moved = line[length - 1] if is_after else line[0]
    for x in range(length):
        if line[x] != moved and (tabu[line[x], moved] if is_after else tabu[moved, line[x]]) > now:
            return True
    return False


@njit(cache=True, nogil=True)
def _try_block(
    grid: Grid, shop: Shop, path: Ints, begin: int, end: int, line: Ints, found: Ints, random_only: bool
) -> None:
    """The best move within one critical block that is better than ``found``: estimate, u, v, after; and apart from
    that one of any, drawn by lot (from entry 4 on)."""
    for i in range(end - begin):
        for way in range(4):
            length = _line_of(grid, shop, path, begin, end, i, way, line)
            if length == 0:
                continue
            is_after = way == 0 or way == 2
            u = line[length - 1] if is_after else line[1]
            v = line[length - 2] if is_after else line[0]
            found[8] += 1
            if next_random(shop.state) * found[8] < 1:
                found[4], found[5], found[6] = u, v, 1 if is_after else 0
            if random_only:
                continue
            estimate = _estimate(grid, shop, line, length)
            if estimate > found[0]:
                continue
            if estimate >= shop.best[0] and _is_tabu(shop.tabu, shop.made[0], line, length, is_after):
                continue
            if estimate < found[0]:
                found[9] = 0
            found[9] += 1
            if next_random(shop.state) * found[9] < 1:
                found[0], found[1], found[2], found[3] = estimate, u, v, 1 if is_after else 0


@njit(cache=True, nogil=True)
def _step(grid: Grid, shop: Shop, finish: int, path: Ints, random_only: bool) -> bool:
    """Make the best move that is not tabu, else any; False if there is none: then the finish is the best there is."""
    length = _critical(grid, shop, finish, path)
    found = np.zeros(10, dtype=np.int64)
    found[0] = 1 << 60
    line = np.empty(length, dtype=np.int64)
    i = int(np.int64(0))
    while i < length:
        j = i + 1
        while j < length and shop.machine[path[j]] == shop.machine[path[i]] and shop.before[path[j]] == path[j - 1]:
            j += 1
        if shop.machine[path[i]] >= 0 and j - i > 1:
            _try_block(grid, shop, path, i, j, line, found, random_only)
        i = j
    if found[8] == 0:
        return False
    if found[0] < 1 << 60:
        u, v, is_after = found[1], found[2], found[3] == 1
    else:
        u, v, is_after = found[4], found[5], found[6] == 1
    machines = 1 + shop.machine.max()
    tenure = 10 + len(shop.machine) // (machines * machines)
    until = shop.made[0] + int(tenure * (1 + 0.4 * next_random(shop.state)))
    k = u
    while k != v:  # what stood before the others may not do so again for a while
        if is_after:
            k = shop.behind[k]
            shop.tabu[u, k] = until
        else:
            shop.tabu[k, v] = until
            k = shop.behind[k]
    _move(shop, u, v, is_after)
    return True


@njit(cache=True, nogil=True)
def rearrange(grid: Grid, shop: Shop, moves: int, enough: int) -> int:
    """Make so many moves, or fewer if the finish gets down to ``enough``; how many."""
    n = len(grid.duration)
    order, path = np.empty(n, dtype=np.int64), np.empty(n, dtype=np.int64)
    made, best = shop.made, shop.best
    kicks = 0
    for i in range(moves):
        finish = _measure(grid, shop, order)
        if 0 <= finish < best[0]:
            best[0] = finish
            copied(shop.head, shop.best_start)
            made[1] = 0
            _keep(shop, finish)
        if best[0] <= enough:
            return i
        if finish < 0 or made[1] > STALE:
            chosen = int(next_random(shop.state) * len(shop.elite_finish))
            _line_up(shop.machine, shop.before, shop.behind, shop.elite[chosen])
            shop.tabu[:] = 0
            made[1], kicks = 0, KICKS
            continue
        if not _step(grid, shop, finish, path, kicks > 0):
            return i
        kicks -= 1
        made[0] += 1
        made[1] += 1
    return moves


@njit(cache=True, nogil=True)
def _keep(shop: Shop, finish: int) -> None:
    """Among the elite in place of the worst."""
    worst = 0
    for e in range(len(shop.elite_finish)):
        if shop.elite_finish[e] > shop.elite_finish[worst]:
            worst = e
    copied(shop.head, shop.elite[worst])
    shop.elite_finish[worst] = finish
