"""Notices and reports as mails: RFC 5322 by the standard library, marked as written by a program (RFC 3834)."""

from __future__ import annotations

from collections.abc import Sequence
from datetime import datetime
from email.errors import MessageError
from email.headerregistry import Address
from email.message import EmailMessage
from email.utils import format_datetime
from hashlib import sha256
from typing import NamedTuple

from hexapod.control.notices import TITLES, Item
from hexapod.errors import BadText
from hexapod.plan.plan import Plan
from hexapod.plan.records import Resource
from hexapod.system.words import count_of

MOST_LINES = 200  # of one mail
FROM = Address("Hexapod", "notices", "hexapod.invalid")  # RFC 2606: nobody answers there
FOOT = (
    "Hexapod wrote this for “{name}”. Nobody reads answers to it. What you are told of, and whether at once or once a "
    "day, is your choice: Track, Attention, Notices."
)


def address_of(resource: Resource) -> Address | None:
    """Where somebody gets mail; None where no address is known, or none that can be one."""
    email = resource.email.strip()
    if not email or len(email) > 320:
        return None
    try:
        return Address(_line(resource.name), addr_spec=email)
    except (ValueError, IndexError, MessageError):
        return None


def notice_mail(
    person: Resource, to: Address, items: Sequence[Item], workspace: str, identity: str, at: datetime
) -> EmailMessage:
    """One mail with some items, under their headings. The same items make the same Message-ID."""
    message = EmailMessage()
    message["From"] = FROM
    message["To"] = to
    message["Subject"] = _line(_subject(items))
    message["Date"] = format_datetime(at.astimezone())
    digest = sha256("\n".join([person.id, *sorted(item.key for item in items)]).encode()).hexdigest()[:24]
    message["Message-ID"] = f"<{digest}@{identity or 'workspace'}.hexapod.invalid>"
    message["Auto-Submitted"] = "auto-generated"
    message.set_content(_text(person, items, workspace))
    return message


class Attached(NamedTuple):
    """A file in a mail; ``kind`` is its media type, such as ``application/pdf``."""

    name: str
    kind: str
    data: bytes


def recipients(plan: Plan, text: str) -> list[Address]:
    """Names, initials or addresses, with commas between them. ``BadText`` for who is nobody, or has no address."""
    found = []
    for said in (part.strip() for part in text.replace(";", ",").split(",")):
        if not said:
            continue
        known = [r for r in plan.resources.values() if said.casefold() in (r.name.casefold(), r.initials.casefold())]
        if "@" in said:
            address = address_of(Resource("", said, "", email=said))
        elif not known:
            raise BadText(f"“{said[:60]}” is nobody among the resources, and no address.")
        else:
            address = address_of(known[0])
        if address is None:
            raise BadText(f"“{said[:60]}” has no address that mail can go to.")
        found.append(address)
    if not found:
        raise BadText("Say who gets it: names, initials or addresses.")
    return found


def mail_with(
    to: Sequence[Address], subject: str, text: str, files: Sequence[Attached], identity: str, at: datetime
) -> EmailMessage:
    """A mail with files in it."""
    message = EmailMessage()
    message["From"] = FROM
    message["To"] = list(to)
    message["Subject"] = _line(subject)
    message["Date"] = format_datetime(at.astimezone())
    whole = sha256(b"\n".join([*(str(a).encode() for a in to), at.isoformat().encode(), *(f.data for f in files)]))
    message["Message-ID"] = f"<{whole.hexdigest()[:24]}@{identity or 'workspace'}.hexapod.invalid>"
    message["Auto-Submitted"] = "auto-generated"
    message.set_content("\n".join(_line(line) for line in text.splitlines()) + "\n")
    for file in files:
        main, _, sub = file.kind.partition("/")
        message.add_attachment(file.data, maintype=main, subtype=sub, filename=_line(file.name))
    return message


def _subject(items: Sequence[Item]) -> str:
    kinds = {item.kind for item in items}
    if len(kinds) > 1:
        return f"{count_of(len(items), 'thing')} for you today"
    title = TITLES[items[0].kind]
    name = items[0].words.partition(":")[0]
    return f"{title}: {name}" if len(items) == 1 else f"{title}: {len(items)} tasks"


def _text(person: Resource, items: Sequence[Item], workspace: str) -> str:
    lines = [f"{_line(person.name)},", ""]
    for kind in dict.fromkeys(item.kind for item in items):
        of_kind = [item for item in items if item.kind is kind]
        lines += [TITLES[kind], *(f"- {_line(item.words)}" for item in of_kind[:MOST_LINES])]
        if len(of_kind) > MOST_LINES:
            lines.append(f"and {len(of_kind) - MOST_LINES} more")
        lines.append("")
    lines += ["-- ", FOOT.format(name=_line(workspace)), ""]
    return "\n".join(lines)


def _line(text: str) -> str:
    """One line, whatever was in it: what somebody typed makes no header of its own."""
    return " ".join("".join(c if c.isprintable() else " " for c in text).split())[:400]
