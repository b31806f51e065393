"""Errands of one's own, beside the work of projects: typed as fast as a list, ticked, put off, deleted."""

from __future__ import annotations

from collections.abc import Callable

from msgspec.structs import replace
from PyQt6.QtCore import QPointF, QRect, QRectF, Qt
from PyQt6.QtGui import QKeyEvent, QKeySequence, QMouseEvent, QPainter, QPen
from PyQt6.QtWidgets import QApplication, QLineEdit

from hexapod.control.mine import When
from hexapod.desktop import dates
from hexapod.desktop.frame.walked import ROW, Heading, WalkedTable
from hexapod.desktop.models.desk import Desk
from hexapod.desktop.models.mine import MineWork
from hexapod.desktop.theme.style import color, font, scaled
from hexapod.desktop.theme.text import draw_text
from hexapod.errors import HexapodError
from hexapod.fields.errand_text import read_errand, read_errands, typed_errand
from hexapod.plan import edits
from hexapod.plan.records import DAY, Errand
from hexapod.worktime import clock

TICK, NAME, DUE = 10, 32, 84  # where columns begin; the last is a width at the right
TITLES = {
    When.LATE: "Late",
    When.TODAY: "Today",
    When.NOW: "Any time",
    When.WEEK: "This week",
    When.NEXT: "Next week",
    When.LATER: "Later",
    None: "Done",
}


class ErrandLine(QLineEdit):
    """Where errands are typed: Enter adds one and is ready for the next, several lines pasted are as many errands."""

    def __init__(self, desk: Desk, work: MineWork) -> None:
        super().__init__()
        self._desk, self._work = desk, work
        self.setObjectName("errandLine")
        self.setAccessibleName("A new errand")
        self.setPlaceholderText("call the glazier fri")
        self.setMaxLength(2000)
        self.returnPressed.connect(lambda: self._add(self.text()))

    def keyPressEvent(self, event: QKeyEvent) -> None:
        clipboard = QApplication.clipboard()
        text = clipboard.text() if event.matches(QKeySequence.StandardKey.Paste) and clipboard is not None else ""
        if "\n" in text.strip():
            self._add(text)
        else:
            super().keyPressEvent(event)

    def _add(self, text: str) -> None:
        desk = self._desk
        if not text.strip():
            return
        try:
            said = read_errands(text, desk.columns.dates)
            desk.attempt(edits.add_errands(desk.plan, self._work.whose, said))
        except HexapodError as error:
            desk.told.emit(str(error), "trouble", False)
        else:
            self.clear()


class ErrandList(WalkedTable):
    nothing = "No errands."

    def __init__(self, desk: Desk, work: MineWork) -> None:
        super().__init__("errandList", "Errands")
        self._desk, self._work = desk, work

    def refresh(self) -> None:
        found = self._work.errands()
        rows: list[object] = []
        for when, title in TITLES.items():
            group = [errand for each, errand in found if each is when]
            rows += [Heading(title), *group] if group else []
        self.show_rows(rows)

    def key_of(self, row: object) -> object:
        return row.id if isinstance(row, Errand) else row

    def tell(self) -> None:
        row = self.current
        due = "" if not isinstance(row, Errand) or row.due is None else f", by {dates.long_day(row.due * DAY)}"
        self.setAccessibleDescription(f"{row.name}{due}" if isinstance(row, Errand) else "")

    def tick(self) -> None:
        """Done now; once more, and it is not."""
        if isinstance(row := self.current, Errand):
            at = clock.now() if row.done is None else None
            self._desk.do(edits.tick_errand(self._desk.plan, row.id, at))

    def delete(self) -> None:
        if isinstance(row := self.current, Errand):
            edit = edits.remove_errands(self._desk.plan, [row.id])
            if self._desk.do(edit):
                self._desk.told.emit(f"{edit.words}.", "", True)

    def edit(self, text: str) -> None:
        """Type over it; without a text what it says now is there to be changed."""
        row = self.current
        if not isinstance(row, Errand) or self._editor is not None or self._desk.is_read_only:
            return
        texts = self._desk.columns.dates

        def take(said: str) -> None:
            if said.strip():
                name, due = read_errand(said, texts)
                self._desk.attempt(edits.save_errand(self._desk.plan, replace(row, name=name, due=due)))

        def echo(said: str) -> str:
            name, due = read_errand(said, texts)
            return name if due is None else f"{name}, by {texts.long(due * DAY)}"

        begun = text or typed_errand(row.name, row.due, texts)
        self.open_editor(begun, hint="call the glazier fri", accessible=row.name, echo=echo, take=take)

    def editor_place(self) -> QRect:
        return QRect(
            scaled(NAME) - 6, self.top_of(self.at) + 2, self.viewport().width() - scaled(NAME), scaled(ROW) - 4
        )

    def keys(self) -> dict[int, Callable[[], object]]:
        return {
            Qt.Key.Key_Space: self.tick,
            Qt.Key.Key_Delete: self.delete,
            Qt.Key.Key_Backspace: self.delete,
        }

    def pressed(self, row: object, event: QMouseEvent) -> None:
        if event.position().x() < scaled(NAME) - 4 and not self._desk.is_read_only:
            self.tick()

    def mouseDoubleClickEvent(self, event: QMouseEvent) -> None:
        if event.position().x() >= scaled(NAME):
            self.edit("")

    def paint_row(self, painter: QPainter, row: object, top: int) -> None:
        if not isinstance(row, Errand):
            return
        width, height = self.viewport().width(), scaled(ROW)
        is_done, today = row.done is not None, clock.now() // DAY
        is_late = not is_done and row.due is not None and row.due < today
        at = QPointF(scaled(TICK) + 8, top + height / 2)
        painter.setPen(QPen(color("brick" if is_late else "petrol"), 1.4))
        painter.setBrush(color("petrol") if is_done else Qt.BrushStyle.NoBrush)
        painter.drawEllipse(at, 7, 7)
        if is_done:
            painter.setPen(QPen(color("on_petrol"), 1.6))
            painter.drawPolyline([at + QPointF(-3, 0), at + QPointF(-1, 2.5), at + QPointF(3.5, -2.5)])
        painter.setPen(color("muted" if is_done else "ink"))
        room = width - scaled(NAME) - (scaled(DUE) if row.due is not None else 8)
        draw_text(painter, font(9.5), row.name, QRectF(scaled(NAME), top, room, height))
        if row.due is not None:
            painter.setPen(color("brick" if is_late else "muted"))
            box = QRectF(width - scaled(DUE), top, scaled(DUE) - 8, height)
            draw_text(painter, font(8.5), dates.short_day(row.due * DAY), box, right=True)
