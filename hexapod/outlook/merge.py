"""The three-way merge of two plans that were one: by record and by field.

What only one side changed is taken; what both changed otherwise is asked; what would then break a rule is left out, and
named. The method is the common three-way merge of version control (common practice, no single source).
"""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from dataclasses import dataclass
from enum import StrEnum
from typing import Any, NamedTuple

import msgspec
from msgspec.structs import replace

from hexapod.errors import CannotSchedule, EditRefused
from hexapod.plan.changes import Changes, diff
from hexapod.plan.kinds import KINDS
from hexapod.plan.plan import Plan
from hexapod.plan.records import Record
from hexapod.plan.validity import broken_records
from hexapod.schedule.engine import reschedule
from hexapod.schedule.schedule import Schedule
from hexapod.schedule.structure import LoopFound

NOT_MERGED = ("scenarios",)  # they belong to the plan alone

# Fields that say one thing together.
GROUPS: dict[str, dict[str, tuple[str, ...]]] = {
    "tasks": {"place": ("project", "parent", "rank")},
    "assignments": {"amount": ("units", "hours_a_day", "total")},
}


class Side(StrEnum):
    """Whose value counts: that of the plan, or of the scenario."""

    PLAN = "plan"
    SCENARIO = "scenario"


class Place(NamedTuple):
    """A field of a record, or several that say one thing together; "" is the record as a whole."""

    kind: str
    key: Any
    field: str


@dataclass(frozen=True)
class Question:
    """Both sides changed the same. ``name`` is what the record is called; the values are those of the field before, in
    the plan and in the scenario, or records, None where one is deleted."""

    place: Place
    name: str
    before: Any
    in_plan: Any
    in_scenario: Any


@dataclass(frozen=True)
class LeftOut:
    """A change of the scenario that would break a rule of the plan, with the sentence that says which."""

    kind: str
    key: Any
    name: str
    sentence: str


@dataclass(frozen=True)
class Merged:
    """``plan`` is the scenario on the newer plan; where a question has no answer yet it has the plan's value. ``dates``
    are there if those of the newer plan were."""

    plan: Plan
    dates: Schedule | None
    questions: tuple[Question, ...]
    left_out: tuple[LeftOut, ...]


def merge(
    base: Plan,
    plan: Plan,
    scenario: Plan,
    answers: Mapping[Place, Side] | None = None,
    dates: Schedule | None = None,
) -> Merged:
    """Bring a ``scenario``, made of ``base``, to what the ``plan`` has become since. ``dates`` are those of the plan:
    with them a loop of links is found as well."""
    said = answers or {}
    questions: list[Question] = []
    own: dict[tuple[str, Any], Record | None] = {}
    for kind, before, after in diff(base, scenario).pairs():
        if kind not in NOT_MERGED:
            key = (after or before).key
            wanted = _merged(kind, base, plan, scenario, key, said, questions)
            if wanted is not getattr(plan, kind).get(key):
                own[kind, key] = wanted
                if before is not None and wanted is not None and key not in getattr(plan, kind):
                    own.update(_what_went_with(base, plan, scenario, kind, key))
    merged, after_dates, left_out = _sound(plan, own, dates)
    return Merged(merged, after_dates, tuple(questions), tuple(left_out))


def _merged(
    kind: str,
    base: Plan,
    plan: Plan,
    scenario: Plan,
    key: Any,
    said: Mapping[Place, Side],
    questions: list[Question],
) -> Record | None:
    """A record that the scenario changed, as it is on the newer plan."""
    before, theirs, mine = (getattr(p, kind).get(key) for p in (base, plan, scenario))
    if theirs == before or theirs == mine:
        return mine
    if before is not None and (theirs is None or mine is None):
        place = Place(kind, key, "")
        questions.append(Question(place, name_of(base, kind, before), before, theirs, mine))
        return mine if said.get(place) is Side.SCENARIO else theirs
    merged = theirs
    for field, names in fields_of(kind):
        old, new, own = (None if r is None else value_of(r, names) for r in (before, theirs, mine))
        if own in (old, new):
            continue
        take = True
        if new != old:
            place = Place(kind, key, field)
            questions.append(Question(place, name_of(scenario, kind, mine), old, new, own))
            take = said.get(place) is Side.SCENARIO
        if take:
            merged = replace(merged, **{name: getattr(mine, name) for name in names})
    return theirs if merged == theirs else merged


