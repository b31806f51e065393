"""A folder that other people put files into: remembered under a name, watched, and read a moment after it changed."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path
from typing import TYPE_CHECKING

from PyQt6.QtCore import QFileSystemWatcher, QObject, QTimer, pyqtSignal

from hexapod.desktop.models.one_at_a_time import OneAtATime

if TYPE_CHECKING:
    from hexapod.desktop.models.desk import Desk

SETTLED = 400  # milliseconds after its last change


class WatchedFolder(QObject):
    """``path`` is as it was typed, "" for none; ``wanted`` says that it is time to read it."""

    wanted = pyqtSignal()

    def __init__(self, owner: QObject, desk: Desk, name: str, usual: str = "") -> None:
        super().__init__(owner)
        self._desk, self._name = desk, name
        self.path = desk.memory.recall(name, str, "")
        if not self.path and usual and Path(usual).is_dir():
            self.path = usual
        self._reading = OneAtATime(self, self.wanted.emit)
        self._watcher = QFileSystemWatcher(self)
        self._soon = QTimer(self, singleShot=True, interval=SETTLED)
        self._soon.timeout.connect(self.wanted)
        self._watcher.directoryChanged.connect(lambda _: self.soon())

    @property
    def place(self) -> Path:
        return Path(self.path).expanduser()

    def choose(self, path: str) -> bool:
        """Another folder; false where it is the same."""
        path = path.strip()
        if path == self.path:
            return False
        self.path = path
        self._desk.memory.keep(self._name, path)
        self.watch()
        return True

    def watch(self) -> None:
        """Follow the folder, which may only be there now, and read it."""
        if self._watcher.directories():
            self._watcher.removePaths(self._watcher.directories())
        if self.path and self.place.is_dir():
            self._watcher.addPath(str(self.place))
            self.soon()

    def soon(self) -> None:
        self._soon.start()

    def read(
        self, how: Callable[[], object], take: Callable[[object], object], fail: Callable[[Exception], object]
    ) -> None:
        """Beside the interface. Who asks while it is being read is asked to read again afterwards."""
        self._reading.start(how, take, fail)
