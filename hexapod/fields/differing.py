"""Two values of a field in words, as where a plan and a scenario changed the same one."""

from __future__ import annotations

from enum import Enum
from typing import Any

from hexapod.fields.field import DateTexts
from hexapod.outlook.merge import Place, Question
from hexapod.plan.kinds import KINDS
from hexapod.plan.plan import Plan
from hexapod.worktime.calendars import units_of
from hexapod.worktime.lengths import USUAL, Units, format_length

LENGTHS = {"duration", "remaining", "effort", "hold", "lag", "gap_kept", "total"}  # minutes of work
MOMENTS = {"start", "finish", "target", "target_finish", "status_date", "actual_start", "actual_finish", "as_of"}
MONEY = {"rate", "amount", "answer_cost"}
REFERENCES = {"calendar": "calendars", "led_by": "resources", "role": "resources", "team": "resources",
              "baseline": "baselines", "stage": "stages", "owner": "resources"}  # fmt: skip

CALLED = {
    "target_finish": "target", "status_date": "status date", "amount": "how much", "place": "place in the outline",
    "lag_on": "time of the lag", "lag_percent": "lag", "capacity_from": "capacity over time",
    "rate_from": "rate over time", "critical_float": "float that is critical", "as_late_as_possible": "as late as "
    "it can", "moves_together": "what moves together", "on_hold": "on hold", "led_by": "who leads it",
    "also_told": "who hears of it", "first_day": "first day", "last_day": "last day", "gap": "what its gap does",
}  # fmt: skip


def field_words(field: str) -> str:
    """What a field is called in a sentence."""
    return CALLED.get(field, field.replace("_", " "))


def question_words(plan: Plan, question: Question, dates: DateTexts) -> str:
    """What both sides changed, in a sentence: ``“Racks fixed”: duration 12 d there, 10 d here``."""
    place, name = question.place, question.name
    if not place.field:
        is_gone = question.in_plan is None
        there, here = ("deleted there", "changed here") if is_gone else ("changed there", "deleted here")
        return f"“{name}”: {there}, {here}"
    there = value_words(plan, place, question.in_plan, dates)
    here = value_words(plan, place, question.in_scenario, dates)
    return f"“{name}”: {field_words(place.field)} {there} there, {here} here"


def choice_words(plan: Plan, question: Question, value: Any, dates: DateTexts) -> str:
    """What keeping one of the two values is called."""
    if not question.place.field:
        return "leave it out" if value is None else "keep it"
    return f"keep {value_words(plan, question.place, value, dates)}"


def value_words(plan: Plan, place: Place, value: Any, dates: DateTexts) -> str:
    """A value as its field shows it; of what has many parts how many they are."""
    field = place.field
    if field == "place":
        _, parent, _ = value
        above = plan.tasks.get(parent)
        return "on the top level" if above is None else f"below “{above.name}”"
    if field == "amount" and place.kind == "assignments":
        units, hours, total = value
        if total is not None:
            return format_length(total)
        return f"{hours:g} h a day" if hours is not None else f"{units * 100:g} %"
    if value is None or value == "" or value == ():
        return "nothing"
    if field in REFERENCES:
        found = getattr(plan, REFERENCES[field]).get(value)
        return str(value) if found is None else found.name
    if field in LENGTHS:
        return format_length(value, _units(plan, place))
    if field in MOMENTS:
        return dates.short(value)
    return _plain(field, value)


def _plain(field: str, value: Any) -> str:
    if isinstance(value, bool):
        return "yes" if value else "no"
    if isinstance(value, Enum):
        return str(value.value).replace("_", " ")
    if field in MONEY:
        return f"{value / 100:.2f}"
    if isinstance(value, float):
        return f"{value:g}"
    if isinstance(value, tuple):
        return f"{len(value)} of them" if len(value) != 1 else "one of them"
    text = str(value)
    return f"“{text[:40]}…”" if len(text) > 40 else text


def _units(plan: Plan, place: Place) -> Units:
    task = plan.tasks.get(place.key) if place.kind == "tasks" and place.kind in KINDS else None
    return USUAL if task is None else units_of(plan, task.project)
