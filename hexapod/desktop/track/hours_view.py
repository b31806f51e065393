"""Hours: a week of a person, the weeks of everybody, and what was planned beside what is logged."""

from __future__ import annotations

from PyQt6.QtWidgets import QCompleter, QHBoxLayout, QLineEdit, QPushButton, QStackedWidget, QWidget

from hexapod.control.hours import By, HoursRow, total
from hexapod.control.weeks import SheetSign, TeamRow
from hexapod.desktop.action import Registry
from hexapod.desktop.frame.part import Part, offer
from hexapod.desktop.models.desk import Desk
from hexapod.desktop.models.hours import SPENT, TEAM, WEEK
from hexapod.desktop.parts import ActionButton, choice_button, icon_button, label
from hexapod.desktop.theme.style import scaled
from hexapod.desktop.track.sums_table import SumsTable, standing_words
from hexapod.desktop.track.team_table import TeamTable
from hexapod.desktop.track.week_table import WeekTable
from hexapod.plan.accounts import SheetState, monday_of
from hexapod.plan.edits.hours import CLOSED, hours_words
from hexapod.plan.records import DAY
from hexapod.system.words import count_of
from hexapod.worktime import clock
from hexapod.worktime.clock import date_of

WAYS = {WEEK: "A week", TEAM: "Everybody", SPENT: "Planned, logged"}
BYS = {By.BRANCH: "By branch", By.PHASE: "By phase", By.PERSON: "By person", By.STREAM: "By stream"}
HOW_WEEK = "Type hours into a day: “2h”, “45m”, “3h labels cut”, “2h 60 %”. Enter takes them, Delete takes them out."
HOW_TEAM = "Enter opens a week, Space approves one that is handed in."
HOW_SPENT = "Enter leads to the logs, or to the week of a person."
MOST_NAMES = 4000  # that are offered while a task is typed


