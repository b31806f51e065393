"""Fills the demo with the small projects of a museum's year: 240 of them, in nine departments."""

from __future__ import annotations

import random
from collections.abc import Callable, Iterator
from typing import NamedTuple

from msgspec.structs import replace

from hexapod.plan.edits import Edit, new_id
from hexapod.plan.kept import PROJECTS
from hexapod.plan.plan import Plan
from hexapod.plan.ranks import ranks_between
from hexapod.plan.records import (
    DAY,
    Assignment,
    Field,
    FieldKind,
    Link,
    Project,
    Record,
    Resource,
    ResourceKind,
    Task,
    TaskKind,
)
from hexapod.schedule.schedule import Schedule
from hexapod.schedule.slip import working_minutes
from hexapod.session import Session

COUNT, SEED = 240, 1866
HOUR, WORKDAY, BEGINS, ENDS = 60, 480, 480, 1020
FIRST_WEEK, LAST_WEEK = -24, 30  # of a start, from the status date
HELD, LATE, CLOSE = 0.03, 0.08, 0.18  # parts of all projects
STAFFED, SHARES = 0.3, (0.2, 0.25, 0.5)
GOOD_FOR, PAID_BY = (
    ("Visitors", "The collection", "The house", "Knowledge"),
    ("The house", "Friends of the quay", "A grant"),
)

# By department: what is done there, and to what.
DEPARTMENTS = {
    "Exhibitions": (
        ("{} refreshed", "{} toured", "{} relit"),
        ("Deep Sea Room", "Night Moths", "Ice Age Hall", "Amber Cabinet", "Whale Bay", "Bird Balcony", "Seed Wall",
         "Beetle Stair", "Minerals Aisle"),
    ),
    "Collections": (
        ("{} recounted", "{} rehoused", "{} photographed"),
        ("Type specimens", "Fluid jars", "Skins", "Pinned flies", "Egg drawers", "Herbarium sheets", "Fossil fish",
         "Shells", "Spiders"),
    ),
    "Conservation": (
        ("{} cleaned", "{} surveyed", "{} made safe"),
        ("Bear group", "Glass models", "Old labels", "Coral boxes", "Plaster casts", "Silk butterflies", "Ammonites",
         "Wax fruit", "Horn trophies"),
    ),
    "Learning": (
        ("{} for schools", "{} for families", "{} for teachers"),
        ("Six legs", "Rock pools", "Ice and bones", "Bees", "Seeds", "Night walks", "Skulls", "Feathers", "Mud"),
    ),
    "Research": (
        ("{} sequenced", "{} mapped", "{} described"),
        ("Ground beetles", "Caddis flies", "Lichens", "Cave spiders", "Sea slugs", "River mussels", "Moss bugs",
         "Orchids", "Sand wasps"),
    ),
    "Digital": (
        ("{} online", "{} renewed", "{} linked up"),
        ("Collection pages", "Sound archive", "Loan desk", "Visitor map", "Ticket gate", "Image store", "Field notes",
         "Room screens", "Name index"),
    ),
    "Estate": (
        ("{} repaired", "{} renewed", "{} rewired"),
        ("North lift", "Boiler house", "Rain gutters", "Quay door", "Loading bay", "Tower clock", "Fire alarm",
         "Courtyard", "Store racking"),
    ),
    "Visitors": (
        ("{} opened", "{} rearranged", "{} staffed"),
        ("Cloakroom", "Quay café", "Picnic room", "Shop corner", "Welcome desk", "Garden gate", "Quiet hour",
         "Members' evening", "Summer queue"),
    ),
    "Library": (
        ("{} catalogued", "{} bound", "{} moved"),
        ("Plate books", "Travel diaries", "Maps", "Letters", "Glass slides", "Journals", "Nest drawings", "Ledgers",
         "Newspaper cuttings"),
    ),
}  # fmt: skip

# Stages with their steps; a step ends a stage as a milestone where it begins with a sign.
STAGES = (
    ("Agree", ("Brief written", "Rooms and things looked at", "Owners named", "Cost estimated", "Risks talked through",
               "Word from the neighbours", "Brief agreed!")),
    ("Plan", ("Way of working chosen", "People asked", "Things listed", "Places measured", "Drawings made",
              "Drawings checked", "Materials chosen", "Safety looked at", "Plan agreed!")),
    ("Prepare", ("Orders placed", "Room cleared", "Things packed", "Tools laid out", "Text drafted", "Text checked",
                 "Pictures taken", "Trial piece made", "Trial piece looked at", "Ready to begin!")),
    ("Carry out", ("First part done", "Second part done", "Third part done", "Light and air checked", "Labels put up",
                   "Things brought in", "Records written", "Faults listed", "Faults mended", "Work done!")),
    ("Hand over", ("Staff shown round", "Keys and lists handed on", "Visitors asked", "Costs closed",
                   "Pictures for the archive", "Notes of what was learned", "Handed over!")),
)  # fmt: skip


class _Made(NamedTuple):
    project: Project
    records: list[Record]


def add_many(session: Session, at: Callable[[str, int], int], status: str) -> None:
    """Add the projects as they would stand on a status date (an ISO date of the demo); ``at`` moves its dates."""
    rng = random.Random(SEED)
    plan, told_up_to = session.plan, at(status, ENDS)
    people = _people(plan)
    made = list(_projects(rng, plan, told_up_to, people))
    own = _own_fields(plan)
    _apply(
        session, "Take over the small projects of the year", [*own, *people, *(r for one in made for r in one.records)]
    )
    dates = session.compute()
    told: list[Record] = []
    for one in made:
        told += _told(dates, one.project.id, told_up_to)
    _apply(session, "Tell what is done in them", told)
    dates = session.compute()
    _apply(session, "Say when they are wanted", [_wanted(rng, dates, one.project.id, told_up_to) for one in made])
    session.compute()


