"""What lies on a row of the chart that a link must not cross: bars and letters."""

from __future__ import annotations

from collections.abc import Iterator, Sequence

from PyQt6.QtCore import QRectF

from hexapod.desktop.chart import geometry as g
from hexapod.desktop.chart.painter import RowPicture, label_width
from hexapod.desktop.chart.routing import Interval

BESIDE_LETTERS = 2.0


def taken(shown: Sequence[RowPicture], bars: Sequence[QRectF]) -> Iterator[Interval]:
    """From where to where. What stands for a summary is hollow, and links pass under it."""
    widths = [label_width(picture) for picture in shown]
    labels = g.placed_labels(bars, widths) if len(shown) > 1 else [g.label_box(bars[0], widths[0])] if shown else []
    for picture, bar, label in zip(shown, bars, labels, strict=True):
        if not picture.is_summary:
            yield bar.left(), bar.right()
        if label is not None and label.right() > bar.right():
            yield label.left() - BESIDE_LETTERS, label.right() + BESIDE_LETTERS
