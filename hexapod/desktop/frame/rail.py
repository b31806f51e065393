"""The rail at the left: the legs of a scheduler's day that there are."""

from __future__ import annotations

from PyQt6.QtCore import QPointF, QRectF, QSize, Qt, pyqtSignal
from PyQt6.QtGui import QColor, QFont, QPainter, QPaintEvent, QPen
from PyQt6.QtWidgets import QFrame, QVBoxLayout

from hexapod.desktop.chart.geometry import hexagon
from hexapod.desktop.parts import PaintedButton
from hexapod.desktop.theme.style import color, font
from hexapod.desktop.theme.tips import plain_tip

LEGS = (
    ("build", 1, "Build", "What has to be done, and when"),
    ("link", 2, "Link", "What waits for what, and what drives the finish"),
    ("staff", 3, "Staff", "Who does it, and can they"),
    ("track", 4, "Track", "How far it is, and what that does"),
    ("trying", 5, "Try", "How sure is it, and what may happen"),
    ("telling", 6, "Tell", "How all projects stand, for who needs to know"),
)
WIDTH = 64


class LegButton(PaintedButton):
    def __init__(self, number: int, name: str, question: str) -> None:
        super().__init__()
        self._number = number
        self.setText(name)
        self.setAccessibleName(f"{name}: {question}")
        self.setToolTip(plain_tip(f"{question} (Ctrl+{number})"))
        self.setCheckable(True)
        self.setFixedSize(QSize(WIDTH, 60))

    def paintEvent(self, event: QPaintEvent) -> None:
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        on = QColor("#0E5A63")
        if self.isChecked():
            painter.fillRect(self.rect(), on)
        elif self.underMouse() or self.hasFocus():
            painter.fillRect(self.rect(), color("frame_field"))
        center = QPointF(WIDTH / 2, 22)
        painter.setPen(QPen(color("on_frame" if self.isChecked() else "on_frame_muted"), 1.6))
        painter.setBrush(color("on_frame") if self.isChecked() else Qt.BrushStyle.NoBrush)
        painter.drawPolygon(hexagon(center, 14))
        painter.setPen(on if self.isChecked() else color("on_frame"))
        painter.setFont(font(8.5, QFont.Weight.DemiBold))
        painter.drawText(QRectF(center.x() - 12, 10, 24, 24), Qt.AlignmentFlag.AlignCenter, str(self._number))
        painter.setPen(color("on_frame"))
        painter.setFont(font(8.5, QFont.Weight.DemiBold))
        painter.drawText(QRectF(0, 40, WIDTH, 16), Qt.AlignmentFlag.AlignCenter, self.text())
        painter.end()


class ClockChip(PaintedButton):
    """The clock that runs, as long as one does: how long, and how to stop it."""

    def __init__(self) -> None:
        super().__init__()
        self.setObjectName("runningClock")
        self.setFixedSize(QSize(WIDTH, 46))
        self.hide()

    def show_time(self, words: str, task: str) -> None:
        self.setText(words)
        self.setAccessibleName(f"The clock on {task}: {words}")
        self.setToolTip(plain_tip(f"The clock runs on “{task}”. Press for its hours."))
        self.show()
        self.update()

    def paintEvent(self, event: QPaintEvent) -> None:
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        if self.underMouse() or self.hasFocus():
            painter.fillRect(self.rect(), color("frame_field"))
        middle = QPointF(WIDTH / 2, 13)
        painter.setPen(QPen(color("frame_amber"), 1.6))
        painter.drawEllipse(middle, 7, 7)
        painter.drawLine(middle, middle + QPointF(0, -4.5))
        painter.drawLine(middle, middle + QPointF(3.5, 0))
        painter.setFont(font(9, QFont.Weight.DemiBold))
        painter.drawText(QRectF(0, 24, WIDTH, 18), Qt.AlignmentFlag.AlignCenter, self.text())
        painter.end()


class Rail(QFrame):
    """``chosen`` carries a leg's name."""

    chosen = pyqtSignal(str)

    def __init__(self) -> None:
        super().__init__()
        self.setObjectName("rail")
        self.setFixedWidth(WIDTH)
        box = QVBoxLayout(self)
        box.setContentsMargins(0, 8, 0, 0)
        box.setSpacing(4)
        self._buttons: dict[str, LegButton] = {}
        for leg, number, name, question in LEGS:
            button = LegButton(number, name, question)
            button.setObjectName(f"leg.{leg}")
            button.clicked.connect(lambda _, chosen=leg: self.chosen.emit(chosen))
            self._buttons[leg] = button
            box.addWidget(button)
        box.addStretch(1)
        self.clock = ClockChip()
        box.addWidget(self.clock)

    def show_leg(self, leg: str) -> None:
        for name, button in self._buttons.items():
            button.setChecked(name == leg)
