"""Typing rows and cells: where a typed row goes, and what a typed cell means, without a window."""

from __future__ import annotations

import os
import random
import tempfile
import unittest
from pathlib import Path

os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")

from PyQt6.QtWidgets import QApplication

from hexapod.desktop.models import columns
from hexapod.desktop.models.desk import Desk
from hexapod.desktop.models.gap import RowGap, add_in_gap, deepest_level, gap_above, gap_below
from hexapod.errors import BadText, HexapodError
from hexapod.plan import edits
from hexapod.plan.outline import rows
from hexapod.plan.plan import Plan
from hexapod.plan.records import LimitKind, Resource
from hexapod.session import Session
from tests.support import DAY, at, project

APP = QApplication.instance() or QApplication([])


class Gaps(unittest.TestCase):
    def random_outline(self, rng: random.Random) -> Plan:
        text, level = [], 0
        for i in range(rng.randrange(1, 12)):
            level = rng.randrange(0, level + 2) if i else 0
            text.append("  " * level + f"Row {i}")
        return edits.add_text("p", "\n".join(text)).applied_to(Plan.of([project()]))

    def test_a_typed_row_lands_where_it_was_typed_on_its_level(self) -> None:
        rng = random.Random(81)
        for _ in range(400):
            plan = self.random_outline(rng)
            folded = {t for t in plan.tasks if plan.is_summary(t) and rng.random() < 0.3}
            shown = rows(plan, "p", folded)
            index = rng.randrange(len(shown) + 1)
            least = shown[index].level if index < len(shown) else 0
            level = rng.randrange(least, deepest_level(shown, index) + 1) if index else 0
            if index and shown[index - 1].task in folded and level > shown[index - 1].level:
                continue  # inside a folded branch nothing is typed
            gap = RowGap(index, level)
            after = add_in_gap(plan, "p", shown, gap, "Typed", "typed").applied_to(plan)
            found = rows(after, "p", folded)
            self.assertEqual((found[index].task, found[index].level), ("typed", level))
            self.assertEqual([r.task for r in found if r.task != "typed"], [r.task for r in shown])

    def test_above_and_below_a_row(self) -> None:
        plan = edits.add_text("p", "A\n  B\nC").applied_to(Plan.of([project()]))
        shown = rows(plan, "p")
        self.assertEqual(gap_above(shown, 1), RowGap(1, 1))
        self.assertEqual(gap_below(plan, shown, 0), RowGap(1, 1), "below an open summary is its first part")
        self.assertEqual(gap_below(plan, shown, 2), RowGap(3, 0))
        folded = rows(plan, "p", {shown[0].task})
        self.assertEqual(gap_below(plan, folded, 0), RowGap(1, 0), "below a folded one is its next sibling")

    def test_the_deepest_level_is_one_below_the_row_before(self) -> None:
        plan = edits.add_text("p", "A\n  B").applied_to(Plan.of([project()]))
        shown = rows(plan, "p")
        self.assertEqual([deepest_level(shown, i) for i in range(3)], [0, 1, 2])


class WithADesk(unittest.TestCase):
    def setUp(self) -> None:
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        session = Session.create(Path(folder.name) / "cells.hexapod")
        session.apply(edits.save_project(session.plan, project()))
        session.apply(edits.add_text("p", "Survey\nDraw\nPart\n  Inner"))
        for i, (name, initials) in enumerate((("Mo Okon", "MO"), ("Tam Birk", "TB"))):
            session.apply(edits.save_resource(session.plan, Resource(f"r{i}", name, f"a{i}", initials=initials)))
        self.desk = Desk(session)
        self.addCleanup(self.desk.close)
        self.ids = {t.name: t.id for t in session.plan.tasks.values()}

    def type(self, name: str, column: int, text: str) -> None:
        chosen, of = self.desk.columns.shown()[column], self.desk.columns
        self.desk.attempt(of.edit(chosen, of.meant(chosen, self.ids[name]), text))

    def shown(self, name: str, column: int) -> str:
        row = self.desk.rows[self.desk.position[self.ids[name]]]
        return self.desk.columns.says(self.desk.columns.shown()[column], row)


