"""What lies on a row of the chart that a link must not cross: bars and letters."""

from __future__ import annotations

from collections.abc import Iterator, Sequence

from PyQt6.QtCore import QRectF

from hexapod.desktop.chart import geometry as g
from hexapod.desktop.chart.routing import Interval
from hexapod.desktop.theme.style import font
from hexapod.desktop.theme.text import width_of

BESIDE_LETTERS = 2.0


def taken(labels: Sequence[str], bars: Sequence[QRectF], hollow: Sequence[bool]) -> Iterator[Interval]:
    """From where to where, of the tasks on a row. What is ``hollow``, a summary, links pass under."""
    face = font(8)
    widths = [width_of(face, text) if text else 0.0 for text in labels]
    for is_hollow, bar, box in zip(hollow, bars, g.placed_labels(bars, widths, hollow), strict=True):
        if not is_hollow:
            yield bar.left(), bar.right()
        if box is not None and box.right() > bar.right():
            yield box.left() - BESIDE_LETTERS, box.right() + BESIDE_LETTERS
