"""Reports of an open workspace or a file, of the present or of days that are past: finds the plan as it was then."""

from __future__ import annotations

from collections.abc import Callable, Collection, Iterator, Sequence
from contextlib import contextmanager
from functools import partial
from pathlib import Path

from hexapod.errors import EditRefused
from hexapod.formats.files import WORKSPACE, load
from hexapod.plan.kept import reports_in_order
from hexapod.plan.plan import Plan
from hexapod.plan.records import DAY
from hexapod.reports.basis import Basis, outside_basis, scope_of
from hexapod.reports.catalogue import REPORTS, make_report, report_kind
from hexapod.reports.report import Report, Words, plain_words
from hexapod.schedule.engine import schedule
from hexapod.schedule.schedule import Schedule
from hexapod.session import Session
from hexapod.staffing.demand import Demand
from hexapod.store.history import HistoryRow
from hexapod.worktime import clock


def basis_of(
    session: Session,
    *,
    days: int = 7,
    until: int | None = None,
    projects: Collection[str] = (),
    department: str = "",
    words: Words | None = None,
    known: Schedule | None = None,
    history: Sequence[HistoryRow] | None = None,
    demand: Demand | None = None,
) -> Basis:
    """What reports of a session are made from: its plan as it is, or as it was at the end of some days that are past.

    ``until`` is the end of these days (minutes), else that of today. ``known`` are the dates of the present plan and
    ``history`` what led to it, where the caller has both; then it may be called from another thread. ``EditRefused``
    where the plan was not there yet.
    """
    now = clock.now()
    tomorrow = (now // DAY + 1) * DAY
    end = tomorrow if until is None else min(until, tomorrow)
    since = end - days * DAY
    rows = list(session.history) if history is None else history
    before = [row for row in rows if row.moment < end]
    if end == tomorrow:
        found = session.compute() if known is None else known
    elif before:
        now, found = end, schedule(session.plan_after(before[-1].number))
    else:
        raise EditRefused("The plan was not there yet in these days.")
    past = [(row, row.moment, changes) for row, changes in session.past([r for r in before if r.moment >= since])]
    scope = scope_of(found.plan, projects=projects, department=department)
    return Basis(
        found, now, scope, since, end, past if rows else None, words or plain_words(), known_demand=demand
    )  # fmt: skip


MakeBasis = Callable[..., Basis]


@contextmanager
def opened(name: str) -> Iterator[tuple[Plan, MakeBasis]]:
    """The plan of a workspace or a file, which is only read, and what makes a basis of it: it takes what ``basis_of``
    takes. ``BadFile`` and ``EditRefused`` as reading it does."""
    path = Path(name)
    if path.suffix == WORKSPACE:
        session = Session.open(path, read_only=True)  # a window may have it open
        try:
            yield session.plan, partial(basis_of, session)
        finally:
            session.close()
        return
    plan = load(name)
    end = (clock.now() // DAY + 1) * DAY

    def basis(
        *, days: int = 7, until: int | None = None, projects: Collection[str] = (), department: str = ""
    ) -> Basis:
        if until is not None:
            raise EditRefused("Only a workspace has a history: of this file there is a report of today.")
        scope = scope_of(plan, projects=projects, department=department)
        return Basis(schedule(plan), clock.now(), scope, end - days * DAY, end)

    yield plan, basis


def basis_of_file(name: str, *, days: int = 7, project: str = "", department: str = "") -> Basis:
    """What reports of a file are made from; a project may be named."""
    with opened(name) as (plan, basis):
        return basis(days=days, projects=project_named(plan, project), department=department)


def report_of_file(
    name: str,
    wanted: str,
    *,
    days: int | None = None,
    until: int | None = None,
    project: str = "",
    department: str = "",
) -> tuple[Report, Words]:
    """A report of a file by the name under which it is kept there, or by that of a usual one; and how its figures are
    said. ``until`` is the end of its days (minutes), else that of today."""
    with opened(name) as (plan, basis):
        kept = next((r for r in plan.reports.values() if r.name.casefold() == wanted.strip().casefold()), None)
        projects = project_named(plan, project)
        if kept is None:
            kind = report_kind(wanted)
            found = basis(days=days or kind.days, until=until, projects=projects, department=department)
            return make_report(found, kind.parts, kind.title), found.words
        if not projects and not department:
            projects, department = kept.projects, kept.department
        found = basis(days=days or kept.days, until=until, projects=projects, department=department)
        found = outside_basis(found) if kept.outside else found
        return make_report(found, kept.parts, kept.name, heading=kept.heading, text=kept.text), found.words


def names_of_reports(name: str) -> list[tuple[str, str]]:
    """What a report of a file may be asked for by, and what it is: kept ones first."""
    with opened(name) as (plan, _):
        kept = [(r.name, "kept in this file") for r in reports_in_order(plan.reports.values())]
    return [*kept, *((kind.id, kind.title) for kind in REPORTS.values())]


def project_named(plan: Plan, name: str) -> tuple[str, ...]:
    """The project of an id or a name; none where nothing is named. ``EditRefused`` where there is none of that name."""
    if not name:
        return ()
    if name in plan.projects:
        return (name,)
    found = [p.id for p in plan.projects_in_order() if p.name.casefold() == name.strip().casefold()]
    if not found:
        raise EditRefused(f"There is no project “{name[:60]}”.")
    return (found[0],)
