"""The expression language: what it computes against plain Python, its kinds, and its refusals in words."""

from __future__ import annotations

import random
import re
import unittest

from msgspec.structs import replace

from hexapod.errors import BadText
from hexapod.expressions.values import Kind, format_value
from hexapod.fields.formulas import compile_formula, names_of
from hexapod.fields.reading import Reading
from hexapod.plan.plan import Plan
from hexapod.plan.records import Field, FieldKind, Link
from hexapod.schedule.engine import schedule
from tests.support import DAY, at, project, tasks


class Expressions(unittest.TestCase):
    def setUp(self) -> None:
        a, b = tasks(("a", 2 * DAY), ("b", DAY))
        b = replace(b, fields=(("Cost", 12050), ("Room", "East")), target=at("2026-09-10T17:00"))
        own = [
            Field("c", "Cost", "a0", FieldKind.MONEY), Field("r", "Room", "a1", FieldKind.TEXT),
            Field("d", "Double cost", "a2", FieldKind.COMPUTED, formula="cost * 2"),
        ]  # fmt: skip
        self.plan = Plan.of([project(), a, b, *own, Link("a", "b")])
        self.dates = schedule(self.plan)

    def value(self, text: str, task: str = "b") -> object:
        found = compile_formula(self.plan, text)
        return found.run(Reading(self.plan, self.dates, self.plan.tasks[task]))

    def test_arithmetic_against_python(self) -> None:
        rng = random.Random(71)

        def made(depth: int) -> str:
            if depth == 0 or rng.random() < 0.2:
                return str(rng.randrange(1, 50))
            left, right = made(depth - 1), made(depth - 1)
            form = rng.choice(
                ("{} + {}", "{} - {}", "({} * {})", "({}) / ({})", "-({}) + {}", "max({}, {})", "min({}, {})")
            )
            return form.format(left, right)

        for _ in range(400):
            text = made(4)
            try:
                expected = eval(text)  # the test's own text
            except ZeroDivisionError:
                expected = None
            found = self.value(text)
            if expected is None:
                self.assertIsNone(found)
            else:
                self.assertAlmostEqual(found, expected, msg=text)  # type: ignore[arg-type]

    def test_the_plans_fields_and_ones_own(self) -> None:
        for text, expected in {
            "duration + 4 h": 720, "finish - start": DAY, "start + 2 d - start": 2 * DAY, "target - finish": DAY,
            "float < 1 d and critical": True, "if target is empty then \"none\" else \"set\"": "set",
            "Cost + money(10)": 13050, "double cost": 24100, "room & \"!\"": "East!", "room contains \"eas\"": True,
            "name = \"B\"": True, "not summary": True, "days(duration) * 3": 3.0, "weekday(finish)": "Wednesday",
            "week(start)": 37, "[Double Cost] / 2": 12050.0, "cost is not empty": True,
            "max(start, 2030-01-01) > finish": True,
        }.items():  # fmt: skip
            self.assertEqual(self.value(text), expected, text)

    def test_what_is_empty_stays_empty_and_tests_of_it_fail(self) -> None:
        self.assertIsNone(self.value("cost * 2", "a"))
        self.assertIsNone(self.value("target - finish", "a"))
        self.assertFalse(self.value("cost > money(1)", "a"))
        self.assertFalse(self.value("cost <= money(1)", "a"))
        self.assertIsNone(self.value("1 / 0"))

    def test_mistakes_are_said_in_words(self) -> None:
        for text, says in {
            "finsh - start": "Do you mean finish", "start + 3": "number cannot be added to a date", "": "missing",
            "(1 + 2": "“)” is missing", "1 +": "missing at the end",
            "if critical then 1 else \"x\"": "both must be alike",
            "name * 2": "cannot be multiplied", "max(1)  2": "not expected", "round(\"x\")": "takes a number",
            "first(name)": "takes 2", "critical and 1": "yes/no", "start < 3": "cannot be compared",
            "name & 1": "joins texts",
            "__import__(\"os\")": "nothing called", "(lambda: 1)()": "cannot stand", "a.b": "cannot stand",
            "9**9": "not expected",
            "(" * 200 + "1": "nested", "1 " * 2000: "characters", "1 ; 2": "cannot stand",
        }.items():  # fmt: skip
            with self.assertRaisesRegex(BadText, re.escape(says), msg=text[:40]):
                compile_formula(self.plan, text)

    def test_a_field_cannot_be_computed_from_itself(self) -> None:
        one = Field("x", "One", "a5", FieldKind.COMPUTED, formula="two + 1")
        two = Field("y", "Two", "a6", FieldKind.COMPUTED, formula="one + 1")
        draft = self.plan.draft()
        draft.put(one)
        draft.put(two)
        plan = draft.finish()[0]
        self.assertNotIn("one", names_of(plan))
        with self.assertRaises(BadText):
            compile_formula(plan, "one + 1", two)
        with self.assertRaises(BadText):
            compile_formula(self.plan, "double cost + cost", self.plan.fields["d"])

    def test_values_as_a_cell_shows_them(self) -> None:
        shown = {
            (Kind.LENGTH, 720): "1.5 d", (Kind.MONEY, 125050): "1,250.50", (Kind.YES_NO, True): "yes",
            (Kind.DATE, at("2026-09-07T00:00")): "2026-09-07", (Kind.NUMBER, 2.0): "2", (Kind.TEXT, None): "",
        }  # fmt: skip
        for (kind, value), text in shown.items():
            self.assertEqual(format_value(kind, value), text)


if __name__ == "__main__":
    unittest.main()
