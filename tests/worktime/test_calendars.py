"""Calendars compiled to intervals: what wins over what, and the tables that find an interval at once."""

from __future__ import annotations

import random
import unittest

import numpy as np

from hexapod.plan.records import Calendar, CalendarException
from hexapod.worktime import arithmetic as work
from hexapod.worktime.calendars import BUCKET, Window, compile_calendar, meet, pool_of
from hexapod.worktime.clock import date_of, day_number, iso, minutes_of, moment_of
from tests.support import MONDAY, at, random_calendar
from tests.worktime.twin import MinuteByMinute

FIRST = MONDAY // 1440
WINDOW = Window(FIRST, FIRST + 28)
NINE_TO_FIVE = ((540, 1020),)


def hours_on(calendars: dict[str, Calendar], calendar_id: str, day: str) -> int:
    """Worked minutes of a day."""
    pool = pool_of([compile_calendar(calendars, calendar_id, WINDOW)], WINDOW)
    begin = at(f"{day}T00:00")
    return work.worked(pool, 0, begin + 1440) - work.worked(pool, 0, begin)


class Precedence(unittest.TestCase):
    def setUp(self) -> None:
        closed = CalendarException(FIRST + 1, FIRST + 2)  # Tuesday and Wednesday
        self.base = Calendar("base", "Base", "standard", exceptions=(closed,))

    def test_an_exception_of_the_base_counts_in_what_is_built_on_it(self) -> None:
        site = Calendar("site", "Site", "base", (NINE_TO_FIVE,) * 5 + (None, None))
        calendars = {"base": self.base, "site": site}
        self.assertEqual([hours_on(calendars, "site", f"2026-09-0{d}") for d in (7, 8, 9)], [480, 0, 0])
        self.assertEqual(hours_on(calendars, "site", "2026-09-10"), 480)
        self.assertEqual(hours_on(calendars, "site", "2026-09-12"), 0, "Saturday comes from the standard week")

    def test_its_own_exception_comes_before_the_bases(self) -> None:
        opened = CalendarException(FIRST + 1, FIRST + 1, ((600, 660),))
        calendars = {"base": self.base, "site": Calendar("site", "Site", "base", exceptions=(opened,))}
        self.assertEqual([hours_on(calendars, "site", f"2026-09-0{d}") for d in (8, 9)], [60, 0])

    def test_of_two_exceptions_the_later_in_the_list_wins(self) -> None:
        both = (CalendarException(FIRST, FIRST + 4), CalendarException(FIRST, FIRST, ((0, 60),)))
        calendars = {"c": Calendar("c", "C", "standard", exceptions=both)}
        self.assertEqual([hours_on(calendars, "c", f"2026-09-0{d}") for d in (7, 8)], [60, 0])

    def test_an_exception_that_lies_outside_the_window_is_no_trouble(self) -> None:
        far = (CalendarException(0, 3), CalendarException(FIRST + 900, FIRST + 999))
        calendars = {"c": Calendar("c", "C", "standard", exceptions=far)}
        self.assertEqual(hours_on(calendars, "c", "2026-09-07"), 480)


class Intervals(unittest.TestCase):
    def test_they_are_in_order_and_never_touch(self) -> None:
        rng = random.Random(101)
        for _ in range(60):
            calendar = random_calendar(rng, "c")
            found = compile_calendar({"c": calendar}, "c", WINDOW)
            self.assertTrue((found.begins < found.ends).all())
            self.assertTrue((found.begins[1:] > found.ends[:-1]).all())

    def test_round_the_clock_is_one_interval(self) -> None:
        found = compile_calendar({}, "always", WINDOW)
        self.assertEqual((found.begins.tolist(), found.ends.tolist()), ([WINDOW.begin], [WINDOW.end]))

    def test_a_shift_to_midnight_and_one_from_midnight_join(self) -> None:
        night = Calendar("n", "Night", week=(((1320, 1440),), ((0, 360),)) + ((),) * 5)
        found = compile_calendar({"n": night}, "n", WINDOW)
        self.assertEqual((found.ends - found.begins).tolist(), [480] * 4)

    def test_meeting_calendars_work_when_both_do(self) -> None:
        rng = random.Random(102)
        for _ in range(40):
            calendars = {c: random_calendar(rng, c) for c in ("a", "b")}
            one, other = (compile_calendar(calendars, c, WINDOW) for c in ("a", "b"))
            both = meet(one, other)
            twin = MinuteByMinute(calendars, ("a", "b"), WINDOW)
            works = np.zeros(WINDOW.end - WINDOW.begin, dtype=bool)
            for begin, end in zip(both.begins, both.ends, strict=True):
                works[begin - WINDOW.begin : end - WINDOW.begin] = True
            self.assertEqual(works.tolist(), twin.works)
            again = meet(other, one)
            self.assertEqual(again.begins.tolist(), both.begins.tolist())


class Edges(unittest.TestCase):
    """Moments outside the window are taken to its edge, so that a kernel never reads beyond its tables."""

    def setUp(self) -> None:
        self.pool = pool_of([compile_calendar({}, "standard", WINDOW)], WINDOW)
        self.total = work.worked(self.pool, 0, WINDOW.end)

    def test_before_and_behind(self) -> None:
        self.assertEqual(work.worked(self.pool, 0, WINDOW.begin - 99_999), 0)
        self.assertEqual(work.worked(self.pool, 0, WINDOW.end + 99_999), self.total)
        self.assertEqual(work.start_side(self.pool, 0, -5), WINDOW.begin)
        self.assertEqual(work.finish_side(self.pool, 0, self.total + 1), WINDOW.end)
        self.assertEqual(work.start_side(self.pool, 0, self.total), WINDOW.end)
        self.assertEqual(work.next_working(self.pool, 0, WINDOW.end - 1), WINDOW.end)

    def test_both_sides_of_every_working_minute_of_the_window(self) -> None:
        twin = MinuteByMinute({}, ("standard",), WINDOW)
        for done in [*range(0, self.total + 1, 37), 240, 480, BUCKET, 2 * BUCKET, self.total]:
            moments = [t for t in range(WINDOW.begin, WINDOW.end) if twin.worked(t) == done]
            if done:
                self.assertEqual(work.finish_side(self.pool, 0, done), min(moments))
            if done < self.total:
                self.assertEqual(work.start_side(self.pool, 0, done), max(moments))


class Clock(unittest.TestCase):
    def test_minutes_days_and_moments_agree(self) -> None:
        rng = random.Random(103)
        for _ in range(200):
            minutes = rng.randrange(0, 80_000_000)
            self.assertEqual(minutes_of(moment_of(minutes)), minutes)
            self.assertEqual(day_number(date_of(minutes // 1440)), minutes // 1440)
        self.assertEqual(iso(MONDAY), "2026-09-07T08:00")
        self.assertEqual(date_of(FIRST).isocalendar()[1:], (37, 1), "ISO 8601: Monday of week 37")
