"""An errand beside the interface that is never under way twice: what is asked for meanwhile is done once afterwards."""

from __future__ import annotations

from collections.abc import Callable

from PyQt6.QtCore import QObject

from hexapod.desktop.models.background import in_background


class OneAtATime:
    """``again`` is called once an errand is over, if another one was asked for meanwhile."""

    def __init__(self, owner: QObject, again: Callable[[], object]) -> None:
        self._owner, self._again = owner, again
        self.is_under_way = self.is_asked_again = False

    def start(
        self, work: Callable[[], object], done: Callable[[object], object], failed: Callable[[Exception], object]
    ) -> bool:
        """As ``in_background``; false where one is under way, and this is asked for again later."""
        self.is_asked_again = self.is_under_way
        if self.is_under_way:
            return False
        self.is_under_way = True
        in_background(
            self._owner, work, lambda found: self._over(lambda: done(found)),
            lambda error: self._over(lambda: failed(error)),
        )  # fmt: skip
        return True

    def _over(self, tell: Callable[[], object]) -> None:
        self.is_under_way = False
        tell()
        if self.is_asked_again and not self.is_under_way:
            self.is_asked_again = False
            self._again()
