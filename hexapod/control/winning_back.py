"""Ways to win back what a late task costs, each worked out: somebody who is free then, levelling again, another target.

Somebody more shortens what is left in proportion to how many there are (common practice; that people can be added to
any work is for the planner to judge). Each way is an edit of the plan whose dates are given.
"""

from __future__ import annotations

import math
from dataclasses import dataclass
from enum import StrEnum

from msgspec.structs import replace

from hexapod.plan import edits
from hexapod.plan.changes import diff
from hexapod.plan.edits import Edit
from hexapod.plan.plan import Draft
from hexapod.schedule.engine import reschedule
from hexapod.schedule.schedule import Schedule
from hexapod.schedule.slip import working_minutes
from hexapod.staffing.candidates import candidates
from hexapod.staffing.levelling.proposal import accepting, level


class Means(StrEnum):
    HELP = "help"
    LEVEL = "level"
    TARGET = "target"


@dataclass(frozen=True)
class Way:
    """``wins`` is working minutes of the project's finish, which then lies at ``finish``. ``resource`` is who would
    help with the task from ``begin`` to ``end``."""

    means: Means
    edit: Edit
    wins: int
    finish: int
    resource: str | None = None
    begin: int = 0
    end: int = 0


def ways_to_win_back(after: Schedule, task: str) -> list[Way]:
    """What there is for a task that is late, what wins most first; the target last. Nothing where it wins nothing."""
    project = after.plan.tasks[task].project
    found = [way for way in (_help(after, task), _levelled(after, project)) if way is not None and way.wins > 0]
    found.sort(key=lambda way: -way.wins)
    target = _target(after, project)
    return [*found, target] if target is not None else found


def _help(after: Schedule, task_id: str) -> Way | None:
    """The first who is free of those who could do what somebody on the task does."""
    plan, slot = after.plan, after.slots[task_id]
    task = plan.tasks[task_id]
    if task.is_done or plan.is_summary(task_id) or not task.rest:
        return None
    begin = int(after.free_start[slot] if task.is_begun else after.start[slot])
    end = int(after.finish[slot])
    people = plan.assignments_of(task_id)
    there = {a.resource for a in people}
    units = sum(a.units for a in people) or 1.0
    for assignment in people:
        free = [c for c in candidates(after, plan, assignment.resource, begin, end) if c.resource not in there]
        if free:
            rest = math.ceil(task.rest * units / (units + 1))
            shorter = edits.set_rest if task.is_begun else edits.set_durations
            steps = [edits.assign(plan, [task_id], free[0].resource, 1.0), shorter(plan, [task_id], rest)]
            name = plan.resources[free[0].resource].name
            return _tried(after, edits.together(f"{name} helps with “{task.name}”", steps), Means.HELP, task.project,
                          free[0].resource, begin, end)  # fmt: skip
    return None


def _levelled(after: Schedule, project: str) -> Way | None:
    proposal = level(after, within_float=False)
    if not proposal.moves:
        return None
    return _tried(after, accepting(proposal, "Level again"), Means.LEVEL, project)


def _target(after: Schedule, project: str) -> Way | None:
    target, finish = after.plan.projects[project].target_finish, after.project_finish[project]
    if target is None or finish is None or finish <= target:
        return None

    def change(draft: Draft) -> None:
        draft.put(replace(draft.get("projects", project), target_finish=finish))

    return Way(Means.TARGET, Edit(f"Move the target of “{after.plan.projects[project].name}”", change), 0, finish)


def _tried(
    after: Schedule, edit: Edit, means: Means, project: str, resource: str | None = None, begin: int = 0, end: int = 0
) -> Way | None:
    plan = edit.applied_to(after.plan)
    then = reschedule(after, plan, diff(after.plan, plan))
    was, finish = after.project_finish[project], then.project_finish[project]
    if was is None or finish is None:
        return None
    wins = working_minutes(then, plan.projects[project].calendar, finish, was)
    return Way(means, edit, wins, finish, resource, begin, end)
