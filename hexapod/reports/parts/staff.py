"""Of the staff: who is over and free, promised against assigned, roles against demand, and what each has to do."""

from __future__ import annotations

from dataclasses import replace

from hexapod.control.hours import By, Hours, hours_rows
from hexapod.control.hours_report import planned_and_logged
from hexapod.plan.records import DAY, ResourceKind
from hexapod.reports.basis import Basis
from hexapod.reports.report import Cell, CellKind, Chart, ChartKind, Column, Fact, Part, Sentence, Series, Table
from hexapod.reports.week.needs import short_sentences
from hexapod.staffing.reports import (
    StaffReport,
    assigned_and_reserved,
    over_and_free,
    roles_against_demand,
)
from hexapod.staffing.roles import role_table
from hexapod.system.words import count_of

MOST_ROLES, MOST_NAMES = 8, 4
OF_HOURS = ("Planned", "Logged", "Left", "Over", "Forecast")
FROM_LOAD = "Working hours of each person or role in the period, and what tasks and promises ask of them."
FROM_HOURS = "Hours of the assignments, and hours that were logged; sheets that were sent back do not count."


def part_of(id_: str, report: StaffReport, source: str, chart: Chart | None = None) -> Part:
    """A report of the staff, whose numbers are hours, as a part."""
    first = report.rows[0] if report.rows else ()
    kinds = [CellKind.TEXT if isinstance(value, str) else CellKind.HOURS for value in first]
    kinds += [CellKind.TEXT] * (len(report.headings) - len(kinds))
    columns = tuple(
        Column(title, kind, source if kind is CellKind.HOURS else "")
        for title, kind in zip(report.headings, kinds, strict=True)
    )
    said = tuple(Sentence(text, Fact("gist", (), (text,)), source=source) for text in report.gist)
    return Part(id_, report.title, said, chart, Table(columns, report.rows) if report.rows else None)


def over(basis: Basis) -> Part:
    """Who is over, who is free, in the months to the last finish."""
    return part_of("over", over_and_free(basis.staff()), FROM_LOAD)


def reserved(basis: Basis) -> Part:
    return part_of("reserved", assigned_and_reserved(basis.staff()), FROM_LOAD)


def roles(basis: Basis) -> Part:
    """Capacity against demand by role and month, with the roles that lack most as a chart."""
    edges = basis.months()
    table = role_table(basis.schedule, basis.plan, basis.demand, edges)
    months = [basis.words.month(int(at)) for at in edges[:-1]]
    short = sorted(table.rows, key=lambda r: -max((r.short(i) for i in range(len(months))), default=0.0))[:MOST_ROLES]
    series = tuple(Series(r.title, tuple(round(max(0.0, r.short(i)), 1) for i in range(len(months)))) for r in short)
    series = tuple(s for s in series if any(s.values))
    chart = Chart("Hours that roles are short", ChartKind.STACKED, tuple(months), series, "h") if series else None
    return part_of("roles", roles_against_demand(basis.staff(edges)), FROM_LOAD, chart)


def short(basis: Basis) -> Part:
    """Only the roles and months in which there is too little, and who has too much soon."""
    whole = roles(basis)
    said = tuple(short_sentences(basis)) or (Sentence("Nobody is short.", Fact("calm"), source=FROM_LOAD),)
    said = tuple(replace(sentence, under="") for sentence in said)
    table = whole.table
    if table is not None:
        rows = tuple(row for row in table.rows if isinstance(row[-1], float) and row[-1] < 0)
        table = replace(table, rows=rows) if rows else None
    return Part("short", "Who is short", said, whole.chart, table)


def owners_and_phases(basis: Basis) -> Part:
    """Planned and logged hours by owner and phase."""
    report = planned_and_logged(basis.staff(), basis.inside)
    return part_of("owners", report, FROM_HOURS)


def hours(basis: Basis) -> Part:
    """Hours by person: planned, logged, left and over, with how their sheets stand."""
    plan = basis.plan
    found: dict[str, Hours] = {}
    for project in basis.scope if not basis.is_all else ("",):
        for row in hours_rows(basis.efforts, basis.ledger, By.PERSON, project):
            found[row.key] = found[row.key].plus(row.hours) if row.key in found else row.hours
    sheets: dict[str, dict[str, int]] = {}
    for sheet in plan.sheets.values():
        if basis.since // DAY - 6 <= sheet.week < basis.until // DAY:
            sheets.setdefault(sheet.resource, {}).setdefault(sheet.state.value.replace("_", " "), 0)
            sheets[sheet.resource][sheet.state.value.replace("_", " ")] += 1
    rows: list[tuple[Cell, ...]] = []
    people = [r for r in plan.resources_in_order() if r.id in found]
    for person in people:
        each = found[person.id]
        said = ", ".join(f"{count} {state}" for state, count in sorted(sheets.get(person.id, {}).items()))
        rows.append((person.name, *(_hours(n) for n in _numbers(each)), said))
    whole = [sum(_numbers(found[p.id])[i] for p in people) for i in range(5)]
    planned, logged, left = (f"{_hours(n):,.1f} h" for n in whole[:3])
    text = f"{logged} are logged of {planned} that are planned; {left} are left."
    over_ = sum(1 for p in people if found[p.id].over)
    if over_:
        text += f" {count_of(over_, 'person')} worked more than was planned.".replace("persons", "people")
    columns = (
        Column("Who"), *(Column(t, CellKind.HOURS, FROM_HOURS) for t in OF_HOURS),
        Column("Sheets of these days", source="The sheets of the weeks of the report."),
    )  # fmt: skip
    total: tuple[Cell, ...] = ("All", *(_hours(n) for n in whole), "")
    fact = Fact("hours", (), tuple(whole))
    table = Table(columns, tuple(rows), tuple(p.id for p in people), total if rows else None)
    return Part("hours", "Hours and sheets", (Sentence(text, fact, source=FROM_HOURS),), table=table)


