"""Projects: one row each on a scale of time, a sentence of counts above them, and counts of their tasks beneath."""

from __future__ import annotations

from functools import partial

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QHBoxLayout, QLabel, QMenu, QPushButton, QWidget

from hexapod.control.leaf_counts import THIRDS
from hexapod.control.mine import Reach
from hexapod.desktop import dates
from hexapod.desktop.action import Registry
from hexapod.desktop.frame.part import Part, offer
from hexapod.desktop.models.desk import Desk
from hexapod.desktop.models.portfolio import COUNTED, STATE_WORDS, Only
from hexapod.desktop.models.project_lanes import Tasks
from hexapod.desktop.parts import Sentence, card, choice_button, heading
from hexapod.desktop.telling.counts_picture import CountsPicture
from hexapod.desktop.telling.portfolio_menu import PortfolioMenu
from hexapod.desktop.telling.projects_table import ProjectsTable
from hexapod.desktop.theme.style import color, scaled
from hexapod.plan.edits.portfolio import archive_projects, hold_projects
from hexapod.plan.records import DAY
from hexapod.system.words import count_of
from hexapod.worktime import clock
from hexapod.worktime.lengths import USUAL, format_days

FOOT, LEAST_HEIGHT, MOST_DUE = 128, 520, 4
SHORT_THIRDS = {"not_begun": "not begun", "first": "1st third", "second": "2nd", "last": "last", "done": "done"}
TASKS = {Tasks.NONE: "projects only", Tasks.ALL: "with all tasks", Tasks.OPEN: "with open tasks"}
TONES = {Only.LATE: "brick", Only.IN_DOUBT: "amber", Only.OVERDUE: "brick"}


