"""Taking over what a scenario does otherwise: all of it, or what some of its edits are about with what that needs."""

from __future__ import annotations

from collections.abc import Iterable, Iterator
from dataclasses import dataclass
from typing import Any

from msgspec.structs import replace

from hexapod.errors import EditRefused
from hexapod.outlook.merge import NOT_MERGED, LeftOut, fields_of, name_of, value_of
from hexapod.plan.changes import Changes, diff
from hexapod.plan.kinds import KINDS
from hexapod.plan.plan import Plan
from hexapod.plan.records import Record
from hexapod.plan.validity import InvalidRecord, check

Touched = frozenset[tuple[str, Any, str]]  # kind, key and field; "" is the record as a whole


@dataclass(frozen=True)
class Taken:
    """``plan`` is the plan with what is taken over; ``needed`` names what came with it because the rest needs it."""

    plan: Plan
    needed: tuple[LeftOut, ...]


def touched_by(changes: Changes) -> Touched:
    """The fields that an edit is about."""
    found = set()
    for kind, before, after in changes.pairs():
        record = after or before
        if before is None or after is None:
            found.add((kind, record.key, ""))
            continue
        for field, names in fields_of(kind):
            if value_of(before, names) != value_of(after, names):
                found.add((kind, record.key, field))
    return frozenset(found)


def taken(plan: Plan, scenario: Plan, chosen: Iterable[Touched] | None = None) -> Taken:
    """The plan with all that a scenario, which stands on it, does otherwise, or with what is ``chosen``.

    Where a field was changed by several edits it gets the value that it has in the scenario at last. ``EditRefused``
    with the sentence of the rule that the chosen ones break, where nothing else in the scenario mends it.
    """
    own = {(kind, (after or before).key): (before, after) for kind, before, after in diff(plan, scenario).pairs()
           if kind not in NOT_MERGED}  # fmt: skip
    wanted = None if chosen is None else frozenset().union(*chosen)
    records = {
        place: after if wanted is None else _as_chosen(place, before, after, wanted)
        for place, (before, after) in own.items()
        if wanted is None or _is_chosen(place, before, after, wanted)
    }
    needed: list[LeftOut] = []
    while True:
        found = _with(plan, records)
        changes = diff(plan, found)
        try:
            check(found, changes)
            return Taken(found, tuple(needed))
        except InvalidRecord as error:
            more = [p for p in _around(plan, scenario, error.kind, error.key) if p in own and _is_more(records, p, own)]
            if not more:
                raise EditRefused(f"That alone would break a rule of the plan: {error}") from None
            for place in more:
                records[place] = own[place][1]
                record = own[place][1] or own[place][0]
                needed.append(LeftOut(*place, name_of(scenario, place[0], record), str(error)))


def _is_chosen(place: tuple[str, Any], before: Any, after: Any, wanted: Touched) -> bool:
    names = {field for kind, key, field in wanted if (kind, key) == place}
    if not names:
        return False
    return before is None or after is None or _as_chosen(place, before, after, wanted) != before


def _as_chosen(place: tuple[str, Any], before: Any, after: Any, wanted: Touched) -> Record | None:
    if before is None or after is None:
        return after
    found = before
    for field, names in fields_of(place[0]):
        if (*place, field) in wanted or (*place, "") in wanted:
            found = replace(found, **{name: getattr(after, name) for name in names})
    return found


def _with(plan: Plan, records: dict[tuple[str, Any], Record | None]) -> Plan:
    draft = plan.draft()
    for (kind, key), record in records.items():
        if record is not None:
            draft.put(record)
        elif key in getattr(plan, kind):
            draft.remove(kind, key)
    return draft.finish()[0]


def _is_more(records: dict[tuple[str, Any], Record | None], place: tuple[str, Any], own: dict[Any, Any]) -> bool:
    return place not in records or records[place] != own[place][1]


def _around(plan: Plan, scenario: Plan, kind: str, key: Any) -> Iterator[tuple[str, Any]]:
    """A record, what it refers to on either side, and what refers to it on either side."""
    yield kind, key
    for side in (plan, scenario):
        record = getattr(side, kind).get(key)
        for reference in KINDS[kind].references:
            named = getattr(record, reference.field, None)
            for each in named if isinstance(named, tuple) else (named,):
                yield reference.kind, each
        for other in KINDS.values():
            for field in (r.field for r in other.references if r.kind == kind):
                for record in getattr(side, other.name).values():
                    named = getattr(record, field)
                    if key == named or (isinstance(named, tuple) and key in named):
                        yield other.name, record.key
