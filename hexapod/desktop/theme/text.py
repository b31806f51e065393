"""Text that is laid out once and drawn many times: most of what a frame shows was there in the last one.

What is drawn for the first time is drawn plainly: laying it out pays from the second time on.

Faces are those that ``style.font`` shares, so that each is known by its identity.
"""

from __future__ import annotations

from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QFont, QFontMetricsF, QPainter, QStaticText, QTransform

from hexapod.desktop.theme import style

MOST = 8000  # texts that are kept, and widths
WIDEST = 10_000.0  # pixels in which a text is cut off

_Key = tuple[str, int]  # what is shown, and its face
_texts: dict[_Key, QStaticText] = {}
_widths: dict[_Key, float] = {}
_seen: set[_Key] = set()  # what was drawn once
_cut: dict[tuple[str, int, int], str] = {}  # what of a text there was room for, in so many pixels
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
    key = (text, id(face))
    found = _widths.get(key)
    if found is None:
        if len(_widths) >= MOST:
            _widths.clear()
        found = _widths[key] = metrics_of(face).horizontalAdvance(text)
    return found


def draw_text(painter: QPainter, face: QFont, text: str, box: QRectF, *, right: bool = False) -> float:
    """One line in the middle of a box, in the painter's pen, its end left out where there is no room; its width."""
    if not text or box.width() < 4:
        return 0.0
    painter.setFont(face)
    if style.is_on_paper():  # there text has to stay text
        shown = painter.fontMetrics().elidedText(text, Qt.TextElideMode.ElideRight, int(min(box.width(), WIDEST)))
        painter.drawText(box, _RIGHT if right else _LEFT, shown)
        return float(painter.fontMetrics().horizontalAdvance(shown))
    room = int(box.width())
    shown = text if width_of(face, text) <= room else _elided(face, text, room)
    metrics = metrics_of(face)
    wide = width_of(face, shown)
    left = box.right() - wide if right else box.left()
    top = box.top() + (box.height() - metrics.height()) / 2
    key = (shown, id(face))
    made = _texts.get(key)
    if made is None and (face.strikeOut() or key not in _seen):  # Qt keeps the stroke where it was first drawn
        if len(_seen) >= MOST:
            _seen.clear()
        _seen.add(key)
        painter.drawText(QPointF(left, top + metrics.ascent()), shown)
        return wide
    painter.drawStaticText(QPointF(left, top), made or _laid_out(face, shown))
    return wide


def _elided(face: QFont, text: str, room: int) -> str:
    key = (text, id(face), room)
    found = _cut.get(key)
    if found is None:
        if len(_cut) >= MOST:
            _cut.clear()
        found = _cut[key] = metrics_of(face).elidedText(text, Qt.TextElideMode.ElideRight, room)
    return found


def _laid_out(face: QFont, shown: str) -> QStaticText:
    made = QStaticText(shown)
    made.setTextFormat(Qt.TextFormat.PlainText)
    made.setPerformanceHint(QStaticText.PerformanceHint.AggressiveCaching)
    made.prepare(QTransform(), face)
    if len(_texts) >= MOST:
        _texts.clear()
    _texts[(shown, id(face))] = made
    return made


def forget_texts() -> None:
    """The faces are others: another size of text, say."""
    for kept in (_texts, _widths, _seen, _cut, _metrics):
        kept.clear()
