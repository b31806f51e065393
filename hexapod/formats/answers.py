"""What the commands answer as JSON: documents of plain values. ``docs/plan-json.md`` names their keys."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from dataclasses import asdict
from typing import Any

from hexapod.control.checks import Finding
from hexapod.control.expected import expected_percents
from hexapod.control.money import over_now
from hexapod.control.status import status_of
from hexapod.control.summary import Summary
from hexapod.control.value import Value, with_branches
from hexapod.plan.outline import outline_order
from hexapod.plan.plan import Plan
from hexapod.schedule.conflicts import conflicts
from hexapod.schedule.reasons import reason_of
from hexapod.schedule.schedule import Schedule
from hexapod.schedule.slack import independent_floats
from hexapod.worktime.clock import iso


def schedule_answer(dates: Schedule) -> dict[str, Any]:
    """Of ``hexapod schedule``."""
    plan, tasks = dates.plan, []
    independent = independent_floats(dates)
    said: dict[int, str] = {}  # many moments are those of several tasks

    def at(minute: int) -> str:
        text = said.get(minute)
        if text is None:
            text = said[minute] = iso(minute)
        return text

    for task_id in outline_order(plan):
        found = dates.dates(task_id)
        tasks.append({
            "id": task_id,
            "start": at(found.start),
            "finish": at(found.finish),
            "early_start": at(found.early_start),
            "early_finish": at(found.early_finish),
            "late_start": at(found.late_start),
            "late_finish": at(found.late_finish),
            "total_float": found.total_float,
            "free_float": found.free_float,
            "independent_float": None if found.total_float is None else int(independent[dates.slots[task_id]]),
            "interfering_float": _difference(found.total_float, found.free_float),
            "critical": found.critical,
            "longest_path": found.longest_path,
            "reason": reason_answer(reason_of(dates, task_id)),
        })  # fmt: skip
    projects = [
        {"id": p.id, "start": _project_start(plan, dates, p.id), "finish": iso_or_none(dates.project_finish[p.id])}
        for p in plan.projects_in_order()
    ]
    return {"projects": projects, "tasks": tasks, "conflicts": [conflict_answer(c) for c in conflicts(dates)]}


def status_answer(dates: Schedule, today: int) -> dict[str, Any]:
    """Of ``hexapod status``; what is drawn from a baseline is null where there is none."""
    plan, network = dates.plan, dates.network
    drift, expected = dates.drifts, expected_percents(plan)
    projects = [
        {"id": s.project, "status_date": iso_or_none(s.status_date), "percent": s.percent, "late": s.late,
         "state": s.state.value, "because": s.because}
        for s in status_of(dates, over_now(dates, today))
    ]  # fmt: skip
    tasks = []
    for task_id in outline_order(plan):
        late = dates.late_of(task_id)
        below = [plan.tasks[t] for t in plan.branch(task_id) if not plan.is_summary(t)]
        tasks.append({
            "id": task_id,
            "state": dates.state_of(task_id).value,
            "percent": float(network.percents[dates.slots[task_id]]),
            "remaining": sum(t.rest for t in below),
            "late": None if late is None else late[0].value,
            "late_by": 0 if late is None else late[1],
            "expected_percent": expected.get(task_id),
            "drift": drift[task_id]._asdict() if task_id in drift else None,
        })  # fmt: skip
    return {"projects": projects, "tasks": tasks}


def value_answer(plan: Plan, values: Sequence[Value], at: int | None) -> dict[str, Any]:
    """Of ``hexapod value``: minutes of work, or money in its smallest unit; null where a figure has no value."""
    projects = []
    for value in values:
        whole = value.whole
        projects.append({
            "id": value.project, "at": iso(value.at),
            **{name: getattr(whole, name) for name in ("pv", "ev", "ac", "sv", "cv", "spi", "cpi", "bac", "eac",
                                                       "etc", "vac", "tcpi", "eac_as_planned", "eac_with_both")},
            "es": value.es, "spi_t": value.spi_t, "sv_t": value.sv_t, "finish": iso_or_none(value.finish),
            "missing": dict(value.missing),
        })  # fmt: skip
    tasks = [
        {"id": task, "pv": figures.pv, "ev": figures.ev, "ac": figures.ac}
        for value in values
        for task, figures in with_branches(plan, value).items()
    ]
    return {"at": iso_or_none(at), "projects": projects, "tasks": tasks}


def soundness_answer(findings: Iterable[Finding]) -> dict[str, Any]:
    """Of ``hexapod check``."""
    return {"findings": [
        {"check": f.check, "title": f.title, "why": f.why, "source": f.source, "threshold": f.threshold,
         "passed": f.passed, "count": f.count, "out_of": f.out_of, "tasks": list(f.tasks)}
        for f in findings
    ]}  # fmt: skip


def level_answer(proposal: Any, because: str, *, with_parts: bool) -> dict[str, Any]:
    """Of ``hexapod level``; ``because`` says in words what no plan can do better than."""
    after = proposal.schedule
    plan = after.network.plan  # with the rests of what is interrupted
    return {
        "finish_before": iso_or_none(proposal.finish_before),
        "finish_after": iso_or_none(proposal.finish_after),
        "overloads_before": len(proposal.overloads_before),
        "overloads_after": len(proposal.overloads_after),
        "lower_bound": iso_or_none(proposal.lower_bound),
        "nothing_because": proposal.nothing_because,
        "lower_bound_because": because,
        "moves": [
            {"task": m.task, "from": iso(m.before), "to": iso(m.after), "resource": m.resource,
             "gives_way_to": m.gives_way_to}
            for m in proposal.moves
        ],
        "left_over": [
            {"resource": o.resource, "from": iso(o.begin), "to": iso(o.end), "peak": o.peak, "tasks": list(o.tasks),
             "ways_out": ways}
            for o, ways in zip(proposal.overloads_after, ways_out_answer(proposal), strict=True)
        ],
        **({"parts": [asdict(p) for p in proposal.parts]} if with_parts else {}),
        "tasks": [
            {"id": t, "start": iso(d.start), "finish": iso(d.finish)}
            for t in outline_order(plan)
            for d in (after.dates(t),)
        ],
    }  # fmt: skip


def iso_or_none(minutes: int | None) -> str | None:
    return None if minutes is None else iso(minutes)


def _project_start(plan: Plan, dates: Any, project: str) -> str:
    starts = [dates.dates(t).start for t in plan.children_of(project, None)]
    return iso(min(starts, default=plan.projects[project].start))


def _difference(total: int | None, free: int | None) -> int | None:
    return None if total is None or free is None else total - free


_PLACED_LATE = ("as_late_as_possible", "project_finish")


def summary_answer(plan: Plan, summary: Summary) -> dict[str, Any]:
    """Of ``hexapod summary``; times in ISO 8601, lengths in minutes, money in the smallest unit."""
    rows = []
    for row in summary.rows:
        project = plan.projects[row.project]
        rows.append({
            "id": row.project, "name": project.name, "department": project.department,
            "state": row.status.state.value, "because": row.status.because,
            "start": iso_or_none(row.start), "finish": iso_or_none(row.finish),
            "target_finish": iso_or_none(project.target_finish), "percent": row.status.percent,
            "late": row.status.late, "next_due": iso_or_none(row.next_due), "overloads": row.overloads,
            "average_duration": row.average, "cost": row.cost, "budget": row.budget,
        })  # fmt: skip
    priorities = {str(priority): count for priority, count in summary.priorities.items()}
    counts = {"state": dict(summary.task_states), "priority": priorities, "done": dict(summary.done),
              "stream": dict(summary.streams)}  # fmt: skip
    marks = {"coming": summary.coming, "overdue": summary.overdue, "reached": summary.reached}
    return {"projects": rows, "counts": counts, "milestones": marks}


def reason_answer(reason: Any) -> dict[str, Any]:
    link = reason.link
    document = {
        "kind": reason.kind.value,
        "at": iso(reason.at),
        "predecessor": link and link.predecessor,
        "type": link and link.type.value,
        "lag": link and link.lag,
        "through": reason.through,
        "child": reason.child,
        "limit": reason.limit and reason.limit.value,
        "hold": reason.hold or None,
        "resource": reason.resource,
        "successor": link and link.successor if reason.kind.value in _PLACED_LATE else None,
    }
    return {key: value for key, value in document.items() if value is not None}


def conflict_answer(conflict: Any) -> dict[str, Any]:
    link = conflict.link
    document = {
        "kind": conflict.kind.value,
        "task": conflict.task,
        "by": conflict.by,
        "predecessor": link and link.predecessor,
        "type": link and link.type.value,
        "limit": conflict.limit and conflict.limit.value,
    }
    return {key: value for key, value in document.items() if value is not None}


MOST_TASKS, MOST_WAYS = 2_000, 6  # of a plan, and overloads left over, whose ways out are worked out


def ways_out_answer(proposal: Any) -> list[list[dict[str, Any]]]:
    """For each overload that is left over, what would do for it."""
    from hexapod.staffing.levelling.ways_out import ways_out

    left = proposal.overloads_after
    count = MOST_WAYS if len(proposal.plan.tasks) <= MOST_TASKS else 0
    found = [ways_out(proposal.schedule, over, may_move=proposal.within_float) for over in left[:count]]
    said = [
        [
            {
                "way": w.way.value,
                "units": w.units,
                "task": w.task,
                "from": iso(w.begin),
                "to": iso(w.end),
                "finish_later": w.later,
            }
            for w in ways
        ]
        for ways in found
    ]
    return said + [[] for _ in left[count:]]
