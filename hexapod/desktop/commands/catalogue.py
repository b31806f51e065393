"""The actions of the program."""

from __future__ import annotations

from collections.abc import Callable
from typing import TYPE_CHECKING

from hexapod.desktop.action import Action
from hexapod.desktop.commands import changing, projects, telling, trying, viewing
from hexapod.desktop.models import hints
from hexapod.desktop.theme.measures import density
from hexapod.schedule.schedule import computed_dates

if TYPE_CHECKING:
    from hexapod.desktop.models.desk import Desk


def _selected(desk: Desk) -> bool:
    return bool(desk.selected()) and not desk.is_read_only


def _writable(desk: Desk) -> bool:
    return not desk.is_read_only


def _in_project(desk: Desk) -> bool:
    return desk.project is not None and _writable(desk)


def _in_project_read(desk: Desk) -> bool:
    return desk.project is not None and desk.is_computed


def _several(desk: Desk) -> bool:
    return len(desk.selected()) > 1 and _writable(desk)


def _linked(desk: Desk) -> bool:
    return _writable(desk) and desk.plan.is_whole and any(desk.plan.links_into(t) for t in desk.selected())


def _levelled(desk: Desk) -> bool:
    return desk.is_computed and bool(desk.plan.assignments) and _writable(desk)


def _held(desk: Desk) -> bool:
    dates = computed_dates(desk.schedule)
    return _writable(desk) and dates is not None and bool((dates.network.tasks.hold * dates.network.tasks.alive).any())


def _limited(desk: Desk) -> bool:
    return _writable(desk) and any(desk.plan.tasks[t].limits for t in desk.selected())


def _proposed(desk: Desk) -> bool:
    return desk.proposal is not None and _writable(desk)


def _one(desk: Desk) -> bool:
    return desk.current in desk.plan.tasks


def _splittable(desk: Desk) -> bool:
    task = desk.plan.tasks.get(desk.current or "")
    return task is not None and _writable(desk) and task.minutes > 0 and not desk.plan.is_summary(task.id)


def _in_network(desk: Desk) -> bool:
    return _one(desk) and desk.is_computed


def _has_status(desk: Desk) -> bool:
    project = desk.plan.projects.get(desk.project or "")
    return project is not None and project.status_date is not None


def _staged(desk: Desk) -> bool:
    return desk.staging.on_show is not None


def _density_words(desk: Desk) -> str:
    return "Close rows" if density() == "roomy" else "Roomy rows"


def _hint_words(desk: Desk) -> str:
    return "No more hints" if hints.are_wanted() else "Hints for what is next"


def _asking_words(desk: Desk) -> str:
    return "Do edits at once again" if desk.staging.asks_first else "Look before each edit"


def _narrowed(desk: Desk) -> bool:
    return desk.on_show.is_narrowed or not desk.on_show.view.is_outline


def _kept_view(desk: Desk) -> bool:
    return any(v.name == desk.on_show.view.name for v in desk.on_show.kept)


def _can_leave(desk: Desk) -> bool:
    return _selected(desk) and len(desk.plan.projects) > 1


def _repeatable(desk: Desk) -> bool:
    task = desk.plan.tasks.get(desk.current or "")
    return task is not None and _writable(desk) and (bool(task.repeats) or not desk.plan.is_summary(task.id))


def _named(verb: str, words: str) -> Callable[[Desk], str]:
    def name(desk: Desk) -> str:
        what = getattr(desk.session, words)
        return f"{verb}: {what}" if what else verb

    return name


def _can_undo(desk: Desk) -> bool:
    return desk.session.undo_words is not None and _writable(desk)


def _can_redo(desk: Desk) -> bool:
    return desk.session.redo_words is not None and _writable(desk)


def _tryable(desk: Desk) -> bool:
    return desk.home.is_computed and not desk.home.workspace.read_only and desk.past is None


def _scenario(desk: Desk) -> bool:
    return _tryable(desk) and desk.scenarios.scenario is not None


def _enterable(desk: Desk) -> bool:
    return desk.home.is_computed and desk.scenarios.scenario is not None and desk.scenario is None


def _in_scenario(desk: Desk) -> bool:
    return desk.scenario is not None


