"""Counts over the leaves of projects, all of them in one walk: 12,000 leaves are walked at every edit."""

from __future__ import annotations

from collections import Counter
from collections.abc import Iterable, Mapping
from typing import NamedTuple

import numpy as np

from hexapod.plan.outline import stream_of
from hexapod.plan.plan import Plan
from hexapod.plan.records import Task, TaskKind
from hexapod.schedule.arrays import TaskArrays
from hexapod.schedule.codes import DONE, NOT_BEGUN
from hexapod.schedule.columns import MILLION
from hexapod.schedule.schedule import Schedule
from hexapod.worktime.calendars import Ints

THIRD_WORDS = {
    "not_begun": "not begun", "first": "first third", "second": "second third", "last": "last third", "done": "done",
}  # fmt: skip
THIRDS = tuple(THIRD_WORDS)
NOTHING = np.zeros(0, dtype=np.int64)


class LeafCounts(NamedTuple):
    """By project: how long its leaves that take time are together (minutes of work), how many these are, and which are
    milestones, and the stream of most of them. Over all of them: priorities, how far they are (``THIRDS``), and
    streams."""

    length: dict[str, int]
    lasting: dict[str, int]
    milestones: dict[str, list[Task]]
    stream: dict[str, str]
    priorities: Counter[int]
    thirds: Counter[str]
    streams: Counter[str]

    def average(self, projects: Iterable[str]) -> float | None:
        """The mean duration of those leaves that take time."""
        some = list(projects)
        count = sum(self.lasting[p] for p in some)
        return sum(self.length[p] for p in some) / count if count else None


def leaf_counts(schedule: Schedule, leaves: Mapping[str, list[Task]], slots: Mapping[str, Ints]) -> LeafCounts:
    """Of the leaves of each project, and their slots in any order."""
    plan, columns = schedule.plan, schedule.network.tasks
    found = LeafCounts({}, {}, {}, {}, Counter(), Counter(), Counter())
    streams: dict[str, str] = {}  # those below one summary are, but for their own ones, in the same
    for project, tasks in leaves.items():
        minutes = columns.duration[slots[project]]
        found.length[project] = int(minutes.sum())
        found.lasting[project] = int((minutes > 0).sum())
        found.milestones[project] = [
            task for task in tasks
            if task.kind is TaskKind.MILESTONE or (task.duration == 0 and task.kind is TaskKind.TASK)
        ]  # fmt: skip
        found.priorities.update([task.priority for task in tasks])
        mine = Counter([t.stream or streams.get(t.parent or "") or _stream_above(plan, t, streams) for t in tasks])
        found.stream[project] = min(mine, key=lambda name: (-mine[name], name), default="")
        found.streams.update(mine)
    found.thirds.update(_thirds(columns, np.concatenate([slots[p] for p in leaves] or [NOTHING])))
    return found


def _thirds(columns: TaskArrays, slots: Ints) -> dict[str, int]:
    """How many leaves are how far, as ``third_of`` says it of one."""
    percent, progress = columns.percent[slots], columns.progress[slots]
    third = 1 + np.minimum(2, percent * 3 // (100 * MILLION))
    third[(progress == NOT_BEGUN) & (percent == 0)] = 0
    third[progress == DONE] = len(THIRDS) - 1
    return dict(zip(THIRDS, np.bincount(third, minlength=len(THIRDS)).tolist(), strict=True))


def _stream_above(plan: Plan, task: Task, known: dict[str, str]) -> str:
    above = task.parent
    if above is None:
        return task.name
    stream = known[above] = stream_of(plan, above)
    return stream


def third_of(task: Task) -> str:
    """How far a leaf is: not begun, in its first, second or last third, or done."""
    if task.is_done:
        return "done"
    if task.actual_start is None and not task.percent:
        return "not_begun"
    return THIRDS[1 + min(2, int(task.percent * 3 // 100))]
