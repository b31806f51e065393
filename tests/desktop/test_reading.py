"""Reading and shaping the plan in the window: views, drags, the ripple, network, map, month and what drives what."""

from __future__ import annotations

from unittest.mock import patch

from msgspec.structs import replace
from PyQt6.QtCore import QRectF
from PyQt6.QtWidgets import QCheckBox, QPushButton

from hexapod.desktop.chart import geometry as g
from hexapod.desktop.chart.link_menu import LinkMenu
from hexapod.desktop.chart.timescale import TimeScale
from hexapod.desktop.kept_window import keep_window, restore_window
from hexapod.desktop.models.recent import recent_files, remember
from hexapod.plan import edits
from hexapod.plan.records import Assignment, Gap, LimitKind, LinkType, Resource
from hexapod.query.views import PLAIN, Finished, Labels, Links, View
from hexapod.schedule.chains import Reach
from tests.desktop.case import QPoint, QPointF, Qt, QTest, settle
from tests.desktop.reading_case import LEFT, Reading
from tests.support import DAY, at

PARTS = [i / 20 for i in range(1, 20)]  # places along a link


class Views(Reading):
    def test_a_query_keeps_rows_with_their_summaries_and_a_mistake_keeps_the_last_result(self) -> None:
        bar = self.window.build.bar
        QTest.keyClicks(bar.query, "name contains glass")
        QTest.keyClick(bar.query, Qt.Key.Key_Escape)
        bar.query.setText("name contains glass")
        self.assertTrue(bar.query.ask())
        self.assertEqual(self.outline(), ["Build", "  Glass"])
        self.assertEqual(bar.count.text(), "2 of 6")
        bar.query.setText("name contains glass and flot < 3 d")
        self.assertFalse(bar.query.ask())
        self.assertEqual(bar.query.mistake.at, 24)
        self.assertIn("float", str(bar.query.mistake))
        self.assertEqual(self.outline(), ["Build", "  Glass"], "the last good result stays")
        bar.query.setText("")
        bar.query.ask()
        self.assertEqual(len(self.outline()), 6)

    def test_what_is_added_to_a_narrow_view_stays_in_sight(self) -> None:
        self.desk.on_show.show_view(View(query="name contains glass"))
        self.go_to("Glass")
        self.press(Qt.Key.Key_Return, Qt.KeyboardModifier.ControlModifier)
        self.window.grid.begin_row(above=False)
        self.type("Locks", Qt.Key.Key_Return, Qt.Key.Key_Escape)
        self.assertEqual(self.outline(), ["Build", "  Glass", "  Locks"])

    def test_going_to_a_task_that_is_out_of_sight_widens_the_view(self) -> None:
        self.desk.on_show.show_view(View(query="name contains glass"))
        self.desk.go_to(self.id_of("Survey"))
        self.assertIn("Survey", self.outline())

    def test_a_view_is_kept_starred_and_forgotten(self) -> None:
        self.desk.on_show.show_view(View(query="critical", labels=Labels.NAME))
        self.window.registry.qt("view.keep").trigger()
        form = self.window.side.pages["view"]
        settle()
        form.first_line.setText("Critical work")
        form.findChildren(QPushButton, "formSave")[-1].click()
        self.assertTrue(any("ships with Hexapod" in t for t in self.texts(form)))
        form.first_line.setText("Mine")
        form.findChildren(QCheckBox, "viewStar")[-1].setChecked(True)
        form.findChildren(QPushButton, "formSave")[-1].click()
        self.assertEqual([v.name for v in self.desk.plan.views.values()], ["Mine"])
        self.assertEqual(self.desk.on_show.views()[0].name, "Mine", "favourites come first")
        settle()
        self.window.registry.qt("view.forget").trigger()
        self.assertEqual((self.desk.on_show.kept, self.desk.on_show.view), ([], PLAIN))

    def test_lanes_put_several_tasks_on_a_row_and_each_is_found_where_it_is_painted(self) -> None:
        self.desk.on_show.show_view(View(query="not summary", group="project", lanes=True, labels=Labels.NAME))
        self.assertLess(len(self.desk.rows), 6)
        for name in ("Survey", "Draw", "Frames", "Glass"):
            self.assertEqual(self.chart.task_at(self.bar(name).center()), self.id_of(name))
        self.drag(self.chart.viewport(), self.bar("Survey").center(), QPoint(self.days(3), 0))
        self.assertEqual(self.desk.plan.tasks[self.id_of("Survey")].limits[0].at, at("2026-09-10T08:00"))

    def test_a_folded_summary_shows_its_parts_on_its_row(self) -> None:
        self.desk.on_show.show_view(View(rolled_up=True))
        self.desk.fold(self.id_of("Build"), True)
        self.desk.do(edits.set_durations(self.desk.plan, [self.id_of("Frames")], 4 * DAY))
        frames = self.bar("Frames")
        self.assertEqual(self.chart.row_of(self.id_of("Frames")), self.desk.position[self.id_of("Build")])
        self.assertEqual(self.chart.task_at(QPointF(frames.right() - 2, frames.center().y())), self.id_of("Frames"))

    def test_only_its_chain_and_every_row_again(self) -> None:
        self.desk.go_to(self.id_of("Glass"))
        self.window.registry.qt("chain.before").trigger()
        self.wait_for(lambda: self.outline() == ["Survey", "Draw", "Build", "  Glass"])
        self.assertEqual(self.desk.on_show.chain.reach, Reach.BEFORE)
        self.window.build.bar.chip.click()
        self.assertEqual(len(self.outline()), 6)

    def test_folding_to_a_level(self) -> None:
        self.desk.on_show.fold_to(1)
        self.assertEqual(self.outline(), ["Survey", "Draw", "Build", "Open"])
        self.desk.on_show.fold_to(2)
        self.assertEqual(len(self.outline()), 6)

    def test_links_of_the_chosen_only(self) -> None:
        self.desk.on_show.show_view(View(links=Links.NONE))
        self.assertEqual(self.chart.links_on_screen(), [])
        self.desk.on_show.show_view(View(links=Links.CHOSEN))
        self.desk.select((self.id_of("Glass"),), self.id_of("Glass"))
        shown = {link.key[:2] for link, _, _ in self.chart.links_on_screen()}
        self.assertIn((self.id_of("Draw"), self.id_of("Glass")), shown)

    def test_the_find_box_asks_the_plan(self) -> None:
        box = self.window.find_box
        QTest.keyClicks(box, "critical and not summary")
        QTest.keyClick(box, Qt.Key.Key_Return)
        self.assertEqual(self.desk.on_show.view.query, "critical and not summary")

    def test_finished_rows_are_struck_or_hidden(self) -> None:
        survey = self.id_of("Survey")
        self.desk.do(edits.set_percent(self.desk.plan, [survey], 100))
        self.assertTrue(self.desk.is_struck(survey))
        self.desk.on_show.show_view(replace(PLAIN, finished=Finished.HIDDEN))
        self.assertNotIn("Survey", self.outline())


