"""Colours by stream, person, state or choice; whose edits they are; float paths; rows moved to another project."""

from __future__ import annotations

import unittest

from msgspec.structs import replace
from PyQt6.QtCore import QEvent, QObject
from PyQt6.QtGui import QContextMenuEvent
from PyQt6.QtWidgets import QApplication, QComboBox, QLineEdit, QMenu, QPushButton, QWidget

from hexapod.desktop.chart.coloring import CRITICAL, NOBODY, ROOM, keys, row_color
from hexapod.plan import edits
from hexapod.plan.records import Field, FieldKind, Resource
from tests.desktop.case import Qt, QTest, WindowCase, settle
from tests.support import DAY, project


class Colours(WindowCase):
    def colours(self, *names: str) -> list[str]:
        return [row_color(self.desk, self.id_of(n)).name() for n in names]

    def test_streams_are_all_different_and_children_have_their_summarys(self) -> None:
        desk = self.desk
        desk.do(edits.set_task(desk.plan, self.id_of("Build"), "x", stream="Workshop"))
        found = self.colours("Survey", "Draw", "Build", "Open")
        self.assertEqual(len(set(found)), 4)
        self.assertEqual(self.colours("Frames", "Glass"), [found[2]] * 2)
        desk.do(edits.set_task(desk.plan, self.id_of("Open"), "x", stream="Workshop"))
        self.assertEqual(self.colours("Open"), [found[2]])

    def boxes(self) -> list[QComboBox]:
        return [b for b in self.window.side.findChildren(QComboBox, "colorBy") if b.isVisible()]

    def test_by_person_state_and_choice(self) -> None:
        desk = self.desk
        desk.do(edits.save_resource(desk.plan, Resource("r", "Mo Okon", "a0", initials="MO")))
        desk.do(edits.assign(desk.plan, [self.id_of("Draw")], "r"))
        desk.do(edits.save_field(desk.plan, Field("f", "Wing", "a0", FieldKind.CHOICE, ("East", "West"))))
        desk.do(edits.set_fields(desk.plan, [self.id_of("Draw")], {"Wing": "West"}))
        desk.do(edits.set_durations(desk.plan, [self.id_of("Draw")], 40 * DAY))
        self.window.registry.qt("help.legend").trigger()
        for way, wanted in (
            ("person", {NOBODY, "MO"}), ("state", {CRITICAL, ROOM}), ("field.f", {"–", "West"}),
        ):  # fmt: skip
            settle()
            boxes = self.wait_for(self.boxes)
            box = boxes[-1]  # type: ignore[index]
            box.setCurrentIndex(box.findData(way))
            box.activated.emit(box.currentIndex())
            self.assertEqual(desk.memory.recall("color_by", str, ""), way)
            self.assertLessEqual(wanted, set(keys(desk)))
            draw, survey = self.colours("Draw", "Survey")
            self.assertNotEqual(draw, survey, way)

    def test_every_view_that_shows_the_colours_is_painted_anew(self) -> None:
        window, looks = self.window, self.desk.looks
        self.desk.do(edits.save_resource(self.desk.plan, Resource("r", "Mo Okon", "a0")))
        window.build.strip.show()
        views = {
            "chart": (window.chart.viewport(), lambda: window.show_leg("build")),
            "milestone strip": (window.build.strip, lambda: window.show_leg("build")),
            "board": (
                window.staff.board.viewport(),
                lambda: (window.show_leg("staff"), window.staff.show_view("board")),
            ),
            "tray": (window.staff.trays.nobody, lambda: None),
            "network": (window.link.diagram, lambda: window.show_leg("link")),
            "map of planning back": (window.link.map.canvas, lambda: window.link.show_map(True)),
            "month": (window.month.canvas, lambda: window.show_leg("month")),
        }
        for name, (view, show) in views.items():
            show()
            settle()
            QTest.qWait(600)  # what came with showing it is painted by then
            watch = PaintWatch(view)
            with self.subTest(name):
                looks.set_color_by("state" if looks.color_by != "state" else "person")
                self.wait_for(lambda watch=watch: watch.paints)


