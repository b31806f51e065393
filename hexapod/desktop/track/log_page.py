"""At the side: hours of the selected task. Logging them in a breath, the clock, what is left, and the logs."""

from __future__ import annotations

from collections.abc import Callable

from PyQt6.QtCore import QRectF, QTimer
from PyQt6.QtGui import QPainter, QPaintEvent
from PyQt6.QtWidgets import QComboBox, QHBoxLayout, QLabel, QLineEdit, QPushButton, QWidget

from hexapod.control.hours import Hours, hours_of
from hexapod.control.worked import clock_words, is_forgotten
from hexapod.desktop import dates
from hexapod.desktop.frame.page import Page
from hexapod.desktop.frame.part import offer
from hexapod.desktop.models.desk import Desk
from hexapod.desktop.parts import card, heading, icon_button, label, narrow
from hexapod.desktop.theme.style import scaled
from hexapod.desktop.track.sums_table import hours_bar, standing_words
from hexapod.errors import HexapodError
from hexapod.fields.hours_text import log_words, read_log, read_minutes
from hexapod.plan.accounts import Log
from hexapod.plan.edits.hours import hours_words
from hexapod.plan.records import DAY
from hexapod.worktime import clock

MOST_SHOWN = 40  # logs
TICK = 15_000  # milliseconds between two looks at the clock


class HoursBar(QWidget):
    """The bar of a task's hours."""

    def __init__(self, hours: Hours) -> None:
        super().__init__()
        self._hours = hours
        self.setFixedHeight(scaled(14))
        self.setAccessibleName(standing_words(hours))

    def paintEvent(self, event: QPaintEvent) -> None:
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        hours_bar(painter, self._hours, QRectF(0, 2, self.width(), self.height() - 4))
        painter.end()