class Dragging(Reading):
    def test_dragging_a_bar_is_typing_its_date(self) -> None:
        frames = self.id_of("Frames")
        self.drag(self.chart.viewport(), self.bar("Frames").center(), QPoint(self.days(7), 0))
        dragged = self.desk.plan
        self.assertIn("starts not before", self.said())
        start = dragged.tasks[frames].limits[0].at
        self.desk.undo()
        typed = edits.set_limit(self.desk.plan, frames, LimitKind.START_NO_EARLIER, start)
        self.desk.do(typed)
        self.assertEqual(self.desk.plan, dragged)

    def test_ghosts_and_vitals_follow_and_escape_leaves_all(self) -> None:
        before, words = self.desk.plan, self.window.topbar.vitals.finish.text_shown
        self.drag(self.chart.viewport(), self.bar("Draw").center(), QPoint(self.days(7), 0), release=False)
        ghost = self.desk.ghost
        assert ghost is not None
        self.assertGreater(ghost.dates(self.id_of("Open")).start, self.desk.schedule.dates(self.id_of("Open")).start)
        self.wait_for(lambda: self.window.topbar.vitals.finish.text_shown != words)
        QTest.keyClick(self.window, Qt.Key.Key_Escape)
        QTest.mouseRelease(self.chart.viewport(), LEFT, pos=QPoint(5, 5))
        self.assertIs(self.desk.plan, before)
        self.assertIsNone(self.desk.ghost)
        self.wait_for(lambda: self.window.topbar.vitals.finish.text_shown == words)

    def test_both_ends_and_the_done_part(self) -> None:
        draw = self.id_of("Draw")
        bar = self.bar("Draw")
        self.drag(self.chart.viewport(), QPointF(bar.right() - 1, bar.center().y()), QPoint(self.days(1), 0))
        self.assertEqual(self.desk.plan.tasks[draw].minutes, 3 * DAY)
        finish = self.desk.schedule.dates(draw).finish
        bar = self.bar("Draw")
        self.drag(self.chart.viewport(), QPointF(bar.left() + 1, bar.center().y()), QPoint(self.days(1), 0))
        self.assertEqual(self.desk.schedule.dates(draw).finish, finish)
        self.assertEqual(self.desk.plan.tasks[draw].minutes, 2 * DAY)
        bar = self.bar("Draw")
        grip = g.progress_grip(bar, self.chart.done_part(draw))
        self.drag(self.chart.viewport(), QPointF(grip.x() + 2, grip.y() + 3), QPoint(round(bar.width() / 2), 0))
        self.assertAlmostEqual(self.desk.plan.tasks[draw].percent, 50, delta=6)
        before = self.desk.plan
        self.drag(self.chart.viewport(), QPointF(bar.left() + 1, bar.center().y()), QPoint(self.days(1), 0))
        self.assertIs(self.desk.plan, before, "it began when it began")

    def test_a_summary_shifts_what_has_not_begun(self) -> None:
        frames = self.desk.schedule.dates(self.id_of("Frames")).start
        self.drag(self.chart.viewport(), self.bar("Build").center(), QPoint(self.days(7), 0))
        self.assertEqual(self.desk.schedule.dates(self.id_of("Frames")).start, frames + 7 * 1440)
        self.assertEqual(self.desk.session.undo_words.split(" starts")[0], "“Build”")

    def test_the_keyboard_moves_and_stretches_the_bar(self) -> None:
        survey = self.id_of("Survey")
        self.desk.select((survey,), survey)
        self.chart.show_scale(TimeScale(self.chart.scale.origin, 20.0))  # a step is a day's work
        QTest.keyClick(self.chart, Qt.Key.Key_Right)
        self.assertEqual(self.desk.plan.tasks[survey].limits[0].at, at("2026-09-08T08:00"))
        QTest.keyClick(self.chart, Qt.Key.Key_Right, Qt.KeyboardModifier.ShiftModifier)
        self.assertEqual(self.desk.plan.tasks[survey].minutes, 3 * DAY)
        QTest.keyClick(self.chart, Qt.Key.Key_Down)
        self.assertEqual(self.desk.current, self.id_of("Draw"))
        self.assertIn("Draw, ", self.chart.accessibleDescription())

    def test_a_link_is_changed_where_it_is(self) -> None:
        link = self.desk.plan.links[(self.id_of("Survey"), self.id_of("Draw"), "FS")]
        menu = LinkMenu(self.desk, link, self.chart)
        words = {a.text(): a for a in menu.actions()}
        words["Start to start (SS)"].trigger()
        self.assertIn((link.predecessor, link.successor, "SS"), self.desk.plan.links)
        changed = next(x for x in self.desk.plan.links.values() if x.type is LinkType.SS)
        gaps = next(a.menu() for a in LinkMenu(self.desk, changed, self.chart).actions() if a.menu())
        next(a for a in gaps.actions() if a.text() == "Moves by as much, keeps the gap").trigger()
        self.assertIs(self.desk.plan.links[changed.key].gap, Gap.KEEP)
        menu = LinkMenu(self.desk, self.desk.plan.links[changed.key], self.chart)
        next(a for a in menu.actions() if a.objectName() == "removeLink").trigger()
        self.assertNotIn(changed.key, self.desk.plan.links)


