"""At the side: a risk, an issue, an action or a decision, to be added or changed."""

from __future__ import annotations

from collections.abc import Callable

from PyQt6.QtWidgets import QCheckBox, QComboBox, QPushButton

from hexapod.desktop import dates
from hexapod.desktop.currency import currency
from hexapod.desktop.forms import Form
from hexapod.desktop.models.desk import Desk
from hexapod.desktop.parts import heading, label
from hexapod.errors import EditRefused
from hexapod.fields.risk_text import (
    chance_text,
    costs_text,
    delays_text,
    read_chance,
    read_costs,
    read_delays,
    read_rows,
)
from hexapod.plan import edits
from hexapod.plan.outline import number_of
from hexapod.plan.records import DAY
from hexapod.plan.risks import AnswerKind, Risk, RiskDelay, RiskKind, RiskState

KINDS = {RiskKind.RISK: "A risk: it may happen", RiskKind.ISSUE: "An issue: it happened",
         RiskKind.ACTION: "An action: somebody does it", RiskKind.DECISION: "A decision"}  # fmt: skip
STATES = {RiskState.OPEN: "Open", RiskState.HAPPENED: "It happened", RiskState.CLOSED: "Over"}
ANSWERS = {None: "No answer yet", AnswerKind.AVOID: "Avoid it", AnswerKind.PASS_ON: "Pass it on",
           AnswerKind.LESSEN: "Lessen it", AnswerKind.ACCEPT: "Accept it"}  # fmt: skip


