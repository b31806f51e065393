"""Values of own fields, as they are typed, kept and shown."""

from __future__ import annotations

import random
import unittest

from hexapod.errors import BadText
from hexapod.fields.own_text import format_value, parse_value
from hexapod.plan.plan import Plan
from hexapod.plan.records import Field, FieldKind, Resource
from tests.support import at, project

PLAN = Plan.of([project(), Resource("r", "Mo Okon", "a0", initials="MO")])


def field(kind: FieldKind, *choices: str) -> Field:
    return Field("f", "Thing", "a0", kind, choices)


class Values(unittest.TestCase):
    def test_what_is_typed_and_what_is_kept(self) -> None:
        for kind, text, kept in (
            (FieldKind.TEXT, "  East wing ", "East wing"), (FieldKind.NUMBER, "3", 3), (FieldKind.NUMBER, "2,5", 2.5),
            (FieldKind.NUMBER, "−4", -4), (FieldKind.NUMBER, "1,250.5", 1250.5), (FieldKind.NUMBER, "1.250,5", 1250.5),
            (FieldKind.MONEY, "£ 1,250.50", 125050), (FieldKind.MONEY, "12", 1200), (FieldKind.YES_NO, "Y", True),
            (FieldKind.YES_NO, "no", False), (FieldKind.DATE, "2026-09-07", at("2026-09-07T00:00")),
            (FieldKind.PERSON, "mo", "r"), (FieldKind.PERSON, "Mo Okon", "r"), (FieldKind.TEXT, "   ", None),
        ):  # fmt: skip
            self.assertEqual(parse_value(PLAN, field(kind), text), kept, (kind, text))

    def test_a_choice_takes_the_beginning_of_a_word(self) -> None:
        rooms = field(FieldKind.CHOICE, "North", "North hall", "East")
        for text, kept in (("east", "East"), ("e", "East"), ("north", "North"), ("north h", "North hall")):
            self.assertEqual(parse_value(PLAN, rooms, text), kept)
        for text in ("nor", "west"):
            with self.assertRaisesRegex(BadText, "takes one of North"):
                parse_value(PLAN, rooms, text)

    def test_what_does_not_fit_is_said(self) -> None:
        for kind, text, says in (
            (FieldKind.NUMBER, "some", "a number"), (FieldKind.NUMBER, "1e99", "fifteen digits"),
            (FieldKind.MONEY, "much", "a number"), (FieldKind.YES_NO, "perhaps", "yes or no"),
            (FieldKind.DATE, "soon", "not a date"), (FieldKind.PERSON, "Nobody", "not known"),
            (FieldKind.COMPUTED, "1", "is computed"),
        ):  # fmt: skip
            with self.assertRaisesRegex(BadText, says):
                parse_value(PLAN, field(kind), text)

    def test_what_is_shown_can_be_typed_again(self) -> None:
        rng = random.Random(95)
        for _ in range(300):
            for kind, value in (
                (FieldKind.NUMBER, rng.randrange(-(10**6), 10**6)), (FieldKind.NUMBER, round(rng.uniform(-99, 99), 3)),
                (FieldKind.MONEY, rng.randrange(-(10**8), 10**8)), (FieldKind.YES_NO, rng.random() < 0.5),
                (FieldKind.DATE, at("2026-01-01T00:00") + rng.randrange(10**6)),
            ):  # fmt: skip
                text = format_value(PLAN, field(kind), value)
                self.assertEqual(parse_value(PLAN, field(kind), text), value, (kind, text))


if __name__ == "__main__":
    unittest.main()
