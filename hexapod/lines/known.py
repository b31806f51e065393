"""What a line can speak of: the rows and the people of a plan, and its reader's dates and lengths."""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass
from functools import partial

from hexapod.fields.assignment_text import known_people
from hexapod.plan.outline import task_at
from hexapod.plan.plan import Plan
from hexapod.plan.records import Task
from hexapod.worktime.calendars import units_of
from hexapod.worktime.lengths import Units

ReadDate = Callable[[str, bool], int]  # a text, and whether it is an end; raises ``BadText``
FindRows = Callable[[str], Sequence[tuple[str, str]]]  # ids and names by a name in small letters

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

    ``rows`` finds ids and names of tasks by the small letters of their name, those of this project first choice.
    ``numbers`` finds a row by the number that it has, ``own`` is the row that the line is about.
    """

    plan: Plan
    project: str
    read_date: ReadDate
    units: Units
    rows: FindRows
    people: Mapping[str, str]
    first_names: Mapping[str, tuple[str, ...]]
    numbers: Callable[[str], str | None]
    own: str = ""

    @classmethod
    def of(cls, plan: Plan, project: str, read_date: ReadDate) -> Known:
        first_names: dict[str, tuple[str, ...]] = {}
        for resource in plan.resources.values():
            first = resource.name.split(" ")[0].casefold()
            first_names[first] = (*first_names.get(first, ()), resource.id)
        return cls(
            plan, project, read_date, units_of(plan, project), RowNames(plan, project), known_people(plan), first_names,
            partial(task_at, plan, project),
        )  # fmt: skip

    def row_at(self, number: str) -> str | None:
        return self.numbers(number)

    def rows_called(self, text: str) -> Found:
        """Rows by their name; one word in small letters may be just a word."""
        quoted = text[:1] in '"“' and text[-1:] in '"”'
        name = text.strip('"“” ')
        found = [(t, n) for t, n in self.rows(name.casefold()) if t != self.own]
        return Found(tuple(t for t, _ in found), quoted or " " in name or any(n == name for _, n in found))

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


class RowNames:
    """Tasks of a plan by the small letters of their name; counted when the first name is asked for."""

    def __init__(self, plan: Plan, project: str) -> None:
        self._plan, self._project = plan, project
        self._found: dict[str, list[Task]] | None = None

    def __call__(self, name: str) -> list[tuple[str, str]]:
        if self._found is None:
            self._found = {}
            for task in self._plan.tasks.values():
                self._found.setdefault(task.name.casefold(), []).append(task)
        called = self._found.get(name, [])
        here = [task for task in called if task.project == self._project]
        return [(task.id, task.name) for task in here or called]
