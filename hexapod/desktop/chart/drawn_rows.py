"""The bars of rows as they were drawn, kept for as long as they show nothing else."""

from __future__ import annotations

from collections.abc import Callable

from PyQt6.QtCore import QPointF, Qt
from PyQt6.QtGui import QPainter, QPixmap

from hexapod.desktop.theme.measures import TALLEST_ROW

MOST_DRAWN = 120
ROLLED_UP = ""  # beside a summary: its row shows the parts that are folded into it

Key = tuple[str, ...]  # the tasks of a row


class DrawnRows:
    """Pictures of rows by the tasks that they show, at one scale; the oldest goes when there are too many."""

    def __init__(self) -> None:
        self._kept: dict[Key, QPixmap] = {}

    def __contains__(self, key: Key) -> bool:
        return key in self._kept

    def clear(self) -> None:
        self._kept.clear()

    def keep_only(self, tasks: set[str]) -> None:
        """The rows of these tasks; not one with parts folded into it, of which it is not known which they are."""
        self._kept = {key: picture for key, picture in self._kept.items() if tasks.issuperset(key)}

    def draw(self, key: Key, width: int, ratio: float, bars: Callable[[QPainter], None]) -> None:
        picture = QPixmap(round(width * ratio), round(TALLEST_ROW * ratio))
        picture.setDevicePixelRatio(ratio)
        picture.fill(Qt.GlobalColor.transparent)
        painter = QPainter(picture)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        bars(painter)
        painter.end()
        if len(self._kept) >= MOST_DRAWN:
            del self._kept[next(iter(self._kept))]
        self._kept[key] = picture

    def paint(self, painter: QPainter, key: Key, top: float) -> None:
        """A row, if it was drawn."""
        if (picture := self._kept.get(key)) is not None:
            painter.drawPixmap(QPointF(0, top), picture)
