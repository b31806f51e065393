"""The network that is drawn: tasks down to an outline level as boxes, and the links between them."""

from __future__ import annotations

from collections.abc import Collection
from dataclasses import dataclass

from hexapod.plan.plan import Plan
from hexapod.plan.records import LinkKey


@dataclass(frozen=True)
class Graph:
    """``arcs`` are positions in ``tasks``, tail and head; ``links`` the links that each arc stands for."""

    tasks: tuple[str, ...]
    arcs: tuple[tuple[int, int], ...]
    links: tuple[tuple[LinkKey, ...], ...]


def graph_of(plan: Plan, tasks: Collection[str], level: int | None = None) -> Graph:
    """Boxes for ``tasks``; what lies deeper than ``level`` (1 is the top row) is in the box of its summary there.

    Summaries whose parts are shown have no box; their links are those of the parts that they hold or gather.
    """
    box_of = {t: _box(plan, t, level) for t in tasks}
    shown = tuple(dict.fromkeys(b for t, b in box_of.items() if not plan.is_summary(b) or _is_folded(plan, b, level)))
    index = {t: i for i, t in enumerate(shown)}
    arcs: dict[tuple[int, int], list[LinkKey]] = {}
    for task in tasks:
        for key in plan.links_at.get(task, ()):
            if key[1] != task:
                continue
            for tail in _boxes(plan, key[0], level, index, last=True):
                for head in _boxes(plan, key[1], level, index, last=False):
                    if tail != head:
                        arcs.setdefault((tail, head), []).append(key)
    return Graph(shown, tuple(arcs), tuple(tuple(keys) for keys in arcs.values()))


def _level_of(plan: Plan, task: str) -> int:
    return len(plan.ancestors(task)) + 1


def _box(plan: Plan, task: str, level: int | None) -> str:
    line = [task, *plan.ancestors(task)]
    return task if level is None or len(line) <= level else line[len(line) - level]


def _is_folded(plan: Plan, task: str, level: int | None) -> bool:
    return level is not None and plan.is_summary(task) and _level_of(plan, task) >= level


def _boxes(plan: Plan, task: str, level: int | None, index: dict[str, int], *, last: bool) -> list[int]:
    """The boxes that an end of a link is at: of a summary whose parts are shown, its outermost parts."""
    own = _box(plan, task, level)
    if own in index:
        return [index[own]]
    branch = set(plan.branch(own))
    parts = [t for t in branch if t in index]
    inner = {
        key[0] if last else key[1]
        for t in branch
        for key in plan.links_at.get(t, ())
        if key[0] in branch and key[1] in branch
    }
    return [index[t] for t in sorted(parts) if t not in inner] or [index[t] for t in sorted(parts)]
