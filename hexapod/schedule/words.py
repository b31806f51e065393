"""Reasons in words, for the command line and the inspector."""

from __future__ import annotations

from hexapod.plan.plan import Plan
from hexapod.plan.records import Gap, LagOn, LimitKind, Link
from hexapod.schedule.conflicts import Conflict, ConflictKind
from hexapod.schedule.reasons import Reason, ReasonKind
from hexapod.worktime.lengths import format_duration, format_length

_LINK = {
    "FS": "waits for the finish of",
    "SS": "waits for the start of",
    "FF": "finishes with or after the finish of",
    "SF": "finishes with or after the start of",
}
_LIMIT = {
    LimitKind.START_NO_EARLIER: "starts not before",
    LimitKind.FINISH_NO_EARLIER: "finishes not before",
    LimitKind.START_NO_LATER: "starts not after",
    LimitKind.FINISH_NO_LATER: "finishes not after",
    LimitKind.MUST_START: "must start on",
    LimitKind.MUST_FINISH: "must finish on",
}


GAP_WORDS = {
    Gap.USE: "Moves only when it must",
    Gap.KEEP: "Moves by as much, keeps the gap",
    Gap.WARN: "Stays; the overlap is shown",
}


def link_words(link: Link) -> str:
    """What the successor does, such as ``waits for the finish of``."""
    return _LINK[link.type.value]


_COUNTED = {
    LagOn.SUCCESSOR: "",
    LagOn.PREDECESSOR: " by its own calendar",
    LagOn.PROJECT: " by the project's calendar",
    LagOn.ELAPSED: "",
}


def lag_text(link: Link) -> str:
    """``2 d later``, ``1 d sooner``, ``50 % later``, ``24 h elapsed later`` or nothing."""
    if not link.lag and not link.lag_percent:
        return ""
    amount = f"{abs(link.lag_percent):.6g} %"
    if link.lag:
        amount = (
            format_duration(abs(link.lag), elapsed=True)
            if link.lag_on is LagOn.ELAPSED
            else format_length(abs(link.lag))
        )
    return f"{amount}{_COUNTED[link.lag_on]} {'later' if link.lag + link.lag_percent > 0 else 'sooner'}"


def lag_words(link: Link) -> str:
    """The same behind a comma."""
    text = lag_text(link)
    return f", {text}" if text else ""


def limit_words(kind: LimitKind) -> str:
    return _LIMIT[kind]


def conflict_words(plan: Plan, conflict: Conflict) -> str:
    """What is not kept and by how much, as a sentence."""
    by = format_length(conflict.by)
    if conflict.link is not None:
        return f"Overlaps “{plan.tasks[conflict.link.predecessor].name}” by {by}: the link only warns."
    if conflict.limit is not None:
        return f"A limit is not kept: it {limit_words(conflict.limit)} a date that it passes by {by}."
    if conflict.kind is ConflictKind.TARGET:
        return f"The target date is missed by {by}."
    project = plan.projects[plan.tasks[conflict.task].project]
    return f"“{project.name}” needs {by} more than there is before its required finish."


def reason_words(plan: Plan, reason: Reason) -> str:
    """One reason as the end of a sentence that begins with the task's name."""
    if reason.kind is ReasonKind.LINK:
        assert reason.link is not None
        whole = "" if reason.through is None else f" (as part of “{plan.tasks[reason.through].name}”)"
        name = plan.tasks[reason.link.predecessor].name
        return f"{link_words(reason.link)} “{name}”{lag_words(reason.link)}{whole}"
    if reason.kind is ReasonKind.GAP:
        assert reason.link is not None
        name, gap = plan.tasks[reason.link.predecessor].name, format_length(reason.link.gap_kept)
        return f"keeps its gap of {gap} after what it waits for, “{name}”"
    if reason.kind is ReasonKind.LIMIT:
        assert reason.limit is not None
        return f"has a limit: it {limit_words(reason.limit)} a date that was typed"
    if reason.kind is ReasonKind.HOLD:
        return f"is held back {format_length(reason.hold)} by levelling"
    if reason.kind is ReasonKind.RESOURCE_CALENDAR:
        assert reason.resource is not None
        return f"starts when {plan.resources[reason.resource].name} can work"
    if reason.kind in (ReasonKind.AS_LATE_AS_POSSIBLE, ReasonKind.PROJECT_FINISH):
        how = "is as late as it can be" if reason.kind is ReasonKind.AS_LATE_AS_POSSIBLE else "is planned back"
        before = f" for “{plan.tasks[reason.link.successor].name}”" if reason.link else " for the finish of the project"
        return f"{how}: done just in time{before}"
    if reason.kind is ReasonKind.FIRST_OF:
        assert reason.child is not None
        return f"starts with the first of its parts, “{plan.tasks[reason.child].name}”"
    if reason.kind is ReasonKind.LAST_OF:
        assert reason.child is not None
        return f"ends with the last of its parts, “{plan.tasks[reason.child].name}”"
    if reason.kind is ReasonKind.ACTUAL:
        return "ended when it did: it is done" if plan.tasks[reason.task].is_done else "has begun: its start is a fact"
    if reason.kind is ReasonKind.STATUS_DATE:
        return "starts at the status date: what is not done lies ahead of it"
    return "starts with the project"
