"""What a risk says, as people type it: ``1 in 5``; ``1.2: 3-8 d; Glass fitted: 2d``; ``800; 1200; 3000``."""

from __future__ import annotations

import re
from collections.abc import Callable

from hexapod.errors import BadText
from hexapod.fields.estimate_text import estimate_words, looks_like_a_range, read_estimate
from hexapod.plan.estimates import a_third_of_the_way
from hexapod.plan.outline import number_of, task_at
from hexapod.plan.plan import Plan
from hexapod.plan.risks import Range, RiskDelay
from hexapod.worktime.calendars import units_of
from hexapod.worktime.lengths import parse_duration

_IN = re.compile(r"(\d{1,6})\s*(?:in|out of|of)\s*(\d{1,6})", re.IGNORECASE)
_NUMBER = re.compile(r"(\d{1,3}(?:[.,]\d{1,6})?)\s*(%?)")


def read_chance(text: str) -> float:
    """0 to 1. ``BadText`` if it is no chance."""
    said = text.strip()
    of = _IN.fullmatch(said)
    if of is not None and int(of[2]):
        chance = int(of[1]) / int(of[2])
    else:
        number = _NUMBER.fullmatch(said)
        if number is None:
            raise BadText(f"“{said[:40]}” is no chance. Type for example 20 % or 1 in 5.")
        chance = float(number[1].replace(",", "."))
        if number[2] or chance > 1:
            chance /= 100
    if not 0 <= chance <= 1:
        raise BadText(f"“{said[:40]}” is more than always: a chance is from 0 to 100 %.")
    return chance


def chance_text(chance: float) -> str:
    return f"{100 * chance:.4g} %"


def read_delays(plan: Plan, project: str, text: str) -> tuple[RiskDelay, ...]:
    """Rows, by their numbers or names, each with a range behind a colon; parted by semicolons or lines."""
    found = []
    for part in re.split(r"[;\n]", text):
        if not part.strip():
            continue
        row, mark, said = part.rpartition(":")
        if not mark:
            row, _, said = part.strip().partition(" ")
        task = _row(plan, project, row)
        units = units_of(plan, project)
        if looks_like_a_range(said):
            estimate, _ = read_estimate(said, units, least=0)
        else:
            estimate = (parse_duration(said.strip(), units)[0],) * 3
        best, worst = estimate[0], estimate[-1]
        likely = estimate[1] if len(estimate) == 3 else a_third_of_the_way(best, worst)
        found.append(RiskDelay(task, (best, likely, worst)))
    return tuple(found)


def read_rows(plan: Plan, project: str, text: str) -> tuple[str, ...]:
    """Rows by their numbers or names, parted by semicolons. ``BadText`` for what is no row."""
    return tuple(dict.fromkeys(_row(plan, project, part) for part in text.split(";") if part.strip()))


def _row(plan: Plan, project: str, said: str) -> str:
    wanted = said.strip().strip('“”"')
    task = task_at(plan, project, wanted)
    if task is not None:
        return task
    named = [t.id for t in plan.tasks.values() if t.project == project and t.name.casefold() == wanted.casefold()]
    if len(named) != 1:
        raise BadText(f"“{wanted[:60]}” is {'no row' if not named else 'the name of several rows'} of the project.")
    return named[0]


def delays_text(plan: Plan, project: str, delays: tuple[RiskDelay, ...]) -> str:
    """As it can be typed."""
    units = units_of(plan, project)
    said = []
    for delay in delays:
        said.append(f"{number_of(plan, delay.task)}: {estimate_words(_shortest(delay.minutes), False, units)}")
    return "; ".join(said)


def read_costs(text: str, read_amount: Callable[[str], int]) -> Range | None:
    """One amount, or best and worst, or three, parted by semicolons; nothing for none."""
    parts = [part.strip() for part in re.split(r"[;–—]|\s-\s|\bto\b", text) if part.strip()]
    if not parts:
        return None
    amounts = [read_amount(part) for part in parts]
    if len(amounts) > 3 or amounts != sorted(amounts):
        raise BadText("Type one amount, or two or three, from the best to the worst: 800; 1200; 3000.")
    if len(amounts) == 2:
        amounts.insert(1, a_third_of_the_way(amounts[0], amounts[1]))
    return amounts[0], amounts[len(amounts) // 2], amounts[-1]


def costs_text(cost: Range | None, plain: Callable[[int], str]) -> str:
    if cost is None:
        return ""
    return "; ".join(map(plain, _shortest(cost)))


def _shortest(found: Range) -> tuple[int, ...]:
    """The fewest amounts that are read as this range again."""
    best, likely, worst = found
    if best == worst:
        return (best,)
    return (best, worst) if likely == a_third_of_the_way(best, worst) else found
