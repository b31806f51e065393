"""Who is short, what is to be decided by when, and which milestones come next."""

from __future__ import annotations

import numpy as np

from hexapod.control.mine import Reach
from hexapod.control.status import ProjectState
from hexapod.plan.records import DAY
from hexapod.plan.risks import RiskKind
from hexapod.reports.basis import Basis
from hexapod.reports.report import Fact, Sentence, Tone
from hexapod.reports.week.moved import listed, name_of
from hexapod.reports.week.trouble import open_risks
from hexapod.schedule.codes import NOT_BEGUN
from hexapod.staffing.overloads import overloads
from hexapod.staffing.roles import role_table
from hexapod.system.words import count_of
from hexapod.worktime.calendars import units_of
from hexapod.worktime.lengths import format_days

SHORT, DECIDE, NEXT = "Who is short", "What needs a decision", "What comes next"
LEAST = 0.5  # hours that are worth a word
MOST_SHORT, MOST_DECISIONS, MOST_COMING = 3, 5, 6
FROM_ROLES = "What each role has of hours in a month against what projects are promised or ask for."
FROM_LOAD = "What tasks ask of each person against the hours that they have."
FROM_REGISTER = "The register: decisions and issues that are open, and by when."
FROM_TARGET = "The finish of the project against its target, and its first critical task that has not begun."
FROM_MILESTONES = "The dates of open milestones."


def short_sentences(basis: Basis) -> list[Sentence]:
    """Roles that have too few hours in a month, and people with too much to do in the weeks ahead."""
    said = []
    for role, period, short, wanted in roles_short(basis)[:MOST_SHORT]:
        plan = basis.plan
        names = listed([f"“{plan.projects[p].name}”" for p in wanted], 3)
        text = f"{plan.resources[role].name} will be {short:,.0f} h short in {basis.words.month(period)}"
        text += f"; it is wanted by {names}." if names else "."
        said.append(Sentence(text, Fact("short", (role,), (period, short)), Tone.ATTENTION, SHORT, FROM_ROLES))
    over = overloads_ahead(basis)
    if over:
        who, (begin, end, hours) = max(over.items(), key=lambda pair: (pair[1][2], pair[0]))
        has = "person or role has" if len(over) == 1 else "people and roles have"
        text = (
            f"{len(over)} {has} too much to do in the next {count_of(basis.weeks, 'week')}, most of all "
            f"{basis.plan.resources[who].name}: {hours:,.0f} h between {basis.day(begin)} and "
            f"{basis.last_day(end)}."
        )
        said.append(Sentence(text, Fact("over", (who,), (len(over), hours)), Tone.ATTENTION, SHORT, FROM_LOAD))
    return said


def roles_short(basis: Basis) -> list[tuple[str, int, float, list[str]]]:
    """(role, month, hours too few, which of its projects want it), each role in its worst month, the worst first."""
    table = role_table(basis.schedule, basis.plan, basis.demand, basis.months())
    found = []
    for row in table.rows:
        worst = max(range(len(table.edges) - 1), key=row.short, default=None)
        if worst is None or row.short(worst) < LEAST:
            continue
        asked = row.filled[:, worst] + row.open[:, worst]
        wanted = [table.projects[i] for i in np.argsort(-asked, kind="stable") if asked[i] >= LEAST]
        if set(wanted) & basis.inside:
            found.append((row.role, int(table.edges[worst]), round(row.short(worst), 1), wanted))
    return sorted(found, key=lambda each: (-each[2], each[0]))


def overloads_ahead(basis: Basis) -> dict[str, tuple[int, int, float]]:
    """By person or role, whose tasks are in its projects: from when to when in the weeks ahead they have too much, and
    how many hours."""
    last = basis.now + basis.weeks * 7 * DAY
    found: dict[str, tuple[int, int, float]] = {}
    for over in overloads(basis.schedule, basis.demand):
        if over.end <= basis.now or over.begin >= last:
            continue
        if not any(basis.plan.tasks[t].project in basis.inside for t in over.tasks):
            continue
        begin, end, hours = found.get(over.resource, (over.begin, over.end, 0.0))
        found[over.resource] = (min(begin, over.begin), max(end, over.end), hours + over.excess / 60)
    return found


