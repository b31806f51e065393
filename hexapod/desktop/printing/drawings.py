"""The drawings that go onto paper or into a picture: chart, network and month, each as a whole."""

from __future__ import annotations

from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QFont, QPainter

from hexapod.desktop import dates
from hexapod.desktop.chart import geometry as g
from hexapod.desktop.chart import painter as paint
from hexapod.desktop.chart.chart import Chart
from hexapod.desktop.chart.obstacles import taken
from hexapod.desktop.chart.pictures import Pictures
from hexapod.desktop.chart.routing import Ends, Interval, link_path
from hexapod.desktop.chart.timescale import TimeScale
from hexapod.desktop.chart.workdays import Idleness
from hexapod.desktop.link.back_canvas import BackCanvas
from hexapod.desktop.link.diagram import Diagram
from hexapod.desktop.models.columns import NAME
from hexapod.desktop.models.desk import Desk
from hexapod.desktop.month.view import MonthCanvas
from hexapod.desktop.paper.frame import Title
from hexapod.desktop.paper.paper import SMALLEST_SCALE, Fit, Paper, Tile, tiles
from hexapod.desktop.theme.style import color, font
from hexapod.desktop.theme.text import width_of
from hexapod.errors import BadText
from hexapod.fields.field import PlanField
from hexapod.plan.outline import Row
from hexapod.plan.records import DAY, LinkKey
from hexapod.worktime.clock import today

ROW, AXIS = 22.0, 36.0
MARGIN_DAYS = 4
LONGEST_NAME, NAMES_MEASURED = 340.0, 3000
LEAST_TIME = 120.0  # pixels that the time axis needs beside the columns


