"""Pictures of what was drawn before, by all that they show: what is still the same is stamped, not drawn anew."""

from __future__ import annotations

from collections.abc import Callable, Hashable

from PyQt6.QtCore import QRectF, QSizeF
from PyQt6.QtGui import QPainter, QPixmap

from hexapod.desktop.theme.style import is_on_paper, palette, points


class Pictures:
    """Those of one view, the latest ``most`` of them."""

    def __init__(self, most: int) -> None:
        self._most = most
        self._drawn: dict[Hashable, QPixmap] = {}

    def stamp(self, painter: QPainter, box: QRectF, shows: Hashable, draw: Callable[[QPainter], None]) -> None:
        """Show a picture in a box. ``draw`` fills the box from (0, 0) on; it is called if what it ``shows`` is new.

        Where the box has no whole number of the screen's points, or on paper, it is drawn in its place.
        """
        device = painter.device()
        ratio = device.devicePixelRatio() if device is not None else 1.0
        size = QSizeF(box.width() * ratio, box.height() * ratio)
        if is_on_paper() or any(abs(x - round(x)) > 1e-6 for x in (size.width(), size.height(), box.top() * ratio)):
            painter.save()
            painter.translate(box.topLeft())
            draw(painter)
            painter.restore()
            return
        key = (shows, box.width(), box.height(), ratio, palette().name, points(1000))
        picture = self._drawn.pop(key, None)
        if picture is None:
            picture = QPixmap(size.toSize())
            picture.setDevicePixelRatio(ratio)
            inner = QPainter(picture)
            inner.setRenderHint(QPainter.RenderHint.Antialiasing)
            draw(inner)
            inner.end()
            if len(self._drawn) >= self._most:
                del self._drawn[next(iter(self._drawn))]
        self._drawn[key] = picture  # behind those that were not asked for since
        painter.drawPixmap(box.topLeft(), picture)