class Cells(WithADesk):
    """Each column's text is what typing gives back, and typing means one edit."""

    def test_what_is_typed_is_what_is_shown(self) -> None:
        for column, text, shown in (
            (columns.NAME, "  Survey of cases ", "Survey of cases"),
            (columns.DURATION, "3", "3 d"),
            (columns.DURATION, "4h", "4 h"),
            (columns.DURATION, "", "say 1 d"),
            (columns.DURATION, "?", "say 1 d"),
            (columns.DURATION, "say 1 d", "say 1 d"),
            (columns.DURATION, "say 3 d", "3 d"),
            (columns.DURATION, "0", "0 d"),
            (columns.WHO, "mo 50%, tb", "MO 50%, TB"),
            (columns.LINKS, "2 ss 2d later", "2 SS 2 d later"),
            (columns.LINKS, "", ""),
        ):
            self.type("Survey", column, text)
            self.assertEqual(self.shown("Survey", column), shown)

    def test_start_sets_a_visible_limit_and_dates_follow(self) -> None:
        self.type("Draw", columns.START, "2026-09-16")
        limit = self.desk.plan.tasks[self.ids["Draw"]].limits[0]
        self.assertEqual((limit.kind, limit.at), (LimitKind.START_NO_EARLIER, at("2026-09-16T00:00")))
        self.assertEqual(self.desk.schedule.dates(self.ids["Draw"]).early_start, at("2026-09-16T08:00"))
        self.assertIn("16", self.shown("Draw", columns.START))
        self.assertIn("not before", self.desk.session.undo_words or "")
        start = self.desk.columns.all()["start"]
        self.assertEqual(self.desk.columns.typed(start, self.ids["Draw"]), "2026-09-16")

    def test_a_summary_refuses_what_is_its_parts_to_say(self) -> None:
        for column, text in (
            (columns.DURATION, "3"),
            (columns.START, "2026-09-16"),
            (columns.WHO, "MO"),
        ):
            with self.assertRaisesRegex(BadText, "summary"):
                self.type("Part", column, text)
        with self.assertRaisesRegex(BadText, "name"):
            self.type("Survey", columns.NAME, "   ")

    def test_figures_and_their_units(self) -> None:
        self.type("Survey", columns.DURATION, "5")
        self.assertEqual(self.shown("Draw", columns.FLOAT), "4 d")
        self.assertEqual(self.shown("Draw", columns.FREE), "4 d")
        self.assertEqual(self.shown("Survey", columns.FLOAT), "0 d")
        self.assertEqual(self.shown("Part", columns.DURATION), "1 d")
        self.assertEqual(self.shown("Inner", columns.NUMBER), "3.1")
        self.assertTrue(self.shown("Survey", columns.FINISH))

    def test_typing_into_one_of_several_selected_rows_is_one_edit_for_all(self) -> None:
        chosen = [self.ids["Survey"], self.ids["Draw"], self.ids["Part"]]
        self.desk.select(chosen, chosen[0])
        before = len(self.desk.session.history)
        self.type("Survey", columns.DURATION, "2")
        self.type("Draw", columns.WHO, "MO")
        self.assertEqual(len(self.desk.session.history), before + 2)
        for name in ("Survey", "Draw"):
            self.assertEqual(self.desk.plan.tasks[self.ids[name]].duration, 2 * DAY)
            self.assertEqual(self.shown(name, columns.WHO), "MO")


class DeskState(WithADesk):
    """What is looked at follows the plan: nothing that is gone stays selected, shown or proposed."""

    def test_a_preview_changes_nothing(self) -> None:
        plan = self.desk.plan
        ghost = self.desk.preview(edits.set_durations(plan, [self.ids["Survey"]], 10 * DAY))
        assert ghost is not None
        self.assertEqual(ghost.dates(self.ids["Survey"]).duration, 10 * DAY)
        self.assertIs(self.desk.plan, plan)
        self.assertEqual(self.desk.schedule.dates(self.ids["Survey"]).duration, DAY)
        loop = edits.together(
            "Loop",
            [
                edits.link(plan, self.ids["Survey"], self.ids["Draw"]),
                edits.link(plan, self.ids["Draw"], self.ids["Survey"]),
            ],
        )
        with self.assertRaises(HexapodError):
            self.desk.preview(loop)

    def test_a_proposal_is_dropped_when_the_plan_goes_on(self) -> None:
        from hexapod.staffing.levelling.proposal import level

        self.type("Survey", columns.WHO, "MO")
        self.type("Draw", columns.WHO, "MO")
        load = self.desk.load
        assert load is not None
        self.assertEqual(len(load.overloads), 1)
        self.desk.show_proposal(level(self.desk.schedule, within_float=False))
        self.assertIsNotNone(self.desk.ghost)
        self.type("Survey", columns.DURATION, "2")
        self.assertIsNone(self.desk.proposal)
        self.assertIsNone(self.desk.ghost)

    def test_going_to_a_task_of_another_project_shows_that_project(self) -> None:
        self.desk.attempt(edits.save_project(self.desk.plan, project("q")))
        self.desk.attempt(edits.add_text("q", "Elsewhere\n  Deep"))
        deep = next(t.id for t in self.desk.plan.tasks.values() if t.name == "Deep")
        self.desk.on_show.folded = {self.desk.plan.tasks[deep].parent or ""}
        self.desk.go_to(deep)
        self.assertEqual((self.desk.project, self.desk.current), ("q", deep))
        self.assertIn(deep, self.desk.position)

    def test_deleting_the_project_on_show_leads_to_another(self) -> None:
        self.desk.attempt(edits.save_project(self.desk.plan, project("q")))
        self.desk.attempt(edits.remove_project(self.desk.plan, "p"))
        self.assertEqual(self.desk.project, "q")
        self.assertEqual(len(self.desk.rows), 0)
        self.desk.undo()
        self.desk.look_at_project("p")
        self.assertEqual(len(self.desk.rows), 4)

    def test_a_refusal_is_said_and_changes_nothing(self) -> None:
        said: list[tuple[str, str, bool]] = []
        self.desk.told.connect(lambda *words: said.append(words))
        plan = self.desk.plan
        self.assertFalse(self.desk.do(edits.outdent(plan, [self.ids["Survey"]])))
        self.assertEqual(said, [("These rows are on the top level already.", "trouble", False)])
        self.assertIs(self.desk.plan, plan)
