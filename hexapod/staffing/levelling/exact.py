"""Constraint programming beside the search, in a process of its own: it proves how early a plan can end at best, and
finishes small plans to the optimum.

Source: the CP-SAT solver of OR-Tools (cumulative and disjunctive constraints with lazy clause generation; Schutt,
Feydy, Stuckey and Wallace, "Explaining the cumulative propagator", 2011). It takes a while to load, so it is imported
in that process only. For plans in which all work the same time; of others it says nothing.
"""

from __future__ import annotations

import importlib.util
import io
import itertools
import json
import sys
import threading
from typing import TYPE_CHECKING, Any, NamedTuple

import numpy as np

from hexapod.schedule.codes import CLOSE as CLOSE_ARC
from hexapod.schedule.codes import FF, FS, SF
from hexapod.staffing.levelling.kinds import CLOSE, SPAN
from hexapod.system.children import start_python

if TYPE_CHECKING:
    from hexapod.staffing.levelling.grid import Grid
    from hexapod.worktime.calendars import Ints

MOST_NODES = 3000
_SENT = (
    "kind", "duration", "base", "finish_from", "fixed", "into", "source", "arc_kind", "lag", "ask_into",
    "ask_resource", "ask_units", "capacity", "project",
)  # fmt: skip


WITHOUT = "OR-Tools is not installed (pip install hexapod[bounds]): how much better it could get is not looked for."


def is_there() -> bool:
    """Whether the solver is installed; it is an extra."""
    return importlib.util.find_spec("ortools") is not None


def is_fit(grid: Grid) -> bool:
    """Whether the solver can be asked: one calendar, nothing that stretches, nothing fixed behind something else."""
    one_time = grid.work.shape[0] == 1 and grid.work[0, -1] == grid.work.shape[1] - 1
    bound = np.diff(grid.into) > 0
    fixed = (grid.fixed >= 0) & bound
    return bool(one_time and len(grid.kind) <= MOST_NODES and (grid.kind != SPAN).all() and not fixed.any())


class Answer(NamedTuple):
    """The best that is known so far: the projects' finishes sum up to no less than ``bound`` slots; ``starts`` by
    node with that sum, if any."""

    bound: int
    finish: int | None
    starts: Ints | None
    is_over: bool


class Solver:
    """The other process. ``answer`` may be asked at any time; ``stop`` ends it, else so many seconds (or infinity)."""

    def __init__(self, grid: Grid, hint: Ints, seconds: float) -> None:
        self._answer = Answer(0, None, None, False)
        self._lock = threading.Lock()
        self._over = threading.Event()
        data = io.BytesIO()
        np.savez(data, hint=hint, **{name: getattr(grid, name) for name in _SENT})
        self._process = start_python("hexapod.staffing.levelling.exact", f"{seconds:.3f}")
        self._sent = data.getvalue()
        self._listener = threading.Thread(target=self._listen, daemon=True)
        self._listener.start()

    @property
    def answer(self) -> Answer:
        with self._lock:
            return self._answer

    def wait(self, seconds: float) -> None:
        """Wait until the process has ended, at most so many seconds."""
        self._over.wait(seconds)

    def stop(self) -> None:
        self._process.kill()
        self._process.wait()
        self._listener.join()
        if self._process.stdout is not None:
            self._process.stdout.close()

    def _listen(self) -> None:
        assert self._process.stdin is not None and self._process.stdout is not None
        try:
            self._process.stdin.write(self._sent)
            self._process.stdin.close()
        except OSError:
            return  # it was stopped before it began
        for line in self._process.stdout:
            try:
                said = json.loads(line)
            except ValueError:
                continue
            with self._lock:
                known = self._answer
                starts, finish = known.starts, known.finish
                if said.get("starts") is not None and (finish is None or said["finish"] < finish):
                    starts, finish = np.array(said["starts"], dtype=np.int64), int(said["finish"])
                self._answer = Answer(max(known.bound, int(said["bound"])), finish, starts, bool(said.get("over")))
        self._over.set()


def main() -> None:
    """Read a grid from standard input, and say what is found, a line of JSON each."""
    seconds = float(sys.argv[1])
    given = np.load(io.BytesIO(sys.stdin.buffer.read()), allow_pickle=False)
    solve({name: given[name] for name in given.files}, seconds)


