"""What the panels and vitals say, and the chart under the mouse."""

from __future__ import annotations

import random
from unittest.mock import patch

from PyQt6.QtGui import QImage, QWheelEvent
from PyQt6.QtWidgets import QApplication, QLineEdit, QListWidget

from hexapod.desktop.chart import geometry, painter
from hexapod.desktop.inspector.why import WhyChain
from hexapod.desktop.theme.style import font
from hexapod.desktop.theme.text import width_of
from hexapod.plan import edits
from hexapod.plan.records import Assignment, LinkType, Resource
from hexapod.staffing.levelling.proposal import level
from tests.desktop.case import QPoint, QPointF, Qt, QTest, WindowCase, settle
from tests.support import DAY, at

LEFT = Qt.MouseButton.LeftButton


class Linked(WindowCase):
    def setUp(self) -> None:
        super().setUp()
        order = [self.id_of(n) for n in ("Survey", "Draw", "Frames", "Open")]
        self.desk.do(edits.chain(self.desk.plan, order))
        self.desk.do(edits.link(self.desk.plan, order[1], self.id_of("Glass"), LinkType.SS, DAY))
        self.desk.do(edits.save_resource(self.desk.plan, Resource("m", "Mo Okon", "a0", initials="MO")))


class Inspecting(Linked):
    def chain(self) -> WhyChain:
        """The reasons of the task that is selected, once they are on screen."""

        def shown() -> WhyChain | None:
            chains = [w for w in self.window.findChildren(WhyChain) if w.isVisible()]
            return next((c for c in chains if c.task_id == self.desk.current), None)

        found = self.wait_for(shown)
        assert isinstance(found, WhyChain)
        return found

    def test_all_about_a_task(self) -> None:
        glass = self.id_of("Glass")
        self.desk.go_to(glass)
        self.desk.do(edits.set_assignments(self.desk.plan, glass, [Assignment(glass, "m", 0.5)]))
        inspector = self.window.side.pages["inspector"]
        slip = "1 d late: finish stays, no other task moves"
        self.wait_for(lambda: {slip, "50% · 8 h"} <= set(self.texts(inspector)))
        said = self.texts(inspector)
        self.assertLessEqual({"Glass", "3.2 · Build", "Waits for", "Draw, SS, 1 d later"}, set(said))
        self.assertLessEqual({"Assigned", "MO  Mo Okon", "50% · 8 h"}, set(said))

    def test_the_chain_of_reasons_in_words(self) -> None:
        self.desk.go_to(self.id_of("Open"))
        chain = self.chain()
        self.assertEqual([s.what for s in chain.steps], ["Frames", "Draw", "Survey", "P"])
        self.assertTrue(chain.steps[0].how.startswith("Starts "))
        self.assertIn("waits for", chain.accessibleDescription())
        self.assertIsNone(chain.steps[-1].target)

    def test_a_summary_says_which_part_it_starts_with(self) -> None:
        self.desk.go_to(self.id_of("Build"))
        chain = self.chain()
        self.assertEqual((chain.steps[0].what, chain.steps[1].what), ("Glass", "Draw"))
        self.assertEqual(chain.steps[1].lag, ", 1 d later")
        self.assertIn("waits for the start of, 1 d later Draw", chain.steps[1].words)
        self.assertNotIn("If it slips", self.texts(self.window.side.pages["inspector"]))

    def test_a_missed_target_is_trouble_and_can_be_seen_in_the_vitals(self) -> None:
        opening = self.id_of("Open")
        self.desk.do(edits.set_task(self.desk.plan, opening, "Want it", target=at("2026-09-10T17:00")))
        self.desk.go_to(opening)
        self.chain()
        said = self.texts(self.window.side.pages["inspector"])
        self.assertTrue(any(t.endswith("missed") and t.startswith("Target") for t in said), said)
        self.assertIn("−4 d", said)
        target = self.window.topbar.vitals.target
        target.list_menu().aboutToShow.emit()
        listed = [a.text() for a in target.list_menu().actions() if a.text()]
        self.assertEqual(listed, ["Open: missed", "All that needs somebody"])

    def test_lists_behind_the_vitals_lead_to_their_rows(self) -> None:
        vitals = self.window.topbar.vitals
        self.wait_for(lambda: vitals.critical.text_shown == "4 of 5")
        vitals.critical.list_menu().aboutToShow.emit()
        entries = vitals.critical.list_menu().actions()
        self.assertEqual([e.text().split("  ")[1] for e in entries], ["Survey", "Draw", "Frames", "Open"])
        entries[2].trigger()
        self.assertEqual(self.desk.current, self.id_of("Frames"))
        vitals.finish.list_menu().aboutToShow.emit()
        self.assertEqual([a.text() for a in vitals.finish.list_menu().actions()], ["Ends last: Open"])


