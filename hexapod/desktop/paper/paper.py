"""What paper there is, and how a drawing is cut into pages. Lengths are pixels of 1/96 inch, as on screen."""

from __future__ import annotations

import math
from dataclasses import dataclass
from enum import StrEnum

from PyQt6.QtCore import QMarginsF, QRectF
from PyQt6.QtGui import QPageLayout, QPageSize

from hexapod.errors import BadText

DPI = 96
MARGIN_MM = 9.0
TITLE, FOOT, LEGEND = 44.0, 22.0, 24.0
SMALLEST = (260.0, 200.0)  # the least room for a drawing on a page
SMALLEST_SCALE = 0.2
MOST_PAGES = 5000


class Fit(StrEnum):
    """How a drawing comes onto paper."""

    ONE = "all on one page"
    WIDTH = "one page wide"
    PAGES = "as large as on screen, over pages"


SIZES = {
    "A4": QPageSize.PageSizeId.A4,
    "A3": QPageSize.PageSizeId.A3,
    "A2": QPageSize.PageSizeId.A2,
    "A1": QPageSize.PageSizeId.A1,
    "A0": QPageSize.PageSizeId.A0,
    "A5": QPageSize.PageSizeId.A5,
    "Letter": QPageSize.PageSizeId.Letter,
    "Tabloid": QPageSize.PageSizeId.Tabloid,
}


@dataclass(frozen=True)
class Paper:
    size: str = "A4"
    landscape: bool = True
    fit: Fit = Fit.WIDTH
    title: bool = True
    legend: bool = True

    def layout(self) -> QPageLayout:
        """The page for Qt."""
        turned = QPageLayout.Orientation.Landscape if self.landscape else QPageLayout.Orientation.Portrait
        margins = QMarginsF(MARGIN_MM, MARGIN_MM, MARGIN_MM, MARGIN_MM)
        return QPageLayout(QPageSize(SIZES[self.size]), turned, margins, QPageLayout.Unit.Millimeter)

    def sheet(self) -> QRectF:
        """What can be printed on, from its corner."""
        box = self.layout().paintRectPixels(DPI)
        return QRectF(0, 0, box.width(), box.height())

    def body(self) -> QRectF:
        """The room for the drawing. ``BadText`` if title, legend and foot leave too little."""
        sheet = self.sheet()
        top = TITLE if self.title else 0.0
        bottom = FOOT + (LEGEND if self.legend else 0.0)
        box = sheet.adjusted(0, top, 0, -bottom)
        if box.width() < SMALLEST[0] or box.height() < SMALLEST[1]:
            raise BadText(f"{self.size} leaves no room for the drawing. Choose larger paper, or turn it.")
        return box


@dataclass(frozen=True)
class Tile:
    """A page: column ``across`` and row ``down`` of the page map, and the part of the drawing that is on it."""

    across: int
    down: int
    part: QRectF


def tiles(width: float, height: float, room_width: float, room_height: float) -> list[Tile]:
    """A drawing cut into pages, from left to right and top to bottom. ``BadText`` for more than a printer wants."""
    across = max(1, math.ceil(width / room_width - 1e-6))
    down = max(1, math.ceil(height / room_height - 1e-6))
    if across * down > MOST_PAGES:
        raise BadText(f"That would be {across * down:,} pages. Show fewer rows, or zoom out.")
    return [
        Tile(i, j, QRectF(i * room_width, j * room_height, room_width, room_height))
        for j in range(down)
        for i in range(across)
    ]
