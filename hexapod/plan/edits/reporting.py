"""Edits of what is told: kept reports, when projects are late, and what people outside may see."""

from __future__ import annotations

from collections.abc import Collection
from typing import Any

from msgspec.structs import replace

from hexapod.plan.edits.edit import Edit, new_id, quoted, removing
from hexapod.plan.kept import KeptReport
from hexapod.plan.plan import Draft, Plan
from hexapod.plan.ranks import ranks_between
from hexapod.plan.thresholds import Thresholds


def keep_report(plan: Plan, report: KeptReport) -> Edit:
    """Keep a report, in place of one of its id or its name; one without a rank comes last."""
    known = next((r for r in plan.reports.values() if r.name.casefold() == report.name.casefold()), None)
    if known is not None:
        report = replace(report, id=known.id, rank=known.rank)
    if not report.rank:
        last = max((r.rank for r in plan.reports.values()), default=None)
        report = replace(report, id=report.id or new_id(), rank=ranks_between(last, None, 1)[0])
    return Edit(f"Keep the report “{report.name}”", lambda draft: draft.put(report))


def forget_report(plan: Plan, report: str) -> Edit:
    name = plan.reports[report].name if report in plan.reports else ""
    return removing(f"Forget the report “{name}”", "reports", [report] if report in plan.reports else [])


def set_thresholds(plan: Plan, doubt_days: float, late_days: float) -> Edit:
    """From how many working days before its target a project is in doubt, and after it late."""
    made = Thresholds(doubt_days=doubt_days, late_days=late_days)
    return Edit("Set when projects are in doubt and late", lambda draft: draft.put(made))


def mark_tasks(plan: Plan, tasks: Collection[str], outside: bool | None) -> Edit:
    """Let people outside see rows, or not; None: as what is above them."""
    how = {True: "is for people outside", False: "stays inside", None: "is seen as what is above it"}[outside]
    return _marking([replace(plan.task(t), outside=outside) for t in tasks], "rows", how)


def mark_projects(plan: Plan, projects: Collection[str], outside: bool) -> Edit:
    """Let people outside see projects, or not."""
    how = "is for people outside" if outside else "stays inside"
    return _marking([replace(plan.project(p), outside=outside) for p in projects], "projects", how)


def mark_fields(plan: Plan, fields: Collection[str], outside: bool) -> Edit:
    """Let people outside see own fields, or not."""
    how = "is for people outside" if outside else "stays inside"
    return _marking([replace(plan.field(f), outside=outside) for f in fields], "fields", how)


def _marking(records: list[Any], noun: str, how: str) -> Edit:
    """Put records as they are marked now, and say so."""
    if len(records) != 1:
        how = how.replace("is ", "are ", 1).replace("stays", "stay").replace(" it", " them")
    words = f"Say that {quoted([record.name for record in records], noun)} {how}"

    def change(draft: Draft) -> None:
        for record in records:
            draft.put(record)

    return Edit(words, change)
