"""What the actions do: each turns the state of the desk into one edit, or changes what is looked at."""

from __future__ import annotations

from pathlib import Path
from typing import TYPE_CHECKING

from msgspec.structs import replace
from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QApplication, QFileDialog, QMenu

from hexapod.desktop.build.clipboard import cells_copied, filled_down, pasted, rows_copied
from hexapod.errors import HexapodError
from hexapod.plan import edits
from hexapod.plan.records import Link
from hexapod.query.views import PLAIN
from hexapod.schedule.chains import Chain, Reach
from hexapod.worktime.clock import today

if TYPE_CHECKING:
    from hexapod.desktop.window import Window

IMPORTS = "Plans and tables (*.csv *.tsv *.xlsx *.xlsm *.ics *.txt *.json *.hexapod);;All files (*)"
WORKSPACES = "Hexapod workspace (*.hexapod)"


# Workspace


def new_workspace(window: Window) -> None:
    name, _ = QFileDialog.getSaveFileName(window, "New workspace", str(Path.home()), WORKSPACES)
    if name:
        path = Path(name)
        window.open_path(path if path.suffix == ".hexapod" else path.with_name(path.name + ".hexapod"), create=True)


def open_workspace(window: Window) -> None:
    name, _ = QFileDialog.getOpenFileName(window, "Open workspace", str(Path.home()), WORKSPACES)
    if name:
        window.open_path(Path(name))


def save_copy(window: Window) -> None:
    here = window.desk.session.workspace.path
    name, _ = QFileDialog.getSaveFileName(window, "Save a copy", str(here.with_stem(here.stem + " copy")), WORKSPACES)
    if not name:
        return
    path = Path(name) if name.endswith(".hexapod") else Path(name + ".hexapod")
    try:
        path.unlink(missing_ok=True)  # the file dialog has asked
        window.desk.session.workspace.save_copy(path)
    except (HexapodError, OSError) as error:
        window.desk.told.emit(str(error), "trouble", False)
    else:
        window.desk.told.emit(f"A copy is in {path.name}.", "", False)


def import_file(window: Window) -> None:
    name, _ = QFileDialog.getOpenFileName(window, "Import", str(Path.home()), IMPORTS)
    if name:
        window.show_import(Path(name))


def export(window: Window) -> None:
    window.side.show_export()


def reassure(window: Window) -> None:
    count = len(window.desk.session.history)
    name = window.desk.session.workspace.path.name
    window.desk.told.emit(f"Everything is in {name} already: {count} edits, each kept as it was made.", "", False)


def close_window(window: Window) -> None:
    window.close()


# Projects


def new_project(window: Window) -> None:
    window.side.show_project(None)


def edit_project(window: Window) -> None:
    window.side.show_project(window.desk.project)


def show_projects(window: Window) -> None:
    window.side.show_page("projects")


def start_template(window: Window) -> None:
    window.side.show_templates()


def save_as_template(window: Window) -> None:
    window.side.show_save_template()


def delete_project(window: Window) -> None:
    desk = window.desk
    if desk.project:
        name = desk.plan.projects[desk.project].name
        if desk.do(edits.remove_project(desk.plan, desk.project)):
            desk.told.emit(f"The project “{name}” is deleted.", "", True)


# History


def undo(window: Window) -> None:
    window.desk.undo()


def redo(window: Window) -> None:
    window.desk.redo()


def show_history(window: Window) -> None:
    window.side.show_page("history")


# Rows


def copy_rows(window: Window) -> None:
    """Rows with all that belongs to them, or the chosen cells."""
    desk, grid = window.desk, window.grid
    cells = grid.chosen_columns()
    if len(cells) > 1 or cells[0].id != "name":
        QApplication.clipboard().setMimeData(cells_copied(desk, cells))
        desk.told.emit(f"Cells of {len(desk.selected())} rows copied.", "", False)
    elif desk.selected():
        QApplication.clipboard().setMimeData(rows_copied(desk, grid.rows.columns))
        desk.told.emit(f"{len(desk.selected())} rows copied, with all below them.", "", False)


