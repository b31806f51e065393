"""What the page shows, made from a basis: words, projects, the rows of the chart, milestones, people by week, risks."""

from __future__ import annotations

from dataclasses import dataclass

from hexapod.control.status import STATE_WORDS, ProjectState
from hexapod.control.summary import ProjectRow
from hexapod.fields.own_text import held_text
from hexapod.plan.outline import Row, rows
from hexapod.plan.plan import Plan
from hexapod.plan.records import DAY, Field, Project, Task, TaskKind
from hexapod.reports.basis import Basis
from hexapod.reports.catalogue import below_of
from hexapod.reports.parts.control import risks
from hexapod.reports.parts.deliverables import deliverables
from hexapod.reports.parts.projects import milestones, portfolio
from hexapod.reports.parts.staff import by_week
from hexapod.reports.parts.words import week
from hexapod.reports.report import CellKind, Column, Part, Report, Table

FEW_PROJECTS = 1  # of so many there is no table of projects


@dataclass(frozen=True)
class PageRow:
    """A project or a row of one. ``level`` 0 is a project; times are minutes, None where there are none."""

    level: int
    name: str
    kind: str  # project, summary, task or milestone
    start: int | None
    finish: int | None
    percent: float
    state: str = ""  # late, in doubt and so on
    is_critical: bool = False
    who: str = ""
    target: int | None = None
    fields: tuple[tuple[str, str], ...] = ()


@dataclass(frozen=True)
class PageContent:
    """``parts`` stand above the chart, ``below_parts`` beneath it."""

    title: str
    below: str
    made: int
    rows: tuple[PageRow, ...]
    parts: tuple[Part, ...]
    below_parts: tuple[Part, ...]


def page_content(basis: Basis, title: str = "") -> PageContent:
    """The page of a basis; of one for people outside it holds nothing else, since the basis does not."""
    above = [week(basis)]
    if len(basis.scope) > FEW_PROJECTS:
        above.append(portfolio(basis))
    below = [milestones(basis)]
    if not basis.outside:
        below += [by_week(basis), risks(basis)]
        handed = deliverables(basis)
        below += [handed] if handed.table is not None else []
    names = [p.name for p in basis.projects()]
    shown = title or (names[0] if len(names) == 1 else "All projects" if basis.is_all else f"{len(names)} projects")
    return PageContent(shown, below_of(basis), basis.now, tuple(_rows(basis)), tuple(above), tuple(below))


def _rows(basis: Basis) -> list[PageRow]:
    plan = basis.plan
    standing = {row.project: row for row in basis.rows}
    names = {f.name: f for f in plan.fields_in_order() if not basis.outside or f.outside}
    found = []
    for project in basis.projects():
        found.append(_project_row(basis, project.id, standing.get(project.id), names))
        found += [_task_row(basis, each, names) for each in rows(plan, project.id) if each.task]
    return found


def _task_row(basis: Basis, row: Row, names: dict[str, Field]) -> PageRow:
    plan, schedule = basis.plan, basis.schedule
    task = plan.tasks[row.task]
    is_summary = plan.is_summary(task.id)
    there = schedule.has(task.id)
    dates = schedule.dates(task.id) if there else None
    late = schedule.late_of(task.id) if there and not is_summary else None
    is_moment = not is_summary and (task.kind is TaskKind.MILESTONE or not task.minutes)
    percent = task.percent if not is_summary else float(schedule.network.percents[schedule.slots[task.id]])
    who = "" if basis.outside else ", ".join(plan.resources[a.resource].name for a in plan.assignments_of(task.id))
    return PageRow(
        row.level + 1, task.name, "summary" if is_summary else "milestone" if is_moment else "task",
        None if dates is None else dates.start, None if dates is None else dates.finish, round(percent, 1),
        "done" if task.is_done else "late" if late is not None else "",
        bool(dates is not None and dates.critical and not basis.outside and not task.is_done),
        who, task.target, tuple(_values(plan, names, task)),
    )  # fmt: skip


def _values(plan: Plan, fields: dict[str, Field], holder: Task | Project) -> list[tuple[str, str]]:
    """Own fields that are filled in, as they are read."""
    texts = ((name, held_text(plan, fields[name], holder)) for name, _ in holder.fields if name in fields)
    return [(name, text) for name, text in texts if text]


def _project_row(basis: Basis, project_id: str, row: ProjectRow | None, names: dict[str, Field]) -> PageRow:
    project = basis.plan.projects[project_id]
    if row is None:
        return PageRow(0, project.name, "project", None, None, 0.0)
    state = "" if row.status.state is ProjectState.ON_COURSE else STATE_WORDS[row.status.state]
    return PageRow(
        0, project.name, "project", row.start, row.finish, round(row.status.percent, 1), state,
        target=project.target_finish, fields=tuple(_values(basis.plan, names, project)),
    )  # fmt: skip


def span_of(content: PageContent) -> tuple[int, int]:
    """The first and the last day (since 1970-01-01) that the chart shows."""
    starts = [r.start for r in content.rows if r.start is not None]
    ends = [r.finish for r in content.rows if r.finish is not None]
    first = min(starts, default=content.made) // DAY
    last = max(ends, default=content.made) // DAY
    return min(first, content.made // DAY) - 3, max(last, content.made // DAY) + 10


def page_preview(content: PageContent) -> Report:
    """All that goes into the page, as a report: so that it can be looked at before it goes."""
    columns = (
        Column("What"), Column("Start", CellKind.START), Column("Finish", CellKind.FINISH),
        Column("Done", CellKind.PERCENT), Column("How it is"), Column("Who"), Column("Wanted by", CellKind.FINISH),
        Column("Besides"),
    )  # fmt: skip
    cells = tuple(
        (f"{'    ' * row.level}{row.name}", row.start, row.finish, row.percent,
         f"{row.state}{', critical' if row.is_critical else ''}".removeprefix(", "), row.who, row.target,
         " · ".join(f"{name}: {value}" for name, value in row.fields))
        for row in content.rows
    )  # fmt: skip
    work = Part("work", "The work", table=Table(columns, cells) if cells else None)
    return Report(content.title, content.below, (*content.parts, work, *content.below_parts), made=content.made)
