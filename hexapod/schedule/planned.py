"""Where tasks would lie if no status date moved them on: what the plan had expected of what is not done."""

from __future__ import annotations

from dataclasses import replace
from typing import NamedTuple

import numpy as np
from msgspec.structs import replace as with_fields

from hexapod.plan.plan import Plan
from hexapod.schedule.arrays import TaskArrays
from hexapod.schedule.codes import DONE, NEVER, NOT_BEGUN
from hexapod.schedule.network import Network
from hexapod.schedule.passing import NOTHING_BEFORE, backward_projects, forward_whole, passed_whole, placed
from hexapod.worktime.calendars import Ints


class Planned(NamedTuple):
    """Start and finish by task slot; of summaries nothing."""

    start: Ints
    finish: Ints


def planned_of(network: Network, start: Ints, finish: Ints) -> Planned:
    """The pass without the status dates of the projects; ``start`` and ``finish`` are those of the pass with them."""
    plan = network.plan
    dated = np.array([plan.projects[p].status_date is not None for p in network.projects], dtype=bool)
    if not dated.any():
        return Planned(start, finish)
    tasks = _undated(network)
    if backward_projects(network) or tasks.late.any():
        network = replace(network, plan=_without_dates(plan), tasks=tasks)
        passed = passed_whole(network, NOTHING_BEFORE)
        return Planned(*placed(network, passed.early, passed.late))
    early = forward_whole(network, tasks)
    return Planned(early.start[: network.size], early.finish[: network.size])


def _undated(network: Network) -> TaskArrays:
    tasks, plan = network.tasks, network.plan
    starts = np.array([plan.projects[p].start for p in network.projects], dtype=np.int64)
    is_begun = (tasks.progress != NOT_BEGUN) & (tasks.progress != DONE)
    told = is_begun & (tasks.as_of > NEVER)
    return tasks._replace(
        base=starts[tasks.project], rest_from=np.where(told, np.maximum(tasks.actual_start, tasks.as_of), NEVER)
    )


def _without_dates(plan: Plan) -> Plan:
    draft = plan.draft()
    for project in plan.projects.values():
        if project.status_date is not None:
            draft.put(with_fields(project, status_date=None))
    return draft.finish()[0]
