"""Values of a person's own fields: whether one is what its field holds.

A field may have become another kind after it was filled in, and a file may say anything. What does not fit counts as
empty wherever it is read; it stays in the plan until somebody fills in something else.
"""

from __future__ import annotations

import math

from hexapod.plan.bounds import FIRST_TIME, LAST_TIME
from hexapod.plan.records import Field, FieldKind, FieldValue

LARGEST = 10**15  # of a number: what a float still holds exactly


def value_in(field: Field, value: FieldValue | None) -> FieldValue | None:
    """The value as the field holds it; None where it is empty, or none of its kind."""
    return value if value is not None and _fits(field.kind, value) else None


def _fits(kind: FieldKind, value: FieldValue) -> bool:
    if kind is FieldKind.YES_NO:
        return isinstance(value, bool)
    if isinstance(value, bool):
        return False
    if kind is FieldKind.NUMBER:
        return isinstance(value, int | float) and math.isfinite(value) and abs(value) <= LARGEST
    if kind is FieldKind.MONEY:
        return isinstance(value, int) and abs(value) <= LARGEST
    if kind is FieldKind.DATE:
        return isinstance(value, int) and FIRST_TIME <= value <= LAST_TIME
    return isinstance(value, str) and kind is not FieldKind.COMPUTED
