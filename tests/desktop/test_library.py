"""Templates, copies of projects, folders and archive; and the history as a place to go back to."""

from __future__ import annotations

import os
import tempfile
import unittest
from pathlib import Path
from unittest import mock

from msgspec.structs import replace
from PyQt6.QtWidgets import QComboBox, QLineEdit, QPlainTextEdit, QPushButton

from hexapod.formats.templates import SHIPPED, templates
from hexapod.plan import edits
from hexapod.plan.records import LimitKind, Resource
from hexapod.plan.validity import check_whole
from hexapod.schedule.engine import schedule
from hexapod.worktime.clock import iso
from tests.desktop.case import Qt, QTest, WindowCase, settle
from tests.support import DAY, at


class Library(WindowCase):
    def setUp(self) -> None:
        super().setUp()
        home = tempfile.TemporaryDirectory()
        self.addCleanup(home.cleanup)
        patched = mock.patch.dict(os.environ, {"XDG_DATA_HOME": home.name})
        patched.start()
        self.addCleanup(patched.stop)
        self.own = Path(home.name) / "hexapod" / "templates"

    def fill(self, name: str, text: str) -> None:
        line = self.window.side.findChildren(QLineEdit, name)[-1]
        line.clear()
        QTest.keyClicks(line, text)

    def click(self, name: str) -> None:
        settle()
        button = self.wait_for(lambda: [b for b in self.window.findChildren(QPushButton, name) if b.isVisible()])
        QTest.mouseClick(button[-1], Qt.MouseButton.LeftButton)  # type: ignore[index]
        settle()

    def test_every_shipped_template_is_a_plan_that_can_be_scheduled(self) -> None:
        found = templates(self.own)
        self.assertGreaterEqual(len(found), 5)
        for template in found:
            self.assertTrue(template.is_shipped and template.plan is not None, template.trouble)
            assert template.plan is not None
            check_whole(template.plan)
            self.assertIsNotNone(schedule(template.plan).last_finish)
        self.assertEqual(len(list(SHIPPED.glob("*.json"))), len(found))

    def test_a_branch_becomes_a_template_and_a_project_with_new_dates_and_other_people(self) -> None:
        plan = self.desk.plan
        for resource in (Resource("r", "Mo Okon", "a0", initials="MO"), Resource("s", "Tam Birk", "a1", initials="TB")):
            self.desk.do(edits.save_resource(plan, resource))
        frames = self.id_of("Frames")
        self.desk.do(edits.assign(self.desk.plan, [frames], "r"))
        self.desk.do(edits.set_limit(self.desk.plan, frames, LimitKind.MUST_START, at("2026-09-20T08:00")))
        self.go_to("Build")
        self.window.registry.qt("template.save").trigger()
        self.fill("saveName", "Building: a case")
        self.click("formSave")
        (own,) = [t for t in templates(self.own) if not t.is_shipped]
        self.assertEqual(own.path.parent, self.own)
        self.window.registry.qt("template.start").trigger()
        self.click("template.Building: a case")
        self.fill("templateName", "North case")
        self.fill("templateStart", "2027-02-01")
        box = self.window.side.findChildren(QComboBox, "templateWho.Mo Okon")[-1]
        box.setCurrentIndex(box.findData("s"))
        self.click("formSave")
        made = next(p for p in self.desk.plan.projects.values() if p.name == "North case")
        self.assertEqual(iso(made.start), "2027-02-01T08:00")
        self.assertEqual(self.outline(), ["Build", "  Frames", "  Glass"])
        frames = next(t for t in self.desk.plan.tasks.values() if t.project == made.id and t.name == "Frames")
        self.assertEqual(self.desk.plan.assigned[frames.id], ("s",))
        self.assertEqual(frames.limits, ())
        self.desk.undo()
        self.assertEqual(len(self.desk.plan.projects), 1)

    def test_several_projects_are_started_at_once_each_with_its_name_and_day(self) -> None:
        self.window.registry.qt("template.start").trigger()
        shipped = next(t for t in templates(self.own) if t.plan is not None)
        self.click(f"template.{shipped.name}")
        self.fill("templateName", "West case")
        self.fill("templateStart", "2027-02-01")
        more = self.window.side.findChildren(QPlainTextEdit, "templateMore")[-1]
        more.setPlainText("North case; 2027-03-01\n\nEast case\nSouth case; someday")
        before = self.desk.plan
        self.click("formSave")
        self.assertIs(self.desk.plan, before)
        self.assertTrue(any(text.startswith("Line 4, the day: ") for text in self.texts(self.window.side)))
        more.setPlainText("North case\t2027-03-01\n\nEast case\n")
        self.click("formSave")
        made = [(p.name, iso(p.start)[:10]) for p in self.desk.plan.projects_in_order()][1:]
        self.assertEqual(made, [("West case", "2027-02-01"), ("North case", "2027-03-01"), ("East case", "2027-02-01")])
        assert shipped.plan is not None
        counts = {
            sum(t.project == p for t in self.desk.plan.tasks.values()) for p in self.desk.plan.projects if p != "p"
        }
        self.assertEqual(counts, {len(shipped.plan.tasks)})
        self.assertEqual(len({p.rank for p in self.desk.plan.projects.values()}), 4)
        self.desk.undo()
        self.assertEqual(len(self.desk.plan.projects), 1, "one edit")

    def test_a_damaged_file_is_named_and_the_rest_is_there(self) -> None:
        self.own.mkdir(parents=True)
        (self.own / "broken.json").write_text("{")
        broken, *rest = templates(self.own)
        self.assertIsNone(broken.plan)
        self.assertTrue(broken.trouble)
        self.assertTrue(all(t.plan for t in rest))

    def test_a_project_is_duplicated_with_and_without_people(self) -> None:
        self.desk.do(edits.save_resource(self.desk.plan, Resource("r", "Mo Okon", "a0", initials="MO")))
        self.desk.do(edits.assign(self.desk.plan, [self.id_of("Frames")], "r"))
        page = self.window.side.pages["projects"]
        home = self.desk.plan.projects["p"]
        for people in (True, False):
            page.duplicate(home, people=people)  # type: ignore[attr-defined]
            copy = self.desk.plan.projects[self.desk.project or ""]
            mine = [t.id for t in self.desk.plan.tasks.values() if t.project == copy.id]
            self.assertEqual(len(mine), 6)
            self.assertEqual(any(self.desk.plan.assigned.get(t) for t in mine), people)
            self.assertEqual(self.desk.schedule.project_finish[copy.id], self.desk.schedule.project_finish["p"])
        self.desk.do(edits.move_project(self.desk.plan, "p", 1))
        self.assertEqual([p.name for p in self.desk.plan.projects_in_order()], ["P (copy)", "P", "P (copy 2)"])
        self.desk.do(edits.save_project(self.desk.plan, replace(home, folder="Galleries", archived=True)))
        self.window.side.show_page("projects")
        self.wait_for(lambda: "Archived" in self.texts(page))


