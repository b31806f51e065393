"""The calendars of the workspace: choose one, see its year, change its week and its days, and see what moves."""

from __future__ import annotations

from collections.abc import Callable
from datetime import date

from msgspec.structs import replace
from PyQt6.QtCore import Qt, QTimer
from PyQt6.QtWidgets import (
    QHBoxLayout,
    QLineEdit,
    QListWidget,
    QListWidgetItem,
    QPushButton,
    QScrollArea,
    QVBoxLayout,
    QWidget,
)

from hexapod.desktop import dates
from hexapod.desktop.calendars.consequences import consequences
from hexapod.desktop.calendars.draft import by_rule, with_days, yearly
from hexapod.desktop.calendars.week import WeekForm
from hexapod.desktop.calendars.year import YearView
from hexapod.desktop.models.desk import Desk
from hexapod.desktop.parts import clear, heading, icon_button, label
from hexapod.errors import HexapodError
from hexapod.plan import edits
from hexapod.plan.edits import new_id
from hexapod.plan.records import Calendar
from hexapod.worktime.calendars import BUILT_IN, Window, find_calendar
from hexapod.worktime.clock import day_number
from hexapod.worktime.days import days_of, format_hours, parse_hours


class CalendarsView(QWidget):
    """Nothing is kept until Apply; until then the line beneath says what would move, and by how much."""

    def __init__(self, desk: Desk, leave: Callable[[], None]) -> None:
        super().__init__()
        self.desk = desk
        self._leave = leave
        project = desk.plan.projects.get(desk.project or "")
        self.draft = find_calendar(desk.plan.calendars, project.calendar if project else "standard")
        self.list = QListWidget()
        self.list.setObjectName("calendarList")
        self.list.setAccessibleName("Calendars")
        self.list.setFixedWidth(176)
        self.year = YearView()
        self.week = WeekForm(desk)
        self._lay_out()
        self.list.currentItemChanged.connect(self._on_chosen)
        self.year.chosen_changed.connect(self._show_days)
        self.week.changed.connect(self._on_week)
        desk.changed.connect(lambda _: self.isVisible() and self.refresh())
        self._soon = QTimer(self, singleShot=True, interval=30)
        self._soon.timeout.connect(self._show_consequences)

    def _lay_out(self) -> None:
        left = QVBoxLayout()
        left.addWidget(label("Calendars", "title"))
        left.addWidget(self.list, 1)
        for text, name, act in (
            ("New calendar", "calendarNew", self.new),
            ("Delete", "calendarDelete", self._remove),
            ("Back to the plan", "calendarBack", self._leave),
        ):
            button = QPushButton(text)
            button.setObjectName(name)
            button.clicked.connect(act)
            left.addWidget(button)
        self._title = label("", "title")
        step = QHBoxLayout()
        step.addWidget(self._title, 1)
        for by, text in ((-1, "‹"), (1, "›")):
            button = QPushButton(text)
            button.setAccessibleName("The year before" if by < 0 else "The next year")
            button.clicked.connect(lambda _, b=by: self.show_year(self.year.year + b))
            step.addWidget(button)
        middle = QVBoxLayout()
        middle.addLayout(step)
        middle.addWidget(self.year, 1)
        self._says = label("", wrap=True)
        self._says.setObjectName("calendarMoves")
        middle.addWidget(self._says)
        buttons = QHBoxLayout()
        self.apply_button = QPushButton("Apply")
        self.apply_button.setObjectName("calendarApply")
        self.apply_button.setProperty("role", "primary")
        self.apply_button.clicked.connect(self.apply)
        self.discard_button = QPushButton("Discard")
        self.discard_button.setObjectName("calendarDiscard")
        self.discard_button.clicked.connect(self._discard)
        buttons.addWidget(self.apply_button)
        buttons.addWidget(self.discard_button)
        buttons.addStretch(1)
        middle.addLayout(buttons)
        right = QWidget()
        self._right = QVBoxLayout(right)
        self._right.addWidget(self.week)
        self._days = QVBoxLayout()
        self._right.addLayout(self._days)
        self._right.addStretch(1)
        scroll = QScrollArea()
        scroll.setWidgetResizable(True)
        scroll.setFixedWidth(252)
        scroll.setFrameShape(QScrollArea.Shape.NoFrame)
        scroll.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        scroll.setWidget(right)
        whole = QHBoxLayout(self)
        whole.addLayout(left)
        whole.addLayout(middle, 1)
        whole.addWidget(scroll)

    # What is shown

    def showEvent(self, event) -> None:  # type: ignore[no-untyped-def]
        super().showEvent(event)
        self.refresh()

    def refresh(self) -> None:
        """The list anew, and the calendar on show as the plan has it, unless it is being changed."""
        chosen = self.draft.id
        self.list.blockSignals(True)
        self.list.clear()
        for calendar in [*sorted(self.desk.plan.calendars.values(), key=lambda c: c.name), *BUILT_IN.values()]:
            item = QListWidgetItem(calendar.name)
            item.setData(Qt.ItemDataRole.UserRole, calendar.id)
            self.list.addItem(item)
            if calendar.id == chosen:
                self.list.setCurrentItem(item)
        if self.list.currentItem() is None:
            self.list.setCurrentRow(0)
        self.list.blockSignals(False)
        self.show_calendar(self.list.currentItem().data(Qt.ItemDataRole.UserRole))

    def show_calendar(self, calendar_id: str) -> None:
        self.draft = find_calendar(self.desk.plan.calendars, calendar_id)
        for row in range(self.list.count()):
            if self.list.item(row).data(Qt.ItemDataRole.UserRole) == calendar_id:
                self.list.setCurrentRow(row)
        self.week.show_calendar(self.draft)
        self.show_year(self.year.year)

    def show_year(self, year: int) -> None:
        year = max(1970, min(year, 2129))
        first, last = day_number(date(year, 1, 1)), day_number(date(year + 1, 1, 1))
        try:
            found = days_of(self.desk.plan.calendars, self.draft, Window(first, last))
        except HexapodError as error:
            self._says.setText(str(error))
            found = {}
        self._title.setText(f"{self.draft.name}, {year}")
        self.year.show_days(year, found)
        self._show_days()
        self._soon.start()

    @property
    def is_changed(self) -> bool:
        return self.draft != (self.desk.plan.calendars.get(self.draft.id) or BUILT_IN.get(self.draft.id))

    @property
    def can_change(self) -> bool:
        return self.draft.id not in BUILT_IN and not self.desk.is_read_only

    def _show_days(self) -> None:
        """What can be said of the chosen days."""
        clear(self._days)
        chosen = self.year.chosen
        self._days.addWidget(heading("Days"))
        if not chosen:
            self._days.addWidget(label("Drag over days of the year to change them.", "muted", wrap=True))
            return
        first, last = (dates.long_day(day_number(day) * 1440) for day in (chosen[0], chosen[-1]))
        self._days.addWidget(label(first if len(chosen) == 1 else f"{first} to {last}", "value", wrap=True))
        found = self.year.days.get(day_number(chosen[0]))
        if found is not None:
            self._days.addWidget(label(found.words(), "muted", wrap=True))
        name = QLineEdit(found.name if found else "")
        name.setObjectName("dayName")
        name.setAccessibleName("Name of these days")
        name.setPlaceholderText("A name, such as Stocktaking")
        hours = QLineEdit(format_hours(found.working) if found else "")
        hours.setObjectName("dayHours")
        hours.setAccessibleName("Hours of these days")
        hours.setPlaceholderText("Hours: 8-12, 13-17")
        rule = QLineEdit()
        rule.setObjectName("dayRule")
        rule.setAccessibleName("Rule of these days (RFC 5545)")
        rule.setPlaceholderText("FREQ=MONTHLY;BYDAY=1FR")
        self._days.addWidget(name)
        self._days.addWidget(hours)
        for text, object_name, act in (
            ("Not working", "dayOff", lambda: with_days(self.draft, chosen, (), name.text().strip())),
            (
                "Work these hours",
                "dayWork",
                lambda: with_days(self.draft, chosen, parse_hours(hours.text()), name.text()),
            ),
            ("As the week says", "dayPlain", lambda: with_days(self.draft, chosen, None)),
            ("Not working, every year", "dayYearly", lambda: yearly(self.draft, chosen[0], (), name.text().strip())),
            (
                "Not working, by the rule below",
                "dayByRule",
                lambda: by_rule(self.draft, chosen[0], rule.text(), (), name.text().strip()),
            ),
        ):
            button = QPushButton(text)
            button.setObjectName(object_name)
            button.setEnabled(self.can_change)
            button.clicked.connect(lambda _, a=act: self._change(a))
            self._days.addWidget(button)
        self._days.addWidget(rule)
        self._list_rules()

    def _list_rules(self) -> None:
        rules = [e for e in self.draft.exceptions if e.rule]
        if rules:
            self._days.addWidget(heading("By rule"))
        for exception in rules:
            line = QHBoxLayout()
            text = exception.name or exception.rule.split("RRULE:")[-1]
            line.addWidget(label(text, wrap=True), 1)
            remove = icon_button("x", f"Remove {text}")
            remove.setEnabled(self.can_change)
            left = tuple(e for e in self.draft.exceptions if e is not exception)
            remove.clicked.connect(lambda _, e=left: self._change(lambda: replace(self.draft, exceptions=e)))
            line.addWidget(remove)
            self._days.addLayout(line)

    # Changing

    def _change(self, make: Callable[[], Calendar]) -> None:
        try:
            self.draft = make()
        except HexapodError as error:
            self.desk.told.emit(str(error), "trouble", False)
            return
        self.show_year(self.year.year)

    def _on_week(self) -> None:
        self._change(lambda: self.week.said(self.draft))

    def _show_consequences(self) -> None:
        self.apply_button.setEnabled(self.is_changed and self.can_change)
        self.discard_button.setEnabled(self.is_changed)
        if self.draft.id in BUILT_IN:
            self._says.setText("A built-in calendar stays as it is. Make a new one upon it to change its days.")
        elif not self.is_changed:
            self._says.setText("")
        else:
            self._says.setText(consequences(self.desk, edits.save_calendar(self.desk.plan, self.draft)))

    def apply(self) -> None:
        edit = edits.save_calendar(self.desk.plan, self.draft)
        if self.desk.do(edit):
            self.desk.told.emit(f"{edit.words}.", "", True)

    def _discard(self) -> None:
        if self.draft.id in self.desk.plan.calendars:
            self.show_calendar(self.draft.id)
        else:
            self.draft = BUILT_IN["standard"]
            self.refresh()

    def new(self) -> None:
        """A calendar on top of the one on show."""
        base = self.draft.id if self.draft.id in self.desk.plan.calendars else "standard"
        made = Calendar(new_id(), "New calendar", base=base)
        if self.desk.do(edits.save_calendar(self.desk.plan, made)):
            self.draft = made
            self.refresh()
            self.week.name.setFocus()
            self.week.name.selectAll()

    def _remove(self) -> None:
        if self.draft.id in self.desk.plan.calendars:
            name = self.draft.name
            if self.desk.do(edits.remove_calendar(self.desk.plan, self.draft.id)):
                self.desk.told.emit(f"The calendar “{name}” is deleted.", "", True)

    def _on_chosen(self, item: QListWidgetItem | None, _: object) -> None:
        if item is not None and item.data(Qt.ItemDataRole.UserRole) != self.draft.id:
            self.show_calendar(item.data(Qt.ItemDataRole.UserRole))
