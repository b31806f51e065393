"""What the actions of the Try leg do."""

from __future__ import annotations

from collections import Counter

from hexapod.desktop.host import Host
from hexapod.errors import HexapodError


def look_at_try(window: Host) -> None:
    window.show_leg("trying")


def show_scenarios(window: Host) -> None:
    window.show_part("scenarios", "trying")


def new_scenario(window: Host) -> None:
    """Ask for the name of a scenario of today's plan."""
    _ask_name(window, "")


def copy_scenario(window: Host) -> None:
    """Ask for the name of one that begins as the one that is looked at is."""
    _ask_name(window, window.desk.scenarios.chosen)


def _ask_name(window: Host, source: str) -> None:
    window.show_part("scenarios", "trying")
    window.side.open_now()
    window.side.show_page("scenario")
    window.side.pages["scenario"].ask_name(source)


def enter_scenario(window: Host) -> None:
    window.desk.scenarios.enter(window.desk.scenarios.chosen)


def leave_scenario(window: Host) -> None:
    window.desk.scenarios.leave()


def take_over(window: Host) -> None:
    """What it would do to the plan is shown, to be taken or left."""
    desk = window.desk
    work = desk.scenarios
    chosen = work.chosen if desk.scenario is None else desk.scenario.scenario
    try:
        work.take_over(chosen)
    except HexapodError as error:
        work.look_at(chosen)
        window.show_part("scenarios", "trying")
        window.side.open_now()
        window.side.pages["scenario"].refuse("take", error)


def drop_scenario(window: Host) -> None:
    desk = window.desk
    try:
        desk.scenarios.drop(desk.scenarios.chosen)
    except HexapodError as error:
        desk.told.emit(str(error), "trouble", False)


def show_ways(window: Host) -> None:
    """Ask for a milestone and a date, and look for ways to have it by then."""
    window.show_part("scenarios", "trying")
    window.side.open_now()
    if window.side.shown != "ways":
        window.side.show_page("ways")


def turn_differences(window: Host) -> None:
    """Where the plan has what the scenario moves, in the chart and the network."""
    window.desk.looks.turn_differences()
    shown = "shown" if window.desk.looks.shows_differences else "not shown"
    window.desk.told.emit(f"Where the plan has what a scenario moves is {shown}, dashed.", "", False)


def show_differing(window: Host) -> None:
    """Only the rows that a scenario moves or changes."""
    desk = window.desk
    differing = desk.scenarios.differing()
    if not differing:
        desk.told.emit("The scenario moves nothing and changes no row.", "", False)
        return
    counts = Counter(desk.plan.tasks[task].project for task in differing)
    if not counts[desk.project or ""]:
        desk.look_at_project(counts.most_common(1)[0][0])
    window.show_leg("build")
    desk.on_show.show_only(differing)


def show_range(window: Host) -> None:
    window.show_part("range", "trying")


def show_risks(window: Host) -> None:
    window.show_part("risks", "trying")


def run_rounds(window: Host) -> None:
    window.show_part("range", "trying")
    window.desk.chances.run_again()


def spread_estimates(window: Host) -> None:
    """Ranges for many rows, at the side of whatever is on show."""
    window.side.show_page("estimates")


def turn_band(window: Host) -> None:
    """Where each bar may end, in the chart; without rounds, how to have some is said."""
    desk = window.desk
    desk.looks.turn_band()
    shown = "shown" if desk.looks.shows_band else "not shown"
    words = f"Where bars may end, from 1 in 10 to 9 in 10, is {shown}."
    desk.told.emit(
        words if desk.chances.has_ranges else "Every length is certain so far: type a range, 3-8 d.", "", False
    )


def add_risk(window: Host) -> None:
    window.show_part("risks", "trying")
    window.desk.risks.look_at("")
    _show_form(window)


def change_risk(window: Host) -> None:
    window.show_part("risks", "trying")
    _show_form(window)


def show_risk_files(window: Host) -> None:
    window.show_part("risks", "trying")
    window.side.show_page("risk_files")


def show_scales(window: Host) -> None:
    """Where the bands of the matrix begin."""
    window.show_part("risks", "trying")
    window.side.show_form("risk_scales", "scaleChances")


def _show_form(window: Host) -> None:
    window.side.show_page("risk")
    page = window.side.pages["risk"]
    page.refresh_now()
