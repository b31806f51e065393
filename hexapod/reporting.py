"""Reports of an open workspace or a file, of the present or of days that are past: finds the plan as it was then."""

from __future__ import annotations

from collections.abc import Collection, Sequence
from pathlib import Path

from hexapod.errors import EditRefused
from hexapod.formats.files import WORKSPACE, load
from hexapod.plan.plan import Plan
from hexapod.plan.records import DAY
from hexapod.reports.basis import Basis, scope_of
from hexapod.reports.report import Words, plain_words
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


def basis_of_file(name: str, *, days: int = 7, project: str = "", department: str = "") -> Basis:
    """The same of a workspace or a plan in a file, which is only read; a project may be named. ``BadFile`` and
    ``EditRefused`` as reading it does."""
    path = Path(name)
    if path.suffix == WORKSPACE:
        session = Session.open(path, read_only=True)  # a window may have it open
        try:
            wanted = project_named(session.plan, project)
            return basis_of(session, days=days, projects=wanted, department=department)
        finally:
            session.close()
    plan = load(name)
    now = clock.now()
    end = (now // DAY + 1) * DAY
    scope = scope_of(plan, projects=project_named(plan, project), department=department)
    return Basis(schedule(plan), now, scope, end - days * DAY, end)


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
