"""Everybody against time: a row each, grouped by role, a cell a period with what is asked against what there is."""

from __future__ import annotations

from collections.abc import Hashable
from enum import StrEnum
from typing import TYPE_CHECKING

from PyQt6.QtCore import QPointF, QRectF, Qt, QTimer, pyqtSignal
from PyQt6.QtGui import QFont, QKeyEvent, QMouseEvent, QPainter, QPaintEvent, QPen

from hexapod.desktop.models.counting import Counting
from hexapod.desktop.models.desk import Desk
from hexapod.desktop.staff.cells import Cells, Sizes
from hexapod.desktop.staff.periods import Step, edges_of, long_name, short_name
from hexapod.desktop.staff.stamps import Stamp, stamp
from hexapod.desktop.strip.periods import hours
from hexapod.desktop.theme.pictures import Pictures
from hexapod.desktop.theme.style import color, faded, font
from hexapod.desktop.theme.text import draw_text, width_of
from hexapod.plan.records import DAY
from hexapod.staffing.away import away
from hexapod.staffing.grouping import Grouping

if TYPE_CHECKING:
    from hexapod.staffing.load_table import LoadRow, LoadTable

NAMES, CAPACITY, CELL, ROW, HEAD = 226, 74, 62, 34, 30
GAP = 2.0
SAME = 0.05  # hours
AFTER = 10  # milliseconds from new figures to what is behind them: the figures are painted first
HATCH = Stamp(fill="brick", hatched=True)
TINTS = tuple(Stamp(fill="petrol", opacity=8 + 10 * level) for level in range(9))  # the more, the fuller
METER = 3.0  # pixels: the height of the line at a cell's foot that says how full it is; it keeps clear of the letters
MOST_PICTURES = 200  # of rows
MARK = 8.0  # pixels: the corner of a cell that the selected task fills


class Show(StrEnum):
    """What the cells say."""

    HOURS = "hours"
    PERCENT = "percent"
    TASKS = "tasks"
    ROOM = "room"
    RESERVED = "reserved"


