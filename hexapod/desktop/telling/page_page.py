"""At the side of the page: what people outside may see, its title, sending it; and calendar files that follow."""

from __future__ import annotations

from PyQt6.QtWidgets import QCheckBox, QFileDialog, QHBoxLayout, QLineEdit

from hexapod.desktop.frame.page import Page
from hexapod.desktop.models.desk import Desk
from hexapod.desktop.models.scopes import meant_by
from hexapod.desktop.parts import card, heading, icon_button, label
from hexapod.desktop.telling.sending import SendingPart, send_page
from hexapod.formats.calendar_folder import CalendarKind
from hexapod.plan import edits
from hexapod.plan.outside import outside_tasks
from hexapod.reports.basis import scope_of
from hexapod.system.words import count_of

HOW = (
    "In Build, mark rows by the menu of a row, or in the column “Seen outside”. A mark holds for what is below it, and "
    "that of a project for all its rows, unless they say otherwise. What is not marked stays inside."
)
MOST_PROJECTS = 12
CALENDARS = {
    CalendarKind.MILESTONES: "All milestones", CalendarKind.PROJECTS: "Each project",
    CalendarKind.PEOPLE: "Each person's open tasks",
}  # fmt: skip


class PagePage(Page):
    def __init__(self, desk: Desk) -> None:
        super().__init__(desk, "The page to read")
        self.work = desk.page
        self._sending = SendingPart(
            self, "page", "Names, initials or addresses; it goes to the outbox.", "glass@supplier.example",
            lambda to: send_page(self.desk, to),
        )  # fmt: skip
        for signal in (desk.changed, desk.past_changed, self.work.changed, desk.calendar_folder.changed):
            signal.connect(self.refresh)

    def fill(self) -> None:
        plan = self.desk.plan
        self.box.addWidget(label("The page to read", "title", wrap=True))
        projects, department = meant_by(self.work.scope)
        scope = scope_of(plan, projects=projects, department=department)
        rows, seen = sum(t.project in scope for t in plan.tasks.values()), len(outside_tasks(plan, scope))
        frame, inside = card()
        inside.addWidget(label(f"{seen:,} of {count_of(rows, 'row')} are for people outside", "value", wrap=True))
        inside.addWidget(label(HOW, "small", wrap=True))
        self.box.addWidget(frame)
        self.box.addWidget(heading("Projects for people outside"))
        for project in [plan.projects[p] for p in scope][:MOST_PROJECTS]:
            box = QCheckBox(project.name)
            box.setObjectName(f"pageProject.{project.id}")
            box.setChecked(project.outside)
            box.setEnabled(not self.desk.is_read_only)
            box.toggled.connect(lambda on, p=project.id: self.desk.do(edits.mark_projects(self.desk.plan, [p], on)))
            self.box.addWidget(box)
        if len(scope) > MOST_PROJECTS:
            more = f"And {len(scope) - MOST_PROJECTS} more: choose one of them above, or mark it in its form."
            self.box.addWidget(label(more, "small", wrap=True))
        self.box.addWidget(heading("Its title"))
        title = self.input_line(self.work.title, "pageTitle", "Title of the page", "The name of the project")
        title.editingFinished.connect(lambda: self._head(title.text().strip()))
        self.box.addWidget(title)
        self._sending.fill(self.work.content is not None)
        self._fill_calendars()

    def _fill_calendars(self) -> None:
        """Files for calendars, which are written again as the plan changes."""
        work = self.desk.calendar_folder
        self.box.addWidget(heading("Calendar files that follow the plan"))
        self.box.addWidget(label("In this folder, written again after each edit:", "small", wrap=True))
        line = QHBoxLayout()
        line.setSpacing(4)
        folder = QLineEdit(work.folder)
        folder.setObjectName("calendarFolder")
        folder.setAccessibleName("The folder of the calendar files")
        folder.setPlaceholderText("A folder")
        folder.editingFinished.connect(lambda: folder.text().strip() != work.folder and work.set_folder(folder.text()))
        choose = icon_button("folder-open", "Choose a folder…")
        choose.clicked.connect(self._choose_folder)
        line.addWidget(folder)
        line.addWidget(choose)
        self.box.addLayout(line)
        for kind, words in CALENDARS.items():
            box = QCheckBox(words)
            box.setObjectName(f"calendar.{kind.value}")
            box.setChecked(kind in work.kinds)
            box.toggled.connect(lambda on, kind=kind: work.choose(kind, on))
            self.box.addWidget(box)
        if work.trouble:
            self.box.addWidget(label(work.trouble, "trouble", wrap=True))

    def _choose_folder(self) -> None:
        work = self.desk.calendar_folder
        found = QFileDialog.getExistingDirectory(self, "Folder of the calendar files", work.folder)
        if found:
            work.set_folder(found)

    def _head(self, title: str) -> None:
        if title != self.work.title:
            self.work.narrow(title=title)