class Rippling(Reading):
    def test_an_edit_by_any_means_is_looked_at_before_it_is_done(self) -> None:
        before = self.desk.plan
        self.window.registry.qt("edit.ask").trigger()
        self.go_to("Draw", 2)
        self.type("7d", Qt.Key.Key_Return)
        self.assertIs(self.desk.plan, before)
        page = self.window.side.pages["ripple"]
        self.wait_for(lambda: any(t.startswith("3 tasks move") or "tasks move" in t for t in self.texts(page)))
        self.assertTrue(any("5 d later" in t for t in self.texts(page)), self.texts(page))
        self.drag(self.chart.viewport(), self.bar("Survey").center(), QPoint(self.days(7), 0))
        self.assertIn("starts not before", self.desk.staging.on_show.words)
        page.findChildren(QPushButton, "dropStaged")[-1].click()
        self.assertIs(self.desk.plan, before)
        self.desk.do(edits.set_durations(self.desk.plan, [self.id_of("Draw")], 7 * DAY))
        self.window.registry.qt("edit.take").trigger()
        self.assertEqual(self.desk.plan.tasks[self.id_of("Draw")].minutes, 7 * DAY)

    def test_what_just_moved_is_a_key_away(self) -> None:
        self.desk.do(edits.set_durations(self.desk.plan, [self.id_of("Draw")], 7 * DAY))
        self.window.registry.qt("edit.moved").trigger()
        page = self.window.side.pages["ripple"]
        self.wait_for(lambda: "What just moved" in self.texts(page))
        self.assertTrue(any(t == "4 tasks move" for t in self.texts(page)), self.texts(page))