class Proposing(Linked):
    def test_a_proposal_argues_its_moves_and_what_is_left(self) -> None:
        for name in ("Frames", "Glass"):
            self.desk.do(edits.assign(self.desk.plan, [self.id_of(name)], "m"))
        self.window.side.show_page("proposal")
        self.desk.show_proposal(level(self.desk.schedule, within_float=True))
        settle()
        said = self.texts(self.window.side.pages["proposal"])
        self.assertIn("1 → 0" if not self.desk.proposal.overloads_after else "1 → 1", said)
        self.window.registry.refresh()
        self.window.registry.qt("level.dismiss").trigger()
        self.assertIsNone(self.desk.proposal)
        self.desk.show_proposal(level(self.desk.schedule, within_float=False))
        settle()
        said = self.texts(self.window.side.pages["proposal"])
        self.assertTrue(any("Mo Okon is with" in t for t in said), said)


class Finding(Linked):
    def test_tasks_and_actions_by_parts_of_their_names(self) -> None:
        box = self.window.find_box
        found = self.window.findChild(QListWidget, "findList")
        assert found is not None
        QTest.keyClicks(box, "fra")
        self.assertTrue(found.item(0).text().startswith("3.1  Frames"))
        QTest.keyClick(box, Qt.Key.Key_Return)
        self.assertEqual(self.desk.current, self.id_of("Frames"))
        QTest.keyClicks(box, "legend")
        QTest.keyClick(box, Qt.Key.Key_Return)
        self.assertEqual(self.window.side.shown, "legend")
        QTest.keyClicks(box, "zeppelin")
        self.assertIn("No task or action", found.item(0).text())
        QTest.keyClick(box, Qt.Key.Key_Escape)
        self.assertFalse(found.isVisible())
        self.assertEqual(box.text(), "")


