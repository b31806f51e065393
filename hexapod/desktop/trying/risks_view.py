"""Risks: the register of the project, the matrix of likelihood and effect, and what the chosen one is worth."""

from __future__ import annotations

from functools import partial

from PyQt6.QtWidgets import QHBoxLayout, QLabel, QVBoxLayout, QWidget

from hexapod.desktop.action import Registry
from hexapod.desktop.currency import currency
from hexapod.desktop.frame.part import Part
from hexapod.desktop.models.desk import Desk
from hexapod.desktop.parts import ActionButton, heading, label
from hexapod.desktop.theme.style import scaled
from hexapod.desktop.trying.risk_matrix import RiskMatrix
from hexapod.desktop.trying.risk_table import RiskTable
from hexapod.outlook.words import share_words
from hexapod.plan.risks import Risk, RiskState
from hexapod.system.words import count_of
from hexapod.worktime.lengths import format_days

MATRIX, NARROWEST = (470, 250), 300


class RisksView(Part):
    def __init__(self, desk: Desk, registry: Registry) -> None:
        super().__init__(desk, registry, "risks")
        self.work = desk.risks
        self.table, self.matrix = RiskTable(desk, self.work), RiskMatrix(desk, self.work)
        self.worth: QLabel = label("", wrap=True)
        self.worth.setObjectName("riskWorth")
        self._line.addWidget(ActionButton(registry, "risks.scales", text="Scales…"))
        self._line.addWidget(ActionButton(registry, "risks.files", text="In and out…"))
        self._line.addWidget(ActionButton(registry, "risks.add", text="Add…"))
        self._line.addWidget(ActionButton(registry, "risks.form", text="Change…"))
        self.work.form_asked.connect(registry.qt("risks.form").trigger)
        box = self.column()
        box.addWidget(self._title)
        box.addWidget(self._says)
        box.addWidget(self.table, 1)
        box.addWidget(self._make_foot())
        self.follow(self.work.changed, desk.chances.changed, desk.looked_at_changed)

    def _make_foot(self) -> QWidget:
        foot, line = QWidget(), QHBoxLayout()
        line.setContentsMargins(0, 8, 0, 0)
        line.setSpacing(20)
        self.matrix.setFixedHeight(scaled(MATRIX[1]))
        self.matrix.setMinimumWidth(scaled(NARROWEST))
        self.matrix.setMaximumWidth(scaled(MATRIX[0]))
        words = QVBoxLayout()
        words.addWidget(heading("What the chosen one is worth"))
        words.addWidget(self.worth)
        words.addStretch(1)
        line.addWidget(self.matrix, 3)
        line.addLayout(words, 2)
        foot.setLayout(line)
        return foot

    @property
    def main_part(self) -> QWidget:
        return self.table

    def refresh(self) -> None:
        plan = self._desk.plan
        if not plan.is_whole:
            return
        rows = self.work.rows()
        risks = [r for r in rows if r.may_happen]
        issues = sum(r.state is RiskState.HAPPENED for r in rows)
        self._title.setText(self._headline(risks))
        said = f"{count_of(len(risks), 'open risk')}, {count_of(sum(r.answered for r in risks), 'answer')} taken"
        self._says.setText(f"{said}, {count_of(issues, 'issue')}." if rows else "")
        self.table.refresh()
        self.matrix.show_risks(rows, self.table.numbers)
        self.worth.setText(self._worth_words(self.work.chosen or self._first()))

    def _first(self) -> Risk | None:
        """The line that the keyboard is at, while nobody chose one."""
        row = self.table.current
        return row if isinstance(row, Risk) else None

    def _headline(self, risks: list[Risk]) -> str:
        known = self.work.worth()
        if not risks:
            return "What may happen, and what is done about it"
        if known is None:
            return "What each risk is worth is being worked out…"
        worst = max(risks, key=lambda r: (known[r.id].added if r.id in known else 0, r.name))
        added = known[worst.id].added if worst.id in known else 0
        if added <= 0:
            return "No single risk moves the date that is sure enough."
        sure = share_words(self._desk.chances.share)
        return f"“{worst.name}” moves {sure} most: by {format_days(added, self._desk.units())}."

    def _worth_words(self, risk: Risk | None) -> str:
        if risk is None or risk.project != self.work.project:
            return "Choose one in the list."
        if not risk.may_happen:
            return "It is over, or no risk: it moves nothing any more." if risk.notes == "" else risk.notes
        known = self.work.worth()
        worth = None if known is None else known.get(risk.id)
        if worth is None:
            return "Being worked out…"
        sure, money = share_words(self._desk.chances.share), currency()
        length = partial(format_days, units=self._desk.units())
        said = [f"It adds {length(worth.added) if worth.added else 'nothing'} to the date that holds {sure}"]
        if worth.cost:
            said[0] += f", and {money.short(worth.cost)} on average"
        if risk.answered:
            said.append("its answer is taken")
        elif worth.added_after < worth.added:
            bought = length(worth.added - worth.added_after)
            said.append(f"its answer buys {bought} for {money.short(risk.answer_cost)}")
        elif risk.chance_after is not None or risk.delays_after is not None or risk.cost_after is not None:
            pays = worth.pays(risk.answer_cost)
            saved = money.short(worth.cost - worth.cost_after)
            said.append(f"its answer saves {saved} on average and costs {money.short(risk.answer_cost)}: it "
                        f"{'pays' if pays else 'does not pay'}")  # fmt: skip
        else:
            said.append("nobody said yet what an answer would leave of it")
        return "; ".join(said) + "."
