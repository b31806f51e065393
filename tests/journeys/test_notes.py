"""From the notes of a meeting to a linked, staffed and levelled plan: pasted, and typed by keys alone."""

from __future__ import annotations

import tempfile
from pathlib import Path

from tests.journeys.case import Journey, screen

from PyQt6.QtWidgets import QApplication, QComboBox  # isort: skip

from hexapod.plan import edits
from hexapod.plan.records import Resource, ResourceKind
from hexapod.session import Session

NOTES = """Hall
    Hall measured 2d with RO
    Hall emptied 3d after hall measured with RO, TB
    Floor mended 1w after hall emptied with two CT
    Walls painted 4d after floor mended with CT
    Glass ordered 3w after hall measured by 12 dec
Cases
    Cases drawn 1w with MO
    Cases built 2w after cases drawn with two CT
    Cases hung 3d after cases built, walls painted with CT
    Glass fitted 2d after cases hung, glass ordered with CT
    Locks fitted 1d after glass fitted with TB
Insects
    Insects chosen 1w with MO
    Beetles pinned 2w after insects chosen with SL
    Ants cast 8d after insects chosen with RO
    Wasps mounted 1w after insects chosen with SL
    Insects placed 3d after locks fitted, beetles pinned with SL 50%
Texts
    Texts written 2w after insects chosen with MO 50%
    Texts checked 3d after texts written with TB
    Labels printed 2d after texts checked +1d with RO
    Labels hung 1d after labels printed, cases hung with TB
Screens
    Films cut 2w after insects chosen with TB
    Screens ordered 3w from mon
    Cables laid 2d after floor mended with CT
    Screens wired 2d after cables laid, screens ordered with CT
Opening
    Guests invited 1d after glass ordered with RO
    Rehearsal 1d after insects placed, labels hung with MO, RO
    Gallery opens 0d after rehearsal, screens wired, films cut"""
STAFF = {"RO": "Rosa Ortiz", "TB": "Tom Bern", "MO": "Mara Okoye", "SL": "Sven Lund", "CT": "Carpenter"}


class FromNotes(Journey):
    def setUp(self) -> None:
        super().setUp()
        for i, (initials, name) in enumerate(STAFF.items()):
            kind = ResourceKind.ROLE if initials == "CT" else ResourceKind.PERSON
            capacity = 3.0 if initials == "CT" else 1.0
            person = Resource(initials, name, f"a{i}", kind, capacity, initials=initials)
            self.desk.do(edits.save_resource(self.plan, person))
        screen.settle()

    def assert_the_plan_of_the_notes(self) -> None:
        names = {t.id: t.name for t in self.plan.tasks.values()}
        self.assertEqual(32, len(names))
        links = {(names[link.predecessor], names[link.successor]) for link in self.plan.links.values()}
        self.assertEqual(30, len(links))
        self.assertIn(("Films cut", "Gallery opens"), links)
        self.assertEqual(25, len(self.plan.assignments))
        self.assertEqual(self.outline()[:3], ["Hall", "  Hall measured", "  Hall emptied"])

    def overloads(self) -> int:
        load = screen.wait_for(lambda: self.desk.load)
        return len(load.overloads)

    def test_pasted_notes_become_a_plan_in_one_paste(self) -> None:
        QApplication.clipboard().setText(NOTES)
        screen.keys("ctrl+v")
        screen.wait_for(lambda: self.window.shows("notes") and self.window.notes.lines.notes)
        self.assertIn("All of it was understood", self.window.notes.says.text())
        screen.keys("Return")
        self.assert_the_plan_of_the_notes()
        self.assertGreater(self.overloads(), 0)
        screen.keys("shift+F8")
        screen.wait_for(lambda: self.desk.proposal is not None and not self.desk.levelling.is_looking)
        self.press_button("button.level.accept")
        screen.wait_for(lambda: self.overloads() == 0)
        self.assert_the_plan_of_the_notes()

    def test_a_key_takes_a_line_another_way_though_it_moves_rows_elsewhere(self) -> None:
        screen.keys("ctrl+End", "Home", "Return")
        screen.type_text("Posts set")
        screen.keys("Return")
        screen.type_text("Fence 20 m")
        screen.keys("alt+Down", "Return", "Escape")
        self.assertEqual(["Posts set", "Fence"], self.outline())

    def test_typing_them_takes_hardly_more_keys_than_they_have_letters(self) -> None:
        pressed = 0

        def keys(*names: str) -> None:
            nonlocal pressed
            pressed += len(names)
            screen.keys(*names)

        level = 0
        keys("ctrl+End", "Home", "Return")
        for line in NOTES.split("\n"):
            wanted = 1 if line.startswith(" ") else 0
            if wanted != level:
                keys("Tab" if wanted > level else "shift+Tab")
                level = wanted
            pressed += len(line.strip())
            screen.type_text(line.strip())
            keys("Return")
        keys("Escape")
        self.assert_the_plan_of_the_notes()
        self.assertLessEqual(pressed, 1.15 * len(NOTES))


class FirstStart(Journey):
    """Nothing is there: no project, nobody. On a laptop's screen, in the dark."""

    def setUp(self) -> None:
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.path = Path(folder.name) / "First.hexapod"
        Session.create(self.path).close()
        self.open()
        self.window.resize(1366, 720)
        screen.keys("F9")
        self.addCleanup(screen.keys, "F9")

    def test_from_nothing_to_a_levelled_plan_of_pasted_notes(self) -> None:
        self.assertTrue(self.window.shows("first"))
        QApplication.clipboard().setText(NOTES.replace("two CT", "CT"))
        screen.keys("ctrl+v")
        screen.wait_for(lambda: self.window.shows("notes") and self.window.notes.lines.notes)
        screen.click(self.window.findChild(QComboBox, "notesWhoCT"))
        screen.keys("Down", "Down", "Return")
        self.press_button("notesAllNew")
        screen.wait_for(lambda: "All of it was understood" in self.window.notes.says.text())
        self.press_button("notesTake")
        self.assertEqual((32, 30, 5), (len(self.plan.tasks), len(self.plan.links), len(self.plan.resources)))
        self.assertEqual(["CT"], [r.initials for r in self.plan.resources.values() if r.kind is ResourceKind.ROLE])
        screen.wait_for(lambda: self.desk.load is not None and len(self.desk.load.overloads) > 0)
        screen.keys("shift+F8")
        screen.wait_for(lambda: self.desk.proposal is not None and not self.desk.levelling.is_looking)
        screen.keys("ctrl+shift+Return")
        screen.wait_for(lambda: not self.desk.load.overloads)
        self.assertEqual((1366, 720), (self.window.width(), self.window.height()))


if __name__ == "__main__":
    import unittest

    unittest.main()