class ProjectsView(Part):
    def __init__(self, desk: Desk, registry: Registry) -> None:
        super().__init__(desk, registry, "portfolio")
        self.work = desk.portfolio
        self.table = ProjectsTable(desk, self.work)
        self.main_part = self.table
        self.work.bar_asked.connect(self.bar_asked)
        self.table.task_opened.connect(self.bar_asked)
        self.table.menu_asked.connect(lambda place: self.menu_of(self.work.chosen).popup(place))
        self.table.opened.connect(registry.qt("projects.open").trigger)
        self._make_tools(registry)
        self.counts = QLabel()
        self.counts.setObjectName("portfolioCounts")
        self.counts.setWordWrap(True)
        self.counts.setTextFormat(Qt.TextFormat.RichText)  # counts and our own words only, no name of a person's
        flags = Qt.TextInteractionFlag.LinksAccessibleByMouse | Qt.TextInteractionFlag.LinksAccessibleByKeyboard
        self.counts.setTextInteractionFlags(flags)
        self.counts.linkActivated.connect(lambda part: self.work.narrow(only=Only(part)))
        box = self.column()
        box.addWidget(self.counts)
        box.addWidget(self.table, 1)
        box.addWidget(self._make_foot())
        self.follow(self.work.changed)

    def _make_tools(self, registry: Registry) -> None:
        work = self.work
        what = "Only projects that hold a text, or a task of which it is true"
        self._find = self.finder("portfolioFind", what, "Name, question", self._look_for)
        self.lead(self._find)
        self._attention = choice_button("Needs attention", lambda: work.narrow(only=Only.ATTENTION))
        self._attention.setObjectName("portfolioAttention")
        self.lead(self._attention)
        self.views = QPushButton()
        self.views.setObjectName("portfolioViews")
        self.views.setProperty("role", "choice")
        self.views.setMenu(PortfolioMenu(self.views, self._desk, registry, work))
        self.lead(self.views)
        self._tasks = self.choice("portfolioTasks", "With which tasks", 130, lambda key: work.lanes.show(Tasks(key)))
        self._sort = self.choice("portfolioSort", "In which order", 130, lambda key: work.narrow(sort_by=key))
        self._group = self.choice("portfolioGroup", "Grouped by what", 130, lambda key: work.narrow(group_by=key))

    def _look_for(self, text: str) -> None:
        if text != self.work.text:
            self.work.narrow(text=text)

    def menu_of(self, project: str) -> QMenu:
        """What can be done with a project; what changes it is shown before it is done."""
        menu, work, lanes = QMenu(self), self.work, self.work.lanes
        menu.setAttribute(Qt.WidgetAttribute.WA_DeleteOnClose)
        for action in ("projects.open", "projects.why"):
            menu.addAction(self._registry.qt(action))
        menu.addSeparator()
        for words, is_on, turn in (
            ("Its tasks below it", lanes.is_open(project), lambda: lanes.turn(project)),
            ("Marked, to be changed with others", project in work.marked, lambda: work.mark(project)),
        ):
            made = menu.addAction(words)
            assert made is not None
            made.setCheckable(True)
            made.setChecked(is_on)
            made.triggered.connect(lambda _, turn=turn: turn())
        if self._desk.is_read_only:
            return menu
        menu.addSeparator()
        held = work.project(project).on_hold
        for words, make in (
            ("Go on with it…" if held else "Put on hold…", lambda plan: hold_projects(plan, [project], not held)),
            ("Archive…", lambda plan: archive_projects(plan, [project])),
        ):
            made = menu.addAction(words)
            assert made is not None
            made.triggered.connect(lambda _, make=make: self._desk.staging.show(make(self._desk.plan)))
        return menu

    def _make_foot(self) -> QWidget:
        self._foot, line = QWidget(), QHBoxLayout()
        line.setContentsMargins(0, 6, 0, 0)
        line.setSpacing(12)
        self.how_far = CountsPicture("portfolioHowFar", "Tasks by how far they are")
        self.sizes = CountsPicture("portfolioSizes", "Tasks by priority")
        due, self._due = card()
        due.setAccessibleName("Due next")
        line.addWidget(self.how_far, 4)
        line.addWidget(self.sizes, 5)
        line.addWidget(due, 5)
        self._foot.setLayout(line)
        self._foot.setFixedHeight(scaled(FOOT))
        self._due_lines: list[QLabel] = []
        self._due.addWidget(heading("Due next"))
        for _ in range(MOST_DUE + 1):
            made = Sentence()
            made.setProperty("role", "small")
            self._due_lines.append(made)
            self._due.addWidget(made)
        self._due.addStretch(1)
        return self._foot

    @property
    def sentence(self) -> str:
        return self._plain_sentence()

    def refresh(self) -> None:
        work = self.work
        work.look()
        offer(self._group, work.ways_to_group(), work.group_by)
        offer(self._sort, work.ways_to_sort(), work.sort_by)
        if self._find.text() != work.text:
            self._find.setText(work.text)
        self.views.setText(work.name or "View")
        self.views.setAccessibleName(f"View: {work.name or 'of your own'}")
        offer(self._tasks, list(TASKS.items()), work.lanes.shown)
        self._attention.setChecked(work.only is Only.ATTENTION)
        self.counts.setText(self._rich_sentence())
        self.table.refresh()
        self._foot.setVisible(self.height() >= scaled(LEAST_HEIGHT))
        summary = work.summary
        if summary is None:
            return
        self.how_far.show_counts([(SHORT_THIRDS[third], summary.done.get(third, 0)) for third in THIRDS])
        self.sizes.offer(list(COUNTED.items()), work.counted, work.count_by)
        self.sizes.show_counts(work.task_counts())
        self._show_due()

    def _show_due(self) -> None:
        """The next milestones of all projects, and how many are overdue."""
        plan, now = self._desk.plan, clock.now()
        marks = [m for row in self.work.rows() for m in row.marks]
        coming = sorted((m.at, m.task) for m in marks if m.reach is Reach.COMING and m.at >= now)
        said = [f"{dates.last_day(at)} · {plan.tasks[task].name} · {plan.projects[plan.tasks[task].project].name}"
                for at, task in coming[:MOST_DUE] if task in plan.tasks]  # fmt: skip
        overdue = [m.at for m in marks if m.reach is Reach.OVERDUE]
        if overdue:
            ago = max(0, now - min(overdue)) // DAY
            said.append(f"{count_of(len(overdue), 'milestone')} overdue, the oldest by {count_of(ago, 'day')}")
        if not said:
            said.append("No milestone is to come.")
        for i, line in enumerate(self._due_lines):
            line.setText(said[i] if i < len(said) else "")
            line.setProperty("role", "trouble" if overdue and i == len(said) - 1 else "small")
            line.style().polish(line)  # type: ignore[union-attr]

    # The sentence

    def _parts(self) -> list[tuple[Only, str]]:
        counts = self.work.counts()
        states = [(only, f"{counts[only]} {words}") for only, words in
                  ((Only(state), words) for state, words in STATE_WORDS.items()) if counts[only]]  # fmt: skip
        reached, overdue = counts[Only.REACHED], counts[Only.OVERDUE]
        if reached:
            states.append((Only.REACHED, f"{count_of(reached, 'milestone')} reached this month"))
        if overdue:
            states.append((Only.OVERDUE, f"{count_of(overdue, 'milestone')} overdue"))
        return states

    def _plain_sentence(self) -> str:
        rows = self.work.rows()
        if self.work.summary is None:
            return self.work.trouble or "The projects are being summed up…"
        if not rows:
            return "No projects yet."
        return f"{count_of(len(rows), 'project')}: {', '.join(words for _, words in self._parts())}."

    def _rich_sentence(self) -> str:
        if not self.work.rows():
            return self._plain_sentence()
        link = partial("<a href='{}' style='color:{};{}'>{}</a>".format)
        shown = [
            link(only.value, color(TONES.get(only, "ink")).name(),
                 "font-weight:600;" if only in TONES or only is self.work.only else "", words)
            for only, words in self._parts()
        ]  # fmt: skip
        summary = self.work.summary
        average = summary.average if summary is not None else None
        long = "" if average is None else f" A task is {format_days(round(average), USUAL)} long on average."
        back = (
            " " + link(Only.ALL.value, color("petrol").name(), "", "Show all") if self.work.only is not Only.ALL else ""
        )
        return f"<b>{count_of(len(self.work.rows()), 'project')}:</b> {', '.join(shown)}.{long}{back}"
