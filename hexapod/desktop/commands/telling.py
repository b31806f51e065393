"""Telling how far the selected rows are, and up to when a project was told."""

from __future__ import annotations

from typing import TYPE_CHECKING

from hexapod.fields.actual import latest_actual
from hexapod.plan import edits
from hexapod.schedule.schedule import computed_dates

if TYPE_CHECKING:
    from hexapod.desktop.host import Host


def tell_done(window: Host) -> None:
    """Each ended where it was planned to, at most now."""
    desk = window.desk
    desk.do(edits.set_percent(desk.plan, desk.selected(), 100))


def tell_begun(window: Host) -> None:
    """Each that has not begun did so where it was planned to, at most now."""
    desk = window.desk
    known = computed_dates(desk.schedule)
    if known is None:
        return
    plan = desk.plan
    leaves = dict.fromkeys(t for row in desk.selected() for t in plan.branch(row) if not plan.is_summary(t))
    steps = []
    for task in leaves:
        if plan.tasks[task].actual_start is None:
            planned = int(known.planned.start[known.slots[task]])
            steps.append(edits.begin(plan, [task], min(planned, latest_actual(plan, plan.tasks[task].project))))
    if steps:
        desk.do(steps[0] if len(steps) == 1 else edits.together(f"{len(steps)} tasks begun", steps))


def tell_not_begun(window: Host) -> None:
    desk = window.desk
    desk.do(edits.take_back(desk.plan, desk.selected()))


def rest_as_planned(window: Host) -> None:
    """What is open in the round goes as planned; the round is shown first, so that nobody answers unseen."""
    if window.leg != "track":
        window.show_leg("track")
    else:
        window.track.work.rest_as_planned()


def take_round(window: Host) -> None:
    if window.leg != "track":
        window.show_leg("track")
    else:
        window.track.take()


def set_status(window: Host) -> None:
    """The form of the project, at its status date."""
    window.side.show_project(window.desk.project, "projectStatus")
