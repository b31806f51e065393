"""What a view counts of the plan: at once of a small one, beside the interface of a large one."""

from __future__ import annotations

from collections.abc import Callable
from typing import TypeVar

from PyQt6.QtCore import QObject

from hexapod.desktop.models.background import in_background
from hexapod.desktop.models.desk import Desk
from hexapod.desktop.models.load import COUNTED_AT_ONCE

Found = TypeVar("Found")


class Counting:
    """Of what ``owner`` asks for only the newest is shown; an earlier count that comes late is passed over."""

    def __init__(self, owner: QObject, desk: Desk) -> None:
        self._owner, self._desk, self._number = owner, desk, 0

    def count(self, work: Callable[[], Found], show: Callable[[Found], None]) -> None:
        """Call ``show`` with what ``work`` returns."""
        self._number += 1
        number = self._number
        if len(self._desk.plan.tasks) <= COUNTED_AT_ONCE:
            show(work())
            return

        def newest(found: object) -> None:
            if number == self._number:
                show(found)  # type: ignore[arg-type]

        in_background(self._owner, work, newest, lambda error: self._desk.told.emit(str(error), "trouble", False))
