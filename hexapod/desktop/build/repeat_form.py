"""Recurring work: how often, on which days and until when; and which occurrences a change is about."""

from __future__ import annotations

import re
from collections.abc import Callable
from datetime import timedelta

from PyQt6.QtWidgets import QComboBox, QHBoxLayout, QLineEdit, QPushButton, QSpinBox

from hexapod.desktop import dates
from hexapod.desktop.forms import Form
from hexapod.desktop.models.desk import Desk
from hexapod.desktop.parts import heading, label
from hexapod.errors import BadText, HexapodError
from hexapod.plan import edits
from hexapod.plan.edits import Scope
from hexapod.plan.records import Task
from hexapod.plan.recurrence import moment_at, start_of
from hexapod.worktime.calendars import units_of
from hexapod.worktime.clock import minutes_of
from hexapod.worktime.lengths import format_duration, parse_duration

EVERY = {"DAILY": "days", "WEEKLY": "weeks", "MONTHLY": "months", "YEARLY": "years"}
DAYS = ("MO", "TU", "WE", "TH", "FR", "SA", "SU")
SCOPES = {Scope.LATER: "This one and the later ones", Scope.ALL: "All of them"}
FINISH, DATE, COUNT = "the finish of the project", "a date", "a number of times"


class RepeatForm(Form):
    def __init__(self, desk: Desk, leave: Callable[[], None]) -> None:
        super().__init__(desk, "Repeat", leave)
        self.task: str | None = None

    def fill(self) -> None:
        plan = self.desk.plan
        task = plan.tasks.get(self.task or "")
        if task is None:
            self.box.addWidget(label("Select the task that repeats.", "muted"))
            return
        above = plan.tasks.get(task.parent or "")
        series = task if task.repeats else above if above is not None and above.repeats else None
        self.box.addWidget(label("Repeat", "title"))
        self.box.addWidget(label(task.name, "value", wrap=True))
        rule = series.repeats if series is not None else ""
        begin = task.occurrence if task.occurrence is not None else self._first(rule)
        self._scope = QComboBox()
        self._scope.setObjectName("repeatScope")
        if series is not None:
            for scope, words in SCOPES.items():
                self._scope.addItem(words, scope)
            if task is series:
                self._scope.removeItem(0)
            self.field("Change", self._scope)
        self._count = QSpinBox()
        self._count.setObjectName("repeatInterval")
        self._count.setRange(1, 99)
        self._count.setValue(int(_part(rule, "INTERVAL") or 1))
        self._unit = QComboBox()
        self._unit.setObjectName("repeatUnit")
        for value, words in EVERY.items():
            self._unit.addItem(words, value)
        self._unit.setCurrentIndex(self._unit.findData(_part(rule, "FREQ") or "WEEKLY"))
        self.field("Every", self._count)
        self.field("Unit", self._unit)
        self._days(rule, begin)
        self._begin = self.line(dates.typed(begin), "repeatBegin")
        self.field("From", self._begin)
        self._until = QComboBox()
        self._until.setObjectName("repeatUntil")
        for words in (FINISH, DATE, COUNT):
            self._until.addItem(words)
        said = _part(rule, "UNTIL") or _part(rule, "COUNT") or ""
        self._until.setCurrentText(DATE if _part(rule, "UNTIL") else COUNT if said else FINISH)
        self._end = self.line(_end_text(said), "repeatEnd")
        self.field("Until", self._until)
        self.field("Date or number", self._end, "Of the last one, or how many there are")
        self.buttons("Change the series" if series is not None else "Repeat it")
        if series is not None and task is not series:
            self._occurrences(task)

    def _occurrences(self, task: Task) -> None:
        """What else may change for this one, for this and later ones, or for all."""
        self.box.addWidget(heading("How long, and whether at all"))
        self._which = QComboBox()
        self._which.setObjectName("occurrenceScope")
        for scope, words in {Scope.THIS: "This one only", **SCOPES}.items():
            self._which.addItem(words, scope)
        units = units_of(self.desk.plan, task.project)
        self._lasts = QLineEdit(format_duration(task.minutes, task.elapsed, units))
        self._lasts.setObjectName("occurrenceLasts")
        self._lasts.returnPressed.connect(lambda: self._try_this(self._set_length))
        self.field("Which", self._which)
        self.field("Lasts", self._lasts)
        line = QHBoxLayout()
        for text, name, act in (
            ("Set", "occurrenceSet", self._set_length),
            ("Remove", "occurrenceRemove", self._remove),
        ):
            button = QPushButton(text)
            button.setObjectName(name)
            button.clicked.connect(lambda _, a=act: self._try_this(a))
            line.addWidget(button)
        self.box.addLayout(line)

    def _try_this(self, act: Callable[[], None]) -> None:
        try:
            act()
        except HexapodError as error:
            self.desk.told.emit(str(error), "trouble", False)
        else:
            self._leave()

    def _set_length(self) -> None:
        plan = self.desk.plan
        assert self.task is not None
        task = plan.task(self.task)
        minutes, elapsed = parse_duration(self._lasts.text(), units_of(plan, task.project))
        scope = self._which.currentData()
        words = f"Set how long “{task.name}” lasts ({scope.value})"
        edit = edits.set_occurrences(plan, task.id, scope, words, duration=minutes, elapsed=elapsed)
        self.desk.attempt(edit)
        self.desk.told.emit(f"{words}.", "", True)

    def _remove(self) -> None:
        assert self.task is not None
        edit = edits.remove_occurrences(self.desk.plan, self.task, self._which.currentData())
        self.desk.attempt(edit)
        self.desk.told.emit(f"{edit.words}.", "", True)

    def _days(self, rule: str, begin: int) -> None:
        chosen = (_part(rule, "BYDAY") or DAYS[moment_at(begin).weekday()]).split(",")
        line = QHBoxLayout()
        line.setSpacing(1)
        self._weekdays: list[QPushButton] = []
        for i, day in enumerate(DAYS):
            button = QPushButton(dates.short_day((4 + i) * 1440)[:2])  # 1970-01-05 was a Monday
            button.setObjectName(f"repeat.{day}")
            button.setProperty("role", "day")
            button.setMinimumWidth(24)
            button.setCheckable(True)
            button.setChecked(day in chosen)
            line.addWidget(button)
            self._weekdays.append(button)
        self.box.addSpacing(4)
        self.box.addWidget(label("On (of a week)", "small"))
        self.box.addLayout(line)

    def _first(self, rule: str) -> int:
        if rule:
            return minutes_of(start_of(rule))
        assert self.task is not None
        return self.desk.schedule.dates(self.task).start

    def rule(self) -> str:
        """The rule that the form says, in RFC 5545."""
        at = dates.read(self._begin.text())
        begin = moment_at(at if at % 1440 or ":" in self._begin.text() else at + dates.DAY_BEGINS)
        parts = [f"FREQ={self._unit.currentData()}", f"INTERVAL={self._count.value()}"]
        days = [day for day, button in zip(DAYS, self._weekdays, strict=True) if button.isChecked()]
        if self._unit.currentData() == "WEEKLY" and days:
            parts.append(f"BYDAY={','.join(days)}")
            while DAYS[begin.weekday()] not in days:
                begin += timedelta(days=1)
        if self._until.currentText() == DATE:
            parts.append(f"UNTIL={moment_at(dates.read(self._end.text(), ends=True)):%Y%m%dT%H%M00}")
        elif self._until.currentText() == COUNT:
            if not re.fullmatch(r"\d{1,4}", self._end.text().strip()):
                raise BadText("Type how many times, for example 12.")
            parts.append(f"COUNT={self._end.text().strip()}")
        return f"DTSTART:{begin:%Y%m%dT%H%M00}\nRRULE:{';'.join(parts)}"

    def save(self) -> None:
        assert self.task is not None
        desk, plan = self.desk, self.desk.plan
        until = plan.projects[plan.tasks[self.task].project].target_finish
        end = until or desk.schedule.project_finish.get(plan.tasks[self.task].project) or self._first("")
        if self._scope.count():
            applied = desk.attempt(edits.set_rule(plan, self.task, self._scope.currentData(), self.rule(), end))
        else:
            applied = desk.attempt(edits.repeat(plan, self.task, self.rule(), end))
        if applied is not None:
            desk.told.emit(f"{applied.words}.", "", True)


def _part(rule: str, name: str) -> str | None:
    match = re.search(rf"{name}=([^;\n]+)", rule, re.IGNORECASE)
    return match[1].upper() if match else None


def _end_text(said: str) -> str:
    match = re.match(r"(\d{4})(\d\d)(\d\d)T", said)
    return f"{match[1]}-{match[2]}-{match[3]}" if match else said
