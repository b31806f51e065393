"""Edits of money: entries and budgets."""

from __future__ import annotations

from collections.abc import Iterable

from hexapod.plan.accounts import Budget, MoneyEntry
from hexapod.plan.edits.edit import Edit, quoted, removing, saving
from hexapod.plan.plan import Plan


def save_entry(plan: Plan, entry: MoneyEntry) -> Edit:
    """Add an entry, or change the one with its id."""
    return saving(plan, entry, f"the entry “{entry.name}”")


def remove_entries(plan: Plan, entry_ids: Iterable[str]) -> Edit:
    gone = list(entry_ids)
    return removing(f"Delete {quoted([plan.entry(e).name for e in gone], 'entries')}", "entries", gone)


def save_budget(plan: Plan, budget: Budget) -> Edit:
    """Add a budget, or change the one with its id."""
    of = plan.project(budget.project).name if budget.task is None else plan.task(budget.task).name
    return saving(plan, budget, f"a budget of “{of}”")


def remove_budgets(plan: Plan, budget_ids: Iterable[str]) -> Edit:
    gone = list(budget_ids)
    names = [plan.project(plan.budget(b).project).name for b in gone]
    return removing(f"Delete a budget of {quoted(list(dict.fromkeys(names)), 'projects')}", "budgets", gone)
