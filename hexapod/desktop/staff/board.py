"""The board: a lane for each person with their work on a time axis, leave and overloads in it, and trays beneath."""

from __future__ import annotations

from bisect import bisect_right
from typing import TYPE_CHECKING

from PyQt6.QtCore import QLineF, QPointF, QRectF, Qt, pyqtSignal
from PyQt6.QtGui import QBrush, QFont, QKeyEvent, QMouseEvent, QPainter, QPaintEvent, QPen, QResizeEvent
from PyQt6.QtWidgets import QWidget

from hexapod.desktop.chart import geometry as g
from hexapod.desktop.chart import painter as paint
from hexapod.desktop.chart.coloring import row_color
from hexapod.desktop.chart.pictures import words_of
from hexapod.desktop.chart.shades import Shades
from hexapod.desktop.chart.timeline import Timeline
from hexapod.desktop.chart.timescale import TimeScale
from hexapod.desktop.chart.workdays import Idleness
from hexapod.desktop.models.desk import Desk
from hexapod.desktop.staff.board_drag import BoardDrag
from hexapod.desktop.strip.periods import hours
from hexapod.desktop.theme.measures import HEADER_HEIGHT
from hexapod.desktop.theme.style import color, faded, font
from hexapod.desktop.theme.text import draw_text, width_of
from hexapod.desktop.theme.tips import plain_tip
from hexapod.plan.records import DAY, ResourceKind
from hexapod.staffing.away import away

if TYPE_CHECKING:
    from hexapod.staffing.board import Lane, Piece

NAMES = 196
LINE, PAD, BAR = 22, 5, 17
TAG = 9  # room for what an overload comes to
LEAST_TEXT = 18  # pixels
OPENING = 4.4  # pixels a day


