"""The search for a good order: a population of lists that are crossed, shaken and justified.

Source: Hartmann, "A competitive genetic algorithm for resource-constrained project scheduling" (1998), with double
justification of every child as in Valls, Ballestin and Quintanilla, "A hybrid genetic algorithm for the
resource-constrained project scheduling problem" (2008). Random numbers are our own, so that a seed and a number of
steps always give the same answer.
"""

from __future__ import annotations

from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from hexapod.staffing.levelling.grid import Grid
from hexapod.staffing.levelling.scheme import FAR, WEIGHT, backward, forward, listed
from hexapod.staffing.widening import copied
from hexapod.system.compiler import njit
from hexapod.worktime.calendars import Ints

Random = NDArray[np.uint64]  # one number, from which the next one follows
POPULATION = 60
STALE = 40  # children for each of the population without anything better, until half of it begins anew
SWAP = 0.05


class Population(NamedTuple):
    """A row or an entry a member."""

    orders: Ints
    excess: Ints
    costs: Ints
    best_order: Ints
    best_start: Ints
    best: Ints  # excess, cost
    state: Random
    age: Ints  # children since the last improvement, how often it began anew, and the first member that still is to
    wish: Ints  # the times of the first rule


@njit(cache=True, nogil=True)
def next_random(state: Random) -> float:
    """From 0 up to 1 (xorshift64*; Vigna, "An experimental exploration of Marsaglia's xorshift generators", 2016)."""
    x = state[0]
    x ^= x >> np.uint64(12)
    x ^= x << np.uint64(25)
    x ^= x >> np.uint64(27)
    state[0] = x
    return float((x * np.uint64(2685821657736338717)) >> np.uint64(11)) / 9007199254740992.0


@njit(cache=True, nogil=True)
def _better(excess: int, cost: int, than_excess: int, than_cost: int) -> bool:
    return excess < than_excess or (excess == than_excess and cost < than_cost)


@njit(cache=True, nogil=True)
def improved(grid: Grid, order: Ints, level: Ints, start: Ints, finish: Ints, within: bool) -> tuple[int, int]:
    """Place a list, justify it to the right and to the left as long as that helps; the list of what is found."""
    excess, cost = forward(grid, order, level, start, finish, within)
    if excess >= FAR:
        return FAR, FAR
    listed(grid, start, order)
    if within:
        return excess, cost
    n = len(order)
    back = np.empty(n, dtype=np.int64)
    late_start, late_finish = np.empty(n, dtype=np.int64), np.empty(n, dtype=np.int64)
    again = np.empty(n, dtype=np.int64)
    s, f = np.empty(n, dtype=np.int64), np.empty(n, dtype=np.int64)
    for _ in range(6):
        listed(grid, finish, back)
        copied(start, late_start)
        copied(finish, late_finish)
        if not backward(grid, back, level, late_start, late_finish, finish.max()):
            break
        listed(grid, late_start, again)
        e, c = forward(grid, again, level, s, f, within)
        if not _better(e, c, excess, cost):
            break
        gained = cost // WEIGHT > c // WEIGHT
        excess, cost = e, c
        copied(s, start)
        copied(f, finish)
        listed(grid, start, order)
        if not gained:
            break
    return excess, cost


@njit(cache=True, nogil=True)
def _crossed(first: Ints, second: Ints, a: int, b: int, child: Ints, taken: Ints) -> None:
    """The first list up to ``a``, then the second one's order up to ``b``, then the first one's again."""
    n = len(child)
    taken[:] = 0
    for i in range(a):
        child[i] = first[i]
        taken[first[i]] = 1
    i = a
    for k in second:
        if i == b:
            break
        if not taken[k]:
            child[i] = k
            taken[k] = 1
            i += 1
    for k in first:
        if not taken[k]:
            child[i] = k
            i += 1
    assert i == n


@njit(cache=True, nogil=True)
def _shaken(grid: Grid, order: Ints, share: float, state: Random) -> None:
    """Neighbours change places here and there, where no arc and no urgency stands between them."""
    into, source, urgency = grid.into, grid.source, grid.urgency
    for i in range(len(order) - 1):
        if next_random(state) >= share:
            continue
        a, b = order[i], order[i + 1]
        if urgency[a] != urgency[b]:
            continue
        is_free = True
        for q in range(into[b], into[b + 1]):
            if source[q] == a:
                is_free = False
        if is_free:
            order[i], order[i + 1] = b, a


@njit(cache=True, nogil=True)
def _shuffled_near(grid: Grid, start: Ints, spread: float, order: Ints, state: Random) -> None:
    """A list near that of some dates: each is wanted up to ``spread`` slots earlier or later."""
    wanted = np.empty(len(start), dtype=np.int64)
    for k in range(len(start)):
        wanted[k] = int(16 * (start[k] + spread * (2 * next_random(state) - 1)))
    listed(grid, wanted, order)


