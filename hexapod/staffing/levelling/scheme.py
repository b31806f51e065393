"""The serial schedule generation scheme on a grid, forward and from the finish back.

Source: Kelley, "The critical-path method: resources planning and scheduling" (1963), over precedence relations of
all four kinds; justification to the right and to the left: Valls, Ballestin and Quintanilla, "Justification and
RCPSP: a technique that pays" (2005). A list names all nodes in an order in which every arc points onward. ``level`` is
room for what is booked, a row a resource and one more, whose first entry says how far the others were written.
"""

from __future__ import annotations

import numpy as np

from hexapod.schedule.codes import CLOSE as CLOSE_ARC
from hexapod.schedule.codes import FF, FS, SF
from hexapod.staffing.levelling.grid import Grid
from hexapod.staffing.levelling.kinds import CLOSE, GATE, SPAN
from hexapod.staffing.widening import copied
from hexapod.system.compiler import njit
from hexapod.worktime.calendars import Ints

FAR = 1 << 55  # no number of slots, and no excess, is as large
WEIGHT = 1 << 34  # of a slot of the finishes, against the sum of all delays


@njit(cache=True, nogil=True)
def advanced(work: Ints, at: Ints, calendar: int, t: int, length: int) -> int:
    """The slot's end at which so much work from ``t`` on is done; beyond the grid where it never is."""
    if length == 0:
        return t
    w = work[calendar, t] + length
    return at[calendar, w - 1] + 1 if w <= work[calendar, -1] else at.shape[1] + 1


@njit(cache=True, nogil=True)
def start_side(work: Ints, at: Ints, calendar: int, w: int) -> int:
    """The latest slot before which ``w`` slots are worked; beyond the grid if there is no further work."""
    if w < 0:
        return 0
    return at[calendar, w] if w < work[calendar, -1] else at.shape[1] + 1


@njit(cache=True, nogil=True)
def _shifted(work: Ints, at: Ints, calendar: int, t: int, lag: int) -> int:
    if lag > 0:
        return advanced(work, at, calendar, t, lag)
    return start_side(work, at, calendar, work[calendar, t] + lag) if lag < 0 else t


@njit(cache=True, nogil=True)
def _before(work: Ints, at: Ints, calendar: int, t: int, lag: int) -> int:
    """The latest moment that, shifted by a lag, is not after ``t``."""
    return t if lag == 0 else min(start_side(work, at, calendar, work[calendar, t] - lag), at.shape[1])


