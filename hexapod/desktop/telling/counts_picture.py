"""How many of each, as a few bars with their number on top; where there are several ways to count, one is chosen."""

from __future__ import annotations

from collections.abc import Callable, Sequence

from PyQt6.QtCore import QRectF
from PyQt6.QtGui import QFont, QPainter
from PyQt6.QtWidgets import QComboBox

from hexapod.desktop.frame.picture import Picture
from hexapod.desktop.theme.style import color, faded, font, scaled
from hexapod.desktop.theme.text import draw_text, width_of

TITLE, NUMBER, NAME, EDGE, WIDEST, LOWER = 26, 16, 20, 10, 44, 13


class CountsPicture(Picture):
    def __init__(self, name: str, title: str) -> None:
        super().__init__(name)
        self.title = title
        self.counts: list[tuple[str, int]] = []
        self.choice: QComboBox | None = None
        self.setAccessibleName(title)

    def offer(self, ways: Sequence[tuple[str, str]], chosen: str, choose: Callable[[str], object]) -> None:
        """Several ways to count, each with its title, in place of one title."""
        if self.choice is None:
            self.choice = box = QComboBox(self)
            box.setObjectName(f"{self.objectName()}By")
            box.setAccessibleName("What is counted")
            for key, words in ways:
                box.addItem(words, key)
            box.setProperty("role", "flat")
            box.adjustSize()
            box.move(scaled(EDGE) - 6, 3)
            box.activated.connect(lambda i: choose(box.itemData(i)))
            box.show()
        self.choice.setCurrentIndex(max(0, self.choice.findData(chosen)))
        self.title = self.choice.currentText()

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
        if self.choice is None:
            draw_text(painter, font(9, QFont.Weight.DemiBold), self.title, title)
        if not self.counts:
            return
        place = (whole.width() - 2 * scaled(EDGE)) / len(self.counts)
        staggers = any(
            width_of(font(8), words) > place + scaled(EDGE) for words, _ in self.counts
        )  # then every other one is lower
        names = scaled(NAME + (LOWER if staggers else 0))
        box = whole.adjusted(scaled(EDGE), scaled(TITLE + NUMBER), -scaled(EDGE), -names)
        most = max(1, *(count for _, count in self.counts))
        wide = min(place * 0.7, scaled(WIDEST))
        is_close = any(width_of(font(8.5), str(count)) > place - 4 for _, count in self.counts)
        for i, (words, count) in enumerate(self.counts):
            middle = box.left() + (i + 0.5) * place
            height = box.height() * count / most
            painter.fillRect(
                QRectF(middle - wide / 2, box.bottom() - height, wide, height), faded(color("petrol"), 120)
            )
            for text, face, top, tone in (
                (str(count), font(7.5 if is_close else 8.5), box.bottom() - height - scaled(NUMBER), "ink"),
                (words, font(8), box.bottom() + 1 + (scaled(LOWER) if staggers and i % 2 else 0), "muted"),
            ):
                painter.setPen(color(tone))
                room = 2 * place - 4 if staggers and text is words else place + scaled(EDGE)
                width = min(width_of(face, text) + 2, room)
                left = min(max(whole.left() + 4, middle - width / 2), whole.right() - 4 - width)
                draw_text(painter, face, text, QRectF(left, top, width, scaled(NUMBER)))
