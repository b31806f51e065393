"""Estimates and the register: what they must be, and what becomes of them when what they name changes or goes."""

from __future__ import annotations

import json
import unittest

from msgspec.structs import replace

from hexapod.errors import BadFile, EditRefused
from hexapod.formats.plan_json import read_plan, write_plan
from hexapod.plan import edits
from hexapod.plan.edits import Edit
from hexapod.plan.edits.copying import bring_back
from hexapod.plan.estimates import Shape
from hexapod.plan.plan import Plan
from hexapod.plan.records import Resource, TaskKind
from hexapod.plan.risks import AnswerKind, Risk, RiskDelay, RiskKind, RiskState
from tests.support import DAY, carried_out, project, tasks

RISK = Risk(
    "q", "p", "Glass comes broken", cause="Long road", chance=0.2, delays=(RiskDelay("a", (60, 120, 480)),),
    cost=(100, 200, 900), answer=AnswerKind.LESSEN, answer_note="Order spare panes", answer_cost=50, chance_after=0.05,
    delays_after=(RiskDelay("a", (0, 10, 20)), RiskDelay("b", (1, 2, 3))), owner="mo", due=20700, until=20800,
    about=("c",), notes="Ask again",
)  # fmt: skip


class Register(unittest.TestCase):
    def setUp(self) -> None:
        mo = Resource("mo", "Mo", "a0", initials="MO")
        self.plan = Plan.of([project(), *tasks(("a", 3 * DAY), ("b", DAY), ("c", 2 * DAY)), mo, RISK])

    def do(self, edit: Edit) -> Plan:
        self.plan = carried_out(self.plan, edit)
        return self.plan

    def test_everything_comes_back_from_a_document(self) -> None:
        self.do(edits.set_estimates(self.plan, ["a"], (60, 120, 480)))
        self.do(edits.set_shape(self.plan, ["a"], Shape.UNIFORM))
        self.do(edits.set_moves_together(self.plan, "p", {"Glass": 0.5, "Wood": 0.0}))
        again = read_plan(write_plan(self.plan))
        self.assertEqual((again.risks, again.tasks["a"].estimate), (self.plan.risks, (60, 120, 480)))
        self.assertEqual((again.tasks["a"].shape, again.projects["p"].moves_together),
                         (Shape.UNIFORM, (("Glass", 0.5),)))  # fmt: skip

    def test_what_makes_no_sense_is_refused_in_a_sentence(self) -> None:
        plan = self.plan
        for edit, said in (
            (edits.set_estimates(plan, ["a"], (900, 300)), "from the best to the worst"),
            (edits.set_estimates(plan, ["a"], (300, 200, 900)), "from the best to the worst"),
            (edits.set_estimates(plan, ["a"], (0, 300)), "from a minute"),
            (edits.set_task(plan, "a", "Milestone", duration=0, estimate=(1, 2)), "milestone: it takes no time"),
            (edits.set_task(plan, "a", "Milestone", kind=TaskKind.MILESTONE, estimate=(1, 2)), "milestone"),
            (edits.set_moves_together(plan, "p", {"Glass": 2.0}), "between 0 and 1"),
            (edits.save_risk(plan, replace(RISK, chance=1.3)), "between 0 and 100 %"),
            (edits.save_risk(plan, replace(RISK, chance=float("nan"))), "between 0 and 100 %"),
            (edits.save_risk(plan, replace(RISK, name=" ")), "needs a name"),
            (edits.save_risk(plan, replace(RISK, cost=(3, 2, 1))), "from the best to the worst"),
            (edits.save_risk(plan, replace(RISK, delays=RISK.delays * 2)), "twice"),
            (edits.save_risk(plan, replace(RISK, delays=(RiskDelay("z", (1, 2, 3)),))), "“z” that does not exist"),
            (edits.save_risk(plan, replace(RISK, owner="nobody")), "“nobody”, who does not exist"),
            (edits.save_risk(plan, replace(RISK, until=10**9)), "outside 1970 to 2129"),
        ):
            with self.assertRaisesRegex(EditRefused, said):
                self.do(edit)
        with self.assertRaisesRegex(EditRefused, "nothing to estimate"):
            edits.spread_estimates(self.plan, {}, "Nothing")
        document = json.loads(write_plan(self.plan))
        document["risks"][0]["delays"][0]["minutes"] = [1]
        with self.assertRaisesRegex(BadFile, r"risks\[0\].delays\[0\].minutes: must be \[best, likely, worst\]"):
            read_plan(json.dumps(document).encode())

    def test_of_two_lengths_the_duration_becomes_the_likely_one_where_it_lies_outside(self) -> None:
        self.do(edits.set_estimates(self.plan, ["a"], (DAY, 7 * DAY)))
        self.assertEqual(self.plan.tasks["a"].duration, 3 * DAY)
        self.do(edits.set_estimates(self.plan, ["a"], (4 * DAY, 7 * DAY)))
        self.assertEqual(self.plan.tasks["a"].duration, 5 * DAY)
        self.do(edits.set_durations(self.plan, ["a"], 0))
        self.assertEqual(self.plan.tasks["a"].estimate, (), "a milestone has none")

    def test_a_span_goes_around_each_length_that_is_still_to_come(self) -> None:
        self.do(edits.finish(self.plan, ["b"], self.plan.projects["p"].start + 1440))
        spans = dict.fromkeys("abc", (20, 50))
        self.do(edits.spread_estimates(self.plan, spans, "Spread"))
        self.assertEqual(self.plan.tasks["a"].estimate, (round(2.4 * DAY), 3 * DAY, round(4.5 * DAY)))
        self.assertEqual(self.plan.tasks["b"].estimate, ())

    def test_a_task_that_goes_leaves_the_risk_and_comes_back_into_it(self) -> None:
        before = self.plan
        self.do(edits.remove_tasks(self.plan, ["a", "c"]))
        self.assertEqual(self.plan.risks["q"].tasks, ("b",))
        self.do(bring_back(self.plan, before, "a"))
        self.assertEqual(self.plan.risks["q"].delays, RISK.delays)
        self.assertEqual(set(self.plan.risks["q"].delays_after), set(RISK.delays_after))
        self.do(edits.remove_resource(self.plan, "mo"))
        self.assertIsNone(self.plan.risks["q"].owner)
        self.do(edits.remove_project(self.plan, "p"))
        self.assertFalse(self.plan.risks)

    def test_what_happened_is_an_issue_and_its_delay_is_in_the_plan(self) -> None:
        self.do(edits.set_estimates(self.plan, ["a"], (2 * DAY, 3 * DAY, 5 * DAY)))
        self.do(edits.begin(self.plan, ["a"], self.plan.projects["p"].start))
        self.do(edits.set_percent(self.plan, ["a"], 50))
        rest = self.plan.tasks["a"].rest
        self.do(edits.risk_came(self.plan, "q"))
        task, risk = self.plan.tasks["a"], self.plan.risks["q"]
        self.assertEqual((risk.kind, risk.state), (RiskKind.ISSUE, RiskState.HAPPENED))
        self.assertEqual((task.duration, task.estimate), (3 * DAY + 120, (2 * DAY + 120, 3 * DAY + 120, 5 * DAY + 120)))
        self.assertAlmostEqual(rest + 120, task.rest, delta=1, msg="what was done of it stays done")

    def test_an_action_becomes_a_row_of_its_owner(self) -> None:
        self.do(edits.task_of_action(self.plan, "q", "p", "new"))
        self.assertEqual(self.plan.tasks["new"].name, "Order spare panes")
        self.assertIn(("new", "mo"), self.plan.assignments)
        self.assertIn("new", self.plan.risks["q"].about)

    def test_an_answer_counts_once_it_is_taken(self) -> None:
        self.assertEqual((RISK.chance_of(after=False), RISK.chance_of(after=True)), (0.2, 0.05))
        self.do(edits.take_answer(self.plan, "q"))
        taken = self.plan.risks["q"]
        self.assertEqual((taken.chance_of(after=False), taken.delays_of(after=False)), (0.05, RISK.delays_after))
        self.assertEqual(taken.cost_of(after=False), RISK.cost, "of which nothing was said, it is as before")

    def test_both_parts_of_a_split_task_have_their_part_of_the_estimate(self) -> None:
        self.do(edits.set_estimates(self.plan, ["a"], (2 * DAY, 3 * DAY, 6 * DAY)))
        self.do(edits.split_task(self.plan, "a", DAY))
        rest = next(t for t in self.plan.tasks.values() if t.name.endswith("the rest"))
        self.assertEqual(self.plan.tasks["a"].estimate, (320, 480, 960))
        self.assertEqual(rest.estimate, (640, 960, 1920))


if __name__ == "__main__":
    unittest.main()
