"""What stages and errands must be, and what is said of reminders and notices."""

from __future__ import annotations

import math

from hexapod.plan.bounds import FIRST_TIME, LAST_TIME, LONGEST_NAME, MOST_CARDS, MOST_DAYS_AHEAD
from hexapod.plan.plan import Plan
from hexapod.plan.records import DAY, Errand, Resource, Stage, Task


def stage_trouble(plan: Plan, stage: Stage) -> str | None:
    """What is wrong with a stage, in a sentence."""
    if not stage.name.strip() or len(stage.name) > LONGEST_NAME:
        return f"A stage needs a name of at most {LONGEST_NAME} characters."
    if any(other.id != stage.id and other.name.casefold() == stage.name.casefold() for other in plan.stages.values()):
        return f"There is a stage “{stage.name}” already."
    if stage.percent is not None and not (math.isfinite(stage.percent) and 0 <= stage.percent <= 100):
        return f"The per cent of the stage “{stage.name}” must be from 0 to 100."
    if stage.most is not None and not 1 <= stage.most <= MOST_CARDS:
        return f"The most cards at once in “{stage.name}” must be from 1 to {MOST_CARDS:,}."
    return None


def errand_trouble(plan: Plan, errand: Errand) -> str | None:
    """What is wrong with an errand, in a sentence."""
    if not errand.name.strip() or len(errand.name) > LONGEST_NAME:
        return f"An errand needs a name of at most {LONGEST_NAME} characters."
    times = [t for t in (None if errand.due is None else errand.due * DAY, errand.done) if t is not None]
    if not all(FIRST_TIME <= t <= LAST_TIME for t in times):
        return f"A date of the errand “{errand.name}” lies outside 1970 to 2129."
    return None


def reminders_trouble(task: Task) -> str | None:
    if not all(0 <= days <= MOST_DAYS_AHEAD for days in task.reminders):
        return f"A reminder of “{task.name}” must be from 0 to {MOST_DAYS_AHEAD} days before its finish."
    return None


def notices_trouble(resource: Resource) -> str | None:
    if not 0 <= resource.due_days <= MOST_DAYS_AHEAD:
        return f"“{resource.name}” can be told of what is due from 0 to {MOST_DAYS_AHEAD} days ahead."
    return None
