"""The staff directory, to fill the pool from. What ships is a stand-in with made-up people, read from a file beside it.

docs/directory.md says what one for a real server would need; it only has to answer ``search``.
"""

from __future__ import annotations

from dataclasses import dataclass
from importlib import resources
from typing import Protocol

import msgspec

from hexapod.errors import HexapodError

MOST_FOUND = 200


class DirectoryFailed(HexapodError):
    """The directory gave no answer; the sentence says why."""


class Person(msgspec.Struct, frozen=True, forbid_unknown_fields=True):
    """An entry. ``role``, ``section`` and ``title`` are in the directory's words; ``skills`` are parted by ``;``."""

    name: str
    email: str = ""
    role: str = ""
    section: str = ""
    title: str = ""
    skills: str = ""


class Directory(Protocol):
    """What the pool asks of a directory."""

    @property
    def name(self) -> str:
        """What it is called on screen."""

    def search(self, text: str) -> list[Person]:
        """Everybody in whose entry all words of a text stand, by name, ``MOST_FOUND`` at most; "" finds everybody.

        ``DirectoryFailed`` if it cannot answer. It may take its time: it is not called from the interface's thread.
        """


@dataclass(frozen=True)
class StandIn:
    """A directory out of a JSON file, by default the made-up one of the Alder Quay Museum."""

    data: bytes | None = None

    @property
    def name(self) -> str:
        return "Alder Quay staff directory (a stand-in)"

    def search(self, text: str) -> list[Person]:
        data = self.data
        try:
            if data is None:
                data = resources.files("hexapod.services").joinpath("directory.json").read_bytes()
            people = msgspec.json.decode(data, type=list[Person])
        except (OSError, msgspec.MsgspecError, ValueError, RecursionError) as error:
            raise DirectoryFailed(f"The directory cannot be read: {str(error)[:120]}.") from None
        words = text.casefold().split()
        found = [p for p in people if all(word in _all_of(p) for word in words)]
        return sorted(found, key=lambda p: p.name.casefold())[:MOST_FOUND]


def _all_of(person: Person) -> str:
    return " ".join((person.name, person.email, person.role, person.section, person.title, person.skills)).casefold()
