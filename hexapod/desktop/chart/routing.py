"""Where links run: straight, with rounded corners, in the gaps between rows, round the bars and letters in between.

The way of one link is a shortest path over the rows between its ends: from row to row it may run on where nothing is in
the way, or change its place in the gap between two rows, which costs a bend and the distance.
"""

from __future__ import annotations

from collections.abc import Callable, Sequence
from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray
from PyQt6.QtCore import QPointF, QRectF
from PyQt6.QtGui import QPainterPath

from hexapod.plan.records import LinkType

Interval = tuple[float, float]
BEND = 26.0  # pixels that a way may be longer to have one bend less
CLEAR = 3.0  # from what it passes
STUB = 4.0  # from a bar's end to its first bend
RADIUS = 4.0
FARTHEST = 60  # rows between the ends; a longer link runs straight on, under what is in its way
MOST_PLACES = 160


class Ends(NamedTuple):
    """A link between rows: its bars, their rows, and the height at which the gap below a row lies.

    Where ``names_above`` bars have their names above them, a link that goes up has its own row to pass too.
    """

    before: QRectF
    after: QRectF
    row_before: int
    row_after: int
    gap: Callable[[int], float]
    names_above: bool = False


def link_path(type_: LinkType, ends: Ends, blocked: Callable[[int], Sequence[Interval]]) -> QPainterPath:
    """The line of a link; ``blocked`` gives what lies in a row, from where to where."""
    return rounded(way(type_, ends, blocked))


def way(type_: LinkType, ends: Ends, blocked: Callable[[int], Sequence[Interval]]) -> list[QPointF]:
    """The corners of a link from the end of one bar to the edge of another. ``blocked`` gives what lies in a row."""
    from_finish = type_ in (LinkType.FS, LinkType.FF)
    to_start = type_ in (LinkType.FS, LinkType.SS)
    before, after = ends.before, ends.after
    begin = QPointF(before.right() if from_finish else before.left(), before.center().y())
    inset = min(3.0, after.width() / 2)
    x = after.left() + inset if to_start else after.right() - inset
    out = STUB if from_finish else -STUB
    if ends.row_before == ends.row_after:
        others = [i for i in blocked(ends.row_before) if abs(i[0] - after.left()) > 1 or abs(i[1] - after.right()) > 1]
        if type_ is LinkType.FS and after.left() >= begin.x() and _is_free(others, begin.x(), after.left(), before):
            return [begin, QPointF(after.left(), begin.y())]
        return _in_one_row(ends, begin, x, out)
    step = 1 if ends.row_after > ends.row_before else -1
    end = QPointF(x, after.top() - 1 if step > 0 else after.bottom() + 1)
    first = ends.row_before if ends.names_above and step < 0 else ends.row_before + step
    between = range(first, ends.row_after, step)
    mine = blocked(ends.row_before)
    if (x - begin.x()) * out >= 0 and _is_free(mine, begin.x(), x, before) and _are_free(between, blocked, x):
        return [begin, QPointF(x, begin.y()), end]  # straight on, and down or up
    start = begin.x() + out
    places = _places(start, x, between, blocked)
    corners = [begin, QPointF(start, begin.y())]
    now = start
    for row, place in zip(between, places, strict=True):
        if place != now:
            y = _gap(ends, row - (step > 0), row_of=ends.row_before)
            corners += [QPointF(now, y), QPointF(place, y)]
            now = place
    if now != x:
        y = _gap(ends, ends.row_after - (step > 0), row_of=ends.row_before)
        corners += [QPointF(now, y), QPointF(x, y)]
    return [*corners, end]


def rounded(corners: Sequence[QPointF]) -> QPainterPath:
    """A line through the corners, each rounded as far as its two sides allow."""
    path = QPainterPath(corners[0])
    for last, at, following in zip(corners, corners[1:], corners[2:], strict=False):
        first, second = at - last, following - at
        room = min(first.manhattanLength(), second.manhattanLength()) / 2
        radius = min(RADIUS, room)
        if radius < 0.5:
            path.lineTo(at)
            continue
        path.lineTo(at - first * (radius / first.manhattanLength()))
        path.quadTo(at, at + second * (radius / second.manhattanLength()))
    path.lineTo(corners[-1])
    return path


def _in_one_row(ends: Ends, begin: QPointF, x: float, out: float) -> list[QPointF]:
    """Between two bars of a lane: through the gap below it."""
    y = _gap(ends, ends.row_before, row_of=ends.row_before)
    side = begin.x() + out
    return [begin, QPointF(side, begin.y()), QPointF(side, y), QPointF(x, y), QPointF(x, ends.after.bottom() + 1)]


def _gap(ends: Ends, above: int, *, row_of: int) -> float:
    """The height of the gap below a row. Links of neighbouring rows run a little apart, those of one row together."""
    return ends.gap(above) - 1.5 + 2.0 * (row_of % 3)


def _is_free(intervals: Sequence[Interval], a: float, b: float, own: QRectF) -> bool:
    """Whether nothing in a row but the bar itself lies from ``a`` to ``b``."""
    left, right = min(a, b), max(a, b)
    others = (i for i in intervals if abs(i[0] - own.left()) > 1 or abs(i[1] - own.right()) > 1)
    return not any(i[0] < right and i[1] > left for i in others)


def _are_free(rows: range, blocked: Callable[[int], Sequence[Interval]], x: float) -> bool:
    if len(rows) > FARTHEST:
        return True
    before, behind = x - CLEAR, x + CLEAR
    for row in rows:
        for left, right in blocked(row):
            if left < behind and right > before:
                return False
    return True


def _places(start: float, end: float, rows: range, blocked: Callable[[int], Sequence[Interval]]) -> list[float]:
    """Where to pass each row, so that bends and distances are least together."""
    if len(rows) > FARTHEST or _are_free(rows, blocked, end):
        return [end] * len(rows)
    if _are_free(rows, blocked, start):
        return [start] * len(rows)  # no way has fewer bends, or is shorter
    found = [blocked(row) for row in rows]
    edges = {edge for row in found for i in row for edge in (i[0] - CLEAR, i[1] + CLEAR)}
    near = sorted(edges, key=lambda e: min(abs(e - start), abs(e - end)))[:MOST_PLACES]
    outermost = (min(edges), max(edges)) if edges else ()
    places = np.array(sorted({start, end, *near, *outermost}))
    costs: list[NDArray[np.float64]] = []
    cost = np.abs(places - start) + np.where(places == start, 0.0, BEND)
    for row in found:
        if costs:
            cost = np.minimum(cost, _moved(cost, places) + BEND)
        for left, right in row:
            cost = np.where((places > left - CLEAR) & (places < right + CLEAR), np.inf, cost)
        costs.append(cost)
    if not costs:
        return []
    at = int(np.argmin(costs[-1] + np.abs(places - end) + np.where(places == end, 0.0, BEND)))
    chosen = [at]
    for earlier, later in zip(costs[-2::-1], costs[:0:-1], strict=True):
        if earlier[at] > later[at]:
            at = int(np.argmin(earlier + np.abs(places - places[at])))
        chosen.append(at)
    return [float(places[i]) for i in reversed(chosen)]


def _moved(cost: NDArray[np.float64], places: NDArray[np.float64]) -> NDArray[np.float64]:
    """The least cost of coming to each place from any other: its cost and the distance."""
    from_left = np.minimum.accumulate(cost - places) + places
    from_right = np.minimum.accumulate((cost + places)[::-1])[::-1] - places
    found: NDArray[np.float64] = np.minimum(from_left, from_right)
    return found
