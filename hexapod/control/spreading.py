"""Money that is spread evenly over a span: what of it lies before a day. Shares of all days add up to all of it."""

from __future__ import annotations

from hexapod.plan.accounts import MoneyEntry


def until(entry: MoneyEntry, day: int) -> int:
    """The part of an entry up to and with a day, rounded half up; whole from its last day on."""
    if day >= entry.last_day:
        return entry.amount
    if day < entry.first_day:
        return 0
    days = entry.last_day - entry.first_day + 1
    passed = day - entry.first_day + 1
    return (2 * entry.amount * passed + days) // (2 * days)


def between(entry: MoneyEntry, first: int, last: int) -> int:
    """The part that lies from a first day to a last."""
    return until(entry, last) - until(entry, first - 1)
