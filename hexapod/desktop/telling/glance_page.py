"""At the side of the projects: how the one that is looked at stands, because of what, and what comes next in it."""

from __future__ import annotations

from collections.abc import Callable

from PyQt6.QtWidgets import QHBoxLayout, QLineEdit, QPushButton

from hexapod.control.mine import Reach
from hexapod.control.status import ProjectState
from hexapod.control.summary import ProjectRow
from hexapod.desktop import dates
from hexapod.desktop.action import Registry
from hexapod.desktop.currency import currency
from hexapod.desktop.frame.page import Page
from hexapod.desktop.models.desk import Desk
from hexapod.desktop.models.portfolio import STATE_WORDS, PortfolioWork
from hexapod.desktop.parts import ActionButton, LineButton, card, heading, label, leader_choice
from hexapod.errors import HexapodError
from hexapod.fields.own_text import held_text, parse_value
from hexapod.plan.edits import Edit, portfolio, set_project_fields
from hexapod.plan.kept import PROJECTS
from hexapod.plan.priorities import read_priority
from hexapod.plan.records import Field, Project
from hexapod.system.words import count_of
from hexapod.worktime import clock
from hexapod.worktime.calendars import units_of
from hexapod.worktime.lengths import format_days, parse_length

HOW_TO_MARK = "Space marks several, to change them together."
MOST_FIELDS = 20  # that can be filled in for several projects together
MOST_NAMES, MOST_MARKS, SIGNS = 6, 4, {ProjectState.LATE: "trouble", ProjectState.IN_DOUBT: "attention"}


