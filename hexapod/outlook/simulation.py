"""Simulation: many rounds of a plan, each with lengths and risks as they may come, and what they say of its dates.

Lengths are drawn from estimates (``draws``), dates placed by both passes (``rounds``). What is as late as possible, and
a project that is scheduled back from its finish, begins no sooner than the plan has it; what follows it waits for
that. Source: Malcolm et al. (1959);
Van Slyke (1963). Same plan and seed, same figures, on any number of threads.
"""

from __future__ import annotations

import os
from collections.abc import Callable, Collection
from concurrent.futures import ThreadPoolExecutor
from dataclasses import dataclass

import numpy as np

from hexapod.errors import HexapodError
from hexapod.outlook.draws import Lengths, key_of, lengths_of, pull_of, table
from hexapod.outlook.rounds import LANES, Found, Varied, run_rounds
from hexapod.plan.estimates import Points, Shape, points_of
from hexapod.plan.outline import stream_of
from hexapod.plan.plan import Plan
from hexapod.plan.records import DAY
from hexapod.plan.risks import Risk
from hexapod.schedule.arrays import TaskArrays
from hexapod.schedule.codes import DONE, NEVER, NOT_BEGUN
from hexapod.schedule.network import Network
from hexapod.schedule.passing import backward_projects, crews_of, forward_whole
from hexapod.schedule.schedule import Schedule
from hexapod.worktime.calendars import Ints

MOST_ROUNDS = 1_000_000
MOST_KEPT = 40_000_000  # finishes of tasks that are kept, of all rounds together


class CannotSimulate(HexapodError):
    """There is nothing to draw from, or too much."""


class Stopped(HexapodError):
    """Somebody stopped the rounds."""

    def __init__(self) -> None:
        super().__init__("The rounds were stopped.")


@dataclass(frozen=True, eq=False)
class Simulated:
    """``network`` has its calendars as wide as the rounds need. ``finish`` is of each task, by slot, in the rounds that
    are kept, in minutes since ``begin``; ``lengths`` of each task in ``varied`` the same, in minutes of work.
    ``critical`` is in how many rounds a task had no float left, ``projects`` the finish of each project, ``happened``
    whether each of ``risks`` did, of all rounds."""

    schedule: Schedule
    network: Network
    seed: int
    begin: int
    varied: tuple[str, ...]
    risks: tuple[str, ...]
    finish: np.ndarray
    lengths: np.ndarray
    critical: Ints
    projects: Ints
    happened: np.ndarray
    has_floats: bool = True  # whether ``critical`` is known

    @property
    def rounds(self) -> int:
        return int(self.projects.shape[1])


