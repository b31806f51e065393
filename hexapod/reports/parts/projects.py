"""How projects stand: one of them on a page, or all of them as a table."""

from __future__ import annotations

from hexapod.control.leaf_counts import THIRD_WORDS, THIRDS, third_of
from hexapod.control.mine import MyMilestone, Reach
from hexapod.control.status import STATE_WORDS, ProjectState
from hexapod.control.summary import ProjectRow, sentence
from hexapod.plan.records import DAY
from hexapod.reports.basis import Basis
from hexapod.reports.report import CellKind, Chart, ChartKind, Column, Fact, Part, Sentence, Series, Table, Tone
from hexapod.reports.week.moved import finishes_moved
from hexapod.system.words import count_of
from hexapod.worktime.calendars import units_of
from hexapod.worktime.lengths import format_days

TONES = {ProjectState.LATE: Tone.TROUBLE, ProjectState.IN_DOUBT: Tone.ATTENTION}
FROM_STATE = "Derived from its finish, target, milestones and budget; the sentence beside it says from which."
FROM_MARKS = "Reached once told; overdue where its day is past."
ATTENTION = "Projects that need somebody"


def status(basis: Basis) -> Part:
    """How each project stands, in a sentence and figures; for one project this is its page."""
    said = []
    for row in basis.rows:
        name = basis.plan.projects[row.project].name
        state = STATE_WORDS[row.status.state]
        because = row.status.because
        text = f"“{name}” is {state}: {because[:1].lower()}{because[1:]}"
        fact = Fact("state", (row.project,), (row.status.state.value, because))
        said.append(Sentence(text, fact, TONES.get(row.status.state, Tone.PLAIN), source=FROM_STATE))
        project = basis.plan.projects[row.project]
        if project.word and project.word_at is not None:
            text = f"{project.word_by or 'Somebody'} on {basis.day(project.word_at)} of “{name}”: “{project.word}”."
            fact = Fact("word", (row.project,), (project.word, project.word_by, project.word_at))
            said.append(Sentence(text, fact, source="A judgement of one person, beside the state."))
    columns = (
        Column("What"),
        Column("Now", source="Taken from the plan as it is at the end of these days."),
        Column("When these days began", source="Taken from the plan as the history has it then."),
    )
    rows = tuple(r for row in basis.rows[:1] for r in _figures(basis, row)) if len(basis.scope) == 1 else ()
    table = Table(columns, rows) if rows else None
    return Part("status", "How it stands", tuple(said[:12]), table=table)


def _figures(basis: Basis, row: ProjectRow) -> list[tuple[str, str, str]]:
    """(what, now, before) of a project, as it is read."""
    plan, words, project = basis.plan, basis.words, basis.plan.projects[row.project]
    units, before = units_of(plan, row.project), basis.before
    then = None if before is None else before.project_finish.get(row.project)
    room = row.status.room
    found = [
        ("Finish", "" if row.finish is None else words.long_day(row.finish - 1),
         "" if then is None else words.long_day(then - 1)),
        ("Wanted by", "" if project.target_finish is None else words.long_day(project.target_finish - 1), ""),
        ("Room to it", "" if room is None else f"{format_days(room, units)}", ""),
        ("Done", f"{row.status.percent:.0f} %", ""),
        ("Late tasks", f"{row.status.late}", ""),
        ("Overloads it takes part in", f"{row.overloads}", ""),
        ("Will have cost", words.money(row.cost), ""),
        ("Budget", "" if row.budget is None else words.money(row.budget), ""),
    ]  # fmt: skip
    return [each for each in found if each[1]]


def portfolio(basis: Basis) -> Part:
    """Every project in a row, the worst first."""
    said, chart = _counts(basis)
    return Part("portfolio", "All projects", (said,), chart, _table(basis, basis.rows))


def attention(basis: Basis) -> Part:
    """The projects that are late or in doubt, the worst first; the others are only counted."""
    said, chart = _counts(basis)
    rows = [row for row in basis.rows if row.needs_attention]
    if not rows:
        text = "No project is late or in doubt."
        return Part("attention", ATTENTION, (said, Sentence(text, Fact("calm"), source=FROM_STATE)), chart)
    return Part("attention", ATTENTION, (said,), chart, _table(basis, rows))


def _counts(basis: Basis) -> tuple[Sentence, Chart]:
    """How many projects are in which state, in words and as a picture."""
    states = {state.value: sum(r.status.state is state for r in basis.rows) for state in STATE_WORDS}
    chart = Chart(
        "Projects by how they are", ChartKind.BARS, tuple(STATE_WORDS.values()),
        (Series("projects", tuple(states.values())),), "projects",
    )  # fmt: skip
    fact = Fact("counts", (), (len(basis.rows), *states.values()))
    return Sentence(sentence(states), fact, source=FROM_STATE), chart


