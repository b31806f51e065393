"""The pool of resources as a table, out and in: a row each, matched by name.

A column that a file does not have leaves what it would say as it was; a role, team or calendar that a file names and
that is not there is made, respectively said. What cannot be understood is said with its row and column, and the row
is left out; nothing is changed until the proposal's edit is carried out.
"""

from __future__ import annotations

from collections.abc import Callable, Iterable, Mapping, Sequence
from dataclasses import dataclass
from datetime import datetime
from enum import StrEnum
from typing import Any

from msgspec.structs import replace

from hexapod.errors import BadText
from hexapod.formats.pool_text import (
    extra_text,
    leave_text,
    propose_initials,
    rates_text,
    read_extra,
    read_leave,
    read_rates,
    read_skills,
    read_steps,
    skills_text,
    steps_text,
)
from hexapod.formats.tables import Cell, Sheet
from hexapod.plan import edits
from hexapod.plan.edits import Edit, new_id
from hexapod.plan.plan import Plan
from hexapod.plan.ranks import ranks_between
from hexapod.plan.records import Resource, ResourceKind
from hexapod.plan.validity import resource_trouble
from hexapod.services.directory import Person
from hexapod.worktime.calendars import BUILT_IN
from hexapod.worktime.dates import parse_moment

COLUMNS = {
    "name": "Name",
    "initials": "Initials",
    "kind": "Kind",
    "role": "Role",
    "roles": "Can also act in",
    "team": "Team",
    "section": "Section",
    "capacity": "Capacity",
    "skills": "Skills",
    "calendar": "Calendar",
    "leave": "Leave",
    "extra": "Extra days",
    "rate": "Rate",
    "email": "Email",
}
OTHER_NAMES = {
    "name": ("person", "resource", "who", "full name", "employee"),
    "initials": ("short", "code", "abbreviation"),
    "kind": ("type", "sort"),
    "role": ("job", "trade", "function", "position"),
    "roles": ("other roles", "also"),
    "section": ("department", "unit", "listed under"),
    "capacity": ("units", "how many", "fte"),
    "rate": ("cost", "cost rate", "money an hour"),
    "email": ("mail", "e-mail", "contact"),
    "leave": ("away", "absence", "holiday"),
}


class Outcome(StrEnum):
    ADD = "add"
    CHANGE = "change"
    SAME = "same"
    LEFT_OUT = "left out"


@dataclass(frozen=True)
class PoolRow:
    """What a row of a file comes to; ``trouble`` names its column and what is wrong there."""

    row: int
    name: str
    outcome: Outcome
    trouble: str = ""


@dataclass(frozen=True)
class PoolProposal:
    """``made`` are roles and teams that come along; ``edit`` is None where nothing would change."""

    rows: tuple[PoolRow, ...]
    made: tuple[str, ...]
    edit: Edit | None

    def count(self, outcome: Outcome) -> int:
        return sum(r.outcome is outcome for r in self.rows)


# Out


def pool_rows(plan: Plan) -> list[list[Cell]]:
    """A row of headings, and one for each resource in its order."""
    names = {i: x.name for i, x in plan.resources.items()}
    calendars = {c.id: c.name for c in (*BUILT_IN.values(), *plan.calendars.values())}
    return [list(COLUMNS.values()), *(_row(r, names, calendars) for r in plan.resources_in_order())]


def _row(r: Resource, names: Mapping[str, str], calendars: Mapping[str, str]) -> list[Cell]:
    said: dict[str, Cell] = {
        "name": r.name,
        "initials": r.initials,
        "kind": r.kind.value,
        "role": names.get(r.role or "", ""),
        "roles": ", ".join(names[x] for x in r.roles),
        "team": names.get(r.team or "", ""),
        "section": r.section,
        "capacity": r.capacity if not r.capacity_from else steps_text(r.capacity, r.capacity_from),
        "skills": skills_text(r.skills),
        "calendar": calendars.get(r.calendar or "", ""),
        "leave": leave_text(r.leave),
        "extra": extra_text(r.leave),
        "rate": rates_text(r.rate, r.rate_from) if r.rate or r.rate_from else None,
        "email": r.email,
    }
    return [said[name] or None for name in COLUMNS]


# In


def headings(row: Sequence[Cell]) -> dict[int, str]:
    """Which column of a file says what, by the names that it gives them."""
    known = {title.casefold(): name for name, title in COLUMNS.items()}
    known |= {other: name for name, others in OTHER_NAMES.items() for other in others}
    found: dict[int, str] = {}
    for i, cell in enumerate(row):
        name = known.get(str(cell or "").strip().casefold())
        if name is not None and name not in found.values():
            found[i] = name
    return found


