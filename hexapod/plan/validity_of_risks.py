"""What estimates, correlations, risks and scenarios must be."""

from __future__ import annotations

import math
from collections.abc import Iterable

from hexapod.plan.bounds import FIRST_TIME, LAST_TIME, LONGEST, LONGEST_NAME, LONGEST_TEXT, MOST_MONEY
from hexapod.plan.estimates import estimate_trouble
from hexapod.plan.plan import Plan
from hexapod.plan.records import DAY, Project, Task, TaskKind
from hexapod.plan.risks import Range, Risk, RiskDelay
from hexapod.plan.scenarios import MOST_COLOURS, Scenario


def range_trouble(task: Task) -> str | None:
    """What is wrong with the estimate of a task, in a sentence."""
    if not task.estimate:
        return None
    if task.kind is TaskKind.MILESTONE or task.minutes == 0:
        return f"“{task.name}” is a milestone: it takes no time, so it has no best and worst."
    trouble = estimate_trouble(task.estimate, LONGEST)
    return f"The estimate of “{task.name}” {trouble}." if trouble else None


def together_trouble(project: Project) -> str | None:
    """What is wrong with how the streams of a project move together, in a sentence."""
    streams = [stream for stream, _ in project.moves_together]
    if len(set(streams)) != len(streams) or not all(streams):
        return f"A stream of “{project.name}” moves together in one way, and needs a name."
    if not all(math.isfinite(c) and 0 <= c <= 1 for _, c in project.moves_together):
        return f"How far a stream of “{project.name}” moves together must be between 0 and 1."
    return None


def risk_trouble(plan: Plan, risk: Risk) -> str | None:
    """What is wrong with a risk, an issue, an action or a decision, in a sentence."""
    if not risk.name.strip() or len(risk.name) > LONGEST_NAME:
        return f"A risk needs a name of at most {LONGEST_NAME} characters."
    where = f"of “{risk.name}”"
    if max(map(len, (risk.cause, risk.effect, risk.answer_note, risk.notes))) > LONGEST_TEXT:
        return f"A text {where} is longer than {LONGEST_TEXT} characters."
    for chance in (risk.chance, risk.chance_after):
        if chance is not None and not (math.isfinite(chance) and 0 <= chance <= 1):
            return f"The chance {where} must be between 0 and 100 %."
    for each in (risk.cost, risk.cost_after):
        if each is not None and (trouble := _range_trouble(each, MOST_MONEY)):
            return f"The cost {where} {trouble}."
    if not 0 <= risk.answer_cost <= MOST_MONEY:
        return f"What the answer {where} costs must be from nothing to ten million million."
    if any(day is not None and not FIRST_TIME <= day * DAY <= LAST_TIME for day in (risk.due, risk.until)):
        return f"A day {where} lies outside 1970 to 2129."
    return _delays_trouble(plan, risk.delays, where) or _delays_trouble(plan, risk.delays_after or (), where)


def _delays_trouble(plan: Plan, delays: Iterable[RiskDelay], where: str) -> str | None:
    named: set[str] = set()
    for delay in delays:
        name = plan.tasks[delay.task].name
        if delay.task in named:
            return f"“{name}” is twice among what the risk {where} delays."
        named.add(delay.task)
        if trouble := _range_trouble(delay.minutes, LONGEST):
            return f"What the risk {where} adds to “{name}” {trouble}."
    return None


def _range_trouble(found: Range, most: int) -> str | None:
    if not all(0 <= each <= most for each in found):
        return "must be from nothing to what a hundred years bring"
    return None if list(found) == sorted(found) else "must go from the best to the worst"


def scenario_trouble(plan: Plan, scenario: Scenario) -> str | None:
    """What is wrong with a scenario, in a sentence."""
    if not scenario.name.strip() or len(scenario.name) > LONGEST_NAME:
        return f"A scenario needs a name of at most {LONGEST_NAME} characters."
    if len(scenario.note) > LONGEST_TEXT:
        return f"What is said of the scenario “{scenario.name}” is longer than {LONGEST_TEXT} characters."
    if not 0 <= scenario.colour < MOST_COLOURS:
        return f"The colour of the scenario “{scenario.name}” must be from 0 to {MOST_COLOURS - 1}."
    alike = (s.name for s in plan.scenarios.values() if s.id != scenario.id)
    if scenario.name.casefold() in map(str.casefold, alike):
        return f"There is a scenario “{scenario.name}” already."
    return None
