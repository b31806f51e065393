"""Where the plan is now, when its file was taken away, or what of a damaged file is missing; and what can be done."""

from __future__ import annotations

import re

from PyQt6.QtCore import Qt, QUrl
from PyQt6.QtGui import QDesktopServices
from PyQt6.QtWidgets import QPushButton

from hexapod.desktop.action import Registry
from hexapod.desktop.frame.page import Page
from hexapod.desktop.models.desk import Desk
from hexapod.desktop.parts import heading, label
from hexapod.system.files import shown

LONGEST_PIECE = 16  # characters without a place to go on in the next line


class FilePage(Page):
    """``words`` is what happened; empty where nothing did."""

    def __init__(self, desk: Desk, registry: Registry) -> None:
        super().__init__(desk, "The file of this workspace")
        self._registry = registry
        self.words = ""

    def fill(self) -> None:
        workspace = self.desk.session.workspace
        self.box.addWidget(label("The file", "title"))
        if self.words:
            says = label(_breakable(self.words), "trouble", wrap=True)
            says.setObjectName("fileSays")
            says.setTextInteractionFlags(Qt.TextInteractionFlag.TextSelectableByMouse)
            self.box.addWidget(says)
        self.box.addWidget(heading("Where it is"))
        self.box.addWidget(label(_breakable(shown(workspace.path.name)), wrap=True))
        self.box.addWidget(label(_breakable(f"in {shown(workspace.path.parent)}"), "small", wrap=True))
        for text, name, press in (
            ("Save a copy elsewhere…", "fileCopy", self._registry.qt("workspace.copy").trigger),
            ("Open its folder", "fileFolder", self._open_folder),
        ):
            button = QPushButton(text)
            button.setObjectName(name)
            button.clicked.connect(press)
            self.box.addWidget(button, 0, Qt.AlignmentFlag.AlignLeft)
        if workspace.left_out:
            self.box.addWidget(heading("What could not be read"))
            for part in workspace.left_out:
                self.box.addWidget(label(_breakable(part), "small", wrap=True))

    def _open_folder(self) -> None:
        QDesktopServices.openUrl(QUrl.fromLocalFile(str(self.desk.session.workspace.path.parent)))


def _breakable(text: str) -> str:
    """The text with places at which a long path or name goes on in the next line."""
    return re.sub(rf"(\S{{{LONGEST_PIECE}}})", "\\1\u200b", text)
