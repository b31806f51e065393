"""The plan's fields by their plain names, a person's own fields among them, and the functions of expressions."""

from __future__ import annotations

import contextlib
from collections.abc import Callable, Collection, Mapping
from dataclasses import dataclass, field
from datetime import date
from functools import lru_cache
from graphlib import CycleError, TopologicalSorter
from typing import Any

from immutables import Map

from hexapod.control.progress import is_late
from hexapod.errors import BadText
from hexapod.plan.field_values import value_in
from hexapod.plan.outline import number_of, stream_of
from hexapod.plan.plan import Plan
from hexapod.plan.records import Calendar, Field, FieldKind, ResourceKind, Task
from hexapod.query.language import DateSums, Expression, Function, OutOfRange, parse
from hexapod.query.tokens import NAME, tokens
from hexapod.query.values import Kind, Value
from hexapod.schedule.schedule import Dates, Schedule
from hexapod.staffing.effort import effort_of
from hexapod.worktime.clock import date_of, moment_of, today
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


@dataclass(frozen=True)
class Troubles:
    """Tasks in conflict, and tasks that somebody overloaded works on."""

    conflicts: Collection[str] = ()
    overloads: Collection[str] = ()


NO_TROUBLES = Troubles()


@dataclass(slots=True)
class Reading:
    """One task of a plan with its dates, as expressions read it."""

    plan: Plan
    schedule: Dates
    task: Task
    troubles: Troubles = NO_TROUBLES
    computed: dict[str, Value] = field(default_factory=dict)  # fields that were computed already, by name

    @property
    def values(self) -> dict[str, Value]:
        return dict(self.task.fields)

    def date(self, name: str) -> Value:
        if not self.schedule.has(self.task.id):
            return None
        return int(getattr(self.schedule, name)[self.schedule.slots[self.task.id]])

    def percent(self) -> float:
        """How much is done; of a summary by the durations below it."""
        if not isinstance(self.schedule, Schedule) or not self.plan.is_summary(self.task.id):
            return self.task.percent
        return float(self.schedule.network.percents[self.schedule.slots[self.task.id]])


def _plain(kind: Kind, run: Callable[[Reading], Value]) -> Expression:
    return Expression(kind, run, frozenset())


def _limit(reading: Reading, name: str) -> Value:
    found = [limit.at for limit in reading.task.limits if limit.kind.value.startswith(name)]
    return max(found) if found else None


def _is_near_critical(reading: Reading) -> Value:
    room = reading.date("total_float")
    if room is None or reading.date("critical"):
        return False
    return int(room) <= reading.plan.projects[reading.task.project].near_critical_float


def _state(reading: Reading) -> Value:
    done = reading.percent()
    return "complete" if done >= 100 else "in progress" if done > 0 else "unstarted"


def _is_late(reading: Reading) -> Value:
    if not reading.schedule.has(reading.task.id):
        return None
    status = reading.plan.projects[reading.task.project].status_date
    return is_late(reading.schedule.dates(reading.task.id), reading.percent(), status)


PLAN_FIELDS: dict[str, Expression] = {
    "name": _plain(Kind.TEXT, lambda r: r.task.name),
    "number": _plain(Kind.TEXT, lambda r: number_of(r.plan, r.task.id)),
    "project": _plain(Kind.TEXT, lambda r: r.plan.projects[r.task.project].name),
    "summary": _plain(Kind.YES_NO, lambda r: r.plan.is_summary(r.task.id)),
    "milestone": _plain(Kind.YES_NO, lambda r: r.task.kind == "milestone" or r.task.minutes == 0),
    "duration": _plain(Kind.LENGTH, lambda r: r.date("duration")),
    "start": _plain(Kind.DATE, lambda r: r.date("start")),
    "finish": _plain(Kind.DATE, lambda r: r.date("finish")),
    "early start": _plain(Kind.DATE, lambda r: r.date("early_start")),
    "early finish": _plain(Kind.DATE, lambda r: r.date("early_finish")),
    "late start": _plain(Kind.DATE, lambda r: r.date("late_start")),
    "late finish": _plain(Kind.DATE, lambda r: r.date("late_finish")),
    "float": _plain(Kind.LENGTH, lambda r: r.date("total_float")),
    "free float": _plain(Kind.LENGTH, lambda r: r.date("free_float")),
    "critical": _plain(Kind.YES_NO, lambda r: bool(r.date("critical"))),
    "near critical": _plain(Kind.YES_NO, lambda r: _is_near_critical(r)),
    "conflict": _plain(Kind.YES_NO, lambda r: r.task.id in r.troubles.conflicts),
    "overload": _plain(Kind.YES_NO, lambda r: r.task.id in r.troubles.overloads),
    "role": _plain(Kind.TEXT, lambda r: ", ".join(
        x.name for x in map(r.plan.resources.__getitem__, r.plan.assigned.get(r.task.id, ()))
        if x.kind is ResourceKind.ROLE)),
    "initials": _plain(Kind.TEXT, lambda r: ", ".join(
        r.plan.resources[x].initials for x in r.plan.assigned.get(r.task.id, ()))),
    "target": _plain(Kind.DATE, lambda r: r.task.target),
    "must start": _plain(Kind.DATE, lambda r: _limit(r, "must_start")),
    "must finish": _plain(Kind.DATE, lambda r: _limit(r, "must_finish")),
    "priority": _plain(Kind.NUMBER, lambda r: r.task.priority),
    "done": _plain(Kind.NUMBER, lambda r: r.percent()),
    "state": _plain(Kind.TEXT, _state),
    "late": _plain(Kind.YES_NO, _is_late),
    "stream": _plain(Kind.TEXT, lambda r: stream_of(r.plan, r.task.id)),
    "tags": _plain(Kind.TEXT, lambda r: ", ".join(r.task.tags)),
    "notes": _plain(Kind.TEXT, lambda r: r.task.notes),
    "level": _plain(Kind.NUMBER, lambda r: len(r.plan.ancestors(r.task.id)) + 1),
    "people": _plain(Kind.NUMBER, lambda r: len(r.plan.assigned.get(r.task.id, ()))),
    "who": _plain(Kind.TEXT, lambda r: ", ".join(r.plan.resources[x].name for x in r.plan.assigned.get(r.task.id, ()))),
    "work": _plain(Kind.LENGTH, lambda r: round(
        sum(effort_of(r.plan, a) for a in r.plan.assignments_of(r.task.id)))),
    "today": _plain(Kind.DATE, lambda r: today()),
}  # fmt: skip


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
    found = dict(PLAN_FIELDS)
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
    kind, name = _KINDS[own.kind], own.name
    if own.kind is FieldKind.PERSON:

        def person(reading: Reading) -> Value:
            value = value_in(own, reading.values.get(name))
            resource = reading.plan.resources.get(str(value))
            return None if value is None else resource.name if resource else str(value)

        return Expression(kind, person, frozenset({name.lower()}))
    return Expression(kind, lambda reading: value_in(own, reading.values.get(name)), frozenset({name.lower()}))