def from_sheet(plan: Plan, sheet: Sheet, words: str) -> PoolProposal:
    """What a table would bring. ``BadText`` if no row of it looks like headings with a name among them."""
    for at, row in enumerate(sheet.rows[:30]):
        columns = headings(row)
        if "name" in columns.values():
            body = sheet.rows[at + 1 :]
            numbered = ((sheet.first_row + at + 1 + i, _said(columns, r)) for i, r in enumerate(body))
            return propose(plan, [(n, said) for n, said in numbered if any(said.values())], words)
    raise BadText("No row of headings with a column “Name” was found in the first 30 rows.")


def _said(columns: Mapping[int, str], row: Sequence[Cell]) -> dict[str, str]:
    return {name: _text(row[i]) if i < len(row) else "" for i, name in columns.items()}


def _text(cell: Cell) -> str:
    if isinstance(cell, datetime):
        return cell.date().isoformat()
    if isinstance(cell, float):
        return f"{cell:g}"
    return "" if cell is None else str(cell).strip()


def from_directory(plan: Plan, people: Iterable[Person], words: str) -> PoolProposal:
    """What entries of a directory would bring."""
    rows = []
    for number, person in enumerate(people, 1):
        said = {"name": person.name, "email": person.email, "role": person.role, "section": person.section}
        if person.skills:
            said["skills"] = ", ".join(part.strip() for part in person.skills.split(";"))
        rows.append((number, {name: text for name, text in said.items() if text}))
    return propose(plan, rows, words)


def propose(plan: Plan, rows: Iterable[tuple[int, Mapping[str, str]]], words: str) -> PoolProposal:
    """What rows, each with its number and what it says by column, would add and change."""
    pool = _Pool(plan)
    found = tuple(pool.take(number, said) for number, said in rows)
    changed = [r for r in pool.resources.values() if plan.resources.get(r.id) != r]
    order = {ResourceKind.ROLE: 0, ResourceKind.TEAM: 1}
    changed.sort(key=lambda r: (order.get(r.kind, 2), r.rank))
    edit = edits.together(words, [edits.save_resource(plan, r) for r in changed]) if changed else None
    return PoolProposal(found, tuple(pool.made), edit)


class _Pool:
    """The pool as it grows row by row, with what finds a resource at once by its name or its initials."""

    def __init__(self, plan: Plan) -> None:
        self.plan = plan
        self.made: list[str] = []
        self.resources: dict[str, Resource] = {}
        self._names: dict[str, str] = {}
        self._initials: dict[str, str] = {}
        self._of_kind: dict[tuple[ResourceKind, str], str] = {}
        self._tried: dict[str, int] = {}
        self._fresh: list[Resource] = []  # roles and teams that the row at hand has made
        for resource in plan.resources.values():
            self._keep(resource)
        last = plan.resources_in_order()
        self.last_rank = last[-1].rank if last else None
        self.calendars = {c.name.casefold(): c.id for c in (*BUILT_IN.values(), *plan.calendars.values())}

    def take(self, number: int, said: Mapping[str, str]) -> PoolRow:
        name = said.get("name", "")
        if not name:
            return PoolRow(number, "", Outcome.LEFT_OUT, "Name: is empty")
        known = self.resources.get(self._names.get(name.casefold(), ""))
        resource = known or Resource(new_id(), name, self._next_rank())
        self._fresh = []
        for column in COLUMNS:
            text = said.get(column, "")
            if not text:
                continue
            try:
                resource = replace(resource, **READERS[column](self, resource, text))
            except BadText as error:
                return self._left_out(number, name, f"{COLUMNS[column]}: {error}")
        if not resource.initials:
            resource = replace(resource, initials=propose_initials(name, self._initials, self._tried))
        trouble = resource_trouble(resource)
        if trouble:  # one row that breaks a rule would have the whole table refused
            return self._left_out(number, name, trouble)
        self._keep(resource)
        if known is None:
            return PoolRow(number, name, Outcome.ADD)
        return PoolRow(number, name, Outcome.SAME if resource == known else Outcome.CHANGE)

    def _left_out(self, number: int, name: str, trouble: str) -> PoolRow:
        """The row is as if it had not been there, with the roles and teams that it would have made."""
        for resource in self._fresh:
            del self.resources[resource.id]
            self._names.pop(resource.name.casefold(), None)
            self._initials.pop(resource.initials.casefold(), None)
            for text in (resource.name, resource.initials):
                self._of_kind.pop((resource.kind, text.casefold()), None)
            self.made.remove(resource.name)
        return PoolRow(number, name, Outcome.LEFT_OUT, trouble)

    def _keep(self, resource: Resource) -> None:
        before = self.resources.get(resource.id)
        if before is not None and before.initials:
            self._initials.pop(before.initials.casefold(), None)
        self.resources[resource.id] = resource
        self._names.setdefault(resource.name.casefold(), resource.id)
        if resource.initials:
            self._initials[resource.initials.casefold()] = resource.id
        for text in (resource.name, resource.initials):
            self._of_kind.setdefault((resource.kind, text.casefold()), resource.id)

    def _next_rank(self) -> str:
        (self.last_rank,) = ranks_between(self.last_rank, None, 1)
        return self.last_rank

    def with_initials(self, text: str) -> Resource | None:
        """Who has these initials."""
        return self.resources.get(self._initials.get(text.casefold(), ""))

    def named(self, text: str, kind: ResourceKind) -> str:
        """The id of a role or a team by its name or initials; made if there is none."""
        known = self.resources.get(self._of_kind.get((kind, text.casefold()), ""))
        if known is not None and known.kind is kind:
            return known.id
        initials = propose_initials(text, self._initials, self._tried)
        made = Resource(new_id(), text, self._next_rank(), kind, initials=initials)
        if trouble := resource_trouble(made):
            raise BadText(trouble)
        self._keep(made)
        self._fresh.append(made)
        self.made.append(text)
        return made.id


