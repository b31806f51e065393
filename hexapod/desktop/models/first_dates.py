"""The dates of a workspace that was just opened: computed beside the interface, and what waits for them."""

from __future__ import annotations

import contextlib
import gc
from typing import TYPE_CHECKING

from hexapod.desktop.models.background import in_background
from hexapod.desktop.models.previews import AT_ONCE
from hexapod.errors import HexapodError
from hexapod.plan.edits import Edit
from hexapod.system.children import start_python
from hexapod.system.kernels import are_compiled

if TYPE_CHECKING:
    from hexapod.desktop.models.desk import Desk

COMPILING = "Calculations are being made ready, once on this machine: about a minute. Typing works meanwhile."


class FirstDates:
    """Until the dates are there, what the file remembered is shown, and edits of a large plan wait."""

    def __init__(self, desk: Desk) -> None:
        self._desk = desk
        self.are_impossible = False  # a loop of links, or a calendar that never works
        self._waiting: list[Edit] = []

    def hold(self, edit: Edit) -> bool:
        """Whether an edit has to wait for the dates; then it is done as soon as they are there."""
        desk = self._desk
        is_soon = desk.session.has_kernels and not self.are_impossible
        if desk.is_computed or not is_soon or len(desk.plan.tasks) <= AT_ONCE:
            return False
        self._waiting.append(edit)
        desk.told.emit("The dates are being computed; this is done as soon as they are.", "", False)
        return True

    def finish(self) -> None:
        """Carry out what still waits: nothing that a person entered is lost when the window is closed."""
        for edit in self._waiting:
            with contextlib.suppress(HexapodError):
                self._desk.session.apply(edit)

    def compute(self) -> None:
        """Compute the dates without blocking. Links are shown as soon as they are read."""
        if are_compiled():
            self._compute()
        else:
            self._compile_first()

    def _compute(self) -> None:
        desk = self._desk
        if not desk.plan.is_whole:
            in_background(desk, lambda: desk.session.plan, lambda _: self._show_links(), desk.tell_error)

        def done(_: object) -> None:
            gc.freeze()  # what a large plan is made of stays: looking through it again and again would cost frames
            desk.on_show.on_computed()
            desk.computed.emit()
            self._go_on()
            desk.dates_kept.later()

        def failed(error: Exception) -> None:
            """The plan has no dates, but it can be mended: edits wait for nothing then."""
            self.are_impossible = True
            desk.tell_error(error)
            self._go_on()

        in_background(desk, lambda: desk.session.compute().shown(), done, failed)

    def _go_on(self) -> None:
        """Carry out what waited."""
        waiting, self._waiting = self._waiting, []
        for edit in waiting:
            self._desk.do(edit)

    def _show_links(self) -> None:
        self._desk.looks.changed.emit()
        self._desk.selection_changed.emit()

    def _compile_first(self) -> None:
        """The first start on a machine: the kernels are compiled by another process; typing goes on meanwhile."""
        desk = self._desk
        desk.session.has_kernels = False
        desk.told.emit(COMPILING, "", False)

        def compile_what_dates_need() -> None:
            for part in ("passes", "load"):
                start_python("hexapod", "warm", "--part", part).communicate()

        def compile_the_rest() -> None:
            start_python("hexapod", "warm").communicate()

        def go_on(_: object) -> None:
            desk.session.has_kernels = True
            desk.told.emit("The calculations are ready.", "", False)
            self._compute()
            in_background(desk, compile_the_rest, lambda _: None, desk.tell_error)

        in_background(desk, compile_what_dates_need, go_on, go_on)
