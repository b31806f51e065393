"""Plans side by side: a row a figure, a column a plan, and which of them is best."""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass
from enum import StrEnum
from functools import partial
from typing import NamedTuple

from hexapod.outlook.figures import Figures, Month
from hexapod.plan.plan import Plan
from hexapod.worktime.clock import date_of

Value = float | int | None


class Measure(StrEnum):
    """What a figure is counted in."""

    DATE = "date"  # minutes since 1970
    LENGTH = "length"  # minutes of work
    HOURS = "hours"
    MONEY = "money"  # smallest units
    COUNT = "count"


class RowKind(StrEnum):
    FINISH = "finish"
    MILESTONE = "milestone"
    SURE = "sure"
    TARGETS = "targets"
    FLOAT = "float"
    OVERLOADS = "overloads"
    OVERLOAD = "overload"
    SHORT = "short"
    HOURS = "hours"
    COST = "cost"
    COST_IN = "cost_in"
    MOVED = "moved"


class RowKey(NamedTuple):
    """Which figure: ``of`` is the project, the milestone or the role, ``month`` the one that it is of."""

    kind: RowKind
    of: str = ""
    month: Month = 0


@dataclass(frozen=True)
class Row:
    """``values`` has one for each plan. ``best`` are the columns that have the best one, none where all are alike or
    there is no better and worse. ``held`` are columns in which the project is on hold, ``outs`` what a count is out
    of."""

    key: RowKey
    words: str
    measure: Measure
    values: tuple[Value, ...]
    best: frozenset[int] = frozenset()
    held: frozenset[int] = frozenset()
    outs: tuple[int, ...] = ()

    def difference(self, column: int) -> Value:
        """Against the first column."""
        first, value = self.values[0], self.values[column]
        return None if first is None or value is None else value - first


def rows_of(plan: Plan, columns: Sequence[Figures], share: str = "") -> list[Row]:
    """Every row that there is something to say in; ``plan`` names what they are of, ``share`` how sure is sure
    enough."""
    rows = [*_finishes(plan, columns), *_milestones(plan, columns)]
    rows.append(_row(RowKey(RowKind.TARGETS), "Targets met", Measure.COUNT, columns, lambda f: f.met, more=True,
                     outs=tuple(f.targets for f in columns)))  # fmt: skip
    if any(f.sure for f in columns):
        rows += _sure(plan, columns, share)
    rows.append(_row(RowKey(RowKind.FLOAT), "Least float beside what is critical", Measure.LENGTH, columns,
                     lambda f: f.least_float, more=True))  # fmt: skip
    rows.append(_row(RowKey(RowKind.OVERLOADS), "Overloads", Measure.COUNT, columns, lambda f: f.overloads))
    rows.append(_row(RowKey(RowKind.OVERLOAD), "Overloaded", Measure.HOURS, columns, lambda f: f.overload))
    rows += _short(plan, columns)
    rows.append(_row(RowKey(RowKind.HOURS), "Hours left to do", Measure.HOURS, columns, lambda f: f.hours))
    rows.append(_row(RowKey(RowKind.COST), "Cost of it all", Measure.MONEY, columns, lambda f: f.cost))
    for month in sorted({m for f in columns for m in f.costs}):
        rows.append(_row(RowKey(RowKind.COST_IN, "", month), f"Cost in {month_words(month)}", Measure.MONEY, columns,
                         partial(_cost_in, month)))  # fmt: skip
    rows.append(_row(RowKey(RowKind.MOVED), "Tasks that move", Measure.COUNT, columns, lambda f: f.moved, none=True))
    return rows


def usual_rows(rows: Sequence[Row]) -> list[RowKey]:
    """Those that are shown while nobody chose: without milestones, without money by month, of each role the month in
    which it is shortest, and only where there is something to see."""
    left_out = (RowKind.MILESTONE, RowKind.COST_IN, RowKind.FLOAT, RowKind.OVERLOADS, RowKind.HOURS)
    worst: dict[str, Row] = {}
    for row in rows:
        if row.key.kind is RowKind.SHORT:
            known = worst.get(row.key.of)
            worst[row.key.of] = row if known is None or _most(row) > _most(known) else known
    shortest = {row.key for row in sorted(worst.values(), key=_most, reverse=True)[:2]}
    return [
        row.key for row in rows
        if row.key.kind not in left_out and (row.key.kind is not RowKind.SHORT or row.key in shortest)
    ]  # fmt: skip


