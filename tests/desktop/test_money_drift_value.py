"""Money, drift and value in the window: each figure leads to what it is made of, and each drift to its edits."""

from __future__ import annotations

import threading
import unittest

from PyQt6 import sip
from PyQt6.QtCore import QLocale
from PyQt6.QtWidgets import QComboBox, QLabel, QLineEdit, QPushButton, QRadioButton

from hexapod.control.attention import NeedKind
from hexapod.desktop.currency import currency
from hexapod.desktop.models.drift import DriftWork
from hexapod.errors import BadText
from hexapod.plan import edits
from hexapod.plan.accounts import EntryKind, Log, monday_of
from hexapod.plan.records import DAY as CLOCK_DAY
from hexapod.plan.records import Resource
from hexapod.worktime.clock import moment_of
from tests.at_rest import wait_for
from tests.desktop.case import Qt, QTest, WindowCase, colours_on_paper, settle
from tests.support import DAY, at, set_clock

NOW = at("2026-09-16T10:00")  # a Wednesday
MONDAY = monday_of(NOW // CLOCK_DAY) - 7


class Spent(WindowCase):
    ROWS = "Cases\n  Draw\n  Frames\nOpen"

    def setUp(self) -> None:
        self.now = at("2026-09-07T09:00")
        set_clock(self, lambda: self.now)
        super().setUp()
        desk = self.desk
        desk.session.workspace.clock = lambda: moment_of(self.now)
        desk.do(edits.save_resource(desk.plan, Resource("hana", "Hana Brook", "a0", initials="HB", rate=4000)))
        desk.do(edits.assign(desk.plan, [self.id_of("Draw"), self.id_of("Frames")], "hana"))
        desk.do(edits.link(desk.plan, self.id_of("Draw"), self.id_of("Frames")))
        desk.do(edits.link(desk.plan, self.id_of("Frames"), self.id_of("Open")))
        desk.do(edits.set_durations(desk.plan, [self.id_of("Open")], 0))
        settle()

    def at(self, when: str) -> None:
        """What all clocks say from then on."""
        self.now = at(when)

    def button(self, name: str) -> QPushButton:
        found = [b for b in self.window.findChildren(QPushButton, name) if b.isVisible()]
        self.assertTrue(found, name)
        return found[-1]

    def line(self, name: str) -> QLineEdit:
        found = [w for w in self.window.findChildren(QLineEdit, name) if w.isVisible()]
        self.assertTrue(found, name)
        return found[-1]

    def type_entry(self, name: str, amount: str, day: str, kind: EntryKind = EntryKind.COST) -> None:
        self.window.registry.qt("money.entry").trigger()
        settle()
        self.line("entryName").setText(name)
        self.line("entryAmount").setText(amount)
        self.line("entryDay").setText(day)
        box = self.window.findChildren(QComboBox, "entryKind")[-1]
        box.setCurrentIndex(box.findData(kind))
        QTest.keyClick(self.line("entryAmount"), Qt.Key.Key_Return)
        settle()


class Locales(unittest.TestCase):
    def setUp(self) -> None:
        self.addCleanup(QLocale.setDefault, QLocale())

    def test_what_a_reader_anywhere_is_shown_can_be_typed(self) -> None:
        """Also where the currency has a code and no sign, as in Switzerland, and where the sign has points in it."""
        any_of = (QLocale.Language.AnyLanguage, QLocale.Script.AnyScript, QLocale.Country.AnyTerritory)
        for locale in QLocale.matchingLocales(*any_of):
            QLocale.setDefault(locale)
            mine = currency()
            for amount in (0, -3, 7, 125_050, 123_456_789):
                self.assertEqual(mine.read(mine.plain(amount)), amount, locale.name())
                self.assertEqual(mine.read(mine.words(amount)), amount, locale.name())
        QLocale.setDefault(QLocale("de_CH"))
        self.assertEqual((currency().read("CHF 5"), currency().words(500)), (500, "CHF 5.00"))
        with self.assertRaisesRegex(BadText, "counts in CHF"):
            currency().read("€ 5")


class Money(Spent):
    def setUp(self) -> None:
        super().setUp()
        self.now = NOW

    def test_entries_and_budgets_are_typed_and_what_burst_one_is_found(self) -> None:
        self.window.show_part("money")
        settle()
        self.type_entry("Case glass", "1,250.50", "2026-09-10")
        (entry,) = self.desk.plan.entries.values()
        self.assertEqual((entry.amount, entry.kind, entry.planned), (125_050, EntryKind.COST, False))
        self.type_entry("Lamps", "1,2,5", "2026-09-10")
        self.assertIn("more than one decimal sign", self.window.findChildren(QLabel, "formReason")[-1].text())
        self.assertEqual(self.line("entryAmount").text(), "1,2,5", "what was typed stays")
        self.desk.do(edits.save_logs(self.desk.plan, [Log("l", self.id_of("Draw"), "hana", MONDAY, 600)]))
        self.window.registry.qt("money.budget").trigger()
        settle()
        self.line("budgetAmount").setText("1000")
        self.line("budgetFrom").setText("2026-09-01")
        self.line("budgetTo").setText("2026-09-30")
        self.button("formSave").click()
        settle()
        self.assertIn("650.50 more than that is spent already", self.said())
        table = self.window.track["money"].table
        september = table.rows[0]
        self.assertEqual((september.money.spent, september.money.budget), (165_050, 100_000))
        self.assertTrue(september.money.is_over)
        self.assertIn("spent", self.window.track["money"].sentence)
        needs = [n for n in self.desk.attention.needs() if n.kind is NeedKind.BURST]
        self.assertEqual([n.money.amount for n in needs], [165_050])  # type: ignore[union-attr]
        self.window.show_part("attention")
        settle()
        attention = self.window.track["attention"].table
        row = next(r for r in attention.rows if getattr(r, "money", None) is not None)
        self.assertIn("spent of", attention.reason(row))
        attention.act(row, attention.chips(row)[0])
        settle()
        said = self.texts(self.window.side)
        self.assertTrue(any("Case glass" in words for words in said), said)
        self.assertTrue(any("HB, 10 h" in words for words in said), said)
        self.assertEqual(self.window.track.part, "money")

    def test_keys_walk_the_figures_and_each_leads_somewhere(self) -> None:
        self.window.show_part("money")
        settle()
        table = self.window.track["money"].table
        table.setFocus()
        table.go(0)
        for column in range(9):
            table.go_to_figure(column)
            QTest.keyClick(table, Qt.Key.Key_Return)
            settle()
            self.wait_for(lambda: self.texts(self.window.side))
        QTest.keyClick(table, Qt.Key.Key_Left)
        self.assertEqual(table.col, 7)
        self.assertIn("Income due", table.accessibleDescription())
        for step in ("week", "quarter"):
            self.desk.money.show(step=step)
            settle()
            self.assertIsNotNone(table.table)


class Drifting(Spent):
    def test_the_edits_that_made_it_late_are_found_in_order_and_lead_back(self) -> None:
        desk = self.desk
        self.window.registry.qt("drift.baselines").trigger()
        settle()
        self.at("2026-09-08T09:00")
        self.button("baselineToday").click()
        settle()
        (baseline,) = desk.plan.baselines.values()
        self.assertEqual(desk.plan.projects["p"].baseline, baseline.id)
        for day, name, days in ((9, "Draw", 4), (10, "Frames", 3), (11, "Draw", 3)):
            self.at(f"2026-09-{day:02}T10:00")
            desk.session.who = f"Somebody {day}"
            desk.do(edits.set_durations(desk.plan, [self.id_of(name)], days * DAY))
        view = self.window.track["drift"]
        wait_for(lambda: desk.drift.parts() is not None and len(desk.drift.parts()) == 3)
        settle()
        parts = desk.drift.parts()
        self.assertEqual([p.minutes // DAY for p in parts], [2, 1, -1])
        self.assertEqual([p.edit.who for p in parts], ["Somebody 9", "Somebody 10", "Somebody 11"])
        self.assertIn("2 d later than the baseline", view.sentence)
        rows = {row.name: row for row in view.table.rows}
        self.assertEqual((rows["Open"].drift, rows["P"].drift), (2 * DAY, 2 * DAY))
        self.assertEqual(desk.schedule.drifts[self.id_of("Frames")].finish, 2 * DAY)  # type: ignore[union-attr]
        shown = next(row for row in desk.rows if row.task == self.id_of("Frames"))
        self.assertEqual(desk.columns.says(desk.columns.all()["drift"], shown), "+2 d")
        self.assertTrue(self.window.chart._pictures.of(self.id_of("Frames")).then)
        view.parts.setFocus()
        view.parts.go(0)
        view.parts.edit("")
        wait_for(lambda: desk.past is not None)
        self.assertEqual(desk.plan.tasks[self.id_of("Draw")].duration, 4 * DAY)

    def test_an_earlier_day_can_be_kept_and_measured_from(self) -> None:
        desk = self.desk
        self.at("2026-09-10T10:00")
        desk.do(edits.set_durations(desk.plan, [self.id_of("Draw")], 6 * DAY))
        self.window.registry.qt("drift.baselines").trigger()
        settle()
        day = self.line("baselineDay")
        day.setText("2026-09-07")
        QTest.keyClick(day, Qt.Key.Key_Return)
        wait_for(lambda: bool(desk.plan.baselines))
        settle()
        (baseline,) = desk.plan.baselines.values()
        row = next(r for r in baseline.tasks if r.task == self.id_of("Draw"))
        self.assertEqual(row.duration, 2 * DAY)
        self.assertEqual(desk.drift.finishes()[0].drift, 4 * DAY)
        day = self.line("baselineDay")
        day.setText("2026-09-01")
        QTest.keyClick(day, Qt.Key.Key_Return)
        settle()
        self.assertIn("begins later", " ".join(self.texts(self.window.side)))
        desk.drift.keep("Second")
        settle()
        second = next(b for b in desk.plan.baselines.values() if b.name == "Second")
        self.assertEqual(desk.plan.projects["p"].baseline, baseline.id, "the first stays the reference")
        box = self.window.findChild(QRadioButton, f"baselineOf.{second.id}")
        assert box is not None
        box.click()
        settle()
        self.assertEqual(desk.drift.finishes()[0].drift, 0)

    def test_what_a_thread_reports_may_arrive_after_its_reader_is_gone(self) -> None:
        work = DriftWork(self.desk)
        told: list[object] = []
        work.changed.connect(lambda: told.append(work))
        thread = threading.Thread(target=lambda: work.progressed.emit(0.5))
        thread.start()
        thread.join()
        sip.delete(work)
        settle()
        self.assertEqual(told, [])


class Value(Spent):
    def setUp(self) -> None:
        super().setUp()
        desk = self.desk
        self.at("2026-09-07T10:00")
        desk.drift.keep("First plan")
        self.at("2026-09-11T16:00")
        desk.do(edits.set_percent(desk.plan, [self.id_of("Draw")], 50))
        desk.do(edits.set_status_date(desk.plan, "p", at("2026-09-08T17:00")))
        desk.do(edits.save_logs(desk.plan, [Log("l", self.id_of("Draw"), "hana", MONDAY, 600)]))
        self.window.show_part("value")
        settle()
        self.view = self.window.track["value"]

    def test_one_sentence_the_figures_and_what_each_is_made_of(self) -> None:
        self.assertIn("320 is earned of 640 that was planned", self.view.sentence)
        value = self.view.figures.value
        self.assertEqual((value.whole.pv, value.whole.ev, value.whole.ac), (64_000, 32_000, 40_000))
        table = self.view.figures
        table.setFocus()
        for row in range(len(table.rows)):
            table.go(row)
            QTest.keyClick(table, Qt.Key.Key_Return)
            settle()
            self.wait_for(lambda: self.texts(self.window.side))
        self.desk.value.show(figure="cpi")
        self.window.registry.qt("value.figure").trigger()
        settle()
        said = " ".join(self.texts(self.window.side))
        self.assertIn("EV / AC = 320 / 400", said)
        self.assertIn("Draw", said)
        self.desk.value.show(measure="hours")
        settle()
        self.assertIn("8 h is earned of 16 h", self.view.sentence)
        self.desk.value.show(branch=self.id_of("Cases"))
        settle()
        self.assertIn("not by a branch", self.view.figures.why("es"))
        self.desk.value.show(branch="")
        settle()
        self.assertEqual(len(self.view.projects.rows), 1)

    def test_what_was_earned_before_comes_from_the_history(self) -> None:
        self.at("2026-09-16T16:00")
        desk = self.desk
        steps = [edits.set_percent(desk.plan, [self.id_of("Draw")], 100),
                 edits.set_status_date(desk.plan, "p", at("2026-09-09T17:00"))]  # fmt: skip
        desk.do(edits.together("Take the round", steps))
        wait_for(lambda: len((desk.value.curves() or self.fail()).earned) == 3)
        curves = desk.value.curves()
        assert curves is not None
        self.assertEqual([amount for _, amount in curves.earned], [0, 32_000, 64_000])
        self.assertEqual(curves.planned[-1][1], 128_000)

    def test_the_pictures_go_onto_paper(self) -> None:
        for part in ("money", "drift", "value"):
            self.window.show_part(part)
            settle()
            drawing = self.window.drawing(part, ())
            colours = colours_on_paper(drawing, 600, 400, 7)
            self.assertGreater(len(colours), 3, part)
