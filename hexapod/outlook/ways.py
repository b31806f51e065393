"""What would it take to have a milestone by a date: ways that are looked for, worked out and priced, one by one.

Each way is an edit of the plan, and what it does is read off the dates that the edit makes. More people shorten what
they are put on in proportion (common practice; whether people can be added is for the planner to judge); overlapping
work that is in line is called fast tracking (common practice), as adding people is called crashing (Kelley & Walker
1959).
"""

from __future__ import annotations

from collections.abc import Callable, Iterator
from dataclasses import dataclass
from enum import StrEnum
from typing import NamedTuple

from msgspec.structs import replace

from hexapod.errors import HexapodError
from hexapod.outlook.chances import Outlook
from hexapod.outlook.hiring import hours_between, usual_rate
from hexapod.outlook.simulation import simulate
from hexapod.plan import edits
from hexapod.plan.accounts import EntryKind, MoneyEntry
from hexapod.plan.changes import diff
from hexapod.plan.edits import Edit, new_id
from hexapod.plan.plan import Draft, Plan
from hexapod.plan.priorities import LAST
from hexapod.plan.records import DAY, Assignment, Link, LinkType, ResourceKind
from hexapod.schedule.codes import NEVER
from hexapod.schedule.engine import reschedule
from hexapod.schedule.reasons import chain
from hexapod.schedule.schedule import Schedule
from hexapod.schedule.slip import working_minutes
from hexapod.staffing.demand import Demand
from hexapod.staffing.levelling.proposal import accepting, level
from hexapod.staffing.overloads import overloads

MOST_MORE = 4  # people of a role that are added
MOST_LINKS = 8  # links that are made to overlap
MOST_PUSHES = 12  # times that more is put on what drives the finish by then
OVERLAP = 50.0  # per cent of the first task that are done when the second begins
ROUNDS = 400


class WayKind(StrEnum):
    LEVEL = "level"
    PEOPLE = "people"
    GIVES_WAY = "gives_way"
    SIDE_BY_SIDE = "side_by_side"


@dataclass(frozen=True)
class Wish:
    """A task, or the finish of a ``project`` where there is none, by a moment; ``share`` is how sure that must be, None
    for the date of the plan."""

    project: str
    task: str | None
    by: int
    share: float | None = None


@dataclass(frozen=True)
class Way:
    """``edit`` does it; then it ends ``at`` (the date that is sure enough, where that was wished). ``price`` is in the
    smallest unit of money; ``later`` is by project in minutes of its work what it costs others, ``overload`` the hours
    of overload that it adds. ``who``, ``count``, ``first`` and ``last`` say which role, how many, and on which days."""

    kind: WayKind
    edit: Edit
    at: int
    price: int
    later: dict[str, int]
    overload: float
    meets: bool
    who: str = ""
    count: int = 0
    first: int = 0
    last: int = 0


@dataclass(frozen=True)
class Holder:
    """What holds the earliest date: the longest open task on the way to it."""

    task: str
    minutes: int


@dataclass(frozen=True)
class Answer:
    """``now`` is when it ends as the plan is. ``ways`` meet the date, the cheapest first; ``nearly`` are those that
    come nearer to it. ``earliest`` is the earliest date that was found, and ``held_by`` what holds it."""

    now: int
    ways: tuple[Way, ...]
    nearly: tuple[Way, ...]
    earliest: int
    held_by: Holder | None


class _Try(NamedTuple):
    kind: WayKind
    edit: Edit
    after: Schedule
    price: int = 0
    who: str = ""
    more: int = 0
    first: int = 0
    last: int = 0


def end_of(schedule: Schedule, wish: Wish) -> int | None:
    """When what is wished ends: by the dates, or as surely as was asked for; None where it has no date."""
    if wish.share is None:
        if wish.task is not None:
            return schedule.dates(wish.task).finish if schedule.has(wish.task) else None
        return schedule.project_finish.get(wish.project)
    outlook = Outlook(simulate(schedule, ROUNDS, 1, threads=1))
    known = outlook.of_project(wish.project) if wish.task is None else outlook.of_task(wish.task)
    return None if known is None else known.quantile(wish.share)


def look_for_ways(now: Schedule, wish: Wish, report: Callable[[float], bool] = lambda part: True) -> Answer | None:
    """Every way there is to have something by a date. ``report`` hears how far the search is, 0 to 1, and says whether
    it goes on; None where it was stopped, or there is no date to begin with."""
    plan = now.plan
    end = end_of(now, wish)
    if end is None:
        return None
    roles = [r.id for r in plan.resources_in_order() if r.kind is ResourceKind.ROLE]
    others = [p.id for p in plan.projects_in_order() if p.id != wish.project and not p.archived and not p.on_hold]
    searches: list[Callable[[], Iterator[_Try]]] = [lambda: _levelled(now)]
    searches += [lambda role=role: _more_people(now, wish, role) for role in roles]  # type: ignore[misc]
    searches += [lambda other=other: _gives_way(now, wish, other) for other in others]  # type: ignore[misc]
    searches.append(lambda: _side_by_side(now, wish))
    found: list[Way] = []
    for i, search in enumerate(searches):
        if not report(i / len(searches)):
            return None
        best = _best_of(now, wish, end, search)
        if best is not None:
            found.append(best)
    report(1.0)
    met = sorted((w for w in found if w.meets), key=_cheapness)
    nearly = sorted((w for w in found if not w.meets), key=lambda w: (w.at, *_cheapness(w)))
    earliest = min((w.at for w in found), default=end)
    return Answer(end, tuple(met), tuple(nearly), min(earliest, end), _holder(now, wish))


