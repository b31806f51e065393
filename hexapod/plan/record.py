"""What all records of a plan are."""

from __future__ import annotations

from msgspec import Struct


class Record(Struct, frozen=True, omit_defaults=True):
    """Base of the records: small, frozen, and exactly what is stored."""
