"""What needs somebody, each with its reason and what can be done about it at a press."""

from __future__ import annotations

from collections.abc import Callable

from PyQt6.QtCore import QRect, QRectF, Qt, pyqtSignal
from PyQt6.QtGui import QFont, QMouseEvent, QPainter

from hexapod.control.attention import Need, NeedKind
from hexapod.control.mine import is_milestone, unmet
from hexapod.control.money import OverBudget
from hexapod.desktop import dates
from hexapod.desktop.currency import currency
from hexapod.desktop.frame.chips import Chip, paint_chip, placed
from hexapod.desktop.frame.walked import ROW, Heading, WalkedTable
from hexapod.desktop.models.attention import AttentionWork
from hexapod.desktop.models.desk import Desk
from hexapod.desktop.models.progress import waits_words
from hexapod.desktop.theme.style import color, font, scaled
from hexapod.desktop.theme.text import draw_text, width_of
from hexapod.desktop.track.answer_field import open_answer
from hexapod.fields.answering import has_parts
from hexapod.outlook.words import chance_words
from hexapod.plan import edits
from hexapod.plan.records import DAY
from hexapod.schedule.words import conflict_words
from hexapod.worktime import clock

TITLES = {
    NeedKind.PASSED: "Finishes that passed their target since yesterday",
    NeedKind.BEYOND: "Finishes beyond their target",
    NeedKind.DOUBTFUL: "Targets that are not sure enough",
    NeedKind.BURST: "Budgets that are burst",
    NeedKind.SHORT: "Budgets that will not do, by the forecast",
    NeedKind.MILESTONE: "Overdue milestones",
    NeedKind.ANSWER: "Waiting for somebody to agree",
    NeedKind.OWED: "Done, and not handed over",
    NeedKind.CONFLICT: "Contradictions",
    NeedKind.TO_FINISH: "Late: beyond their target",
    NeedKind.TO_BEGIN: "Late: should have begun",
    NeedKind.BEHIND: "Late: behind",
    NeedKind.OVER: "Over by now, and nobody told",
    NeedKind.REVIEW: "Risks to look at again",
    NeedKind.BLOCKED: "Blocked",
    NeedKind.DUE: "Due soon",
}
DONE, LEFT, BEGAN, SHOW, HOLDS, WHY = "done", "left…", "began…", "show", "what holds it", "why"
HANDED = "handed over"
MADE, HOW_SURE, ENTRY = "what burst it", "how sure", "its entry"
NAME, REASON, CHIPS = 20, 300, 250  # where columns begin; the last is a width at the right
TYPED = 260
UNTOLD = (NeedKind.CONFLICT, NeedKind.BLOCKED, NeedKind.DOUBTFUL, NeedKind.ANSWER, NeedKind.OWED)  # no answer is typed
HINT = "done thu, 3d left, 60%, began fri"


