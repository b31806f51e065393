"""Compiling all kernels once, so that the window never waits for one."""

from __future__ import annotations

from pathlib import Path

from hexapod.errors import BadFile

PARTS = ("levelling", "shop", "load", "rounds")  # each in a process of its own, once the passes are compiled


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
    """``passes`` are what every edit runs, ``levelling`` and ``shop`` what a search does, ``load`` what Staff shows,
    ``rounds`` what chances come from."""
    import numpy as np

    from hexapod.formats.files import load
    from hexapod.plan import edits
    from hexapod.plan.changes import diff
    from hexapod.schedule.engine import reschedule, schedule
    from hexapod.schedule.slack import link_slacks
    from hexapod.staffing.demand import Demand
    from hexapod.staffing.levelling.proposal import level
    from hexapod.staffing.load_table import load_table
    from hexapod.staffing.overloads import overloads
    from hexapod.staffing.reserved import span_of

    name = "warm-shop" if part == "shop" else "warm"
    plan = load(str(Path(__file__).parent / "demo" / f"{name}.json"))
    now = schedule(plan)
    if part == "passes":
        task = next(iter(plan.tasks))
        for edit in (
            edits.set_durations(plan, [task], plan.tasks[task].minutes + 60),
            edits.unlink(plan, list(plan.links)[:1]),
        ):
            after = edit.applied_to(plan)
            link_slacks(reschedule(now, after, diff(plan, after), keeping_gaps=True))
    elif part == "rounds":
        from hexapod.outlook.levelled import simulate_levelled
        from hexapod.outlook.simulation import simulate

        simulate(now, 32)
        simulate_levelled(now, 32)
    elif part == "load":
        demand = Demand.of(now, plan)
        load_table(now, plan, demand, overloads(now, demand), np.array(span_of(now, plan)))
    else:
        level(now, within_float=True)
        level(now, within_float=False, steps=5)
