"""Who hears of a task beside those who work on it, and when people are reminded, as they are typed."""

from __future__ import annotations

import re
from collections.abc import Sequence

from hexapod.errors import BadText
from hexapod.fields.field import Texts
from hexapod.plan import edits
from hexapod.plan.bounds import MOST_DAYS_AHEAD
from hexapod.plan.edits import Edit
from hexapod.plan.plan import Plan
from hexapod.plan.records import ResourceKind, Task

MOST_REMINDERS = 20
_DAYS = re.compile(r"(\d{1,3})\s*(?:d|days?)?", re.IGNORECASE)


def also_told_text(plan: Plan, task: Task) -> str:
    """Initials, or names where there are none, parted by commas."""
    return ", ".join(
        plan.resources[r].initials or plan.resources[r].name for r in task.also_told if r in plan.resources
    )


def reminders_text(task: Task) -> str:
    """Days before the finish: ``10 d, 2 d``."""
    return ", ".join(f"{days} d" for days in task.reminders)


def set_also_told(texts: Texts, tasks: Sequence[str], text: str) -> Edit:
    """``BadText`` for a name that nobody has."""
    return edits.tell_also(texts.plan, tasks, [_person(texts.plan, name) for name in _parts(text)])


def set_reminders(texts: Texts, tasks: Sequence[str], text: str) -> Edit:
    """``BadText`` for what is no number of days."""
    days = [_days(part) for part in _parts(text)]
    if len(days) > MOST_REMINDERS:
        raise BadText(f"A task has at most {MOST_REMINDERS} reminders.")
    return edits.set_reminders(texts.plan, tasks, days)


def _parts(text: str) -> list[str]:
    return [part.strip() for part in re.split(r"[,;]", text) if part.strip()]


def _person(plan: Plan, name: str) -> str:
    wanted = name.casefold()
    people = [r for r in plan.resources.values() if r.kind in (ResourceKind.PERSON, ResourceKind.TEAM)]
    exact = [r for r in people if wanted in (r.initials.casefold(), r.name.casefold())]
    found = exact or [r for r in people if wanted in r.name.casefold()]
    if not found:
        raise BadText(f"Nobody in the pool is called “{name[:60]}”.")
    if len(found) > 1:
        raise BadText(f"“{name[:60]}” could be {found[0].name} or {found[1].name}.")
    return found[0].id


def _days(text: str) -> int:
    match = _DAYS.fullmatch(text)
    if match is None or int(match[1]) > MOST_DAYS_AHEAD:
        raise BadText(f"“{text[:40]}” is no number of days from 0 to {MOST_DAYS_AHEAD}, such as 2 d.")
    return int(match[1])