Reader = Callable[[_Pool, Resource, str], dict[str, Any]]


def _kind(pool: _Pool, resource: Resource, text: str) -> dict[str, Any]:
    try:
        return {"kind": ResourceKind(text.casefold())}
    except ValueError:
        raise BadText(f"“{text}” is none of {', '.join(k.value for k in ResourceKind)}") from None


def _initials(pool: _Pool, resource: Resource, text: str) -> dict[str, Any]:
    if any(c in ",;%×" or c.isspace() for c in text):
        raise BadText(f"“{text}” must be one word without , ; % or ×")
    other = pool.with_initials(text)
    if other is not None and other.id != resource.id:
        raise BadText(f"“{text}” are those of {other.name} already")
    return {"initials": text}


def _role(pool: _Pool, resource: Resource, text: str) -> dict[str, Any]:
    found = pool.named(text, ResourceKind.ROLE)
    if found == resource.id:
        raise BadText("a role is not counted under itself")
    return {"role": found}


def _roles(pool: _Pool, resource: Resource, text: str) -> dict[str, Any]:
    names = [part.strip() for part in text.split(",") if part.strip()]
    return {"roles": tuple(dict.fromkeys(pool.named(n, ResourceKind.ROLE) for n in names))}


def _team(pool: _Pool, resource: Resource, text: str) -> dict[str, Any]:
    found = pool.named(text, ResourceKind.TEAM)
    if found == resource.id:
        raise BadText("a team is not a member of itself")
    return {"team": found}


def _capacity(pool: _Pool, resource: Resource, text: str) -> dict[str, Any]:
    first, later = read_steps(text.replace(";", ","), parse_moment)
    return {"capacity": first, "capacity_from": later}


def _rate(pool: _Pool, resource: Resource, text: str) -> dict[str, Any]:
    first, later = read_rates(text, parse_moment)
    return {"rate": first, "rate_from": later}


def _calendar(pool: _Pool, resource: Resource, text: str) -> dict[str, Any]:
    found = pool.calendars.get(text.casefold())
    if found is None:
        raise BadText(f"there is no calendar “{text}”")
    return {"calendar": found}


def _plainly(name: str) -> Reader:
    return lambda pool, resource, text: {name: text}


READERS: dict[str, Reader] = {
    "name": _plainly("name"),
    "initials": _initials,
    "kind": _kind,
    "role": _role,
    "roles": _roles,
    "team": _team,
    "section": _plainly("section"),
    "capacity": _capacity,
    "skills": lambda pool, resource, text: {"skills": read_skills(text.replace(";", ","))},
    "calendar": _calendar,
    "leave": lambda pool, resource, text: {"leave": read_leave(text, resource.leave, parse_moment)},
    "extra": lambda pool, resource, text: {"leave": read_extra(text, resource.leave, parse_moment)},
    "rate": _rate,
    "email": _plainly("email"),
}
