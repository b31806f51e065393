"""All projects at a glance: how each stands and because of what, and counts over all of them."""

from __future__ import annotations

from collections import Counter
from collections.abc import Iterable, Mapping
from dataclasses import dataclass

import numpy as np

from hexapod.control.baselines import project_drift
from hexapod.control.efforts import Efforts
from hexapod.control.leaf_counts import THIRDS, leaf_counts
from hexapod.control.ledger import Ledger, summed
from hexapod.control.mine import MyMilestone, Reach, milestone_of
from hexapod.control.money import Costing, OverBudget, over_budgets
from hexapod.control.outlay import budgets_of, outlays
from hexapod.control.status import STATE_WORDS, ProjectState, ProjectStatus, leaf_slots, leaves_by_project, status_of
from hexapod.plan.records import DAY, Task
from hexapod.schedule.drifting import reference_of
from hexapod.schedule.network import Network
from hexapod.schedule.schedule import Schedule, driving_links
from hexapod.schedule.states import STATES
from hexapod.staffing.demand import Demand
from hexapod.staffing.overloads import overloads
from hexapod.system.words import count_of
from hexapod.worktime.calendars import Ints


@dataclass(frozen=True)
class ProjectRow:
    """A project at a glance. ``next_due`` is when the next milestone is planned, or else the finish; ``overloads`` are
    those that it takes part in; ``average`` is the mean duration of its leaves in minutes of work; ``cost`` is what it
    will all have cost, ``budget`` None where none was set; ``hours`` and ``hours_budget`` are the same in minutes of
    work. ``stream`` is that of most of its leaves, ``tasks`` how many these are, ``since_baseline`` by how many working
    minutes it finishes later than in its baseline, None where it has none. ``marks`` are its milestones by time;
    ``holds_up`` are other projects whose critical work waits for its own, ``leads_to`` all into which a link leads from
    it."""

    project: str
    status: ProjectStatus
    start: int | None
    finish: int | None
    next_due: int | None
    overloads: int
    average: float | None
    cost: int
    budget: int | None
    hours: int
    hours_budget: int | None
    stream: str = ""
    tasks: int = 0
    since_baseline: int | None = None
    marks: tuple[MyMilestone, ...] = ()
    holds_up: tuple[str, ...] = ()
    leads_to: tuple[str, ...] = ()

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


