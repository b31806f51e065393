"""Rank keys: strings whose order is the order among siblings, so that an insert touches one record.

Method: David Greenspan, "Implementing Fractional Indexing" (2020), by the package of that name.
"""

from __future__ import annotations

from fractional_indexing import FIError, generate_n_keys_between

from hexapod.errors import EditRefused


def ranks_between(before: str | None, after: str | None, count: int) -> list[str]:
    """``count`` keys in order, all after ``before`` and before ``after`` (None: no bound)."""
    try:
        return generate_n_keys_between(before, after, n=count)
    except FIError as error:
        raise EditRefused(f"Something cannot be put here: the file’s order is damaged ({error}).") from None
