"""The shape of the network: nodes, arcs and an order in which every arc points onward.

Node i is task i: a leaf's work, or a summary's *gate*, which holds back all that lies below it. Node
n + i is the *close* of summary i, from which its links lead on: its earliest start and latest finish.
Gate and close nodes have arcs only where a summary is linked. Loops are found here.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace

import numpy as np

from hexapod.errors import EditRefused
from hexapod.plan.plan import Plan
from hexapod.plan.records import Gap, Link
from hexapod.schedule.arrays import GAPS, LinkArrays, Slots, TaskArrays
from hexapod.schedule.codes import CLOSE, FF, GATE, WARN
from hexapod.schedule.order import (
    arcs_merged,
    bottom_up_order,
    carried,
    compressed_rows,
    gate_and_close_arcs,
    topological_order,
)
from hexapod.worktime.calendars import Ints


class LoopFound(EditRefused):
    """Links that lead back to where they began; ``tasks`` are the ids on the loop, in order."""

    def __init__(self, sentence: str, tasks: list[str]) -> None:
        super().__init__(sentence)
        self.tasks = tasks


@dataclass(frozen=True)
class Structure:
    """Arcs sorted by the node they lead to: those into node j are ``into[j]`` up to ``into[j + 1]``.

    Links that only warn are of kind ``WARN``: they take part in the order, and hold nothing.
    ``link`` is the link slot behind an arc, -1 for a tie between a summary and what lies below it. ``head`` is the node
    that an arc leads to; those out of node j are the arcs ``out[out_into[j] : out_into[j + 1]]``.
    """

    leaf: Ints
    into: Ints
    source: Ints
    kind: Ints
    link: Ints
    order: Ints
    bottom_up: Ints  # summaries and leaves, children before parents
    head: Ints
    out_into: Ints
    out: Ints

    @staticmethod
    def of(tasks: TaskArrays, links: LinkArrays, slots: Slots, plan: Plan) -> Structure:
        n = len(tasks.alive)
        bottom_up, leaf = bottom_up_order(tasks.alive, tasks.parent)
        slot = np.flatnonzero(links.alive)
        tail, head, kind = links.predecessor[slot], links.successor[slot], links.type[slot]
        ends_summary = (leaf[head] == 0) & (kind >= FF)
        if ends_summary.any():
            extra = [
                (tail[i], inner, kind[i], slot[i])
                for i in np.flatnonzero(ends_summary)
                for inner in _last_leaves(plan, slots, int(head[i]))
            ]
            more = np.array(extra, dtype=np.int64).reshape(-1, 4).T
            keep = ~ends_summary
            tail, head, kind, slot = (
                np.concatenate((a[keep], b)) for a, b in zip((tail, head, kind, slot), more, strict=True)
            )
        gate_head, close_tail = gate_and_close_arcs(tasks.alive, tasks.parent, leaf, tail, head, bottom_up)
        tail = np.where(leaf[tail] == 1, tail, tail + n)
        tie_tail = np.concatenate(
            (tasks.parent[gate_head], np.where(leaf[close_tail] == 1, close_tail, close_tail + n))
        )
        tie_head = np.concatenate((gate_head, tasks.parent[close_tail] + n))
        ties = len(tie_tail)
        tie_kind = np.concatenate((np.full(len(gate_head), GATE), np.full(len(close_tail), CLOSE)))
        tail, head = np.concatenate((tail, tie_tail)), np.concatenate((head, tie_head))
        kind = np.concatenate((np.where(links.gap[slot] == GAPS[Gap.WARN], WARN, kind), tie_kind))
        slot = np.concatenate((slot, np.full(ties, -1)))
        into, by_head = compressed_rows(head, 2 * n)
        source = tail[by_head]
        order = topological_order(into, source, tasks.alive, leaf)
        if len(order) and order[-1] < 0:
            raise _loop(into, source, order, slots, plan, n)
        out_into, out = compressed_rows(source, 2 * n)
        kind, slot, head = kind[by_head], slot[by_head], head[by_head]
        return Structure(leaf, into, source, kind, slot, order, bottom_up, head, out_into, out)

    def with_rows(self, came: Sequence[int], went: Sequence[int]) -> Structure:
        """The same with leaves that no arc leads to or from, and without others."""
        leaf, order, bottom_up = self.leaf.copy(), self.order, self.bottom_up
        leaf[list(came)], leaf[list(went)] = 1, 0
        if went:
            order, bottom_up = order[~np.isin(order, went)], bottom_up[~np.isin(bottom_up, went)]
        new = np.array(came, dtype=np.int64)
        return replace(self, leaf=leaf, order=np.concatenate((order, new)), bottom_up=np.concatenate((new, bottom_up)))

    def with_links(self, removed: Ints, added: Ints, links: LinkArrays) -> tuple[Structure, Ints] | None:
        """The same without the arcs of some links, and with those of others: by slot, all from leaf to leaf.

        With it, by arc, which one it was here, -1 for a new one. None if the order of the nodes does not allow for it.
        """
        tail, head, kind = links.predecessor[added], links.successor[added], links.type[added]
        place = np.empty(len(self.into) - 1, dtype=np.int64)
        place[self.order] = np.arange(len(self.order))
        if (place[tail] > place[head]).any():
            return None
        gone = np.zeros(len(self.source), dtype=np.int64)
        for node in set(links.successor[removed].tolist()):
            here = slice(self.into[node], self.into[node + 1])
            gone[here] = np.isin(self.link[here], removed)
        by_head = np.argsort(head, kind="stable")
        into, was = arcs_merged(self.into, gone, head[by_head])
        new = np.flatnonzero(was < 0)
        source, kinds, link, heads = (carried(c, was) for c in (self.source, self.kind, self.link, self.head))
        for column, values in ((source, tail), (kinds, kind), (link, added), (heads, head)):
            column[new] = values[by_head]
        out_into, out = compressed_rows(source, len(into) - 1)
        made = replace(self, into=into, source=source, kind=kinds, link=link, head=heads, out_into=out_into, out=out)
        return made, was


def _last_leaves(plan: Plan, slots: Slots, summary: int) -> list[int]:
    """Leaves of a branch that no other task in it waits for: what holds its finish holds theirs.

    In a branch of two phases, the second after the first, they are the last of the second.
    """
    top = slots.tasks[summary]
    branch = set(plan.branch(top)) - {top}
    waited_for = {t for t in branch if any(_holds_within(plan, link, branch) for link in plan.links_from(t))}
    for task_id in plan.branch(top):  # what waits for a summary waits for all below it
        if plan.tasks[task_id].parent in waited_for:
            waited_for.add(task_id)
    return sorted(slots.of_task[t] for t in branch - waited_for if not plan.is_summary(t))


def _holds_within(plan: Plan, link: Link, branch: set[str]) -> bool:
    return link.successor in branch and plan.gap_of(link) is not Gap.WARN


def _loop(into: Ints, source: Ints, order: Ints, slots: Slots, plan: Plan, n: int) -> LoopFound:
    """Walk back from a node that could not be ordered until one comes again."""
    ordered = set(order[order >= 0].tolist())
    waiting = [j for j in range(2 * n) if j not in ordered and any(
        int(s) not in ordered for s in source[into[j] : into[j + 1]]
    )]  # fmt: skip
    node, path = waiting[0], []
    while node not in path:
        path.append(node)
        node = next(int(s) for s in source[into[node] : into[node + 1]] if int(s) not in ordered)
    nodes = list(reversed(path[path.index(node) :]))
    tasks: list[str] = []
    for task_id in (slots.tasks[j % n] for j in nodes):
        if not tasks or tasks[-1] != task_id:
            tasks.append(task_id)
    if len(tasks) > 1 and tasks[0] == tasks[-1]:
        tasks.pop()
    first = tasks.index(min(tasks, key=lambda t: (plan.tasks[t].rank, t)))
    tasks = tasks[first:] + tasks[:first]
    names = [f"“{plan.tasks[t].name}”" for t in [*tasks, tasks[0]]]
    shown = names if len(names) <= 9 else [*names[:6], f"{len(names) - 8} more", *names[-2:]]
    return LoopFound(f"These tasks would wait for each other in a loop: {' → '.join(shown)}.", tasks)