def summary_of(schedule: Schedule, now: int, demand: Demand | None = None) -> Summary:
    """Of every project that is not archived, at a moment. ``demand`` is used again where it is still the plan's."""
    plan = schedule.plan
    demand = Demand.of(schedule, plan, demand)
    shown = [p.id for p in plan.projects_in_order() if not p.archived]
    money = _money(schedule, Efforts.of(schedule, demand), shown, now // DAY)
    over = [each for _, found in money.values() for each in found]
    leaves = leaves_by_project(plan)
    statuses = {s.project: s for s in status_of(schedule, over, leaves)}
    by_project = {p: leaves[p] for p in shown}
    slots = leaf_slots(schedule)
    loaded, held, led = _overloads(schedule, demand), _held_up(schedule), _leads_to(schedule)
    counts = leaf_counts(schedule, by_project, slots)
    marks = {p: _marks(schedule, counts.milestones[p], now) for p in shown}
    rows = tuple(
        ProjectRow(
            p, statuses[p], int(schedule.start[slots[p]].min()) if len(slots[p]) else None,
            schedule.project_finish.get(p), _next_due(marks[p], schedule.project_finish.get(p), now), loaded[p],
            counts.average([p]), *money[p][0], counts.stream[p], len(slots[p]), _since_baseline(schedule, p),
            marks[p], held[p], led[p],
        )
        for p in shown
    )  # fmt: skip
    reaches = Counter(mark.reach for found in marks.values() for mark in found)
    return Summary(
        rows,
        _counted(Counter(row.status.state.value for row in rows)),
        _states(schedule, [slots[p] for p in shown]),
        _counted(counts.priorities),
        {third: counts.thirds[third] for third in THIRDS},
        dict(sorted(counts.streams.items())),
        reaches[Reach.COMING],
        reaches[Reach.OVERDUE],
        reaches[Reach.REACHED],
        counts.average(shown),
    )


def _states(schedule: Schedule, slots: list[Ints]) -> dict[str, int]:
    """How many leaves are in which state."""
    every = np.concatenate(slots) if slots else np.zeros(0, dtype=np.int64)
    counts = np.bincount(schedule.standing.state[every], minlength=len(STATES)).tolist()
    return dict(sorted((state.value, count) for state, count in zip(STATES, counts, strict=True) if count))


def _counted(counts: Counter) -> dict:  # type: ignore[type-arg]
    """How often each value comes, in the order of the values."""
    return dict(sorted(counts.items()))


def _next_due(marks: Iterable[MyMilestone], finish: int | None, now: int) -> int | None:
    """The next open milestone from now on, else the finish where that is still to come."""
    ahead = min((mark.at for mark in marks if mark.reach is not Reach.REACHED and mark.at >= now), default=None)
    return ahead if ahead is not None else finish if finish is not None and finish >= now else None


def _marks(schedule: Schedule, milestones: list[Task], now: int) -> tuple[MyMilestone, ...]:
    found = [milestone_of(schedule, task, now) for task in milestones]
    return tuple(sorted(found, key=lambda mark: (mark.at, mark.task)))


def _since_baseline(schedule: Schedule, project: str) -> int | None:
    baseline = reference_of(schedule.plan, project)
    return None if baseline is None else project_drift(schedule, baseline)


def _held_up(schedule: Schedule) -> dict[str, tuple[str, ...]]:
    """By project the others whose critical tasks are held where they are by a link from one of its own."""
    network, driving = schedule.network, driving_links(schedule)
    ahead, behind = network.links.predecessor[driving], network.links.successor[driving]
    ahead, behind = ahead[schedule.critical[behind] == 1], behind[schedule.critical[behind] == 1]
    return _by_project(network, ahead, behind)


def _leads_to(schedule: Schedule) -> dict[str, tuple[str, ...]]:
    """By project the others into which a link leads from one of its tasks."""
    network = schedule.network
    links, there = network.links, network.links.alive == 1
    return _by_project(network, links.predecessor[there], links.successor[there])


def _by_project(network: Network, ahead: Ints, behind: Ints) -> dict[str, tuple[str, ...]]:
    """Pairs of tasks as pairs of different projects, by the first."""
    one, other = network.tasks.project[ahead], network.tasks.project[behind]
    differs = one != other
    pairs = set(zip(one[differs].tolist(), other[differs].tolist(), strict=True))
    found: dict[str, list[str]] = {project: [] for project in network.plan.projects}
    for i, j in sorted(pairs):
        found[network.projects[i]].append(network.projects[j])
    away = {p.id for p in network.plan.projects.values() if p.archived}
    return {project: tuple(p for p in others if p not in away) for project, others in found.items()}


def _overloads(schedule: Schedule, demand: Demand) -> Counter[str]:
    """By project how many overloads its tasks take part in."""
    plan, found = schedule.plan, overloads(schedule, demand)
    return Counter(p for over in found for p in {plan.tasks[t].project for t in over.tasks})


def _money(
    schedule: Schedule, efforts: Efforts, projects: list[str], today: int
) -> dict[str, tuple[tuple[int, int | None, int, int | None], list[OverBudget]]]:
    """By project what it will have cost, its budget, the same in minutes of work, and the budgets that are burst or
    will be."""
    plan, ledger = schedule.plan, Ledger.of(schedule.plan)
    with_budget = {b.project for b in plan.budgets.values()}
    spent, minutes = outlays(schedule, efforts, (today, today + 1), today), _hours(efforts, ledger)
    allowed = budgets_of(plan, "minutes")
    return {
        p: (
            (spent[p].whole, spent[p].budget, minutes[p], allowed.get(p)),
            over_budgets(Costing.of(efforts, ledger, p, today), today) if p in with_budget else [],
        )
        for p in projects
    }


def _hours(efforts: Efforts, ledger: Ledger) -> dict[str, int]:
    """By project the minutes of work that are logged, and those of the rest."""
    network = efforts.schedule.network
    there = np.flatnonzero(network.tasks.alive[: network.size])
    left = summed(network.tasks.project[there], efforts.left[there], len(network.projects))
    found = dict(zip(network.projects, left.tolist(), strict=True))
    for task, minutes in ledger.by_task(ledger.counting(), ledger.minutes).items():
        known = efforts.schedule.plan.tasks.get(task)
        if known is not None:
            found[known.project] += minutes
    return found


def sentence(states: Mapping[str, int]) -> str:
    """How many projects are in each state, in one sentence; what needs somebody comes first."""
    said = [f"{states[state]} {words}" for state, words in STATE_WORDS.items() if states.get(state)]
    return f"{count_of(sum(states.values()), 'project')}: {', '.join(said) or 'nothing in them yet'}."
