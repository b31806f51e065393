"""Rounds with capacities: each one is placed by the quick serial scheme, as levelling with the finish free does it.

The list of tasks is that of the plan, by late start after priority; a task goes to the first moment at which those who
do it are free. What levelling never moves stays where its links and limits put it. Lags that are a share of a length
are those of the plan. Source: Kelley, "The critical-path method: resources planning and scheduling" (1963).
"""

from __future__ import annotations

import os
from collections.abc import Callable
from concurrent.futures import ThreadPoolExecutor

import numpy as np

from hexapod.outlook.draws import Table, table
from hexapod.outlook.rounds import LANES, Varied, draw_rounds
from hexapod.outlook.simulation import MOST_KEPT, CannotSimulate, Simulated, Stopped, drawn_of, pieces_of, wide_enough
from hexapod.plan.records import DAY
from hexapod.schedule.codes import DONE, NEVER
from hexapod.schedule.engine import schedule_network
from hexapod.schedule.schedule import Schedule
from hexapod.staffing.demand import Demand
from hexapod.staffing.levelling.placing import Scope, listed_nodes, movable_tasks
from hexapod.staffing.levelling.proposal import unheld, wishes_of
from hexapod.staffing.levelling.serial import Layout, placed_by
from hexapod.system.compiler import njit
from hexapod.worktime.calendars import Ints

MOST_LEVELLED = 3_000_000  # tasks x rounds
TIMES_WIDER = 4  # that the calendars may reach further, to hold what capacities push out


def simulate_levelled(
    schedule: Schedule,
    rounds: int = 1000,
    seed: int = 1,
    *,
    after: bool = False,
    threads: int = 0,
    is_stopped: Callable[[], bool] = lambda: False,
) -> Simulated:
    """As ``simulate``, with capacities; how often a task drives the finish is not known then. ``CannotSimulate`` for
    less than a round, or too many."""
    if not 1 <= rounds <= max(LANES, MOST_LEVELLED // max(1, schedule.network.size)):
        most = max(LANES, MOST_LEVELLED // max(1, schedule.network.size))
        raise CannotSimulate(f"With capacities the rounds of this plan must be from 1 to {most:,}.")
    varied, names, risks = drawn_of(schedule, seed, after=after)
    network, _ = wide_enough(schedule, varied)
    for _ in range(TIMES_WIDER):
        now = schedule_network(network)
        found = _rounds(now, varied, rounds, threads, is_stopped)
        if int(found[1].max(initial=NEVER)) + DAY < network.timing.window.end:
            break
        wider = network.widened(False, True)
        if wider is None:
            break
        network = wider
    finish, projects, lengths, happened, begin = *found, network.timing.window.begin
    return Simulated(
        schedule, now.network, seed, begin, tuple(names), tuple(r.id for r in risks), finish, lengths,
        np.zeros(network.size, dtype=np.int64), projects, happened, False,
    )  # fmt: skip


def _rounds(
    now: Schedule, varied: Varied, rounds: int, threads: int, is_stopped: Callable[[], bool]
) -> tuple[np.ndarray, Ints, np.ndarray, np.ndarray]:
    """Finishes by task and by project, lengths, and which risks happened."""
    network, tasks = now.network, now.network.tasks
    demand = Demand.of(now, now.plan, None)
    free, ground = unheld(now, demand, movable_tasks(now, Scope()), False, Scope())
    wishes = wishes_of(free, ground, 1)
    node_at, layout, drawn_by = listed_nodes(ground, wishes[0]), ground.layout, table()
    kept = min(rounds, max(LANES, MOST_KEPT // max(1, network.size)))
    finish = np.full((network.size, kept), -1, dtype=np.int32)
    projects = np.full((len(network.projects), rounds), NEVER, dtype=np.int64)
    lengths = np.zeros((len(varied.slot), kept), dtype=np.int32)
    happened = np.zeros((len(varied.key), rounds), dtype=np.uint8)
    ended = np.where(tasks.progress == DONE, tasks.actual_finish, NEVER)

    def run(piece: tuple[int, int]) -> None:
        own = layout._replace(duration=layout.duration.copy())
        for first in range(*piece, LANES):
            if is_stopped():
                raise Stopped
            level_rounds(
                own, node_at, varied, drawn_by, tasks.project, tasks.parent, network.structure.bottom_up, ended,
                network.timing.window.begin, first, min(first + LANES, piece[1]), finish, projects, lengths, happened,
            )  # fmt: skip

    pieces = pieces_of(rounds, threads or os.cpu_count() or 1)
    with ThreadPoolExecutor(len(pieces)) as pool:
        list(pool.map(run, pieces))
    return finish, projects, lengths, happened


@njit(cache=True, nogil=True)
def level_rounds(
    layout: Layout,
    node_at: Ints,
    varied: Varied,
    drawn_by: Table,
    project_of: Ints,
    parent: Ints,
    bottom_up: Ints,
    ended: Ints,
    begin: int,
    first: int,
    last: int,
    finish: np.ndarray,
    projects: Ints,
    lengths: np.ndarray,
    happened: np.ndarray,
) -> None:
    """The rounds of a block, from an even one on; ``ended`` is when what is done was. The durations of ``layout`` are
    written over."""
    n, kept = len(layout.leaf), finish.shape[1]
    length = np.zeros((n, LANES), dtype=np.int64)
    for j in range(n):
        length[j, :] = layout.duration[j]
    drawn = np.zeros((len(varied.slot), LANES), dtype=np.int64)
    whether = np.zeros((len(varied.key), LANES), dtype=np.uint8)
    latest = np.empty(n, dtype=np.int64)
    draw_rounds(varied, drawn_by, first, LANES, length, drawn, whether)
    for r in range(last - first):
        for i in range(len(varied.slot)):
            layout.duration[varied.slot[i]] = drawn[i, r]
        placed = placed_by(layout, node_at)
        latest[:] = NEVER
        for j in bottom_up:
            if layout.leaf[j]:
                latest[j] = placed.finish[j] if ended[j] == NEVER else ended[j]
                projects[project_of[j], first + r] = max(projects[project_of[j], first + r], latest[j])
            p = parent[j]
            if p >= 0:
                latest[p] = max(latest[p], latest[j])
        if first + r < kept:
            for j in range(n):
                if latest[j] > NEVER:
                    finish[j, first + r] = latest[j] - begin
            for i in range(len(varied.slot)):
                lengths[i, first + r] = drawn[i, r]
        for q in range(len(varied.key)):
            happened[q, first + r] = whether[q, r]
