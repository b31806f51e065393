"""Rank keys: strings whose order is the order among siblings, so that an insert touches one record.

Method: David Greenspan, "Implementing Fractional Indexing" (2020), by the package of that name.
"""

from __future__ import annotations

from collections.abc import Sequence

from fractional_indexing import FIError, generate_n_keys_between

from hexapod.errors import EditRefused


def ranks_between(before: str | None, after: str | None, count: int) -> list[str]:
    """``count`` keys in order, all after ``before`` and before ``after`` (None: no bound)."""
    try:
        return generate_n_keys_between(before, after, n=count)
    except FIError as error:
        raise EditRefused(f"Something cannot be put here: the file’s order is damaged ({error}).") from None


def rank_moved(ranks: Sequence[str], at: int, by: int) -> str:
    """The key with which one of some, in order, changes places with the one before (-1) or behind it (1)."""
    others = [rank for i, rank in enumerate(ranks) if i != at]
    to = at + by
    return ranks_between(others[to - 1] if to else None, others[to] if to < len(others) else None, 1)[0]
