"""How many of each, as a few bars with their number on top."""

from __future__ import annotations

from collections.abc import Sequence

from PyQt6.QtCore import QRectF
from PyQt6.QtGui import QFont, QPainter

from hexapod.desktop.frame.picture import Picture
from hexapod.desktop.theme.style import color, faded, font, scaled
from hexapod.desktop.theme.text import draw_text, width_of

TITLE, NUMBER, NAME, EDGE, WIDEST = 26, 16, 20, 10, 44


class CountsPicture(Picture):
    def __init__(self, name: str, title: str) -> None:
        super().__init__(name)
        self.title = title
        self.counts: list[tuple[str, int]] = []
        self.setAccessibleName(title)

    def show_counts(self, counts: Sequence[tuple[str, int]]) -> None:
        self.counts = list(counts)
        self.setAccessibleName(f"{self.title}: {', '.join(f'{words} {count}' for words, count in counts)}")
        self.update()

    def paint(self, painter: QPainter, whole: QRectF) -> None:
        painter.setPen(color("rule"))
        painter.setBrush(color("panel"))
        painter.drawRoundedRect(whole.adjusted(0.5, 0.5, -0.5, -0.5), 4, 4)
        painter.setPen(color("ink"))
        title = QRectF(scaled(EDGE), 4, whole.width() - 2 * scaled(EDGE), scaled(TITLE) - 4)
        draw_text(painter, font(9, QFont.Weight.DemiBold), self.title, title)
        if not self.counts:
            return
        box = whole.adjusted(scaled(EDGE), scaled(TITLE + NUMBER), -scaled(EDGE), -scaled(NAME))
        most, place = max(1, *(count for _, count in self.counts)), box.width() / len(self.counts)
        wide = min(place * 0.7, scaled(WIDEST))
        for i, (words, count) in enumerate(self.counts):
            middle = box.left() + (i + 0.5) * place
            height = box.height() * count / most
            painter.fillRect(
                QRectF(middle - wide / 2, box.bottom() - height, wide, height), faded(color("petrol"), 120)
            )
            for text, face, top, tone in (
                (str(count), font(8.5), box.bottom() - height - scaled(NUMBER), "ink"),
                (words, font(8), box.bottom() + 1, "muted"),
            ):
                painter.setPen(color(tone))
                width = min(width_of(face, text) + 2, place + scaled(EDGE))
                draw_text(painter, face, text, QRectF(middle - width / 2, top, width, scaled(NUMBER)))
