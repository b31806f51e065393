"""What a check of soundness is: what it looks at, and what it found."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from dataclasses import dataclass
from typing import Any

from hexapod.plan.plan import Plan
from hexapod.plan.records import LinkKey, Project, Task
from hexapod.schedule.schedule import Schedule


@dataclass(frozen=True)
class Finding:
    """The outcome of one check. ``out_of`` is how many tasks or links were looked at.

    ``figure`` is what a check that is no count comes to, such as an index of 0.94; "" for all others.
    """

    check: str
    title: str
    why: str
    source: str
    threshold: str
    passed: bool
    out_of: int
    tasks: tuple[str, ...] = ()
    links: tuple[LinkKey, ...] = ()
    figure: str = ""

    @property
    def count(self) -> int:
        return len(self.links) or len(self.tasks)

    @property
    def outcome(self) -> str:
        return self.figure or f"{self.count} of {self.out_of}"


@dataclass(frozen=True)
class Ground:
    plan: Plan
    schedule: Schedule
    tasks: list[Task]  # leaves that are worked, milestones among them
    links: list[LinkKey]
    projects: list[Project]

    def slot(self, task: Task) -> int:
        return self.schedule.slots[task.id]

    def links_of(self, task: Task) -> tuple[list[LinkKey], list[LinkKey]]:
        """Links into and out of a task or a summary above it."""
        into: list[LinkKey] = []
        out: list[LinkKey] = []
        for held in (task.id, *self.plan.ancestors(task.id)):
            for key in self.plan.links_at.get(held, ()):
                (into if key[1] == held else out).append(key)
        return into, out


@dataclass(frozen=True)
class Check:
    """``find`` yields ids of tasks, or keys of links; at most ``allowed`` of them, as a part of all, may be found, or
    as ``passes`` says of how many there are."""

    id: str
    title: str
    why: str
    source: str
    find: Callable[[Ground], Iterator[Any]]
    allowed: float = 0.0
    of_links: bool = False
    threshold: str = ""
    figure: Callable[[Ground], str] = lambda _: ""
    passes: Callable[[Ground, int], bool] | None = None
