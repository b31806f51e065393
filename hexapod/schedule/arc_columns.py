"""The arcs of a network with what the kernels ask of them: lags, the calendars that count them, gaps that are kept."""

from __future__ import annotations

import numpy as np

from hexapod.plan.plan import Plan
from hexapod.plan.records import Gap
from hexapod.schedule.arrays import GAPS, LinkArrays, TaskArrays
from hexapod.schedule.order import carried
from hexapod.schedule.passes import Arcs
from hexapod.schedule.structure import Structure
from hexapod.schedule.timing import ROUND_THE_CLOCK, Timing
from hexapod.worktime.calendars import Ints

COLUMNS = ("lag", "lag_calendar", "percent", "keeps", "kept")


def arcs_of(
    plan: Plan, tasks: TaskArrays, links: LinkArrays, projects: tuple[str, ...], timing: Timing, shape: Structure
) -> Arcs:
    """All arcs of a structure."""
    columns = _columns(plan, tasks, links, projects, timing, shape, np.arange(len(shape.source)))
    return _arcs(shape, *columns)


def arcs_again(
    known: Arcs,
    plan: Plan,
    tasks: TaskArrays,
    links: LinkArrays,
    projects: tuple[str, ...],
    timing: Timing,
    shape: Structure,
    arc_was: Ints | None,
    touched: Ints,
) -> Arcs:
    """The arcs after an edit that changed only the links with the ``touched`` slots; ``arc_was`` as in ``Patch``."""
    at = (
        [np.flatnonzero(shape.link == slot) for slot in touched.tolist()]
        if len(touched) < 8
        else [np.flatnonzero(np.isin(shape.link, touched))]
    )
    chosen = np.concatenate(at) if at else touched
    found = []
    for name, values in zip(COLUMNS, _columns(plan, tasks, links, projects, timing, shape, chosen), strict=True):
        old: Ints = getattr(known, name)
        column = old.copy() if arc_was is None else carried(old, arc_was)
        column[chosen] = values
        found.append(column)
    return _arcs(shape, *found)


def _arcs(shape: Structure, lag: Ints, lag_calendar: Ints, percent: Ints, keeps: Ints, kept: Ints) -> Arcs:
    return Arcs(
        shape.into, shape.source, shape.kind, lag, lag_calendar, percent, shape.order, shape.leaf, keeps, kept,
        shape.head, shape.out_into, shape.out,
    )  # fmt: skip


def _columns(
    plan: Plan,
    tasks: TaskArrays,
    links: LinkArrays,
    projects: tuple[str, ...],
    timing: Timing,
    shape: Structure,
    arcs: Ints,
) -> tuple[Ints, Ints, Ints, Ints, Ints]:
    """By arc of some: lag, the calendar that counts it, its percentage, whether it keeps its gap, and how much that
    is."""
    link = shape.link[arcs]
    at = np.flatnonzero(link >= 0)
    slots = link[at]
    found = [np.zeros(len(arcs), dtype=np.int64) for _ in range(5)]
    lag, calendar, percent, keeps, kept = found
    lag[at], percent[at] = links.lag[slots], links.percent[slots]
    calendar[:] = -1
    successor = links.successor[slots]
    of_summary = shape.leaf[successor] == 0
    counted = links.lag_on[slots]
    if counted.any() or of_summary.any():
        calendar[at] = _lag_calendars(plan, tasks, links, projects, timing, slots, of_summary)
    keeping = (links.gap[slots] == GAPS[Gap.KEEP]) & ~of_summary  # no gap before a summary is kept
    keeps[at], kept[at] = keeping, links.kept[slots] * keeping
    return lag, calendar, percent, keeps, kept


def _lag_calendars(
    plan: Plan,
    tasks: TaskArrays,
    links: LinkArrays,
    projects: tuple[str, ...],
    timing: Timing,
    slots: Ints,
    of_summary: Ints,
) -> Ints:
    """By link the calendar in the pool that counts its lag.

    -1 is that of the task that the lag moves, which for most links is their successor. A link to the finish of a
    summary moves the leaves below it; its lag is still counted on the summary's calendar.
    """
    predecessor, successor = links.predecessor[slots], links.successor[slots]
    of_project = np.array([timing.index[(plan.projects[p].calendar,)] for p in projects])
    found: Ints = np.choose(
        links.lag_on[slots],
        (
            np.where(of_summary, tasks.calendar[successor], -1),
            tasks.calendar[predecessor],
            of_project[tasks.project[successor]],
            np.full(len(slots), timing.index[ROUND_THE_CLOCK]),
        ),
    )
    return found
