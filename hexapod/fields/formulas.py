"""Formulas over the fields of a task: the names and functions that they may use, and a person's own fields."""

from __future__ import annotations

import contextlib
from collections.abc import Callable, Mapping, Sequence
from datetime import date
from functools import lru_cache
from graphlib import CycleError, TopologicalSorter
from typing import Any

from immutables import Map

from hexapod.errors import BadText
from hexapod.expressions.language import DateSums, Expression, Function, OutOfRange, parse
from hexapod.expressions.tokens import NAME, tokens
from hexapod.expressions.values import Kind, Value
from hexapod.fields.field import DateTexts, PlanField, Texts
from hexapod.fields.own_text import format_value, parse_value
from hexapod.fields.reading import Reading
from hexapod.fields.table import BY_ID, FIELDS
from hexapod.plan import edits
from hexapod.plan.edits import Edit
from hexapod.plan.field_values import own_value
from hexapod.plan.kept import TASKS
from hexapod.plan.plan import Plan
from hexapod.plan.records import Calendar, Field, FieldKind
from hexapod.worktime.clock import date_of, moment_of
from hexapod.worktime.spans import WorkSpan, in_range

_KINDS = {
    FieldKind.TEXT: Kind.TEXT,
    FieldKind.NUMBER: Kind.NUMBER,
    FieldKind.DATE: Kind.DATE,
    FieldKind.CHOICE: Kind.TEXT,
    FieldKind.YES_NO: Kind.YES_NO,
    FieldKind.PERSON: Kind.TEXT,
    FieldKind.MONEY: Kind.MONEY,
}


