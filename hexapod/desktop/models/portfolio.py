"""All projects at a glance, as they are on show: grouped, sorted, narrowed, and what is on course folded to a line."""

from __future__ import annotations

from collections import Counter
from collections.abc import Callable, Iterable
from dataclasses import dataclass
from enum import StrEnum
from typing import TYPE_CHECKING

from PyQt6.QtCore import QObject, pyqtSignal

from hexapod.control.mine import MyMilestone, Reach
from hexapod.control.status import STATE_WORDS, ProjectState
from hexapod.desktop.models.background import in_background
from hexapod.desktop.models.past_finishes import PastFinishes
from hexapod.desktop.models.project_columns import OWN, USUAL, ProjectColumn, columns_of, own_text
from hexapod.desktop.models.project_lanes import ProjectLanes, Tasks
from hexapod.desktop.models.projects_asked import ProjectsAsked
from hexapod.plan import edits
from hexapod.plan.kept import PROJECTS
from hexapod.plan.records import DAY
from hexapod.query.portfolio_views import PortfolioView, kept_portfolio_form, read_portfolio_views
from hexapod.schedule.schedule import computed_dates
from hexapod.system.words import count_of
from hexapod.worktime import clock
from hexapod.worktime.clock import date_of, day_number

if TYPE_CHECKING:
    from hexapod.control.summary import ProjectRow, Summary
    from hexapod.desktop.models.desk import Desk
    from hexapod.plan.plan import Plan
    from hexapod.plan.records import Project
    from hexapod.schedule.schedule import Schedule

FOLDS_FROM = 4  # so many on course in one group become a line
LATE = STATE_WORDS[ProjectState.LATE].capitalize()  # the group of them
WORST_FIRST = list(STATE_WORDS)


class Only(StrEnum):
    """Which projects are on show; the states are those of ``ProjectState``."""

    ALL = "all"
    ATTENTION = "attention"
    LATE = "late"
    IN_DOUBT = "in_doubt"
    ON_COURSE = "on_course"
    ON_HOLD = "on_hold"
    DONE = "done"
    REACHED = "reached"  # a milestone this month
    OVERDUE = "overdue"  # a milestone


@dataclass(frozen=True)
class Folded:
    """The line that stands for projects of a group that need nobody."""

    group: str
    words: str


@dataclass(frozen=True)
class Group:
    """Some projects under one heading, in order, and those that one line stands for."""

    name: str
    rows: tuple[ProjectRow, ...]
    folded: tuple[ProjectRow, ...]

    @property
    def folded_words(self) -> str:
        """``and 17 more on course, 5 done``"""
        counts = Counter(row.status.state for row in self.folded)
        some = [f"{counts[state]} {words}" for state, words in STATE_WORDS.items() if counts[state]]
        return f"and {', '.join(some).replace(' ', ' more ', 1)}"

    @property
    def words(self) -> str:
        every = (*self.rows, *self.folded)
        late = sum(row.status.state is ProjectState.LATE for row in every)
        some = f", {late} late" if late > 0 and self.name != LATE else ""
        return f"{self.name} · {count_of(len(every), 'project')}{some}"


