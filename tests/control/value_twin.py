"""Earned value read from the rules, minute by minute and in fractions: slow, obvious, and apart from the program."""

from __future__ import annotations

from fractions import Fraction

from hexapod.plan.accounts import Baseline, BaselineTask
from hexapod.plan.plan import Plan
from hexapod.plan.records import DAY, Curve
from hexapod.worktime.calendars import Window, compile_calendar

FALLING = [Fraction(19 - 2 * k, 10) for k in range(10)]
CURVES = {
    Curve.FLAT: [Fraction(1)] * 10,
    Curve.FRONT: FALLING,
    Curve.BACK: FALLING[::-1],
    Curve.CENTRE: [Fraction(n, 10) for n in (2, 6, 10, 14, 18, 18, 14, 10, 6, 2)],
}


class Minutes:
    """Which minutes a calendar works, as a set."""

    def __init__(self, plan: Plan, first: int, last: int) -> None:
        self._plan, self._window = plan, Window(first // DAY - 1, last // DAY + 2)
        self._known: dict[str, set[int]] = {}

    def of(self, calendar: str) -> set[int]:
        if calendar not in self._known:
            found = compile_calendar(self._plan.calendars, calendar, self._window)
            self._known[calendar] = {
                m for b, e in zip(found.begins.tolist(), found.ends.tolist(), strict=True) for m in range(b, e)
            }
        return self._known[calendar]

    def count(self, calendar: str, begin: int, end: int) -> int:
        works = self.of(calendar)
        return sum(1 for m in range(begin, end) if m in works)


def part_planned(minutes: Minutes, row: BaselineTask, at: int) -> Fraction:
    """How much of a row the baseline had planned by a moment."""
    if at >= row.finish:
        return Fraction(1)
    if at <= row.start:
        return Fraction(0)
    whole = minutes.count(row.calendar or "", row.start, row.finish)
    done = minutes.count(row.calendar or "", row.start, at)
    if not whole:
        return Fraction(0)
    tenths = Fraction(10 * done, whole)
    weights = CURVES[row.curve]
    before = sum(weights[: int(tenths)], Fraction(0))
    return (before + weights[min(int(tenths), 9)] * (tenths - int(tenths))) / 10


def rounded(amount: Fraction) -> int:
    """Half up."""
    return (amount + Fraction(1, 2)).__floor__()


def planned_value(minutes: Minutes, rows: list[BaselineTask], at: int) -> int:
    return sum(rounded(row.effort * part_planned(minutes, row, at)) for row in rows)


def earned_schedule(
    plan: Plan, minutes: Minutes, baseline: Baseline, rows: list[BaselineTask], earned: int
) -> Fraction:
    """Day by day: the first on which so much was reached, and how much of its working time that took."""
    if earned <= 0:
        return Fraction(0)
    project = plan.projects[baseline.project]
    day, passed = min(project.start, *(row.start for row in rows)) // DAY, 0
    while True:
        before, after = (planned_value(minutes, rows, m) for m in (day * DAY, (day + 1) * DAY))
        works = minutes.count(project.calendar, max(day * DAY, project.start), (day + 1) * DAY)
        if after >= earned:
            part = Fraction(earned - before, after - before) if after > before else Fraction(0)
            return passed + works * max(Fraction(0), part)
        day, passed = day + 1, passed + works
