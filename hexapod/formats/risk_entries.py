"""Risks as entries of a plan JSON document, and back."""

from __future__ import annotations

from hexapod.formats.documents import RiskDelayEntry, RiskEntry
from hexapod.formats.places import Misplaced, day_or_none, named
from hexapod.plan.estimates import a_third_of_the_way
from hexapod.plan.risks import Range, Risk, RiskDelay
from hexapod.worktime.clock import date_of


def risk_entry(risk: Risk) -> RiskEntry:
    due, until = (None if day is None else date_of(day).isoformat() for day in (risk.due, risk.until))
    return RiskEntry(
        id=risk.id,
        project=risk.project,
        name=risk.name,
        kind=risk.kind,
        cause=risk.cause,
        effect=risk.effect,
        chance=risk.chance,
        delays=_delay_entries(risk.delays),
        cost=_list(risk.cost),
        answer=risk.answer,
        answer_note=risk.answer_note,
        answer_cost=risk.answer_cost,
        answered=risk.answered,
        chance_after=risk.chance_after,
        delays_after=None if risk.delays_after is None else _delay_entries(risk.delays_after),
        cost_after=_list(risk.cost_after),
        owner=risk.owner,
        state=risk.state,
        due=due,
        until=until,
        about=list(risk.about),
        notes=risk.notes,
    )


def risk_of(entry: RiskEntry, place: str) -> Risk:
    named(entry.id, place)
    after = entry.delays_after
    return Risk(
        id=entry.id,
        project=entry.project,
        name=entry.name or entry.id,
        kind=entry.kind,
        cause=entry.cause,
        effect=entry.effect,
        chance=entry.chance,
        delays=_delays(entry.delays, f"{place}.delays"),
        cost=_range(entry.cost, f"{place}.cost"),
        answer=entry.answer,
        answer_note=entry.answer_note,
        answer_cost=entry.answer_cost,
        answered=entry.answered,
        chance_after=entry.chance_after,
        delays_after=None if after is None else _delays(after, f"{place}.delays_after"),
        cost_after=_range(entry.cost_after, f"{place}.cost_after"),
        owner=entry.owner,
        state=entry.state,
        due=day_or_none(entry.due, f"{place}.due"),
        until=day_or_none(entry.until, f"{place}.until"),
        about=tuple(entry.about),
        notes=entry.notes,
    )


def _delay_entries(delays: tuple[RiskDelay, ...]) -> list[RiskDelayEntry]:
    return [RiskDelayEntry(delay.task, list(delay.minutes)) for delay in delays]


def _delays(entries: list[RiskDelayEntry], place: str) -> tuple[RiskDelay, ...]:
    found = []
    for i, entry in enumerate(entries):
        minutes = _range(entry.minutes, f"{place}[{i}].minutes")
        assert minutes is not None
        found.append(RiskDelay(entry.task, minutes))
    return tuple(found)


def _list(found: Range | None) -> list[int] | None:
    return None if found is None else list(found)


def _range(found: list[int] | None, place: str) -> Range | None:
    """Best, likely and worst; of two alone the likely one is a third of the way, as of an estimate."""
    if found is None:
        return None
    if len(found) == 2:
        return found[0], a_third_of_the_way(*found), found[1]
    if len(found) != 3:
        raise Misplaced(place, "must be [best, likely, worst]")
    return found[0], found[1], found[2]
