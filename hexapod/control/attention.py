"""What needs somebody: what is late, due soon, blocked or in contradiction, and finishes beyond their target.

Each need is said once, by the first kind that applies to its task; a contradiction stands beside it. Nothing is kept:
the list follows from the dates, from what was told, and from the hour.
"""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from enum import StrEnum
from typing import NamedTuple

import numpy as np

from hexapod.control.deliverables import handovers
from hexapod.control.mine import is_milestone
from hexapod.control.money import OverBudget
from hexapod.plan.approvals import Approval, ApprovalState
from hexapod.plan.deliverables import DeliverableState
from hexapod.plan.outline import is_worked
from hexapod.plan.plan import Plan
from hexapod.plan.records import DAY
from hexapod.plan.risks import RiskState
from hexapod.schedule.codes import DONE
from hexapod.schedule.conflicts import Conflict, ConflictKind
from hexapod.schedule.schedule import Schedule
from hexapod.schedule.states import LATES, STATES, Late, State


class NeedKind(StrEnum):
    """In the order in which they are shown."""

    PASSED = "passed"  # a finish that has passed its target since yesterday
    BEYOND = "beyond"  # a finish that did so before
    DOUBTFUL = "doubtful"  # a target that the plan meets, and most rounds do not
    BURST = "burst"  # a budget that is spent, and more
    SHORT = "short"  # a budget that will be burst by the forecast
    MILESTONE = "milestone"  # overdue
    ANSWER = "answer"  # somebody is to agree to work that is done, or it was sent back
    OWED = "owed"  # the work is done, and what it was for was not handed over
    CONFLICT = "conflict"
    TO_FINISH = "to_finish"  # late: beyond its target
    TO_BEGIN = "to_begin"  # late: it should have begun
    BEHIND = "behind"  # late: less is done than there was time for
    OVER = "over"  # its planned finish is past, and nobody told that it ended
    REVIEW = "review"  # a risk, an issue or an action that somebody is to look at again
    BLOCKED = "blocked"  # it should have begun by today, and waits
    DUE = "due"  # within so many days


NEEDS = tuple(NeedKind)
_PLACE = {kind: i for i, kind in enumerate(NEEDS)}
_OF_LATE = {Late.TO_FINISH: NeedKind.TO_FINISH, Late.TO_BEGIN: NeedKind.TO_BEGIN, Late.BEHIND: NeedKind.BEHIND}


class Doubt(NamedTuple):
    """A target that is less sure than it should be: of a task, or of a project. ``chance`` is 0 to 1."""

    project: str
    task: str | None
    target: int
    chance: float


class Need(NamedTuple):
    """``task`` is None where it is a project that needs somebody. ``at`` is when it is due (minutes), ``by`` by how
    many working minutes it is late; ``conflict`` what contradicts itself, ``money`` the budget that it is about,
    ``chance`` how sure a target is, ``risk`` the entry of the register to look at again, ``deliverable`` what is to be
    handed over."""

    kind: NeedKind
    project: str
    task: str | None
    at: int
    by: int = 0
    conflict: Conflict | None = None
    money: OverBudget | None = None
    chance: float | None = None
    risk: str | None = None
    deliverable: str | None = None


def needs(
    schedule: Schedule,
    now: int,
    days: int,
    conflicts: Iterable[Conflict] = (),
    yesterday: Mapping[str, int | None] | None = None,
    budgets: Iterable[OverBudget] = (),
    doubts: Iterable[Doubt] = (),
) -> list[Need]:
    """What needs somebody at a moment, with what is due within some days. ``yesterday`` is when projects would have
    finished as the plan was then; ``budgets`` are those that are burst, or will be, ``doubts`` targets that are met and
    not sure enough."""
    found = [*_projects(schedule, yesterday), *_tasks(schedule, now, days), *_reviews(schedule.plan, now, days)]
    found += _answers(schedule.plan)
    found += _owed(schedule)
    found += [Need(NeedKind.DOUBTFUL, d.project, d.task, d.target, chance=d.chance) for d in doubts]
    for over in budgets:
        if schedule.plan.projects[over.project].is_at_work:
            kind = NeedKind.BURST if over.is_burst else NeedKind.SHORT
            at = now if over.days is None else (over.days[1] + 1) * DAY
            found.append(Need(kind, over.project, None, at, money=over))
    plan = schedule.plan
    missed = ConflictKind.TARGET  # that is a way of being late
    open_ones = (
        c for c in conflicts if c.kind is not missed and c.task in plan.tasks and not plan.tasks[c.task].is_done
    )
    for conflict in open_ones:
        project = plan.tasks[conflict.task].project
        if plan.projects[project].is_at_work:
            at = int(schedule.start[schedule.slots[conflict.task]])
            found.append(Need(NeedKind.CONFLICT, project, conflict.task, at, conflict.by, conflict))
    return sorted(found, key=lambda n: (_PLACE[n.kind], n.at, n.task or "", n.project, n.risk or n.deliverable or ""))