class LoadGrid(Cells):
    """``opened`` when a cell is to be gone into, ``edited`` with a resource."""

    opened = pyqtSignal()
    edited = pyqtSignal(str)

    def __init__(self, desk: Desk) -> None:
        super().__init__(desk, Sizes(NAMES + CAPACITY, CELL, ROW, HEAD, GAP), "Load against capacity")
        self.setObjectName("loadGrid")
        remembered = desk.memory.recall
        self.step = remembered("load_step", Step, Step.WEEK)
        self.mode = remembered("load_show", Show, Show.HOURS)
        self.grouping = remembered("load_groups", Grouping, Grouping.ROLE)
        self.all_projects = remembered("load_all", bool, True)
        self.some: frozenset[str] = frozenset()  # projects that were chosen, in place of all or this one
        self.folded: set[str] = set(remembered("load_folded", list[str], []))
        self.table: LoadTable | None = None
        self.after: LoadTable | None = None  # as the proposal that is looked at would make it
        self.filled: dict[str, frozenset[int]] = {}  # by resource the periods in which it is with the selected task
        self._pictures = Pictures(MOST_PICTURES)
        self._told_anew = QTimer(self, singleShot=True, interval=AFTER)
        self._told_anew.timeout.connect(self.picked)
        desk.selection_changed.connect(self._mark)
        self._counting = Counting(self, desk)

    # What is shown

    def set_step(self, step: Step) -> None:
        at = self.begin_of_period
        self.step = step
        self._keep("load_step", step.value)
        self.refresh()
        self._go_to_moment(at)

    def set_mode(self, mode: Show) -> None:
        self.mode = mode
        self._keep("load_show", mode.value)
        self.viewport().update()

    def set_grouping(self, grouping: Grouping) -> None:
        self.grouping = grouping
        self._keep("load_groups", grouping.value)
        self.refresh()

    def set_all_projects(self, all_projects: bool) -> None:
        self.all_projects, self.some = all_projects, frozenset()
        self._keep("load_all", all_projects)
        self.refresh()

    def set_some(self, projects: frozenset[str]) -> None:
        """The work of chosen projects only; of none is that of all."""
        self.some = projects
        self.refresh()

    @property
    def projects(self) -> frozenset[str] | None:
        """Whose work is counted; None for everybody's."""
        if self.some:
            return self.some
        return None if self.all_projects else frozenset({self._desk.project or ""})

    def fold(self, title: str) -> None:
        """Hide a group's members, or show them again."""
        self.folded ^= {title}
        self._keep("load_folded", sorted(self.folded))
        self.refresh()

    def _keep(self, name: str, value: object) -> None:
        self._desk.memory.keep(name, value)

    @property
    def current(self) -> LoadRow | None:
        rows = self.table.rows if self.table is not None else ()
        return rows[self.row] if self.row < len(rows) else None

    @property
    def begin_of_period(self) -> int:
        if self.table is None or self.period >= len(self.table.edges) - 1:
            return 0
        return int(self.table.edges[self.period])

    @property
    def span(self) -> tuple[int, int]:
        """The period that is looked at."""
        assert self.table is not None
        return int(self.table.edges[self.period]), int(self.table.edges[self.period + 1])

    def refresh(self) -> None:
        """Count the load; of a large plan beside the interface. The last table stays on screen until then."""
        desk = self._desk
        load = desk.load
        if load is None or not desk.plan.resources:
            self.table = None if not desk.plan.resources else self.table
            self.viewport().update()
            return
        if load.schedule is not desk.schedule:
            return  # it is being counted; who does so tells when it is there
        from hexapod.staffing.demand import Demand
        from hexapod.staffing.load_table import load_table
        from hexapod.staffing.reserved import span_of

        schedule, plan, proposal = desk.schedule, desk.plan, desk.proposal
        begin, end = span_of(schedule, plan)
        if proposal is not None:
            end = max(end, proposal.finish_after or 0)
        edges = edges_of(self.step, begin, end)
        chosen, folded, by, last = self.projects, frozenset(self.folded), self.grouping, self.table

        def work() -> tuple[LoadTable, LoadTable | None]:
            now = load_table(schedule, plan, load.demand, load.overloads, edges, chosen, folded, by, last)
            if proposal is None:
                return now, None
            left = proposal.overloads_after
            planned = proposal.schedule.plan  # with the parts that it makes of tasks
            demand = Demand.of(proposal.schedule, planned, load.demand)
            return now, load_table(proposal.schedule, planned, demand, left, edges, chosen, folded, by, now)

        self._counting.count(work, lambda found: self._take(*found))

    def _take(self, table: LoadTable, after: LoadTable | None) -> None:
        is_first = self.table is None
        self.table, self.after = table, after
        self.row = min(self.row, max(0, len(table.rows) - 1))
        self.period = min(self.period, len(table.edges) - 2)
        if is_first:
            self._go_to_trouble()
        self.set_ranges()
        self._tell()
        self._mark()
        self._told_anew.start()

    def _mark(self) -> None:
        """The cells that the selected task fills."""
        desk, load, self.filled = self._desk, self._desk.load, {}
        if self.table is not None and load is not None and self.isVisible() and desk.schedule.has(desk.current or ""):
            from hexapod.staffing.load import cells_of

            self.filled = cells_of(load.schedule, load.demand, desk.current or "", self.table.edges)
        self.viewport().update()

    def show_task(self, task_id: str) -> None:
        """Look at the first cell that a task fills."""
        if self.table is None:
            return
        self._mark()
        for index, row in enumerate(self.table.rows):
            if row.resource in self.filled:
                self.look_at(index, min(self.filled[row.resource]))
                return
        name = self._desk.plan.tasks[task_id].name
        self._desk.told.emit(f"Nobody is on “{name}”, or their row is folded away.", "", False)

    def _go_to_trouble(self) -> None:
        """Begin at the first cell that is over, else at today."""
        assert self.table is not None
        over = [
            (p, r)
            for r, row in enumerate(self.table.rows)
            if row.resource
            for p in range(len(row.load))
            if row.is_over(p)
        ]
        if over:
            self.period, self.row = min(over)
        self.reveal()

    def _go_to_moment(self, at: int) -> None:
        if self.table is None:
            return
        begins = self.table.edges[:-1]
        self.period = max(0, int(begins.searchsorted(at, side="right")) - 1)
        self.reveal()
        self._tell()
        self.picked.emit()

    # Painting

    def paintEvent(self, event: QPaintEvent) -> None:
        painter = QPainter(self.viewport())
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.fillRect(self.viewport().rect(), color("panel"))
        if self.table is None:
            painter.setPen(color("muted"))
            said = (
                "Counting the load…"
                if self._desk.plan.resources
                else ("Nobody is here yet. Add people and equipment, each with what there is of it, then assign them.")
            )
            painter.drawText(self.viewport().rect(), Qt.AlignmentFlag.AlignCenter | Qt.TextFlag.TextWordWrap, said)
            return
        rows, periods = self.on_screen()
        self._paint_head(painter, periods)
        for row in rows:
            self._paint_row(painter, row, periods)
        painter.end()

    def _paint_head(self, painter: QPainter, periods: range) -> None:
        assert self.table is not None
        painter.setPen(color("muted"))
        face = font(8.5, QFont.Weight.DemiBold)
        draw_text(painter, face, "Role and resource", QRectF(14, 0, NAMES - 14, HEAD))
        draw_text(painter, face, "Capacity", QRectF(NAMES, 0, CAPACITY - 10, HEAD), right=True)
        for period in periods:
            text = short_name(self.step, int(self.table.edges[period]))
            x = NAMES + CAPACITY + (period - periods.start) * CELL
            wide = width_of(face, text)
            draw_text(painter, face, text, QRectF(x + max(0.0, (CELL - wide) / 2), 0, CELL, HEAD))
        painter.setPen(color("rule"))
        painter.drawLine(0, HEAD - 1, self.viewport().width(), HEAD - 1)

    def _paint_row(self, painter: QPainter, index: int, periods: range) -> None:
        assert self.table is not None
        row = self.table.rows[index]
        box = QRectF(0, self.top_of(index), self.viewport().width(), ROW)

        def draw(inner: QPainter) -> None:
            inner.translate(-box.topLeft())
            self._draw_row(inner, row, box, [(p, self.cell_rect(index, p)) for p in periods])

        self._pictures.stamp(painter, box, self._shown(row, periods), draw)
        for period in periods:
            if row.resource is not None and period in self.filled.get(row.resource, ()):
                corner = self.cell_rect(index, period).topLeft()
                painter.setPen(Qt.PenStyle.NoPen)
                painter.setBrush(color("ink"))
                painter.drawPolygon(corner, corner + QPointF(MARK, 0), corner + QPointF(0, MARK))
        if index == self.row and self.period in periods:
            painter.setPen(QPen(color("ink"), 2.0 if self.hasFocus() else 1.2))
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.drawRoundedRect(self.cell_rect(index, self.period).adjusted(-1, -1, 1, 1), 4, 4)

    def _shown(self, row: LoadRow, periods: range) -> Hashable:
        """All that a row's picture depends on: while this is the same, so is the picture."""
        assert self.table is not None
        part = slice(periods.start, periods.stop)
        figures = [row.load, row.capacity, row.excess, row.tasks, row.reserved]
        if self.after is not None:
            figures.append(self.after.rows[self._row_at(row)].load)
        resource = self._desk.plan.resources.get(row.resource or "")
        return (
            *(row.title, row.resource, row.is_seat, row.title in self.folded, self.mode, self._capacity_text(row)),
            *(figure[part].tobytes() for figure in figures),
            self.table.edges[periods.start : periods.stop + 1].tobytes(),
            resource.leave if resource is not None else (),
        )

    def _draw_row(self, painter: QPainter, row: LoadRow, box: QRectF, cells: list[tuple[int, QRectF]]) -> None:
        painter.fillRect(box, color("panel" if row.resource is not None else "raised"))
        if row.resource is None:
            self._paint_mark(painter, QPointF(10, box.center().y()), row.title in self.folded)
        painter.fillRect(QRectF(0, box.bottom() - 1, box.width(), 1), color("rule"))
        face = font(9, QFont.Weight.DemiBold if row.resource is None else QFont.Weight.Normal, italic=row.is_seat)
        indent = 20 if row.resource is None else 34
        painter.setPen(color("ink"))
        draw_text(painter, face, row.title, QRectF(indent, box.top(), NAMES - indent - 6, ROW))
        painter.setPen(color("muted"))
        there = QRectF(NAMES, box.top(), CAPACITY - 10, ROW)
        draw_text(painter, font(8.5), self._capacity_text(row), there, right=True)
        for period, cell in cells:
            self._paint_cell(painter, row, period, cell)

    def _paint_mark(self, painter: QPainter, at: QPointF, is_folded: bool) -> None:
        painter.setPen(Qt.PenStyle.NoPen)
        painter.setBrush(color("muted"))
        points = [(-3, -4), (4, 0), (-3, 4)] if is_folded else [(-4, -3), (4, -3), (0, 4)]
        painter.drawPolygon(*(QPointF(at.x() + x, at.y() + y) for x, y in points))

    def _capacity_text(self, row: LoadRow) -> str:
        """What there is in the period that is looked at."""
        if row.is_seat:
            return "nobody yet"
        return hours(round(float(row.capacity[self.period]), 1)) if self.period < len(row.capacity) else ""

    def _paint_cell(self, painter: QPainter, row: LoadRow, period: int, box: QRectF) -> None:
        load, capacity = float(row.load[period]), float(row.capacity[period])
        is_over = row.is_over(period)
        ground = "shade" if capacity <= 0 and not row.is_seat else "panel"
        if load > 0 or not row.is_seat:
            stamp(painter, box, Stamp("brick", 1.2, ground) if is_over else Stamp("rule", 0.8, ground))
        if row.is_seat and load > 0:
            painter.setPen(QPen(color("petrol"), 1.0, Qt.PenStyle.DashLine))
            painter.setBrush(faded(color("petrol"), 40))
            painter.drawRoundedRect(box, 3, 3)
        elif self.mode is Show.RESERVED and (row.reserved[period] > 0 or load > 0):
            self._paint_reserved(painter, row, period, box)
        elif load > 0 and not is_over:
            share = min(1.0, load / capacity if capacity > 0 else 1.0)
            stamp(painter, box, TINTS[round(share * (len(TINTS) - 1))])
            foot = QRectF(box.left() + 1, box.bottom() - METER - 1, (box.width() - 2) * share, METER)
            painter.fillRect(foot, faded(color("petrol"), 170))
        if is_over and self.mode is not Show.RESERVED:
            stamp(painter, box.adjusted(1, 1, -1, -1), HATCH)
        text = self.cell_text(row, period)
        if text:
            face = font(8.5, QFont.Weight.DemiBold if is_over else QFont.Weight.Normal)
            wide = width_of(face, text)
            label = QRectF(box.center().x() - wide / 2, box.top(), wide + 2, box.height())
            if is_over or self.mode is Show.RESERVED:
                painter.fillRect(label.adjusted(-3, 7, 1, -7), color("panel"))
            painter.setPen(color("brick" if is_over else "ink" if load else "faint"))
            draw_text(painter, face, text, label)

    def _paint_reserved(self, painter: QPainter, row: LoadRow, period: int, box: QRectF) -> None:
        """What is promised as an outline up to its share of the capacity, what is assigned of it filled; more than is
        promised is amber."""
        load, promised = float(row.load[period]), float(row.reserved[period])
        most = max(float(row.capacity[period]), load, promised)
        high = box.height() * load / most
        painter.setPen(Qt.PenStyle.NoPen)
        painter.setBrush(faded(color("amber" if load > promised + SAME and promised else "petrol"), 95))
        painter.drawRoundedRect(QRectF(box.left(), box.bottom() - high, box.width(), high), 3, 3)
        if promised:
            y = box.bottom() - box.height() * promised / most
            painter.setPen(QPen(color("ink"), 1.4))
            painter.drawLine(
                QPointF(box.left(), max(y, box.top() + 0.7)), QPointF(box.right(), max(y, box.top() + 0.7))
            )

    def cell_text(self, row: LoadRow, period: int) -> str:
        """What a cell says."""
        load, capacity = float(row.load[period]), float(row.capacity[period])
        if self.mode is Show.TASKS:
            return str(int(row.tasks[period])) if row.tasks[period] else ""
        after = self._load_after(row, period)
        if self.mode is Show.ROOM and not row.is_seat:
            if after is not None:
                return f"{_signed(capacity - load)}→{_signed(capacity - after)}"
            return f"{_signed(capacity - load)} h" if capacity > 0 or load else ""
        if self.mode is Show.RESERVED:
            promised = float(row.reserved[period])
            return f"{_short(load)} of {_short(promised)}" if load or promised else ""
        if after is not None and self.mode is Show.HOURS:
            return f"{_plain(load)}→{_plain(after)}"
        if not load:
            return "free" if capacity > 0 else "away" if self._is_away(row, period) else ""
        if self.mode is Show.PERCENT:
            return f"{100 * load / capacity:.0f} %" if capacity > 0 else hours(round(load, 1))
        nets_out = row.excess[period] > 0 and load <= capacity + 1e-9
        return f"+{hours(float(row.excess[period]))}" if nets_out else hours(round(load, 1))

    def _is_away(self, row: LoadRow, period: int) -> bool:
        """Whether it is somebody's leave that leaves nothing of a period."""
        assert self.table is not None
        resource = self._desk.plan.resources.get(row.resource or "")
        first, last = (int(self.table.edges[period + i]) // DAY - i for i in (0, 1))
        return resource is not None and bool(resource.leave) and bool(away(resource, first, last))

    def _row_at(self, row: LoadRow) -> int:
        assert self.table is not None
        return next(i for i, r in enumerate(self.table.rows) if r is row)

    def _load_after(self, row: LoadRow, period: int) -> float | None:
        """What a cell would be by the proposal, where that is something else."""
        if self.after is None or self.table is None:
            return None
        found = float(self.after.rows[self._row_at(row)].load[period])
        return found if abs(found - float(row.load[period])) > SAME else None

    # Hands

    def _tell(self) -> None:
        """What a screen reader says of the cell that is looked at."""
        row = self.current
        if row is None or self.table is None:
            self.setAccessibleDescription("")
            return
        load, capacity = (
            hours(round(float(row.load[self.period]), 1)),
            hours(round(float(row.capacity[self.period]), 1)),
        )
        over = f", {hours(float(row.excess[self.period]))} too much" if row.is_over(self.period) else ""
        when = long_name(self.step, self.begin_of_period)
        self.setAccessibleDescription(f"{row.title}, {when}: {load} of {capacity}{over}")

    def keyPressEvent(self, event: QKeyEvent) -> None:
        key, row = Qt.Key(event.key()), self.current
        if key in (Qt.Key.Key_Return, Qt.Key.Key_Enter) and row is not None:
            self.opened.emit()
        elif key == Qt.Key.Key_Space and row is not None and row.resource is None:
            self.fold(row.title)
        elif key == Qt.Key.Key_E and row is not None and row.resource is not None:
            self.edited.emit(row.resource)
        else:
            super().keyPressEvent(event)

    def mousePressEvent(self, event: QMouseEvent) -> None:
        found = self.place_at(event.position())
        if found is None or self.table is None:
            return
        row, period = found
        if period < 0 and self.table.rows[row].resource is None and event.position().x() < 20:
            self.fold(self.table.rows[row].title)
            return
        self.look_at(row, self.period if period < 0 else period)

    def mouseDoubleClickEvent(self, event: QMouseEvent) -> None:
        found = self.place_at(event.position())
        if found is not None and self.table is not None:
            resource = self.table.rows[found[0]].resource
            if found[1] < 0 and resource is not None:
                self.edited.emit(resource)
            elif found[1] >= 0:
                self.opened.emit()


def _signed(amount: float) -> str:
    """Hours to spare with a plus, short with a minus."""
    return ("+" if amount > SAME else "−" if amount < -SAME else "") + _plain(abs(amount))


def _short(amount: float) -> str:
    """Whole hours where there are many."""
    return _plain(round(amount)) if amount >= 10 else _plain(amount)


def _plain(amount: float) -> str:
    """Hours without their unit, where two stand in a cell."""
    return f"{amount:.1f}".rstrip("0").rstrip(".")
