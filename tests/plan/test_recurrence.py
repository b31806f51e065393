"""Recurrence rules against a library that steps from one occurrence to the next, and rules that such a one hangs on."""

from __future__ import annotations

import itertools
import random
import unittest
from datetime import datetime, timedelta

from dateutil.rrule import rrulestr
from hypothesis import given, settings
from hypothesis import strategies as st

from hexapod.errors import BadText
from hexapod.plan.recurrence import check_rule, moments_of, moved, occurrences
from tests.budgets import deep_or

UNTIL = datetime(2036, 1, 1)
DAYS = ["MO", "TU", "WE", "TH", "FR", "SA", "SU"]


def random_rule(rng: random.Random) -> str:
    """Without what the library reads otherwise than RFC 5545: ordinals beside plain weekdays, positions in a week that
    begins before the rule does; and without what it would search for until the year 9999."""
    frequency = rng.choice(("YEARLY", "MONTHLY", "WEEKLY", "DAILY"))
    is_long = frequency in ("YEARLY", "MONTHLY")

    def numbers(least: int, most: int, *, signed: bool = False) -> str:
        found = (rng.randint(least, most) for _ in range(rng.choice((1, 1, 2, 3))))
        return ",".join(str(n * (rng.choice((1, -1)) if signed else 1)) for n in found)

    parts = {"FREQ": frequency, "INTERVAL": str(rng.choice((1, 1, 2, 3, 5)))}
    if rng.random() < 0.3:
        parts["BYMONTH"] = numbers(1, 12)
    if rng.random() < 0.3 and is_long:
        parts["BYMONTHDAY"] = numbers(1, 28, signed=True)
    if rng.random() < 0.15 and frequency == "YEARLY" and "BYMONTH" not in parts and "BYMONTHDAY" not in parts:
        parts["BYYEARDAY" if rng.random() < 0.5 else "BYWEEKNO"] = numbers(1, 52, signed=True)
    if rng.random() < 0.4 and "BYMONTHDAY" not in parts and "BYYEARDAY" not in parts:
        ordinals = ["1", "2", "-1", "-2"] if is_long and rng.random() < 0.5 and "BYWEEKNO" not in parts else [""]
        parts["BYDAY"] = ",".join({rng.choice(ordinals) + day for day in rng.sample(DAYS, rng.choice((1, 2, 3)))})
        if frequency == "DAILY":
            parts["INTERVAL"] = "1"
        elif frequency != "WEEKLY" and rng.random() < 0.5:
            parts["BYSETPOS"] = rng.choice(("1", "-1", "1,-1"))
    if rng.random() < 0.2:
        parts["BYHOUR"] = numbers(0, 23)
    if rng.random() < 0.2:
        parts["WKST"] = rng.choice(DAYS)
    end = rng.random()
    if end < 0.3:
        parts["COUNT"] = str(rng.randint(1, 30))
    elif end < 0.5:
        parts["UNTIL"] = f"20{rng.randint(28, 40)}{rng.randint(1, 12):02}{rng.randint(1, 28):02}T120000"
    start = datetime(2018, 1, 1) + timedelta(days=rng.randrange(3600), minutes=30 * rng.randrange(48))
    return f"DTSTART:{start:%Y%m%dT%H%M%S}\nRRULE:" + ";".join(f"{k}={v}" for k, v in parts.items())


class Oracle(unittest.TestCase):
    def test_they_occur_when_the_library_says(self) -> None:
        rng, seen = random.Random(3), 0
        for _ in range(deep_or(250, 5000)):
            rule = random_rule(rng)
            try:
                check_rule(rule)
            except BadText:
                continue  # it never occurs, such as every third month from May in October
            first = occurrences(rule, UNTIL + timedelta(4000))[:1]
            if first and rng.random() < 0.2:
                rule += f"\nEXDATE:{first[0]:%Y%m%dT%H%M00}"
            if rng.random() < 0.2:
                rule += "\nRDATE:20270301T100000,20280101T000000"
            theirs = [m.replace(second=0) for m in itertools.takewhile(lambda m: m <= UNTIL, rrulestr(rule))]
            self.assertEqual(occurrences(rule, UNTIL), theirs, rule)
            seen += bool(theirs)
        self.assertGreater(seen, 150)

    def test_ordinals_stand_beside_plain_weekdays(self) -> None:
        """RFC 5545, 3.3.10: each of them adds its days; the library takes only what is both."""
        found = occurrences("DTSTART:20260101T080000\nRRULE:FREQ=MONTHLY;BYDAY=1MO,FR", datetime(2026, 1, 31))
        self.assertEqual([m.day for m in found], [2, 5, 9, 16, 23, 30])


