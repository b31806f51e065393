"""What the monkey meets: files good and bad, questions that are answered by chance, exceptions that are noted."""

from __future__ import annotations

import itertools
import random
import sys
import threading
import traceback
from collections.abc import Iterator
from contextlib import ExitStack, contextmanager
from pathlib import Path
from types import TracebackType
from unittest.mock import patch

from PyQt6.QtCore import QPoint
from PyQt6.QtGui import QDesktopServices
from PyQt6.QtWidgets import (
    QDialog,
    QFileDialog,
    QMenu,
    QMessageBox,
)

from hexapod.errors import HexapodError


@contextmanager
def watched(monkey_files: Path, rng: random.Random, failures: list[str]) -> Iterator[None]:
    """Exceptions that nobody caught are noted, questions are answered, and what asks for a file is given one."""

    def note(kind: type[BaseException], error: BaseException, trace: TracebackType | None) -> None:
        if not isinstance(error, HexapodError):  # those the application shows as a sentence
            failures.append("".join(traceback.format_exception(kind, error, trace)[-7:]))

    def to_read(*_: object, **__: object) -> tuple[str, str]:
        return (str(rng.choice(sorted(monkey_files.iterdir()))) if rng.random() < 0.7 else "", "")

    def to_write(*_: object, **__: object) -> tuple[str, str]:
        ending = rng.choice((".hexapod", ".csv", ".xlsx", ".json", ".ics", ".pdf", ".png", ".svg", ".txt", ""))
        place = rng.choice((monkey_files.parent / f"out{rng.randrange(9)}{ending}", Path("/proc/nowhere/x" + ending)))
        return (str(place) if rng.random() < 0.7 else "", "")

    def answer(box: QMessageBox) -> int:
        buttons = box.buttons()
        if buttons:
            rng.choice(buttons).click()
        return 0

    numbers = itertools.count()
    with ExitStack() as stack:
        for where, name, by in (
            (sys, "excepthook", note), (threading, "excepthook", lambda a: note(*a[:3])),
            (QFileDialog, "getOpenFileName", to_read), (QFileDialog, "getSaveFileName", to_write),
            (QMessageBox, "exec", answer), (QDialog, "exec", lambda dialog: 0),
            (QMenu, "exec", lambda menu, *_: menu.popup(QPoint(0, 0))),
        ):  # fmt: skip
            stack.enter_context(patch.object(where, name, by))
        stack.enter_context(patch("hexapod.plan.edits.edit.secrets.token_hex", lambda _: f"id{next(numbers):08}"))
        stack.enter_context(patch.object(QDesktopServices, "openUrl", lambda _: True))
        stack.enter_context(patch.object(QFileDialog, "getExistingDirectory", lambda *_, **__: str(monkey_files)))
        yield


def bad_files(folder: Path) -> None:
    """Files that somebody might choose: good ones, and such as are none."""
    folder.mkdir()
    (folder / "good.csv").write_text("Name,Duration,Waits for\nCases,3d,\nGlass,2d,1\n", encoding="utf-8")
    (folder / "people.csv").write_text("Name,Role,Leave\nMo Okon,Joiner,\nTo Vale,,nonsense\n", encoding="utf-8")
    (folder / "empty.xlsx").write_bytes(b"")
    (folder / "broken.xlsx").write_bytes(b"PK\x03\x04" + b"x" * 200)
    (folder / "broken.json").write_text('{"format": "hexapod-plan", "version": 1, "tasks": [{}]}', encoding="utf-8")
    (folder / "plan.json").write_text(
        '{"format": "hexapod-plan", "version": 1, "projects": [{"id": "z", "start": "2026-09-07"}],'
        ' "tasks": [{"id": "za", "project": "z", "duration": 480}]}', encoding="utf-8")  # fmt: skip
    (folder / "loop.json").write_text(
        '{"format": "hexapod-plan", "version": 1, "projects": [{"id": "y", "start": "2026-09-07"}],'
        ' "tasks": [{"id": "ya", "project": "y"}, {"id": "yb", "project": "y"}], "links": [{"predecessor": "ya",'
        ' "successor": "yb"}, {"predecessor": "yb", "successor": "ya"}]}', encoding="utf-8")  # fmt: skip
    (folder / "lines.txt").write_text("Roof\n  Panes\n  Putty\n", encoding="utf-8")
    (folder / "broken.hexapod").write_bytes(b"SQLite format 3\x00" + b"\xff" * 300)
    (folder / "to-dos.ics").write_text(
        "BEGIN:VCALENDAR\nBEGIN:VTODO\nUID:1\nSUMMARY:x\nDUE:2026\nEND:VTODO\nEND:VCALENDAR\n"
    )
