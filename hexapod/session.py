"""The one door: every change of a plan goes through ``Session.apply``.

An edit makes the next plan; it is checked, scheduled and written to the file; then the listeners are told
once. Undo and redo go the same way, with the changes that the file's history holds.
"""

from __future__ import annotations

import contextlib
import dataclasses
import getpass
import threading
from collections.abc import Callable
from dataclasses import dataclass
from pathlib import Path
from typing import TYPE_CHECKING

from msgspec.structs import replace

from hexapod.errors import CannotSchedule, EditRefused, HexapodError
from hexapod.plan.changes import Changes
from hexapod.plan.edits import Edit
from hexapod.plan.plan import Plan
from hexapod.plan.uncollected import uncollected
from hexapod.plan.validity import check
from hexapod.schedule.schedule import EMPTY, Schedule
from hexapod.store.rescue import kept_as, rescued
from hexapod.store.salvage import open_sound
from hexapod.store.snapshot import encoded
from hexapod.store.watch import FileLost
from hexapod.store.workspace import EDIT, REDO, UNDO, HistoryRow, Workspace

if TYPE_CHECKING:
    from hexapod.schedule.shift import Shift


MOST_ROUNDS = 1000  # links that keep their gap, one behind the other


@dataclass(frozen=True)
class _Made:
    """What an edit makes: the next plan, its dates, and all that changes."""

    plan: Plan
    schedule: Schedule
    changes: Changes


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
        self.who = account_name()
        snapshot = workspace.read_snapshot()
        self._is_checked = snapshot is None
        self.plan: Plan = snapshot.plan if snapshot else workspace.read_plan()
        self._read_plan = snapshot.plan if snapshot else None
        if snapshot and snapshot.dates is not None:
            workspace.known_dates = snapshot.dates
        self.schedule: Schedule = workspace.known_dates or workspace.read_dates() or EMPTY
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
        data = None
        try:
            if not self.workspace.read_only:
                with contextlib.suppress(HexapodError):  # the plan is kept; dates are computed again
                    self.keep_safe()
                    if self.is_computed:
                        self.workspace.write_dates(self.schedule)
                if self.is_computed or self._read_plan is not self.plan:
                    data = encoded(self.plan, self.schedule)
                else:
                    with contextlib.suppress(HexapodError):
                        data = self.workspace.copy_in_cache()
        finally:
            self.workspace.close(data)

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

    def listen_to_moves(self, listener: Callable[[str], None]) -> None:
        """Be told in words when the workspace goes on in another file."""
        self._on_moved.append(listener)

    def _move(self, lost: FileLost, workspace: Workspace) -> str:
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
        return self.schedule.network is not None

    def compute(self) -> Schedule:
        """The dates of the plan, computed now if they never were. May be called from another thread."""
        with self._computing:
            if not self.is_computed:
                from hexapod.schedule.engine import schedule

                with uncollected():
                    if not self._is_checked:
                        self.workspace.check_plan(self.plan)
                        self._is_checked = True
                    self.schedule = schedule(self.plan)
            return self.schedule

    # The past

    def plan_after(self, number: int) -> Plan:
        """The plan as it was after a row of the history; nothing is changed by looking."""
        return self.workspace.plan_after(self.plan, number)

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
        made = self._made(edit)
        return None if made is None else self._take(made, edit.words, EDIT, None)

    def preview(self, edit: Edit) -> Schedule:
        """The dates as an edit would make them; nothing is changed. ``HexapodError`` if it would be refused."""
        made = self._made(edit)
        return self.schedule if made is None else made.schedule

    def _made(self, edit: Edit) -> _Made | None:
        """What an edit makes of the plan, checked and with all that follows from it; None for nothing."""
        draft = self.plan.draft()
        edit.change(draft)
        plan, changes = draft.finish()
        if not changes:
            return None
        check(plan, changes)
        plan, changes = self._held(plan, changes)
        changes = self._signed(changes)
        before = self._computed()
        if before is None:
            plan = changes.applied_to(self.plan)
            return _Made(plan, self._scheduled(None, plan, changes), changes)
        after, changes = self._settled(before, plan, changes)
        assert after.network is not None
        return _Made(after.network.plan, after, changes)

    def _computed(self) -> Schedule | None:
        """The dates of the plan; None if it has none, since its links form a loop or a calendar never works."""
        try:
            return self.compute()
        except (EditRefused, CannotSchedule):
            return None

    def _scheduled(self, before: Schedule | None, plan: Plan, changes: Changes) -> Schedule:
        """The dates of the next plan. Where the present one has none, the next need not have any either.

        Otherwise a plan with two loops could never be mended: an edit is refused for what it breaks, not for what was
        broken before it.
        """
        from hexapod.schedule.engine import reschedule, schedule

        if before is not None:
            return reschedule(before, plan, changes)
        try:
            return schedule(plan)
        except (EditRefused, CannotSchedule):
            return self.schedule

    def _held(self, plan: Plan, changes: Changes) -> tuple[Plan, Changes]:
        """The edit with what follows from it for tasks that keep their effort."""
        from hexapod.staffing.holding import what_is_held

        edit = what_is_held(self.plan, plan, changes)
        if edit is None:
            return plan, changes
        draft = plan.draft()
        edit.change(draft)
        held, more = draft.finish()
        check(held, more)
        return held, changes.then(more)

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

    def _signed(self, changes: Changes) -> Changes:
        """The limits that an edit sets carry the name of who set them."""
        pairs = []
        for before, after in changes.tasks:
            if after is not None and any(not limit.by for limit in after.limits):
                known = before.limits if before is not None else ()
                limits = tuple(x if x.by or x in known else replace(x, by=self.who) for x in after.limits)
                after = replace(after, limits=limits)
            pairs.append((before, after))
        return replace(changes, tasks=tuple(pairs))

    def _settled(self, before: Schedule, plan: Plan, changes: Changes) -> tuple[Schedule, Changes]:
        """The dates after an edit, and the edit with what it does to the gaps of links that keep them."""
        from hexapod.schedule.engine import reschedule
        from hexapod.schedule.gaps import limits_to_keep_gaps, with_start_limit

        signed = changes.applied_to(self.plan) if changes.tasks else plan
        after = reschedule(before, signed, changes)
        edited = changes
        for _ in range(MOST_ROUNDS):
            limits = limits_to_keep_gaps(before, after, edited)
            if not limits:
                break
            assert after.network is not None
            now = after.network.plan
            more = self._signed(
                Changes(tasks=tuple((now.tasks[t], with_start_limit(now.tasks[t], at)) for t, at in limits.items()))
            )
            after = reschedule(after, more.applied_to(now), more)
            changes = changes.then(more)
        return self._extended(after, changes)

    def _extended(self, after: Schedule, changes: Changes) -> tuple[Schedule, Changes]:
        """Recurring work without an end of its own goes on to the finish of its project."""
        from hexapod.plan.edits.repeating import extend
        from hexapod.schedule.engine import reschedule
        from hexapod.schedule.schedule import finishes_without

        assert after.network is not None
        plan = after.network.plan
        if not plan.series:
            return after, changes
        edit = extend(plan, finishes_without(after, plan.series))
        if edit is None:
            return after, changes
        draft = plan.draft()
        edit.change(draft)
        _, more = draft.finish()
        more = self._signed(more)
        return reschedule(after, more.applied_to(plan), more), changes.then(more)

    def _again(self, row: HistoryRow, kind: str) -> Applied:
        changes = self.workspace.read_changes(row.number)
        if kind == UNDO:
            changes = changes.inverse()
        plan = changes.applied_to(self.plan)
        check(plan, changes)
        before = self._computed()
        try:
            after = self._scheduled(before, plan, changes)
        except (EditRefused, CannotSchedule):  # the way back is never barred, also to a plan that has no dates
            after = dataclasses.replace(self.schedule, network=None)
        return self._take(_Made(plan, after, changes), row.words, kind, row.number)

    def _take(self, made: _Made, words: str, kind: str, of: int | None) -> Applied:
        before = self.schedule
        self.keep_safe()
        if of is not None and all(row.number != of for row in reversed(self.history)):
            kind, of = EDIT, None  # the file that held it is gone
        row = self.workspace.write(made.changes, words, self.who, kind, of)
        self.plan, self.schedule = made.plan, made.schedule
        self.history.append(row)
        self._stack(row)
        applied = Applied(words, kind, made.changes, before, made.schedule)
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


def _session_of(workspace: Workspace) -> Session:
    try:
        return Session(workspace)
    except BaseException:
        workspace.close()
        raise
