"""Which columns the outline has and in which order, and a person's own fields."""

from __future__ import annotations

from collections.abc import Callable

from msgspec.structs import replace
from PyQt6.QtCore import QStringListModel, Qt
from PyQt6.QtWidgets import QCheckBox, QComboBox, QCompleter, QHBoxLayout, QPushButton

from hexapod.desktop.forms import Form
from hexapod.desktop.frame.page import Page
from hexapod.desktop.models.columns import FIXED
from hexapod.desktop.models.desk import Desk
from hexapod.desktop.models.project_columns import OWN
from hexapod.desktop.parts import heading, icon_button, label
from hexapod.errors import HexapodError
from hexapod.plan import edits
from hexapod.plan.edits import new_id
from hexapod.plan.kept import PROJECTS, TASKS
from hexapod.plan.ranks import ranks_between
from hexapod.plan.records import Field, FieldKind


class ColumnsPage(Page):
    def __init__(self, desk: Desk, edit_field: Callable[[str | None], None]) -> None:
        super().__init__(desk, "Columns")
        self._edit_field = edit_field
        desk.changed.connect(self.refresh)
        desk.looks.changed.connect(self.refresh)

    def fill(self) -> None:
        self.box.addWidget(label("Columns", "title"))
        self.box.addWidget(label("Drag a heading to move it, its edge to size it.", "muted", wrap=True))
        shown = [c.id for c in self.desk.columns.shown()]
        known = self.desk.columns.all()
        for i, column_id in enumerate([*shown, *(c for c in known if c not in shown)]):
            if i < FIXED:
                continue
            line = QHBoxLayout()
            box = QCheckBox(known[column_id].title)
            box.setObjectName(f"column.{column_id}")
            box.setChecked(column_id in shown)
            box.clicked.connect(lambda on, c=column_id: self._show(c, on))
            line.addWidget(box, 1)
            if column_id in shown:
                for name, by, words in (("arrow-up", -1, "left"), ("arrow-down", 1, "right")):
                    button = icon_button(name, f"Move {known[column_id].title} to the {words}")
                    button.setEnabled(FIXED <= i + by < len(shown))
                    button.clicked.connect(lambda _, c=column_id, b=by: self._move(c, b))
                    line.addWidget(button)
            self.box.addLayout(line)
        self.box.addWidget(heading("Own fields"))
        for field in self.desk.plan.fields_in_order():
            line = QHBoxLayout()
            of = " of projects" if field.of == PROJECTS else ""
            line.addWidget(label(f"{field.name}: {field.kind.value}{of}"), 1)
            change = icon_button("info", f"Change {field.name}")
            change.setObjectName(f"changeField.{field.name}")
            change.clicked.connect(lambda _, f=field.id: self._edit_field(f))
            line.addWidget(change)
            self.box.addLayout(line)
        new = QPushButton("New field")
        new.setObjectName("newField")
        new.setEnabled(not self.desk.is_read_only)
        new.clicked.connect(lambda: self._edit_field(None))
        self.box.addWidget(new, 0, Qt.AlignmentFlag.AlignLeft)

    def _show(self, column: str, on: bool) -> None:
        shown = [c.id for c in self.desk.columns.shown()]
        self.desk.looks.set_columns([*shown, column] if on else [c for c in shown if c != column])

    def _move(self, column: str, by: int) -> None:
        shown = [c.id for c in self.desk.columns.shown()]
        at = shown.index(column)
        shown[at], shown[at + by] = shown[at + by], shown[at]
        self.desk.looks.set_columns(shown)


