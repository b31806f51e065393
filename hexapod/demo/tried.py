"""What is tried out in the demo: three ways through the spring, in which registration is short of people."""

from __future__ import annotations

from collections.abc import Callable
from functools import partial

from hexapod.outlook.hiring import hire
from hexapod.plan import edits
from hexapod.plan.outline import task_at
from hexapod.plan.plan import Plan
from hexapod.plan.records import DAY
from hexapod.scenarios import ScenarioSession, make_scenario
from hexapod.session import Session
from hexapod.worktime.clock import moment_of
from hexapod.worktime.lengths import parse_length

At = Callable[[str, int], int]
MORNING = 10 * 60
MADE_ON, CHANGED_ON = "2026-10-09", "2026-10-12"
TRIED_BY, CHANGED_BY = "Joss Ferro", "Nell Harrow"
RENEWED = "4.3"  # row of the roof that plan and scenario both change


def try_out(session: Session, store: str, roof: str, at: At) -> None:
    """Make the scenarios of the spring; the plan moves on after the last of them."""
    who, session.who = session.who, TRIED_BY
    session.workspace.clock = partial(moment_of, at(MADE_ON, 17 * 60 + 20))
    two = _made(session, "Two registrars", "Hire for March, when the collection is scanned in.")
    march = at("2027-03-01", 0) // DAY, at("2027-03-31", 0) // DAY
    two.apply(hire(two.plan, "rre", 2, march, 3200, store, march[1]))
    seat = next(r for r in two.plan.reservations.values() if (r.resource, r.project) == ("rre", roof))
    two.apply(edits.fill_project_seat(two.plan, seat.id, "eq", 1.0))
    held = _made(session, "Hold the roof", "The glasshouse waits until the store is moved.")
    held.apply(edits.put_on_hold(held.plan, roof))
    glaziers = _made(session, "Contract glaziers", "The new roof goes to a firm, at a fixed price.")
    rows = [_row(glaziers.plan, roof, f"3.{i}") for i in range(1, 4)]
    days = (at("2026-11-02", 0) // DAY, at("2027-01-29", 0) // DAY)
    glaziers.apply(edits.contract(glaziers.plan, rows, "Glazing firm", 640_000, days))
    glaziers.apply(edits.scale_scope(glaziers.plan, rows, 0.75))
    renewed = _row(glaziers.plan, roof, RENEWED)
    glaziers.apply(edits.set_durations(glaziers.plan, [renewed], parse_length("3d")))
    session.workspace.clock = partial(moment_of, at(CHANGED_ON, MORNING))
    session.who = CHANGED_BY
    session.apply(edits.set_durations(session.plan, [renewed], parse_length("6d")))
    paths = _row(session.plan, roof, "4.6")
    session.apply(edits.set_task(session.plan, paths, "Note on “Paths cleaned”", notes="Also the steps of the pond."))
    for scenario in (two, held):
        scenario.bring_up({})
    session.who = who


def _made(session: Session, name: str, note: str) -> ScenarioSession:
    found = ScenarioSession(session, make_scenario(session, name, note=note).id)
    found.compute()
    return found


def _row(plan: Plan, project: str, number: str) -> str:
    found = task_at(plan, project, number)
    assert found is not None
    return found
