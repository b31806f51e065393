"""Edits of the pool, of promises and of who does what: what they leave behind, what they refuse, and back again."""

from __future__ import annotations

import random
import unittest

from msgspec.structs import replace

from hexapod.errors import EditRefused
from hexapod.formats.plan_json import read_plan, write_plan
from hexapod.plan import edits
from hexapod.plan.changes import Changes, diff
from hexapod.plan.edits import Edit
from hexapod.plan.plan import Plan
from hexapod.plan.records import Assignment, Curve, Held, Reservation, Resource, ResourceKind
from hexapod.plan.validity import InvalidRecord, check, check_whole
from tests.support import DAY, MONDAY, project, tasks

FIRST = MONDAY // 1440
PEOPLE = [
    Resource("glass", "Glass", "a0", ResourceKind.ROLE),
    Resource("wood", "Wood", "a1", ResourceKind.ROLE),
    Resource("team", "Team", "a2", ResourceKind.TEAM),
    Resource("ada", "Ada", "a3", role="glass", team="team"),
    Resource("bo", "Bo", "a4", roles=("glass",)),
    Resource("lift", "Lift", "a5", ResourceKind.EQUIPMENT),
]


def plan_of(*more: object) -> Plan:
    a, b = tasks(("a", 5 * DAY), ("b", 5 * DAY))
    return Plan.of([project(), a, b, *PEOPLE, *more])  # type: ignore[list-item]


class Promises(unittest.TestCase):
    def tried(self, plan: Plan, edit: Edit) -> Plan:
        after = edit.applied_to(plan)
        check(after, diff(plan, after))
        check_whole(after)
        return after

    def test_what_a_promise_cannot_be_is_said(self) -> None:
        plan = plan_of()
        good = Reservation("v", "p", "ada", 0.5, FIRST, FIRST + 6)
        for wrong, says in (
            (replace(good, project="q"), "a project “q” that does not exist"),
            (replace(good, resource="x"), "someone, “x”, who is not among the resources"),
            (replace(good, units=0.0), "more than 0 %"),
            (replace(good, units=float("nan")), "more than 0 %"),
            (replace(good, units=float("inf")), "more than 0 %"),
            (replace(good, first_day=-1), "outside 1970 to 2129"),
            (replace(good, last_day=10**9), "outside 1970 to 2129"),
            (replace(good, last_day=FIRST - 1), "would end before it begins"),
        ):
            after = Edit("", lambda draft, w=wrong: draft.put(w)).applied_to(plan)
            with self.assertRaises(InvalidRecord) as caught:
                check(after, diff(plan, after))
            self.assertIn(says, str(caught.exception))
            self.assertEqual((caught.exception.kind, caught.exception.key), ("reservations", "v"))
        self.tried(plan, edits.save_reservation(plan, good))

    def test_nobody_who_is_promised_and_no_project_with_promises_goes_by_itself(self) -> None:
        plan = plan_of(Reservation("v", "p", "lift"), Reservation("w", "p", "glass", 2.0))
        for kind, key, says in (("resources", "lift", "still reserved"), ("projects", "p", "still reserved")):
            draft = plan.draft()
            for task in ("a", "b") if kind == "projects" else ():
                draft.remove_task(task)
            draft.remove(kind, key)
            after, changes = draft.finish()
            with self.assertRaisesRegex(InvalidRecord, says):
                check(after, changes)
        self.assertEqual(set(self.tried(plan, edits.remove_resource(plan, "lift")).reservations), {"w"})
        self.assertFalse(self.tried(plan, edits.remove_project(plan, "p")).reservations)

    def test_a_seat_on_a_project_is_conserved_on_every_day(self) -> None:
        rng = random.Random(14)
        for _ in range(60):
            first = rng.choice((None, FIRST + rng.randrange(8)))
            last = rng.choice((None, FIRST + 20 + rng.randrange(9)))
            plan = plan_of(Reservation("seat", "p", "glass", rng.choice((1.0, 2.0)), first, last))
            units = rng.choice((0.25, 0.5, 1.0, 2.0))
            begin = rng.choice((None, FIRST + rng.randrange(18)))
            units = min(units, plan.reservations["seat"].units)
            after = self.tried(plan, edits.fill_project_seat(plan, "seat", "ada", units, begin))
            for day in range(FIRST, FIRST + 30):
                before = promised(plan, day)
                self.assertAlmostEqual(promised(after, day), before, msg=f"{units} from {begin} of {first} to {last}")
                is_taken = day >= max(begin or 0, first or 0) and (last is None or day <= last)
                self.assertAlmostEqual(promised(after, day, "ada"), units if is_taken else 0.0)

    def test_words_say_who_and_where(self) -> None:
        plan = plan_of()
        made = Reservation("v", "p", "ada")
        self.assertEqual(edits.save_reservation(plan, made).words, "Reserve Ada for “P”")
        there = self.tried(plan, edits.save_reservation(plan, made))
        self.assertEqual(edits.save_reservation(there, replace(made, units=0.5)).words, "Change Ada for “P”")
        self.assertEqual(edits.remove_reservation(there, "v").words, "Release Ada from “P”")
        self.assertEqual(self.tried(there, edits.remove_reservation(there, "v")), plan)


