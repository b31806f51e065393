"""Work that is dragged on the board: to somebody else, to another date, or out of a tray."""

from __future__ import annotations

from typing import TYPE_CHECKING

from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QFont, QPainter, QPen

from hexapod.desktop import dates
from hexapod.desktop.chart import painter as paint
from hexapod.desktop.theme.style import color, faded, font
from hexapod.errors import EditRefused, HexapodError
from hexapod.plan import edits
from hexapod.plan.edits import Edit
from hexapod.plan.records import DAY

if TYPE_CHECKING:
    from hexapod.desktop.staff.board import Board

SIDEWAYS = 8.0  # pixels from which on a piece is moved in time
TALLEST = 17.0


class BoardDrag:
    """``source`` is who does it now, None out of a tray. ``lane`` is whose it would be, ``to`` when it would start."""

    def __init__(self, board: Board, task: str, source: str | None, begun: QPointF) -> None:
        self._board, self._desk = board, board.desk
        self.task, self.source = task, source
        self._begun = self._at = begun
        self.lane: int | None = None
        self.to: int | None = None
        self.is_on_name = False
        self._asked: tuple[int | None, int | None] | None = None

    def move(self, at: QPointF) -> None:
        """Follow the pointer; left of the time axis it is on a name."""
        self._at = at
        self.is_on_name = at.x() < 0
        to = None if self.is_on_name else self._moment(at.x())
        self.aim(self._board.lane_at(at.y()), to)
        if self._asked != (self.lane, self.to):
            self._asked = (self.lane, self.to)
            try:
                self._desk.previews.ask(self.edit())
            except HexapodError:
                self._desk.previews.ask(None)
        self._board.viewport().update()
        self._board.names.update()

    def _moment(self, x: float) -> int | None:
        """The beginning of the day that the pointer means: out of a tray the one it is on, else as many days from the
        start as it went; None for no other day."""
        scale = self._board.scale
        if self.source is None:
            return scale.minute(x) // DAY * DAY + dates.DAY_BEGINS
        if abs(x - self._begun.x()) < SIDEWAYS:
            return None
        start = self._desk.schedule.dates(self.task).start
        day = (start + scale.minute(x) - scale.minute(self._begun.x()) + DAY // 2) // DAY
        return None if day == start // DAY else day * DAY + dates.DAY_BEGINS

    def aim(self, lane: int | None, to: int | None) -> None:
        self.lane, self.to = lane, to

    @property
    def target(self) -> str | None:
        """Whose it would be."""
        return self._board.lanes[self.lane].resource if self.lane is not None else None

    def edit(self) -> Edit | None:
        """What it comes to; None for nothing. ``HexapodError`` where it may not be."""
        from hexapod.schedule.shifting import moved_to

        plan, target = self._desk.plan, self.target
        task = plan.tasks[self.task]
        if target is None:
            return None
        if task.is_done:
            raise EditRefused(f"“{task.name}” is done, and stays where it was.")
        steps: list[Edit] = []
        if target != self.source:
            steps.append(edits.hand_over(plan, self.task, self.source, target))
        if self.to is not None:
            if task.is_begun:
                raise EditRefused(f"“{task.name}” has begun. Somebody else can go on with it, at the same time.")
            steps.append(moved_to(self._desk.worked_out, self.task, self.to))
        if not steps:
            return None
        return edits.together(self.words(), steps)

    def words(self) -> str:
        plan, target = self._desk.plan, self.target
        name = plan.tasks[self.task].name
        when = "" if self.to is None else f"starts not before {dates.short_day(self.to)}"
        if target is None or target == self.source:
            return f"“{name}” {when}" if when else f"“{name}”"
        who = f"{plan.resources[target].name} does “{name}”"
        return f"{who}, it {when}" if when else who

    def carry_out(self) -> bool:
        try:
            edit = self.edit()
        except HexapodError as error:
            self._desk.told.emit(str(error), "trouble", False)
            return False
        if edit is None or not self._desk.do(edit):
            return False
        self._desk.told.emit(f"{edit.words}.", "", True)
        if self.target is not None:
            self._board.current = (self.target, self.task)
        return True

    def paint(self, painter: QPainter) -> None:
        """Where it would be, and what that means in words."""
        desk, board = self._desk, self._board
        if self.lane is None:
            return
        ghost = desk.ghost if desk.ghost is not None and desk.ghost.has(self.task) else desk.schedule
        found = ghost.dates(self.task)
        left, right = board.scale.x(found.start), board.scale.x(found.finish)
        box = QRectF(left, board.top_of(self.lane) + 6, max(4.0, right - left), TALLEST)
        painter.setPen(QPen(color("petrol"), 1.4, Qt.PenStyle.DashLine))
        painter.setBrush(faded(color("petrol"), 40))
        painter.drawRoundedRect(box, 3, 3)
        try:
            self.edit()
            words = self.words()
        except HexapodError as error:
            words = str(error)
        painter.setFont(font(8.5, QFont.Weight.Medium))
        width = painter.fontMetrics().horizontalAdvance(words) + 14
        x = max(4.0, min(self._at.x() + 12, board.viewport().width() - width - 4))
        y = min(self._at.y() + 16, board.viewport().height() - 26)
        paint.paint_tag(painter, QRectF(x, max(4.0, y), width, 21), words)
