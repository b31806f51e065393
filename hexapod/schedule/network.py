"""The plan as arrays: a slot per task and per link, brought up to date from what an edit changed.

A task keeps its slot from one network to the next, also while it is deleted, so that undo finds it again. Arrays and
the table of slots are copied before they are changed: every network stays what it was, whatever is made of it.
"""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass, field, replace
from functools import cached_property
from typing import Any

import numpy as np
from msgspec.structs import replace as with_kinds
from numpy.typing import NDArray

from hexapod.plan.changes import Changes
from hexapod.plan.in_memory import in_memory_order
from hexapod.plan.plan import Plan
from hexapod.plan.records import Gap, LinkKey, LinkType, Project
from hexapod.schedule.arc_columns import arcs_again, arcs_of
from hexapod.schedule.arrays import GAPS, LinkArrays, Slots, TaskArrays, longer
from hexapod.schedule.columns import link_rows, spread, task_rows, task_times
from hexapod.schedule.done import gathered_percents
from hexapod.schedule.passes import Arcs
from hexapod.schedule.structure import Structure
from hexapod.schedule.timing import (
    ROUND_THE_CLOCK,
    CalendarBook,
    CalendarSet,
    TaskTime,
    Timing,
    first_window,
    resource_calendar,
    task_time,
    widened,
)
from hexapod.worktime.calendars import Ints, Window

_NONE = np.zeros(0, dtype=np.int64)
STRUCTURAL = {"alive", "parent"}
FEW = 1000  # slots that are kept for deleted tasks in any plan
LAGS = {"lag", "lag_on", "percent", "kept"}


