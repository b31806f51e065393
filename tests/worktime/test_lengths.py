"""Lengths and dates as people type them."""

from __future__ import annotations

import random
import unittest

from hexapod.errors import BadText
from hexapod.worktime.dates import parse_moment
from hexapod.worktime.lengths import format_length, parse_length
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
