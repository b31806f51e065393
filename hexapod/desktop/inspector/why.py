"""Why these dates: the chain of reasons as a line of steps, each of which can be gone to."""

from __future__ import annotations

from typing import NamedTuple

from PyQt6.QtCore import QEvent, QPointF, QRectF, QSize, Qt
from PyQt6.QtGui import QFont, QKeyEvent, QMouseEvent, QPainter, QPaintEvent, QPen
from PyQt6.QtWidgets import QSizePolicy, QWidget

from hexapod.desktop import dates
from hexapod.desktop.models.desk import Desk
from hexapod.desktop.theme.style import color, font
from hexapod.desktop.theme.text import draw_text, width_of
from hexapod.desktop.theme.tips import plain_tip
from hexapod.plan.records import LinkType
from hexapod.schedule.reasons import Reason, ReasonKind, chain
from hexapod.schedule.words import lag_words, limit_words

STEP, LEFT = 38, 18
MOST = 40


_HOW = {
    LinkType.FS: "waits for",
    LinkType.SS: "waits for the start of",
    LinkType.FF: "finishes no sooner than",
    LinkType.SF: "finishes after the start of",
}


class Step(NamedTuple):
    """``Starts Mon 26 Oct: waits for`` and ``, 2 d later`` above ``Floor laid`` and ``, to Fri 23 Oct``; the task to go
    to."""

    how: str
    what: str
    when: str
    target: str | None
    lag: str = ""

    @property
    def words(self) -> str:
        return f"{self.how}{self.lag} {self.what}{self.when}"


class WhyChain(QWidget):
    """Painted steps; Up and Down walk them, Enter or a click goes to the task of a step."""

    def __init__(self, desk: Desk, task_id: str) -> None:
        super().__init__()
        self.setObjectName("whyChain")
        self.setAccessibleName("Why these dates")
        self._desk = desk
        self.task_id = task_id
        self.steps = [_step(desk, task_id, reason) for reason in chain(desk.worked_out, task_id, MOST)]
        self._at = -1
        self.setAccessibleDescription("; ".join(s.words for s in self.steps))
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setMouseTracking(True)
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Fixed)

    def sizeHint(self) -> QSize:
        return QSize(200, len(self.steps) * STEP)

    def paintEvent(self, event: QPaintEvent) -> None:
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.setPen(QPen(color("ink"), 2))
        last = len(self.steps) * STEP
        painter.drawLine(QPointF(6, 10), QPointF(6, max(10, last - STEP + 10)))
        first, behind = event.rect().top() // STEP, event.rect().bottom() // STEP + 1
        for i, step in enumerate(self.steps[first:behind], first):
            top = i * STEP
            if i == self._at:
                painter.setPen(Qt.PenStyle.NoPen)
                painter.setBrush(color("selection"))
                painter.drawRoundedRect(QRectF(LEFT - 5, top, self.width() - LEFT + 5, STEP - 2), 4, 4)
            painter.setPen(Qt.PenStyle.NoPen)
            painter.setBrush(color("ink"))
            painter.drawEllipse(QPointF(6, top + 10), 4, 4)
            role = "petrol" if step.target and i == self._at else "ink"
            self._text(painter, step.how, step.lag, top + 1, "muted", font(8.5))
            self._text(painter, step.what, step.when, top + 17, role, font(9, QFont.Weight.DemiBold))
        painter.end()

    def _text(self, painter: QPainter, text: str, ending: str, top: float, role: str, face: QFont) -> None:
        """A line in which the text gives way where there is no room, and the ending does not."""
        painter.setPen(color(role))
        room = self.width() - LEFT - 2
        wide = width_of(face, ending) if ending else 0.0
        begin = LEFT + draw_text(painter, face, text, QRectF(LEFT, top, room - wide, 18))
        draw_text(painter, face, ending, QRectF(begin, top, wide + 1, 18))

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
            self.setToolTip(plain_tip(self.steps[at].words if at >= 0 else ""))
            has_target = at >= 0 and self.steps[at].target is not None
            self.setCursor(Qt.CursorShape.PointingHandCursor if has_target else Qt.CursorShape.ArrowCursor)
            self.update()

    def _go(self) -> None:
        if self._at >= 0 and (target := self.steps[self._at].target):
            self._desk.go_to(target)


def _step(desk: Desk, task_id: str, reason: Reason) -> Step:
    plan, schedule = desk.plan, desk.schedule
    lead = f"Starts {dates.short_day(reason.at)}: " if reason.task == task_id else "which "
    if reason.kind is ReasonKind.LINK:
        assert reason.link is not None
        link = reason.link
        before = schedule.dates(link.predecessor)
        at_finish = link.type.value in ("FS", "FF")
        when = f", {'to' if at_finish else 'from'} "
        when += dates.short_day(before.finish if at_finish else before.start)
        through = f" (with {plan.tasks[reason.through].name})" if reason.through else ""
        how = f"{lead}{_HOW[link.type]}{through}"
        return Step(how, plan.tasks[link.predecessor].name, when, link.predecessor, lag_words(link))
    if reason.kind is ReasonKind.GAP:
        assert reason.link is not None
        holder, gap = plan.tasks[reason.link.predecessor], desk.length(reason.link.gap_kept)
        return Step(f"{lead}keeps {gap} after", holder.name, "", holder.id)
    if reason.kind is ReasonKind.HOLD:
        return Step(f"{lead}held back by levelling", desk.length(reason.hold), "", reason.task)
    if reason.kind is ReasonKind.LIMIT:
        assert reason.limit is not None
        how = f"{lead}{limit_words(reason.limit)}"
        return Step(how, dates.short_day(reason.at), ", as was typed", reason.task)
    if reason.kind is ReasonKind.RESOURCE_CALENDAR:
        assert reason.resource is not None
        return Step(f"{lead}waits until there is time of", plan.resources[reason.resource].name, "", reason.task)
    if reason.kind in (ReasonKind.AS_LATE_AS_POSSIBLE, ReasonKind.PROJECT_FINISH):
        how = "as late as it can be" if reason.kind is ReasonKind.AS_LATE_AS_POSSIBLE else "planned back"
        if reason.link is not None:
            after = reason.link.successor
            when = f", {dates.short_day(schedule.dates(after).start)}"
            return Step(f"{lead}{how}, just in time for", plan.tasks[after].name, when, after)
        return Step(f"{lead}{how}, just in time for", "The finish of the project", "", None)
    if reason.kind in (ReasonKind.FIRST_OF, ReasonKind.LAST_OF):
        assert reason.child is not None
        first = reason.kind is ReasonKind.FIRST_OF
        how = f"{lead}{'starts with' if first else 'ends with'}"
        return Step(how, plan.tasks[reason.child].name, "", reason.child)
    if reason.kind is ReasonKind.ACTUAL:
        begun = "it began then" if reason.task == task_id else "began"
        return Step(f"{lead}{begun},", "as was told", "", reason.task)
    project = plan.projects[plan.tasks[reason.task].project]
    if reason.kind is ReasonKind.STATUS_DATE:
        status = dates.short_day(project.status_date or reason.at)
        return Step(f"{lead}is not done before", "Status date", f", {status}", None)
    return Step(f"{lead}starts with the project", project.name, f", {dates.short_day(project.start)}", None)
