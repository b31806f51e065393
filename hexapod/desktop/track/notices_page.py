"""At the side: notices that were sent, whether they are made, and what each person wants to be told of, and when."""

from __future__ import annotations

from collections.abc import Callable

from PyQt6.QtCore import QUrl
from PyQt6.QtGui import QDesktopServices
from PyQt6.QtWidgets import QCheckBox, QComboBox, QHBoxLayout, QPushButton, QSpinBox

from hexapod.control.notices import TITLES, wish_of
from hexapod.desktop.frame.page import Page
from hexapod.desktop.models.desk import Desk
from hexapod.desktop.parts import LineButton, card, heading, label, narrow
from hexapod.plan.notice_kinds import NoticeKind, NoticeWhen
from hexapod.plan.records import Resource
from hexapod.services.mail import Letter

MOST_SHOWN = 30  # mails
WHENS = {NoticeWhen.AT_ONCE: "At once", NoticeWhen.DAILY: "Once a day", NoticeWhen.NEVER: "Not at all"}
WHAT = (
    "People are told by mail of what concerns them, none of it twice. This version has no mail server: mails are laid "
    "into an outbox folder, a file each, for another program to send."
)


class NoticesPage(Page):
    def __init__(self, desk: Desk) -> None:
        super().__init__(desk, "Notices")
        self._person: str | None = None
        self._open: str | None = None  # the file of the mail that is read
        self._is_choosing = False
        desk.notices.changed.connect(self.refresh)
        desk.changed.connect(self.refresh)

    def fill(self) -> None:
        work = self.desk.notices
        self.box.addWidget(label("Notices", "title"))
        self.box.addWidget(label(WHAT, "small", wrap=True))
        wanted = QCheckBox("Make them while it is open")
        wanted.setObjectName("noticesWanted")
        wanted.setChecked(work.wanted)
        wanted.setEnabled(not self.desk.is_read_only)
        wanted.clicked.connect(work.want)
        self.box.addSpacing(4)
        self.box.addWidget(wanted)
        line = QHBoxLayout()
        make = self._button("Make them now", "noticesMake", lambda: work.make(asked=True))
        make.setEnabled(not self.desk.is_read_only)
        line.addWidget(make)
        line.addWidget(self._button("Show the folder", "noticesFolder", self._show_folder))
        self.box.addLayout(line)
        if work.last is not None and work.last.unreached:
            names = ", ".join(work.last.unreached[:6])
            more = f" and {len(work.last.unreached) - 6} more" if len(work.last.unreached) > 6 else ""
            self.box.addWidget(label(f"No address is known of {names}{more}.", "trouble", wrap=True))
        self._fill_wishes()
        self._fill_letters()

    def _button(self, words: str, name: str, run: Callable[[], object]) -> QPushButton:
        button = QPushButton(words)
        button.setObjectName(name)
        button.clicked.connect(lambda: run())
        return button

    def _show_folder(self) -> None:
        QDesktopServices.openUrl(QUrl.fromLocalFile(str(self.desk.notices.outbox.folder)))

    # What somebody wants

    def _fill_wishes(self) -> None:
        desk = self.desk
        turn = LineButton("What each person wants to be told" + (", hide" if self._is_choosing else "…"))
        turn.setObjectName("noticesChoose")
        turn.clicked.connect(self._turn)
        self.box.addSpacing(6)
        self.box.addWidget(turn)
        people = desk.mine.people()
        if not self._is_choosing or not people:
            return
        if self._person not in people:
            self._person = desk.mine.me or people[0]
        whom = narrow(QComboBox())
        whom.setObjectName("noticesWhom")
        whom.setAccessibleName("Whose choice")
        for person in people:
            whom.addItem(desk.plan.resources[person].name, person)
        whom.setCurrentIndex(whom.findData(self._person))
        whom.activated.connect(lambda i: self._choose_person(whom.itemData(i)))
        self.box.addWidget(whom)
        person_of = desk.plan.resources[self._person]
        for kind in NoticeKind:
            self._fill_wish(person_of, kind)
        days = QSpinBox()
        days.setObjectName("noticesDays")
        days.setAccessibleName("Due soon is within so many days")
        days.setRange(0, 60)
        days.setPrefix("due soon: within ")
        days.setSuffix(" d")
        days.setValue(person_of.due_days)
        days.setEnabled(not desk.is_read_only)
        days.editingFinished.connect(
            lambda: days.value() != person_of.due_days and desk.notices.choose_days(person_of, days.value())
        )
        self.box.addWidget(days)

    def _fill_wish(self, person: Resource, kind: NoticeKind) -> None:
        line = QHBoxLayout()
        caption, box = label(TITLES[kind].partition(":")[0], "small", wrap=True), QComboBox()
        box.setObjectName(f"notices.{kind.value}")
        box.setAccessibleName(TITLES[kind])
        for when, words in WHENS.items():
            box.addItem(words, when)
        box.setCurrentIndex(box.findData(wish_of(person, kind)))
        box.setEnabled(not self.desk.is_read_only)
        box.activated.connect(lambda i: self.desk.notices.choose(person, kind, box.itemData(i)))
        caption.setBuddy(box)
        line.addWidget(caption, 1)
        line.addWidget(box)
        self.box.addLayout(line)

    def _turn(self) -> None:
        self._is_choosing = not self._is_choosing
        self.refresh_now()

    def _choose_person(self, person: str) -> None:
        self._person = person
        self.refresh_now()

    # What was sent

    def _fill_letters(self) -> None:
        letters = self.desk.notices.letters()
        self.box.addWidget(heading(f"Outbox · {len(letters)}"))
        if not letters:
            self.box.addWidget(label("Empty.", "small"))
        for letter in letters[:MOST_SHOWN]:
            self._fill_letter(letter)
        if len(letters) > MOST_SHOWN:
            self.box.addWidget(label(f"and {len(letters) - MOST_SHOWN} more", "small"))

    def _fill_letter(self, letter: Letter) -> None:
        button = LineButton(letter.subject)
        button.setObjectName(f"letter.{letter.file}")
        button.clicked.connect(lambda: self._read(letter.file))
        self.box.addWidget(button)
        self.box.addWidget(label(letter.to.partition(" <")[0].strip('"'), "small", wrap=True))
        if letter.file == self._open:
            frame, box = card()
            box.addWidget(label(letter.text.strip(), "small", wrap=True))
            self.box.addWidget(frame)

    def _read(self, file: str) -> None:
        self._open = None if self._open == file else file
        self.refresh_now()