class ChartDrawing:
    """The rows on show with some columns and their bars; headings and columns are repeated on every page."""

    name = "chart"

    def __init__(self, desk: Desk, chart: Chart, columns: tuple[str, ...]) -> None:
        self._desk, self._chart = desk, chart
        known = desk.columns.all()
        shown = desk.columns.shown()
        self._columns: list[PlanField] = list(shown[: NAME + 1])
        self._columns += [known[c] for c in columns if c in known and c not in (x.id for x in self._columns)]
        self._pictures = Pictures(desk)
        self._idle = Idleness(desk.plan)
        self._widths = [min(desk.looks.column_widths.get(c.id, c.width), 260) * 0.85 for c in self._columns]
        self._widths[NAME] = self._name_width()
        begin, end = chart.extent()
        self._begin, self._end = begin - MARGIN_DAYS * DAY, end + 3 * MARGIN_DAYS * DAY

    def _name_width(self) -> float:
        """As wide as the names are, within reason."""
        desk, faces = self._desk, (font(8.5), font(8.5, QFont.Weight.DemiBold))
        rows = (desk.rows[i] for i in range(min(len(desk.rows), NAMES_MEASURED)))
        widths = (
            row.level * 10 + width_of(faces[desk.plan.is_summary(row.task)], desk.plan.tasks[row.task].name)
            for row in rows
            if row.task
        )
        return min(LONGEST_NAME, max(widths, default=0) + 14) if len(desk.rows) else LONGEST_NAME / 2

    @property
    def table_width(self) -> float:
        return sum(self._widths)

    def title(self) -> Title:
        desk = self._desk
        return _title(desk, f"{desk.on_show.view.name or 'A view of one’s own'}{_query_of(desk)}")

    # Pages

    def _room(self, paper: Paper) -> tuple[float, float]:
        """The room for bars on one page at full size."""
        body = paper.body()
        wide = body.width() - self.table_width
        if wide < LEAST_TIME:
            raise BadText("The columns leave no room for the bars. Choose fewer columns, or larger paper.")
        return wide, (body.height() - AXIS) // ROW * ROW

    def _scale(self, paper: Paper) -> tuple[float, float]:
        """(pixels a day, how much all is made smaller)."""
        wide, _ = self._room(paper)
        span = (self._end - self._begin) / DAY
        if paper.fit is Fit.PAGES:
            return self._chart.scale.pixels, 1.0
        if paper.fit is Fit.WIDTH:
            return wide / span, 1.0
        rows = max(1, len(self._desk.rows))
        smaller = min(1.0, (paper.body().height() - 2) / (AXIS + rows * ROW))
        if smaller < SMALLEST_SCALE:
            raise BadText(f"{rows:,} rows on one page cannot be read. Let them go over pages, or show fewer.")
        body = paper.body()
        return (body.width() / smaller - self.table_width) / span, smaller

    def pages(self, paper: Paper) -> list[Tile]:
        pixels, _ = self._scale(paper)
        rows = max(1, len(self._desk.rows))
        if paper.fit is Fit.ONE:
            return [Tile(0, 0, QRectF(0, 0, (self._end - self._begin) * pixels / DAY, rows * ROW))]
        wide, high = self._room(paper)
        width = (self._end - self._begin) * pixels / DAY if paper.fit is Fit.PAGES else wide
        return tiles(width, rows * ROW, wide, high)

    def paint(self, painter: QPainter, paper: Paper, tile: Tile) -> None:
        pixels, smaller = self._scale(paper)
        body = paper.body()
        painter.save()
        painter.translate(body.topLeft())
        painter.scale(smaller, smaller)
        scale = TimeScale(self._begin + round(tile.part.left() * DAY / pixels), pixels)
        first = round(tile.part.top() / ROW)
        last = min(len(self._desk.rows), first + round(tile.part.height() / ROW))
        width = tile.part.width() if paper.fit is not Fit.ONE else body.width() / smaller - self.table_width
        self._paint_part(painter, scale, range(first, last), width)
        painter.restore()

    def size(self) -> tuple[float, float]:
        """At the zoom of the screen."""
        pixels = self._chart.scale.pixels
        return self.table_width + (self._end - self._begin) * pixels / DAY, AXIS + ROW * max(1, len(self._desk.rows))

    def paint_whole(self, painter: QPainter) -> None:
        scale = TimeScale(self._begin, self._chart.scale.pixels)
        self._paint_part(painter, scale, range(len(self._desk.rows)), self.size()[0] - self.table_width)

    # Painting

    def _paint_part(self, painter: QPainter, scale: TimeScale, rows: range, width: float) -> None:
        """Some rows over some time: columns at the left, the axis above."""
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        table = self.table_width
        self._paint_headings(painter)
        painter.save()
        painter.translate(table, 0)
        painter.setClipRect(QRectF(0, 0, width, AXIS), Qt.ClipOperation.IntersectClip)
        paint.paint_axis(painter, scale, round(width), round(AXIS))
        painter.restore()
        painter.save()
        painter.translate(table, AXIS)
        box = QRectF(0, 0, width, len(rows) * ROW)
        painter.setClipRect(box, Qt.ClipOperation.IntersectClip)
        self._paint_ground(painter, scale, box)
        self._paint_links(painter, scale, rows)
        for i, index in enumerate(rows):
            self._paint_bars(painter, scale, self._desk.rows[index], i * ROW - (g.BAR_TOP + g.BAR_HEIGHT / 2 - ROW / 2))
        painter.restore()
        for i, index in enumerate(rows):
            self._paint_cells(painter, self._desk.rows[index], AXIS + i * ROW)
        painter.setPen(color("rule"))
        painter.drawRect(QRectF(0, 0, table + width, AXIS + box.height()))
        painter.drawLine(QPointF(table, 0), QPointF(table, AXIS + box.height()))

    def _paint_headings(self, painter: QPainter) -> None:
        painter.fillRect(QRectF(0, 0, self.table_width, AXIS), color("raised"))
        painter.setFont(font(8, QFont.Weight.DemiBold))
        painter.setPen(color("muted"))
        x = 0.0
        for column, width in zip(self._columns, self._widths, strict=True):
            side = Qt.AlignmentFlag.AlignRight if column.is_right else Qt.AlignmentFlag.AlignLeft
            painter.drawText(QRectF(x + 4, 0, width - 8, AXIS), side | Qt.AlignmentFlag.AlignVCenter, column.title)
            x += width

    def _paint_cells(self, painter: QPainter, row: Row, top: float) -> None:
        desk, x = self._desk, 0.0
        painter.setPen(color("rule"))
        painter.drawLine(QPointF(0, top + ROW), QPointF(self.table_width, top + ROW))
        is_summary = bool(row.task) and desk.plan.is_summary(row.task)
        weight = QFont.Weight.DemiBold if is_summary or row.heading else QFont.Weight.Normal
        painter.setFont(font(8.5, weight, strike=bool(row.task) and desk.is_struck(row.task)))
        for i, (column, width) in enumerate(zip(self._columns, self._widths, strict=True)):
            text = desk.columns.says(column, row) if row.task else (row.heading if i == NAME else "")
            indent = row.level * 10 if i == NAME else 0
            painter.setPen(color("petrol" if row.heading else "ink"))
            box = QRectF(x + 4 + indent, top, width - 8 - indent, ROW)
            side = Qt.AlignmentFlag.AlignRight if column.is_right else Qt.AlignmentFlag.AlignLeft
            shown = painter.fontMetrics().elidedText(text, Qt.TextElideMode.ElideRight, int(box.width()))
            painter.drawText(box, side | Qt.AlignmentFlag.AlignVCenter, shown)
            x += width

    def _paint_ground(self, painter: QPainter, scale: TimeScale, box: QRectF) -> None:
        project = self._desk.plan.projects.get(self._desk.project or "")
        if project is not None and scale.pixels >= 2.2:
            for begin, end in self._idle.days(project.calendar, scale.minute(0), scale.minute(box.width())):
                x = scale.x(begin)
                painter.fillRect(QRectF(x, 0, scale.x(end) - x, box.height()), color("shade"))
        painter.setPen(color("rule"))
        for i in range(1, round(box.height() / ROW) + 1):
            painter.drawLine(QPointF(0, i * ROW), QPointF(box.width(), i * ROW))

    def _tasks(self, row: Row) -> list[str]:
        return [t for t in self._chart.tasks_of(row) if self._desk.schedule.has(t)]

    def _paint_bars(self, painter: QPainter, scale: TimeScale, row: Row, top: float) -> None:
        tasks = self._tasks(row)
        if row.tasks or len(tasks) > 1 or (tasks and tasks[0] != row.task):
            tasks.sort(key=lambda t: self._desk.schedule.dates(t).start)
            paint.paint_lane(painter, scale, [self._pictures.of(t) for t in tasks], top)
        elif tasks:
            paint.paint_row(painter, scale, self._pictures.of(tasks[0]), top)

    def _paint_links(self, painter: QPainter, scale: TimeScale, rows: range) -> None:
        """The links between rows of this page, as the view shows them."""
        desk = self._desk
        bars: dict[str, QRectF] = {}
        place: dict[str, int] = {}
        blocked: dict[int, tuple[Interval, ...]] = {}
        for i, index in enumerate(rows):
            top = i * ROW - (g.BAR_TOP + g.BAR_HEIGHT / 2 - ROW / 2)
            for task in self._tasks(desk.rows[index]):
                found = desk.schedule.dates(task)
                make = g.summary_rect if desk.plan.is_summary(task) else g.bar_rect
                bars[task] = make(scale, found, top)
                place[task] = i
            shown = self._tasks(desk.rows[index])
            hollow = [desk.plan.is_summary(t) for t in shown]
            blocked[i] = tuple(taken([self._pictures.label(t) for t in shown], [bars[t] for t in shown], hollow))
        seen: set[LinkKey] = set()
        for task in bars:
            seen.update(k for k in desk.plan.links_at.get(task, ()) if k[0] in bars and k[1] in bars)
        links = [desk.plan.links[k] for k in sorted(seen)]
        if len(links) > 4 * max(8, len(rows)):
            links = [x for x in links if desk.is_driving(x)]
        for link in sorted(links, key=desk.is_driving):
            at = place[link.predecessor], place[link.successor]
            ends = Ends(bars[link.predecessor], bars[link.successor], *at, lambda row: (row + 1) * ROW - 1)
            path = link_path(link.type, ends, lambda row: blocked.get(row, ()))
            paint.paint_link(painter, path, driving=desk.is_driving(link), chosen=False)


