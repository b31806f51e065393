"""A month of the plan: who does what on which day; a bar is dragged to another day to reschedule it."""

from __future__ import annotations

from collections.abc import Callable

from PyQt6.QtCore import QLocale, QPointF, QRectF, Qt
from PyQt6.QtGui import QFont, QKeyEvent, QMouseEvent, QPainter, QPaintEvent, QPen, QWheelEvent
from PyQt6.QtWidgets import QComboBox, QFrame, QHBoxLayout, QMenu, QSizePolicy, QVBoxLayout, QWidget

from hexapod.desktop import dates
from hexapod.desktop.action import Registry
from hexapod.desktop.chart import geometry as g
from hexapod.desktop.chart import painter as paint
from hexapod.desktop.chart.coloring import row_color
from hexapod.desktop.chart.pictures import tell_current, words_of
from hexapod.desktop.chart.workdays import Idleness
from hexapod.desktop.models.desk import Desk
from hexapod.desktop.month.layout import Piece, Span, pieces, span_of, weeks_of
from hexapod.desktop.parts import choice_button, icon_button, label, narrow
from hexapod.desktop.theme.style import color, faded, font
from hexapod.desktop.theme.tips import plain_tip
from hexapod.errors import HexapodError
from hexapod.plan.edits import Edit
from hexapod.plan.outline import rows, stream_of
from hexapod.plan.records import DAY
from hexapod.worktime.clock import date_of, today

HEAD, DAY_HEAD, LINE = 24, 20, 19
MOST = 20_000  # tasks whose days are looked through


