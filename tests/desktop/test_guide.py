"""The guide that is shipped: whole, true to the program, found by words, and read by keys."""

from __future__ import annotations

import re
import unittest

from PyQt6.QtTest import QTest

from hexapod.desktop.guide.view import keys_as_text
from hexapod.guide import FOLDER, ORDER, page_of, pages, search
from hexapod.lines.known import Known
from hexapod.lines.line import read_line
from tests.desktop.case import Qt, WindowCase, settle
from tests.lines.test_line import museum, read_date

F1, ESC, DOWN, ENTER = Qt.Key.Key_F1, Qt.Key.Key_Escape, Qt.Key.Key_Down, Qt.Key.Key_Return


class Pages(unittest.TestCase):
    def test_each_page_is_listed_and_each_link_and_picture_is_there(self) -> None:
        self.assertEqual(set(ORDER), {path.stem for path in FOLDER.glob("*.md")})
        shown: set[str] = set()
        for page in pages():
            for target in re.findall(r"\]\(([^)]+)\)", page.text):
                self.assertTrue((FOLDER / target).is_file(), (page.name, target))
            shown |= set(page.pictures)
        self.assertEqual(shown, {f"pictures/{path.name}" for path in FOLDER.glob("pictures/*")}, "none is left over")

    def test_what_the_guide_says_of_lines_is_understood(self) -> None:
        known = Known.of(museum(), "p", read_date)
        page = next(page for page in pages() if page.name == "lines")
        table = page.text.split("|---|---|")[1].split("##")[0]
        seen = 0
        for said in re.findall(r"`([^`]+)`", table):
            named = said.replace("1.4", "1.2").replace("4.1", "3.1")
            line = read_line(named if named[0].isupper() else f"Try it {named}", known)
            self.assertEqual(len(line.taken(line.usual)), len(line.clauses), said)
            self.assertTrue(line.clauses, said)
            seen += 1
        self.assertGreater(seen, 20)

    def test_words_are_found_where_all_of_them_stand_headings_first(self) -> None:
        page = page_of("x", "# Moths\n\nGlass and lamps.\n\n## Lamps\n\nOf *glass*.\n\n## Pins\n\nNo such thing.\n")
        self.assertEqual(["Lamps", "Moths"], [p.heading for p in search("lamps glass", (page,))])
        self.assertEqual([], search("lamps wire", (page,)))
        self.assertEqual([], search("  ", (page,)))


class Shown(WindowCase):
    def test_f1_opens_it_at_the_leg_and_leads_back(self) -> None:
        self.window.registry.qt("help.guide").trigger()
        settle()
        guide = self.window.guide
        self.assertTrue(self.window.shows("guide"))
        self.assertTrue(guide.page.toPlainText().startswith("Lines that say it all"))
        QTest.keyClicks(guide.search, "levelling")
        found = [guide.list.item(i).text() for i in range(guide.list.count())]
        self.assertTrue(found[0].startswith("Levelling"), found)
        QTest.keyClick(guide.search, ENTER)
        self.assertTrue(guide.page.toPlainText().startswith("Levelling"))
        QTest.keyClick(guide, ESC)
        self.assertTrue(self.window.shows("build"))

    def test_keys_are_a_page_of_it_made_from_the_actions(self) -> None:
        self.window.registry.qt("help.keys").trigger()
        settle()
        text = self.window.guide.page.toPlainText()
        for action in self.window.registry:
            if action.keys:
                self.assertIn(action.text.rstrip("…"), text)
        self.assertIn("| Undo | Ctrl+Z |", keys_as_text(self.window.registry))

    def test_pictures_are_as_wide_as_there_is_room(self) -> None:
        self.window.show_guide("chart")
        self.window.resize(1024, 640)
        bar = self.window.guide.page.horizontalScrollBar()
        self.wait_for(lambda: bar.maximum() == 0)


if __name__ == "__main__":
    unittest.main()
