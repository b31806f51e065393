"""The projects as rows under headings, each with its bar on a scale of time."""

from __future__ import annotations

from collections.abc import Callable, Iterable

from PyQt6.QtCore import QPoint, QPointF, QRectF, Qt, pyqtSignal
from PyQt6.QtGui import QColor, QContextMenuEvent, QFont, QMouseEvent, QPainter, QPen, QResizeEvent, QWheelEvent

from hexapod.control.mine import Reach
from hexapod.control.status import ProjectState
from hexapod.control.summary import ProjectRow
from hexapod.desktop.chart.geometry import hexagon
from hexapod.desktop.chart.timescale import TimeScale, marks
from hexapod.desktop.frame.walked import ROW, Heading, WalkedTable
from hexapod.desktop.models.desk import Desk
from hexapod.desktop.models.portfolio import Folded, PortfolioWork
from hexapod.desktop.models.project_lanes import Lane, Tasks
from hexapod.desktop.telling.drawn_lane import DrawnLane
from hexapod.desktop.theme.style import color, faded, font, scaled, stream_color
from hexapod.desktop.theme.text import draw_text, width_of
from hexapod.plan.records import DAY
from hexapod.worktime import clock

NAME, LEFT, LEAST_SCALE = 196, 12, 180
PADDING = 0.02  # of the time on show, before and behind it
BAR, MARK = 10, 5.5


