"""Text that is laid out once and drawn many times: most of what a frame shows was there in the last one.

Faces are those that ``style.font`` shares, so that each is known by its identity.
"""

from __future__ import annotations

from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QFont, QFontMetricsF, QPainter, QStaticText, QTransform

from hexapod.desktop.theme import style

MOST = 8000  # texts that are kept

_Made = tuple[QStaticText, float]
_texts: dict[tuple[str, int, int], _Made] = {}
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
    made, width = _laid_out(face, text, int(box.width()))
    metrics = metrics_of(face)
    x = box.right() - width if right else box.left()
    painter.drawStaticText(QPointF(x, box.top() + (box.height() - metrics.height()) / 2), made)


def _laid_out(face: QFont, text: str, room: int) -> _Made:
    key = (text, id(face), room)
    found = _texts.get(key)
    if found is None:
        metrics = metrics_of(face)
        shown = text
        if metrics.horizontalAdvance(text) > room:
            shown = metrics.elidedText(text, Qt.TextElideMode.ElideRight, room)
        made = QStaticText(shown)
        made.setTextFormat(Qt.TextFormat.PlainText)
        made.setPerformanceHint(QStaticText.PerformanceHint.AggressiveCaching)
        made.prepare(QTransform(), face)
        if len(_texts) >= MOST:
            _texts.clear()
        found = _texts[key] = (made, metrics.horizontalAdvance(shown))
    return found


def forget_texts() -> None:
    """The faces are others: another size of text, say."""
    _texts.clear()
    _metrics.clear()
