"""Levelling: published and random instances, our makespan and CP-SAT's after the same time on the same cores, as
the gap to the best known; and time to the first proposal."""

from __future__ import annotations

import os
from collections.abc import Iterator

from bench.plans import large_plan
from bench.timing import Row, aimed, timed_ms
from hexapod.schedule.engine import schedule
from hexapod.staffing.levelling.proposal import level
from tests.staffing.published import J301_1, OPTIMA, Instance, job_shop, project_instance, random_instance

TIMES = (1.0, 10.0)  # seconds
RANDOM = ((30, 1), (30, 2), (60, 1), (60, 2), (120, 1), (120, 2), (1000, 1))  # tasks, seed


def rows() -> Iterator[Row]:
    known: list[tuple[str, Instance, int | None]] = [(name, job_shop(name), best) for name, best in OPTIMA.items()]
    if (j301 := project_instance()) is not None:
        known.append(("j301_1", j301, J301_1))
    known += [(f"random {size} ({seed})", random_instance(size, seed), None) for size, seed in RANDOM]
    gaps: dict[float, list[float]] = {seconds: [] for seconds in TIMES}
    worst: dict[float, float] = dict.fromkeys(TIMES, 0.0)
    for name, instance, best in known:
        ours = {seconds: _ours(instance, seconds) for seconds in TIMES}
        theirs = {seconds: _theirs(instance, seconds) for seconds in TIMES}
        least = best if best is not None else min(x for x in (*ours.values(), *theirs.values()) if x is not None)
        for seconds in TIMES:
            gaps[seconds].append(100 * (ours[seconds] / least - 1))
            reference = theirs[seconds]
            if reference is not None:
                worst[seconds] = max(worst[seconds], 100 * (ours[seconds] / reference - 1))
            said = "no answer" if reference is None else f"{reference} ({100 * (reference / least - 1):.1f} %)"
            ratio = "" if reference is None else f"{ours[seconds] / reference:.3f}"
            mine = f"{ours[seconds]} ({gaps[seconds][-1]:.1f} %)"
            yield f"makespan of {name}, {seconds:g} s", mine, f"CP-SAT {said}", ratio
    for seconds in TIMES:
        mean = sum(gaps[seconds]) / len(gaps[seconds])
        yield f"mean gap to the best known, {seconds:g} s", f"{mean:.2f} %", "aim 2 % after 10 s", ""
        yield f"at most worse than CP-SAT, {seconds:g} s", f"{worst[seconds]:.2f} %", "aim 1 %", ""
    for size in (1_000, 10_000):
        now = schedule(large_plan(size))
        took = timed_ms(lambda n=now: level(n, within_float=True))
        yield aimed(f"first proposal within float, {size:,} tasks", took, 1000)


def _ours(instance: Instance, seconds: float) -> int:
    found = level(schedule(instance.plan()), within_float=False, seconds=seconds)
    assert found.finish_after is not None and not found.overloads_after
    return found.finish_after


def _theirs(instance: Instance, seconds: float) -> int | None:
    """The plain model: an interval a task, a cumulative constraint a resource."""
    from ortools.sat.python import cp_model

    model = cp_model.CpModel()
    longest = sum(instance.durations)
    starts = [model.new_int_var(0, longest, "") for _ in instance.durations]
    spans = [model.new_fixed_size_interval_var(s, d, "") for s, d in zip(starts, instance.durations, strict=True)]
    for i, successors in enumerate(instance.successors):
        for s in successors:
            model.add(starts[s] >= starts[i] + instance.durations[i])
    for r, capacity in enumerate(instance.capacity):
        mine = [i for i, d in enumerate(instance.durations) if d and instance.asks[i][r]]
        if capacity == 1:
            model.add_no_overlap([spans[i] for i in mine])
        else:
            model.add_cumulative([spans[i] for i in mine], [instance.asks[i][r] for i in mine], capacity)
    finish = model.new_int_var(0, longest, "")
    for s, d in zip(starts, instance.durations, strict=True):
        model.add(finish >= s + d)
    model.minimize(finish)
    solver = cp_model.CpSolver()
    solver.parameters.max_time_in_seconds = seconds
    solver.parameters.num_workers = os.cpu_count() or 1
    status = solver.solve(model)
    return int(solver.objective_value) if status in (cp_model.OPTIMAL, cp_model.FEASIBLE) else None
