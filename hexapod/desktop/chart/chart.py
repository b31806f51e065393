"""The chart beside the outline: the same rows, over time."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from typing import NamedTuple

import numpy as np
from PyQt6.QtCore import QEvent, QPointF, QRectF, Qt, QTimer
from PyQt6.QtGui import (
    QKeyEvent,
    QMouseEvent,
    QPainter,
    QPainterPath,
    QPaintEvent,
    QPen,
    QPixmap,
    QTransform,
)

from hexapod.desktop import dates
from hexapod.desktop.action import Registry
from hexapod.desktop.chart import geometry as g
from hexapod.desktop.chart import painter as paint
from hexapod.desktop.chart.coloring import DRIVES
from hexapod.desktop.chart.drawn_rows import ROLLED_UP, DrawnRows, Key
from hexapod.desktop.chart.gestures import Gestures
from hexapod.desktop.chart.obstacles import taken
from hexapod.desktop.chart.pictures import Pictures, tell_current, words_of
from hexapod.desktop.chart.routing import Ends, link_path
from hexapod.desktop.chart.shades import Shades
from hexapod.desktop.chart.timeline import Timeline
from hexapod.desktop.chart.timescale import TimeScale
from hexapod.desktop.chart.workdays import Idleness
from hexapod.desktop.models.desk import Desk
from hexapod.desktop.theme.allowance import Allowance
from hexapod.desktop.theme.measures import row_height
from hexapod.desktop.theme.style import color, faded, font, palette
from hexapod.desktop.theme.text import width_of
from hexapod.plan.outline import Row
from hexapod.plan.records import Link, LinkKey
from hexapod.query.views import Links
from hexapod.schedule.schedule import TaskDates, computed_dates

THICKET = 4  # links a row from which on only those that matter are shown
PAUSE = 120  # milliseconds without zooming until links are bent anew
MOST_PLACED = 4000  # bars whose places are kept, and links that are known to drive or not
MOST_ROLLED = 60  # parts that a folded summary shows on its row


class KeptLink(NamedTuple):
    """A link as it lies on the sheet at the scale of the anchor, whether it drives, and from where to where it is."""

    link: Link
    path: QPainterPath
    drives: bool
    left: float
    right: float


class Chart(Timeline):
    """Paints what is on screen and nothing else."""

    def __init__(self, desk: Desk, registry: Registry) -> None:
        super().__init__(desk)
        self.setObjectName("chart")
        self.setAccessibleName("Chart of tasks over time")
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self._idle = Idleness(desk.plan)
        self._pictures = Pictures(desk)
        self._shades = Shades()
        self.viewport().setMouseTracking(True)
        self.viewport().setAttribute(Qt.WidgetAttribute.WA_OpaquePaintEvent)
        self.gestures = Gestures(self, registry)
        for signal in (desk.rows_changed, desk.changed, desk.computed):
            signal.connect(self._on_plan)
        self._sheet: QPixmap | None = None
        self._sheet_key: tuple[object, ...] | None = None
        self._is_steady = False  # whether the last frame had the same bars
        self._is_complete = True  # whether it had all of them
        self._allowance = Allowance(self, self.viewport().update)
        self._bars = DrawnRows()  # at this scale
        self._paths: dict[LinkKey, KeptLink] = {}
        self._placed: dict[str, tuple[int, TaskDates, Callable[..., QRectF]]] = {}  # the row of a bar, and its dates
        self._driving: dict[LinkKey, bool] = {}
        self._blocked: dict[int, tuple[tuple[float, float], ...]] = {}  # by row, as seen from the moment 0
        self._anchor = self.scale  # where the sheet was when the first of them was made
        self._zoomed = QTimer(self, singleShot=True, interval=PAUSE)
        self._zoomed.timeout.connect(self._forget_paths)
        desk.rows_changed.connect(self._forget_places)
        desk.chances.changed.connect(self._follow_chances)
        for signal in (desk.changed, desk.computed, desk.looked_at_changed, desk.on_show.view_changed):
            signal.connect(self.forget_drawn)
        for signal in (desk.moved_changed, desk.proposal_changed, desk.looks.changed):
            signal.connect(self._forget_looks)
        desk.ghost_changed.connect(self._follow_ghost)
        repainted = (desk.selection_changed, desk.proposal_changed, desk.moved_changed, desk.load_changed,
                     desk.ghost_changed, desk.looks.changed)  # fmt: skip
        for signal in (*repainted, desk.on_show.view_changed):
            signal.connect(self.viewport().update)
        desk.selection_changed.connect(lambda: tell_current(self, desk))
        self._on_plan()  # stored dates are shown where the project begins

    def forget_drawn(self, *_: object) -> None:
        """The bars and links are others, or elsewhere."""
        self._driving.clear()
        self._forget_places()
        self._forget_looks()

    def _follow_chances(self) -> None:
        """Bars may end elsewhere."""
        if self.desk.looks.shows_band or self.desk.looks.color_by == DRIVES:
            self._forget_looks()
            self.viewport().update()

    def _forget_looks(self) -> None:
        """Bars look otherwise, where they are."""
        self._pictures.forget()
        self.forget_scaled(self.scale)

    def _follow_ghost(self) -> None:
        """While something is dragged, only what it moves is drawn again."""
        on_show = [t for row in self.visible_rows() for t in self.tasks_of(self.desk.rows[row])]
        self._bars.keep_only(self._pictures.follow_ghost(on_show))
        self._sheet = self._sheet_key = None

    def forget_scaled(self, before: TimeScale) -> None:
        """The scale was another one; links keep their form, stretched until zooming pauses."""
        if before.pixels != self.scale.pixels:
            self._zoomed.start()
        self._bars.clear()
        self._is_steady = False
        self._sheet = self._sheet_key = None

    def _forget_paths(self) -> None:
        self._paths.clear()
        self._blocked.clear()
        self._anchor = self.scale
        self.viewport().update()

    def _forget_places(self) -> None:
        """Rows are elsewhere; what each of them shows is not another."""
        self._placed.clear()
        self._forget_paths()
        self._sheet = self._sheet_key = None

    def _on_plan(self, *_: object) -> None:
        if self._idle.calendars is not self.desk.plan.calendars:
            self._idle = Idleness(self.desk.plan)
        if not self._is_fitted and len(self.desk.rows) and self.desk.schedule.has(self.desk.rows.task(0)):
            self._show_start()
        self._set_range()
        self.viewport().update()

    def reveal(self, task_id: str) -> None:
        """Scroll as little as it takes to see a task's row and bar."""
        row = self.desk.position.get(task_id)
        if isinstance(row, int):
            bar, height = self.verticalScrollBar(), self.viewport().height()
            bar.setValue(max(min(bar.value(), row * row_height()), (row + 1) * row_height() - height))
        box = self.bar_of(task_id)
        if box is not None and not (box.left() >= 0 and box.left() < self.viewport().width() - 40):
            self.show_task(task_id)

    def room_behind(self, end: int) -> float:
        """For the label of a milestone at the end of what is fitted in."""
        schedule = computed_dates(self.desk.schedule)
        if schedule is None:
            return 30.0
        ids = schedule.network.slots.tasks
        last = [ids[i] for i in np.flatnonzero(schedule.finish == end)[:MOST_ROLLED].tolist()]
        shown = (t for t in last if self.row_of(t) is not None and not self.desk.plan.is_summary(t))
        return 30.0 + max((width_of(font(8), self._pictures.label(t)) for t in shown), default=0.0)

    # Rows

    def visible_rows(self) -> range:
        scroll, height = self.verticalScrollBar().value(), self.viewport().height()
        return range(max(0, scroll // row_height()), min(len(self.desk.rows), (scroll + height) // row_height() + 1))

    def tasks_of(self, row: Row) -> tuple[str, ...]:
        """The tasks whose bars are on a row: its own, those of a lane, or those below a folded summary."""
        return row.tasks or self.rolled(row.task) or ((row.task,) if row.task else ())

    def rolled(self, task_id: str) -> tuple[str, ...]:
        """What a folded summary shows on its row in the view on show; nothing if it shows itself."""
        desk = self.desk
        if not (desk.on_show.view.rolled_up and task_id and task_id in desk.folded and desk.plan.is_summary(task_id)):
            return ()
        leaves = tuple(t for t in desk.plan.branch(task_id) if not desk.plan.is_summary(t) and desk.schedule.has(t))
        return leaves if len(leaves) <= MOST_ROLLED else ()

    def row_of(self, task_id: str) -> int | None:
        """The row that a task's bar is on."""
        at = self.desk.position.get(task_id)
        if at is None and self.desk.on_show.view.rolled_up and task_id in self.desk.plan.tasks:
            above = [t for t in self.desk.plan.ancestors(task_id) if t in self.desk.position]
            if above and task_id in self.rolled(above[0]):
                at = self.desk.position.get(above[0])
        return at if isinstance(at, int) else None

    def task_at(self, at: QPointF) -> str | None:
        """The task of the row under a point; where a row has several, that of the bar there."""
        index = int((at.y() + self.verticalScrollBar().value()) // row_height())
        if not 0 <= index < len(self.desk.rows):
            return None
        row = self.desk.rows[index]
        several = row.tasks or self.rolled(row.task)
        for task in reversed(several):
            bar = self.bar_of(task)
            if bar is not None and bar.left() - g.END_REACH <= at.x() <= bar.right() + g.END_REACH:
                return task
        return row.task or None

    def bar_of(self, task_id: str) -> QRectF | None:
        """A task's bar in the viewport; None if its row is folded away or it has no dates."""
        found = self._placed.get(task_id)
        if found is None:
            row = self.row_of(task_id)
            if row is None or not self.desk.schedule.has(task_id):
                return None
            rect = g.summary_rect if self.desk.plan.is_summary(task_id) else g.bar_rect
            if len(self._placed) >= MOST_PLACED:
                self._placed.clear()
            found = self._placed[task_id] = (row, self.desk.schedule.dates(task_id), rect)
        row, dates_, rect = found
        return rect(self.scale, dates_, g.bars_top(row, self.verticalScrollBar().value()))

    def words_of(self, task_id: str) -> str:
        """A bar in words."""
        return words_of(self.desk, task_id)

    def links_on_screen(self, allowance: Allowance | None = None) -> list[tuple[Link, QPainterPath, bool]]:
        """Links of the rows on screen with their paths on the sheet, that is, as if nothing was scrolled down, and
        whether they drive; only those that matter where all would be a thicket, and that a frame allows."""
        which = self.desk.on_show.view.links
        if which is Links.NONE or not self.desk.plan.is_whole:
            return []
        rows = self.visible_rows()
        found = list(self._links_of(rows))
        if which is Links.CHOSEN or (which is Links.WHEN_CLEAR and len(found) > THICKET * max(len(rows), 8)):
            chosen, links = self.desk.selected_set(), self.desk.plan.links
            found = [k for k in found if k[0] in chosen or k[1] in chosen or self._drives(links[k])]
        kept = QTransform(self.scale.pixels / self._anchor.pixels, 0, 0, 1, self.scale.x(self._anchor.origin), 0)
        return [x for key in found if (x := self._path_of(key, kept, allowance)) is not None]

    def _path_of(
        self, key: LinkKey, kept: QTransform, allowance: Allowance | None
    ) -> tuple[Link, QPainterPath, bool] | None:
        """A link's path: a kept one is brought by a transformation to where the scale is now."""
        found = self._paths.get(key)
        if found is None:
            if allowance is not None and allowance.is_spent():
                self._is_complete = False
                return None
            before, after = self.bar_of(key[0]), self.bar_of(key[1])
            if before is None or after is None or not self._allows(allowance):
                return None
            link = self.desk.plan.links[key]
            path = kept.inverted()[0].map(self._routed(link, before, after))
            box = path.controlPointRect()
            found = self._paths[key] = KeptLink(link, path, self._drives(link), box.left(), box.right())
        wide, shift = kept.m11(), kept.dx()
        if found.right * wide + shift < 0 or found.left * wide + shift > self.viewport().width():
            return None
        return found.link, found.path if kept.isIdentity() else kept.map(found.path), found.drives

    def _routed(self, link: Link, before: QRectF, after: QRectF) -> QPainterPath:
        """A link's way on the sheet, round what lies on the rows between."""
        rows = self._row_on_sheet(link.predecessor), self._row_on_sheet(link.successor)
        scroll, at = self.verticalScrollBar().value(), self.scale.x(0)
        bars = before.translated(-at, scroll), after.translated(-at, scroll)
        path = link_path(link.type, Ends(*bars, *rows, lambda row: (row + 1) * row_height()), self.blocked)
        return path.translated(at, 0)

    def _row_on_sheet(self, task_id: str) -> int:
        row = self.row_of(task_id)
        assert row is not None
        return row

    def blocked(self, row: int) -> tuple[tuple[float, float], ...]:
        """From where to where bars and letters lie on a row, as seen from the moment 0; what stands for a summary is
        hollow, and passed under."""
        found = self._blocked.get(row)
        if found is None:
            if len(self._blocked) >= MOST_PLACED:
                self._blocked.clear()
            found = self._blocked[row] = tuple(self._taken(self.desk.rows[row]))
        return found

    def _taken(self, row: Row) -> Iterator[tuple[float, float]]:
        """As seen from the moment 0, so that it stays when the chart is moved along."""
        schedule = self.desk.schedule
        tasks = sorted(filter(schedule.has, self.tasks_of(row)), key=lambda t: schedule.dates(t).start)
        hollow = [self.desk.plan.is_summary(t) for t in tasks]
        bars = [(g.summary_rect if is_summary else g.bar_rect)(self.scale, schedule.dates(t), 0)
                for t, is_summary in zip(tasks, hollow, strict=True)]  # fmt: skip
        at = self.scale.x(0)
        for left, right in taken([self._pictures.label(t) for t in tasks], bars, hollow):
            yield left - at, right - at

    def _drives(self, link: Link) -> bool:
        found = self._driving.get(link.key)
        if found is None:
            if len(self._driving) >= MOST_PLACED:
                self._driving.clear()
            found = self._driving[link.key] = self.desk.is_driving(link)
        return found

    def _links_of(self, rows: range) -> Iterator[LinkKey]:
        seen: set[LinkKey] = set()
        plan = self.desk.plan
        for row in rows:
            for task in self.tasks_of(self.desk.rows[row]):
                for key in plan.links_at.get(task, ()):
                    if key not in seen:
                        seen.add(key)
                        yield key

    # Painting

    def paintEvent(self, event: QPaintEvent) -> None:
        painter = QPainter(self.viewport())
        self._paint_sheet(painter)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        self.gestures.paint(painter)
        painter.end()

    def _paint_sheet(self, painter: QPainter) -> None:
        """What lies under the pointer's work: kept as a picture once it was the same in two frames."""
        desk = self.desk
        key = (self.verticalScrollBar().value(), self.gestures.hovered_link, desk.selection, id(desk.load),
               palette().name, self.viewport().size())  # fmt: skip
        if key != self._sheet_key or not self._is_complete:
            self._sheet, self._sheet_key = None, key
            if self.gestures.drag is None:  # else the next frame will be the same
                self._allowance.begin()
                self._paint(painter, self._allowance)
                return
        if self._sheet is None:
            ratio = self.viewport().devicePixelRatioF()
            sheet = QPixmap(self.viewport().size() * ratio)
            sheet.setDevicePixelRatio(ratio)
            inner = QPainter(sheet)
            self._paint(inner, None)
            inner.end()
            self._sheet = sheet
        painter.drawPixmap(0, 0, self._sheet)

    def _paint(self, painter: QPainter, allowance: Allowance | None) -> None:
        """Everything but what the pointer adds; of what was never drawn before only what a frame allows."""
        self._is_complete = True
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        width, height = self.viewport().width(), self.viewport().height()
        painter.fillRect(0, 0, width, height, color("panel"))
        self._paint_ground(painter, width, height)
        scroll = self.verticalScrollBar().value()
        rows = [(self.desk.rows[index], g.bars_top(index, scroll)) for index in self.visible_rows()]
        if self._is_steady:
            for row, _ in rows:
                self._prepare(row, allowance)
        self._paint_links(painter, scroll, allowance)
        for row, top in rows:
            self._paint_row(painter, row, top)
        self._paint_status_date(painter, scroll, height)
        self._is_steady = True
        if allowance is not None and not self._is_complete:
            allowance.lacks()

    def _allows(self, allowance: Allowance | None) -> bool:
        """Whether one more thing may be drawn that never was; if not, this frame is not complete."""
        if allowance is None or allowance.is_left():
            return True
        self._is_complete = False
        return False

    def _paint_links(self, painter: QPainter, scroll: int, allowance: Allowance | None) -> None:
        """Plain links as one drawing, then those that are broken, chosen or drive."""
        desk, hovered, chosen = self.desk, self.gestures.hovered_link, self.desk.selected_set()
        broken = desk.load.broken_links if desk.load is not None else set()
        painter.save()
        painter.translate(0, -scroll)
        plain, heads, special = QPainterPath(), QPainterPath(), []
        for link, path, driving in self.links_on_screen(allowance):
            touches = link.predecessor in chosen or link.successor in chosen
            if driving or touches or link.key == hovered or link.key in broken:
                special.append((driving, link, path))
                continue
            plain.addPath(path)
            heads.addEllipse(path.currentPosition(), 2.3, 2.3)
        painter.setPen(QPen(color("link"), 1.0))
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.drawPath(plain)
        painter.fillPath(heads, color("link"))
        for driving, link, path in sorted(special, key=lambda found: found[0]):
            if link.key in broken and link.key != hovered:
                paint.paint_broken_link(painter, path)
            else:
                is_chosen = link.key == hovered or not driving
                paint.paint_link(painter, path, driving=driving, chosen=is_chosen)
        painter.restore()

    def _prepare(self, row: Row, allowance: Allowance | None) -> None:
        """Keep the bars of a row as they are drawn, for as long as nothing of them is another."""
        key = self._bars_key(row)
        if key not in self._bars and self._allows(allowance):
            view = self.viewport()
            self._bars.draw(key, view.width(), view.devicePixelRatioF(), lambda p: self._paint_bars(p, row, 0.0))

    def _bars_key(self, row: Row) -> Key:
        is_rolled_up = self.desk.on_show.view.rolled_up and row.task in self.desk.folded
        return row.tasks or ((row.task, ROLLED_UP) if is_rolled_up else (row.task,))

    def _paint_row(self, painter: QPainter, row: Row, top: float) -> None:
        """The bars of a row. While the scale or the dates change from frame to frame, keeping them would cost more
        than it saves."""
        if self._is_steady:
            self._bars.paint(painter, self._bars_key(row), top)
        else:
            self._paint_bars(painter, row, top)

    def _paint_bars(self, painter: QPainter, row: Row, top: float) -> None:
        tasks = [t for t in self.tasks_of(row) if self.desk.schedule.has(t)]
        if row.tasks or len(tasks) > 1 or (tasks and tasks[0] != row.task):
            tasks.sort(key=lambda t: self.desk.schedule.dates(t).start)
            paint.paint_lane(painter, self.scale, [self._pictures.of(t) for t in tasks], top)
        elif tasks:
            span = (0.0, float(self.viewport().width()))
            paint.paint_row(painter, self.scale, self._pictures.of(tasks[0]), top, span)

    def _paint_ground(self, painter: QPainter, width: int, height: int) -> None:
        desk = self.desk
        project = desk.plan.projects.get(desk.project or "")
        usual = project.calendar if project is not None else "standard"
        self._shades.paint(painter, self.scale, self._idle, usual, QRectF(0, 0, width, height))
        chosen = set(desk.selection)
        scroll = self.verticalScrollBar().value()
        for index in self.visible_rows():
            top, row = g.row_top(index, scroll), desk.rows[index]
            band = QRectF(0, top, width, row_height())
            task = desk.plan.tasks.get(row.task)
            own = (task.calendar or desk.plan.projects[task.project].calendar) if task is not None else usual
            if own != usual:
                painter.fillRect(band, color("panel"))
                self._shades.paint(painter, self.scale, self._idle, own, band)
            if row.heading:
                painter.fillRect(band, color("raised"))
            if row.task in chosen:
                tint = faded(color("selection"), 190)
                painter.fillRect(band, tint)
            painter.fillRect(QRectF(0, top + row_height() - 1, width, 1), color("rule"))  # a tenth of a line's time

    def _paint_status_date(self, painter: QPainter, scroll: int, height: int) -> None:
        project = self.desk.plan.projects.get(self.desk.project or "")
        if project is not None and project.status_date is not None:
            status = project.status_date
            at = self._anchor.x(status) - self._anchor.x(0)
            tops = (g.bars_top(row, scroll) + g.BAR_TOP for row in self.visible_rows()
                    if any(left - 1 < at < right + 1 for left, right in self.blocked(row)))  # fmt: skip
            taken = [(top - 1, top + g.BAR_HEIGHT + 1) for top in tops]
            paint.paint_status_line(painter, self.scale.x(status), height, f"status {dates.short_day(status)}", taken)

    def done_part(self, task_id: str) -> g.DonePart:
        """How much of a bar is done, and of its work."""
        return self._pictures.done_part(task_id)

    # Events

    def keyPressEvent(self, event: QKeyEvent) -> None:
        if not self.gestures.key(event):
            event.ignore()

    def event(self, event: QEvent) -> bool:
        if event.type() in (QEvent.Type.FocusIn, QEvent.Type.FocusOut):
            self.viewport().update()
        return super().event(event)

    def mousePressEvent(self, event: QMouseEvent) -> None:
        self.gestures.press(event)

    def mouseMoveEvent(self, event: QMouseEvent) -> None:
        self.gestures.move(event)

    def mouseReleaseEvent(self, event: QMouseEvent) -> None:
        self.gestures.release(event)

    def contextMenuEvent(self, event) -> None:  # type: ignore[no-untyped-def]
        self.gestures.open_menu(QPointF(event.pos()), event.globalPos())

    def scrollContentsBy(self, dx: int, dy: int) -> None:
        self.viewport().update()
