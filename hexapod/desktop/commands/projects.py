"""What the actions of the Tell leg do."""

from __future__ import annotations

from hexapod.desktop.host import Host
from hexapod.plan import edits
from hexapod.plan.kept import PROJECTS


def look_at_tell(window: Host) -> None:
    window.show_leg("telling")


def show_projects(window: Host) -> None:
    window.show_part("projects", "telling")


def show_milestones(window: Host) -> None:
    window.show_part("milestones", "telling")


def show_reports(window: Host) -> None:
    window.show_part("reports", "telling")


def write_report(window: Host) -> None:
    """The Monday report, or whichever was on show last, to a file."""
    from hexapod.formats.reports.files import ENDINGS, SLIDES

    show_reports(window)
    ending = window.desk.memory.recall("report_ending", str, SLIDES)
    window.telling["reports"].choose_file(ending if ending in ENDINGS else SLIDES)


def show_page(window: Host) -> None:
    window.show_part("page", "telling")


def show_requests(window: Host) -> None:
    window.show_part("requests", "telling")


def add_field(window: Host) -> None:
    """A form for an own field of projects."""
    window.side.show_field(None, PROJECTS)
    window.side.open_now()


def begin_request(window: Host) -> None:
    """An empty form for what somebody asks for."""
    show_requests(window)
    window.desk.requests.begin_new()


def show_approval(window: Host) -> None:
    """Who has to agree to the selected row, or asking for it."""
    window.side.show_page("approval")
    window.side.open_now()


def mark_outside(window: Host) -> None:
    _mark(window, True)


def mark_inside(window: Host) -> None:
    _mark(window, False)


def mark_as_above(window: Host) -> None:
    _mark(window, None)


def _mark(window: Host, outside: bool | None) -> None:
    """The selected rows, and with them what is below them."""
    desk = window.desk
    rows = desk.selected()
    if all(desk.plan.tasks[row].outside is outside for row in rows):
        desk.told.emit("That is so already.", "", False)
    else:
        desk.do(edits.mark_tasks(desk.plan, rows, outside))


def open_project(window: Host) -> None:
    """Into the project that is looked at; the way back is the leg itself, which stays where it was."""
    project = _chosen(window)
    if project is not None:
        window.desk.look_at_project(project)
        window.show_leg("build")
        window.grid.setFocus()


def show_thresholds(window: Host) -> None:
    """From when on projects are in doubt, and late."""
    window.side.show_page("thresholds")
    window.side.open_now()


def show_why(window: Host) -> None:
    """What the finish of the project that is looked at rests on."""
    project = _chosen(window)
    if project is not None:
        window.telling.why_asked.emit(project)


def _chosen(window: Host) -> str | None:
    """The project that is looked at; where there is none, the list is shown to choose one."""
    chosen = window.desk.portfolio.chosen
    if chosen in window.desk.plan.projects:
        return chosen
    show_projects(window)
    window.desk.told.emit("Choose a project in the list first.", "", False)
    return None
