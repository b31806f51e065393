"""Range and risks in the window: how sure the finish is, what that comes from, and what a risk is worth."""

from __future__ import annotations

import unittest

from msgspec.structs import replace
from PyQt6.QtCore import QRectF
from PyQt6.QtWidgets import QCheckBox, QComboBox, QLabel, QLineEdit, QPushButton

from hexapod.control.attention import NeedKind
from hexapod.desktop.models.risks import Scales
from hexapod.desktop.trying.risk_matrix import band_of
from hexapod.outlook.chances import Outlook
from hexapod.outlook.simulation import simulate
from hexapod.outlook.words import chance_words, share_words
from hexapod.plan import edits
from hexapod.plan.records import Resource
from hexapod.plan.risks import AnswerKind, Risk, RiskDelay, RiskKind, RiskState
from hexapod.query.views import View
from tests.at_rest import wait_for
from tests.desktop.case import CasesCase, Qt, QTest, settle
from tests.support import DAY, at

SHORT = 1  # milliseconds in place of the rest that the rounds wait for


class Trying(CasesCase):
    def setUp(self) -> None:
        super().setUp()
        desk = self.desk
        self.work = desk.chances
        self.work._rest.setInterval(SHORT)
        settle()

    def estimate(self, **ranges: tuple[int, int, int]) -> None:
        plan = self.desk.plan
        made = [edits.set_estimates(plan, [self.id_of(n)], tuple(d * DAY for d in r)) for n, r in ranges.items()]
        self.desk.do(edits.together("Estimate", made))

    def rounds(self) -> Outlook:
        wait_for(lambda: self.work.outlook is not None and not self.work.is_running)
        return self.work.outlook

    def part(self, name: str):  # type: ignore[no-untyped-def]
        self.window.show_part(name, "trying")
        settle()
        return self.window.trying[name]

    def fill(self, **texts: str) -> None:
        for name, text in texts.items():
            self.find(QLineEdit, name).setText(text)


