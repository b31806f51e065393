"""How the reader's locale says days, months and money, for what is made of data: reports and pages."""

from __future__ import annotations

from hexapod.desktop import dates
from hexapod.desktop.currency import currency
from hexapod.reports.report import Words


def words() -> Words:
    """Of the locale that is in use."""
    money = currency()
    return Words(dates.short_day, dates.long_day, dates.month_name, money.short)