def paste_rows(window: Window) -> None:
    desk, grid = window.desk, window.grid
    if desk.project is None:
        return
    column = grid.currentIndex().column() if desk.current in desk.plan.tasks else 0
    try:
        edit = pasted(desk, QApplication.clipboard().mimeData(), grid.rows.columns, column)
    except HexapodError as error:
        desk.told.emit(str(error), "trouble", False)
        return
    if desk.do(edit):
        desk.told.emit(f"{edit.words}.", "", True)
        grid.show_current()


def fill_down(window: Window) -> None:
    desk = window.desk
    try:
        edit = filled_down(desk, window.grid.chosen_columns())
    except HexapodError as error:
        desk.told.emit(str(error), "trouble", False)
        return
    if desk.do(edit):
        desk.told.emit(f"{edit.words}.", "", True)


def replace_text(window: Window) -> None:
    window.side.show_page("replace")


def add_above(window: Window) -> None:
    window.grid.begin_row(above=True)


def add_below(window: Window) -> None:
    window.grid.begin_row(above=False)


def edit_cell(window: Window) -> None:
    window.grid.edit_current()


def delete_rows(window: Window) -> None:
    desk = window.desk
    tasks = desk.selected()
    at = min(desk.position.get(t, 0) for t in tasks)
    if desk.do(edits.remove_tasks(desk.plan, tasks)):
        desk.told.emit(f"{len(tasks)} rows deleted." if len(tasks) > 1 else "The row is deleted.", "", True)
        row = min(at, len(desk.rows) - 1)
        after = desk.rows[row].task if row >= 0 else None
        desk.select((after,) if after else (), after)


def _reshape(window: Window, edit_of) -> None:  # type: ignore[no-untyped-def]
    desk = window.desk
    kept, current = desk.selected(), desk.current
    if desk.do(edit_of(desk.plan, kept)):
        above = {a for t in kept for a in desk.plan.ancestors(t)} & desk.folded
        for summary in above:
            desk.fold(summary, False)
        desk.select(kept, current)
        window.grid.show_current()


def indent(window: Window) -> None:
    _reshape(window, edits.indent)


def outdent(window: Window) -> None:
    _reshape(window, edits.outdent)


def move_up(window: Window) -> None:
    _reshape(window, edits.move_up)


def move_down(window: Window) -> None:
    _reshape(window, edits.move_down)


# Links


def link_chain(window: Window) -> None:
    desk = window.desk
    ordered = sorted(desk.selected(), key=lambda t: desk.position.get(t, 0))
    try:
        edit = edits.chain(desk.plan, ordered)
    except HexapodError as error:
        desk.told.emit(str(error), "trouble", False)
        return
    if desk.do(edit):
        desk.told.emit(f"{edit.words}.", "", True)


def remove_links(window: Window) -> None:
    desk = window.desk
    keys = [link.key for t in desk.selected() for link in desk.plan.links_into(t)]
    if desk.do(edits.unlink(desk.plan, keys)):
        desk.told.emit(f"{len(keys)} links removed." if len(keys) > 1 else "The link is removed.", "", True)


def lift_limits(window: Window) -> None:
    desk = window.desk
    chosen = [t for t in desk.selected() if desk.plan.tasks[t].limits]
    lifted = [edits.set_task(desk.plan, t, "Lift the limits", limits=()) for t in chosen]
    if desk.do(edits.together("Lift the limits", lifted)):
        desk.told.emit("The limits are lifted.", "", True)


def plan_back(window: Window) -> None:
    window.side.show_planning_back(window.desk.current)


def repeat(window: Window) -> None:
    window.side.show_repeat(window.desk.current)


def show_calendars(window: Window) -> None:
    window.show_calendars()


def show_columns(window: Window) -> None:
    window.side.show_page("columns")


def show_float_paths(window: Window) -> None:
    window.side.show_page("float_paths")


def your_name(window: Window) -> None:
    window.side.show_page("user")
    window.side.user_form.refresh_now()


def move_to_project(window: Window) -> None:
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