def _projects(schedule: Schedule, yesterday: Mapping[str, int | None] | None) -> list[Need]:
    from hexapod.schedule.slip import working_minutes

    found = []
    for project in schedule.plan.projects.values():
        finish, target = schedule.project_finish.get(project.id), project.target_finish
        if target is None or finish is None or finish <= target or not project.is_at_work:
            continue
        before = None if yesterday is None else yesterday.get(project.id)
        kind = NeedKind.PASSED if before is not None and before <= target else NeedKind.BEYOND
        by = working_minutes(schedule, project.calendar, target, finish)
        found.append(Need(kind, project.id, None, target, by))
    return found


def _reviews(plan: Plan, now: int, days: int) -> list[Need]:
    """Entries of the register that somebody is to look at again within some days."""
    last = now // DAY + days
    due = [r for r in plan.risks.values() if r.due is not None and r.due <= last and r.state is not RiskState.CLOSED]
    return [
        Need(NeedKind.REVIEW, r.project, None, (r.due or 0) * DAY, risk=r.id)
        for r in due
        if plan.projects[r.project].is_at_work
    ]


def _answers(plan: Plan) -> list[Need]:
    return [Need(NeedKind.ANSWER, plan.tasks[a.task].project, a.task, a.asked) for a in awaited(plan)]


def awaited(plan: Plan) -> list[Approval]:
    """Approvals that wait for somebody: the work is done, or somebody said no."""
    found = []
    for approval in plan.approvals.values():
        mark = plan.tasks[approval.task]
        if approval.state is ApprovalState.GIVEN or mark.is_done or not plan.projects[mark.project].is_at_work:
            continue
        wanted = plan.deliverables.get(approval.deliverable or "")
        is_ready = approval.work is None or (
            wanted.handed is not None if wanted is not None else is_worked(plan, approval.work)
        )
        if is_ready or approval.state is ApprovalState.SENT_BACK:
            found.append(approval)
    return found


def _owed(schedule: Schedule) -> list[Need]:
    """Deliverables of work that is done, and that nobody has."""
    at_work = {p.id for p in schedule.plan.projects.values() if p.is_at_work}
    return [
        Need(NeedKind.OWED, h.project, h.deliverable.task, h.at or 0, deliverable=h.deliverable.id)
        for h in handovers(schedule, at_work)
        if h.state is DeliverableState.TO_COME and h.is_work_done
    ]


def _tasks(schedule: Schedule, now: int, days: int) -> list[Need]:
    network, plan = schedule.network, schedule.plan
    tasks, size = network.tasks, network.size
    kept = np.array([plan.projects[p].is_at_work for p in network.projects], dtype=bool)
    leaves = (network.structure.leaf[:size] == 1) & (tasks.alive[:size] == 1) & (tasks.progress[:size] != DONE)
    leaves &= kept[tasks.project[:size]] if len(kept) else False
    standing, start, finish = schedule.standing, schedule.start[:size], schedule.finish[:size]
    tomorrow = (now // DAY + 1) * DAY
    is_late = standing.late[:size] >= 0
    is_over = finish < now
    waits = (standing.state[:size] == STATES.index(State.WAITING)) & (start < tomorrow)
    is_due = finish <= tomorrow + days * DAY
    chosen = np.flatnonzero(leaves & (is_late | is_over | waits | is_due))
    ids, lates = network.slots.tasks, [_OF_LATE[late] for late in LATES]
    found = []
    for slot, late, by, over, blocked, at in zip(
        chosen.tolist(), standing.late[chosen].tolist(), standing.late_by[chosen].tolist(),
        is_over[chosen].tolist(), waits[chosen].tolist(), finish[chosen].tolist(), strict=True,
    ):  # fmt: skip
        task = plan.tasks[ids[slot]]
        kind = lates[late] if late >= 0 else None
        if (over or kind is NeedKind.TO_BEGIN) and is_milestone(task):
            kind = NeedKind.MILESTONE
        elif kind is None:
            kind = NeedKind.OVER if over else NeedKind.BLOCKED if blocked else NeedKind.DUE
        found.append(Need(kind, task.project, task.id, at, by if late >= 0 else 0))
    return found