class Hostile(unittest.TestCase):
    NONE = (
        "FREQ=DAILY;INTERVAL=0", "FREQ=DAILY;INTERVAL=-1", "FREQ=MONTHLY;BYDAY=99MO", "FREQ=MONTHLY;BYDAY=0MO",
        "FREQ=WEEKLY;BYMONTH=2;BYMONTHDAY=30", "FREQ=DAILY;INTERVAL=7;BYDAY=MO", "FREQ=YEARLY;BYMONTH=13",
        "FREQ=DAILY;BYSETPOS=5", "FREQ=WEEKLY;BYDAY=MO;BYSETPOS=7", "FREQ=YEARLY;BYYEARDAY=400", "FREQ=",
        "FREQ=HOURLY", "FREQ=DAILY;COUNT=0", "FREQ=DAILY;COUNT=99999999999999999999", "FREQ=DAILY;UNTIL=99999999",
        "FREQ=DAILY;UNTIL=20261301", "FREQ=DAILY;FREQ=DAILY", "FREQ=DAILY;X=1", "FREQ=DAILY;INTERVAL=²",
        "FREQ=DAILY;BYHOUR=24", "FREQ=DAILY;BYMONTH=", "FREQ=DAILY;BYDAY=XX", "INTERVAL=2",
        "FREQ=DAILY;INTERVAL=" + "9" * 1500,
    )  # fmt: skip

    def test_a_rule_that_is_none_or_never_occurs_is_refused_at_once(self) -> None:
        for rule in self.NONE:
            with self.assertRaises(BadText, msg=rule):
                check_rule(f"DTSTART:20260101T080000\nRRULE:{rule}")
        for text in (
            "DTSTART:00010101\nRRULE:FREQ=DAILY", "DTSTART:99991231\nRRULE:FREQ=DAILY", "", "RRULE:FREQ=DAILY",
            "DTSTART:20260101", "DTSTART:20260101\nRDATE:x", "DTSTART:20260230\nRRULE:FREQ=DAILY",
        ):  # fmt: skip
            with self.assertRaises(BadText, msg=text):
                check_rule(text)

    def test_what_is_left_out_may_be_odd_as_well(self) -> None:
        for rule in self.NONE:
            text = f"DTSTART:20260101T080000\nRRULE:FREQ=YEARLY;COUNT=3\nEXRULE:{rule}"
            try:
                self.assertEqual(len(occurrences(text, UNTIL)), 3, "one that never occurs leaves nothing out")
            except BadText:
                continue

    @settings(max_examples=deep_or(150, 5000), deadline=None)
    @given(st.text(alphabet="DTSRULEXAF=;:,-+0123456789MOWHBYNQ\n ", max_size=120) | st.text(max_size=60))
    def test_nothing_but_a_sentence_comes_of_nonsense(self, text: str) -> None:
        for rule in (text, f"DTSTART:20260101T080000\nRRULE:{text}", f"DTSTART:20260101T080000\n{text}"):
            try:
                found = moments_of(rule, 40_000_000, 50)
            except BadText:
                continue
            self.assertEqual(found, sorted(set(found)))

    @settings(max_examples=deep_or(60, 2000), deadline=None)
    @given(st.integers(0, 10**9), st.integers(-50, 300))
    def test_a_rule_that_is_moved_by_weeks_occurs_so_much_later(self, seed: int, weeks: int) -> None:
        rng = random.Random(seed)
        start = datetime(2026, 1, 1) + timedelta(days=rng.randrange(400), hours=8)
        rule = f"DTSTART:{start:%Y%m%dT%H%M%S}\nRRULE:FREQ=WEEKLY;BYDAY={rng.choice(DAYS)},{rng.choice(DAYS)}"
        rule += rng.choice(
            (";COUNT=9", f";UNTIL={start + timedelta(90):%Y%m%d}", f";UNTIL={start + timedelta(50):%Y%m%dT000000}")
        )
        first = occurrences(rule, UNTIL)
        if rng.random() < 0.5:
            rule += f"\nEXDATE:{first[1]:%Y%m%dT%H%M%S},{first[3]:%Y%m%dT%H%M%S}"
        by = timedelta(weeks=weeks)
        wanted = [m + by for m in occurrences(rule, UNTIL)]
        self.assertEqual(occurrences(moved(rule, 7 * weeks), UNTIL + by), wanted)


if __name__ == "__main__":
    unittest.main()
