"""Expressions that try to take for ever, or to blow up: each value once, numbers and depth bounded, dates in range."""

from __future__ import annotations

import math
import random
import unittest
from unittest.mock import patch

from hypothesis import given, settings
from hypothesis import strategies as st

from hexapod.errors import BadText
from hexapod.expressions import language
from hexapod.expressions.language import OutOfRange
from hexapod.fields.formulas import FUNCTIONS, compile_formula, names_of
from hexapod.fields.reading import Reading
from hexapod.fields.table import FIELDS
from hexapod.plan.plan import Plan
from hexapod.plan.ranks import ranks_between
from hexapod.plan.records import DAY, Field, FieldKind
from hexapod.schedule.engine import schedule
from hexapod.worktime.arithmetic import shifted, worked
from hexapod.worktime.calendars import Window, compile_calendar, pool_of
from hexapod.worktime.spans import WorkSpan
from tests.budgets import deep_or
from tests.support import MONDAY, project, random_calendar, tasks


def plan_with(formulas: dict[str, str]) -> Plan:
    ranks = ranks_between(None, None, len(formulas))
    own = [Field(f"f{i}", n, r, FieldKind.COMPUTED, (), f)
           for i, ((n, f), r) in enumerate(zip(formulas.items(), ranks, strict=True))]  # fmt: skip
    return Plan.of([project(), *tasks(("a", 480)), *own])


def value(plan: Plan, formula: str) -> object:
    return compile_formula(plan, formula).run(Reading(plan, schedule(plan), plan.tasks["a"]))


class Bounded(unittest.TestCase):
    def test_each_value_is_computed_once_however_often_it_is_used(self) -> None:
        formulas = {"v0": "priority + 1"}
        formulas |= {f"v{i}": " + ".join([f"v{i - 1}"] * 20) for i in range(1, 7)}
        plan = plan_with(formulas)
        steps = 0
        real = language._bounded

        def counted(found: object) -> object:
            nonlocal steps
            steps += 1
            return real(found)  # type: ignore[arg-type]

        with patch("hexapod.expressions.language._bounded", counted):
            self.assertEqual(value(plan, "v6"), 6 * 20**6)
        self.assertLess(steps, 6 * 20 + 5)

    def test_many_fields_in_reverse_order_are_each_read_once(self) -> None:
        formulas = {f"v{i}": f"v{i + 1} + 1" for i in range(60)} | {"v60": "1"}
        plan = plan_with(formulas)
        with patch("hexapod.fields.formulas.parse", wraps=language.parse) as parse:
            names = names_of(plan)
            self.assertEqual(parse.call_count, 61)
        self.assertGreater(len([n for n in names if n.startswith("v")]), 50)
        many = plan_with({f"v{i}": f"v{i + 1} + 1" for i in range(300)} | {"v300": "1"})
        with patch("hexapod.fields.formulas.parse", wraps=language.parse) as parse:
            names_of(many)
            self.assertEqual(parse.call_count, 301)

    def test_circles_leave_the_others(self) -> None:
        plan = plan_with({"one": "two", "two": "one", "three": "four + 1", "four": "priority", "five": "one + 1"})
        found = set(names_of(plan)) - {name for field in FIELDS for name in (field.asked_by, *field.also)}
        self.assertEqual(found, {"three", "four"})

    def test_what_is_too_long_too_deep_or_too_large_is_said(self) -> None:
        plan = plan_with({})
        for formula in ("1" + "+1" * 500, "-" * 100 + "1", "(" * 100 + "1" + ")" * 100, "9" * 1000, "1" + "&1" * 300,
                        "not " * 200 + "critical", "if yes then " * 60 + "1"):  # fmt: skip
            with self.assertRaises(BadText, msg=formula[:20]):
                compile_formula(plan, formula)
        self.assertEqual(value(plan, "1" + "+1" * 100), 101)
        huge = "*".join(["999999999999"] * 20)
        for formula in (huge, "1 / 0", "money(999999999999999) * 1000", "start + 1d * 999999999999999"):
            self.assertIsNone(value(plan, formula))

    def test_a_date_out_of_range_is_said_and_one_far_away_is_right(self) -> None:
        plan = plan_with({})
        for formula in ("start + 1d * 9999999999", "start + 100000 w", "start - 100000 w"):
            found = compile_formula(plan, formula)
            reading = Reading(plan, schedule(plan), plan.tasks["a"])
            with self.assertRaises(OutOfRange):
                found.run(reading)
            self.assertIsNone(found.value(reading))
        weeks = 700  # of five days: beyond the days that a plan's calendars are compiled for
        self.assertEqual(value(plan, f"midnight(start + {weeks} w)"), (MONDAY // DAY + 7 * weeks - 3) * DAY)
        self.assertEqual(value(plan, f"(start + {weeks} w) - start"), weeks * 5 * 480)

    def test_working_time_is_that_of_the_kernels(self) -> None:
        rng = random.Random(12)
        for _ in range(deep_or(30, 500)):
            calendar = random_calendar(rng, "c")
            window = Window(MONDAY // DAY - 400, MONDAY // DAY + 800)
            pool = pool_of([compile_calendar({"c": calendar}, "c", window)], window)
            span = WorkSpan({"c": calendar}, "c")
            for _ in range(20):
                moment, length = MONDAY + rng.randrange(200 * DAY), rng.randrange(-20_000, 20_000)
                self.assertEqual(span.shifted(moment, length), shifted(pool, 0, moment, length))
                later = moment + rng.randrange(90_000)
                self.assertEqual(span.minutes(moment, later), worked(pool, 0, later) - worked(pool, 0, moment))

    SIGNS = (*"()+-*/&=<,1", "and", "or", "not", "if", "then", "else", "99999999", "yes", "is", "empty", "contains")
    NAMES = (*(field.asked_by for field in FIELDS), *(f"{name}(" for name in FUNCTIONS))
    WORDS = (*NAMES, *SIGNS, "1 d", "700 w", "2026-01-01", '"x"')

    @settings(max_examples=deep_or(150, 10_000), deadline=None)
    @given(st.lists(st.sampled_from(WORDS), max_size=30) | st.text(max_size=40).map(lambda text: [text]))
    def test_whatever_is_written_gives_a_sentence_or_a_value_in_bounds(self, words: list[str]) -> None:
        plan = plan_with({})
        try:
            found = compile_formula(plan, " ".join(words)).value(Reading(plan, schedule(plan), plan.tasks["a"]))
        except BadText:
            return
        if isinstance(found, int | float):
            self.assertTrue(math.isfinite(found) and abs(found) <= language.LARGEST)


if __name__ == "__main__":
    unittest.main()