class NetworkDrawing:
    """The network as it is laid out."""

    name = "network"
    zoom = 0.78  # at which names and dates can be read

    def __init__(self, desk: Desk, diagram: Diagram) -> None:
        self._desk, self._diagram = desk, diagram

    def title(self) -> Title:
        return _title(self._desk, "Network of tasks")

    def size(self) -> tuple[float, float]:
        box = self._diagram.bounds()
        return (box.width() + 20) * self.zoom, (box.height() + 20) * self.zoom

    def _smaller(self, paper: Paper) -> float:
        wide, high = self.size()
        body = paper.body()
        by = {Fit.ONE: min(1.0, body.width() / wide, body.height() / high), Fit.WIDTH: min(1.0, body.width() / wide)}
        found = by.get(paper.fit, 1.0)
        if found * self.zoom < SMALLEST_SCALE:
            raise BadText("So many boxes cannot be read on one page. Let them go over pages, or draw a chain.")
        return found

    def pages(self, paper: Paper) -> list[Tile]:
        smaller, body = self._smaller(paper), paper.body()
        wide, high = self.size()
        return tiles(wide * smaller, high * smaller, body.width(), body.height())

    def paint(self, painter: QPainter, paper: Paper, tile: Tile) -> None:
        body, smaller = paper.body(), self._smaller(paper)
        painter.save()
        painter.translate(body.topLeft())
        painter.setClipRect(QRectF(0, 0, body.width(), body.height()), Qt.ClipOperation.IntersectClip)
        painter.translate(-tile.part.topLeft())
        self._paint_at(painter, self.zoom * smaller)
        painter.restore()

    def paint_whole(self, painter: QPainter) -> None:
        self._paint_at(painter, self.zoom)

    def _paint_at(self, painter: QPainter, zoom_: float) -> None:
        diagram = self._diagram
        zoom, origin = diagram.zoom, diagram.origin
        try:
            diagram.zoom, diagram.origin = zoom_, diagram.bounds().topLeft() - QPointF(10, 10)
            diagram.paint_all(painter, whole=True)
        finally:
            diagram.zoom, diagram.origin = zoom, origin


