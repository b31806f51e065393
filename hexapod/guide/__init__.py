"""The guide, which the program shows: its pages in Markdown beside this file, and finding words in them."""

from __future__ import annotations

import re
from dataclasses import dataclass
from functools import cache
from pathlib import Path

FOLDER = Path(__file__).parent
ORDER = (
    "first-steps", "lines", "links-and-limits", "progress", "round", "telling", "mine", "stages", "hours", "money",
    "drift", "value", "scenarios", "ranges", "risks", "projects", "reports", "page", "requests", "attention", "chart",
    "views", "network", "planning-back", "pool", "load", "seats", "board", "levelling", "calendars",
    "fields-and-expressions", "import-and-export", "printing",
)  # fmt: skip
_HEADING = re.compile(r"^(#{1,3}) (.+)$", re.MULTILINE)
_PICTURE = re.compile(r"!\[[^\]]*\]\((pictures/[^)]+)\)")
_MARKS = re.compile(r"!\[[^\]]*\]\([^)]*\)|\]\([^)]*\)|[`*|#\[]")


@dataclass(frozen=True)
class GuidePage:
    """``name`` is that of its file, ``text`` is Markdown."""

    name: str
    title: str
    text: str

    @property
    def pictures(self) -> list[str]:
        return _PICTURE.findall(self.text)


@dataclass(frozen=True)
class Passage:
    """What stands below one heading of a page, without marks."""

    page: GuidePage
    heading: str
    text: str


def page_of(name: str, text: str) -> GuidePage:
    """A page; its first heading is its title."""
    first = _HEADING.search(text)
    return GuidePage(name, first[2] if first else name, text)


@cache
def pages() -> tuple[GuidePage, ...]:
    """All pages that are shipped, in the order in which they are to be read."""
    return tuple(page_of(name, (FOLDER / f"{name}.md").read_text("utf-8")) for name in ORDER)


def passages(page: GuidePage) -> list[Passage]:
    found = []
    marks = list(_HEADING.finditer(page.text))
    for mark, after in zip(marks, [*marks[1:], None], strict=True):
        text = page.text[mark.end() : after.start() if after else len(page.text)]
        found.append(Passage(page, mark[2], " ".join(_MARKS.sub(" ", text).split())))
    return found


def search(words: str, among: tuple[GuidePage, ...]) -> list[Passage]:
    """Passages in which all words stand, those with one of them in the heading first."""
    wanted = words.casefold().split()
    found = [
        (not any(word in passage.heading.casefold() for word in wanted), passage)
        for page in among
        for passage in passages(page)
        if all(word in f"{passage.heading} {passage.text}".casefold() for word in wanted)
    ]
    return [passage for _, passage in sorted(found, key=lambda each: each[0])] if wanted else []