class Board(Timeline):
    """``opened`` with a resource whose form is asked for, ``picked`` when another piece is looked at."""

    opened = pyqtSignal(str)
    picked = pyqtSignal()

    def __init__(self, desk: Desk) -> None:
        super().__init__(desk)
        self.setObjectName("board")
        self.setAccessibleName("Board of who does what")
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.viewport().setMouseTracking(True)
        self.setViewportMargins(NAMES, HEADER_HEIGHT, 0, 0)
        self.names = Names(self)
        self.lanes: list[Lane] = []
        self.tops: list[int] = [0]  # of each lane, and where the last one ends
        self.role: str | None = None
        self.all_projects = True
        self.current: tuple[str, str] | None = None  # resource and task
        self.drag: BoardDrag | None = None
        self._shades, self._idle = Shades(), Idleness(desk.plan)
        self._pressed: tuple[QPointF, str, str] | None = None
        self._is_begun = False
        self.verticalScrollBar().valueChanged.connect(self._repaint)
        for signal in (desk.selection_changed, desk.ghost_changed, desk.moved_changed, desk.load_changed,
                       desk.looks.changed):  # fmt: skip
            signal.connect(self._repaint)

    def _repaint(self, *_: object) -> None:
        self.viewport().update()
        self.names.update()

    # What is shown

    def refresh(self) -> None:
        """Lay the lanes out anew."""
        desk, load = self.desk, self.desk.load
        if load is None:
            return
        from hexapod.staffing.board import lanes

        if self._idle.calendars is not desk.plan.calendars:
            self._idle = Idleness(desk.plan)
        chosen = [
            r.id
            for r in desk.plan.resources_in_order()
            if r.kind not in (ResourceKind.ROLE, ResourceKind.MATERIAL) and self.role in (None, r.role)
        ]
        projects = None if self.all_projects else {desk.project or ""}
        self.lanes = lanes(load.schedule, desk.plan, load.demand, chosen, projects)
        self.tops = [0]
        over = {o.resource for o in load.overloads}
        for lane in self.lanes:
            self.tops.append(self.tops[-1] + lane.lines * LINE + 2 * PAD + (TAG if lane.resource in over else 0))
        if not self._is_begun and self.lanes:
            self._is_begun = True
            self._set_scale(TimeScale(self.extent()[0] - 3 * DAY, OPENING))
        self._set_heights()
        self._set_range()
        self._repaint()

    def set_role(self, role: str | None) -> None:
        self.role = role
        self.refresh()

    def set_all_projects(self, all_projects: bool) -> None:
        self.all_projects = all_projects
        self.refresh()

    def _find_extent(self) -> tuple[int, int]:
        """Of all projects."""
        starts = [p.start for p in self.desk.plan.projects.values()]
        begin = min(starts, default=0)
        return begin, max(self.desk.schedule.last_finish or 0, begin + 20 * DAY)

    def _on_project(self) -> None:
        """The board shows everybody, whichever project is on show."""

    def _set_heights(self) -> None:
        bar = self.verticalScrollBar()
        bar.setRange(0, max(0, self.tops[-1] - self.viewport().height()))
        bar.setPageStep(self.viewport().height())
        bar.setSingleStep(LINE)

    # Places

    def visible(self) -> range:
        scroll = self.verticalScrollBar().value()
        first = max(0, bisect_right(self.tops, scroll) - 1)
        return range(first, min(len(self.lanes), bisect_right(self.tops, scroll + self.viewport().height())))

    def top_of(self, lane: int) -> int:
        """Where a lane begins in the viewport."""
        return self.tops[lane] - self.verticalScrollBar().value()

    def lane_at(self, y: float) -> int | None:
        at = bisect_right(self.tops, y + self.verticalScrollBar().value()) - 1
        return at if 0 <= at < len(self.lanes) else None

    def box_of(self, lane: int, piece: Piece) -> QRectF:
        """A piece in the viewport."""
        left = self.scale.x(piece.begin)
        width = max(3.0, self.scale.x(piece.end) - left)
        return QRectF(left, self.top_of(lane) + PAD + piece.line * LINE + 1, width, BAR)

    def piece_at(self, at: QPointF) -> tuple[int, Piece] | None:
        lane = self.lane_at(at.y())
        if lane is None:
            return None
        boxes = ((p, self.box_of(lane, p)) for p in reversed(self.lanes[lane].pieces))
        return next(((lane, p) for p, box in boxes if box.adjusted(-1, -2, 1, 2).contains(at)), None)

    # Painting

    def paintEvent(self, event: QPaintEvent) -> None:
        painter = QPainter(self.viewport())
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.fillRect(self.viewport().rect(), color("panel"))
        if not self.lanes:
            painter.setPen(color("muted"))
            says = "Counting…" if self.desk.load is None else "Nobody is here yet. Add people to the pool."
            painter.drawText(self.viewport().rect(), Qt.AlignmentFlag.AlignCenter, says)
        for lane in self.visible():
            self._paint_lane(painter, lane)
        if self.drag is not None:
            self.drag.paint(painter)
        painter.end()

    def _paint_lane(self, painter: QPainter, index: int) -> None:
        lane, width = self.lanes[index], self.viewport().width()
        top, high = self.top_of(index), self.tops[index + 1] - self.tops[index]
        resource = self.desk.plan.resources[lane.resource]
        box = QRectF(0, top, width, high)
        if resource.calendar is not None:
            self._shades.paint(painter, self.scale, self._idle, resource.calendar, box)
        self._paint_leave(painter, lane.resource, box)
        if self.drag is not None and self.drag.lane == index:
            painter.fillRect(box, faded(color("petrol"), 26))
        self._paint_overloads(painter, lane.resource, box)
        for piece in lane.pieces:
            shown = self.box_of(index, piece)
            if shown.right() >= 0 and shown.left() <= width:
                self._paint_piece(painter, lane.resource, piece, shown)
        painter.setPen(color("rule"))
        painter.drawLine(QLineF(0, top + high - 0.5, width, top + high - 0.5))

    def _paint_leave(self, painter: QPainter, resource: str, box: QRectF) -> None:
        first, last = (self.scale.minute(x) // DAY for x in (0, box.width()))
        for begin, end in away(self.desk.plan.resources[resource], first, last):
            left, right = self.scale.x(begin * DAY), self.scale.x((end + 1) * DAY)
            shown = QRectF(left, box.top() + 1, right - left, box.height() - 2)
            painter.fillRect(shown, QBrush(faded(color("muted"), 110), Qt.BrushStyle.FDiagPattern))
            if shown.width() > 34:
                tag = QRectF(left + 2, box.bottom() - 14, 29, 12)
                painter.fillRect(tag, color("panel"))
                painter.setPen(color("muted"))
                draw_text(painter, font(7.5), "away", tag.adjusted(3, 0, 0, 0))

    def _paint_overloads(self, painter: QPainter, resource: str, box: QRectF) -> None:
        load = self.desk.load
        for over in load.overloads if load is not None else ():
            left, right = self.scale.x(over.begin), self.scale.x(over.end)
            if over.resource != resource or right < 0 or left > box.width():
                continue
            shown = QRectF(left, box.top() + 1, max(3.0, right - left), box.height() - 2)
            painter.setPen(QPen(color("brick"), 1.0))
            painter.setBrush(QBrush(color("brick"), Qt.BrushStyle.BDiagPattern))
            painter.drawRect(shown)
            said = f"+{hours(round(over.excess / 60, 1))}"
            face = font(7.5, QFont.Weight.DemiBold)
            tag = QRectF(max(0.0, left) + 2, box.bottom() - 13, width_of(face, said) + 5, 11)
            painter.fillRect(tag, color("panel"))
            painter.setPen(color("brick"))
            draw_text(painter, face, said, tag.adjusted(2, 0, 0, 0))

    def _paint_piece(self, painter: QPainter, resource: str, piece: Piece, box: QRectF) -> None:
        desk = self.desk
        stream, percent = row_color(desk, piece.task), desk.percent(piece.task)
        if piece.begin == piece.end:
            painter.setPen(QPen(stream, 1.6))
            painter.setBrush(stream if percent >= 100 else color("panel"))
            painter.drawPolygon(g.hexagon(QPointF(box.left(), box.center().y()), g.HEXAGON))
            return
        is_elsewhere = desk.plan.tasks[piece.task].project != desk.project
        painter.setPen(QPen(stream, 0.9, Qt.PenStyle.DotLine if is_elsewhere else Qt.PenStyle.SolidLine))
        painter.setBrush(color("panel"))
        painter.drawRoundedRect(box, 3, 3)
        painter.setBrush(faded(stream, paint.PALE))
        painter.drawRoundedRect(box, 3, 3)
        if percent:
            painter.setPen(Qt.PenStyle.NoPen)
            painter.setBrush(stream)
            painter.drawRoundedRect(QRectF(box.left(), box.top(), box.width() * percent / 100, box.height()), 3, 3)
        if desk.schedule.dates(piece.task).critical:
            painter.fillRect(QRectF(box.left(), box.bottom() + 1, box.width(), 2.4), color("ink"))
        left = max(box.left(), 0.0) + 5
        room = QRectF(left, box.top(), box.right() - left - 3, BAR)
        if room.width() > LEAST_TEXT:
            painter.setPen(color(paint.on_stream(stream) if percent > 50 else "ink"))
            draw_text(painter, font(8), desk.plan.tasks[piece.task].name, room)
        if self.current == (resource, piece.task):
            painter.setPen(QPen(color("ink"), 2.0 if self.hasFocus() else 1.3))
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.drawRoundedRect(box.adjusted(-1.5, -1.5, 1.5, 1.5), 4, 4)

    # Hands

    def look_at(self, resource: str, task: str) -> None:
        """Another piece."""
        self.current = (resource, task)
        self.desk.select((task,), task)
        self.desk.look_at_resource(resource)
        self._tell()
        self._repaint()
        self.picked.emit()

    def _tell(self) -> None:
        if self.current is not None:
            resource, task = self.current
            self.setAccessibleDescription(f"{self.desk.plan.resources[resource].name}: {words_of(self.desk, task)}")

    def mousePressEvent(self, event: QMouseEvent) -> None:
        found = self.piece_at(event.position())
        if event.button() != Qt.MouseButton.LeftButton or found is None:
            return
        lane, piece = found
        self.look_at(self.lanes[lane].resource, piece.task)
        if not self.desk.is_read_only:
            self._pressed = (event.position(), self.lanes[lane].resource, piece.task)

    def mouseMoveEvent(self, event: QMouseEvent) -> None:
        at = event.position()
        if self._pressed is None:
            found = self.piece_at(at)
            self.viewport().setCursor(Qt.CursorShape.OpenHandCursor if found else Qt.CursorShape.ArrowCursor)
            self.setToolTip(plain_tip(words_of(self.desk, found[1].task) if found else ""))
            return
        begun, resource, task = self._pressed
        if self.drag is None and (at - begun).manhattanLength() > 5:
            self.drag = BoardDrag(self, task, resource, begun)
        if self.drag is not None:
            self.drag.move(at)

    def mouseReleaseEvent(self, event: QMouseEvent) -> None:
        self._pressed = None
        self.drop()

    def drop(self) -> None:
        """Carry out what is dragged."""
        drag, self.drag = self.drag, None
        self.desk.previews.ask(None)
        if drag is not None:
            drag.carry_out()
        self._repaint()

    def cancel(self) -> bool:
        """Leave everything as it was."""
        was = self.drag is not None
        self.drag = self._pressed = None
        self.desk.previews.ask(None)
        self._repaint()
        return was

    def keyPressEvent(self, event: QKeyEvent) -> None:
        """Arrows go from piece to piece; with Shift they move it: by a day, or to who is above or below."""
        key = Qt.Key(event.key())
        sides = {Qt.Key.Key_Left: (0, -1), Qt.Key.Key_Right: (0, 1), Qt.Key.Key_Up: (-1, 0), Qt.Key.Key_Down: (1, 0)}
        if key not in sides or not self.lanes:
            event.ignore()
            return
        down, right = sides[key]
        lane = next((i for i, x in enumerate(self.lanes) if self.current and x.resource == self.current[0]), None)
        if event.modifiers() & Qt.KeyboardModifier.ShiftModifier:
            if lane is not None and self.current is not None and not self.desk.is_read_only:
                self._push(lane, self.current[1], down, right)
        elif down or lane is None:
            self._go_to_lane(-1 if lane is None else lane, down or 1)
        else:
            pieces = [p.task for p in self.lanes[lane].pieces]
            at = pieces.index(self.current[1]) + right if self.current and self.current[1] in pieces else 0
            self.look_at(self.lanes[lane].resource, pieces[max(0, min(at, len(pieces) - 1))])
            self.reveal()

    def _push(self, lane: int, task: str, down: int, right: int) -> None:
        """A piece moved by the keyboard."""
        other = max(0, min(lane + down, len(self.lanes) - 1))
        drag = BoardDrag(self, task, self.lanes[lane].resource, QPointF())
        drag.aim(other, self.desk.schedule.dates(task).start + right * DAY if right else None)
        if drag.carry_out():
            self.current = (self.lanes[other].resource, task)
            self.reveal()

    def _go_to_lane(self, lane: int, by: int) -> None:
        """The nearest lane that way with work in it."""
        lane += by
        while 0 <= lane < len(self.lanes):
            if self.lanes[lane].pieces:
                near = self.desk.schedule.dates(self.current[1]).start if self.current else 0
                best = min(self.lanes[lane].pieces, key=lambda p: abs(p.begin - near))
                self.look_at(self.lanes[lane].resource, best.task)
                self.reveal()
                return
            lane += by

    def reveal(self) -> None:
        """Scroll to the piece that is looked at."""
        for index, lane in enumerate(self.lanes):
            for piece in lane.pieces:
                if (lane.resource, piece.task) == self.current:
                    bar, height = self.verticalScrollBar(), self.viewport().height()
                    bar.setValue(max(min(bar.value(), self.tops[index]), self.tops[index + 1] - height))
                    box = self.box_of(index, piece)
                    if box.left() < 0 or box.left() > self.viewport().width() - 40:
                        self.show_task(piece.task)

    def resizeEvent(self, event: QResizeEvent) -> None:
        super().resizeEvent(event)
        self.axis.setGeometry(NAMES, 0, self.viewport().width(), HEADER_HEIGHT)
        self.names.setGeometry(0, HEADER_HEIGHT, NAMES, self.viewport().height())
        self._set_heights()


class Names(QWidget):
    """Whose lane it is; work that is dropped here is theirs without a date."""

    def __init__(self, board: Board) -> None:
        super().__init__(board)
        self._board = board

    def paintEvent(self, event: QPaintEvent) -> None:
        board, painter = self._board, QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.fillRect(self.rect(), color("panel"))
        for index in board.visible():
            resource = board.desk.plan.resources[board.lanes[index].resource]
            top, high = board.top_of(index), board.tops[index + 1] - board.tops[index]
            if board.drag is not None and board.drag.lane == index and board.drag.is_on_name:
                painter.fillRect(QRectF(0, top, NAMES, high), faded(color("petrol"), 40))
            painter.setPen(color("ink"))
            draw_text(painter, font(9), resource.name, QRectF(14, top + 1, NAMES - 20, min(high, 20)))
            role = board.desk.plan.resources.get(resource.role or "")
            if high > 2 * LINE:
                painter.setPen(color("muted"))
                draw_text(painter, font(7.5), role.name if role else "", QRectF(14, top + 18, NAMES - 20, 14))
            painter.setPen(color("rule"))
            painter.drawLine(QLineF(0, top + high - 0.5, NAMES, top + high - 0.5))
        painter.drawLine(QLineF(NAMES - 0.5, 0, NAMES - 0.5, self.height()))
        painter.end()

    def mousePressEvent(self, event: QMouseEvent) -> None:
        lane = self._board.lane_at(event.position().y())
        if lane is not None:
            self._board.desk.look_at_resource(self._board.lanes[lane].resource)

    def mouseDoubleClickEvent(self, event: QMouseEvent) -> None:
        lane = self._board.lane_at(event.position().y())
        if lane is not None:
            self._board.opened.emit(self._board.lanes[lane].resource)
