"""What made a finish drift: the history is replayed edit by edit, and each edit has the part that it moved.

Parts are differences of one measure, working minutes up to each finish on one calendar, so that they add up exactly.
"""

from __future__ import annotations

from collections.abc import Callable, Iterable, Iterator, Sequence
from dataclasses import dataclass
from itertools import islice
from typing import NamedTuple, Protocol

import numpy as np

from hexapod.control.mine import is_milestone
from hexapod.errors import HexapodError
from hexapod.plan.accounts import Baseline
from hexapod.plan.changes import Changes
from hexapod.plan.plan import Plan
from hexapod.plan.records import DAY
from hexapod.schedule.codes import NEVER
from hexapod.schedule.drifting import minutes_between
from hexapod.schedule.engine import reschedule, schedule
from hexapod.schedule.schedule import Schedule
from hexapod.worktime.calendars import Ints

DATED = ("calendars", "projects", "tasks", "links", "resources", "assignments")  # kinds that can move a date


class Edited(Protocol):
    """A row of the history: who did what, and when."""

    @property
    def number(self) -> int: ...
    @property
    def who(self) -> str: ...
    @property
    def words(self) -> str: ...


Step = tuple[Edited, int, Changes]  # an edit, when it was made, and what it changed
Past = Iterable[Step]  # the latest first


class Stopped(HexapodError):
    """Somebody did not want to wait."""

    def __init__(self) -> None:
        super().__init__("Stopped.")


@dataclass(frozen=True)
class Replay:
    """``finishes[i]`` are those of the targets after edit ``i``, the first row before any; NEVER where one is not
    there, or nothing could be computed. A target is a task or a project. ``times`` are when each edit was made, and
    ``kept`` is how many of them were made before the baseline."""

    targets: tuple[str, ...]
    edits: tuple[Edited, ...]
    times: tuple[int, ...]
    finishes: Ints
    kept: int = 0

    def of(self, target: str) -> Ints:
        return self.finishes[:, self.targets.index(target)]


class DriftPart(NamedTuple):
    """Working minutes by which an edit moved a finish; ``edit`` is None for what lies before the history."""

    edit: Edited | None
    at: int
    minutes: int


def replay(
    plan: Plan,
    past: Past,
    targets: Sequence[str],
    *,
    since: Baseline | None = None,
    most: int = 5000,
    goes_on: Callable[[float], bool] = lambda part: True,
) -> Replay:
    """Go back from a plan through what led to it, the latest first, over at most so many edits, and forward again.

    ``since`` is the baseline that drift is counted from. ``goes_on`` is told how much is done, 0 to 1; ``Stopped``
    where it says no.
    """
    steps: list[Step] = []
    after = 0  # how many were made after the baseline
    for step, is_after in _marked(islice(past, most), since):
        after += is_after
        steps.append((step[0], step[1], _dated(step[2])))
        plan = steps[-1][2].inverse().applied_to(plan)
        if not len(steps) % 50 and not goes_on(0.0):
            raise Stopped
    steps.reverse()
    finishes = np.full((len(steps) + 1, len(targets)), NEVER, dtype=np.int64)
    now: Schedule | None = _computed(plan)
    finishes[0] = _finishes(now, targets)
    for i, (_, _, changes) in enumerate(steps):
        if changes:
            plan = changes.applied_to(plan)
            now = _after(now, plan, changes)
        finishes[i + 1] = _finishes(now, targets) if changes else finishes[i]
        if not i % 20 and not goes_on((i + 1) / len(steps)):
            raise Stopped
    edits, times = tuple(edit for edit, _, _ in steps), tuple(at for _, at, _ in steps)
    return Replay(tuple(targets), edits, times, finishes, len(steps) - after)


def _marked(past: Past, baseline: Baseline | None) -> Iterator[tuple[Step, bool]]:
    """Each edit, the latest first, with whether it was made after a baseline. Of what was done in its minute, that is
    what came after it was kept."""
    is_before = False
    same: list[Step] = []
    for step in past:
        _, at, changes = step
        if is_before or baseline is None or at > baseline.at:
            yield step, not is_before
            continue
        keeps = any(old is None and new is not None and new.id == baseline.id for old, new in changes.baselines)
        if at == baseline.at and not keeps:
            same.append(step)  # before or after it: what keeps the baseline decides
            continue
        yield from ((earlier, keeps and at == baseline.at) for earlier in same)
        same, is_before = [], True
        yield step, False
    yield from ((step, False) for step in same)


def _dated(changes: Changes) -> Changes:
    """What of an edit can move a date: hours, money and words cannot."""
    return Changes(**{kind: getattr(changes, kind) for kind in DATED})


def _computed(plan: Plan) -> Schedule | None:
    try:
        return schedule(plan)
    except HexapodError:
        return None  # a loop, or a calendar that never works: there were no dates then


def _after(now: Schedule | None, plan: Plan, changes: Changes) -> Schedule | None:
    if now is None:
        return _computed(plan)
    try:
        return reschedule(now, plan, changes)
    except HexapodError:
        return _computed(plan)


def _finishes(now: Schedule | None, targets: Sequence[str]) -> list[int]:
    if now is None:
        return [NEVER] * len(targets)
    found = []
    for target in targets:
        if target in now.plan.projects:
            finish = now.project_finish.get(target)
            found.append(NEVER if finish is None else finish)
        else:
            found.append(int(now.finish[now.slots[target]]) if target in now.plan.tasks else NEVER)
    return found


def drift_parts(schedule: Schedule, found: Replay, target: str, then: int) -> list[DriftPart]:
    """What each edit moved a finish by, in order, against a baseline that had it at ``then``; they add up to its drift.

    An edit without effect has no part. Where the history begins after the baseline, the first part is what it does not
    know of.
    """
    finishes = found.of(target)
    known = np.flatnonzero(finishes != NEVER)
    known = known[known >= found.kept]
    if not len(known):
        return []
    moments = np.concatenate(([then], finishes[known]))
    calendars = np.full(len(moments), calendar_of(schedule, target), dtype=np.int64)
    up_to = minutes_between(schedule, calendars, np.full(len(moments), then), moments)
    parts = np.diff(up_to).tolist()
    found_parts = []
    for place, minutes in zip(known.tolist(), parts, strict=True):
        if minutes:
            is_before = place == found.kept
            edit = None if is_before else found.edits[place - 1]
            found_parts.append(DriftPart(edit, 0 if is_before else found.times[place - 1], minutes))
    return found_parts


def calendar_of(schedule: Schedule, target: str) -> int:
    """On which calendar of the network a finish is measured: that of the task, or of the project."""
    network = schedule.network
    if target in schedule.plan.projects:
        return network.timing.index[(schedule.plan.projects[target].calendar,)]
    return int(network.tasks.calendar[schedule.slots[target]])


def trend(found: Replay, target: str) -> list[tuple[int, int]]:
    """Day by day on which something was edited (its minutes at midnight), where a finish was expected at its end."""
    finishes = found.of(target)
    days: dict[int, int] = {}
    for i, at in enumerate(found.times):
        if finishes[i + 1] != NEVER:
            days[at // DAY * DAY] = int(finishes[i + 1])
    return sorted(days.items())


def milestones_of(plan: Plan, project: str) -> list[str]:
    """The milestones of a project, in the order of the outline."""
    from hexapod.plan.outline import outline_order

    return [
        t for t in outline_order(plan)
        if plan.tasks[t].project == project and not plan.is_summary(t) and is_milestone(plan.tasks[t])
    ]  # fmt: skip