@dataclass(frozen=True)
class Network:
    plan: Plan
    slots: Slots
    tasks: TaskArrays
    links: LinkArrays
    projects: tuple[str, ...]
    timing: Timing
    structure: Structure
    arcs: Arcs

    @staticmethod
    def made(
        plan: Plan,
        slots: Slots,
        tasks: TaskArrays,
        links: LinkArrays,
        projects: tuple[str, ...],
        timing: Timing,
        structure: Structure,
    ) -> Network:
        """The network of these parts, with its arcs."""
        arcs = arcs_of(plan, tasks, links, projects, timing, structure)
        return Network(plan, slots, tasks, links, projects, timing, structure, arcs)

    @property
    def size(self) -> int:
        """How many slots there are, those of deleted tasks included."""
        return len(self.tasks.alive)

    @cached_property
    def percents(self) -> NDArray[np.float64]:
        """How much is done by slot, summaries by what is below them."""
        found: NDArray[np.float64] = gathered_percents(
            self.structure.bottom_up, self.tasks.parent, self.structure.leaf, self.tasks.duration, self.tasks.effort,
            self.tasks.percent,
        )  # fmt: skip
        return found

    @staticmethod
    def of(plan: Plan, window: Window | None = None, slots: Slots | None = None) -> Network:
        """The network of a whole plan. ``EditRefused`` if its links form a loop.

        Slots that are given for the first time are in topological order: the passes then walk through memory
        from front to back.
        """
        is_fresh = slots is None
        (ids, tasks), (keys, links) = in_memory_order(plan.tasks), in_memory_order(plan.links)
        if slots is None:
            slots = Slots.of(ids, keys)
            at_tasks, at_links = np.arange(len(ids)), np.arange(len(keys))
        else:
            slots = slots.including(ids, keys)
            at_tasks, at_links = slots.of_tasks(ids), slots.of_links(keys)
        projects = tuple(project.id for project in plan.projects_in_order())
        times = task_times(plan)
        used = {t.own for t in set(times.values())} | sets_of_owners(plan)
        crews = {t.crew for t in set(times.values())}
        timing = Timing.of(CalendarBook(plan), used, window or first_window(plan), crews)
        rows = task_rows(tasks, plan, slots, projects, times, timing)
        task_arrays = spread(rows, at_tasks, len(slots.tasks))
        link_arrays = spread(link_rows(links, plan, slots, projects, task_arrays), at_links, len(slots.links))
        structure = Structure.of(task_arrays, link_arrays, slots, plan)
        network = Network.made(plan, slots, task_arrays, link_arrays, projects, timing, structure)
        return network._in_order() if is_fresh else network

    def _in_order(self) -> Network:
        """This network with its slots in topological order: the passes then walk through memory front to back."""
        order = self.structure.order
        first = order[order < self.size]
        rest = np.setdiff1d(np.arange(self.size), first)
        old = np.concatenate((first, rest))
        new = np.empty(self.size, dtype=np.int64)
        new[old] = np.arange(self.size)
        slots = self.slots.in_order(old)
        tasks = TaskArrays(*(column[old] for column in self.tasks))
        tasks = tasks._replace(parent=np.where(tasks.parent >= 0, new[tasks.parent], -1))
        links = self.links._replace(predecessor=new[self.links.predecessor], successor=new[self.links.successor])
        tasks = TaskArrays(*(longer(column, len(slots.tasks)) for column in tasks))
        links = LinkArrays(*(longer(column, len(slots.links)) for column in links))
        structure = Structure.of(tasks, links, slots, self.plan)
        return Network.made(self.plan, slots, tasks, links, self.projects, self.timing, structure)

    def patched(self, plan: Plan, changes: Changes) -> Patch:
        """Bring the network up to date with ``plan``, which differs by ``changes``; the patch says where it does."""
        same = self._with_projects(plan, changes)
        if same is None or _calendar_moved(changes) or _days_changed(plan, changes):
            return Patch(Network.of(plan, slots=self.slots))
        if same is not self:
            patch = same.patched(plan, with_kinds(changes, projects=()))
            return patch if _same_floats(changes) else replace(patch, is_whole=True)
        if len(plan.tasks) < self.size // 2 - FEW:  # most of the slots are of tasks that were deleted
            return Patch(Network.of(plan))
        if changes.calendars:
            known = self.slots.of_task
            touched = [known[t] for t in _touched_tasks(plan, changes) if t in known]
            stays = self.tasks.alive == 1
            stays[touched] = False  # their rows are made anew
            return Patch(self._retimed(plan, self.timing.window, stays)._patched(plan, changes).network)
        return self._patched(plan, changes)

    def _with_projects(self, plan: Plan, changes: Changes) -> Network | None:
        """This network with new projects at the end, or with changes of projects that move no task, such as a name.

        None where the arrays must be made anew.
        """
        if not changes.projects:
            return self
        projects = tuple(project.id for project in plan.projects_in_order())
        if projects[: len(self.projects)] != self.projects:
            return None
        timing, book = self.timing, CalendarBook(plan)
        for old, new in changes.projects:
            if new is None or (old is not None and _in_arrays(old) != _in_arrays(new)):
                return None
            timing = timing.including(book, TaskTime((new.calendar,)))
        return replace(self, projects=projects, timing=timing)

    def _retimed(self, plan: Plan, window: Window, stays: NDArray[np.bool_]) -> Network:
        """The same with the calendars of a plan compiled anew over a window.

        Only the sets that somebody still uses are compiled: the tasks that ``stays`` marks by slot, the projects and
        the resources. A calendar that was deleted, or the leave of somebody who is gone, is in none of them.
        """
        before = self.timing
        sets, crews = list(before.index), list(before.crews)
        used = {sets[i] for i in np.unique(self.tasks.calendar[stays]).tolist()}
        used_crews = {crews[i] for i in np.unique(self.tasks.crew[stays]).tolist()}
        timing = Timing.of(CalendarBook(plan), used | sets_of_owners(plan), window, used_crews)
        tasks = self.tasks._replace(
            calendar=np.where(stays, renumbering(before.index, timing.index)[self.tasks.calendar], 0),
            crew=np.where(stays, renumbering(before.crews, timing.crews)[self.tasks.crew], 0),
        )
        return Network.made(plan, self.slots, tasks, self.links, self.projects, timing, self.structure)

    def _patched(self, plan: Plan, changes: Changes) -> Patch:
        timing, book = self.timing, CalendarBook(plan)
        touched = _touched_tasks(plan, changes)
        keys = [(after or before).key for before, after in changes.links]  # type: ignore[union-attr]
        slots = self.slots.including(touched, keys)
        tasks = _CopyOnWrite(self.tasks, len(slots.tasks))
        tasks.put("alive", slots.of_tasks(t for t in touched if t not in plan.tasks), 0)
        there = [plan.tasks[t] for t in touched if t in plan.tasks]
        times = {t.id: task_time(plan, t) for t in there}
        for worked in times.values():
            timing = timing.including(book, worked)
        tasks.put_rows(slots.of_tasks(times), task_rows(there, plan, slots, self.projects, times, timing))
        for _, resource in changes.resources:
            if resource is not None:
                timing = timing.including(book, TaskTime((resource_calendar(resource),)))
        links = _CopyOnWrite(self.links, len(slots.links))
        links.put("alive", slots.of_links(k for k in keys if k not in plan.links), 0)
        keys = list(dict.fromkeys((*(k for k in keys if k in plan.links), *_links_into_another_project(plan, changes))))
        there_now = [plan.links[k] for k in keys]
        task_arrays = tasks.finish()
        links.put_rows(slots.of_links(keys), link_rows(there_now, plan, slots, self.projects, task_arrays))
        network = replace(self, plan=plan, slots=slots, tasks=task_arrays, links=links.finish(), timing=timing)
        touched_links = np.array(sorted(links.rows), dtype=np.int64)
        arc_was: Ints | None = None
        is_other_shape = len(slots.tasks) != self.size
        if not is_other_shape and tasks.copied & STRUCTURAL:
            shape = self._with_rows(plan, slots, network.tasks, sorted(tasks.rows))
            is_other_shape = shape is None
            if shape is not None:
                network = replace(network, structure=shape, arcs=self.arcs._replace(order=shape.order, leaf=shape.leaf))
        if not is_other_shape and links.copied - LAGS:
            made = network._with_links(self.links, network.links, touched_links)
            if made is None:
                is_other_shape = True
            else:
                structure, arc_was = made
                network = replace(network, structure=structure)
        if is_other_shape:
            structure = Structure.of(network.tasks, network.links, slots, plan)
            made_anew = Network.made(plan, slots, network.tasks, network.links, self.projects, timing, structure)
            return Patch(made_anew)
        parts = (plan, network.tasks, network.links, self.projects, timing, network.structure)
        concerned = np.union1d(touched_links, _links_at(network.links, self.tasks, network.tasks, tasks.rows))
        if len(concerned):
            network = replace(network, arcs=arcs_again(network.arcs, *parts, arc_was, concerned))
        slots_touched = np.array(sorted(tasks.rows), dtype=np.int64)
        return Patch(network, slots_touched, touched_links, arc_was, is_whole=False)

    def _with_rows(self, plan: Plan, slots: Slots, tasks: TaskArrays, touched: list[int]) -> Structure | None:
        """The structure after rows were added or deleted; None if they, or a summary above them, are linked."""
        old = self.tasks
        moved = [i for i in touched if (old.alive[i], old.parent[i]) != (tasks.alive[i], tasks.parent[i])]
        came = [i for i in moved if tasks.alive[i] and not old.alive[i]]
        went = [i for i in moved if old.alive[i] and not tasks.alive[i]]
        if len(came) + len(went) < len(moved):
            return None
        for slot in (*came, *went):
            above = int((tasks if tasks.alive[slot] else old).parent[slot])
            name = slots.tasks[slot]
            is_linked = name in plan.links_at or name in self.plan.links_at
            if is_linked or not self._stays_summary(plan, above) or (name in plan.tasks and plan.is_summary(name)):
                return None
        return self.structure.with_rows(came, went)

    def _stays_summary(self, plan: Plan, slot: int) -> bool:
        """Whether a row was and is a summary, and neither it nor one above it is linked; -1 is the top level."""
        if slot < 0:
            return True
        if self.structure.leaf[slot] or not self.tasks.alive[slot]:
            return False
        name = self.slots.tasks[slot]
        if name not in plan.tasks or not plan.is_summary(name):
            return False
        return not any(plan.links_at.get(t) for t in (name, *plan.ancestors(name)))

    def _with_links(self, old_links: LinkArrays, links: LinkArrays, touched: Ints) -> tuple[Structure, Ints] | None:
        """The structure after links were added, deleted or changed. None if one leads to a summary or only warns."""
        leaf, size = self.structure.leaf, len(old_links.alive)
        ends = np.concatenate((links.predecessor[touched], links.successor[touched]))
        old = touched[touched < size]
        warns = (links.gap[touched] == GAPS[Gap.WARN]).any() or (old_links.gap[old] == GAPS[Gap.WARN]).any()
        if warns or not leaf[ends].all() or self._are_within_an_ended_summary(links.predecessor[touched]):
            return None
        removed = old[old_links.alive[old] == 1]
        return self.structure.with_links(removed, touched[links.alive[touched] == 1], links)

    def _are_within_an_ended_summary(self, slots: Ints) -> bool:
        """Whether a link holds the finish of a summary above some tasks: then what is last in it depends on their
        links."""
        above = {t for slot in set(slots.tolist()) for t in self._names_above(slot)}
        return any(link.type in (LinkType.FF, LinkType.SF) for t in above for link in self.plan.links_into(t))

    def _names_above(self, slot: int) -> list[str]:
        name = self.slots.tasks[slot]
        return self.plan.ancestors(name) if name in self.plan.tasks else []

    def widened(self, early: bool, late: bool) -> Network | None:
        """This network with calendars compiled over a longer window of days; None where there is no longer one."""
        window = widened(self.timing.window, early, late)
        if window is None:
            return None
        return self._retimed(self.plan, window, self.tasks.alive == 1)


