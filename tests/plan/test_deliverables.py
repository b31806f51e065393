"""What a task hands over: told, attached, agreed to or sent back, copied as still to come, gone with its task."""

from __future__ import annotations

import random
import tempfile
import unittest
from pathlib import Path

from msgspec.structs import replace

from hexapod.control.attention import NeedKind, needs
from hexapod.control.deliverables import handovers
from hexapod.errors import EditRefused, HexapodError
from hexapod.fields.reading import Reading
from hexapod.fields.table import BY_ID
from hexapod.formats.attached import name_copies
from hexapod.formats.edit_list import edit_of
from hexapod.formats.plan_json import read_plan, write_plan
from hexapod.formats.templates import save_template
from hexapod.plan import edits
from hexapod.plan.approvals import ApprovalState
from hexapod.plan.deliverables import Deliverable, DeliverableState, state_of
from hexapod.plan.edits import Edit
from hexapod.plan.plan import Plan
from hexapod.plan.records import Link, Resource
from hexapod.plan.validity import InvalidRecord
from hexapod.query.asking import compile_query, matches
from hexapod.reports.basis import Basis
from hexapod.reports.parts.deliverables import deliverables
from hexapod.schedule.engine import schedule
from hexapod.schedule.telling import told_in_full
from hexapod.session import Session
from tests.support import DAY, at, carried_out, project, tasks

NOW = at("2026-09-10T12:00")


def small_plan() -> Plan:
    people = [Resource(r, r.capitalize(), f"a{i}") for i, r in enumerate(("ada", "bo"))]
    return Plan.of([project(), *tasks(("draw", DAY), ("build", 2 * DAY)), *people, Link("draw", "build")])


