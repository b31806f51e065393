"""Reading and shaping a plan with real keys and a real pointer: drags, links, planning back, why, a view on paper."""

from __future__ import annotations

import unittest
from unittest.mock import patch

import pypdf

from hexapod.desktop.chart import geometry
from hexapod.desktop.models.columns import START
from hexapod.plan import edits
from hexapod.plan.records import LinkType
from hexapod.worktime.clock import iso
from tests.journeys.case import Journey, QPointF, screen
from tests.support import DAY, at

from PyQt6.QtWidgets import QApplication, QLineEdit, QMenu  # isort: skip


class ByDragging(Journey):
    ROWS = "Survey\nDraw\nBuild\nOpen"

    def setUp(self) -> None:
        super().setUp()
        order = [self.id_of(n) for n in ("Survey", "Draw", "Build", "Open")]
        self.desk.do(edits.chain(self.plan, order))
        self.window.chart.zoom(4)
        self.window.chart.show_task(order[0])
        screen.settle()

    def test_dragging_a_bar_and_typing_the_same_date_give_the_same_plan(self) -> None:
        view, before = self.window.chart.viewport(), self.plan
        start = self.bar("Draw").center()
        to = QPointF(start.x() + 3 * self.window.chart.scale.pixels, start.y())

        def look() -> None:
            ghost = self.desk.ghost
            assert ghost is not None
            moved = [n for n in ("Draw", "Build", "Open") if ghost.dates(self.id_of(n)) != self.dates(n)]
            self.assertEqual(moved, ["Draw", "Build", "Open"], "ghosts show all that will move")

        screen.drag(view, start, to, before_release=look)
        dragged = self.plan
        self.assertEqual(iso(self.dates("Draw").start), "2026-09-11T08:00")
        self.assertEqual(iso(self.dates("Open").start), "2026-09-15T08:00", "successors are carried along")
        screen.keys("ctrl+z")
        self.assertEqual(self.plan, before)
        self.type_in("Draw", START, "2026-09-11")
        typed = self.plan.tasks[self.id_of("Draw")].limits[0]
        self.assertEqual(iso(self.dates("Draw").start), "2026-09-11T08:00")
        self.assertEqual(typed.kind, dragged.tasks[self.id_of("Draw")].limits[0].kind)
        self.assertEqual(self.dates("Open").start, at("2026-09-15T08:00"))

    def on_link(self, key: tuple[str, str, str]) -> QPointF:
        """A point of a link at which no bar lies."""
        chart = self.window.chart
        path = next(p for link, p, _ in chart.links_on_screen() if link.key == key)
        points = [path.pointAtPercent(k / 40) for k in range(41)]
        free = [p for p in points if (found := chart.gestures.link_at(p)) and found.key == key]
        return next(p for p in free if all(not self.bar(n).adjusted(-6, -4, 6, 10).contains(p)
                                           for n in ("Survey", "Draw", "Build", "Open")))  # fmt: skip

    def test_escape_in_the_middle_of_a_drag(self) -> None:
        before, start = self.plan, self.bar("Draw").center()
        to = QPointF(start.x() + 200, start.y())
        screen.drag(self.window.chart.viewport(), start, to, before_release=lambda: screen.key_while_held("Escape"))
        self.assertIs(self.plan, before)
        self.assertIsNone(self.desk.ghost)

    def test_links_drawn_both_ways_retyped_and_removed(self) -> None:
        self.desk.do(edits.unlink(self.plan, list(self.plan.links)))
        view = self.window.chart.viewport()
        screen.move(view, self.bar("Survey").center())
        screen.drag(view, geometry.finish_handle(self.bar("Survey")), self.bar("Build").center())
        self.assertEqual([x.type for x in self.plan.links.values()], [LinkType.FS])
        screen.move(view, self.bar("Open").center())
        screen.drag(
            view,
            geometry.start_handle(self.bar("Open")),
            QPointF(self.bar("Draw").left() + 3, self.bar("Draw").center().y()),
        )
        back = self.plan.links[(self.id_of("Open"), self.id_of("Draw"), "SS")]
        screen.click(view, self.on_link(back.key))
        menu = QApplication.activePopupWidget()
        assert isinstance(menu, QMenu)
        choice = next(a for a in menu.actions() if a.text().startswith("Finish to start"))
        screen.click(menu, menu.actionGeometry(choice))
        self.assertIn((self.id_of("Open"), self.id_of("Draw"), "FS"), self.plan.links)
        screen.click(view, self.on_link((self.id_of("Open"), self.id_of("Draw"), "FS")))
        menu = QApplication.activePopupWidget()
        assert isinstance(menu, QMenu)
        remove = next(a for a in menu.actions() if a.objectName() == "removeLink")
        screen.click(menu, menu.actionGeometry(remove))
        self.assertEqual(len(self.plan.links), 1)


