"""Sending a report or the page: a mail with the file in it, into the outbox."""

from __future__ import annotations

from collections.abc import Callable
from datetime import datetime

from PyQt6.QtWidgets import QPushButton

from hexapod.desktop.frame.page import Page
from hexapod.desktop.models.desk import Desk
from hexapod.desktop.models.wording import words
from hexapod.desktop.paper.report_pages import pdf_of
from hexapod.desktop.parts import heading, label
from hexapod.errors import HexapodError
from hexapod.formats.mails import Attached, mail_with, recipients
from hexapod.services.mail import Outbox, outbox_folder


class SendingPart:
    """The line of a page at the side by which something is sent. What was typed stays while the page is filled anew."""

    def __init__(self, page: Page, what: str, hint: str, example: str, send: Callable[[str], object]) -> None:
        self._page, self._what, self._hint, self._example, self._send = page, what, hint, example, send
        self._to = ""

    def fill(self, can_be_sent: bool) -> None:
        box = self._page.box
        box.addWidget(heading("Send it"))
        box.addWidget(label(self._hint, "small", wrap=True))
        to = self._page.input_line(self._to, f"{self._what}To", f"Who gets the {self._what}", self._example)
        to.textEdited.connect(self._type)
        box.addWidget(to)
        send = QPushButton("Send")
        send.setObjectName(f"{self._what}Send")
        send.setEnabled(can_be_sent)
        send.clicked.connect(lambda: self._send(to.text()))
        to.returnPressed.connect(send.click)
        box.addWidget(send)

    def _type(self, text: str) -> None:
        self._to = text


def send_report(desk: Desk, to: str) -> None:
    """The report on show as PDF, to some people: names, initials or addresses."""
    report = desk.reports.report
    if report is not None:
        file = Attached(desk.reports.file_name(".pdf"), "application/pdf", pdf_of(report, words()))
        _send(desk, to, "report", report.title, f"{report.title}\n{report.below}\n\n{report.text}", file)


def send_page(desk: Desk, to: str) -> None:
    """The page as it stands on show."""
    content, data = desk.page.content, desk.page.data()
    if content is not None and data is not None:
        file = Attached(f"{content.title[:80]}.html", "text/html", data)
        text = f"{content.title}\n{content.below}\n\nOpen the file in a browser. It asks for nothing from the network."
        _send(desk, to, "page", content.title, text, file)


def _send(desk: Desk, to: str, what: str, subject: str, text: str, file: Attached) -> None:
    """What came of it is told in the window."""
    try:
        people = recipients(desk.plan, to)
        identity = desk.session.identity()
        Outbox(outbox_folder(identity)).send(mail_with(people, subject, text, [file], identity, datetime.now()))
    except HexapodError as error:
        desk.told.emit(str(error), "trouble", False)
        return
    who = people[0].display_name or str(people[0])
    more = f" and {len(people) - 1} more" if len(people) > 1 else ""
    desk.told.emit(f"The {what} is in the outbox, for {who}{more}.", "", False)