class Deliverables(unittest.TestCase):
    def setUp(self) -> None:
        self.plan = small_plan()
        self.do(edits.add_deliverables(self.plan, "draw", ["Drawings", " ", "Case list"]))
        self.drawings, self.cases = (d.id for d in self.plan.deliverables_of("draw"))

    def do(self, edit: Edit) -> None:
        self.plan = told_in_full(carried_out(self.plan, edit), NOW)

    def ask(self, *people: str) -> str:
        made, edit = edits.ask_approval(self.plan, "draw", people or ("ada",), "Joss", NOW, deliverable=self.drawings)
        self.do(edit)
        return made

    def state(self, key: str) -> DeliverableState:
        asked = [a for a in self.plan.approvals.values() if a.deliverable == key]
        return state_of(self.plan.deliverables[key], asked[0] if asked else None)

    def owed(self, now: int = NOW) -> list[str | None]:
        return [n.deliverable for n in needs(schedule(self.plan), now, 5) if n.kind is NeedKind.OWED]

    def test_they_keep_their_order_and_their_files_once_each(self) -> None:
        self.assertEqual([d.name for d in self.plan.deliverables_of("draw")], ["Drawings", "Case list"])
        for place in ("a.pdf", "https://museum.example/a", "a.pdf"):
            self.do(edits.attach_to(self.plan, self.drawings, place))
        self.assertEqual(self.plan.deliverables[self.drawings].files, ("a.pdf", "https://museum.example/a"))
        self.do(name_copies(self.plan, {"a.pdf": "Hall files/a.pdf"}))
        self.do(edits.detach_from(self.plan, self.drawings, "https://museum.example/a"))
        self.assertEqual(self.plan.deliverables[self.drawings].files, ("Hall files/a.pdf",))
        self.do(edits.set_deliverable(self.plan, self.drawings, "Rename", name="Plans", asked="At 1:10"))
        self.assertEqual(read_plan(write_plan(self.plan)), self.plan)

    def test_handed_over_and_still_to_come_again(self) -> None:
        self.assertIs(self.state(self.drawings), DeliverableState.TO_COME)
        self.do(edits.deliver(self.plan, self.drawings, "Ada", NOW))
        self.assertIs(self.state(self.drawings), DeliverableState.HANDED_OVER)
        self.assertEqual((self.plan.deliverables[self.drawings].by, self.plan.deliverables[self.drawings].handed),
                         ("Ada", NOW))  # fmt: skip
        self.do(edits.not_delivered(self.plan, self.drawings))
        self.assertIs(self.state(self.drawings), DeliverableState.TO_COME)

    def test_its_approval_is_a_milestone_that_opens_with_the_handing_over_not_with_the_work(self) -> None:
        approval = self.ask("ada", "bo")
        mark = self.plan.approvals[approval].task
        self.assertEqual(self.plan.tasks[mark].name, "Drawings approved")
        self.assertEqual(set(self.plan.links), {("draw", mark, "FS"), (mark, "build", "FS")})
        self.do(edits.finish(self.plan, ["draw"], at("2026-09-07T17:00")))
        with self.assertRaisesRegex(EditRefused, "“Drawings” was not handed over yet"):
            self.do(edits.answer_approval(self.plan, approval, "ada", True, "", NOW))
        self.do(edits.deliver(self.plan, self.drawings, "Ada", NOW))
        for who in ("ada", "bo"):
            self.assertIs(self.state(self.drawings), DeliverableState.HANDED_OVER)
            self.do(edits.answer_approval(self.plan, approval, who, True, "", NOW))
        self.assertIs(self.state(self.drawings), DeliverableState.AGREED)
        self.assertTrue(self.plan.tasks[mark].is_done)
        with self.assertRaisesRegex(EditRefused, "already"):
            edits.ask_approval(self.plan, "draw", ("bo",), "Joss", NOW, deliverable=self.drawings)
        another, edit = edits.ask_approval(self.plan, "draw", ("bo",), "Joss", NOW, deliverable=self.cases)
        self.do(edit)
        self.assertIs(self.plan.approvals[another].state, ApprovalState.OPEN)

    def test_several_approvals_of_one_row_stand_side_by_side_and_what_waits_waits_for_all(self) -> None:
        first = self.ask()
        marks = [self.plan.approvals[first].task]
        for asked in (self.cases, None):
            made, edit = edits.ask_approval(self.plan, "draw", ("bo",), "Joss", NOW, deliverable=asked)
            self.do(edit)
            marks.append(self.plan.approvals[made].task)
        expected = {("draw", mark, "FS") for mark in marks} | {(mark, "build", "FS") for mark in marks}
        self.assertEqual(set(self.plan.links), expected)

    def test_a_no_takes_it_back_and_the_work_goes_on_until_it_is_handed_over_anew(self) -> None:
        approval = self.ask()
        self.do(edits.finish(self.plan, ["draw"], at("2026-09-07T17:00")))
        self.do(edits.deliver(self.plan, self.drawings, "Ada", NOW))
        self.do(edits.answer_approval(self.plan, approval, "ada", False, "No fixings", NOW))
        self.assertIs(self.state(self.drawings), DeliverableState.SENT_BACK)
        self.assertIsNone(self.plan.deliverables[self.drawings].handed)
        self.assertFalse(self.plan.tasks["draw"].is_done)
        self.do(edits.deliver(self.plan, self.drawings, "Bo", NOW + 60))
        self.assertIs(self.plan.approvals[approval].state, ApprovalState.OPEN)
        self.assertEqual(self.plan.approvals[approval].turn, ("ada",))
        self.assertIs(self.state(self.drawings), DeliverableState.HANDED_OVER)

    def test_work_that_is_done_and_not_handed_over_needs_somebody(self) -> None:
        self.assertEqual(self.owed(), [])
        self.do(edits.finish(self.plan, ["draw"], at("2026-09-07T17:00")))
        self.assertEqual(set(self.owed()), {self.drawings, self.cases})
        self.do(edits.deliver(self.plan, self.drawings, "Ada", NOW))
        self.assertEqual(self.owed(), [self.cases])
        asked = self.ask()
        answers = [n.task for n in needs(schedule(self.plan), NOW, 5) if n.kind is NeedKind.ANSWER]
        self.assertEqual(answers, [self.plan.approvals[asked].task])
        self.do(edits.put_on_hold(self.plan, "p"))
        self.assertEqual(self.owed(), [])

    def test_how_they_stand_is_told_by_day_in_lists_columns_and_reports(self) -> None:
        self.do(edits.finish(self.plan, ["draw"], at("2026-09-07T17:00")))
        self.do(edits.add_deliverables(self.plan, "build", ["Case"]))
        self.do(edits.deliver(self.plan, self.drawings, "Ada", NOW))
        dates = schedule(self.plan)
        found = {h.deliverable.name: h for h in handovers(dates, {"p"})}
        self.assertEqual([h.deliverable.name for h in handovers(dates, {"p"})], ["Case list", "Case", "Drawings"])
        self.assertEqual(found["Case"].at, dates.dates("build").finish)
        overdue = {name for name, h in found.items() if h.is_overdue(at("2026-09-08T09:00"))}
        self.assertEqual(overdue, {"Case list"})
        self.assertEqual({n for n, h in found.items() if h.is_overdue(at("2026-10-01T09:00"))}, {"Case list", "Case"})
        self.assertEqual(handovers(dates, set()), [])
        reading = Reading(self.plan, dates, self.plan.tasks["draw"])
        self.assertEqual(BY_ID["delivers"].read(reading), "Drawings (handed over), Case list")
        self.assertEqual(BY_ID["owed"].read(reading), 1)
        query = compile_query(self.plan, 'still owed > 0 and hands over contains "drawings"')
        self.assertEqual([t for t in matches(query, self.plan, dates, self.plan.tasks) if t], ["draw"])
        part = deliverables(Basis(dates, at("2026-09-08T09:00"), ("p",), 0, NOW))
        assert part.table is not None
        self.assertEqual([row[0] for row in part.table.rows], ["Case list", "Case", "Drawings"])
        self.assertEqual(part.sentences[0].fact.figures, (3, 2, 1, 0))
        self.assertEqual([row[4] for row in part.table.rows], ["to come, overdue", "to come", "handed over"])
        self.assertEqual(deliverables(Basis(dates, NOW, (), 0, NOW)).sentences[0].text, "No deliverable is named.")

    def test_copies_are_still_to_come_and_have_no_files(self) -> None:
        self.do(edits.attach_to(self.plan, self.drawings, "a.pdf"))
        self.do(edits.deliver(self.plan, self.drawings, "Ada", NOW))
        self.ask()
        fragment = edits.fragment_of(self.plan, ["draw"])
        self.do(edits.graft(self.plan, fragment, "p", "build"))
        (copy,) = [t for t in self.plan.tasks.values() if t.name == "draw" and t.id != "draw"]
        found = self.plan.deliverables_of(copy.id)
        self.assertEqual([(d.name, d.files, d.handed, d.by) for d in found], [
            ("Drawings", (), None, ""), ("Case list", (), None, "")])  # fmt: skip
        with tempfile.TemporaryDirectory() as folder:
            kept = read_plan(
                save_template(edits.fragment_of_project(self.plan, "p"), "Cases", Path(folder)).read_bytes()
            )
        self.assertEqual(len(kept.deliverables), 4)

    def test_what_goes_with_a_task_and_what_stays(self) -> None:
        before = self.plan
        approval = self.ask()
        self.do(edits.remove_tasks(self.plan, ["draw"]))
        self.assertEqual((dict(self.plan.deliverables), dict(self.plan.delivers)), ({}, {}))
        self.assertEqual((self.plan.approvals[approval].work, self.plan.approvals[approval].deliverable), (None, None))
        self.do(edits.bring_back(self.plan, before, "draw"))
        self.assertEqual([d.name for d in self.plan.deliverables_of("draw")], ["Drawings", "Case list"])
        asked = self.ask()
        mark = self.plan.approvals[asked].task
        self.do(edits.remove_deliverable(self.plan, self.drawings))
        self.assertNotIn(asked, self.plan.approvals)
        self.assertIn(mark, self.plan.tasks)

    def test_what_cannot_be_is_refused_in_a_sentence(self) -> None:
        there = self.plan.deliverables[self.drawings]
        wrong = (
            replace(there, name=" "), replace(there, name="x" * 2000), replace(there, asked="x" * 200_000),
            replace(there, files=("",)), replace(there, files=("x" * 5000,)), replace(there, files=("a",) * 300),
            replace(there, handed=-5), replace(there, task="gone"),
        )  # fmt: skip
        for record in wrong:
            with self.assertRaises(InvalidRecord):
                self.do(Edit("", lambda draft, record=record: draft.put(record)))
        approval = self.ask()
        moved = replace(self.plan.approvals[approval], work="build")
        with self.assertRaisesRegex(InvalidRecord, "another row"):
            self.do(Edit("", lambda draft: draft.put(moved)))
        for edit in (edits.deliver, edits.attach_to):
            with self.assertRaises(HexapodError):
                edit(self.plan, "gone", "x", 5) if edit is edits.deliver else edit(self.plan, "gone", "x")

    def test_a_script_adds_sets_and_deletes_them(self) -> None:
        self.do(edit_of([
            {"add": {"deliverable": {"id": "d", "task": "build", "name": "Case", "files": ["case.pdf"]}}},
            {"set": {"deliverable": "d", "handed": "2026-09-09T10:00", "by": "Bo"}},
            {"delete": {"deliverable": self.cases}},
        ]))  # fmt: skip
        self.assertEqual(self.plan.deliverables["d"], replace(
            self.plan.deliverables["d"], files=("case.pdf",), handed=at("2026-09-09T10:00"), by="Bo"))  # fmt: skip
        self.assertNotIn(self.cases, self.plan.deliverables)


