"""At the side: ranges for many rows at once, by how sure somebody is, and which streams move together."""

from __future__ import annotations

import re

import msgspec
from PyQt6.QtWidgets import QComboBox, QGridLayout, QPushButton

from hexapod.desktop.frame.page import Page
from hexapod.desktop.models.desk import Desk
from hexapod.desktop.parts import heading, label, narrow
from hexapod.errors import BadText
from hexapod.plan import edits
from hexapod.plan.outline import stream_of
from hexapod.system.words import count_of


class Sureness(msgspec.Struct, frozen=True):
    """A word for how sure somebody is: so many per cent less at best, and more at worst."""

    word: str
    less: int
    more: int


USUAL = [Sureness("Sure", 5, 10), Sureness("Fairly sure", 10, 25), Sureness("Not very sure", 20, 50),
         Sureness("A guess", 35, 100)]  # fmt: skip
KEPT_AS = "sureness"
TOGETHER = ((0.0, "each by itself"), (0.3, "a little together"), (0.5, "half together"), (0.8, "much together"))
WHY_TOGETHER = "Late once, late again: without this a range comes out too narrow."
SELECTED, PROJECT = "", "-"
SPAN = re.compile(r"[-−–]?\s*(\d{1,2})\s*%?\s*[ /,+]\s*\+?\s*(\d{1,3})\s*%?")


def read_span(text: str) -> tuple[int, int]:
    """``−20 % +50 %``: so many per cent less, and more. ``BadText`` for anything else."""
    match = SPAN.fullmatch(text.strip())
    if match is None:
        raise BadText(f"“{text.strip()[:40]}” is no span. Type what is less and what is more: −20 % +50 %.")
    return int(match[1]), int(match[2])


class EstimatesPage(Page):
    def __init__(self, desk: Desk) -> None:
        super().__init__(desk, "Estimates")
        self.work = desk.chances
        self._of = SELECTED
        desk.changed.connect(self.refresh)
        desk.selection_changed.connect(self.refresh)
        desk.looked_at_changed.connect(self.refresh)

    @property
    def words(self) -> list[Sureness]:
        """The words of this workspace."""
        return self.desk.session.workspace.remembered(KEPT_AS, list[Sureness], USUAL) or USUAL

    def fill(self) -> None:
        self.box.addWidget(label("Estimates", "title"))
        self.box.addWidget(label("A range around the lengths that are planned, by how sure you are. A single row takes "
                                 "one where its length stands: 3-8 d.", "small", wrap=True))  # fmt: skip
        self.box.addWidget(self.reason("estimatesReason"))
        rows = narrow(QComboBox())
        rows.setObjectName("estimatesOf")
        rows.setAccessibleName("Which rows")
        for data, words in self._choices():
            rows.addItem(words, data)
        rows.setCurrentIndex(max(0, rows.findData(self._of)))
        rows.activated.connect(lambda i: self._choose(rows.itemData(i)))
        self.box.addWidget(heading("Which rows"))
        self.box.addWidget(rows)
        self._fill_words()
        self._fill_together()

    def _fill_words(self) -> None:
        self.box.addWidget(heading("How sure"))
        grid = QGridLayout()
        grid.setHorizontalSpacing(6)
        for i, each in enumerate(self.words):
            give = QPushButton(each.word)
            give.setObjectName(f"sureness.{i}")
            give.setEnabled(not self.desk.is_read_only)
            give.setToolTip("Give these rows this range")
            give.clicked.connect(lambda _, each=each: self.give(each))
            span = self.input_line(f"−{each.less} % +{each.more} %", f"span.{i}", f"Span of {each.word}")
            span.editingFinished.connect(lambda i=i, line=span: self._keep(i, line.text()))
            grid.addWidget(give, i, 0)
            grid.addWidget(span, i, 1)
        self.box.addLayout(grid)

    def _fill_together(self) -> None:
        """Of each stream with an estimate whether its tasks are late together."""
        plan, project = self.desk.plan, self.work.project
        if project is None:
            return
        mine = [t for t in plan.tasks.values() if t.project == project and t.estimate]
        streams = sorted({stream_of(plan, t.id) for t in mine} - {""}, key=str.casefold)
        if not streams:
            return
        self.box.addWidget(heading("Moves together"))
        self.box.addWidget(label(WHY_TOGETHER, "small", wrap=True))
        known = dict(plan.projects[project].moves_together)
        for stream in streams:
            box = narrow(QComboBox())
            box.setObjectName(f"together.{stream}")
            box.setAccessibleName(f"How far the tasks of {stream} move together")
            box.setEnabled(not self.desk.is_read_only)
            mine_now = known.get(stream, 0.0)
            for value, words in TOGETHER:
                box.addItem(f"{stream}: {words}", value)
            if mine_now not in dict(TOGETHER):
                box.addItem(f"{stream}: by {mine_now:g}", mine_now)
            box.setCurrentIndex(box.findData(mine_now))
            box.activated.connect(lambda i, b=box, s=stream: self._set_together(s, b.itemData(i)))
            self.box.addWidget(box)

    def _choices(self) -> list[tuple[str, str]]:
        plan, project = self.desk.plan, self.work.project
        found = [(SELECTED, count_of(len(self.desk.selected()), "selected row"))]
        if project is not None:
            found.append((PROJECT, "All of the project"))
            mine = [t for t in plan.tasks.values() if t.project == project and not plan.is_summary(t.id)]
            streams = sorted({stream_of(plan, t.id) for t in mine} - {""}, key=str.casefold)
            found += [(stream, f"Stream {stream}") for stream in streams]
        return found

    def _choose(self, of: str) -> None:
        self._of = of

    def rows(self) -> list[str]:
        """The leaves that are meant and can have a range."""
        plan, project = self.desk.plan, self.work.project
        if self._of == SELECTED:
            chosen = dict.fromkeys(t for row in self.desk.selected() if row in plan.tasks for t in plan.branch(row))
        else:
            mine = [t.id for t in plan.tasks.values() if t.project == project]
            chosen = dict.fromkeys(t for t in mine if self._of == PROJECT or stream_of(plan, t) == self._of)
        return [t for t in chosen if edits.can_be_estimated(plan, t)]

    def give(self, sureness: Sureness) -> None:
        """The range of a word, to the rows that are meant."""
        rows = self.rows()
        words = f"Estimate {count_of(len(rows), 'row')}: {sureness.word.lower()}"
        self.work.spread_out(rows, sureness.less, sureness.more, words)

    def _keep(self, i: int, text: str) -> None:
        """Another span for a word, in this workspace."""
        known = self.words

        def run() -> None:
            less, more = read_span(text)
            if (less, more) != (known[i].less, known[i].more):
                known[i] = Sureness(known[i].word, less, more)
                self.desk.session.workspace.set_state(KEPT_AS, known)

        self.attempt(run)

    def _set_together(self, stream: str, value: float) -> None:
        plan, project = self.desk.plan, self.work.project
        if project is not None:
            known = {**dict(plan.projects[project].moves_together), stream: value}
            self.desk.do(edits.set_moves_together(plan, project, known))
