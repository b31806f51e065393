"""The practitioner's first hour in a real window, with real keys and mouse: a journey a step."""

from __future__ import annotations

import unittest

from tests.journeys.case import Journey, QPointF, QPushButton, QWidget, screen

from PyQt6.QtWidgets import QApplication, QComboBox, QLineEdit, QMenu  # isort: skip

from hexapod.desktop.chart import geometry
from hexapod.desktop.models.columns import DURATION, LINKS, START, WHO
from hexapod.plan.records import LinkType
from tests.support import DAY, at


class Step1(Journey):
    """A new project in an empty workspace."""

    def test_a_project_with_its_start_and_calendar(self) -> None:
        screen.keys("ctrl+n")
        screen.wait_for(lambda: self.window.findChild(QLineEdit, "projectName"))
        screen.type_text("Moth store")
        screen.keys("Tab")
        start = self.window.findChild(QLineEdit, "projectStart")
        screen.click(start, times=3)
        screen.type_text("soon")
        screen.keys("Return")
        reason = self.window.findChild(QWidget, "formReason")
        self.assertIn("not a date", reason.text())  # type: ignore[union-attr]
        screen.click(start, times=3)
        screen.type_text("2026-10-05")
        screen.keys("Return")
        found = self.plan.projects[self.desk.project]
        self.assertEqual((found.name, found.start, found.calendar), ("Moth store", at("2026-10-05T08:00"), "standard"))


class Step2(Journey):
    """Rows as fast as in a text editor, by keys alone."""

    def test_typing_levels_and_moving(self) -> None:
        screen.keys("ctrl+End", "Home")
        screen.type_text("Survey")
        screen.keys("Return", "Tab")
        screen.type_text("Cases measured")
        screen.keys("Return")
        screen.type_text("Locks listed")
        screen.keys("Return", "shift+Tab")
        screen.type_text("Build")
        screen.keys("Return", "Escape")
        self.assertEqual(self.outline(), ["Survey", "  Cases measured", "  Locks listed", "Build"])
        screen.keys("Up", "Tab")
        self.assertEqual(self.outline()[-1], "  Build")
        screen.keys("shift+Tab", "alt+Up")
        self.assertEqual(self.outline(), ["Build", "Survey", "  Cases measured", "  Locks listed"])
        screen.keys("Down", "Left")
        self.assertEqual(self.outline(), ["Build", "Survey"])
        screen.keys("Right", "Down", "Insert")
        screen.type_text("Keys found")
        screen.keys("Escape")
        self.assertEqual(len(self.outline()), 4, "Esc leaves no row behind")
        screen.keys("Insert")
        screen.type_text("Keys found")
        screen.keys("Return", "Escape", "shift+Down", "Delete")
        self.assertEqual(self.outline(), ["Build", "Survey", "  Locks listed"])

    def test_many_lines_pasted_keep_their_levels(self) -> None:
        QApplication.clipboard().setText("Roof\n\tGlass ordered\n\t\tQuote\n\tScaffold\nPaths")
        screen.keys("ctrl+v")
        self.assertEqual(self.outline(), ["Roof", "  Glass ordered", "    Quote", "  Scaffold", "Paths"])
        screen.keys("ctrl+z")
        self.assertEqual(self.outline(), [])

    def test_by_mouse_alone(self) -> None:
        QApplication.clipboard().setText("One\nTwo\nThree")
        self.window.registry.qt("edit.paste").trigger()
        screen.settle()
        self.click_cell("Two")
        for action, expected in (
            ("row.indent", ["One", "  Two", "Three"]),
            ("row.outdent", ["One", "Two", "Three"]),
            ("row.down", ["One", "Three", "Two"]),
            ("row.up", ["One", "Two", "Three"]),
            ("row.delete", ["One", "Three"]),
            ("edit.undo", ["One", "Two", "Three"]),
        ):
            buttons = [b for b in self.window.findChildren(QWidget) if getattr(b, "defaultAction", lambda: None)()]
            button = next(b for b in buttons if b.defaultAction() is self.window.registry.qt(action))
            screen.click(button)
            self.assertEqual(self.outline(), expected, action)