class InTheNetwork(Reading):
    def setUp(self) -> None:
        super().setUp()
        self.window.show_leg("link")
        self.diagram = self.window.link.diagram
        self.wait_for(lambda: len(self.diagram.graph.tasks) == 5)
        self.diagram.fit()

    def box(self, name: str) -> QRectF:
        return self.diagram.to_screen(self.diagram.box(self.diagram.index[self.id_of(name)]))

    def test_boxes_are_found_where_they_are_painted(self) -> None:
        for name in ("Survey", "Draw", "Frames", "Glass", "Open"):
            found = self.diagram.box_at(self.box(name).center())
            self.assertEqual(self.diagram.graph.tasks[found], self.id_of(name))
        for i in range(len(self.diagram.graph.arcs)):
            path = self.diagram.path_of(i)
            places = [self.diagram.to_screen(QRectF(at, at)).topLeft() for at in map(path.pointAtPercent, PARTS)]
            self.assertIn(i, map(self.diagram.link_at, places), "where it runs with no other")

    def test_a_link_is_drawn_between_ends(self) -> None:
        glass, opening = self.box("Glass"), self.box("Open")
        QTest.mouseMove(self.diagram, glass.center().toPoint())
        self.drag(
            self.diagram,
            QPointF(glass.right(), glass.center().y()),
            QPoint(round(opening.left() + 20 - glass.right()), round(opening.center().y() - glass.center().y())),
        )
        self.assertIn((self.id_of("Glass"), self.id_of("Open"), "FS"), self.desk.plan.links)

    def test_the_arrows_walk_along_what_drives(self) -> None:
        self.desk.select((self.id_of("Open"),), self.id_of("Open"))
        seen = []
        for _ in range(3):
            QTest.keyClick(self.diagram, Qt.Key.Key_Left)
            seen.append(self.desk.plan.tasks[self.desk.current].name)
        self.assertEqual(seen, ["Frames", "Draw", "Survey"])
        QTest.keyClick(self.diagram, Qt.Key.Key_Right)
        self.assertEqual(self.desk.current, self.id_of("Draw"))

    def test_levels_chains_and_lanes(self) -> None:
        self.window.link.show_level(1)
        self.wait_for(lambda: self.id_of("Build") in self.diagram.index)
        self.assertNotIn(self.id_of("Frames"), self.diagram.index)
        self.window.link.show_level(None)
        self.desk.select((self.id_of("Glass"),), self.id_of("Glass"))
        self.window.link.show_reach(Reach.DRIVERS)
        self.wait_for(lambda: set(self.diagram.graph.tasks) == {self.id_of(n) for n in ("Survey", "Draw", "Glass")})
        self.window.link.show_reach(None)
        self.window.link.show_lanes(True)
        self.wait_for(lambda: len(self.diagram.lanes) == 4)