class LogPage(Page):
    """``person`` is as whom hours are logged: at first whoever I am."""

    def __init__(self, desk: Desk) -> None:
        super().__init__(desk, "Hours of a task")
        self._task: str | None = None
        self.person = ""
        self._typed = ""  # what was typed and not taken, as long as the same task is looked at
        for signal in (
            desk.changed,
            desk.selection_changed,
            desk.computed,
            desk.hours.clock_changed,
            desk.mine.changed,
        ):
            signal.connect(self.refresh)
        self._tick = QTimer(self, interval=TICK)
        self._tick.timeout.connect(lambda: self._clock_says.setText(self._clock_text()) if self.isVisible() else None)
        self._tick.start()
        self._clock_says = label("", "small", wrap=True)

    def fill(self) -> None:
        desk, task_id = self.desk, self.desk.current
        self.box.addWidget(label("Hours", "title"))
        self._clock_says = label(self._clock_text(), "small", wrap=True)
        self._clock_says.setObjectName("clockSays")
        if task_id is None or task_id not in desk.plan.tasks or not desk.plan.is_whole:
            self.box.addWidget(label("Select a task, and log what was worked on it.", "small", wrap=True))
            self._fill_clock(None)
            return
        if task_id != self._task:
            self._task, self._typed = task_id, ""
        task = desk.plan.tasks[task_id]
        self.box.addWidget(label(task.name, wrap=True))
        efforts = desk.hours.efforts
        if efforts is not None and desk.schedule.has(task_id):
            hours = hours_of(desk.worked_out, desk.hours.ledger, efforts, task_id)
            self.box.addWidget(HoursBar(hours))
            self.box.addWidget(label(_words(hours), "small", wrap=True))
        if not desk.plan.is_summary(task_id):
            self._fill_line(task_id)
        self._fill_clock(task_id)
        self._fill_logs(task_id)

    def _fill_line(self, task_id: str) -> None:
        desk = self.desk
        if self.person not in desk.plan.resources:
            self.person = desk.mine.me
        on_it = list(desk.plan.assigned.get(task_id, ()))
        people = list(
            dict.fromkeys([desk.mine.me, *(r for r in on_it if r in desk.mine.people()), *desk.mine.people()])
        )
        choices = [(r, desk.plan.resources[r].name + (", me" if r == desk.mine.me else "")) for r in people if r]
        who = narrow(QComboBox())
        who.setObjectName("logWho")
        who.setAccessibleName("Who worked")
        if not self.person and choices:
            self.person = choices[0][0]
        offer(who, choices, self.person)
        who.activated.connect(lambda i: setattr(self, "person", who.itemData(i)))
        line = QLineEdit(self._typed)
        line.setObjectName("logLine")
        line.setAccessibleName(f"Hours on {desk.plan.tasks[task_id].name}")
        line.setPlaceholderText("2h, 45m, fri 3h pins cleaned")
        says = label("", "small", wrap=True)
        says.setObjectName("logSays")
        line.textChanged.connect(lambda text: self._echo(task_id, text, says))
        line.returnPressed.connect(lambda: self._take(task_id, line, says))
        for widget in (who, line):
            widget.setEnabled(not desk.is_read_only)
            self.box.addWidget(widget)
        self.box.addWidget(says)

    def _echo(self, task_id: str, text: str, says: QLabel) -> None:
        self._typed = text
        texts, today = self.desk.columns.texts(), clock.now() // DAY
        try:
            words = log_words(texts, read_log(texts, task_id, text, today), today) if text.strip() else ""
        except HexapodError as error:
            self._say(says, str(error), "trouble")
        else:
            self._say(says, words, "small")

    @staticmethod
    def _say(says: QLabel, words: str, role: str) -> None:
        says.setText(words)
        if says.property("role") != role and (style := says.style()) is not None:
            says.setProperty("role", role)
            style.polish(says)

    def _take(self, task_id: str, line: QLineEdit, says: QLabel) -> None:
        try:
            typed = read_log(self.desk.columns.texts(), task_id, line.text(), clock.now() // DAY)
            self._typed = ""
            self.desk.hours.log(task_id, self.person, typed)
        except HexapodError as error:
            self._typed = line.text()
            self._say(says, str(error), "trouble")

    # The clock

    def _clock_text(self) -> str:
        running, plan = self.desk.hours.running, self.desk.plan
        if running is None:
            return ""
        name = plan.tasks[running.task].name
        if is_forgotten(running, clock.now()):
            since = dates.moment(running.since)
            return (
                f"Your clock on “{name}” runs since {since}. How long did you work? Nothing is logged before you say."
            )
        return f"Your clock on “{name}”: {clock_words(clock.now() - running.since)}"

    def _fill_clock(self, task_id: str | None) -> None:
        work, line = self.desk.hours, QHBoxLayout()
        running = work.running
        if running is not None:
            self.box.addWidget(self._clock_says)
            if is_forgotten(running, clock.now()):
                self._ask_how_long()
            else:
                line.addWidget(self._button("Stop and log it", "clockStop", lambda: work.stop_clock()))
            line.addWidget(self._button("Stop, log nothing", "clockDrop", lambda: work.stop_clock(0)))
        elif task_id is not None and not self.desk.plan.is_summary(task_id):
            line.addWidget(self._button("Start the clock", "clockStart", lambda: work.start_clock(task_id)))
        line.addStretch(1)
        self.box.addLayout(line)

    def _ask_how_long(self) -> None:
        asked = QLineEdit()
        asked.setObjectName("clockAsked")
        asked.setAccessibleName("How long you worked on the day on which the clock was started")
        asked.setPlaceholderText("3h, 45m")
        asked.returnPressed.connect(lambda: self._tell_clock(asked))
        self.box.addWidget(asked)

    def _tell_clock(self, asked: QLineEdit) -> None:
        try:
            self.desk.hours.stop_clock(read_minutes(asked.text()))
        except HexapodError as error:
            self._clock_says.setText(str(error))

    def _button(self, words: str, name: str, run: Callable[[], object]) -> QPushButton:
        button = QPushButton(words)
        button.setObjectName(name)
        button.setEnabled(not self.desk.is_read_only)
        button.clicked.connect(lambda: run())
        return button

    # The logs

    def _fill_logs(self, task_id: str) -> None:
        plan = self.desk.plan
        logs = [log for row in plan.branch(task_id) for log in plan.logs_about(row)]
        if not logs:
            return
        self.box.addSpacing(6)
        self.box.addWidget(heading(f"Logs · {len(logs)}"))
        for log in sorted(logs, key=lambda x: (x.day, x.id), reverse=True)[:MOST_SHOWN]:
            self._fill_log(log, task_id)

    def _fill_log(self, log: Log, task_id: str) -> None:
        plan = self.desk.plan
        frame, box = card()
        line = QHBoxLayout()
        who = plan.resources[log.resource]
        said = f"{dates.short_day(log.day * DAY)} · {who.initials or who.name} · {hours_words(log.minutes)}"
        line.addWidget(label(said), 1)
        remove = icon_button("x", f"Take out {said}")
        remove.setObjectName(f"logRemove.{log.id}")
        remove.setEnabled(not self.desk.is_read_only)
        remove.clicked.connect(lambda: self.desk.hours.remove([log.id]))
        line.addWidget(remove)
        box.addLayout(line)
        more = [] if log.task == task_id else [plan.tasks[log.task].name]
        more += [log.note] if log.note else []
        if log.percent is not None:
            more.append(f"{log.percent:g} % done")
        if not plan.counts(log):
            more.append("Its sheet was sent back: it does not count")
        if more:
            box.addWidget(label(". ".join(more), "small", wrap=True))
        self.box.addWidget(frame)


def _words(hours: Hours) -> str:
    planned = f" of {hours_words(hours.planned)} planned" if hours.planned else ", none was planned"
    said = f"{hours_words(hours.logged)} logged{planned}, {standing_words(hours)}" if hours.planned else \
        f"{hours_words(hours.logged)} logged{planned}"  # fmt: skip
    if not hours.rest:
        return f"{said}. Nothing is left to do by the plan."
    return f"{said}. {hours_words(hours.rest)} are still to do by the plan: {hours_words(hours.forecast)} in all."