BEGIN_A_GROUP = frozenset((
    "workspace.copy", "notices", "requests.new", "workspace.close",
    "template.start", "project.delete", "telling.projects", "projects.open",
    "edit.moved", "edit.copy", "edit.replace",
    "row.outdent", "row.project", "row.strip",
    "row.back", "walk.why", "chain.all", "look.paths",
    "round.rest", "tell.status", "track.round", "hours.log", "approvals.show",
    "look.build", "look.part", "look.density",
    "track.hours", "track.money", "track.drift", "track.value",
    "look.in", "look.today",
    "view.keep", "outside.mark", "look.fold",
    "staff.add", "staff.its_load",
    "scenario.enter", "scenario.ways",
    "range.run", "risks.add", "risks.scales",
    "help.legend", "help.hints",
))  # fmt: skip
"""Above each of these a line parts the main menu."""


ACTIONS: tuple[Action, ...] = (
    Action("workspace.new", "New workspace…", changing.new_workspace, "Workspace", "Ctrl+Shift+N", "file-plus"),
    Action("workspace.open", "Open workspace…", changing.open_workspace, "Workspace", "Ctrl+O", "folder-open"),
    Action("workspace.copy", "Save a copy…", changing.save_copy, "Workspace", "Ctrl+Shift+S", "copy"),
    Action("workspace.import", "Import…", changing.import_file, "Workspace", "Ctrl+Shift+I", enabled=_in_project),
    Action("workspace.export", "Export…", changing.export, "Workspace", "Ctrl+E"),
    Action("workspace.print", "Print and pictures…", viewing.show_paper, "Workspace", "Ctrl+P",
           enabled=_in_project_read),
    Action("notices", "Notices…", telling.show_notices, "Workspace", ""),
    Action("workspace.kept", "Tell that all is saved", changing.reassure, "Workspace", "Ctrl+S", "save"),
    Action("project.new", "New project…", changing.new_project, "Project", "Ctrl+N", "plus", enabled=_writable),
    Action(
        "project.edit", "Project details…", changing.edit_project, "Project", "Ctrl+D", "flag", enabled=_in_project
    ),
    Action("project.all", "All projects", changing.show_projects, "Project", "Ctrl+Shift+O"),
    Action("template.start", "Start from a template…", changing.start_template, "Project", "Ctrl+Shift+T",
           enabled=_writable),
    Action("template.save", "Save as a template…", changing.save_as_template, "Project", "", enabled=_in_project),
    Action("project.delete", "Delete project", changing.delete_project, "Project", "", "trash-2", enabled=_in_project),
    Action(
        "edit.undo", "Undo", changing.undo, "Edit", "Ctrl+Z", "undo-2", toolbar="history",
        enabled=_can_undo, name=_named("Undo", "undo_words"),
    ),
    Action(
        "edit.redo", "Redo", changing.redo, "Edit", "Ctrl+Shift+Z or Ctrl+Y", "redo-2", toolbar="history",
        enabled=_can_redo, name=_named("Redo", "redo_words"),
    ),
    Action("edit.history", "History", changing.show_history, "Edit", "Ctrl+H", "history"),
    Action("edit.moved", "What just moved", viewing.show_moved, "Edit", "F5"),
    Action("edit.ask", "Look before each edit", viewing.toggle_asking, "Edit", "Shift+F5", name=_asking_words),
    Action("edit.take", "Carry out the edit on show", viewing.take_staged, "Edit", "Ctrl+Alt+Return", enabled=_staged),
    Action("edit.copy", "Copy", changing.copy_rows, "Edit", "(Ctrl+C)", "copy", ("row",), enabled=_one),
    Action("edit.lines", "Copy as lines", changing.copy_lines, "Edit", "Ctrl+Shift+C", enabled=_one),
    Action(
        "edit.paste", "Paste", changing.paste_rows, "Edit", "(Ctrl+V)", "clipboard-paste", ("row",),
        enabled=_in_project,
    ),
    Action("edit.fill", "Fill down", changing.fill_down, "Edit", "Ctrl+Shift+Down", "", ("row",), enabled=_several),
    Action("edit.replace", "Find and replace…", changing.replace_text, "Edit", "Ctrl+Shift+H", enabled=_in_project),
    Action("row.above", "Add a row above", changing.add_above, "Row", "Ins", "plus", ("row",), enabled=_selected),
    Action(
        "row.below", "Add a row below", changing.add_below, "Row", "Ctrl+Return", "plus", ("row",), "rows",
        enabled=_in_project,
    ),
    Action("row.edit", "Change the cell", changing.edit_cell, "Row", "F2", "", ("row",), enabled=_one),
    Action(
        "row.delete", "Delete rows", changing.delete_rows, "Row", "Del", "trash-2", ("row",), "rows",
        enabled=_selected,
    ),
    Action(
        "row.outdent", "A level up", changing.outdent, "Row", "Alt+Left", "indent-decrease", ("row",), "rows",
        enabled=_selected,
    ),
    Action(
        "row.indent", "A level down", changing.indent, "Row", "Alt+Right", "indent-increase", ("row",), "rows",
        enabled=_selected,
    ),
    Action("row.up", "Move up", changing.move_up, "Row", "Alt+Up", "arrow-up", ("row",), "rows", enabled=_selected),
    Action(
        "row.down", "Move down", changing.move_down, "Row", "Alt+Down", "arrow-down", ("row",), "rows",
        enabled=_selected,
    ),
    Action(
        "link.chain", "Link in a chain", changing.link_chain, "Links", "Ctrl+L", "link", ("row",), "links",
        enabled=_several,
    ),
    Action(
        "link.remove", "Remove what these wait for", changing.remove_links, "Links", "Ctrl+Shift+L", "unlink",
        ("row",), "links", enabled=_linked,
    ),
    Action(
        "row.unlimit", "Lift the limits", changing.lift_limits, "Links", "Ctrl+Shift+D", "pin-off", ("row",),
        enabled=_limited,
    ),
    Action("row.back", "Plan back from a date…", changing.plan_back, "Links", "Ctrl+B", "", ("row", "chart"),
           enabled=_one),
    Action("row.project", "Move to another project…", changing.move_to_project, "Row", "Ctrl+Shift+M", "", ("row",),
           enabled=_can_leave),
    Action("row.repeat", "Repeat…", changing.repeat, "Row", "Ctrl+R", "", ("row",), enabled=_repeatable),
    Action("row.split", "Split in two…", changing.split_row, "Row", "Ctrl+Alt+S", "", ("row", "chart"),
           enabled=_splittable),
    Action("tell.done", "Done, as planned", telling.tell_done, "Progress", "Ctrl+Alt+D", "", ("row", "chart"),
           enabled=_selected),
    Action("tell.begun", "Begun, as planned", telling.tell_begun, "Progress", "Ctrl+Alt+B", "", ("row", "chart"),
           enabled=_selected),
    Action("tell.not_begun", "Not begun", telling.tell_not_begun, "Progress", "Ctrl+Alt+N", "", ("row", "chart"),
           enabled=_selected),
    Action("round.rest", "The rest of the round as planned", telling.rest_as_planned, "Progress", "Ctrl+Alt+R",
           enabled=_in_project),
    Action("round.take", "Take the round", telling.take_round, "Progress", "Ctrl+Alt+T", enabled=_in_project),
    Action("forms", "Forms to tell by…", telling.show_forms, "Progress", "Ctrl+Alt+F", enabled=_in_project),
    Action("tell.status", "Status date…", telling.set_status, "Progress", "Ctrl+Alt+U", "", ("chart",),
           enabled=_in_project),
    Action("look.month", "Month", viewing.show_month, "View", "Ctrl+Shift+Y", "calendar"),
    Action("look.strip", "Milestone strip", viewing.toggle_strip, "View", "Ctrl+Shift+X"),
    Action("look.baseline", "Baseline under the bars, or not", viewing.turn_baseline, "Hours and money", "Ctrl+Shift+U",
           "", ("chart",)),
    Action("row.strip", "On the milestone strip, or off it", viewing.put_on_strip, "Row", "", "", ("row",),
           enabled=_one),
    Action("walk.why", "Why it finishes when it does", viewing.why_finish, "Links", "Ctrl+W", enabled=_in_project_read),
    Action("walk.back", "Go to what drives it", viewing.walk_back, "Links", "Ctrl+Alt+Left", "", ("row",),
           enabled=_in_network),
    Action("walk.on", "Go to what it drives", viewing.walk_on, "Links", "Ctrl+Alt+Right", "", ("row",),
           enabled=_in_network),
    Action("look.calendars", "Calendars", viewing.show_calendars, "Time", "Ctrl+Shift+K", "calendar"),
    Action("look.columns", "Columns and fields", viewing.show_columns, "View", "Ctrl+Shift+F", "", ("chart",)),
    Action("view.ask", "Show only rows of which… is true", viewing.ask_query, "Rows", "Ctrl+F", "search", ("chart",)),
    Action("view.whole", "Show the whole outline", viewing.show_whole, "Rows", "Ctrl+Shift+Home", enabled=_narrowed),
    Action("view.keep", "Keep this view…", viewing.keep_view, "Rows", "Ctrl+Shift+V"),
    Action("view.star", "A favourite or not", viewing.star_view, "Rows", "", enabled=_kept_view),
    Action("view.forget", "Forget this view", viewing.forget_view, "Rows", "", enabled=_kept_view),
    Action("chain.all", "Only its chain, before and after", viewing.chain_all, "Links", "Ctrl+J", "", ("row", "chart"),
           enabled=_in_network),
    Action("chain.before", "Only what is before it", viewing.chain_before, "Links", "", "", ("row",),
           enabled=_in_network),
    Action("chain.after", "Only what is after it", viewing.chain_after, "Links", "", "", ("row",), enabled=_in_network),
    Action("chain.drivers", "Only what drives it", viewing.chain_drivers, "Links", "Ctrl+Shift+J", "", ("row", "chart"),
           enabled=_in_network),
    Action("look.paths", "Float paths", viewing.show_float_paths, "Links", "Shift+F7"),
    Action("look.soundness", "Is the plan sound?", viewing.show_soundness, "Links", "F7"),
    Action(
        "level.float", "Level, finish stays", changing.level_within_float, "Staff", "F8", "scale", enabled=_levelled
    ),
    Action("level.free", "Level, finish may move", changing.level_freely, "Staff", "Shift+F8", enabled=_levelled),
    Action(
        "level.accept", "Accept the proposal", changing.accept_proposal, "Staff", "Ctrl+Shift+Return", "check",
        enabled=_proposed,
    ),
    Action("level.dismiss", "Dismiss the proposal", changing.dismiss_proposal, "Staff", "Ctrl+Shift+Backspace", "x",
           enabled=_proposed),
    Action("level.clear", "Clear all holds", changing.clear_holds, "Staff", "Ctrl+Shift+F8", "eraser", enabled=_held),
    Action("staff.add", "Add a person or equipment…", changing.new_resource, "Staff", "Ctrl+Shift+P", "user-plus",
           enabled=_writable),
    Action("staff.seats", "Open seats", changing.show_seats, "Staff", "Ctrl+Shift+G"),
    Action("staff.reserve", "Reserve for a project…", changing.show_reservations, "Staff", "Ctrl+Shift+R"),
    Action("staff.its_load", "Go to its load", changing.show_its_load, "Staff", "Ctrl+Alt+L", "", ("row", "chart"),
           enabled=_one),
    Action("staff.pool", "People in and out: table, directory…", changing.show_pool, "Staff", "Ctrl+Alt+P"),
    Action("staff.guard", "Capacity guard on or off", changing.turn_guard, "Staff", "Ctrl+Alt+G", enabled=_writable),
    Action("look.build", "Build", viewing.look_at_build, "View", "Ctrl+1"),
    Action("look.link", "Link", viewing.look_at_link, "View", "Ctrl+2"),
    Action("link.map", "Draw the plan back from a date", viewing.show_map, "Links", "Ctrl+Shift+B", "", ("row",),
           enabled=_in_project),
    Action("look.staff", "Staff", viewing.look_at_staff, "View", "Ctrl+3"),
    Action("look.track", "Track", viewing.look_at_track, "View", "Ctrl+4"),
    Action("track.round", "Round", telling.show_round, "Progress", "Ctrl+Alt+1"),
    Action("track.mine", "Mine", telling.show_mine, "Progress", "Ctrl+Alt+2"),
    Action("track.stages", "Stages", telling.show_stages, "Progress", "Ctrl+Alt+3"),
    Action("track.attention", "Attention", telling.show_attention, "Progress", "Ctrl+Alt+4"),
    Action("track.hours", "Hours", telling.show_hours, "Hours and money", "Ctrl+Alt+5"),
    Action("hours.log", "Log hours…", telling.log_hours, "Progress", "Ctrl+Alt+H", "", ("row", "chart"), enabled=_one),
    Action("hours.clock", "Start or stop the clock", telling.turn_clock, "Progress", "Ctrl+Alt+C", "", ("row", "chart"),
           enabled=_one),
    Action("hours.files", "Hours in and out…", telling.show_log_files, "Hours and money", ""),
    Action("track.money", "Money", telling.show_money, "Hours and money", "Ctrl+Alt+6"),
    Action("money.figure", "What a figure is made of", telling.show_figure, "Hours and money", "", enabled=_in_project),
    Action("money.entry", "An entry of money…", telling.edit_entry, "Hours and money", "Ctrl+Alt+E",
           enabled=_in_project),
    Action("money.budget", "A budget…", telling.edit_budget, "Hours and money", "", enabled=_in_project),
    Action("track.drift", "Drift", telling.show_drift, "Hours and money", "Ctrl+Alt+7"),
    Action("drift.baselines", "Baselines…", telling.show_baselines, "Hours and money", "Ctrl+Alt+V",
           enabled=_in_project),
    Action("track.value", "Value", telling.show_value, "Hours and money", "Ctrl+Alt+8"),
    Action("value.figure", "What a figure of value is made of", telling.show_value_figure, "Hours and money", "",
           enabled=_in_project),
    Action("look.try", "Try", trying.look_at_try, "View", "Ctrl+5"),
    Action("trying.scenarios", "Scenarios", trying.show_scenarios, "Scenarios", "Ctrl+Alt+Y"),
    Action("scenario.new", "New scenario of today's plan…", trying.new_scenario, "Scenarios", "Ctrl+Alt+X",
           enabled=_tryable),
    Action("scenario.copy", "New scenario like this one…", trying.copy_scenario, "Scenarios", "", enabled=_scenario),
    Action("scenario.enter", "Work in the scenario", trying.enter_scenario, "Scenarios", "", enabled=_enterable),
    Action("scenario.leave", "Back to the plan", trying.leave_scenario, "Scenarios", "Alt+Home", enabled=_in_scenario),
    Action("scenario.take", "Take the scenario over…", trying.take_over, "Scenarios", "", enabled=_scenario),
    Action("scenario.drop", "Drop the scenario", trying.drop_scenario, "Scenarios", "", enabled=_scenario),
    Action("scenario.ways", "What would it take…", trying.show_ways, "Scenarios", "Ctrl+Alt+W", enabled=_tryable),
    Action("scenario.differences", "Where the plan has it, or not", trying.turn_differences, "Scenarios", "Ctrl+Alt+O",
           "", ("chart",), enabled=_in_scenario),
    Action("scenario.differing", "Only rows that differ from the plan", trying.show_differing, "Scenarios",
           "Ctrl+Alt+Q", "", ("chart",), enabled=_in_scenario),
    Action("trying.range", "Range", trying.show_range, "Chances", "Ctrl+Alt+9"),
    Action("trying.risks", "Risks", trying.show_risks, "Chances", "Ctrl+Alt+0"),
    Action("range.run", "Go the rounds again", trying.run_rounds, "Chances", "Ctrl+Shift+F9", enabled=_in_project),
    Action("range.spread", "Estimates for many rows…", trying.spread_estimates, "Chances", "Ctrl+Alt+M",
           enabled=_in_project),
    Action("look.band", "Where bars may end, or not", trying.turn_band, "Chances", "Ctrl+Alt+A", "", ("chart",)),
    Action("risks.add", "Add to the register…", trying.add_risk, "Chances", "Ctrl+Alt+I", enabled=_in_project),
    Action("risks.form", "Change an entry of the register…", trying.change_risk, "Chances", enabled=_in_project),
    Action("risks.scales", "Scales of the matrix…", trying.show_scales, "Chances", ""),
    Action("risks.files", "The register in and out…", trying.show_risk_files, "Chances", ""),
    Action("look.tell", "Tell", projects.look_at_tell, "View", "Ctrl+6"),
    Action("telling.projects", "Projects at a glance", projects.show_projects, "Project", "Ctrl+Alt+Z"),
    Action("telling.milestones", "Milestones of all projects", projects.show_milestones, "Project", "Ctrl+Alt+;"),
    Action("telling.reports", "Reports", projects.show_reports, "Project", "Ctrl+Alt+,"),
    Action("report.write", "Write the report…", projects.write_report, "Project", "Ctrl+Alt+."),
    Action("telling.page", "The page to read", projects.show_page, "Project", "Ctrl+Alt+/"),
    Action("telling.requests", "Requests", projects.show_requests, "Project", "Ctrl+Alt+'"),
    Action("requests.new", "A request…", projects.begin_request, "Workspace", ""),
    Action("approvals.show", "Approval…", projects.show_approval, "Progress", "", "", ("row", "chart"), enabled=_one),
    Action("outside.mark", "People outside may see it", projects.mark_outside, "Rows", "", "", ("row", "chart"),
           enabled=_selected),
    Action("outside.unmark", "It stays inside", projects.mark_inside, "Rows", "", "", ("row", "chart"),
           enabled=_selected),
    Action("outside.follow", "Seen as what is above it", projects.mark_as_above, "Rows", "", "", ("row", "chart"),
           enabled=_selected),
    Action("projects.open", "Open the project that is looked at", projects.open_project, "Project", ""),
    Action("projects.thresholds", "When projects are late…", projects.show_thresholds, "Workspace", ""),
    Action("projects.field", "A field of projects…", projects.add_field, "Workspace", "", enabled=_writable),
    Action("projects.why", "Why that project finishes then", projects.show_why, "Project", ""),
    Action("board.put", "On the board, or off it", telling.put_on_board, "Row", "Ctrl+Alt+K", "", ("row", "chart"),
           enabled=_selected),
    Action("board.card", "Show its card", telling.show_card, "Row", "Ctrl+Alt+J", "", ("row", "chart"),
           enabled=_one),
    Action("board.stages", "The stages…", telling.edit_stages, "Workspace"),
    Action("workspace.close", "Close", changing.close_window, "Workspace", "Ctrl+Q", "log-out"),
    Action("look.in", "Zoom in", viewing.zoom_in, "Time", "Ctrl++ or Ctrl+=", "zoom-in", ("chart",), "time"),
    Action("look.out", "Zoom out", viewing.zoom_out, "Time", "Ctrl+-", "zoom-out", ("chart",), "time"),
    Action("look.fit", "Fit the project", viewing.fit, "Time", "Ctrl+0", "maximize", ("chart",), "time"),
    Action("look.fit_rows", "Fit the selected rows", viewing.fit_selection, "Time", "Ctrl+Shift+0", "",
           ("row", "chart"), enabled=_one),
    Action("look.today", "Go to today", viewing.go_to_today, "Time", "Ctrl+T", "", ("chart",)),
    Action("look.status", "Go to the status date", viewing.go_to_status, "Time", "", "", ("chart",),
           enabled=_has_status),
    Action("look.start", "Go to the start", viewing.go_to_start, "Time", "Ctrl+Home", "", ("chart",)),
    Action("look.finish", "Go to the finish", viewing.go_to_finish, "Time", "Ctrl+End", "", ("chart",)),
    Action("look.task", "Go to the task in the chart", viewing.show_task, "Time", "Ctrl+G", "crosshair",
           ("row", "chart"), enabled=_one),
    Action("look.fold", "Fold or unfold", viewing.toggle_fold, "Rows", "Ctrl+Space", "", ("row",), enabled=_one),
    Action("look.fold_all", "Fold all", viewing.fold_all, "Rows", "Ctrl+Shift+-", "fold-vertical", (), "fold"),
    Action("look.unfold_all", "Unfold all", viewing.unfold_all, "Rows", "Ctrl+Shift++ or Ctrl+Shift+=",
           "unfold-vertical", (), "fold"),
    Action("look.part", "Go to the next part of the window", viewing.next_part, "View", "F6"),
    Action("look.side", "Fold or open the side", viewing.turn_side, "View", "F12"),
    Action("look.density", "Rows", viewing.turn_density, "View", "Ctrl+F9", name=_density_words),
    Action("look.text", "Size of text", viewing.choose_text_size, "View", "Shift+F9"),
    Action("look.theme", "Light or dark", viewing.toggle_theme, "View", "F9", "sun-moon"),
    Action("help.find", "Find a task or an action", viewing.find, "Help", "Ctrl+K", "search"),
    Action("help.menu", "Open the menu", viewing.open_menu, "Help", "F10", "menu"),
    Action("help.legend", "Legend", viewing.show_legend, "Help", "F4"),
    Action("help.guide", "Guide", viewing.show_guide, "Help", "F1", "book-open"),
    Action("help.keys", "Keys", viewing.show_keys, "Help", "Shift+F1", "keyboard"),
    Action("help.hints", "Hints", viewing.turn_hints, "Help", "", name=_hint_words),
    Action("help.name", "Your name…", changing.your_name, "Help", ""),
    Action("help.inspector", "Inspector", viewing.show_inspector, "Help", "F3", "info"),
)  # fmt: skip
