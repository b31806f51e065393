"""Requests as a list, by how far they are."""

from __future__ import annotations

from collections.abc import Callable, Sequence

from PyQt6.QtCore import QRectF, Qt
from PyQt6.QtGui import QFont, QPainter

from hexapod.desktop import dates
from hexapod.desktop.frame.walked import ROW, Heading, WalkedTable
from hexapod.desktop.models.requests import RequestsWork
from hexapod.desktop.theme.style import color, font, scaled
from hexapod.desktop.theme.text import draw_text
from hexapod.plan.approvals import Approval, ApprovalState
from hexapod.plan.records import DAY
from hexapod.plan.requests import Request, RequestState
from hexapod.worktime.lengths import USUAL, format_days

TITLES = {
    RequestState.NEW: "New",
    RequestState.LOOKED_AT: "Being looked at",
    RequestState.ACCEPTED: "Accepted",
    RequestState.DECLINED: "Declined",
}
COLUMNS = (("who", 190), ("wanted by", 96), ("size", 66), ("asked", 96))
NAME, LEAST = 14, 240


class RequestsTable(WalkedTable):
    top_margin = 28
    nothing = "Nobody has asked for a project. “A request…” takes one down; the folder at the side takes in files."

    def __init__(self, work: RequestsWork) -> None:
        super().__init__("requestsTable", "Requests")
        self._work = work

    def show_requests(self, found: Sequence[Request], approvals: Sequence[Approval]) -> None:
        """Requests by how far they are, then what somebody still has to agree to."""
        rows: list[object] = []
        for state, title in TITLES.items():
            group = [request for request in found if request.state is state]
            rows += [Heading(f"{title} · {len(group)}"), *group] if group else []
        rows += [Heading(f"To be agreed to · {len(approvals)}"), *approvals] if approvals else []
        self.show_rows(rows)

    def look_at(self, chosen: str) -> None:
        """To the row of what is looked at; where that is not here, the row that the keyboard is at is looked at."""
        current = self.current
        if isinstance(current, Request | Approval) and current.id == chosen:
            return
        for i, row in enumerate(self.rows):
            if isinstance(row, Request | Approval) and row.id == chosen:
                self.go(i)
                return
        if current is not None:
            self.chosen(current)

    def key_of(self, row: object) -> object:
        return row.id if isinstance(row, Request | Approval) else row

    def chosen(self, row: object) -> None:
        if isinstance(row, Request | Approval):
            self._work.look_at(row.id)

    def edit(self, text: str) -> None:
        """To the answer at the side."""
        if isinstance(self.current, Request | Approval) and not text:
            self._work.asked.emit()

    def keys(self) -> dict[int, Callable[[], object]]:
        return {Qt.Key.Key_Delete: self._work.remove, Qt.Key.Key_Backspace: self._work.remove}

    def tell(self) -> None:
        if isinstance(row := self.current, Request):
            self.setAccessibleDescription(f"{TITLES[row.state]}: {row.name}, {', '.join(self.texts(row))}")
        elif isinstance(row, Approval):
            self.setAccessibleDescription(f"To be agreed to: {self._work.name_of(row)}, {', '.join(self.texts(row))}")

    def texts(self, row: Request | Approval) -> list[str]:
        """The words of each column."""
        if isinstance(row, Approval):
            return [self._work.waits_for(row), "", "", dates.short_day(row.asked)]
        wanted = "" if row.wanted_by is None else dates.short_day(row.wanted_by * DAY)
        size = format_days(row.size, USUAL) if row.size else ""
        return [row.who, wanted, size, dates.short_day(row.asked)]

    def paint_row(self, painter: QPainter, row: object, top: int) -> None:
        assert isinstance(row, Request | Approval)
        left, high = self._left(), scaled(ROW)
        is_new = isinstance(row, Request) and row.state is RequestState.NEW
        weight = QFont.Weight.DemiBold if is_new else QFont.Weight.Normal
        is_back = isinstance(row, Approval) and row.state is ApprovalState.SENT_BACK
        painter.setPen(color("brick" if is_back else "ink"))
        name = self._work.name_of(row)
        draw_text(painter, font(9.5, weight), name, QRectF(scaled(NAME), top, left - scaled(NAME + 8), high))
        painter.setPen(color("muted"))
        for text, (_, width) in zip(self.texts(row), COLUMNS, strict=True):
            draw_text(painter, font(9), text, QRectF(left, top, scaled(width) - 8, high))
            left += scaled(width)

    def paint_names(self, painter: QPainter) -> None:
        left, high = self._left(), scaled(self.top_margin)
        draw_text(painter, font(8.5), "request", QRectF(scaled(NAME), 0, 200, high))
        for name, width in COLUMNS:
            draw_text(painter, font(8.5), name, QRectF(left, 0, scaled(width) - 8, high))
            left += scaled(width)

    def _left(self) -> int:
        """Where the columns behind the name begin."""
        return max(scaled(LEAST), self.viewport().width() - sum(scaled(width) for _, width in COLUMNS) - 10)
