"""Records as the entries of a plan JSON document."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

import msgspec

from hexapod.formats.account_entries import baseline_entry, budget_entry, log_entry, money_entry, sheet_entry
from hexapod.formats.documents import (
    AssignmentEntry,
    CalendarEntry,
    CapacityEntry,
    CommentEntry,
    Entry,
    ErrandEntry,
    ExceptionEntry,
    FieldEntry,
    LimitEntry,
    LinkEntry,
    ProjectEntry,
    RateEntry,
    ReportEntry,
    ReservationEntry,
    ResourceEntry,
    SkillEntry,
    StageEntry,
    TaskEntry,
    ThresholdsEntry,
    ViewEntry,
)
from hexapod.formats.request_entries import approval_entry, deliverable_entry, request_entry, route_entry
from hexapod.formats.risk_entries import risk_entry
from hexapod.plan.records import (
    DAY,
    Assignment,
    Calendar,
    CalendarException,
    Comment,
    Errand,
    Field,
    Interval,
    KeptReport,
    KeptView,
    Link,
    Project,
    Reservation,
    Resource,
    Skill,
    Stage,
    Task,
)
from hexapod.plan.thresholds import Thresholds
from hexapod.worktime.clock import date_of, iso

WEEKDAYS = ("mon", "tue", "wed", "thu", "fri", "sat", "sun")


def _hours(intervals: tuple[Interval, ...]) -> list[str]:
    return [f"{b // 60:02}:{b % 60:02}-{_hour(e)}" for b, e in intervals]


def _hour(end: int) -> str:
    """The end of an interval; beyond midnight it is the hour of the next day."""
    within = end if end <= DAY else end - DAY
    return f"{within // 60:02}:{within % 60:02}"


def calendar_entry(calendar: Calendar) -> CalendarEntry:
    week = {d: _hours(day) for d, day in zip(WEEKDAYS, calendar.week, strict=True) if day is not None}
    return CalendarEntry(
        calendar.id,
        calendar.name,
        calendar.base,
        week,
        _exception_entries(calendar.exceptions),
        calendar.holidays,
        calendar.day_minutes / 60,
        calendar.week_minutes / 60,
        calendar.month_days,
    )


def _exception_entries(exceptions: tuple[CalendarException, ...]) -> list[ExceptionEntry]:
    return [
        ExceptionEntry(None, None, _hours(e.working), e.rule, e.name)
        if e.rule
        else ExceptionEntry(
            date_of(e.first_day).isoformat(), date_of(e.last_day).isoformat(), _hours(e.working), "", e.name
        )
        for e in exceptions
    ]


def assignment_entry(a: Assignment) -> AssignmentEntry:
    first, last = (None if day is None else date_of(day).isoformat() for day in (a.first_day, a.last_day))
    return AssignmentEntry(a.task, a.resource, a.units, a.hours_a_day, a.total, first, last, a.curve)


def resource_entry(r: Resource) -> ResourceEntry:
    return ResourceEntry(
        id=r.id,
        name=r.name,
        kind=r.kind,
        capacity=r.capacity,
        calendar=r.calendar,
        initials=r.initials,
        leave=_exception_entries(r.leave),
        email=r.email,
        role=r.role,
        roles=list(r.roles),
        team=r.team,
        skills=[s.name if s.level == Skill(s.name).level else SkillEntry(s.name, s.level) for s in r.skills],
        group=r.section,
        rate=r.rate / 100,
        rate_from=[RateEntry(date_of(day).isoformat(), rate / 100) for day, rate in r.rate_from],
        capacity_from=[CapacityEntry(date_of(day).isoformat(), units) for day, units in r.capacity_from],
        notices=dict(r.notices),
        due_days=r.due_days,
    )


def _iso(minutes: int | None) -> str | None:
    return None if minutes is None else iso(minutes)


def project_entry(p: Project) -> ProjectEntry:
    return ProjectEntry(
        p.id,
        iso(p.start),
        p.name,
        p.calendar,
        _iso(p.status_date),
        _iso(p.target_finish),
        p.priority,
        p.critical_float,
        p.near_critical_float,
        p.direction,
        _iso(p.finish),
        p.gap,
        p.unit,
        p.folder,
        p.archived,
        p.out_of_order,
        p.led_by,
        p.baseline,
        dict(p.moves_together),
        p.on_hold,
        p.department,
        p.outside,
        p.word,
        p.word_by,
        _iso(p.word_at),
        dict(p.fields),
    )


def reservation_entry(r: Reservation) -> ReservationEntry:
    first, last = (None if day is None else date_of(day).isoformat() for day in (r.first_day, r.last_day))
    return ReservationEntry(r.id, r.project, r.resource, r.units, first, last)


def task_entry(t: Task) -> TaskEntry:
    return TaskEntry(
        id=t.id,
        project=t.project,
        parent=t.parent,
        name=t.name,
        kind=t.kind,
        duration=t.duration,
        elapsed=t.elapsed,
        calendar=t.calendar,
        priority=t.priority,
        pinned=t.pinned,
        as_late_as_possible=t.as_late_as_possible,
        limits=[LimitEntry(limit.kind, iso(limit.at), limit.by) for limit in t.limits],
        target=_iso(t.target),
        hold=t.hold,
        stream=t.stream,
        notes=t.notes,
        tags=list(t.tags),
        fields=dict(t.fields),
        attachments=list(t.attachments),
        repeats=t.repeats,
        occurrence=_iso(t.occurrence),
        percent=t.percent,
        effort=t.effort,
        keeps=t.keeps,
        actual_start=_iso(t.actual_start),
        actual_finish=_iso(t.actual_finish),
        remaining=t.remaining,
        as_of=_iso(t.as_of),
        stage=t.stage,
        on_board=t.on_board,
        also_told=list(t.also_told),
        reminders=list(t.reminders),
        earns=t.earns,
        weight=t.weight,
        estimate=list(t.estimate),
        shape=t.shape,
        outside=t.outside,
    )


def link_entry(x: Link) -> LinkEntry:
    return LinkEntry(x.predecessor, x.successor, x.type, x.lag, x.lag_on, x.lag_percent, x.gap, x.gap_kept)


def field_entry(f: Field) -> FieldEntry:
    return FieldEntry(f.id, f.name, f.kind, list(f.choices), f.formula, f.outside, f.of)


def comment_entry(c: Comment) -> CommentEntry:
    return CommentEntry(c.id, c.task, c.who, iso(c.at), c.text)


def view_entry(v: KeptView) -> ViewEntry:
    return ViewEntry(v.id, v.name, msgspec.json.decode(v.shows, type=dict[str, Any]), v.of)


def report_entry(r: KeptReport) -> ReportEntry:
    return ReportEntry(
        r.id, r.name, list(r.parts), r.heading, r.text, list(r.projects), r.department, r.days, r.outside
    )  # fmt: skip


def report_from(entry: ReportEntry, rank: str) -> KeptReport:
    return KeptReport(
        entry.id, entry.name, rank, tuple(entry.parts), entry.heading, entry.text, tuple(entry.projects),
        entry.department, entry.days, entry.outside,
    )  # fmt: skip


def thresholds_entry(t: Thresholds) -> ThresholdsEntry:
    return ThresholdsEntry(t.id, t.doubt_days, t.late_days)


def thresholds_from(entry: ThresholdsEntry, place: str) -> Thresholds:
    return Thresholds(entry.id, entry.doubt_days, entry.late_days)


def stage_entry(s: Stage) -> StageEntry:
    return StageEntry(s.id, s.name, s.percent, s.most)


def errand_entry(e: Errand) -> ErrandEntry:
    due = None if e.due is None else date_of(e.due).isoformat()
    return ErrandEntry(e.id, e.resource, e.name, due, _iso(e.done))


ENTRY_OF: dict[str, Callable[[Any], Entry]] = {
    "calendars": calendar_entry,
    "projects": project_entry,
    "tasks": task_entry,
    "links": link_entry,
    "resources": resource_entry,
    "assignments": assignment_entry,
    "reservations": reservation_entry,
    "fields": field_entry,
    "comments": comment_entry,
    "views": view_entry,
    "reports": report_entry,
    "requests": request_entry,
    "routes": route_entry,
    "approvals": approval_entry,
    "thresholds": thresholds_entry,
    "deliverables": deliverable_entry,
    "stages": stage_entry,
    "errands": errand_entry,
    "logs": log_entry,
    "sheets": sheet_entry,
    "entries": money_entry,
    "budgets": budget_entry,
    "baselines": baseline_entry,
    "risks": risk_entry,
}