def _table(basis: Basis, shown: list[ProjectRow]) -> Table:
    """Some projects in a row each, the worst first."""
    order = list(STATE_WORDS)
    rows = sorted(shown, key=lambda r: (order.index(r.status.state), r.status.room or 0, r.project))
    moved = finishes_moved(basis)
    columns = (
        Column("Project"),
        Column("Department"),
        Column("How it is", source=FROM_STATE),
        Column("Because", source=FROM_STATE),
        Column("Done", CellKind.PERCENT, "Per cent done of its tasks, weighted by effort where all have one."),
        Column("Finish", CellKind.FINISH, "The latest finish of its tasks, as computed."),
        Column("To target", CellKind.DAYS, "Working days from the finish to the target, or its baseline."),
        Column("Moved", CellKind.DAYS, "Working days by which the finish is later than when these days began."),
        Column("Late tasks", CellKind.COUNT, "Open tasks that are late."),
        Column("Wanted by", CellKind.FINISH, "The target that was set."),
        Column("Led by"),
        Column("Cost", CellKind.MONEY, "What was spent and what is expected to be."),
        Column("Budget", CellKind.MONEY, "Budgets of the project added up."),
    )
    plan = basis.plan
    cells = []
    for row in rows:
        project = plan.projects[row.project]
        day = units_of(plan, row.project).day
        leader = plan.resources.get(project.led_by or "")
        cells.append((
            project.name, project.department, STATE_WORDS[row.status.state], row.status.because,
            round(row.status.percent, 1), row.finish,
            None if row.status.room is None else round(row.status.room / day, 1),
            None if basis.before is None else round(moved.get(row.project, 0) / day, 1), row.status.late,
            project.target_finish, "" if leader is None else leader.name, row.cost or None, row.budget,
        ))  # fmt: skip
    return Table(columns, tuple(cells), tuple(r.project for r in rows))


def how_far(basis: Basis) -> Part:
    """Tasks by how far they are."""
    counts = dict.fromkeys(THIRDS, 0)
    for task in basis.leaves:
        counts[third_of(task)] += 1
    chart = Chart(
        "Tasks by how far they are", ChartKind.BARS, tuple(THIRD_WORDS[t] for t in THIRDS),
        (Series("tasks", tuple(counts.values())),), "tasks",
    )  # fmt: skip
    whole = sum(counts.values())
    text = f"{counts['done']:,} of {count_of(whole, 'task')} {'is' if counts['done'] == 1 else 'are'} done."
    fact = Fact("how_far", (), tuple(counts.values()))
    columns = (Column("How far"), Column("Tasks", CellKind.COUNT, "Tasks with nothing below them, by per cent done."))
    rows = tuple((THIRD_WORDS[t], counts[t]) for t in THIRDS)
    return Part("how_far", "How far the tasks are", (Sentence(text, fact),), chart, Table(columns, rows))


def milestones(basis: Basis) -> Part:
    """Each milestone of its projects by date: whether it was reached, and how it drifts from the baseline."""
    return _milestones(basis, "milestones", "Milestones", [m for row in basis.rows for m in row.marks])


def coming(basis: Basis) -> Part:
    """Milestones that are overdue, were reached in these days, or are due in the weeks ahead."""
    last = basis.now + basis.weeks * 7 * DAY
    chosen = [
        m for row in basis.rows for m in row.marks
        if m.reach is Reach.OVERDUE or (m.reach is Reach.COMING and m.at <= last)
        or (m.reach is Reach.REACHED and basis.since <= m.at < basis.until)
    ]  # fmt: skip
    return _milestones(basis, "coming", f"Milestones to {basis.day(last)}", chosen)


def _milestones(basis: Basis, id_: str, title: str, chosen: list[MyMilestone]) -> Part:
    plan = basis.plan
    drifts = basis.schedule.drifts
    marks = sorted(chosen, key=lambda m: (m.at, m.task))
    rows = []
    for mark in marks:
        task = plan.tasks[mark.task]
        drift = drifts.get(mark.task)
        day = units_of(plan, task.project).day
        rows.append((
            task.name, plan.projects[task.project].name, mark.at, task.target, mark.reach.value,
            None if drift is None else round(drift.finish / day, 1),
        ))  # fmt: skip
    counts = {reach: sum(m.reach is reach for m in marks) for reach in (Reach.COMING, Reach.OVERDUE, Reach.REACHED)}
    said_counts = ", ".join(f"{count} {reach.value}" for reach, count in counts.items())
    text = f"{count_of(len(marks), 'milestone')}: {said_counts}."
    tone = Tone.TROUBLE if counts[Reach.OVERDUE] else Tone.PLAIN
    said = (Sentence(text, Fact("milestones", (), tuple(counts.values())), tone, source=FROM_MARKS),)
    columns = (
        Column("Milestone"), Column("Project"), Column("Date", CellKind.FINISH, "When it is planned, or was reached."),
        Column("Wanted by", CellKind.FINISH, "The target that was set."),
        Column("How it is", source=FROM_MARKS),
        Column("Drift", CellKind.DAYS, "Working days by which it is later than in the baseline."),
    )  # fmt: skip
    table = Table(columns, tuple(rows), tuple(m.task for m in marks)) if rows else None
    return Part(id_, title, said, table=table)
