"""Sending a report: a mail with its pages, into the outbox."""

from __future__ import annotations

from datetime import datetime

from hexapod.desktop.models.desk import Desk
from hexapod.desktop.models.wording import words
from hexapod.desktop.paper.report_pages import pdf_of
from hexapod.errors import HexapodError
from hexapod.formats.mails import Attached, mail_with, recipients
from hexapod.services.mail import Outbox, outbox_folder


def send_report(desk: Desk, to: str) -> None:
    """The report on show to some people: names, initials or addresses. What came of it is told in the window."""
    report = desk.reports.report
    if report is None:
        return
    try:
        people = recipients(desk.plan, to)
        file = Attached(desk.reports.file_name(".pdf"), "application/pdf", pdf_of(report, words()))
        identity = desk.session.identity()
        text = f"{report.title}\n{report.below}\n\n{report.text}"
        Outbox(outbox_folder(identity)).send(mail_with(people, report.title, text, [file], identity, datetime.now()))
    except HexapodError as error:
        desk.told.emit(str(error), "trouble", False)
        return
    who = people[0].display_name or str(people[0])
    more = f" and {len(people) - 1} more" if len(people) > 1 else ""
    desk.told.emit(f"The report is in the outbox, for {who}{more}.", "", False)
