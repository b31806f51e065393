"""Views of the projects: which of them, in what order, in which groups and with which columns, kept under a name."""

from __future__ import annotations

from collections.abc import Iterable
from typing import Any

import msgspec
from msgspec import Struct

NEWEST = 1  # the form of a kept view


class PortfolioView(Struct, frozen=True, omit_defaults=True):
    """``only``, ``group_by``, ``sort_by``, ``tasks`` and ``columns`` are names of what the list of projects offers;
    those that it does not know are passed over. ``text`` is a word or a question."""

    name: str = ""
    only: str = "all"
    text: str = ""
    group_by: str = "department"
    sort_by: str = "state"
    tasks: str = "none"
    columns: tuple[str, ...] = ()


def read_portfolio_views(kept: Iterable[tuple[str, str]]) -> list[PortfolioView]:
    """Those of (name, JSON) that can be read; one of a newer form stays where it is and is not offered."""
    found = []
    for name, shows in kept:
        try:
            entry = msgspec.json.decode(shows, type=dict[str, Any])
            if entry.pop("form", NEWEST) == NEWEST:
                found.append(msgspec.convert({**entry, "name": name}, PortfolioView, strict=True))
        except msgspec.MsgspecError:
            continue
    return found


def kept_portfolio_form(view: PortfolioView) -> str:
    """What a view shows as JSON, without its name."""
    found: dict[str, Any] = msgspec.to_builtins(view)
    found.pop("name", None)
    return msgspec.json.encode({**found, "form": NEWEST}).decode()
