"""Calendars compiled to intervals: what wins over what, and the tables that find an interval at once."""

from __future__ import annotations

import random
import unittest
from datetime import date, datetime

import numpy as np

from hexapod.errors import BadText
from hexapod.plan.records import Calendar, CalendarException
from hexapod.plan.recurrence import check_rule, occurrences
from hexapod.worktime import arithmetic as work
from hexapod.worktime.calendars import BUCKET, Window, compile_calendar, meet, pool_of
from hexapod.worktime.clock import date_of, day_number, iso, minutes_of, moment_of
from hexapod.worktime.days import DayKind, days_of, format_hours, minutes_between, parse_hours
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


class Recurrence(unittest.TestCase):
    """The examples of RFC 5545, section 3.8.5.3, without their time zone."""

    def dates(self, rule: str, until: tuple[int, int, int], start: str = "19970902T090000") -> list[str]:
        found = occurrences(f"DTSTART:{start}\n{rule}", datetime(*until))
        return [f"{m:%Y-%m-%d}" for m in found]

    def test_examples(self) -> None:
        daily = self.dates("RRULE:FREQ=DAILY;COUNT=10", (1999, 1, 1))
        self.assertEqual((len(daily), daily[0], daily[-1]), (10, "1997-09-02", "1997-09-11"))
        until = self.dates("RRULE:FREQ=DAILY;UNTIL=19971224T000000", (1999, 1, 1))
        self.assertEqual((len(until), until[-1]), (113, "1997-12-23"))
        weeks = self.dates("RRULE:FREQ=WEEKLY;INTERVAL=2;UNTIL=19971224T000000;WKST=SU;BYDAY=MO,WE,FR",
                           (1999, 1, 1), "19970901T090000")  # fmt: skip
        self.assertEqual(len(weeks), 25)
        self.assertEqual(weeks[:4], ["1997-09-01", "1997-09-03", "1997-09-05", "1997-09-15"])
        self.assertEqual(weeks[-1], "1997-12-22")
        friday = self.dates("RRULE:FREQ=MONTHLY;COUNT=10;BYDAY=1FR", (1999, 1, 1), "19970905T090000")
        self.assertEqual(friday[:3] + friday[-1:], ["1997-09-05", "1997-10-03", "1997-11-07", "1998-06-05"])
        ends = self.dates("RRULE:FREQ=MONTHLY;BYMONTHDAY=-3", (1998, 3, 1), "19970928T090000")
        self.assertEqual(ends, ["1997-09-28", "1997-10-29", "1997-11-28", "1997-12-29", "1998-01-29", "1998-02-26"])
        thanks = self.dates("RRULE:FREQ=YEARLY;INTERVAL=4;BYMONTH=11;BYDAY=TU;BYMONTHDAY=2,3,4,5,6,7,8", (2005, 1, 1),
                            "19961105T090000")  # fmt: skip
        self.assertEqual(thanks, ["1996-11-05", "2000-11-07", "2004-11-02"])
        thirteenth = "EXDATE:19970902T090000\nRRULE:FREQ=MONTHLY;BYDAY=FR;BYMONTHDAY=13"
        self.assertEqual(self.dates(thirteenth, (1999, 1, 1)), ["1998-02-13", "1998-03-13", "1998-11-13"])

    def test_what_is_no_rule_or_never_comes_is_refused_with_a_sentence(self) -> None:
        for rule in ("RRULE:FREQ=SECONDLY", "RRULE:FREQ=WEEKS", "RRULE:", "nonsense", "RRULE:FREQ=DAILY;BYDAY=XX",
                     "RRULE:FREQ=DAILY;BYMONTH=2;BYMONTHDAY=30", "RRULE:FREQ=DAILY;UNTIL=19971224T000000Z",
                     "RRULE:FREQ=DAILY" + ";X=1" * 900):  # fmt: skip
            with self.assertRaises(BadText, msg=rule) as caught:
                check_rule(f"DTSTART:19970902T090000\n{rule}")
            self.assertLess(len(str(caught.exception)), 200)
        with self.assertRaises(BadText):
            check_rule("RRULE:FREQ=DAILY")


class DaysOfACalendar(unittest.TestCase):
    """What the year shows is what the compiled calendar works."""

    def test_rules_holidays_bases_and_ranges_against_the_compiled_intervals(self) -> None:
        base = Calendar("b", "Base", base="standard", holidays="GB-SCT")
        rule = "DTSTART:20260904T000000\nRRULE:FREQ=MONTHLY;BYDAY=1FR"
        extra = (CalendarException(FIRST, FIRST, rule=rule), CalendarException(FIRST + 5, FIRST + 5, ((540, 1500),)))
        calendars = {"b": base, "c": Calendar("c", "Own", base="b", exceptions=extra)}
        year = Window(day_number(date(2026, 1, 1)), day_number(date(2027, 1, 1)))
        days = days_of(calendars, calendars["c"], year)
        found = compile_calendar(calendars, "c", year)
        total = int((found.ends - found.begins).sum())
        self.assertEqual(total, sum(e - b for day in days.values() for b, e in day.working))
        pool, rng = pool_of([found], year), random.Random(7)
        for _ in range(200):
            begin, end = sorted(rng.randrange(year.first_day * 1440 + 1440, year.last_day * 1440) for _ in range(2))
            minutes = minutes_between(calendars, calendars["c"], begin, end)
            self.assertEqual(minutes, work.worked(pool, 0, end) - work.worked(pool, 0, begin))
        free = [date_of(d) for d, day in days.items() if not day.working and date_of(d).weekday() < 5]
        self.assertIn(date(2026, 11, 30), free, "Saint Andrew's Day, in Scotland only")
        self.assertIn(date(2026, 10, 2), free, "the first Friday of October, by rule")
        self.assertNotIn(date(2026, 10, 9), free)
        self.assertIn("2026-12-25", [date_of(d).isoformat() for d, x in days.items() if x.kind is DayKind.HOLIDAY])

    def test_hours_as_typed_and_shown(self) -> None:
        hours = {"8-12, 13-17": "08:00-12:00, 13:00-17:00", "22:00-06:00": "22:00-06:00", "9.30–24": "09:30-24:00"}
        for text, shown in hours.items():
            self.assertEqual(format_hours(parse_hours(text)), shown)
        for text in ("8", "8-", "25-26", "8-8", "morning"):
            with self.assertRaises(BadText):
                parse_hours(text)


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
