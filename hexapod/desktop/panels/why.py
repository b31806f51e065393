"""Why these dates: the chain of reasons as a line of steps, each of which can be gone to."""

from __future__ import annotations

from PyQt6.QtCore import QEvent, QPointF, QRectF, QSize, Qt
from PyQt6.QtGui import QFont, QFontMetricsF, QKeyEvent, QMouseEvent, QPainter, QPaintEvent, QPen
from PyQt6.QtWidgets import QSizePolicy, QWidget

from hexapod.desktop import dates
from hexapod.desktop.desk import Desk
from hexapod.desktop.theme.style import color, font
from hexapod.schedule.reasons import Reason, ReasonKind, chain
from hexapod.schedule.words import lag_words, limit_words, link_words
from hexapod.worktime.lengths import format_length

STEP, LEFT = 38, 18
MOST = 40


class WhyChain(QWidget):
    """Painted steps; Up and Down walk them, Enter or a click goes to the task of a step."""

    def __init__(self, desk: Desk, task_id: str) -> None:
        super().__init__()
        self.setObjectName("whyChain")
        self.setAccessibleName("Why these dates")
        self._desk = desk
        self.steps = [_step(desk, task_id, reason) for reason in chain(desk.schedule, task_id)[:MOST]]
        self._at = -1
        self.setAccessibleDescription("; ".join(f"{a} {b}" for a, b, _ in self.steps))
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setMouseTracking(True)
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Fixed)

    def sizeHint(self) -> QSize:
        return QSize(200, len(self.steps) * STEP + 4)

    def paintEvent(self, event: QPaintEvent) -> None:
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.setPen(QPen(color("ink"), 2))
        last = len(self.steps) * STEP
        painter.drawLine(QPointF(6, 10), QPointF(6, max(10, last - STEP + 10)))
        for i, (how, what, target) in enumerate(self.steps):
            top = i * STEP
            if i == self._at:
                painter.setPen(Qt.PenStyle.NoPen)
                painter.setBrush(color("selection"))
                painter.drawRoundedRect(QRectF(LEFT - 5, top, self.width() - LEFT + 5, STEP - 2), 4, 4)
            painter.setPen(Qt.PenStyle.NoPen)
            painter.setBrush(color("ink"))
            painter.drawEllipse(QPointF(6, top + 10), 4, 4)
            self._text(painter, how, top + 1, "muted", font(8.5))
            strong = font(9, QFont.Weight.DemiBold)
            self._text(painter, what, top + 17, "petrol" if target and i == self._at else "ink", strong)
        painter.end()

    def _text(self, painter: QPainter, text: str, top: float, role: str, face: QFont) -> None:
        painter.setFont(face)
        painter.setPen(color(role))
        room = self.width() - LEFT - 2
        shown = QFontMetricsF(face).elidedText(text, Qt.TextElideMode.ElideRight, room)
        painter.drawText(QRectF(LEFT, top, room, 18), Qt.AlignmentFlag.AlignVCenter, shown)

    def mouseMoveEvent(self, event: QMouseEvent) -> None:
        self._point(int(event.position().y() // STEP))

    def leaveEvent(self, event: QEvent) -> None:
        if not self.hasFocus():
            self._point(-1)

    def mousePressEvent(self, event: QMouseEvent) -> None:
        self._point(int(event.position().y() // STEP))
        self._go()

    def keyPressEvent(self, event: QKeyEvent) -> None:
        if event.key() == Qt.Key.Key_Down:
            self._point(min(self._at + 1, len(self.steps) - 1))
        elif event.key() == Qt.Key.Key_Up:
            self._point(max(self._at - 1, 0))
        elif event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter):
            self._go()
        else:
            super().keyPressEvent(event)

    def _point(self, at: int) -> None:
        at = at if 0 <= at < len(self.steps) else -1
        if at != self._at:
            self._at = at
            has_target = at >= 0 and self.steps[at][2] is not None
            self.setCursor(Qt.CursorShape.PointingHandCursor if has_target else Qt.CursorShape.ArrowCursor)
            self.update()

    def _go(self) -> None:
        if self._at >= 0 and (target := self.steps[self._at][2]):
            self._desk.go_to(target)


def _step(desk: Desk, task_id: str, reason: Reason) -> tuple[str, str, str | None]:
    """How, what, and the task to go to: ``Starts Mon 26 Oct: waits for the finish of`` / ``Floor, Fri 23 Oct``."""
    plan, schedule = desk.plan, desk.schedule
    lead = f"Starts {dates.short_day(reason.at)}: it " if reason.task == task_id else "which "
    if reason.kind is ReasonKind.LINK:
        assert reason.link is not None
        link = reason.link
        before = schedule.dates(link.predecessor)
        at_finish = link.type.value in ("FS", "FF")
        when = dates.short_day(before.early_finish if at_finish else before.early_start)
        name = plan.tasks[link.predecessor].name
        as_part = f", with “{plan.tasks[reason.through].name}”" if reason.through else ""
        return f"{lead}{link_words(link)}", f"{name}, {when}{lag_words(link.lag)}{as_part}", link.predecessor
    if reason.kind is ReasonKind.HOLD:
        return f"{lead}is held back by levelling", format_length(reason.hold), reason.task
    if reason.kind is ReasonKind.LIMIT:
        assert reason.limit is not None
        return f"{lead}{limit_words(reason.limit)}", f"{dates.short_day(reason.at)}, as was typed", reason.task
    if reason.kind in (ReasonKind.FIRST_OF, ReasonKind.LAST_OF):
        assert reason.child is not None
        first = reason.kind is ReasonKind.FIRST_OF
        return f"{lead}{'starts with' if first else 'ends with'}", plan.tasks[reason.child].name, reason.child
    project = plan.projects[plan.tasks[reason.task].project]
    if reason.kind is ReasonKind.STATUS_DATE:
        return f"{lead}is not done before", f"Status date, {dates.short_day(project.status_date or reason.at)}", None
    return f"{lead}starts with the project", f"{project.name}, {dates.short_day(project.start)}", None
