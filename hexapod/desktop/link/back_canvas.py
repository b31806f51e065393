"""The canvas of planning back: bars at their latest dates, pulled out, sized, moved and named by mouse and keyboard."""

from __future__ import annotations

from typing import TYPE_CHECKING

from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QFont, QKeyEvent, QMouseEvent, QPainter, QPaintEvent, QPen, QResizeEvent, QWheelEvent
from PyQt6.QtWidgets import (
    QLineEdit,
    QMenu,
    QWidget,
)

from hexapod.desktop import dates
from hexapod.desktop.action import Registry
from hexapod.desktop.chart import geometry as g
from hexapod.desktop.chart import painter as paint
from hexapod.desktop.chart.coloring import row_color
from hexapod.desktop.chart.pictures import tell_current, words_of
from hexapod.desktop.chart.routing import Ends, Interval, link_path
from hexapod.desktop.chart.timescale import TimeScale
from hexapod.desktop.chart.workdays import Idleness
from hexapod.desktop.link.back_drags import BackEdits, Drag, Pull, Shift, Size
from hexapod.desktop.link.back_picture import NOTHING
from hexapod.desktop.models.desk import Desk
from hexapod.desktop.theme.style import color, faded, font
from hexapod.desktop.theme.text import width_of
from hexapod.desktop.theme.tips import plain_tip
from hexapod.plan import edits
from hexapod.plan.outline import stream_of
from hexapod.plan.records import DAY
from hexapod.worktime.calendars import units_of
from hexapod.worktime.clock import today

if TYPE_CHECKING:
    from hexapod.desktop.link.back_map import BackMap

Blocked = dict[int, list[Interval]]  # by row, what lies on it, from where to where
AXIS, ROW, BAR = 42, 40, 22
EMPTY_MAP = (
    "Choose a milestone above, or begin with a new one. Then pull the work that must come before it\n"
    "out to the left, with the mouse from the dot before it, or with Enter."
)
PULL = 9.0  # from a bar's left edge to what is pulled out of it
WIDEST_NAME = 260.0  # pixels behind a bar
DEFAULT_PULL = 5 * 480  # minutes of work that the keyboard pulls out


class NameLine(QLineEdit):
    """Keeps Enter to itself: for the map it means more work."""

    def keyPressEvent(self, event: QKeyEvent) -> None:
        super().keyPressEvent(event)
        if event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter):
            event.accept()


WIDEST_TEXT = 10_000  # pixels


def _face_of_bands() -> QFont:
    return font(8.5, QFont.Weight.DemiBold)


