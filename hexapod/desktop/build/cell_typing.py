"""Typing in the outline: what a cell holds, or a row that is not there yet."""

from __future__ import annotations

from functools import partial
from typing import TYPE_CHECKING

from PyQt6.QtCore import QModelIndex, QObject, QRect

from hexapod.desktop.build.cell_painter import name_left
from hexapod.desktop.build.completions import offer_completions
from hexapod.desktop.build.new_row import A_LINE, LineEditor, make_row
from hexapod.desktop.frame.cell_editor import DEEPER, HIGHER, NEXT_ROW, PREVIOUS_ROW, CellEditor
from hexapod.desktop.models.columns import NAME
from hexapod.desktop.models.gap import RowGap, deepest_level, gap_above, gap_below
from hexapod.errors import HexapodError

if TYPE_CHECKING:
    from hexapod.desktop.build.grid import Grid


class CellTyping(QObject):
    """At most one cell is open at a time. What is typed becomes an edit when the cell is left; what cannot be one stays
    open, with the reason beside it."""

    def __init__(self, grid: Grid) -> None:
        super().__init__(grid)
        self._grid, self._desk = grid, grid.desk
        self.editor: CellEditor | None = None
        self._edited: tuple[int, int, str | None] = (0, NAME, None)
        self._level = 0  # of the row to type into
        self._row_before_gap: str | None = None

    def follow(self) -> None:
        """The open cell goes along where the rows are scrolled."""
        if self.editor is not None:
            row, column, task = self._edited
            self.editor.setGeometry(self._place(self._grid.rows.index(row, column), task))

    def type_row(self, line: str) -> None:
        """A last row as if it had been typed, and the next one to type into."""
        self.finish()
        if self._desk.project is None:
            return
        last = len(self._desk.rows)
        self._grid.go(last, NAME)
        self.open(last, NAME, line)
        self._on_typed(line, NEXT_ROW)

    def begin_row(self, *, above: bool) -> None:
        """Make room for a row at the current one and type its name."""
        self.finish()
        row = self._desk.position.get(self._desk.current or "")
        self._row_before_gap = self._desk.current
        if row is None:
            self._grid.go(len(self._desk.rows), NAME)
            self.open(len(self._desk.rows), NAME, None)
            return
        gap = gap_above(self._desk.rows, row) if above else gap_below(self._desk.plan, self._desk.rows, row)
        self._desk.open_gap(gap)
        self._grid.go(gap.index, NAME)
        self.open(gap.index, NAME, None)

    def open(self, row: int, column: int, text: str | None) -> None:
        """A cell to type in, with what it holds where no text is given."""
        task = self._grid.rows.task_at(row)
        if self.editor is not None or self._desk.is_read_only or (not task and self._desk.project is None):
            return
        if not task:
            column = NAME
        spec = self._grid.rows.columns[column]
        if spec.edit is None or not self._grid.rows.rowCount():
            return
        index = self._grid.rows.index(row, column)
        self._grid.reveal(index)
        typed = text if text is not None else self._desk.columns.typed(spec, task) if task else ""
        made_by = CellEditor if task else partial(LineEditor, desk=self._desk)
        editor = made_by(
            self._grid.viewport(),
            self._place(index, task),
            typed,
            hint=spec.hint if task else A_LINE,
            accessible=f"{spec.title}, {spec.hint}",
        )
        offer_completions(editor, spec, self._desk, task)
        if spec.echo is not None and task:
            echo = spec.echo
            editor.echo_by(lambda said: echo(self._desk.columns.texts(), task, said))
        editor.finished.connect(self._on_typed)
        editor.left.connect(self._leave_editor)
        if isinstance(editor, LineEditor):
            editor.went_up.connect(self._leave_upwards)
        self.editor = editor
        self._edited = (row, column, task)
        self._grid.hint_new_row(not self._is_in_new_row)
        editor.show()
        editor.setFocus()
        if text is None:
            editor.selectAll()

    def _place(self, index: QModelIndex, task: str | None) -> QRect:
        place = self._grid.visualRect(index)
        if index.column() == NAME:
            level = self._desk.rows[index.row()].level if index.row() < len(self._desk.rows) else self._level
            place.setLeft(place.left() + name_left(level) - 5)
        return place.adjusted(0, 0, max(0, 90 - place.width()), 0)

    def _on_typed(self, text: str, onward: str) -> None:
        editor = self.editor
        if editor is None:
            return
        row, column, task = self._edited
        if task and task not in self._desk.plan.tasks:  # deleted or undone by another way while it was being typed in
            self._close_editor()
            self._desk.told.emit(f"The row is gone; “{text[:60]}” was not taken.", "trouble", False)
            return
        try:
            if not task:
                if onward in (DEEPER, HIGHER):
                    self._change_level(editor, 1 if onward == DEEPER else -1)
                    return
                made = self._make_row(row)
                self._close_editor()
                self._after_new_row(row, made, onward)
                return
            spec, columns = self._grid.rows.columns[column], self._desk.columns
            if text != columns.typed(spec, task):
                applied = self._desk.attempt(columns.edit(spec, columns.meant(spec, task), text))
                if applied and column not in (NAME,):
                    self._desk.told.emit(f"{applied.words}.", "", True)
        except HexapodError as error:
            if onward == "stay" and not text.strip():
                self._leave_editor()
            else:
                editor.show_reason(str(error))
            return
        self._close_editor()
        self._go_on(row, column, task, onward)

    def _go_on(self, row: int, column: int, task: str, onward: str) -> None:
        if onward in (DEEPER, HIGHER):
            if column == NAME:
                self._grid.registry.qt("row.indent" if onward == DEEPER else "row.outdent").trigger()
            else:
                self._grid.go(row, column + (1 if onward == DEEPER else -1))
        elif onward in (NEXT_ROW, PREVIOUS_ROW):
            self._grid.go(row + (1 if onward == NEXT_ROW else -1), column)
        if onward != "stay":
            self._grid.setFocus()

    def _make_row(self, row: int) -> str | None:
        """The task that the typed row becomes; None for an empty one."""
        assert isinstance(self.editor, LineEditor)
        return make_row(self._desk, self._desk.gap or RowGap(row, self._level), *self.editor.reading())

    def _after_new_row(self, row: int, made: str | None, onward: str) -> None:
        if made is None or made not in self._desk.position:  # it is left out by what the view asks for
            self._close_gap()
            self._grid.setFocus()
            return
        self._desk.select((made,), made)
        if onward == NEXT_ROW:
            at = self._desk.position[made]
            if at == len(self._desk.rows) - 1:
                self._level = self._desk.rows[at].level
                self._grid.go(at + 1, NAME)
                self.open(at + 1, NAME, None)
            else:
                self.begin_row(above=False)
        elif onward != "stay":
            self._grid.setFocus()

    def _change_level(self, editor: CellEditor, by: int) -> None:
        row = self._edited[0]
        shown = self._desk.rows.without_gaps()
        level = self._desk.gap.level if self._desk.gap else self._level
        wanted = max(0, min(level + by, deepest_level(shown, min(row, len(shown)))))
        text, at = editor.text(), editor.cursorPosition()
        if wanted == level:
            return
        if self._desk.gap:
            self._close_editor()
            self._desk.open_gap(RowGap(row, wanted))
            self._grid.go(row, NAME)
            self.open(row, NAME, text)
            assert isinstance(self.editor, LineEditor) and isinstance(editor, LineEditor)
            self.editor.take_as(editor)
            self.editor.setCursorPosition(at)
        else:
            self._level = wanted
            editor.setGeometry(self._place(self._grid.rows.index(row, NAME), None))

    def _leave_editor(self) -> None:
        self._close_editor()
        self._close_gap()
        self._grid.setFocus()

    def _leave_upwards(self) -> None:
        self._leave_editor()
        self._grid.go(self._edited[0] - 1, NAME)

    def _close_gap(self) -> None:
        """Take the room for an untyped row away and go back to the row from which it was made."""
        if self._desk.gap is not None:
            self._desk.open_gap(None)
            if self._row_before_gap in self._desk.position:
                self._desk.select((self._row_before_gap,), self._row_before_gap)
                self._grid.restore_selection()

    def _close_editor(self) -> None:
        editor, self.editor = self.editor, None
        if editor is not None:
            editor.close_editor()
        self._grid.hint_new_row(True)

    @property
    def _is_in_new_row(self) -> bool:
        return self.editor is not None and self._edited[2] is None

    def finish(self) -> None:
        """Take what is being typed, as if the cell was left."""
        if self.editor is not None:
            self._on_typed(self.editor.text(), "stay")

    def forget(self) -> None:
        self._close_editor()
        self._level = 0
