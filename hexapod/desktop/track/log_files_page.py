"""At the side: hours out to a table, and from one."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from pathlib import Path

from hexapod.control.worked import log_edit
from hexapod.desktop import dates
from hexapod.desktop.frame.table_files import TableFilesPage
from hexapod.formats.log_tables import log_rows, read_logs
from hexapod.formats.table_rows import Proposed
from hexapod.formats.tables import Cell
from hexapod.plan.accounts import Log
from hexapod.plan.edits import Edit
from hexapod.plan.edits.hours import hours_words
from hexapod.plan.records import DAY
from hexapod.worktime import clock


class LogFilesPage(TableFilesPage):
    title, one, key, file = "Hours in and out", "log", "logs", "Hours"
    what = "A table with a day, a person, a task and hours in each row. Nothing is taken before you have seen it."

    def reading(self, path: Path) -> Callable[[], Proposed[Log]]:
        texts, today = self.desk.columns.texts(), clock.now() // DAY
        return lambda: read_logs(texts, path, today)

    def line_of(self, item: Log) -> str:
        plan = self.desk.plan
        if item.task not in plan.tasks or item.resource not in plan.resources:
            return ""
        who = plan.resources[item.resource]
        words = f"{dates.short_day(item.day * DAY)} · {who.initials or who.name} · {hours_words(item.minutes)}"
        return f"{words} · {plan.tasks[item.task].name}"

    def said_of(self, items: Sequence[Log]) -> str:
        return hours_words(sum(log.minutes for log in items))

    def edit_of(self, items: Sequence[Log]) -> Edit:
        return log_edit(self.desk.plan, items)

    def rows(self) -> Callable[[], list[list[Cell]]]:
        plan = self.desk.plan
        return lambda: log_rows(plan)

    def count(self) -> int:
        return len(self.desk.plan.logs)
