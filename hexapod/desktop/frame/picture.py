"""What pictures share: they paint themselves into any painter, and rule their axes alike."""

from __future__ import annotations

from collections.abc import Callable, Iterable

from PyQt6.QtCore import QRectF
from PyQt6.QtGui import QPainter, QPaintEvent
from PyQt6.QtWidgets import QWidget

from hexapod.desktop import dates
from hexapod.desktop.theme.style import color, font, scaled
from hexapod.desktop.theme.text import draw_text, width_of
from hexapod.plan.records import DAY

EDGE = 14  # pixels that words of an axis may reach beyond it


class Picture(QWidget):
    """Subclasses ``paint``."""

    def __init__(self, name: str) -> None:
        super().__init__()
        self.setObjectName(name)

    def paintEvent(self, event: QPaintEvent) -> None:
        painter = QPainter(self)
        try:
            painter.setRenderHint(QPainter.RenderHint.Antialiasing)
            self.paint(painter, QRectF(self.rect()))
        finally:
            painter.end()

    def paint(self, painter: QPainter, whole: QRectF) -> None:
        """Into any painter: the screen, or paper."""
        raise AssertionError("a picture paints itself")


def rule_across(painter: QPainter, box: QRectF, marks: Iterable[tuple[float, str]]) -> None:
    """Lines across a picture, each with its words at the left; a mark says how far up it is, 0 to 1."""
    for part, words in marks:
        y = box.bottom() - box.height() * part
        painter.fillRect(QRectF(box.left(), y, box.width(), 1), color("rule"))
        painter.setPen(color("muted"))
        draw_text(painter, font(8.5), words, QRectF(0, y - 9, box.left() - 8, 18), right=True)


def rule_days(painter: QPainter, box: QRectF, first: int, last: int, *, lines: bool = False) -> None:
    """Days beneath a picture between two moments, with ``lines`` through it where they are wanted."""
    for at in days_between(first, last, int(box.width() // scaled(110))):
        x = box.left() + box.width() * (at - first) / max(1, last - first)
        if lines:
            painter.fillRect(QRectF(x, box.top(), 1, box.height()), color("rule"))
        painter.setPen(color("muted"))
        words, face = dates.short_day(at), font(8.5)
        left = min(x, box.right() + EDGE - width_of(face, words))  # the last one is not cut off
        draw_text(painter, face, words, QRectF(left, box.bottom() + 6, scaled(90), 18))


def days_between(first: int, last: int, count: int) -> range:
    """Midnights as far apart as one another between two moments, about so many, at least two."""
    apart = max(DAY, -(-(last - first) // max(2, count) // DAY) * DAY)
    return range(-(-first // DAY) * DAY, last + 1, apart)


def amount_marks(most: int, unit: int, said: Callable[[int], str]) -> list[tuple[float, str]]:
    """Round amounts from nothing up to the most, as ``rule_across`` wants them; ``unit`` is the least step."""
    step = 10 ** (len(str(max(1, most // unit))) - 1) * unit
    step = max(unit, step // 2 if most // step < 4 else step)
    return [(amount / most, said(amount)) for amount in range(0, most + 1, step)]