class Range(Trying):
    def test_a_range_is_typed_where_the_length_stands_and_the_finish_becomes_one(self) -> None:
        self.assertFalse(self.window.topbar.vitals.sure.isVisibleTo(self.window), "all is certain so far")
        self.go_to("Frames")
        columns = [c.id for c in self.grid.rows.columns]
        self.grid.setCurrentIndex(self.grid.rows.index(self.grid.currentIndex().row(), columns.index("duration")))
        self.type("8-20 d")
        self.press(Qt.Key.Key_Return)
        self.assertEqual(self.desk.plan.tasks[self.id_of("Frames")].estimate, (8 * DAY, 20 * DAY))
        self.assertEqual(self.desk.plan.tasks[self.id_of("Frames")].duration, 10 * DAY)
        found = self.rounds()
        settle()
        sure = self.window.topbar.vitals.sure
        self.assertTrue(sure.isVisibleTo(self.window))
        known = simulate(self.desk.worked_out, found.found.rounds, 1)
        self.assertEqual(Outlook(known).of_project("p").quantile(0.8), self.work.of_project("p").quantile(0.8))
        self.assertIn("8 in 10 by", sure.accessibleName())
        self.assertIsNotNone(self.window.chart._pictures.of(self.id_of("Frames")).range, "a whisker is at its bar")

    def test_an_edit_ends_the_rounds_and_the_next_ones_are_of_the_new_plan(self) -> None:
        self.estimate(Frames=(8, 10, 20))
        before = self.rounds().of_project("p").quantile(0.5)
        self.desk.do(edits.set_durations(self.desk.plan, [self.id_of("Draw")], 15 * DAY))
        self.assertIsNone(self.work.outlook, "nothing is said of a plan that is no more")
        self.assertGreater(self.rounds().of_project("p").quantile(0.5), before + 10 * 1440)
        self.find(QCheckBox, "rangeItself") if self.part("range") else None
        self.work.go_by_itself(False)
        self.desk.do(edits.set_durations(self.desk.plan, [self.id_of("Draw")], 5 * DAY))
        settle()
        self.assertFalse(self.work.is_running)
        view = self.part("range")
        self.assertEqual({table.nothing for table in (view.spread, view.driving)}, {"Rounds would say it."})
        self.find(QPushButton, "rangeAgain").click()
        self.assertEqual(self.rounds().found.rounds, 10_000)

    def test_it_says_how_sure_the_target_is_and_what_that_comes_from(self) -> None:
        self.estimate(Draw=(5, 5, 6), Frames=(5, 10, 40), Glass=(4, 4, 5))
        self.desk.do(edits.set_task(self.desk.plan, self.id_of("Open"), "Target", target=at("2026-10-02T17:00")))
        view = self.part("range")
        self.rounds()
        self.work.look_at(self.id_of("Open"))
        chance = self.work.chances().chance_by(at("2026-10-02T17:00"))
        self.assertIn(f"Only {chance_words(chance)}", view.sentence)
        self.assertIn("8 in 10 by", view._says.text())
        wait_for(lambda: self.work.spread() is not None)
        settle()
        self.assertEqual(view.spread.rows[0].task, self.id_of("Frames"))
        self.assertGreater(view.spread.rows[0].sure, 3 * DAY)
        self.assertEqual({t for t, share in view.driving.rows if share == 1.0},
                         {self.id_of(n) for n in ("Draw", "Frames", "Glass")})  # fmt: skip
        share = self.find(QComboBox, "rangeShare")
        share.setCurrentIndex(share.findText("9 in 10"))
        share.activated.emit(share.currentIndex())
        settle()
        self.assertIn("9 in 10 by", view._says.text())
        self.assertEqual(view.said() != "", True)
        self.assertIn("9 in 10 by", self.window.topbar.vitals.sure.accessibleName())

    def test_the_picture_is_read_off_by_pointing(self) -> None:
        self.estimate(Frames=(5, 10, 40))
        view = self.part("range")
        self.rounds()
        settle()
        picture = view.picture
        box, (first, last) = picture.box(QRectF(picture.rect())), picture.span()
        wanted = self.work.chances().quantile(0.5)
        picture.point_at(box.left() + box.width() * (wanted - first) / (last - first))
        self.assertLessEqual(abs(picture.pointed - wanted), 1440)
        self.assertGreaterEqual(picture.chances.chance_by(picture.pointed), 0.5)
        picture.point_at(box.right() + 30)
        self.assertIsNone(picture.pointed)

    def test_many_rows_get_a_range_by_how_sure_somebody_is(self) -> None:
        self.window.registry.qt("range.spread").trigger()
        settle()
        of = self.find(QComboBox, "estimatesOf")
        of.setCurrentIndex(of.findText("All of the project"))
        of.activated.emit(of.currentIndex())
        span = self.find(QLineEdit, "span.2")
        span.setText("−25 % +60 %")
        span.editingFinished.emit()
        self.find(QPushButton, "sureness.1").click()
        settle()
        frames = self.desk.plan.tasks[self.id_of("Frames")]
        self.assertEqual(frames.estimate, (9 * DAY, 10 * DAY, int(12.5 * DAY)))
        self.assertEqual(self.desk.plan.tasks[self.id_of("Open")].estimate, (), "a milestone takes no time")
        self.window.registry.qt("edit.undo").trigger()
        self.assertEqual(self.desk.plan.tasks[self.id_of("Frames")].estimate, (), "all of it is one edit")
        self.find(QPushButton, "sureness.2").click()
        self.assertEqual(self.desk.plan.tasks[self.id_of("Frames")].estimate[-1], 16 * DAY, "as this workspace has it")
        span = self.find(QLineEdit, "span.0")
        span.setText("much")
        span.editingFinished.emit()
        self.assertIn("is no span", self.find(QLabel, "estimatesReason").text())

    def test_a_target_that_is_not_sure_enough_needs_somebody_and_is_said_when_it_becomes_so(self) -> None:
        target = at("2026-10-09T17:00")
        self.desk.do(edits.save_project(self.desk.plan, replace(self.desk.plan.projects["p"], target_finish=target)))
        self.estimate(Frames=(9, 10, 11))
        self.rounds()
        needs = self.desk.attention.needs
        self.assertNotIn(NeedKind.DOUBTFUL, {n.kind for n in needs()})
        said: list[str] = []
        self.desk.told.connect(lambda words, *_: said.append(words))
        self.estimate(Frames=(9, 10, 60))
        self.rounds()
        settle()
        (need,) = [n for n in needs() if n.kind is NeedKind.DOUBTFUL]
        self.assertEqual((need.project, need.task, need.at), ("p", None, target))
        self.assertEqual(need.chance, self.work.of_project("p").chance_by(target))
        self.assertIn("holds its target", " ".join(said))
        self.window.show_part("attention")
        table = self.window.track["attention"].table
        table.go(next(i for i, row in enumerate(table.rows) if getattr(row, "chance", None) is not None))
        self.assertIn("holds", table.accessibleDescription())
        table.edit("")
        settle()
        self.assertTrue(self.window.shows("trying"), "how sure it is, is a press away")
        self.work.set_share(0.2)
        self.assertNotIn(NeedKind.DOUBTFUL, {n.kind for n in needs()})

    def test_the_chart_shows_where_bars_may_end_on_demand(self) -> None:
        self.estimate(Frames=(5, 10, 40))
        wait_for(lambda: self.rounds().found.rounds == 10_000)
        frames = self.id_of("Frames")
        self.assertIsNone(self.window.chart._pictures.of(frames).band)
        self.window.registry.qt("look.band").trigger()
        settle()
        known = self.work.outlook.of_task(frames)
        self.assertEqual(self.window.chart._pictures.of(frames).band, (known.quantile(0.1), known.quantile(0.9)))
        self.assertIsNone(self.window.chart._pictures.of(self.id_of("Draw")).band, "it always ends then")

    def test_how_often_a_task_drove_the_finish_is_a_column_and_can_be_asked_for(self) -> None:
        self.desk.do(edits.add_text("p", "Lamps"))
        self.desk.do(edits.set_durations(self.desk.plan, [self.id_of("Lamps")], 18 * DAY))
        self.estimate(Frames=(5, 10, 40))
        wait_for(lambda: self.rounds().found.rounds == 10_000)
        self.desk.looks.set_columns([*[c.id for c in self.grid.rows.columns], "criticality"])
        settle()
        column = [c.id for c in self.grid.rows.columns].index("criticality")
        share = self.work.outlook.criticality(self.id_of("Lamps"))
        self.assertTrue(0 < share < 0.5)
        row = self.desk.position[self.id_of("Lamps")]
        self.assertEqual(self.grid.rows.index(row, column).data(), f"{100 * share:.0f} %")
        self.desk.on_show.show_view(View(query="criticality > 50 and not summary"))
        settle()
        shown = {self.desk.plan.tasks[r.task].name for r in self.desk.rows if not self.desk.plan.is_summary(r.task)}
        self.assertEqual(shown, {"Draw", "Frames", "Glass", "Open"})

    def test_with_capacities_each_round_waits_for_who_is_busy(self) -> None:
        desk = self.desk
        desk.do(edits.save_resource(desk.plan, Resource("mo", "Mo", "a0", initials="MO")))
        desk.do(edits.add_text("p", "Lamps"))
        desk.do(edits.set_durations(desk.plan, [self.id_of("Lamps")], 10 * DAY))
        desk.do(edits.assign(desk.plan, [self.id_of("Lamps"), self.id_of("Frames")], "mo"))
        self.estimate(Frames=(5, 10, 30))
        self.part("range")
        wait_for(lambda: self.rounds().found.rounds == 10_000)
        free = self.work.chances().quantile(0.5)
        self.find(QCheckBox, "rangeLevelled").click()
        wait_for(lambda: self.work.outlook is not None and not self.work.outlook.found.has_floats)
        self.assertGreater(self.work.chances().quantile(0.5), free + 3 * 1440)
        self.assertEqual((self.work.spread(), self.work.driving()), ([], []), "of which nobody can say anything then")
        self.find(QCheckBox, "rangeLevelled").click()
        wait_for(lambda: self.work.outlook is not None and self.work.outlook.found.has_floats)
        self.assertLess(self.work.chances().quantile(0.5), free + 3 * 1440)

    def test_more_rounds_make_the_figures_surer(self) -> None:
        self.estimate(Frames=(5, 10, 40))
        self.part("range")
        wait_for(lambda: self.rounds().found.rounds == 10_000)
        settle()
        before = self.work.chances().error_of_quantile(0.8)
        again = self.find(QPushButton, "rangeAgain")
        self.assertEqual(again.text(), "Run more")
        again.click()
        wait_for(lambda: self.rounds().found.rounds == 40_000)
        self.assertLessEqual(self.work.chances().error_of_quantile(0.8), before)

    def test_the_share_is_said_in_words(self) -> None:
        self.assertEqual([share_words(s) for s in (0.5, 0.8, 0.95)], ["5 in 10", "8 in 10", "95 %"])


