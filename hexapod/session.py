"""The one door: every change of a plan goes through ``Session.apply``.

An edit makes the next plan; it is checked, scheduled and written to the file; then the listeners are told
once. Undo and redo go the same way, with the changes that the file's history holds.
"""

from __future__ import annotations

import contextlib
import getpass
import threading
from collections.abc import Callable, Iterator, Sequence
from dataclasses import dataclass
from pathlib import Path

from hexapod.errors import CannotSchedule, EditRefused, HexapodError
from hexapod.plan.changes import Changes
from hexapod.plan.edits import Edit, new_id
from hexapod.plan.partial import PartialPlan
from hexapod.plan.plan import Plan
from hexapod.plan.uncollected import uncollected
from hexapod.preparing import Prepared, prepare, prepare_again
from hexapod.schedule.kept_network import KeptNetwork
from hexapod.schedule.schedule import NO_DATES, Dates, Schedule
from hexapod.store.history import EDIT, REDO, UNDO, HistoryRow
from hexapod.store.port import Storage
from hexapod.store.rescue import kept_as, rescued
from hexapod.store.salvage import open_sound
from hexapod.store.schema import SCENARIO_EDITS
from hexapod.store.sentences import damage_words
from hexapod.store.snapshot import encoded
from hexapod.store.watch import FileLost
from hexapod.store.workspace import Workspace


class MovedOn(EditRefused):
    """What was prepared on a plan that is no longer the plan."""

    def __init__(self) -> None:
        super().__init__("The plan was changed meanwhile; nothing was done. Look at it again.")


@dataclass(frozen=True)
class Applied:
    """What listeners are told: the words and kind of the edit, what changed, and what moved by it."""

    words: str
    kind: str
    changes: Changes
    before: Dates
    after: Dates

    def moved(self) -> dict[str, tuple[int, int]]:
        """By how many working minutes the start and the finish of tasks moved, later is positive; nothing where there
        were or are no computed dates."""
        from hexapod.schedule.shift import shift

        if not isinstance(self.before, Schedule) or not isinstance(self.after, Schedule):
            return {}
        return shift(self.before, self.after).by_task()


