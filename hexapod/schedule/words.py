"""Reasons in words, for the command line and the inspector."""

from __future__ import annotations

from hexapod.plan.plan import Plan
from hexapod.plan.records import LimitKind, Link
from hexapod.schedule.reasons import Reason, ReasonKind
from hexapod.worktime.lengths import format_length

_LINK = {
    "FS": "waits for the finish of",
    "SS": "waits for the start of",
    "FF": "finishes with or after the finish of",
    "SF": "finishes with or after the start of",
}
_LIMIT = {
    LimitKind.START_NO_EARLIER: "starts no earlier than",
    LimitKind.FINISH_NO_EARLIER: "finishes no earlier than",
    LimitKind.START_NO_LATER: "starts no later than",
    LimitKind.FINISH_NO_LATER: "finishes no later than",
    LimitKind.MUST_START: "must start on",
    LimitKind.MUST_FINISH: "must finish on",
}


def link_words(link: Link) -> str:
    """What the successor does, such as ``waits for the finish of``."""
    return _LINK[link.type.value]


def lag_text(lag: int) -> str:
    """``2 d later``, ``1 d sooner`` or nothing."""
    return f"{format_length(abs(lag))} {'later' if lag > 0 else 'sooner'}" if lag else ""


def lag_words(lag: int) -> str:
    """The same behind a comma."""
    return f", {lag_text(lag)}" if lag else ""


def limit_words(kind: LimitKind) -> str:
    return _LIMIT[kind]


def reason_words(plan: Plan, reason: Reason) -> str:
    """One reason as the end of a sentence that begins with the task's name."""
    if reason.kind is ReasonKind.LINK:
        assert reason.link is not None
        whole = "" if reason.through is None else f" (as part of “{plan.tasks[reason.through].name}”)"
        name = plan.tasks[reason.link.predecessor].name
        return f"{link_words(reason.link)} “{name}”{lag_words(reason.link.lag)}{whole}"
    if reason.kind is ReasonKind.LIMIT:
        assert reason.limit is not None
        return f"has a limit: it {limit_words(reason.limit)} a date that was typed"
    if reason.kind is ReasonKind.HOLD:
        return f"is held back {format_length(reason.hold)} by levelling"
    if reason.kind is ReasonKind.FIRST_OF:
        assert reason.child is not None
        return f"starts with the first of its parts, “{plan.tasks[reason.child].name}”"
    if reason.kind is ReasonKind.LAST_OF:
        assert reason.child is not None
        return f"ends with the last of its parts, “{plan.tasks[reason.child].name}”"
    if reason.kind is ReasonKind.STATUS_DATE:
        return "starts at the status date: what is not done lies ahead of it"
    return "starts with the project"
