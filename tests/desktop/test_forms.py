"""Forms in the window: written into a folder, and what comes back laid before the planner, never merged."""

from __future__ import annotations

import json
import shutil
import tempfile
import unittest
from pathlib import Path

from PyQt6.QtWidgets import QLabel, QPushButton

from hexapod.control.forms import form_of
from hexapod.control.round import AS_PLANNED, What
from hexapod.plan import edits
from hexapod.plan.records import Resource
from hexapod.worktime.clock import iso
from tests.at_rest import settle, wait_for
from tests.desktop.case import WindowCase
from tests.support import DAY, MONDAY, at, set_clock

NOW = at("2026-09-11T12:00")


class Forms(WindowCase):
    ROWS = "Survey\nDraw\nOpen"

    def setUp(self) -> None:
        set_clock(self, NOW)
        super().setUp()
        folder = tempfile.mkdtemp()
        self.addCleanup(shutil.rmtree, folder, True)
        self.folder = Path(folder)
        for person, name in (("hana", "Hana Brook"), ("ito", "Ito Vale")):
            self.desk.do(edits.save_resource(self.desk.plan, Resource(person, name, person, initials=name[0] + "X")))
        self.desk.do(edits.assign(self.desk.plan, [self.id_of("Survey"), self.id_of("Draw")], "hana"))
        self.desk.do(edits.assign(self.desk.plan, [self.id_of("Open")], "ito"))
        self.desk.do(edits.set_status_date(self.desk.plan, "p", MONDAY))
        self.window.show_leg("track")
        self.work = self.desk.forms
        self.work.set_folder(str(self.folder))
        settle()

    def told(self, name: str, person: str = "hana", **by_task: dict[str, str]) -> Path:
        """A file as the page of a person saves it."""
        desk = self.desk
        form = form_of(desk.worked_out, person, desk.session.identity(), NOW, NOW)
        since = {row.task: row.since for row in form.rows}
        answers = [
            {"task": self.id_of(t), "name": t, "since": iso(since.get(self.id_of(t)) or MONDAY), **said}
            for t, said in by_task.items()
        ]
        path = self.folder / name
        path.write_text(json.dumps({
            "format": "hexapod-answers", "version": 1, "workspace": form.workspace, "person": person,
            "name": form.name, "made": iso(form.made), "answers": answers,
        }))  # fmt: skip
        return path

    def look(self, until: object = None) -> None:
        self.work.look()
        wait_for(lambda: not self.work._folder._reading.is_under_way)
        settle()

    def test_what_comes_back_is_laid_in_the_round_and_changes_nothing_by_itself(self) -> None:
        before = self.desk.plan
        self.told("a.json", Survey={"done": "2026-09-08", "note": "two pins lost"}, Draw={"left": "never"})
        self.look()
        self.assertIs(self.desk.plan, before)
        answer = self.desk.round.answers[self.id_of("Survey")]
        self.assertEqual((answer.what, answer.at, answer.who), (What.DONE, at("2026-09-08T17:00"), "HX"))
        self.assertIn("1 told by people", self.window.findChild(QLabel, "roundCounts").text())
        (back,) = self.work.back
        self.assertEqual((back.laid, len(back.findings)), (1, 1))
        self.window.side.show_page("forms")
        settle()
        self.assertTrue(any("“Draw”: Left" in w.text() for w in self.window.side.findChildren(QLabel)))
        self.desk.round.take()
        settle()
        self.assertEqual(self.desk.plan.tasks[self.id_of("Survey")].actual_finish, at("2026-09-08T17:00"))
        self.look()
        self.assertEqual(self.desk.round.answers, {}, "twice the same form is one answer")
        self.desk.undo()
        settle()
        self.assertEqual(self.desk.round.answers[self.id_of("Survey")].who, "HX", "undone, it is there again")

    def test_the_planner_has_the_last_word_unless_he_gives_it_away(self) -> None:
        self.desk.round.answer(self.id_of("Survey"), AS_PLANNED)
        self.told("a.json", Survey={"left": "1 d"})
        self.look()
        self.assertEqual(self.desk.round.answers[self.id_of("Survey")], AS_PLANNED)
        (back,) = self.work.back
        self.assertIn("your answer stays", back.findings[0])
        self.window.side.show_page("forms")
        settle()
        button = self.window.findChild(QPushButton, f"formsHeld.{back.place}")
        assert button is not None
        button.click()
        settle()
        self.assertEqual(self.desk.round.answers[self.id_of("Survey")].amount, DAY)
        self.look()
        self.assertEqual(self.work.back[0].held, ())

    def test_an_answer_that_somebody_else_works_on_by_now_waits_to_be_laid(self) -> None:
        self.told("a.json", Open={"left": "1 d"})
        self.look()
        self.assertEqual(self.desk.round.answers, {})
        self.work.lay_held(self.work.back[0])
        settle()
        self.assertIn(self.id_of("Open"), [q.task for q in self.desk.round.asked], "told, so it is asked about")

    def test_forms_are_written_for_people_with_work_and_nothing_is_written_over(self) -> None:
        filled = self.folder / "forms 2026-09-11.xlsx"
        filled.write_bytes(b"somebody typed into this")
        self.work.write(self.work.people())
        wait_for(lambda: len([p for p in self.folder.iterdir() if p.suffix != ".part"]) == 4)
        self.assertEqual(filled.read_bytes(), b"somebody typed into this")
        names = sorted(p.name for p in self.folder.iterdir())
        self.assertEqual(
            names, ["form Hana Brook.html", "form Ito Vale.html", "forms 2026-09-11 (2).xlsx", filled.name]
        )
        self.look()
        self.assertTrue(any(filled.name in b.place for b in self.work.back), "and is named where it cannot be read")

    def test_what_was_laid_is_there_after_a_kill(self) -> None:
        self.told("a.json", Draw={"left": "1 d"})
        self.look()
        workspace = self.desk.session.workspace
        from hexapod.desktop.models.round import Draft

        kept = workspace.remembered("round.p", Draft, Draft(0))
        self.assertEqual(kept.answers[self.id_of("Draw")].amount, DAY)

    def test_a_folder_that_is_gone_is_said(self) -> None:
        shutil.rmtree(self.folder)
        said: list[str] = []
        self.desk.told.connect(lambda words, *_: said.append(words))
        self.work.look()
        wait_for(lambda: bool(said))
        self.assertIn("cannot be read", said[0])


if __name__ == "__main__":
    unittest.main()
