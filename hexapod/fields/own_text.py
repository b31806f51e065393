"""Values of a person's own fields, as they are typed and shown."""

from __future__ import annotations

import re
from collections.abc import Callable
from decimal import Decimal, InvalidOperation

from hexapod.errors import BadText
from hexapod.plan.field_values import value_in
from hexapod.plan.plan import Plan
from hexapod.plan.records import Field, FieldKind, FieldValue, Project, Task
from hexapod.worktime.clock import iso
from hexapod.worktime.dates import parse_moment

_YES, _NO = ("yes", "y", "true", "1", "x", "✓"), ("no", "n", "false", "0")


def parse_value(
    plan: Plan, field: Field, text: str, read_date: Callable[[str], int] = parse_moment
) -> FieldValue | None:
    """What a text means in a field; None for an empty one. ``BadText`` says what the field takes."""
    said = text.strip()
    if not said:
        return None
    if field.kind is FieldKind.NUMBER:
        return _number(field, said)
    if field.kind is FieldKind.MONEY:
        return int((_decimal(field, re.sub(r"[^\d.,+\-−]", "", said)) * 100).to_integral_value())
    if field.kind is FieldKind.DATE:
        return read_date(said)
    if field.kind is FieldKind.YES_NO:
        if said.lower() not in (*_YES, *_NO):
            raise BadText(f"“{field.name}” takes yes or no, and not “{said[:40]}”.")
        return said.lower() in _YES
    if field.kind is FieldKind.CHOICE:
        found = [c for c in field.choices if c.casefold() == said.casefold()]
        found = found or [c for c in field.choices if c.casefold().startswith(said.casefold())]
        if len(found) != 1:
            raise BadText(f"“{field.name}” takes one of {', '.join(field.choices)}, and not “{said[:40]}”.")
        return found[0]
    if field.kind is FieldKind.PERSON:
        for resource in plan.resources.values():
            if said.casefold() in (resource.initials.casefold(), resource.name.casefold()):
                return resource.id
        raise BadText(f"“{field.name}” takes someone of the staff; “{said[:40]}” is not known.")
    if field.kind is FieldKind.COMPUTED:
        raise BadText(f"“{field.name}” is computed; change what it is computed from.")
    return said


def held_text(plan: Plan, field: Field, holder: Task | Project) -> str:
    """What a task or a project has in a field, as it can be typed."""
    return format_value(plan, field, value_in(field, dict(holder.fields).get(field.name)))


def format_value(plan: Plan, field: Field, value: FieldValue | None) -> str:
    """A value as it can be typed."""
    if value is None:
        return ""
    if field.kind is FieldKind.YES_NO:
        return "yes" if value else "no"
    if field.kind is FieldKind.MONEY and isinstance(value, int):
        return f"{Decimal(value) / 100:,.2f}"
    if field.kind is FieldKind.DATE and isinstance(value, int):
        return iso(value).removesuffix("T00:00").replace("T", " ")
    if field.kind is FieldKind.PERSON:
        resource = plan.resources.get(str(value))
        return (resource.initials or resource.name) if resource else str(value)
    if isinstance(value, float):
        return f"{value:.10g}"
    return str(value)


def _number(field: Field, said: str) -> int | float:
    found = _decimal(field, said)
    return int(found) if found == found.to_integral_value() else float(found)


def _decimal(field: Field, said: str) -> Decimal:
    """A decimal comma is understood, and marks between the thousands."""
    plain = said.replace("−", "-").replace(" ", "").replace("’", "")
    if "," in plain and "." in plain:
        last = max(plain.rfind(","), plain.rfind("."))
        plain = plain[:last].replace(",", "").replace(".", "") + "." + plain[last + 1 :]
    elif re.fullmatch(r"-?\d{1,3}(,\d{3})+", plain):
        plain = plain.replace(",", "")
    try:
        found = Decimal(plain.replace(",", "."))
    except InvalidOperation:
        raise BadText(f"“{field.name}” takes a number, and not “{said[:40]}”.") from None
    if not found.is_finite() or abs(found) > 10**15:
        raise BadText(f"“{field.name}” takes a number of at most fifteen digits.")
    return found
