"""Quick changes for a scenario: what each asks for, and the ordinary edit that it makes."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import dataclass
from enum import Enum

from msgspec.structs import replace

from hexapod.desktop import dates
from hexapod.desktop.currency import currency
from hexapod.errors import BadText, EditRefused
from hexapod.fields.risk_text import read_rows
from hexapod.plan import edits
from hexapod.plan.edits import Edit
from hexapod.plan.plan import Plan
from hexapod.plan.records import DAY, ResourceKind
from hexapod.schedule.schedule import Schedule
from hexapod.worktime.calendars import units_of
from hexapod.worktime.lengths import parse_length


class Asks(Enum):
    """What a field takes: something to choose, or what is typed."""

    ROLE = "role"
    PROJECT = "project"
    RESOURCE = "resource"
    CALENDAR = "calendar"
    TEXT = "text"


@dataclass(frozen=True)
class Field:
    """``hint`` stands in an empty line; what is ``spare`` may stay empty."""

    name: str
    asks: Asks = Asks.TEXT
    hint: str = ""
    spare: bool = False


@dataclass(frozen=True)
class Ground:
    """What a quick change is made from: the dates of the scenario, the project on show, and what was filled in."""

    schedule: Schedule
    project: str | None
    said: Mapping[str, str]

    @property
    def plan(self) -> Plan:
        return self.schedule.plan

    def text(self, name: str) -> str:
        """``BadText`` where nothing is said."""
        found = self.said.get(name, "").strip()
        if not found:
            raise BadText(f"Say “{name}” first.")
        return found

    def chosen(self, name: str) -> str:
        found = self.said.get(name, "")
        if not found:
            raise BadText(f"There is nothing to choose under “{name}” yet.")
        return found

    def day(self, name: str) -> int:
        return dates.read(self.text(name)) // DAY

    def day_or_none(self, name: str) -> int | None:
        return self.day(name) if self.said.get(name, "").strip() else None

    def number(self, name: str, least: float = 0.0) -> float:
        text = self.text(name).rstrip("% ").replace(",", ".")
        try:
            found = float(text)
        except ValueError:
            raise BadText(f"“{text[:40]}” is no number. Type for example 2 or 0.5.") from None
        if not least <= found <= 1_000_000:
            raise BadText(f"“{name}” is from {least:g} to a million.")
        return found

    def money(self, name: str) -> int:
        return currency().read(self.text(name))

    def rows(self) -> list[str]:
        """Rows of the project on show, by number or name."""
        if self.project is None:
            raise EditRefused("There is no project on show.")
        return list(read_rows(self.plan, self.project, self.text("Rows")))


@dataclass(frozen=True)
class Quick:
    name: str
    words: str
    fields: tuple[Field, ...]
    make: Callable[[Ground], Edit]


def _hire(ground: Ground) -> Edit:
    from hexapod.outlook.hiring import hire, usual_rate

    role, project = ground.chosen("Role"), ground.chosen("Paid by")
    finish = ground.schedule.project_finish.get(project)
    rate = ground.money("Rate an hour") if ground.said.get("Rate an hour") else usual_rate(ground.plan, role)
    first = ground.day("From")
    until = first if finish is None else finish // DAY
    return hire(ground.plan, role, ground.number("How many"), (first, ground.day_or_none("To")), rate, project, until)


def _contract(ground: Ground) -> Edit:
    rows, plan = ground.rows(), ground.plan
    known = [ground.schedule.dates(t) for t in rows if ground.schedule.has(t)]
    first = min((d.start for d in known), default=0) // DAY
    last = max((d.finish for d in known), default=0) // DAY
    return edits.contract(plan, rows, ground.text("Contractor"), ground.money("Price"), (first, max(first, last)))


def _delay(ground: Ground) -> Edit:
    project = ground.chosen("Project")
    return edits.delay_project(ground.plan, project, parse_length(ground.text("By"), units_of(ground.plan, project)))


def _hold(ground: Ground) -> Edit:
    project = ground.chosen("Project")
    return edits.put_on_hold(ground.plan, project, not ground.plan.projects[project].on_hold)


def _drop(ground: Ground) -> Edit:
    return edits.drop_project(ground.plan, ground.chosen("Project"))


def _target(ground: Ground) -> Edit:
    at = dates.read(ground.text("Target"), ends=True)
    if ground.said.get("Rows", "").strip():
        plan = ground.plan
        rows = ground.rows()
        return edits.together("Move a target", [edits.set_task(plan, t, "Move a target", target=at) for t in rows])
    project = ground.plan.project(ground.chosen("Project"))
    moved = replace(project, target_finish=at)
    return edits.save_project(ground.plan, moved).named(f"Move the target of “{project.name}”")


def _priority(ground: Ground) -> Edit:
    project = ground.plan.project(ground.chosen("Project"))
    moved = replace(project, priority=round(ground.number("Priority", 1)))
    return edits.save_project(ground.plan, moved).named(f"Priority of “{project.name}”")


def _capacity(ground: Ground) -> Edit:
    who = ground.plan.resource(ground.chosen("Who"))
    day, capacity = ground.day("From"), ground.number("Capacity")
    steps = (*(s for s in who.capacity_from if s[0] < day), (day, capacity))
    return edits.save_resource(ground.plan, replace(who, capacity_from=steps)).named(f"Capacity of {who.name}")


def _calendar(ground: Ground) -> Edit:
    project = ground.plan.project(ground.chosen("Project"))
    moved = replace(project, calendar=ground.chosen("Calendar"))
    return edits.save_project(ground.plan, moved).named(f"Calendar of “{project.name}”")


def _cut(ground: Ground) -> Edit:
    rows = ground.rows()
    name = f"“{ground.plan.tasks[rows[0]].name}”" if len(rows) == 1 else f"{len(rows)} tasks"
    return edits.remove_tasks(ground.plan, rows).named(f"Cut {name}")


def _scope(ground: Ground) -> Edit:
    return edits.scale_scope(ground.plan, ground.rows(), ground.number("Scope in %") / 100)


def _crowd(ground: Ground) -> Edit:
    return edits.crowd(ground.plan, what_drives(ground.schedule, ground.chosen("Project")), ground.number("Times"))


def what_drives(schedule: Schedule, project: str) -> list[str]:
    """The leaves of a project that drive its finish, are not begun, and have people on them."""
    plan = schedule.plan
    return [
        t.id for t in plan.tasks.values()
        if t.project == project and not plan.is_summary(t.id) and t.actual_start is None and plan.assigned.get(t.id)
        and schedule.has(t.id) and schedule.dates(t.id).longest_path
    ]  # fmt: skip


_PROJECT = Field("Project", Asks.PROJECT)
_ROWS = Field("Rows", hint="2.1; 2.4")

QUICK: tuple[Quick, ...] = (
    Quick("hire", "Hire for a role", (
        Field("Role", Asks.ROLE), Field("How many", hint="2"), Field("From", hint="1 Mar 2027"),
        Field("To", hint="for good", spare=True),
        Field("Rate an hour", hint="as its people", spare=True), Field("Paid by", Asks.PROJECT)), _hire),
    Quick("contract", "A contractor for some tasks", (
        _ROWS, Field("Contractor", hint="Glazing firm"), Field("Price", hint="6400")), _contract),
    Quick("delay", "Delay a project", (_PROJECT, Field("By", hint="2 w")), _delay),
    Quick("hold", "Put a project on hold, or go on with it", (_PROJECT,), _hold),
    Quick("drop", "Drop a project", (_PROJECT,), _drop),
    Quick("target", "Move a target", (
        _PROJECT, Field("Rows", hint="2.1, or all of it", spare=True),
        Field("Target", hint="26 Feb 2027")), _target),
    Quick("priority", "Another priority of a project", (_PROJECT, Field("Priority", hint="1, first, to 9")), _priority),
    Quick("capacity", "Another capacity", (
        Field("Who", Asks.RESOURCE), Field("From", hint="1 Mar 2027"), Field("Capacity", hint="1.5")), _capacity),
    Quick("calendar", "Another calendar of a project", (_PROJECT, Field("Calendar", Asks.CALENDAR)), _calendar),
    Quick("scope", "More or less scope", (_ROWS, Field("Scope in %", hint="50")), _scope),
    Quick("cut", "Cut tasks", (_ROWS,), _cut),
    Quick("crowd", "More people on what drives the finish", (_PROJECT, Field("Times", hint="2")), _crowd),
)  # fmt: skip


def choices_of(plan: Plan, asks: Asks) -> list[tuple[str, str]]:
    """What a field offers: ids with their names."""
    match asks:
        case Asks.ROLE:
            return [(r.id, r.name) for r in plan.resources_in_order() if r.kind is ResourceKind.ROLE]
        case Asks.RESOURCE:
            return [(r.id, r.name) for r in plan.resources_in_order() if r.kind is not ResourceKind.ROLE]
        case Asks.PROJECT:
            return [(p.id, p.name) for p in plan.projects_in_order() if not p.archived]
        case Asks.CALENDAR:
            built_in = [("standard", "Standard week"), ("always", "Round the clock")]
            return [*((c.id, c.name) for c in plan.calendars.values()), *built_in]
    return []
