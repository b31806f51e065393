"""What logs, sheets, money, budgets and baselines must be."""

from __future__ import annotations

import math

from hexapod.plan.accounts import Baseline, Budget, Log, MoneyEntry, Sheet, SheetState, monday_of
from hexapod.plan.bounds import FIRST_TIME, LAST_TIME, LONGEST, LONGEST_NAME, LONGEST_TEXT, MOST_MONEY, MOST_WORKED
from hexapod.plan.plan import Plan
from hexapod.plan.records import DAY


def log_trouble(plan: Plan, log: Log) -> str | None:
    """What is wrong with a log of hours, in a sentence."""
    where = f"of {plan.resources[log.resource].name} on “{plan.tasks[log.task].name}”"
    if not log.minutes or abs(log.minutes) > MOST_WORKED:
        return f"The hours {where} must be some, and less than those of a year."
    if not _are_days(log.day):
        return f"The day of the hours {where} lies outside 1970 to 2129."
    if log.percent is not None and not (math.isfinite(log.percent) and 0 <= log.percent <= 100):
        return f"How much is done with the hours {where} must be between 0 and 100 %."
    if log.remaining is not None and not 0 <= log.remaining <= LONGEST:
        return f"What is left with the hours {where} must be between nothing and a hundred years."
    return f"The note of the hours {where} is too long." if len(log.note) > LONGEST_TEXT else None


def changed_log_trouble(plan: Plan, before: Log, after: Log | None) -> str | None:
    """A log of an approved sheet is neither changed nor taken out; ``plan`` is how it would be."""
    sheet = plan.sheet_in(before.week)
    if sheet is None or sheet.state is not SheetState.APPROVED:
        return None
    name = plan.resources[before.resource].name
    return f"The hours of {name} in that week are approved and stay as they are; a correction is a log of its own."


def sheet_trouble(plan: Plan, sheet: Sheet) -> str | None:
    """What is wrong with a sheet, in a sentence."""
    name = plan.resources[sheet.resource].name
    if not _are_days(sheet.week) or monday_of(sheet.week) != sheet.week:
        return f"A sheet of {name} must be of a week from 1970 to 2129, named by its Monday."
    if plan.sheet_of.get((sheet.resource, sheet.week)) != sheet.id:
        return f"There is a sheet of {name} for that week already."
    return f"What was said of a sheet of {name} is too long." if len(sheet.word) > LONGEST_TEXT else None


def entry_trouble(plan: Plan, entry: MoneyEntry) -> str | None:
    """What is wrong with an entry of money, in a sentence."""
    if not entry.name.strip() or len(entry.name) > LONGEST_NAME:
        return f"An entry needs a name of at most {LONGEST_NAME} characters."
    if not entry.amount or abs(entry.amount) > MOST_MONEY:
        return f"The amount of “{entry.name}” must be some money, less than ten million million."
    if not _are_days(entry.first_day, entry.last_day):
        return f"A day of “{entry.name}” lies outside 1970 to 2129."
    if entry.last_day < entry.first_day:
        return f"“{entry.name}” would end before it begins."
    return _elsewhere(plan, f"“{entry.name}”", entry.task, entry.project)


def budget_trouble(plan: Plan, budget: Budget) -> str | None:
    """What is wrong with a budget, in a sentence."""
    whose = f"A budget of “{plan.projects[budget.project].name}”"
    if budget.amount is None and budget.minutes is None:
        return f"{whose} needs an amount of money, or hours."
    if budget.amount is not None and not 0 <= budget.amount <= MOST_MONEY:
        return f"{whose} must be from nothing to ten million million."
    if budget.minutes is not None and not 0 <= budget.minutes <= LONGEST:
        return f"The hours of a budget of “{plan.projects[budget.project].name}” must be less than a hundred years."
    if (budget.first_day is None) != (budget.last_day is None):
        return f"{whose} is for all time, or from a first day to a last."
    if budget.first_day is not None and budget.last_day is not None:
        if not _are_days(budget.first_day, budget.last_day):
            return f"A day of a budget of “{plan.projects[budget.project].name}” lies outside 1970 to 2129."
        if budget.last_day < budget.first_day:
            return f"{whose} would end before it begins."
    return _elsewhere(plan, whose, budget.task, budget.project)


def baseline_trouble(plan: Plan, baseline: Baseline) -> str | None:
    """What is wrong with a baseline, in a sentence. Its tasks may be gone."""
    if not baseline.name.strip() or len(baseline.name) > LONGEST_NAME:
        return f"A baseline needs a name of at most {LONGEST_NAME} characters."
    where = f"in the baseline “{baseline.name}”"
    if len({row.task for row in baseline.tasks}) != len(baseline.tasks):
        return f"A task is twice {where}."
    for row in baseline.tasks:
        if not (FIRST_TIME <= row.start <= row.finish <= LAST_TIME):
            return f"“{_name(plan, row.task)}” {where} must start and finish in order, from 1970 to 2129."
        if not all(0 <= length <= LONGEST for length in (row.duration, row.effort)):
            return f"Duration and effort of “{_name(plan, row.task)}” {where} must be from nothing to a hundred years."
        if not 0 <= row.cost <= MOST_MONEY:
            return f"The cost of “{_name(plan, row.task)}” {where} must be from nothing to ten million million."
    if not FIRST_TIME <= baseline.at <= LAST_TIME:
        return f"The moment {where} lies outside 1970 to 2129."
    measured = (p for p in plan.projects.values() if p.baseline == baseline.id and p.id != baseline.project)
    other = next(measured, None)
    return None if other is None else f"“{other.name}” is measured from “{baseline.name}”, so it stays its baseline."


def reference_trouble(plan: Plan, project: str, baseline: str) -> str | None:
    """The baseline that a project is measured against must be its own."""
    if plan.baselines[baseline].project != project:
        return f"“{plan.baselines[baseline].name}” is a baseline of another project."
    return None


def _elsewhere(plan: Plan, what: str, task: str | None, project: str) -> str | None:
    if task is not None and plan.tasks[task].project != project:
        return f"{what} is about “{plan.tasks[task].name}”, which is in another project."
    return None


def _name(plan: Plan, task_id: str) -> str:
    task = plan.tasks.get(task_id)
    return task_id[:80] if task is None else task.name


def _are_days(*days: int) -> bool:
    return all(FIRST_TIME <= day * DAY <= LAST_TIME for day in days)
