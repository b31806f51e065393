"""What if: the spring solved three ways, and a scenario brought up to date, by real keys and presses."""

from __future__ import annotations

from PyQt6.QtWidgets import QComboBox, QWidget

from hexapod.demo.plans import TOLD_UP_TO
from hexapod.outlook.merge import Side
from hexapod.outlook.side_by_side import Row, RowKind
from hexapod.plan import edits
from hexapod.worktime.clock import date_of
from tests.journeys.case import Journey, screen
from tests.support import DAY, at, set_clock


class WhatIf(Journey):
    def field(self, name: str) -> QWidget:
        found = [w for w in self.window.findChildren(QWidget, name) if w.isVisible() and not w.property("putAway")]
        self.assertTrue(found, name)
        return found[-1]

    def make(self, name: str) -> str:
        """A scenario of today's plan, by keys alone."""
        screen.keys("ctrl+alt+x")
        screen.wait_for(lambda: self.field("scenarioName").hasFocus())
        screen.type_text(name)
        screen.keys("Return")
        screen.wait_for(lambda: any(s.name == name for s in self.desk.scenarios.listed()))
        self.known()
        return self.desk.scenarios.chosen

    def known(self) -> None:
        work = self.desk.scenarios
        screen.wait_for(lambda: all(c.figures is not None for c in work.columns()))
        screen.settle()

    def quick(self, name: str, **said: str) -> None:
        """A quick change of the scenario that is looked at: choices by the mouse, the rest typed."""
        self.press_button(f"quick.{name}")
        for field, text in said.items():
            widget = self.field(f"quick.{name}.{field.replace('_', ' ')}")
            if isinstance(widget, QComboBox):
                widget.setFocus()
                widget.setCurrentIndex(widget.findText(text))
                widget.activated.emit(widget.currentIndex())
            else:
                screen.click(widget)
                screen.type_text(text)
        self.press_button("quickDo")
        screen.settle()
        self.known()

    def row(self, kind: RowKind, of: str = "") -> Row:
        rows = self.desk.scenarios.rows(self.desk.scenarios.columns())
        return max((r for r in rows if r.key.kind is kind and (not of or r.key.of == of)), key=lambda r: r.values[0])


class TheSpring(WhatIf):
    DEMO = True

    def setUp(self) -> None:
        set_clock(self, at(f"{TOLD_UP_TO}T09:00"))
        super().setUp()
        self.desk.do(edits.remove_scenarios(self.plan, self.plan.scenarios))
        screen.settle()

    def test_the_shortage_of_the_spring_is_solved_three_ways_and_one_is_taken_over(self) -> None:
        before = self.plan
        hired = self.make("Hire five")
        short = self.row(RowKind.SHORT, "rre")
        first = date_of(short.key.month)
        self.assertEqual((first.month, short.values[0]), (3, 528))
        self.quick("hire", Role="Registration", How_many="3", From=f"1.3.{first.year}", To=f"31.3.{first.year}",
                   Paid_by="Collection Store Move")  # fmt: skip
        self.make("Hold the roof")
        self.quick("hold", Project="Glasshouse Roof")
        self.make("Delay the move")
        self.quick("delay", Project="Collection Store Move", By="2 w")
        self.known()
        columns = self.desk.scenarios.columns()
        self.assertEqual([c.name for c in columns], ["As it is", "Hire five", "Hold the roof", "Delay the move"])
        short = next(r for r in self.desk.scenarios.rows(columns) if r.key == short.key)
        self.assertEqual(short.values, (528, 0, 352, 528))
        self.assertEqual(short.best, {1})
        self.assertEqual(before.tasks, self.desk.home.plan.tasks, "nothing of it touched the plan")
        # by the keyboard to the first of them, and over into the plan
        table = self.window.trying["scenarios"].table
        table.setFocus()
        screen.keys("Home", "Right")
        screen.wait_for(lambda: self.desk.scenarios.chosen == hired)
        self.press_button("button.scenario.take")
        screen.wait_for(lambda: self.desk.staging.on_show is not None)
        self.assertEqual(self.window.side.shown, "ripple")
        screen.keys("ctrl+alt+Return")
        screen.wait_for(lambda: self.plan.scenarios[hired].taken_over is not None)
        self.assertTrue(any(r.name == "Registration, 3 more" for r in self.plan.resources.values()))
        screen.keys("ctrl+alt+y")
        self.known()
        self.assertEqual(self.row(RowKind.SHORT, "rre").values[0], 0)
        screen.keys("ctrl+z")
        screen.wait_for(lambda: self.plan.resources == before.resources)
        self.assertIsNone(self.plan.scenarios[hired].taken_over)


class ThePlanMovesOn(WhatIf):
    ROWS = "Cases\n  Draw\n  Frames\n  Glass\nOpen"

    def setUp(self) -> None:
        set_clock(self, at("2026-09-07T09:00"))
        super().setUp()
        for one, other in (("Draw", "Frames"), ("Frames", "Glass"), ("Glass", "Open")):
            self.desk.do(edits.link(self.plan, self.id_of(one), self.id_of(other)))
        screen.settle()

    def test_a_scenario_is_brought_up_to_date_through_a_conflict(self) -> None:
        made = self.make("Ten days")
        self.press_button("button.scenario.enter")
        screen.wait_for(lambda: self.desk.scenario is not None)
        self.type_length("Frames", "10d")
        screen.wait_for(lambda: self.plan.tasks[self.id_of("Frames")].duration == 10 * DAY)
        self.type_length("Glass", "2d")
        screen.wait_for(lambda: self.plan.tasks[self.id_of("Glass")].duration == 2 * DAY)
        screen.keys("alt+Home")
        screen.wait_for(lambda: self.desk.scenario is None)
        self.assertEqual(self.plan.tasks[self.id_of("Frames")].duration, DAY)
        self.type_length("Frames", "12d")
        self.type_length("Draw", "3d")
        screen.wait_for(lambda: self.plan.tasks[self.id_of("Draw")].duration == 3 * DAY)
        screen.keys("ctrl+alt+y")
        self.known()
        self.assertEqual([(c.behind, c.asked) for c in self.desk.scenarios.columns()], [(0, 0), (2, 1)])
        self.assertIn("“Frames”: duration 12 d there, 10 d here", " ".join(self.panel_texts()))
        self.press_button(f"answer.0.{Side.SCENARIO.value}")
        self.press_button("bringUp")
        self.known()
        lengths = {t.name: t.duration for t in self.desk.scenarios.opened(made).plan.tasks.values()}
        self.assertEqual((lengths["Draw"], lengths["Frames"], lengths["Glass"]), (3 * DAY, 10 * DAY, 2 * DAY))
        self.assertEqual([c.behind for c in self.desk.scenarios.columns()], [0, 0])
        self.reopen()
        self.known()
        lengths = {t.name: t.duration for t in self.desk.scenarios.opened(made).plan.tasks.values()}
        self.assertEqual((lengths["Draw"], lengths["Frames"], lengths["Glass"]), (3 * DAY, 10 * DAY, 2 * DAY))
        self.assertEqual(self.plan.tasks[self.id_of("Frames")].duration, 12 * DAY, "the plan has its own")