class OnTheChart(Linked):
    def bar(self, name: str):  # type: ignore[no-untyped-def]
        found = self.chart.bar_of(self.id_of(name))
        assert found is not None
        return found

    def drag(self, start: QPointF, end: QPointF, *, release: bool = True) -> None:
        view = self.chart.viewport()
        QTest.mouseMove(view, start.toPoint())
        settle()
        QTest.mousePress(view, LEFT, pos=start.toPoint())
        for k in range(1, 5):
            QTest.mouseMove(view, (start + (end - start) * (k / 4)).toPoint())
            settle()
        if release:
            QTest.mouseRelease(view, LEFT, pos=end.toPoint())

    def steady(self) -> QImage:
        """The chart once all of its rows are drawn from what was kept of them."""
        for _ in range(3):
            found = self.chart.viewport().grab()
        while self.chart._allowance.is_due:
            found = self.chart.viewport().grab()
        return found.toImage()

    def test_what_is_kept_while_something_is_dragged_is_what_would_be_drawn_anew(self) -> None:
        desk, rng = self.desk, random.Random(6)
        names, looks = ("Survey", "Draw", "Frames", "Glass", "Open"), set()
        for _ in range(30):
            task = self.id_of(rng.choice(names))
            edit = edits.set_durations(desk.plan, [task], DAY * rng.randrange(1, 9))
            desk.show_ghost(None if rng.random() < 0.2 else desk.preview(edit))
            kept = self.steady()
            self.chart.forget_drawn()
            self.assertEqual(self.steady(), kept)
            looks.add(bytes(kept.constBits().asarray(kept.sizeInBytes())))
        self.assertGreater(len(looks), 8, "ghosts are seen")

    def test_the_status_date_runs_over_no_bar_and_no_letters(self) -> None:
        desk, draw = self.desk, self.id_of("Draw")
        desk.do(edits.assign(desk.plan, [self.id_of("Survey")], "m"))
        desk.do(edits.set_percent(desk.plan, [self.id_of("Survey")], 100))
        desk.do(edits.set_percent(desk.plan, [draw], 50))
        seen: set[str] = set()
        for status in range(desk.plan.projects["p"].start, desk.schedule.dates(draw).finish + 4 * 1440, 180):
            desk.do(edits.set_status_date(desk.plan, "p", status))
            settle()
            with patch.object(painter, "paint_status_line") as line:
                self.chart.viewport().grab()
            taken, x = line.call_args.args[-1], self.chart.scale.x(status)
            for name in ("Survey", "Draw", "Frames"):
                bar = self.bar(name)
                behind = bar.right() + geometry.LABEL_MARGIN
                on_letters = name == "Survey" and behind < x < behind + width_of(font(8), "MO")
                is_over = bar.left() < x < bar.right() or on_letters
                seen |= {f"{name} {'letters' if on_letters else 'bar' if is_over else ''}"}
                if is_over:
                    self.assertTrue(any(top < bar.top() and bar.bottom() < bottom for top, bottom in taken))
                elif abs(x - bar.center().x()) > bar.width() / 2 + 30:
                    self.assertFalse(any(top < bar.center().y() < bottom for top, bottom in taken), "else it is drawn")
        self.assertLessEqual({"Survey bar", "Draw bar", "Survey letters", "Survey "}, seen)

    def test_what_is_painted_at_a_place_is_what_is_found_there(self) -> None:
        for name in ("Survey", "Draw", "Frames", "Glass", "Open"):
            self.assertEqual(self.chart.task_at(self.bar(name).center()), self.id_of(name))
        for link, path, _ in self.chart.links_on_screen():
            found = self.chart.gestures.link_at(path.pointAtPercent(0.5))
            assert found is not None
            self.assertEqual(found.key, link.key)
        self.assertIsNone(self.chart.task_at(QPointF(50, 2000)))

    def test_a_click_chooses_and_control_adds(self) -> None:
        view = self.chart.viewport()
        QTest.mouseClick(view, LEFT, pos=self.bar("Draw").center().toPoint())
        QTest.mouseClick(view, LEFT, Qt.KeyboardModifier.ControlModifier, self.bar("Open").center().toPoint())
        self.assertEqual(self.desk.selection, (self.id_of("Draw"), self.id_of("Open")))

    def test_a_stretched_bar_shows_ghosts_and_esc_leaves_all_as_it_was(self) -> None:
        plan = self.desk.plan
        end = QPointF(self.bar("Survey").right(), self.bar("Survey").center().y())
        goal = QPointF(self.chart.scale.x(at("2026-09-11T17:00")), end.y())
        self.drag(end, goal, release=False)
        assert self.desk.ghost is not None
        self.assertEqual(self.desk.ghost.dates(self.id_of("Draw")).early_start, at("2026-09-14T08:00"))
        self.window.topbar.vitals.refresh()
        shown = self.window.topbar.vitals.finish.text_shown
        QTest.keyClick(self.window, Qt.Key.Key_Escape)
        self.assertIsNone(self.desk.ghost)
        QTest.mouseRelease(self.chart.viewport(), LEFT, pos=goal.toPoint())
        self.assertIs(self.desk.plan, plan)
        self.window.topbar.vitals.refresh()
        self.assertNotEqual(self.window.topbar.vitals.finish.text_shown, shown, "vitals show what would be")
        self.drag(end, goal)
        self.assertEqual(self.desk.plan.tasks[self.id_of("Survey")].duration, 5 * DAY)

    def test_a_link_from_a_start_or_to_an_end_has_its_type(self) -> None:
        self.desk.do(edits.unlink(self.desk.plan, list(self.desk.plan.links)))
        self.chart.zoom(6.0, self.bar("Survey").left())
        for from_finish, at_end, expected in (
            (True, False, LinkType.FS),
            (True, True, LinkType.FF),
            (False, False, LinkType.SS),
            (False, True, LinkType.SF),
        ):
            QTest.mouseMove(self.chart.viewport(), self.bar("Survey").center().toPoint())
            settle()
            handle = geometry.finish_handle if from_finish else geometry.start_handle
            goal = self.bar("Draw")
            end = QPointF(goal.right() - 3 if at_end else goal.left() + 3, goal.center().y())
            self.drag(handle(self.bar("Survey")), end)
            link = next(iter(self.desk.plan.links.values()))
            self.assertEqual((link.predecessor, link.type), (self.id_of("Survey"), expected))
            self.desk.undo()

    def test_a_refused_link_is_said(self) -> None:
        QTest.mouseMove(self.chart.viewport(), self.bar("Open").center().toPoint())
        settle()
        self.drag(geometry.finish_handle(self.bar("Open")), self.bar("Survey").center())
        self.assertIn("in a loop", self.said())

    def test_the_wheel_zooms_round_the_pointer_and_fit_shows_it_all(self) -> None:
        moment = self.chart.scale.minute(200)
        turn = QWheelEvent(
            QPointF(200, 40), self.chart.viewport().mapToGlobal(QPointF(200, 40)), QPoint(), QPoint(0, 240),
            Qt.MouseButton.NoButton, Qt.KeyboardModifier.ControlModifier, Qt.ScrollPhase.NoScrollPhase, False,
        )  # fmt: skip
        before = self.chart.scale.pixels
        QApplication.sendEvent(self.chart.viewport(), turn)
        self.assertGreater(self.chart.scale.pixels, before)
        self.assertLessEqual(abs(self.chart.scale.x(moment) - 200), 1)
        self.chart.zoom(30)
        self.chart.fit()
        width = self.chart.viewport().width()
        for name in ("Survey", "Open"):
            self.assertTrue(self.bar(name).left() >= 0 and self.bar(name).right() <= width)

    def test_the_axis_of_the_load_strip_is_the_charts(self) -> None:
        self.desk.do(edits.assign(self.desk.plan, [self.id_of("Survey")], "m"))
        self.desk.look_at_resource("m")
        period = next(p for p in self.window.build.canvas.periods() if p.load)
        within, _ = self.window.build.canvas.column_of(period, 40.0)
        self.assertLessEqual(within.left(), self.bar("Survey").left())
        self.assertGreaterEqual(within.right(), self.bar("Survey").right())


