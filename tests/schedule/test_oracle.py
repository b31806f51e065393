"""Both passes against the slow twins, on plans that hypothesis draws and shrinks."""

from __future__ import annotations

import unittest

from hypothesis import HealthCheck, Phase, given, settings

from hexapod.errors import CannotSchedule
from hexapod.plan.plan import Plan
from hexapod.plan.validity import check_whole
from hexapod.schedule.engine import schedule
from hexapod.worktime.calendars import Window
from tests.budgets import IS_DEEP, deep_or
from tests.schedule.late_twin import disagreements, told
from tests.schedule.plans import FIRST_DAY, crowded, plans, summaries, under_way

WINDOW = Window(FIRST_DAY - 120, FIRST_DAY + 160)
MANY = settings(
    max_examples=deep_or(120, 6000),
    derandomize=not IS_DEEP,
    deadline=None,
    database=None,
    phases=list(Phase) if IS_DEEP else [Phase.generate],  # to shrink what is found takes minutes
    suppress_health_check=list(HealthCheck),
)


class AgainstTheSlowTwin(unittest.TestCase):
    @MANY
    @given(plans(5))
    def test_every_date_float_and_path_of_small_plans(self, plan: Plan) -> None:
        self.agree(plan)

    @settings(MANY, max_examples=deep_or(30, 1500))
    @given(plans(40))
    def test_every_date_float_and_path_of_larger_plans(self, plan: Plan) -> None:
        self.agree(plan)

    @settings(MANY, max_examples=deep_or(400, 6000))
    @given(summaries())
    def test_every_date_float_and_path_around_a_summary(self, plan: Plan) -> None:
        self.agree(plan)

    @settings(MANY, max_examples=deep_or(400, 6000))
    @given(crowded())
    def test_every_date_float_and_path_of_what_is_rare_at_once(self, plan: Plan) -> None:
        self.agree(plan)

    @settings(MANY, max_examples=deep_or(250, 12000))
    @given(under_way(5))
    def test_every_date_float_and_path_of_work_under_way(self, plan: Plan) -> None:
        self.agree(plan)

    @settings(MANY, max_examples=deep_or(30, 1500))
    @given(under_way(30))
    def test_every_date_float_and_path_of_larger_plans_under_way(self, plan: Plan) -> None:
        self.agree(plan)

    def agree(self, plan: Plan) -> None:
        check_whole(plan)
        try:
            fast = schedule(plan)
        except CannotSchedule:  # calendars that never meet
            return
        self.assertIn(disagreements(plan, fast, WINDOW), ([], None), told(plan))


if __name__ == "__main__":
    unittest.main()
