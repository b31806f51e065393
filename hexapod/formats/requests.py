"""Requests from people without the program: a page that saves a small JSON file, a table with one a row, and reading
both. Whatever comes back is hostile until it is read."""

from __future__ import annotations

from collections.abc import Sequence
from hashlib import sha256
from html import escape
from pathlib import Path

import msgspec

from hexapod.errors import BadFile, BadText, HexapodError
from hexapod.fields.field import Texts
from hexapod.formats.table_rows import RowReader, Table, table_in
from hexapod.formats.tables import Cell, read_table, write_csv
from hexapod.formats.web.files import web_file
from hexapod.plan.bounds import LONGEST_NAME, LONGEST_TEXT
from hexapod.plan.edits.edit import new_id
from hexapod.plan.requests import Request
from hexapod.system import budgets
from hexapod.system.files import read_within, shown
from hexapod.worktime.dates import parse_moment

FORMAT, VERSION = "hexapod-request", 1
LARGEST = 200_000  # bytes of one request
MOST = 500  # of one table
MOST_DAYS = 20_000  # of work
DAY_OF_WORK = 480
TITLES = ("What", "Why", "Wanted by", "Days of work", "Benefit", "Who", "E-mail")
HEADINGS = {
    "name": ("what", "request", "project", "title"),
    "why": ("why", "reason"),
    "wanted_by": ("wanted by", "by", "until"),
    "days": ("days of work", "days", "size"),
    "benefit": ("benefit", "what for"),
    "who": ("who", "asked by", "name"),
    "email": ("e-mail", "email", "address"),
}
PAGE, TABLE = "Ask for a project.html", "Requests.csv"


class _Document(msgspec.Struct, frozen=True, forbid_unknown_fields=True):
    format: str
    version: int
    what: str
    why: str = ""
    wanted_by: str = ""
    days: str = ""
    benefit: str = ""
    who: str = ""
    email: str = ""


def request_page(house: str) -> bytes:
    """The form: it saves one request as a file, and asks for nothing from the network."""
    return web_file("request.html", script="request.js", house=escape(house, quote=True))


def request_table() -> bytes:
    """A table to fill in, a request a row."""
    return write_csv([list(TITLES)])


def is_request(path: Path) -> bool:
    """Whether a file of the folder may hold requests."""
    return path.suffix.lower() in (".json", ".csv", ".xlsx") and not path.name.startswith((".", "~"))


def read_requests(texts: Texts, path: Path, now: int) -> tuple[list[Request], list[str]]:
    """What a file asks for, and sentences about rows that cannot be read. ``BadFile`` where none of it can be."""
    if path.suffix.lower() == ".json":
        data = read_within(path, LARGEST)
        return [_of_document(shown(path.name), data, now)], []
    return _of_table(texts, path, now)


def _of_document(name: str, data: bytes, now: int) -> Request:
    try:
        found = msgspec.json.decode(data, type=_Document)
    except (msgspec.MsgspecError, RecursionError, ValueError) as error:
        raise BadFile(f"{name} is no request: {' '.join(str(error).split())[:200]}") from None
    if found.format != FORMAT or found.version != VERSION:
        raise BadFile(f"{name} is no request of this kind.")
    try:
        day = _day(found.wanted_by)
        return _made(found.what, found.why, day, found.days, found.benefit, found.who, found.email, now, data)
    except BadText as error:
        raise BadFile(f"{name}: {error}") from None


def _day(text: str) -> int | None:
    return parse_moment(text.strip()) // 1440 if text.strip() else None


def _of_table(texts: Texts, path: Path, now: int) -> tuple[list[Request], list[str]]:
    name = shown(path.name)
    table = next(filter(None, (table_in(s, HEADINGS, lambda c: "name" in c) for s in read_table(path))), None)
    if table is None:
        raise BadFile(f"{name} has no row of headings with “What” in it.")
    reader, requests, findings = RowReader(texts, table, HEADINGS), [], []
    for where, row in _rows(table, name):
        try:
            texts_ = {key: reader.text(row, key) for key in HEADINGS}
            day = reader.day(row, "wanted_by")
            mark = "\x1f".join(texts_.values()).encode()
            requests.append(_made(
                texts_["name"], texts_["why"], day, texts_["days"], texts_["benefit"], texts_["who"], texts_["email"],
                now, mark,
            ))  # fmt: skip
        except BadText as error:
            findings.append(f"{name}, {where.lower()}: {error}")
    return requests, findings


def _rows(table: Table, name: str) -> list[tuple[str, Sequence[Cell]]]:
    found = list(table.rows())
    if len(found) > MOST:
        raise BadFile(f"{name} has {len(found):,} rows; at most {MOST} requests are read at once.")
    return found


def _made(
    what: str, why: str, wanted_by: int | None, days: str, benefit: str, who: str, email: str, now: int, mark: bytes
) -> Request:
    """``BadText`` names what cannot be."""
    name = " ".join(what.split())
    if not name or len(name) > LONGEST_NAME:
        raise BadText(f"What is asked for needs some words, at most {LONGEST_NAME} characters.")
    for title, text in (("Why", why), ("Benefit", benefit), ("Who", who), ("E-mail", email)):
        if len(text) > LONGEST_TEXT:
            raise BadText(f"{title} is longer than {LONGEST_TEXT:,} characters.")
    return Request(
        new_id(), name, now, why.strip(), wanted_by, _size(days), benefit.strip(), " ".join(who.split())[:LONGEST_NAME],
        email.strip()[:320], source=sha256(mark).hexdigest()[:24],
    )  # fmt: skip


def _size(days: str) -> int:
    """Minutes of work from days as people type them."""
    said = days.strip().casefold().removesuffix("days").removesuffix("d").strip().replace(",", ".")
    if not said:
        return 0
    try:
        found = float(said)
    except ValueError:
        found = -1.0
    if not 0 <= found <= MOST_DAYS:
        raise BadText(f"Days of work must be a number from 0 to {MOST_DAYS:,}, and not “{days.strip()[:30]}”.")
    return round(found * DAY_OF_WORK)


def read_folder(texts: Texts, folder: Path, known: set[str], now: int) -> tuple[list[Request], list[str]]:
    """What is new in a folder: requests whose ``source`` is not known, and sentences about what cannot be read."""
    found: list[Request] = []
    findings: list[str] = []
    try:
        paths = sorted(p for p in folder.iterdir() if is_request(p) and p.is_file())
    except OSError:
        raise BadFile(f"The folder {shown(folder)} cannot be read: it is gone, or not yours to read.") from None
    for path in paths[: budgets.SHEETS * 10]:
        try:
            requests, said = read_requests(texts, path, now)
        except HexapodError as error:
            findings.append(str(error))
            continue
        findings += said
        for request in requests:
            if request.source not in known:
                known.add(request.source)
                found.append(request)
    return found, findings
