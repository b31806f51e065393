"""What a report is made from: a plan with its dates at a moment, some of its projects, and some days that led to it."""

from __future__ import annotations

from collections.abc import Collection
from dataclasses import dataclass, field
from functools import cached_property

import numpy as np

from hexapod.control.drift import Past, Replay, replay
from hexapod.control.efforts import Efforts
from hexapod.control.ledger import Ledger
from hexapod.control.money import Costing, Step, periods_of
from hexapod.control.summary import ProjectRow, Summary, summary_of
from hexapod.plan.outline import outline_order
from hexapod.plan.plan import Plan
from hexapod.plan.records import DAY, Project, Task
from hexapod.reports.outside import outside_plan
from hexapod.reports.report import Words, ends_on, plain_words
from hexapod.schedule.engine import schedule as computed
from hexapod.schedule.schedule import Schedule
from hexapod.staffing.demand import Demand
from hexapod.staffing.overloads import overloads
from hexapod.staffing.reports import StaffFacts
from hexapod.worktime.calendars import Ints
from hexapod.worktime.clock import date_of

AHEAD = 4  # weeks that are looked ahead
MOST_EDITS = 400  # that are followed one by one to say what moved a finish


@dataclass(frozen=True)
class Basis:
    """``now`` is the moment that it tells of, in minutes; ``since`` and ``until`` the days that it is about. ``past``
    are the edits made in these days, the latest first; None where nobody knows them, as in a plan without history.
    ``scope`` are its projects, in their order; ``outside`` says that it holds only what people outside may see."""

    schedule: Schedule
    now: int
    scope: tuple[str, ...]
    since: int
    until: int
    past: Past | None = None
    words: Words = field(default_factory=plain_words)
    weeks: int = AHEAD
    known_demand: Demand | None = None
    outside: bool = False

    @property
    def plan(self) -> Plan:
        return self.schedule.plan

    def day(self, at: int) -> str:
        """A day, with its year where that is another one than now."""
        same = date_of(at // DAY).year == date_of(self.now // DAY).year
        return self.words.day(at) if same else self.words.long_day(at)

    def last_day(self, at: int) -> str:
        """The same of what ends: at midnight it is the day before."""
        return self.day(ends_on(at))

    def projects(self) -> list[Project]:
        return [self.plan.projects[p] for p in self.scope]

    @property
    def is_all(self) -> bool:
        """Whether its projects are all that are not archived."""
        return self.scope == scope_of(self.plan)

    @cached_property
    def inside(self) -> frozenset[str]:
        return frozenset(self.scope)

    @cached_property
    def tasks(self) -> list[Task]:
        """Those of its projects, in the order of the outline."""
        found = (self.plan.tasks[t] for t in outline_order(self.plan))
        by_project: dict[str, list[Task]] = {p: [] for p in self.scope}
        for task in found:
            if task.project in by_project:
                by_project[task.project].append(task)
        return [task for p in self.scope for task in by_project[p]]

    @cached_property
    def leaves(self) -> list[Task]:
        return [t for t in self.tasks if not self.plan.is_summary(t.id)]

    @cached_property
    def demand(self) -> Demand:
        return Demand.of(self.schedule, self.plan, self.known_demand)

    @cached_property
    def efforts(self) -> Efforts:
        return Efforts.of(self.schedule, self.demand)

    @cached_property
    def ledger(self) -> Ledger:
        return Ledger.of(self.plan)

    @cached_property
    def summary(self) -> Summary:
        """Of all projects, whatever the scope."""
        return summary_of(self.schedule, self.now, self.demand)

    @cached_property
    def rows(self) -> list[ProjectRow]:
        """How its projects stand."""
        return [row for row in self.summary.rows if row.project in self.inside]

    def costing(self, project: str) -> Costing:
        return Costing.of(self.efforts, self.ledger, project, self.now // DAY)

    @cached_property
    def steps(self) -> list:  # type: ignore[type-arg]
        """The edits of its days, the latest first; nothing where they are not known."""
        return [] if self.past is None else list(self.past)

    @cached_property
    def before(self) -> Schedule | None:
        """The dates as they were when its days began; None where that is not known."""
        from hexapod.errors import HexapodError

        if self.past is None:
            return None
        plan = self.plan
        for _, _, changes in self.steps:
            plan = changes.inverse().applied_to(plan)
        try:
            return computed(plan)
        except HexapodError:
            return None

    @cached_property
    def replayed(self) -> Replay | None:
        """The finishes of its projects after each edit of its days; None where they are not known, or too many."""
        if self.past is None or len(self.steps) > MOST_EDITS:
            return None
        return replay(self.plan, self.steps, self.scope)

    # For the reports of the staff

    def staff(self, edges: Ints | None = None) -> StaffFacts:
        """By month from now to the end of the plan, unless periods are given."""
        found = overloads(self.schedule, self.demand)
        return StaffFacts(
            self.schedule, self.plan, self.demand, tuple(found), self.months() if edges is None else edges,
            self.words.month, self.words.day,
        )  # fmt: skip

    def months(self) -> Ints:
        """Edges of the months from now to the last finish of its projects, two years at most."""
        last = max((f for p in self.scope if (f := self.schedule.project_finish.get(p)) is not None), default=self.now)
        months = periods_of(Step.MONTH, self.now // DAY, max(self.now, last - 1) // DAY)[:24]
        return np.array([months[0][0] * DAY, *((last + 1) * DAY for _, last in months)], dtype=np.int64)

    def week_edges(self) -> Ints:
        """Edges of this week and the next ones."""
        weeks = periods_of(Step.WEEK, self.now // DAY, self.now // DAY + 7 * (self.weeks - 1))
        return np.array([weeks[0][0] * DAY, *((last + 1) * DAY for _, last in weeks)], dtype=np.int64)


def outside_basis(basis: Basis) -> Basis:
    """The same for people outside: of a plan that holds nothing but what they may see, without its past."""
    plan = outside_plan(basis.schedule, basis.scope)
    return Basis(
        computed(plan), basis.now, scope_of(plan), basis.since, basis.until, words=basis.words, weeks=basis.weeks,
        outside=True,
    )  # fmt: skip


def scope_of(plan: Plan, *, projects: Collection[str] = (), department: str = "") -> tuple[str, ...]:
    """Chosen projects, those of a department, or all that are not archived, in their order."""
    shown = [p for p in plan.projects_in_order() if not p.archived]
    if projects:
        shown = [p for p in plan.projects_in_order() if p.id in projects]
    elif department:
        shown = [p for p in shown if p.department.casefold() == department.casefold()]
    return tuple(p.id for p in shown)
