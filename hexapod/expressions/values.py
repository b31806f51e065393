"""The kinds of values that an expression has, and how each is written."""

from __future__ import annotations

from enum import StrEnum

from hexapod.worktime.clock import iso
from hexapod.worktime.lengths import format_length


class Kind(StrEnum):
    NUMBER = "number"
    LENGTH = "length"  # minutes
    DATE = "date"  # minutes since 1970
    TEXT = "text"
    YES_NO = "yes/no"
    MONEY = "money"  # hundredths


Value = int | float | str | bool | None
"""None is an empty value: of a field that nobody filled in. What is computed from it is empty as well."""


def format_value(kind: Kind, value: Value) -> str:
    """As a cell shows it."""
    if value is None:
        return ""
    if kind is Kind.YES_NO:
        return "yes" if value else "no"
    if kind is Kind.LENGTH:
        return format_length(round(float(value)))
    if kind is Kind.DATE:
        return iso(int(value)).removesuffix("T00:00").replace("T", " ")
    if kind is Kind.MONEY:
        return f"{float(value) / 100:,.2f}"
    if kind is Kind.NUMBER:
        return f"{float(value):.10g}"
    return str(value)