class Exports(WindowCase):
    def test_what_is_on_screen_is_written_beside_the_interface(self) -> None:
        self.desk.fold(self.id_of("Build"), True)
        self.desk.looks.set_columns(["finish", "duration"])
        self.window.registry.qt("workspace.export").trigger()
        page = self.window.side.pages.export
        for suffix in (".csv", ".xlsx", ".txt", ".ics", ".json"):
            box = page.findChildren(QComboBox, "exportFormat")[-1]
            box.setCurrentIndex(box.findData(suffix))
            path = self.desk.session.workspace.path.with_suffix(suffix)
            page.write(path)
            self.wait_for(lambda p=path: self.said() == f"Exported to {p.name}.")
            self.assertGreater(path.stat().st_size, 20)
        lines = self.desk.session.workspace.path.with_suffix(".csv").read_text("utf-8-sig").splitlines()
        self.assertEqual(lines[0], "#,Task,Finish,Duration")
        self.assertEqual([line.split(",")[1] for line in lines[1:]], ["Survey", "Draw", "Build", "Open"])
        page.write(Path("/nowhere/x.csv"))
        self.wait_for(lambda: "cannot be written" in self.said())


class History(WindowCase):
    def click(self, name: str) -> None:
        button = self.wait_for(lambda: [b for b in self.window.findChildren(QPushButton, name) if b.isVisible()])
        QTest.mouseClick(button[-1], Qt.MouseButton.LeftButton)  # type: ignore[index]
        settle()

    def test_the_plan_of_an_earlier_day_is_read_and_a_branch_comes_back_from_it(self) -> None:
        desk = self.desk
        desk.do(edits.link(desk.plan, self.id_of("Draw"), self.id_of("Frames")))
        number = desk.session.history[-1].number
        then = desk.plan
        desk.do(edits.set_durations(desk.plan, [self.id_of(name) for name in ("Open", "Draw", "Survey")], 9 * DAY))
        build, frames = self.id_of("Build"), self.id_of("Frames")
        desk.do(edits.remove_tasks(desk.plan, [build]))
        desk.undo()
        desk.session.redo()
        self.window.side.show_page("history")
        self.click(f"history.{number}")
        self.wait_for(lambda: desk.past is not None)
        self.assertEqual(desk.plan, then)
        self.assertIn("  Frames", self.outline())
        self.assertEqual(desk.schedule.dates(frames), schedule(then).dates(frames))
        self.assertFalse(desk.do(edits.rename(desk.plan, build, "Changed")))
        self.assertIn("Go back to today", self.said())
        self.wait_for(lambda: not self.window.registry.qt("row.delete").isEnabled())
        page = self.window.side.pages["history"]
        self.wait_for(lambda: any(b.text() == "Survey" for b in page.findChildren(QPushButton) if b.isVisible()))
        listed = [b.text() for b in page.findChildren(QPushButton) if b.isVisible()]
        self.assertEqual([t for t in listed if t in ("Survey", "Draw", "Open")], ["Survey", "Draw", "Open"])
        now = desk.session.plan
        self.click("historyToday")
        self.assertEqual(desk.plan, now)
        desk.look_back(next(r for r in desk.session.history if r.number == number))
        self.wait_for(lambda: desk.past is not None)
        back = self.wait_for(lambda: [b for b in self.window.side.findChildren(QPushButton)
                                      if b.text().startswith("Bring back “Build”") and b.isVisible()])  # fmt: skip
        QTest.mouseClick(back[0], Qt.MouseButton.LeftButton)  # type: ignore[index]
        self.assertIsNone(desk.past)
        self.assertEqual(self.outline(), ["Survey", "Draw", "Build", "  Frames", "  Glass", "Open"])
        self.assertEqual(desk.plan.links_into(frames)[0].predecessor, self.id_of("Draw"))
        self.assertEqual(desk.plan.tasks[self.id_of("Draw")].duration, 9 * DAY)

    def test_what_a_task_went_through(self) -> None:
        desk = self.desk
        desk.do(edits.rename(desk.plan, self.id_of("Draw"), "Draw it"))
        desk.do(edits.rename(desk.plan, self.id_of("Open"), "Open it"))
        self.go_to("Draw it")
        self.window.side.show_page("history")
        self.click("historyTask")
        self.wait_for(lambda: "Rename “Draw”" in " ".join(self.texts(self.window.side)))
        shown = " ".join(self.texts(self.window.side))
        self.assertNotIn("Rename “Open”", shown)


if __name__ == "__main__":
    unittest.main()
