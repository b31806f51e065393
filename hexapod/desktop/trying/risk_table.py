"""The register as a list: what may happen, how likely, what it adds, who looks after it, and what it is worth."""

from __future__ import annotations

from PyQt6.QtCore import QRectF
from PyQt6.QtGui import QFont, QMouseEvent, QPainter

from hexapod.desktop import dates
from hexapod.desktop.currency import currency
from hexapod.desktop.frame.walked import ROW, Heading, WalkedTable
from hexapod.desktop.models.desk import Desk
from hexapod.desktop.models.risks import RisksWork, Worth
from hexapod.desktop.theme.style import color, font, scaled
from hexapod.desktop.theme.text import draw_text
from hexapod.fields.risk_text import chance_text
from hexapod.outlook.words import share_words
from hexapod.plan.records import DAY
from hexapod.plan.risks import AnswerKind, Risk, RiskKind, RiskState, effect, mean_of
from hexapod.worktime import clock
from hexapod.worktime.lengths import format_days

NAME, LEAST_NAME = 34, 270
GIVE_WAY = (5, 2, 4)  # columns, in the order in which they do in a narrow window
COLUMNS = (
    ("chance", 56),
    ("adds", 60),
    ("costs", 84),
    ("owner", 52),
    ("look again", 112),
    ("answer", 104),
    ("worth", 76),
)
KINDS = {RiskKind.RISK: "Risks", RiskKind.ISSUE: "Issues: they happened", RiskKind.ACTION: "Actions",
         RiskKind.DECISION: "Decisions"}  # fmt: skip
ANSWERS = {AnswerKind.AVOID: "avoid", AnswerKind.PASS_ON: "pass on", AnswerKind.LESSEN: "lessen",
           AnswerKind.ACCEPT: "accept"}  # fmt: skip
OVER = "Over and done with"


class RiskTable(WalkedTable):
    top_margin = 28
    nothing = "Nothing is in the register. Add what may happen, at the side."

    def __init__(self, desk: Desk, work: RisksWork) -> None:
        super().__init__("riskTable", "The register")
        self._desk, self._work = desk, work
        self.numbers: dict[str, int] = {}  # as in the matrix

    def refresh(self) -> None:
        rows: list[object] = []
        for risk in self._work.rows():
            above = OVER if risk.state is RiskState.CLOSED else KINDS[risk.kind]
            if not any(isinstance(row, Heading) and row.words == above for row in rows):
                rows.append(Heading(above))
            rows.append(risk)
        risks = [r for r in rows if isinstance(r, Risk)]
        self.numbers = {r.id: i + 1 for i, r in enumerate(risks)}
        self.show_rows(rows)

    def key_of(self, row: object) -> object:
        return row.id if isinstance(row, Risk) else row

    def chosen(self, row: object) -> None:
        if isinstance(row, Risk):
            self._work.look_at(row.id)

    def edit(self, text: str) -> None:
        """Its form, at the side."""
        row = self.current
        if isinstance(row, Risk) and not text:
            self._work.look_at(row.id)
            self._work.form_asked.emit()

    def mouseDoubleClickEvent(self, event: QMouseEvent) -> None:
        self.edit("")

    def tell(self) -> None:
        row = self.current
        if isinstance(row, Risk):
            said = zip((name for name, _ in COLUMNS), self.texts(row), strict=True)
            self.setAccessibleDescription(f"{row.name}: " + ", ".join(f"{n} {t[0]}" for n, t in said if t[0]))

    def texts(self, risk: Risk) -> list[tuple[str, str]]:
        """The words of each column, with their tones."""
        plan, money = self._desk.plan, currency()
        is_risk = risk.kind is RiskKind.RISK
        added = round(effect(risk, after=False))
        cost = round(mean_of(risk.cost_of(after=False)))
        owner = plan.resources[risk.owner].initials if risk.owner in plan.resources else ""
        due = "" if risk.due is None else dates.short_day(risk.due * DAY)
        is_late = risk.due is not None and risk.due < clock.now() // DAY and risk.state is not RiskState.CLOSED
        answer = "" if risk.answer is None else ANSWERS[risk.answer] + (", taken" if risk.answered else "")
        return [
            (chance_text(risk.chance_of(after=False)) if is_risk else "", "ink"),
            (format_days(added, self._desk.units()) if added else "", "ink"),
            (money.short(cost) if cost else "", "ink"),
            (owner, "ink"),
            (f"△ {due}" if is_late else due, "brick" if is_late else "muted"),
            (answer, "petrol" if risk.answered else "muted"),
            self._worth(risk),
        ]

    def _worth(self, risk: Risk) -> tuple[str, str]:
        if risk.kind is not RiskKind.RISK or risk.state is not RiskState.OPEN:
            return "", "muted"
        known = self._work.worth()
        if known is None:
            return "…", "muted"
        worth: Worth | None = known.get(risk.id)
        if worth is None or not worth.added:
            return "–", "muted"
        return f"{'+' if worth.added > 0 else ''}{format_days(worth.added, self._desk.units())}", "brick"

    def _shown(self) -> list[int]:
        """The columns that there is room for: a name is worth more than what is done and what it costs."""
        shown = list(range(len(COLUMNS)))
        for i in GIVE_WAY:
            if self.viewport().width() - scaled(sum(COLUMNS[k][1] for k in shown)) < scaled(LEAST_NAME):
                shown.remove(i)
        return shown

    def _places(self) -> dict[int, float]:
        """Where each of the columns on show begins."""
        left = float(self.viewport().width())
        found = {}
        for i in reversed(self._shown()):
            left -= scaled(COLUMNS[i][1])
            found[i] = left
        return found

    def paint_names(self, painter: QPainter) -> None:
        shown = share_words(self._desk.chances.share)
        for i, left in self._places().items():
            words, wide = COLUMNS[i]
            said = f"to {shown}" if words == "worth" else words
            draw_text(painter, font(9), said, QRectF(left, 4, scaled(wide) - 8, 20), right=i not in (3, 5))

    def paint_row(self, painter: QPainter, row: object, top: int) -> None:
        if not isinstance(row, Risk):
            return
        height = scaled(ROW)
        is_over = row.state is RiskState.CLOSED
        painter.setPen(color("muted"))
        draw_text(painter, font(8.5), str(self.numbers[row.id]), QRectF(4, top, scaled(NAME) - 10, height), right=True)
        painter.setPen(color("muted" if is_over else "ink"))
        face = font(9.5, QFont.Weight.Normal if is_over else QFont.Weight.DemiBold)
        places, texts = self._places(), self.texts(row)
        room = min(places.values()) - scaled(NAME) - 8
        draw_text(painter, face, row.name, QRectF(scaled(NAME), top, room, height))
        for i, left in places.items():
            words, tone = texts[i]
            painter.setPen(color(tone))
            face = font(9.5, QFont.Weight.DemiBold if i == 6 else QFont.Weight.Normal)
            box = QRectF(left, top, scaled(COLUMNS[i][1]) - 8, height)
            draw_text(painter, face, words, box, right=i not in (3, 5))
