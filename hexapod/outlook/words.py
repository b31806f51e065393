"""Chances in words."""

from __future__ import annotations

NEVER = 0.005  # what happens less often is as good as never


def share_words(share: float) -> str:
    """``8 in 10``; in per cent where that is not a number of tenths."""
    tenths = round(share * 10, 6)
    return f"{tenths:.0f} in 10" if tenths == int(tenths) else f"{100 * share:g} %"


def chance_words(chance: float) -> str:
    """``3 times in 10``; counted in a hundred where tenths would round too much away."""
    if chance >= 1 - NEVER:
        return "as good as always"
    if chance < NEVER:
        return "as good as never"
    hundredths = round(100 * chance)
    if 10 <= hundredths <= 90:
        return _times(round(10 * chance), 10)
    return _times(hundredths, 100)


def _times(count: int, of: int) -> str:
    return f"{count} {'time' if count == 1 else 'times'} in {of}"
