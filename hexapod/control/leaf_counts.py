"""Counts over the leaves of projects, all of them in one walk: 12,000 leaves are walked at every edit."""

from __future__ import annotations

from collections import Counter
from collections.abc import Iterable, Mapping
from typing import NamedTuple

from hexapod.plan.outline import stream_of
from hexapod.plan.plan import Plan
from hexapod.plan.records import Task, TaskKind

THIRD_WORDS = {
    "not_begun": "not begun", "first": "first third", "second": "second third", "last": "last third", "done": "done",
}  # fmt: skip
THIRDS = tuple(THIRD_WORDS)


class LeafCounts(NamedTuple):
    """By project: how long its leaves that take time are together (minutes of work), how many these are, and which are
    milestones. Over all of them: priorities, how far they are (``THIRDS``), and streams."""

    length: dict[str, int]
    lasting: dict[str, int]
    milestones: dict[str, list[Task]]
    priorities: Counter[int]
    thirds: Counter[str]
    streams: Counter[str]

    def average(self, projects: Iterable[str]) -> float | None:
        """The mean duration of those leaves that take time."""
        some = list(projects)
        count = sum(self.lasting[p] for p in some)
        return sum(self.length[p] for p in some) / count if count else None


def leaf_counts(plan: Plan, leaves: Mapping[str, list[Task]]) -> LeafCounts:
    """Of the leaves of each project."""
    found = LeafCounts({}, {}, {}, Counter(), Counter(), Counter())
    streams: dict[str, str] = {}  # those below one summary are, but for their own ones, in the same
    for project, tasks in leaves.items():
        minutes = [task.minutes for task in tasks]
        found.length[project] = sum(minutes)
        found.lasting[project] = sum(map(bool, minutes))
        found.milestones[project] = [
            task for task, length in zip(tasks, minutes, strict=True)
            if (not length and task.kind is TaskKind.TASK) or task.kind is TaskKind.MILESTONE
        ]  # fmt: skip
        found.priorities.update([task.priority for task in tasks])
        found.thirds.update([third_of(task) for task in tasks])
        found.streams.update([task.stream or _stream_above(plan, task, streams) for task in tasks])
    return found


def _stream_above(plan: Plan, task: Task, known: dict[str, str]) -> str:
    above = task.parent
    if above is None:
        return task.name
    stream = known.get(above)
    if stream is None:
        stream = known[above] = stream_of(plan, above)
    return stream


def third_of(task: Task) -> str:
    """How far a leaf is: not begun, in its first, second or last third, or done."""
    if task.is_done:
        return "done"
    if task.actual_start is None and not task.percent:
        return "not_begun"
    return THIRDS[1 + min(2, int(task.percent * 3 // 100))]