def _in_arrays(project: Project) -> tuple[object, ...]:
    """The fields of a project that decide where its tasks are placed."""
    return (
        project.start, project.calendar, project.status_date, project.direction, project.finish, project.gap,
        project.out_of_order,
    )  # fmt: skip


def _same_floats(changes: Changes) -> bool:
    """Whether the edit adds no project and changes no limit of float below which a task is critical."""
    return all(old and new and old.critical_float == new.critical_float for old, new in changes.projects)


def sets_of_owners(plan: Plan) -> set[CalendarSet]:
    """The calendars that are needed whatever the tasks are: of projects, of resources, and round the clock."""
    found: set[CalendarSet] = {ROUND_THE_CLOCK}
    found |= {(project.calendar,) for project in plan.projects.values()}
    return found | {(resource_calendar(resource),) for resource in plan.resources.values()}


def renumbering(old: dict[Any, int], new: dict[Any, int]) -> Ints:
    """A table from old to new calendar numbers; 0 for calendars that nobody uses any more."""
    numbers = np.zeros(max(1, len(old)), dtype=np.int64)
    for key, index in old.items():
        numbers[index] = new.get(key, 0)
    return numbers


def _links_at(links: LinkArrays, old: TaskArrays, new: TaskArrays, touched: Iterable[int]) -> Ints:
    """Links of tasks that have another calendar or are in another project: their lags may be counted otherwise."""
    found = np.zeros(len(links.alive), dtype=bool)
    for slot in touched:
        if (old.calendar[slot], old.project[slot]) != (new.calendar[slot], new.project[slot]):
            found |= (links.predecessor == slot) | (links.successor == slot)
    return np.flatnonzero(found & (links.alive == 1))


