"""At the side: what a figure of money is made of. Entries, logs by person and task, budgets; and adding more."""

from __future__ import annotations

from PyQt6.QtWidgets import QHBoxLayout

from hexapod.control.ledger import cost_of, rate_on
from hexapod.control.money import Costing, Days
from hexapod.desktop import dates
from hexapod.desktop.action import Registry
from hexapod.desktop.currency import currency
from hexapod.desktop.frame.page import Page
from hexapod.desktop.models.desk import Desk
from hexapod.desktop.parts import ActionButton, LineButton, card, heading, icon_button, label
from hexapod.desktop.theme.tips import plain_tip
from hexapod.desktop.track.money_table import COLUMNS
from hexapod.plan.accounts import Budget, EntryKind, Log, MoneyEntry
from hexapod.plan.edits.hours import hours_words
from hexapod.plan.records import DAY
from hexapod.system.words import count_of

MOST_SHOWN = 60
KINDS = {EntryKind.COST: "cost", EntryKind.INCOME: "income", EntryKind.INVOICED: "charged"}
SHOWN = {  # by figure: the kind of entries that it holds, and whether planned ones
    "planned": (EntryKind.COST, True),
    "spent": (EntryKind.COST, False),
    "expected": (EntryKind.COST, None),
    "left": (EntryKind.COST, None),
    "invoiced": (EntryKind.INVOICED, False),
    "to_invoice": (EntryKind.INVOICED, None),
    "promised": (EntryKind.INCOME, True),
    "came": (EntryKind.INCOME, False),
}


