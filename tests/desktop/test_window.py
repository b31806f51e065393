"""The window without a screen: the registry of actions, the pages, opening to read, ghosts and folding."""

from __future__ import annotations

import os
import tempfile
import unittest
from pathlib import Path

os.environ["QT_QPA_PLATFORM"] = "offscreen"

from msgspec.structs import replace
from PyQt6.QtCore import Qt
from PyQt6.QtGui import QKeySequence
from PyQt6.QtWidgets import QApplication, QLineEdit, QMenu, QPushButton, QWidget

from hexapod.demo.museum import build_demo
from hexapod.desktop.app import Opener, copy_of
from hexapod.desktop.window import Window
from hexapod.query.views import View
from hexapod.session import Session
from tests.at_rest import settle, wait_for
from tests.desktop.case import put_away


class WithTheDemo(unittest.TestCase):
    @classmethod
    def setUpClass(cls) -> None:
        cls.folder = tempfile.TemporaryDirectory()
        cls.addClassCleanup(cls.folder.cleanup)
        cls.source = Path(cls.folder.name) / "source.hexapod"
        build_demo(cls.source)

    def setUp(self) -> None:
        self.path = Path(self.folder.name) / f"{self.id()}.hexapod"
        self.path.write_bytes(self.source.read_bytes())
        self.window = self.open()

    def open(self, *, read_only: bool = False) -> Window:
        session = Session.open(self.path, read_only=read_only)
        session.compute()
        window = Window(session, lambda *_: None)
        window.show()
        window.desk.computed.emit()
        self.addCleanup(put_away, window)
        settle()
        return window

    def go_to(self, name: str) -> str:
        desk = self.window.desk
        task = next(t.id for t in desk.plan.tasks.values() if t.name == name)
        desk.go_to(task)
        settle()
        return task


class Actions(WithTheDemo):
    def test_no_shortcut_twice_and_every_action_can_be_reached_by_keys(self) -> None:
        taken: dict[str, str] = {}
        in_menu = {a for actions in self.window.registry.menus().values() for a in actions}
        for action in self.window.registry:
            made = self.window.registry.qt(action.id)
            self.assertIn(made, in_menu, f"{action.id} is in no menu, which F10 opens")
            for shortcut in made.shortcuts():
                text = shortcut.toString()
                self.assertTrue(text, f"{action.id}: {action.keys} is no key")
                self.assertNotIn(text, taken, f"{action.id} and {taken.get(text)} share {text}")
                taken[text] = action.id
        self.assertIn(QKeySequence("F10").toString(), taken)

    def test_no_action_is_dead(self) -> None:
        """Each one changes the plan, what is looked at, what is said, or where the keyboard is."""
        leaves_the_window = {"workspace.new", "workspace.open", "workspace.copy", "workspace.close", "workspace.import",
                             "report.write"}  # fmt: skip
        untouched = len(self.window.desk.session.history)
        for action in list(self.window.registry):
            if action.id in leaves_the_window:
                continue
            left = self.window.desk
            if len(left.session.history) != untouched or left.proposal is not None or left.gap is not None:
                self.window = self.open_again()
            self.window.grid.finish_typing()
            self.window.desk.staging.ask_first(False)
            self.window.registry.qt("view.whole").trigger()
            window, desk = self.window, self.window.desk
            window.show_leg("build")
            self.go_to("Case frames erected")
            self._prepare(action.id)
            window.registry.refresh()
            self.assertTrue(window.registry.qt(action.id).isEnabled(), f"{action.id} cannot be pressed")
            before = self.state()
            window.registry.qt(action.id).trigger()
            with self.subTest(action.id):
                wait_for(lambda before=before: self.state() != before)
            menu = QApplication.activePopupWidget()
            if isinstance(menu, QMenu):
                menu.close()
            self.assertIsNotNone(desk)

    def open_again(self) -> Window:
        put_away(self.window)
        self.path.write_bytes(self.source.read_bytes())
        return self.open()

    def _prepare(self, action_id: str) -> None:
        window, desk = self.window, self.window.desk
        if action_id == "edit.redo":
            desk.undo()
        elif action_id == "edit.paste":
            QApplication.clipboard().setText("Pasted\n  Inner")
        elif action_id == "edit.copy":
            QApplication.clipboard().setText("")
        elif action_id in ("link.chain", "edit.fill"):
            if action_id == "edit.fill":
                window.grid.go(window.grid.currentIndex().row(), 2)
            self.select("Case frames erected", "Graphics fixed")
        elif action_id == "row.unlimit":
            window.registry.qt("row.edit")
            from hexapod.plan import edits
            from hexapod.plan.records import LimitKind

            desk.do(edits.set_limit(desk.plan, desk.current, LimitKind.START_NO_EARLIER, 29_900_000))
            self.go_to("Case frames erected")
        elif action_id in ("level.accept", "level.dismiss", "level.clear"):
            from hexapod.staffing.levelling.proposal import level

            desk.show_proposal(level(desk.schedule, within_float=True))
            if action_id == "level.clear":
                window.registry.refresh()
                window.registry.qt("level.accept").trigger()
        elif action_id == "projects.open":
            desk.portfolio.look_at(next(p for p in desk.plan.projects if p != desk.project))
        elif action_id.startswith("scenario."):
            last = desk.scenarios.listed()[-1].id
            desk.scenarios.look_at(last)
            if action_id in ("scenario.leave", "scenario.differences", "scenario.differing"):
                desk.scenarios.enter(last)
                wait_for(lambda: desk.scenario is not None)
        elif action_id in ("look.build", "help.inspector"):
            window.show_leg("staff")
        elif action_id == "edit.take":
            from hexapod.plan import edits

            desk.staging.show(edits.rename(desk.plan, desk.current, "Looked at first"))
        elif action_id == "view.whole":
            desk.on_show.show_view(View(query="critical"))
        elif action_id in ("view.star", "view.forget"):
            view = View("Mine", query="critical")
            desk.on_show.keep_view(view)
            desk.on_show.show_view(view)
        elif action_id == "look.status":
            from hexapod.plan import edits

            project = desk.plan.projects[desk.project]
            desk.do(edits.save_project(desk.plan, replace(project, status_date=project.start)))
        elif action_id in ("look.fold", "look.fold_all", "look.unfold_all"):
            self.go_to("Specimens")
            if action_id == "look.unfold_all":
                desk.fold_all(True)
        elif action_id == "look.fit":
            window.chart.zoom(4)
        elif action_id == "help.find":
            window.grid.setFocus()

    def select(self, *names: str) -> None:
        desk = self.window.desk
        found = [t.id for n in names for t in desk.plan.tasks.values() if t.name == n]
        desk.select(found, found[0])

    def state(self) -> tuple[object, ...]:
        window, desk = self.window, self.window.desk
        return (
            desk.plan, desk.project, frozenset(desk.folded), desk.gap, desk.proposal, window.side.shown,
            window.chart.scale, window._legs.currentIndex(), QApplication.focusWidget(),
            window.findChild(QWidget, "notice").text(), QApplication.clipboard().text(),  # type: ignore[union-attr]
            window.findChild(QLineEdit, "cellEditor"), QApplication.activePopupWidget(),
            window.palette().base().color().name(), desk.on_show.view, desk.on_show.chain, desk.current,
            desk.staging.on_show, desk.staging.asks_first, window.build.strip.isHidden(), window.link.shows_map,
            tuple(desk.on_show.kept), window.side.is_folded, len(desk.rows),
        )  # fmt: skip