def _date_part(part: Callable[[date], int]) -> Callable[[Any], Value]:
    return lambda moment: part(date_of(int(moment) // 1440))


FUNCTIONS: dict[str, Function] = {
    "min": Function((None,), None, min, many=True),
    "max": Function((None,), None, max, many=True),
    "round": Function((Kind.NUMBER,), Kind.NUMBER, lambda x: round(float(x))),
    "days": Function((Kind.LENGTH,), Kind.NUMBER, lambda x: float(x) / 480),
    "hours": Function((Kind.LENGTH,), Kind.NUMBER, lambda x: float(x) / 60),
    "year": Function((Kind.DATE,), Kind.NUMBER, _date_part(lambda d: d.year)),
    "month": Function((Kind.DATE,), Kind.NUMBER, _date_part(lambda d: d.month)),
    "week": Function((Kind.DATE,), Kind.NUMBER, _date_part(lambda d: d.isocalendar()[1])),
    "weekday": Function((Kind.DATE,), Kind.TEXT, lambda x: f"{moment_of(int(x)):%A}"),
    "midnight": Function((Kind.DATE,), Kind.DATE, lambda x: int(x) // 1440 * 1440),
    "text": Function((None,), Kind.TEXT, str),
    "upper": Function((Kind.TEXT,), Kind.TEXT, lambda x: str(x).upper()),
    "first": Function((Kind.TEXT, Kind.NUMBER), Kind.TEXT, lambda x, n: str(x)[: max(0, int(n))]),
    "money": Function((Kind.NUMBER,), Kind.MONEY, lambda x: round(float(x) * 100)),
}


def _span(reading: Reading) -> WorkSpan:
    """The working time of the task's project."""
    return _span_of(reading.plan.calendars, reading.plan.projects[reading.task.project].calendar)


@lru_cache(maxsize=64)
def _span_of(calendars: Map[str, Calendar], calendar: str) -> WorkSpan:
    return WorkSpan(calendars, calendar)


def _between(reading: Reading, begin: int, end: int) -> Value:
    if not (in_range(begin) and in_range(end)):
        raise OutOfRange
    span = _span(reading)
    return span.minutes(begin, end) if begin <= end else -span.minutes(end, begin)


def _later(reading: Reading, moment: int, length: int) -> Value:
    found = _span(reading).shifted(moment, length) if in_range(moment) else None
    if found is None:
        raise OutOfRange
    return found


DATES = DateSums(_between, _later)


def names_of(plan: Plan) -> dict[str, Expression]:
    """Every name that an expression may use: the plan's and a person's own, computed ones among them."""
    found = {field.asked_by: Expression(field.kind, field.read, frozenset()) for field in FIELDS}
    found |= {name: found[field.asked_by] for field in FIELDS for name in field.also}
    waiting = []
    for own in plan.fields_in_order():
        if own.kind is FieldKind.COMPUTED:
            waiting.append(own)
        elif own.name.lower() not in found:
            found[own.name.lower()] = _own(own)
    for own in _uses_first(waiting, found):
        with contextlib.suppress(BadText):
            made = parse(own.formula, found, FUNCTIONS, DATES)
            found[own.name.lower()] = _once(own.name.lower(), made)
    return found


def _uses_first(computed: list[Field], known: Mapping[str, Expression]) -> list[Field]:
    """Computed fields, each behind those that it uses; those that lead back to themselves are left out."""
    by_name = {own.name.lower(): own for own in computed}
    names = {*by_name, *known}
    uses: dict[str, list[str]] = {}
    for name, own in by_name.items():
        try:
            found = {token.text for token in tokens(own.formula, names) if token.kind == NAME}
        except BadText:
            continue
        uses[name] = sorted(found & by_name.keys())
    with contextlib.suppress(CycleError):
        return [by_name[name] for name in TopologicalSorter(uses).static_order() if name in uses]
    free: list[Field] = []  # some go in a circle: take those that do not, in rounds
    waiting = dict(uses)
    while ready := [name for name, used in waiting.items() if not any(u in waiting for u in used)]:
        for name in ready:
            del waiting[name]
            free.append(by_name[name])
    return free


def _once(name: str, found: Expression) -> Expression:
    """The same, computed once for a task however often it is used."""

    def run(reading: Reading) -> Value:
        if name not in reading.computed:
            reading.computed[name] = found.run(reading)
        return reading.computed[name]

    return Expression(found.kind, run, found.names, found.depth + 1)


def compile_formula(plan: Plan, formula: str, of: Field | None = None) -> Expression:
    """An expression over a plan's names. ``BadText`` if it is wrong, or would be computed from itself."""
    names = names_of(plan)
    if of is not None:
        uses = [name for name, found in names.items() if of.name.lower() in found.names]
        if not any(f.id != of.id and f.name.lower() == of.name.lower() for f in plan.fields.values()):
            names.pop(of.name.lower(), None)
        for name in uses:
            names.pop(name, None)
    return parse(formula, names, FUNCTIONS, DATES)


def _own(own: Field) -> Expression:
    return Expression(_KINDS[own.kind], _reads(own), frozenset({own.name.lower()}))


def _reads(own: Field) -> Callable[[Reading], Value]:
    if own.kind is not FieldKind.PERSON:
        return lambda reading: own_value(reading.plan, reading.task, own)

    def person(reading: Reading) -> Value:
        value = own_value(reading.plan, reading.task, own)
        resource = reading.plan.resources.get(str(value))
        return None if value is None else resource.name if resource else str(value)

    return person


def fields_of(plan: Plan) -> dict[str, PlanField]:
    """Every field by its id, a person's own and computed ones among them: those are ``field.<id>``."""
    return BY_ID | {f"field.{own.id}": _own_field(plan, own) for own in plan.fields_in_order()}


def _own_field(plan: Plan, own: Field) -> PlanField:
    known = f"field.{own.id}"
    if own.kind is FieldKind.COMPUTED:
        return _computed_field(plan, own, known)

    def typed(reading: Reading, dates: DateTexts) -> str:
        value = own_value(reading.plan, reading.task, own)
        if own.kind is FieldKind.DATE and value is not None:
            return dates.typed(int(value))
        return format_value(reading.plan, own, value)

    def edit(texts: Texts, tasks: Sequence[str], text: str) -> Edit:
        value = parse_value(texts.plan, own, text, texts.dates.read)
        return edits.set_fields(texts.plan, list(tasks), {own.name: value})

    hint = ", ".join(own.choices) or f"{own.name}: {own.kind.value}"
    text = None if own.kind in (FieldKind.DATE, FieldKind.NUMBER) else typed
    can_be_typed = own.of == TASKS  # a field of projects is read at each of their tasks, and set at the project
    return PlanField(
        known, own.name, _KINDS[own.kind], _reads(own), own.name.lower(), width=84, in_files=True, hint=hint, text=text,
        typed=typed if can_be_typed else None, edit=edit if can_be_typed else None, summaries=True,
    )  # fmt: skip


def _computed_field(plan: Plan, own: Field, known: str) -> PlanField:
    """It cannot be typed into; a formula that cannot be understood says so."""
    try:
        found = compile_formula(plan, own.formula, own)
    except BadText:
        found = Expression(Kind.TEXT, lambda reading: "?", frozenset())
    return PlanField(known, own.name, found.kind, found.run, own.name.lower(), width=84, in_files=True,
                     hint=own.formula, right=True)  # fmt: skip