def _best_of(now: Schedule, wish: Wish, end: int, search: Callable[[], Iterator[_Try]]) -> Way | None:
    """The first attempt that meets the date, since each asks for more than the one before; else the one that comes
    nearest to it. None where nothing comes nearer than the plan."""
    best: tuple[int, _Try] | None = None
    try:
        for each in search():
            at = end_of(each.after, wish)
            if at is None:
                continue
            if at < (end if best is None else best[0]):
                best = (at, each)
            if at <= wish.by:
                break
    except HexapodError:  # it cannot be tried any further
        pass
    return None if best is None else _way(now, wish, *best)


def _way(now: Schedule, wish: Wish, at: int, tried: _Try) -> Way:
    later = {}
    for project in now.plan.projects.values():
        before, after = now.project_finish.get(project.id), tried.after.project_finish.get(project.id)
        if project.id != wish.project and before is not None and after is not None and after > before:
            later[project.id] = working_minutes(now, project.calendar, before, after)
    return Way(
        tried.kind, tried.edit, at, tried.price, later, _overload(tried.after) - _overload(now), at <= wish.by,
        tried.who, tried.more, tried.first, tried.last,
    )  # fmt: skip


def _cheapness(way: Way) -> tuple[int, int, float]:
    return way.price, sum(way.later.values()), way.overload


def _overload(schedule: Schedule) -> float:
    return overloads(schedule, Demand.of(schedule, schedule.plan)).total_excess / 60


def _after(now: Schedule, edit: Edit) -> Schedule:
    plan = edit.applied_to(now.plan)
    return reschedule(now, plan, diff(now.plan, plan))


def _levelled(now: Schedule) -> Iterator[_Try]:
    proposal = level(now, within_float=False)
    edit = accepting(proposal, "Level, the finish may move")
    yield _Try(WayKind.LEVEL, edit, _after(now, edit))


def _gives_way(now: Schedule, wish: Wish, other: str) -> Iterator[_Try]:
    """Everything is levelled with another project last in line; then that one waits for people."""
    project = now.plan.projects[other]
    held = [t.id for t in now.plan.tasks.values() if t.hold]
    last = edits.save_project(now.plan, replace(project, priority=LAST))
    first = edits.together(last.words, [last, *([edits.clear_holds(now.plan, held)] if held else [])])
    behind = _after(now, first)
    proposal = level(behind, within_float=False)
    holds = accepting(proposal, "Level")
    edit = edits.in_steps(f"“{project.name}” gives way", [lambda plan: first, lambda plan: holds])
    yield _Try(WayKind.GIVES_WAY, edit, _after(now, edit), who=other)


