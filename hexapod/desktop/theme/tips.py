"""Tooltips as they stand: Qt would take one with tags in it for markup, whatever name of a task they come from."""

from __future__ import annotations

from html import escape

from PyQt6.QtCore import QEvent, QObject, Qt
from PyQt6.QtGui import QHelpEvent
from PyQt6.QtWidgets import QToolTip, QWidget


def plain_tip(text: str) -> str:
    """A text for a tooltip that is shown as it stands."""
    return f"<span style='white-space: pre-wrap'>{escape(text)}</span>" if Qt.mightBeRichText(text) else text


class PlainTips(QObject):
    """An event filter of the application: no tooltip of a widget is taken for markup."""

    def eventFilter(self, watched: QObject | None, event: QEvent | None) -> bool:
        if isinstance(event, QHelpEvent) and event.type() == QEvent.Type.ToolTip and isinstance(watched, QWidget):
            text = watched.toolTip()
            if Qt.mightBeRichText(text):
                QToolTip.showText(event.globalPos(), plain_tip(text), watched)
                return True
        return super().eventFilter(watched, event)