class PortfolioWork(QObject):
    """``changed`` says that figures, or what is on show of them, are others; ``chosen`` is the project looked at."""

    changed = pyqtSignal()
    bar_asked = pyqtSignal(str)  # the bar of a milestone in the chart
    row_asked = pyqtSignal(str)  # the row of another project
    first_marked = pyqtSignal()  # there is something to be changed together now

    def __init__(self, desk: Desk) -> None:
        super().__init__(desk)
        self._desk = desk
        self.summary: Summary | None = None
        self.trouble = ""
        self.group_by = desk.memory.recall("projects_by", str, "department")
        self.sort_by = desk.memory.recall("projects_sorted", str, "state")
        self._columns = tuple(desk.memory.recall("projects_columns", list[str], []))
        self._offered: tuple[object, dict[str, ProjectColumn]] = (None, {})  # of which own fields, and the columns
        self.name = ""  # of the kept view that is on show
        self.counted = desk.memory.recall("projects_counted", str, "priority")  # by what tasks are
        self.only = Only.ALL
        self.text = ""
        self.chosen = desk.project or ""
        self.lanes = ProjectLanes(desk, self.changed.emit)
        self.asked = ProjectsAsked(self, desk, self.changed.emit)
        self._marked: dict[str, None] = {}  # to be changed together
        self._of: Schedule | None = None  # the figures that are known, or under way
        self._opened: set[str] = set()
        self._week_ago = PastFinishes(self, 7, self.changed.emit)

    # Figures

    def look(self) -> None:
        """Work the figures out beside the interface, where they are not those of the plan any more."""
        self.asked.look()
        known = computed_dates(self._desk.schedule)
        if known is None or known is self._of:
            return
        self._of = known
        from hexapod.control.summary import summary_of

        def show(found: object) -> None:
            if self._of is known:
                self.summary, self.trouble = found, ""  # type: ignore[assignment]
                self.changed.emit()

        def fail(error: Exception) -> None:
            if self._of is known:
                self.trouble = "The projects could not be summed up."
                self.changed.emit()

        now, load = clock.now(), self._desk.load
        demand = None if load is None else load.demand

        def work() -> object:
            _ = known.drifts  # of the milestones; kept there
            return summary_of(known, now, demand)

        in_background(self, work, show, fail)
        self._week_ago.look(self._desk.home)

    def week_ago(self, project: str) -> int | None:
        """When a project would have finished as the plan was a week ago, where that is known."""
        return (self._week_ago.found or {}).get(project)

    @property
    def plan(self) -> Plan:
        return self._desk.plan

    @property
    def dates(self) -> Schedule | None:
        """Of the plan, where they are computed."""
        return computed_dates(self._desk.schedule)

    def project(self, project: str) -> Project:
        return self._desk.plan.projects[project]

    # What is on show

    def view(self, name: str) -> PortfolioView:
        """What is on show, to be kept under a name."""
        return PortfolioView(
            name,
            self.only,
            self.text,
            self.group_by,
            self.sort_by,
            self.lanes.shown,
            () if self.columns == USUAL else self.columns,
        )

    def views(self) -> list[PortfolioView]:
        """Those that are kept, in their order."""
        kept = [v for v in self._desk.plan.views_in_order() if v.of == PROJECTS]
        return read_portfolio_views((v.name, v.shows) for v in kept)

    def show_view(self, view: PortfolioView) -> None:
        """Show what was kept; what of it is not known any more is as usual."""
        self.text = ""
        self.only = Only(view.only) if view.only in set(Only) else Only.ALL
        self.show_columns(view.columns)
        self.lanes.show(Tasks(view.tasks) if view.tasks in set(Tasks) else Tasks.NONE)
        self.narrow(
            text=view.text,
            group_by=view.group_by if view.group_by in dict(self.ways_to_group()) else "department",
            sort_by=view.sort_by if view.sort_by in dict(self.ways_to_sort()) else "state",
        )
        self.name = view.name
        self.changed.emit()

    def keep_view(self, name: str) -> bool:
        """Keep what is on show under a name, in place of what has it."""
        name = name.strip()
        kept = self._desk.do(edits.keep_view(self._desk.plan, name, kept_portfolio_form(self.view(name)), PROJECTS))
        if kept:
            self.name = name
            self.changed.emit()
        return kept

    def forget_view(self) -> bool:
        name, self.name = self.name, ""
        return self._desk.do(edits.forget_view(self._desk.plan, name, PROJECTS))

    def show_columns(self, columns: Iterable[str]) -> None:
        """Those columns, in the order in which they always stand; the usual ones where there is none."""
        self._columns, self.name = tuple(columns), ""
        self._desk.memory.keep("projects_columns", list(self.columns))
        self.changed.emit()

    @property
    def offered(self) -> dict[str, ProjectColumn]:
        """The columns that there are: the usual ones, and one for each own field of projects."""
        fields = self._desk.plan.fields
        if self._offered[0] is not fields:
            self._offered = fields, columns_of(self._desk.plan)
        return self._offered[1]

    @property
    def columns(self) -> tuple[str, ...]:
        """Those that are on show, in their order."""
        wanted = set(self._columns)
        return tuple(key for key in self.offered if key in wanted) or USUAL

    def ways_to_group(self) -> list[tuple[str, str]]:
        ways = [(key, words) for key, (words, _) in GROUPS.items()]
        return [*ways[:-1], *self._own_ways(), ways[-1]]

    def ways_to_sort(self) -> list[tuple[str, str]]:
        return [*SORTS.items(), *self._own_ways()]

    def _own_ways(self) -> list[tuple[str, str]]:
        return [(f"{OWN}{f.id}", f"by {f.name.lower()}") for f in self._desk.plan.fields_of(PROJECTS)]

    def narrow(
        self,
        *,
        only: Only | None = None,
        text: str | None = None,
        group_by: str | None = None,
        sort_by: str | None = None,
    ) -> None:
        """Show other projects, or in another order. What is on show already is not asked for again: once more, and all
        projects are back."""
        if only is not None:
            self.only = Only.ALL if only is self.only else only
        self.name = ""
        if text is not None:
            self.text = text
            self.asked.ask(text)
        if group_by is not None:
            self.group_by = group_by
            self._desk.memory.keep("projects_by", group_by)
        if sort_by is not None:
            self.sort_by = sort_by
            self._desk.memory.keep("projects_sorted", sort_by)
        self.changed.emit()

    def open_group(self, group: str) -> None:
        """Show what a line stands for; once more, and it is a line again."""
        self._opened ^= {group}
        self.changed.emit()

    def is_opened(self, group: str) -> bool:
        return group in self._opened

    def go_to(self, project: str) -> None:
        """To the row of a project, wherever it is: what hides it is opened, or all projects are shown."""
        if not any(project in (r.project for r in (*g.rows, *g.folded)) for g in self.groups()):
            self.narrow(only=Only.ALL, text="")
        for group in self.groups():
            if project in (row.project for row in group.folded):
                self.open_group(group.name)
        self.row_asked.emit(project)

    def look_at(self, project: str) -> None:
        if project != self.chosen:
            self.chosen = project
            self.changed.emit()

    @property
    def marked(self) -> list[str]:
        """The projects that are marked to be changed together, in the order in which they were."""
        shown = {row.project for row in self.rows()}
        return [project for project in self._marked if project in shown]

    def mark(self, project: str) -> None:
        """Mark a project; once more, and it is not any more."""
        were = bool(self.marked)
        if self._marked.pop(project, self) is self:
            self._marked[project] = None
        self.changed.emit()
        if not were and self.marked:
            self.first_marked.emit()

    def unmark(self) -> None:
        self._marked.clear()
        self.changed.emit()

    def rows(self) -> list[ProjectRow]:
        """Of projects that are there and not archived."""
        plan = self._desk.plan
        if self.summary is None:
            return []
        return [r for r in self.summary.rows if r.project in plan.projects and not plan.projects[r.project].archived]

    def row(self, project: str) -> ProjectRow | None:
        return next((row for row in self.rows() if row.project == project), None)

    def comes_from(self, project: str) -> list[str]:
        """The projects from which a link leads into one."""
        return [row.project for row in self.rows() if project in row.leads_to]

    def groups(self) -> list[Group]:
        """What is on show, group by group. What is on course is folded unless its group was opened or all of it was
        asked for by name or state."""
        found: dict[str, list[ProjectRow]] = {}
        for row in sorted(filter(self._is_wanted, self.rows()), key=self._order):
            found.setdefault(self._group_of(row), []).append(row)
        folds = self.only is Only.ALL and not self.text
        groups = []
        for name in sorted(found, key=lambda name: (name in (*UNNAMED.values(), NOT_SAID), self._group_order(name))):
            calm = [row for row in found[name] if not row.needs_attention]
            some = calm if folds and len(calm) >= FOLDS_FROM and name not in self._opened else []
            groups.append(Group(name, tuple(r for r in found[name] if r not in some), tuple(some)))
        return groups

    def counts(self) -> dict[Only, int]:
        """How many projects each part of the sentence stands for; of milestones how many they are."""
        rows = self.rows()
        found = {Only(state): sum(row.status.state is state for row in rows) for state in WORST_FIRST}
        found[Only.REACHED] = sum(len(self._reached(row)) for row in rows)
        found[Only.OVERDUE] = sum(len(self._overdue(row)) for row in rows)
        return found

    def count_by(self, way: str) -> None:
        """Count tasks by something else, beneath the projects."""
        self.counted = way
        self._desk.memory.keep("projects_counted", way)
        self.changed.emit()

    def task_counts(self) -> list[tuple[str, int]]:
        """How many tasks there are of each: the priorities in order, departments and streams the largest first."""
        if self.summary is None:
            return []
        if self.counted == "department":
            found = Counter[str]()
            for row in self.rows():
                found[self.project(row.project).department or UNNAMED["department"]] += row.tasks
        elif self.counted == "stream":
            found = Counter(self.summary.streams)
        else:
            return [(str(key), count) for key, count in sorted(self.summary.priorities.items())]
        most = found.most_common(MOST_COUNTED)
        rest = sum(found.values()) - sum(count for _, count in most)
        return [*most, *([("others", rest)] if rest else [])]

    def _is_wanted(self, row: ProjectRow) -> bool:
        is_named = not self.text or self.text.casefold() in self._words_of(row).casefold()
        if not is_named and row.project not in self.asked.found:
            return False
        if self.only is Only.ALL:
            return True
        if self.only is Only.ATTENTION:
            return row.needs_attention
        if self.only is Only.REACHED:
            return bool(self._reached(row))
        if self.only is Only.OVERDUE:
            return bool(self._overdue(row))
        return row.status.state.value == self.only.value

    def _words_of(self, row: ProjectRow) -> str:
        """What is looked through for a text."""
        project = self._desk.plan.projects[row.project]
        own = (own_text(self, row, field) for field in self._desk.plan.fields_of(PROJECTS))
        return " ".join((project.name, project.department, project.folder, self.leader(project), *own))

    def leader(self, project: Project) -> str:
        """Who answers for a project; nothing where nobody does."""
        found = self._desk.plan.resources.get(project.led_by or "")
        return "" if found is None else found.name

    @staticmethod
    def _reached(row: ProjectRow) -> list[MyMilestone]:
        """Milestones that were reached this month."""
        month = month_of(clock.now())
        return [m for m in row.marks if m.reach is Reach.REACHED and month_of(m.at) == month]

    @staticmethod
    def _overdue(row: ProjectRow) -> list[MyMilestone]:
        return [m for m in row.marks if m.reach is Reach.OVERDUE]

    def _group_of(self, row: ProjectRow) -> str:
        if self.group_by in GROUPS:
            return GROUPS[self.group_by][1](self, row) or UNNAMED[self.group_by]
        field = self._desk.plan.fields.get(self.group_by.removeprefix(OWN))
        return (own_text(self, row, field) if field is not None else "") or NOT_SAID

    def _group_order(self, name: str) -> tuple[int, str]:
        states = [words.capitalize() for words in STATE_WORDS.values()]
        field = self._desk.plan.fields.get(self.group_by.removeprefix(OWN))
        order = states if self.group_by == "state" else list(field.choices) if field is not None else []
        return (order.index(name) if name in order else len(order), name.casefold())

    def _order(self, row: ProjectRow) -> tuple:  # type: ignore[type-arg]
        project = self._desk.plan.projects[row.project]
        if self.sort_by == "name":
            leading: tuple[object, ...] = ()
        elif self.sort_by in self.offered:
            leading = (self.offered[self.sort_by].order(self, row),)
        else:
            leading = (project.rank,)
        room = row.status.room is None, row.status.room or 0
        return (*leading, *(room if self.sort_by == "state" else ()), project.name.casefold(), row.project)


