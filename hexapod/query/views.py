"""Views of a plan: which rows, in what order and in which groups, kept under a name."""

from __future__ import annotations

from collections.abc import Iterable
from enum import StrEnum
from typing import Any

import msgspec
from msgspec import Struct

from hexapod.errors import BadText

NEWEST = 1  # the form of a kept view


class Finished(StrEnum):
    """What becomes of rows that are done."""

    SHOWN = "shown"
    STRUCK = "struck"
    HIDDEN = "hidden"


class Links(StrEnum):
    """Which links the chart shows. ``WHEN_CLEAR``: all of them, unless they would be a thicket."""

    WHEN_CLEAR = "when clear"
    ALL = "all"
    CHOSEN = "chosen"
    NONE = "none"


class Labels(StrEnum):
    """What stands on or beside a bar."""

    INITIALS = "initials"
    PEOPLE = "people"
    NAME = "name"
    NOTHING = "nothing"


class View(Struct, frozen=True, omit_defaults=True):
    """``group`` and ``sort`` are names of the query language, ``sort`` with a - in front from the last to the first.

    ``lanes`` puts the tasks of a group beside each other, on as few rows as their dates allow. ``rolled_up``
    shows the parts of a folded summary on its row. ``everywhere`` takes all projects.
    """

    name: str = ""
    query: str = ""
    group: str = ""
    lanes: bool = False
    sort: str = ""
    everywhere: bool = False
    finished: Finished = Finished.STRUCK
    rolled_up: bool = False
    links: Links = Links.WHEN_CLEAR
    labels: Labels = Labels.INITIALS
    starred: bool = False
    form: int = NEWEST

    @property
    def is_outline(self) -> bool:
        """Whether the rows are the outline's, in its order: then they can be typed and moved."""
        return not (self.group or self.sort or self.everywhere)


PLAIN = View("Whole outline")
SHIPPED: tuple[View, ...] = (
    PLAIN,
    View("Critical work", "critical and not summary", starred=True),
    View("Little room", "near critical and not summary"),
    View("Next four weeks", "finish >= today and start < today + 4 w and not summary", sort="start", starred=True),
    View("Behind the status date", "late"),
    View("In conflict", "conflict"),
    View("Overloaded people's tasks", "overload", group="who"),
    View("By person", "not summary", group="who", sort="start"),
    View("Lanes by stream", "not summary", group="stream", lanes=True, labels=Labels.NAME),
    View("Milestones", "milestone", sort="start", everywhere=True),
    View("All projects", everywhere=True, group="project"),
)


def read_views(kept: Iterable[tuple[str, str]]) -> tuple[list[View], list[str]]:
    """The views that a workspace keeps, as (name, JSON), and a sentence for each that cannot be read."""
    found, said = [], []
    for name, shows in kept:
        try:
            entry = msgspec.json.decode(shows, type=dict[str, Any])
            if int(entry.get("form", NEWEST)) > NEWEST:
                raise BadText("a newer Hexapod made it")
            found.append(msgspec.convert({**entry, "name": name}, View, strict=True))
        except (BadText, msgspec.MsgspecError, ValueError, TypeError) as error:
            said.append(f"The view “{name}” is left as it is: {error}.")
    return found, said


def kept_form(view: View) -> str:
    """What a view shows as JSON, without its name."""
    found: dict[str, Any] = msgspec.to_builtins(view)
    found.pop("name", None)
    return msgspec.json.encode({**found, "form": view.form}).decode()
