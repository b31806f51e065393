"""A picture of a part of Track or Try on paper, with the sentence above it."""

from __future__ import annotations

from typing import Protocol

from PyQt6.QtCore import QRectF, Qt
from PyQt6.QtGui import QFont, QPainter

from hexapod.desktop import dates
from hexapod.desktop.models.desk import Desk
from hexapod.desktop.paper.frame import Title
from hexapod.desktop.paper.paper import Paper, Tile
from hexapod.desktop.theme.style import color, font
from hexapod.worktime.clock import today

SIZE = (1100.0, 640.0)
WORDS = 44.0  # the room for the sentence


class Picture(Protocol):
    """A widget that paints itself into any painter."""

    def paint(self, painter: QPainter, whole: QRectF) -> None: ...


class PictureDrawing:
    """``sentence`` is what the view says above its picture."""

    def __init__(self, desk: Desk, name: str, picture: Picture, sentence: str) -> None:
        self.name = name
        self._desk, self._picture, self._sentence = desk, picture, sentence

    def title(self) -> Title:
        desk = self._desk
        project = desk.plan.projects.get(desk.project or "")
        stem = desk.session.workspace.path.stem
        return Title(stem if project is None else project.name, self.name.capitalize(),
                     ("", f"{stem}, {dates.long_day(today())}"))  # fmt: skip

    def size(self) -> tuple[float, float]:
        return SIZE

    def pages(self, paper: Paper) -> list[Tile]:
        body = paper.body()
        return [Tile(0, 0, QRectF(0, 0, body.width(), body.height()))]

    def paint(self, painter: QPainter, paper: Paper, tile: Tile) -> None:
        body = paper.body()
        wide, high = SIZE
        smaller = min(body.width() / wide, body.height() / high)
        painter.save()
        painter.translate(body.topLeft())
        painter.scale(smaller, smaller)
        self.paint_whole(painter)
        painter.restore()

    def paint_whole(self, painter: QPainter) -> None:
        wide, high = SIZE
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.setPen(color("ink"))
        painter.setFont(font(11, QFont.Weight.DemiBold))
        flags = Qt.AlignmentFlag.AlignLeft | Qt.TextFlag.TextWordWrap
        painter.drawText(QRectF(0, 0, wide, WORDS), flags, self._sentence)
        painter.save()
        painter.translate(0, WORDS)
        self._picture.paint(painter, QRectF(0, 0, wide, high - WORDS))
        painter.restore()
