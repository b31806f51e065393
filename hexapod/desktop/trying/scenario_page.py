"""At the side of the scenarios: the one that is looked at, where it stands, and what can be changed in it quickly."""

from __future__ import annotations

from collections.abc import Callable

from msgspec.structs import replace
from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QComboBox, QHBoxLayout, QLineEdit, QPushButton

from hexapod.desktop.action import Registry
from hexapod.desktop.frame.page import Page
from hexapod.desktop.models.desk import Desk
from hexapod.desktop.models.scenarios import THE_PLAN, ScenariosWork
from hexapod.desktop.parts import ActionButton, card, heading, label, narrow
from hexapod.desktop.theme.style import icon
from hexapod.desktop.trying.quick import QUICK, Asks, Field, Ground, Quick, choices_of
from hexapod.errors import HexapodError
from hexapod.fields.differing import choice_words, question_words
from hexapod.outlook.merge import Question, Side
from hexapod.plan.scenarios import Scenario
from hexapod.system.words import count_of

MOST_QUESTIONS = 12


class ScenarioPage(Page):
    """``naming`` is what a new scenario is made from, while its name is asked for; ``quick`` the quick change that is
    open."""

    def __init__(self, desk: Desk, registry: Registry) -> None:
        super().__init__(desk, "Scenario")
        self.work: ScenariosWork = desk.scenarios
        self._registry = registry
        self.naming: str | None = None
        self.quick = ""
        self._said: dict[str, dict[str, str]] = {}  # what was typed into a quick change and not carried out yet
        self._refused: tuple[str, str] = ("", "")  # where, and why
        for signal in (desk.changed, desk.home_changed, desk.past_changed, self.work.changed):
            signal.connect(self.refresh)

    def fill(self) -> None:
        scenario = self.work.scenario
        if self.naming is not None:
            self._fill_new()
        elif scenario is None:
            self._fill_plan()
        else:
            self._fill_scenario(scenario)

    # The plan, and a new scenario

    def _fill_plan(self) -> None:
        self.box.addWidget(label("As it is", "title"))
        words = "The plan of today. A scenario is made from it, changed as you like, and taken over or dropped."
        self.box.addWidget(label(words, "small", wrap=True))
        self.box.addSpacing(6)
        self.box.addWidget(ActionButton(self._registry, "scenario.new", primary=True, text="New from today's plan"))
        if self.desk.scenario is not None:
            self.box.addWidget(ActionButton(self._registry, "scenario.leave"))

    def _fill_new(self) -> None:
        source = self.desk.home.plan.scenarios.get(self.naming or "")
        self.box.addWidget(label("A new scenario", "title"))
        of = "of the plan as it is today" if source is None else f"that begins as “{source.name}” is"
        self.box.addWidget(label(f"Made {of}. Nothing in it touches the plan.", "small", wrap=True))
        self._name = self._line("scenarioName", "Name", "", "Two registrars")
        self._note = self._line("scenarioNote", "What for", "", "Hire for March")
        self._name.returnPressed.connect(self._make)
        self._note.returnPressed.connect(self._make)
        self._say_refusal("new")
        self._buttons(("Make it", "scenarioMake", self._make, True), ("Cancel", "scenarioCancel", self._cancel, False))

    def _make(self) -> None:
        source, name, note = self.naming or THE_PLAN, self._name.text().strip(), self._note.text().strip()
        if self._attempt("new", lambda: self.work.make(name, note, source)):
            self.naming = None
            self.refresh_now()

    def _cancel(self) -> None:
        self.naming, self._refused = None, ("", "")
        self.refresh_now()

    def ask_name(self, source: str) -> None:
        """Ask what a new scenario is called."""
        self.naming, self._refused = source, ("", "")
        self.refresh_now()
        self.focus_part("scenarioName")

    # A scenario

    def _fill_scenario(self, scenario: Scenario) -> None:
        is_open = self.desk.scenario is not None and self.desk.scenario.scenario == scenario.id
        title = self._line("scenarioTitle", "Name of the scenario", scenario.name, "")
        title.setProperty("role", "title")
        title.editingFinished.connect(lambda: self._rename(scenario, name=title.text().strip()))
        note = self._line("scenarioNote", "What it is for", scenario.note, "What it is for")
        note.editingFinished.connect(lambda: self._rename(scenario, note=note.text().strip()))
        self.box.addWidget(label("Nothing in it touches the plan until you take it over.", "small", wrap=True))
        self._say_refusal("name")
        self.box.addSpacing(4)
        line = QHBoxLayout()
        line.setSpacing(6)
        if is_open:
            line.addWidget(ActionButton(self._registry, "scenario.leave", primary=True, text="Back to the plan"))
        else:
            line.addWidget(ActionButton(self._registry, "scenario.enter", primary=True, text="Work in it"))
        line.addWidget(ActionButton(self._registry, "scenario.take", text="Take it over…"))
        line.addStretch(1)
        self.box.addLayout(line)
        line = QHBoxLayout()
        line.setSpacing(6)
        line.addWidget(ActionButton(self._registry, "scenario.copy", text="Copy"))
        line.addWidget(ActionButton(self._registry, "scenario.drop", text="Drop"))
        line.addStretch(1)
        self.box.addLayout(line)
        trouble = self.work.trouble.get(scenario.id)
        if trouble:
            self.box.addWidget(label(trouble, "trouble", wrap=True))
            return
        self._say_refusal("take")
        self._fill_standing(scenario)
        self._fill_quick(scenario)

    def _rename(self, scenario: Scenario, **fields: str) -> None:
        changed = replace(scenario, **fields)
        if changed != scenario:
            self._attempt("name", lambda: self.work.save(changed))

    def _fill_standing(self, scenario: Scenario) -> None:
        """Where it stands to the plan of today, and what both have changed."""
        column = next((c for c in self.work.columns() if c.id == scenario.id), None)
        if column is None or not column.behind or scenario.taken_over is not None:
            return
        frame, box = card()
        frame.setObjectName("standing")
        box.setSpacing(4)
        box.addWidget(heading("Against the plan of today"))
        try:
            merged = self.work.merged(scenario.id)
        except HexapodError as error:
            box.addWidget(label(str(error), "trouble", wrap=True))
            self.box.addWidget(frame)
            return
        asked = merged.questions
        moved = f"The plan moved on by {count_of(column.behind, 'edit')} since."
        fits = "All of it fits in." if not asked else f"{count_of(len(asked), 'change')} must be asked:"
        box.addWidget(label(f"{moved} {fits}", "small", wrap=True))
        answers = self.work.answers.get(scenario.id, {})
        for i, question in enumerate(asked[:MOST_QUESTIONS]):
            box.addWidget(label(question_words(merged.plan, question, self.desk.columns.dates), "trouble", wrap=True))
            who = self._who(scenario.id, question)
            if who:
                box.addWidget(label(who, "small", wrap=True))
            box.addLayout(self._answers(scenario.id, i, question, answers.get(question.place)))
        if len(asked) > MOST_QUESTIONS:
            box.addWidget(label(f"… and {len(asked) - MOST_QUESTIONS} more, once these are answered", "small"))
        for out in merged.left_out[:MOST_QUESTIONS]:
            box.addWidget(label(f"Left out: “{out.name}”. {out.sentence}", "trouble", wrap=True))
        button = QPushButton("Bring it to the plan of today")
        button.setObjectName("bringUp")
        button.setEnabled(all(q.place in answers for q in asked) and not self.desk.home.workspace.read_only)
        button.clicked.connect(lambda: self._attempt("up", lambda: self.work.bring_up(scenario.id)))
        box.addWidget(button)
        self.box.addSpacing(6)
        self.box.addWidget(frame)
        self._say_refusal("up")

    def _who(self, scenario: str, question: Question) -> str:
        """Who changed it, on both sides."""
        there, here = self.work.authors(scenario, question.place)
        return f"There by {there}, here by {here}." if there and here else ""

    def _answers(self, scenario: str, i: int, question: Question, answer: Side | None) -> QHBoxLayout:
        line = QHBoxLayout()
        line.setSpacing(4)
        for side, value in ((Side.PLAN, question.in_plan), (Side.SCENARIO, question.in_scenario)):
            words = choice_words(self.desk.home.plan, question, value, self.desk.columns.dates)
            button = QPushButton(words)
            button.setObjectName(f"answer.{i}.{side.value}")
            button.setProperty("role", "choice")
            button.setCheckable(True)
            button.setChecked(answer is side)
            button.clicked.connect(lambda _, s=side: self.work.answer(scenario, question.place, s))
            line.addWidget(button)
        line.addStretch(1)
        return line

    # Quick changes

    def _fill_quick(self, scenario: Scenario) -> None:
        if scenario.taken_over is not None:
            self.box.addWidget(label("It was taken over, and is kept as it was then.", "small", wrap=True))
        self.box.addSpacing(8)
        self.box.addWidget(heading("Change something"))
        for quick in QUICK:
            button = QPushButton(quick.words)
            button.setObjectName(f"quick.{quick.name}")
            button.setProperty("role", "row")
            button.setIcon(icon("minus" if quick.name == self.quick else "plus", "muted", 14))
            button.setCheckable(True)
            button.setChecked(quick.name == self.quick)
            button.setCursor(Qt.CursorShape.PointingHandCursor)
            button.clicked.connect(lambda _, q=quick: self._open(q))
            self.box.addWidget(button)
            if quick.name == self.quick:
                self._fill_fields(scenario, quick)
        words = "Or any edit: once you work in it, Build, Link and Staff are about this scenario."
        self.box.addSpacing(4)
        self.box.addWidget(label(words, "small", wrap=True))

    def _open(self, quick: Quick) -> None:
        self.quick = "" if self.quick == quick.name else quick.name
        self._refused = ("", "")
        self.refresh_now()
        if self.quick:
            self.focus_part(f"quick.{quick.name}.{quick.fields[0].name}")

    def _fill_fields(self, scenario: Scenario, quick: Quick) -> None:
        frame, box = card()
        said = self._said.setdefault(quick.name, {})
        plan = self.work.opened(scenario.id).plan
        for field in quick.fields:
            line = QHBoxLayout()
            line.setSpacing(6)
            caption = label(field.name, "small")
            caption.setFixedWidth(84)
            widget = self._field(quick, field, said, choices_of(plan, field.asks))
            caption.setBuddy(widget)
            line.addWidget(caption)
            line.addWidget(widget, 1)
            box.addLayout(line)
        do = QPushButton("Do it in this scenario")
        do.setObjectName("quickDo")
        do.setProperty("role", "primary")
        do.clicked.connect(lambda: self._do(scenario, quick))
        box.addSpacing(4)
        box.addWidget(do)
        if self._refused[0] == quick.name:
            reason = label(self._refused[1], "trouble", wrap=True)
            reason.setObjectName("quickReason")
            box.addWidget(reason)
        self.box.addWidget(frame)

    def _field(
        self, quick: Quick, field: Field, said: dict[str, str], choices: list[tuple[str, str]]
    ) -> QComboBox | QLineEdit:
        name = f"quick.{quick.name}.{field.name}"
        if field.asks is Asks.TEXT:
            line = QLineEdit(said.get(field.name, ""))
            line.setObjectName(name)
            line.setAccessibleName(field.name)
            line.setPlaceholderText(field.hint)
            line.textChanged.connect(lambda text: said.__setitem__(field.name, text))
            line.returnPressed.connect(lambda: self._do(self.work.scenario, quick))
            return line
        box = narrow(QComboBox())
        box.setObjectName(name)
        box.setAccessibleName(field.name)
        for key, words in choices:
            box.addItem(words, key)
        wanted = said.get(field.name) or (self.desk.project if field.asks is Asks.PROJECT else "")
        box.setCurrentIndex(max(0, box.findData(wanted)))
        said[field.name] = box.currentData() or ""
        box.activated.connect(lambda i: said.__setitem__(field.name, box.itemData(i)))
        return box

    def _do(self, scenario: Scenario | None, quick: Quick) -> None:
        """Carry out a quick change in the scenario, whether it is open or only looked at."""
        if scenario is None:
            return
        said = self._said.get(quick.name, {})

        def run() -> None:
            session = self.work.opened(scenario.id)
            dates = session.compute()
            edit = quick.make(Ground(dates, self.desk.project, said))
            self.work.carry_out(scenario.id, edit)

        if self._attempt(quick.name, run):
            self._said.pop(quick.name, None)
            self.quick = ""
            self.refresh_now()

    # Parts

    def _attempt(self, where: str, run: Callable[[], object]) -> bool:
        """Whether it could be done; a refusal is said where it belongs, and what was typed stays."""
        try:
            run()
        except HexapodError as error:
            self._refused = (where, str(error))
            self.refresh_now()
            return False
        self._refused = ("", "")
        return True

    def refuse(self, where: str, error: HexapodError) -> None:
        """Say why something could not be done."""
        self._refused = (where, str(error))
        self.refresh_now()

    def _say_refusal(self, where: str) -> None:
        if self._refused[0] == where:
            reason = label(self._refused[1], "trouble", wrap=True)
            reason.setObjectName("scenarioReason")
            self.box.addWidget(reason)

    def _line(self, name: str, accessible: str, text: str, hint: str) -> QLineEdit:
        made = QLineEdit(text)
        made.setObjectName(name)
        made.setAccessibleName(accessible)
        made.setPlaceholderText(hint)
        made.setCursorPosition(0)
        made.setEnabled(not self.desk.home.workspace.read_only)
        self.box.addWidget(made)
        return made

    def _buttons(self, *entries: tuple[str, str, Callable[[], None], bool]) -> None:
        line = QHBoxLayout()
        for words, name, run, primary in entries:
            button = QPushButton(words)
            button.setObjectName(name)
            if primary:
                button.setProperty("role", "primary")
            button.clicked.connect(lambda _, r=run: r())
            line.addWidget(button)
        line.addStretch(1)
        self.box.addLayout(line)
