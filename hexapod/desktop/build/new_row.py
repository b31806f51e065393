"""The row to type into: one line that says the task's name, and behind it its length, links, people and dates."""

from __future__ import annotations

from PyQt6.QtCore import QEvent, QRect, Qt, pyqtSignal
from PyQt6.QtGui import QFontMetrics, QKeyEvent
from PyQt6.QtWidgets import QFrame, QLabel, QPushButton, QWidget

from hexapod.desktop import dates
from hexapod.desktop.frame.cell_editor import CellEditor
from hexapod.desktop.models.desk import Desk
from hexapod.desktop.models.gap import RowGap, add_in_gap
from hexapod.desktop.parts import label
from hexapod.desktop.theme.tips import plain_tip
from hexapod.errors import HexapodError
from hexapod.fields.link_text import reference
from hexapod.lines.clauses import Clause, Fields
from hexapod.lines.edit import says
from hexapod.lines.known import Known
from hexapod.lines.line import Line, read_line
from hexapod.lines.wording import words_of
from hexapod.plan import edits

A_LINE = "A task: Paint walls 4d after 1"
LEFT_A_NAME = 1_000_000  # more letters than a line has, so that what is typed behind stays a name too
WIDEST_CHIP = 320  # pixels
EDGE, BETWEEN = 8, 5


def make_row(desk: Desk, place: RowGap, name: str, said: Fields) -> str | None:
    """The task that a typed line becomes; None for an empty one, or one that waits to be looked at first."""
    if not name or desk.project is None:
        return None
    task_id, gap = edits.new_id(), desk.gap
    added = add_in_gap(desk.plan, desk.project, desk.rows.without_gaps(), place, name, task_id)
    desk.on_show.gap = None  # the new row takes its room
    try:
        applied = desk.attempt(edits.together(added.words, [added, says(said, task_id)]))
    except HexapodError:
        desk.on_show.gap = gap
        raise
    return task_id if applied is not None else None


class LineEditor(CellEditor):
    """Shows beneath the line what it is understood as. Alt+Down takes it in another way, at last as a mere name.

    ``went_up`` says that Up was pressed in an empty line.
    """

    went_up = pyqtSignal()

    def __init__(self, parent: QWidget, place: QRect, text: str, *, hint: str, accessible: str, desk: Desk) -> None:
        super().__init__(parent, place, text, hint=hint, accessible=f"{accessible}, and what else a line may say")
        assert desk.project is not None
        self._known = Known.of(desk.plan, desk.project, dates.read_either)
        self._name_to: int | None = None  # up to where it is a name; None as usual
        self._least_width = place.width()
        self.chips = Chips(parent)
        self.chips.pressed.connect(self._turn)
        self.textChanged.connect(self._understand)
        self._understand()

    @property
    def line(self) -> Line:
        return read_line(self.text(), self._known)

    def name_to(self, line: Line) -> int:
        return line.usual if self._name_to is None else self._name_to

    def reading(self) -> tuple[str, Fields]:
        """The name, and what else is said of the task."""
        line = self.line
        return line.name(self.name_to(line)), line.fields(self.name_to(line))

    def take_another_way(self) -> None:
        """As usual, then all that may be taken, then a name and nothing else, then as usual again."""
        line = self.line
        self._name_to = line.way_after(min(self.name_to(line), len(line.text)))
        if self._name_to == line.usual:
            self._name_to = None
        elif self._name_to == len(line.text):
            self._name_to = LEFT_A_NAME
        self._understand()

    def take_as(self, other: LineEditor) -> None:
        """As another editor of the same line took it."""
        self._name_to = other._name_to
        self._understand()

    def _turn(self, clause: Clause) -> None:
        """A chip that is pressed is left in the name, with all before it; or is taken, with all behind it."""
        taken = clause.start >= self.name_to(self.line)
        self._name_to = clause.end if taken else clause.start
        self._understand()

    def _understand(self) -> None:
        line = self.line
        if not line.text:
            self._name_to = None
        known = self._known

        def name_row(task_id: str) -> str:
            return f"{reference(known.plan, known.project, task_id)} {known.plan.tasks[task_id].name}"

        said = [(c, words_of(c, known.plan, known.units, name_row, dates.long_day)) for c in line.clauses]
        self.chips.show_clauses(said, self.name_to(line))
        needed = self.fontMetrics().horizontalAdvance(self.text()) + 40
        room = self.parentWidget().width() - self.x() - 2
        self.resize(max(self._least_width, min(needed, room)), self.height())
        self._place_chips()

    def _place_chips(self) -> None:
        if self.chips.isHidden():
            return
        room = self.parentWidget().rect()
        self.chips.flow(room.width() - 8)
        left = min(self.x(), max(4, room.width() - self.chips.width() - 4))
        below = self.y() + self.height() + 2
        is_room = below + self.chips.height() < room.height()
        self.chips.move(left, below if is_room else self.y() - self.chips.height() - 2)
        self.chips.raise_()

    def setGeometry(self, place: QRect) -> None:  # type: ignore[override]
        super().setGeometry(place)
        if hasattr(self, "chips"):
            self._least_width = place.width()
            self._understand()

    def event(self, event: QEvent) -> bool:
        """The key that takes it another way moves rows elsewhere; here it is ours."""
        if event.type() == QEvent.Type.ShortcutOverride and _is_another_way(event):
            event.accept()
            return True
        return super().event(event)

    def keyPressEvent(self, event: QKeyEvent) -> None:
        if _is_another_way(event):
            self.take_another_way()
        elif event.key() == Qt.Key.Key_Up and not self.text():
            self.went_up.emit()
        else:
            super().keyPressEvent(event)

    def close_editor(self) -> None:
        self.chips.hide()
        self.chips.deleteLater()
        super().close_editor()


