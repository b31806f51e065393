"""At the side of a report: where what is pointed at comes from, its parts, the author's words, sending and keeping."""

from __future__ import annotations

from dataclasses import replace

from PyQt6.QtWidgets import QCheckBox, QHBoxLayout, QPlainTextEdit, QPushButton

from hexapod.desktop import dates
from hexapod.desktop.frame.page import Page
from hexapod.desktop.models.desk import Desk
from hexapod.desktop.models.wording import words
from hexapod.desktop.parts import card, heading, icon_button, label
from hexapod.desktop.telling.sending import SendingPart, send_report
from hexapod.desktop.theme.style import scaled
from hexapod.plan.bounds import LONGEST_TEXT
from hexapod.plan.records import DAY
from hexapod.reports.report import cell_text

TEXT_HIGH = 84


class ReportPage(Page):
    def __init__(self, desk: Desk) -> None:
        super().__init__(desk, "The report")
        self.work = desk.reports
        self._said: str | None = None  # text that was typed and is not taken yet
        self._sending = SendingPart(
            self, "report", "Names, initials or addresses; it goes to the outbox as a PDF.", "JF, board@museum.example",
            lambda to: send_report(self.desk, to),
        )  # fmt: skip
        for signal in (desk.changed, desk.past_changed, self.work.changed, self.work.asked_changed):
            signal.connect(self.refresh)

    def fill(self) -> None:
        self.box.addWidget(label(self.work.wish.heading or self.work.wish.title, "title", wrap=True))
        self._fill_asked()
        self._fill_days()
        self._fill_parts()
        self._fill_words()
        self._sending.fill(self.work.report is not None)
        self._fill_keeping()

    def _fill_asked(self) -> None:
        asked = self.work.asked
        frame, inside = card()
        if asked is None:
            hint = "Press a sentence or a figure, and here stands where it comes from."
            inside.addWidget(label(hint, "small", wrap=True))
        elif asked.sentence is not None:
            inside.addWidget(label("Where this comes from", "value"))
            inside.addWidget(label(asked.sentence.text, "small", wrap=True))
            source = asked.sentence.source or "The plan as it is at the end of these days."
            inside.addWidget(label(source, wrap=True))
        elif asked.part.table is not None:
            table = asked.part.table
            column = table.columns[asked.column]
            inside.addWidget(label("Where this comes from", "value"))
            row = table.rows[asked.row]
            named = cell_text(row[0], table.columns[0].kind, words())
            figure = cell_text(row[asked.column], column.kind, words())
            inside.addWidget(label(f"{named} · {column.title}: {figure or 'nothing'}", "small", wrap=True))
            inside.addWidget(
                label(
                    column.source or ("It names the row." if not asked.column else "As it was entered in the plan."),
                    wrap=True,
                )
            )
        if asked is not None:
            inside.addWidget(label("Enter goes to what it is about.", "small", wrap=True))
        self.box.addWidget(frame)

    # Days

    def _fill_days(self) -> None:
        """From any day to any day."""
        self.box.addWidget(heading("Its days"))
        line, first, last = QHBoxLayout(), *(dates.typed(day * DAY) for day in self.work.span)
        begin = self.input_line(first, "reportFrom", "The first day of the report", "5 oct")
        end = self.input_line(last, "reportUntil", "The last day of the report", "today")
        for field in (begin, end):
            field.returnPressed.connect(lambda: self._span(begin.text(), end.text()))
            line.addWidget(field, 1)
        line.insertWidget(1, label("to", "small"))
        self.box.addLayout(line)
        self.box.addWidget(self.reason("reportReason"))

    def _span(self, first: str, last: str) -> None:
        self.attempt(lambda: self.work.choose_span(dates.read(first) // DAY, dates.read(last) // DAY))

    # Parts

    def _fill_parts(self) -> None:
        from hexapod.reports.catalogue import PARTS

        wish = self.work.wish
        self.box.addWidget(heading("Its parts, in their order"))
        chosen = [p for p in wish.parts if p in PARTS]
        for place, part in enumerate((*chosen, *(p for p in PARTS if p not in chosen))):
            is_chosen = place < len(chosen)
            line = QHBoxLayout()
            box = QCheckBox(PARTS[part].title)
            box.setObjectName(f"reportPart.{part}")
            box.setChecked(is_chosen)
            box.toggled.connect(lambda on, part=part: self._put(part, on))
            line.addWidget(box, 1)
            if is_chosen and len(chosen) > 1:
                up = icon_button("arrow-up", f"Earlier: {PARTS[part].title}")
                up.setObjectName(f"reportPartUp.{part}")
                up.setEnabled(place > 0)
                up.clicked.connect(lambda _, part=part: self._earlier(part))
                line.addWidget(up)
            self.box.addLayout(line)
        outside = QCheckBox("For people outside")
        outside.setObjectName("reportOutside")
        outside.setChecked(wish.outside)
        outside.toggled.connect(lambda on: self.work.want(replace(self.work.wish, outside=on)))
        self.box.addSpacing(4)
        self.box.addWidget(outside)

    def _put(self, part: str, on: bool) -> None:
        parts = [p for p in self.work.wish.parts if p != part]
        self.work.want(replace(self.work.wish, parts=(*parts, part) if on else tuple(parts)))

    def _earlier(self, part: str) -> None:
        parts = list(self.work.wish.parts)
        place = parts.index(part)
        parts[place - 1 : place + 1] = [parts[place], parts[place - 1]]
        self.work.want(replace(self.work.wish, parts=tuple(parts)))

    # Words of the author

    def _fill_words(self) -> None:
        wish = self.work.wish
        self.box.addWidget(heading("Heading"))
        field = self.input_line(wish.heading, "reportHeading", "Heading of the report", wish.title)
        field.editingFinished.connect(lambda: self._head(field.text().strip()))
        self.box.addWidget(field)
        self.box.addWidget(heading("What you have to say"))
        text = QPlainTextEdit(self._said if self._said is not None else wish.text)
        text.setObjectName("reportText")
        text.setAccessibleName("What you have to say in the report")
        text.setPlaceholderText("It stands above the parts.")
        text.setTabChangesFocus(True)
        text.setFixedHeight(scaled(TEXT_HIGH))
        text.textChanged.connect(lambda: self._type(text.toPlainText()))
        self.box.addWidget(text)
        take = QPushButton("Put it in")
        take.setObjectName("reportTake")
        take.clicked.connect(self._take)
        self.box.addWidget(take)

    def _head(self, heading_: str) -> None:
        if heading_ != self.work.wish.heading:
            self.work.want(replace(self.work.wish, heading=heading_))

    def _type(self, text: str) -> None:
        self._said = text[:LONGEST_TEXT]

    def _take(self) -> None:
        if self._said is not None:
            said, self._said = self._said, None
            self.work.want(replace(self.work.wish, text=said))

    # Keeping

    def _fill_keeping(self) -> None:
        kept, is_free = self.work.kept, not self.desk.is_read_only
        self.box.addWidget(heading("Keep it"))
        name = self.input_line("" if kept is None else kept.name, "reportName", "Name of the kept report", "Name")
        self.box.addWidget(name)
        line = QHBoxLayout()
        keep = QPushButton("Keep")
        keep.setObjectName("reportKeep")
        keep.setEnabled(is_free)
        keep.clicked.connect(lambda: name.text().strip() and self._keep(name.text()))
        name.returnPressed.connect(keep.click)
        line.addWidget(keep)
        if kept is not None:
            forget = QPushButton("Forget")
            forget.setObjectName("reportForget")
            forget.setEnabled(is_free)
            forget.clicked.connect(self.work.forget)
            line.addWidget(forget)
        line.addStretch(1)
        self.box.addLayout(line)

    def _keep(self, name: str) -> None:
        self._take()
        self.work.keep(name)
