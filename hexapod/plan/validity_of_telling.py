"""The rules of what leaves the program and what comes in: kept views and reports, comments, requests,
approvals."""

from __future__ import annotations

from hexapod.plan.approvals import Approval, Route
from hexapod.plan.bounds import FIRST_TIME, LAST_TIME, LONGEST, LONGEST_NAME, LONGEST_PLACE, LONGEST_TEXT
from hexapod.plan.deliverables import Deliverable
from hexapod.plan.kept import PROJECTS, TASKS, Comment, KeptReport, KeptView
from hexapod.plan.plan import Plan
from hexapod.plan.records import DAY
from hexapod.plan.requests import Request

MOST_PARTS, MOST_DAYS, MOST_FILES = 100, 3660, 200


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


def approval_trouble(plan: Plan, approval: Approval) -> str | None:
    """What is wrong with an approval, in a sentence."""
    name = plan.tasks[approval.task].name
    if plan.is_summary(approval.task) or approval.work == approval.task:
        return f"“{name[:60]}” cannot be approved: an approval is a milestone of its own."
    if approval.deliverable is not None and plan.deliverables[approval.deliverable].task != approval.work:
        return f"The approval “{name[:60]}” is about a deliverable of another row."
    if any(a.id != approval.id and a.task == approval.task for a in plan.approvals.values()):
        return f"“{name[:60]}” waits for approval already."
    if len(set(approval.people)) != len(approval.people):
        return f"Somebody is to approve “{name[:60]}” twice."
    if any(len(a.word) > LONGEST_TEXT or len(a.name) > LONGEST_NAME for a in approval.answers):
        return f"What was said of “{name[:60]}” is too long."
    moments = (approval.asked, *(a.at for a in approval.answers))
    if len(approval.by) > LONGEST_NAME or any(not FIRST_TIME <= at <= LAST_TIME for at in moments):
        return f"The approval of “{name[:60]}” was asked for at no time that there is."
    return None


def deliverable_trouble(plan: Plan, deliverable: Deliverable) -> str | None:
    """What is wrong with a deliverable, in a sentence."""
    if not deliverable.name.strip() or len(deliverable.name) > LONGEST_NAME:
        return f"A deliverable needs a name of at most {LONGEST_NAME} characters."
    name = deliverable.name[:60]
    if len(deliverable.asked) > LONGEST_TEXT or len(deliverable.by) > LONGEST_NAME:
        return f"What is said of the deliverable “{name}” is too long."
    if len(deliverable.files) > MOST_FILES:
        return f"The deliverable “{name}” has more than {MOST_FILES} files."
    if any(not place or len(place) > LONGEST_PLACE for place in deliverable.files):
        return f"A file of the deliverable “{name}” must be named in at most {LONGEST_PLACE} characters."
    if deliverable.handed is not None and not FIRST_TIME <= deliverable.handed <= LAST_TIME:
        return f"The deliverable “{name}” was handed over outside 1970 to 2129."
    return None


def route_trouble(plan: Plan, route: Route) -> str | None:
    """What is wrong with a route of approvals, in a sentence."""
    if not route.name.strip() or len(route.name) > LONGEST_NAME:
        return f"A route needs a name of at most {LONGEST_NAME} characters."
    if len(set(route.people)) != len(route.people):
        return f"Somebody is twice on the route “{route.name[:60]}”."
    return None


def view_trouble(plan: Plan, view: KeptView) -> str | None:
    if not view.name.strip() or len(view.name) > LONGEST_NAME:
        return f"A view needs a name of at most {LONGEST_NAME} characters."
    if view.of not in (TASKS, PROJECTS):
        return f"The view “{view.name[:60]}” is of nothing that has views."
    return None if len(view.shows) <= LONGEST_TEXT else f"The view “{view.name}” is too long."


def comment_trouble(plan: Plan, comment: Comment) -> str | None:
    if not comment.text.strip() or len(comment.text) > LONGEST_TEXT:
        return f"A comment needs some words, at most {LONGEST_TEXT} characters."
    return None if FIRST_TIME <= comment.at <= LAST_TIME else "The time of a comment lies outside 1970 to 2129."
