"""Which rows are on show: the view, what is folded, the chain that is looked at, and the list they make."""

from __future__ import annotations

import time
from collections.abc import Iterable, Iterator
from typing import TYPE_CHECKING

from msgspec.structs import replace
from PyQt6.QtCore import QObject, QTimer, pyqtSignal

from hexapod.desktop.models.background import in_background
from hexapod.desktop.models.gap import RowGap
from hexapod.errors import HexapodError
from hexapod.fields.reading import Troubles
from hexapod.plan import edits
from hexapod.plan.changes import Changes
from hexapod.plan.kept import TASKS
from hexapod.plan.rowlist import Outline, RowList
from hexapod.query.arranging import Rows, arrange
from hexapod.query.asking import compile_query, matches
from hexapod.query.views import PLAIN, SHIPPED, Finished, View, kept_form, read_views

if TYPE_CHECKING:
    from hexapod.desktop.models.desk import Desk
    from hexapod.expressions.language import Expression
    from hexapod.schedule.chains import Chain

AT_ONCE = 4000  # rows that are searched without a pause
SLICE = 0.002  # seconds of searching between two looks at the mouse
KEEP_AFTER = 400  # milliseconds


class RowsOnShow(QObject):
    """``changed`` when the rows are others, ``view_changed`` when the view is; ``searching`` says how far it is."""

    changed = pyqtSignal()
    view_changed = pyqtSignal()
    searching = pyqtSignal(int, int)  # looked at, of; equal when it is over

    def __init__(self, desk: Desk) -> None:
        super().__init__(desk)
        self._desk = desk
        self.folded: set[str] = set(desk.memory.recall("folded", list[str], []))
        self._read_kept()
        name, shows = desk.memory.recall("view", tuple[str, str], ("", ""))
        found, _ = read_views([(name, shows)] if shows else [])
        self.view: View = found[0] if found else PLAIN
        self.gap: RowGap | None = None  # a row being typed between others
        self.chain: Chain | None = None
        self._only: frozenset[str] | None = None
        self.matching: set[str] | None = None
        self.fresh: set[str] = set()  # what was added since the view was chosen: it stays in sight
        self._query: Expression | None = None
        self._search: Iterator[str | None] | None = None
        self._found: set[str] = set()
        self._looked_at = 0
        self._outline: Outline | None = None
        self.rows = RowList.of(desk.plan, None)
        self._next = QTimer(self, singleShot=True, interval=0)
        self._next.timeout.connect(self._search_on)
        self._keep = QTimer(self, singleShot=True, interval=KEEP_AFTER)
        self._keep.timeout.connect(self.keep)

    # Reading

    @property
    def is_typed(self) -> bool:
        """Whether rows can be typed and moved where they stand."""
        return self.view.is_outline

    @property
    def is_searching(self) -> bool:
        return self._search is not None

    def views(self) -> list[View]:
        """The kept ones and the shipped ones, starred ones first."""
        names = {v.name for v in self.kept}
        return sorted([*self.kept, *(v for v in SHIPPED if v.name not in names)], key=lambda v: not v.starred)

    def outline(self) -> Outline:
        """All rows of the project on show, or of all projects."""
        desk = self._desk
        if self.view.everywhere:
            projects = tuple(p.id for p in desk.plan.projects_in_order() if not p.archived)
        else:
            projects = (desk.project,) if desk.project in desk.plan.projects else ()
        if self._outline is None or self._outline.projects != projects:
            self._outline = Outline(desk.plan, projects)
        return self._outline

    def project_outline(self) -> Outline:
        """All rows of the project on show, whatever the view shows."""
        projects = (self._desk.project,) if self._desk.project in self._desk.plan.projects else ()
        return self.outline() if not self.view.everywhere else Outline(self._desk.plan, projects)

    # Views

    def show_view(self, view: View) -> None:
        """Show a view. ``BadText`` if its query cannot be understood: then the last one stays."""
        query = compile_query(self._desk.plan, view.query) if view.query.strip() else None
        self.view, self._query = view, query
        self.fresh, self.gap = set(), None
        self._keep.start()
        self.search()
        self.view_changed.emit()

    def keep_view(self, view: View) -> bool:
        """Keep a view under its name, in place of one with that name."""
        return self._desk.do(edits.keep_view(self._desk.plan, view.name, kept_form(view)))

    def forget_view(self, name: str) -> bool:
        return self._desk.do(edits.forget_view(self._desk.plan, name))

    def _read_kept(self) -> None:
        views = self._desk.plan.views_in_order()
        self.kept, self.unreadable = read_views((v.name, v.shows) for v in views if v.of == TASKS)

    @property
    def is_narrowed(self) -> bool:
        """Whether some rows are out of sight for another reason than that they are folded away."""
        return bool(self.view.query or self._only is not None or self.view.finished is Finished.HIDDEN)

    def widen(self) -> None:
        """Let every row be seen again, in the same order and groups."""
        self.chain = self._only = None
        finished = Finished.STRUCK if self.view.finished is Finished.HIDDEN else self.view.finished
        self.show_view(replace(self.view, name="", query="", finished=finished))

    # A chain

    def show_chain(self, chain: Chain | None) -> None:
        """Only what is before and after a task, or what drives it; None shows all again."""
        self.chain, desk = chain, self._desk
        if chain is None:
            self._only = None
            self.lay_out()
            self.view_changed.emit()
            return
        schedule = desk.worked_out

        def work() -> object:
            from hexapod.schedule.chains import chain_of

            return frozenset(chain_of(schedule, chain))

        def show(found: object) -> None:
            if self.chain is chain:
                self._only = found  # type: ignore[assignment]
                self.lay_out()
                self.view_changed.emit()

        in_background(self, work, show, lambda error: desk.told.emit(str(error), "trouble", False))

    def show_only(self, tasks: Iterable[str]) -> None:
        """Some rows, with what they lie below; ``widen`` shows all again."""
        self.chain, self._only = None, frozenset(tasks)
        self.lay_out()
        self.view_changed.emit()

    # Searching

    def search(self) -> None:
        """Ask the query again of every row: at once in a small plan, else in slices."""
        desk = self._desk
        self._search = None
        if self.view.query.strip() and self._query is None:
            try:
                self._query = compile_query(desk.plan, self.view.query)
            except HexapodError as error:
                desk.told.emit(f"The view “{self.view.name}” cannot be asked: {error}", "trouble", False)
        if self._query is None:
            self.matching = None
            self.lay_out()
            return
        tasks = self.outline().tasks
        self._search = matches(self._query, desk.plan, desk.schedule, tasks, self._troubles(self._query))
        self._found, self._looked_at = set(), 0
        if len(tasks) <= AT_ONCE:
            self._found.update(t for t in self._search if t)
            self._finish()
        else:
            self._next.start()

    def stop_searching(self) -> None:
        """Leave the last result as it is."""
        self._search = None
        self.searching.emit(1, 1)

    def _troubles(self, query: Expression) -> Troubles:
        load = self._desk.load
        drives = self._desk.chances.troubles.drives if "criticality" in query.names else {}
        if load is None or not query.names & {"conflict", "overload"}:
            return Troubles(drives=drives)
        overloaded: set[str] = set()
        if "overload" in query.names:
            overloaded = {task for over in load.overloads for task in over.tasks}
        return Troubles(load.in_conflict if "conflict" in query.names else (), overloaded, drives)

    def _search_on(self) -> None:
        search = self._search
        if search is None:
            return
        until = time.perf_counter() + SLICE
        for task in search:
            if task is not None:
                self._found.add(task)
                continue
            self._looked_at += 200
            if time.perf_counter() > until:
                self.searching.emit(self._looked_at, len(self.outline()))
                self._next.start()
                return
        self._finish()

    def _finish(self) -> None:
        self.matching, self._search = self._found, None
        self.searching.emit(1, 1)
        self.lay_out()

    # Rows

    def on_applied(self, changes: Changes) -> None:
        """After an edit: rows came or went, or are true of the query now; or other views are kept."""
        if changes.views:
            self._read_kept()
            self.view_changed.emit()
        if moves_rows(changes):
            self._outline = None
            self.fresh |= {after.id for before, after in changes.tasks if before is None and after is not None}
            needs_rows = True
        else:
            needs_rows = not self.view.is_outline
        if changes.fields and self.view.query:
            self._query = None
        if self.view.query:
            self.search()
        elif needs_rows:
            self.lay_out()

    def on_computed(self) -> None:
        if self.view.query or not self.view.is_outline:
            self.search()

    def look_elsewhere(self) -> None:
        """Another project, or another day's plan."""
        self._outline = None
        self.chain = self._only = None
        self.gap = None
        self.search()

    def lay_out(self) -> None:
        desk = self._desk
        matching = None if self.matching is None else self.matching | self.fresh
        troubles = Troubles()
        only = None if self._only is None else self._only | self.fresh
        made = arrange(self.view, Rows(desk.plan, desk.schedule, self.outline(), self.folded, matching, only, troubles))
        if self.gap is not None:
            made = made.with_gap(min(self.gap.index, len(made)), self.gap.level)
        self.rows = made
        self.changed.emit()

    def open_gap(self, gap: RowGap | None) -> None:
        """Make room for a row that is not there yet, or close it up again."""
        if gap != self.gap:
            self.gap = gap
            self.lay_out()

    def set_folded(self, folded: set[str]) -> None:
        self.folded = folded
        self._keep.start()
        self.lay_out()

    def fold_to(self, level: int) -> None:
        """Show the outline down to a level, 1 being the top rows."""
        outline = self.outline()
        at = outline.summaries
        deep = at[outline.levels[at] >= level - 1]
        self.set_folded((self.folded - outline.summary_tasks) | {outline.tasks[i] for i in deep.tolist()})

    def keep(self) -> None:
        """Remember what is folded and the view; called once more before the session is closed."""
        self._keep.stop()
        memory = self._desk.memory
        memory.keep("folded", sorted(t for t in self.folded if t in self._desk.plan.tasks))
        memory.keep("view", (self.view.name, kept_form(self.view)))


def moves_rows(changes: Changes) -> bool:
    """Whether rows came, went, or have another place or level."""
    return bool(changes.projects) or any(
        before is None
        or after is None
        or (before.parent, before.rank, before.project) != (after.parent, after.rank, after.project)
        for before, after in changes.tasks
    )