class FieldForm(Form):
    """One of a person's own fields; a computed one shows what it gives while it is typed."""

    def __init__(self, desk: Desk, leave: Callable[[], None]) -> None:
        super().__init__(desk, "Field", leave)
        self.field_id: str | None = None
        self.of = TASKS  # of what a new one is

    def fill(self) -> None:
        plan = self.desk.plan
        found = plan.fields.get(self.field_id or "")
        self.box.addWidget(label(found.name if found else "New field", "title"))
        self._name = self.line(found.name if found else "", "fieldName")
        self._kind = QComboBox()
        self._kind.setObjectName("fieldKind")
        for kind in FieldKind:
            self._kind.addItem(kind.value.capitalize(), kind)
        self._kind.setCurrentIndex(self._kind.findData(found.kind if found else FieldKind.TEXT))
        self._kind.setEnabled(found is None)
        self._of = QComboBox()
        self._of.setObjectName("fieldOf")
        self._of.addItem("Tasks", TASKS)
        self._of.addItem("Projects", PROJECTS)
        self._of.setCurrentIndex(self._of.findData(found.of if found else self.of))
        self._of.setEnabled(found is None)
        self._choices = self.line(", ".join(found.choices) if found else "", "fieldChoices")
        self._formula = self.line(found.formula if found else "", "fieldFormula")
        self._gives = label("", "small", wrap=True)
        self._gives.setObjectName("fieldGives")
        self.field("Name", self._name)
        self.field("Kind", self._kind)
        self.field("Of", self._of, "What it is filled in for; that of a project can be read at each of its tasks")
        self.field("To choose from", self._choices, "Parted by commas; for a choice")
        self.field("Formula", self._formula, 'For a computed field: if float < 3 d then "tight" else ""')
        self._outside = QCheckBox("People outside may see it")
        self._outside.setObjectName("fieldOutside")
        self._outside.setChecked(found is not None and found.outside)
        self.box.addWidget(self._outside)
        self.box.addWidget(self._gives)
        self._complete()
        self._formula.textChanged.connect(self._show_result)
        self.buttons("Save" if found else "Add the field")
        if found:
            remove = QPushButton("Delete the field")
            remove.clicked.connect(self._remove)
            self.box.addWidget(remove)
        self._name.setFocus()

    def _complete(self) -> None:
        """Names and functions behind the last word that is not finished."""
        from hexapod.fields.formulas import FUNCTIONS, names_of

        words = sorted([*names_of(self.desk.plan), *(f"{name}(" for name in FUNCTIONS)])
        completer = QCompleter(QStringListModel(words, self), self)
        completer.setWidget(self._formula)
        completer.setCaseSensitivity(Qt.CaseSensitivity.CaseInsensitive)
        completer.popup().setObjectName("completions")

        def typed(text: str) -> None:
            before = text[: self._formula.cursorPosition()]
            word = before[max((before.rfind(c) for c in "+-*/=<>(),& "), default=-1) + 1 :]
            completer.setCompletionPrefix(word)
            completer.complete() if len(word) >= 2 and completer.completionCount() else completer.popup().hide()

        def take(chosen: str) -> None:
            text, at = self._formula.text(), self._formula.cursorPosition()
            begin = at - len(completer.completionPrefix())
            self._formula.setText(text[:begin] + chosen + text[at:])
            self._formula.setCursorPosition(begin + len(chosen))

        self._formula.textEdited.connect(typed)
        completer.activated.connect(take)

    def _show_result(self, formula: str) -> None:
        from hexapod.fields.field import in_words
        from hexapod.fields.formulas import compile_formula
        from hexapod.fields.reading import Reading

        desk = self.desk
        if not formula.strip():
            self._gives.setText("")
            return
        try:
            found = compile_formula(desk.plan, formula, self._said())
            task = desk.plan.tasks.get(desk.current or "")
            shown = f"gives a {found.kind}"
            if task is not None:
                reading = Reading(desk.plan, desk.schedule, task)
                value = in_words(found.kind, found.run(reading), reading.units, desk.columns.dates)
                shown += f"; for “{task.name}”: {value or 'nothing'}"
            self._gives.setText(shown)
        except HexapodError as error:
            self._gives.setText(str(error))

    def _said(self) -> Field:
        found = self.desk.plan.fields.get(self.field_id or "")
        if found is None:
            last = self.desk.plan.fields_in_order()
            found = Field(new_id(), "", ranks_between(last[-1].rank if last else None, None, 1)[0])
        return replace(
            found,
            name=self._name.text().strip(),
            kind=self._kind.currentData(),
            of=self._of.currentData(),
            choices=tuple(c.strip() for c in self._choices.text().split(",") if c.strip()),
            formula=self._formula.text().strip() if self._kind.currentData() is FieldKind.COMPUTED else "",
            outside=self._outside.isChecked(),
        )

    def save(self) -> None:
        from hexapod.fields.formulas import compile_formula

        said = self._said()
        if said.kind is FieldKind.COMPUTED:
            compile_formula(self.desk.plan, said.formula, said)
        is_new = said.id not in self.desk.plan.fields
        self.desk.attempt(edits.save_field(self.desk.plan, said))
        if is_new and said.of == PROJECTS:
            self.desk.portfolio.show_columns([*self.desk.portfolio.columns, f"{OWN}{said.id}"])
        elif is_new:
            self.desk.looks.set_columns([*(c.id for c in self.desk.columns.shown()), f"field.{said.id}"])

    def _remove(self) -> None:
        if self.field_id in self.desk.plan.fields:
            name = self.desk.plan.fields[self.field_id].name
            if self.desk.do(edits.remove_field(self.desk.plan, self.field_id)):
                self.desk.told.emit(f"The field “{name}” is deleted.", "", True)
        self._leave()
