"""The projects in which something is true of a task: a question in the language of queries, asked in the background."""

from __future__ import annotations

from collections.abc import Callable
from typing import TYPE_CHECKING

from PyQt6.QtCore import QObject

from hexapod.desktop.models.background import in_background
from hexapod.errors import HexapodError
from hexapod.query.asking import compile_query, is_query, matches
from hexapod.schedule.schedule import computed_dates

if TYPE_CHECKING:
    from hexapod.desktop.models.desk import Desk
    from hexapod.schedule.schedule import Schedule


class ProjectsAsked:
    """``found`` are the ids of the projects; nothing where no question was asked."""

    def __init__(self, owner: QObject, desk: Desk, changed: Callable[[], object]) -> None:
        self._owner, self._desk, self._changed = owner, desk, changed
        self.found: frozenset[str] = frozenset()
        self._text = ""
        self._of: tuple[Schedule, str] | None = None  # what was asked last

    def ask(self, text: str) -> None:
        """Another question; words that are none find nothing here."""
        self._text = text if text.strip() and is_query(self._desk.plan, text) else ""
        if not self._text:
            self.found, self._of = frozenset(), None
        self.look()

    def look(self) -> None:
        """Ask again, where the plan is another one."""
        dates = computed_dates(self._desk.schedule)
        if not self._text or dates is None:
            return
        if self._of is not None and self._of[0] is dates and self._of[1] == self._text:
            return
        mine = self._of = dates, self._text
        plan = dates.plan
        try:
            query = compile_query(plan, self._text)
        except HexapodError:  # it asked for a field that is gone
            self.found = frozenset()
            return

        def work() -> object:
            asked = matches(query, plan, dates, plan.tasks)
            return frozenset(plan.tasks[task].project for task in asked if task is not None)

        def show(found: object) -> None:
            if self._of is mine:
                self.found = found  # type: ignore[assignment]
                self._changed()

        in_background(self._owner, work, show, lambda error: None)
