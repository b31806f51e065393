"""Counts in words."""

from __future__ import annotations


def count_of(number: int, noun: str) -> str:
    """``1 week``, ``2 weeks``, ``1,200 tasks``."""
    return f"{number:,} {noun}{'' if number == 1 else 's'}"