class HoursView(Part):
    def __init__(self, desk: Desk, registry: Registry) -> None:
        super().__init__(desk, registry, "hours")
        self.work = desk.hours
        self.week, self.team = WeekTable(desk, self.work), TeamTable(desk, self.work)
        self.sums = SumsTable(desk, self.work)
        self._tables = QStackedWidget()
        for table in (self.week, self.team, self.sums):
            self._tables.addWidget(table)
        self._make_tools()
        self._lay_out()
        self.team.week_asked.connect(lambda who, monday: self._go(WEEK, who, monday))
        self.sums.person_asked.connect(lambda who: self._go(WEEK, who, None))
        for table in (self.week, self.sums):
            table.logs_asked.connect(self.show_hours)
        self.follow(self.work.changed, desk.mine.changed)

    @property
    def main_part(self) -> QWidget:
        return {WEEK: self.week, TEAM: self.team, SPENT: self.sums}[self.work.way]

    def _go(self, way: str, person: str | None, monday: int | None) -> None:
        self.work.look_at(person, monday, way)
        self.main_part.setFocus()

    # Tools

    def _make_tools(self) -> None:
        self._ways: dict[str, QPushButton] = {}
        for way, words in WAYS.items():
            button = choice_button(words, lambda w=way: self._go(w, None, None))
            button.setObjectName(f"hours.{way}")
            self._ways[way] = button
            self.lead(button)
        self._whose = self.choice("hoursWhose", "Whose week", scaled(215), lambda who: self.work.look_at(who))
        self._by = self.choice("hoursBy", "Added up by", 0, lambda by: self.work.add_up(by=by))
        self._project = self.choice("hoursProject", "Of which project", 0, lambda p: self.work.add_up(project=p))
        self._back, self._on = icon_button("arrow-left", "The week before"), icon_button("arrow-right", "The next week")
        self._back.clicked.connect(lambda: self.work.look_at(monday=self.work.monday - 7))
        self._on.clicked.connect(lambda: self.work.look_at(monday=self.work.monday + 7))
        self._now = QPushButton("This week")
        self._now.clicked.connect(lambda: self.work.look_at(monday=monday_of(clock.now() // DAY)))
        self._files = ActionButton(self._registry, "hours.files", text="In and out…")
        for widget in (self._back, self._now, self._on, self._files):
            self._line.addWidget(widget)

    def _lay_out(self) -> None:
        self._sheet = QWidget()
        line = QHBoxLayout(self._sheet)
        line.setContentsMargins(0, 0, 0, 0)
        line.setSpacing(6)
        self._task = QLineEdit()
        self._task.setObjectName("hoursTask")
        self._task.setAccessibleName("A task to log hours on")
        self._task.setPlaceholderText("Another task: type its name, Enter")
        self._task.setMinimumWidth(scaled(210))
        self._task.returnPressed.connect(self._add_task)
        self._task.textEdited.connect(lambda _: self._offer_names())
        self._state = label("", "small")
        self._state.setObjectName("sheetState")
        self._word = QLineEdit()
        self._word.setObjectName("sheetWord")
        self._word.setAccessibleName("A word about why it goes back")
        self._word.setPlaceholderText("Why it goes back")
        self._word.setMaximumWidth(scaled(180))
        self._buttons = {
            "sheetHandIn": ("Hand in", self.work.hand_in),
            "sheetTakeBack": ("Take back", self.work.take_back),
            "sheetApprove": ("Approve", lambda: self.work.approve()),
            "sheetSendBack": ("Send back", self._send_back),
            "sheetCorrect": ("Write corrections", self._correct),
        }
        line.addWidget(self._task, 1)
        line.addWidget(self._state)
        line.addWidget(self._word)
        self._made: dict[str, QPushButton] = {}
        for name, (words, run) in self._buttons.items():
            button = QPushButton(words)
            button.setObjectName(name)
            button.clicked.connect(lambda _, run=run: run())
            self._made[name] = button
            line.addWidget(button)
        self._made["sheetCorrect"].setCheckable(True)
        box = self.column()
        box.addWidget(self._title)
        box.addWidget(self._says)
        box.addWidget(self._sheet)
        box.addWidget(self._tables, 1)

    # What is pressed

    def _offer_names(self) -> None:
        """Names of open tasks to complete from, made when somebody begins to type."""
        if self._task.completer() is None:
            plan = self._desk.plan
            names = [t.name for t in plan.tasks.values() if not t.is_done and not plan.is_summary(t.id)]
            completer = QCompleter(list(dict.fromkeys(names))[:MOST_NAMES], self._task)
            completer.setCaseSensitivity(completer.caseSensitivity().CaseInsensitive)
            completer.setFilterMode(completer.filterMode().MatchContains)
            self._task.setCompleter(completer)

    def _add_task(self) -> None:
        text, plan = self._task.text().strip().casefold(), self._desk.plan
        named = [t for t in plan.tasks.values() if t.name.casefold() == text and not plan.is_summary(t.id)]
        if not named:
            self._desk.told.emit(f"No task is called “{self._task.text().strip()[:60]}”.", "trouble", False)
            return
        mine = [t for t in named if self.work.whose() in plan.assigned.get(t.id, ())]
        self.work.add_row((mine or named)[0].id)
        self._task.clear()
        self._task.setCompleter(None)
        self.week.setFocus()

    def _send_back(self) -> None:
        self.work.send_back(self._word.text())
        self._word.clear()

    def _correct(self) -> None:
        self.work.correcting = self._made["sheetCorrect"].isChecked()
        self.week.setFocus()

    # What is shown

    def refresh(self) -> None:
        work, plan = self.work, self._desk.plan
        if not plan.is_whole:
            return
        for way, button in self._ways.items():
            button.setChecked(way == work.way)
        is_week, is_spent = work.way == WEEK, work.way == SPENT
        for widget, shown in ((self._whose, is_week), (self._by, is_spent), (self._project, is_spent),
                              (self._back, not is_spent), (self._now, not is_spent), (self._on, not is_spent),
                              (self._sheet, is_week)):  # fmt: skip
            widget.setVisible(shown)
        self._tables.setCurrentWidget(self.main_part)
        if is_week:
            offer(self._whose, [(r, plan.resources[r].name) for r in work.people()], work.whose())
            self.week.refresh()
            self._show_week()
        elif is_spent:
            offer(self._by, [(by.value, words) for by, words in BYS.items()], work.by)
            offer(self._project, self.projects(), work.project)
            self.sums.refresh()
            rows = [row for row in self.sums.rows if isinstance(row, HoursRow)]
            whole = total(rows)
            words = f"{hours_words(whole.logged)} logged of {hours_words(whole.planned)} planned"
            self._title.setText(f"{words}, {standing_words(whole)}" if rows else "Planned and logged")
            self._says.setText(HOW_SPENT)
        else:
            self.team.refresh()
            self._show_team()

    def _show_week(self) -> None:
        week, plan = self.week.week, self._desk.plan
        self._sheet.setVisible(week is not None)
        if week is None:
            self._title.setText("Hours")
            self._says.setText("")
            return
        year, number, _ = date_of(week.monday).isocalendar()
        name = plan.resources[week.person].name
        spent = f"{hours_words(week.total)} of {hours_words(round(sum(week.can)))}"
        self._title.setText(f"{name}, week {number} of {year}: {spent}")
        self._says.setText(HOW_WEEK)
        state, sheet = week.state, week.sheet
        by = f" by {sheet.by}" if sheet is not None and sheet.by else ""
        words = {
            SheetState.OPEN: "Not handed in",
            SheetState.HANDED_IN: f"Handed in{by}",
            SheetState.APPROVED: f"Approved{by}",
            SheetState.SENT_BACK: f"Sent back{by}: {sheet.word if sheet is not None else ''}",
        }[state]
        self._state.setText(words)
        role = "trouble" if state is SheetState.SENT_BACK else "small"
        if role != self._state.property("role"):
            self._state.setProperty("role", role)
            self._state.style().polish(self._state)  # type: ignore[union-attr]
        is_open = state in (SheetState.OPEN, SheetState.SENT_BACK)
        shown = {
            "sheetHandIn": is_open,
            "sheetTakeBack": state is SheetState.HANDED_IN,
            "sheetApprove": state is SheetState.HANDED_IN,
            "sheetSendBack": state in CLOSED,
            "sheetCorrect": state in CLOSED,
        }
        for key, button in self._made.items():
            button.setVisible(shown[key])
            button.setEnabled(not self._desk.is_read_only)
        self._made["sheetCorrect"].setChecked(self.work.correcting)
        self._word.setVisible(state in CLOSED)

    def _show_team(self) -> None:
        rows = [row for row in self.team.rows if isinstance(row, TeamRow)]
        signs = [cell.sign for row in rows for cell in row.cells]
        waiting, missing = signs.count(SheetSign.HANDED_IN), signs.count(SheetSign.MISSING)
        said = [f"{count_of(waiting, 'sheet')} wait{'s' if waiting == 1 else ''} for approval" if waiting else "",
                f"{missing} {'is' if missing == 1 else 'are'} missing" if missing else ""]  # fmt: skip
        self._title.setText(", ".join(words for words in said if words) or "Weeks of everybody")
        self._says.setText(HOW_TEAM)
