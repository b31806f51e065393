"""What a session asks of the place that keeps a plan. A file of SQLite is one such place (``workspace.py``).

Another, such as a team's server, does the same: one transaction an edit, the changes of each edit by its number, and
one writer at a time. How it does so, and in what SQL, stays on its own side.
"""

from __future__ import annotations

from collections.abc import Callable, Iterable, Iterator
from datetime import datetime
from pathlib import Path
from typing import Any, Protocol, TypeVar

from hexapod.plan.changes import Changes
from hexapod.plan.plan import Plan
from hexapod.schedule.schedule import Dates, Schedule
from hexapod.store.dates import DatesToWrite
from hexapod.store.history import EDIT, HistoryRow
from hexapod.store.snapshot import Snapshot

T = TypeVar("T")


class Storage(Protocol):
    """Any thread may use it. Everything that fails is a ``BadFile``; ``FileLost`` says that the place is gone.

    ``recovered`` says in words what was done at opening; ``left_out`` names what of a damaged place could not be read.
    """

    recovered: str | None
    left_out: tuple[str, ...]
    known_dates: Dates | None  # those that are kept, if it is known which

    @property
    def path(self) -> Path: ...

    @property
    def read_only(self) -> bool: ...

    @property
    def clock(self) -> Callable[[], datetime]:
        """What the rows of the history are dated by."""
        ...

    @clock.setter
    def clock(self, clock: Callable[[], datetime]) -> None: ...

    # What is kept

    def read_snapshot(self) -> Snapshot | None:
        """A quick copy of everything as it was at closing, if there is one that is true."""
        ...

    def copy_in_cache(self) -> memoryview | None: ...

    def read_plan(self) -> Plan: ...

    def check_plan(self, plan: Plan) -> None: ...

    def read_dates(self) -> Dates | None:
        """The dates as they were last computed, to paint from."""
        ...

    def read_history(self) -> list[HistoryRow]: ...

    def read_changes(self, number: int) -> Changes:
        """What the edit of a number changed."""
        ...

    def plan_after(self, plan: Plan, number: int, last: int) -> Plan:
        """The plan as it was after an edit, walking back from ``plan``, which is that after the ``last`` one."""
        ...

    def scenario_rows(self, scenario: str) -> list[tuple[HistoryRow, int | None]]:
        """The edits of a scenario, each with the edit of the plan that it makes the scenario stand on, if it does."""
        ...

    def scenario_changes(self, number: int) -> Changes:
        """What an edit of a scenario changed; where it makes it stand on an edit of the plan, all that it has
        otherwise than the plan had then."""
        ...

    def remembered(self, name: str, kind: type[T], default: T) -> T:
        """Something that is not part of the plan."""
        ...

    # Keeping

    def write(self, changes: Changes, words: str, who: str, kind: str = EDIT, of: int | None = None) -> HistoryRow:
        """Keep an edit with its row of the history: all of it or nothing."""
        ...

    def write_scenario(
        self, scenario: str, base: int | None, changes: Changes, words: str, who: str, kind: str, of: int | None
    ) -> HistoryRow:
        """Keep an edit of a scenario; the plan is not touched."""
        ...

    def write_dates(self, schedule: Schedule) -> None: ...

    def writing_dates(self, found: DatesToWrite, most: int = 100_000) -> Iterator[None]:
        """Keep dates some at a time; edits may be kept in between."""
        ...

    def set_state(self, name: str, value: Any) -> None: ...

    # The place

    def check_place(self) -> None:
        """``FileLost`` if what is written now would be lost."""
        ...

    def save_copy(self, path: Path, *, replace: bool = False) -> None: ...

    def damaged_rows(self, most: int = 2000) -> Iterator[dict[str, list[tuple[Any, ...]]]]:
        """By kind the keys of rows that are not what was written, a piece at a time."""
        ...

    def missing_rows(self) -> list[str]:
        """The kinds that have lost a row since they were written."""
        ...

    def write_again(self, plan: Plan, kinds: Iterable[str]) -> None:
        """Write some kinds as they are in a plan, in the place of what was damaged."""
        ...

    def leave(self) -> None:
        """Give up a place that was lost."""
        ...

    def close(self, snapshot: bytes | memoryview | None = None) -> None:
        """Give back the lock; ``snapshot`` is the quick copy for the next opening."""
        ...
