"""A plan while the rest of it is being read."""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from typing import Any

from hexapod.errors import EditRefused
from hexapod.plan.lookups import Place, by_kind, outline_lookups, related_lookups
from hexapod.plan.plan import PARTS, Plan
from hexapod.plan.records import Record


class PartialPlan(Plan):
    """A plan of which some kinds have not been read yet; ``NotReadYet`` for who asks for them."""

    __slots__ = ()
    is_whole = False

    def __init__(self, records: Iterable[Record], children: Mapping[Place, tuple[str, ...]]) -> None:
        for name, found in outline_lookups(by_kind(records), children).items():
            object.__setattr__(self, name, found)

    def completed(self, rest: Iterable[Record]) -> Plan:
        """The plan with what was left out, ``rest``."""
        found = related_lookups(by_kind(rest))
        return Plan(**{name: getattr(self, name) for name in PARTS if name not in found}, **found)

    def __getattr__(self, name: str) -> Any:
        raise NotReadYet if name in PARTS else AttributeError(name)


class NotReadYet(EditRefused):
    """Something was asked for that is being read just now."""

    def __init__(self) -> None:
        super().__init__("The links are being read just now. Try again in a moment.")