class ProjectsTable(WalkedTable):
    """``opened`` asks for the project that is looked at, ``task_opened`` for a task within its
    project, ``menu_asked`` for what can be done with it, at a place of the screen."""

    opened = pyqtSignal()
    task_opened = pyqtSignal(str)
    menu_asked = pyqtSignal(QPoint)
    top_margin = 28
    nothing = "No project is like that."

    def __init__(self, desk: Desk, work: PortfolioWork) -> None:
        super().__init__("projectsTable", "Projects")
        self._desk, self._work = desk, work
        work.row_asked.connect(self._go_to_project)
        self._departments: dict[str, int] = {}  # the colour of each
        self._marks: set[str] = set()
        self._closer: TimeScale | None = None  # what somebody looked at more closely
        self._whole = self._fitted()

    def refresh(self) -> None:
        plan = self._desk.plan
        names = sorted({plan.projects[row.project].department for row in self._work.rows()})
        self._departments = {name: i for i, name in enumerate(names)}
        self._marks = set(self._work.marked)
        rows: list[object] = []
        for group in self._work.groups():
            rows.append(Heading(group.words))
            for row in group.rows:
                rows += [row, *self._work.lanes.of(row.project)]
            if group.folded:
                rows.append(Folded(group.name, group.folded_words))
        self.nothing = "The projects are being summed up…" if self._work.summary is None else type(self).nothing
        self.show_rows(rows)
        self._whole = self._fitted()
        if self.current is not None:
            self.chosen(self.current)  # another one, where the one that was looked at is not on show

    def resizeEvent(self, event: QResizeEvent) -> None:
        super().resizeEvent(event)
        self._whole = self._fitted()

    # Time

    def zoom(self, factor: float, around: float | None = None) -> None:
        """Look closer, or less closely, around a place; by default the middle."""
        middle = self._box().width() / 2 if around is None else around
        made = self.scale().zoomed(factor, middle)
        self._closer = None if made.pixels <= self._whole.pixels else made
        self.viewport().update()

    def zoom_out_whole(self) -> None:
        """All of time that is on show again."""
        self._closer = None
        self.viewport().update()

    def wheelEvent(self, event: QWheelEvent) -> None:
        turned = event.angleDelta()
        if event.modifiers() & Qt.KeyboardModifier.ControlModifier:
            self.zoom(1.25 if turned.y() > 0 else 0.8, event.position().x() - self._box().left())
        elif turned.x() or event.modifiers() & Qt.KeyboardModifier.ShiftModifier:
            self.move_time(-(turned.x() or turned.y()) / 2)
        else:
            super().wheelEvent(event)

    def move_time(self, x: float) -> None:
        """Along the scale, so many pixels; not where all of it is on show."""
        if self._closer is not None:
            self._closer = self._closer.moved(x)
            self.viewport().update()

    def key_of(self, row: object) -> object:
        return row.project if isinstance(row, ProjectRow) else row.group if isinstance(row, Folded) else row

    def chosen(self, row: object) -> None:
        if isinstance(row, ProjectRow):
            self._work.look_at(row.project)
        elif isinstance(row, Lane):
            self._work.look_at(row.project)
            if self._work.lanes.task not in row.tasks:
                self._work.lanes.look_at(row.tasks[0])

    def edit(self, text: str) -> None:
        """Into the project, or what a line stands for."""
        row = self.current
        if text.strip():
            return
        if isinstance(row, Folded):
            self._work.open_group(row.group)
        elif isinstance(row, ProjectRow) and not text:
            self._work.look_at(row.project)
            self.opened.emit()
        elif isinstance(row, Lane) and not text:
            self.task_opened.emit(self._work.lanes.task)

    def keys(self) -> dict[int, Callable[[], object]]:
        return {
            Qt.Key.Key_Right: lambda: self._sideways(1),
            Qt.Key.Key_Left: lambda: self._sideways(-1),
            Qt.Key.Key_Space: self._mark,
            Qt.Key.Key_Plus: lambda: self.zoom(1.25),
            Qt.Key.Key_Minus: lambda: self.zoom(0.8),
            Qt.Key.Key_0: self.zoom_out_whole,
            Qt.Key.Key_Less: lambda: self.move_time(-60),
            Qt.Key.Key_Greater: lambda: self.move_time(60),
        }

    def _mark(self) -> None:
        if isinstance(self.current, ProjectRow):
            self._work.mark(self.current.project)
        else:
            self.edit(" ")

    def _sideways(self, by: int) -> None:
        """Along the tasks of a lane; of a project its tasks, or away with them; what a line stands for."""
        row, lanes = self.current, self._work.lanes
        if isinstance(row, Lane):
            at = row.tasks.index(lanes.task) + by
            if 0 <= at < len(row.tasks):
                lanes.look_at(row.tasks[at])
            elif at < 0:
                self._go_to_project(row.project)
        elif isinstance(row, ProjectRow) and (by > 0) is not lanes.is_open(row.project):
            lanes.turn(row.project)
        elif by > 0:
            self.edit(" ")
        else:
            self._fold()

    def _go_to_project(self, project: str) -> None:
        """To the row of a project, where it is on show."""
        for i, row in enumerate(self.rows):
            if isinstance(row, ProjectRow) and row.project == project:
                self.go(i)

    def _fold(self) -> None:
        """What was opened of the group that the keyboard is in, as one line again."""
        row = self.current
        group = next((g.name for g in self._work.groups() if row in g.rows), None)
        if group is not None and self._work.is_opened(group):
            self._work.open_group(group)

    def pressed(self, row: object, event: QMouseEvent) -> None:
        if isinstance(row, Folded):
            self.edit("")
        elif isinstance(row, Lane):
            found = self._drawn(row, self.top_of(self.at)).task_at(event.position().x())
            if found:
                self._work.lanes.look_at(found)
        elif event.modifiers() & Qt.KeyboardModifier.ControlModifier:
            self._mark()

    def contextMenuEvent(self, event: QContextMenuEvent) -> None:
        """What can be done with the project of a row."""
        is_key = event.reason() is QContextMenuEvent.Reason.Keyboard
        row = self.at if is_key else self.row_at(event.pos().y())
        if row is None or not isinstance(self.rows[row] if row >= 0 else None, ProjectRow):
            return
        self.go(row)
        place = QPoint(scaled(LEFT + NAME), self.top_of(row) + scaled(ROW))
        self.menu_asked.emit(self.viewport().mapToGlobal(place) if is_key else event.globalPos())

    def mouseDoubleClickEvent(self, event: QMouseEvent) -> None:
        if isinstance(self.current, ProjectRow | Lane) and self.row_at(event.position().y()) == self.at:
            self.edit("")

    def tell(self) -> None:
        row = self.current
        if isinstance(row, ProjectRow):
            marked = "marked, " if row.project in self._marks else ""
            said = f"{marked}{', '.join(words for words, _ in self.texts(row))}. {row.status.because}"
            self.setAccessibleDescription(f"{self._desk.plan.projects[row.project].name}: {said}")
        elif isinstance(row, Lane):
            self.setAccessibleDescription(self._work.lanes.words(self._work.lanes.task))
        else:
            self.setAccessibleDescription(row.words if isinstance(row, Folded) else "")

    # Painting

    def texts(self, row: ProjectRow) -> list[tuple[str, str]]:
        """The words of each column that is on show, and their tone."""
        return [self._work.offered[key].words(self._work, row) for key in self._shown()]

    def scale(self) -> TimeScale:
        """All that is on show in the room there is, unless somebody looked closer."""
        return self._closer or self._whole

    def _fitted(self) -> TimeScale:
        shown = [row for row in self.rows if isinstance(row, ProjectRow)]
        begin = min((row.start for row in shown if row.start is not None), default=clock.now())
        end = max((row.finish for row in shown if row.finish is not None), default=begin + 30 * DAY)
        length = max(7 * DAY, end - begin)
        begin, length = begin - round(PADDING * length), round((1 + 2 * PADDING) * length)
        return TimeScale(begin, max(0.01, self._box().width()) * DAY / length)

    def _box(self) -> QRectF:
        """Where the bars lie."""
        left = scaled(LEFT + NAME + self._wide(self._shown()) + 14)
        return QRectF(left, 0, max(20, self.viewport().width() - left - scaled(LEFT)), self.viewport().height())

    def _shown(self) -> list[str]:
        """The columns that there is room for: the bars keep theirs, and with tasks they want more."""
        columns = self._work.columns
        shown = list(columns if self._work.lanes.shown is Tasks.NONE else columns[:1])
        while shown and self.viewport().width() - scaled(NAME + self._wide(shown)) < scaled(LEAST_SCALE):
            shown.pop()
        return shown

    def _wide(self, columns: Iterable[str]) -> int:
        """The width of columns."""
        return sum(self._work.offered[key].width for key in columns)

    def paint_names(self, painter: QPainter) -> None:
        draw_text(painter, font(9), "project", QRectF(scaled(LEFT), 4, scaled(NAME), 20))
        left = float(scaled(LEFT + NAME))
        for column in map(self._work.offered.__getitem__, self._shown()):
            box = QRectF(left, 4, scaled(column.width) - 8, 20)
            draw_text(painter, font(9), column.title, box, right=not column.is_text)
            left += scaled(column.width)
        self._paint_scale(painter, 0, scaled(self.top_margin))

    def _paint_scale(self, painter: QPainter, top: float, height: float) -> None:
        box, scale = self._box(), self.scale()
        upper, lower = marks(scale, box.width())
        after = box.left()
        for mark in lower if scale.pixels < 2.6 else upper:
            x = box.left() + max(0.0, scale.x(mark.minute))
            room = box.left() + min(box.width(), scale.x(mark.end)) - x
            if x < after or width_of(font(8.5), mark.label) + 6 > room:
                continue
            draw_text(painter, font(8.5), mark.label, QRectF(x + 2, top + 5, room, 18))
            after = x + width_of(font(8.5), mark.label)

    def paint_row(self, painter: QPainter, row: object, top: int) -> None:
        height = scaled(ROW)
        if isinstance(row, Folded):
            painter.setPen(color("muted"))
            draw_text(painter, font(9.5), row.words, QRectF(scaled(LEFT), top, 400, height))
        if isinstance(row, Lane):
            self._paint_lane(painter, row, top)
        if not isinstance(row, ProjectRow):
            return
        painter.setPen(color("muted" if row.status.state is ProjectState.DONE else "ink"))
        name = self._desk.plan.projects[row.project].name
        draw_text(painter, font(9.5), name, QRectF(scaled(LEFT), top, scaled(NAME) - 10, height))
        left = float(scaled(LEFT + NAME))
        for column in map(self._work.offered.__getitem__, self._shown()):
            words, tone = column.words(self._work, row)
            painter.setPen(color(tone))
            strong = tone in ("brick", "amber")
            face = font(9.5, QFont.Weight.DemiBold if strong else QFont.Weight.Normal)
            box = QRectF(left, top, scaled(column.width) - 8, height)
            draw_text(painter, face, words, box, right=not column.is_text)
            left += scaled(column.width)
        if row.project in self._marks:
            painter.setPen(Qt.PenStyle.NoPen)
            painter.setBrush(color("petrol"))
            painter.drawRoundedRect(QRectF(3, top + 5, 4, height - 11), 2, 2)
        self._paint_bar(painter, row, top)

    def _drawn(self, lane: Lane, top: int) -> DrawnLane:
        """Where the tasks of a lane lie, those within sight."""
        dates, box = self._work.lanes.dates, self._box()
        assert dates is not None
        return DrawnLane(dates, lane.tasks, self.scale(), QRectF(box.left(), top, box.width(), scaled(ROW)))

    def _paint_lane(self, painter: QPainter, lane: Lane, top: int) -> None:
        box, task = self._box(), self._work.lanes.task
        if not lane.is_last:  # one project is one block
            painter.fillRect(QRectF(0, top + scaled(ROW) - 1, self.viewport().width(), 1), color("paper"))
        painter.save()
        painter.setClipRect(QRectF(box.left() - 8, top, box.width() + 16, scaled(ROW) - 1))
        self._paint_today(painter, top)
        self._drawn(lane, top).paint(painter, self._department(lane.project), task)
        painter.restore()
        if self.current is lane and task in lane.tasks:
            painter.setPen(color("ink"))
            words = self._work.lanes.words(task, brief=True)
            draw_text(
                painter, font(8.5), words, QRectF(scaled(LEFT + 14), top, box.left() - scaled(LEFT + 22), scaled(ROW))
            )

    def _paint_today(self, painter: QPainter, top: int) -> None:
        now = self._box().left() + self.scale().x(clock.now())
        painter.setPen(QPen(color("petrol"), 1.2, Qt.PenStyle.DashLine))
        painter.drawLine(QPointF(now, top), QPointF(now, top + scaled(ROW)))

    def _paint_bar(self, painter: QPainter, row: ProjectRow, top: int) -> None:
        box, scale, plan = self._box(), self.scale(), self._desk.plan
        project = plan.projects[row.project]
        painter.save()
        painter.setClipRect(QRectF(box.left() - 8, top, box.width() + 16, scaled(ROW) - 1))
        if row.start is not None and row.finish is not None:
            y = top + scaled(ROW) / 2 - scaled(BAR) / 2 - 1
            left, right = box.left() + scale.x(row.start), box.left() + scale.x(row.finish)
            bar = QRectF(left, y, max(3.0, right - left), scaled(BAR))
            self._paint_body(painter, row, bar)
            if row.holds_up:  # the keel
                painter.fillRect(QRectF(bar.left(), bar.bottom() + 2, bar.width(), 2), color("ink"))
            self._paint_marks(painter, row, bar)
            if project.target_finish is not None:
                self._paint_gate(painter, box.left() + scale.x(project.target_finish), bar,
                                 row.finish > project.target_finish)  # fmt: skip
        self._paint_today(painter, top)
        painter.restore()

    def _paint(self, painter: QPainter) -> None:
        super()._paint(painter)
        painter.setClipRect(self._box().adjusted(-8, scaled(self.top_margin), 8, 0))
        here = self.current
        if isinstance(here, ProjectRow):
            tops = {r.project: (r, self.top_of(i)) for i, r in enumerate(self.rows) if isinstance(r, ProjectRow)}
            for before in self._work.comes_from(here.project):
                self._paint_link(painter, tops, before, here.project)
            for after in here.leads_to:
                self._paint_link(painter, tops, here.project, after)

    def _paint_link(self, painter: QPainter, tops: dict[str, tuple[ProjectRow, int]], before: str, after: str) -> None:
        """From the end of a bar down or up to the begin of another one, where both are on show."""
        if before not in tops or after not in tops:
            return
        (one, top), (other, bottom) = tops[before], tops[after]
        if one.finish is None or other.start is None:
            return
        left, middle = self._box().left(), scaled(ROW) / 2 - 1
        x, to = left + self.scale().x(one.finish), left + self.scale().x(other.start)
        y, end = top + middle, bottom + middle
        half = scaled(ROW) / 2 if end > y else -scaled(ROW) / 2
        turn, back = y + half, end - half  # between two rows, where no bar lies
        critical = after in one.holds_up
        painter.setPen(QPen(color("ink" if critical else "muted"), 1.6 if critical else 1.1))
        painter.setBrush(Qt.BrushStyle.NoBrush)
        corners = [(x, y), (x + 7, y), (x + 7, turn), (to - 7, back), (to - 7, end), (to, end)]
        if round(turn) != round(back):  # past other rows, left of all bars
            corners[3:3] = [(left - 6, turn), (left - 6, back)]
        painter.drawPolyline([QPointF(*corner) for corner in corners])
        painter.setBrush(color("ink" if critical else "muted"))
        painter.drawPolygon([QPointF(to, end), QPointF(to - 5, end - 3), QPointF(to - 5, end + 3)])

    def _paint_body(self, painter: QPainter, row: ProjectRow, bar: QRectF) -> None:
        tone = self._department(row.project)
        held = row.status.state is ProjectState.ON_HOLD
        painter.setPen(QPen(tone, 1, Qt.PenStyle.DashLine) if held else Qt.PenStyle.NoPen)
        painter.setBrush(Qt.BrushStyle.NoBrush if held else faded(tone, 90))
        painter.drawRoundedRect(bar, 2, 2)
        done = QRectF(bar.left(), bar.top(), bar.width() * min(1.0, row.status.percent / 100), bar.height())
        painter.setPen(Qt.PenStyle.NoPen)
        painter.setBrush(tone)
        if done.width() >= 1:
            painter.drawRoundedRect(done, 2, 2)

    def _department(self, project: str) -> QColor:
        """The colour of the department of a project."""
        return stream_color(self._departments.get(self._desk.plan.projects[project].department, 0))

    def _paint_marks(self, painter: QPainter, row: ProjectRow, bar: QRectF) -> None:
        """Milestones, from the last one back; those that would hide one another are left out."""
        tone, before = self._department(row.project), float("inf")
        painter.setPen(QPen(tone, 1.4))
        for mark in reversed(row.marks):
            x = self._box().left() + self.scale().x(mark.at)
            if before - x >= scaled(2 * MARK + 1):
                painter.setBrush(tone if mark.reach is Reach.REACHED else color("panel"))
                painter.drawPolygon(hexagon(QPointF(x, bar.center().y()), scaled(MARK)))
                before = x

    @staticmethod
    def _paint_gate(painter: QPainter, x: float, bar: QRectF, missed: bool) -> None:
        """The gate at the date that a project is wanted by."""
        painter.setPen(QPen(color("brick" if missed else "muted"), 1.4))
        for off in (0.0, 3.0):
            painter.drawPolyline(
                QPointF(x - 3 + off, bar.top() - 3), QPointF(x + off, bar.top() - 3),
                QPointF(x + off, bar.bottom() + 3), QPointF(x - 3 + off, bar.bottom() + 3),
            )  # fmt: skip
