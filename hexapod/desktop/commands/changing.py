"""What the actions do: each turns the state of the desk into one edit, or changes what is looked at."""

from __future__ import annotations

from pathlib import Path
from typing import TYPE_CHECKING

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QApplication, QFileDialog, QMenu

from hexapod.desktop.build.clipboard import cells_copied, filled_down, lines_copied, notes_in, pasted, rows_copied
from hexapod.desktop.models.columns import NAME
from hexapod.desktop.parts import IMPORTS
from hexapod.errors import HexapodError
from hexapod.plan import edits
from hexapod.system.words import count_of

if TYPE_CHECKING:
    from hexapod.desktop.host import Host

WORKSPACES = "Hexapod workspace (*.hexapod)"


# Workspace


def new_workspace(window: Host) -> None:
    name, _ = QFileDialog.getSaveFileName(window, "New workspace", str(Path.home()), WORKSPACES)
    if name:
        path = Path(name)
        window.open_path(path if path.suffix == ".hexapod" else path.with_name(path.name + ".hexapod"), create=True)


def open_workspace(window: Host) -> None:
    name, _ = QFileDialog.getOpenFileName(window, "Open workspace", str(Path.home()), WORKSPACES)
    if name:
        window.open_path(Path(name))


def save_copy(window: Host) -> None:
    here = window.desk.session.workspace.path
    name, _ = QFileDialog.getSaveFileName(window, "Save a copy", str(here.with_stem(here.stem + " copy")), WORKSPACES)
    if not name:
        return
    path = Path(name) if name.endswith(".hexapod") else Path(name + ".hexapod")
    try:
        moved = window.desk.session.save_copy(path, replace=True)  # the file dialog has asked
    except HexapodError as error:
        window.desk.told.emit(str(error), "trouble", False)
    else:
        if moved is None:
            window.desk.told.emit(f"A copy is in {path.name}.", "", False)


def import_file(window: Host) -> None:
    name, _ = QFileDialog.getOpenFileName(window, "Import", str(Path.home()), IMPORTS)
    if name:
        window.show_import(Path(name))


def export(window: Host) -> None:
    window.side.show_export()


def reassure(window: Host) -> None:
    count = len(window.desk.session.history)
    name = window.desk.session.workspace.path.name
    window.desk.told.emit(f"Everything is in {name} already: {count} edits, each kept as it was made.", "", False)


def close_window(window: Host) -> None:
    window.close()


# Projects


def new_project(window: Host) -> None:
    window.side.show_project(None)


def edit_project(window: Host) -> None:
    window.side.show_project(_project(window))


def _project(window: Host) -> str | None:
    """The project that is meant: among all projects the one that is looked at there."""
    desk = window.desk
    if window.shows("telling") and desk.portfolio.chosen in desk.plan.projects:
        return desk.portfolio.chosen
    return desk.project


def show_projects(window: Host) -> None:
    window.side.show_page("projects")


def start_template(window: Host) -> None:
    window.side.show_templates()


def save_as_template(window: Host) -> None:
    window.side.show_save_template()


def delete_project(window: Host) -> None:
    desk, project = window.desk, _project(window)
    if project:
        name = desk.plan.projects[project].name
        if desk.do(edits.remove_project(desk.plan, project)):
            desk.told.emit(f"The project “{name}” is deleted.", "", True)


# History


def undo(window: Host) -> None:
    window.desk.undo()


def redo(window: Host) -> None:
    window.desk.redo()


def show_history(window: Host) -> None:
    window.side.show_page("history")


# Rows


def copy_rows(window: Host) -> None:
    """Rows with all that belongs to them, or the chosen cells."""
    desk, grid = window.desk, window.grid
    cells = grid.chosen_columns()
    if len(cells) > 1 or cells[0].id != "name":
        QApplication.clipboard().setMimeData(cells_copied(desk, cells))
        desk.told.emit(f"Cells of {count_of(len(desk.selected()), 'row')} copied.", "", False)
    elif desk.selected():
        QApplication.clipboard().setMimeData(rows_copied(desk, grid.rows.columns))
        desk.told.emit(f"{count_of(len(desk.selected()), 'row')} copied, with all below.", "", False)


def copy_lines(window: Host) -> None:
    """The chosen rows as lines of text that say all of them."""
    desk = window.desk
    QApplication.clipboard().setMimeData(lines_copied(desk))
    desk.told.emit(f"{count_of(len(desk.selected()), 'row')} copied as lines.", "", False)


def paste_rows(window: Host) -> None:
    desk, grid = window.desk, window.grid
    if desk.project is None:
        return
    column = grid.currentIndex().column() if desk.current in desk.plan.tasks else 0
    data = QApplication.clipboard().mimeData()
    if data is None:
        desk.told.emit("The clipboard is empty.", "", False)
        return
    try:
        after = desk.current if desk.current in desk.plan.tasks else None
        text = notes_in(desk, data, after) if column <= NAME else ""
        if text:
            window.show_notes(text, after)
            return
        edit = pasted(desk, data, grid.rows.columns, column)
    except HexapodError as error:
        desk.told.emit(str(error), "trouble", False)
        return
    if desk.do(edit):
        desk.told.emit(f"{edit.words}.", "", True)
        grid.show_current()


def fill_down(window: Host) -> None:
    desk = window.desk
    try:
        edit = filled_down(desk, window.grid.chosen_columns())
    except HexapodError as error:
        desk.told.emit(str(error), "trouble", False)
        return
    if desk.do(edit):
        desk.told.emit(f"{edit.words}.", "", True)


def replace_text(window: Host) -> None:
    window.side.show_page("replace")


def add_above(window: Host) -> None:
    window.grid.begin_row(above=True)


