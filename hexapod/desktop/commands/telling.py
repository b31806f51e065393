"""Telling how far the selected rows are, and up to when a project was told."""

from __future__ import annotations

from typing import TYPE_CHECKING

from hexapod.control.worked import is_forgotten
from hexapod.desktop.models.progress import begin_as_planned
from hexapod.plan import edits
from hexapod.worktime import clock

if TYPE_CHECKING:
    from hexapod.desktop.host import Host


def tell_done(window: Host) -> None:
    """Each ended where it was planned to, at most now."""
    desk = window.desk
    desk.do(edits.set_percent(desk.plan, desk.selected(), 100))


def tell_begun(window: Host) -> None:
    """Each that has not begun did so where it was planned to, at most now."""
    edit = begin_as_planned(window.desk, window.desk.selected())
    if edit is None:
        window.desk.told.emit("Nothing here is still to begin.", "", False)
    else:
        window.desk.do(edit)


def tell_not_begun(window: Host) -> None:
    desk, plan = window.desk, window.desk.plan
    if any(plan.tasks[t].actual_start is not None for row in desk.selected() for t in plan.branch(row)):
        desk.do(edits.take_back(plan, desk.selected()))
    else:
        desk.told.emit("Nothing here has begun.", "", False)


def rest_as_planned(window: Host) -> None:
    """What is open in the round goes as planned; the round is shown first, so that nobody answers unseen."""
    if window.leg != "track" or window.track.part != "round":
        window.show_part("round")
    else:
        window.track.work.rest_as_planned()


def take_round(window: Host) -> None:
    if window.leg != "track" or window.track.part != "round":
        window.show_part("round")
    else:
        window.track.take()


def show_round(window: Host) -> None:
    window.show_part("round")


def show_mine(window: Host) -> None:
    window.show_part("mine")


def show_stages(window: Host) -> None:
    window.show_part("stages")


def show_attention(window: Host) -> None:
    window.show_part("attention")


def show_hours(window: Host) -> None:
    window.show_part("hours")


def log_hours(window: Host) -> None:
    """The line in which hours on the selected task are logged, at the side of whatever is on show."""
    window.side.show_log()


def turn_clock(window: Host) -> None:
    """Start the clock on the selected task; stop it, where it runs on that."""
    work, task = window.desk.hours, window.desk.current
    running = work.running
    if task is None or window.desk.is_read_only:
        return
    if running is not None and (running.task == task or is_forgotten(running, clock.now())):
        log_hours(window) if is_forgotten(running, clock.now()) else work.stop_clock()
    elif window.desk.plan.is_summary(task):
        window.desk.told.emit("The clock runs on a task, not on a branch.", "", False)
    else:
        work.start_clock(task)


def show_log_files(window: Host) -> None:
    """Hours from files and into them, beside the hours."""
    window.show_part("hours")
    window.side.show_page("log_files")


def show_money(window: Host) -> None:
    window.show_part("money")


def show_figure(window: Host) -> None:
    """What the figure that is looked at is made of, beside the money."""
    window.show_part("money")
    window.side.show_page("money")


def edit_entry(window: Host) -> None:
    """The form of an entry of money: of the one that was pressed, else of a new one."""
    window.side.show_form("entry", "entryName")
    window.desk.money.editing = ""


def edit_budget(window: Host) -> None:
    window.side.show_form("budget", "budgetAmount")
    window.desk.money.editing = ""


def show_value(window: Host) -> None:
    window.show_part("value")


def show_value_figure(window: Host) -> None:
    window.show_part("value")
    window.side.show_page("value")


def show_drift(window: Host) -> None:
    window.show_part("drift")


def show_baselines(window: Host) -> None:
    """The baselines of the project, beside what they are measured by."""
    if window.leg != "track" or window.track.part not in ("drift", "value"):
        window.show_part("drift")
    window.side.show_page("baselines")


def show_notices(window: Host) -> None:
    """Notices, beside what needs somebody."""
    window.show_part("attention")
    window.side.show_page("notices")


def edit_stages(window: Host) -> None:
    """What the stages are, beside the board."""
    window.show_part("stages")
    window.side.show_page("stages")


def put_on_board(window: Host) -> None:
    """The leaves of the selected rows are cards, or are not any more."""
    window.desk.stages.toggle(window.desk.selected())


def show_card(window: Host) -> None:
    """From a row to its card; one that is not on the board says so."""
    desk = window.desk
    task = desk.plan.tasks.get(desk.current or "")
    if task is None or not task.on_board or desk.plan.is_summary(task.id):
        desk.told.emit("This row has no card on the board.", "", False)
    else:
        desk.stages.show(project="")
        window.show_card(task.id)


def show_forms(window: Host) -> None:
    """Telling without the program: the folder with forms, and what came back."""
    window.show_part("round")
    window.side.show_page("forms")


def set_status(window: Host) -> None:
    """The form of the project, at its status date."""
    window.side.show_project(window.desk.project, "projectStatus")
