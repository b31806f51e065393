"""What all projects will have cost, against the table of each of them."""

from __future__ import annotations

import random
import unittest

from hexapod.control.efforts import Efforts
from hexapod.control.ledger import Ledger
from hexapod.control.money import Costing, Step
from hexapod.control.outlay import outlays
from hexapod.outlook.figures import months_of
from hexapod.plan.plan import Plan
from hexapod.schedule.engine import schedule
from tests.control.spent_plans import FIRST, spent_plan
from tests.support import DAY, project, tasks


class Outlays(unittest.TestCase):
    def test_each_project_costs_what_its_table_says_in_all_and_by_month(self) -> None:
        paid = 0
        for seed in range(40):
            rng = random.Random(seed)
            plan = spent_plan(rng)
            dates = schedule(plan)
            today = FIRST + rng.randrange(-5, 60)
            efforts, ledger = Efforts.of(dates), Ledger.of(plan)
            months = months_of(dates)
            found = outlays(dates, efforts, months, today)
            alone = outlays(dates, efforts, (today, today + 1), today)
            for each in plan.projects:
                table = Costing.of(efforts, ledger, each, today).table(Step.MONTH, today)
                whole = table.whole
                self.assertEqual((found[each].whole, found[each].budget), (whole.expected, whole.budget), seed)
                self.assertEqual(alone[each].whole, whole.expected, seed)
                expected = [0] * (len(months) - 1)
                for period in table.periods:
                    before = sum(first <= period.days[0] for first in months)
                    expected[min(max(before - 1, 0), len(expected) - 1)] += period.money.expected
                self.assertEqual(list(found[each].by_month), expected, seed)
                paid += sum(amount > 0 for amount in expected)
        self.assertGreater(paid, 60, "the plans cost something in many months")

    def test_a_plan_without_work_or_projects_costs_nothing(self) -> None:
        for records in ((), (project(),), (project(), *tasks(("a", DAY)))):
            dates = schedule(Plan.of(records))
            found = outlays(dates, Efforts.of(dates), (FIRST, FIRST + 30), FIRST)
            self.assertEqual([0] * len(dates.plan.projects), [each.whole for each in found.values()])


if __name__ == "__main__":
    unittest.main()
