"""One line of text as a task: its name, and behind it, in any order, its length, links, people and dates.

``Book speakers 5d after 1.1 with RO by 12 dec``. The line is read from its end: as long as its last words say
something of the task they are taken, and what stands before them is the name. So words in the middle of a name stay.
Words that may be either, such as ``20 m`` or ``after lunch`` where a row is called Lunch, stay in the name unless the
reader of the line is told otherwise.
"""

from __future__ import annotations

import re
from dataclasses import dataclass, replace
from itertools import accumulate
from typing import Any

from msgspec.structs import replace as changed

from hexapod.lines import dates, links, people
from hexapod.lines.clauses import LIMITS, Clause, Date, Fields, Length, Links, Meaning, Moment, People, Question
from hexapod.lines.known import Known
from hexapod.lines.lengths import length_at_end
from hexapod.plan.outline import rows_of_text
from hexapod.plan.records import Limit

LONGEST = 500  # characters; more are a name
MOST = 12  # words such as "after" that are tried from the end
_WORDS = sorted({*dates.WORDS, *links.WORDS, "with", "by"}, key=len, reverse=True)
_WORD = re.compile(rf"(?:^|(?<=[\s,;:]))({'|'.join(_WORDS)})\s+", re.IGNORECASE)
_MAY_BEGIN = re.compile(rf"{_WORD.pattern}|\s\d[\d.,]*\s*[a-z]+\b|\(", re.IGNORECASE)
_BETWEEN = " \t,;:–-"
_LAST_NAMES = re.compile(r"(?:(,)\s*|\s)([A-Z]{2,4})$")


@dataclass(frozen=True)
class Line:
    """A line with what its end may say, from left to right."""

    text: str
    clauses: tuple[Clause, ...] = ()

    @property
    def usual(self) -> int:
        """Up to where it is a name, unless somebody says otherwise: before the last words that are sure."""
        at = len(self.text)
        for clause in reversed(self.clauses):
            if not clause.sure and not clause.question:
                break
            at = clause.start
        return at

    @property
    def fullest(self) -> int:
        """Up to where it is a name if all is taken that can be."""
        return self.clauses[0].start if self.clauses else len(self.text)

    @property
    def has_two_readings(self) -> bool:
        return any(not clause.sure for clause in self.clauses if clause.meaning)

    def way_after(self, name_to: int) -> int:
        """The next way to take it: as usual, then with all that can be taken, then as a name, then as usual again."""
        ways = list(dict.fromkeys([self.usual, self.fullest, len(self.text)]))
        at = ways.index(name_to) if name_to in ways else -1
        return ways[(at + 1) % len(ways)]

    def taken(self, name_to: int) -> tuple[Clause, ...]:
        return tuple(c for c in self.clauses if c.meaning and c.start >= name_to)

    def name(self, name_to: int) -> str:
        """The name, with what a question is asked about."""
        if not self.taken(name_to):
            return self.text.strip()
        asked = [self.text[c.start : c.end] for c in self.clauses if c.question and c.start >= name_to]
        return " ".join([self.short_name(name_to), *asked])

    def short_name(self, name_to: int) -> str:
        """The name without what a question is asked about."""
        left = next((c.start for c in self.clauses if c.start >= name_to), len(self.text))
        name = self.text[:left].rstrip(_BETWEEN).strip()
        return name[1:-1].strip() or name if is_quoted(name) else name

    def fields(self, name_to: int) -> Fields:
        """What is taken, as fields of the task, links and assignments whose own end is left empty."""
        found = Fields()
        said: dict[str, Any] = found.task
        for clause in self.taken(name_to):
            meaning = clause.meaning
            if isinstance(meaning, Length):
                said |= {"duration": meaning.minutes, "elapsed": meaning.elapsed}
            elif isinstance(meaning, Links):
                found.links += meaning.links
            elif isinstance(meaning, People):
                found.assignments += meaning.assignments
            elif isinstance(meaning, Date) and meaning.moment is Moment.BY:
                said["target"] = meaning.at
            elif isinstance(meaning, Date):
                said["limits"] = (*said.get("limits", ()), Limit(LIMITS[meaning.moment], meaning.at))
                if meaning.moment is Moment.ON:
                    said.setdefault("duration", 0)
        return found


def is_quoted(name: str) -> bool:
    """Whether the quotes around a name are one pair."""
    if len(name) > 2 and name[0] == name[-1] == '"':
        return '"' not in name[1:-1]
    if name[:1] != "“":
        return False
    depths = list(accumulate({"“": 1, "”": -1}.get(letter, 0) for letter in name))
    return len(name) > 2 and depths[-1] == 0 and min(depths[:-1]) > 0


def perhaps_called(text: str) -> str:
    """What a line may be called: its words before the first that may begin something else."""
    match = _MAY_BEGIN.search(text, 1)
    return (text[: match.start()].rstrip(_BETWEEN) if match else text) or text


