"""One link: its type, its lag and whose time counts it, and what it does with the gap before its successor."""

from __future__ import annotations

from collections.abc import Callable

from msgspec.structs import replace
from PyQt6.QtWidgets import QComboBox, QPushButton

from hexapod.desktop.forms import Form
from hexapod.desktop.models.desk import Desk
from hexapod.desktop.parts import label
from hexapod.errors import BadText
from hexapod.fields.link_text import parse_lag_text
from hexapod.plan import edits
from hexapod.plan.records import LinkKey, LinkType
from hexapod.schedule.words import GAP_WORDS, lag_text, link_words


class LinkForm(Form):
    def __init__(self, desk: Desk, leave: Callable[[], None]) -> None:
        super().__init__(desk, "Link", leave)
        self.link: LinkKey | None = None

    def fill(self) -> None:
        plan = self.desk.plan
        link = plan.links.get(self.link) if self.link else None
        if link is None:
            self.box.addWidget(label("The link is gone.", "muted"))
            return
        self.box.addWidget(label("Link", "title"))
        before, after = plan.tasks[link.predecessor], plan.tasks[link.successor]
        self.box.addWidget(label(f"“{after.name}” {link_words(link)} “{before.name}”", wrap=True))
        self._type = QComboBox()
        self._type.setObjectName("linkType")
        for kind in LinkType:
            self._type.addItem(f"{kind.value}: {link_words(replace(link, type=kind))}", kind)
        self._type.setCurrentIndex(self._type.findData(link.type))
        self._lag = self.line(lag_text(link), "linkLag")
        self._gap = QComboBox()
        self._gap.setObjectName("linkGap")
        usual = plan.projects[after.project].gap
        self._gap.addItem(f"Project's: {GAP_WORDS[usual].lower()}", None)
        for gap, words in GAP_WORDS.items():
            self._gap.addItem(words, gap)
        self._gap.setCurrentIndex(max(0, self._gap.findData(link.gap)))
        self.field("Type", self._type)
        hint = "2 d later, 1 d sooner, 50 % later, 24 h elapsed later, 2 d by its own calendar later"
        self.field("Lag", self._lag, hint)
        self.field("When what it waits for moves", self._gap)
        self.buttons("Save")
        remove = QPushButton("Remove the link")
        remove.setObjectName("linkRemove")
        remove.clicked.connect(self._remove)
        self.box.addWidget(remove)

    def save(self) -> None:
        plan = self.desk.plan
        link = plan.links.get(self.link) if self.link else None
        if link is None:
            raise BadText("The link is gone.")
        changed = replace(
            link,
            type=self._type.currentData(),
            gap=self._gap.currentData(),
            **parse_lag_text(plan, link.successor, self._lag.text()),
        )
        self.desk.attempt(edits.change_link(plan, link.key, changed))

    def _remove(self) -> None:
        if self.link in self.desk.plan.links and self.desk.do(edits.unlink(self.desk.plan, [self.link])):
            self.desk.told.emit("The link is removed.", "", True)
        self._leave()
