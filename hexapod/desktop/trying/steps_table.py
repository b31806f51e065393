"""What a scenario changes in the plan, edit by edit, with what each of them does; each may be left out."""

from __future__ import annotations

from PyQt6.QtCore import QRectF, Qt
from PyQt6.QtGui import QMouseEvent, QPainter, QPen

from hexapod.desktop import dates
from hexapod.desktop.currency import currency
from hexapod.desktop.frame.walked import ROW, WalkedTable
from hexapod.desktop.models.desk import Desk
from hexapod.desktop.models.scenario_figures import Effect
from hexapod.desktop.models.scenarios import ScenariosWork
from hexapod.desktop.theme.style import color, font, scaled
from hexapod.desktop.theme.text import draw_text
from hexapod.errors import HexapodError
from hexapod.store.scenarios import Step
from hexapod.system.words import count_of

TICK, EFFECT = 34, 0.42  # where words begin, and the part of the width that says what an edit does
LEAST_HOURS = 0.5


class StepsTable(WalkedTable):
    nothing = "It does nothing otherwise yet. Change something at the side, or work in it."

    def __init__(self, desk: Desk, work: ScenariosWork) -> None:
        super().__init__("stepsTable", "What the scenario changes in the plan")
        self._desk, self._work = desk, work
        self._effects: dict[int, Effect] = {}

    def refresh(self) -> None:
        scenario = self._work.scenario
        steps: list[Step] = []
        if scenario is not None and self._desk.home.is_computed:
            try:
                steps = self._work.steps(scenario.id)
                self._effects = dict(self._work.effects(scenario.id))
            except HexapodError:
                steps = []
        self.show_rows([step for i, step in enumerate(steps) if i or self._is_made_of_more(step)])

    def _is_made_of_more(self, step: Step) -> bool:
        """Whether the edit that made a scenario brought something: what another one had otherwise."""
        effect = self._effects.get(step.row.number)
        return effect is not None and bool(self._what(effect))

    def key_of(self, row: object) -> object:
        return row.row.number if isinstance(row, Step) else row

    def is_left_out(self, step: Step) -> bool:
        return step.row.number in self._work.left_out.get(self._work.chosen, set())

    def turn(self) -> None:
        """Take the edit that the keyboard is at over with the others, or leave it out."""
        step = self.current
        if isinstance(step, Step) and step.base is None:
            self._work.turn_step(self._work.chosen, step.row.number)

    def keys(self) -> dict[int, object]:  # type: ignore[override]
        return {Qt.Key.Key_Space: self.turn}

    def pressed(self, row: object, event: QMouseEvent) -> None:
        if event.position().x() < scaled(TICK):
            self.turn()

    def tell(self) -> None:
        step = self.current
        if isinstance(step, Step):
            state = "left out" if self.is_left_out(step) else "taken over with the others"
            self.setAccessibleDescription(f"{step.row.words}, {state}. {self.effect_words(step)}")

    def effect_words(self, step: Step) -> str:
        """What an edit does."""
        if self.is_left_out(step):
            return "left out"
        effect = self._effects.get(step.row.number)
        if effect is None:
            return "…"
        return ", ".join(self._what(effect)) or "moves nothing"

    def _what(self, effect: Effect) -> list[str]:
        plan, said = self._desk.home.plan_so_far, []
        if effect.moved:
            said.append(count_of(effect.moved, "move"))
        for project, (_, end) in list(effect.finishes.items())[:2]:
            name = plan.projects[project].name if project in plan.projects else "a project"
            said.append(f"{name} ends {'–' if end is None else dates.last_day(end)}")
        if abs(effect.overload) >= LEAST_HOURS:
            said.append(f"{_signed(effect.overload)} h overloaded")
        if abs(effect.short) >= LEAST_HOURS:
            said.append(f"roles {abs(effect.short):,.0f} h {'less' if effect.short < 0 else 'more'} short")
        if abs(effect.hours) >= LEAST_HOURS:
            said.append(f"{_signed(effect.hours)} h of work")
        if abs(effect.cost) >= 50:
            sign = "+" if effect.cost > 0 else "−"
            said.append(f"{sign}{currency().short(abs(effect.cost))}")
        return said

    def paint_row(self, painter: QPainter, row: object, top: int) -> None:
        if not isinstance(row, Step):
            return
        height, is_out = scaled(ROW), self.is_left_out(row)
        middle, left = top + height / 2, scaled(12)
        if row.base is None:
            painter.setPen(QPen(color("muted" if is_out else "ink"), 1.6))
            if is_out:
                painter.drawLine(int(left), int(middle), int(left) + 8, int(middle))
            else:
                painter.drawLine(int(left), int(middle), int(left) + 3, int(middle) + 3)
                painter.drawLine(int(left) + 3, int(middle) + 3, int(left) + 9, int(middle) - 4)
        wide = self.viewport().width()
        at = wide * (1 - EFFECT)
        painter.setPen(color("muted" if is_out or row.base is not None else "ink"))
        draw_text(painter, font(9.5), row.row.words, QRectF(scaled(TICK), top, at - scaled(TICK) - 12, height))
        painter.setPen(color("muted"))
        draw_text(painter, font(9), self.effect_words(row), QRectF(at, top, wide - at - 8, height))


def _signed(amount: float) -> str:
    return f"{'+' if amount > 0 else '−'}{abs(amount):,.0f}"