class PaintWatch(QObject):
    """Counts how often a widget is painted."""

    def __init__(self, widget: QWidget) -> None:
        super().__init__(widget)
        self.paints = 0
        widget.installEventFilter(self)

    def eventFilter(self, watched: QObject | None, event: QEvent | None) -> bool:
        self.paints += event is not None and event.type() == QEvent.Type.Paint
        return False


class Names(WindowCase):
    def test_the_name_is_that_of_the_account_until_another_is_said(self) -> None:
        from hexapod.session import account_name

        desk = self.desk
        self.assertEqual(desk.session.who, account_name())
        self.window.registry.qt("help.name").trigger()
        line = self.window.side.findChildren(QLineEdit, "userName")[-1]
        line.clear()
        QTest.keyClicks(line, "Ines Tamsin")
        QTest.mouseClick(self.window.side.findChildren(QPushButton, "formSave")[-1], Qt.MouseButton.LeftButton)
        self.addCleanup(self.forget_name)
        desk.do(edits.rename(desk.plan, self.id_of("Draw"), "Drawn"))
        self.assertEqual(desk.session.history[-1].who, "Ines Tamsin")

    @staticmethod
    def forget_name() -> None:
        from PyQt6.QtCore import QSettings

        QSettings().remove("name")


class Elsewhere(WindowCase):
    def test_rows_go_to_another_project_with_their_links(self) -> None:
        desk = self.desk
        desk.do(edits.save_project(desk.plan, replace(project("q"), name="Roof", rank="z0")))
        desk.do(edits.link(desk.plan, self.id_of("Survey"), self.id_of("Frames")))
        desk.do(edits.link(desk.plan, self.id_of("Frames"), self.id_of("Glass")))
        self.go_to("Build")
        settle()
        self.window.registry.qt("row.project").trigger()
        menu = self.wait_for(lambda: self.window.findChild(QMenu, "moveToProject"))
        menu.actions()[0].trigger()  # type: ignore[attr-defined]
        menu.close()  # type: ignore[attr-defined]
        self.assertEqual((desk.project, self.outline()), ("q", ["Build", "  Frames", "  Glass"]))
        self.assertEqual(len(desk.plan.links), 2)
        self.assertIsNone(QApplication.activePopupWidget())

    def test_the_menu_of_rows_opens_by_key_below_the_current_cell(self) -> None:
        self.go_to("Frames")
        press = QContextMenuEvent(QContextMenuEvent.Reason.Keyboard, self.grid.rect().center())
        QApplication.sendEvent(self.grid, press)
        menu = QApplication.activePopupWidget()
        assert isinstance(menu, QMenu)
        self.addCleanup(menu.close)
        cell = self.grid.visualRect(self.grid.currentIndex())
        self.assertEqual(menu.pos(), self.grid.viewport().mapToGlobal(cell.bottomLeft()))
        self.assertTrue(menu.actions())

    def test_float_paths_and_what_is_nearly_critical(self) -> None:
        desk = self.desk
        desk.do(edits.chain(desk.plan, [self.id_of(n) for n in ("Survey", "Draw", "Open")]))
        desk.do(edits.set_durations(desk.plan, [self.id_of("Frames")], 5 * DAY))
        self.window.registry.qt("look.paths").trigger()
        self.wait_for(lambda: "Drives the finish" in self.texts(self.window.side))
        shown = self.texts(self.window.side)
        self.assertEqual([t.split("  ")[-1] for t in shown if "  " in t][:3], ["Survey", "Draw", "Open"])
        self.assertIn("Nearly critical: 2", shown)
        self.assertTrue(any(t.startswith("Frames, 1 d") for t in shown))

    def test_if_it_slips_by_any_amount(self) -> None:
        desk = self.desk
        desk.do(edits.chain(desk.plan, [self.id_of("Survey"), self.id_of("Open")]))
        desk.go_to(self.id_of("Survey"))
        settle()
        (line,) = (w for w in self.window.side.findChildren(QLineEdit, "slipBy") if w.isVisible())
        QTest.keyClicks(line, "12 h")
        QTest.keyClick(line, Qt.Key.Key_Return)
        self.assertIn("1.5 d late: finish moves 1.5 d, 1 task moves", self.texts(self.window.side))


if __name__ == "__main__":
    unittest.main()