class Step3(Journey):
    ROWS = "Survey\nDraw\nBuild"

    def test_durations_as_people_type_them(self) -> None:
        for text, minutes in (("3", 1440), ("3d", 1440), ("4h", 240), ("2w", 4800), ("1.5 d", 720), ("0", 0)):
            self.type_in("Survey", DURATION, text)
            self.assertEqual(self.plan.tasks[self.id_of("Survey")].duration, minutes, text)
        self.type_in("Draw", DURATION, "soon")
        editor = self.window.findChild(QLineEdit, "cellEditor")
        self.assertEqual(editor.text(), "soon", "nonsense stays in the editor")  # type: ignore[union-attr]
        reason = self.window.findChild(QWidget, "cellReason")
        self.assertTrue(reason.isVisible() and "soon" in reason.text())  # type: ignore[union-attr]
        screen.keys("Escape")
        self.assertEqual(self.plan.tasks[self.id_of("Draw")].duration, DAY)

    def test_a_new_task_takes_a_day_and_shows_that_nobody_said_so(self) -> None:
        self.click_cell("")
        screen.type_text("Fresh")
        screen.keys("Return", "Escape")
        grid = self.window.grid
        row = self.desk.position[self.id_of("Fresh")]
        self.assertEqual(grid.rows.index(row, DURATION).data(), "say 1 d")
        self.assertEqual(self.dates("Fresh").duration, DAY)


