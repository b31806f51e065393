"""Builds the Alder Quay Museum workspace: three projects that share one staff, typed in edit by edit."""

from __future__ import annotations

from collections.abc import Mapping
from datetime import date
from functools import partial
from pathlib import Path
from types import MappingProxyType

import platformdirs
from msgspec.structs import replace

from hexapod.control.stages import first_stages
from hexapod.demo.asked import ask
from hexapod.demo.many import add_many
from hexapod.demo.plans import (
    CARDS,
    ERRANDS,
    FORMS,
    GALLERY,
    IN_HAND_AT_MOST,
    LEAVE,
    PEOPLE,
    RESERVED,
    ROLES,
    ROOF,
    STORE_MOVE,
    TOLD,
    TOLD_TOO,
    TOLD_UP_TO,
    WHY_LATE,
)
from hexapod.demo.spent import Spender, first_durations
from hexapod.demo.told import write_forms
from hexapod.demo.tried import try_out
from hexapod.demo.unsure import be_unsure
from hexapod.fields.assignment_text import parse_assignments
from hexapod.fields.link_text import parse_links
from hexapod.formats.pool_text import read_share, read_skills
from hexapod.notifying import WANTED
from hexapod.plan import edits
from hexapod.plan.edits import Edit
from hexapod.plan.notice_kinds import NoticeKind, NoticeWhen
from hexapod.plan.outline import number_of, rows, task_at
from hexapod.plan.ranks import ranks_between
from hexapod.plan.records import DAY, Calendar, CalendarException, Project, Reservation, Resource, ResourceKind, Stage
from hexapod.session import Session
from hexapod.system.files import make_folder
from hexapod.worktime.clock import day_number, moment_of
from hexapod.worktime.lengths import parse_length

CALENDAR = "museum"
BEGUN_ON = "2026-09-07"  # the day on which the plan was typed
LEADS = "jf"  # who leads the projects
WISHES = {"HB": ((NoticeKind.DUE, NoticeWhen.DAILY), (NoticeKind.MOVED, NoticeWhen.DAILY))}  # who wants to be told when
WEEK, WEEKS_TOLD = 7 * DAY, 5
BEGINS, ENDS = 8 * 60, 17 * 60  # of a day at the museum