def _numbers(hours_: Hours) -> tuple[int, int, int, int, int]:
    return hours_.planned, hours_.logged, hours_.left, hours_.over, hours_.forecast


def _hours(minutes: int) -> float:
    return round(minutes / 60, 1)


def ahead(basis: Basis) -> Part:
    """What each person has to do in the weeks ahead, by when it begins."""
    last = basis.now + basis.weeks * 7 * DAY
    return _work(basis, "ahead", f"The next {count_of(basis.weeks, 'week')} by person", last)


def work(basis: Basis) -> Part:
    """All that each person still has to do."""
    return _work(basis, "work", "What each person has", None)


def _work(basis: Basis, id_: str, title: str, last: int | None) -> Part:
    plan, schedule = basis.plan, basis.schedule
    rows: list[tuple[Cell, ...]] = []
    about: list[str] = []
    left = basis.efforts.left
    by_person: dict[str, list[tuple[int, str]]] = {}
    for task in basis.leaves:
        if task.is_done or not schedule.has(task.id):
            continue
        dates = schedule.dates(task.id)
        if last is not None and (dates.start >= last or dates.finish <= basis.now):
            continue
        for assignment in plan.assignments_of(task.id):
            by_person.setdefault(assignment.resource, []).append((dates.start, task.id))
    people = [r for r in plan.resources_in_order() if r.id in by_person]
    for person in people:
        for start, task_id in sorted(by_person[person.id]):
            task = plan.tasks[task_id]
            rows.append((
                person.name, task.name, plan.projects[task.project].name, start, schedule.dates(task_id).finish,
                round(task.percent, 1), _hours(int(left[schedule.slots[task_id]])),
            ))  # fmt: skip
            about.append(task_id)
    seats = sum(len(by_person[p.id]) for p in people if p.kind is ResourceKind.ROLE)
    text = f"{count_of(len(set(about)), 'task')} for {count_of(len(people), 'person or role')}."
    text = text.replace("person or roles", "people and roles")
    if seats:
        text += f" {count_of(seats, 'seat')} {'is' if seats == 1 else 'are'} still open."
    columns = (
        Column("Who"), Column("Task"), Column("Project"), Column("Start", CellKind.START, "As computed, or as told."),
        Column("Finish", CellKind.FINISH, "As computed."), Column("Done", CellKind.PERCENT, "As told."),
        Column("Work left", CellKind.HOURS, "What is left of the effort of the task, of all who are on it."),
    )  # fmt: skip
    said = Sentence(text, Fact(id_, (), (len(set(about)), len(people), seats)))
    return Part(id_, title, (said,), table=Table(columns, tuple(rows), tuple(about)))


def by_week(basis: Basis) -> Part:
    """Who does what in the weeks ahead: a column a week, the tasks of each person in it."""
    plan, schedule, edges = basis.plan, basis.schedule, basis.week_edges()
    weeks = range(len(edges) - 1)
    found: dict[str, list[list[str]]] = {}
    for task in sorted(basis.leaves, key=lambda t: (schedule.dates(t.id).start, t.id)):
        if task.is_done:
            continue
        dates = schedule.dates(task.id)
        within = [i for i in weeks if dates.start < edges[i + 1] and dates.finish > edges[i]]
        for assignment in plan.assignments_of(task.id) if within else ():
            cells = found.setdefault(assignment.resource, [[] for _ in weeks])
            for i in within:
                cells[i].append(task.name)
    people = [r for r in plan.resources_in_order() if r.id in found]
    rows = tuple((r.name, *(_few(cell) for cell in found[r.id])) for r in people)
    columns = (Column("Who"), *(Column(f"Week of {basis.day(int(edges[i]))}") for i in weeks))
    text = f"{count_of(len(people), 'person or role').replace('person or roles', 'people and roles')} have work"
    text = f"{text} in the next {count_of(basis.weeks, 'week')}." if people else "Nobody has work in these weeks."
    said = Sentence(text, Fact("by_week", (), (len(people),)))
    table = Table(columns, rows, tuple(r.id for r in people)) if rows else None
    return Part("by_week", "Who does what, by week", (said,), table=table)


def _few(names: list[str]) -> str:
    """A few of them, and how many more there are."""
    more = f" and {len(names) - MOST_NAMES} more" if len(names) > MOST_NAMES else ""
    return f"{', '.join(names[:MOST_NAMES])}{more}"
