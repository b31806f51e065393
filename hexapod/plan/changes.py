"""A difference is a thing: which records of one plan are not those of another.

Computed once and used by all that compares: what is written to disk, the history, what the schedule
and the views bring up to date.
"""

from __future__ import annotations

from collections.abc import Iterator
from typing import TYPE_CHECKING, Any

from hexapod.plan.kinds import KINDS, Pairs
from hexapod.plan.records import (
    Record,
)

if TYPE_CHECKING:
    from hexapod.plan.plan import Draft, Plan


class Changes(Pairs, frozen=True, omit_defaults=True):
    """Per kind the pairs (before, after); None before is an added record, None after a removed one."""

    def __bool__(self) -> bool:
        return any(getattr(self, kind) for kind in KINDS)

    def pairs(self) -> Iterator[tuple[str, Any, Any]]:
        """Every change as (kind, before, after)."""
        for kind in KINDS:
            for before, after in getattr(self, kind):
                yield kind, before, after

    def then(self, later: Changes) -> Changes:
        """Both as one: from before this to after the later one."""
        found: dict[str, tuple[Any, ...]] = {}
        for kind in KINDS:
            pairs = {_pair_key(pair): pair for pair in getattr(self, kind)}
            for before, after in getattr(later, kind):
                key = _pair_key((before, after))
                pairs[key] = (pairs[key][0] if key in pairs else before, after)
            found[kind] = tuple(pair for pair in pairs.values() if pair[0] != pair[1])
        return Changes(**found)

    def inverse(self) -> Changes:
        """What leads back."""
        return Changes(**{kind: tuple((after, before) for before, after in getattr(self, kind)) for kind in KINDS})

    def applied_to(self, plan: Plan) -> Plan:
        """The plan with each record as it is after."""
        draft = plan.draft()
        self.put_into(draft)
        return draft.finish()[0]

    def put_into(self, draft: Draft) -> None:
        for kind, before, after in self.pairs():
            if after is not None:
                draft.put(after)
            else:
                draft.remove(kind, before.key)


def diff(a: Plan, b: Plan) -> Changes:
    """What changes from ``a`` to ``b``, by identity first, so that shared records cost little."""
    found: dict[str, tuple[Any, ...]] = {}
    for kind in KINDS:
        old, new = getattr(a, kind), getattr(b, kind)
        if old is new:
            continue
        pairs = [
            (old.get(key), record)
            for key, record in new.items()
            if old.get(key) is not record and old.get(key) != record
        ]
        pairs += [(record, None) for key, record in old.items() if key not in new]
        found[kind] = tuple(sorted(pairs, key=_pair_key))
    return Changes(**found)


def _pair_key(pair: tuple[Record | None, Record | None]) -> Any:
    record = pair[0] if pair[1] is None else pair[1]
    return record.key  # type: ignore[union-attr]
