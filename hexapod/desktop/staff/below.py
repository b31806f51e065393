"""The pane beneath a field of cells: what is looked at in a line, its gist, and two columns of what is behind it."""

from __future__ import annotations

from PyQt6.QtWidgets import QFrame, QGridLayout, QHBoxLayout, QScrollArea, QVBoxLayout, QWidget

from hexapod.desktop.models.desk import Desk
from hexapod.desktop.parts import label


class Below(QFrame):
    """``lines`` is the left column, a grid; ``more`` the right one."""

    def __init__(self, desk: Desk, name: str, widths: tuple[int, int], stretched: int) -> None:
        super().__init__()
        self.setObjectName("behind")
        self._desk = desk
        self.title, self.says = label("", "title"), label("", "value")
        self.title.setObjectName(f"{name}Title")
        self.says.setObjectName(f"{name}Says")
        self.lines, self.more = QGridLayout(), QVBoxLayout()
        self.lines.setHorizontalSpacing(14)
        self.lines.setVerticalSpacing(1)
        self.lines.setColumnStretch(stretched, 1)
        self.more.setSpacing(1)
        inside = QWidget()
        line = QHBoxLayout(inside)
        line.setContentsMargins(0, 0, 0, 0)
        line.setSpacing(28)
        for column, width in zip((self.lines, self.more), widths, strict=True):
            side = QVBoxLayout()
            side.addLayout(column)
            side.addStretch(1)
            line.addLayout(side, width)
        scroll = QScrollArea()
        scroll.setWidget(inside)
        scroll.setWidgetResizable(True)
        scroll.setFrameShape(QFrame.Shape.NoFrame)
        box = QVBoxLayout(self)
        box.setContentsMargins(14, 8, 14, 8)
        box.setSpacing(2)
        box.addWidget(self.title)
        box.addWidget(self.says)
        box.addWidget(scroll, 1)

    def say(self, title: str, gist: str, *, is_trouble: bool = False) -> None:
        """The line above the columns."""
        self.title.setText(title)
        self.says.setText(gist)
        self.says.setProperty("role", "trouble" if is_trouble else "value")
        style = self.says.style()
        if style is not None:
            style.polish(self.says)
