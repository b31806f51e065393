"""How far the baseline had expected tasks to be by the status date of their project."""

from __future__ import annotations

from hexapod.control.planned_value import Measure, Planned
from hexapod.plan.outline import outline_order
from hexapod.plan.plan import Plan
from hexapod.schedule.drifting import reference_of


def expected_percents(plan: Plan) -> dict[str, float]:
    """Per cent by task, of those in the reference baseline of a project with a status date. A summary is weighted as it
    is for the per cent that is told: by effort where each row below it has one, else by its planned working time."""
    found: dict[str, float] = {}
    for project in plan.projects.values():
        baseline = reference_of(plan, project.id)
        if baseline is None or project.status_date is None:
            continue
        planned = Planned.of(plan, baseline, project.status_date)
        parts = planned.parts(project.status_date).tolist()
        efforts, works = planned.budgets(Measure.HOURS).tolist(), planned.work.tolist()
        rows = {t: (100 * p, e, w) for t, p, e, w in zip(planned.tasks, parts, efforts, works, strict=True)}
        found.update({t: percent for t, (percent, _, _) in rows.items() if t in plan.tasks})
        inside = {row.task for row in baseline.tasks} - set(planned.tasks)
        found.update(_summaries(plan, inside, rows))
    return found


def _summaries(plan: Plan, inside: set[str], rows: dict[str, tuple[float, int, int]]) -> dict[str, float]:
    below: dict[str, list[tuple[float, int, int]]] = {}
    for task_id, row in rows.items():
        for above in plan.ancestors(task_id) if task_id in plan.tasks else ():
            below.setdefault(above, []).append(row)
    found = {}
    for task_id in (t for t in outline_order(plan) if t in inside and t in below):
        leaves = below[task_id]
        by_effort = all(effort for _, effort, work in leaves if work)
        weights = [effort if by_effort else work for _, effort, work in leaves]
        weights = weights if sum(weights) else [1] * len(leaves)
        found[task_id] = sum(w * percent for w, (percent, _, _) in zip(weights, leaves, strict=True)) / sum(weights)
    return found
