"""From a view to the rows of the screen: filter, group, lanes and order are steps that make one flat list."""

from __future__ import annotations

import heapq
from collections.abc import Callable, Collection, Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from hexapod.expressions.language import Expression
from hexapod.expressions.values import Kind, Value, format_value
from hexapod.fields.formulas import names_of
from hexapod.fields.reading import NO_TROUBLES, Reading, Troubles
from hexapod.plan.outline import Row
from hexapod.plan.plan import Plan
from hexapod.plan.rowlist import Ints, Outline, RowList
from hexapod.query.views import Finished, View
from hexapod.schedule.schedule import Dates

NOTHING = "–"  # the heading of rows whose value is empty
BETWEEN_BARS = 1440  # minutes that bars on one lane are apart at least


@dataclass(frozen=True)
class Rows:
    """What an arrangement is made of. ``matching`` None means every row."""

    plan: Plan
    schedule: Dates
    outline: Outline
    folded: Collection[str] = ()
    matching: Collection[str] | None = None
    only: Collection[str] | None = None  # a chain that is looked at
    troubles: Troubles = NO_TROUBLES


def arrange(view: View, rows: Rows) -> RowList:
    """The rows that a view shows. In outline order, what is kept has its summaries above it."""
    kept = _kept(view, rows)
    if view.is_outline:
        shown = rows.outline.with_ancestors(kept) if kept is not None else None
        open_ = rows.outline.unfolded(rows.folded)
        entries = np.flatnonzero(open_ if shown is None else open_ & shown)
        return RowList(rows.outline, entries.astype(np.int32))
    entries = np.arange(len(rows.outline)) if kept is None else np.flatnonzero(kept)
    if view.sort or view.lanes:
        entries = _sorted(view.sort or "start", rows, entries)
    if not view.group:
        return RowList(rows.outline, entries.astype(np.int32), flat=True)
    return _grouped(view, rows, entries)


def _kept(view: View, rows: Rows) -> NDArray[np.bool_] | None:
    """Which rows of the outline the view keeps; None for all."""
    sets = [chosen for chosen in (rows.matching, rows.only) if chosen is not None]
    hides = view.finished is Finished.HIDDEN
    if not sets and not hides:
        return None
    kept = np.ones(len(rows.outline), dtype=bool)
    for chosen in sets:
        mask = np.zeros(len(rows.outline), dtype=bool)
        at = [i for t in chosen if (i := rows.outline.index.get(t)) is not None]
        mask[np.array(at, dtype=np.int64)] = True
        kept &= mask
    if hides:
        tasks = rows.plan.tasks
        done = [i for i, t in enumerate(rows.outline.tasks) if tasks[t].is_done]
        kept[np.array(done, dtype=np.int64)] = False
    return kept


def _sorted(sort: str, rows: Rows, entries: NDArray[np.int64]) -> NDArray[np.int64]:
    """By a name of the query language; empty values last, equals in outline order."""
    value = _values(sort.removeprefix("-"), rows)
    keyed = [(value(rows.outline.tasks[i]), i) for i in entries.tolist()]
    empty = [i for v, i in keyed if v is None]
    filled = [(v.casefold() if isinstance(v, str) else v, i) for v, i in keyed if v is not None]
    filled.sort(key=lambda pair: pair[0], reverse=sort.startswith("-"))
    return np.array([i for _, i in filled] + empty, dtype=np.int64)


def _values(name: str, rows: Rows) -> Callable[[str], Value]:
    found: Expression | None = names_of(rows.plan).get(name.lower())
    if found is None:
        return lambda task: None
    run = found.value
    return lambda task: run(Reading(rows.plan, rows.schedule, rows.plan.tasks[task], rows.troubles))


_SEVERAL = ("who", "role", "initials", "tags")  # a task with several of these stands in each of their groups


def groups_of(view: View, rows: Rows) -> Callable[[str], list[str]]:
    """The groups that a task belongs to, by what they are called."""
    found = names_of(rows.plan).get(view.group.lower())
    kind = found.kind if found is not None else Kind.TEXT
    value = _values(view.group, rows)

    def names(task: str) -> list[str]:
        text = format_value(kind, value(task))
        if view.group in _SEVERAL and text:
            return text.split(", ")
        return [(f"{view.group}: {text}" if kind is Kind.YES_NO else text) or NOTHING]

    return names


def _grouped(view: View, rows: Rows, entries: NDArray[np.int64]) -> RowList:
    names = groups_of(view, rows)
    groups: dict[str, list[int]] = {}
    for i in entries.tolist():
        for name in names(rows.outline.tasks[i]):
            groups.setdefault(name, []).append(i)
    order = list(groups) if view.group == "project" else sorted(groups, key=lambda g: (g == NOTHING, g.casefold()))
    made: list[Ints] = []
    specials: list[Row] = []

    def special(row: Row) -> None:
        made.append(np.array([-1 - len(specials)], dtype=np.int32))
        specials.append(row)

    keeps_levels = not view.sort and not view.lanes and view.group == "project"
    for group in order:
        here = groups[group]
        special(Row("", 0, "", f"{group} ({len(here)})"))
        if view.lanes:
            for lane in lanes(rows.schedule, [rows.outline.tasks[i] for i in here]):
                special(Row("", 1, "", "", tuple(lane)))
        else:
            made.append(np.array(here, dtype=np.int32))
    joined = np.concatenate(made) if made else np.zeros(0, dtype=np.int32)
    if keeps_levels:
        open_ = rows.outline.unfolded(rows.folded)
        joined = joined[(joined < 0) | open_[np.maximum(joined, 0)]]
    return RowList(rows.outline, joined, specials, flat=not keeps_levels)


def lanes(schedule: Dates, tasks: Sequence[str], between: int = BETWEEN_BARS) -> list[list[str]]:
    """Tasks on as few lanes as their dates allow, each lane from left to right.

    Greedy by start, which is optimal: Kleinberg and Tardos, *Algorithm Design* (2005), interval partitioning.
    """
    dated = sorted((schedule.dates(t).start, schedule.dates(t).finish, t) for t in tasks if schedule.has(t))
    found: list[list[str]] = []
    free: list[tuple[int, int]] = []  # (from when, lane)
    for start, finish, task in dated:
        if free and free[0][0] <= start:
            _, lane = heapq.heappop(free)
        else:
            lane = len(found)
            found.append([])
        found[lane].append(task)
        heapq.heappush(free, (finish + between, lane))
    return found
