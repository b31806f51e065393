"""Milestones that are somebody's: overdue, coming, reached; what is not wanted any more is put away."""

from __future__ import annotations

from collections.abc import Callable

from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QMouseEvent, QPainter, QPen

from hexapod.control.mine import MyMilestone, Reach
from hexapod.desktop import dates
from hexapod.desktop.chart.geometry import hexagon
from hexapod.desktop.frame.walked import ROW, Heading, WalkedTable
from hexapod.desktop.models.desk import Desk
from hexapod.desktop.models.mine import MineWork
from hexapod.desktop.theme.style import color, font, scaled
from hexapod.desktop.theme.text import draw_text

MARK, NAME, DATE, AWAY = 18, 32, 92, 22  # where columns begin; the last two are widths at the right
TITLES = {Reach.OVERDUE: "Overdue", Reach.COMING: "Coming", Reach.REACHED: "Reached"}


class OwnMilestones(WalkedTable):
    nothing = "No milestones."

    def __init__(self, desk: Desk, work: MineWork) -> None:
        super().__init__("ownMilestones", "Milestones")
        self._desk, self._work = desk, work

    def refresh(self) -> None:
        found = self._work.milestones()
        rows: list[object] = []
        for reach, title in TITLES.items():
            group = [each for each in found if each.reach is reach]
            rows += [Heading(title), *group] if group else []
        self.show_rows(rows)

    def key_of(self, row: object) -> object:
        return row.task if isinstance(row, MyMilestone) else row

    def chosen(self, row: object) -> None:
        if isinstance(row, MyMilestone):
            self._desk.select((row.task,), row.task)

    def tell(self) -> None:
        row = self.current
        if isinstance(row, MyMilestone) and row.task in self._desk.plan.tasks:
            name = self._desk.plan.tasks[row.task].name
            self.setAccessibleDescription(f"{TITLES[row.reach]}: {name}, {dates.long_day(row.at)}")

    def tick(self) -> None:
        """Reached now, or when it was planned to be."""
        if isinstance(row := self.current, MyMilestone) and row.reach is not Reach.REACHED:
            self._work.tick(row.task)

    def put_away(self) -> None:
        """Shown no more, to this person; the plan has it still."""
        if isinstance(row := self.current, MyMilestone):
            self._work.put(row.task, True)

    def keys(self) -> dict[int, Callable[[], object]]:
        away = self.put_away
        return {Qt.Key.Key_Space: self.tick, Qt.Key.Key_Delete: away, Qt.Key.Key_Backspace: away}

    def pressed(self, row: object, event: QMouseEvent) -> None:
        if self._desk.is_read_only:
            return
        if event.position().x() > self.viewport().width() - scaled(AWAY):
            self.put_away()
        elif event.position().x() < scaled(NAME) - 4:
            self.tick()

    def mouseDoubleClickEvent(self, event: QMouseEvent) -> None:
        row = self.row_at(event.position().y())
        found = self.rows[row] if row is not None else None
        if isinstance(found, MyMilestone):
            self._desk.go_to(found.task)

    def paint_row(self, painter: QPainter, row: object, top: int) -> None:
        if not isinstance(row, MyMilestone) or row.task not in self._desk.plan.tasks:
            return
        width, height = self.viewport().width(), scaled(ROW)
        is_overdue, is_reached = row.reach is Reach.OVERDUE, row.reach is Reach.REACHED
        painter.setPen(QPen(color("brick" if is_overdue else "petrol"), 1.4))
        painter.setBrush(color("petrol") if is_reached else Qt.BrushStyle.NoBrush)
        painter.drawPolygon(hexagon(QPointF(scaled(MARK), top + height / 2), 6))
        painter.setPen(color("muted" if is_reached else "ink"))
        right = width - scaled(AWAY)
        room = right - scaled(DATE) - scaled(NAME)
        draw_text(painter, font(9.5), self._desk.plan.tasks[row.task].name, QRectF(scaled(NAME), top, room, height))
        painter.setPen(color("brick" if is_overdue else "muted"))
        dated = QRectF(right - scaled(DATE), top, scaled(DATE) - 8, height)
        draw_text(painter, font(8.5), dates.short_day(row.at), dated, right=True)
        painter.setPen(QPen(color("muted"), 1.2))
        at = QPointF(right + scaled(AWAY) / 2 - 2, top + height / 2)
        painter.drawLine(at + QPointF(-3, -3), at + QPointF(3, 3))
        painter.drawLine(at + QPointF(-3, 3), at + QPointF(3, -3))
