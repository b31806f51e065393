"""Wait for what a window does later: for something to hold, or until it has done what it put off.

Never for a time that is long enough on some machines.
"""

from __future__ import annotations

import time
from collections.abc import Callable, Iterator
from typing import TypeVar

from PyQt6.QtCore import QTimer
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QApplication

from hexapod.desktop.models import background

SHORT = 35  # milliseconds: what waits longer, such as a notice that fades, is nothing to wait for
QUIET = 4  # turns without anything to do: what is made in one is laid out and shown in those after it
PATIENCE = 60  # seconds after which something has gone wrong

T = TypeVar("T")


def wait_for(what: Callable[[], T], *, every: int = 10) -> T:
    """Let the windows work until something is there, asked so many milliseconds apart; fails if it never is."""
    give_up = time.monotonic() + PATIENCE
    while not (found := what()):
        if time.monotonic() > give_up:
            raise AssertionError("waited in vain")
        QTest.qWait(every)
    return found


def settle() -> None:
    """Let the windows work until none has anything left to do at once: what comes last shows what it made."""
    quiet_turns = 0

    def is_at_rest() -> bool:
        nonlocal quiet_turns
        before = set(background._underway)
        QTest.qWait(1)
        QApplication.processEvents()  # all that came meanwhile: a wait ends after its time, whatever is left
        # What came in from beside the interface in this turn may have made widgets that are shown in the next one.
        is_quiet = background._underway == before and not any(
            t.isActive() and t.isSingleShot() and t.interval() <= SHORT for t in _timers()
        )
        quiet_turns = quiet_turns + 1 if is_quiet else 0
        return quiet_turns == QUIET

    wait_for(is_at_rest, every=0)


def _timers() -> Iterator[QTimer]:
    for window in (w for w in QApplication.topLevelWidgets() if w.isVisible()):
        yield from window.findChildren(QTimer)
