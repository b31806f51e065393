"""What a quick look passes breaks no rule: by plans that are made wrong, one field after the other."""

from __future__ import annotations

import random
import unittest
from unittest.mock import patch

from msgspec.structs import fields, replace

from hexapod.plan.kinds import KINDS
from hexapod.plan.plan import Plan
from hexapod.plan.screening import suspects
from hexapod.plan.validity import broken_records
from tests.control.spent_plans import with_records
from tests.support import random_plan

ODD = (-1, 0, 11, 10**12, float("nan"), float("inf"), 1e9, "", "x" * 2000, "nobody", None, ("",), True)


def everything_wrong(plan: Plan) -> list[str]:
    """With every record looked at by itself."""
    with patch("hexapod.plan.validity.suspects", lambda plan, kind, records: records):
        return [str(error) for error in broken_records(plan)]


class Screening(unittest.TestCase):
    def test_a_look_at_all_finds_what_looks_at_each_find(self) -> None:
        rng = random.Random(3)
        wrong = 0
        plan = random_plan(rng, 12, calendars=1, summaries=True, resources=2, projects=2)
        for kind in ("tasks", "links", "assignments"):
            record = rng.choice(list(getattr(plan, kind).values()))
            for field in fields(KINDS[kind].record):
                for value in ODD:
                    if field.name in ("id", "rank", "calendar", "limits", "fields", "reminders") or type(
                        value
                    ) is not type(getattr(record, field.name)):
                        continue
                    others = [r for k in KINDS for r in getattr(plan, k).values() if r is not record]
                    made = Plan.of([*others, replace(record, **{field.name: value})])
                    expected = everything_wrong(made)
                    wrong += bool(expected)
                    self.assertEqual([str(e) for e in broken_records(made)], expected, (kind, field.name, value))
        self.assertGreater(wrong, 15)

    def test_rows_below_themselves_and_links_within_a_branch_are_not_passed(self) -> None:
        plan = random_plan(random.Random(4), 20, summaries=True)
        summary = next(t for t in plan.tasks.values() if plan.is_summary(t.id))
        child = plan.tasks[plan.children_of(summary.project, summary.id)[0]]
        others = [r for k in KINDS for r in getattr(plan, k).values() if r.key not in (summary.id, child.id)]
        looped = Plan.of([*others, replace(summary, parent=child.id), child])
        self.assertEqual(list(suspects(looped, "tasks", list(looped.tasks.values()))), list(looped.tasks.values()))
        self.assertIn("below itself", " ".join(map(str, broken_records(looped))))

    def test_a_usual_plan_is_passed_at_once(self) -> None:
        plan = random_plan(random.Random(5), 50, calendars=1, resources=3)
        for kind in ("tasks", "links", "assignments"):
            self.assertFalse(suspects(plan, kind, list(getattr(plan, kind).values())), kind)

    def test_of_many_only_those_are_looked_at_that_say_more(self) -> None:
        plan = random_plan(random.Random(6), 50, calendars=1, resources=3)
        odd = replace(plan.tasks["t7"], tags=("dust", "a,b"))
        made = with_records(plan, odd)
        self.assertEqual(list(suspects(made, "tasks", list(made.tasks.values()))), [odd])
        self.assertEqual([error.key for error in broken_records(made)], ["t7"])


if __name__ == "__main__":
    unittest.main()
