"""All projects at a glance: how each stands and because of what, and counts over all of them."""

from __future__ import annotations

from collections import Counter
from collections.abc import Iterable, Mapping
from dataclasses import dataclass
from typing import NamedTuple

import numpy as np

from hexapod.control.efforts import Efforts
from hexapod.control.ledger import Ledger
from hexapod.control.mine import is_milestone
from hexapod.control.money import Costing, OverBudget, over_budgets
from hexapod.control.outlay import outlays
from hexapod.control.status import ProjectState, ProjectStatus, leaves_by_project, status_of
from hexapod.plan.outline import stream_of
from hexapod.plan.plan import Plan
from hexapod.plan.records import DAY, Task
from hexapod.schedule.schedule import Schedule, driving_links
from hexapod.staffing.demand import Demand
from hexapod.staffing.overloads import overloads

THIRDS = ("not_begun", "first", "second", "last", "done")


class Mark(NamedTuple):
    """A milestone: when it is planned, or was reached."""

    task: str
    at: int
    reached: bool


@dataclass(frozen=True)
class ProjectRow:
    """A project at a glance. ``next_due`` is when the next milestone is planned, or else the finish; ``overloads`` are
    those that it takes part in; ``average`` is the mean duration of its leaves in minutes of work; ``cost`` is what it
    will all have cost, ``budget`` None where none was set. ``marks`` are its milestones by time; ``holds_up`` are other
    projects whose critical work waits for its own."""

    project: str
    status: ProjectStatus
    start: int | None
    finish: int | None
    next_due: int | None
    overloads: int
    average: float | None
    cost: int
    budget: int | None
    marks: tuple[Mark, ...] = ()
    holds_up: tuple[str, ...] = ()

    @property
    def needs_attention(self) -> bool:
        """It is late, or in doubt."""
        return self.status.state in (ProjectState.LATE, ProjectState.IN_DOUBT)


@dataclass(frozen=True)
class Summary:
    """``states`` are those of projects; the other counts are of leaf tasks, ``done`` by ``THIRDS``. Milestones are
    still to come, overdue, or reached. ``average`` is the mean duration of all leaves that take time, in minutes of
    work."""

    rows: tuple[ProjectRow, ...]
    states: Mapping[str, int]
    task_states: Mapping[str, int]
    priorities: Mapping[int, int]
    done: Mapping[str, int]
    streams: Mapping[str, int]
    coming: int
    overdue: int
    reached: int
    average: float | None


