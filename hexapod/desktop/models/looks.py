"""How rows look: which columns are shown, how wide, and what gives a row its colour."""

from __future__ import annotations

from collections.abc import Callable
from typing import TYPE_CHECKING, Annotated

from msgspec import Meta
from PyQt6.QtCore import QObject, pyqtSignal

if TYPE_CHECKING:
    from hexapod.desktop.models.desk import Desk

Width = Annotated[int, Meta(ge=10, le=2000)]  # of a column, in pixels


class Looks(QObject):
    """``changed`` when rows and bars that were kept as they were drawn have to be drawn anew."""

    changed = pyqtSignal()

    def __init__(self, desk: Desk) -> None:
        super().__init__(desk)
        self._desk = desk
        remembered = desk.memory.recall
        self.columns: list[str] = remembered("columns", list[str], [])  # empty: the usual ones
        self.column_widths: dict[str, int] = remembered("column_widths", dict[str, Width], {})
        self.color_by: str = remembered("color_by", str, "stream")
        self.shows_band: bool = remembered("shows_band", bool, False)
        self.shows_baseline: bool = remembered("shows_baseline", bool, True)
        self.shows_differences: bool = remembered("shows_differences", bool, True)
        self._colors: tuple[str | None, dict[str, int]] | None = None

    def set_columns(self, columns: list[str]) -> None:
        """Show these columns, in this order."""
        self.columns = columns
        self._desk.memory.keep("columns", columns)
        self.changed.emit()

    def set_column_width(self, column: str, width: int) -> None:
        """The heading has this width already; it is kept for the next window."""
        self.column_widths[column] = width
        self._desk.memory.keep("column_widths", self.column_widths)

    def set_color_by(self, way: str) -> None:
        """What gives rows their colour."""
        self.color_by, self._colors = way, None
        self._desk.memory.keep("color_by", way)
        self.changed.emit()

    def turn_baseline(self) -> None:
        """Show the baseline under the bars, or not any more."""
        self.shows_baseline = not self.shows_baseline
        self._desk.memory.keep("shows_baseline", self.shows_baseline)
        self.changed.emit()

    def turn_differences(self) -> None:
        """Show where the plan has what a scenario moves, or not any more."""
        self.shows_differences = not self.shows_differences
        self._desk.memory.keep("shows_differences", self.shows_differences)
        self.changed.emit()

    def turn_band(self) -> None:
        """Show where each bar may end, or not any more."""
        self.shows_band = not self.shows_band
        self._desk.memory.keep("shows_band", self.shows_band)
        self.changed.emit()

    def color_index(self, key: str, keys: Callable[[], list[str]]) -> int:
        """The number of a colour key; one that comes up later gets the next number of its project."""
        project = self._desk.project
        if self._colors is None or self._colors[0] != project:
            self._colors = (project, {k: i for i, k in enumerate(keys())})
        return self._colors[1].setdefault(key, len(self._colors[1]))
