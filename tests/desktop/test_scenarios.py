"""Scenarios in the window: beside the plan, worked in, brought up to date, taken over, and never touching the plan."""

from __future__ import annotations

import unittest

from msgspec.structs import replace
from PyQt6.QtWidgets import QComboBox, QLabel, QLineEdit, QPushButton, QWidget

from hexapod.desktop.chart.coloring import DRIVES, row_color
from hexapod.desktop.models.scenarios import THE_PLAN
from hexapod.desktop.trying.quick import QUICK, Asks
from hexapod.outlook.merge import Side
from hexapod.outlook.side_by_side import RowKey, RowKind
from hexapod.plan import edits
from hexapod.plan.estimates import Estimate
from hexapod.plan.records import Assignment, Resource, ResourceKind
from tests.at_rest import wait_for
from tests.desktop.case import CasesCase, Qt, QTest, colours_on_paper, settle
from tests.support import DAY, at


class Scenarios(CasesCase):
    def setUp(self) -> None:
        super().setUp()
        desk = self.desk
        people = [
            Resource("rre", "Registration", "a0", ResourceKind.ROLE, initials="RRE"),
            Resource("ines", "Ines", "a1", initials="IT", role="rre", rate=3300),
        ]
        for person in people:
            desk.do(edits.save_resource(desk.plan, person))
        desk.do(edits.set_assignments(desk.plan, self.id_of("Frames"), [Assignment(self.id_of("Frames"), "ines")]))
        self.work = desk.scenarios
        self.window.show_part("scenarios", "trying")
        settle()
        self.view = self.window.trying["scenarios"]

    def make(self, name: str = "Two registrars") -> str:
        made = self.work.make(name).id
        settle()
        return made

    def enter(self, scenario: str) -> None:
        self.work.enter(scenario)
        wait_for(lambda: self.desk.scenario is not None)
        settle()

    def known(self) -> None:
        """Until everything is worked out."""
        wait_for(lambda: all(c.figures is not None for c in self.work.columns()))
        settle()

    def minutes(self, name: str) -> int | None:
        return self.desk.plan.tasks[self.id_of(name)].duration

    # Making

    def test_one_is_made_by_its_name_and_stands_beside_the_plan(self) -> None:
        before = self.desk.home.plan
        self.window.registry.qt("scenario.new").trigger()
        settle()
        name = self.find(QLineEdit, "scenarioName")
        self.assertTrue(name.hasFocus())
        QTest.keyClick(name, Qt.Key.Key_Return)
        settle()
        self.assertIn("needs a name", self.side())
        name = self.find(QLineEdit, "scenarioName")
        name.setText("Two registrars")
        QTest.keyClick(name, Qt.Key.Key_Return)
        self.known()
        self.assertEqual([c.name for c in self.view.table.columns], ["As it is", "Two registrars"])
        self.assertEqual(before.tasks, self.desk.home.plan.tasks)
        self.assertIn("Nothing in it touches the plan", self.side())

    def test_every_leg_works_in_it_and_a_frame_says_so(self) -> None:
        made = self.make()
        self.enter(made)
        home = self.desk.home.plan
        for leg in ("build", "link", "staff", "track", "trying", "telling"):
            self.window.show_leg(leg)
            settle()
            self.assertTrue(self.find(QWidget, "scenarioRibbon").isVisible(), leg)
            self.assertIn("Two registrars", self.window.topbar.scenario.text())
        self.window.show_leg("build")
        self.desk.do(edits.set_durations(self.desk.plan, [self.id_of("Draw")], 8 * DAY))
        self.assertEqual(self.minutes("Draw"), 8 * DAY)
        self.assertIs(self.desk.home.plan, home, "the plan is as it was")
        self.assertNotEqual(self.desk.beside.dates(self.id_of("Glass")), self.desk.schedule.dates(self.id_of("Glass")))
        self.assertTrue(self.window.chart._pictures.of(self.id_of("Glass")).ghosts, "dashed where the plan has it")
        self.desk.undo()
        self.assertEqual(self.minutes("Draw"), 5 * DAY)
        self.desk.redo()
        self.window.registry.qt("scenario.leave").trigger()
        settle()
        self.assertIsNone(self.desk.scenario)
        self.assertEqual(self.minutes("Draw"), 5 * DAY)
        self.assertFalse(self.window.findChild(QWidget, "scenarioRibbon").isVisible())
        self.assertFalse(self.window.topbar.scenario.isVisibleTo(self.window))

    def test_only_what_differs_is_shown_where_that_is_asked_for(self) -> None:
        self.enter(self.make())
        self.desk.do(edits.set_durations(self.desk.plan, [self.id_of("Glass")], 8 * DAY))
        self.window.registry.qt("scenario.differing").trigger()
        settle()
        shown = [self.desk.plan.tasks[r.task].name for r in self.desk.rows]
        self.assertEqual(shown, ["Cases", "Glass", "Open"])

    def test_what_happened_is_told_in_the_plan(self) -> None:
        self.enter(self.make())
        self.window.show_leg("build")
        self.desk.select((self.id_of("Draw"),), self.id_of("Draw"))
        said: list[str] = []
        self.desk.told.connect(lambda words, *_: said.append(words))
        self.window.registry.qt("tell.done").trigger()
        self.assertIn("told in the plan", said[-1])

    # Comparing

    def test_figures_stand_side_by_side_the_best_of_each_row_marked(self) -> None:
        made = self.make()
        project = self.desk.home.plan.projects["p"]
        self.work.carry_out(made, edits.set_durations(self.work.opened(made).plan, [self.id_of("Frames")], 5 * DAY))
        self.known()
        rows = {row.key: row for row in self.work.rows(self.work.columns())}
        finish = rows[RowKey(RowKind.FINISH, "p")]
        self.assertEqual(finish.values, (self.desk.home.schedule.project_finish["p"],
                                         self.work.opened(made).compute().project_finish["p"]))  # fmt: skip
        self.assertEqual(finish.best, {1})
        self.assertIn(project.name, finish.words)
        self.assertEqual(rows[RowKey(RowKind.COST)].values, (10 * 8 * 3300, 5 * 8 * 3300))
        table = self.view.table
        shown = next(i for i, row in enumerate(table.rows) if row.key == finish.key)
        self.assertIn("Oct", table.words(table.rows[shown], 0))
        self.work.turn_differences()
        self.assertEqual(table.words(table.rows[shown], 1), "−7 days")
        table.setFocus()
        for key in (Qt.Key.Key_Left, Qt.Key.Key_Right, *[Qt.Key.Key_Down] * (shown + 1)):
            QTest.keyClick(table, key)
        self.assertEqual(table.at, (1, shown))
        self.assertIn("the best", table.accessibleDescription())
        QTest.keyClick(table, Qt.Key.Key_Return)
        wait_for(lambda: self.desk.scenario is not None)
        wait_for(lambda: self.window.shows("build"))
        self.assertEqual(self.desk.scenario.scenario, made, "the figure leads to where it comes from, in the scenario")

    def test_rows_are_chosen_and_kept(self) -> None:
        self.make()
        self.known()
        self.view._fill_rows()
        entries = {a.text(): a for a in self.view._rows_menu.actions()}
        entries["Milestones"].trigger()
        settle()
        self.assertIn(RowKind.MILESTONE, {row.key.kind for row in self.view.table.rows})
        self.assertEqual(self.desk.memory.recall("scenario_rows", list[str], []), self.work.rows_chosen)
        entries["The usual ones"].trigger()
        settle()
        opens = self.id_of("Open")
        self.assertNotIn(opens, {row.key.of for row in self.view.table.rows})
        (single,) = [a for a in entries["Single milestones"].menu().actions() if a.text() == "Open"]
        single.trigger()
        settle()
        self.assertIn(opens, {row.key.of for row in self.view.table.rows})
        single.trigger()
        settle()
        self.assertNotIn(RowKind.MILESTONE, {row.key.kind for row in self.view.table.rows})

    def test_each_edit_says_what_it_does_and_may_be_left_out_of_taking_over(self) -> None:
        made = self.make()
        opened = self.work.opened(made)
        self.work.carry_out(made, edits.set_durations(opened.plan, [self.id_of("Draw")], 8 * DAY))
        self.work.carry_out(made, edits.rename(opened.plan, self.id_of("Glass"), "Panes"))
        self.known()
        steps = self.view.steps
        wait_for(lambda: self.work.effects(made))
        settle()
        self.assertEqual([s.row.words for s in steps.rows], ["Set the duration of “Draw”", "Rename “Glass” to “Panes”"])
        self.assertIn("moves", steps.effect_words(steps.rows[0]))
        self.assertEqual(steps.effect_words(steps.rows[1]), "moves nothing")
        steps.setFocus()
        steps.go(1)
        QTest.keyClick(steps, Qt.Key.Key_Space)
        self.assertEqual(steps.effect_words(steps.rows[1]), "left out")
        self.window.registry.qt("scenario.take").trigger()
        settle()
        self.assertIsNotNone(self.desk.staging.on_show, "shown as a ripple before it is taken")
        self.assertEqual(self.minutes("Draw"), 5 * DAY)
        self.window.registry.qt("edit.take").trigger()
        settle()
        self.assertEqual(self.minutes("Draw"), 8 * DAY)
        self.assertIn("Glass", [t.name for t in self.desk.plan.tasks.values()])
        self.assertIsNotNone(self.desk.plan.scenarios[made].taken_over)
        self.desk.undo()
        self.assertEqual(self.minutes("Draw"), 5 * DAY)

    # Keeping up

    def test_what_both_changed_is_asked_with_both_values_and_who(self) -> None:
        made = self.make()
        self.desk.sign_as("Joss Ferro")
        self.work.opened(made).who = "Nell Harrow"
        self.work.carry_out(made, edits.set_durations(self.work.opened(made).plan, [self.id_of("Draw")], 3 * DAY))
        self.desk.do(edits.set_durations(self.desk.plan, [self.id_of("Draw")], 12 * DAY))
        self.known()
        self.work.look_at(THE_PLAN)
        self.work.look_at(made)
        settle()
        self.assertIn("“Draw”: duration 12 d there, 3 d here", self.side())
        self.assertIn("There by Joss Ferro, here by Nell Harrow.", self.side())
        self.assertFalse(self.find(QPushButton, "bringUp").isEnabled())
        self.assertEqual(self.find(QPushButton, "answer.0.plan").text(), "keep 12 d")
        self.window.registry.qt("scenario.take").trigger()
        settle()
        self.assertIn("moved on", self.side())
        self.find(QPushButton, f"answer.0.{Side.SCENARIO.value}").click()
        settle()
        self.find(QPushButton, "bringUp").click()
        settle()
        self.known()
        self.assertEqual(self.work.opened(made).plan.tasks[self.id_of("Draw")].duration, 3 * DAY)
        self.assertEqual(self.minutes("Draw"), 12 * DAY)
        self.assertEqual(self.work.columns()[1].behind, 0)

    def test_deleting_is_undone(self) -> None:
        made = self.make()
        self.work.carry_out(made, edits.rename(self.work.opened(made).plan, self.id_of("Draw"), "Drawings"))
        self.enter(made)
        self.window.registry.qt("scenario.drop").trigger()
        settle()
        self.assertEqual((self.desk.scenario, self.work.listed()), (None, []))
        self.desk.undo()
        self.enter(made)
        self.assertIn("Drawings", [t.name for t in self.desk.plan.tasks.values()])

    # Quick changes

    def do_quick(self, name: str, **said: str) -> None:
        page = self.window.side.pages["scenario"]
        if page.quick != name:
            page._open(next(q for q in QUICK if q.name == name))
        settle()
        for field, text in said.items():
            widget = f"quick.{name}.{field.replace('_', ' ')}"
            found = self.find(QWidget, widget)
            if isinstance(found, QComboBox):
                found.setCurrentIndex(found.findData(text))
                found.activated.emit(found.currentIndex())
            else:
                found.setText(text)
        self.find(QPushButton, "quickDo").click()
        settle()

    def test_quick_changes_are_ordinary_edits_of_the_scenario(self) -> None:
        made = self.make()
        home, opened = self.desk.home.plan, self.work.opened(made)

        def count() -> int:
            return len(opened.steps())

        self.do_quick("hire", Role="rre", How_many="2", From="2026-09-14", To="2026-09-25", Rate_an_hour="40",
                      Paid_by="p")  # fmt: skip
        hired = next(r for r in opened.plan.resources.values() if r.name == "Registration, 2 more")
        self.assertEqual(hired.capacity_from, ((at("2026-09-14") // 1440, 2.0), (at("2026-09-26") // 1440, 0.0)))
        self.assertEqual([e.amount for e in opened.plan.entries.values()], [2 * 80 * 4000])
        self.do_quick("contract", Rows="1.2", Contractor="Firm", Price="900")
        self.assertNotIn((self.id_of("Frames"), "ines"), opened.plan.assignments)
        self.do_quick("delay", Project="p", By="1 w")
        self.assertEqual(opened.plan.tasks[self.id_of("Draw")].hold, 5 * DAY)
        self.do_quick("target", Project="p", Target="2026-10-30")
        self.assertEqual(opened.plan.projects["p"].target_finish // 1440, at("2026-10-30") // 1440)
        self.do_quick("priority", Project="p", Priority="2")
        self.do_quick("capacity", Who="ines", From="2026-10-01", Capacity="0.5")
        self.do_quick("calendar", Project="p", Calendar="always")
        self.assertEqual(opened.plan.projects["p"].calendar, "always")
        self.do_quick("cut", Rows="Glass")
        self.assertNotIn(self.id_of("Glass"), opened.plan.tasks)
        self.do_quick("hold", Project="p")
        self.assertTrue(opened.plan.projects["p"].on_hold)
        self.assertEqual(count(), 10)
        self.do_quick("drop", Project="p")
        self.assertTrue(opened.plan.projects["p"].archived)
        self.assertIs(self.desk.home.plan, home, "all of it in the scenario")
        while opened.undo_words is not None:
            opened.undo()
        self.assertEqual(opened.plan.tasks, home.tasks)

    def test_a_quick_change_that_cannot_be_is_a_sentence_and_keeps_what_was_typed(self) -> None:
        made = self.make()
        for name, said, words in (
            ("hire", {"Role": "rre", "How_many": "many", "From": "1 Mar 2027"}, "no number"),
            ("hire", {"How_many": "2", "From": "never"}, "never"),
            ("contract", {"Rows": "9.9", "Contractor": "Firm", "Price": "1"}, "no row"),
            ("delay", {"By": "soon"}, "soon"),
            ("priority", {"Priority": "12"}, "from 1"),
            ("crowd", {"Times": "0.5"}, "four times"),
        ):
            self.do_quick(name, **said)
            reason = self.find(QLabel, "quickReason").text()
            self.assertIn(words, reason, name)
            last = list(said)[-1].replace("_", " ")
            self.assertEqual(self.find(QLineEdit, f"quick.{name}.{last}").text(), said[list(said)[-1]])
            self.window.side.pages["scenario"]._open(next(q for q in QUICK if q.name == name))
        self.assertEqual(len(self.work.opened(made).steps()), 1)

    def test_every_choice_of_a_quick_change_offers_something(self) -> None:
        from hexapod.desktop.trying.quick import choices_of

        for asks in Asks:
            self.assertEqual(bool(choices_of(self.desk.plan, asks)), asks is not Asks.TEXT, asks)

    # What it would take

    def test_ways_are_looked_for_and_one_is_made_a_scenario(self) -> None:
        self.window.registry.qt("scenario.ways").trigger()
        settle()
        by = self.find(QLineEdit, "waysBy")
        by.setText("2026-08-01")
        self.find(QPushButton, "waysLook").click()
        self.assertIn("past", self.side())
        by.setText("2026-09-29")
        self.find(QPushButton, "waysLook").click()
        wait_for(lambda: self.desk.ways.answer is not None)
        settle()
        self.assertIn("the cheapest first", self.side())
        self.assertIn("Hire 1 for Registration", self.side())
        self.find(QPushButton, "wayMake").click()
        settle()
        self.known()
        column = self.work.columns()[1]
        self.assertLessEqual(column.figures.finishes["p"], at("2026-09-29T17:00"))
        self.assertEqual(self.minutes("Frames"), 10 * DAY, "the plan is as it was")

    def test_a_search_can_be_stopped(self) -> None:
        self.window.registry.qt("scenario.ways").trigger()
        settle()
        self.find(QLineEdit, "waysBy").setText("2026-09-20")
        self.find(QPushButton, "waysLook").click()
        self.desk.ways.stop()
        wait_for(lambda: not self.desk.ways.is_looking)
        settle()
        self.assertIsNone(self.desk.ways.answer)

    # With ranges

    def test_the_date_that_is_sure_enough_is_a_row_of_its_own(self) -> None:
        estimate: Estimate = (8 * DAY, 10 * DAY, 20 * DAY)
        self.desk.do(edits.set_estimates(self.desk.plan, [self.id_of("Frames")], estimate))
        made = self.make()
        self.work.carry_out(
            made, edits.set_estimates(self.work.opened(made).plan, [self.id_of("Frames")], (8 * DAY, 9 * DAY, 10 * DAY))
        )
        self.known()
        row = next(r for r in self.work.rows(self.work.columns()) if r.key.kind is RowKind.SURE)
        self.assertEqual(row.best, {1})

    def test_two_plans_lie_over_one_another_in_the_range_with_the_cost_beside(self) -> None:
        frames = self.id_of("Frames")
        self.desk.do(edits.set_estimates(self.desk.plan, [frames], (8 * DAY, 10 * DAY, 20 * DAY)))
        made = self.make()
        shorter = edits.set_estimates(self.work.opened(made).plan, [frames], (5 * DAY, 6 * DAY, 9 * DAY))
        self.work.carry_out(made, edits.together("Shorter", [
            edits.set_durations(self.work.opened(made).plan, [frames], 6 * DAY), shorter]))  # fmt: skip
        self.window.show_part("range", "trying")
        self.desk.chances.run(500)
        wait_for(lambda: self.desk.chances.outlook is not None and not self.desk.chances.is_running)
        settle()
        view, beside = self.window.trying["range"], self.desk.range_beside
        self.assertEqual([name for _, name in beside.choices()], ["Nothing beside it", "Two registrars beside it"])
        self.assertIsNone(view.picture.beside)
        beside.look_at(made)
        wait_for(lambda: beside.chances() is not None)
        settle()
        self.assertLess(beside.chances().quantile(0.8), self.desk.chances.chances().quantile(0.8))
        self.assertIn("Two registrars", view.picture.accessibleName())
        self.assertTrue(view.costs.isVisible())
        self.assertIn("8 in 10 hold", view.costs.accessibleName())
        self.enter(made)
        self.window.show_part("range", "trying")
        settle()
        self.assertEqual([of for of, _ in beside.choices()], ["-", THE_PLAN])

    def test_side_by_side_goes_onto_paper_as_it_is_on_the_screen(self) -> None:
        self.make()
        self.known()
        drawing = self.window.drawing("scenarios", ())
        colours = colours_on_paper(drawing, 900, 600, 3)
        self.assertGreater(len(colours), 6)
        self.window.show_paper()
        self.assertEqual(self.window.paper.what, "scenarios")

    def test_rows_are_coloured_by_how_often_they_drive(self) -> None:
        self.desk.do(edits.set_estimates(self.desk.plan, [self.id_of("Frames")], (8 * DAY, 10 * DAY, 20 * DAY)))
        self.desk.looks.set_color_by(DRIVES)
        never = row_color(self.desk, self.id_of("Frames"))
        self.desk.chances.run(500)
        wait_for(lambda: self.desk.chances.outlook is not None and not self.desk.chances.is_running)
        self.assertNotEqual(row_color(self.desk, self.id_of("Frames")), never)

    def test_opened_to_read_scenarios_are_looked_at_and_not_changed(self) -> None:
        made = self.make()
        self.known()
        self.desk.home.workspace.read_only = True
        self.window.registry.refresh()
        for action in ("scenario.new", "scenario.copy", "scenario.take", "scenario.drop", "scenario.ways"):
            self.assertFalse(self.window.registry.qt(action).isEnabled(), action)
        self.enter(made)
        self.assertTrue(self.desk.is_read_only)
        self.desk.home.workspace.read_only = False

    def test_projects_on_hold_say_so(self) -> None:
        made = self.make()
        self.work.carry_out(made, edits.put_on_hold(self.work.opened(made).plan, "p"))
        self.known()
        row = next(r for r in self.work.rows(self.work.columns()) if r.key.kind is RowKind.FINISH)
        self.assertEqual(self.view.table.words(row, 1), "on hold")
        plan = self.desk.home.plan
        kept = replace(plan.projects["p"], on_hold=True)
        self.desk.do(edits.save_project(plan, kept))
        self.known()
        self.assertEqual(self.work.columns()[0].figures.targets, 0)


if __name__ == "__main__":
    unittest.main()
