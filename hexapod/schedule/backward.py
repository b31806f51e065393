"""The backward pass: late dates and floats, over the whole network or over what an edit touched and what that moves.

Sources as of the forward pass. Two bounds run back together: from the late dates of what comes after (total float) and
from its early dates (free float). Each node says what it asks of those before it: ``asks``.
"""

from __future__ import annotations

from hexapod.schedule.arrays import TaskArrays
from hexapod.schedule.begun import latest_rest, rest_asks
from hexapod.schedule.codes import (
    BY_LATENESS,
    DONE,
    FF,
    FOREVER,
    FS,
    NEVER,
    NOT_BEGUN,
    REST_GOES_ON,
    SF,
    WARN,
)
from hexapod.schedule.crews import crew_earliest_start, crew_finish, crew_latest_finish, crew_latest_start, latest_work
from hexapod.schedule.passes import Arcs, Backward, Crews, Flags, Forward, is_stretched
from hexapod.system.compiler import njit
from hexapod.worktime.arithmetic import finish_side, latest_before, retreat, start_side, worked
from hexapod.worktime.calendars import CalendarPool, Ints


@njit(cache=True, nogil=True)
def backward_pass(
    pool: CalendarPool,
    arcs: Arcs,
    tasks: TaskArrays,
    crews: Crews,
    early: Forward,
    project_finish: Ints,
    found: Backward,
    touched: Flags,
    is_whole: bool,
) -> None:
    """Put leaves as late as what comes after, their limits and their project's finish allow, with both floats, into
    ``found``.

    All of them if ``is_whole``; else those that are marked as ``touched``, and those that these bind, which it marks as
    it goes. A link from a summary's earliest start binds the leaf that starts first. What is to be as late as possible
    is moved, in ``early``, by its free float: only in a whole pass.
    """
    into, source, kinds, lags, order, leaf = arcs.into, arcs.source, arcs.kind, early.lag, arcs.order, arcs.leaf
    lag_calendar, out_into, out, head = arcs.lag_calendar, arcs.out_into, arcs.out, arcs.head
    project_of, calendars, durations, holds = tasks.project, tasks.calendar, tasks.duration, tasks.hold
    start_until, finish_until, crew_of = tasks.start_until, tasks.finish_until, tasks.crew
    spans, as_late, progress, rests = tasks.span, tasks.late, tasks.progress, tasks.rest
    crew_into, crew_calendars = crews.into, crews.calendars
    early_start, early_finish, before_hold, work, cause = (
        early.start,
        early.finish,
        early.free_start,
        early.work,
        early.cause,
    )
    late_start, late_finish, total, free, asks = (
        found.start,
        found.finish,
        found.total_float,
        found.free_float,
        found.asks,
    )
    n = len(durations)
    for at in range(len(order) - 1, -1, -1):
        j = order[at]
        if not is_whole and not touched[j]:
            continue
        first, last = into[j], into[j + 1]
        on_start, on_finish, free_on_start, free_on_finish = FOREVER, FOREVER, FOREVER, FOREVER
        for o in range(out_into[j], out_into[j + 1]):
            a = out[o]
            kind, k = kinds[a], head[a]
            if kind == WARN:
                continue
            if k >= n:  # the close of the summary above
                on_finish, free_on_finish = min(on_finish, asks[k, 1]), min(free_on_finish, asks[k, 3])
                if early_start[j] == early_start[k]:
                    on_start, free_on_start = min(on_start, asks[k, 0]), min(free_on_start, asks[k, 2])
                continue
            b = 1 if kind == FF or kind == SF else 0
            bound, free_bound, lag = asks[k, b], asks[k, b + 2], lags[a]
            counted = calendars[k] if lag_calendar[a] < 0 else lag_calendar[a]
            if bound < FOREVER:
                bound = latest_before(pool, counted, bound, lag)
            if free_bound < FOREVER:
                free_bound = latest_before(pool, counted, free_bound, lag)
            if kind == FS or kind == FF:
                on_finish, free_on_finish = min(on_finish, bound), min(free_on_finish, free_bound)
            else:
                on_start, free_on_start = min(on_start, bound), min(free_on_start, free_bound)
        if j < n and leaf[j]:
            calendar, late, now, hold, duration = calendars[j], 0, 0, 0, 0
            end = project_finish[project_of[j]]
            until_start = min(on_start, start_until[j])
            until_finish = min(on_finish, finish_until[j], end)
            free_until = min(free_on_finish, end)
            duration, hold, now = durations[j], holds[j], work[j]
            # What precedes is bound by the start before the hold, and by the last moment that counts as
            # this finish.
            if progress[j] == DONE:
                late_start[j], late_finish[j] = early_start[j], early_finish[j]
                total[j] = free[j] = on_start = on_finish = free_on_start = free_on_finish = FOREVER
            elif progress[j] != NOT_BEGUN:
                c1, c2 = crew_into[crew_of[j]], crew_into[crew_of[j] + 1]
                holds_finish = is_stretched(kinds, first, last)
                rest = 0 if spans[j] == 1 and holds_finish else rests[j]
                late_start[j] = early_start[j]
                if rest > 0 and c1 == c2:
                    late = worked(pool, calendar, until_finish) - rest
                    now = worked(pool, calendar, before_hold[j])
                    late_finish[j] = finish_side(pool, calendar, late + rest)
                    total[j] = late - now
                    free[j] = max(0, total[j])
                    if until_finish != free_until:
                        free[j] = max(0, worked(pool, calendar, free_until) - rest - now)
                    on_start, free_on_start = start_side(pool, calendar, late), before_hold[j]
                    on_finish = free_on_finish = FOREVER
                    if holds_finish:
                        on_finish = start_side(pool, calendar, late + rest)
                        free_on_finish = start_side(pool, calendar, now + rest)
                else:
                    late_finish[j], on_start, on_finish = latest_rest(
                        pool, crew_calendars, c1, c2, rest, until_finish, early_finish[j]
                    )
                    done = worked(pool, calendar, early_finish[j])
                    total[j] = worked(pool, calendar, late_finish[j]) - done
                    free_end = latest_rest(pool, crew_calendars, c1, c2, rest, free_until, early_finish[j])[0]
                    free[j] = max(0, worked(pool, calendar, free_end) - done)
                    free_on_start, free_on_finish = rest_asks(
                        pool, crew_calendars, c1, c2, rest, before_hold[j], early_finish[j]
                    )
                if progress[j] == REST_GOES_ON:
                    on_start = free_on_start = FOREVER
            elif spans[j] == 1 and is_stretched(kinds, first, last):
                late_start[j], late_finish[j] = min(until_start, until_finish), until_finish
                done = worked(pool, calendar, early_finish[j])
                total[j] = min(worked(pool, calendar, late_start[j]) - now, worked(pool, calendar, until_finish) - done)
                room = worked(pool, calendar, free_until) - done
                if free_on_start < FOREVER:
                    room = min(room, worked(pool, calendar, free_on_start) - now)
                free[j] = max(0, room)
                on_start, on_finish = late_start[j], late_finish[j]
                free_on_start, free_on_finish = before_hold[j], early_finish[j]
            elif crew_of[j] > 0 and duration > 0:
                c1, c2 = crew_into[crew_of[j]], crew_into[crew_of[j] + 1]
                release = crew_latest_start(pool, crew_calendars, c1, c2, duration, until_start, until_finish)
                late_start[j] = crew_earliest_start(pool, crew_calendars, c1, c2, duration, release, NEVER)
                late_finish[j] = crew_finish(pool, crew_calendars, c1, c2, duration, release)
                done = worked(pool, calendar, early_finish[j])
                total[j] = min(
                    worked(pool, calendar, late_start[j]) - now, worked(pool, calendar, late_finish[j]) - done
                )
                free_release = crew_latest_start(pool, crew_calendars, c1, c2, duration, free_on_start, free_until)
                free_release = crew_earliest_start(pool, crew_calendars, c1, c2, duration, free_release, NEVER)
                free_end = crew_finish(pool, crew_calendars, c1, c2, duration, free_release)
                room = min(worked(pool, calendar, free_release) - now, worked(pool, calendar, free_end) - done)
                free[j] = max(0, room)
                if as_late[j] and min(free[j], total[j]) > 0:
                    release_now = min(free_release, release)
                    early_start[j] = crew_earliest_start(pool, crew_calendars, c1, c2, duration, release_now, NEVER)
                    early_finish[j] = crew_finish(pool, crew_calendars, c1, c2, duration, release_now)
                    work[j] = worked(pool, calendar, early_start[j])
                    total[j] -= work[j] - now
                    free[j] = max(0, free[j] - (work[j] - now))
                    cause[j] = BY_LATENESS
                    before_hold[j] = start_side(pool, calendar, work[j] - hold)
                free_on_start = before_hold[j]
                free_on_finish = crew_latest_finish(pool, crew_calendars, c1, c2, duration, before_hold[j])
                on_start = release if hold == 0 else start_side(pool, calendar, worked(pool, calendar, release) - hold)
                on_finish = crew_latest_finish(pool, crew_calendars, c1, c2, duration, on_start)
            elif duration == 0:
                at_latest = min(until_start, until_finish)
                free_latest = min(free_on_start, free_until)
                if as_late[j] and min(free_latest, at_latest) > early_start[j]:
                    early_start[j] = early_finish[j] = min(free_latest, at_latest)
                    now = work[j] = worked(pool, calendar, early_start[j])
                    cause[j] = BY_LATENESS
                    before_hold[j] = retreat(pool, calendar, early_start[j], hold)
                late_start[j] = late_finish[j] = at_latest
                total[j] = worked(pool, calendar, at_latest) - now
                free[j] = max(0, worked(pool, calendar, free_latest) - now)
                on_start = on_finish = retreat(pool, calendar, at_latest, hold)
                free_on_start = free_on_finish = before_hold[j]
            else:
                late = latest_work(pool, calendar, until_start, until_finish, duration)
                late_start[j] = start_side(pool, calendar, late)
                late_finish[j] = finish_side(pool, calendar, late + duration)
                total[j] = late - now
                if until_finish == free_until and until_start == free_on_start:
                    free[j] = max(0, total[j])
                else:
                    free[j] = max(0, latest_work(pool, calendar, free_on_start, free_until, duration) - now)
                if as_late[j] and min(free[j], total[j]) > 0:
                    by = min(free[j], total[j])
                    now = work[j] = now + by
                    early_start[j] = start_side(pool, calendar, now)
                    early_finish[j] = finish_side(pool, calendar, now + duration)
                    total[j] -= by
                    free[j] -= by
                    cause[j] = BY_LATENESS
                    before_hold[j] = start_side(pool, calendar, now - hold)
                on_start = late_start[j] if hold == 0 else start_side(pool, calendar, late - hold)
                free_on_start = before_hold[j]
                on_finish = free_on_finish = FOREVER
                if is_stretched(kinds, first, last):  # a link asks for its finish
                    on_finish = start_side(pool, calendar, late - hold + duration)
                    free_on_finish = start_side(pool, calendar, now - hold + duration)
        if (
            asks[j, 0] != on_start
            or asks[j, 1] != on_finish
            or asks[j, 2] != free_on_start
            or asks[j, 3] != free_on_finish
        ):
            asks[j, 0], asks[j, 1], asks[j, 2], asks[j, 3] = on_start, on_finish, free_on_start, free_on_finish
            if not is_whole:
                for a in range(first, last):
                    touched[source[a]] = 1
