"""Working-time arithmetic against its minute-by-minute twin, and on the days that people know by heart."""

from __future__ import annotations

import random
import unittest

from hexapod.errors import CannotSchedule
from hexapod.plan.records import Calendar
from hexapod.worktime import arithmetic as work
from hexapod.worktime.calendars import Window, compile_calendar, meet, pool_of
from tests.support import MONDAY, at, random_calendar
from tests.worktime.twin import MinuteByMinute

FIRST = MONDAY // 1440


class AgainstTheTwin(unittest.TestCase):
    def test_every_operation_on_random_calendars(self) -> None:
        rng = random.Random(1)
        window = Window(FIRST - 14, FIRST + 60)
        for round_ in range(8):
            calendars = {f"c{i}": random_calendar(rng, f"c{i}") for i in range(3)}
            calendars["on"] = Calendar("on", "On", base="c0", week=(None, ((60, 120),), *(None,) * 5))
            sets = [("standard",), ("c0",), ("c1",), ("on",), ("c1", "c2"), ("always",)]
            compiled = []
            for chosen in sets:
                found = compile_calendar(calendars, chosen[0], window)
                for other in chosen[1:]:
                    found = meet(found, compile_calendar(calendars, other, window))
                compiled.append(found)
            pool = pool_of(compiled, window)
            for c, chosen in enumerate(sets):
                twin = MinuteByMinute(calendars, chosen, window)
                for _ in range(60):
                    t = (FIRST + rng.randrange(20)) * 1440 + rng.randrange(1440)
                    amount = rng.randrange(1, 900)
                    where = (round_, chosen, t, amount)
                    self.assertEqual(work.worked(pool, c, t), twin.worked(t), where)
                    self.assertEqual(work.next_working(pool, c, t), twin.next_working(t), where)
                    self.assertEqual(work.advance(pool, c, t, amount), twin.advance(t, amount), where)
                    if twin.worked(t) >= amount:
                        self.assertEqual(work.retreat(pool, c, t, amount), twin.retreat(t, amount), where)

    def test_latest_before_is_the_inverse_of_shifted(self) -> None:
        rng = random.Random(2)
        window = Window(FIRST - 14, FIRST + 60)
        calendar = random_calendar(rng, "c")
        pool = pool_of([compile_calendar({"c": calendar}, "c", window)], window)
        for _ in range(300):
            bound = (FIRST + rng.randrange(15)) * 1440 + rng.randrange(1440)
            lag = rng.randrange(-500, 500)
            latest = work.latest_before(pool, 0, bound, lag)
            self.assertLessEqual(work.shifted(pool, 0, latest, lag), bound, (bound, lag))
            self.assertGreater(work.shifted(pool, 0, latest + 1, lag), bound, (bound, lag))


class KnownDays(unittest.TestCase):
    """Common practice, no source."""

    def setUp(self) -> None:
        window = Window(FIRST - 30, FIRST + 90)
        self.pool = pool_of([compile_calendar({}, "standard", window)], window)

    def test_three_days_from_thursday_end_on_monday(self) -> None:
        self.assertEqual(work.advance(self.pool, 0, at("2026-09-10T08:00"), 3 * 480), at("2026-09-14T17:00"))

    def test_a_full_friday_ends_on_friday_and_the_next_starts_on_monday(self) -> None:
        finish = work.advance(self.pool, 0, at("2026-09-11T08:00"), 480)
        self.assertEqual(finish, at("2026-09-11T17:00"))
        self.assertEqual(work.next_working(self.pool, 0, finish), at("2026-09-14T08:00"))

    def test_four_hours_from_eight_and_the_next_starts_at_one(self) -> None:
        finish = work.advance(self.pool, 0, at("2026-09-07T08:00"), 240)
        self.assertEqual(finish, at("2026-09-07T12:00"))
        self.assertEqual(work.next_working(self.pool, 0, finish), at("2026-09-07T13:00"))

    def test_no_work_leaves_the_moment_where_it_is(self) -> None:
        sunday = at("2026-09-13T11:00")
        self.assertEqual(work.advance(self.pool, 0, sunday, 0), sunday)

    def test_a_day_is_8_h_and_a_week_40_h(self) -> None:
        monday, next_monday = at("2026-09-07T00:00"), at("2026-09-14T00:00")
        self.assertEqual(work.worked(self.pool, 0, next_monday) - work.worked(self.pool, 0, monday), 40 * 60)

    def test_a_calendar_that_never_works_is_named(self) -> None:
        idle = Calendar("idle", "Idle hands", week=((),) * 7)
        with self.assertRaisesRegex(CannotSchedule, "Idle hands"):
            compile_calendar({"idle": idle}, "idle", Window(FIRST, FIRST + 10))
