"""Where work stands on the map of planning back: as late as its dates allow, chains straight, lane under lane. Pure."""

from __future__ import annotations

import re
from collections.abc import Callable, Mapping, Sequence

from hexapod.desktop.link.back_picture import Latest, Picture
from hexapod.errors import HexapodError
from hexapod.plan.plan import Plan
from hexapod.plan.records import DAY
from hexapod.schedule.planning_back import demanded_start
from hexapod.schedule.schedule import Schedule
from hexapod.worktime.lengths import Units, parse_length

GAP = 360  # minutes that bars on one row are apart
MOMENT = 12 * DAY  # what a milestone takes on its row, for its name


def picture_of(
    plan: Plan, schedule: Schedule, dates: Mapping[str, int], lane: Callable[[str], str] = lambda task: ""
) -> Picture:
    """All work before some milestones, each with the date that it is to be done by."""
    found: dict[str, Latest] = {}
    for milestone, at in dates.items():
        if milestone not in plan.tasks or not schedule.has(milestone):
            continue
        for latest in demanded_start(schedule, milestone, at, with_limits=True).chain:
            known = found.get(latest.task)
            if known is None or latest.finish < known.finish:
                found[latest.task] = Latest(latest.task, latest.start, latest.finish, milestone, latest.room)
    rows, bands = _rows(plan, found, lane)
    return Picture(found, rows, bands, min((x.start for x in found.values()), default=None))


def _rows(
    plan: Plan, found: Mapping[str, Latest], lane: Callable[[str], str]
) -> tuple[dict[str, int], tuple[tuple[str, int, int], ...]]:
    """From the dates back: each task on the row of what waits for it, if that is free there, else on the next."""
    order = sorted(found.values(), key=lambda x: (-x.finish, -x.start, plan.tasks[x.task].name, x.task))
    lanes = list(dict.fromkeys(lane(x.task) for x in order))
    rows: dict[str, int] = {}
    bands = []
    first = 0
    for name in lanes:
        taken: list[list[tuple[int, int]]] = []
        for latest in (x for x in order if lane(x.task) == name):
            behind = [
                rows[k[1]] - first for k in plan.links_at.get(latest.task, ()) if k[0] == latest.task and k[1] in rows
            ]
            wished = [r for r in behind if 0 <= r < len(taken)]
            row = next((r for r in [*sorted(wished), *range(len(taken))] if _is_free(taken[r], latest)), len(taken))
            if row == len(taken):
                taken.append([])
            is_moment = latest.start == latest.finish
            taken[row].append(
                (latest.start - DAY, latest.finish + MOMENT) if is_moment else (latest.start, latest.finish)
            )
            rows[latest.task] = first + row
        bands.append((name, first, first + len(taken)))
        first += len(taken)
    return rows, tuple(bands)


def _span(latest: Latest) -> tuple[int, int]:
    """What a task takes of its row."""
    is_moment = latest.start == latest.finish
    return (latest.start - DAY, latest.finish + MOMENT) if is_moment else (latest.start, latest.finish)


def _is_free(taken: Sequence[tuple[int, int]], latest: Latest) -> bool:
    begin, end = _span(latest)
    return all(end + GAP <= start or begin >= finish + GAP for start, finish in taken)


_SIZED = re.compile(
    r"^(?P<name>.*\S)[\s,;]+(?P<length>\d+(?:[.,]\d+)?\s*(?:d|h|w|days?|hours?|weeks?))$", re.IGNORECASE
)


def read_sized_name(text: str, units: Units | None = None) -> tuple[str, int | None]:
    """A name, and the length that stands behind it: ``Strip out 6 d``."""
    match = _SIZED.match(text.strip())
    if match is None:
        return text.strip(), None
    try:
        length = parse_length(match["length"].replace(",", "."), units) if units else parse_length(match["length"])
    except HexapodError:
        return text.strip(), None
    return match["name"].rstrip(" ,;"), length
