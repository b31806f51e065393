"""All that can be changed of a link, in a menu where the link is."""

from __future__ import annotations

from msgspec.structs import replace
from PyQt6.QtWidgets import QMenu, QWidget

from hexapod.desktop.models.desk import Desk
from hexapod.plan import edits
from hexapod.plan.records import Link, LinkType
from hexapod.schedule.words import GAP_WORDS, lag_words

LINK_NAMES = {
    LinkType.FS: "finish to start (FS)",
    LinkType.SS: "start to start (SS)",
    LinkType.FF: "finish to finish (FF)",
    LinkType.SF: "start to finish (SF)",
}
GAP_NAMES = {None: "As the project says", **GAP_WORDS}


def words_of_link(desk: Desk, link: Link) -> str:
    plan = desk.plan
    words = f"{plan.tasks[link.predecessor].name} → {plan.tasks[link.successor].name}"
    return f"{words}, {LINK_NAMES[link.type]}{lag_words(link)}"


def _sentence(words: str) -> str:
    return words[0].upper() + words[1:]


class LinkMenu(QMenu):
    def __init__(self, desk: Desk, link: Link, parent: QWidget) -> None:
        super().__init__(parent)
        self.setObjectName("linkMenu")
        self._desk, self._link = desk, link
        plan = desk.plan
        heading = self.addAction(f"{plan.tasks[link.predecessor].name} → {plan.tasks[link.successor].name}")
        heading.setEnabled(False)
        self.addSeparator()
        for type_ in LinkType:
            self._choice(self, _sentence(LINK_NAMES[type_]), type_ is link.type, replace(link, type=type_))
        gaps = self.addMenu("When its predecessor moves")
        for gap, words in GAP_NAMES.items():
            self._choice(gaps, words, gap is link.gap, replace(link, gap=gap))
        self.addSeparator()
        lag = self.addAction(f"Lag and more{lag_words(link)}…")
        lag.setObjectName("changeLink")
        lag.triggered.connect(lambda: desk.link_asked.emit(link.key))
        remove = self.addAction("Remove the link")
        remove.setObjectName("removeLink")
        remove.triggered.connect(self._remove)

    def _choice(self, menu: QMenu, words: str, on: bool, changed: Link) -> None:
        choice = menu.addAction(words)
        choice.setCheckable(True)
        choice.setChecked(on)
        choice.triggered.connect(lambda: self._change(changed))

    def _change(self, changed: Link) -> None:
        if changed != self._link:
            edit = edits.change_link(self._desk.plan, self._link.key, changed)
            if self._desk.do(edit):
                self._desk.told.emit(f"{edit.words}.", "", True)

    def _remove(self) -> None:
        edit = edits.unlink(self._desk.plan, [self._link.key])
        if self._desk.do(edit):
            self._desk.told.emit(f"{edit.words}.", "", True)
