"""Text that is laid out once and drawn many times: most of what a frame shows was there in the last one.

What is drawn for the first time is drawn plainly: laying it out pays from the second time on.

Faces are those that ``style.font`` shares, so that each is known by its identity.
"""

from __future__ import annotations

from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QFont, QFontMetricsF, QPainter, QStaticText, QTransform

from hexapod.desktop.theme import style

MOST = 8000  # texts that are kept

_Key = tuple[str, int, int]  # text, face, room
_texts: dict[_Key, tuple[QStaticText, float]] = {}
_seen: dict[_Key, tuple[str, float]] = {}  # what of a text there was room for, and its width
_metrics: dict[int, QFontMetricsF] = {}
_LEFT = Qt.AlignmentFlag.AlignLeft | Qt.AlignmentFlag.AlignVCenter
_RIGHT = Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter


def metrics_of(face: QFont) -> QFontMetricsF:
    key = id(face)
    found = _metrics.get(key)
    if found is None:
        found = _metrics[key] = QFontMetricsF(face)
    return found


def width_of(face: QFont, text: str) -> float:
    return metrics_of(face).horizontalAdvance(text)


def draw_text(painter: QPainter, face: QFont, text: str, box: QRectF, *, right: bool = False) -> None:
    """One line in the middle of a box, its end left out where there is no room. In the painter's pen."""
    if not text or box.width() < 4:
        return
    painter.setFont(face)
    if style.is_on_paper():  # there text has to stay text
        shown = painter.fontMetrics().elidedText(text, Qt.TextElideMode.ElideRight, int(box.width()))
        painter.drawText(box, _RIGHT if right else _LEFT, shown)
        return
    key = (text, id(face), int(box.width()))
    metrics = metrics_of(face)
    top = box.top() + (box.height() - metrics.height()) / 2
    if key not in _texts and key not in _seen:
        shown, width = _seen_first(key, metrics)
        painter.drawText(QPointF(box.right() - width if right else box.left(), top + metrics.ascent()), shown)
        return
    made, width = _texts.get(key) or _laid_out(key, face)
    painter.drawStaticText(QPointF(box.right() - width if right else box.left(), top), made)


def _seen_first(key: _Key, metrics: QFontMetricsF) -> tuple[str, float]:
    text, _, room = key
    shown, width = text, metrics.horizontalAdvance(text)
    if width > room:
        shown = metrics.elidedText(text, Qt.TextElideMode.ElideRight, room)
        width = metrics.horizontalAdvance(shown)
    if len(_seen) >= MOST:
        _seen.clear()
    found = _seen[key] = (shown, width)
    return found


def _laid_out(key: _Key, face: QFont) -> tuple[QStaticText, float]:
    shown, width = _seen.pop(key)
    made = QStaticText(shown)
    made.setTextFormat(Qt.TextFormat.PlainText)
    made.setPerformanceHint(QStaticText.PerformanceHint.AggressiveCaching)
    made.prepare(QTransform(), face)
    if len(_texts) >= MOST:
        _texts.clear()
    found = _texts[key] = (made, width)
    return found


def forget_texts() -> None:
    """The faces are others: another size of text, say."""
    _texts.clear()
    _seen.clear()
    _metrics.clear()
