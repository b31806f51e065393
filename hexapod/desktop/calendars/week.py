"""The week of a calendar as it is typed: a line of hours a day; what it is built on, and whose holidays are free."""

from __future__ import annotations

from msgspec.structs import replace
from PyQt6.QtCore import QLocale, pyqtSignal
from PyQt6.QtWidgets import QComboBox, QGridLayout, QLineEdit, QVBoxLayout, QWidget

from hexapod.desktop.models.desk import Desk
from hexapod.desktop.parts import heading, label
from hexapod.errors import BadText, HexapodError
from hexapod.plan.holidays import check_code
from hexapod.plan.records import Calendar, Interval
from hexapod.worktime.calendars import BUILT_IN
from hexapod.worktime.days import format_hours, parse_hours

AS_BASE = "as the base"


class WeekForm(QWidget):
    changed = pyqtSignal()

    def __init__(self, desk: Desk) -> None:
        super().__init__()
        self._desk = desk
        box = QVBoxLayout(self)
        box.setContentsMargins(0, 0, 0, 0)
        box.setSpacing(3)
        self.name = self._line("calendarName")
        self._base = QComboBox()
        self._base.setObjectName("calendarBase")
        self._base.activated.connect(lambda _: self.changed.emit())
        self._holidays = self._line("calendarHolidays")
        self._holidays.setPlaceholderText("GB, GB-SCT, DE-BY")
        for caption, widget in (("Name", self.name), ("Built on", self._base), ("Public holidays of", self._holidays)):
            widget.setAccessibleName(caption)
            box.addWidget(label(caption, "small"))
            box.addWidget(widget)
        box.addWidget(heading("Week"))
        grid = QGridLayout()
        grid.setVerticalSpacing(2)
        self.days: list[QLineEdit] = []
        for i in range(7):
            line = self._line(f"calendarDay{i}")
            name = QLocale().standaloneDayName(i + 1, QLocale.FormatType.ShortFormat)
            line.setAccessibleName(f"Hours on {QLocale().standaloneDayName(i + 1)}")
            grid.addWidget(label(name, "small"), i, 0)
            grid.addWidget(line, i, 1)
            self.days.append(line)
        box.addLayout(grid)
        self._lengths = self._line("calendarLengths")
        self._lengths.setAccessibleName("Hours a day, hours a week, days a month")
        box.addWidget(label("Hours a day, a week; days a month", "small"))
        box.addWidget(self._lengths)
        self._says = label("", "trouble", wrap=True)
        box.addWidget(self._says)

    def _line(self, name: str) -> QLineEdit:
        made = QLineEdit()
        made.setObjectName(name)
        made.editingFinished.connect(self._on_typed)
        return made

    def show_calendar(self, calendar: Calendar) -> None:
        plan = self._desk.plan
        can_change = calendar.id not in BUILT_IN and not self._desk.is_read_only
        self.setEnabled(can_change)
        self._shown = calendar
        self.name.setText(calendar.name)
        self._base.clear()
        self._base.addItem("nothing", None)
        for other in [*BUILT_IN.values(), *plan.calendars.values()]:
            if other.id != calendar.id:
                self._base.addItem(other.name, other.id)
        self._base.setCurrentIndex(max(0, self._base.findData(calendar.base)))
        self._holidays.setText(calendar.holidays)
        for line, hours in zip(self.days, calendar.week, strict=True):
            line.setPlaceholderText(AS_BASE if calendar.base else "not working")
            line.setText("" if hours is None else format_hours(hours) or "-")
        self._lengths.setText(f"{calendar.day_minutes / 60:g}, {calendar.week_minutes / 60:g}, {calendar.month_days}")
        self._says.setText("")

    def _on_typed(self) -> None:
        try:
            before = self._shown
            if self.said(before) != before:
                self.changed.emit()
            self._says.setText("")
        except HexapodError as error:
            self._says.setText(str(error))

    def said(self, calendar: Calendar) -> Calendar:
        """The calendar with what is typed here. ``BadText`` names what cannot be understood."""
        holidays = self._holidays.text().strip().upper()
        if holidays:
            check_code(holidays)
        lengths = [part.strip() for part in self._lengths.text().split(",")]
        try:
            day, week, month = float(lengths[0]), float(lengths[1]), int(lengths[2])
        except (ValueError, IndexError):
            raise BadText("Type hours a day, hours a week and days a month, such as 8, 40, 20.") from None
        if not self.name.text().strip():
            raise BadText("A calendar needs a name.")
        self._shown = replace(
            calendar,
            name=self.name.text().strip(),
            base=self._base.currentData(),
            holidays=holidays,
            week=tuple(self._hours(line) for line in self.days),
            day_minutes=round(day * 60),
            week_minutes=round(week * 60),
            month_days=month,
        )
        return self._shown

    def _hours(self, line: QLineEdit) -> tuple[Interval, ...] | None:
        text = line.text().strip()
        if not text:
            return None
        return () if text in ("-", "–", "none", "not working") else parse_hours(text)