class Forms(WindowCase):
    def field(self, name: str) -> QLineEdit:
        settle()
        return next(f for f in self.window.findChildren(QLineEdit, name) if f.isVisible())

    def test_a_project_form_says_what_is_wrong_and_keeps_what_was_typed(self) -> None:
        self.window.registry.qt("project.new").trigger()
        self.field("projectName").setText("Moths")
        self.field("projectStart").setText("2026-13-01")
        QTest.keyClick(self.field("projectStart"), Qt.Key.Key_Return)
        self.assertEqual(self.window.side.shown, "project")
        self.assertEqual(self.field("projectName").text(), "Moths")
        self.field("projectStart").setText("2026-12-01 10:00")
        self.field("projectTarget").setText("2027-02-01")
        QTest.keyClick(self.field("projectStart"), Qt.Key.Key_Return)
        made = self.desk.plan.projects[self.desk.project or ""]
        self.assertEqual((made.start, made.target_finish), (at("2026-12-01T10:00"), at("2027-02-01T17:00")))
        self.assertEqual(self.window.side.shown, "inspector")

    def test_initials_that_are_taken_are_refused(self) -> None:
        for name in ("Mo Okon", "Mia Orr"):
            self.window.registry.qt("staff.add").trigger()
            self.field("resourceName").setText(name)
            self.field("resourceInitials").setText("MO")
            QTest.keyClick(self.field("resourceName"), Qt.Key.Key_Return)
        self.assertEqual(len(self.desk.plan.resources), 1)
        self.assertTrue(any("already has the initials" in t for t in self.texts(self.window.side)))
