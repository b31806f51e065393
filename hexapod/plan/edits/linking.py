"""Edits of the links between tasks."""

from __future__ import annotations

import itertools
from collections.abc import Iterable, Sequence

from hexapod.errors import EditRefused
from hexapod.plan.edits.edit import Edit, quoted
from hexapod.plan.plan import Draft, Plan
from hexapod.plan.records import Link, LinkKey, LinkType
from hexapod.system.words import count_of


def link(plan: Plan, predecessor: str, successor: str, type: LinkType = LinkType.FS, lag: int = 0) -> Edit:
    """``successor`` waits for ``predecessor``; a link of that type between the two is replaced."""

    def change(draft: Draft) -> None:
        draft.put(Link(predecessor, successor, type, lag))

    return Edit(f"Link “{plan.task(successor).name}” after “{plan.task(predecessor).name}”", change)


def change_link(plan: Plan, key: LinkKey, link: Link) -> Edit:
    """A link becomes another between the same two tasks: of another type, lag or gap."""

    def change(draft: Draft) -> None:
        if key != link.key:
            draft.remove("links", key)
        draft.put(link)

    before, after = plan.task(link.predecessor).name, plan.task(link.successor).name
    return Edit(f"Change the link from “{before}” to “{after}”", change)


def set_links(plan: Plan, successor: str, links: Iterable[Link]) -> Edit:
    """What a task waits for becomes exactly this."""
    wanted = {link.key: link for link in links}

    def change(draft: Draft) -> None:
        for key in list(draft.links_at(successor)):
            if key[1] == successor and key not in wanted:
                draft.remove("links", key)
        for link in wanted.values():
            draft.put(link)

    return Edit(f"Set what “{plan.task(successor).name}” waits for", change)


def chain(plan: Plan, task_ids: Sequence[str]) -> Edit:
    """Each task waits for the one before it; summaries of the selection stay out of it."""
    tasks = [t for t in task_ids if not plan.is_summary(t)]
    if len(tasks) < 2:
        raise EditRefused("Select two or more tasks to link them in a chain.")

    def change(draft: Draft) -> None:
        for before, after in itertools.pairwise(tasks):
            if (before, after, LinkType.FS.value) not in draft.links_at(after):
                draft.put(Link(before, after))

    return Edit(f"Link {count_of(len(tasks), 'task')} in a chain", change)


def unlink(plan: Plan, keys: Sequence[LinkKey]) -> Edit:
    """These links go."""

    def change(draft: Draft) -> None:
        for key in keys:
            draft.remove("links", key)

    names = [f"{plan.task(a).name} to {plan.task(b).name}" for a, b, _ in keys]
    return Edit(f"Remove the link {quoted(names)}" if len(keys) == 1 else f"Remove {len(keys)} links", change)