def _more_people(now: Schedule, wish: Wish, role: str) -> Iterator[_Try]:
    """One more of a role, then two, and so on, put on what drives the date and is done by that role."""
    plan = now.plan
    members = {r.id for r in plan.resources.values() if r.role == role} | {role}
    for count in range(1, MOST_MORE + 1):
        crew = _Crew(new_id(), role, count, members)
        pushed = _pushed(now, wish, crew)
        if pushed is None:
            return
        shorter, after = pushed
        days = [(after.dates(t).start // DAY, (after.dates(t).finish - 1) // DAY) for t in shorter]
        first, last = min(d for d, _ in days), max(d for _, d in days)
        price = round(count * usual_rate(plan, role) * sum(hours_between(plan, role, *each) for each in days))
        name = f"{plan.resources[role].name}, {count} more"
        entry = MoneyEntry(new_id(), wish.project, name, EntryKind.COST, price, first, last, planned=True)
        edit = _joined(plan, crew, shorter, (first, last), entry if price else None)
        yield _Try(WayKind.PEOPLE, edit, _after(now, edit), price, role, count, first, last)


class _Crew(NamedTuple):
    """Who is hired: so many of a ``role``, under one id; ``members`` are those that have it already."""

    id: str
    role: str
    size: int
    members: set[str]


def _pushed(now: Schedule, wish: Wish, crew: _Crew) -> tuple[dict[str, int], Schedule] | None:
    """Them on the tasks of their role that drive the date, again and again while others come to drive it: how long each
    of those tasks is then, and the dates. None where their role has none."""
    shorter: dict[str, int] = {}
    after, begins = now, now.plan.projects[wish.project].start // DAY
    for _ in range(MOST_PUSHES):
        end = end_of(after, wish)
        if end is not None and end <= wish.by:
            break
        driving = [t for t in _open_on_the_way(after, wish) if t not in shorter]
        fresh = {t: minutes for t in driving if (minutes := _with_more(now.plan, t, crew)) is not None}
        if not fresh:
            break
        shorter |= fresh
        after = _after(now, _joined(now.plan, crew, shorter, (begins, None), None))
    return (shorter, after) if shorter else None


def _with_more(plan: Plan, task_id: str, crew: _Crew) -> int | None:
    """How long a task is with them on it; None where nobody of their role is, or it cannot be made shorter."""
    task = plan.tasks[task_id]
    there = sum(a.units for a in plan.assignments_of(task_id) if a.resource in crew.members and a.total is None)
    if not there or task.actual_start is not None or not task.minutes or task.elapsed:
        return None
    return max(1, round(task.minutes * there / (there + crew.size)))


def _joined(
    plan: Plan, crew: _Crew, shorter: dict[str, int], days: tuple[int, int | None], paid: MoneyEntry | None
) -> Edit:
    """They are hired, and join the tasks that they make shorter."""
    hired = edits.hire(plan, crew.role, crew.size, *days, paid, crew.id)

    def change(draft: Draft) -> None:
        hired.change(draft)
        for task_id, minutes in shorter.items():
            task = draft.task(task_id)
            estimate = tuple(max(1, round(each * minutes / task.minutes)) for each in task.estimate)
            draft.put(replace(task, duration=minutes, estimate=estimate))
            draft.put(Assignment(task_id, crew.id, float(crew.size)))

    return Edit(hired.words, change)


def _side_by_side(now: Schedule, wish: Wish) -> Iterator[_Try]:
    """What is in line on the way to the date overlaps, one link after the other, the longest first task first."""
    links: list[Link] = []
    after = now
    while len(links) < MOST_LINKS:
        plan = after.plan
        done = {link.key[:2] for link in links}
        on_the_way = [
            r.link for r in _reasons(after, wish)
            if r.link is not None and r.link.type is LinkType.FS and r.link.key[:2] not in done and r.link.lag >= 0
            and not r.link.lag_percent and _is_open(plan, r.link.predecessor) and _is_open(plan, r.link.successor)
        ]  # fmt: skip
        if not on_the_way:
            return
        longest = max(on_the_way, key=lambda link: plan.tasks[link.predecessor].rest)
        links.append(longest)
        steps: list[Callable[[Plan], Edit]] = [lambda plan, x=link: _overlapping(plan, x) for link in links]  # type: ignore[misc]
        names = (
            f"{len(links)} links"
            if len(links) > 1
            else f"“{now.plan.tasks[longest.successor].name}” with what is before"
        )
        edit = edits.in_steps(f"Side by side: {names}", steps)
        after = _after(now, edit)
        yield _Try(WayKind.SIDE_BY_SIDE, edit, after, more=len(links))


def _overlapping(plan: Plan, link: Link) -> Edit:
    """The second begins when half of the first is done, and ends no sooner than it."""
    begins = replace(link, type=LinkType.SS, lag=0, lag_percent=OVERLAP)
    ends = Link(link.predecessor, link.successor, LinkType.FF)

    def change(draft: Draft) -> None:
        draft.remove("links", link.key)
        for each in (begins, ends):
            if draft.get("links", each.key) is None:
                draft.put(each)

    return Edit("Side by side", change)


def _is_open(plan: Plan, task: str) -> bool:
    found = plan.tasks[task]
    return not plan.is_summary(task) and found.actual_start is None and found.minutes > 0


def _reasons(schedule: Schedule, wish: Wish):  # type: ignore[no-untyped-def]
    last = wish.task or _last_of(schedule, wish.project)
    return [] if last is None else chain(schedule, last)


def _open_on_the_way(schedule: Schedule, wish: Wish) -> list[str]:
    return [t for t in dict.fromkeys(r.task for r in _reasons(schedule, wish)) if _is_open(schedule.plan, t)]


def _last_of(schedule: Schedule, project: str) -> str | None:
    """The row of a project that ends last."""
    plan = schedule.plan
    leaves = [t.id for t in plan.tasks.values() if t.project == project and not plan.is_summary(t.id)]
    known = [(schedule.dates(t).finish, t) for t in leaves if schedule.has(t)]
    return max(known)[1] if known and max(known)[0] > NEVER else None


def _holder(schedule: Schedule, wish: Wish) -> Holder | None:
    """The open task on the way to the date of which most is left."""
    plan = schedule.plan
    left = [(plan.tasks[t].rest, t) for t in dict.fromkeys(r.task for r in _reasons(schedule, wish))
            if not plan.is_summary(t) and not plan.tasks[t].is_done]  # fmt: skip
    return Holder(max(left)[1], max(left)[0]) if left and max(left)[0] else None
