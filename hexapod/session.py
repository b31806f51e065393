"""The one door: every change of a plan goes through ``Session.apply``.

An edit makes the next plan; it is checked, scheduled and written to the file; then the listeners are told
once. Undo and redo go the same way, with the changes that the file's history holds.
"""

from __future__ import annotations

import getpass
import threading
from collections.abc import Callable
from dataclasses import dataclass
from pathlib import Path
from typing import TYPE_CHECKING

from hexapod.errors import EditRefused
from hexapod.plan.changes import Changes
from hexapod.plan.edits import Edit
from hexapod.plan.plan import Plan
from hexapod.plan.validity import check
from hexapod.schedule.schedule import EMPTY, Schedule
from hexapod.store.workspace import EDIT, REDO, UNDO, HistoryRow, Workspace

if TYPE_CHECKING:
    from hexapod.schedule.shift import Shift


@dataclass(frozen=True)
class Applied:
    """What listeners are told: the words and kind of the edit, what changed, and what moved by it."""

    words: str
    kind: str
    changes: Changes
    before: Schedule
    after: Schedule

    def shift(self) -> Shift:
        """The tasks whose dates moved."""
        from hexapod.schedule.shift import shift

        return shift(self.before, self.after)


class Session:
    """An open workspace with its plan and dates."""

    def __init__(self, workspace: Workspace) -> None:
        self.workspace = workspace
        self.plan: Plan = workspace.read_plan()
        self.schedule: Schedule = workspace.read_dates() or EMPTY
        self.history: list[HistoryRow] = workspace.read_history()
        self._undo: list[HistoryRow] = []
        self._redo: list[HistoryRow] = []
        self._restack()
        self._listeners: list[Callable[[Applied], None]] = []
        self._computing = threading.Lock()

    @staticmethod
    def open(path: Path, *, read_only: bool = False) -> Session:
        return _session_of(Workspace.open(path, read_only=read_only))

    @staticmethod
    def create(path: Path) -> Session:
        return _session_of(Workspace.create(path))

    def close(self) -> None:
        """Keep the dates for the next start, and close the file."""
        if self.is_computed:
            self.workspace.write_dates(self.schedule)
        self.workspace.close()

    # Dates

    @property
    def is_computed(self) -> bool:
        """False while the dates are those that the file remembered."""
        return self.schedule.network is not None

    def compute(self) -> Schedule:
        """The dates of the plan, computed now if they never were. May be called from another thread."""
        with self._computing:
            if not self.is_computed:
                from hexapod.schedule.engine import schedule

                self.schedule = schedule(self.plan)
            return self.schedule

    # The door

    def apply(self, edit: Edit) -> Applied | None:
        """Carry out an edit; None if it changes nothing. A ``HexapodError`` leaves all as it was."""
        draft = self.plan.draft()
        edit.change(draft)
        plan, changes = draft.finish()
        return self._take(plan, changes, edit.words, EDIT, None) if changes else None

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
        return self._take(changes.applied_to(self.plan), changes, row.words, kind, row.number)

    def _take(self, plan: Plan, changes: Changes, words: str, kind: str, of: int | None) -> Applied:
        from hexapod.schedule.engine import reschedule

        check(plan, changes)
        before = self.compute()
        after = reschedule(before, plan, changes)
        row = self.workspace.write(changes, words, getpass.getuser(), kind, of)
        self.plan, self.schedule = plan, after
        self.history.append(row)
        self._stack(row)
        applied = Applied(words, kind, changes, before, after)
        for listener in self._listeners:
            listener(applied)
        return applied

    def _restack(self) -> None:
        for row in self.history:
            self._stack(row)

    def _stack(self, row: HistoryRow) -> None:
        if row.kind == EDIT:
            self._undo.append(row)
            self._redo.clear()
        elif row.kind == UNDO and self._undo:
            self._redo.append(self._undo.pop())
        elif row.kind == REDO and self._redo:
            self._undo.append(self._redo.pop())


def _session_of(workspace: Workspace) -> Session:
    try:
        return Session(workspace)
    except BaseException:
        workspace.close()
        raise
