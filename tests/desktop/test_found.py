"""What an hour of attacks found in the window, each where it was, beside the monkey that looks for more."""

from __future__ import annotations

import sqlite3
import sys
import tempfile
import unittest
from pathlib import Path
from types import TracebackType
from unittest.mock import patch

from msgspec.structs import replace
from PyQt6.QtCore import QPoint
from PyQt6.QtWidgets import QAbstractButton, QLabel, QPushButton, QSpinBox, QWidget

from hexapod.desktop.app import Opener
from hexapod.desktop.build.leg import _how_long
from hexapod.desktop.kept_window import FRAME, restore_window
from hexapod.desktop.window import FIRST_SIZE, Window
from hexapod.errors import EditRefused
from hexapod.plan import edits
from hexapod.plan.plan import Plan
from hexapod.plan.records import Calendar, Link
from hexapod.session import Session
from hexapod.store.workspace import Workspace
from tests.at_rest import settle
from tests.desktop.case import Qt, QTest, WindowCase, put_away
from tests.support import DAY, project, tasks


class Found(WindowCase):
    def setUp(self) -> None:
        super().setUp()
        self.failures: list[BaseException] = []
        hook = patch.object(sys, "excepthook", self.note)
        hook.start()
        self.addCleanup(self.none_failed)
        self.addCleanup(hook.stop)

    def note(self, kind: type[BaseException], error: BaseException, trace: TracebackType | None) -> None:
        self.failures.append(error)

    def none_failed(self) -> None:
        self.assertEqual(self.failures, [])

    def test_a_window_opens_with_the_milestone_strip_shown(self) -> None:
        self.window.build.strip.toggle()
        path = self.desk.session.workspace.path
        put_away(self.window)
        again = Window(Session.open(path), lambda *_: None)
        self.addCleanup(put_away, again)
        again.show()
        settle()
        self.assertTrue(again.build.strip.isVisible())

    def test_a_new_row_while_each_edit_is_looked_at_before(self) -> None:
        self.desk.staging.ask_first(True)
        self.grid.go(len(self.desk.rows) - 1, 1)
        self.press(Qt.Key.Key_Return)
        self.type("Waits to be looked at", Qt.Key.Key_Return)
        self.assertIsNone(self.editor())
        self.assertNotIn("Waits to be looked at", {t.name for t in self.desk.plan.tasks.values()})
        self.desk.staging.take()
        self.assertIn("Waits to be looked at", {t.name for t in self.desk.plan.tasks.values()})

    def test_reserving_where_nobody_is_there(self) -> None:
        self.window.registry.qt("staff.reserve").trigger()
        settle()
        save = next(b for b in self.window.side.findChildren(QPushButton, "formSave") if b.isVisible())
        save.click()
        reason = next(x for x in self.window.side.findChildren(QLabel, "formReason") if x.isVisible())
        self.assertIn("nobody to reserve", reason.text())

    def test_the_first_project_cannot_go_up(self) -> None:
        self.window.registry.qt("project.all").trigger()
        settle()
        ups = [b for b in self.window.side.findChildren(QAbstractButton) if "up" in b.toolTip() and b.isVisible()]
        self.assertEqual([b.isEnabled() for b in ups], [False])

    def test_headings_of_a_file_that_cannot_be_read(self) -> None:
        with tempfile.TemporaryDirectory() as folder:
            path = Path(folder) / "broken.xlsx"
            path.write_bytes(b"PK\x03\x04 not a spreadsheet")
            self.window.show_import(path)
            self.wait_for(lambda: "damaged" in self.window.importing._says.text())
        header = self.window.importing.findChild(QSpinBox, "importHeader")
        assert header is not None
        header.setValue(3)
        settle()
        self.assertFalse(self.window.importing.take_button.isEnabled())

    def test_a_row_that_goes_under_its_open_editor(self) -> None:
        for way in ("deleted", "undone"):
            self.desk.do(edits.add_text("p", "Short-lived"))
            self.go_to("Short-lived")
            self.press(Qt.Key.Key_F2)
            self.type("Something else")
            if way == "deleted":
                self.desk.do(edits.remove_tasks(self.desk.plan, [self.id_of("Short-lived")]))
            else:
                self.desk.undo()
            self.grid.finish_typing()
            settle()
            self.assertIsNone(self.editor())
            self.assertIn("Something else", self.said(), "what was typed is said once more")

    def test_the_goal_of_the_map_goes(self) -> None:
        self.desk.do(edits.set_durations(self.desk.plan, [self.id_of("Open")], 0))
        self.window.show_leg("link")
        self.window.link.show_map(True)
        settle()
        goal = self.window.link.map.milestones[-1]
        self.desk.do(edits.remove_tasks(self.desk.plan, [goal]))
        settle()
        canvas = self.window.link.map.canvas
        for key in (Qt.Key.Key_Right, Qt.Key.Key_Up, Qt.Key.Key_Return, Qt.Key.Key_Delete, Qt.Key.Key_Escape):
            QTest.keyClick(canvas, key)
        QTest.mouseClick(canvas, Qt.MouseButton.LeftButton, pos=QPoint(60, 60))
        QTest.mouseDClick(canvas, Qt.MouseButton.LeftButton, pos=QPoint(200, 60))
        QTest.mouseRelease(self.window, Qt.MouseButton.LeftButton)
        settle()
        self.assertEqual([m for m in self.window.link.map.milestones if m not in self.desk.plan.tasks], [])

    def test_buttons_of_the_side_about_a_task_that_is_gone(self) -> None:
        self.go_to("Survey")
        settle()
        buttons = [b for b in self.window.side.findChildren(QAbstractButton) if b.isVisible() and b.isEnabled()]
        self.assertGreater(len(buttons), 3)
        with patch.object(self.window.side.pages.made()[0], "refresh", lambda: None):
            self.desk.session.apply(edits.remove_tasks(self.desk.plan, [self.id_of("Survey")]))
            for button in buttons:
                if not button.toolTip().startswith("Choose a file"):
                    button.click()
        settle()
        self.failures = [e for e in self.failures if not isinstance(e, EditRefused)]  # which the application says

    def test_the_first_run_closes_at_every_moment(self) -> None:
        for steps in range(4):
            path = self.desk.session.workspace.path.with_name(f"first{steps}.hexapod")
            window = Window(Session.create(path), lambda *_: None)
            window.show()
            window.start()
            self.wait_for(lambda w=window: w.desk.is_computed)
            window.desk.dates_kept._find()
            settle()
            if steps > 0:
                window.desk.do(edits.save_project(window.desk.plan, project()))
                window.desk.dates_kept._find()
                settle()
            if steps > 1:
                window.desk.do(edits.add_text("p", "First"))
                window.desk.dates_kept._find()
                settle()
            if steps > 2:
                window.desk.undo()
            plan = window.desk.plan
            put_away(window)
            again = Session.open(path)
            self.assertEqual(again.plan, plan)
            again.close()

    def test_names_with_tags_are_shown_as_they_stand(self) -> None:
        name = "<b>Bold</b> <img src='/etc/passwd'> glass"
        self.desk.do(edits.rename(self.desk.plan, self.id_of("Survey"), name))
        self.desk.told.emit(f"Undone: {name}.", "", False)
        settle()
        for widget in self.window.findChildren(QWidget):
            self.assertFalse(Qt.mightBeRichText(widget.toolTip()) and name in widget.toolTip(), widget)
        self.assertIn("&lt;b&gt;", self.window.findChild(QLabel, "notice").toolTip())  # type: ignore[union-attr]
        index = self.grid.model().index(0, 1)
        self.assertFalse(str(index.data(Qt.ItemDataRole.ToolTipRole)).startswith("<b>"))
        ours = [x for x in self.window.findChildren(QLabel) if x.metaObject().className() != "QTipLabel"]
        for label in ours:
            self.assertEqual(label.textFormat(), Qt.TextFormat.PlainText, f"{label.text()} in {label.parent()}")

    def test_whatever_is_remembered_of_a_window_it_opens(self) -> None:
        names = (
            *("folded", "views", "view", "columns", "column_widths", "color_by", "project", "back_milestones", "paper"),
            *("guard", "window", "staff_view", "roles_step", "load_step", "load_show", "load_groups", "load_all"),
            *("load_folded", "strip", "strip_shown"),
        )
        path = self.desk.session.workspace.path
        put_away(self.window)
        for value in (
            '"x"', "[[]]", '[{"name": 5}]', "{}", '{"priority": 99999999999}', '{"geometry": 1, "split": [1e99]}', "7",
            '["priority", "priority", "x"]', "true", "null", "[[[[", '{"p": ["gone"]}',
            '{"geometry": "", "split": [], "leg": "x", "origin": 9e18, "pixels": -1, "row": 1, "current": 3}',
        ):  # fmt: skip
            connection = sqlite3.connect(path, isolation_level=None)
            for name in names:
                connection.execute("REPLACE INTO state VALUES (?, ?)", (name, value))
            connection.close()
            window = Window(Session.open(path), lambda *_: None)
            restore_window(window)
            window.show()
            window.start()
            for leg in ("staff", "link", "build"):
                window.show_leg(leg)
                settle()
            put_away(window)

    def test_a_file_that_goes_while_nothing_is_edited_is_noticed_and_named(self) -> None:
        path = self.desk.session.workspace.path
        path.unlink()
        self.window.look_after()
        self.assertIn("Every edit is kept", self.said())
        self.assertIn("kept", self.window.windowTitle())
        settle()
        says = next(x for x in self.window.side.findChildren(QLabel, "fileSays") if x.isVisible())
        self.assertIn(str(self.desk.session.workspace.path.parent), says.text().replace("\u200b", ""))
        self.assertTrue(self.desk.session.workspace.path.exists())
        self.desk.do(edits.add_text("p", "On we go"))


