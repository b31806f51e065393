"""Looking for a levelling proposal beside the interface: an answer at once, better ones while it goes on, and of a
proposal only the moves that are wanted."""

from __future__ import annotations

import threading
from contextlib import nullcontext
from typing import TYPE_CHECKING

from PyQt6.QtCore import QObject, pyqtSignal

from hexapod.desktop.models.background import in_background
from hexapod.desktop.models.load import COUNTED_AT_ONCE
from hexapod.plan.edits import Edit
from hexapod.plan.uncollected import uncollected

if TYPE_CHECKING:
    from hexapod.desktop.models.desk import Desk
    from hexapod.plan.plan import Plan
    from hexapod.staffing.levelling.choosing import Choice
    from hexapod.staffing.levelling.parts import Part
    from hexapod.staffing.levelling.placing import Scope
    from hexapod.staffing.levelling.proposal import Proposal
    from hexapod.staffing.levelling.ways_out import WayOut

LOOKED_ON = 60.0  # seconds at most
MOST_WAYS = 6  # overloads left over whose ways out are worked out


class Levelling(QObject):
    """``whole`` is the proposal with all its moves, ``left_out`` the tasks whose moves are not wanted.

    What is levelled: ``only_this_project``, ``only`` a resource, and what starts from ``begin`` up to ``end``; with
    ``may_part`` tasks may be interrupted. Of the proposal on show ``choices`` says who could fill its open seats,
    ``unfilled`` which of these are not wanted, and ``ways`` what would do for what it leaves over.
    """

    changed = pyqtSignal()
    thought = pyqtSignal()  # of the proposal on show the choices and ways out are known now
    _better = pyqtSignal(object, int)  # from the thread that looks: a proposal, and which search it is of

    def __init__(self, desk: Desk) -> None:
        super().__init__(desk)
        self._desk = desk
        self.whole: Proposal | None = None
        self.left_out: frozenset[str] = frozenset()
        self.is_looking = False
        self.only_this_project = False
        self.only: str | None = None
        self.begin: int | None = None
        self.end: int | None = None
        self.may_part = False
        self.choices: tuple[Choice, ...] = ()
        self.unfilled: frozenset[str] = frozenset()
        self.ways: list[list[WayOut]] = []
        self._stopped = threading.Event()
        self._number = 0
        self._better.connect(self._show)

    def propose(self, within_float: bool, seconds: float = 0.0) -> None:
        """Look for a proposal; with ``seconds`` it goes on for that long, or until it is stopped."""
        desk = self._desk
        if not desk.is_computed:
            return
        self.stop()
        now, stopped = desk.worked_out, threading.Event()
        load = desk.load if desk.load is not None and desk.load.schedule is now else None
        self._stopped, self.is_looking = stopped, True
        self._number += 1
        number, may_part = self._number, self.may_part

        def work() -> object:
            from hexapod.staffing.levelling.parting import level_in_parts
            from hexapod.staffing.levelling.proposal import level

            is_large = len(now.plan.tasks) > COUNTED_AT_ONCE and not seconds
            with uncollected() if is_large else nullcontext():  # it may be a hundred thousand moves
                return (level_in_parts if may_part else level)(
                    now,
                    within_float=within_float,
                    seconds=seconds,
                    scope=self._scope(),
                    demand=load.demand if load is not None else None,
                    known=load.overloads if load is not None else None,
                    better=lambda found: self._better.emit(found, number),
                    is_stopped=stopped.is_set,
                    beside=seconds > 0,
                )

        def show(found: object) -> None:
            if number == self._number:
                self.is_looking = False
                if now is desk.schedule:
                    self._show(found, number)
                    self._think_on()
                self.changed.emit()

        def failed(error: Exception) -> None:
            self.is_looking = False
            desk.told.emit(str(error), "trouble", False)
            self.changed.emit()

        in_background(self, work, show, failed)
        self.changed.emit()

    def _scope(self) -> Scope:
        from hexapod.staffing.levelling.placing import Scope

        projects = {self._desk.project} if self.only_this_project and self._desk.project else None
        return Scope(projects, {self.only} if self.only else None, self.begin, self.end)

    def _think_on(self) -> None:
        """Who could fill the open seats then, and the ways out of what is left over; beside the interface."""
        proposal, number, stopped = self._desk.proposal, self._number, self._stopped
        if proposal is None:
            return

        def work() -> object:
            from hexapod.staffing.levelling.choosing import choose
            from hexapod.staffing.levelling.ways_out import ways_out

            may_move = proposal.within_float
            ways = [ways_out(proposal.schedule, o, may_move=may_move) for o in proposal.overloads_after[:MOST_WAYS]]
            return ways, choose(proposal.schedule, proposal.scope.projects, stopped.is_set)

        def show(found: object) -> None:
            if number == self._number and proposal is self._desk.proposal:
                self.ways, self.choices = found  # type: ignore[misc]
                self.thought.emit()

        in_background(self, work, show, lambda error: self._desk.told.emit(str(error), "trouble", False))

    def fill_seat(self, task: str, is_filled: bool) -> None:
        """Whether the seat of a task is to be filled with the moves."""
        self.unfilled = self.unfilled - {task} if is_filled else self.unfilled | {task}

    def accepted(self, way_out: Edit | None = None) -> Edit | None:
        """The proposal on show as one edit: its moves, who fills the open seats, and a way out of what is left over."""
        from hexapod.staffing.levelling.choosing import fill
        from hexapod.staffing.levelling.proposal import accepting

        proposal = self._desk.proposal
        if proposal is None:
            return None
        words = "Level, finish stays" if proposal.within_float else "Level, finish may move"
        wanted = tuple(c for c in self.choices if c.task not in self.unfilled)
        seated = fill(proposal.schedule, wanted) if wanted else None
        more = [edit for edit in (seated, way_out) if edit is not None]
        words = words if way_out is None else f"{words}; {way_out.words}"
        return accepting(proposal, words, [lambda plan, e=edit: e for edit in more])  # type: ignore[misc]

    @property
    def plan(self) -> Plan:
        """The plan with the tasks that the proposal on show makes of those that it parts."""
        proposal = self._desk.proposal
        return self._desk.plan if proposal is None else proposal.schedule.plan

    def part_of(self, task: str) -> Part | None:
        """The part of the proposal that a task would be the rest of."""
        proposals = (self._desk.proposal, self.whole)
        return next((p for found in proposals if found is not None for p in found.parts if p.rest == task), None)

    def look_on(self) -> None:
        """Go on from where the proposal on show is."""
        if self.whole is not None:
            self.propose(self.whole.within_float, LOOKED_ON)

    def stop(self) -> None:
        """Keep the best that is there."""
        self._stopped.set()

    def forget(self) -> None:
        """The plan is another, or nobody wants the proposal."""
        self.stop()
        self._number += 1
        self.is_looking = False
        self.whole, self.left_out = None, frozenset()
        self._forget_thoughts()

    def _forget_thoughts(self) -> None:
        self.choices, self.unfilled, self.ways = (), frozenset(), []

    def leave_out(self, task: str, is_left_out: bool) -> None:
        """Do without a move, or with it again; what that leaves is counted anew."""
        from hexapod.staffing.levelling.proposal import without

        if self.whole is None:
            return
        self.stop()
        self.left_out = self.left_out | {task} if is_left_out else self.left_out - {task}
        found = without(self._desk.worked_out, self.whole, self.left_out) if self.left_out else self.whole
        self._forget_thoughts()
        self._desk.show_proposal(found)
        self._think_on()

    def _show(self, found: object, number: int) -> None:
        if number != self._number or found is None:
            return
        self.whole, self.left_out = found, frozenset()  # type: ignore[assignment]
        self._forget_thoughts()
        self._desk.show_proposal(found)
