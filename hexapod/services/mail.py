"""The mail server, to send notices by. What ships is a stand-in: an outbox folder with one file a mail.

docs/notices.md says what one for a real server would need; it only has to take a message, once.
"""

from __future__ import annotations

import re
from dataclasses import dataclass
from email import policy
from email.message import EmailMessage
from email.parser import BytesParser
from email.utils import parsedate_to_datetime
from pathlib import Path
from typing import Protocol

import platformdirs

from hexapod.errors import BadFile
from hexapod.system.budgets import MEGABYTE
from hexapod.system.files import cannot_write, private_folder, read_within, write_whole

LARGEST = 30 * MEGABYTE  # bytes of one mail, with what is in it
MOST_READ = 500


class MailServer(Protocol):
    """What notices ask of a mail server."""

    def send(self, message: EmailMessage) -> bool:
        """Take a message; False where one with its Message-ID was taken before. ``HexapodError`` if it cannot be."""


@dataclass(frozen=True)
class Letter:
    """A mail of the outbox, to be read: ``at`` is when it was written, as it says."""

    file: str
    at: str
    to: str
    subject: str
    text: str


def outbox_folder(identity: str) -> Path:
    """Where the outbox of a workspace lies, among the user's data."""
    return Path(platformdirs.user_data_dir("hexapod")) / "outbox" / re.sub(r"[^0-9A-Za-z-]", "", identity)[:64]


class Outbox:
    """A folder of ``.eml`` files (RFC 5322), each named by its date and Message-ID."""

    def __init__(self, folder: Path) -> None:
        self.folder = folder

    def send(self, message: EmailMessage) -> bool:
        path = self.folder / _file_name(message)
        if path.exists():
            return False
        try:
            private_folder(self.folder)
        except OSError as error:
            raise cannot_write(self.folder, error) from None
        write_whole(path, message.as_bytes(policy=policy.SMTP))
        return True

    def letters(self) -> list[Letter]:
        """The latest mails, the newest first; what is no mail is left out."""
        try:
            files = sorted((p for p in self.folder.glob("*.eml") if p.is_file()), reverse=True)
        except OSError:
            return []
        found = (_read(path) for path in files[:MOST_READ])
        return [letter for letter in found if letter is not None]


def _file_name(message: EmailMessage) -> str:
    """The day on which it was written, and what tells it from every other."""
    day = parsedate_to_datetime(message["Date"]).strftime("%Y-%m-%d %H%M")
    name = re.sub(r"[^0-9A-Za-z]", "", message["Message-ID"].partition("@")[0])
    return f"{day} {name}.eml"


def _read(path: Path) -> Letter | None:
    try:
        message = BytesParser(policy=policy.default).parsebytes(read_within(path, LARGEST))
        body = message.get_body(("plain",))
        text = "" if body is None else str(body.get_content())
        return Letter(
            path.name, str(message["Date"] or ""), str(message["To"] or ""), str(message["Subject"] or ""), text
        )
    except (BadFile, ValueError, LookupError, AttributeError, IndexError, TypeError):
        return None
