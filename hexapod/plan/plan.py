"""The plan as a value, and the draft in which the next one is made.

A ``Plan`` holds one persistent map per kind of record, and the few look-ups that every edit needs
(children in order, links at a task, who is assigned). It never changes: an edit fills a ``Draft``,
which yields the next plan and exactly what changed.
"""

from __future__ import annotations

from bisect import bisect_left, insort
from collections.abc import Iterable, Mapping
from typing import Any, TypeVar

from immutables import Map

from hexapod.errors import EditRefused
from hexapod.plan.accounts import Baseline, Budget, Log, MoneyEntry, Sheet, SheetState, WeekKey
from hexapod.plan.changes import Changes
from hexapod.plan.deliverables import Deliverable
from hexapod.plan.kinds import KIND_OF, KINDS, Maps
from hexapod.plan.lookups import Place, by_kind, outline_lookups, related_lookups
from hexapod.plan.records import (
    DEEPEST,
    Assignment,
    Calendar,
    Comment,
    Errand,
    Field,
    Gap,
    KeptView,
    Link,
    LinkKey,
    Project,
    Record,
    Reservation,
    Resource,
    Stage,
    Task,
)
from hexapod.plan.removing import let_go
from hexapod.plan.risks import Risk

T = TypeVar("T")


class Plan(Maps):
    """Calendars, projects, tasks, links, resources and assignments of a workspace. Immutable."""

    __slots__ = (
        "assigned",
        "children",
        "comments_on",
        "delivers",
        "links_at",
        "logs_in",
        "logs_on",
        "series",
        "sheet_of",
        "used_by",
    )

    # Look-ups, derived from the records.
    children: Map[Place, tuple[str, ...]]
    links_at: Map[str, tuple[LinkKey, ...]]
    assigned: Map[str, tuple[str, ...]]
    used_by: Map[str, Map[str, None]]
    comments_on: Map[str, tuple[str, ...]]
    delivers: Map[str, tuple[str, ...]]  # deliverables by task
    logs_on: Map[str, tuple[str, ...]]  # by task
    logs_in: Map[WeekKey, tuple[str, ...]]  # by a person's week
    sheet_of: Map[WeekKey, str]
    series: Map[str, None]  # tasks that repeat
    is_whole = True

    def __init__(self, **maps: Map[Any, Any]) -> None:
        for name in PARTS:
            object.__setattr__(self, name, maps.get(name, Map()))

    def __setattr__(self, name: str, value: object) -> None:
        raise AttributeError("a plan never changes; use draft()")

    def __eq__(self, other: object) -> bool:
        return isinstance(other, Plan) and all(getattr(self, k) == getattr(other, k) for k in KINDS)

    def __hash__(self) -> int:
        return hash(tuple(getattr(self, kind) for kind in KINDS))

    @staticmethod
    def of(records: Iterable[Record], children: Mapping[Place, tuple[str, ...]] | None = None) -> Plan:
        """A plan of all these records at once (faster than a draft for many).

        ``children`` are the tasks of each place in order, where that is known.
        """
        kinds = by_kind(records)
        return Plan(**outline_lookups(kinds, children), **related_lookups(kinds))

    def draft(self) -> Draft:
        """A changeable copy in which an edit is made."""
        return Draft(self)

    # A record that somebody asks to change; ``Gone`` where it was deleted meanwhile.

    def task(self, task_id: str) -> Task:
        return _there(self.tasks, task_id)

    def project(self, project_id: str) -> Project:
        return _there(self.projects, project_id)

    def resource(self, resource_id: str) -> Resource:
        return _there(self.resources, resource_id)

    def calendar(self, calendar_id: str) -> Calendar:
        return _there(self.calendars, calendar_id)

    def link(self, key: LinkKey) -> Link:
        return _there(self.links, key)

    def reservation(self, reservation_id: str) -> Reservation:
        return _there(self.reservations, reservation_id)

    def stage(self, stage_id: str) -> Stage:
        return _there(self.stages, stage_id)

    def errand(self, errand_id: str) -> Errand:
        return _there(self.errands, errand_id)

    def log(self, log_id: str) -> Log:
        return _there(self.logs, log_id)

    def sheet(self, sheet_id: str) -> Sheet:
        return _there(self.sheets, sheet_id)

    def entry(self, entry_id: str) -> MoneyEntry:
        return _there(self.entries, entry_id)

    def budget(self, budget_id: str) -> Budget:
        return _there(self.budgets, budget_id)

    def baseline(self, baseline_id: str) -> Baseline:
        return _there(self.baselines, baseline_id)

    def risk(self, risk_id: str) -> Risk:
        return _there(self.risks, risk_id)

    def field(self, field_id: str) -> Field:
        return _there(self.fields, field_id)

    def is_summary(self, task_id: str) -> bool:
        return (self.tasks[task_id].project, task_id) in self.children

    def children_of(self, project: str, parent: str | None) -> tuple[str, ...]:
        """Ids of the tasks directly below a parent (None: the top level of the project), in order."""
        return self.children.get((project, parent), ())

    def links_into(self, task_id: str) -> list[Link]:
        return [self.links[key] for key in self.links_at.get(task_id, ()) if key[1] == task_id]

    def links_from(self, task_id: str) -> list[Link]:
        return [self.links[key] for key in self.links_at.get(task_id, ()) if key[0] == task_id]

    def assignments_of(self, task_id: str) -> list[Assignment]:
        """In the order of the resources' ranks."""
        found = [self.assignments[(task_id, r)] for r in self.assigned.get(task_id, ())]
        if len(found) < 2:
            return found
        return sorted(found, key=lambda a: (self.resources[a.resource].rank, a.resource))

    def comments_about(self, task_id: str) -> list[Comment]:
        """From the first to the last."""
        return sorted((self.comments[c] for c in self.comments_on.get(task_id, ())), key=lambda c: (c.at, c.id))

    def deliverables_of(self, task_id: str) -> list[Deliverable]:
        """In their order."""
        return sorted((self.deliverables[d] for d in self.delivers.get(task_id, ())), key=lambda d: (d.rank, d.id))

    def logs_about(self, task_id: str) -> list[Log]:
        """The hours logged on a task, by day."""
        return sorted((self.logs[x] for x in self.logs_on.get(task_id, ())), key=lambda x: (x.day, x.id))

    def sheet_in(self, week: WeekKey) -> Sheet | None:
        """The sheet of a person's week; None while nobody handed it in, and it is open."""
        found = self.sheet_of.get(week)
        return None if found is None else self.sheets[found]

    def counts(self, log: Log) -> bool:
        """Whether hours count: not while their sheet is sent back."""
        sheet = self.sheet_in(log.week)
        return sheet is None or sheet.state is not SheetState.SENT_BACK

    def baselines_of(self, project: str) -> list[Baseline]:
        """From the first to the last."""
        return sorted((b for b in self.baselines.values() if b.project == project), key=lambda b: (b.at, b.id))

    def reservations_of(self, project: str) -> list[Reservation]:
        """Who is promised to a project, in the order of the resources."""
        found = [r for r in self.reservations.values() if r.project == project]
        return sorted(found, key=lambda r: (self.resources[r.resource].rank, r.first_day or 0, r.id))

    def fields_of(self, of: str) -> list[Field]:
        """Own fields of the tasks, or of the projects (``kept.TASKS``, ``kept.PROJECTS``)."""
        return [field for field in self.fields_in_order() if field.of == of]

    def fields_in_order(self) -> list[Field]:
        return sorted(self.fields.values(), key=lambda f: (f.rank, f.id))

    def gap_of(self, link: Link) -> Gap:
        """The link's own policy, else that of its successor's project."""
        return link.gap or self.projects[self.tasks[link.successor].project].gap

    def views_in_order(self) -> list[KeptView]:
        return sorted(self.views.values(), key=lambda v: (v.rank, v.id))

    def stages_in_order(self) -> list[Stage]:
        return sorted(self.stages.values(), key=lambda s: (s.rank, s.id))

    def projects_in_order(self) -> list[Project]:
        return sorted(self.projects.values(), key=lambda p: (p.rank, p.id))

    def resources_in_order(self) -> list[Resource]:
        return sorted(self.resources.values(), key=lambda r: (r.rank, r.id))

    def ancestors(self, task_id: str) -> list[str]:
        """From the parent up; ends one above ``DEEPEST`` levels or on a loop, which validity refuses."""
        found: list[str] = []
        parent = self.task(task_id).parent
        while parent is not None and parent in self.tasks and parent not in found and len(found) <= DEEPEST:
            found.append(parent)
            parent = self.tasks[parent].parent
        return found

    def branch(self, task_id: str) -> list[str]:
        """The task and all below it, in outline order."""
        found: list[str] = []
        waiting = [task_id]
        project = self.task(task_id).project
        while waiting:
            current = waiting.pop()
            found.append(current)
            waiting.extend(reversed(self.children.get((project, current), ())))
        return found


