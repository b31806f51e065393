"""What somebody costs who is hired for a time: the hours of the role's calendar at a rate, busy or not."""

from __future__ import annotations

from hexapod.control.ledger import HOUR
from hexapod.plan import edits
from hexapod.plan.accounts import EntryKind, MoneyEntry
from hexapod.plan.edits import Edit, new_id
from hexapod.plan.plan import Plan
from hexapod.schedule.timing import resource_calendar
from hexapod.worktime.calendars import Window, find_calendar
from hexapod.worktime.days import days_of


def hours_between(plan: Plan, role: str, first_day: int, last_day: int) -> float:
    """Working hours of one person of a role, by the calendar of the role, from one day to another."""
    calendar = find_calendar(plan.calendars, resource_calendar(plan.resources[role]))
    days = days_of(plan.calendars, calendar, Window(first_day, last_day + 1))
    return sum(end - begin for day in days.values() for begin, end in day.working) / HOUR


def usual_rate(plan: Plan, role: str) -> int:
    """What an hour of the people of a role costs on average, in the smallest unit of money."""
    known = [r.rate for r in plan.resources.values() if r.role == role and r.rate]
    return round(sum(known) / len(known)) if known else 0


def hire(
    plan: Plan, role: str, count: float, days: tuple[int, int | None], rate: int, project: str, until: int
) -> Edit:
    """So many more of a role over some days, at ``rate`` an hour, paid by a project. Without a last day they stay, and
    are counted up to the day ``until``."""
    first, last = days
    name = f"{plan.resource(role).name}, {count:g} more"
    price = round(count * rate * hours_between(plan, role, first, max(first, until if last is None else last)))
    if not price:
        return edits.hire(plan, role, count, first, last)
    paid_to = max(first, until if last is None else last)
    paid = MoneyEntry(new_id(), project, name, EntryKind.COST, price, first, paid_to, planned=True)
    return edits.hire(plan, role, count, first, last, paid)
