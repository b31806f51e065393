"""What the actions of the Try leg do."""

from __future__ import annotations

from hexapod.desktop.host import Host


def look_at_try(window: Host) -> None:
    window.show_leg("trying")


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


def _show_form(window: Host) -> None:
    window.side.show_page("risk")
    page = window.side.pages["risk"]
    page.refresh_now()
