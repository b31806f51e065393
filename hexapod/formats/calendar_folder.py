"""Calendar files in a folder, written again as the plan changes: of each person, of each project, of all milestones.

A file that says the same stays as it is, so that whoever subscribes to it hears only of what changed.
"""

from __future__ import annotations

import re
from collections.abc import Collection, Iterator
from enum import StrEnum
from pathlib import Path

from hexapod.control.mine import is_milestone, tasks_of_person
from hexapod.errors import BadFile
from hexapod.formats.icalendar_files import write_icalendar
from hexapod.plan.outline import Row, number_of, outline_order
from hexapod.plan.records import ResourceKind
from hexapod.schedule.schedule import Schedule
from hexapod.system.budgets import CALENDAR_FILE
from hexapod.system.files import make_folder, read_within, write_whole

SUFFIX = ".ics"
_STAMP = re.compile(rb"^DTSTAMP.*\r?\n", re.MULTILINE)


class CalendarKind(StrEnum):
    MILESTONES = "milestones"
    PROJECTS = "projects"
    PEOPLE = "people"


def calendar_files(schedule: Schedule, kinds: Collection[CalendarKind]) -> Iterator[tuple[str, bytes]]:
    """The name of each file and what it holds: open tasks and milestones as events."""
    plan = schedule.plan
    order = [plan.tasks[t] for t in outline_order(plan) if not plan.projects[plan.tasks[t].project].archived]
    leaves = [t for t in order if not plan.is_summary(t.id)]
    taken: set[str] = set()

    def file(name: str, tasks: list[str]) -> tuple[str, bytes]:
        shown = [Row(task, 0, number_of(plan, task)) for task in tasks]
        return _free(name, taken), write_icalendar(plan, schedule, shown, events=True)

    if CalendarKind.MILESTONES in kinds:
        yield file("Milestones", [t.id for t in leaves if is_milestone(t)])
    if CalendarKind.PROJECTS in kinds:
        for project in plan.projects_in_order():
            if not project.archived:
                yield file(project.name, [t.id for t in leaves if t.project == project.id])
    if CalendarKind.PEOPLE in kinds:
        known = {t.id for t in leaves if not t.is_done}
        for person in plan.resources_in_order():
            mine = [t for t in tasks_of_person(plan, person.id) if t in known]
            if person.kind is ResourceKind.PERSON and mine:
                yield file(person.name, sorted(mine, key=lambda t: (schedule.dates(t).start, t)))


def write_calendars(schedule: Schedule, folder: Path, kinds: Collection[CalendarKind]) -> int:
    """Write what is another; how many files were. ``BadFile`` where the folder cannot be written."""
    make_folder(folder)
    written = 0
    for name, data in calendar_files(schedule, kinds):
        path = folder / name
        if _same(path, data):
            continue
        write_whole(path, data)
        written += 1
    return written


def _same(path: Path, data: bytes) -> bool:
    """Whether a file holds this already, but for when it was made."""
    try:
        before = read_within(path, CALENDAR_FILE) if path.is_file() else b""
    except BadFile:
        return False
    return _STAMP.sub(b"", before) == _STAMP.sub(b"", data)


def _free(name: str, taken: set[str]) -> str:
    """A file name that no other one of these has."""
    plain = re.sub(r"[^\w .-]", "", name).strip(" .")[:80] or "Calendar"
    found, number = plain, 2
    while found.casefold() in taken:
        found, number = f"{plain} {number}", number + 1
    taken.add(found.casefold())
    return f"{found}{SUFFIX}"