def add_below(window: Host) -> None:
    window.grid.begin_row(above=False)


def edit_cell(window: Host) -> None:
    window.grid.edit_current()


def delete_rows(window: Host) -> None:
    desk = window.desk
    tasks = desk.selected()
    at = min(desk.position.get(t, 0) for t in tasks)
    if desk.do(edits.remove_tasks(desk.plan, tasks)):
        desk.told.emit(f"{len(tasks)} rows deleted." if len(tasks) > 1 else "The row is deleted.", "", True)
        row = min(at, len(desk.rows) - 1)
        after = desk.rows[row].task if row >= 0 else None
        desk.select((after,) if after else (), after)


def _reshape(window: Host, edit_of) -> None:  # type: ignore[no-untyped-def]
    desk = window.desk
    kept, current = desk.selected(), desk.current
    if desk.do(edit_of(desk.plan, kept)):
        above = {a for t in kept for a in desk.plan.ancestors(t)} & desk.folded
        for summary in above:
            desk.fold(summary, False)
        desk.select(kept, current)
        window.grid.show_current()


def indent(window: Host) -> None:
    _reshape(window, edits.indent)


def outdent(window: Host) -> None:
    _reshape(window, edits.outdent)


def move_up(window: Host) -> None:
    _reshape(window, edits.move_up)


def move_down(window: Host) -> None:
    _reshape(window, edits.move_down)


# Links


def link_chain(window: Host) -> None:
    desk = window.desk
    ordered = sorted(desk.selected(), key=lambda t: desk.position.get(t, 0))
    try:
        edit = edits.chain(desk.plan, ordered)
    except HexapodError as error:
        desk.told.emit(str(error), "trouble", False)
        return
    if desk.do(edit):
        desk.told.emit(f"{edit.words}.", "", True)


def remove_links(window: Host) -> None:
    desk = window.desk
    keys = [link.key for t in desk.selected() for link in desk.plan.links_into(t)]
    if desk.do(edits.unlink(desk.plan, keys)):
        desk.told.emit(f"{len(keys)} links removed." if len(keys) > 1 else "The link is removed.", "", True)


def lift_limits(window: Host) -> None:
    desk = window.desk
    chosen = [t for t in desk.selected() if desk.plan.tasks[t].limits]
    lifted = [edits.set_task(desk.plan, t, "Lift the limits", limits=()) for t in chosen]
    if desk.do(edits.together("Lift the limits", lifted)):
        desk.told.emit("The limits are lifted.", "", True)


def plan_back(window: Host) -> None:
    window.side.show_planning_back(window.desk.current)


def repeat(window: Host) -> None:
    window.side.show_repeat(window.desk.current)


def split_row(window: Host) -> None:
    window.side.show_split(window.desk.current)


def your_name(window: Host) -> None:
    window.side.show_page("user")
    window.side.pages.user.refresh_now()


def move_to_project(window: Host) -> None:
    """A menu of the other projects; the rows go to the end of one, with their links."""
    desk, tasks = window.desk, window.desk.selected()
    menu = QMenu(window)
    menu.setObjectName("moveToProject")
    for project in desk.plan.projects_in_order():
        if project.id != desk.project:
            choice = menu.addAction(project.name)
            choice.triggered.connect(lambda _, p=project.id: _move_to(window, tasks, p))
    menu.setAttribute(Qt.WidgetAttribute.WA_DeleteOnClose)
    menu.popup(window.grid.mapToGlobal(window.grid.rect().center()))


def _move_to(window: Host, tasks: tuple[str, ...], project: str) -> None:
    desk = window.desk
    if desk.do(edits.move_to(desk.plan, tasks, project, None, None)):
        desk.go_to(tasks[0])
        desk.told.emit(f"Moved to “{desk.plan.projects[project].name}”, with their links.", "", True)


# Staff


def level_within_float(window: Host) -> None:
    window.side.show_page("proposal")
    window.desk.propose(within_float=True)


def level_freely(window: Host) -> None:
    window.side.show_page("proposal")
    window.desk.propose(within_float=False)


def show_seats(window: Host) -> None:
    window.side.pages.seats.seat = None
    window.side.show_page("seats")


def show_reservations(window: Host) -> None:
    window.side.show_reservations()


def show_its_load(window: Host) -> None:
    """The cells of the load grid that the selected task fills."""
    task = window.desk.current
    window.show_leg("staff")
    window.staff.show_view("load")
    if task in window.desk.plan.tasks:
        window.staff.grid.show_task(task)
        window.staff.grid.setFocus()


def show_pool(window: Host) -> None:
    window.side.show_page("pool")


def turn_guard(window: Host) -> None:
    """On or off; what is overloaded already is offered to be levelled."""
    guard = window.desk.guard
    guard.turn(not guard.is_on)
    if window.side.shown != "guard":
        window.side.show_page("guard")
    window.registry.refresh()


def accept_proposal(window: Host) -> None:
    desk = window.desk
    proposal = desk.proposal
    if proposal is None:
        return
    edit = desk.levelling.accepted()
    if edit is not None and desk.do(edit):
        desk.told.emit(f"{count_of(len(proposal.moves), 'task')} moved by levelling.", "", True)
    window.side.show_page("inspector")


def dismiss_proposal(window: Host) -> None:
    window.desk.show_proposal(None)
    window.side.show_page("inspector")


def clear_holds(window: Host) -> None:
    desk = window.desk
    held = [t.id for t in desk.plan.tasks.values() if t.hold]
    if held and desk.do(edits.clear_holds(desk.plan, held)):
        desk.told.emit(f"The holds of {count_of(len(held), 'task')} are cleared.", "", True)


def new_resource(window: Host) -> None:
    window.side.show_resource(None)