class Lookups(unittest.TestCase):
    def test_drafts_keep_the_look_up_as_if_it_were_made_anew_also_where_they_change_hands(self) -> None:
        rng, plan = random.Random(4), small_plan()
        for i in range(200):
            draft = plan.draft()
            known = sorted(plan.deliverables)
            if known and rng.random() < 0.5:
                one = plan.deliverables[rng.choice(known)]
                if rng.random() < 0.4:
                    draft.remove("deliverables", one.id)
                else:
                    draft.put(replace(one, task=rng.choice(("draw", "build"))))
            else:
                draft.put(Deliverable(f"d{i}", rng.choice(("draw", "build")), "x", "a"))
            plan = draft.finish()[0]
            anew = Plan.of([*plan.projects.values(), *plan.tasks.values(), *plan.deliverables.values()])
            self.assertEqual({t: ids for t, ids in plan.delivers.items() if ids}, dict(anew.delivers))

    def test_the_file_keeps_them_and_undo_takes_them_back(self) -> None:
        with tempfile.TemporaryDirectory() as folder:
            path = Path(folder) / "hall.hexapod"
            session = Session.create(path)
            session.apply(Edit("All", lambda draft: [draft.put(r) for kind in ("projects", "tasks", "resources")
                                                     for r in getattr(small_plan(), kind).values()]))  # fmt: skip
            session.apply(edits.add_deliverables(session.plan, "draw", ["Drawings"]))
            (made,) = session.plan.deliverables_of("draw")
            session.apply(edits.deliver(session.plan, made.id, "Ada", NOW))
            session.close()
            again = Session.open(path)
            self.assertEqual(again.plan.deliverables[made.id].handed, NOW)
            again.undo()
            self.assertIsNone(again.plan.deliverables[made.id].handed)
            again.undo()
            self.assertEqual(dict(again.plan.deliverables), {})
            again.close()


if __name__ == "__main__":
    unittest.main()