def month_words(month: Month) -> str:
    on = date_of(month)
    return f"{on:%B} {on.year}"


def _most(row: Row) -> float:
    return max(float(value or 0) for value in row.values)


def _row(
    key: RowKey,
    words: str,
    measure: Measure,
    columns: Sequence[Figures],
    read: Callable[[Figures], Value],
    *,
    more: bool = False,
    none: bool = False,
    held: frozenset[int] = frozenset(),
    outs: tuple[int, ...] = (),
) -> Row:
    """``more`` is better, else less is; with ``none`` neither is."""
    values = tuple(None if i in held else read(figures) for i, figures in enumerate(columns))
    known = [v for v in values if v is not None]
    best: frozenset[int] = frozenset()
    if known and not none and len({_rounded(measure, v) for v in known}) > 1:
        winner = _rounded(measure, max(known) if more else min(known))
        best = frozenset(i for i, v in enumerate(values) if v is not None and _rounded(measure, v) == winner)
    return Row(key, words, measure, values, best, held, outs)


def _rounded(measure: Measure, value: float) -> float:
    """As it is shown: what looks the same is the same."""
    return round(value) if measure is Measure.HOURS else round(value / 100) if measure is Measure.MONEY else value


def _held(columns: Sequence[Figures], project: str) -> frozenset[int]:
    return frozenset(i for i, figures in enumerate(columns) if project in figures.held)


def _cost_in(month: Month, figures: Figures) -> Value:
    return figures.costs.get(month, 0)


def _finish_of(project: str, figures: Figures) -> Value:
    return figures.finishes.get(project)


def _milestone(task: str, figures: Figures) -> Value:
    return figures.milestones.get(task)


def _sure_by(project: str, figures: Figures) -> Value:
    return figures.sure.get(project)


def _name(names: Mapping[str, str], key: str) -> str:
    return names.get(key, key)


def _finishes(plan: Plan, columns: Sequence[Figures]) -> list[Row]:
    known = {p for f in columns for p in f.finishes}
    order = [p.id for p in plan.projects_in_order() if p.id in known]
    names = {p.id: p.name for p in plan.projects.values()}
    return [
        _row(RowKey(RowKind.FINISH, p), f"{_name(names, p)} ends", Measure.DATE, columns,
             partial(_finish_of, p), held=_held(columns, p))
        for p in (*order, *sorted(known - set(order)))
    ]  # fmt: skip


def _milestones(plan: Plan, columns: Sequence[Figures]) -> list[Row]:
    known = {t for f in columns for t in f.milestones if t in plan.tasks}
    order = sorted(known, key=lambda t: (columns[0].milestones.get(t) or 0, plan.tasks[t].name))
    return [
        _row(RowKey(RowKind.MILESTONE, t), plan.tasks[t].name, Measure.DATE, columns,
             partial(_milestone, t), held=_held(columns, plan.tasks[t].project))
        for t in order
    ]  # fmt: skip


def _sure(plan: Plan, columns: Sequence[Figures], share: str) -> list[Row]:
    known = {p for f in columns for p in f.sure}
    return [
        _row(RowKey(RowKind.SURE, p.id), f"{share} by: {p.name}", Measure.DATE, columns,
             partial(_sure_by, p.id), held=_held(columns, p.id))
        for p in plan.projects_in_order() if p.id in known
    ]  # fmt: skip


def _short(plan: Plan, columns: Sequence[Figures]) -> list[Row]:
    """A row for each role and month in which some plan has too few."""
    found = []
    for role in plan.resources_in_order():
        months = sorted({m for f in columns for m, need in f.needs.get(role.id, {}).items() if need.short >= 0.5})
        for month in months:
            found.append(_row(
                RowKey(RowKind.SHORT, role.id, month), f"{role.name} short in {month_words(month)}", Measure.HOURS,
                columns, partial(_shortage, role.id, month),
            ))  # fmt: skip
    return found


def _shortage(role: str, month: Month, figures: Figures) -> float:
    need = figures.needs.get(role, {}).get(month)
    return 0.0 if need is None else need.short