class Register(Trying):
    def add(self, **texts: str) -> None:
        self.window.registry.qt("risks.add").trigger()
        settle()
        self.fill(**texts)
        self.find(QPushButton, "formSave").click()
        settle()

    def test_a_risk_is_typed_and_what_cannot_be_is_said(self) -> None:
        self.add(riskName="Glass is broken", riskChance="130 %", riskDelays="1.3: 3-8 d", riskCost="800; 3000")
        self.assertIn("more than always", self.find(QLabel, "formReason").text())
        self.fill(riskChance="1 in 4", riskDelays="1.7: 3 d")
        self.find(QPushButton, "formSave").click()
        self.assertIn("no row", self.find(QLabel, "formReason").text())
        self.assertFalse(self.desk.plan.risks)
        self.fill(riskDelays="Glass: 3-8 d")
        self.find(QPushButton, "formSave").click()
        settle()
        (risk,) = self.desk.plan.risks.values()
        self.assertEqual((risk.chance, risk.cost, risk.kind), (0.25, (80000, 153333, 300000), RiskKind.RISK))
        self.assertEqual(risk.delays, (RiskDelay(self.id_of("Glass"), (3 * DAY, 3 * DAY + 800, 8 * DAY)),))
        self.window.registry.qt("risks.form").trigger()
        settle()
        self.assertEqual(self.find(QLineEdit, "riskDelays").text(), "1.3: 3 d – 8 d")
        self.find(QPushButton, "formSave").click()
        self.assertEqual(self.desk.plan.risks[risk.id], risk, "a form that is saved as it was changes nothing")

    def risk(self, **fields: object) -> Risk:
        glass = (RiskDelay(self.id_of("Glass"), (5 * DAY, 5 * DAY, 5 * DAY)),)
        risk = Risk("q", "p", "Glass is broken", chance=0.5, delays=glass, answer=AnswerKind.AVOID, answer_cost=40000,
                    answer_note="Order spare panes", chance_after=0.0, **fields)  # fmt: skip
        self.desk.do(edits.save_risk(self.desk.plan, risk))
        return risk

    def test_it_says_what_a_risk_is_worth_and_what_its_answer_buys(self) -> None:
        self.risk()
        view = self.part("risks")
        self.desk.risks.look_at("q")
        wait_for(lambda: self.desk.risks.worth() is not None)
        settle()
        worth = self.desk.risks.worth()["q"]
        self.assertEqual((worth.added, worth.added_after), (5 * DAY, 0))
        self.assertIn("“Glass is broken” moves 8 in 10 most: by 5 d.", view.sentence)
        self.assertIn("its answer buys 5 d", view.worth.text())
        self.assertEqual(view.matrix.place(self.desk.plan.risks["q"], False), (3, 2))
        self.assertEqual(view.matrix.place(self.desk.plan.risks["q"], True), (0, 2))
        self.desk.do(edits.take_answer(self.desk.plan, "q"))
        wait_for(lambda: self.desk.risks.worth() is not None)
        self.assertEqual(self.desk.risks.worth()["q"].added, 0)

    def test_what_happened_moves_the_plan_and_undo_takes_it_back(self) -> None:
        self.risk()
        before = self.desk.plan
        self.part("risks")
        self.desk.risks.look_at("q")
        self.window.registry.qt("risks.form").trigger()
        settle()
        self.find(QPushButton, "riskHappened").click()
        settle()
        self.assertEqual(self.desk.plan.risks["q"].state, RiskState.HAPPENED)
        self.assertEqual(self.desk.plan.tasks[self.id_of("Glass")].duration, 9 * DAY)
        self.window.registry.qt("edit.undo").trigger()
        self.assertEqual((self.desk.plan.risks, self.desk.plan.tasks), (before.risks, before.tasks))
        self.desk.risks.look_at("q")
        self.desk.risks.make_task()
        settle()
        self.assertIn("Order spare panes", self.outline())

    def test_the_list_is_walked_by_keys_and_opens_the_form(self) -> None:
        self.risk()
        self.desk.do(edits.save_risk(self.desk.plan, Risk("r", "p", "Rain", chance=0.1)))
        view = self.part("risks")
        view.table.setFocus()
        QTest.keyClick(view.table, Qt.Key.Key_End)
        self.assertEqual(self.desk.risks.editing, "r")
        self.assertIn("chance 10 %", view.table.accessibleDescription())
        QTest.keyClick(view.table, Qt.Key.Key_F2)
        settle()
        self.assertEqual(self.find(QLineEdit, "riskName").text(), "Rain")

    def test_who_looks_after_it_is_reminded_in_mine_and_in_attention(self) -> None:
        desk = self.desk
        desk.do(edits.save_resource(desk.plan, Resource("mo", "Mo", "a0", initials="MO")))
        risk = replace(self.risk(), owner="mo", due=at("2026-09-04T00:00") // 1440)
        desk.do(edits.save_risk(desk.plan, risk))
        desk.mine.be("mo")
        desk.mine.look_at("mo")
        self.window.show_part("mine")
        settle()
        self.assertIn("Glass is broken", self.find(QPushButton, "mineReviews").text())
        (need,) = [n for n in desk.attention.needs() if n.kind is NeedKind.REVIEW]
        self.assertEqual(need.risk, "q")
        self.window.show_part("attention")
        settle()
        table = self.window.track["attention"].table
        table.go(next(i for i, row in enumerate(table.rows) if getattr(row, "risk", None) == "q"))
        table.edit("")
        settle()
        self.assertEqual(self.find(QLineEdit, "riskName").text(), "Glass is broken")
        desk.do(edits.save_risk(desk.plan, replace(risk, state=RiskState.CLOSED)))
        self.assertFalse([n for n in desk.attention.needs() if n.kind is NeedKind.REVIEW])

    def test_bands(self) -> None:
        self.window.registry.qt("risks.scales").trigger()
        settle()
        for words in ("5 20 50", "20 5 50 80", "0 1 2 3", "a b c d", "5 20 50 100"):
            self.fill(scaleChances=words)
            self.find(QPushButton, "formSave").click()
            self.assertIn("four numbers", self.find(QLabel, "formReason").text(), words)
        self.fill(scaleChances="10 30 60 90", scaleDays="2 4 6 8")
        self.find(QPushButton, "formSave").click()
        settle()
        self.assertEqual(self.desk.risks.scales, Scales((0.1, 0.3, 0.6, 0.9), (2, 4, 6, 8)))
        self.assertEqual([band_of(x, (0.0, 0.2, 0.5)) for x in (0.0, 0.19, 0.2, 0.9)], [0, 0, 1, 2])


if __name__ == "__main__":
    unittest.main()
