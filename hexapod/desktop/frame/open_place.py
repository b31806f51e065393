"""Opening a file or a web page that the plan names."""

from __future__ import annotations

import re

from PyQt6.QtCore import QUrl
from PyQt6.QtGui import QDesktopServices

from hexapod.desktop.models.desk import Desk
from hexapod.formats.attached import WEB, is_missing, path_of

_WHOLE = re.compile(rf"{WEB.pattern}\S+", re.IGNORECASE)


def open_place(desk: Desk, place: str) -> None:
    """Only web pages and files that are there; never a program by another scheme."""
    workspace = desk.session.workspace.path
    path = path_of(workspace, place)
    if path is None:
        if _WHOLE.fullmatch(place):
            QDesktopServices.openUrl(QUrl(place))
    elif not is_missing(workspace, place):
        QDesktopServices.openUrl(QUrl.fromLocalFile(str(path)))
    else:
        desk.told.emit(f"There is no file {path}.", "trouble", False)