class Unschedulable(WindowCase):
    def workspace(self) -> Path:
        """Two loops and a calendar that never works, as an older version let them in."""
        made = tasks(*((name, DAY) for name in "abcd"))
        links = [Link("a", "b"), Link("b", "a"), Link("c", "d"), Link("d", "c")]
        never = Calendar("never", "Never", week=((),) * 7)
        plan = Plan.of([never, project(), *made, *links])
        path = self.desk.session.workspace.path.with_name("old.hexapod")
        workspace = Workspace.create(path)
        workspace.write(edits_of(plan), "Begin", "me")
        workspace.close()
        return path

    def test_it_opens_and_is_mended_step_by_step(self) -> None:
        window = Window(Session.open(self.workspace()), lambda *_: None)
        self.addCleanup(put_away, window)
        window.show()
        window.start()
        self.wait_for(lambda: window.desk.first_dates.are_impossible)
        desk = window.desk
        self.assertTrue(desk.do(edits.unlink(desk.plan, [("b", "a", "FS")])))
        self.assertFalse(desk.is_computed, "the other loop is still there")
        self.assertTrue(desk.do(edits.unlink(desk.plan, [("d", "c", "FS")])))
        self.assertTrue(desk.is_computed)
        self.assertFalse(desk.do(edits.link(desk.plan, "b", "a")), "now it is refused for what it breaks")
        task = edits.set_task(desk.plan, "a", "x", calendar="never")
        self.assertFalse(desk.do(task))
        while desk.session.undo_words is not None:
            desk.undo()
        self.assertFalse(desk.plan.tasks)

    def test_imports_refuse_it(self) -> None:
        a, b = (replace(t, id=f"new{t.id}") for t in tasks(("a", DAY), ("b", DAY)))
        other = Plan.of([project(), a, b, Link("newa", "newb"), Link("newb", "newa")])
        from hexapod.formats.merging import merge

        proposal = merge(self.desk.plan, other, "x")
        assert proposal.edit is not None
        before = self.desk.plan
        self.assertFalse(self.desk.do(proposal.edit))
        self.assertIs(self.desk.plan, before)
        self.assertIn("→", self.said())