@dataclass(frozen=True)
class Patch:
    """A network made from another one, and what of it is another: slots of tasks and of links.

    ``arc_was`` is by arc which one it was, -1 is none; None where all arcs are as they were. ``is_whole`` where
    everything may be another.
    """

    network: Network
    tasks: Ints = field(default_factory=lambda: _NONE)
    links: Ints = field(default_factory=lambda: _NONE)
    arc_was: Ints | None = None
    is_whole: bool = True

    @property
    def changes_no_date(self) -> bool:
        """Whether the arrays are as before: the edit was about names, notes or the order of rows."""
        return not self.is_whole and not len(self.tasks) and not len(self.links)


class _CopyOnWrite:
    """Columns that are copied before the first change; ``rows`` are the slots that were changed."""

    def __init__(self, arrays: Any, size: int) -> None:
        self._type = type(arrays)
        self._columns: dict[str, NDArray[np.int64]] = arrays._asdict()
        self.copied: set[str] = set()
        self.rows: set[int] = set()
        missing = size - len(arrays[0])
        if missing:
            for name, column in self._columns.items():
                self._columns[name] = longer(column, size)
            self.copied = set(self._columns)

    def put(self, name: str, slots: Ints, values: Ints | int) -> None:
        is_other = self._columns[name][slots] != values
        if not is_other.any():
            return
        self.rows.update(slots[is_other].tolist())
        if name not in self.copied:
            self._columns[name] = self._columns[name].copy()
            self.copied.add(name)
        self._columns[name][slots] = values

    def put_rows(self, slots: Ints, rows: TaskArrays | LinkArrays) -> None:
        for name, values in zip(self._columns, rows, strict=True):
            self.put(name, slots, values)

    def finish(self) -> Any:
        return self._type(**self._columns)


def _calendar_moved(changes: Changes) -> bool:
    return any(
        before is not None and after is not None and (before.calendar, before.leave) != (after.calendar, after.leave)
        for before, after in changes.resources
    )


def _days_changed(plan: Plan, changes: Changes) -> bool:
    """Whether a day may be as long as another now, for work that is said in hours a day."""
    return bool(changes.calendars) and any(a.hours_a_day is not None for a in plan.assignments.values())


def _links_into_another_project(plan: Plan, changes: Changes) -> list[LinkKey]:
    """Links whose gap is as their successor's project says, and whose successor is in another one now."""
    moved = (new.id for old, new in changes.tasks if old is not None and new is not None and old.project != new.project)
    return [link.key for task_id in moved for link in plan.links_into(task_id) if link.gap is None]


def _touched_tasks(plan: Plan, changes: Changes) -> list[str]:
    """Tasks whose arrays may differ: changed, newly a summary or no longer one, or assigned anew."""
    touched: dict[str, None] = {}
    for before, after in changes.tasks:
        for task in (before, after):
            if task is not None:
                touched[task.id] = None
                if task.parent is not None:
                    touched[task.parent] = None
        if (
            after is not None
            and before is not None
            and ((before.calendar, before.parent) != (after.calendar, after.parent))
        ):
            touched.update(dict.fromkeys(plan.branch(after.id)))  # its calendar is theirs, unless they have one
    for assigned in changes.assignments:
        for assignment in assigned:
            if assignment is not None:
                touched[assignment.task] = None
    return list(touched)
