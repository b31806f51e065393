"""Quick changes: each decision is an ordinary edit, with the figures that it says."""

from __future__ import annotations

import random
import unittest
from functools import partial

from hexapod.errors import EditRefused
from hexapod.plan import edits
from hexapod.plan.edits import Edit
from hexapod.plan.plan import Plan
from hexapod.plan.records import Assignment, Link, Resource, ResourceKind
from hexapod.plan.validity import check_whole
from hexapod.schedule.engine import schedule
from hexapod.staffing.capacity import Capacity
from tests.support import DAY, MONDAY, project, random_plan, tasks

ROLE = Resource("role", "Joinery", "a0", ResourceKind.ROLE)
CORIN = Resource("corin", "Corin", "a1", role="role", rate=3600, section="Exhibitions")
PLAN = Plan.of([
    project(), *tasks(("a", 4 * DAY), ("b", 10 * DAY), ("c", 0)), Link("a", "b"), Link("b", "c"), ROLE, CORIN,
    Assignment("b", "corin", 0.5),
])  # fmt: skip
TODAY = MONDAY // 1440


class Trying(unittest.TestCase):
    def refused(self, make: object, words: str) -> None:
        with self.assertRaisesRegex(EditRefused, words):
            made = make()  # type: ignore[operator]
            assert isinstance(made, Edit)
            made.applied_to(PLAN)

    def test_who_is_hired_is_there_from_one_day_to_another(self) -> None:
        plan = edits.hire(PLAN, "role", 2, TODAY + 7, TODAY + 13).applied_to(PLAN)
        hired = next(r for r in plan.resources.values() if r.id not in PLAN.resources)
        self.assertEqual((hired.role, hired.section, hired.kind), ("role", "Exhibitions", ResourceKind.TEAM))
        steps = Capacity.of(plan, (hired.id,))
        there = [steps.at(0, (TODAY + day) * 1440) for day in (6, 7, 13, 14)]
        self.assertEqual(there, [0, 2_000_000, 2_000_000, 0])
        self.refused(lambda: edits.hire(PLAN, "corin", 1, TODAY), "no role")
        self.refused(lambda: edits.hire(PLAN, "role", 0, TODAY), "more than none")
        self.refused(lambda: edits.hire(PLAN, "role", 1, TODAY, TODAY - 1), "before the first")

    def test_a_contractor_does_it_in_place_of_who_was_on_it_for_a_price(self) -> None:
        plan = edits.contract(PLAN, ["b"], "Firm", 90_000, (TODAY, TODAY + 9)).applied_to(PLAN)
        (who,) = plan.assigned["b"]
        self.assertEqual((plan.resources[who].name, plan.resources[who].rate), ("Firm", 0))
        (entry,) = plan.entries.values()
        self.assertEqual((entry.amount, entry.task, entry.planned), (90_000, "b", True))
        self.refused(lambda: edits.contract(PLAN, [], "Firm", 1, (TODAY, TODAY)), "which tasks")
        self.refused(lambda: edits.contract(PLAN, ["b"], " ", 1, (TODAY, TODAY)), "needs a name")

    def test_a_delayed_project_starts_later_by_so_much_working_time(self) -> None:
        later = schedule(edits.delay_project(PLAN, "p", 3 * DAY).applied_to(PLAN))
        twin = schedule(Plan.of([project(), *tasks(("x", 3 * DAY))]))
        before, first = schedule(PLAN).dates("a"), later.dates("a")
        self.assertEqual(first.start - before.start, 3 * 1440, "from Monday to Thursday")
        self.assertEqual(twin.dates("x").finish, first.start - 15 * 60, "Wednesday evening")
        twice = edits.delay_project(later.plan, "p", 2 * DAY).applied_to(later.plan)
        self.assertEqual(twice.tasks["a"].hold, 5 * DAY)
        self.assertEqual(twice.tasks["b"].hold, 0, "what waits follows")
        done = edits.finish(PLAN, ["a"], MONDAY + 4 * 1440).applied_to(PLAN)
        self.assertEqual(edits.delay_project(done, "p", DAY).applied_to(done).tasks["b"].hold, DAY, "a is done")
        self.refused(lambda: edits.delay_project(PLAN, "p", 0), "by how much")

    def test_more_people_do_the_same_work_in_less_time(self) -> None:
        plan = edits.crowd(PLAN, ["b"], 2).applied_to(PLAN)
        self.assertEqual(plan.tasks["b"].duration, 5 * DAY)
        self.assertEqual(plan.assignments["b", "corin"].units, 1.0)
        for task in ("a", "c"):
            self.refused(lambda task=task: edits.crowd(PLAN, [task], 2), "Nobody is on that")
        self.refused(lambda: edits.crowd(PLAN, ["b"], 1), "four times")

    def test_scope_is_scaled_with_effort_range_and_rest(self) -> None:
        told = edits.begin(PLAN, ["b"], MONDAY)
        begun = edits.set_rest(told.applied_to(PLAN), ["b"], 6 * DAY).applied_to(told.applied_to(PLAN))
        halved = edits.scale_scope(begun, ["b"], 0.5).applied_to(begun).tasks["b"]
        self.assertEqual((halved.remaining, halved.duration), (3 * DAY, 7 * DAY))
        estimated = edits.set_estimates(PLAN, ["a"], (2 * DAY, 4 * DAY, 8 * DAY)).applied_to(PLAN)
        scaled = edits.scale_scope(estimated, ["a"], 0.5).applied_to(estimated).tasks["a"]
        self.assertEqual((scaled.duration, scaled.estimate), (2 * DAY, (DAY, 2 * DAY, 4 * DAY)))
        self.refused(lambda: edits.scale_scope(PLAN, ["a"], 9), "four times")

    def test_hold_and_drop_change_the_project_and_nothing_below_it(self) -> None:
        held, dropped = (e.applied_to(PLAN) for e in (edits.put_on_hold(PLAN, "p"), edits.drop_project(PLAN, "p")))
        self.assertEqual((held.projects["p"].on_hold, held.projects["p"].archived), (True, False))
        self.assertEqual((dropped.projects["p"].on_hold, dropped.projects["p"].archived), (True, True))
        self.assertEqual((held.tasks, dropped.tasks), (PLAN.tasks, PLAN.tasks))
        back = edits.put_on_hold(held, "p", False).applied_to(held)
        self.assertEqual(back, PLAN)

    def test_seats_of_a_role_are_open_again_to_all_of_it_with_the_same_work(self) -> None:
        plan = edits.open_to_role(PLAN, "role").applied_to(PLAN)
        self.assertEqual(plan.assignments["b", "role"].units, 0.5)
        both = Plan.of([*(r for m in (PLAN.projects, PLAN.tasks, PLAN.links, PLAN.resources, PLAN.assignments)
                          for r in m.values()), Assignment("b", "role", 1.0)])  # fmt: skip
        self.assertEqual(edits.open_to_role(both, "role").applied_to(both).assignments["b", "role"].units, 1.5)

    def test_whatever_the_plan_the_edits_leave_a_sound_one(self) -> None:
        for seed in range(40):
            rng = random.Random(seed)
            plan = random_plan(rng, 15, calendars=1, summaries=True, resources=3, projects=2)
            some, one = rng.sample(sorted(plan.tasks), 3), rng.choice(sorted(plan.projects))
            for make in (
                partial(edits.contract, plan, some, "Firm", 500, (TODAY, TODAY + 5)),
                partial(edits.delay_project, plan, one, 900),
                partial(edits.scale_scope, plan, some, 0.5),
                partial(edits.crowd, plan, some, 3),
                partial(edits.drop_project, plan, one),
            ):
                try:
                    check_whole(make().applied_to(plan))
                except EditRefused as error:
                    self.assertTrue(str(error).endswith("."), error)


if __name__ == "__main__":
    unittest.main()
