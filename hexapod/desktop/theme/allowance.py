"""How long a frame may draw what was never drawn before, so that no frame is late; the rest comes with the next.

What was drawn before is kept as a picture, and costs next to nothing. A jump to rows that nobody has looked at
yet, all at once, would take longer than a screen waits: some come whole, some by name, the rest follows.
"""

from __future__ import annotations

import time
from collections.abc import Callable

from PyQt6.QtCore import QObject, QTimer
from PyQt6.QtWidgets import QWidget

IN_AN_EVENT, BETWEEN_EVENTS = 0.001, 0.002  # seconds; what people do takes its part of the first frame
FOR_THE_LEAST = 0.0008  # more seconds, for the least that tells one thing from another


class Allowance(QObject):
    """Of one view: ``begin`` each frame, draw something new while it ``is_left``, else say that something ``lacks``."""

    def __init__(self, view: QWidget, again: Callable[[], None]) -> None:
        super().__init__(view)
        self.view = view
        self._until = 0.0
        self._is_between = False
        self._owes = False
        self._again = again
        self.is_due = False  # whether something is not drawn yet
        self._next = QTimer(self, singleShot=True, interval=0)
        self._next.timeout.connect(self._catch_up)

    def begin(self) -> None:
        self._until = time.perf_counter() + (BETWEEN_EVENTS if self._is_between else IN_AN_EVENT)
        self._owes = self._is_between  # so that it ends also where a frame has no time left before it begins
        self._is_between = self.is_due = False

    def is_left(self) -> bool:
        """Whether one more thing may be drawn; in a frame that follows an event the first one always may."""
        owed, self._owes = self._owes, False
        return owed or time.perf_counter() < self._until

    def is_spent(self) -> bool:
        """Whether ``is_left`` would say no: asked before it is looked up whether there is anything to draw."""
        return not self._owes and time.perf_counter() >= self._until

    def is_left_for_the_least(self) -> bool:
        return time.perf_counter() < self._until + FOR_THE_LEAST

    def lacks(self) -> None:
        """Something is not drawn yet: there is another frame as soon as what people do was taken in."""
        self.is_due = True
        self._next.start()

    def _catch_up(self) -> None:
        self._is_between = True
        self._again()
