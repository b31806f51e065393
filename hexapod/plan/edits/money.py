"""Edits of money: entries and budgets."""

from __future__ import annotations

from collections.abc import Iterable

from hexapod.plan.accounts import Budget, MoneyEntry
from hexapod.plan.edits.edit import Edit, quoted
from hexapod.plan.plan import Draft, Plan


def save_entry(plan: Plan, entry: MoneyEntry) -> Edit:
    """Add an entry, or change the one with its id."""
    word = "Change" if entry.id in plan.entries else "Add"
    return Edit(f"{word} the entry “{entry.name}”", lambda draft: draft.put(entry))


def remove_entries(plan: Plan, entry_ids: Iterable[str]) -> Edit:
    gone = list(entry_ids)

    def change(draft: Draft) -> None:
        for entry_id in gone:
            draft.remove("entries", entry_id)

    return Edit(f"Delete {quoted([plan.entry(e).name for e in gone], 'entries')}", change)


def save_budget(plan: Plan, budget: Budget) -> Edit:
    """Add a budget, or change the one with its id."""
    word = "Change" if budget.id in plan.budgets else "Add"
    of = plan.project(budget.project).name if budget.task is None else plan.task(budget.task).name
    return Edit(f"{word} a budget of “{of}”", lambda draft: draft.put(budget))


def remove_budgets(plan: Plan, budget_ids: Iterable[str]) -> Edit:
    gone = list(budget_ids)

    def change(draft: Draft) -> None:
        for budget_id in gone:
            draft.remove("budgets", budget_id)

    names = [plan.project(plan.budget(b).project).name for b in gone]
    return Edit(f"Delete a budget of {quoted(list(dict.fromkeys(names)), 'projects')}", change)
