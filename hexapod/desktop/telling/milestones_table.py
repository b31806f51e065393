"""Milestones of all projects as a list: when, of which project, how far they drifted, and how sure they are."""

from __future__ import annotations

from collections.abc import Callable, Sequence

from PyQt6.QtCore import QPointF, QRectF, Qt, pyqtSignal
from PyQt6.QtGui import QMouseEvent, QPainter, QPen

from hexapod.control.mine import Reach
from hexapod.desktop import dates
from hexapod.desktop.chart.geometry import hexagon
from hexapod.desktop.frame.walked import ROW, Heading, WalkedTable
from hexapod.desktop.models.desk import Desk
from hexapod.desktop.models.milestones import AWAY, MilestoneRow, MilestonesWork
from hexapod.desktop.theme.style import color, font, scaled
from hexapod.desktop.theme.text import draw_text
from hexapod.outlook.words import share_words
from hexapod.worktime.calendars import units_of
from hexapod.worktime.lengths import format_days

TITLES = {Reach.OVERDUE: "Overdue", Reach.COMING: "Coming", Reach.REACHED: "Reached"}
COLUMNS = (("when", 96), ("wanted by", 96), ("drift", 66), ("sure", 104))
MARK, NAME, LEAST = 18, 32, 300


class MilestonesTable(WalkedTable):
    """``bar_asked`` asks for the bar of the milestone that is looked at."""

    bar_asked = pyqtSignal(str)
    top_margin = 28

    def __init__(self, desk: Desk, work: MilestonesWork) -> None:
        super().__init__("milestonesTable", "Milestones of all projects")
        self._desk, self._work = desk, work

    def show_milestones(self, found: Sequence[MilestoneRow]) -> None:
        self.nothing = "No milestone is like that." if self._work.is_known else "Milestones are being looked for…"
        rows: list[object] = []
        for reach, title in TITLES.items():
            group = [row for row in found if row.found.reach is reach]
            rows += [Heading(f"{title} · {len(group)}"), *group] if group else []
        self.show_rows(rows)

    def key_of(self, row: object) -> object:
        return row.found.task if isinstance(row, MilestoneRow) else row

    def chosen(self, row: object) -> None:
        if isinstance(row, MilestoneRow):
            self._desk.select((row.found.task,), row.found.task)

    def edit(self, text: str) -> None:
        """Its bar in the chart."""
        if isinstance(row := self.current, MilestoneRow) and not text:
            self.bar_asked.emit(row.found.task)

    def put_away(self) -> None:
        """Shown no more, or again where those are on show that were put away."""
        if isinstance(row := self.current, MilestoneRow):
            self._work.put(row.found.task, self._work.whose != AWAY)

    def keys(self) -> dict[int, Callable[[], object]]:
        return {Qt.Key.Key_Delete: self.put_away, Qt.Key.Key_Backspace: self.put_away}

    def mouseDoubleClickEvent(self, event: QMouseEvent) -> None:
        if self.row_at(event.position().y()) == self.at:
            self.edit("")

    def tell(self) -> None:
        row = self.current
        if isinstance(row, MilestoneRow) and row.found.task in self._desk.plan.tasks:
            name, project = self._names(row)
            said = f"{TITLES[row.found.reach]}: {name}, {project}, {', '.join(text for text, _ in self.texts(row))}"
            self.setAccessibleDescription(said)

    def _names(self, row: MilestoneRow) -> tuple[str, str]:
        task = self._desk.plan.tasks[row.found.task]
        return task.name, self._desk.plan.projects[task.project].name

    def texts(self, row: MilestoneRow) -> list[tuple[str, str]]:
        """The words of each column and their tone."""
        units = units_of(self._desk.plan, self._desk.plan.tasks[row.found.task].project)
        overdue, at = row.found.reach is Reach.OVERDUE, row.found.at
        missed = row.target is not None and at > row.target
        wanted = ("–", "muted") if row.target is None else (dates.last_day(row.target), "brick" if missed else "muted")
        drift = ("–", "muted")
        if row.drift is not None:
            words = f"{'+' if row.drift > 0 else ''}{format_days(row.drift, units)}" if row.drift else "none"
            drift = (words, "amber" if row.drift > 0 else "muted")
        known = self._work.sure(row)
        sure = ("–" if known is None else dates.last_day(known), "muted")
        return [(dates.last_day(at), "brick" if overdue else "ink"), wanted, drift, sure]

    def _shown(self) -> list[tuple[str, int]]:
        """The columns that there is room for."""
        shown = list(COLUMNS)
        while shown and self.viewport().width() - scaled(sum(wide for _, wide in shown)) < scaled(LEAST):
            shown.pop()
        return shown

    def paint_names(self, painter: QPainter) -> None:
        width, shown = self.viewport().width(), self._shown()
        left = float(width - scaled(sum(wide for _, wide in shown)))
        draw_text(painter, font(9), "milestone", QRectF(scaled(NAME), 4, 120, 20))
        draw_text(painter, font(9), "project", QRectF(scaled(NAME) + self._half(left), 4, 120, 20))
        for words, wide in shown:
            said = f"{share_words(self._desk.chances.share)} by" if words == "sure" else words
            draw_text(painter, font(9), said, QRectF(left, 4, scaled(wide) - 8, 20), right=True)
            left += scaled(wide)

    @staticmethod
    def _half(right: float) -> float:
        """Half of the room for names."""
        return (right - scaled(NAME)) / 2

    def paint_row(self, painter: QPainter, row: object, top: int) -> None:
        if not isinstance(row, MilestoneRow) or row.found.task not in self._desk.plan.tasks:
            return
        width, height, shown = self.viewport().width(), scaled(ROW), self._shown()
        is_reached = row.found.reach is Reach.REACHED
        painter.setPen(QPen(color("brick" if row.found.reach is Reach.OVERDUE else "petrol"), 1.4))
        painter.setBrush(color("petrol") if is_reached else Qt.BrushStyle.NoBrush)
        painter.drawPolygon(hexagon(QPointF(scaled(MARK), top + height / 2), 6))
        left = float(width - scaled(sum(wide for _, wide in shown)))
        half, (name, project) = self._half(left), self._names(row)
        painter.setPen(color("muted" if is_reached else "ink"))
        draw_text(painter, font(9.5), name, QRectF(scaled(NAME), top, half - 10, height))
        painter.setPen(color("muted"))
        draw_text(painter, font(9.5), project, QRectF(scaled(NAME) + half, top, half - 10, height))
        for (_, wide), (words, tone) in zip(shown, self.texts(row), strict=False):
            painter.setPen(color(tone))
            draw_text(painter, font(9.5), words, QRectF(left, top, scaled(wide) - 8, height), right=True)
            left += scaled(wide)