def demo_workspace(path: Path | None = None, *, many: bool = False) -> Path:
    """The demo's file, built if it is not there yet; by default in the user's data folder. What is done in it was told
    up to the last Friday before today. ``many`` is with the 240 small projects of the museum's year."""
    name = "Alder Quay Museum, all projects.hexapod" if many else "Alder Quay Museum.hexapod"
    path = path or Path(platformdirs.user_data_dir("hexapod")) / name
    make_folder(path.parent)
    if not path.exists():
        days = (date.today() - date.fromisoformat(TOLD_UP_TO)).days
        build_demo(path, weeks=max(0, (days - 1) // 7), many=many)
    return path


def build_demo(path: Path, *, weeks: int = 0, many: bool = False) -> None:
    """Build the demo in a new file, with all dates so many weeks later than they are written; ``many`` is with 240
    projects more."""
    session = Session.create(path)
    try:
        builder = _Builder(session, 7 * weeks)
        builder.build()
        if many:
            add_many(session, builder.at, TOLD_UP_TO)
    finally:
        session.close()


class _Builder:
    """Types into an empty workspace; ``later`` is the days that all dates are moved by."""

    def __init__(self, session: Session, later: int) -> None:
        self._session, self._later = session, later

    def build(self) -> None:
        session = self._session
        session.who = "Joss Ferro"
        session.workspace.clock = partial(moment_of, self.at(BEGUN_ON, BEGINS + 60))
        self._set_up()
        gallery = self._type_project(
            "Exhibitions", "Six-Legs Gallery", "2026-09-07", GALLERY, "2026-12-11", first_durations()
        )
        store = self._type_project("Collections", "Collection Store Move", "2026-09-14", STORE_MOVE, None)
        roof = self._type_project("Estate", "Glasshouse Roof", "2026-09-21", ROOF, "2027-02-26")
        plan = session.plan
        cleaned, packed = task_at(plan, gallery, "2.4"), task_at(plan, store, "3.3")
        watertight = task_at(plan, roof, "3.6")
        assert cleaned and packed and watertight
        session.apply(edits.link(plan, cleaned, packed))
        self._reserve([gallery, store, roof])
        self._put_on_board(gallery)
        wanted = self.at("2026-12-18", ENDS)
        session.apply(edits.set_task(plan, watertight, "Give “Watertight” a target", target=wanted))
        spender = Spender(session, self.at)
        spender.set_rates()
        spender.plan_money(gallery)
        spender.keep_baselines(self.at(BEGUN_ON, BEGINS + 60))
        self._tell([gallery, store, roof], spender)
        spender.spend(gallery)
        be_unsure(session, gallery, self.at)
        self._run_errands(gallery)
        ask(session, {"gallery": gallery, "store": store}, self.at)
        try_out(session, store, roof, self.at)
        write_forms(session, gallery, FORMS)
        session.workspace.set_state(WANTED, True)

    def _set_up(self) -> None:
        session = self._session
        closed = CalendarException(self._day("2026-12-24"), self._day("2027-01-03"), name="Museum closed")
        museum = Calendar(CALENDAR, "Museum week", base="standard", exceptions=(closed,), holidays="GB")
        session.apply(edits.save_calendar(session.plan, museum))
        roles, people = _cells(ROLES), _cells(PEOPLE)
        leave = {who: (CalendarException(self._day(first), self._day(last)),) for who, first, last in _cells(LEAVE)}
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
                email=_email(name) if kind == ResourceKind.PERSON else "",
                notices=WISHES.get(initials, ()),
            )
            session.apply(edits.save_resource(session.plan, resource))

    def _reserve(self, projects: list[str]) -> None:
        session = self._session
        for who, project, share, first, last in _cells(RESERVED):
            resource = next(r.id for r in session.plan.resources.values() if r.initials == who)
            made = Reservation(
                edits.new_id(),
                projects[int(project) - 1],
                resource,
                read_share(share),
                self._day(first) if first else None,
                self._day(last) if last else None,
            )
            session.apply(edits.save_reservation(session.plan, made))

    def _put_on_board(self, project: str) -> None:
        """Stages, and the cards in them, from the first week on."""
        session = self._session
        named = first_stages()
        ranks = ranks_between(None, None, len(named))
        made = [Stage(edits.new_id(), name, rank, percent) for (name, percent), rank in zip(named, ranks, strict=True)]
        made[1] = replace(made[1], most=IN_HAND_AT_MOST)
        for stage in made:
            session.apply(edits.save_stage(session.plan, stage))
        cards = [row for number in CARDS if (row := task_at(session.plan, project, number))]
        session.apply(edits.put_on_board(session.plan, cards, True))

    def _tell(self, projects: list[str], spender: Spender) -> None:
        """Friday by Friday up to the status date, a project at a time."""
        session, status = self._session, self.at(TOLD_UP_TO, ENDS)
        told: set[tuple[str, str, str]] = set()  # project, row, what was told of it
        durations = _durations(GALLERY)
        for friday in (status - weeks * WEEK for weeks in reversed(range(WEEKS_TOLD))):
            spender.hand_in_until(friday)
            spender.change_until(projects[0], durations, friday)
            session.workspace.clock = partial(moment_of, friday - 10)
            for i, project in enumerate(projects, 1):
                if friday < session.plan.projects[project].start:
                    continue
                steps = []
                for _, number, begun, then in (cells for cells in _cells(TOLD) if cells[0] == str(i)):
                    steps += self._told(project, number, begun, then, friday, told)
                steps.append(edits.set_status_date(session.plan, project, friday))
                name = session.plan.projects[project].name
                session.apply(edits.together(f"Tell how far “{name}” is", steps))
            spender.log_until(projects[0], friday)
        number, row, words = WHY_LATE
        late = task_at(session.plan, projects[int(number) - 1], row)
        assert late
        session.apply(edits.add_comment(session.plan, late, "Rosa Okonjo", status - 120, words))

    def _run_errands(self, gallery: str) -> None:
        session = self._session
        people = {r.initials: r.id for r in session.plan.resources.values()}
        for who, name, due, done in _cells(ERRANDS):
            session.apply(edits.add_errands(session.plan, people[who], [(name, self._day(due) if due else None)]))
            if done:
                errand = next(e for e in session.plan.errands.values() if e.name == name)
                session.apply(edits.tick_errand(session.plan, errand.id, self.at(done, ENDS)))
        for who, number, days in _cells(TOLD_TOO):
            row = task_at(session.plan, gallery, number)
            assert row
            session.apply(edits.tell_also(session.plan, [row], [people[who]]))
            session.apply(edits.set_reminders(session.plan, [row], [int(days)]))

    def _told(
        self, project: str, number: str, begun: str, then: str, friday: int, told: set[tuple[str, str, str]]
    ) -> list[Edit]:
        """What is new about a row by a Friday: that it began, ended, or how much is left by the last one."""
        plan = self._session.plan
        task = task_at(plan, project, number)
        assert task
        began = self.at(begun, BEGINS if plan.tasks[task].minutes else ENDS)
        is_last = friday == self.at(TOLD_UP_TO, ENDS)
        steps: list[Edit] = []
        if began <= friday and (project, number, "begun") not in told:
            told.add((project, number, "begun"))
            steps.append(edits.begin(plan, [task], began))
        if then.endswith("left"):
            left = parse_length(then.removesuffix("left").strip())
            return [*steps, edits.set_rest(plan, [task], left)] if is_last else steps
        ended = self.at(then, ENDS)
        if ended <= friday and (project, number, "ended") not in told:
            told.add((project, number, "ended"))
            steps.append(edits.finish(plan, [task], ended))
        return steps

    def _type_project(
        self,
        department: str,
        name: str,
        start: str,
        text: str,
        wanted: str | None,
        at_first: Mapping[str, str] = MappingProxyType({}),
    ) -> str:
        """Type an outline: the names at once, then each row's cells. The project's id. ``at_first`` are durations, by
        row, that were others then."""
        session, project = self._session, edits.new_id()
        last = session.plan.projects_in_order()
        made = Project(
            project,
            name,
            self.at(start, BEGINS),
            ranks_between(last[-1].rank if last else None, None, 1)[0],
            calendar=CALENDAR,
            led_by=LEADS,
            department=department,
            target_finish=None if wanted is None else self.at(wanted, ENDS),
        )
        session.apply(edits.save_project(session.plan, made))
        lines = text.strip("\n").splitlines()
        session.apply(edits.add_text(project, "\n".join(line.split("|")[0].rstrip() for line in lines)))
        for row, line in zip(rows(session.plan, project), lines, strict=True):
            cells = [cell.strip() for cell in line.split("|")[1:]]
            if not cells:
                continue
            duration, links, who = cells
            duration = at_first.get(number_of(session.plan, row.task), duration)
            session.apply(edits.set_durations(session.plan, [row.task], parse_length(duration)))
            if links:
                session.apply(edits.set_links(session.plan, row.task, parse_links(session.plan, row.task, links)))
            if who:
                found = parse_assignments(session.plan, row.task, who)
                session.apply(edits.set_assignments(session.plan, row.task, found))
        return project

    def _day(self, text: str) -> int:
        return day_number(date.fromisoformat(text)) + self._later

    def at(self, text: str, minute: int) -> int:
        return self._day(text) * DAY + minute


def _durations(text: str) -> dict[str, int]:
    """The durations of an outline by number, in minutes."""
    found, top, below = {}, 0, 0
    for line in text.strip("\n").splitlines():
        cells = [cell.strip() for cell in line.split("|")]
        top, below = (top, below + 1) if line.startswith(" ") else (top + 1, 0)
        if len(cells) > 1:
            found[f"{top}.{below}"] = parse_length(cells[1])
    return found


def _email(name: str) -> str:
    """An address at the museum, made of the last two words of a name."""
    return f"{'.'.join(name.split()[-2:])}@alderquay.example".casefold()


def _cells(text: str) -> list[list[str]]:
    return [[part.strip() for part in line.split("|")] for line in text.strip().splitlines()]