@njit(cache=True, nogil=True)
def forward(grid: Grid, order: Ints, level: Ints, start: Ints, finish: Ints, within: bool) -> tuple[int, int]:
    """Place all nodes in turn, each as early as logic and capacity allow; (excess, cost), ``FAR`` off the grid.

    ``within`` a task that would have to start after its latest start is put where logic has it: its excess is counted.
    The cost is the sum of the projects' finishes first, then how long all wait.
    """
    work, at, slots = grid.work, grid.at, grid.capacity.shape[1]
    kinds, calendars, durations = grid.kind, grid.calendar, grid.duration
    into, source, arc_kind, lags, lag_calendar = grid.into, grid.source, grid.arc_kind, grid.lag, grid.lag_calendar
    ask_into, ask_resource, ask_units, ask_calendar = (
        grid.ask_into,
        grid.ask_resource,
        grid.ask_units,
        grid.ask_calendar,
    )
    capacity, base, finish_from, latest, fixed = grid.capacity, grid.base, grid.finish_from, grid.latest, grid.fixed
    level[:-1, : level[-1, 0]] = 0
    level[-1, 0] = slots
    booked = 0
    excess, waited = 0, 0
    project = grid.project
    ends = np.zeros(project.max() + 1, dtype=np.int64)
    for k in order:
        kind, c, d = kinds[k], calendars[k], durations[k]
        if kind == CLOSE:
            start[k], finish[k] = FAR, 0
            for a in range(into[k], into[k + 1]):
                start[k] = min(start[k], start[source[a]])
                finish[k] = max(finish[k], finish[source[a]])
            continue
        from_start, from_finish = base[k], finish_from[k]
        for a in range(into[k], into[k + 1]):
            s, arc = source[a], arc_kind[a]
            t = finish[s] if arc == FS or arc == FF else start[s]
            if lags[a] != 0:
                t = _shifted(work, at, c if lag_calendar[a] < 0 else lag_calendar[a], t, lags[a])
            if t > slots:
                return FAR, FAR
            if arc == FF or arc == SF:
                from_finish = max(from_finish, t)
            else:
                from_start = max(from_start, t)
        if kind == GATE:
            start[k] = finish[k] = from_start
            continue
        if kind == SPAN:
            start[k] = from_start
            finish[k] = max(from_start, from_finish)
            continue
        if d == 0:
            start[k] = finish[k] = max(from_start, from_finish)
            ends[project[k]] = max(ends[project[k]], finish[k])
            continue
        begin, end = ask_into[k], ask_into[k + 1]
        # The first moment at which one of those who do it can start.
        logic = start_side(work, at, c, work[c, from_start])
        if from_finish >= 0:
            logic = max(logic, start_side(work, at, c, work[c, from_finish] - d))
        for q in range(begin, end):
            if ask_calendar[q] != c:
                logic = min(logic, start_side(work, at, ask_calendar[q], work[ask_calendar[q], from_start]))
        t = logic
        if fixed[k] >= 0:
            t = start_side(work, at, c, work[c, min(logic, slots)] + fixed[k])
        if t > slots:
            return FAR, FAR
        is_settled = fixed[k] >= 0
        while not is_settled:
            is_settled = True
            for q in range(begin, end):
                r, u, w = ask_resource[q], ask_units[q], ask_calendar[q]
                until = advanced(work, at, w, t, d)
                if until > slots:
                    t = slots + 1
                    break
                for s in range(until - 1, t - 1, -1):
                    if level[r, s] + u > capacity[r, s] and work[w, s + 1] > work[w, s]:
                        after = start_side(work, at, c, work[c, s + 1])
                        t = max(s + 1, after)
                        is_settled = False
                        break
                if not is_settled:
                    break
            if t > latest[k] or t > slots:
                if not within:
                    return FAR, FAR
                t = logic
                break
        f = advanced(work, at, c, t, d)
        if f > slots:
            return FAR, FAR
        for q in range(begin, end):
            r, u, w = ask_resource[q], ask_units[q], ask_calendar[q]
            until = min(advanced(work, at, w, t, d), slots)
            f = max(f, until) if w != c else f
            booked = max(booked, until)
            for s in range(t, until):
                if work[w, s + 1] > work[w, s]:
                    level[r, s] += u
                    over = level[r, s] - capacity[r, s]
                    if over > 0:
                        excess += min(over, u)
        start[k], finish[k] = t, f
        waited += t - base[k]
        ends[project[k]] = max(ends[project[k]], f)
    level[-1, 0] = booked
    return excess, ends.sum() * WEIGHT + min(waited, WEIGHT - 1)