def _move_to(window: Window, tasks: tuple[str, ...], project: str) -> None:
    desk = window.desk
    if desk.do(edits.move_to(desk.plan, tasks, project, None, None)):
        desk.go_to(tasks[0])
        desk.told.emit(f"Moved to “{desk.plan.projects[project].name}”, with their links.", "", True)


def show_soundness(window: Window) -> None:
    window.side.show_page("soundness")


# Staff


def level_within_float(window: Window) -> None:
    window.side.show_page("proposal")
    window.desk.propose(within_float=True)


def level_freely(window: Window) -> None:
    window.side.show_page("proposal")
    window.desk.propose(within_float=False)


def accept_proposal(window: Window) -> None:
    desk = window.desk
    proposal = desk.proposal
    if proposal is None:
        return
    words = "Level within float" if proposal.within_float else "Level, finish may move"
    if desk.do(edits.set_holds(desk.plan, proposal.holds, words)):
        desk.told.emit(f"{len(proposal.moves)} tasks moved by levelling.", "", True)
    window.side.show_page("inspector")


def dismiss_proposal(window: Window) -> None:
    window.desk.show_proposal(None)
    window.side.show_page("inspector")


def clear_holds(window: Window) -> None:
    desk = window.desk
    held = [t.id for t in desk.plan.tasks.values() if t.hold]
    if held and desk.do(edits.clear_holds(desk.plan, held)):
        desk.told.emit(f"The holds of {len(held)} tasks are cleared.", "", True)


def new_resource(window: Window) -> None:
    window.side.show_resource(None)


# Looking


def look_at_build(window: Window) -> None:
    window.show_leg("build")


def look_at_link(window: Window) -> None:
    window.show_leg("link")
    window.link.main_part.setFocus()


def show_map(window: Window) -> None:
    window.show_leg("link")
    window.link.show_map(True)


def show_month(window: Window) -> None:
    window.show_month()


def toggle_strip(window: Window) -> None:
    window.show_leg("build")
    window.build.strip.toggle()


def put_on_strip(window: Window) -> None:
    desk, strip = window.desk, window.build.strip
    tasks = list(desk.selected()) or [desk.current or ""]
    on = strip.put(tasks)
    if strip.isHidden():
        strip.toggle()
    names = f"“{desk.plan.tasks[tasks[0]].name}”" if len(tasks) == 1 else f"{len(tasks)} tasks"
    desk.told.emit(f"{names} {'on' if on else 'off'} the milestone strip.", "", False)


def look_at_staff(window: Window) -> None:
    window.show_leg("staff")


def zoom_in(window: Window) -> None:
    window.chart.zoom(1.25)


def zoom_out(window: Window) -> None:
    window.chart.zoom(0.8)


def fit(window: Window) -> None:
    window.chart.fit()


def fit_selection(window: Window) -> None:
    desk = window.desk
    window.chart.fit_tasks(list(desk.selected()) or [desk.current or ""])


def go_to_today(window: Window) -> None:
    window.chart.go_to_moment(today())


def go_to_status(window: Window) -> None:
    project = window.desk.plan.projects.get(window.desk.project or "")
    if project is not None and project.status_date is not None:
        window.chart.go_to_moment(project.status_date)


def go_to_start(window: Window) -> None:
    window.chart.go_to_moment(window.chart.extent()[0])


def go_to_finish(window: Window) -> None:
    window.chart.go_to_moment(window.chart.extent()[1])


def show_task(window: Window) -> None:
    window.show_leg("build")
    window.chart.show_task(window.desk.current)


def next_part(window: Window) -> None:
    window.focus_next_part()


def toggle_fold(window: Window) -> None:
    desk = window.desk
    if desk.current:
        desk.fold(desk.current, desk.current not in desk.folded)


def fold_all(window: Window) -> None:
    window.desk.fold_all(True)


def unfold_all(window: Window) -> None:
    window.desk.fold_all(False)


def choose_text_size(window: Window) -> None:
    window.choose_text_size()


def toggle_theme(window: Window) -> None:
    window.toggle_theme()