PARTS = (*Maps.__slots__, *Plan.__slots__)
# Kinds of records that are of one task and go with it, each with the look-up that holds their ids by task.
OF_A_TASK = {"comments": "comments_on", "logs": "logs_on", "deliverables": "delivers"}
LISTS = ("links_at", "assigned", "logs_in", *OF_A_TASK.values())  # look-ups of ids by what they are of


class Gone(EditRefused):
    """What an edit is about was deleted before it was made."""

    def __init__(self) -> None:
        super().__init__("What this is about is no longer there; nothing was changed.")


def _there(records: Map[Any, T], key: Any) -> T:
    found = records.get(key)
    if found is None:
        raise Gone
    return found


class Draft:
    """A plan being changed. Reads see what has been put so far; ``finish`` yields the next plan."""

    def __init__(self, plan: Plan) -> None:
        self.before = plan
        self._base = plan  # what reads see where nothing was put
        self._maps: dict[str, Any] = {}
        self._touched: dict[str, dict[Any, Any]] = {kind: {} for kind in KINDS}
        self._children: dict[Place, list[str]] = {}
        self._lists: dict[str, dict[Any, list[Any]]] = {name: {} for name in LISTS}
        self._sheet_of: Any = None
        self._used_by: Any = None
        self._series: Any = None

    # Reading

    def _map(self, kind: str) -> Any:
        if kind not in self._maps:
            self._maps[kind] = getattr(self._base, kind).mutate()
        return self._maps[kind]

    def get(self, kind: str, key: Any) -> Any:
        """The record, or None."""
        source = self._maps.get(kind)
        return (getattr(self._base, kind) if source is None else source).get(key)

    def task(self, task_id: str) -> Task:
        """``Gone`` if it is not there."""
        found: Task | None = self.get("tasks", task_id)
        if found is None:
            raise Gone
        return found

    def children_of(self, project: str, parent: str | None) -> list[str]:
        """A live list in order; not to be changed by the caller."""
        place = (project, parent)
        if place not in self._children:
            self._children[place] = list(self._base.children.get(place, ()))
        return self._children[place]

    def _list(self, name: str, key: Any) -> list[Any]:
        """What one of ``LISTS`` holds at a key; a live list."""
        known = self._lists[name]
        if key not in known:
            known[key] = list(getattr(self._base, name).get(key, ()))
        return known[key]

    def links_at(self, task_id: str) -> list[LinkKey]:
        return self._list("links_at", task_id)

    def assigned(self, task_id: str) -> list[str]:
        return self._list("assigned", task_id)

    def keys(self, kind: str) -> list[Any]:
        """Of all records of a kind."""
        known = dict.fromkeys((*getattr(self._base, kind), *self._touched[kind]))
        return [key for key in known if self.get(kind, key) is not None]

    # Changing

    def become(self, before: Plan, after: Plan, changes: Changes) -> bool:
        """Take a plan that was made already, and what it changes, in one step; only where nothing was put before.

        False says that this is not the plan it was made from, or that something was put already.
        """
        if self.before is not before or self._base is not before or any(self._touched.values()):
            return False
        self._base = after
        for kind, old, new in changes.pairs():
            self._note(kind, (old or new).key, old)
        return True

    def put(self, record: Record) -> None:
        """Add the record, or put it in the place of the one with its key."""
        kind = KIND_OF[type(record)]
        key = record.key  # type: ignore[attr-defined]
        old = self.get(kind, key)
        if old == record:
            return
        self._note(kind, key, old)
        self._index(kind, old, record)
        self._map(kind)[key] = record

    def remove(self, kind: str, key: Any) -> None:
        """Take the record out; nothing happens if it is not there."""
        old = self.get(kind, key)
        if old is None:
            return
        self._note(kind, key, old)
        self._index(kind, old, None)
        del self._map(kind)[key]

    def remove_task(self, task_id: str) -> None:
        """Take out a task with all below it, their links, assignments, comments, hours and budgets. Money that was
        entered for them stays with their project, and so do risks."""
        gone: set[str] = set()
        self._remove_branch(task_id, gone)
        let_go(self, gone)

    def _remove_branch(self, task_id: str, gone: set[str]) -> None:
        task = self.task(task_id)
        gone.add(task_id)
        for child in list(self.children_of(task.project, task_id)):
            self._remove_branch(child, gone)
        for link_key in list(self.links_at(task_id)):
            self.remove("links", link_key)
        for resource in list(self.assigned(task_id)):
            self.remove("assignments", (task_id, resource))
        for kind, name in OF_A_TASK.items():
            for key in list(self._list(name, task_id)):
                self.remove(kind, key)
        self.remove("tasks", task_id)

    def finish(self) -> tuple[Plan, Changes]:
        """The next plan, and what changed. A draft that changed nothing yields the plan it began from."""
        changes = Changes(
            **{
                kind: tuple((old, new) for key, old in touched.items() if (new := self.get(kind, key)) != old)
                for kind, touched in self._touched.items()
            }
        )
        if not changes:
            return self.before, changes
        base = self._base
        maps = {kind: m.finish() for kind, m in self._maps.items()}
        return (
            Plan(
                **{kind: maps.get(kind, getattr(base, kind)) for kind in KINDS},
                children=_merged(base.children, self._children),
                **{name: _merged(getattr(base, name), self._lists[name]) for name in LISTS},
                used_by=base.used_by if self._used_by is None else self._used_by.finish(),
                sheet_of=base.sheet_of if self._sheet_of is None else self._sheet_of.finish(),
                series=base.series if self._series is None else self._series.finish(),
            ),
            changes,
        )

    def _note(self, kind: str, key: Any, old: Any) -> None:
        self._touched[kind].setdefault(key, old)

    def _index(self, kind: str, old: Any, new: Any) -> None:
        if kind == "tasks":
            self._index_task(old, new)
            self._index_series(old, new)
        elif kind == "sheets":
            self._index_sheet(old, new)
        elif kind in OF_A_TASK:
            self._index_at(OF_A_TASK[kind], "task", old, new)
            if kind == "logs":
                self._index_at("logs_in", "week", old, new)
        elif kind == "links" and (old is None or new is None):
            key = (old or new).key
            for end in key[:2]:
                keys = self.links_at(end)
                insort(keys, key) if old is None else keys.remove(key)
        elif kind == "assignments" and (old is None or new is None):
            task_id, resource = (old or new).key
            resources = self.assigned(task_id)
            insort(resources, resource) if old is None else resources.remove(resource)
            if self._used_by is None:
                self._used_by = self._base.used_by.mutate()
            tasks = self._used_by.get(resource, Map())
            self._used_by[resource] = tasks.set(task_id, None) if old is None else tasks.delete(task_id)

    def _index_task(self, old: Task | None, new: Task | None) -> None:
        if old is not None and new is not None and _seat(old) == _seat(new):
            return
        if old is not None:
            siblings = self.children_of(old.project, old.parent)
            at = bisect_left(siblings, (old.rank, old.id), key=self._sort_key)
            del siblings[at]
        if new is not None:
            siblings = self.children_of(new.project, new.parent)
            if not siblings or self._sort_key(siblings[-1]) < (new.rank, new.id):  # as of rows that are read
                siblings.append(new.id)
            else:
                siblings.insert(bisect_left(siblings, (new.rank, new.id), key=self._sort_key), new.id)

    def _index_at(self, name: str, key: str, old: Any, new: Any) -> None:
        """Keep the id of a record in one of ``LISTS``, by an attribute of it."""
        for record in (old, new):
            if record is not None:
                found = self._list(name, getattr(record, key))
                found.remove(record.id) if record is old else insort(found, record.id)

    def _index_sheet(self, old: Sheet | None, new: Sheet | None) -> None:
        if self._sheet_of is None:
            self._sheet_of = self._base.sheet_of.mutate()
        if old is not None and self._sheet_of.get((old.resource, old.week)) == old.id:
            del self._sheet_of[(old.resource, old.week)]
        if new is not None and (new.resource, new.week) not in self._sheet_of:  # a second one is refused
            self._sheet_of[(new.resource, new.week)] = new.id

    def _index_series(self, old: Task | None, new: Task | None) -> None:
        before, after = old is not None and bool(old.repeats), new is not None and bool(new.repeats)
        if before != after:
            if self._series is None:
                self._series = self._base.series.mutate()
            if after:
                self._series[(new or old).id] = None  # type: ignore[union-attr]
            else:
                del self._series[(old or new).id]  # type: ignore[union-attr]

    def _sort_key(self, task_id: str) -> tuple[str, str]:
        return (self.task(task_id).rank, task_id)


def _seat(task: Task) -> tuple[str, str | None, str]:
    """Where a task stands in the outline."""
    return (task.project, task.parent, task.rank)


def _merged(index: Map[Any, Any], overlay: Mapping[Any, list[Any]]) -> Map[Any, Any]:
    """The index with the lists that a draft opened; an empty list takes its entry out."""
    if not overlay:
        return index
    mutation = index.mutate()
    for key, found in overlay.items():
        if found:
            mutation[key] = tuple(found)
        elif key in mutation:
            del mutation[key]
    return mutation.finish()
