"""Compiling all kernels once, so that the window never waits for one."""

from __future__ import annotations

from pathlib import Path
from typing import TYPE_CHECKING

from hexapod.errors import BadFile

if TYPE_CHECKING:
    from hexapod.schedule.schedule import Schedule
    from hexapod.staffing.demand import Demand
    from hexapod.staffing.levelling.placing import Ground

# Each in a process of its own, once the passes are compiled; no two of them compile the same.
PARTS = ("search", "rounds", "placing", "load")


def warm() -> None:
    """Compile all kernels: the passes first, then the rest in as many processes as there are parts. ``BadFile`` if one
    fails."""
    from hexapod.system.children import start_python
    from hexapod.system.kernels import note_compiled, sweep_kernels

    sweep_kernels()
    warm_part("passes")
    children = [start_python("hexapod", "warm", "--part", part) for part in PARTS]
    for child in children:
        child.communicate()
    if any(child.returncode for child in children):
        raise BadFile("The kernels could not be compiled; the first edits will be slow.")
    note_compiled()


def warm_part(part: str) -> None:
    """``passes`` are what every edit runs, ``load`` what Staff shows, ``placing`` the first answer of levelling and
    ``search`` what looks for better ones, ``rounds`` what chances come from."""
    {"passes": _passes, "load": _load, "placing": _placing, "search": _search, "rounds": _rounds}[part]()


def _scheduled(name: str = "warm") -> Schedule:
    """A small plan that has some of everything."""
    from hexapod.formats.files import load
    from hexapod.schedule.engine import schedule

    return schedule(load(str(Path(__file__).parent / "demo" / f"{name}.json")))


def _passes() -> None:
    from hexapod.plan import edits
    from hexapod.plan.changes import diff
    from hexapod.schedule.engine import reschedule
    from hexapod.schedule.slack import link_slacks

    now = _scheduled()
    plan, task = now.plan, next(iter(now.plan.tasks))
    for edit in (
        edits.set_durations(plan, [task], plan.tasks[task].minutes + 60),
        edits.unlink(plan, list(plan.links)[:1]),
    ):
        after = edit.applied_to(plan)
        link_slacks(reschedule(now, after, diff(plan, after), keeping_gaps=True))
    now.shown()


def _load() -> None:
    import numpy as np

    from hexapod.staffing.demand import Demand
    from hexapod.staffing.load_table import load_table
    from hexapod.staffing.overloads import overloads
    from hexapod.staffing.reserved import span_of

    now = _scheduled()
    demand = Demand.of(now, now.plan)
    begin, end = span_of(now, now.plan)
    load_table(now, now.plan, demand, overloads(now, demand), np.linspace(begin, end, 9).astype(np.int64))


def _placing() -> None:
    from hexapod.staffing.levelling.bound import lower_bound
    from hexapod.staffing.levelling.placing import place_all
    from hexapod.staffing.levelling.proposal import wishes_of

    for free, demand, ground in map(_unheld, (False, True)):
        lower_bound(free, demand, ground)
        place_all(ground, wishes_of(free, ground)[0])


def _search() -> None:
    from hexapod.staffing.levelling.improving import Improver, SearchBudget
    from hexapod.staffing.levelling.proposal import wishes_of

    for within_float, name in ((False, "warm"), (True, "warm"), (False, "warm-shop")):
        free, _, ground = _unheld(within_float, name)
        least = [finish for finish in free.project_finish.values() if finish is not None]
        enough_room = 2 * max(least) - min(free.project_start.values())
        budget = SearchBudget(seconds=0.0, steps=5, seed=1)
        list(Improver(ground, wishes_of(free, ground), enough_room, None, least, budget).run())


def _unheld(within_float: bool, name: str = "warm") -> tuple[Schedule, Demand, Ground]:
    from hexapod.staffing.demand import Demand
    from hexapod.staffing.levelling.placing import Scope, movable_tasks
    from hexapod.staffing.levelling.proposal import unheld

    now = _scheduled(name)
    demand = Demand.of(now, now.plan)
    free, ground = unheld(now, demand, movable_tasks(now, Scope()), within_float, Scope())
    return free, demand, ground


def _rounds() -> None:
    from hexapod.outlook.levelled import simulate_levelled
    from hexapod.outlook.simulation import simulate

    now = _scheduled()
    simulate(now, 32)
    simulate_levelled(now, 32)