def find(window: Window) -> None:
    window.find_box.setFocus()
    window.find_box.selectAll()


def open_menu(window: Window) -> None:
    window.open_menu()


def show_legend(window: Window) -> None:
    window.side.show_page("legend")


def show_keys(window: Window) -> None:
    window.side.show_page("keys")


def show_inspector(window: Window) -> None:
    window.side.show_page("inspector")


def show_paper(window: Window) -> None:
    window.show_paper()


# Walking the reasons


def why_finish(window: Window) -> None:
    """To the task that ends last, with the keyboard in the chain of its reasons."""
    desk = window.desk
    leaves = [t for t in desk.on_show.outline().tasks if not desk.plan.is_summary(t) and desk.schedule.has(t)]
    leaves = [t for t in leaves if desk.plan.tasks[t].project == desk.project]
    if not leaves:
        desk.told.emit("Nothing is planned yet.", "", False)
        return
    finish = desk.schedule.finish
    last = max(leaves, key=lambda t: (int(finish[desk.schedule.slots[t]]), not desk.plan.links_from(t), t))
    desk.go_to(last)
    window.side.show_page("inspector")
    inspector = window.side.inspector
    inspector.show_section("dates")
    inspector.focus_why()


def walk_back(window: Window) -> None:
    _walk(window, back=True)


def walk_on(window: Window) -> None:
    _walk(window, back=False)


def _walk(window: Window, *, back: bool) -> None:
    """Along a link, one that drives if there is one; else the one with the least room."""
    desk = window.desk
    current = desk.current or ""
    links = desk.plan.links_into(current) if back else desk.plan.links_from(current)
    if not links:
        desk.told.emit("It waits for nothing." if back else "Nothing waits for it.", "", False)
        return
    schedule = desk.schedule

    def closeness(link: Link) -> tuple[bool, int]:
        other = link.predecessor if back else link.successor
        at = schedule.slots[other]
        return not desk.is_driving(link), -int(schedule.finish[at]) if back else int(schedule.start[at])

    best = min(links, key=closeness)
    desk.go_to(best.predecessor if back else best.successor)


# The ripple of an edit


def show_moved(window: Window) -> None:
    window.side.show_page("ripple")


def toggle_asking(window: Window) -> None:
    desk = window.desk
    desk.set_asking(not desk.asks_first)
    said = "Every edit shows what it would do before it is done." if desk.asks_first else "Edits are done at once."
    desk.told.emit(said, "", False)
    window.registry.refresh()


def take_staged(window: Window) -> None:
    window.desk.take_staged()


# Views and chains


def ask_query(window: Window) -> None:
    window.show_leg("build")
    window.build.bar.query.setFocus()
    window.build.bar.query.selectAll()


def show_whole(window: Window) -> None:
    window.desk.on_show.show_chain(None)
    window.desk.on_show.show_view(PLAIN)


def keep_view(window: Window) -> None:
    window.side.show_view_form()
    window.side.view_form.first_line.setFocus()


def star_view(window: Window) -> None:
    on_show = window.desk.on_show
    view = replace(on_show.view, starred=not on_show.view.starred)
    on_show.keep_view(view)
    on_show.show_view(view)


def forget_view(window: Window) -> None:
    on_show = window.desk.on_show
    name = on_show.view.name
    on_show.forget_view(name)
    on_show.show_view(PLAIN)
    window.desk.told.emit(f"The view “{name}” is forgotten.", "", False)


def chain_all(window: Window) -> None:
    _show_chain(window, Reach.ALL)


def chain_before(window: Window) -> None:
    _show_chain(window, Reach.BEFORE)


def chain_after(window: Window) -> None:
    _show_chain(window, Reach.AFTER)


def chain_drivers(window: Window) -> None:
    _show_chain(window, Reach.DRIVERS)


def _show_chain(window: Window, reach: Reach) -> None:
    """Asked for again, it is every row again."""
    desk = window.desk
    wanted = Chain(desk.current, reach) if desk.current else None
    desk.on_show.show_chain(None if desk.on_show.chain == wanted else wanted)
