"""Own fields of projects: filled in at the project, read at its tasks, renamed, copied, asked for, kept in files."""

from __future__ import annotations

import random
import unittest

from msgspec.structs import replace

from hexapod.control.stages import RowsBy
from hexapod.control.stages import _row_key as row_key
from hexapod.errors import BadText
from hexapod.fields.formulas import compile_formula, fields_of
from hexapod.fields.reading import Reading
from hexapod.formats.import_columns import guess
from hexapod.formats.plan_json import read_plan, write_plan
from hexapod.formats.tables import Sheet
from hexapod.plan import edits
from hexapod.plan.edits import Edit
from hexapod.plan.field_values import own_value
from hexapod.plan.kept import PROJECTS
from hexapod.plan.plan import Plan
from hexapod.plan.records import Field, FieldKind
from hexapod.plan.validity import InvalidRecord
from hexapod.query.asking import compile_query, matches
from hexapod.schedule.engine import schedule
from tests.support import DAY, carried_out, project, random_plan, tasks

AIM = Field("aim", "Aim", "a0", FieldKind.CHOICE, ("Visitors", "House"), of=PROJECTS)
PAID = Field("paid", "Paid by", "a1", of=PROJECTS)
NOTE = Field("note", "Note", "a2")


class ProjectFields(unittest.TestCase):
    def setUp(self) -> None:
        other = replace(project(), id="q", name="Other", rank="a1")
        here, there = tasks(("a", DAY), ("b", DAY))
        self.plan = Plan.of([project(), other, here, replace(there, project="q"), AIM, PAID, NOTE])
        self.do(edits.set_project_fields(self.plan, ["p"], {"Aim": "House", "Paid by": "A grant"}))

    def do(self, edit: Edit) -> None:
        self.plan = carried_out(self.plan, edit)

    def text(self, task: str, field: Field) -> str:
        found = fields_of(self.plan)[f"field.{field.id}"]
        return str(found.read(Reading(self.plan, schedule(self.plan), self.plan.tasks[task])) or "")

    def asked(self, question: str) -> set[str]:
        query = compile_query(self.plan, question)
        return {t for t in matches(query, self.plan, schedule(self.plan), self.plan.tasks) if t}

    def test_a_value_of_the_project_is_read_at_each_of_its_tasks_and_not_typed_there(self) -> None:
        self.assertEqual((self.text("a", AIM), self.text("b", AIM), self.text("a", PAID)), ("House", "", "A grant"))
        self.assertEqual(self.asked('aim = "House"'), {"a"})
        self.assertEqual(self.asked('paid by contains "grant"'), {"a"})
        self.assertEqual(self.asked('aim = "Visitors"'), set())
        self.assertEqual(row_key(self.plan, "a", "aim"), "House")
        self.assertEqual(row_key(self.plan, "b", "aim"), row_key(self.plan, "b", RowsBy.NOTHING))
        found = fields_of(self.plan)
        self.assertIsNone(found["field.aim"].edit)
        self.assertIsNotNone(found["field.note"].edit)
        self.do(Edit("", lambda draft: draft.put(replace(self.plan.tasks["a"], fields=(("Aim", "Visitors"),)))))
        self.assertEqual(own_value(self.plan, self.plan.tasks["a"], AIM), "House", "the task has no say in it")
        self.assertIsNotNone(compile_formula(self.plan, 'if aim = "House" then 1 else 2'))
        with self.assertRaises(BadText):
            compile_formula(self.plan, "aims")

    def test_an_import_never_fills_it(self) -> None:
        sheet = Sheet("Rows", (("Task", "Aim", "Note"), ("Paint", "House", "x")))
        self.assertEqual([str(part) for part in guess(sheet, self.plan).parts], ["name", "nothing", "Note"])

    def test_a_new_name_goes_with_the_values_and_a_deleted_field_takes_them_along(self) -> None:
        self.do(edits.save_field(self.plan, replace(AIM, name="Purpose")))
        self.assertEqual(dict(self.plan.projects["p"].fields), {"Purpose": "House", "Paid by": "A grant"})
        self.do(edits.set_project_fields(self.plan, ["p", "q"], {"Purpose": None, "Paid by": "Friends"}))
        self.assertEqual([dict(self.plan.projects[p].fields) for p in "pq"], [{"Paid by": "Friends"}] * 2)
        self.do(edits.remove_field(self.plan, "paid"))
        self.assertEqual([self.plan.projects[p].fields for p in "pq"], [(), ()])

    def test_they_are_kept_in_plan_json_and_go_with_a_copy(self) -> None:
        again = read_plan(write_plan(self.plan))
        self.assertEqual(dict(again.projects["p"].fields), {"Aim": "House", "Paid by": "A grant"})
        self.assertEqual([f.of for f in again.fields_in_order()], ["projects", "projects", "tasks"])
        made, edit = edits.duplicate_project(
            self.plan, edits.fragment_of_project(self.plan, "p"), "Again", self.plan.projects["p"].start
        )
        self.do(edit)
        self.assertEqual(self.plan.projects[made].fields, self.plan.projects["p"].fields)
        elsewhere = Plan.of([replace(project(), id="z")])
        moved = edits.duplicate_project(
            elsewhere, edits.fragment_of_project(self.plan, "p"), "Far", self.plan.projects["p"].start
        )[1]  # fmt: skip
        self.assertEqual({f.name for f in moved.applied_to(elsewhere).fields.values()}, {"Aim", "Paid by"})

    def test_what_cannot_be_is_refused(self) -> None:
        for record in (
            replace(AIM, of="people"), Field("c", "Sum", "b", FieldKind.COMPUTED, formula="1", of=PROJECTS),
            replace(self.plan.projects["p"], fields=(("", "x"),)),
            replace(self.plan.projects["p"], fields=(("Aim", "x" * 200_000),)),
        ):  # fmt: skip
            with self.assertRaises(InvalidRecord):
                self.do(Edit("", lambda draft, record=record: draft.put(record)))

    def test_any_values_survive_plan_json(self) -> None:
        rng = random.Random(8)
        for _ in range(20):
            draft = random_plan(rng, 5, projects=3).draft()
            draft.put(AIM)
            for p in draft.keys("projects"):
                value = rng.choice(("House", "<b>", "=1+1", 7, 2.5, True, "\u202ex"))
                draft.put(replace(draft.get("projects", p), fields=(("Aim", value), ("gone", value))))
            plan = draft.finish()[0]
            again = read_plan(write_plan(plan))
            self.assertEqual({p.id: p.fields for p in again.projects.values()},
                             {p.id: p.fields for p in plan.projects.values()})  # fmt: skip


if __name__ == "__main__":
    unittest.main()
