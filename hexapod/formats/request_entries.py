"""Requests, approvals, their routes, and deliverables in plan JSON: written and read."""

from __future__ import annotations

from hexapod.formats.documents import ApprovalAnswerEntry, ApprovalEntry, DeliverableEntry, RequestEntry, RouteEntry
from hexapod.formats.places import day_or_none, moment_at, moment_or_none
from hexapod.plan.approvals import Approval, ApprovalAnswer, Route
from hexapod.plan.deliverables import Deliverable
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


def route_entry(r: Route) -> RouteEntry:
    return RouteEntry(r.id, r.name, list(r.people), r.in_order)


def route_of(entry: RouteEntry, rank: str) -> Route:
    return Route(entry.id, entry.name, rank, tuple(entry.people), entry.in_order)


def approval_entry(a: Approval) -> ApprovalEntry:
    answers = [ApprovalAnswerEntry(x.person, x.name, x.yes, x.word, iso(x.at)) for x in a.answers]
    return ApprovalEntry(
        a.id, a.task, list(a.people), a.in_order, a.work, a.by, iso(a.asked), answers, a.deliverable,
    )  # fmt: skip


def approval_of(entry: ApprovalEntry, place: str) -> Approval:
    answers = tuple(
        ApprovalAnswer(x.person, x.name, x.yes, x.word, moment_at(x.at, f"{place}.answers[{i}].at"))
        for i, x in enumerate(entry.answers)
    )
    asked = moment_or_none(entry.asked, f"{place}.asked") or 0
    return Approval(
        entry.id, entry.task, tuple(entry.people), entry.in_order, entry.work, entry.by, asked, answers,
        entry.deliverable,
    )  # fmt: skip


def deliverable_entry(d: Deliverable) -> DeliverableEntry:
    handed = None if d.handed is None else iso(d.handed)
    return DeliverableEntry(d.id, d.task, d.name, d.asked, list(d.files), handed, d.by)


def deliverable_of(entry: DeliverableEntry, place: str, rank: str) -> Deliverable:
    handed = moment_or_none(entry.handed, f"{place}.handed")
    return Deliverable(entry.id, entry.task, entry.name, rank, entry.asked, tuple(entry.files), handed, entry.by)