class Looking(WithTheDemo):
    def test_the_first_paint_does_not_wait_for_the_kernels(self) -> None:
        """numba comes in with the first computation, not with the window."""
        import subprocess
        import sys

        script = (
            "import sys; from pathlib import Path; from hexapod.desktop.app import make_application;"
            "app = make_application('light'); from hexapod.desktop.window import Window;"
            "from hexapod.session import Session; s = Session.open(Path(sys.argv[1]), read_only=True);"
            "w = Window(s, print); w.show(); app.processEvents(); w.grab();"
            "assert s.schedule.last_finish, 'the dates that the file remembers are painted';"
            "assert 'numba' not in sys.modules, 'numba was loaded before the first paint'"
        )
        done = subprocess.run(
            [sys.executable, "-c", script, str(self.source)], capture_output=True, text=True, check=False
        )
        self.assertEqual(done.returncode, 0, done.stderr)

    def test_open_to_read_changes_nothing_and_says_so(self) -> None:
        reader = self.open(read_only=True)
        reader.start()
        reader.grid.edit_current("x")
        self.assertIsNone(reader.findChild(QLineEdit, "cellEditor"))
        self.assertFalse(reader.registry.qt("project.new").isEnabled())
        self.assertEqual(reader.grid.rows.rowCount(), len(reader.desk.rows), "there is no row to type into")
        self.assertIn("Open to read", reader.findChild(QWidget, "notice").text())  # type: ignore[union-attr]

    def test_a_copy_is_free_to_be_worked_on(self) -> None:
        copy = copy_of(self.path)
        session = Session.open(copy)
        self.assertEqual(session.plan, self.window.desk.plan)
        session.close()

    def test_a_bug_of_ours_is_said_and_loses_nothing(self) -> None:
        os.environ["XDG_STATE_HOME"] = self.folder.name
        opener = Opener()
        opener.windows.append(self.window)
        plan = self.window.desk.plan
        try:
            raise ZeroDivisionError("made up")
        except ZeroDivisionError as error:
            opener.on_bug(type(error), error, error.__traceback__)
        said = self.window.findChild(QWidget, "notice").text()  # type: ignore[union-attr]
        self.assertIn("Every edit is kept", said)
        self.assertIs(self.window.desk.plan, plan)
        reports = list(Path(self.folder.name).rglob("reports/*.txt"))
        report = reports[0].read_text()
        self.assertIn("ZeroDivisionError\n", report)
        self.assertIn("test_a_bug_of_ours_is_said_and_loses_nothing", report)
        self.assertNotIn("made up", report, "what an error says may hold names of the plan")

    def test_a_long_sentence_never_widens_the_window(self) -> None:
        bar = self.window.findChild(QWidget, "toolbar")
        notice = self.window.findChild(QWidget, "notice")
        self.window.desk.told.emit("Undone", "", True)
        narrowest = bar.minimumSizeHint().width()  # type: ignore[union-attr]
        sentence = "Undone: " + "somebody does a task with a long name, " * 8
        self.window.desk.told.emit(sentence, "", True)
        self.assertEqual((notice.text(), notice.toolTip()), (sentence, sentence))  # type: ignore[union-attr]
        self.assertEqual(bar.minimumSizeHint().width(), narrowest)  # type: ignore[union-attr]

    def test_folding_hides_rows_in_grid_and_chart_and_is_remembered(self) -> None:
        desk, count = self.window.desk, len(self.window.desk.rows)
        specimens = self.go_to("Specimens")
        desk.fold(specimens, True)
        self.assertEqual(len(desk.rows), count - 11)
        self.assertEqual(self.window.grid.rows.rowCount(), len(desk.rows) + 1)
        hidden = next(t.id for t in desk.plan.tasks.values() if t.name == "Mounts made")
        self.assertIsNone(self.window.chart.bar_of(hidden))
        self.window.close()
        self.window = self.open()
        self.assertEqual(len(self.window.desk.rows), count - 11)
        self.window.desk.go_to(hidden)
        self.assertIsNotNone(self.window.chart.bar_of(hidden), "going to a row unfolds what hides it")

    def test_grid_and_chart_scroll_as_one(self) -> None:
        self.window.desk.go_to(self.window.desk.rows[-1].task)
        settle()
        left, right = self.window.grid.verticalScrollBar(), self.window.chart.verticalScrollBar()
        self.assertEqual((left.value(), left.maximum()), (right.value(), right.maximum()))
        self.assertGreater(left.value(), 0)
        right.setValue(54)
        self.assertEqual(left.value(), 54)

    def test_typing_into_a_cell_of_several_selected_rows_changes_them_all(self) -> None:
        desk = self.window.desk
        names = ("Case frames erected", "Graphics fixed")
        chosen = [t.id for n in names for t in desk.plan.tasks.values() if t.name == n]
        desk.select(chosen, chosen[0])
        from hexapod.desktop.models.columns import DURATION

        column = desk.columns.shown()[DURATION]
        desk.do(desk.columns.edit(column, desk.columns.meant(column, chosen[0]), "4h"))
        self.assertEqual([desk.plan.tasks[t].duration for t in chosen], [240, 240])

    def test_every_page_fills_itself_in_both_themes_within_its_width(self) -> None:
        self.go_to("Case frames erected")
        for _ in range(2):
            for name in self.window.side.pages:
                self.window.side.show_page(name)
                self.window.side.open_now()
                page = self.window.side.pages[name]
                settle()
                self.assertGreater(page.box.count(), 1, name)
                inner = page.widget()
                assert inner is not None
                self.assertLessEqual(inner.minimumSizeHint().width(), self.window.side.width(), name)
            self.window.toggle_theme()

    def test_a_page_is_made_when_it_is_first_asked_for_and_kept(self) -> None:
        pages = self.window.side.pages
        self.assertEqual(pages.made(), [pages.inspector], "the window waits for no other one")
        self.window.side.show_page("history")
        self.assertEqual((pages.shown, pages.made()), ("history", [pages.inspector, pages.history]))
        self.window.side.show_page("history")
        self.assertEqual(pages.shown, "inspector", "asked for again it is left")
        self.assertIs(pages["history"], pages.history)
        self.window.show_paper()
        self.assertIn("paper", list(pages))
        self.assertIs(pages["paper"], self.window.paper)

    def test_every_button_has_a_name_for_a_screen_reader(self) -> None:
        for button in self.window.findChildren(QPushButton):
            self.assertTrue(button.text() or button.accessibleName(), button.objectName())
        grid = self.window.grid
        spoken = grid.rows.index(1, 2).data(Qt.ItemDataRole.AccessibleTextRole)
        self.assertEqual(spoken, "Duration: 8 d")
