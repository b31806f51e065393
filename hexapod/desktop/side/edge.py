"""The edge of the side panel: a press folds the panel to it, or opens it."""

from __future__ import annotations

from PyQt6.QtCore import QPointF, QRectF, QSize, Qt
from PyQt6.QtGui import QFont, QPainter, QPaintEvent, QPen, QPolygonF
from PyQt6.QtWidgets import QSizePolicy

from hexapod.desktop.parts import PaintedButton
from hexapod.desktop.theme.style import color, font
from hexapod.desktop.theme.tips import plain_tip

WIDE, NARROW = 24, 9


class Edge(PaintedButton):
    """Narrow beside the open panel; wider when it is folded, and then it says what is behind it."""

    def __init__(self) -> None:
        super().__init__()
        self.setObjectName("sideEdge")
        self.setFocusPolicy(Qt.FocusPolicy.TabFocus)
        self.setSizePolicy(QSizePolicy.Policy.Fixed, QSizePolicy.Policy.Expanding)
        self.show_folded(False)

    def show_folded(self, is_folded: bool, words: str = "") -> None:
        self._is_folded = is_folded
        self.setText(words)
        self.setFixedWidth(WIDE if is_folded else NARROW)
        what = "Open the side: why these dates (F12)" if is_folded else "Fold the side to its edge (F12)"
        self.setToolTip(plain_tip(what))
        self.setAccessibleName(what)
        self.update()

    def sizeHint(self) -> QSize:
        return QSize(self.width(), 100)

    def paintEvent(self, event: QPaintEvent) -> None:
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        is_warm = self.underMouse() or self.hasFocus()
        painter.fillRect(self.rect(), color("selection" if is_warm else "raised"))
        painter.fillRect(0, 0, 1, self.height(), color("rule"))
        middle, tall = self.width() / 2, 5.0
        top = 26.0 if self._is_folded else self.height() / 2
        point = -2.5 if self._is_folded else 2.5
        painter.setPen(QPen(color("petrol" if is_warm else "muted"), 1.6))
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.drawPolyline(QPolygonF([
            QPointF(middle - point, top - tall), QPointF(middle + point, top), QPointF(middle - point, top + tall),
        ]))  # fmt: skip
        if self._is_folded:
            painter.setPen(color("petrol" if is_warm else "muted"))
            painter.setFont(font(9, QFont.Weight.DemiBold))
            painter.translate(0, 44)
            painter.rotate(90)
            painter.drawText(QRectF(0, -self.width(), 400, self.width()), Qt.AlignmentFlag.AlignVCenter, self.text())
        painter.end()
