"""What a task says of itself beside its dates: kind, calendar, limits, priority, own fields."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

from PyQt6.QtWidgets import QCheckBox, QComboBox, QHBoxLayout, QLineEdit, QPushButton, QVBoxLayout, QWidget

from hexapod.control.mine import is_milestone
from hexapod.desktop import dates
from hexapod.desktop.models.desk import Desk
from hexapod.desktop.parts import heading, label, narrow
from hexapod.errors import BadText, HexapodError
from hexapod.fields.hearing import also_told_text, reminders_text, set_also_told, set_reminders
from hexapod.fields.risk_text import chance_text
from hexapod.fields.typing import estimate_of, set_estimate
from hexapod.plan import edits
from hexapod.plan.edits import Edit
from hexapod.plan.estimates import Shape, points_of
from hexapod.plan.kept import TASKS
from hexapod.plan.priorities import WORDS
from hexapod.plan.records import Earns, Held, LimitKind, Task, TaskKind
from hexapod.schedule.effort import effort_of
from hexapod.schedule.words import limit_words
from hexapod.staffing.holding import keep, kept_words, set_effort
from hexapod.worktime.calendars import BUILT_IN, units_of
from hexapod.worktime.lengths import format_days, parse_length

KINDS = {
    TaskKind.TASK: "Task",
    TaskKind.MILESTONE: "Milestone",
    TaskKind.SPAN: "Span between its links",
}

SHAPES = {
    Shape.PERT: "Mostly near the likely one",
    Shape.TRIANGULAR: "Falling in straight lines",
    Shape.UNIFORM: "All alike",
}
EARNS = {
    Earns.PERCENT: "By its per cent",
    Earns.AT_END: "All of it when it is done",
    Earns.HALF: "Half when it begins, half when it is done",
    Earns.TIME: "As the time passes",
}
BRANCH_EARNS = {Earns.PERCENT: "As each task below says", Earns.MILESTONES: "By the milestones below, by weight"}


class TaskSettings(QWidget):
    """Each control makes one edit at once; what cannot be understood is said beneath it."""

    def __init__(self, desk: Desk, task: Task) -> None:
        super().__init__()
        self._desk, self._task = desk, task
        self._box = QVBoxLayout(self)
        self._box.setContentsMargins(0, 0, 0, 0)
        self._box.setSpacing(3)
        is_leaf = not desk.plan.is_summary(task.id)
        if is_leaf:
            self._choice("Kind", "taskKind", list(KINDS.items()), task.kind, self._set("kind"))
        self._calendar()
        self._text("Stream", "taskStream", task.stream, self._set_text("stream"), "Department, phase, trade")
        self._priority()
        if is_leaf:
            self._estimate()
            self._effort()
            self._check("As late as it can", "asLate", task.as_late_as_possible, "as_late_as_possible")
        self._check("Levelling leaves it where it is", "pinned", task.pinned, "pinned")
        if is_leaf:
            self._limits()
        self._text("Wanted by", "taskTarget", _said(task.target), self._set_target, "A target date; it moves nothing")
        ways = EARNS if is_leaf else BRANCH_EARNS
        self._choice("How it earns its budget", "taskEarns", list(ways.items()), task.earns, self._set("earns"))
        if is_leaf and is_milestone(task):
            self._text("Weight among its milestones", "taskWeight", f"{task.weight:g}", self._set_weight, "1")
        if is_leaf:
            self._heard_by()
        self._fields()
        self.setEnabled(not desk.is_read_only)

    # Parts

    def _caption(self, name: str, widget: QWidget) -> None:
        caption = label(name, "small")
        caption.setBuddy(widget)
        widget.setAccessibleName(name)
        self._box.addSpacing(3)
        self._box.addWidget(caption)
        self._box.addWidget(widget)

    def _choice(
        self, name: str, object_name: str, entries: list[tuple[Any, str]], chosen: Any, take: Callable[[Any], None]
    ) -> None:
        box = narrow(QComboBox())
        box.setObjectName(object_name)
        for value, words in entries:
            box.addItem(words, value)
        box.setCurrentIndex(max(0, box.findData(chosen)))
        box.activated.connect(lambda i: take(box.itemData(i)))
        self._caption(name, box)

    def _text(self, name: str, object_name: str, text: str, take: Callable[[str], Edit | None], hint: str = "") -> None:
        line = QLineEdit(text)
        line.setObjectName(object_name)
        line.setPlaceholderText(hint)
        says = label("", "trouble", wrap=True)
        says.hide()

        def done() -> None:
            if line.text().strip() == text:
                return
            try:
                edit = take(line.text().strip())
                if edit is not None:
                    self._desk.attempt(edit)
            except HexapodError as error:
                says.setText(str(error))
                says.show()

        line.editingFinished.connect(done)
        self._caption(name, line)
        self._box.addWidget(says)

    def _check(self, name: str, object_name: str, on: bool, field: str) -> None:
        box = QCheckBox(name)
        box.setObjectName(object_name)
        box.setChecked(on)
        box.clicked.connect(lambda now: self._set(field)(now))
        self._box.addSpacing(3)
        self._box.addWidget(box)

    def _calendar(self) -> None:
        plan = self._desk.plan
        own = plan.projects[self._task.project].calendar
        names = {c.id: c.name for c in [*BUILT_IN.values(), *plan.calendars.values()]}
        entries = [(None, f"As the project: {names[own]}"), *names.items()]
        self._choice("Calendar", "taskCalendar", entries, self._task.calendar, self._set("calendar"))

    def _effort(self) -> None:
        """How much work it is, and what stays when something of it changes."""
        plan, task = self._desk.plan, self._task
        by_people = sum(effort_of(plan, a) for a in plan.assignments_of(task.id))
        effort = round(by_people) or task.effort
        said = "" if effort is None else f"{effort / 60:.8g} h"
        self._text("Effort", "taskEffort", said, self._set_effort, "Hours of work in all: 80 h")
        entries = [(held, f"Its {held.value}") for held in Held]
        self._choice("What stays when another changes", "taskKeeps", entries, task.keeps, self._keep)
        self._box.addWidget(label(kept_words(task.keeps), "small", wrap=True))

    def _estimate(self) -> None:
        """How long it may take, what that counts as on average, and which risks may add to it."""
        plan, task = self._desk.plan, self._task
        texts = self._desk.columns.texts()
        self._text("How long it may take: best and worst", "taskEstimate", estimate_of(texts, task.id),
                   lambda text: set_estimate(self._desk.columns.texts(), [task.id], text),
                   "3-8 d, or with what is likely: 3 5 9 d")  # fmt: skip
        if task.estimate:
            self._choice("How likely each length is", "taskShape", list(SHAPES.items()), task.shape, self._set("shape"))
            points = points_of(task.estimate, task.minutes)
            mean = {Shape.PERT: points.mean_of_beta, Shape.UNIFORM: (points.best + points.worst) / 2}.get(
                task.shape, sum(points) / 3
            )
            said = f"It counts as {format_days(mean, units_of(plan, task.project))} on average."
            self._box.addWidget(label(said, "small", wrap=True))
        for risk in plan.risks.values():
            if risk.may_happen and task.id in risk.tasks:
                self._box.addWidget(label(f"Risk: {risk.name}, {chance_text(risk.chance_of(after=False))}", "small",
                                          wrap=True))  # fmt: skip

    def _set_effort(self, text: str) -> Edit:
        effort = parse_length(text, units_of(self._desk.plan, self._task.project)) if text else None
        return set_effort(self._desk.plan, self._task.id, effort)

    def _keep(self, held: Held) -> None:
        self._desk.do(keep(self._desk.plan, self._task.id, held))

    def _priority(self) -> None:
        choices = [(number, f"{number}, {words}") for number, words in WORDS.items()]
        self._choice("Priority in levelling", "taskPriority", choices, self._task.priority, self._set("priority"))

    def _limits(self) -> None:
        """A new limit: which, and the date."""
        line = QHBoxLayout()
        kinds = narrow(QComboBox())
        kinds.setObjectName("limitKind")
        kinds.setAccessibleName("Kind of limit")
        for kind in LimitKind:
            kinds.addItem(limit_words(kind).capitalize(), kind)
        at = QLineEdit()
        at.setObjectName("limitDate")
        at.setAccessibleName("Date of the limit")
        at.setPlaceholderText("fri, 15 sep")
        add = QPushButton("Set")
        add.setObjectName("limitSet")
        says = label("", "trouble", wrap=True)
        says.hide()

        def take() -> None:
            try:
                kind = kinds.currentData()
                moment = self._desk.read_date(
                    at.text(), ends=kind.value.startswith("finish") or kind is LimitKind.MUST_FINISH
                )
                self._desk.attempt(edits.set_limit(self._desk.plan, self._task.id, kind, moment))
            except HexapodError as error:
                says.setText(str(error))
                says.show()

        at.returnPressed.connect(take)
        add.clicked.connect(take)
        self._box.addWidget(heading("Add a limit"))
        self._box.addWidget(kinds)
        line.addWidget(at, 1)
        line.addWidget(add)
        self._box.addLayout(line)
        self._box.addWidget(says)

    def _heard_by(self) -> None:
        """Who else is told of it, and when they are reminded."""
        texts = self._desk.columns.texts()
        told, reminders = also_told_text(texts.plan, self._task), reminders_text(self._task)
        self._text("Who else is told", "taskAlsoTold", told,
                   lambda text: set_also_told(self._desk.columns.texts(), [self._task.id], text),
                   "Names or initials, parted by commas")  # fmt: skip
        self._text("Reminders before its finish", "taskReminders", reminders,
                   lambda text: set_reminders(self._desk.columns.texts(), [self._task.id], text),
                   "Days: 10 d, 2 d")  # fmt: skip

    def _fields(self) -> None:
        from hexapod.fields.own_text import held_text, parse_value

        plan = self._desk.plan
        shown = [f for f in plan.fields_of(TASKS) if not f.formula]
        if shown:
            self._box.addWidget(heading("Own fields"))
        for field in shown:
            text = held_text(plan, field, self._task)

            def take(typed: str, field: Any = field) -> Edit:
                value = parse_value(self._desk.plan, field, typed, dates.reader())
                return edits.set_fields(self._desk.plan, [self._task.id], {field.name: value})

            self._text(field.name, f"field.{field.name}", text, take, ", ".join(field.choices))

    # Edits

    def _set(self, field: str) -> Callable[[Any], None]:
        def take(value: Any) -> None:
            task = self._desk.plan.tasks.get(self._task.id)
            if task is not None and getattr(task, field) != value:
                self._desk.do(edits.set_task(self._desk.plan, task.id, f"Change “{task.name}”", **{field: value}))

        return take

    def _set_text(self, field: str) -> Callable[[str], Edit | None]:
        def take(text: str) -> Edit | None:
            return edits.set_task(self._desk.plan, self._task.id, f"Change “{self._task.name}”", **{field: text})

        return take

    def _set_weight(self, text: str) -> Edit | None:
        try:
            weight = float(text.replace(",", ".")) if text else 1.0
        except ValueError:
            raise BadText(f"“{text[:40]}” is no number.") from None
        return edits.set_task(self._desk.plan, self._task.id, f"Weigh “{self._task.name}”", weight=weight)

    def _set_target(self, text: str) -> Edit | None:
        at = self._desk.read_date(text, ends=True) if text else None
        words = f"Want “{self._task.name}” by {dates.short_day(at)}" if at else f"No target for “{self._task.name}”"
        return edits.set_task(self._desk.plan, self._task.id, words, target=at)


def _said(minutes: int | None) -> str:
    return "" if minutes is None else dates.typed(minutes)
