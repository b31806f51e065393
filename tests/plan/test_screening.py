"""What a quick look passes breaks no rule: by plans that are made wrong, one field after the other."""

from __future__ import annotations

import random
import unittest
from unittest.mock import patch

from msgspec.structs import fields, replace

from hexapod.plan.kinds import KINDS
from hexapod.plan.plan import Plan
from hexapod.plan.screening import looks_sound
from hexapod.plan.validity import broken_records
from tests.support import random_plan

ODD = (-1, 0, 11, 10**12, float("nan"), float("inf"), 1e9, "", "x" * 2000, "nobody", None, ("",), True)


def everything_wrong(plan: Plan) -> list[str]:
    """With every record looked at by itself."""
    with patch("hexapod.plan.validity.looks_sound", lambda plan, kind: False):
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
        self.assertFalse(looks_sound(looped, "tasks"))
        self.assertIn("below itself", " ".join(map(str, broken_records(looped))))

    def test_a_usual_plan_is_passed_at_once(self) -> None:
        plan = random_plan(random.Random(5), 50, calendars=1, resources=3)
        self.assertTrue(all(looks_sound(plan, kind) for kind in ("tasks", "links", "assignments")))


if __name__ == "__main__":
    unittest.main()