class Session:
    """An open workspace with its plan and dates."""

    def __init__(self, workspace: Storage, who: str = "") -> None:
        self.workspace = workspace
        self.who = who or account_name()
        self.has_kernels = True  # else nothing is computed yet: edits keep the dates that are remembered
        snapshot = workspace.read_snapshot()
        self._is_checked = snapshot is None or snapshot.is_checked
        self._snapshot = snapshot  # until the first edit
        self._kept: KeptNetwork | None = None  # of the plan as it was read, until its dates are computed
        self._plan: Plan | None = None if snapshot else workspace.read_plan()
        self._prepared: tuple[Edit | None, Prepared | None] = (None, None)
        self._reading = threading.Lock()
        self._taking = threading.Lock()
        if snapshot and snapshot.dates is not None:
            workspace.known_dates = snapshot.dates
        self.schedule: Dates = workspace.known_dates or workspace.read_dates() or NO_DATES
        self._take_history(workspace.read_history())
        self._listeners: list[Callable[[Applied], None]] = []
        self._on_moved: list[Callable[[str], None]] = []
        self._computing = threading.Lock()

    @staticmethod
    def open(path: Path, *, read_only: bool = False, sound_only: bool = False) -> Session:
        """``sound_only``: what can still be read of a damaged file, to read."""
        workspace = open_sound(path) if sound_only else Workspace.open(path, read_only=read_only)
        return _session_of(workspace)

    @staticmethod
    def create(path: Path) -> Session:
        return _session_of(Workspace.create(path))

    def close(self) -> None:
        """Keep the dates for the next start, and close the file. Whatever goes wrong, the lock is given back."""
        data: bytes | memoryview | None = None
        try:
            if not self.workspace.read_only:
                with contextlib.suppress(HexapodError):  # the plan is kept; dates are computed again
                    self.keep_safe()
                    if isinstance(self.schedule, Schedule):
                        self.workspace.write_dates(self.schedule)
                if self.is_computed or self._snapshot is None:
                    data = encoded(self.plan, self.schedule, is_checked=self._is_checked)
                else:
                    with contextlib.suppress(HexapodError):
                        data = self.workspace.copy_in_cache()
        finally:
            self.workspace.close(data)

    def identity(self) -> str:
        """What tells this workspace from others, whatever its file is called; "" of one that is only read and was never
        asked before."""
        found = self.workspace.remembered("identity", str, "")
        if not found and not self.workspace.read_only:
            found = new_id()
            self.workspace.set_state("identity", found)
        return found

    @property
    def plan(self) -> Plan:
        """The plan, all of it: what an opened workspace has not read yet is read now."""
        with self._reading:
            if self._plan is None:
                assert self._snapshot is not None
                found = self._snapshot.whole()
                if found is None:  # the copy is damaged
                    self._plan, self._snapshot = self.workspace.read_plan(), None
                else:
                    self._plan, self._kept = found
            return self._plan

    @property
    def plan_so_far(self) -> Plan | PartialPlan:
        """As much of the plan as has been read: enough for a first picture."""
        if self._plan is None and self._snapshot is not None:
            return self._snapshot.part
        return self.plan

    # The place of the file

    def keep_safe(self) -> str | None:
        """Look whether the file is still there. If not, everything goes on in a new one, and the words say so.

        ``BadFile`` if there is no place for a new one.
        """
        try:
            self.workspace.check_place()
        except FileLost as lost:
            return self._move(lost, rescued(self.workspace, lost, self.plan, self.who))
        return None

    def save_copy(self, path: Path, *, replace: bool = False) -> str | None:
        """The whole workspace as another file. If the open one is gone, all goes on in this one, and words say so."""
        try:
            self.workspace.check_place()
        except FileLost as lost:
            return self._move(lost, kept_as(self.workspace, lost, self.plan, self.who, path))
        self.workspace.save_copy(path, replace=replace)
        return None

    def look_over(self, goes_on: Callable[[], bool] = lambda: True) -> str:
        """Look at every row of the file, a piece at a time, while ``goes_on``; in words what a disk made of it, or
        nothing. Rows of the plan are written again from memory. May be called from another thread."""
        damaged: dict[str, int] = {}
        for found in self.workspace.damaged_rows():
            if not goes_on():
                return ""
            for kind, keys in found.items():
                damaged[kind] = damaged.get(kind, 0) + len(keys)
        for kind in self.workspace.missing_rows():
            damaged[kind] = max(1, damaged.get(kind, 0))
        edits = damaged.pop("history", 0) + damaged.pop(SCENARIO_EDITS, 0)
        rows = sum(damaged.values())
        kinds = [kind for kind, count in damaged.items() if count]
        if not edits and not rows:
            return ""
        if kinds and not self.workspace.read_only:
            with self._taking:
                self.workspace.write_again(self.plan, kinds)
        return damage_words(self.workspace.path.name, rows, edits, is_mended=not self.workspace.read_only)

    def listen_to_moves(self, listener: Callable[[str], None]) -> None:
        """Be told in words when the workspace goes on in another file."""
        self._on_moved.append(listener)

    def _move(self, lost: FileLost, workspace: Storage) -> str:
        old, self.workspace = self.workspace, workspace
        old.leave()
        self._take_history(workspace.read_history())
        words = f"{lost} Every edit is kept: you go on in {workspace.path.name}, in {workspace.path.parent}."
        for listener in self._on_moved:
            listener(words)
        return words

    def _take_history(self, history: list[HistoryRow]) -> None:
        self.history = history
        self._undo: list[HistoryRow] = []
        self._redo: list[HistoryRow] = []
        for row in history:
            self._stack(row)

    # Dates

    @property
    def is_computed(self) -> bool:
        """False while the dates are those that the file remembered."""
        return isinstance(self.schedule, Schedule)

    def compute(self) -> Schedule:
        """The dates of the plan, computed now if they never were. May be called from another thread."""
        with self._computing:
            if not isinstance(self.schedule, Schedule):
                from hexapod.schedule.engine import schedule, schedule_network
                from hexapod.schedule.kept_network import network_of

                plan = self.plan
                with uncollected():
                    if not self._is_checked:
                        self.workspace.check_plan(plan)
                        self._is_checked = True
                    kept, self._kept = self._kept, None
                    network = None if kept is None or self._snapshot is None else network_of(plan, kept)
                    self.schedule = schedule(plan) if network is None else schedule_network(network)
            return self.schedule

    # The past

    def plan_after(self, number: int) -> Plan:
        """The plan as it was after a row of the history; nothing is changed by looking."""
        with self._taking:
            plan, last = self.plan, self.last_number
        return self.workspace.plan_after(plan, number, last)

    @property
    def last_number(self) -> int:
        """The number of the last row of the history; 0 where there is none."""
        return self.history[-1].number if self.history else 0

    @property
    def mark(self) -> tuple[str, int]:
        """What tells this plan from another one, and from itself after the next edit."""
        return "", len(self.history)

    def past(self, rows: Sequence[HistoryRow] | None = None) -> Iterator[tuple[HistoryRow, Changes]]:
        """Each row of the history, or of some ``rows`` of it, with what it changed, an undo likewise; from the latest
        back. May be read from another thread; rows that come meanwhile are not among them."""
        for row in reversed(list(self.history) if rows is None else rows):
            changes = self.workspace.read_changes(row.number if row.of is None else row.of)
            yield row, changes.inverse() if row.kind == UNDO else changes

    def edits_of(self, task_id: str, most: int = 50) -> list[HistoryRow]:
        """What a task went through, the latest first: rows whose edit is about it, its links or who works on it."""
        found = []
        for row in reversed(self.history):
            if row.kind == EDIT and _is_about(self.workspace.read_changes(row.number), task_id):
                found.append(row)
                if len(found) == most:
                    break
        return found

    # The door

    def apply(self, edit: Edit) -> Applied | None:
        """Carry out an edit; None if it changes nothing. A ``HexapodError`` leaves all as it was."""
        return self.commit(self.prepare(edit))

    def prepare(self, edit: Edit) -> Prepared:
        """What an edit would make of the plan; nothing is changed. ``HexapodError`` if it would be refused.

        May be called from another thread; one that is asked about twice is worked out once.
        """
        last, prepared = self._prepared
        if last is edit and prepared is not None and prepared.base is self.plan:
            return prepared
        self._dates_of_base()
        with self._taking:  # the plan and its dates change together
            base, before = self.plan, self.schedule
        prepared = prepare(edit, base, before, self.who, with_dates=self.has_kernels)
        self._prepared = (edit, prepared)
        return prepared

    def commit(self, prepared: Prepared) -> Applied | None:
        """Take what was prepared; None if it changes nothing. ``MovedOn`` if it was made on another plan."""
        if prepared.base is not self.plan:
            raise MovedOn
        return self._take(prepared, EDIT, None) if prepared.changes else None

    def _dates_of_base(self) -> Dates:
        """The dates of the plan; those that are remembered if it has none, since its links form a loop or a calendar
        never works."""
        if not self.has_kernels:
            return self.schedule
        try:
            return self.compute()
        except (EditRefused, CannotSchedule):
            return self.schedule

    def undo(self) -> Applied:
        """Take back the last edit."""
        if not self._undo:
            raise EditRefused("There is nothing to undo.")
        return self._again(self._undo[-1], UNDO)

    def redo(self) -> Applied:
        """Do the last undone edit again."""
        if not self._redo:
            raise EditRefused("There is nothing to redo.")
        return self._again(self._redo[-1], REDO)

    @property
    def undo_words(self) -> str | None:
        """The name of the edit that undo would take back."""
        return self._undo[-1].words if self._undo else None

    @property
    def redo_words(self) -> str | None:
        return self._redo[-1].words if self._redo else None

    def listen(self, listener: Callable[[Applied], None]) -> None:
        """Be told of every change."""
        self._listeners.append(listener)

    def _again(self, row: HistoryRow, kind: str) -> Applied:
        changes = self.workspace.read_changes(row.number)
        if kind == UNDO:
            changes = changes.inverse()
        prepared = prepare_again(
            Edit(row.words, changes.put_into), self.plan, self._dates_of_base(), with_dates=self.has_kernels
        )
        return self._take(prepared, kind, row.number)

    def _take(self, prepared: Prepared, kind: str, of: int | None) -> Applied:
        before, words = self.schedule, prepared.words
        self.keep_safe()
        if of is not None and all(row.number != of for row in reversed(self.history)):
            kind, of = EDIT, None  # the file that held it is gone
        with self._taking:
            row = self.workspace.write(prepared.changes, words, self.who, kind, of)
            self._plan, self.schedule = prepared.plan, prepared.schedule
            self.history.append(row)
        return self._tell(row, Applied(words, kind, prepared.changes, before, prepared.schedule))

    def _tell(self, row: HistoryRow, applied: Applied) -> Applied:
        """What was prepared before is for nothing, and everybody hears of what was done."""
        self._prepared, self._snapshot = (None, None), None
        self._stack(row)
        for listener in self._listeners:
            listener(applied)
        return applied

    def _stack(self, row: HistoryRow) -> None:
        if row.kind == EDIT:
            self._undo.append(row)
            self._redo.clear()
        elif row.kind == UNDO and self._undo:
            self._redo.append(self._undo.pop())
        elif row.kind == REDO and self._redo:
            self._undo.append(self._redo.pop())


def _is_about(changes: Changes, task_id: str) -> bool:
    for kind, before, after in changes.pairs():
        key = (after or before).key
        if task_id == key if kind == "tasks" else isinstance(key, tuple) and task_id in key[:2]:
            return True
    return False


def account_name() -> str:
    """What the desktop calls the person at it: the full name of the account, else its short one."""
    short = getpass.getuser()
    try:
        import pwd

        return pwd.getpwnam(short).pw_gecos.split(",")[0].strip() or short
    except (ImportError, KeyError):
        return short


def _session_of(workspace: Storage) -> Session:
    try:
        return Session(workspace)
    except BaseException:
        workspace.close()
        raise
