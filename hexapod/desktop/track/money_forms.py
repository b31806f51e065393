"""At the side: an entry of money, and a budget, to be added or changed."""

from __future__ import annotations

from collections.abc import Callable

from PyQt6.QtWidgets import QCheckBox, QComboBox

from hexapod.desktop import dates
from hexapod.desktop.currency import currency
from hexapod.desktop.forms import Form
from hexapod.desktop.models.desk import Desk
from hexapod.desktop.parts import label
from hexapod.errors import BadText, EditRefused
from hexapod.fields.hours_text import read_minutes
from hexapod.plan import edits
from hexapod.plan.accounts import Budget, EntryKind, MoneyEntry
from hexapod.plan.edits.hours import hours_words
from hexapod.plan.records import DAY

KINDS = {EntryKind.COST: "A cost", EntryKind.INCOME: "Income", EntryKind.INVOICED: "Charged to somebody"}
WHOLE_PROJECT = ""


def _day(day: int | None) -> str:
    return "" if day is None else dates.typed(day * DAY)


def _read_day(text: str) -> int | None:
    return dates.read(text) // DAY if text.strip() else None


class _MoneyForm(Form):
    """``editing`` of the model says what is changed; nothing: a new one."""

    def _rows(self, chosen: str | None) -> QComboBox:
        """The rows that money can belong to: the whole project, its branches, and the row that is selected."""
        desk, plan = self.desk, self.desk.plan
        box = QComboBox()
        box.setObjectName("moneyRow")
        rows = {WHOLE_PROJECT: "The whole project", **dict(desk.money.branches())}
        for task in (desk.current, chosen):
            if task in plan.tasks and plan.tasks[task].project == desk.money.project:
                rows.setdefault(task, plan.tasks[task].name)
        for task, name in rows.items():
            box.addItem(name, task)
        box.setCurrentIndex(max(0, box.findData(chosen or WHOLE_PROJECT)))
        return box

    def _project(self) -> str:
        project = self.desk.money.project
        if project is None:
            raise EditRefused("There is no project yet.")
        return project


class EntryForm(_MoneyForm):
    def __init__(self, desk: Desk, leave: Callable[[], None]) -> None:
        super().__init__(desk, "An entry of money", leave)

    def fill(self) -> None:
        work, plan = self.desk.money, self.desk.plan
        old = plan.entries.get(work.editing)
        self._old = old
        self.box.addWidget(label("Change the entry" if old is not None else "A new entry", "title"))
        today = dates.typed(work.today * DAY)
        self._name = self.line("" if old is None else old.name, "entryName", "Case glass")
        self._amount = self.line("" if old is None else currency().plain(old.amount), "entryAmount", currency().example)
        self._kind = QComboBox()
        self._kind.setObjectName("entryKind")
        for kind, words in KINDS.items():
            self._kind.addItem(words, kind)
        self._kind.setCurrentIndex(0 if old is None else self._kind.findData(old.kind))
        self._planned = QCheckBox("Planned: it has not happened")
        self._planned.setObjectName("entryPlanned")
        self._planned.setChecked(old is not None and old.planned)
        is_spread = old is not None and old.last_day != old.first_day
        self._first = self.line(today if old is None else _day(old.first_day), "entryDay", "fri, 6 oct")
        self._last = self.line(_day(old.last_day) if is_spread and old is not None else "", "entryTo", "")
        self._row = self._rows(work.task if old is None else old.task)
        self.field("What", self._name)
        self.field("How much", self._amount)
        self.field("Kind", self._kind)
        self.box.addWidget(self._planned)
        self.field("On", self._first)
        self.field("Up to", self._last, "Nothing: all of it on that day. A day: spread evenly up to it.")
        self.field("Of", self._row)
        self.buttons("Save")

    def save(self) -> None:
        first = _read_day(self._first.text())
        if first is None:
            raise BadText("An entry needs a day.")
        last = _read_day(self._last.text())
        task = self._row.currentData() or None
        self.desk.money.save_entry(MoneyEntry(
            edits.new_id() if self._old is None else self._old.id, self._project(), self._name.text().strip(),
            EntryKind(self._kind.currentData()), currency().read(self._amount.text()), first,
            first if last is None else last, task, self._planned.isChecked(),
        ))  # fmt: skip


class BudgetForm(_MoneyForm):
    def __init__(self, desk: Desk, leave: Callable[[], None]) -> None:
        super().__init__(desk, "A budget", leave)

    def fill(self) -> None:
        work, plan = self.desk.money, self.desk.plan
        old = plan.budgets.get(work.editing)
        self._old = old
        self.box.addWidget(label("Change the budget" if old is not None else "A new budget", "title"))
        days = work.days if old is None else None if old.first_day is None else (old.first_day, old.last_day)
        amount = "" if old is None or old.amount is None else currency().plain(old.amount)
        minutes = "" if old is None or old.minutes is None else hours_words(old.minutes)
        self._amount = self.line(amount, "budgetAmount", currency().example)
        self._hours = self.line(minutes, "budgetHours", "240 h")
        self._first = self.line("" if days is None else _day(days[0]), "budgetFrom", "1 oct")
        self._last = self.line("" if days is None else _day(days[1]), "budgetTo", "31 oct")
        self._row = self._rows(work.task if old is None else old.task)
        self.field("How much", self._amount)
        self.field("Or how many hours", self._hours)
        self.field("From", self._first)
        self.field("To", self._last, "Nothing in both: for all time.")
        self.field("Of", self._row)
        self.buttons("Save")

    def save(self) -> None:
        amount = currency().read(self._amount.text()) if self._amount.text().strip() else None
        minutes = read_minutes(self._hours.text()) if self._hours.text().strip() else None
        self.desk.money.save_budget(Budget(
            edits.new_id() if self._old is None else self._old.id, self._project(), self._row.currentData() or None,
            _read_day(self._first.text()), _read_day(self._last.text()), amount, minutes,
        ))  # fmt: skip
