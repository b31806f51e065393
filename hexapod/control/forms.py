"""Forms by which people tell how far their work is without this program: what stands on one, and what comes back.

A form holds what a person is to work on by a date. It leaves as a page or a sheet (``formats.forms``), comes back with
a few texts a task, and is checked against the plan as it is by then (``fields.returned``). Nothing of it changes a
plan: it becomes answers of a round.
"""

from __future__ import annotations

from collections.abc import Iterable

import msgspec
import numpy as np

from hexapod.plan.plan import Plan
from hexapod.plan.records import DAY, ResourceKind
from hexapod.schedule.codes import DONE, NOT_BEGUN
from hexapod.schedule.schedule import Schedule

AHEAD = 14 * DAY  # what begins within it stands on a form too


class FormRow(msgspec.Struct, frozen=True):
    """A task of a person. ``since`` is the status date of its project when the form was made; times are minutes."""

    task: str
    name: str
    where: str
    start: int
    finish: int
    minutes: int
    rest: int
    begun: int | None
    since: int | None


class PersonForm(msgspec.Struct, frozen=True):
    """``workspace`` tells whose tasks they are, ``made`` when it was written (minutes)."""

    workspace: str
    person: str
    name: str
    made: int
    rows: tuple[FormRow, ...]


class ReturnedAnswer(msgspec.Struct, frozen=True, forbid_unknown_fields=True, omit_defaults=True):
    """What somebody entered about a task, as it was typed: dates, a length of work that is left, hours of work."""

    task: str
    name: str = ""
    since: str = ""
    began: str = ""
    done: str = ""
    left: str = ""
    hours: str = ""
    note: str = ""

    @property
    def is_empty(self) -> bool:
        return not any(text.strip() for text in (self.began, self.done, self.left, self.hours, self.note))


class Returned(msgspec.Struct, frozen=True):
    """A form that came back: from whom, of which workspace, in which ``place`` (a file, perhaps with its sheet)."""

    place: str
    workspace: str
    person: str
    name: str
    made: str
    answers: tuple[ReturnedAnswer, ...]


def people_with_work(plan: Plan) -> list[str]:
    """People to whom something is assigned, in the order of the pool."""
    named = {a.resource for a in plan.assignments.values()}
    return [r.id for r in plan.resources_in_order() if r.kind is ResourceKind.PERSON and r.id in named]


def form_of(schedule: Schedule, person: str, workspace: str, made: int, until: int) -> PersonForm:
    """What a person has begun, and what the plan has begin up to two weeks after ``until``; in the order of dates."""
    plan = schedule.plan
    rows = [_row(schedule, t) for t in tasks_of(schedule, [person], until + AHEAD)]
    return PersonForm(workspace, person, plan.resources[person].name, made, tuple(rows))


def tasks_of(schedule: Schedule, people: Iterable[str], until: int) -> list[str]:
    """Leaves of some people that are not done and are begun, or begin before a moment; in the order of dates."""
    network = schedule.network
    plan, tasks = network.plan, network.tasks
    among = set(people)
    mine = {a.task for a in plan.assignments.values() if a.resource in among and schedule.has(a.task)}
    slots = [schedule.slots[t] for t in mine if not plan.projects[plan.tasks[t].project].archived]
    chosen = np.array(sorted(slots), dtype=np.int64)
    open_now = (network.structure.leaf[chosen] == 1) & (tasks.progress[chosen] != DONE)
    near = (tasks.progress[chosen] != NOT_BEGUN) | (schedule.start[chosen] < until)
    found = chosen[open_now & near]
    order = np.lexsort((schedule.finish[found], schedule.start[found]))
    return [network.slots.tasks[slot] for slot in found[order].tolist()]


def _row(schedule: Schedule, task_id: str) -> FormRow:
    plan, slot = schedule.plan, schedule.slots[task_id]
    task = plan.tasks[task_id]
    project = plan.projects[task.project]
    above = [plan.tasks[t].name for t in reversed(plan.ancestors(task_id))]
    return FormRow(
        task_id,
        task.name,
        " › ".join([project.name, *above]),
        int(schedule.start[slot]),
        int(schedule.finish[slot]),
        task.minutes,
        task.rest,
        task.actual_start,
        project.status_date,
    )
