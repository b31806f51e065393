"""Requests in the window: typed, taken in from a folder, tried out, accepted and declined with a word back."""

from __future__ import annotations

import email
import json
import os
import tempfile
import threading
import unittest
from email import policy
from pathlib import Path
from unittest.mock import patch

from PyQt6.QtWidgets import QComboBox, QLineEdit, QPushButton

from hexapod.desktop.models import background
from hexapod.formats.requests import read_folder
from hexapod.plan import edits
from hexapod.plan.requests import Request, RequestState
from tests.at_rest import wait_for
from tests.desktop.case import Qt, QTest, WindowCase, settle
from tests.formats.test_requests import GOOD
from tests.support import at, set_clock


class Requests(WindowCase):
    ROWS = "Survey"

    def setUp(self) -> None:
        set_clock(self, at("2026-10-12T09:00"))
        super().setUp()
        home = tempfile.TemporaryDirectory()
        self.addCleanup(home.cleanup)
        told = patch("platformdirs.user_data_dir", return_value=home.name)
        told.start()
        self.addCleanup(told.stop)
        self.home = Path(home.name)
        self.window.show_part("requests", "telling")
        self.view, self.work = self.window.telling["requests"], self.desk.requests
        settle()

    def rest(self) -> None:
        settle()
        wait_for(background.is_idle)
        settle()

    def ask(self, **fields: object) -> None:
        request = Request(
            "r", "Lamps", at("2026-10-06T10:00"), who="Hale", email="hale@museum.example", size=1200, **fields
        )
        self.desk.do(edits.save_requests(self.desk.plan, [request]))
        self.rest()
        self.view.table.setFocus()
        self.view.table.go(1)
        QTest.keyClick(self.view.table, Qt.Key.Key_Return)
        self.rest()

    def press(self, name: str) -> None:  # type: ignore[override]
        self.find(QPushButton, name).click()
        self.rest()

    def type_into(self, name: str, text: str) -> None:
        field = self.find(QLineEdit, name)
        field.clear()
        QTest.keyClicks(field, text)

    def letters(self) -> list:  # type: ignore[type-arg]
        return [
            email.message_from_bytes(p.read_bytes(), policy=policy.default) for p in sorted(self.home.rglob("*.eml"))
        ]

    def test_one_is_typed_and_stands_in_the_list(self) -> None:
        self.press("requestNew")
        self.type_into("request.name", "Lamps for the moth corner")
        self.type_into("request.size", "never")
        self.press("requestSave")
        self.assertIn("never", self.side())
        self.assertFalse(self.desk.plan.requests)
        self.type_into("request.size", "10 d")
        self.type_into("request.wanted_by", "12 dec")
        self.type_into("request.who", "Hale")
        self.press("requestSave")
        (found,) = self.desk.plan.requests.values()
        self.assertEqual((found.name, found.size, found.who), ("Lamps for the moth corner", 4800, "Hale"))
        self.assertIn("1 request waits", self.view.sentence)
        self.assertIn("Your answer", self.side())

    def test_yes_makes_a_project_with_its_link_back_and_a_mail(self) -> None:
        self.ask()
        box = self.find(QComboBox, "requestTemplate")
        box.setCurrentIndex(1)
        self.type_into("requestWord", "With pleasure")
        self.press("requestAccept")
        request = self.desk.plan.requests["r"]
        self.assertIs(request.state, RequestState.ACCEPTED)
        self.assertGreater(sum(t.project == request.project for t in self.desk.plan.tasks.values()), 1)
        (letter,) = self.letters()
        self.assertEqual(letter["To"], '"hale@museum.example" <hale@museum.example>')
        self.assertIn("It is accepted.", letter.get_content())
        self.assertIn("With pleasure", letter.get_content())
        self.press("requestProject")
        self.assertEqual(self.desk.project, request.project)
        self.desk.undo()
        self.assertIs(self.desk.plan.requests["r"].state, RequestState.NEW)
        self.assertNotIn(request.project, self.desk.plan.projects)

    def test_no_wants_a_word(self) -> None:
        self.ask()
        self.press("requestDecline")
        self.assertIn("Say why", self.said())
        self.type_into("requestWord", "No room before summer")
        self.press("requestDecline")
        self.assertIs(self.desk.plan.requests["r"].state, RequestState.DECLINED)
        self.assertIn("No room before summer", self.side())
        self.assertEqual(len(self.letters()), 1)

    def test_a_wish_is_tried_beside_the_plan_before_anybody_promises_it(self) -> None:
        self.ask()
        self.press("requestTry")
        (scenario,) = self.desk.plan.scenarios.values()
        self.assertEqual(scenario.name, "With “Lamps”")
        there = self.desk.scenarios.opened(scenario.id).plan
        self.assertIn("Lamps", [p.name for p in there.projects.values()])
        self.assertNotIn("Lamps", [p.name for p in self.desk.plan.projects.values()])
        self.assertIs(self.desk.plan.requests["r"].state, RequestState.NEW)
        self.assertTrue(self.window.trying.isVisible())

    def test_a_folder_is_taken_in_as_files_come(self) -> None:
        folder = self.home / "asked"
        self.work.set_folder(str(folder))
        self.work.write_forms()
        self.assertEqual(sorted(p.name for p in folder.iterdir()), ["Ask for a project.html", "Requests.csv"])
        (folder / "a.json").write_text(json.dumps(GOOD), "utf-8")
        (folder / "b.json").write_text("{", "utf-8")
        wait_for(lambda: len(self.desk.plan.requests) == 1)
        self.rest()
        self.assertIn("b.json is no request", self.side())
        self.work.look()
        self.rest()
        self.assertEqual(len(self.desk.plan.requests), 1)
        self.work.set_folder(str(self.home / "gone"))
        self.work.look()
        self.rest()
        self.assertIn("cannot be read", self.side())

    def test_the_row_that_is_lit_is_the_one_at_the_side(self) -> None:
        self.ask()
        self.work.begin_new()
        self.rest()
        self.assertIn("What somebody asks for", self.side())
        self.window.show_leg("build")
        self.work.is_new, self.work.chosen = False, ""  # as at the first look
        self.window.show_part("requests", "telling")
        self.view.refresh()
        self.rest()
        self.assertEqual(self.work.chosen, self.view.table.current.id)
        self.assertIn("Your answer", self.side())
        self.desk.do(edits.save_requests(self.desk.plan, [Request("z", "Benches", at("2026-10-12T08:00"))]))
        self.work.look_at("z")
        self.rest()
        self.assertEqual(self.view.table.current.id, "z")
        self.assertNotIn("0 ", self.view._title.text())

    def test_a_folder_named_from_home_is_followed_and_what_comes_while_it_is_read_is_taken(self) -> None:
        told = patch.dict(os.environ, {"HOME": str(self.home)})
        told.start()
        self.addCleanup(told.stop)
        folder = self.home / "asked"
        folder.mkdir()
        self.work.set_folder("~/asked")
        self.rest()
        (folder / "a.json").write_text(json.dumps(GOOD), "utf-8")
        wait_for(lambda: len(self.desk.plan.requests) == 1)
        self.rest()
        watcher = self.work._folder._watcher
        watcher.removePaths(watcher.directories())  # so that only being asked again can find it
        is_read, may_end = threading.Event(), threading.Event()

        def slowly(*given: object) -> object:
            found = read_folder(*given)  # type: ignore[arg-type]
            is_read.set()
            may_end.wait(30)
            return found

        with patch("hexapod.formats.requests.read_folder", slowly):
            self.work.look()
            self.assertTrue(is_read.wait(30))
        (folder / "b.json").write_text(json.dumps({**GOOD, "what": "Benches"}), "utf-8")
        self.work.look()  # while the first look is under way, which has not seen it
        may_end.set()
        wait_for(lambda: len(self.desk.plan.requests) == 2)

    def test_delete_takes_one_away_and_undo_brings_it_back(self) -> None:
        self.ask()
        self.view.table.setFocus()
        QTest.keyClick(self.view.table, Qt.Key.Key_Delete)
        self.assertFalse(self.desk.plan.requests)
        self.desk.undo()
        self.assertTrue(self.desk.plan.requests)


if __name__ == "__main__":
    unittest.main()
