"""Money that is spread evenly over a span: what of it lies in some days. Shares of all days add up to all of it."""

from __future__ import annotations

from hexapod.plan.accounts import MoneyEntry


def until(entry: MoneyEntry, day: int) -> int:
    """The part of an entry up to and with a day."""
    return _until(entry.amount, entry.first_day, entry.last_day, day)


def between(entry: MoneyEntry, first: int, last: int) -> int:
    """The part of an entry that lies from a first day to a last."""
    return share(entry.amount, entry.first_day, entry.last_day, first, last)


def share(amount: int, begin: int, end: int, first: int, last: int) -> int:
    """The part that lies from a first day to a last of an amount that is spread from ``begin`` to ``end``."""
    return _until(amount, begin, end, last) - _until(amount, begin, end, first - 1)


def _until(amount: int, begin: int, end: int, day: int) -> int:
    """What lies up to and with a day, rounded half up; all of it from the last day on."""
    if day >= end:
        return amount
    if day < begin:
        return 0
    days, passed = end - begin + 1, day - begin + 1
    return (2 * amount * passed + days) // (2 * days)
