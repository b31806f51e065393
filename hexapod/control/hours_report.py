"""The report of hours: planned and logged by owner and by phase, with what is left and what is over."""

from __future__ import annotations

from collections.abc import Collection

from hexapod.control.efforts import Efforts
from hexapod.control.hours import NO_HOURS, Hours, person_and_phase
from hexapod.control.ledger import HOUR, Ledger
from hexapod.staffing.reports import StaffFacts, StaffReport, Value

TITLE = "Planned and logged by owner and phase"
MOST_SAID = 8


def planned_and_logged(facts: StaffFacts, only: Collection[str] | None = None) -> StaffReport:
    """By project, phase and who: hours planned, logged, left and over; of some projects ``only``, where they are given.
    The periods of the facts play no part."""
    plan, efforts, ledger = facts.plan, Efforts.of(facts.schedule, facts.demand), Ledger.of(facts.plan)
    rows: list[tuple[Value, ...]] = []
    over: list[tuple[int, str]] = []
    whole = NO_HOURS
    for project in plan.projects_in_order():
        if project.archived if only is None else project.id not in only:
            continue
        for who, top, hours in person_and_phase(efforts, ledger, project.id):
            name, phase = plan.resources[who].name, plan.tasks[top].name
            numbers = (hours.planned, hours.logged, hours.left, hours.over, hours.forecast)
            rows.append((name, project.name, phase, *(_hours(n) for n in numbers)))
            whole = whole.plus(hours)
            if hours.over:
                over.append((hours.over, f"{name} is {_said(hours.over)} over in “{phase}”, {_of(hours)}."))
    gist = [f"{_said(whole.logged)} are logged of {_said(whole.planned)} that are planned."]
    gist += [words for _, words in sorted(over, reverse=True)[:MOST_SAID]] or ["Nobody is over what was planned."]
    headings = ("Who", "Project", "Phase", "Planned", "Logged", "Left", "Over", "Forecast")
    return StaffReport(TITLE, tuple(gist), headings, tuple(rows))


def _of(hours: Hours) -> str:
    return f"{_said(hours.logged)} of {_said(hours.planned)}"


def _hours(minutes: int) -> float:
    return round(minutes / HOUR, 1)


def _said(minutes: int) -> str:
    return f"{minutes / HOUR:,.1f}".removesuffix(".0") + " h"
