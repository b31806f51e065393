"""What the list of projects shows of each: columns, own fields, counts of tasks, and views that are kept."""

from __future__ import annotations

import unittest
from collections import Counter

from PyQt6.QtWidgets import QComboBox, QLineEdit, QPushButton

from hexapod.control.baselines import baseline_of
from hexapod.control.summary import ProjectRow
from hexapod.desktop.models.portfolio import SORTS, Only
from hexapod.desktop.models.project_columns import COLUMNS, USUAL
from hexapod.desktop.models.project_lanes import Tasks
from hexapod.formats.plan_json import read_plan, write_plan
from hexapod.plan import edits
from hexapod.plan.kept import PROJECTS
from hexapod.plan.outline import stream_of
from hexapod.plan.records import FieldKind
from hexapod.query.portfolio_views import read_portfolio_views
from tests.desktop.case import settle
from tests.desktop.projects_case import COUNT, ProjectsCase
from tests.support import DAY, MONDAY


class Columns(ProjectsCase):
    def test_columns_are_chosen_and_each_orders_the_projects(self) -> None:
        self.work.narrow(group_by="none")
        self.work.open_group("All projects")
        self.window.side.turn()
        self.window.resize(2600, 900)
        self.work.show_columns(COLUMNS)
        settle()
        row = next(r for r in self.table.rows if isinstance(r, ProjectRow) and r.project == "q1")
        said = dict(zip(self.table._shown(), (words for words, _ in self.table.texts(row)), strict=True))
        self.assertEqual(set(said), set(COLUMNS))
        self.assertEqual((said["department"], said["state"], said["finish"]), ("Estate", "in doubt", "Fri 11 Sep"))
        self.assertEqual((said["due"], said["priority"], said["budget"]), ("Fri 11 Sep", "5", "–"))
        self.assertIn("Estate", self.description_of(row))
        for sort in SORTS:
            self.work.narrow(sort_by=sort)
            rows = [r for r in self.table.rows if isinstance(r, ProjectRow)]
            self.assertEqual(len(rows), COUNT + 1, sort)
            if sort in COLUMNS:
                keys = [COLUMNS[sort].order(self.work, r) for r in rows]
                self.assertEqual(keys, sorted(keys), sort)
        self.table.grab()
        self.window.resize(1024, 640)
        settle()
        self.assertLess(len(self.table._shown()), len(COLUMNS), "the bars keep their room")
        self.work.show_columns(["nothing like that"])
        self.assertEqual(self.work.columns, USUAL)

    def test_own_fields_of_projects_are_made_filled_in_grouped_and_sorted_by(self) -> None:
        self.window.registry.qt("projects.field").trigger()
        settle()
        self.find(QLineEdit, "fieldName").setText("Good for")
        self.find(QLineEdit, "fieldChoices").setText("Visitors, House")
        for name, value in (("fieldKind", FieldKind.CHOICE),):
            box = self.find(QComboBox, name)
            box.setCurrentIndex(box.findData(value))
        self.assertEqual(self.find(QComboBox, "fieldOf").currentData(), PROJECTS)
        self.find(QPushButton, "formSave").click()
        settle()
        (field,) = self.desk.plan.fields_of(PROJECTS)
        column = f"field.{field.id}"
        self.assertIn(column, self.work.columns)
        self.table.setFocus()
        self.work.go_to("q1")
        self.window.side.show_page("glance")
        self.known()
        line = self.find(QLineEdit, "glanceField.Good for")
        for text, kept in (("nobody", ""), ("hou", "House")):
            line.setText(text)
            line.editingFinished.emit()
            self.assertEqual(dict(self.desk.plan.projects["q1"].fields).get("Good for", ""), kept)
        self.known()
        for project in ("q2", "q3"):
            self.work.go_to(project)
            self.work.mark(project)
        self.known()
        self.find(QLineEdit, "togetherField.Good for").setText("Visitors")
        self.find(QPushButton, "togetherField.Good forShow").click()
        self.known()
        self.desk.staging.take()
        self.known()
        values = {p: dict(self.desk.plan.projects[p].fields).get("Good for") for p in ("q1", "q2", "q3", "q4")}
        self.assertEqual(values, {"q1": "House", "q2": "Visitors", "q3": "Visitors", "q4": None})
        self.work.unmark()
        self.work.narrow(group_by=column, sort_by=column)
        names = [group.name for group in self.work.groups()]
        self.assertEqual(names, ["Visitors", "House", "Not said"])
        self.work.narrow(text="house", group_by="none")
        self.assertEqual([r.project for g in self.work.groups() for r in g.rows], ["q1"])
        self.work.narrow(text='good for = "Visitors"')
        self.known()
        self.assertEqual({r.project for g in self.work.groups() for r in g.rows}, {"q2", "q3"})
        self.work.narrow(text="", group_by=column, sort_by=column)
        view = self.work.view("By what it is good for")
        self.desk.do(edits.remove_field(self.desk.plan, field.id))
        self.known()
        self.assertEqual([g.name for g in self.work.groups()], ["Not said"])
        self.work.show_view(view)
        self.assertEqual((self.work.group_by, self.work.sort_by), ("department", "state"))
        self.table.grab()

    def test_tasks_are_counted_by_what_is_chosen_and_drift_is_from_the_baseline(self) -> None:
        picture = self.view.sizes
        plan = self.desk.plan
        leaves = [t for t in plan.tasks if not plan.is_summary(t)]
        for way, expected in (
            ("priority", Counter(str(plan.tasks[t].priority) for t in leaves)),
            ("department", Counter(plan.projects[plan.tasks[t].project].department or "No department" for t in leaves)),
            ("stream", Counter(stream_of(plan, t) for t in leaves)),
        ):  # fmt: skip
            box = self.find(QComboBox, "portfolioSizesBy")
            box.activated.emit(box.findData(way))
            settle()
            self.assertEqual(dict(picture.counts), dict(expected), way)
            self.assertTrue(picture.accessibleName().startswith(f"Tasks by {way}"), picture.accessibleName())
            picture.grab()
        row = self.work.row("q4")
        assert row is not None
        self.assertIsNone(row.since_baseline)
        self.desk.do(edits.keep_baseline(plan, baseline_of(self.desk.schedule, "q4", "b4", "First", MONDAY)))
        self.desk.do(edits.set_durations(self.desk.plan, ["q4a"], 7 * DAY))
        self.known()
        row = self.work.row("q4")
        assert row is not None
        self.assertEqual(COLUMNS["baseline"].words(self.work, row), ("2 d later", "amber"))

    def description_of(self, row: ProjectRow) -> str:
        self.table.go(self.table.rows.index(row))
        return self.table.accessibleDescription()

    def test_what_is_on_show_is_kept_under_a_name_for_everybody(self) -> None:
        menu = self.view.views.menu()
        self.work.narrow(only=Only.LATE, text="hall", group_by="state", sort_by="name")
        self.work.show_columns(["finish", "late"])
        menu.fill()
        field = menu.findChild(QLineEdit, "portfolioKeep")
        field.setText("Late halls")
        field.returnPressed.emit()
        settle()
        self.assertEqual((self.work.name, self.view.views.text()), ("Late halls", "Late halls"))
        self.desk.do(edits.keep_view(self.desk.plan, "Late halls", "{}"))  # one of the tasks, with the same name
        self.assertEqual(len(self.desk.plan.views), 2)
        before = self.shown()
        self.work.narrow(only=Only.ALL, text="", group_by="none", sort_by="finish")
        self.work.show_columns(())
        self.assertEqual(self.work.name, "", "it is another view now")
        plan = read_plan(write_plan(self.desk.plan))
        self.assertEqual(
            {(v.name, v.of) for v in plan.views.values()}, {("Late halls", "tasks"), ("Late halls", "projects")}
        )
        menu.fill()
        next(a for a in menu.actions() if a.text() == "Late halls").trigger()
        settle()
        self.assertEqual(self.shown(), before)
        self.assertEqual(
            (self.work.columns, self.work.group_by, self.work.only), (("finish", "late"), "state", Only.LATE)
        )
        self.assertEqual(self.find(QLineEdit, "portfolioFind").text(), "hall")
        self.assertNotIn("Late halls", [v.name for v in self.desk.on_show.kept if v.group == "state"])
        menu.fill()
        next(a for a in menu.actions() if a.text().startswith("Forget")).trigger()
        self.assertEqual([v.of for v in self.desk.plan.views.values()], ["tasks"])
        hostile = [("a", "[]"), ("b", '{"form": 9}'), ("c", '{"columns": 3}'), ("d", '{"only": "x", "tasks": "y"}')]
        (known,) = read_portfolio_views(hostile)
        self.work.show_view(known)
        self.assertEqual((self.work.only, self.work.lanes.shown), (Only.ALL, Tasks.NONE))


if __name__ == "__main__":
    unittest.main()