def decision_sentences(basis: Basis) -> list[Sentence]:
    """Decisions and issues that are open, those with the nearest date first; targets that the plan misses; budgets that
    will not do."""
    plan, said = basis.plan, []
    for kind, words in ((RiskKind.DECISION, "to be decided"), (RiskKind.ISSUE, "to be settled")):
        due = sorted(open_risks(basis, kind), key=lambda r: (r.due is None, r.due or 0, r.id))
        for risk in due[:MOST_DECISIONS]:
            owner = plan.resources.get(risk.owner or "")
            when = "" if risk.due is None else f" by {basis.day(risk.due * DAY)}"
            whom = "" if owner is None else f", by {owner.name}"
            late = risk.due is not None and risk.due * DAY < basis.now // DAY * DAY
            text = f"“{risk.name}” is {words}{when}{whom}{': that day is past' if late else ''}."
            tone = Tone.TROUBLE if late else Tone.ATTENTION
            said.append(Sentence(text, Fact("decide", (risk.id,), (risk.due,)), tone, DECIDE, FROM_REGISTER))
    late_rows = [r for r in basis.rows if r.status.state is ProjectState.LATE]
    for row in sorted(late_rows, key=lambda r: r.status.room or 0)[:MOST_DECISIONS]:
        if plan.projects[row.project].target_finish is not None and row.status.room is not None:
            said.append(_target(basis, row.project, -row.status.room))
    for row in basis.rows:
        if row.budget is not None and row.cost > row.budget:
            more, budget = basis.words.money(row.cost - row.budget), basis.words.money(row.budget)
            text = (
                f"“{plan.projects[row.project].name}” will cost {more} more than its budget of {budget}: more money or "
                "less work is to be agreed."
            )
            fact = Fact("budget", (row.project,), (row.cost, row.budget))
            source = "What was spent and what is expected to be, against the budget."
            said.append(Sentence(text, fact, Tone.TROUBLE, DECIDE, source))
    return said


def _target(basis: Basis, project: str, by: int) -> Sentence:
    """That a later target or won time is needed, and before which task begins."""
    plan, schedule = basis.plan, basis.schedule
    text = (
        f"“{plan.projects[project].name}” needs {format_days(by, units_of(plan, project))} won back, or a later target"
    )
    first = first_critical(basis, project)
    if first is not None:
        start = schedule.dates(first).start
        text += f", before “{plan.tasks[first].name}” begins on {basis.day(start)}"
    return Sentence(f"{text}.", Fact("target", (project,), (by, first)), Tone.TROUBLE, DECIDE, FROM_TARGET)


def first_critical(basis: Basis, project: str) -> str | None:
    """The critical task of a project that begins next, of those that have not begun."""
    schedule, network = basis.schedule, basis.schedule.network
    size = network.size
    chosen = (network.structure.leaf[:size] == 1) & (schedule.critical[:size] == 1)
    chosen &= network.tasks.project[:size] == network.projects.index(project)
    chosen &= (network.tasks.progress[:size] == NOT_BEGUN) & (schedule.start[:size] >= basis.now)
    chosen &= network.tasks.duration[:size] > 0
    slots = np.flatnonzero(chosen)
    if not len(slots):
        return None
    return network.slots.tasks[int(slots[np.argmin(schedule.start[slots])])]


def coming_sentences(basis: Basis) -> list[Sentence]:
    """Milestones of the next seven days."""
    last = basis.now + 7 * DAY
    found = [
        m for row in basis.rows for m in row.marks if m.reach is Reach.COMING and basis.now <= m.at <= last
    ]  # fmt: skip
    if not found:
        return []
    found.sort(key=lambda m: (m.at, m.task))
    names = [f"{name_of(basis, m.task)} on {basis.last_day(m.at)}" for m in found]
    is_ = "milestone is" if len(found) == 1 else "milestones are"
    text = f"{len(found)} {is_} due in the next 7 days: {listed(names, MOST_COMING)}."
    fact = Fact("coming", tuple(m.task for m in found), (len(found),))
    return [Sentence(text, fact, under=NEXT, source=FROM_MILESTONES)]
