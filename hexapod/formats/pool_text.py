"""What people say of a resource, as they type it: ``glazing 4, joinery``; ``1, 0.5 from 2027-01-04``."""

from __future__ import annotations

import itertools
import re
from collections.abc import Callable, Container
from decimal import ROUND_HALF_UP, Decimal, InvalidOperation
from typing import TypeVar

from hexapod.errors import BadText
from hexapod.plan.bounds import LEAST_UNITS, MOST_UNITS
from hexapod.plan.plan import Plan
from hexapod.plan.records import DAY, CalendarException, ResourceKind, Skill
from hexapod.worktime.clock import date_of
from hexapod.worktime.days import format_hours, parse_hours

USUAL = Skill("").level
N = TypeVar("N", float, Decimal)


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


def rates_text(first: int, later: tuple[tuple[int, int], ...]) -> str:
    """What an hour costs, of whole smallest units, and from which days on it is another."""
    return ", ".join([_money(first), *(f"{_money(rate)} from {date_of(day).isoformat()}" for day, rate in later)])


def _money(cents: int) -> str:
    whole, part = divmod(cents, 100)
    return f"{whole}.{part:02}" if part else f"{whole}"


def read_rates(text: str, read_day: Callable[[str], int]) -> tuple[int, tuple[tuple[int, int], ...]]:
    """The same read, in whole smallest units; no figure goes through a float. ``BadText`` as ``read_steps``."""
    first, later = _steps(text, read_day, Decimal)
    return _cents(first), tuple((day, _cents(rate)) for day, rate in later)


def _cents(amount: Decimal) -> int:
    return int((amount * 100).to_integral_value(ROUND_HALF_UP))


def steps_text(first: float, later: tuple[tuple[int, float], ...]) -> str:
    """How much there is, and from which days on it is another."""
    return ", ".join([f"{first:g}", *(f"{amount:g} from {date_of(day).isoformat()}" for day, amount in later)])


def read_steps(text: str, read_day: Callable[[str], int]) -> tuple[float, tuple[tuple[int, float], ...]]:
    """The first amount, and those that follow with their days; ``read_day`` gives the minute of a day.

    ``BadText`` says which part cannot be understood.
    """
    return _steps(text, read_day, float)


def _steps(
    text: str, read_day: Callable[[str], int], number: Callable[[str], N]
) -> tuple[N, tuple[tuple[int, N], ...]]:
    first: N | None = None
    later: dict[int, N] = {}
    for part in filter(None, (p.strip() for p in text.split(","))):
        amount, _, day = part.partition(" from ")
        try:
            found = number(amount.strip())
            is_allowed = 0 <= found <= 1_000_000  # a comparison with what is no number raises, too
        except (ValueError, InvalidOperation):
            raise BadText(f"“{part}” is no amount, such as 1 or 0.5 from 2027-01-04.") from None
        if not is_allowed:
            raise BadText(f"“{part}”: an amount is from 0 to a million.")
        if day.strip():
            later[read_day(day.strip()) // DAY] = found
        elif first is None:
            first = found
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
    if not LEAST_UNITS <= found <= MOST_UNITS:
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


def leave_text(leave: tuple[CalendarException, ...]) -> str:
    """Days off as they can be typed; extra working days are ``extra_text``, rules are kept and not shown."""
    return ", ".join(_days_text(e) for e in leave if not e.working and not e.rule)


def extra_text(leave: tuple[CalendarException, ...]) -> str:
    """Extra days with their hours: ``2026-12-05 08:00-12:00``."""
    plain = [e for e in leave if e.working and not e.rule]
    return ", ".join(f"{_days_text(e)} {format_hours(e.working).replace(', ', ' and ')}" for e in plain)


def _days_text(e: CalendarException) -> str:
    first, last = date_of(e.first_day).isoformat(), date_of(e.last_day).isoformat()
    return first if first == last else f"{first} to {last}"


def read_leave(
    text: str, before: tuple[CalendarException, ...], read_day: Callable[[str], int]
) -> tuple[CalendarException, ...]:
    """Days off that a text says, with what of before it cannot say. ``BadText`` names the part that is no date."""
    found = [CalendarException(*_read_days(part, read_day)) for part in _parts(text)]
    return (*found, *(e for e in before if e.working or e.rule))


def read_extra(
    text: str, before: tuple[CalendarException, ...], read_day: Callable[[str], int]
) -> tuple[CalendarException, ...]:
    """Extra working days that a text says, each with its hours or the usual ones, with the leave of before."""
    found = []
    for part in _parts(text):
        match = _HOURS.search(part)
        days = part[: match.start()] if match else part
        working = parse_hours(match[0].strip().replace(" and ", ", ")) if match else USUAL_HOURS
        found.append(CalendarException(*_read_days(days.strip(), read_day), working))
    return (*(e for e in before if not e.working or e.rule), *found)


USUAL_HOURS = ((480, 720), (780, 1020))
_HOURS = re.compile(r"\s\d{1,2}(:\d\d)?\s*[-–]\s*\d{1,2}(:\d\d)?(\s+and\s+\d{1,2}(:\d\d)?\s*[-–]\s*\d{1,2}(:\d\d)?)*$")


def _parts(text: str) -> list[str]:
    return [part for part in (p.strip() for p in text.split(",")) if part]


def _read_days(text: str, read_day: Callable[[str], int]) -> tuple[int, int]:
    first, _, last = text.partition(" to ")
    begin = read_day(first) // DAY
    return begin, read_day(last) // DAY if last else begin


def propose_initials(name: str, taken: Container[str], tried: dict[str, int] | None = None) -> str:
    """Two or three letters of a name that nobody has yet, else with a number behind them.

    ``tried``, by letters the number that is the next to be tried: for who gives initials to thousands.
    """
    words = re.findall(r"\w+", name)
    if not words:
        return ""
    first = "".join(w[0] for w in words[:3]).upper() if len(words) > 1 else words[0][:2].upper()
    plain = (first, (words[0][:2] + words[-1][0]).upper())
    tried = {} if tried is None else tried
    for candidate in plain:
        if candidate.casefold() not in taken:
            return candidate
    number = next(n for n in itertools.count(tried.get(first, 2)) if f"{first}{n}".casefold() not in taken)
    tried[first] = number + 1
    return f"{first}{number}"
