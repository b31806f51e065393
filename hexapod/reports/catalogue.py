"""Which reports there are, of which parts each is made, and making one."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass

from hexapod.errors import EditRefused
from hexapod.plan.records import DAY
from hexapod.reports.basis import Basis
from hexapod.reports.parts import control, deliverables, projects, staff, words
from hexapod.reports.report import Part, Report

MakePart = Callable[[Basis], Part]


@dataclass(frozen=True)
class PartKind:
    """A part that a report may have: its name in a choice, and what makes it."""

    id: str
    title: str
    make: MakePart


@dataclass(frozen=True)
class ReportKind:
    """A report to begin with; ``parts`` may be chosen otherwise. ``days`` is how many it looks back on."""

    id: str
    title: str
    parts: tuple[str, ...]
    days: int = 7


PARTS = {
    part.id: part
    for part in (
        PartKind("week", "The week in words", words.week),
        PartKind("status", "How it stands", projects.status),
        PartKind("portfolio", "All projects", projects.portfolio),
        PartKind("attention", "Projects that need somebody", projects.attention),
        PartKind("how_far", "How far the tasks are", projects.how_far),
        PartKind("milestones", "Milestones", projects.milestones),
        PartKind("coming", "Milestones of the next weeks", projects.coming),
        PartKind("over", "Who is over, who is free", staff.over),
        PartKind("reserved", "Assigned against reserved", staff.reserved),
        PartKind("roles", "Capacity against demand by role", staff.roles),
        PartKind("short", "Who is short", staff.short),
        PartKind("hours", "Hours and sheets", staff.hours),
        PartKind("owners", "Hours by owner and phase", staff.owners_and_phases),
        PartKind("ahead", "The next weeks by person", staff.ahead),
        PartKind("by_week", "Who does what, by week", staff.by_week),
        PartKind("work", "What each person has", staff.work),
        PartKind("money", "Money by month", control.money),
        PartKind("value", "Earned value", control.value),
        PartKind("risks", "Risks, issues and decisions", control.risks),
        PartKind("stages", "Stages", control.stages),
        PartKind("deliverables", "What is handed over", deliverables.deliverables),
    )
}
REPORTS = {
    report.id: report
    for report in (
        ReportKind("monday", "Monday report", ("week", "attention", "coming", "short", "risks")),
        ReportKind("week", "The week in words", ("week",)),
        ReportKind("status", "How it stands", ("status", "week", "how_far", "coming", "risks")),
        ReportKind("portfolio", "All projects", ("portfolio", "how_far")),
        ReportKind("milestones", "Milestones", ("milestones",)),
        ReportKind("staff", "Staff", ("over", "reserved", "roles")),
        ReportKind("ahead", "The next weeks by person", ("by_week", "ahead")),
        ReportKind("work", "What each person has", ("work",)),
        ReportKind("hours", "Hours", ("hours", "owners")),
        ReportKind("money", "Money", ("money", "value")),
        ReportKind("risks", "Risks", ("risks",)),
        ReportKind("stages", "Stages", ("stages",)),
        ReportKind("deliverables", "What is handed over", ("deliverables",)),
    )
}


def report_kind(name: str) -> ReportKind:
    """By its id or its title; ``EditRefused`` with the names that there are."""
    wanted = name.strip().casefold()
    for kind in REPORTS.values():
        if wanted in (kind.id, kind.title.casefold()):
            return kind
    raise EditRefused(f"There is no report “{name[:60]}”. There are: {', '.join(REPORTS)}.")


def make_report(basis: Basis, parts: Sequence[str], title: str, *, heading: str = "", text: str = "") -> Report:
    """Chosen parts in their order, under an own heading where there is one. What is no part is left out."""
    made = tuple(PARTS[part].make(basis) for part in parts if part in PARTS)
    return Report(heading or title, below_of(basis), made, text, basis.now, basis.since, basis.until)


def below_of(basis: Basis) -> str:
    """Of what a report is, and of which days."""
    names = [p.name for p in basis.projects()]
    every = sum(not p.archived for p in basis.plan.projects.values())
    departments = {p.department for p in basis.projects()}
    if len(names) == 1:
        whose = names[0]
    elif len(names) == every:
        whose = f"All {every} projects"
    elif len(departments) == 1 and "" not in departments:
        whose = f"{departments.pop()}, {len(names)} projects"
    else:
        whose = f"{len(names)} projects" if names else "No project"
    last = basis.words.long_day(basis.until - 1)
    if basis.until - basis.since <= DAY:
        return f"{whose} · {last}"
    return f"{whose} · {basis.words.day(basis.since)} to {last}"
