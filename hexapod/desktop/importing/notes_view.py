"""The preview of pasted notes: line by line what it is taken for, before the lines become rows."""

from __future__ import annotations

from collections.abc import Callable

from PyQt6.QtCore import QAbstractTableModel, QModelIndex, Qt
from PyQt6.QtGui import QColor, QKeyEvent
from PyQt6.QtWidgets import (
    QAbstractItemView,
    QComboBox,
    QGridLayout,
    QHBoxLayout,
    QHeaderView,
    QPushButton,
    QTableView,
    QVBoxLayout,
    QWidget,
)

from hexapod.desktop import dates
from hexapod.desktop.models.background import in_background
from hexapod.desktop.models.desk import Desk
from hexapod.desktop.parts import label
from hexapod.desktop.theme.style import color
from hexapod.errors import HexapodError
from hexapod.fields.link_text import reference
from hexapod.lines.clauses import Clause, Date, Length, Links, People
from hexapod.lines.notes import NotedRow, Notes, read_notes
from hexapod.lines.wording import link_words, words_of
from hexapod.plan import edits
from hexapod.plan.plan import Plan
from hexapod.plan.ranks import ranks_between
from hexapod.plan.records import Resource, ResourceKind
from hexapod.system.words import count_of
from hexapod.worktime.calendars import units_of
from hexapod.worktime.lengths import Units

AT_ONCE = 200  # lines that are read within a frame or two
ASKED, ACROSS = 8, 2  # unknown people who are asked about, and how many of them beside each other
TITLES = ("Row", "Length", "Waits for", "Who", "Dates", "To look at")
WIDTHS = (280, 80, 220, 120, 190)
LOOK = 5
NO_PROJECT = "The project that these lines were for is gone. Undo brings it back, or choose another; all lines stay."
A_PERSON = "a new person"
NEW = {A_PERSON: ResourceKind.PERSON, "a new role": ResourceKind.ROLE}