def summary_of(schedule: Schedule, now: int) -> Summary:
    """Of every project that is not archived, at a moment."""
    plan = schedule.plan
    demand = Demand.of(schedule, plan)
    shown = [p.id for p in plan.projects_in_order() if not p.archived]
    money = _money(schedule, Efforts.of(schedule, demand), shown, now // DAY)
    over = [each for _, found in money.values() for each in found]
    statuses = {s.project: s for s in status_of(schedule, over)}
    leaves = leaves_by_project(plan)
    by_project = {p: leaves[p] for p in shown}
    loaded, held = _overloads(schedule, demand), _held_up(schedule)
    rows = tuple(
        ProjectRow(
            p, statuses[p], _start(schedule, by_project[p]), schedule.project_finish.get(p),
            _next_due(schedule, by_project[p], p, now), loaded[p], _average(by_project[p]), *money[p][0],
            _marks(schedule, by_project[p]), held[p],
        )
        for p in shown
    )  # fmt: skip
    here = [t for found in by_project.values() for t in found]
    marks = [t for t in here if is_milestone(t)]
    overdue = [t for t in marks if not t.is_done and _finish(schedule, t) < now]
    return Summary(
        rows,
        _counted(row.status.state.value for row in rows),
        _counted(schedule.state_of(t.id).value for t in here),
        _counted(t.priority for t in here),
        _counted((_third(t) for t in here), THIRDS),
        _counted(stream_of(plan, t.id) for t in here),
        sum(not t.is_done for t in marks) - len(overdue),
        len(overdue),
        sum(t.is_done for t in marks),
        _average(here),
    )


def _counted(values: Iterable, order: Iterable = ()) -> dict:  # type: ignore[type-arg]
    """How often each value comes, in an order or that of the values."""
    counts = Counter(values)
    return {value: counts[value] for value in (*order, *sorted(set(counts) - set(order)))}


def _third(task: Task) -> str:
    """How far a leaf is: not begun, in its first, second or last third, or done."""
    if task.is_done:
        return "done"
    if task.actual_start is None and not task.percent:
        return "not_begun"
    return THIRDS[1 + min(2, int(task.percent * 3 // 100))]


def _start(schedule: Schedule, leaves: list[Task]) -> int | None:
    return min((int(schedule.start[schedule.slots[t.id]]) for t in leaves if schedule.has(t.id)), default=None)


def _finish(schedule: Schedule, task: Task) -> int:
    return int(schedule.finish[schedule.slots[task.id]])


def _next_due(schedule: Schedule, leaves: list[Task], project: str, now: int) -> int | None:
    """The next open milestone from now on, else the finish where that is still to come."""
    to_come = [_finish(schedule, t) for t in leaves if is_milestone(t) and not t.is_done]
    ahead = [at for at in to_come if at >= now]
    finish = schedule.project_finish.get(project)
    return min(ahead) if ahead else finish if finish is not None and finish >= now else None


def _marks(schedule: Schedule, leaves: list[Task]) -> tuple[Mark, ...]:
    found = [Mark(t.id, _finish(schedule, t), t.is_done) for t in leaves if is_milestone(t)]
    return tuple(sorted(found, key=lambda mark: (mark.at, mark.task)))


def _held_up(schedule: Schedule) -> dict[str, tuple[str, ...]]:
    """By project the others whose critical tasks are held where they are by a link from one of its own."""
    plan, driving, of_link = schedule.plan, driving_links(schedule), schedule.network.slots.of_link
    found: dict[str, dict[str, None]] = {project: {} for project in plan.projects}
    for link in plan.links.values():
        ahead, behind = plan.tasks[link.predecessor].project, plan.tasks[link.successor].project
        if ahead == behind or not schedule.critical[schedule.slots[link.successor]]:
            continue
        if driving[of_link[link.key]]:
            found[ahead][behind] = None
    return {project: tuple(others) for project, others in found.items()}


def _average(leaves: list[Task]) -> float | None:
    lengths = [t.minutes for t in leaves if t.minutes]
    return float(np.mean(lengths)) if lengths else None


def _overloads(schedule: Schedule, demand: Demand) -> Counter[str]:
    """By project how many overloads its tasks take part in."""
    plan, found = schedule.plan, overloads(schedule, demand)
    return Counter(p for over in found for p in {plan.tasks[t].project for t in over.tasks})


def _money(
    schedule: Schedule, efforts: Efforts, projects: list[str], today: int
) -> dict[str, tuple[tuple[int, int | None], list[OverBudget]]]:
    """By project what it will have cost, its budget, and the budgets that are burst or will be."""
    plan, ledger = schedule.plan, Ledger.of(schedule.plan)
    with_budget = {b.project for b in plan.budgets.values()}
    spent = outlays(schedule, efforts, (today, today + 1), today)
    return {
        p: (
            (spent[p].whole, spent[p].budget),
            over_budgets(Costing.of(efforts, ledger, p, today), today) if p in with_budget else [],
        )
        for p in projects
    }


def sentence(plan: Plan, summary: Summary) -> str:
    """Counts of projects in one sentence, what needs somebody first."""
    named = {"late": "late", "in_doubt": "in doubt", "on_course": "on course", "on_hold": "on hold", "done": "done"}
    said = [f"{summary.states[s]} {words}" for s, words in named.items() if summary.states.get(s)]
    count = len(summary.rows)
    return f"{count} project{'' if count == 1 else 's'}: {', '.join(said) or 'nothing in them yet'}."