def solve(given: dict[str, Ints], seconds: float) -> None:
    from ortools.sat.python import cp_model

    model, starts, finish = _model(cp_model, given)
    for variable, at in zip(starts, given["hint"].tolist(), strict=True):
        model.add_hint(variable, at)
    solver = cp_model.CpSolver()
    solver.parameters.max_time_in_seconds = seconds
    solver.parameters.num_workers = 1
    solver.parameters.interleave_search = True
    solver.best_bound_callback = lambda bound: _say(bound=int(np.ceil(bound - 1e-6)))

    class Said(cp_model.CpSolverSolutionCallback):
        def on_solution_callback(self) -> None:
            _say(
                bound=int(np.ceil(self.best_objective_bound - 1e-6)),
                finish=int(self.value(finish)),
                starts=[int(self.value(s)) for s in starts],
            )

    solver.solve(model, Said())
    _say(bound=int(np.ceil(solver.best_objective_bound - 1e-6)), over=True)


def _say(**what: Any) -> None:
    print(json.dumps(what), flush=True)


def _model(cp_model: Any, given: dict[str, Ints]) -> tuple[Any, list[Any], Any]:
    model = cp_model.CpModel()
    slots = given["capacity"].shape[1]
    kind, duration, into = given["kind"].tolist(), given["duration"].tolist(), given["into"].tolist()
    count = len(kind)
    starts, ends = [], []
    for k in range(count):
        least = max(0, int(given["base"][k]), int(given["finish_from"][k]) - duration[k])
        start = model.new_int_var(min(least, slots), slots, f"s{k}")
        if given["fixed"][k] >= 0:
            model.add(start == least + int(given["fixed"][k]))
        starts.append(start)
        ends.append(model.new_int_var(0, slots, f"f{k}") if kind[k] == CLOSE else start + duration[k])
    for k in range(count):
        arcs = range(into[k], into[k + 1])
        if kind[k] == CLOSE and len(arcs):
            within = [int(given["source"][a]) for a in arcs if given["arc_kind"][a] == CLOSE_ARC]
            model.add_min_equality(starts[k], [starts[s] for s in within])
            model.add_max_equality(ends[k], [ends[s] for s in within])
            continue
        for a in arcs:
            s, arc, lag = int(given["source"][a]), int(given["arc_kind"][a]), int(given["lag"][a])
            from_end = ends[s] if arc in (FS, FF) else starts[s]
            model.add((ends[k] if arc in (FF, SF) else starts[k]) >= from_end + lag)
    _add_resources(model, given, starts, duration, slots)
    finishes = [model.new_int_var(0, slots, f"finish{p}") for p in range(int(given["project"].max()) + 1)]
    for k in range(count):
        if given["project"][k] >= 0:
            model.add(finishes[given["project"][k]] >= ends[k])
    finish = sum(finishes)
    model.minimize(finish)
    return model, starts, finish


def _add_resources(model: Any, given: dict[str, Ints], starts: list[Any], duration: list[int], slots: int) -> None:
    asked: dict[int, list[tuple[int, int]]] = {}
    for k in range(len(starts)):
        for q in range(int(given["ask_into"][k]), int(given["ask_into"][k + 1])):
            if duration[k]:
                asked.setdefault(int(given["ask_resource"][q]), []).append((k, int(given["ask_units"][q])))
    made = {k: model.new_fixed_size_interval_var(s, duration[k], f"i{k}") for k, s in enumerate(starts) if duration[k]}
    for resource, tasks in asked.items():
        levels = given["capacity"][resource]
        most = int(levels.max())
        intervals, units = [made[k] for k, _ in tasks], [u for _, u in tasks]
        edges = [0, *(np.flatnonzero(np.diff(levels)) + 1).tolist(), slots]
        for begin, end in itertools.pairwise(edges):
            if levels[begin] < most:
                intervals.append(model.new_fixed_size_interval_var(begin, end - begin, f"less{resource}.{begin}"))
                units.append(most - int(levels[begin]))
        if all(2 * u > most for u in units):
            model.add_no_overlap(intervals)
        else:
            model.add_cumulative(intervals, units, most)


if __name__ == "__main__":
    main()
