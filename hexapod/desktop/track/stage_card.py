"""A card: its name, who does it, when it is due, how much is done, and what is late or holds it back."""

from __future__ import annotations

from PyQt6.QtCore import QRectF, Qt
from PyQt6.QtGui import QFont, QPainter, QPen

from hexapod.control.mine import unmet
from hexapod.desktop import dates
from hexapod.desktop.chart.coloring import row_color
from hexapod.desktop.models.desk import Desk
from hexapod.desktop.models.progress import late_words, waits_words
from hexapod.desktop.theme.style import color, faded, font
from hexapod.desktop.theme.text import draw_text
from hexapod.schedule.schedule import computed_dates
from hexapod.schedule.states import State

CARD = 66  # pixels high
LINE, DONE = 17, 4  # of a line of text, and of the bar that says how much is done


def trouble_of(desk: Desk, task: str) -> str:
    """In what way a card is late, or what it waits for; nothing where neither is so."""
    if late := late_words(desk, task):
        return late
    known = computed_dates(desk.schedule)
    if known is None or not known.has(task) or known.state_of(task) is not State.WAITING:
        return ""
    return waits_words(desk.plan, unmet(desk.plan, task))


def people_of(desk: Desk, task: str) -> str:
    plan = desk.plan
    found = [plan.resources[r] for r in plan.assigned.get(task, ()) if r in plan.resources]
    return " ".join(r.initials or r.name for r in found)


def due_of(desk: Desk, task: str) -> str:
    found = desk.schedule
    if not found.has(task):
        return ""
    at = int(found.finish[found.slots[task]])
    return f"{'ended' if desk.plan.tasks[task].is_done else 'to'} {dates.last_day(at)}"


def card_words(desk: Desk, task: str) -> str:
    """All that a card says, for a screen reader."""
    percent = f"{desk.percent(task):.0f} % done"
    who = ", ".join(desk.plan.resources[r].name for r in desk.plan.assigned.get(task, ()))
    said = (desk.plan.tasks[task].name, who, due_of(desk, task), percent, trouble_of(desk, task))
    return ", ".join(part for part in said if part)


def paint_card(painter: QPainter, desk: Desk, task: str, box: QRectF, is_chosen: bool, is_at: bool) -> None:
    """``is_at``: the keyboard is there."""
    hue = row_color(desk, task)
    painter.setPen(QPen(color("petrol") if is_chosen or is_at else color("rule"), 2.0 if is_at else 1.0))
    painter.setBrush(color("selection") if is_chosen else color("panel"))
    painter.drawRoundedRect(box.adjusted(0.5, 0.5, -0.5, -0.5), 5, 5)
    inner = box.adjusted(9, 5, -8, 0)
    painter.setPen(color("ink"))
    draw_text(painter, font(9.5, QFont.Weight.DemiBold), desk.plan.tasks[task].name, _line(inner, 0))
    painter.setPen(color("muted"))
    due = due_of(desk, task)
    wide = draw_text(painter, font(8.5), due, _line(inner, 1), right=True)
    who = _line(inner, 1).adjusted(0, 0, -wide - 8, 0)
    draw_text(painter, font(8.5, QFont.Weight.Medium), people_of(desk, task) or "nobody", who)
    if trouble := trouble_of(desk, task):
        painter.setPen(color("brick" if late_words(desk, task) else "muted"))
        draw_text(painter, font(8), trouble, _line(inner, 2))
    _paint_done(
        painter, desk.percent(task), QRectF(box.left() + 9, box.bottom() - DONE - 4, box.width() - 18, DONE), hue
    )


def _paint_done(painter: QPainter, percent: float, box: QRectF, hue) -> None:  # type: ignore[no-untyped-def]
    """As in the bars of the chart: what is done in full colour, the rest pale."""
    painter.setPen(Qt.PenStyle.NoPen)
    painter.setBrush(faded(hue, 60))
    painter.drawRoundedRect(box, 2, 2)
    if percent > 0:
        painter.setBrush(hue)
        painter.drawRoundedRect(
            QRectF(box.left(), box.top(), box.width() * min(percent, 100) / 100, box.height()), 2, 2
        )


def _line(inner: QRectF, number: int) -> QRectF:
    return QRectF(inner.left(), inner.top() + number * LINE, inner.width(), LINE)