def month_of(at: int) -> int:
    """The day on which the month of a moment begins; what ends at midnight ended on the day before."""
    return day_number(date_of((at - 1) // DAY).replace(day=1))


def _project(work: PortfolioWork, row: ProjectRow) -> Project:
    return work._desk.plan.projects[row.project]


Named = Callable[[PortfolioWork, "ProjectRow"], str]
GROUPS: dict[str, tuple[str, Named]] = {
    "department": ("by department", lambda work, row: _project(work, row).department),
    "folder": ("by folder", lambda work, row: _project(work, row).folder),
    "lead": ("by who leads", lambda work, row: work.leader(_project(work, row))),
    "stream": ("by stream", lambda work, row: row.stream),
    "priority": ("by priority", lambda work, row: f"Priority {_project(work, row).priority}"),
    "state": ("by how it is", lambda work, row: STATE_WORDS[row.status.state].capitalize()),
    "none": ("in one list", lambda work, row: ""),
}
UNNAMED = {
    "department": "No department", "folder": "In no folder", "lead": "Led by nobody in particular",
    "stream": "No stream", "priority": "", "state": "", "none": "All projects",
}  # fmt: skip
COUNTED = {"priority": "Tasks by priority", "department": "Tasks by department", "stream": "Tasks by stream"}
MOST_COUNTED = 9  # of departments or streams; the others are one
NOT_SAID = "Not said"  # in an own field
SORTS = {
    "state": "worst first", "finish": "by finish", "room": "by room to the target", "percent": "by what is done",
    "week": "by what moved", "baseline": "by drift from the baseline",
    "late": "by late tasks", "due": "by what is due", "overloads": "by overloads",
    "cost": "by cost", "budget": "by what is over budget", "hours": "by hours",
    "hours_budget": "by what is over its hours", "priority": "by priority", "name": "by name",
    "order": "as they stand",
}  # fmt: skip
