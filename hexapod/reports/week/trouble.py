"""What is late, which projects are in doubt and because of what, and what may still happen."""

from __future__ import annotations

import numpy as np

from hexapod.control.mine import Reach
from hexapod.control.status import ProjectState
from hexapod.outlook.words import chance_words
from hexapod.plan.risks import Risk, RiskKind, RiskState, weight
from hexapod.reports.basis import Basis
from hexapod.reports.report import Fact, Sentence, Tone
from hexapod.reports.week.moved import listed, name_of
from hexapod.schedule.schedule import Schedule
from hexapod.system.words import count_of
from hexapod.worktime.calendars import units_of
from hexapod.worktime.lengths import format_days

LATE, RISK = "What is late", "What is at risk"
MOST_PROJECTS, MOST_RISKS = 4, 3
FROM_LATE = "Open tasks that finish after their target, should have begun, or have less done than there was time for."
FROM_STATE = "The state of each project, which is derived from its finish, target, milestones and budget."
FROM_REGISTER = "The register of risks: the chance, and the days that it would add."


def late_sentences(basis: Basis) -> list[Sentence]:
    """How many tasks and milestones are late, and the worst of them."""
    late = late_tasks(basis.schedule, basis.inside)
    said = []
    if late:
        plan, (worst, by) = basis.plan, late[0]
        task = plan.tasks[worst]
        before = None if basis.before is None else len(late_tasks(basis.before, basis.inside))
        then = "" if before is None else f" ({before} on {basis.day(basis.since)})"
        is_ = "is" if len(late) == 1 else "are"
        text = f"{count_of(len(late), 'task')} {is_} late{then}, most of all {name_of(basis, worst)}"
        # Outside nobody knows the hours that it is worked in, so days of work would mean nothing.
        text += "." if basis.outside else f", by {format_days(by, units_of(plan, task.project))}."
        fact = Fact("late", (worst,), (len(late), by, before))
        said.append(Sentence(text, fact, Tone.TROUBLE, LATE, FROM_LATE))
    overdue = [m for row in basis.rows for m in row.marks if m.reach is Reach.OVERDUE]
    if overdue:
        overdue.sort(key=lambda m: (m.at, m.task))
        is_ = "milestone is" if len(overdue) == 1 else "milestones are"
        names = listed([name_of(basis, m.task) for m in overdue])
        text = f"{len(overdue)} {is_} overdue: {names}."
        fact = Fact("overdue", tuple(m.task for m in overdue), (len(overdue),))
        said.append(Sentence(text, fact, Tone.TROUBLE, LATE, FROM_LATE))
    return said


def late_tasks(schedule: Schedule, projects: frozenset[str]) -> list[tuple[str, int]]:
    """The late leaves of some projects with the working minutes by which they are, the worst first."""
    network, standing = schedule.network, schedule.standing
    here = np.array([p in projects and schedule.plan.projects[p].is_at_work for p in network.projects], dtype=bool)
    size = network.size
    leaves = (network.structure.leaf[:size] == 1) & (standing.late[:size] >= 0)
    leaves &= here[network.tasks.project[:size]] if len(here) else False
    slots = np.flatnonzero(leaves)
    found = [(network.slots.tasks[s], int(standing.late_by[s])) for s in slots.tolist()]
    return sorted(found, key=lambda pair: (-pair[1], pair[0]))


def state_sentences(basis: Basis) -> list[Sentence]:
    """Projects that are late or in doubt, and because of what."""
    said = []
    for state, word, tone in (
        (ProjectState.LATE, "late", Tone.TROUBLE), (ProjectState.IN_DOUBT, "in doubt", Tone.ATTENTION),
    ):  # fmt: skip
        found = sorted((r for r in basis.rows if r.status.state is state), key=lambda r: r.status.room or 0)
        for row in found[:MOST_PROJECTS]:
            because = row.status.because
            text = f"“{basis.plan.projects[row.project].name}” is {word}: {because[:1].lower()}{because[1:]}"
            under = LATE if state is ProjectState.LATE else RISK
            said.append(Sentence(text, Fact("state", (row.project,), (state.value, because)), tone, under, FROM_STATE))
        if len(found) > MOST_PROJECTS:
            rest = found[MOST_PROJECTS:]
            is_ = "is" if len(rest) == 1 else "are"
            text = f"{count_of(len(rest), 'more project')} {is_} {word}."
            under = LATE if state is ProjectState.LATE else RISK
            fact = Fact("state_too", tuple(r.project for r in rest), (state.value, len(rest)))
            said.append(Sentence(text, fact, tone, under, FROM_STATE))
    return said


def risk_sentences(basis: Basis) -> list[Sentence]:
    """The open risks that weigh most: how likely, what they would add, and who looks at them again by when."""
    plan, said = basis.plan, []
    found = open_risks(basis, RiskKind.RISK)
    for risk in found[:MOST_RISKS]:
        chance = risk.chance_of(after=risk.answered)
        adds = max((d.minutes[1] for d in risk.delays_of(after=risk.answered)), default=0)
        text = f"“{risk.name}” may happen, {chance_words(chance)}"
        if adds:
            text += f", and would add {format_days(adds, units_of(plan, risk.project))} to what it delays"
        owner = plan.resources.get(risk.owner or "")
        if owner is not None:
            text += f"; {owner.name} answers for it"
        fact = Fact("risk", (risk.id,), (chance, adds, risk.owner))
        said.append(Sentence(f"{text}.", fact, Tone.ATTENTION, RISK, FROM_REGISTER))
    if len(found) > MOST_RISKS:
        text = (
            f"{count_of(len(found) - MOST_RISKS, 'more risk')} {'is' if len(found) == MOST_RISKS + 1 else 'are'} open."
        )
        said.append(Sentence(text, Fact("risks_too", (), (len(found),)), under=RISK, source=FROM_REGISTER))
    return said


def open_risks(basis: Basis, kind: RiskKind) -> list[Risk]:
    """The open entries of the register of one kind, those that weigh most first."""
    found = [
        r for r in basis.plan.risks.values()
        if r.project in basis.inside and r.kind is kind and r.state is RiskState.OPEN
    ]  # fmt: skip
    return sorted(found, key=lambda r: (-weight(r, after=r.answered), r.due or 10**9, r.name, r.id))
