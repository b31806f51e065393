"""The outline: rows in order with their level, outline numbers, and text with indentation as levels."""

from __future__ import annotations

import re
from bisect import bisect_left
from collections.abc import Collection, Iterator
from typing import NamedTuple

from hexapod.plan.plan import Plan
from hexapod.system.budgets import whole_number


class Row(NamedTuple):
    """A task's place in the outline: level 0 is the top, ``number`` is such as ``3.2``.

    Rows without a task are a ``heading`` above others, or a lane of several ``tasks`` beside each other.
    """

    task: str
    level: int
    number: str
    heading: str = ""
    tasks: tuple[str, ...] = ()


def rows(plan: Plan, project: str, folded: Collection[str] = ()) -> list[Row]:
    """The project's rows from top to bottom, without what lies below a folded summary."""
    found: list[Row] = []
    children = plan.children
    waiting = _numbered(children.get((project, None), ()), 0, "")
    while waiting:
        row = waiting.pop()
        found.append(row)
        if row.task not in folded:
            below = children.get((project, row.task))
            if below:
                waiting.extend(_numbered(below, row.level + 1, row.number + "."))
    return found


def _numbered(tasks: tuple[str, ...], level: int, prefix: str) -> list[Row]:
    return [Row(tasks[i], level, f"{prefix}{i + 1}") for i in range(len(tasks) - 1, -1, -1)]


def outline_order(plan: Plan) -> Iterator[str]:
    """Every task of every project, in the order of the screen."""
    children = plan.children
    for project in plan.projects_in_order():
        waiting = list(reversed(children.get((project.id, None), ())))
        while waiting:
            task = waiting.pop()
            yield task
            below = children.get((project.id, task))
            if below:
                waiting.extend(reversed(below))


def is_worked(plan: Plan, task_id: str) -> bool:
    """Whether all of a row is done: its leaves, or it itself where it has none."""
    return all(plan.tasks[t].is_done for t in plan.branch(task_id) if not plan.is_summary(t))


def number_of(plan: Plan, task_id: str) -> str:
    """The outline number, such as ``3.2``."""
    parts: list[str] = []
    current: str | None = task_id
    while current is not None:
        task = plan.tasks[current]
        siblings = plan.children[(task.project, task.parent)]
        at = bisect_left(siblings, (task.rank, task.id), key=lambda i: (plan.tasks[i].rank, i))
        parts.append(str(at + 1))
        current = task.parent
    return ".".join(reversed(parts))


def stream_of(plan: Plan, task_id: str) -> str:
    """The task's own stream, or that of the nearest summary with one, or the name of its top row."""
    line = [task_id, *plan.ancestors(task_id)]
    return next((plan.tasks[t].stream for t in line if plan.tasks[t].stream), plan.tasks[line[-1]].name)


def task_at(plan: Plan, project: str, number: str) -> str | None:
    """The task with an outline number, or None."""
    current: str | None = None
    for part in number.split("."):
        siblings = plan.children.get((project, current), ())
        number_here = whole_number(part)
        index = -1 if number_here is None else number_here - 1
        if not 0 <= index < len(siblings):
            return None
        current = siblings[index]
    return current


def without_descendants(plan: Plan, task_ids: Collection[str]) -> list[str]:
    """The tasks of a selection that lie below no other of it, in outline order."""
    chosen = set(task_ids)
    tops = [t for t in chosen if not chosen.intersection(plan.ancestors(t))]
    return sorted(tops, key=lambda t: _position(plan, t))


def _position(plan: Plan, task_id: str) -> tuple[str, ...]:
    path = [*reversed(plan.ancestors(task_id)), task_id]
    task = plan.tasks[task_id]
    return (
        plan.projects[task.project].rank,
        task.project,
        *(x for t in path for x in (plan.tasks[t].rank, t)),
    )


_BULLET = re.compile(r"^(?:[-*•·–—▪◦]\s+|\d+(?:\.\d+)+[.)]?\s+|\d+[.)]\s+|[a-z][.)]\s+)", re.IGNORECASE)
_OUTLINE_NUMBER = re.compile(r"^(\d+(?:\.\d+)*)[.)]?\s+(?=\S)")


class TextRow(NamedTuple):
    """A line of text as a row: ``number`` is the outline number that it bore, if it did."""

    level: int
    name: str
    number: str = ""


def levels_of_text(text: str) -> list[tuple[int, str]]:
    """Lines as (level, name), see ``rows_of_text``."""
    return [(row.level, row.name) for row in rows_of_text(text)]


def rows_of_text(text: str) -> list[TextRow]:
    """Lines as rows: deeper indentation is a deeper level, whatever its width.

    A tab counts as eight columns. Bullets and numbers in front are dropped, so are empty lines. Where no line
    is indented, but all have outline numbers such as 3.2, these are the levels. A first line that is
    indented is level 0; a level is never more than one below the line before.
    """
    lines = [line.expandtabs(8).rstrip() for line in text.splitlines() if line.strip()]
    numbers = [_OUTLINE_NUMBER.match(line.lstrip()) for line in lines]
    is_numbered = len(lines) > 1 and all(
        number and not line[0].isspace() for number, line in zip(numbers, lines, strict=True)
    )
    is_numbered = is_numbered and any("." in match[1] for match in numbers if match)
    if is_numbered:
        margins = [match[1].count(".") for match in numbers if match]
    else:
        margins = [len(line) - len(line.lstrip()) for line in lines]
    found: list[TextRow] = []
    open_: list[int] = []
    for margin, line, number in zip(margins, lines, numbers, strict=True):
        while open_ and open_[-1] >= margin:
            open_.pop()
        whole = line.strip()
        mark = _OUTLINE_NUMBER if is_numbered else _BULLET
        name = mark.sub("", whole).strip() or whole
        found.append(TextRow(len(open_), name, number[1] if number and name != whole else ""))
        open_.append(margin)
    return found
