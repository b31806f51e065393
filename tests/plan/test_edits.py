"""Edits: what they do to the outline, and that a draft tells exactly what it changed."""

from __future__ import annotations

import random
import unittest

from hexapod.errors import EditRefused
from hexapod.formats.plan_json import read_plan, write_plan
from hexapod.plan import edits
from hexapod.plan.accounts import Budget, EntryKind, MoneyEntry
from hexapod.plan.changes import diff
from hexapod.plan.kinds import KINDS
from hexapod.plan.outline import levels_of_text, number_of, rows, task_at
from hexapod.plan.plan import Plan
from hexapod.plan.records import Link
from hexapod.plan.validity import check, check_whole
from tests.storm import random_step
from tests.support import project, random_plan, tasks


def shape(plan: Plan) -> list[str]:
    return ["  " * r.level + plan.tasks[r.task].name for r in rows(plan, "p")]


class Outline(unittest.TestCase):
    def setUp(self) -> None:
        self.plan = edits.add_text("p", "A\n  B\n  C\n    D\nE\nF").applied_to(Plan.of([project()]))
        self.ids = {t.name: t.id for t in self.plan.tasks.values()}

    def after(self, edit: edits.Edit) -> list[str]:
        self.plan = edit.applied_to(self.plan)
        return shape(self.plan)

    def test_text_with_any_indentation_and_bullets(self) -> None:
        text = "\n\t1. Survey\n\t\t- Cases\n\t\t\t* Locks\n\n\t2) Drawings\n"
        self.assertEqual(levels_of_text(text), [(0, "Survey"), (1, "Cases"), (2, "Locks"), (0, "Drawings")])
        self.assertEqual(levels_of_text("a\n      b\n   c"), [(0, "a"), (1, "b"), (1, "c")])

    def test_numbers_lead_to_tasks_and_back(self) -> None:
        for row in rows(self.plan, "p"):
            self.assertEqual(number_of(self.plan, row.task), row.number)
            self.assertEqual(task_at(self.plan, "p", row.number), row.task)
        self.assertIsNone(task_at(self.plan, "p", "1.9"))
        self.assertIsNone(task_at(self.plan, "p", "0"))

    def test_levels(self) -> None:
        e, f = self.ids["E"], self.ids["F"]
        self.assertEqual(self.after(edits.indent(self.plan, [e, f])), ["A", "  B", "  C", "    D", "  E", "  F"])
        self.assertEqual(self.after(edits.outdent(self.plan, [e])), ["A", "  B", "  C", "    D", "  F", "E"])
        with self.assertRaises(EditRefused):
            self.after(edits.outdent(self.plan, [e]))
        with self.assertRaises(EditRefused):
            self.after(edits.indent(self.plan, [self.ids["A"]]))

    def test_moving_keeps_branches_together(self) -> None:
        a, c, e, f = (self.ids[x] for x in "ACEF")
        self.assertEqual(self.after(edits.move_down(self.plan, [a])), ["E", "A", "  B", "  C", "    D", "F"])
        self.assertEqual(self.after(edits.move_up(self.plan, [f, e])), ["E", "F", "A", "  B", "  C", "    D"])
        self.assertEqual(self.after(edits.move_to(self.plan, [c], "p", None, e)), ["C", "  D", "E", "F", "A", "  B"])

    def test_inserting_above_below_and_inside(self) -> None:
        b, c = self.ids["B"], self.ids["C"]
        self.after(edits.add_task("p", "X", before=b))
        self.after(edits.add_task("p", "Y", b))
        self.assertEqual(
            self.after(edits.add_task("p", "Z", parent=c)),
            ["A", "  X", "  B", "  Y", "  C", "    D", "    Z", "E", "F"],
        )

    def test_deleting_takes_links_and_assignments_along(self) -> None:
        a, d, e, f = (self.ids[x] for x in "ADEF")
        for one, other in ((d, e), (e, f)):
            self.after(edits.link(self.plan, one, other))
        self.assertEqual(self.after(edits.remove_tasks(self.plan, [a, d])), ["E", "F"])
        self.assertEqual(list(self.plan.links), [(e, f, "FS")])

    def test_a_chain_leaves_summaries_out(self) -> None:
        chosen = [self.ids[x] for x in "ABDE"]
        self.after(edits.chain(self.plan, chosen))
        b, d, e = (self.ids[x] for x in "BDE")
        self.assertEqual(set(self.plan.links), {(b, d, "FS"), (d, e, "FS")})


class IntoAnotherProject(unittest.TestCase):
    def test_money_and_budgets_of_rows_go_with_them(self) -> None:
        plan = edits.add_text("p", "A\n  B\n  C\nD").applied_to(Plan.of([project(), project("q")]))
        ids = {t.name: t.id for t in plan.tasks.values()}
        plan = edits.save_entry(
            plan, MoneyEntry("e", "p", "Glass", EntryKind.COST, 900, 20_000, 20_000, task=ids["B"])
        ).applied_to(plan)
        plan = edits.save_budget(plan, Budget("b", "p", task=ids["A"], amount=5000)).applied_to(plan)
        other = MoneyEntry("o", "p", "Lamps", EntryKind.COST, 100, 20_000, 20_000, task=ids["D"])
        plan = edits.save_entry(plan, other).applied_to(plan)
        moved = edits.move_to(plan, [ids["A"]], "q", None, None).applied_to(plan)
        check_whole(moved)
        self.assertEqual(
            (moved.entries["e"].project, moved.budgets["b"].project, moved.entries["o"].project), ("q", "q", "p")
        )
        self.assertEqual(read_plan(write_plan(moved)).entries, moved.entries)


class Validity(unittest.TestCase):
    def refused(self, *records: object, pattern: str) -> None:
        plan = Plan.of([project(), *tasks(("a", 480), ("b", 480)), *records])  # type: ignore[list-item]
        with self.assertRaisesRegex(EditRefused, pattern):
            check(plan, diff(Plan(), plan))

    def test_links_and_parents_that_cannot_be(self) -> None:
        a, b = tasks(("a", 480), ("b", 480))
        from msgspec.structs import replace

        self.refused(Link("a", "a"), pattern="wait for itself")
        self.refused(Link("a", "nobody"), pattern="does not exist")
        self.refused(replace(a, parent="b"), replace(b, parent="a"), pattern="below itself")
        self.refused(replace(a, parent="b"), Link("a", "b"), pattern="part of")
        self.refused(replace(a, duration=10**12), pattern="hundred years")


class Storm(unittest.TestCase):
    def test_a_draft_tells_exactly_what_it_changed_and_the_inverse_leads_back(self) -> None:
        rng = random.Random(5)
        plan = random_plan(rng, 30, summaries=True, resources=4)
        for step in range(1500):
            made = random_step(rng, plan)
            if made is None:
                continue
            edit, after, changes = made
            found = diff(plan, after)
            for kind in KINDS:
                self.assertEqual(sorted(getattr(changes, kind), key=str), sorted(getattr(found, kind), key=str))
            self.assertEqual(changes.inverse().applied_to(after), plan, edit.words)
            if step % 100 == 0:
                self._same_as_built_at_once(after)
            plan = after

    def _same_as_built_at_once(self, plan: Plan) -> None:
        whole = Plan.of([r for kind in KINDS for r in getattr(plan, kind).values()])
        self.assertEqual(whole, plan)
        for index in ("children", "links_at", "assigned", "used_by"):
            kept = {k: v for k, v in getattr(plan, index).items() if v}
            self.assertEqual(kept, dict(getattr(whole, index)), index)
