"""What people say of a resource, as they type it: ``glazing 4, joinery``; ``1, 0.5 from 2027-01-04``."""

from __future__ import annotations

import re
from collections.abc import Callable

from hexapod.errors import BadText
from hexapod.plan.plan import Plan
from hexapod.plan.records import DAY, ResourceKind, Skill
from hexapod.worktime.clock import date_of

USUAL = Skill("").level


def skills_text(skills: tuple[Skill, ...]) -> str:
    return ", ".join(s.name if s.level == USUAL else f"{s.name} {s.level}" for s in skills)


def read_skills(text: str) -> tuple[Skill, ...]:
    """Names parted by commas, each perhaps with a level from 1 to 5 behind it. ``BadText`` for another level."""
    found: dict[str, Skill] = {}
    for part in filter(None, (p.strip() for p in text.split(","))):
        match = re.fullmatch(r"(.*\S)\s+(\d+)", part)
        name, level = (match[1], int(match[2])) if match else (part, USUAL)
        if not 1 <= level <= 5:
            raise BadText(f"“{part}”: a skill has a level from 1 to 5.")
        found[name.casefold()] = Skill(name, level)
    return tuple(found.values())


def steps_text(first: float, later: tuple[tuple[int, float], ...]) -> str:
    """How much there is, and from which days on it is another."""
    return ", ".join([f"{first:g}", *(f"{amount:g} from {date_of(day).isoformat()}" for day, amount in later)])


def read_steps(text: str, read_day: Callable[[str], int]) -> tuple[float, tuple[tuple[int, float], ...]]:
    """The first amount, and those that follow with their days; ``read_day`` gives the minute of a day.

    ``BadText`` says which part cannot be understood.
    """
    first: float | None = None
    later: dict[int, float] = {}
    for part in filter(None, (p.strip() for p in text.split(","))):
        amount, _, day = part.partition(" from ")
        try:
            number = float(amount.strip())
        except ValueError:
            raise BadText(f"“{part}” is no amount, such as 1 or 0.5 from 2027-01-04.") from None
        if not 0 <= number <= 1_000_000:
            raise BadText(f"“{part}”: an amount is from 0 to a million.")
        if day.strip():
            later[read_day(day.strip()) // DAY] = number
        elif first is None:
            first = number
        else:
            raise BadText(f"“{part}” needs a day from which it counts, such as {amount} from 2027-01-04.")
    if first is None:
        raise BadText("How much there is to begin with is missing.")
    return first, tuple(sorted(later.items()))


def read_share(text: str) -> float:
    """``50 %`` or ``0.5``, of one unit. ``BadText`` for anything else."""
    is_percent = text.endswith("%")
    try:
        found = float(text.removesuffix("%").strip().replace(",", ".")) / (100 if is_percent else 1)
    except ValueError:
        raise BadText(f"“{text}” is no share, such as 50 %.") from None
    if not 0.001 <= found <= 10_000:
        raise BadText("A share must be more than 0 %.")
    return round(found, 3)


def read_roles(plan: Plan, text: str) -> tuple[str, ...]:
    """Ids of roles by their names or initials. ``BadText`` for one that there is not."""
    known = {n.casefold(): r.id for r in plan.resources.values() if r.kind is ResourceKind.ROLE
             for n in (r.name, r.initials) if n}  # fmt: skip
    found = []
    for name in filter(None, (part.strip() for part in text.split(","))):
        if name.casefold() not in known:
            raise BadText(f"There is no role “{name}”. Add it to the pool first.")
        found.append(known[name.casefold()])
    return tuple(dict.fromkeys(found))
