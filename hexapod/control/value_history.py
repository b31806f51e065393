"""What was earned by earlier days, out of the history: the plan as it was when progress was told up to then."""

from __future__ import annotations

from collections.abc import Iterable, Iterator

from hexapod.plan.changes import Changes
from hexapod.plan.plan import Plan

Past = Iterable[tuple[int, Changes]]  # from the latest edit back: when it was made, and what it changed


def plan_told_by(plan: Plan, project: str, moment: int, past: Past) -> Plan | None:
    """The latest plan in which the project was told up to a moment and not further; None where there was none.

    A plan without a status date counts from the edit that made it.
    """
    for at, found in _backwards(plan, past):
        record = found.projects.get(project)
        if record is None:
            return None
        known = at if record.status_date is None else record.status_date
        if known is not None and known <= moment:
            return found
    return None


def told_plans(plan: Plan, project: str, past: Past) -> list[tuple[int, Plan]]:
    """The status dates that a project had, in order, each with the last plan that was told up to it."""
    found: dict[int, Plan] = {}
    for _, earlier in _backwards(plan, past):
        record = earlier.projects.get(project)
        if record is None:
            break
        if record.status_date is not None and all(record.status_date < known for known in found):
            found[record.status_date] = earlier
    return sorted(found.items())


def _backwards(plan: Plan, past: Past) -> Iterator[tuple[int | None, Plan]]:
    """Each plan with when it was made: from the present one back to the first that the history knows."""
    for at, changes in past:
        yield at, plan
        plan = changes.inverse().applied_to(plan)
    yield None, plan