class RiskForm(Form):
    """``editing`` of the model says what is changed; nothing: a new one."""

    def __init__(self, desk: Desk, leave: Callable[[], None]) -> None:
        super().__init__(desk, "An entry of the register", leave)
        self.work = desk.risks

    def fill(self) -> None:
        old = self.work.chosen
        project = self.work.project
        if old is not None and old.project != project:
            old = None
        self._old = old
        risk = Risk("", project or "", "") if old is None else old
        self.box.addWidget(label("A new entry" if old is None else risk.name, "title", wrap=True))
        self._name = self.line(risk.name, "riskName", "Glass is delivered broken")
        self._kind = self._choice("riskKind", KINDS, risk.kind)
        self._cause = self.line(risk.cause, "riskCause", "One supplier, long road")
        self._effect = self.line(risk.effect, "riskEffect", "Panes are made again")
        self.field("What", self._name)
        self.field("Kind", self._kind)
        self.field("Because of", self._cause)
        self.field("What it leads to", self._effect)
        self._chance = self.line("" if old is None else chance_text(risk.chance), "riskChance", "1 in 5, or 20 %")
        self._delays = self.line(self._delays_of(risk.delays), "riskDelays", "2.3: 3-8 d; 4.1: 1 2 5 d")
        self._cost = self.line(costs_text(risk.cost, currency().plain), "riskCost", "800; 1200; 3000")
        self.field("How likely", self._chance)
        self.field("What it adds to which rows", self._delays, "Number or name, a colon, best and worst")
        self.field("What it costs", self._cost)
        self._fill_answer(risk)
        self._fill_rest(risk)
        self.buttons("Add" if old is None else "Save")
        if old is not None:
            self._fill_more(old)
        self._name.setFocus()

    def _fill_answer(self, risk: Risk) -> None:
        money = currency()
        after = "" if risk.delays_after is None else self._delays_of(risk.delays_after) or "none"
        self.box.addWidget(heading("Its answer"))
        self._answer = self._choice("riskAnswer", ANSWERS, risk.answer)
        self._note = self.line(risk.answer_note, "riskNote", "Order a week early")
        self._answer_cost = self.line(
            money.plain(risk.answer_cost) if risk.answer_cost else "", "riskAnswerCost", "400"
        )
        self._chance_after = self.line(
            "" if risk.chance_after is None else chance_text(risk.chance_after), "riskChanceAfter", "as before"
        )
        self._delays_after = self.line(after, "riskDelaysAfter", "as before, or none")
        self._cost_after = self.line(costs_text(risk.cost_after, money.plain), "riskCostAfter", "as before")
        self._answered = QCheckBox("The answer is taken")
        self._answered.setObjectName("riskAnswered")
        self._answered.setChecked(risk.answered)
        self.field("What is done", self._answer)
        self.field("In words", self._note)
        self.field("What the answer costs", self._answer_cost)
        self.field("How likely it is then", self._chance_after)
        self.field("What it adds then", self._delays_after)
        self.field("What it costs then", self._cost_after)
        self.box.addWidget(self._answered)

    def _fill_rest(self, risk: Risk) -> None:
        self.box.addWidget(heading("Who and when"))
        people = {None: "Nobody", **{r.id: r.name for r in self.desk.plan.resources_in_order()}}
        self._owner = self._choice("riskOwner", people, risk.owner)
        self._due = self.line(_day(risk.due), "riskDue", "15 oct")
        self._until = self.line(_day(risk.until), "riskUntil", "31 dec")
        numbers = "; ".join(number_of(self.desk.plan, t) for t in risk.about if t in self.desk.plan.tasks)
        self._about = self.line(numbers, "riskAbout", "2.3; 4.1")
        self._state = self._choice("riskState", STATES, risk.state)
        self._notes = self.line(risk.notes, "riskNotes")
        self.field("Who looks after it", self._owner)
        self.field("Look at it again on", self._due)
        self.field("It can happen until", self._until)
        self.field("Rows that it is about", self._about, "Beside those that it delays")
        self.field("State", self._state)
        self.field("Notes", self._notes)

    def _fill_more(self, risk: Risk) -> None:
        """What becomes of it."""
        self.box.addSpacing(8)
        if risk.kind is RiskKind.RISK and risk.state is RiskState.OPEN:
            self._button("It has happened", "riskHappened", self.work.has_happened)
        if risk.kind is RiskKind.ACTION or risk.answer is not None:
            self._button("Make a task of it", "riskTask", self.work.make_task)
        self._button("Delete", "riskDelete", self.work.remove)

    def _button(self, words: str, name: str, run: Callable[[], None]) -> None:
        button = QPushButton(words)
        button.setObjectName(name)
        button.setEnabled(not self.desk.is_read_only)

        def pressed() -> None:
            run()
            self._leave()

        button.clicked.connect(pressed)
        self.box.addWidget(button)

    @staticmethod
    def _choice(name: str, entries: dict, chosen: object) -> QComboBox:  # type: ignore[type-arg]
        box = QComboBox()
        box.setObjectName(name)
        for data, words in entries.items():
            box.addItem(words, data)
        box.setCurrentIndex(max(0, list(entries).index(chosen) if chosen in entries else 0))
        return box

    def _delays_of(self, delays: tuple[RiskDelay, ...]) -> str:
        return delays_text(self.desk.plan, self.work.project or "", delays)

    def save(self) -> None:
        project, plan, money = self.work.project, self.desk.plan, currency()
        if project is None:
            raise EditRefused("There is no project for it.")
        old, said_after = self._old, self._delays_after.text().strip()
        after: tuple[RiskDelay, ...] | None = None
        if said_after:
            after = () if said_after.casefold() in ("none", "nothing", "0") else read_delays(plan, project, said_after)
        base = Risk(edits.new_id(), project, "") if old is None else old
        chance_after = self._chance_after.text().strip()
        self.work.save(Risk(
            id=base.id, project=project, name=self._name.text().strip(), kind=RiskKind(self._kind.currentData()),
            cause=self._cause.text().strip(), effect=self._effect.text().strip(),
            chance=read_chance(self._chance.text()) if self._chance.text().strip() else 0.0,
            delays=read_delays(plan, project, self._delays.text()), cost=read_costs(self._cost.text(), money.read),
            answer=self._answer.currentData(), answer_note=self._note.text().strip(),
            answer_cost=money.read(self._answer_cost.text()) if self._answer_cost.text().strip() else 0,
            answered=self._answered.isChecked(), chance_after=read_chance(chance_after) if chance_after else None,
            delays_after=after, cost_after=read_costs(self._cost_after.text(), money.read),
            owner=self._owner.currentData(), state=RiskState(self._state.currentData()),
            due=_read_day(self._due.text()), until=_read_day(self._until.text()),
            about=read_rows(plan, project, self._about.text()), notes=self._notes.text().strip(),
        ))  # fmt: skip


def _day(day: int | None) -> str:
    return "" if day is None else dates.typed(day * DAY)


def _read_day(text: str) -> int | None:
    return dates.read(text) // DAY if text.strip() else None