class MapDrawing:
    """The map of planning back, as it is on screen."""

    name = "map"

    def __init__(self, desk: Desk, canvas: BackCanvas) -> None:
        self._desk, self._canvas = desk, canvas

    def title(self) -> Title:
        return _title(self._desk, "Planned back from its dates")

    def size(self) -> tuple[float, float]:
        return max(400.0, self._canvas.width()), max(300.0, self._canvas.height())

    def pages(self, paper: Paper) -> list[Tile]:
        body = paper.body()
        return [Tile(0, 0, QRectF(0, 0, body.width(), body.height()))]

    def paint(self, painter: QPainter, paper: Paper, tile: Tile) -> None:
        body, (wide, high) = paper.body(), self.size()
        smaller = min(body.width() / wide, body.height() / high)
        painter.save()
        painter.translate(body.topLeft())
        painter.scale(smaller, smaller)
        painter.setClipRect(QRectF(0, 0, wide, high), Qt.ClipOperation.IntersectClip)
        self._canvas.paint_all(painter)
        painter.restore()

    def paint_whole(self, painter: QPainter) -> None:
        self._canvas.paint_all(painter)


class MonthDrawing:
    """The month on show, on one page."""

    name = "month"

    def __init__(self, desk: Desk, canvas: MonthCanvas) -> None:
        self._desk, self._canvas = desk, canvas

    def title(self) -> Title:
        from PyQt6.QtCore import QLocale

        month = f"{QLocale().standaloneMonthName(self._canvas.month)} {self._canvas.year}"
        return _title(self._desk, month)

    def size(self) -> tuple[float, float]:
        return 1100.0, 780.0

    def pages(self, paper: Paper) -> list[Tile]:
        body = paper.body()
        return [Tile(0, 0, QRectF(0, 0, body.width(), body.height()))]

    def paint(self, painter: QPainter, paper: Paper, tile: Tile) -> None:
        painter.save()
        painter.translate(paper.body().topLeft())
        self._paint_sized(painter, tile.part.width(), tile.part.height())
        painter.restore()

    def paint_whole(self, painter: QPainter) -> None:
        self._paint_sized(painter, *self.size())

    def _paint_sized(self, painter: QPainter, width: float, height: float) -> None:
        copy = self._canvas.of_size(round(width), round(height))
        copy.paint_all(painter)
        copy.deleteLater()


def _query_of(desk: Desk) -> str:
    query = desk.on_show.view.query
    return f": {query}" if query else ""


def _title(desk: Desk, below: str) -> Title:
    project = desk.plan.projects.get(desk.project or "")
    everywhere = desk.on_show.view.everywhere
    name = desk.session.workspace.path.stem if everywhere or project is None else project.name
    finish = desk.schedule.project_finish.get(project.id) if project is not None else None
    right = f"Finish {dates.long_day(finish)}" if finish is not None else ""
    return Title(name, below, (right, f"{desk.session.workspace.path.stem}, {dates.long_day(today())}"))
