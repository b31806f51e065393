"""An edit: its name in words, and a function that changes a draft."""

from __future__ import annotations

import contextlib
import secrets
from collections.abc import Callable, Iterable
from dataclasses import dataclass
from typing import Any

from msgspec.structs import replace

from hexapod.plan.changes import diff
from hexapod.plan.kinds import KIND_OF, KINDS
from hexapod.plan.plan import Draft, Plan
from hexapod.plan.records import Record
from hexapod.plan.uncollected import uncollected

MANY = 5000  # records of one edit


@dataclass(frozen=True)
class Edit:
    """``words`` is what the history and the undo command call it, such as ``Rename “Survey”``.

    From an edit that is ``settled`` nothing follows by the rules, such as a gap that is kept: all of it was done when
    the plan that it leads to was made.
    """

    words: str
    change: Callable[[Draft], None]
    settled: bool = False

    def applied_to(self, plan: Plan) -> Plan:
        """The next plan."""
        draft = plan.draft()
        self.change(draft)
        return draft.finish()[0]

    def named(self, words: str) -> Edit:
        """The same under other words."""
        return Edit(words, self.change, self.settled)


def saving(plan: Plan, record: Record, called: str) -> Edit:
    """Add a record, or change the one with its key. ``called`` says which: ``the stage “Glazed”``."""
    is_there = record.key in getattr(plan, KIND_OF[type(record)])  # type: ignore[attr-defined]
    return Edit(f"{'Change' if is_there else 'Add'} {called}", lambda draft: draft.put(record))


def removing(words: str, kind: str, keys: Iterable[Any]) -> Edit:
    """Take records of one kind out, and nothing with them."""
    gone = tuple(keys)

    def change(draft: Draft) -> None:
        for key in gone:
            draft.remove(kind, key)

    return Edit(words, change)


def together(words: str, edits: list[Edit]) -> Edit:
    """Several edits as one, undone as one."""

    def change(draft: Draft) -> None:
        for edit in edits:
            edit.change(draft)

    return Edit(words, change)


def in_steps(words: str, steps: list[Callable[[Plan], Edit]]) -> Edit:
    """Edits of which each is made from the plan that the ones before it leave, undone as one."""

    def change(draft: Draft) -> None:
        plan = draft.before
        for step in steps:
            plan = step(plan).applied_to(plan)
        to_plan(words, draft.before, plan).change(draft)

    return Edit(words, change)


def to_plan(words: str, before: Plan, after: Plan) -> Edit:
    """What leads from one plan to another."""
    changes = diff(before, after)
    # In the order of the outline each row goes behind its last sibling, and its place need not be looked for.
    in_order = sorted(changes.tasks, key=lambda pair: "" if pair[1] is None else pair[1].rank)
    changes = replace(changes, tasks=tuple(in_order))
    many = sum(len(getattr(changes, kind)) for kind in KINDS) > MANY

    def change(draft: Draft) -> None:
        if draft.become(before, after, changes):
            return
        with uncollected() if many else contextlib.nullcontext():
            for kind, old, new in changes.pairs():
                if new is not None:
                    draft.put(new)
                else:
                    draft.remove(kind, old.key)

    return Edit(words, change)


def new_id() -> str:
    """An id that no other record has."""
    return secrets.token_hex(6)


def quoted(names: list[str], noun: str = "rows") -> str:
    """One name in quotes, or how many."""
    return f"“{names[0]}”" if len(names) == 1 else f"{len(names)} {noun}"