@njit(cache=True, nogil=True)
def backward(grid: Grid, order: Ints, level: Ints, start: Ints, finish: Ints, until: int) -> bool:
    """Place all nodes from the last of the list to the first, each as late as those behind it, capacity and ``until``
    allow. Reads what cannot move from ``start`` and ``finish``, and writes the rest there; False if it does not go in.
    """
    work, at, slots = grid.work, grid.at, grid.capacity.shape[1]
    kinds, calendars, durations = grid.kind, grid.calendar, grid.duration
    out_into, out_target, out_arc = grid.out_into, grid.out_target, grid.out_arc
    arc_kind, lags, lag_calendar = grid.arc_kind, grid.lag, grid.lag_calendar
    ask_into, ask_resource, ask_units, ask_calendar = (
        grid.ask_into,
        grid.ask_resource,
        grid.ask_units,
        grid.ask_calendar,
    )
    capacity, fixed = grid.capacity, grid.fixed
    level[:-1, : level[-1, 0]] = 0
    level[-1, 0] = slots
    for i in range(len(order) - 1, -1, -1):
        k = order[i]
        kind, c, d = kinds[k], calendars[k], durations[k]
        by_start, by_finish = slots, until
        for o in range(out_into[k], out_into[k + 1]):
            a, target = out_arc[o], out_target[o]
            arc = arc_kind[a]
            if arc == CLOSE_ARC:
                by_finish = min(by_finish, finish[target])
                continue
            t = finish[target] if arc == FF or arc == SF else start[target]
            t = _before(work, at, calendars[target] if lag_calendar[a] < 0 else lag_calendar[a], t, lags[a])
            if arc == FS or arc == FF:
                by_finish = min(by_finish, t)
            else:
                by_start = min(by_start, t)
        if kind == CLOSE:
            start[k], finish[k] = by_start, by_finish
            continue
        if kind == GATE or kind == SPAN or d == 0:
            start[k] = finish[k] = max(0, min(by_start, by_finish))
            continue
        begin, end = ask_into[k], ask_into[k + 1]
        t = start[k]
        if fixed[k] < 0:
            w = work[c, by_finish] - d
            if w < 0:
                return False
            t = min(at[c, w], by_start)
            is_settled = False
            while not is_settled:
                is_settled = True
                for q in range(begin, end):
                    r, u, own = ask_resource[q], ask_units[q], ask_calendar[q]
                    last = min(advanced(work, at, own, t, d), slots)
                    for s in range(t, last):
                        if level[r, s] + u > capacity[r, s] and work[own, s + 1] > work[own, s]:
                            w = work[c, s] - d
                            if w < 0:
                                return False
                            t = min(at[c, w], t - 1)
                            if t < 0:
                                return False
                            is_settled = False
                            break
                    if not is_settled:
                        break
        for q in range(begin, end):
            own = ask_calendar[q]
            last = min(advanced(work, at, own, t, d), slots)
            for s in range(t, last):
                if work[own, s + 1] > work[own, s]:
                    level[ask_resource[q], s] += ask_units[q]
        start[k], finish[k] = t, min(advanced(work, at, c, t, d), slots)
    return True


def room_for(grid: Grid) -> Ints:
    """Where a scheme books; to be used again and again."""
    return np.zeros((grid.capacity.shape[0] + 1, grid.capacity.shape[1]), dtype=np.int64)


@njit(cache=True, nogil=True)
def listed(grid: Grid, wanted: Ints, order: Ints) -> None:
    """The nodes by urgency, then by ``wanted`` times, as far as the arcs let them; into ``order``."""
    n = len(wanted)
    into, source, urgency = grid.into, grid.source, grid.urgency
    low, most = wanted.min(), wanted.max()
    keys = ((urgency * (most - low + 1)) + (wanted - low)) * n + np.arange(n)
    by_key = np.argsort(keys)
    place = np.empty(n, dtype=np.int64)
    for i in range(n):
        place[by_key[i]] = i
    is_in_order = True
    for k in range(n):
        for a in range(into[k], into[k + 1]):
            if place[source[a]] > place[k]:
                is_in_order = False
    if is_in_order:
        copied(by_key, order)
        return
    placed = np.zeros(n, dtype=np.int64)
    stack = np.empty(n, dtype=np.int64)
    i = 0
    for wanted_next in by_key:  # what it still waits for is pulled before it
        height = 0
        if placed[wanted_next] == 0:
            stack[0], height = wanted_next, 1
        while height > 0:
            k = stack[height - 1]
            missing = -1
            for a in range(into[k], into[k + 1]):
                if placed[source[a]] == 0:
                    missing = source[a]
            if missing >= 0:
                stack[height] = missing
                height += 1
            else:
                height -= 1
                placed[k] = 1
                order[i] = k
                i += 1
