"""An expression cut into its words. Names may have spaces: the longest one that is known counts."""

from __future__ import annotations

import re
from collections.abc import Collection
from typing import NamedTuple

from hexapod.errors import BadText

LONGEST = 2000  # characters of an expression

NUMBER, LENGTH, DATE, TEXT, NAME, WORD, SIGN, END = (
    "number", "length", "date", "text", "name", "word", "sign", "end",
)  # fmt: skip
WORDS = ("if", "then", "else", "and", "or", "not", "yes", "no", "empty", "is", "contains")
_SPACE = re.compile(r"\s+")
_DATE = re.compile(r"\d{4}-\d\d-\d\d(?:T\d\d:\d\d)?")
_NUMBER = re.compile(r"\d+(?:\.\d+)?")
_UNIT = re.compile(r"\s*(minutes?|min|hours?|h|days?|d|weeks?|w)\b", re.IGNORECASE)
_TEXT = re.compile(r'"([^"]*)"|“([^”]*)”')
_BRACKETS = re.compile(r"\[([^\]]+)\]")
_SIGN = re.compile(r"<=|>=|≤|≥|<>|≠|!=|[-+*/=<>(),&]|×|÷|−")
_WORD = re.compile(r"[^\W\d]\w*")
_SAME = {"≤": "<=", "≥": ">=", "<>": "≠", "!=": "≠", "×": "*", "÷": "/", "−": "-"}


class Token(NamedTuple):
    """``at`` is where it begins in the text."""

    kind: str
    text: str
    at: int


def tokens(text: str, names: Collection[str]) -> list[Token]:
    """The words of an expression, an ``END`` behind them. ``BadText`` names the first that is none."""
    if len(text) > LONGEST:
        raise BadText(f"An expression may have {LONGEST} characters.")
    known: dict[str, list[str]] = {}  # by their first letter, the longest first
    for name in sorted((name.lower() for name in names if name), key=len, reverse=True):
        known.setdefault(name[0], []).append(name)
    lower = text.lower()
    if len(lower) != len(text):  # letters that are two in small; then names are found as they are written
        lower = text
    found: list[Token] = []
    at = 0
    while at < len(text):
        if match := _SPACE.match(text, at):
            at = match.end()
            continue
        token, at = _next(text, lower, at, known)
        found.append(token)
    return [*found, Token(END, "", len(text))]


def _next(text: str, lower: str, at: int, known: dict[str, list[str]]) -> tuple[Token, int]:
    for name in known.get(lower[at], ()):
        end = at + len(name)
        if lower.startswith(name, at) and not (end < len(text) and (text[end].isalnum() or text[end] == "_")):
            return Token(NAME, name, at), end
    if match := _DATE.match(text, at):
        return Token(DATE, match[0], at), match.end()
    if match := _NUMBER.match(text, at):
        unit = _UNIT.match(text, match.end())
        if unit:
            return Token(LENGTH, f"{match[0]} {unit[1].lower()}", at), unit.end()
        return Token(NUMBER, match[0], at), match.end()
    if match := _TEXT.match(text, at):
        return Token(TEXT, match[1] if match[1] is not None else match[2], at), match.end()
    if match := _BRACKETS.match(text, at):
        return Token(NAME, match[1].strip().lower(), at), match.end()
    if match := _SIGN.match(text, at):
        return Token(SIGN, _SAME.get(match[0], match[0]), at), match.end()
    if match := _WORD.match(text, at):
        return Token(WORD, match[0].lower(), at), match.end()
    raise BadText(f"“{text[at : at + 12]}” cannot stand in an expression.", at)