class MoneyPage(Page):
    def __init__(self, desk: Desk, registry: Registry) -> None:
        super().__init__(desk, "What a figure is made of")
        self._registry = registry
        for signal in (desk.changed, desk.money.figure_changed, desk.money.changed, desk.computed):
            signal.connect(self.refresh)

    def fill(self) -> None:
        work = self.desk.money
        costing, column = work.costing(), work.column
        title = dict(COLUMNS)[column]
        self.box.addWidget(label(title, "title"))
        where = "In all" if work.days is None else f"{_day(work.days[0])} to {_day(work.days[1])}"
        branch = "" if work.task is None else f", {self.desk.plan.tasks[work.task].name}"
        self.box.addWidget(label(f"{where}{branch}", "small", wrap=True))
        line = QHBoxLayout()
        line.addWidget(ActionButton(self._registry, "money.entry", text="New entry…"))
        line.addWidget(ActionButton(self._registry, "money.budget", text="New budget…"))
        line.addStretch(1)
        self.box.addLayout(line)
        if costing is None:
            return
        days = work.days or (-(10**6), 10**6)
        if column in ("budget", "left"):
            self._fill_budgets(costing)
        if column in SHOWN:
            kind, planned = SHOWN[column]
            self._fill_entries([e for e in costing.entries_in(days, work.task)
                                if e.kind is kind and planned in (None, e.planned)])  # fmt: skip
        if column in ("spent", "expected", "left"):
            self._fill_logs(costing, days)
        if column in ("planned", "expected", "left"):
            words = "of the baseline" if self.desk.plan.projects[costing.project].baseline else "of the plan as it is"
            said = f"The work {words}, at the rates of its days, is spread over its time."
            if column != "planned":
                said = "What is still to come is the rest of the work at its rates, and planned costs after today."
            self.box.addWidget(label(said, "small", wrap=True))

    def _fill_entries(self, entries: list[MoneyEntry]) -> None:
        plan, money = self.desk.plan, currency()
        if not entries:
            return
        self.box.addSpacing(6)
        total = sum(e.amount for e in entries)
        self.box.addWidget(heading(f"Entries · {money.words(total)}"))
        for entry in entries[:MOST_SHOWN]:
            frame, box = card()
            line = QHBoxLayout()
            name = LineButton(f"{money.words(entry.amount)} · {entry.name}")
            name.setObjectName(f"entry.{entry.id}")
            name.clicked.connect(lambda _, e=entry: self._change_entry(e))
            line.addWidget(name, 1)
            remove = icon_button("x", f"Delete {entry.name}")
            remove.setEnabled(not self.desk.is_read_only)
            remove.clicked.connect(lambda _, e=entry: self.desk.money.remove_entries([e.id]))
            line.addWidget(remove)
            box.addLayout(line)
            when = _day(entry.first_day)
            if entry.last_day != entry.first_day:
                when = f"evenly from {when} to {_day(entry.last_day)}"
            task = plan.tasks.get(entry.task or "")
            parts = ["planned" if entry.planned else "", KINDS[entry.kind], when, "" if task is None else task.name]
            box.addWidget(label(" · ".join(part for part in parts if part), "small", wrap=True))
            self.box.addWidget(frame)

    def _change_entry(self, entry: MoneyEntry) -> None:
        self.desk.money.editing = entry.id
        self._registry.qt("money.entry").trigger()

    def _fill_logs(self, costing: Costing, days: Days) -> None:
        plan, money = self.desk.plan, currency()
        logs = costing.logs_in(days, self.desk.money.task)
        if not logs:
            return
        by: dict[tuple[str, str], list[Log]] = {}
        for log in logs:
            by.setdefault((log.task, log.resource), []).append(log)
        cost = {key: sum(_cost(self.desk, log) for log in found) for key, found in by.items()}
        self.box.addSpacing(6)
        self.box.addWidget(heading(f"Hours · {money.words(sum(cost.values()))}"))
        for task, who in sorted(by, key=lambda key: -cost[key])[:MOST_SHOWN]:
            found, person = by[task, who], plan.resources[who]
            hours = hours_words(sum(log.minutes for log in found))
            words = f"{money.words(cost[task, who])} · {person.initials or person.name}, {hours}"
            line = LineButton(f"{words} · {plan.tasks[task].name}")
            line.setObjectName(f"spentOn.{task}.{who}")
            line.setToolTip(plain_tip(f"{count_of(len(found), 'log')} on “{plan.tasks[task].name}”"))
            line.clicked.connect(lambda _, t=task: self._show_logs(t))
            self.box.addWidget(line)

    def _show_logs(self, task: str) -> None:
        self.desk.select((task,), task)
        self._registry.qt("hours.log").trigger()

    def _fill_budgets(self, costing: Costing) -> None:
        plan, work, money = self.desk.plan, self.desk.money, currency()
        mine = [b for b in plan.budgets.values() if b.project == costing.project and b.task == work.task]
        mine = [b for b in mine if work.days is None or b.first_day is None
                or (b.first_day <= work.days[1] and (b.last_day or 0) >= work.days[0])]  # fmt: skip
        if not mine:
            self.box.addWidget(label("No budget is set here.", "small"))
            return
        self.box.addSpacing(6)
        self.box.addWidget(heading("Budgets"))
        for budget in sorted(mine, key=lambda b: b.first_day or 0):
            line = QHBoxLayout()
            when = (
                "for all time" if budget.first_day is None else f"{_day(budget.first_day)} to {_day(budget.last_day)}"
            )
            parts = [money.words(budget.amount)] if budget.amount is not None else []
            parts += [hours_words(budget.minutes)] if budget.minutes is not None else []
            name = LineButton(f"{', '.join(parts)} · {when}")
            name.setObjectName(f"budget.{budget.id}")
            name.clicked.connect(lambda _, b=budget: self._change_budget(b))
            remove = icon_button("x", f"Delete the budget of {when}")
            remove.setEnabled(not self.desk.is_read_only)
            remove.clicked.connect(lambda _, b=budget: work.remove_budget(b.id))
            line.addWidget(name, 1)
            line.addWidget(remove)
            self.box.addLayout(line)

    def _change_budget(self, budget: Budget) -> None:
        self.desk.money.editing = budget.id
        self._registry.qt("money.budget").trigger()


def _cost(desk: Desk, log: Log) -> int:
    import numpy as np

    rate = rate_on(desk.plan.resources[log.resource], log.day)
    return int(cost_of(np.array([log.minutes]), np.array([rate]))[0])


def _day(day: int | None) -> str:
    return "" if day is None else dates.short_day(day * DAY)
