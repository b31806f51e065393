"""Making notices: what people are to be told since they were told last, as mails to the mail server, none twice.

A ledger beside the outbox keeps up to which edit of the history was told, what was told, and what waits for the next
daily mail. What is to be sent is written into it first, and struck out after: whatever is killed in between sends the
same mails again, under the same Message-IDs, of which the server takes none twice.
"""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Callable, Iterable, Sequence
from dataclasses import dataclass, field
from hashlib import sha256
from pathlib import Path

import msgspec

from hexapod.control.notices import Item, change_items, standing_items, target_items, wish_of
from hexapod.errors import BadFile, HexapodError
from hexapod.formats.mails import address_of, notice_mail
from hexapod.plan.changes import diff
from hexapod.plan.notice_kinds import NoticeWhen
from hexapod.plan.plan import Plan
from hexapod.plan.records import DAY
from hexapod.schedule.schedule import Schedule
from hexapod.services.mail import MailServer
from hexapod.store.history import HistoryRow
from hexapod.system.files import PRIVATE_FILE, alone, read_within, set_aside, write_whole
from hexapod.worktime.clock import moment_of

LEDGER = "ledger.json"
WANTED = "notices.wanted"  # the name under which a workspace keeps whether its window makes them
LARGEST = 64_000_000  # bytes of a ledger
KEPT = 400  # days for which it is known what was told


class Group(msgspec.Struct, frozen=True):
    """What one mail says: to whom, and when it was made (minutes)."""

    person: str
    items: list[Item]
    at: int


class Ledger(msgspec.Struct, omit_defaults=True):
    """``row`` is up to where the history was told, None before the first time; ``sent`` holds the keys of what was told
    with the day; ``beyond`` are projects whose finish lay beyond its target; ``waiting`` goes with the next daily mail,
    which was last sent on ``day``; ``outgoing`` is what is being sent."""

    row: int | None = None
    sent: dict[str, int] = {}
    beyond: list[str] = []
    waiting: list[Item] = []
    day: int = 0
    outgoing: list[Group] = []


@dataclass(frozen=True)
class Mailed:
    """A mail that was made."""

    person: str
    to: str
    subject: str
    items: tuple[Item, ...]


@dataclass
class Made:
    """What was made; ``unreached`` are people who should be told and have no address."""

    mails: list[Mailed] = field(default_factory=list)
    unreached: list[str] = field(default_factory=list)


@dataclass(frozen=True)
class Told:
    """What notices are made of: the plan with its dates, the history, and the plan as it was after a row of it."""

    schedule: Schedule
    history: Sequence[HistoryRow]
    plan_after: Callable[[int], Plan]
    name: str
    identity: str


def identity_of(known: str, path: Path) -> str:
    """What tells an outbox from others, also for a workspace that has no identity of its own yet."""
    return known or sha256(str(path.resolve()).encode()).hexdigest()[:24]


def make_notices(told: Told, server: MailServer, folder: Path, now: int) -> Made:
    """Send what is due at a moment (minutes); the ledger lies in a private ``folder``. May be called from any thread,
    and by several programs at a time."""
    place = folder / LEDGER
    with alone(folder):
        ledger, made = _read(place), Made()
        _sort(told.schedule.plan, ledger, _items(told, ledger, now), made, now)
        write_whole(place, msgspec.json.encode(ledger), mode=PRIVATE_FILE)
        _send(told, server, ledger, made)
        write_whole(place, msgspec.json.encode(ledger), mode=PRIVATE_FILE)
    return made


def _items(told: Told, ledger: Ledger, now: int) -> list[Item]:
    """What there is to tell and was not told yet; the ledger follows."""
    last = told.history[-1].number if told.history else 0
    since = last if ledger.row is None else min(ledger.row, last)
    found = standing_items(told.schedule, now)
    late, ledger.beyond = target_items(told.schedule, ledger.beyond, since)
    found += late
    rows = [row for row in told.history if row.number > since]
    if rows:
        found += _changed(told, since, {row.who for row in rows})
    ledger.row = last
    return [item for item in found if _key(item) not in ledger.sent]


def _changed(told: Told, since: int, who: set[str]) -> list[Item]:
    from hexapod.schedule.engine import schedule

    after = told.schedule
    try:
        plan = told.plan_after(since)
        before = schedule(plan)
    except HexapodError:
        return []  # a plan that had no dates then
    return change_items(before, after, diff(plan, after.plan), who, since)


def _sort(plan: Plan, ledger: Ledger, items: Iterable[Item], made: Made, now: int) -> None:
    """What goes out now, and what waits for the next daily mail, as each person wants it."""
    today = now // DAY
    groups: dict[tuple[str, str], list[Item]] = defaultdict(list)
    unreached: dict[str, None] = {}
    for item in items:
        person = plan.resources[item.person]
        wish = wish_of(person, item.kind)
        if wish is not NoticeWhen.NEVER and address_of(person) is None:
            unreached[person.name] = None
            continue
        if wish is NoticeWhen.AT_ONCE:
            groups[item.person, item.kind].append(item)
        elif wish is NoticeWhen.DAILY:
            ledger.waiting.append(item)
        ledger.sent[_key(item)] = today
    if ledger.day < today:
        for item in ledger.waiting:
            groups[item.person, "daily"].append(item)
        ledger.waiting, ledger.day = [], today
    ledger.outgoing += [Group(person_id, group, now) for (person_id, _), group in groups.items()]
    ledger.sent = {key: day for key, day in ledger.sent.items() if day > today - KEPT}
    made.unreached = list(unreached)


def _send(told: Told, server: MailServer, ledger: Ledger, made: Made) -> None:
    for group in ledger.outgoing:
        person = told.schedule.plan.resources.get(group.person)
        to = None if person is None else address_of(person)
        if person is None or to is None:
            continue  # who left since
        mail = notice_mail(person, to, group.items, told.name, told.identity, moment_of(group.at))
        if server.send(mail):
            made.mails.append(Mailed(person.name, str(to), str(mail["Subject"]), tuple(group.items)))
    ledger.outgoing = []


def _key(item: Item) -> str:
    return f"{item.person}/{item.key}"


def _read(path: Path) -> Ledger:
    """What is known; one that cannot be read is begun anew, and set aside."""
    if not path.exists():
        return Ledger()
    try:
        return msgspec.json.decode(read_within(path, LARGEST), type=Ledger)
    except (BadFile, msgspec.MsgspecError, ValueError, RecursionError):
        set_aside(path)
        return Ledger()