class AttentionTable(WalkedTable):
    """``bar_asked`` asks for the bar of a task, ``why_asked`` why a project finishes when it does."""

    bar_asked = pyqtSignal(str)
    why_asked = pyqtSignal(str)
    range_asked = pyqtSignal()  # how sure what is looked at is
    risk_asked = pyqtSignal()  # the entry of the register that is looked at
    money_asked = pyqtSignal(object)  # OverBudget: what it is made of

    def __init__(self, desk: Desk, work: AttentionWork) -> None:
        super().__init__("attentionTable", "What needs somebody")
        self._desk, self._work = desk, work
        self.needs: list[Need] = []

    def refresh(self) -> None:
        self.needs = self._work.needs()
        rows: list[object] = []
        by_kind: dict[NeedKind, list[Need]] = {}
        for need in self.needs:
            by_kind.setdefault(need.kind, []).append(need)
        for kind, group in by_kind.items():
            rows += [Heading(f"{TITLES[kind]} · {len(group)}"), *group]
        is_computed = self._desk.is_computed
        self.nothing = "Nothing needs anybody just now." if is_computed else "The dates are being computed."
        self.show_rows(rows)

    def key_of(self, row: object) -> object:
        if not isinstance(row, Need):
            return row
        return (row.kind is NeedKind.CONFLICT, row.project, row.task, row.money and (row.money.task, row.money.days),
                row.risk, row.deliverable)  # fmt: skip

    def chosen(self, row: object) -> None:
        if isinstance(row, Need) and row.task is not None and row.task in self._desk.plan.tasks:
            self._desk.select((row.task,), row.task)

    def tell(self) -> None:
        row = self.current
        is_there = isinstance(row, Need) and self._is_there(row)
        words = f"{TITLES[row.kind]}: {self.name(row)}, {self.reason(row)}" if is_there else ""  # type: ignore[union-attr,arg-type]
        self.setAccessibleDescription(words)

    def _is_there(self, need: Need) -> bool:
        plan = self._desk.plan
        is_there = need.project in plan.projects and (need.task is None or need.task in plan.tasks)
        is_there = is_there and (need.risk is None or need.risk in plan.risks)
        return is_there and (need.deliverable is None or need.deliverable in plan.deliverables)

    # What a row says

    def name(self, need: Need) -> str:
        plan = self._desk.plan
        if need.risk is not None:
            return plan.risks[need.risk].name
        if need.deliverable is not None:
            return plan.deliverables[need.deliverable].name
        return plan.projects[need.project].name if need.task is None else plan.tasks[need.task].name

    def reason(self, need: Need) -> str:
        """Why it is on the list, in words."""
        desk, plan = self._desk, self._desk.plan
        by = desk.length(need.by, need.task or "") if need.by else ""
        if need.money is not None:
            return self._money_words(need.money)
        if need.risk is not None:
            owner = plan.resources.get(plan.risks[need.risk].owner or "")
            return f"since {dates.short_day(need.at)}" + (f" · {owner.initials or owner.name}" if owner else "")
        if need.chance is not None:
            return f"{dates.short_day(need.at)} holds {chance_words(need.chance)}"
        if need.task is None:
            return f"finishes {by} beyond {dates.short_day(need.at)}"
        if need.conflict is not None:
            return conflict_words(plan, need.conflict)
        if need.kind is NeedKind.ANSWER:
            return self._answer_words(need)
        who = ", ".join(plan.resources[r].initials or plan.resources[r].name for r in plan.assigned.get(need.task, ()))
        said = {
            NeedKind.MILESTONE: f"should have been reached{f' {by} ago' if by else ''}, now {dates.short_day(need.at)}",
            NeedKind.TO_FINISH: f"{by or 'a little'} beyond its target",
            NeedKind.TO_BEGIN: f"should have begun {by or 'a little'} ago",
            NeedKind.BEHIND: f"{by or 'a little'} behind, to {dates.short_day(need.at)}",
            NeedKind.OVER: f"was to end {dates.short_day(need.at)}",
            NeedKind.OWED: f"“{plan.tasks[need.task].name}” ended {dates.last_day(need.at)}",
            NeedKind.BLOCKED: waits_words(plan, unmet(plan, need.task), lambda p: p.initials or p.name),
            NeedKind.DUE: f"to {dates.last_day(need.at)}",
        }[need.kind]
        return f"{said} · {who}" if who else said

    def _answer_words(self, need: Need) -> str:
        """Whose answer is waited for, or who said no."""
        plan = self._desk.plan
        approval = next((a for a in plan.approvals.values() if a.task == need.task), None)
        if approval is None:
            return ""
        refused = [answer for answer in approval.answers if not answer.yes]
        if refused:
            return f"{refused[-1].name} said no: {refused[-1].word}"
        waits = ", ".join(plan.resources[p].initials or plan.resources[p].name for p in approval.turn)
        return f"asked {dates.short_day(need.at)} · {waits or 'nobody is left to agree'}"

    def _money_words(self, over: OverBudget) -> str:
        """``October 2026: 33,010 spent of 32,000``."""
        say, plan = currency(), self._desk.plan
        whose = [plan.tasks[over.task].name] if over.task in plan.tasks else []
        if over.days is not None:
            whose.append(f"{dates.short_day(over.days[0] * DAY)} to {dates.short_day(over.days[1] * DAY)}")
        verb = "spent of" if over.is_burst else "expected of"
        said = f"{say.short(over.amount)} {verb} {say.short(over.budget)}"
        return f"{', '.join(whose)}: {said}" if whose else said

    def chips(self, need: Need) -> list[Chip]:
        """What can be done about it."""
        if need.risk is not None or need.chance is not None:
            return [Chip(ENTRY if need.risk is not None else HOW_SURE, False, None)]
        if need.task is None:
            return [Chip(WHY if need.money is None else MADE, False, None)]
        task = self._desk.plan.tasks[need.task]
        if need.kind is NeedKind.ANSWER:
            return [Chip(SHOW, False, None)]
        found: list[Chip] = []
        if need.kind is NeedKind.OWED:
            return [*([] if self._desk.is_read_only else [Chip(HANDED, False, None)]), Chip(SHOW, False, None)]
        if need.kind is NeedKind.BLOCKED:
            found.append(Chip(HOLDS, False, None))
        elif need.kind is not NeedKind.CONFLICT and not self._desk.is_read_only:
            if need.kind is NeedKind.TO_BEGIN and not task.is_begun and not is_milestone(task):
                found.append(Chip(BEGAN, False, "began "))
            else:
                found.append(Chip(DONE, False, None))
            if has_parts(task):
                found.append(Chip(LEFT, False, "left "))
        return [*found, Chip(SHOW, False, None)]

    # Doing something about it

    def act(self, need: Need, chip: Chip) -> None:
        if chip.typed is not None:
            self.edit(chip.typed)
        elif need.risk is not None:
            self._desk.look_at_project(need.project)
            self._desk.risks.look_at(need.risk)
            self.risk_asked.emit()
        elif need.chance is not None:
            self._desk.look_at_project(need.project)
            self._desk.chances.look_at(need.task or "")
            self.range_asked.emit()
        elif need.money is not None:
            self.money_asked.emit(need.money)
        elif need.task is None:
            self.why_asked.emit(need.project)
        elif chip.words == DONE:
            self._desk.mine.tick(need.task)
        elif chip.words == HANDED:
            who = self._desk.session.who
            self._desk.do(edits.deliver(self._desk.plan, need.deliverable or "", who, clock.now()))
        elif chip.words == HOLDS:
            held = unmet(self._desk.plan, need.task)
            self.bar_asked.emit(held[0] if held else need.task)
        else:
            self.bar_asked.emit(need.task)

    def edit(self, text: str) -> None:
        need = self.current
        if not isinstance(need, Need) or self._editor is not None or self._desk.is_read_only:
            return
        if need.task is None or need.kind in UNTOLD:
            if not text:
                self.act(need, self.chips(need)[-1])
            return
        open_answer(self, self._desk, need.task, text, HINT)

    def editor_place(self) -> QRect:
        left = self.viewport().width() - scaled(TYPED) - 2
        return QRect(left, self.top_of(self.at) + 2, scaled(TYPED), scaled(ROW) - 4)

    def tick(self) -> None:
        need = self.current
        done = [c for c in self.chips(need) if c.words in (DONE, HANDED)] if isinstance(need, Need) else []
        if done:
            self.act(need, done[0])  # type: ignore[arg-type]

    def keys(self) -> dict[int, Callable[[], object]]:
        return {Qt.Key.Key_Space: self.tick}

    def pressed(self, row: object, event: QMouseEvent) -> None:
        if isinstance(row, Need) and self._is_there(row):
            for chip, box in self._placed(row, self.top_of(self.at)):
                if box.contains(event.position()):
                    self.act(row, chip)
                    return

    def mouseDoubleClickEvent(self, event: QMouseEvent) -> None:
        row = self.row_at(event.position().y())
        need = self.rows[row] if row is not None else None
        is_left = event.position().x() < self.viewport().width() - scaled(CHIPS)
        if isinstance(need, Need) and need.task is not None and is_left:
            self.bar_asked.emit(need.task)

    # Painting

    def _placed(self, need: Need, top: int) -> list[tuple[Chip, QRectF]]:
        width = self.viewport().width()
        return placed(self.chips(need), width - scaled(CHIPS), width - 6, top + 5, scaled(ROW) - 10)

    def paint_row(self, painter: QPainter, row: object, top: int) -> None:
        if not isinstance(row, Need) or not self._is_there(row):
            return
        width, height = self.viewport().width(), scaled(ROW)
        reason = scaled(REASON) + min(max(0, width - scaled(900)), scaled(160))
        painter.setPen(color("ink"))
        face = font(9.5, QFont.Weight.DemiBold if row.task is None else QFont.Weight.Normal)
        draw_text(painter, face, self.name(row), QRectF(scaled(NAME), top, reason - scaled(NAME) - 8, height))
        used = width_of(face, self.name(row)) + 14
        if row.task is not None and reason - scaled(NAME) - used > 80:
            painter.setPen(color("muted"))
            room = reason - scaled(NAME) - used - 8
            project = self._desk.plan.projects[row.project].name
            draw_text(painter, font(8.5), project, QRectF(scaled(NAME) + used, top, room, height))
        is_soon = row.kind in (NeedKind.DUE, NeedKind.BLOCKED)
        painter.setPen(color("muted" if is_soon else "brick"))
        room = width - scaled(CHIPS) - reason - 8
        draw_text(painter, font(8.5), self.reason(row), QRectF(reason, top, room, height))
        for chip, box in self._placed(row, top):
            paint_chip(painter, chip, box)