def _is_another_way(event: QKeyEvent) -> bool:
    return event.key() == Qt.Key.Key_Down and bool(event.modifiers() & Qt.KeyboardModifier.AltModifier)


class Chips(QFrame):
    """What a line was understood as; ``pressed`` with the clause of a chip."""

    pressed = pyqtSignal(object)

    def __init__(self, parent: QWidget) -> None:
        super().__init__(parent)
        self.setObjectName("lineChips")
        self._parts: list[QWidget] = []
        self.hide()

    def show_clauses(self, said: list[tuple[Clause, str]], name_to: int) -> None:
        for part in self._parts:
            part.hide()
            part.deleteLater()
        self._parts = []
        for clause, words in said:
            self._parts.append(self._chip(clause, words, clause.start >= name_to) if clause.meaning else _asked(words))
        if said:
            self._parts.append(label("Alt+↓ takes it another way", "small"))
        for part in self._parts:
            part.setParent(self)
            part.show()
        self.setVisible(bool(said))

    def words(self) -> list[str]:
        """Those of the chips, for who cannot see them."""
        return [part.accessibleName() for part in self._parts if isinstance(part, QPushButton)]

    def _chip(self, clause: Clause, words: str, is_taken: bool) -> QPushButton:
        chip = QPushButton()
        chip.setToolTip(
            plain_tip(f"{words}. Press to leave it in the name." if is_taken else f"{words}? Press to take it.")
        )
        shown = QFontMetrics(chip.font()).elidedText(words, Qt.TextElideMode.ElideRight, WIDEST_CHIP)
        chip.setText(shown if is_taken else f"{shown}?")
        chip.setAccessibleName(words if is_taken else f"perhaps {words}, now a part of the name")
        chip.setProperty("role", "chip")
        chip.setCheckable(True)
        chip.setChecked(is_taken)
        chip.setFocusPolicy(Qt.FocusPolicy.NoFocus)
        chip.clicked.connect(lambda: self.pressed.emit(clause))
        return chip

    def flow(self, widest: int) -> None:
        """Chips in rows, as wide as there is room."""
        height = max((part.sizeHint().height() for part in self._parts), default=0)
        x, y, right = EDGE, EDGE - 2, 0
        for part in self._parts:
            width = part.sizeHint().width()
            if x > EDGE and x + width + EDGE > widest:
                x, y = EDGE, y + height + BETWEEN
            part.setGeometry(x, y, width, height)
            x += width + BETWEEN
            right = max(right, x - BETWEEN)
        self.resize(right + EDGE, y + height + EDGE - 2)


def _asked(question: str) -> QLabel:
    return label(question, "attention")
