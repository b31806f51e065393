"""Of what people are told, and how soon."""

from __future__ import annotations

from enum import StrEnum


class NoticeKind(StrEnum):
    """What a person is told of."""

    ASSIGNED = "assigned"  # something is hers now
    READY = "ready"  # what she waited for is done
    DUE = "due"  # in so many days
    OVERDUE = "overdue"
    MOVED = "moved"  # her dates are others
    NAMED = "named"  # in a comment
    TARGET = "target"  # a project's finish lies beyond its target now
    REMINDER = "reminder"


class NoticeWhen(StrEnum):
    AT_ONCE = "at_once"
    DAILY = "daily"
    NEVER = "never"
