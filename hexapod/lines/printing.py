"""A task as a line that can be read again: ``Book speakers 5 d after 1.1 with RO by 2026-12-12``."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from itertools import groupby

from hexapod.fields.assignment_text import handle, share_text
from hexapod.fields.link_text import reference
from hexapod.lines.clauses import LIMITS
from hexapod.lines.known import Known
from hexapod.lines.line import is_quoted, read_line
from hexapod.plan.outline import Row, rows_of_text
from hexapod.plan.plan import Plan
from hexapod.plan.records import LinkType, Task
from hexapod.schedule.words import lag_text
from hexapod.worktime.calendars import units_of
from hexapod.worktime.lengths import format_duration

INDENT = "    "
WriteDate = Callable[[int], str]


def lines_of(plan: Plan, rows: Sequence[Row], known: Known, write_date: WriteDate) -> str:
    """Rows as an outline of such lines, indented from the least level of them on."""
    least = min((row.level for row in rows), default=0)
    return "\n".join(
        INDENT * (row.level - least) + line_of(plan, plan.tasks[row.task], known, write_date) for row in rows
    )


def line_of(plan: Plan, task: Task, known: Known, write_date: WriteDate) -> str:
    """One task as a line."""
    parts: list[str] = []
    if not plan.is_summary(task.id) and task.duration is not None:
        parts.append(format_duration(task.minutes, task.elapsed, units_of(plan, task.project)))
    parts += _links(plan, task)
    people = [
        " ".join(handle(plan, a.resource) for a in same) + share
        for share, same in groupby(plan.assignments_of(task.id), key=share_text)
    ]
    if people:
        parts.append(f"with {', '.join(people)}")
    words = {kind: moment.value for moment, kind in LIMITS.items()}
    parts += [f"{words[limit.kind]} {write_date(limit.at)}" for limit in task.limits if limit.kind in words]
    if task.target is not None:
        parts.append(f"by {write_date(task.target)}")
    return _named(task.name, " ".join(["", *parts]), known)


def _named(name: str, rest: str, known: Known) -> str:
    """The line; the name in quotes where else it would be read as another."""
    is_plain = [row.name for row in rows_of_text(name)] == [name]  # without a number or a bullet in front
    line = read_line(name + rest, known)
    if is_plain and line.name(line.usual) == name and line.fullest == line.usual:
        return name + rest
    quoted = f"“{name}”" if is_quoted(f"“{name}”") else f'"{name}"'
    return quoted + rest


def _links(plan: Plan, task: Task) -> list[str]:
    said = []
    for link in plan.links_into(task.id):
        parts = [reference(plan, task.project, link.predecessor)]
        if link.type is not LinkType.FS:
            parts.append(link.type.value)
        if link.lag or link.lag_percent:
            parts.append(lag_text(link))
        said.append(" ".join(parts))
    return [f"after {', '.join(said)}"] if said else []