@njit(cache=True, nogil=True)
def evolve(grid: Grid, population: Population, level: Ints, children: int, within: bool, enough: int) -> int:
    """Make so many children, or fewer if a finish of ``enough`` slots is found; how many."""
    orders, excesses, costs = population.orders, population.excess, population.costs
    state, age, best = population.state, population.age, population.best
    size, n = orders.shape
    child, taken = np.empty(n, dtype=np.int64), np.empty(n, dtype=np.int64)
    start, finish = np.empty(n, dtype=np.int64), np.empty(n, dtype=np.int64)
    for made in range(children):
        if best[0] == 0 and best[1] // WEIGHT <= enough:
            return made
        anew = age[2] if age[2] < size else -1
        if anew >= 0:
            _strew_member(grid, population, anew, child)
            age[2] += 1
        else:
            one, other = _chosen(excesses, costs, state), _chosen(excesses, costs, state)
            a, b = int(next_random(state) * n), int(next_random(state) * (n + 1))
            _crossed(orders[one], orders[other], min(a, b), max(a, b), child, taken)
            _shaken(grid, child, SWAP, state)
            age[0] += 1
        excess, cost = improved(grid, child, level, start, finish, within)
        if _better(excess, cost, best[0], best[1]):
            if best[0] != excess or cost // WEIGHT < best[1] // WEIGHT:
                age[0] = 0
            best[0], best[1] = excess, cost
            copied(child, population.best_order)
            copied(start, population.best_start)
        p, q = int(next_random(state) * size), int(next_random(state) * size)
        loser = p if _better(excesses[q], costs[q], excesses[p], costs[p]) else q
        is_new = True
        for m in range(size):
            if excesses[m] == excess and costs[m] == cost:
                is_new = False
        if anew >= 0 or (is_new and not _better(excesses[loser], costs[loser], excess, cost)):
            into = anew if anew >= 0 else loser
            copied(child, orders[into])
            excesses[into], costs[into] = excess, cost
        if age[0] > STALE * size:
            age[0], age[2] = 0, 0
            age[1] += 1
    return children


@njit(cache=True, nogil=True)
def _strew_member(grid: Grid, population: Population, m: int, order: Ints) -> None:
    """Where it begins anew: in turn round the best there ever was, three in four of them, and all of them round the
    first rule, as if nothing had been found yet."""
    is_fresh = population.age[1] % 2 == 0
    if m % 4 == 0 and not is_fresh:
        copied(population.orders[m], order)
        return
    centre = population.wish if is_fresh else population.best_start
    length = float(centre.max() - centre.min()) + 1.0
    _shuffled_near(grid, centre, length * (0.02 + 0.4 * m / len(population.costs)), order, population.state)


@njit(cache=True, nogil=True)
def _chosen(excess: Ints, costs: Ints, state: Random) -> int:
    """The better one of two."""
    p, q = int(next_random(state) * len(costs)), int(next_random(state) * len(costs))
    return p if _better(excess[p], costs[p], excess[q], costs[q]) else q


def begin(grid: Grid, wishes: list[Ints], level: Ints, within: bool, seed: int, size: int = POPULATION) -> Population:
    """A population of the lists of priority rules, and of lists shuffled near them."""
    n = len(grid.kind)
    state = np.array([(seed * 2654435761 + 88172645463325252) % (1 << 64)], dtype=np.uint64)
    orders = np.empty((size, n), dtype=np.int64)
    excess, costs = np.empty(size, dtype=np.int64), np.empty(size, dtype=np.int64)
    best = np.array([FAR, FAR], dtype=np.int64)
    found = Population(
        orders, excess, costs, np.empty(n, dtype=np.int64), np.empty(n, dtype=np.int64), best, state,
        np.array([0, 0, size]), wishes[0].copy(),
    )  # fmt: skip
    start, finish = np.empty(n, dtype=np.int64), np.empty(n, dtype=np.int64)
    for m in range(size):
        wish = wishes[m % len(wishes)]
        if m < len(wishes):
            listed(grid, wish, orders[m])
        else:
            _shuffled_near(grid, wish, float(np.ptp(wish) + 1) * 0.15 * (1 + m % 3), orders[m], state)
        excess[m], costs[m] = improved(grid, orders[m], level, start, finish, within)
        if _better(int(excess[m]), int(costs[m]), int(best[0]), int(best[1])):
            best[:] = excess[m], costs[m]
            copied(orders[m], found.best_order)
            copied(start, found.best_start)
    return found
