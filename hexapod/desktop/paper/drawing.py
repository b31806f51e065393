"""What can be put on paper."""

from __future__ import annotations

from typing import Protocol

from PyQt6.QtGui import QPainter

from hexapod.desktop.paper.frame import Title
from hexapod.desktop.paper.paper import Paper, Tile


class Drawing(Protocol):
    """``pages`` cuts it for some paper, ``paint`` draws one page into the room that the paper leaves."""

    name: str

    def pages(self, paper: Paper) -> list[Tile]: ...
    def paint(self, painter: QPainter, paper: Paper, tile: Tile) -> None: ...
    def size(self) -> tuple[float, float]: ...
    def paint_whole(self, painter: QPainter) -> None: ...
    def title(self) -> Title: ...
