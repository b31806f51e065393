"""Approvals: a milestone that holds what waits for it, one after the other or side by side, no with a word."""

from __future__ import annotations

import random
import unittest

from msgspec.structs import replace

from hexapod.errors import EditRefused
from hexapod.formats.plan_json import read_plan, write_plan
from hexapod.plan import edits
from hexapod.plan.approvals import ApprovalState
from hexapod.plan.edits import Edit
from hexapod.plan.plan import Plan
from hexapod.plan.records import Link, LinkType, Resource, TaskKind
from hexapod.schedule.engine import schedule
from hexapod.schedule.telling import told_in_full
from tests.support import DAY, at, carried_out, project, random_plan, tasks

NOW = at("2026-09-10T12:00")


class Approvals(unittest.TestCase):
    def setUp(self) -> None:
        people = [Resource(r, r.capitalize(), f"a{i}") for i, r in enumerate(("ada", "bo", "cy"))]
        self.plan = Plan.of([
            project(), *tasks(("draw", DAY), ("build", 2 * DAY), ("paint", DAY)), *people, Link("draw", "build"),
            Link("draw", "paint", LinkType.SS),
        ])  # fmt: skip

    def do(self, edit: Edit) -> None:
        self.plan = told_in_full(carried_out(self.plan, edit), NOW)

    def ask(self, *people: str, in_order: bool = True) -> str:
        made, edit = edits.ask_approval(self.plan, "draw", people or ("ada", "bo"), "Joss", NOW, in_order=in_order)
        self.do(edit)
        return made

    def answer(self, approval: str, person: str, yes: bool = True, word: str = "") -> None:
        self.do(edits.answer_approval(self.plan, approval, person, yes, word, NOW))

    def mark(self, approval: str) -> str:
        return self.plan.approvals[approval].task

    def test_behind_the_work_comes_a_milestone_and_what_waited_for_the_work_waits_for_it(self) -> None:
        approval = self.ask()
        mark = self.plan.tasks[self.mark(approval)]
        self.assertEqual((mark.name, mark.kind, mark.minutes), ("draw approved", TaskKind.MILESTONE, 0))
        self.assertEqual(self.plan.children_of("p", None), ("draw", mark.id, "build", "paint"))
        self.assertEqual(
            set(self.plan.links), {("draw", mark.id, "FS"), (mark.id, "build", "FS"), ("draw", "paint", "SS")}
        )

    def test_while_it_is_open_it_lies_at_the_status_date_and_holds_what_waits(self) -> None:
        approval = self.ask()
        self.do(edits.finish(self.plan, ["draw"], at("2026-09-07T17:00")))
        self.do(edits.set_status_date(self.plan, "p", at("2026-09-10T08:00")))
        dates = schedule(self.plan)
        self.assertGreaterEqual(dates.dates(self.mark(approval)).finish, at("2026-09-10T08:00"))
        self.assertEqual(dates.dates("build").start, at("2026-09-10T08:00"))
        self.do(edits.set_status_date(self.plan, "p", at("2026-09-14T08:00")))
        self.assertEqual(schedule(self.plan).dates("build").start, at("2026-09-14T08:00"))

    def test_in_order_each_has_their_turn_and_the_last_yes_reaches_it(self) -> None:
        approval = self.ask("ada", "bo")
        with self.assertRaisesRegex(EditRefused, "not done yet"):
            self.answer(approval, "ada")
        self.do(edits.finish(self.plan, ["draw"], at("2026-09-07T17:00")))
        with self.assertRaisesRegex(EditRefused, "turn of Ada"):
            self.answer(approval, "bo")
        self.answer(approval, "ada")
        self.assertEqual(self.plan.approvals[approval].turn, ("bo",))
        self.assertFalse(self.plan.tasks[self.mark(approval)].is_done)
        self.answer(approval, "bo")
        self.assertIs(self.plan.approvals[approval].state, ApprovalState.GIVEN)
        self.assertTrue(self.plan.tasks[self.mark(approval)].is_done)
        with self.assertRaisesRegex(EditRefused, "already"):
            self.answer(approval, "bo")

    def test_side_by_side_anybody_may_answer(self) -> None:
        approval = self.ask("ada", "bo", in_order=False)
        self.do(edits.finish(self.plan, ["draw"], at("2026-09-07T17:00")))
        self.assertEqual(self.plan.approvals[approval].turn, ("ada", "bo"))
        self.answer(approval, "bo")
        self.answer(approval, "ada")
        self.assertTrue(self.plan.tasks[self.mark(approval)].is_done)

    def test_no_sends_it_back_with_a_word_and_it_can_be_asked_again(self) -> None:
        approval = self.ask()
        self.do(edits.finish(self.plan, ["draw"], at("2026-09-07T17:00")))
        with self.assertRaisesRegex(EditRefused, "Say why not"):
            self.answer(approval, "ada", False)
        self.answer(approval, "ada", False, "The lift is missing")
        self.assertIs(self.plan.approvals[approval].state, ApprovalState.SENT_BACK)
        self.assertFalse(self.plan.tasks["draw"].is_done)
        self.assertEqual(self.plan.approvals[approval].turn, ())
        self.do(edits.ask_again(self.plan, approval, "Joss", NOW))
        self.assertEqual(self.plan.approvals[approval].turn, ("ada",))
        self.do(edits.finish(self.plan, ["draw"], at("2026-09-09T17:00")))
        self.answer(approval, "ada")
        self.answer(approval, "bo")
        with self.assertRaisesRegex(EditRefused, "agreed already"):
            edits.ask_again(self.plan, approval, "Joss", NOW)

    def test_a_milestone_is_its_own_approval(self) -> None:
        self.do(edits.set_task(self.plan, "draw", "M", kind=TaskKind.MILESTONE, duration=0))
        approval = self.ask("cy")
        self.assertEqual(self.mark(approval), "draw")
        self.assertIsNone(self.plan.approvals[approval].work)
        self.answer(approval, "cy")
        self.assertTrue(self.plan.tasks["draw"].is_done)

    def test_who_left_is_waited_for_no_more_and_what_was_said_stays(self) -> None:
        approval = self.ask("ada", "bo", in_order=False)
        self.do(edits.finish(self.plan, ["draw"], at("2026-09-07T17:00")))
        self.answer(approval, "ada")
        self.do(edits.remove_resource(self.plan, "ada"))
        found = self.plan.approvals[approval]
        self.assertEqual((found.people, found.answers[0].name, found.answers[0].person), (("bo",), "Ada", ""))
        self.answer(approval, "bo")
        self.assertTrue(self.plan.tasks[self.mark(approval)].is_done)

    def test_rows_that_go_take_it_along(self) -> None:
        approval = self.ask()
        self.do(edits.remove_tasks(self.plan, ["draw"]))
        self.assertIsNone(self.plan.approvals[approval].work)
        self.do(edits.remove_tasks(self.plan, [self.mark(approval)]))
        self.assertFalse(self.plan.approvals)

    def test_routes_are_kept_under_a_name(self) -> None:
        self.do(edits.keep_route(self.plan, " Board ", ["ada", "bo"]))
        self.do(edits.keep_route(self.plan, "board", ["cy", "ada"], in_order=False))
        (route,) = self.plan.routes.values()
        self.assertEqual((route.name, route.people, route.in_order), ("board", ("cy", "ada"), False))
        self.do(edits.remove_resource(self.plan, "cy"))
        (route,) = self.plan.routes.values()
        self.assertEqual(route.people, ("ada",))

    def test_what_makes_no_sense_is_refused(self) -> None:
        with self.assertRaisesRegex(EditRefused, "who has to agree"):
            edits.ask_approval(self.plan, "draw", [], "Joss", NOW)
        self.do(edits.set_task(self.plan, "paint", "M", kind=TaskKind.MILESTONE, duration=0))
        _, edit = edits.ask_approval(self.plan, "paint", ["ada"], "Joss", NOW)
        self.do(edit)
        with self.assertRaisesRegex(EditRefused, "already"):
            edits.ask_approval(self.plan, "paint", ["bo"], "Joss", NOW)

    def test_plan_json_brings_all_of_it_back(self) -> None:
        approval = self.ask()
        self.do(edits.finish(self.plan, ["draw"], at("2026-09-07T17:00")))
        self.answer(approval, "ada", False, "Not yet")
        self.do(edits.keep_route(self.plan, "Board", ["ada", "bo"]))
        again = read_plan(write_plan(self.plan))
        self.assertEqual(again.approvals, self.plan.approvals)
        self.assertEqual([replace(r, rank="") for r in again.routes.values()],
                         [replace(r, rank="") for r in self.plan.routes.values()])  # fmt: skip

    def test_dates_of_what_waited_are_as_before_where_nothing_is_told(self) -> None:
        """Asking moves nothing: the milestone lies at the end of the work."""
        rng = random.Random(3)
        for _ in range(40):
            plan = random_plan(rng, 12, resources=2, types="FS FS SS", lags=0, milestones=0)
            work = rng.choice(sorted(t for t in plan.tasks))
            before = schedule(plan)
            _, edit = edits.ask_approval(plan, work, sorted(plan.resources), "Joss", NOW)
            after = schedule(edit.applied_to(plan))
            for task in plan.tasks:
                self.assertEqual(after.dates(task).start, before.dates(task).start, task)


if __name__ == "__main__":
    unittest.main()