def simulate(
    schedule: Schedule,
    rounds: int = 10_000,
    seed: int = 1,
    *,
    after: bool = False,
    certain: Collection[str] = (),
    without: Collection[str] = (),
    with_floats: bool = True,
    threads: int = 0,
    is_stopped: Callable[[], bool] = lambda: False,
) -> Simulated:
    """The rounds of a plan.

    ``after``: all risks have their answers. Tasks in ``certain`` last as long as the plan says, risks in ``without`` do
    not happen: all else is drawn as if they were not left out. ``CannotSimulate`` for less than a round, or too many.
    """
    if not 1 <= rounds <= MOST_ROUNDS:
        raise CannotSimulate(f"The rounds must be from 1 to {MOST_ROUNDS:,}.")
    plan = schedule.plan
    varied, names, risks = drawn_of(schedule, seed, after=after, certain=certain, without=without)
    network, tasks = wide_enough(schedule, varied)
    kept = min(rounds, max(LANES, MOST_KEPT // max(1, network.size)))
    begin = network.timing.window.begin
    found = Found(
        np.full((network.size, kept), -1, dtype=np.int32),
        np.zeros((len(names), kept), dtype=np.int32),
        np.zeros(network.size, dtype=np.int64),
        np.full((len(network.projects), rounds), NEVER, dtype=np.int64),
        np.zeros((len(risks), rounds), dtype=np.uint8),
    )
    drawn_by = table()
    pieces = pieces_of(rounds, threads or os.cpu_count() or 1)

    def run(piece: tuple[int, int]) -> Ints:
        critical = np.zeros(network.size, dtype=np.int64)
        for first in range(*piece, STEP):
            if is_stopped():
                raise Stopped
            run_rounds(
                network.timing.pool, network.arcs, tasks, crews_of(network), network.structure.bottom_up, varied,
                drawn_by, begin, first, min(first + STEP, piece[1]), with_floats, found._replace(critical=critical),
            )  # fmt: skip
        return critical

    with ThreadPoolExecutor(len(pieces)) as pool:
        found.critical[:] = sum(pool.map(run, pieces))
    assert plan is network.plan
    return Simulated(
        schedule, network, seed, begin, tuple(names), tuple(r.id for r in risks), found.finish, found.lengths,
        found.critical, found.projects, found.happened, with_floats,
    )  # fmt: skip


STEP = 16 * LANES  # rounds between two looks whether to stop


def pieces_of(rounds: int, threads: int) -> list[tuple[int, int]]:
    """The rounds, shared out among threads in whole blocks."""
    blocks = -(-rounds // LANES)
    size = -(-blocks // min(threads, blocks)) * LANES
    return [(first, min(first + size, rounds)) for first in range(0, rounds, size)]


def ranges_of(schedule: Schedule) -> dict[str, Points]:
    """How long each leaf with an estimate may take; of one that is begun, its rest. What is done is certain."""
    plan, found = schedule.plan, {}
    for task in plan.tasks.values():
        if not task.estimate or task.is_done or plan.is_summary(task.id):
            continue
        points = points_of(task.estimate, task.minutes)
        found[task.id] = points.lessened(task.rest / task.minutes) if task.is_begun else points
    return found


def drawn_of(
    schedule: Schedule, seed: int, *, after: bool, certain: Collection[str] = (), without: Collection[str] = ()
) -> tuple[Varied, list[str], list[Risk]]:
    """What differs from round to round, with the tasks and the risks in its order."""
    plan, slots, tasks = schedule.plan, schedule.slots, schedule.network.tasks
    ranges = {t: points for t, points in ranges_of(schedule).items() if t not in certain}
    risks = [r for r in plan.risks.values() if r.may_happen and r.id not in without]
    risks.sort(key=lambda r: r.id)
    delays = [[d for d in r.delays_of(after=after) if _can_be_delayed(schedule, d.task)] for r in risks]
    names = sorted({*ranges, *(d.task for found in delays for d in found)})
    row = {name: i for i, name in enumerate(names)}
    streams: list[int] = []
    stream_row: dict[tuple[str, str], int] = {}
    drawn = []
    for name in names:
        if name in ranges:
            stream, pull = _stream(plan, name)
            if pull and stream not in stream_row:
                stream_row[stream] = len(streams)
                streams.append(key_of(seed, "stream", *stream))
            together = stream_row[stream] if pull else -1
            drawn.append((f"task {name}", ranges[name], plan.tasks[name].shape, together, pull))
    slot = np.array([slots[name] for name in names], dtype=np.int64)
    place = {name: i for i, name in enumerate(n for n in names if n in ranges)}
    flat = [(r, d) for r, found in zip(risks, delays, strict=True) for d in found]
    what: Lengths = lengths_of(
        ((f"delay {r.id} {d.task}", Points(*d.minutes), Shape.PERT, -1, 0.0) for r, d in flat), seed
    )
    return (
        Varied(
            slot,
            np.where(tasks.progress[slot] == NOT_BEGUN, tasks.duration[slot], tasks.rest[slot]),
            np.array([place.get(name, -1) for name in names], dtype=np.int64),
            lengths_of(drawn, seed),
            np.array(streams, dtype=np.uint64),
            np.array([key_of(seed, "risk", r.id) for r in risks], dtype=np.uint64),
            np.array([r.chance_of(after=after) for r in risks], dtype=np.float64),
            np.cumsum([0, *map(len, delays)]).astype(np.int64),
            np.array([row[d.task] for _, d in flat], dtype=np.int64),
            what,
        ),
        names,
        risks,
    )


def _stream(plan: Plan, task: str) -> tuple[tuple[str, str], float]:
    """The stream of a task within its project, and how its tasks' normal numbers go together."""
    project, stream = plan.projects[plan.tasks[task].project], stream_of(plan, task)
    return (project.id, stream), pull_of(dict(project.moves_together).get(stream, 0.0))


def _can_be_delayed(schedule: Schedule, task: str) -> bool:
    """A leaf that is not done, and whose length is its own: a span ends with what it waits for."""
    slot, network = schedule.slots[task], schedule.network
    is_open = bool(network.structure.leaf[slot]) and network.tasks.progress[slot] != DONE
    return is_open and not network.tasks.span[slot]


def wide_enough(schedule: Schedule, varied: Varied) -> tuple[Network, TaskArrays]:
    """The network with calendars that reach as far as the worst round, and its tasks as the rounds place them."""
    network = schedule.network
    longest = varied.usual.copy()
    drawn = varied.drawn >= 0
    longest[drawn] = (varied.lengths.best + varied.lengths.width)[varied.drawn[drawn]]
    np.add.at(longest, varied.delayed, varied.delays.best + varied.delays.width)
    while True:
        tasks = as_planned(schedule, network)
        worst = tasks._replace(duration=tasks.duration.copy(), rest=tasks.rest.copy())
        begun = tasks.progress[varied.slot] != NOT_BEGUN
        worst.duration[varied.slot[~begun]] = longest[~begun]
        worst.rest[varied.slot[begun]] = longest[begun]
        finish = forward_whole(network, worst).finish
        leaves = np.flatnonzero(network.structure.leaf)
        if not len(leaves) or int(finish[leaves].max()) + DAY < network.timing.window.end:
            return network, tasks
        wider = network.widened(False, True)
        if wider is None:
            raise CannotSimulate("At its worst the plan would end after the year 2250: an estimate must be wrong.")
        network = wider


def as_planned(schedule: Schedule, network: Network) -> TaskArrays:
    """The tasks, of which those that are planned later than they could be begin no sooner than that."""
    tasks = network.tasks
    backward = np.isin(tasks.project, list(backward_projects(network)))
    later = np.flatnonzero(
        (network.structure.leaf == 1) & (tasks.progress == NOT_BEGUN) & (backward | (tasks.late == 1))
    )
    if not len(later):
        return tasks
    base, hold, late = tasks.base.copy(), tasks.hold.copy(), tasks.late.copy()
    base[later] = schedule.start[later]
    hold[later] = late[later] = 0
    return tasks._replace(base=base, hold=hold, late=late)
