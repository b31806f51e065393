"""Chips: answers and what else can be said, to be pressed in a row of a list."""

from __future__ import annotations

from collections.abc import Iterable
from typing import NamedTuple

from PyQt6.QtCore import QPointF, QRectF
from PyQt6.QtGui import QFont, QPainter, QPen

from hexapod.desktop.theme.style import color, font
from hexapod.desktop.theme.text import draw_text, width_of

NARROWEST, BETWEEN = 40, 6


class Chip(NamedTuple):
    """Something to press: ``typed`` is what an editor then begins with, None where a press is all."""

    words: str
    is_on: bool
    typed: str | None


def placed(chips: Iterable[Chip], left: float, right: float, top: float, height: float) -> list[tuple[Chip, QRectF]]:
    """The chips with where they are, from the left; what does not fit is left out."""
    found = []
    for chip in chips:
        wanted = width_of(_face(chip), chip.words) + 18
        wide = min(wanted, right - left)
        if wide < min(wanted, NARROWEST):
            break
        found.append((chip, QRectF(left, top, wide, height)))
        left += wide + BETWEEN
    return found


def paint_chip(painter: QPainter, chip: Chip, box: QRectF) -> None:
    painter.setPen(QPen(color("petrol") if chip.is_on else color("link"), 1.0))
    painter.setBrush(color("petrol") if chip.is_on else color("panel"))
    painter.drawRoundedRect(box.adjusted(0.5, 0.5, -0.5, -0.5), box.height() / 2, box.height() / 2)
    painter.setPen(color("on_petrol" if chip.is_on else "ink"))
    inner = QRectF(box.topLeft() + QPointF(9, 0), box.bottomRight() - QPointF(6, 0))
    draw_text(painter, _face(chip), chip.words, inner)


def _face(chip: Chip) -> QFont:
    return font(8.5, QFont.Weight.DemiBold if chip.is_on else QFont.Weight.Normal)