class Step4(Journey):
    ROWS = "Survey\nDraw\nBuild\nOpen"

    def test_links_typed_by_number_and_by_name_with_completion(self) -> None:
        self.type_in("Draw", LINKS, "1")
        self.click_cell("Build", LINKS)
        screen.type_text("dra")
        screen.keys("Down", "Return")
        screen.type_text(" SS 2 d later")
        screen.keys("Return")
        links = {(self.plan.tasks[x.predecessor].name, x.type, x.lag) for x in self.plan.links.values()}
        self.assertEqual(links, {("Survey", LinkType.FS, 0), ("Draw", LinkType.SS, 2 * DAY)})
        self.type_in("Survey", LINKS, "3")
        reason = self.window.findChild(QWidget, "cellReason").text()  # type: ignore[union-attr]
        for name in ("Survey", "Draw", "Build"):
            self.assertIn(name, reason)
        screen.keys("Escape")
        self.type_in("Draw", LINKS, "x")
        screen.keys("ctrl+a", "BackSpace", "Return")
        self.assertEqual(len(self.plan.links), 1, "a link is removed from the cell")

    def test_a_chain_by_one_command(self) -> None:
        self.click_cell("Survey")
        screen.keys("shift+Down", "shift+Down", "shift+Down", "ctrl+l")
        self.assertEqual(len(self.plan.links), 3)
        self.assertEqual(self.dates("Open").early_start, at("2026-09-10T08:00"))

    def test_drawn_from_bar_to_bar_and_removed_from_its_menu(self) -> None:
        view = self.window.chart.viewport()
        screen.move(view, self.bar("Survey").center())
        start = geometry.finish_handle(self.bar("Survey"))
        goal = QPointF(self.bar("Build").left() + 2, self.bar("Build").center().y())
        screen.drag(view, start, goal)
        link = next(iter(self.plan.links.values()))
        self.assertEqual((link.predecessor, link.successor), (self.id_of("Survey"), self.id_of("Build")))
        self.assertEqual(self.dates("Build").early_start, at("2026-09-08T08:00"))
        _, path, _ = self.window.chart.links_on_screen()[0]
        beside_bars = [
            p for k in range(20) if not self.window.chart.gestures._part_at(p := path.pointAtPercent(k / 20))
        ]
        screen.click(view, beside_bars[len(beside_bars) // 2], button=3)
        menu = QApplication.activePopupWidget()
        assert isinstance(menu, QMenu)
        remove = next(a for a in menu.actions() if a.objectName() == "removeLink")
        screen.click(menu, menu.actionGeometry(remove))
        self.assertFalse(self.plan.links)


class Step5(Journey):
    ROWS = "Survey\nDraw\nBuild"

    def test_every_way_of_changing_a_duration_moves_the_successors_alike(self) -> None:
        self.click_cell("Survey")
        screen.keys("shift+Down", "shift+Down", "ctrl+l")
        wanted = at("2026-09-11T08:00")
        self.type_in("Survey", DURATION, "3")
        self.assertEqual(self.dates("Build").early_start, wanted)
        self.assertEqual(self.desk.moved[self.id_of("Build")], (2 * DAY, 2 * DAY), "rows show by how much they moved")
        screen.wait_for(lambda: not self.desk.moved)
        screen.keys("ctrl+z")
        self.assertEqual(self.dates("Build").early_start, at("2026-09-09T08:00"))
        view, scale = self.window.chart.viewport(), self.window.chart.scale
        end = QPointF(self.bar("Survey").right(), self.bar("Survey").center().y())
        seen = []
        goal = QPointF(scale.x(at("2026-09-09T17:00")), end.y())
        screen.drag(view, end, goal, before_release=lambda: seen.append(self.desk.ghost))
        self.assertEqual(seen[0].dates(self.id_of("Build")).early_start, wanted, "the ghost shows what will move")
        self.assertEqual(self.dates("Build").early_start, wanted)
        screen.keys("ctrl+z")
        self.click_cell("Survey")
        plus = next(b for b in self.window.side.findChildren(QWidget) if b.accessibleName().startswith("Longer"))
        screen.click(plus)
        self.assertEqual(self.dates("Build").early_start, at("2026-09-10T08:00"))

    def test_a_typed_start_is_a_limit_that_is_said_and_can_be_lifted(self) -> None:
        self.type_in("Draw", START, "2026-09-16")
        self.assertEqual(self.dates("Draw").early_start, at("2026-09-16T08:00"))
        self.assertIn("not before", self.said())
        self.click_cell("Draw")
        lift = next(b for b in self.window.side.findChildren(QWidget) if b.accessibleName() == "Lift this limit")
        screen.click(lift)
        self.assertFalse(self.plan.tasks[self.id_of("Draw")].limits)


class Steps6And7(Journey):
    DEMO = True

    def chain(self) -> QWidget:
        """The reasons of the selected task, once they are on screen."""

        def shown() -> list[QWidget]:
            chains = [w for w in self.window.findChildren(QWidget, "whyChain") if w.isVisible()]
            return [w for w in chains if w.task_id == self.desk.current]  # type: ignore[attr-defined]

        screen.wait_for(shown)
        return shown()[0]

    def test_vitals_lists_and_the_walk_along_the_reasons(self) -> None:
        vitals = self.window.topbar.vitals
        screen.wait_for(lambda: self.window.topbar.vitals.overloads.text_shown == "3")
        self.assertIn("d late", vitals.target.text_shown)
        critical = sum(
            self.desk.schedule.dates(t.id).critical
            for t in self.plan.tasks.values()
            if t.project == self.desk.project and not self.plan.is_summary(t.id)
        )
        self.assertTrue(vitals.critical.text_shown.startswith(f"{critical} of "))
        screen.keys("ctrl+k")
        screen.type_text("case frames")
        screen.keys("Return")
        screen.wait_for(lambda: self.desk.current == self.id_of("Case frames erected"))
        screen.click(self.chain(), QPointF(60, 10))
        screen.wait_for(lambda: self.desk.current == self.id_of("Floor and lighting tracks"))
        self.chain().setFocus()
        screen.keys("Down", "Return")
        screen.wait_for(lambda: self.desk.current == self.id_of("Strip out and make good"))
        for slip in ("1 d late: finish moves 1 d", "5 d late: finish moves 5 d"):
            screen.wait_for(lambda s=slip: any(s in t for t in self.panel_texts()))


class Step8(Journey):
    ROWS = "Survey\nDraw\nBuild"

    def test_add_people_assign_by_initials_and_see_the_overload(self) -> None:
        for name, initials in (("Mo Okon", "MO"), ("Tam Birk", "TB"), ("Scissor lift", "SL")):
            screen.keys("ctrl+shift+p")
            screen.wait_for(lambda: self.window.side.shown == "resource")
            screen.type_text(name)
            screen.keys("Return")
            self.assertIn(initials if initials != "SL" else "SL", {r.initials for r in self.plan.resources.values()})
        self.type_in("Survey", WHO, "MO TB 50%, SL")
        self.type_in("Draw", WHO, "MO, SL")
        units = {
            (self.plan.resources[a.resource].initials, a.units) for a in self.plan.assignments_of(self.id_of("Survey"))
        }
        self.assertEqual(units, {("MO", 0.5), ("TB", 0.5), ("SL", 1.0)})
        self.type_in("Build", WHO, "ZZ")
        self.assertIn("ZZ", self.window.findChild(QWidget, "cellReason").text())  # type: ignore[union-attr]
        screen.keys("Escape")
        screen.wait_for(lambda: self.window.topbar.vitals.overloads.text_shown == "2")
        who = self.window.findChild(QComboBox, "loadResource")
        lift = next(r.id for r in self.plan.resources.values() if r.initials == "SL")
        screen.click(who)
        screen.keys("Home", "Down", "Down", "Return")
        self.assertEqual(self.desk.resource, lift)
        canvas = self.window.build.canvas
        period = next(p for p in canvas.periods() if p.is_over)
        self.assertEqual((period.load, period.capacity, period.peak), (16.0, 40.0, 2.0))
        within, _ = canvas.column_of(period, 40.0)
        screen.click(canvas, within.center())
        buttons = [b.text() for b in self.window.build.info.findChildren(QPushButton)]
        self.assertTrue(any(t.startswith("Survey, 8 h") for t in buttons), buttons)


class Step9(Journey):
    DEMO = True

    def test_level_within_float_accept_undo_and_clear(self) -> None:
        before = {t: self.desk.schedule.dates(t) for t in self.plan.tasks}
        finish = self.desk.schedule.last_finish
        screen.keys("F8")
        screen.wait_for(lambda: self.desk.proposal is not None)
        proposal = self.desk.proposal
        self.assertIs(self.desk.ghost, proposal.schedule, "the moves are shown as ghosts")
        self.assertEqual((len(proposal.overloads_before), len(proposal.overloads_after)), (3, 1))
        screen.settle(150)
        self.press_button("button.level.accept")
        screen.wait_for(lambda: self.window.topbar.vitals.overloads.text_shown == "1")
        self.assertEqual(self.desk.schedule.last_finish, finish)
        held = [t for t in self.plan.tasks.values() if t.hold]
        self.assertTrue(held)
        screen.keys("ctrl+z")
        self.assertEqual({t: self.desk.schedule.dates(t) for t in self.plan.tasks}, before)
        screen.keys("ctrl+shift+z")
        self.assertEqual([t for t in self.plan.tasks.values() if t.hold], held)
        screen.click(self.window.findChild(QWidget, "leg.staff"))
        self.press_button("button.level.clear")
        self.assertEqual({t: self.desk.schedule.dates(t) for t in self.plan.tasks}, before)


class Step10(Journey):
    ROWS = "Survey\nDraw"

    def test_undo_and_redo_by_name_and_across_closing(self) -> None:
        self.type_in("Survey", DURATION, "3")
        self.click_cell("Draw")
        screen.keys("F2")
        screen.type_text("Drawings")
        screen.keys("Return")
        undo = self.window.registry.qt("edit.undo")
        screen.wait_for(lambda: undo.text() == "Undo: Rename “Draw” to “Drawings”")
        self.reopen()
        self.assertEqual(self.window.registry.qt("edit.undo").text(), "Undo: Rename “Draw” to “Drawings”")
        screen.keys("ctrl+z", "ctrl+z")
        self.assertEqual(self.outline(), ["Survey", "Draw"])
        self.assertEqual(self.plan.tasks[self.id_of("Survey")].duration, DAY)
        self.reopen()
        screen.keys("ctrl+shift+z", "ctrl+shift+z")
        self.assertEqual(self.outline(), ["Survey", "Drawings"])
        screen.keys("ctrl+s")
        self.assertIn("Everything is in Journey.hexapod already", self.said())


if __name__ == "__main__":
    unittest.main()
