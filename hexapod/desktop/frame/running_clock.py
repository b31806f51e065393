"""Keeps the sign of the running clock true, and asks about one that was forgotten when it is next seen."""

from __future__ import annotations

from PyQt6.QtCore import QObject, QTimer

from hexapod.control.worked import clock_words, is_forgotten
from hexapod.desktop.frame.rail import ClockChip
from hexapod.desktop.models.desk import Desk
from hexapod.worktime import clock

TICK = 15_000  # milliseconds


class RunningClockSign(QObject):
    """Shows ``chip`` while my clock runs."""

    def __init__(self, desk: Desk, chip: ClockChip) -> None:
        super().__init__(desk)
        self._desk, self._chip = desk, chip
        self._is_asked = False
        self._tick = QTimer(self, interval=TICK)
        self._tick.timeout.connect(self.refresh)
        self._tick.start()
        desk.hours.clock_changed.connect(self.refresh)
        desk.mine.changed.connect(self.refresh)
        desk.changed.connect(self.refresh)
        QTimer.singleShot(0, self.refresh)

    def refresh(self, *_: object) -> None:
        running = self._desk.hours.running
        if running is None:
            self._chip.hide()
            return
        name = self._desk.plan.tasks[running.task].name
        forgotten = is_forgotten(running, clock.now())
        self._chip.show_time("how long?" if forgotten else clock_words(clock.now() - running.since), name)
        if forgotten and not self._is_asked:
            self._is_asked = True
            self._desk.told.emit(f"Your clock on “{name}” was left running: press it and say how long you worked.",
                                 "", False)  # fmt: skip