class GlancePage(Page):
    def __init__(self, desk: Desk, registry: Registry) -> None:
        super().__init__(desk, "Project at a glance")
        self.work: PortfolioWork = desk.portfolio
        self._registry = registry
        self._said: dict[str, str] = {}  # what was typed and not carried out yet
        self._said_of = ""  # of which project; nothing where it is of several
        for signal in (desk.changed, desk.computed, desk.past_changed, self.work.changed):
            signal.connect(self.refresh)

    def fill(self) -> None:
        of = "" if self.work.marked else self.work.chosen
        if of != self._said_of:
            self._said_of = of
            self._said.clear()
        if self.work.marked:
            self._fill_marked(self.work.marked)
            return
        row, project = self.work.row(self.work.chosen), self.desk.plan.projects.get(self.work.chosen)
        if row is None or project is None:
            self.box.addWidget(label("Projects", "title"))
            self.box.addWidget(label("Choose one in the list: how it stands, and because of what, is said here.",
                                     "small", wrap=True))  # fmt: skip
            self.box.addWidget(label(HOW_TO_MARK, "small", wrap=True))
            return
        self.box.addWidget(label(project.name, "title", wrap=True))
        led = self.work.leader(project)
        whose = [part for part in (project.department, f"led by {led}" if led else "") if part]
        self.box.addWidget(label(" · ".join(whose) or "Nobody was said to lead it.", "small", wrap=True))
        self.box.addSpacing(4)
        frame, inside = card()
        inside.addWidget(label(self._state_words(row), SIGNS.get(row.status.state, "value"), wrap=True))
        inside.addWidget(label(row.status.because, "small", wrap=True))
        self.box.addWidget(frame)
        self._fill_word(project)
        self._fill_buttons(project)
        self._fill_figures(row, project)
        self._fill_own(project)
        self._fill_marks(row)
        self._fill_others(row)

    def _state_words(self, row: ProjectRow) -> str:
        words = STATE_WORDS[row.status.state].capitalize()
        late = row.status.late
        return f"{words}, {late} task{'' if late == 1 else 's'} late" if late else words

    def _fill_word(self, project: Project) -> None:
        """What somebody thinks of it, beside the state that follows from the plan."""
        if project.word and project.word_at is not None:
            said = f"“{project.word}” {project.word_by}, {dates.short_day(project.word_at)}"
            self.box.addWidget(label(said, wrap=True))
        field = self.input_line(self._said.get("word", ""), "glanceWord", "Your judgement of the project", "In a word…")
        field.textEdited.connect(lambda text: self._said.update(word=text))
        field.returnPressed.connect(lambda: self._judge(project, field.text()))
        self.box.addWidget(field)
        self.box.addSpacing(4)

    def _judge(self, project: Project, word: str) -> None:
        desk = self.desk
        if desk.do(portfolio.judge_project(desk.plan, project.id, word, desk.session.who, clock.now())):
            self._said.clear()

    def _fill_buttons(self, project: Project) -> None:
        line = QHBoxLayout()
        line.addWidget(ActionButton(self._registry, "projects.open", primary=True, text="Open"))
        line.addWidget(ActionButton(self._registry, "projects.why", text="Why then"))
        held, words = project.on_hold, "Go on with it…" if project.on_hold else "Put on hold…"
        line.addWidget(self._button(words, "glanceHold", lambda: portfolio.hold_projects(
            self.desk.plan, [project.id], not held)))  # fmt: skip
        line.addStretch(1)
        self.box.addLayout(line)

    # Several together

    def _fill_marked(self, marked: list[str]) -> None:
        plan = self.desk.plan
        self.box.addWidget(label(f"{count_of(len(marked), 'project')} together", "title", wrap=True))
        names = [plan.projects[p].name for p in marked]
        more = f" and {len(names) - MOST_NAMES} more" if len(names) > MOST_NAMES else ""
        self.box.addWidget(label(f"{', '.join(names[:MOST_NAMES])}{more}", "small", wrap=True))
        self.box.addWidget(label("What a change would do is shown before it is done.", "small", wrap=True))
        line = QHBoxLayout()
        for words, name, make in (
            ("On hold…", "togetherHold", lambda: portfolio.hold_projects(self.desk.plan, marked)),
            ("Go on…", "togetherGoOn", lambda: portfolio.hold_projects(self.desk.plan, marked, False)),
            ("Archive…", "togetherArchive", lambda: portfolio.archive_projects(self.desk.plan, marked)),
        ):
            line.addWidget(self._button(words, name, make))
        line.addStretch(1)
        self.box.addLayout(line)
        self._typed("Delay them by", "togetherDelay", "2 w", self._delay)
        self._typed("Wanted by", "togetherTarget", "18 dec", self._want)
        self._typed("Priority", "togetherPriority", "1 to 9", self._prioritise)
        self._typed("Department", "togetherDepartment", "Exhibitions", self._place)
        for field in plan.fields_of(PROJECTS)[:MOST_FIELDS]:
            hint = ", ".join(field.choices)
            self._typed(field.name, f"togetherField.{field.name}", hint,
                        lambda text, f=field: self._own_edit(f, self.work.marked, text))  # fmt: skip
        self._fill_leaders(marked)
        self.box.addSpacing(6)
        done = QPushButton("No marks any more")
        done.setObjectName("togetherUnmark")
        done.clicked.connect(self.work.unmark)
        self.box.addWidget(done)

    def _delay(self, text: str) -> Edit:
        plan = self.desk.plan
        return portfolio.delay_projects(plan, {p: parse_length(text, units_of(plan, p)) for p in self.work.marked})

    def _want(self, text: str) -> Edit:
        at = dates.read(text, ends=True) if text else None
        return portfolio.want_projects(self.desk.plan, self.work.marked, at)

    def _prioritise(self, text: str) -> Edit:
        return portfolio.prioritise_projects(self.desk.plan, self.work.marked, read_priority(text))

    def _place(self, text: str) -> Edit:
        return portfolio.place_projects(self.desk.plan, self.work.marked, text)

    def _fill_leaders(self, marked: list[str]) -> None:
        leader = leader_choice("togetherLeader", self.desk.plan, None)
        self.box.addWidget(label("Led by", "muted"))
        line = QHBoxLayout()
        line.addWidget(leader, 1)
        line.addWidget(self._button("Show…", "togetherLead", lambda: portfolio.lead_projects(
            self.desk.plan, marked, leader.currentData())))  # fmt: skip
        self.box.addLayout(line)

    def _typed(self, words: str, name: str, hint: str, make: Callable[[str], Edit]) -> None:
        """A line of one field: what is typed there makes an edit."""
        self.box.addWidget(label(words, "muted"))
        field, line = self.input_line(self._said.get(name, ""), name, words, hint), QHBoxLayout()
        field.textEdited.connect(lambda text: self._said.update({name: text}))
        line.addWidget(field, 1)
        button = self._button("Show…", f"{name}Show", lambda: make(field.text().strip()))
        field.returnPressed.connect(button.click)
        line.addWidget(button)
        self.box.addLayout(line)

    def _button(self, words: str, name: str, make: Callable[[], Edit]) -> QPushButton:
        """It shows what an edit would do."""
        button = QPushButton(words)
        button.setObjectName(name)
        button.setEnabled(not self.desk.is_read_only)

        def press() -> None:
            try:
                self.desk.staging.show(make())
            except HexapodError as error:
                self.desk.told.emit(str(error), "trouble", False)

        button.clicked.connect(press)
        return button

    def _fill_figures(self, row: ProjectRow, project: Project) -> None:
        units, money = units_of(self.desk.plan, project.id), currency()
        before = self.work.week_ago(project.id)
        self.box.addWidget(heading("How it stands"))
        if row.finish is not None:
            finish = dates.last_day(row.finish)
            moved = before is not None and before != row.finish
            self._line("Finish", finish, f"a week ago {dates.last_day(before)}" if moved and before else "")
        if project.target_finish is not None:
            self._line("Wanted by", dates.last_day(project.target_finish))
        self._line("Done", f"{round(row.status.percent)} %")
        if row.average is not None:
            self._line("A task takes", format_days(round(row.average), units), "on average")
        if row.cost or row.budget is not None:
            of = "" if row.budget is None else f"of {money.short(row.budget)}"
            self._line("Will have cost", money.short(row.cost), of)
        if row.hours or row.hours_budget is not None:
            of = "" if row.hours_budget is None else f"of {round(row.hours_budget / 60):,} h"
            self._line("Will have taken", f"{round(row.hours / 60):,} h", of)
        self._line("Overloads it is in", str(row.overloads))

    def _line(self, words: str, figure: str, beside: str = "") -> None:
        line = QHBoxLayout()
        line.addWidget(label(words, "muted"))
        line.addStretch(1)
        if beside:
            line.addWidget(label(beside, "small"))
        line.addWidget(label(figure, "value"))
        self.box.addLayout(line)

    def _fill_own(self, project: Project) -> None:
        """Own fields of projects, to be filled in where they are read."""
        plan = self.desk.plan
        fields = plan.fields_of(PROJECTS)
        if fields:
            self.box.addWidget(heading("Own fields"))
        for field in fields:
            self.box.addWidget(label(field.name, "muted"))
            text = held_text(plan, field, project)
            name = f"glanceField.{field.name}"
            line = self.input_line(self._said.get(name, text), name, field.name, ", ".join(field.choices))
            line.textEdited.connect(lambda typed, name=name: self._said.update({name: typed}))
            line.editingFinished.connect(lambda line=line, f=field, was=text: self._set_own(f, project.id, line, was))
            self.box.addWidget(line)

    def _set_own(self, field: Field, project: str, line: QLineEdit, was: str) -> None:
        self._said.pop(line.objectName(), None)
        if line.text().strip() == was or self.desk.is_read_only:
            return
        try:
            self.desk.do(self._own_edit(field, [project], line.text()))
        except HexapodError as error:
            line.setText(was)
            self.desk.told.emit(str(error), "trouble", False)

    def _own_edit(self, field: Field, projects: list[str], text: str) -> Edit:
        value = parse_value(self.desk.plan, field, text, dates.reader())
        return set_project_fields(self.desk.plan, projects, {field.name: value})

    def _fill_marks(self, row: ProjectRow) -> None:
        plan = self.desk.plan
        coming = [mark for mark in row.marks if mark.reach is not Reach.REACHED and mark.task in plan.tasks]
        if not coming:
            return
        self.box.addWidget(heading("Next milestones"))
        for mark in coming[:MOST_MARKS]:
            overdue = " · overdue" if mark.reach is Reach.OVERDUE else ""
            button = LineButton(f"{dates.last_day(mark.at)} · {plan.tasks[mark.task].name}{overdue}")
            button.clicked.connect(lambda _, task=mark.task: self.work.bar_asked.emit(task))
            self.box.addWidget(button)

    def _fill_others(self, row: ProjectRow) -> None:
        """The projects that it is linked with; a press leads to one."""
        others = [p for p in row.leads_to if p not in row.holds_up]
        for words, projects in (
            ("Holds up critical work of", row.holds_up), ("Leads to", others),
            ("Waits for", self.work.comes_from(row.project)),
        ):  # fmt: skip
            there = [p for p in projects if p in self.desk.plan.projects]
            if there:
                self.box.addWidget(heading(words))
            for project in there:
                button = LineButton(self.desk.plan.projects[project].name)
                button.clicked.connect(lambda _, p=project: self.work.go_to(p))
                self.box.addWidget(button)