class InTheMonth(Reading):
    def test_a_bar_dragged_to_another_day_starts_no_earlier(self) -> None:
        self.desk.go_to(self.id_of("Survey"))
        self.window.show_month()
        canvas = self.window.month.canvas
        self.wait_for(lambda: canvas.pieces)
        self.assertEqual((canvas.year, canvas.month), (2026, 9))
        piece = next(p for p in canvas.pieces if p.task == self.id_of("Survey"))
        wide = canvas.cell(0, 1).left() - canvas.cell(0, 0).left()
        high = canvas.cell(1, 0).top() - canvas.cell(0, 0).top()
        self.drag(canvas, canvas.box(piece).center(), QPoint(round(wide), round(high)))
        self.assertEqual(self.desk.plan.tasks[self.id_of("Survey")].limits[0].at, at("2026-09-15T08:00"))
        QTest.keyClick(canvas, Qt.Key.Key_Left, Qt.KeyboardModifier.ShiftModifier)
        self.assertEqual(self.desk.plan.tasks[self.id_of("Survey")].limits[0].at, at("2026-09-14T08:00"))

    def test_only_of_a_person(self) -> None:
        self.desk.do(edits.save_resource(self.desk.plan, Resource("m", "Mo Okon", "a0", initials="MO")))
        self.desk.do(edits.set_assignments(self.desk.plan, self.id_of("Draw"), [Assignment(self.id_of("Draw"), "m")]))
        self.window.show_month()
        month = self.window.month
        self.wait_for(lambda: month.person.findData("m") > 0)
        month.person.setCurrentIndex(month.person.findData("m"))
        month.person.activated.emit(month.person.currentIndex())
        self.assertEqual({p.task for p in month.canvas.pieces}, {self.id_of("Draw")})


