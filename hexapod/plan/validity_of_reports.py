"""The rules of what leaves the program and what comes in: kept reports, requests."""

from __future__ import annotations

from hexapod.plan.bounds import FIRST_TIME, LAST_TIME, LONGEST, LONGEST_NAME, LONGEST_TEXT
from hexapod.plan.kept import KeptReport
from hexapod.plan.plan import Plan
from hexapod.plan.records import DAY
from hexapod.plan.requests import Request

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


def request_trouble(plan: Plan, request: Request) -> str | None:
    """What is wrong with a request, in a sentence."""
    if not request.name.strip() or len(request.name) > LONGEST_NAME:
        return f"A request needs to say what is wanted, in at most {LONGEST_NAME} characters."
    if any(len(text) > LONGEST_TEXT for text in (request.why, request.benefit, request.word, request.email)):
        return f"Something that is said in the request “{request.name[:60]}” is too long."
    if max(len(request.who), len(request.by), len(request.source)) > LONGEST_NAME:
        return f"A name in the request “{request.name[:60]}” is too long."
    if not 0 <= request.size <= LONGEST:
        return f"The size of the request “{request.name[:60]}” is not one that work can have."
    moments = (request.asked, request.answered, None if request.wanted_by is None else request.wanted_by * DAY)
    if any(at is not None and not FIRST_TIME <= at <= LAST_TIME for at in moments):
        return f"A date of the request “{request.name[:60]}” lies outside 1970 to 2129."
    return None
