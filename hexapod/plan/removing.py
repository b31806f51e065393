"""What becomes of money, budgets, risks and approvals that were about rows which are taken out."""

from __future__ import annotations

from typing import Any, Protocol

from msgspec.structs import replace

from hexapod.plan.risks import without_tasks


class Draft(Protocol):
    """What of a draft is needed here."""

    def keys(self, kind: str) -> list[Any]: ...
    def get(self, kind: str, key: Any) -> Any: ...
    def put(self, record: Any) -> None: ...
    def remove(self, kind: str, key: Any) -> None: ...


def let_go(draft: Draft, gone: frozenset[str] | set[str]) -> None:
    """Money stays with its project, and so do risks; budgets and approvals of the rows go with them."""
    for key in draft.keys("entries"):
        entry = draft.get("entries", key)
        if entry.task in gone:
            draft.put(replace(entry, task=None))
    for key in draft.keys("budgets"):
        if draft.get("budgets", key).task in gone:
            draft.remove("budgets", key)
    for key in draft.keys("approvals"):
        approval = draft.get("approvals", key)
        if approval.task in gone:
            draft.remove("approvals", key)
        elif approval.work in gone:  # and its deliverable with it
            draft.put(replace(approval, work=None, deliverable=None))
    for key in draft.keys("risks"):
        if not gone.isdisjoint(draft.get("risks", key).tasks):
            draft.put(without_tasks(draft.get("risks", key), gone))
