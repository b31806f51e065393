"""Tooltips as they stand: Qt would take one with tags in it for markup, whatever name of a task they come from."""

from __future__ import annotations

from html import escape

from PyQt6.QtCore import Qt


def plain_tip(text: str) -> str:
    """A text for a tooltip that is shown as it stands; to be used for every tooltip that is not a fixed text."""
    return f"<span style='white-space: pre-wrap'>{escape(text)}</span>" if Qt.mightBeRichText(text) else text