class MonthView(QWidget):
    def __init__(self, desk: Desk, registry: Registry, leave: Callable[[], None]) -> None:
        super().__init__()
        self._desk = desk
        self.main_part = self.canvas = MonthCanvas(desk, registry)
        self.cancel = self.canvas.cancel
        self._title = label("", "title")
        self.person, self.stream, self.project = QComboBox(), QComboBox(), QComboBox()
        head = QFrame()
        head.setObjectName("viewbar")
        line = QHBoxLayout(head)
        line.setContentsMargins(10, 4, 10, 4)
        for icon, words, by in (("arrow-left", "The month before", -1), ("arrow-right", "The month after", 1)):
            button = icon_button(icon, words)
            button.clicked.connect(lambda _, n=by: self.canvas.turn(n))
            line.addWidget(button)
        line.addWidget(self._title)
        line.addStretch(1)
        for box, name, words in ((self.project, "monthProject", "Project"), (self.person, "monthPerson", "Person"),
                                 (self.stream, "monthStream", "Stream")):  # fmt: skip
            box.setObjectName(name)
            box.setAccessibleName(words)
            narrow(box).setMaximumWidth(190)
            box.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Fixed)
            box.activated.connect(self._choose)
            line.addWidget(box, 1)
        line.addWidget(choice_button("Today", lambda: self.canvas.show_day(today() // DAY)))
        back = choice_button("Back to the chart", leave)
        back.setCheckable(False)
        line.addWidget(back)
        box_ = QVBoxLayout(self)
        box_.setContentsMargins(0, 0, 0, 0)
        box_.setSpacing(0)
        box_.addWidget(head)
        box_.addWidget(self.canvas, 1)
        self.setFocusProxy(self.canvas)
        self.canvas.turned = self._show_title
        for signal in (desk.changed, desk.computed, desk.looked_at_changed):
            signal.connect(self.refresh)
        self._show_title()

    def refresh(self, *_: object) -> None:
        if self.isVisible():
            self._fill_choices()
            self.canvas.refresh()

    def showEvent(self, event) -> None:  # type: ignore[no-untyped-def]
        super().showEvent(event)
        current = self._desk.current
        if current and self._desk.schedule.has(current):
            self.canvas.show_day(self._desk.schedule.dates(current).start // DAY)
        self.refresh()

    def _show_title(self) -> None:
        name = QLocale().standaloneMonthName(self.canvas.month)
        self._title.setText(f"{name} {self.canvas.year}")

    def _fill_choices(self) -> None:
        plan = self._desk.plan
        at_work = [p for p in plan.projects_in_order() if not p.archived]
        _fill(self.project, "All projects", [(p.name, p.id) for p in at_work], self.canvas.project)
        _fill(self.person, "Everybody", [(r.name, r.id) for r in plan.resources_in_order()], self.canvas.person)
        shown = [p.id for p in at_work if self.canvas.project in (None, p.id)]
        tops = [t for p in shown for t in plan.children_of(p, None)]
        names = dict.fromkeys(stream_of(plan, t) for t in tops)
        names |= dict.fromkeys(t.stream for t in plan.tasks.values() if t.stream and t.project in shown)
        _fill(self.stream, "All streams", [(n, n) for n in names], self.canvas.stream)

    def _choose(self, *_: object) -> None:
        self.canvas.project = self.project.currentData()
        self.canvas.person = self.person.currentData()
        self.canvas.stream = self.stream.currentData()
        self.refresh()


def _fill(box: QComboBox, everything: str, entries: list[tuple[str, str]], chosen: str | None) -> None:
    box.blockSignals(True)
    box.clear()
    box.addItem(everything, None)
    for name, value in entries:
        box.addItem(name, value)
    box.setCurrentIndex(max(0, box.findData(chosen)) if chosen else 0)
    box.blockSignals(False)


class MonthCanvas(QWidget):
    """``turned`` is called when another month is shown."""

    def __init__(self, desk: Desk, registry: Registry) -> None:
        super().__init__()
        self.setObjectName("month")
        self.setAccessibleName("A month of tasks and milestones")
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setMouseTracking(True)
        self.desk, self._registry = desk, registry
        now = date_of(today() // DAY)
        self.year, self.month = now.year, now.month
        self.project: str | None = desk.project
        self.person: str | None = None
        self.stream: str | None = None
        self.turned: Callable[[], None] = lambda: None
        self.pieces: list[Piece] = []
        self._idle = Idleness(desk.plan)
        self._pressed: tuple[QPointF, str, int] | None = None
        self._drag: tuple[str, int] | None = None  # the task and by how many days
        desk.selection_changed.connect(self._on_selection)
        for signal in (desk.ghost_changed, desk.looks.changed):
            signal.connect(self.update)

    # What is shown

    @property
    def first_weekday(self) -> int:
        return QLocale().firstDayOfWeek().value - 1

    def weeks(self) -> list[int]:
        return weeks_of(self.year, self.month, self.first_weekday)

    def turn(self, months: int) -> None:
        """Another month."""
        at = self.year * 12 + self.month - 1 + months
        if 1970 * 12 <= at < 2129 * 12:
            self.year, self.month = divmod(at, 12)
            self.month += 1
            self.refresh()
            self.turned()

    def show_day(self, day: int) -> None:
        """The month of a day."""
        shown = date_of(day)
        self.year, self.month = shown.year, shown.month
        self.refresh()
        self.turned()

    def tasks(self) -> list[str]:
        """Leaves of the chosen project, person and stream."""
        plan = self.desk.plan
        at_work = [p.id for p in plan.projects_in_order() if not p.archived]
        wanted = [self.project] if self.project in plan.projects else at_work
        if self.person is not None:
            here = [t for t in plan.used_by.get(self.person, {}) if plan.tasks[t].project in wanted]
        else:
            here = [row.task for p in wanted for row in rows(plan, p)][:MOST]
        leaves = [t for t in here if not plan.is_summary(t)]
        return [t for t in leaves if self.stream is None or stream_of(plan, t) == self.stream]

    def refresh(self) -> None:
        if self._idle.calendars is not self.desk.plan.calendars:
            self._idle = Idleness(self.desk.plan)
        weeks = self.weeks()
        begin, end = weeks[0] * DAY, (weeks[-1] + 7) * DAY
        spans: list[Span] = []
        for task in self.tasks():
            if self.desk.schedule.has(task):
                d = self.desk.schedule.dates(task)
                if d.start < end and d.finish >= begin:
                    spans.append(span_of(task, d.start, d.finish))
        self.pieces = pieces(spans, weeks)
        self.update()

    def of_size(self, width: int, height: int) -> MonthCanvas:
        """The same month for paper of another size."""
        made = MonthCanvas(self.desk, self._registry)
        made.year, made.month = self.year, self.month
        made.project, made.person, made.stream = self.project, self.person, self.stream
        made.resize(width, height)
        made.refresh()
        return made

    # Geometry

    def cell(self, week: int, column: int) -> QRectF:
        count = len(self.weeks())
        wide, high = self.width() / 7, (self.height() - HEAD) / count
        return QRectF(column * wide, HEAD + week * high, wide, high)

    def lines_in(self, week: int) -> int:
        return max(1, int((self.cell(week, 0).height() - DAY_HEAD - 2) // LINE))

    def box(self, piece: Piece) -> QRectF | None:
        """Where a piece is; None if the week has no line left for it."""
        most = self.lines_in(piece.week)
        crowded = any(p.week == piece.week and p.line >= most for p in self.pieces)
        if piece.line >= most - (1 if crowded else 0):
            return None
        left, right = self.cell(piece.week, piece.begin), self.cell(piece.week, piece.end)
        top = left.top() + DAY_HEAD + piece.line * LINE
        return QRectF(left.left() + 3, top, right.right() - left.left() - 6, LINE - 3)

    def hidden(self, week: int, column: int) -> list[str]:
        """Tasks of a day for which there was no line."""
        return [p.task for p in self.pieces if p.week == week and p.begin <= column <= p.end and self.box(p) is None]

    def day_at(self, at: QPointF) -> tuple[int, int] | None:
        """(week, column) of a point."""
        weeks = self.weeks()
        if at.y() < HEAD or not weeks:
            return None
        week = int((at.y() - HEAD) / ((self.height() - HEAD) / len(weeks)))
        column = int(at.x() / (self.width() / 7))
        return (week, column) if 0 <= week < len(weeks) and 0 <= column < 7 else None

    def piece_at(self, at: QPointF) -> Piece | None:
        for piece in self.pieces:
            box = self.box(piece)
            if box is not None and box.contains(at):
                return piece
        return None

    # Painting

    def paintEvent(self, event: QPaintEvent) -> None:
        painter = QPainter(self)
        self.paint_all(painter)
        if self._drag is not None:
            self._paint_drag(painter)
        painter.end()

    def paint_all(self, painter: QPainter) -> None:
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.fillRect(self.rect(), color("panel"))
        self._paint_days(painter)
        for piece in self.pieces:
            box = self.box(piece)
            if box is not None:
                self._paint_piece(painter, piece, box)
        self._paint_more(painter)

    def _paint_days(self, painter: QPainter) -> None:
        project = self.desk.plan.projects.get(self.project or self.desk.project or "")
        weeks, locale = self.weeks(), QLocale()
        idle: set[int] = set()
        if project is not None:
            for begin, end in self._idle.days(project.calendar, weeks[0] * DAY, (weeks[-1] + 7) * DAY):
                idle.update(range(begin // DAY, end // DAY))
        painter.setFont(font(8, QFont.Weight.DemiBold))
        for column in range(7):
            painter.setPen(color("muted"))
            name = locale.standaloneDayName((column + self.first_weekday) % 7 + 1)
            painter.drawText(QRectF(column * self.width() / 7 + 6, 0, 160, HEAD), Qt.AlignmentFlag.AlignVCenter, name)
        for week, first in enumerate(weeks):
            for column in range(7):
                day, box = first + column, self.cell(week, column)
                shown = date_of(day)
                if day in idle:
                    painter.fillRect(box, color("shade"))
                painter.setPen(color("rule"))
                painter.drawRect(box)
                is_today = day == today() // DAY
                painter.setFont(font(8.5, QFont.Weight.DemiBold if is_today else QFont.Weight.Normal))
                month = locale.monthName(shown.month, QLocale.FormatType.ShortFormat) if shown.day == 1 else ""
                text = f"{shown.day} {month}".strip()
                if column == 0:
                    text = f"{text}  ·  week {shown.isocalendar()[1]}"
                painter.setPen(color("petrol" if is_today else "ink" if shown.month == self.month else "faint"))
                painter.drawText(box.adjusted(6, 3, -4, 0), Qt.AlignmentFlag.AlignTop, text)

    def _paint_piece(self, painter: QPainter, piece: Piece, box: QRectF) -> None:
        desk, task = self.desk, self.desk.plan.tasks[piece.task]
        found = desk.schedule.dates(piece.task)
        stream = row_color(desk, piece.task)
        pale = faded(stream, paint.PALE)
        chosen = piece.task in desk.selection
        text_left = box.left() + 6
        if found.start == found.finish:
            painter.setPen(QPen(color("ink") if found.critical else stream, 1.6))
            painter.setBrush(stream if desk.percent(piece.task) >= 100 else color("panel"))
            painter.drawPolygon(g.hexagon(QPointF(box.left() + 8, box.center().y()), 6))
            text_left = box.left() + 18
        else:
            shape = box.adjusted(0 if piece.opens else -3, 0, 0 if piece.closes else 3, 0)
            painter.setPen(QPen(color("petrol") if chosen else stream, 2 if chosen else 0.8))
            painter.setBrush(pale)
            painter.drawRoundedRect(shape, 3, 3)
            if found.critical:
                painter.fillRect(QRectF(shape.left() + 2, shape.bottom() - 2, shape.width() - 4, 2), color("ink"))
        weight = QFont.Weight.DemiBold if chosen else QFont.Weight.Normal
        painter.setFont(font(8, weight, strike=desk.is_struck(piece.task)))
        painter.setPen(color("ink"))
        place = QRectF(text_left, box.top(), box.right() - text_left - 3, box.height())
        shown = painter.fontMetrics().elidedText(task.name, Qt.TextElideMode.ElideRight, int(place.width()))
        painter.drawText(place, Qt.AlignmentFlag.AlignVCenter, shown)

    def _paint_more(self, painter: QPainter) -> None:
        painter.setFont(font(7.5, QFont.Weight.DemiBold))
        painter.setPen(color("petrol"))
        for week in range(len(self.weeks())):
            for column in range(7):
                count = len(self.hidden(week, column))
                if count:
                    box = self.cell(week, column)
                    place = QRectF(box.left() + 6, box.bottom() - LINE + 1, box.width() - 10, LINE - 3)
                    painter.drawText(place, Qt.AlignmentFlag.AlignVCenter, f"and {count} more")

    def _paint_drag(self, painter: QPainter) -> None:
        assert self._drag is not None and self._pressed is not None
        task, by = self._drag
        painter.setPen(QPen(color("petrol"), 1.5, Qt.PenStyle.DashLine))
        wash = faded(color("petrol"), 40)
        painter.setBrush(wash)
        start = self.desk.schedule.dates(task).start // DAY + by
        ghost = self.desk.ghost
        shown = ghost if ghost is not None and ghost.has(task) else self.desk.schedule
        d = shown.dates(task)
        for piece in pieces([span_of(task, d.start, d.finish)], self.weeks()):
            left, right = self.cell(piece.week, piece.begin), self.cell(piece.week, piece.end)
            box = QRectF(left.left() + 3, left.top() + DAY_HEAD, right.right() - left.left() - 6, LINE - 3)
            painter.drawRoundedRect(box, 3, 3)
        words = f"not before {dates.short_day(start * DAY)}"
        painter.setFont(font(8.5, QFont.Weight.Medium))
        width = painter.fontMetrics().horizontalAdvance(words) + 14
        at = self._pressed[0]
        left_ = max(4.0, min(at.x() + 12, self.width() - width - 4))
        paint.paint_tag(painter, QRectF(left_, min(at.y() + 14, self.height() - 24), width, 21), words)

    # Events

    def _on_selection(self) -> None:
        tell_current(self, self.desk)
        self.update()

    def mousePressEvent(self, event: QMouseEvent) -> None:
        at = event.position()
        if event.button() != Qt.MouseButton.LeftButton:
            return
        piece = self.piece_at(at)
        place = self.day_at(at)
        if piece is not None:
            self.desk.select((piece.task,), piece.task)
            if place is not None and self.desk.is_computed and not self.desk.is_read_only:
                self._pressed = (at, piece.task, self.weeks()[place[0]] + place[1])
        elif place is not None:
            self._list_day(place, event.globalPosition().toPoint())

    def _list_day(self, place: tuple[int, int], where) -> None:  # type: ignore[no-untyped-def]
        """What there was no line for."""
        hidden = self.hidden(*place)
        if not hidden:
            return
        menu = QMenu(self)
        for task in hidden[:60]:
            choice = menu.addAction(self.desk.plan.tasks[task].name)
            choice.triggered.connect(lambda _, t=task: self.desk.select((t,), t))
        menu.setAttribute(Qt.WidgetAttribute.WA_DeleteOnClose)
        menu.popup(where)

    def mouseMoveEvent(self, event: QMouseEvent) -> None:
        at = event.position()
        if self._pressed is None:
            piece = self.piece_at(at)
            self.setToolTip(plain_tip(words_of(self.desk, piece.task) if piece else ""))
            self.setCursor(Qt.CursorShape.OpenHandCursor if piece else Qt.CursorShape.ArrowCursor)
            return
        place = self.day_at(at)
        if place is None or (at - self._pressed[0]).manhattanLength() < 5:
            return
        _, task, begun = self._pressed
        by = self.weeks()[place[0]] + place[1] - begun
        self._pressed = (at, task, begun)
        if self._drag != (task, by):
            self._drag = (task, by)
            self.desk.previews.ask(self._edit(task, by))
        self.update()

    def _edit(self, task: str, by: int) -> Edit | None:
        from hexapod.schedule.shifting import moved_to

        start = self.desk.schedule.dates(task).start
        if not by:
            return None
        try:
            edit = moved_to(self.desk.worked_out, task, start + by * DAY)
        except HexapodError as error:
            self.desk.told.emit(str(error), "trouble", False)
            return None
        words = f"“{self.desk.plan.tasks[task].name}” starts not before {dates.short_day(start + by * DAY)}"
        return edit.named(words)

    def mouseReleaseEvent(self, event: QMouseEvent) -> None:
        drag, self._drag, self._pressed = self._drag, None, None
        if drag is not None:
            edit = self._edit(*drag)
            self.desk.previews.ask(None)
            if edit is not None and self.desk.do(edit):
                self.desk.told.emit(f"{edit.words}.", "", True)
        self.update()

    def cancel(self) -> bool:
        was = self._drag is not None
        self._drag = self._pressed = None
        self.desk.previews.ask(None)
        self.update()
        return was

    def wheelEvent(self, event: QWheelEvent) -> None:
        self.turn(-1 if event.angleDelta().y() > 0 else 1)

    def keyPressEvent(self, event: QKeyEvent) -> None:
        """The arrows go from bar to bar; with Shift they move the bar by days. Page up and down turn the month."""
        key = Qt.Key(event.key())
        if key in (Qt.Key.Key_PageUp, Qt.Key.Key_PageDown):
            self.turn(-1 if key == Qt.Key.Key_PageUp else 1)
            return
        side = {Qt.Key.Key_Left: -1, Qt.Key.Key_Right: 1, Qt.Key.Key_Up: -1, Qt.Key.Key_Down: 1}.get(key)
        current = self.desk.current
        if side is None:
            event.ignore()
        elif event.modifiers() & Qt.KeyboardModifier.ShiftModifier and current and self.desk.schedule.has(current):
            weekly = 7 if key in (Qt.Key.Key_Up, Qt.Key.Key_Down) else 1
            edit = self._edit(current, side * weekly)
            if edit is not None and not self.desk.is_read_only and self.desk.do(edit):
                self.desk.told.emit(f"{edit.words}.", "", True)
        else:
            order = list(dict.fromkeys(p.task for p in self.pieces))
            if order:
                at = order.index(current) + side if current in order else 0
                task = order[max(0, min(at, len(order) - 1))]
                self.desk.select((task,), task)