def promised(plan: Plan, day: int, resource: str | None = None) -> float:
    """Units on a day."""
    return sum(
        r.units
        for r in plan.reservations.values()
        if (resource is None or r.resource == resource)
        and (r.first_day is None or r.first_day <= day)
        and (r.last_day is None or r.last_day >= day)
    )


class Belonging(unittest.TestCase):
    def change(self, plan: Plan, resource: Resource) -> Plan:
        after = edits.save_resource(plan, resource).applied_to(plan)
        check(after, diff(plan, after))
        check_whole(after)
        return after

    def test_a_role_or_a_team_with_members_stays_one(self) -> None:
        plan = plan_of()
        for who, says in (("glass", "belongs to “Glass”, so it stays a role"), ("team", "so it stays a team")):
            with self.assertRaisesRegex(EditRefused, says):
                self.change(plan, replace(plan.resources[who], kind=ResourceKind.PERSON))
        free = self.change(plan, replace(plan.resources["wood"], kind=ResourceKind.PERSON))
        self.assertIs(free.resources["wood"].kind, ResourceKind.PERSON)

    def test_who_had_what_is_removed_has_none_then(self) -> None:
        plan = plan_of(Assignment("a", "glass"), Reservation("v", "p", "glass"))
        after = edits.remove_resource(plan, "glass").applied_to(plan)
        check_whole(after)
        self.assertEqual((after.resources["ada"].role, after.resources["bo"].roles), (None, ()))
        self.assertFalse(after.assignments or after.reservations)
        self.assertEqual(changes_back(plan, after), plan)


def changes_back(before: Plan, after: Plan) -> Plan:
    changes: Changes = diff(before, after)
    return changes.inverse().applied_to(after)


class HandingOver(unittest.TestCase):
    def test_the_share_the_days_and_the_curve_go_along_and_two_become_one(self) -> None:
        work = Assignment("a", "ada", 0.5, first_day=FIRST + 1, curve=Curve.BACK)
        plan = plan_of(work, Assignment("b", "ada"), Assignment("b", "bo", 0.25))
        after = edits.hand_over(plan, "a", "ada", "bo").applied_to(plan)
        self.assertEqual(after.assignments[("a", "bo")], replace(work, resource="bo"))
        self.assertNotIn(("a", "ada"), after.assignments)
        both = edits.hand_over(plan, "b", "ada", "bo").applied_to(plan)
        self.assertEqual({k: x.units for k, x in both.assignments.items() if k[0] == "b"}, {("b", "bo"): 1.25})

    def test_who_takes_work_out_of_a_tray_takes_the_open_seat_that_they_fit(self) -> None:
        for who, left in (("ada", set()), ("bo", set()), ("lift", {"glass"})):
            plan = plan_of(Assignment("a", "glass", 0.5))
            after = edits.hand_over(plan, "a", None, who).applied_to(plan)
            self.assertEqual(set(after.assigned["a"]), {who} | left)
            self.assertEqual(after.assignments[("a", who)].units, 1.0 if left else 0.5)


class InPlanJson(unittest.TestCase):
    def test_promises_effort_and_what_is_kept_come_back_and_nothing_is_written_that_was_not_said(self) -> None:
        plan = plan_of(Reservation("v", "p", "glass", 2.0, FIRST, None), Reservation("w", "p", "ada", 1.0, None, FIRST))
        plan = edits.set_task(plan, "a", "", effort=960, keeps=Held.EFFORT).applied_to(plan)
        text = write_plan(plan)
        again = read_plan(text)
        self.assertEqual(again.reservations, plan.reservations)
        self.assertEqual((again.tasks["a"].effort, again.tasks["a"].keeps), (960, Held.EFFORT))
        self.assertEqual(text.count(b'"keeps"'), 1)
        self.assertNotIn(b"reservations", write_plan(plan_of()))


if __name__ == "__main__":
    unittest.main()
