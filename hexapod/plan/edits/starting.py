"""Many projects from one fragment: each with a name and a beginning of its own, in one edit."""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from functools import partial

from hexapod.errors import EditRefused, HexapodError
from hexapod.plan.bounds import LONGEST_NAME
from hexapod.plan.edits.copying import duplicate_project
from hexapod.plan.edits.edit import Edit, in_steps, quoted
from hexapod.plan.plan import Plan

MOST = 200  # projects in one edit


def start_projects(fragment: Plan, named: Sequence[tuple[str, int]], *, swaps: Mapping[str, str] | None = None) -> Edit:
    """A project like a fragment's for each name and beginning (minutes), in that order."""
    if len(named) > MOST:
        raise EditRefused(f"At most {MOST} projects are started at once; these are {len(named)}.")

    def step(name: str, start: int, plan: Plan) -> Edit:
        return duplicate_project(plan, fragment, name, start, swaps=swaps)[1]

    many = f"Add {len(named)} projects" if len(named) > 1 else f"Add the project {quoted([name for name, _ in named])}"
    return in_steps(many, [partial(step, name, start) for name, start in named])


def named_starts(text: str, usual: int, read: Callable[[str], int]) -> list[tuple[str, int]]:
    """The names and beginnings that somebody typed, one a line: ``North case; 1 Mar``. A line without a day begins at
    the usual moment. ``EditRefused`` names the line that cannot be read."""
    found = []
    for number, line in enumerate(text.splitlines(), 1):
        name, mark, day = line.replace("\t", ";").rpartition(";")
        name, day = (name.strip(), day.strip()) if mark else (line.strip(), "")
        if not name and not day:
            continue
        if not name:
            raise EditRefused(f"Line {number}: a project wants a name before the semicolon.")
        if len(name) > LONGEST_NAME:
            raise EditRefused(f"Line {number}: the name has more than {LONGEST_NAME} letters.")
        try:
            found.append((name, read(day) if day else usual))
        except HexapodError as error:
            raise EditRefused(f"Line {number}, the day: {error}") from None
    return found