def may_say_more(text: str) -> bool:
    """Whether some line of a text may say more than a name; for who has no time to read it."""
    return _MAY_BEGIN.search(text) is not None or _LAST_NAMES.search(text) is not None


def read_line(text: str, known: Known) -> Line:
    """What a line may say. Nothing is refused: what is not understood is the name.

    Quotes around all of it keep it a name; they go where it would have been more.
    """
    if len(text) > LONGEST:
        return Line(text)
    inner = text.strip()[1:-1]
    if is_quoted(text.strip()):
        is_plain = [row.name for row in rows_of_text(inner)] == [inner]  # without a number or a bullet in front
        return Line(text if is_plain and not _scan(inner, known, is_inside=False)[0] else inner)
    return Line(text, tuple(_scan(text, known, is_inside=False)[0]))


def _scan(text: str, known: Known, *, is_inside: bool) -> tuple[list[Clause], int]:
    """Clauses at the end of a text, and where what is not understood ends. Inside brackets names alone are people."""
    found: list[Clause] = []
    end = len(text.rstrip(" \t,;"))
    while end > 0:
        more = _at_end(text[:end], known, is_inside)
        if not more or (not is_inside and not text[: more[0].start].strip(_BETWEEN)):
            break
        slots = {c.slot for c in found if c.meaning}
        if any(c.slot in slots for c in more if c.meaning):
            merged = _as_lag(more[0], found) if len(more) == 1 else None
            if merged is None:
                break
            found = merged
        else:
            found = more + found
        end = len(text[: more[0].start].rstrip(_BETWEEN))
    return found, end


def _as_lag(length: Clause, found: list[Clause]) -> list[Clause] | None:
    """A second length: the one beside the links is their lag. ``3d after 1.1 2d``, or ``3d, 2d after 1.1``."""
    at = next((i for i, c in enumerate(found) if isinstance(c.meaning, Length)), None)
    if at is None or not isinstance(length.meaning, Length):
        return None
    for beside, which in ((at - 1, -1), (at + 1, 0)):
        if 0 <= beside < len(found) and found[beside].slot == "in":
            lag, waits = found[at], found[beside]
            assert isinstance(waits.meaning, Links) and isinstance(lag.meaning, Length)
            each = list(waits.meaning.links)
            if each[which].lag or each[which].lag_percent:
                continue
            each[which] = changed(each[which], lag=lag.meaning.minutes)
            both = replace(
                waits, start=min(lag.start, waits.start), end=max(lag.end, waits.end), meaning=Links(tuple(each))
            )
            rest = [c for c in found if c is not lag and c is not waits]
            return sorted([length, both, *rest], key=lambda c: c.start)
    return None


def _at_end(text: str, known: Known, is_inside: bool) -> list[Clause]:
    """What the last words of a text say: one clause, or those in brackets."""
    if text.endswith(")") and not is_inside:
        at = text.rfind("(")
        inner, rest = _scan(text[at + 1 : -1], known, is_inside=True) if at > 0 else ([], 1)
        if not inner or text[at + 1 : -1][:rest].strip(_BETWEEN):
            return []
        return [replace(clause, start=at, end=len(text)) for clause in inner]
    clause = length_at_end(text if not is_inside else f"( {text}", known.units)
    if clause is not None:
        by = 0 if not is_inside else -2
        return [replace(clause, start=clause.start + by, end=clause.end + by)]
    for match in list(_WORD.finditer(text))[: -MOST - 1 : -1]:
        found = _behind(match, text, known)
        if found is not None:
            return [found]
    return _names_alone(text, known, is_inside)


def _behind(match: re.Match[str], text: str, known: Known) -> Clause | None:
    """The clause that a word such as ``after`` begins."""
    word, content = " ".join(match[1].lower().split()), text[match.end() :].strip()
    start, end = match.start(1), len(text)
    found: tuple[Meaning, bool] | Question | None = None
    if word in links.WORDS:
        found = links.links_of(word, content, known)
    if found is None and word in dates.WORDS:
        found = dates.date_of(word, content, known)
    if found is None and word in ("with", "by"):
        found = people.people_of(content, known)
    if isinstance(found, Question):
        return Clause(start, end, None, question=found)
    return Clause(start, end, *found) if found else None


def _names_alone(text: str, known: Known, is_inside: bool) -> list[Clause]:
    """Initials without a word before them: people in brackets, likely people behind a comma, perhaps people else."""
    if is_inside:
        starts = [0, *(m.end() for m in re.finditer(r"[\s,;]+", text))]
        for start in starts:
            found = people.people_of(text[start:], known)
            if isinstance(found, tuple):
                return [Clause(start, len(text), found[0], found[1])]
        return []
    match = _LAST_NAMES.search(text)
    who = known.who(match[2]) if match else None
    if match is None or who is None or not who.ids:
        return []
    found = people.people_of(match[2], known)
    return [Clause(match.start(2), len(text), found[0], bool(match[1]))] if isinstance(found, tuple) else []
