"""Both passes, floats and all, against rustworkx's longest path over the same graph."""

from __future__ import annotations

from collections.abc import Iterator

import rustworkx
from msgspec.structs import replace

from bench.plans import large_plan
from bench.timing import Row, least_side_by_side, median_ms, row
from hexapod.plan.plan import Plan
from hexapod.plan.records import LinkType
from hexapod.schedule.engine import schedule, schedule_network
from hexapod.schedule.network import Network


def rows() -> Iterator[Row]:
    for size, calendars in ((1_000, 5), (10_000, 5), (100_000, 5), (100_000, 20)):
        plan = large_plan(size, calendars=calendars, types=tuple(LinkType) if calendars == 20 else (LinkType.FS,))
        network = Network.of(plan)
        network = schedule_network(network).network or network  # in the window that its dates need
        graph = _graph(plan)
        ours = median_ms(lambda n=network: schedule_network(n))
        reference = median_ms(lambda g=graph: rustworkx.dag_longest_path_length(g, weight_fn=_weight))
        kinds = ", all links" if calendars == 20 else ""
        yield row(
            f"both passes, {size:,} tasks, {calendars} calendars{kinds}", ours, reference, "rustworkx longest path"
        )
    yield _half_begun(large_plan(100_000, calendars=5))


def _half_begun(plan: Plan) -> Row:
    """Half of all tasks begun, half of each done, at the status date that lies between them and the others."""
    dates = schedule(plan)
    leaves = [t for t in plan.tasks if not plan.is_summary(t)]
    leaves.sort(key=lambda t: dates.start[dates.slots[t]])
    half, middle = leaves[: len(leaves) // 2], leaves[len(leaves) // 2]
    draft = plan.draft()
    for project in plan.projects.values():
        draft.put(replace(project, status_date=int(dates.start[dates.slots[middle]])))
    for task in half:
        draft.put(replace(plan.tasks[task], actual_start=int(dates.start[dates.slots[task]]), percent=50.0))
    begun, plain = schedule(draft.finish()[0]).network, dates.network
    times = least_side_by_side(lambda: schedule_network(begun), lambda: schedule_network(plain))
    return row("both passes, 100,000 tasks, half of them begun", *times, "the same plan, nothing begun")


def _graph(plan: Plan) -> rustworkx.PyDiGraph:
    graph = rustworkx.PyDiGraph()
    nodes = dict(zip(plan.tasks, graph.add_nodes_from(list(plan.tasks)), strict=True))
    graph.add_edges_from(
        [(nodes[x.predecessor], nodes[x.successor], plan.tasks[x.predecessor].minutes) for x in plan.links.values()]
    )
    return graph


def _weight(source: int, target: int, minutes: int) -> int:
    return minutes
