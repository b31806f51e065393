"""What the commands answer as JSON: documents of plain values. ``docs/plan-json.md`` names their keys."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from dataclasses import asdict
from typing import Any

import numpy as np
from msgspec import Struct

from hexapod.control.checks import Finding
from hexapod.control.expected import expected_percents
from hexapod.control.money import over_now
from hexapod.control.status import status_of
from hexapod.control.summary import Summary
from hexapod.control.value import Value, with_branches
from hexapod.plan.outline import outline_order
from hexapod.plan.plan import Plan
from hexapod.schedule.all_reasons import all_reasons
from hexapod.schedule.conflicts import conflicts
from hexapod.schedule.reasons import Reason, ReasonKind
from hexapod.schedule.schedule import Schedule, known_float
from hexapod.schedule.slack import independent_floats
from hexapod.worktime.calendars import Ints
from hexapod.worktime.clock import iso


class ReasonAnswer(Struct, omit_defaults=True):
    """The first reason of a start; what it does not name is left out."""

    kind: str
    at: str
    predecessor: str | None = None
    type: str | None = None
    lag: int | None = None
    through: str | None = None
    child: str | None = None
    limit: str | None = None
    hold: int | None = None
    resource: str | None = None
    successor: str | None = None


class TaskAnswer(Struct):
    """The dates of a task in ISO 8601, floats in minutes of work, and why it starts when it does."""

    id: str
    start: str
    finish: str
    early_start: str
    early_finish: str
    late_start: str
    late_finish: str
    total_float: int | None
    free_float: int | None
    independent_float: int | None
    interfering_float: int | None
    critical: bool
    longest_path: bool
    reason: ReasonAnswer


def schedule_answer(dates: Schedule) -> dict[str, Any]:
    """Of ``hexapod schedule``: made by columns, since there may be a hundred thousand tasks."""
    plan, order = dates.plan, list(outline_order(dates.plan))
    slots = dates.network.slots.of_tasks(order)
    moments = (dates.start, dates.finish, dates.early_start, dates.early_finish, dates.late_start, dates.late_finish)
    starts, *other_moments = _texts([column[slots] for column in moments])
    total, free = ([known_float(f) for f in column[slots].tolist()] for column in (dates.total_float, dates.free_float))
    independent = independent_floats(dates)[slots].tolist()
    known_independent = [None if of_all is None else own for of_all, own in zip(total, independent, strict=True)]
    critical, longest = ((column[slots] != 0).tolist() for column in (dates.critical, dates.longest_path))
    reasons = map(reason_answer, all_reasons(dates, order), starts)
    interfering = map(_difference, total, free)
    columns = (order, starts, *other_moments, total, free, known_independent, interfering, critical, longest, reasons)
    projects = [
        {"id": p.id, "start": _project_start(plan, dates, p.id), "finish": iso_or_none(dates.project_finish[p.id])}
        for p in plan.projects_in_order()
    ]
    return {
        "projects": projects,
        "tasks": list(map(TaskAnswer, *columns)),
        "conflicts": [conflict_answer(c) for c in conflicts(dates)],
    }


def _texts(columns: Sequence[Ints]) -> list[list[str]]:
    """Minutes of several columns in ISO 8601. Many moments are those of several tasks, and are written once."""
    moments, places = np.unique(np.concatenate(columns), return_inverse=True)
    texts = np.datetime_as_string(moments.astype("datetime64[m]")).tolist()
    found = list(map(texts.__getitem__, places.tolist()))
    count = len(columns[0])
    return [found[i : i + count] for i in range(0, len(found), count)] if count else [[] for _ in columns]


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


_PLACED_LATE = (ReasonKind.AS_LATE_AS_POSSIBLE, ReasonKind.PROJECT_FINISH)


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


def reason_answer(reason: Reason, at: str) -> ReasonAnswer:
    """``at`` is its moment in ISO 8601."""
    link = reason.link
    return ReasonAnswer(
        reason.kind._value_,  # the quick way to the plain text
        at,
        None if link is None else link.predecessor,
        None if link is None else link.type._value_,
        None if link is None else link.lag,
        reason.through,
        reason.child,
        reason.limit and reason.limit.value,
        reason.hold or None,
        reason.resource,
        link.successor if link is not None and reason.kind in _PLACED_LATE else None,
    )


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
