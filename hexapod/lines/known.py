"""What a line can speak of: the rows and the people of a plan, and its reader's dates and lengths."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Mapping
from dataclasses import dataclass
from functools import partial

from hexapod.fields.assignment_text import known_people
from hexapod.plan.outline import task_at
from hexapod.plan.plan import Plan
from hexapod.worktime.calendars import units_of
from hexapod.worktime.lengths import Units

ReadDate = Callable[[str, bool], int]  # a text, and whether it is an end; raises ``BadText``

_ALSO_WORDS = frozenset({
    "me", "it", "us", "we", "an", "at", "so", "no", "on", "do", "go", "be", "he", "am", "as", "is", "or", "of", "to",
    "up", "my", "in", "if", "by", "all", "any", "art", "one", "two",
})  # fmt: skip


@dataclass(frozen=True)
class Found:
    """Records that a text may mean, by their ids, and whether it can hardly mean anything else."""

    ids: tuple[str, ...]
    sure: bool


@dataclass(frozen=True)
class Known:
    """Of one project of a plan.

    ``rows`` are the ids and names of tasks by the small letters of their name, those of this project first choice.
    ``numbers`` finds a row by the number that it has, ``own`` is the row that the line is about.
    """

    plan: Plan
    project: str
    read_date: ReadDate
    units: Units
    rows: Mapping[str, tuple[tuple[str, str], ...]]
    people: Mapping[str, str]
    first_names: Mapping[str, tuple[str, ...]]
    numbers: Callable[[str], str | None]
    own: str = ""

    @classmethod
    def of(cls, plan: Plan, project: str, read_date: ReadDate) -> Known:
        tasks = plan.tasks.values()
        elsewhere = by_name((t.id, t.name) for t in tasks if t.project != project)
        here = by_name((t.id, t.name) for t in tasks if t.project == project)
        first_names: dict[str, tuple[str, ...]] = {}
        for resource in plan.resources.values():
            first = resource.name.split(" ")[0].casefold()
            first_names[first] = (*first_names.get(first, ()), resource.id)
        return cls(
            plan, project, read_date, units_of(plan, project), elsewhere | here, known_people(plan), first_names,
            partial(task_at, plan, project),
        )  # fmt: skip

    def row_at(self, number: str) -> str | None:
        return self.numbers(number)

    def rows_called(self, text: str) -> Found:
        """Rows by their name; one word in small letters may be just a word."""
        quoted = text[:1] in '"“' and text[-1:] in '"”'
        name = text.strip('"“” ')
        found = [(t, n) for t, n in self.rows.get(name.casefold(), ()) if t != self.own]
        return Found(tuple(t for t, _ in found), quoted or " " in name or any(n == name for _, n in found))

    def row_elsewhere(self, text: str) -> tuple[str, bool] | None:
        """A row of another project, as ``Glasshouse roof: 3.2``."""
        name, colon, number = text.rpartition(":")
        for project in self.plan.projects.values() if colon else ():
            if project.name.casefold() == name.strip().casefold():
                task = task_at(self.plan, project.id, number.strip())
                return (task, True) if task else None
        return None

    def who(self, text: str) -> Found:
        """A person, role or thing by initials, name, first name, or a role's name with an s."""
        said = text.casefold()
        if said in self.people:
            resource = self.plan.resources[self.people[said]]
            is_exact = text in (resource.initials, resource.name)
            return Found((resource.id,), is_exact or said not in _ALSO_WORDS)
        if said.endswith("s") and said[:-1] in self.people:
            return Found((self.people[said[:-1]],), sure=True)
        return Found(self.first_names.get(said, ()), text[:1].isupper())


def by_name(rows: Iterable[tuple[str, str]]) -> dict[str, tuple[tuple[str, str], ...]]:
    """Ids and names of rows by the small letters of the name."""
    found: dict[str, tuple[tuple[str, str], ...]] = {}
    for task_id, name in rows:
        found[name.casefold()] = (*found.get(name.casefold(), ()), (task_id, name))
    return found
