"""Priorities: numbers from 1, first, to 9, last, as in RFC 5545 (section 3.8.1.9), and the words for them."""

from __future__ import annotations

from hexapod.errors import BadText

FIRST, USUAL, LAST = 1, 5, 9
WORDS = {
    1: "first of all", 2: "very urgent", 3: "urgent", 4: "rather urgent", 5: "as usual",
    6: "can wait a little", 7: "can wait", 8: "can wait long", 9: "last of all",
}  # fmt: skip


def priority_words(priority: int) -> str:
    return WORDS[priority]


def read_priority(text: str) -> int:
    """A priority as it is typed: a number from 1 to 9, or the words or their beginning. ``BadText`` if neither."""
    said = " ".join(text.casefold().split())
    if len(said) == 1 and said in "123456789":
        return int(said)
    found = [number for number, words in WORDS.items() if said and words.startswith(said)]
    exact = [number for number in found if WORDS[number] == said]
    if len(exact or found) == 1:
        return (exact or found)[0]
    raise BadText(f"“{text[:20]}” is no priority: a number from 1, first of all, to 9, last of all.")
