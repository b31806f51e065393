"""Where a scenario is kept: in the file of its plan, as edits of its own.

A scenario stands on the plan as it was after one of its edits. What it is follows from that plan, from all that the
scenario had otherwise when it was put there, and from its edits since. Nothing of the plan is kept twice.
"""

from __future__ import annotations

from collections.abc import Callable, Iterable, Iterator
from datetime import datetime
from pathlib import Path
from typing import Any, NamedTuple, TypeVar

from hexapod.plan.changes import Changes, diff
from hexapod.plan.plan import Plan
from hexapod.schedule.schedule import Dates, Schedule
from hexapod.store.dates import DatesToWrite
from hexapod.store.history import EDIT, REDO, UNDO, HistoryRow
from hexapod.store.port import Storage
from hexapod.store.snapshot import Snapshot

T = TypeVar("T")


class Step(NamedTuple):
    """An edit of a scenario that is in force. ``base`` is the edit of the plan that it puts it on, if it does."""

    row: HistoryRow
    base: int | None


class ScenarioPlace:
    """The ``Storage`` of a scenario. ``plan_of`` gives the plan as it was after an edit of it, by number."""

    recovered: str | None = None
    left_out: tuple[str, ...] = ()

    def __init__(self, home: Callable[[], Storage], scenario: str, plan_of: Callable[[int], Plan]) -> None:
        self._home = home
        self._scenario = scenario
        self._plan_of = plan_of
        self._rows = home().scenario_rows(scenario)
        self.known_dates: Dates | None = None

    @property
    def path(self) -> Path:
        return self._home().path

    @property
    def read_only(self) -> bool:
        return self._home().read_only

    @property
    def clock(self) -> Callable[[], datetime]:
        return self._home().clock

    @clock.setter
    def clock(self, clock: Callable[[], datetime]) -> None:
        self._home().clock = clock

    # What it is

    def steps(self, until: int | None = None) -> list[Step]:
        """The edits that are in force, or were after one of them, in order: the first puts it on the plan."""
        done: list[Step] = []
        undone: list[Step] = []
        for row, base in self._rows:
            if until is not None and row.number > until:
                break
            if row.kind == EDIT:
                done.append(Step(row, base))
                undone.clear()
            elif row.kind == UNDO and len(done) > 1:  # what made it is not taken back
                undone.append(done.pop())
            elif row.kind == REDO and undone:
                done.append(undone.pop())
        return done

    @property
    def base(self) -> int:
        """The edit of the plan that it stands on."""
        return next((step.base for step in reversed(self.steps()) if step.base is not None), 0)

    def last_number(self) -> int:
        """The number of its last row: what tells whether it was changed."""
        return self._rows[-1][0].number if self._rows else 0

    def read_plan(self) -> Plan:
        """What it is. ``BadFile`` where that breaks a rule: a file may come from anywhere."""
        plan = self._plan(self.steps())
        self.check_plan(plan)
        return plan

    def _plan(self, steps: list[Step]) -> Plan:
        first = max((i for i, step in enumerate(steps) if step.base is not None), default=0)
        plan = self._plan_of(steps[first].base or 0) if steps else self._plan_of(0)
        for step in steps[first:]:
            plan = self._home().scenario_changes(step.row.number).applied_to(plan)
        return plan

    def plan_after(self, plan: Plan, number: int, last: int) -> Plan:
        return self._plan(self.steps(number))

    def read_history(self) -> list[HistoryRow]:
        """Without the row that made it, which nobody takes back."""
        return [row for row, _ in self._rows[1:]]

    def read_changes(self, number: int) -> Changes:
        base = next((base for row, base in self._rows if row.number == number), None)
        if base is None or number == self._rows[0][0].number:
            return self._home().scenario_changes(number)
        steps = self.steps(number)
        return diff(self._plan(steps[:-1]), self._plan(steps))

    # Keeping

    def write(self, changes: Changes, words: str, who: str, kind: str = EDIT, of: int | None = None) -> HistoryRow:
        return self._keep(None, changes, words, who, kind, of)

    def write_on(self, base: int, own: Changes, words: str, who: str) -> HistoryRow:
        """Put it on the plan as it was after an edit; ``own`` is all that it has otherwise."""
        return self._keep(base, own, words, who, EDIT, None)

    def _keep(self, base: int | None, changes: Changes, words: str, who: str, kind: str, of: int | None) -> HistoryRow:
        row = self._home().write_scenario(self._scenario, base, changes, words, who, kind, of)
        self._rows.append((row, base))
        return row

    # What is the same as of the plan

    def remembered(self, name: str, kind: type[T], default: T) -> T:
        return self._home().remembered(name, kind, default)

    def set_state(self, name: str, value: Any) -> None:
        self._home().set_state(name, value)

    def check_place(self) -> None:
        self._home().check_place()

    def save_copy(self, path: Path, *, replace: bool = False) -> None:
        self._home().save_copy(path, replace=replace)

    def scenario_rows(self, scenario: str) -> list[tuple[HistoryRow, int | None]]:
        return self._home().scenario_rows(scenario)

    def scenario_changes(self, number: int) -> Changes:
        return self._home().scenario_changes(number)

    def write_scenario(
        self, scenario: str, base: int | None, changes: Changes, words: str, who: str, kind: str, of: int | None
    ) -> HistoryRow:
        return self._home().write_scenario(scenario, base, changes, words, who, kind, of)

    # What only a file has

    def read_snapshot(self) -> Snapshot | None:
        return None

    def copy_in_cache(self) -> memoryview | None:
        return None

    def check_plan(self, plan: Plan) -> None:
        self._home().check_plan(plan)

    def read_dates(self) -> Dates | None:
        return None

    def write_dates(self, schedule: Schedule) -> None:
        """They follow from the plan, and are computed again."""

    def writing_dates(self, found: DatesToWrite, most: int = 100_000) -> Iterator[None]:
        return iter(())

    def damaged_rows(self, most: int = 2000) -> Iterator[dict[str, list[tuple[Any, ...]]]]:
        return iter(())

    def missing_rows(self) -> list[str]:
        return []

    def write_again(self, plan: Plan, kinds: Iterable[str]) -> None:
        """Its edits are the only copy."""

    def leave(self) -> None:
        """The file is given up by the plan."""

    def close(self, snapshot: bytes | memoryview | None = None) -> None:
        """The file is closed by the plan."""