def _what_went_with(
    base: Plan, plan: Plan, scenario: Plan, kind: str, key: Any
) -> Iterator[tuple[tuple[str, Any], Record]]:
    """Links and assignments of a task that is kept although the plan deleted it: they went only because it did."""
    if kind == "tasks":
        for of, keys in (
            ("links", base.links_at.get(key, ())),
            ("assignments", [(key, r) for r in base.assigned.get(key, ())]),
        ):
            here, there = getattr(scenario, of), getattr(plan, of)
            yield from (((of, k), here[k]) for k in keys if k in here and k not in there)


def fields_of(kind: str) -> list[tuple[str, tuple[str, ...]]]:
    """What is merged by itself: a field, or a group of them under one name."""
    groups = GROUPS.get(kind, {})
    grouped = {name for names in groups.values() for name in names}
    names = [f.name for f in msgspec.structs.fields(KINDS[kind].record)]
    return [*groups.items(), *((n, (n,)) for n in names if n not in grouped and n not in KINDS[kind].key)]


def value_of(record: Record, names: tuple[str, ...]) -> Any:
    values = tuple(getattr(record, name) for name in names)
    return values[0] if len(values) == 1 else values


def name_of(plan: Plan, kind: str, record: Any) -> str:
    """What a record is called: its own name, or those of what it joins."""
    if kind == "links":
        ends = [plan.tasks[t].name if t in plan.tasks else t for t in record.key[:2]]
        return " → ".join(ends)
    if kind == "assignments":
        task, who = plan.tasks.get(record.task), plan.resources.get(record.resource)
        return f"{who.name if who else record.resource} on {task.name if task else record.task}"
    if kind == "reservations":
        who, project = plan.resources.get(record.resource), plan.projects.get(record.project)
        return f"{who.name if who else record.resource} for {project.name if project else record.project}"
    return str(getattr(record, "name", "")) or KINDS[kind].one


def _sound(
    plan: Plan, own: dict[tuple[str, Any], Record | None], dates: Schedule | None
) -> tuple[Plan, Schedule | None, list[LeftOut]]:
    """The plan with as many of some changes as break no rule."""
    left_out: list[LeftOut] = []
    while True:
        changes = _changes(plan, own)
        found = changes.applied_to(plan)
        trouble = _trouble(found, changes, dates)
        if isinstance(trouble, Schedule) or trouble is None:
            return found, trouble, left_out
        kind, key, sentence = trouble
        place = _to_leave_out(found, own, kind, key)
        record = own.pop(place) or getattr(plan, place[0])[place[1]]
        left_out.append(LeftOut(*place, name_of(found, place[0], record), sentence))


def _changes(plan: Plan, own: Mapping[tuple[str, Any], Record | None]) -> Changes:
    pairs: dict[str, list[tuple[Any, Any]]] = {}
    for (kind, key), after in own.items():
        before = getattr(plan, kind).get(key)
        if before is not after:
            pairs.setdefault(kind, []).append((before, after))
    return Changes(**{kind: tuple(found) for kind, found in pairs.items()})


def _trouble(found: Plan, changes: Changes, dates: Schedule | None) -> tuple[str, Any, str] | Schedule | None:
    """What is wrong with a plan: kind, key and sentence; its dates where nothing is and they are wanted."""
    try:
        for error in broken_records(found):
            return error.kind, error.key, str(error)
        return reschedule(dates, found, changes) if dates is not None else None
    except LoopFound as error:
        return "links", None, str(error)
    except (EditRefused, CannotSchedule) as error:
        return "", None, str(error)


def _to_leave_out(found: Plan, own: Mapping[tuple[str, Any], Record | None], kind: str, key: Any) -> tuple[str, Any]:
    """Which change gives way to a rule: that of the record which breaks it; else, of what makes a loop or of what the
    record refers to, the latest; else the last of all."""
    if (kind, key) in own:
        return kind, key
    if kind == "links" and key is None:
        joined = [p for p, r in own.items() if p[0] == "links" and r is not None]
        moved = [p for p, r in own.items() if p[0] == "tasks" and r is not None]
        return (joined or moved or list(own))[-1]
    named = _named_by(found, kind, key)
    near = [place for place in own if place in named]
    return (near or list(own))[-1]


def _named_by(found: Plan, kind: str, key: Any) -> set[tuple[str, Any]]:
    """What a record refers to."""
    record = getattr(found, kind, {}).get(key)
    if record is None:
        return set()
    return {
        (reference.kind, each)
        for reference in KINDS[kind].references
        for each in _several(getattr(record, reference.field))
    }


def _several(value: Any) -> tuple[Any, ...]:
    return value if isinstance(value, tuple) else (value,)