class NotesView(QWidget):
    """Nothing is changed until the rows are added; then it is one edit, which can be undone."""

    def __init__(self, desk: Desk, leave: Callable[[], None]) -> None:
        super().__init__()
        self.desk = desk
        self._leave = leave
        self._text, self._after = "", None
        self._said: dict[str, str] = {}  # by initials whom they mean: the id of a resource, or a new one of a kind
        self._new: list[Resource] = []  # who comes into the pool with the rows
        self._run = 0
        self.lines = Lines()
        self._lay_out()

    def _lay_out(self) -> None:
        box = QVBoxLayout(self)
        self._title = label("", "title")
        self.says = label("", wrap=True)
        self.says.setObjectName("notesSays")
        self._people = QGridLayout()
        self._people.setColumnStretch(2 * ACROSS, 1)
        self.table = Table(self.take, self._leave)
        self.table.setModel(self.lines)
        self.table.another_way = self.take_another_way
        for column, width in enumerate(WIDTHS):
            self.table.setColumnWidth(column, width)
        self.table.horizontalHeader().setSectionResizeMode(LOOK, QHeaderView.ResizeMode.Stretch)
        self.look = label("", "attention", wrap=True)
        self.look.setObjectName("notesLook")
        self.table.selectionModel().currentChanged.connect(self._say_look)
        self.take_button = QPushButton("Add the rows")
        self.take_button.setObjectName("notesTake")
        self.take_button.setProperty("role", "primary")
        self.take_button.clicked.connect(self.take)
        self._way = QPushButton("Take the line another way")
        self._way.setObjectName("notesWay")
        self._way.setToolTip("Space: with more taken, then as a mere name, then as first shown")
        self._way.clicked.connect(self.take_another_way)
        names = QPushButton("All as mere names")
        names.setObjectName("notesNames")
        names.clicked.connect(self.take_names)
        cancel = QPushButton("Cancel")
        cancel.setObjectName("notesCancel")
        cancel.clicked.connect(self._leave)
        line = QHBoxLayout()
        for widget in (self.take_button, self._way, names, cancel):
            line.addWidget(widget)
        line.addStretch(1)
        box.addWidget(self._title)
        box.addWidget(self.says)
        box.addLayout(self._people)
        box.addWidget(self.table, 1)
        box.addWidget(self.look)
        box.addLayout(line)

    def read(self, text: str, after: str | None) -> None:
        """Show what lines mean that are to stand below the row ``after``."""
        self._text, self._after, self._said = text, after, {}
        self.lines.show(None)
        self._title.setText(f"Add {count_of(text.count(chr(10)) + 1, 'line')} of notes")
        self._read()
        self.table.setFocus()

    def _read(self) -> None:
        project = self.desk.project
        self._run += 1
        run = self._run
        self.take_button.setEnabled(False)
        if project is None:
            self.says.setText(NO_PROJECT)
            return
        plan, said = self._with_new_people()
        text, after = self._text, self._after if self._after in plan.tasks else None
        before, finds_loops = self.lines.notes, self.desk.session.has_kernels

        def work() -> object:
            found = read_notes(text, plan, project, after, dates.read_either, said, finds_loops=finds_loops)
            return found if before is None else found.taken_as(before)

        def show(found: object) -> None:
            if run == self._run:
                assert isinstance(found, Notes)
                self._show(found)

        def failed(error: Exception) -> None:
            self.lines.show(None)
            self.says.setText(str(error))

        if text.count("\n") < AT_ONCE:
            try:
                show(work())
            except HexapodError as error:
                failed(error)
        else:
            self.says.setText("Reading…")
            self.lines.show(None)
            in_background(self, work, show, failed)

    def _with_new_people(self) -> tuple[Plan, dict[str, str]]:
        """The plan with those who were said to be new, and by initials the ids of whom they mean."""
        plan, self._new = self.desk.plan, []
        self._said = {name: whom for name, whom in self._said.items() if whom in NEW or whom in plan.resources}
        said = dict(self._said)
        for initials, whom in self._said.items():
            if whom in NEW:
                last = plan.resources_in_order()
                rank = ranks_between(last[-1].rank if last else None, None, 1)[0]
                made = Resource(edits.new_id(), initials, rank, NEW[whom], initials=initials)
                plan = edits.save_resource(plan, made).applied_to(plan)
                self._new.append(made)
                said[initials] = made.id
        return plan, said

    def _show(self, notes: Notes) -> None:
        self.lines.show(notes)
        self.take_button.setEnabled(not self.desk.is_read_only)
        self._count()
        self._ask_people(notes.unknown())
        if not self.table.currentIndex().isValid():
            self.table.selectRow(0)

    def _count(self) -> None:
        """What all lines together were taken for, and how many want a look."""
        notes = self.lines.notes
        if notes is None:
            return
        said = [row.fields() for row in notes.rows]
        counts = [
            (sum("duration" in f.task for f in said), "with a length"),
            (sum(bool(f.links) for f in said), "linked"),
            (sum(bool(f.assignments) for f in said), "with people"),
            (sum(bool(f.task.keys() & {"target", "limits"}) for f in said), "with a date"),
        ]
        words = [f"{count} {what}" for count, what in counts if count]
        look = sum(1 for i in range(len(notes.rows)) if self.lines.look_at(i))
        rows = count_of(len(notes.rows), "row")
        self.says.setText(
            f"{rows}{': ' if words else ''}{', '.join(words)}. "
            + (f"{count_of(look, 'line')} to look at." if look else "All of it was understood.")
        )

    def _say_look(self, *_: object) -> None:
        """All that is to say about the current line; its cell may be too narrow for it."""
        row = self.table.currentIndex().row()
        self.look.setText(self.lines.look_at(row) if row >= 0 and self.lines.notes else "")

    def _ask_people(self, unknown: list[str]) -> None:
        """A box for each pair of initials that nobody has; nobody is made up."""
        while (item := self._people.takeAt(0)) is not None:
            if item.widget() is not None:
                item.widget().deleteLater()
        asked = [*self._said, *(n for n in unknown if n not in self._said)][:ASKED]
        for i, name in enumerate(asked):
            box = QComboBox()
            box.setObjectName(f"notesWho{name}")
            box.setAccessibleName(f"Who {name} is")
            box.addItem("nobody: leave it in the name", "")
            for kind in NEW:
                box.addItem(f"{kind} called {name}", kind)
            for resource in self.desk.plan.resources_in_order():
                box.addItem(resource.name, resource.id)
            box.setCurrentIndex(max(0, box.findData(self._said.get(name, ""))))
            box.activated.connect(lambda _, n=name, b=box: self.say_who(n, b.currentData()))
            self._people.addWidget(label(f"Who is {name}?", "attention"), i // ACROSS, 2 * (i % ACROSS))
            self._people.addWidget(box, i // ACROSS, 2 * (i % ACROSS) + 1)
        if len(unknown) > 1:
            everybody = QPushButton("All are new people")
            everybody.setObjectName("notesAllNew")
            everybody.clicked.connect(lambda: self.say_new(unknown))
            self._people.addWidget(everybody, -(-len(asked) // ACROSS), 0, 1, 2)

    def say_who(self, initials: str, resource: str) -> None:
        """The notes mean this resource by these initials; nobody if it is empty."""
        self._said.pop(initials, None)
        if resource:
            self._said[initials] = resource
        self._read()

    def say_new(self, initials: list[str]) -> None:
        """All these are people who come into the pool with the rows."""
        self._said |= dict.fromkeys(initials, A_PERSON)
        self._read()

    def take_another_way(self) -> None:
        """The chosen line: as usual, then with all that may be taken, then as a name, then as usual again.

        Several lines all go the way of the first of them that has a way to go.
        """
        rows = sorted({index.row() for index in self.table.selectionModel().selectedRows()})
        if len(rows) == 1:
            self.lines.turn(rows[0])
        elif rows:
            self.lines.turn_together(rows)
        notes = self.lines.notes
        if notes is not None and len(notes.rows) <= AT_ONCE:
            self.lines.take(self._without_loops(notes))
        self._count()
        self._say_look()

    def _without_loops(self, notes: Notes) -> Notes:
        """As far as they can be found: on a first start the kernels for it are still being compiled."""
        return notes.without_loops() if self.desk.session.has_kernels else notes

    def take_names(self) -> None:
        notes = self.lines.notes
        if notes is not None:
            for i in range(len(notes.rows)):
                notes = notes.with_name_to(i, len(notes.rows[i].line.text))
            self.lines.show(notes)
            self._count()

    def take(self) -> None:
        """Make the rows and go back to the plan."""
        notes = self.lines.notes
        if notes is None or not self.take_button.isEnabled():
            return
        try:
            rows = self._without_loops(notes).edit()
            people = [edits.save_resource(self.desk.plan, person) for person in self._new]
            edit = edits.together(rows.words, [*people, rows])
        except HexapodError as error:
            self.desk.told.emit(str(error), "trouble", False)
            return
        if self.desk.do(edit):
            self.desk.told.emit(f"{edit.words}.", "", True)
            self._leave()
            first = next((row.task for row in notes.rows if row.task in self.desk.position), None)
            if first is not None:
                self.desk.select((first,), first)


class Table(QTableView):
    """Enter adds the rows, Space takes the chosen lines another way, Esc leaves."""

    def __init__(self, take: Callable[[], None], leave: Callable[[], None]) -> None:
        super().__init__()
        self._take, self._leave = take, leave
        self.another_way: Callable[[], None] = lambda: None
        self.setObjectName("notesLines")
        self.setAccessibleName("What each line is taken for")
        self.setSelectionBehavior(QAbstractItemView.SelectionBehavior.SelectRows)
        self.setEditTriggers(QAbstractItemView.EditTrigger.NoEditTriggers)
        self.setTabKeyNavigation(False)
        self.setWordWrap(False)
        self.setShowGrid(False)
        self.setAlternatingRowColors(True)
        self.horizontalHeader().setDefaultAlignment(Qt.AlignmentFlag.AlignLeft | Qt.AlignmentFlag.AlignVCenter)
        self.verticalHeader().hide()
        self.doubleClicked.connect(lambda _: self.another_way())

    def keyPressEvent(self, event: QKeyEvent) -> None:
        if event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter):
            self._take()
        elif event.key() == Qt.Key.Key_Space:
            self.another_way()
        elif event.key() == Qt.Key.Key_Escape:
            self._leave()
        else:
            super().keyPressEvent(event)


class Lines(QAbstractTableModel):
    """The rows of the notes, and the words for what each of their lines says."""

    def __init__(self) -> None:
        super().__init__()
        self.notes: Notes | None = None
        self._units = Units()
        self._names: dict[str, str] = {}

    def show(self, notes: Notes | None) -> None:
        self.beginResetModel()
        self.notes = notes
        self._names = {row.task: row.name for row in notes.rows} if notes else {}
        self._units = units_of(notes.plan, notes.project) if notes else Units()
        self.endResetModel()

    def turn(self, row: int) -> None:
        assert self.notes is not None
        self.notes = self.notes.with_name_to(row, self.notes.rows[row].line.way_after(self.notes.rows[row].name_to))
        self._names[self.notes.rows[row].task] = self.notes.rows[row].name
        self.dataChanged.emit(self.index(row, 0), self.index(row, LOOK))

    def turn_together(self, rows: list[int]) -> None:
        """All that may be taken is, in each of these lines; where it is already, they are names."""
        notes = self.notes
        assert notes is not None
        to_take = [row for row in rows if notes.rows[row].name_to > notes.rows[row].line.fullest]
        for row in to_take or rows:
            line = notes.rows[row].line
            notes = notes.with_name_to(row, line.fullest if to_take else len(line.text))
        self.take(notes)

    def take(self, notes: Notes) -> None:
        """The same rows, taken in other ways."""
        self.notes = notes
        self._names = {row.task: row.name for row in notes.rows}
        self.dataChanged.emit(self.index(0, 0), self.index(len(notes.rows) - 1, LOOK))

    def rowCount(self, parent: QModelIndex = QModelIndex()) -> int:  # noqa: B008
        return len(self.notes.rows) if self.notes and not parent.isValid() else 0

    def columnCount(self, parent: QModelIndex = QModelIndex()) -> int:  # noqa: B008
        return len(TITLES)

    def headerData(self, section: int, orientation: Qt.Orientation, role: int = 0) -> object:
        if orientation is Qt.Orientation.Horizontal and role == Qt.ItemDataRole.DisplayRole:
            return TITLES[section]
        return None

    def data(self, index: QModelIndex, role: int = 0) -> object:
        if role == Qt.ItemDataRole.ForegroundRole and index.column() == LOOK:
            return QColor(color("amber"))
        if role not in (Qt.ItemDataRole.DisplayRole, Qt.ItemDataRole.ToolTipRole) or self.notes is None:
            return None
        row = self.notes.rows[index.row()]
        if index.column() == 0:
            return f"{'      ' * row.level}{row.name}"
        if index.column() == LOOK:
            return self.look_at(index.row())
        kind = (Length, Links, People, Date)[index.column() - 1]
        if kind is Links:
            return self._links(row)
        if kind is Length and row.fields().task.get("duration") == 0:
            return "milestone"
        said = [self._words(c) for c in row.line.taken(row.name_to) if isinstance(c.meaning, kind)]
        return ", ".join(text.removeprefix("with ") for text in said)

    def _links(self, row: NotedRow) -> str:
        into = [link_words(link, self._name_row) for link in row.links if link.successor == row.task]
        out = [self._name_row(link.successor) for link in row.links if link.predecessor == row.task]
        return "; ".join([*into, *(f"before {name}" for name in out)])

    def look_at(self, index: int) -> str:
        """What wants a look: questions, links that are left out, and what else the line may say."""
        assert self.notes is not None
        row = self.notes.rows[index]
        found = [question.text for question in row.questions]
        for link, why in row.left_out:
            ends = [f"“{self._name_row(end)}”" for end in (link.successor, link.predecessor)]
            found.append(f"{ends[0]} does not wait for {ends[1]}: {why}")
        taken = row.line.taken(row.name_to)
        if row.line.has_two_readings or row.name_to != row.line.usual:
            may = [self._words(c) for c in row.line.clauses if c.meaning and c not in taken]
            found += [f"May also say: {', '.join(may)}."] if may else []
        return " ".join(found)

    def _words(self, clause: Clause) -> str:
        assert self.notes is not None
        return words_of(clause, self.notes.plan, self._units, self._name_row, dates.short_day)

    def _name_row(self, task: str) -> str:
        notes = self.notes
        assert notes is not None
        if task in self._names:
            return self._names[task]
        return f"{reference(notes.plan, notes.project, task)} {notes.plan.tasks[task].name}"
