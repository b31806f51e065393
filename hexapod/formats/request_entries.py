"""Requests in plan JSON: written and read."""

from __future__ import annotations

from hexapod.formats.documents import RequestEntry
from hexapod.formats.places import day_or_none, moment_at, moment_or_none
from hexapod.plan.requests import Request
from hexapod.worktime.clock import date_of, iso


def request_entry(r: Request) -> RequestEntry:
    wanted_by = None if r.wanted_by is None else date_of(r.wanted_by).isoformat()
    answered = None if r.answered is None else iso(r.answered)
    return RequestEntry(
        r.id, r.name, iso(r.asked), r.why, wanted_by, r.size, r.benefit, r.who, r.email, r.state, r.word, r.by,
        answered, r.project, r.source,
    )  # fmt: skip


def request_of(entry: RequestEntry, place: str) -> Request:
    return Request(
        entry.id, entry.name, moment_at(entry.asked, f"{place}.asked"), entry.why,
        day_or_none(entry.wanted_by, f"{place}.wanted_by"), entry.size, entry.benefit, entry.who, entry.email,
        entry.state, entry.word, entry.by, moment_or_none(entry.answered, f"{place}.answered"), entry.project,
        entry.source,
    )  # fmt: skip