class Around(Reading):
    def test_the_overview_moves_the_chart(self) -> None:
        self.chart.zoom(6)
        overview = self.window.build.overview
        tasks, critical = overview.counts()
        self.assertGreater(int(tasks.max()), 0)
        self.assertTrue((critical <= tasks).all())
        QTest.mouseClick(overview, LEFT, pos=QPoint(overview.width() - 30, 10))
        middle = overview.window().center().x()
        self.assertAlmostEqual(middle, overview.width() - 30, delta=4)

    def test_the_milestone_strip(self) -> None:
        strip = self.window.build.strip
        self.window.registry.qt("look.strip").trigger()
        self.assertEqual(strip.tasks(), [self.id_of("Open")])
        self.desk.select((self.id_of("Draw"),), self.id_of("Draw"))
        self.window.registry.qt("row.strip").trigger()
        self.assertEqual(set(strip.tasks()), {self.id_of("Open"), self.id_of("Draw")})
        for item in strip.items():
            self.assertEqual(strip.item_at(strip.scale().x(item.finish)), item.task)
        picture = strip.picture(2.0)
        self.assertEqual(picture.width(), 2 * strip.width())

    def test_a_window_comes_back_as_it_was_left(self) -> None:
        self.desk.select((self.id_of("Glass"),), self.id_of("Glass"))
        self.chart.zoom(2)
        scale = self.chart.scale
        self.window.show_leg("link")
        keep_window(self.window)
        self.window.show_leg("build")
        self.chart.fit()
        restore_window(self.window)
        self.assertEqual((self.window.leg, self.chart.scale, self.desk.current), ("link", scale, self.id_of("Glass")))
        self.desk.memory.keep("window", {"leg": 3, "geometry": "?"})
        restore_window(self.window)

    def test_recent_files_are_remembered_and_those_gone_left_out(self) -> None:
        path = self.desk.session.workspace.path
        remember(path.with_name("gone.hexapod"))
        remember(path)
        self.assertEqual(recent_files()[0], path)
        self.assertNotIn(path.with_name("gone.hexapod"), recent_files())

    def test_three_sizes_of_text(self) -> None:
        widths = []
        for _ in range(3):
            self.window.choose_text_size()
            widths.append((self.window.font().pointSizeF(), self.window.side.width()))
        self.assertEqual(len({w for w, _ in widths}), 3)
        self.assertEqual(max(w for _, w in widths), max(widths)[1])

    def test_why_it_finishes_then_is_walked_by_keys(self) -> None:
        self.window.registry.qt("walk.why").trigger()
        self.assertEqual(self.desk.current, self.id_of("Open"))
        for name in ("Frames", "Draw", "Survey"):
            self.window.registry.qt("walk.back").trigger()
            self.assertEqual(self.desk.current, self.id_of(name))
        self.window.registry.qt("walk.back").trigger()
        self.assertEqual(self.said(), "It waits for nothing.")
        self.window.registry.qt("walk.on").trigger()
        self.assertEqual(self.desk.current, self.id_of("Draw"))

    def test_edits_made_before_the_dates_are_there_wait_for_them(self) -> None:
        session, draw = self.desk.session, self.id_of("Draw")
        with patch("hexapod.desktop.models.first_dates.AT_ONCE", 0):
            session.schedule = session.schedule.remembered()
            before = self.desk.plan
            self.desk.do(edits.set_durations(self.desk.plan, [draw], 5 * DAY))
            self.desk.do(edits.rename(self.desk.plan, draw, "Drawn"))
            self.assertIs(self.desk.plan, before)
            self.assertIn("as soon as they are", self.said())
            self.desk.first_dates.compute()
            self.wait_for(lambda: self.desk.plan is not before and self.desk.plan.tasks[draw].name == "Drawn")
        self.assertEqual(self.desk.plan.tasks[draw].minutes, 5 * DAY)

    def test_the_inspector_says_what_would_hold_it_next_and_how_a_slip_spreads(self) -> None:
        frames = self.id_of("Frames")
        self.desk.do(edits.link(self.desk.plan, self.id_of("Survey"), frames))
        self.desk.go_to(frames)
        inspector = self.window.side.pages.inspector
        self.wait_for(lambda: "2 d away" in self.texts(inspector))
        from hexapod.desktop.inspector.slip_curve import SlipCurve
        from hexapod.schedule.slip import slip

        curve = self.wait_for(lambda: [c for c in inspector.findChildren(SlipCurve) if c.points])[-1]
        for delay, moves in curve.points[1:]:
            self.assertEqual(slip(self.desk.schedule, frames, delay).finish_moves, moves)


if __name__ == "__main__":
    import unittest

    unittest.main()