def _apply(session: Session, words: str, records: list[Record]) -> None:
    def put(draft) -> None:  # type: ignore[no-untyped-def]
        for record in records:
            draft.put(record)

    session.apply(Edit(words, put))


def _own_fields(plan: Plan) -> list[Record]:
    """What the museum says of each project beside the usual."""
    last = plan.fields_in_order()
    good, paid = ranks_between(last[-1].rank if last else None, None, 2)
    return [
        Field(new_id(), "Good for", good, FieldKind.CHOICE, GOOD_FOR, of=PROJECTS),
        Field(new_id(), "Paid by", paid, FieldKind.TEXT, of=PROJECTS),
    ]


def _people(plan: Plan) -> list[Record]:
    """Three assistants in each department."""
    last = plan.resources_in_order()[-1].rank
    names = [(department, n) for department in DEPARTMENTS for n in (1, 2, 3)]
    ranks = ranks_between(last, None, len(names))
    return [
        Resource(f"{department[:2].lower()}{n}", f"{department} assistant {n}", rank, ResourceKind.PERSON,
                 initials=f"{department[:2].upper()}{n}", section=department, rate=2400)
        for (department, n), rank in zip(names, ranks, strict=True)
    ]  # fmt: skip


def _projects(rng: random.Random, plan: Plan, status: int, people: list[Record]) -> Iterator[_Made]:
    names = [(department, way.format(thing)) for department, (ways, things) in DEPARTMENTS.items()
             for way in ways for thing in things]  # fmt: skip
    rng.shuffle(names)
    leads = [r.id for r in plan.resources_in_order() if r.kind is ResourceKind.PERSON]
    last = plan.projects_in_order()[-1]
    monday, whim = status // DAY - 4, random.Random(SEED + 1)
    for (department, name), rank in zip(names[:COUNT], ranks_between(last.rank, None, COUNT), strict=True):
        start = (monday + 7 * rng.randrange(FIRST_WEEK, LAST_WEEK)) * DAY + BEGINS
        project = Project(new_id(), name, start, rank, calendar=last.calendar, department=department,
                          led_by=rng.choice(leads), priority=rng.randrange(3, 8),
                          fields=(("Good for", whim.choice(GOOD_FOR)), ("Paid by", whim.choice(PAID_BY))))  # fmt: skip
        mine = [p for p in people if isinstance(p, Resource) and p.section == department]
        yield _Made(project, [project, *_tasks(rng, project, mine)])


def _tasks(rng: random.Random, project: Project, people: list[Resource]) -> Iterator[Record]:
    """Stage after stage; within one, most steps wait for the one before and some run beside it."""
    before = ""
    for (stage, steps), rank in zip(STAGES, ranks_between(None, None, len(STAGES)), strict=True):
        above = Task(new_id(), project.id, stage, rank)
        yield above
        open_ends: list[str] = []
        for step, inner in zip(steps, ranks_between(None, None, len(steps)), strict=True):
            closes = step.endswith("!")
            task = Task(
                new_id(), project.id, step.rstrip("!"), inner, above.id,
                0 if closes else WORKDAY * rng.choice((1, 1, 2, 2, 3, 5)), priority=project.priority,
                kind=TaskKind.MILESTONE if closes else TaskKind.TASK,
            )  # fmt: skip
            yield task
            beside = not closes and open_ends and rng.random() < 0.35
            waits_for = open_ends if closes else [before if beside or not open_ends else open_ends[-1]]
            yield from (Link(ahead, task.id) for ahead in waits_for if ahead)
            if not closes and rng.random() < STAFFED:
                yield Assignment(task.id, rng.choice(people).id, units=rng.choice(SHARES))
            open_ends = [*open_ends, task.id] if beside or not open_ends else [*open_ends[:-1], task.id]
        before = open_ends[-1]


def _told(dates: Schedule, project: str, status: int) -> Iterator[Record]:
    """What had been done by the status date if all went as planned."""
    plan = dates.plan
    begun = False
    for task in plan.tasks.values():
        if task.project != project or plan.is_summary(task.id):
            continue
        found = dates.dates(task.id)
        if found.finish <= status:
            begun = True
            yield replace(task, actual_start=found.start, actual_finish=found.finish, percent=100.0, as_of=status)
        elif found.start < status:
            begun = True
            rest = working_minutes(dates, plan.projects[project].calendar, status, found.finish)
            yield replace(task, actual_start=found.start, remaining=rest, as_of=status,
                          percent=round(100.0 * (1 - rest / max(1, task.minutes)), 1))  # fmt: skip
    if begun:
        yield replace(plan.projects[project], status_date=status)


def _wanted(rng: random.Random, dates: Schedule, project: str, status: int) -> Project:
    """The project with a date by which it is wanted; a few lie before its finish, and a few are on hold."""
    found, finish = dates.plan.projects[project], dates.project_finish[project] or status
    chance = rng.random()
    if finish <= status:
        return found
    if chance < HELD:
        return replace(found, on_hold=True)
    weeks = (
        rng.choice((-3, -2, -1))
        if chance < HELD + LATE
        else 0.5
        if chance < HELD + LATE + CLOSE
        else rng.choice((2, 3, 5))
    )
    return replace(found, target_finish=(finish // DAY + round(7 * weeks)) * DAY + ENDS)