class Bugs(WindowCase):
    def test_a_refusal_that_nobody_shows_is_shown_as_a_sentence(self) -> None:
        opener = Opener()
        opener.windows.append(self.window)
        opener.on_bug(EditRefused, EditRefused("It cannot go further."), None)
        self.assertEqual(self.said(), "It cannot go further.")


class OnASmallScreen(WindowCase):
    def test_a_new_window_and_its_frame_fit(self) -> None:
        window = Opener().open(self.desk.session.workspace.path.with_name("Second.hexapod"), create=True)
        assert window is not None
        self.addCleanup(put_away, window)
        room = window.screen().availableGeometry()  # type: ignore[union-attr]
        self.assertLess(room.height(), FIRST_SIZE[1] + FRAME.height(), "the screen is too large to tell")
        self.assertLessEqual(window.height() + FRAME.height(), room.height())


def edits_of(plan: Plan):  # type: ignore[no-untyped-def]
    from hexapod.plan.changes import diff

    return diff(Plan(), plan)


class HowLong(unittest.TestCase):
    def test_a_short_project_is_said_in_days_and_no_count_is_wrong(self) -> None:
        day = 1440
        said = [_how_long(x) for x in (60, day, 2 * day + 540, 13 * day, 14 * day, 101 * day)]
        self.assertEqual(said, ["1 day", "1 day", "3 days", "13 days", "2 weeks", "14 weeks"])


if __name__ == "__main__":
    unittest.main()
