"""Builds the Alder Quay Museum workspace: three projects that share one staff, typed in edit by edit."""

from __future__ import annotations

from datetime import date
from pathlib import Path

import platformdirs

from hexapod.demo.plans import GALLERY, LEAVE, PEOPLE, RESERVED, ROLES, ROOF, STORE_MOVE
from hexapod.fields.assignment_text import parse_assignments
from hexapod.fields.link_text import parse_links
from hexapod.formats.pool_text import read_share, read_skills
from hexapod.plan import edits
from hexapod.plan.outline import rows, task_at
from hexapod.plan.ranks import ranks_between
from hexapod.plan.records import DAY, Calendar, CalendarException, Project, Reservation, Resource, ResourceKind
from hexapod.session import Session
from hexapod.system.files import make_folder
from hexapod.worktime.clock import day_number
from hexapod.worktime.lengths import parse_length

CALENDAR = "museum"


def demo_workspace(path: Path | None = None) -> Path:
    """The demo's file, built if it is not there yet; by default in the user's data folder."""
    path = path or Path(platformdirs.user_data_dir("hexapod")) / "Alder Quay Museum.hexapod"
    make_folder(path.parent)
    if not path.exists():
        build_demo(path)
    return path


def build_demo(path: Path) -> None:
    """Build the demo in a new file."""
    session = Session.create(path)
    try:
        _set_up(session)
        gallery = _type_project(session, "Six-Legs Gallery", date(2026, 9, 7), GALLERY, date(2026, 12, 11))
        store = _type_project(session, "Collection Store Move", date(2026, 9, 14), STORE_MOVE, None)
        roof = _type_project(session, "Glasshouse Roof", date(2026, 9, 21), ROOF, date(2027, 2, 26))
        plan = session.plan
        cleaned, packed = task_at(plan, gallery, "2.4"), task_at(plan, store, "3.3")
        watertight = task_at(plan, roof, "3.6")
        assert cleaned and packed and watertight
        session.apply(edits.link(plan, cleaned, packed))
        _reserve(session, [gallery, store, roof])
        wanted = _at(date(2026, 12, 18), 17)
        session.apply(edits.set_task(plan, watertight, "Want “Watertight” by 18 Dec 2026", target=wanted))
        for project, number, percent in ((gallery, "1.1", 100), (gallery, "1.2", 100), (gallery, "1.3", 60),
                                         (gallery, "2.1", 35), (store, "1.1", 100), (store, "1.2", 50)):  # fmt: skip
            done = task_at(session.plan, project, number)
            assert done
            session.apply(edits.set_percent(session.plan, [done], percent))
    finally:
        session.close()


def _set_up(session: Session) -> None:
    closed = CalendarException(day_number(date(2026, 12, 24)), day_number(date(2027, 1, 3)), name="Museum closed")
    museum = Calendar(CALENDAR, "Museum week", base="standard", exceptions=(closed,), holidays="GB")
    session.apply(edits.save_calendar(session.plan, museum))
    roles, people = _cells(ROLES), _cells(PEOPLE)
    leave = {who: (CalendarException(_day(first), _day(last)),) for who, first, last in _cells(LEAVE)}
    ranks = ranks_between(None, None, len(roles) + len(people))
    for (name, initials), rank in zip(roles, ranks, strict=False):
        role = Resource(initials.lower(), name, rank, ResourceKind.ROLE, calendar=CALENDAR, initials=initials)
        session.apply(edits.save_resource(session.plan, role))
    for cells, rank in zip(people, ranks[len(roles) :], strict=True):
        name, initials, kind, capacity, *more = cells
        role_of, skills, section, others = (*more, "", "", "", "")[:4]
        resource = Resource(
            initials.lower(),
            name,
            rank,
            ResourceKind(kind),
            float(capacity),
            calendar=CALENDAR,
            initials=initials,
            role=role_of.lower() or None,
            skills=read_skills(skills),
            section=section,
            roles=(others.lower(),) if others else (),
            leave=leave.get(initials, ()),
        )
        session.apply(edits.save_resource(session.plan, resource))


def _reserve(session: Session, projects: list[str]) -> None:
    for who, project, share, first, last in _cells(RESERVED):
        resource = next(r.id for r in session.plan.resources.values() if r.initials == who)
        made = Reservation(
            edits.new_id(),
            projects[int(project) - 1],
            resource,
            read_share(share),
            _day(first) if first else None,
            _day(last) if last else None,
        )
        session.apply(edits.save_reservation(session.plan, made))


def _day(text: str) -> int:
    return day_number(date.fromisoformat(text))


def _cells(text: str) -> list[list[str]]:
    return [[part.strip() for part in line.split("|")] for line in text.strip().splitlines()]


def _at(day: date, hour: int) -> int:
    return day_number(day) * DAY + hour * 60


def _type_project(session: Session, name: str, start: date, text: str, wanted: date | None) -> str:
    """Type an outline: the names at once, then each row's cells. The project's id."""
    project = edits.new_id()
    last = session.plan.projects_in_order()
    session.apply(
        edits.save_project(
            session.plan,
            Project(
                project,
                name,
                _at(start, 8),
                ranks_between(last[-1].rank if last else None, None, 1)[0],
                calendar=CALENDAR,
                target_finish=None if wanted is None else _at(wanted, 17),
            ),
        )
    )
    lines = text.strip("\n").splitlines()
    session.apply(edits.add_text(project, "\n".join(line.split("|")[0].rstrip() for line in lines)))
    for row, line in zip(rows(session.plan, project), lines, strict=True):
        cells = [cell.strip() for cell in line.split("|")[1:]]
        if not cells:
            continue
        duration, links, who = cells
        session.apply(edits.set_durations(session.plan, [row.task], parse_length(duration)))
        if links:
            session.apply(edits.set_links(session.plan, row.task, parse_links(session.plan, row.task, links)))
        if who:
            found = parse_assignments(session.plan, row.task, who)
            session.apply(edits.set_assignments(session.plan, row.task, found))
    return project
