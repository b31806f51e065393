"""Both passes, floats and all, against rustworkx's longest path over the same graph."""

from __future__ import annotations

from collections.abc import Iterator

import rustworkx

from bench.plans import large_plan
from bench.timing import Row, median_ms, row
from hexapod.plan.plan import Plan
from hexapod.plan.records import LinkType
from hexapod.schedule.engine import schedule_network
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


def _graph(plan: Plan) -> rustworkx.PyDiGraph:
    graph = rustworkx.PyDiGraph()
    nodes = dict(zip(plan.tasks, graph.add_nodes_from(list(plan.tasks)), strict=True))
    graph.add_edges_from(
        [(nodes[x.predecessor], nodes[x.successor], plan.tasks[x.predecessor].minutes) for x in plan.links.values()]
    )
    return graph


def _weight(source: int, target: int, minutes: int) -> int:
    return minutes