class PlanningBack(Journey):
    def test_eight_tasks_in_two_lanes_before_a_milestone(self) -> None:
        screen.keys("ctrl+shift+b")
        canvas = self.window.link.map.canvas
        self.window.link.map.add_milestone()
        screen.settle()
        screen.type_text("Gallery opens")
        screen.keys("Return")
        goal = self.id_of("Gallery opens")
        field = self.window.findChild(QLineEdit, "backBy")
        screen.click(field)
        screen.keys("ctrl+a")
        screen.type_text("2027-03-12")
        screen.keys("Return")
        self.assertEqual(iso(self.plan.tasks[goal].target), "2027-03-12T17:00")
        canvas.setFocus()
        above = ("Cases filled 5 d", "Cases built 10 d", "Cases drawn 6 d", "Brief written 4 d")
        for name in above:  # each before the last one, by the keyboard
            screen.keys("Return")
            screen.type_text(name)
            screen.keys("Return")
        self.desk.select((goal,), goal)
        canvas.setFocus()
        screen.move(canvas, canvas.bar(goal).center())
        pull = canvas.pull_point(goal)
        screen.drag(canvas, pull, QPointF(pull.x() - 8 * canvas.scale.pixels, pull.y() + 90))
        screen.type_text("Labels fixed 3 d")
        screen.keys("Return")
        for name in ("Labels printed 2 d", "Labels written 6 d", "Stories chosen 4 d"):
            screen.keys("Return")
            screen.type_text(name)
            screen.keys("Return")
        names = {self.plan.tasks[t].name for t in canvas.picture.latest}
        self.assertEqual(len(names), 9)
        brief, stories = self.id_of("Brief written"), self.id_of("Stories chosen")
        self.desk.do(edits.set_task(self.plan, brief, "Lane", stream="Cases"))
        for name in ("Cases filled", "Cases built", "Cases drawn"):
            self.desk.do(edits.set_task(self.plan, self.id_of(name), "Lane", stream="Cases"))
        for name in ("Labels fixed", "Labels printed", "Labels written", "Stories chosen"):
            self.desk.do(edits.set_task(self.plan, self.id_of(name), "Lane", stream="Labels"))
        self.window.link.show_lanes(True)
        self.assertLessEqual({"Cases", "Labels"}, {name for name, _, _ in canvas.picture.bands})
        self.assertEqual(iso(canvas.picture.latest[brief].start), "2027-02-08T08:00")
        self.assertEqual(iso(canvas.picture.latest[stories].start), "2027-02-22T08:00")
        self.assertEqual(canvas.picture.begins, canvas.picture.latest[brief].start)
        self.assertIn("8 Feb 2027", self.window.link.map._answer.text())
        self.assertEqual(sum(t.minutes for t in self.plan.tasks.values()), 40 * DAY, "it is the plan itself")
        screen.click(field)
        screen.keys("ctrl+a")
        screen.type_text("2026-12-01")
        screen.keys("Return")
        self.assertIn("before today", self.window.link.map._answer.text())


class WhyItFinishes(Journey):
    DEMO = True

    def test_found_in_under_ten_keystrokes(self) -> None:
        screen.keys("ctrl+w")
        self.assertEqual(self.plan.tasks[self.desk.current].name, "Gallery opens")
        screen.settle(200)
        screen.keys("Down", "Down", "Down", "Down", "Down")
        screen.keys("Return")  # the fifth reason behind the finish
        name = self.plan.tasks[self.desk.current].name
        self.assertTrue(self.dates(name).critical)
        self.assertNotEqual(name, "Gallery opens")
        screen.keys("ctrl+alt+Left")
        self.assertTrue(self.dates(self.plan.tasks[self.desk.current].name).critical)


class AViewOnPaper(Journey):
    DEMO = True

    def test_critical_next_four_weeks_conservators(self) -> None:
        screen.keys("ctrl+f")
        query = "critical and start < 2026-12-20 and finish >= 2026-11-22 and who contains conservator"
        screen.type_text(query)
        screen.keys("Escape") if QApplication.activePopupWidget() else None
        screen.keys("Return")
        screen.wait_for(lambda: self.desk.on_show.view.query == query)
        shown = [self.plan.tasks[t].name for t in self.desk.rows.tasks()]
        self.assertIn("Drawers and small cases filled", shown)
        self.assertNotIn("Case frames erected", shown)
        screen.keys("ctrl+shift+v")
        screen.settle(200)
        screen.type_text("Conservators, next four weeks")
        screen.keys("Return")
        self.assertEqual(self.desk.on_show.view.name, "Conservators, next four weeks")
        path = self.path.with_name("conservators.pdf")
        screen.keys("ctrl+p")
        page = self.window.paper
        screen.wait_for(lambda: page.isVisible())
        with patch("hexapod.desktop.printing.paper_page.QFileDialog.getSaveFileName", return_value=(str(path), "")):
            self.press_button("paperPdf")
        screen.wait_for(path.exists)
        text = pypdf.PdfReader(str(path)).pages[0].extract_text()
        self.assertIn("Conservators, next four weeks", text)
        for name in shown:
            self.assertIn(name, text)
        self.assertNotIn("Case frames erected", text)


if __name__ == "__main__":
    unittest.main()
