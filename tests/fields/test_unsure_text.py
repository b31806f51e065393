"""Ranges, chances and what risks add, as people type them."""

from __future__ import annotations

import unittest

from hexapod.errors import BadText, HexapodError
from hexapod.fields.estimate_text import echo_of, estimate_words, looks_like_a_range, read_estimate
from hexapod.fields.field import Texts
from hexapod.fields.risk_text import chance_text, costs_text, delays_text, read_chance, read_costs, read_delays
from hexapod.fields.typing import set_duration, set_estimate
from hexapod.plan.plan import Plan
from hexapod.plan.risks import RiskDelay
from hexapod.worktime.lengths import USUAL
from tests.support import DAY, project, tasks

H = 60


class Ranges(unittest.TestCase):
    def test_what_people_type(self) -> None:
        for text, minutes in (
            ("3-8 d", (3 * DAY, 8 * DAY)),
            ("3 – 8", (3 * DAY, 8 * DAY)),
            ("3d-8d", (3 * DAY, 8 * DAY)),
            ("3 to 8 days", (3 * DAY, 8 * DAY)),
            ("3 5 9 d", (3 * DAY, 5 * DAY, 9 * DAY)),
            ("3/5/9", (3 * DAY, 5 * DAY, 9 * DAY)),
            ("4 h - 2 d", (4 * H, 2 * DAY)),
            ("1.5-2,5 d", (720, 1200)),
            ("1-2 w", (5 * DAY, 10 * DAY)),
            ("10 d ± 20 %", (8 * DAY, 10 * DAY, 12 * DAY)),
        ):
            self.assertTrue(looks_like_a_range(text), text)
            self.assertEqual(read_estimate(text, USUAL), (minutes, False), text)
        self.assertEqual(read_estimate("1-2 d elapsed", USUAL), ((1440, 2880), True))

    def test_a_single_length_is_no_range(self) -> None:
        for text in ("3d", "1w 2d", "2 h 30 min", "", "0", "36 h elapsed", "1.5 d", "soon"):
            self.assertFalse(looks_like_a_range(text), text)

    def test_what_goes_down_or_begins_with_nothing_is_refused(self) -> None:
        for text, said in (("8-3 d", "goes down"), ("5 3 9 d", "goes down"), ("0-3 d", "more than nothing"),
                           ("3d", "no range"), ("a-b", "not a length|no range")):  # fmt: skip
            with self.assertRaisesRegex(BadText, said):
                read_estimate(text, USUAL)

    def test_it_is_shown_as_it_can_be_typed(self) -> None:
        for estimate in ((240, 2 * DAY), (3 * DAY, 5 * DAY, 9 * DAY), (45, 100)):
            self.assertEqual(read_estimate(estimate_words(estimate, False, USUAL), USUAL), (estimate, False))
        self.assertIn("a third of the way", echo_of((3 * DAY, 9 * DAY), DAY, False, USUAL))
        self.assertIn("likely 4 d, as it is", echo_of((3 * DAY, 9 * DAY), 4 * DAY, False, USUAL))

    def test_it_may_be_typed_where_the_duration_stands(self) -> None:
        plan = Plan.of([project(), *tasks(("a", 3 * DAY), ("b", DAY))])
        after = set_duration(Texts(plan), ["a", "b"], "2-6 d").applied_to(plan)
        self.assertEqual({t: (x.estimate, x.duration) for t, x in after.tasks.items()},
                         {"a": ((2 * DAY, 6 * DAY), 3 * DAY), "b": ((2 * DAY, 6 * DAY), 2 * DAY + 640)})  # fmt: skip
        self.assertEqual(set_estimate(Texts(after), ["a"], "").applied_to(after).tasks["a"].estimate, ())


class Registers(unittest.TestCase):
    def setUp(self) -> None:
        self.plan = Plan.of([project(), *tasks(("a", 3 * DAY), ("b", DAY))])

    def test_chances(self) -> None:
        for text, chance in (("20 %", 0.2), ("1 in 5", 0.2), ("0.2", 0.2), ("0,2", 0.2), ("25", 0.25), ("100 %", 1.0),
                             ("0", 0.0), ("3 of 4", 0.75)):  # fmt: skip
            self.assertEqual(read_chance(text), chance, text)
        for text in ("130 %", "6 in 5", "often", "", "-3 %", "1 in 0"):
            with self.assertRaises(BadText):
                read_chance(text)
        self.assertEqual(read_chance(chance_text(1 / 3)), 0.3333)

    def test_what_is_added_to_which_rows(self) -> None:
        found = read_delays(self.plan, "p", "1: 3-8 d; B: 1 d 2 d 5 d; ".replace("1 d 2 d 5 d", "1 2 5 d"))
        self.assertEqual(found[0].task, self.plan.children_of("p", None)[0])
        self.assertEqual([d.minutes for d in found], [(3 * DAY, 3 * DAY + 800, 8 * DAY), (DAY, 2 * DAY, 5 * DAY)])
        self.assertEqual(read_delays(self.plan, "p", delays_text(self.plan, "p", found)), found)
        self.assertEqual(delays_text(self.plan, "p", found[:1]), "1: 3 d – 8 d")
        one = (RiskDelay("a", (240, 240, 240)),)
        self.assertEqual(read_delays(self.plan, "p", delays_text(self.plan, "p", one)), one)
        for text in ("9: 3 d", "Glass: 3 d", "1: soon", "1"):
            with self.assertRaises(HexapodError):
                read_delays(self.plan, "p", text)

    def test_costs(self) -> None:
        for text, cost in (("", None), ("8", (8, 8, 8)), ("8; 20", (8, 12, 20)), ("8;9;20", (8, 9, 20))):
            self.assertEqual(read_costs(text, int), cost)
        for cost, text in ((None, ""), ((8, 8, 8), "8"), ((8, 12, 20), "8; 20"), ((8, 9, 20), "8; 9; 20")):
            self.assertEqual(costs_text(cost, str), text)
        for text in ("9; 8", "1;2;3;4"):
            with self.assertRaises(BadText):
                read_costs(text, int)


if __name__ == "__main__":
    unittest.main()
