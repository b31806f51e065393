"""The rules of what leaves the program: kept reports."""

from __future__ import annotations

from hexapod.plan.bounds import LONGEST_NAME, LONGEST_TEXT
from hexapod.plan.kept import KeptReport
from hexapod.plan.plan import Plan

MOST_PARTS, MOST_DAYS = 100, 3660


def report_trouble(plan: Plan, report: KeptReport) -> str | None:
    """What is wrong with a kept report, in a sentence."""
    if not report.name.strip() or len(report.name) > LONGEST_NAME:
        return f"A report needs a name of at most {LONGEST_NAME} characters."
    alike = (r.name.casefold() for r in plan.reports.values() if r.id != report.id)
    if report.name.casefold() in alike:
        return f"There is a report “{report.name}” already."
    if len(report.heading) > LONGEST_NAME or len(report.text) > LONGEST_TEXT:
        return f"The heading or the text of the report “{report.name}” is too long."
    if len(report.parts) > MOST_PARTS:
        return f"The report “{report.name}” has more than {MOST_PARTS} parts."
    if not 1 <= report.days <= MOST_DAYS:
        return f"The report “{report.name}” looks back on {report.days} days; it must be 1 to {MOST_DAYS}."
    return None
