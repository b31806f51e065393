"""Lengths and dates as people type them."""

from __future__ import annotations

import random
import unittest
from datetime import date, timedelta

from hexapod.errors import BadText
from hexapod.worktime.clock import iso
from hexapod.worktime.dates import DateWords, parse_moment, parse_said
from hexapod.worktime.lengths import Units, format_duration, format_length, parse_duration, parse_length
from tests.support import at


class Lengths(unittest.TestCase):
    def test_what_people_type(self) -> None:
        for text, minutes in {
            "3": 1440, "3d": 1440, "4h": 240, "2w": 4800, "1.5 d": 720, "1,5d": 720, "0": 0, "1w 2d": 3360,
            "90 min": 90, "2 days": 960, " 1 h 30 min ": 90,
        }.items():  # fmt: skip
            self.assertEqual(parse_length(text), minutes, text)

    def test_nonsense_says_what_would_do(self) -> None:
        for text in ("", "soon", "3x", "d", "-3d", "1e9d", "nan", "9999999999d", "3 d d"):
            with self.assertRaisesRegex(BadText, "3d|longer|length"):
                parse_length(text)

    def test_what_is_shown_can_be_typed(self) -> None:
        rng = random.Random(3)
        for minutes in [0, 1, 45, 60, 120, 480, 600, 720, 2400, *(rng.randrange(100_000) for _ in range(500))]:
            self.assertEqual(parse_length(format_length(minutes)), minutes)


class Moments(unittest.TestCase):
    def test_iso(self) -> None:
        self.assertEqual(parse_moment("2026-09-07"), at("2026-09-07T00:00"))
        self.assertEqual(parse_moment(" 2026-09-07 08:30"), at("2026-09-07T08:30"))

    def test_refused_in_words(self) -> None:
        for text in ("2026-02-30", "tomorrowish", "2026-09-07T08:00+01:00", "1889-01-01", "2026-09-07 08:00:30"):
            with self.assertRaises(BadText, msg=text):
                parse_moment(text)


class Durations(unittest.TestCase):
    def test_units_are_those_of_the_projects_calendar(self) -> None:
        short = Units(day=6 * 60, week=4 * 6 * 60, month=16 * 6 * 60, bare="h")
        self.assertEqual(parse_length("2", short), 120)
        self.assertEqual(parse_length("1w 2d", short), 6 * 360)
        self.assertEqual(parse_length("1 month", short), 16 * 360)
        rng = random.Random(51)
        for _ in range(300):
            minutes, elapsed = rng.randrange(0, 30_000) * 15, rng.random() < 0.5
            text = format_duration(minutes, elapsed, short)
            self.assertEqual(parse_duration(text, short), (minutes, elapsed), text)

    def test_elapsed(self) -> None:
        self.assertEqual(parse_duration("36h elapsed"), (36 * 60, True))
        self.assertEqual(parse_duration("2 d round the clock"), (2880, True))
        self.assertEqual(parse_duration("2 d"), (960, False))


class SaidDates(unittest.TestCase):
    TODAY = date(2026, 11, 25)  # a Wednesday

    def said(self, text: str, words: DateWords = DateWords()) -> str:  # noqa: B008 - immutable
        return iso(parse_said(text, self.TODAY, words)).removesuffix("T00:00")

    def test_what_people_say(self) -> None:
        for text, meant in {
            "today": "2026-11-25", "tomorrow": "2026-11-26", "fri": "2026-11-27", "Wednesday": "2026-11-25",
            "next mon": "2026-11-30", "next fri": "2026-12-04", "in 3 days": "2026-11-28", "+2w": "2026-12-09",
            "2 weeks ago": "2026-11-11", "in a month": "2026-12-25", "end of oct": "2027-10-31",
            "end of nov": "2026-11-30", "end of next month": "2026-12-31", "start of q2": "2027-04-01",
            "15/9": "2026-09-15", "15.9.27": "2027-09-15", "15 sep": "2026-09-15", "sep 15 2028": "2028-09-15",
            "1st of march": "2027-03-01", "29 feb": "2028-02-29", "2026-09-15": "2026-09-15",
            "2026-09-15 08:00": "2026-09-15T08:00", "fri 14:30": "2026-11-27T14:30", "mon at 9am": "2026-11-30T09:00",
            "w40": "2026-09-28", "week 2": "2027-01-11", "2026-W53-5": "2027-01-01", "end of the year": "2026-12-31",
        }.items():  # fmt: skip
            self.assertEqual(self.said(text), meant, text)

    def test_the_readers_locale(self) -> None:
        self.assertEqual(self.said("9/15", DateWords(day_first=False)), "2026-09-15")
        self.assertEqual(self.said("1/2", DateWords(day_first=False)), "2027-01-02")
        self.assertEqual(self.said("1/2"), "2027-02-01")
        german = DateWords(("Januar", "Februar", "März"), ("Montag", "Dienstag", "Mittwoch"))
        self.assertEqual(self.said("Dienstag", german), "2026-12-01")
        self.assertEqual(self.said("3 märz", german), "2027-03-03")

    def test_what_is_no_date_gets_an_example(self) -> None:
        for text in ("3", "soon", "31/2", "32.1.", "end of", "next", "w60", "+2", "in days", "9999999 days", "fri mon"):
            with self.assertRaisesRegex(BadText, "not a date", msg=text):
                self.said(text)
        with self.assertRaisesRegex(BadText, "1970"):
            self.said("1 jan 1850")

    def test_weeks_are_those_of_iso_8601(self) -> None:
        day = date(2020, 1, 1)
        for _ in range(400):
            year, week, weekday = day.isocalendar()
            self.assertEqual(self.said(f"{year}-W{week:02}-{weekday}"), day.isoformat())
            day += timedelta(days=7)
