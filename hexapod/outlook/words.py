"""Chances in words."""

from __future__ import annotations

NEVER = 0.005  # what happens less often is as good as never


def share_words(share: float) -> str:
    """``8 in 10``; in per cent where that is not a number of tenths."""
    tenths = round(share * 10, 6)
    return f"{tenths:.0f} in 10" if tenths == int(tenths) else f"{100 * share:g} %"


def chance_words(chance: float) -> str:
    """``3 times in 10``; small and great ones as they are."""
    if chance >= 1 - NEVER:
        return "as good as always"
    if chance < NEVER:
        return "as good as never"
    if chance < 0.05 or chance > 0.95:
        return f"{100 * chance:.0f} times in 100"
    tenths = round(10 * chance)
    return f"{tenths} {'time' if tenths == 1 else 'times'} in 10"
