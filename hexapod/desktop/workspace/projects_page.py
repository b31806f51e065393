"""All projects: their folders and order, what is put away, and copies."""

from __future__ import annotations

from msgspec.structs import replace
from PyQt6.QtWidgets import QHBoxLayout, QMenu, QToolButton

from hexapod.desktop import dates
from hexapod.desktop.frame.page import Page
from hexapod.desktop.models.desk import Desk
from hexapod.desktop.parts import LineButton, heading, icon_button, label
from hexapod.plan import edits
from hexapod.plan.records import Project


class ProjectsPage(Page):
    def __init__(self, desk: Desk) -> None:
        super().__init__(desk, "Projects")
        for signal in (desk.changed, desk.computed, desk.looked_at_changed):
            signal.connect(self.refresh)

    def fill(self) -> None:
        self.box.addWidget(label("Projects", "title"))
        projects = self.desk.plan.projects_in_order()
        at_work = [p for p in projects if not p.archived]
        for folder in dict.fromkeys(sorted((p.folder for p in at_work), key=str.casefold)):
            if folder:
                self.box.addWidget(heading(folder))
            for project in at_work:
                if project.folder == folder:
                    self._fill_project(project)
        archived = [p for p in projects if p.archived]
        if archived:
            self.box.addWidget(heading("Archived"))
        for project in archived:
            self._fill_project(project)

    def _fill_project(self, project: Project) -> None:
        line = QHBoxLayout()
        line.setSpacing(0)
        name = LineButton(project.name)
        name.setObjectName(f"project.{project.name}")
        name.clicked.connect(lambda: self.desk.look_at_project(project.id))
        line.addWidget(name, 1)
        for picture, by, words in (("arrow-up", -1, "up"), ("arrow-down", 1, "down")):
            button = icon_button(picture, f"Move {project.name} {words}")
            ends = self.desk.plan.projects_in_order()[0 if by < 0 else -1]
            button.setEnabled(not self.desk.is_read_only and project.id != ends.id)
            button.clicked.connect(lambda _, b=by: self.desk.do(edits.move_project(self.desk.plan, project.id, b)))
            line.addWidget(button)
        more = QToolButton()
        more.setText("⋯")
        more.setAutoRaise(True)
        more.setAccessibleName(f"More about {project.name}")
        more.setEnabled(not self.desk.is_read_only)
        more.clicked.connect(lambda: self._menu(project).popup(more.mapToGlobal(more.rect().bottomLeft())))
        line.addWidget(more)
        self.box.addLayout(line)
        finish = self.desk.schedule.project_finish.get(project.id)
        says = f"finishes {dates.long_day(finish)}" if finish is not None else "no tasks yet"
        self.box.addWidget(label(says, "small"))

    def _menu(self, project: Project) -> QMenu:
        menu = QMenu(self)
        put_away = menu.addAction("Take out of the archive" if project.archived else "Archive")
        changed = replace(project, archived=not project.archived)
        put_away.triggered.connect(lambda: self.desk.do(edits.save_project(self.desk.plan, changed)))
        menu.addAction("Duplicate").triggered.connect(lambda: self.duplicate(project, people=True))
        bare = menu.addAction("Duplicate without people and progress")
        bare.triggered.connect(lambda: self.duplicate(project, people=False))
        return menu

    def duplicate(self, project: Project, *, people: bool) -> None:
        """A copy beside it, beginning on the same day."""
        plan = self.desk.plan
        fragment = edits.fragment_of_project(plan, project.id)
        taken = {p.name for p in plan.projects.values()}
        names = [f"{project.name} (copy)", *(f"{project.name} (copy {n})" for n in range(2, 1000))]
        name = next(n for n in names if n not in taken)
        made, edit = edits.duplicate_project(plan, fragment, name, project.start, people=people)
        if self.desk.do(edit):
            self.desk.look_at_project(made)
            self.desk.told.emit(f"{edit.words}.", "", True)