class BackCanvas(QWidget):
    """The bars on their time axis."""

    def __init__(self, map_: BackMap, desk: Desk, registry: Registry) -> None:
        super().__init__()
        self.setObjectName("backMap")
        self.setAccessibleName("Work before a date, at its latest")
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setMouseTracking(True)
        self.map, self.desk, self._registry = map_, desk, registry
        self.picture = NOTHING
        self.has_lanes = False
        self.scale = TimeScale(today(), 6.0)
        self._top = 0.0
        self.edits = BackEdits(self)
        self._drag: Drag | None = None
        self._pan: QPointF | None = None
        self._pressed: tuple[QPointF, str] | None = None
        self._hovered: str | None = None
        self._editor: QLineEdit | None = None
        self._idle = Idleness(desk.plan)
        desk.selection_changed.connect(self._on_selection)
        desk.looks.changed.connect(self.update)

    def refresh(self) -> None:
        from hexapod.desktop.link.back_rows import picture_of

        desk = self.desk
        lane = (lambda task: stream_of(desk.plan, task)) if self.has_lanes else (lambda task: "")
        wanted = {m: self.map.date_of(m) for m in self.map.milestones if desk.schedule.has(m)}
        self.picture = picture_of(desk.plan, desk.worked_out, wanted, lane)
        if self._idle.calendars is not desk.plan.calendars:
            self._idle = Idleness(desk.plan)
        self.update()

    def drop_gone(self) -> None:
        """Nothing is drawn or asked about tasks that were deleted since the picture was made."""
        tasks = self.desk.plan.tasks
        if any(task not in tasks for task in self.picture.latest):
            self.picture = NOTHING

    # Geometry

    def bar(self, task: str) -> QRectF | None:
        latest = self.picture.latest.get(task)
        if latest is None:
            return None
        top = AXIS + 12 + self._row_top(self.picture.rows[task]) - self._top
        x1, x2 = self.scale.x(latest.start), self.scale.x(latest.finish)
        if latest.start == latest.finish:
            return QRectF(x1 - 9, top + BAR / 2 - 9, 18, 18)
        return QRectF(x1, top, max(6.0, x2 - x1), BAR)

    def _row_top(self, row: int) -> float:
        lanes_above = sum(1 for _, first, _ in self.picture.bands if first <= row) if self.has_lanes else 0
        return row * ROW + lanes_above * 22

    def fit(self) -> None:
        """From the first start, or today, to the last date."""
        self.map.drop_gone()
        found = self.picture.latest.values()
        if not found:
            return
        begin = min(*(x.start for x in found), today() // DAY * DAY)
        end = max(*(x.finish for x in found), begin + 20 * DAY)
        last = [t for t, x in self.picture.latest.items() if x.finish == end]
        behind = max((width_of(font(8.5, QFont.Weight.DemiBold), self._said(t)) for t in last), default=0.0)
        pixels = max(0.3, (self.width() - 150 - min(behind, WIDEST_NAME)) * DAY / (end - begin))
        self.scale = TimeScale(begin - round(90 * DAY / pixels), min(pixels, 60.0))
        self._top = 0.0
        self.update()

    def zoom_by(self, factor: float, around: float | None = None) -> None:
        self.scale = self.scale.zoomed(factor, self.width() / 2 if around is None else around)
        self.update()

    def task_at(self, at: QPointF) -> str | None:
        self.map.drop_gone()
        found = [
            t for t in self.picture.latest if (b := self.bar(t)) is not None and b.adjusted(-3, -3, 3, 3).contains(at)
        ]
        return found[-1] if found else None

    def pull_point(self, task: str) -> QPointF | None:
        bar = self.bar(task)
        return None if bar is None else QPointF(bar.left() - PULL, bar.center().y())

    # Painting

    def paintEvent(self, event: QPaintEvent) -> None:
        painter = QPainter(self)
        painter.fillRect(self.rect(), color("panel"))
        self.paint_all(painter)
        self._paint_gesture(painter)
        paint.paint_axis(painter, self.scale, self.width(), AXIS)
        if not self.picture.latest:
            painter.setPen(color("muted"))
            painter.drawText(self.rect(), Qt.AlignmentFlag.AlignCenter, EMPTY_MAP)
        painter.end()

    def paint_all(self, painter: QPainter) -> None:
        """Everything but gestures, as it is on screen."""
        self.map.drop_gone()
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        blocked = self._blocked()
        self._paint_ground(painter, blocked)
        self._paint_links(painter, blocked)
        for task in self.picture.latest:
            self._paint_bar(painter, task)
        paint.paint_axis(painter, self.scale, self.width(), AXIS)

    def _paint_ground(self, painter: QPainter, blocked: Blocked) -> None:
        project = self.desk.plan.projects.get(self.desk.project or "")
        if project is not None and self.scale.pixels >= 2.2:
            for begin, end in self._idle.days(project.calendar, self.scale.minute(0), self.scale.minute(self.width())):
                x = self.scale.x(begin)
                painter.fillRect(QRectF(x, AXIS, self.scale.x(end) - x, self.height()), color("shade"))
        now = self.scale.x(today() // DAY * DAY)
        if now > 0:
            gone = faded(color("muted"), 46)
            painter.fillRect(QRectF(0, AXIS, min(now, self.width()), self.height()), gone)
        painter.setPen(QPen(color("petrol"), 1.4, Qt.PenStyle.DashLine))
        self._paint_upright(painter, now, blocked)
        painter.setFont(font(7.5, QFont.Weight.DemiBold))
        paint.paint_tag(painter, QRectF(now - 22, self.height() - 17, 44, 15), "today")
        if self.has_lanes:
            for name, first, _ in self.picture.bands:
                y = self._top_of_band(first)
                painter.setPen(color("rule"))
                painter.drawLine(QPointF(0, y), QPointF(self.width(), y))
                painter.setPen(color("petrol"))
                painter.setFont(_face_of_bands())
                painter.drawText(QPointF(8, y + 14), name)
        for milestone in self.map.milestones:
            x = self.scale.x(self.map.date_of(milestone))
            painter.setPen(QPen(color("ink"), 1.4))
            self._paint_upright(painter, x, blocked)
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.drawPath(g.gate_path(x, AXIS + 2))

    def _paint_upright(self, painter: QPainter, x: float, blocked: Blocked) -> None:
        """A line from top to bottom, in the painter's pen, but for the bars and names that it would run through."""
        tops = (AXIS + 12 + self._row_top(row) - self._top for row, taken in blocked.items()
                if any(left - 1 < x < right + 1 for left, right in taken))  # fmt: skip
        taken = [(top - 15, top + BAR + 1) for top in tops]
        if self.has_lanes:
            named = ((name, self._top_of_band(first)) for name, first, _ in self.picture.bands)
            taken += [(y + 1, y + 18) for name, y in named if x < 12 + width_of(_face_of_bands(), name)]
        for top, bottom in g.outside(AXIS, self.height(), taken):
            painter.drawLine(QPointF(x, top), QPointF(x, bottom))

    def _top_of_band(self, first: int) -> float:
        return AXIS + self._row_top(first) - 10 - self._top

    def _paint_links(self, painter: QPainter, blocked: Blocked) -> None:
        plan = self.desk.plan
        for task in self.picture.latest:
            for key in plan.links_at.get(task, ()):
                if key[1] != task:
                    continue
                before, after = self.bar(key[0]), self.bar(task)
                if before is not None and after is not None:
                    tight = self.picture.latest[key[0]].finish >= self.picture.latest[task].start - DAY
                    rows = self.picture.rows[key[0]], self.picture.rows[task]
                    ends = Ends(before, after, *rows, self._gap_below, names_above=True)
                    path = link_path(plan.links[key].type, ends, lambda row: blocked.get(row, ()))
                    paint.paint_link(painter, path, driving=tight, chosen=False)

    def _gap_below(self, row: int) -> float:
        """Close under the bars: below it are the names of the next row."""
        return AXIS + 12 + self._row_top(row) - self._top + BAR + 2

    def _blocked(self) -> Blocked:
        """The bars and names of each row."""
        found: Blocked = {}
        for task, row in self.picture.rows.items():
            bar = self.bar(task)
            if bar is None:
                continue
            on_row = found.setdefault(row, [])
            on_row.append((bar.left(), bar.right()))
            said, face, box = self._name_of(task, bar)
            end = box.left() + min(width_of(face, said), box.width())
            if end > bar.right() or box.top() < bar.top():
                on_row.append((box.left() - 1, end + 1))
        return found

    def _paint_bar(self, painter: QPainter, task: str) -> None:
        bar, latest = self.bar(task), self.picture.latest[task]
        assert bar is not None
        if not QRectF(self.rect()).adjusted(-300, 0, 300, 0).intersects(bar):
            return
        chosen = task in self.desk.selection
        stream = row_color(self.desk, task)
        pale = faded(row_color(self.desk, task), paint.PALE)
        edge, wide = stream, 0.9
        if chosen or latest.room < 0:
            edge, wide = color("petrol" if chosen else "brick"), 2.2 if chosen else 1.6
        painter.setPen(QPen(edge, wide))
        if latest.start == latest.finish:
            painter.setBrush(color("panel"))
            painter.drawPolygon(g.hexagon(bar.center(), 9))
        else:
            painter.setBrush(pale)
            painter.drawRoundedRect(bar, 3, 3)
        self._paint_name(painter, task, bar)

    def _paint_name(self, painter: QPainter, task: str, bar: QRectF) -> None:
        said, face, box = self._name_of(task, bar)
        painter.setFont(face)
        painter.setPen(color("ink"))
        text = painter.fontMetrics().elidedText(said, Qt.TextElideMode.ElideRight, int(min(box.width(), WIDEST_TEXT)))
        painter.drawText(box, Qt.AlignmentFlag.AlignVCenter, text)

    def _name_of(self, task: str, bar: QRectF) -> tuple[str, QFont, QRectF]:
        """A name with its place: on the bar where there is room, else above it as far as the next bar of the row, with
        room for a link that comes down to the bar; beside a milestone."""
        latest, name = self.picture.latest[task], self.desk.plan.tasks[task].name
        face = font(8.5, QFont.Weight.DemiBold if task in self.map.milestones else QFont.Weight.Normal)
        if latest.start == latest.finish:
            box = QRectF(bar.right() + 6, bar.top(), self._room_behind(task) - 12, bar.height())
            return self._said(task), face, box
        if width_of(face, name) + 10 <= bar.width():
            return name, face, bar.adjusted(6, 0, -4, 0)
        return name, face, QRectF(bar.left() + 8, bar.top() - 14, bar.width() + self._room_behind(task) - 12, 13)

    def _said(self, task: str) -> str:
        """The name, of a milestone that is planned back from with its date."""
        name = self.desk.plan.tasks[task].name
        return f"{name}, {dates.short_day(self.map.date_of(task))}" if task in self.map.milestones else name

    def _room_behind(self, task: str) -> float:
        """Pixels to the next bar of the row."""
        row, own = self.picture.rows[task], self.picture.latest[task].finish
        on_row = [x for t, x in self.picture.latest.items() if self.picture.rows[t] == row and t != task]
        behind = [x.start for x in on_row if x.start >= own]
        return min(WIDEST_NAME, self.scale.x(min(behind)) - self.scale.x(own)) if behind else WIDEST_NAME

    def _paint_gesture(self, painter: QPainter) -> None:
        drag = self._drag
        if drag is None:
            at = self.pull_point(self._hovered) if self._hovered and not self.desk.is_read_only else None
            if at is not None:
                paint.paint_handle(painter, at)
            return
        bar = self.bar(drag.task)
        if bar is None:
            return
        pen = QPen(color("petrol"), 1.5, Qt.PenStyle.DashLine)
        wash = faded(color("petrol"), 36)
        if isinstance(drag, Pull):
            if drag.onto is not None:
                painter.setPen(QPen(color("petrol"), 1.8))
                painter.drawLine(drag.at, QPointF(bar.left(), bar.center().y()))
            else:
                painter.setPen(pen)
                painter.setBrush(wash)
                left = min(drag.at.x(), bar.left() - 8)
                painter.drawRoundedRect(QRectF(left, drag.at.y() - BAR / 2, bar.left() - left, BAR), 3, 3)
        else:
            box = QRectF(bar)
            if isinstance(drag, Shift):
                box.translate(drag.at.x() - drag.begun.x(), 0)
            else:
                box.setLeft(min(drag.at.x(), bar.right() - 6))
            painter.setPen(pen)
            painter.setBrush(wash)
            painter.drawRoundedRect(box, 3, 3)
        words = self.edits.words(drag)
        painter.setFont(font(8.5, QFont.Weight.Medium))
        width = painter.fontMetrics().horizontalAdvance(words) + 14
        paint.paint_tag(painter, QRectF(drag.at.x() + 12, drag.at.y() + 16, width, 21), words)

    def rename(self, task: str) -> None:
        """Type the name of a bar where it is; a length behind it is its duration."""
        bar = self.bar(task)
        if bar is None or self.desk.is_read_only:
            return
        self._close_editor()
        editor = NameLine(self)
        editor.setObjectName("backName")
        editor.setAccessibleName("Name, and how long it takes: Strip out 6 d")
        name = self.desk.plan.tasks[task].name
        editor.setText("" if name in ("New work", "New milestone") else name)
        editor.setPlaceholderText("Strip out 6 d")
        editor.setGeometry(round(max(4, min(bar.left(), self.width() - 210))), round(bar.top() - 2), 200, BAR + 5)
        editor.returnPressed.connect(lambda: self._named(task, editor.text()))
        editor.show()
        editor.setFocus()
        self._editor = editor

    def _named(self, task: str, text: str) -> None:
        from hexapod.desktop.link.back_rows import read_sized_name

        self._close_editor()
        plan = self.desk.plan
        if not text.strip() or task not in plan.tasks:
            return
        name, length = read_sized_name(text, units_of(plan, plan.tasks[task].project))
        steps = [edits.rename(plan, task, name)]
        if length is not None:
            steps.append(edits.set_durations(plan, [task], length))
        self.desk.do(steps[0] if len(steps) == 1 else edits.together(steps[0].words, steps))

    def _close_editor(self) -> None:
        editor, self._editor = self._editor, None
        if editor is not None:
            editor.deleteLater()
            self.setFocus()

    def cancel(self) -> bool:
        was = self._drag is not None or self._editor is not None
        self._drag = self._pan = self._pressed = None
        self._close_editor()
        self.update()
        return was

    # Events

    def _on_selection(self) -> None:
        tell_current(self, self.desk)
        self.update()

    def mousePressEvent(self, event: QMouseEvent) -> None:
        at = event.position()
        if event.button() != Qt.MouseButton.LeftButton:
            return
        if self._editor is not None:
            self._named(self.desk.current or "", self._editor.text())
            return
        writable = not self.desk.is_read_only
        pull = self.pull_point(self._hovered) if self._hovered else None
        if pull is not None and writable and (pull - at).manhattanLength() <= 9:
            self._drag = Pull(self._hovered or "", at)
            return
        task = self.task_at(at)
        if task is None:
            self._pan = at
            return
        self.desk.select((task,), task)
        bar = self.bar(task)
        is_work = self.picture.latest[task].start != self.picture.latest[task].finish
        if writable and bar is not None and is_work and abs(at.x() - bar.left()) <= 4:
            self._drag = Size(task, at)
        elif writable:
            self._pressed = (at, task)

    def mouseMoveEvent(self, event: QMouseEvent) -> None:
        at = event.position()
        if self._pressed is not None and abs(at.x() - self._pressed[0].x()) > 4:
            self._drag, self._pressed = Shift(self._pressed[1], self._pressed[0], at), None
        if isinstance(self._drag, Pull):
            onto = self.task_at(at)
            self._drag.onto = onto if onto != self._drag.task else None
        if self._drag is not None:
            self._drag.at = at
        elif self._pan is not None:
            self.scale = self.scale.moved(self._pan.x() - at.x())
            self._top = max(0.0, self._top + self._pan.y() - at.y())
            self._pan = at
        else:
            pull = self.pull_point(self._hovered) if self._hovered in self.picture.latest else None
            if pull is None or (pull - at).manhattanLength() > 14:
                self._hovered = self.task_at(at)
            self.setToolTip(
                plain_tip(words_of(self.desk, self._hovered) if self._hovered in self.desk.plan.tasks else "")
            )
        self.update()

    def mouseReleaseEvent(self, event: QMouseEvent) -> None:
        drag, self._drag, self._pan, self._pressed = self._drag, None, None, None
        if drag is not None:
            self.edits.drop(drag)
        self.update()

    def mouseDoubleClickEvent(self, event: QMouseEvent) -> None:
        task = self.task_at(event.position())
        if task is not None:
            self.rename(task)

    def contextMenuEvent(self, event) -> None:  # type: ignore[no-untyped-def]
        task = self.task_at(QPointF(event.pos()))
        if task is not None:
            self.desk.select((task,), task)
            menu = QMenu(self)
            self._registry.fill(menu, "row")
            menu.setAttribute(Qt.WidgetAttribute.WA_DeleteOnClose)
            menu.popup(event.globalPos())

    def wheelEvent(self, event: QWheelEvent) -> None:
        turned = event.angleDelta().y()
        if event.modifiers() & Qt.KeyboardModifier.ControlModifier:
            self.zoom_by(1.2 ** (turned / 120), event.position().x())
        elif event.modifiers() & Qt.KeyboardModifier.ShiftModifier:
            self.scale = self.scale.moved(-turned / 2)
        else:
            self._top = max(0.0, self._top - turned / 3)
        self.update()

    def keyPressEvent(self, event: QKeyEvent) -> None:
        """Enter pulls work out before the current bar, F2 renames it, the arrows walk."""
        key, current = Qt.Key(event.key()), self.desk.current or ""
        if key in (Qt.Key.Key_Return, Qt.Key.Key_Enter) and current in self.picture.latest:
            self.edits.pull_out(current, DEFAULT_PULL)
            return
        walk = {Qt.Key.Key_Left: (1, 0), Qt.Key.Key_Right: (0, 1)}.get(key)
        found: list[str] = []
        if walk is not None:
            found = [
                k[0] if walk[0] else k[1] for k in self.desk.plan.links_at.get(current, ()) if k[walk[0]] == current
            ]
            found = [t for t in found if t in self.picture.latest]
        elif key in (Qt.Key.Key_Up, Qt.Key.Key_Down) and current in self.picture.latest:
            side = 1 if key == Qt.Key.Key_Down else -1
            here, rows_ = self.picture.latest[current], self.picture.rows
            beside = [t for t in rows_ if (rows_[t] - rows_[current]) * side > 0]
            beside.sort(key=lambda t: (abs(rows_[t] - rows_[current]), abs(self.picture.latest[t].start - here.start)))
            found = beside
        elif key in (Qt.Key.Key_Plus, Qt.Key.Key_Equal, Qt.Key.Key_Minus):
            self.zoom_by(0.8 if key == Qt.Key.Key_Minus else 1.25)
            return
        else:
            event.ignore()
            return
        if found:
            self.desk.select((found[0],), found[0])

    def resizeEvent(self, event: QResizeEvent) -> None:
        super().resizeEvent(event)
        if event.oldSize().width() <= 0:
            self.fit()
