"""The value of all projects of a file, for the command line: what an earlier day had earned comes from the history."""

from __future__ import annotations

from pathlib import Path

from hexapod.control.ledger import Ledger
from hexapod.control.planned_value import Measure
from hexapod.control.value import Value, Valuing
from hexapod.control.value_history import plan_told_by
from hexapod.errors import BadFile, BadText
from hexapod.formats.files import WORKSPACE, load
from hexapod.plan.plan import Plan
from hexapod.plan.records import DAY
from hexapod.session import Session
from hexapod.worktime import clock
from hexapod.worktime.clock import iso
from hexapod.worktime.dates import parse_moment


def values_of_file(name: str, at: str | None, measure: str) -> tuple[Plan, int | None, list[Value]]:
    """The plan, the moment that was asked for or that all projects share, and the value of each project in order."""
    moment = None if at is None else read_moment(at)
    path = Path(name)
    if path.suffix != WORKSPACE:
        plan = load(name)
        return plan, *_values(plan, moment, Measure(measure), None)
    session = Session.open(path, read_only=True)  # a window may have it open
    try:
        return session.plan, *_values(session.plan, moment, Measure(measure), session)
    finally:
        session.close()


def read_moment(text: str) -> int:
    """A moment in ISO 8601; a date alone is the end of that day. ``BadFile`` for anything else."""
    try:
        moment = parse_moment(text)
    except BadText as error:
        raise BadFile(f"--at: {error}") from None
    return moment if "T" in text or ":" in text else moment + DAY


def _values(
    plan: Plan, moment: int | None, measure: Measure, session: Session | None
) -> tuple[int | None, list[Value]]:
    ledger, today = Ledger.of(plan), (clock.now() // DAY + 1) * DAY
    values = []
    for project in plan.projects_in_order():
        status = project.status_date
        at = moment if moment is not None else today if status is None else status
        told: Plan | None = plan
        if status is not None and at < status:
            told = None
            if session is not None:
                past = ((row.moment, changes) for row, changes in session.past())
                told = plan_told_by(plan, project.id, at, past)
        valuing = Valuing.of(plan, project.id, ledger, at)
        values.append(valuing.at(at, measure, None if told is None else valuing.parts(told)))
    moments = {value.at for value in values}
    return moments.pop() if len(moments) == 1 else moment, values


def value_rows(values: list[Value]) -> list[list[str]]:
    """A table of values, with its headings."""
    rows = [["Project", "At", "Planned", "Earned", "Spent", "SPI", "CPI", "Budget", "At completion", "Finish"]]
    for value in values:
        whole = value.whole
        spent = (_amount(value.measure, n) for n in (whole.pv, whole.ev, whole.ac))
        indices = ("" if index is None else f"{index:.2f}" for index in (whole.spi, whole.cpi))
        ends = (_amount(value.measure, n) for n in (whole.bac, whole.eac))
        finish = "" if value.finish is None else _spaced(value.finish)
        rows.append([value.name, _spaced(value.at), *spent, *indices, *ends, finish])
    return rows


def _spaced(moment: int) -> str:
    return iso(moment).replace("T", " ")


def _amount(measure: Measure, amount: int | None) -> str:
    if amount is None:
        return ""
    if measure is Measure.HOURS:
        return f"{amount / 60:.1f} h"
    return f"{'-' if amount < 0 else ''}{abs(amount) // 100}.{abs(amount) % 100:02}"
