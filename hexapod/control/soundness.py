"""Soundness of a plan: each check with its threshold, its source and the rows it is about.

Sources: the DCMA 14-point schedule assessment (Defense Contract Management Agency, 2012) and GAO-16-89G,
*Schedule Assessment Guide* (2015); both from memory. What is done is judged by ``progress_checks`` only.
"""

from __future__ import annotations

import math
from collections.abc import Callable, Iterator

from hexapod.control import progress_checks
from hexapod.control.checks import Check, Finding, Ground
from hexapod.plan.records import Direction, LimitKind, LinkKey, LinkType, Task, TaskKind
from hexapod.schedule.conflicts import conflicts
from hexapod.schedule.float_paths import float_paths
from hexapod.schedule.schedule import Schedule
from hexapod.schedule.slip import slip, working_minutes
from hexapod.worktime.lengths import DAY_OF_WORK, format_length

LONG = 44 * DAY_OF_WORK  # working minutes: two months
LEAST_INDEX = 0.95  # of critical path length
HARD = {LimitKind.MUST_START, LimitKind.MUST_FINISH, LimitKind.START_NO_LATER, LimitKind.FINISH_NO_LATER}


def soundness(schedule: Schedule, project: str | None = None) -> list[Finding]:
    """Every check over a project, or over all; what did not pass comes first, in the order of the sources."""
    network = schedule.network
    plan = network.plan
    projects = [p for p in plan.projects_in_order() if project in (None, p.id)]
    chosen = {p.id for p in projects}
    tasks = [t for t in plan.tasks.values() if t.project in chosen and not plan.is_summary(t.id)]
    tasks = [t for t in tasks if t.kind is not TaskKind.SPAN]
    tasks.sort(key=lambda t: (schedule.start[schedule.slots[t.id]], t.id))
    links = sorted(x.key for x in plan.links.values() if plan.tasks[x.successor].project in chosen)
    told = Ground(plan, schedule, tasks, links, projects)
    ahead = Ground(plan, schedule, [t for t in tasks if not t.is_done], links, projects)
    found = [_finding(ahead, check) for check in CHECKS]
    found += [_finding(told, check) for check in progress_checks.CHECKS]
    return sorted(found, key=lambda f: f.passed)


def _finding(ground: Ground, check: Check) -> Finding:
    found = list(dict.fromkeys(check.find(ground)))
    out_of = len(ground.links if check.of_links else ground.tasks)
    noun = "links" if check.of_links else "tasks"
    threshold = check.threshold or ("none" if not check.allowed else f"at most {check.allowed:.0%} of {noun}")
    tasks = dict.fromkeys(key[1] for key in found) if check.of_links else found
    return Finding(
        check.id,
        check.title,
        check.why,
        check.source,
        threshold,
        len(found) <= check.allowed * out_of if check.passes is None else check.passes(ground, len(found)),
        out_of,
        tuple(tasks),
        tuple(found) if check.of_links else (),
        check.figure(ground),
    )


def _open_ends(ground: Ground) -> Iterator[str]:
    """Apart from where a project begins and where it ends."""
    schedule = ground.schedule
    for task in ground.tasks:
        into, out = ground.links_of(task)
        begins = schedule.start[ground.slot(task)] <= schedule.project_start.get(task.project, 0)
        ends = schedule.finish[ground.slot(task)] >= (schedule.project_finish.get(task.project) or 0)
        if (not into and not begins) or (not out and not ends):
            yield task.id


def _dangling(ground: Ground) -> Iterator[str]:
    for task in ground.tasks:
        into, out = ground.links_of(task)
        start_is_free = bool(into) and all(key[2] in (LinkType.FF, LinkType.SF) for key in into)
        finish_is_free = bool(out) and all(key[2] in (LinkType.SS, LinkType.SF) for key in out)
        if task.minutes and (start_is_free or finish_is_free):
            yield task.id


def _lagged(sign: int) -> Callable[[Ground], Iterator[LinkKey]]:
    def find(ground: Ground) -> Iterator[LinkKey]:
        links = ground.plan.links
        return (key for key in ground.links if sign * (links[key].lag or links[key].lag_percent) > 0)

    return find


def _summary_links(ground: Ground) -> Iterator[LinkKey]:
    plan = ground.plan
    return (key for key in ground.links if plan.is_summary(key[0]) or plan.is_summary(key[1]))


def _floats(test: Callable[[int], bool]) -> Callable[[Ground], Iterator[str]]:
    def find(ground: Ground) -> Iterator[str]:
        return (t.id for t in ground.tasks if test(int(ground.schedule.total_float[ground.slot(t)])))

    return find


def _critical_path_test(ground: Ground) -> Iterator[str]:
    """Delay the first task of the driving chain a lot: the finish must move by as much."""
    for project in ground.projects:
        paths = float_paths(ground.schedule, project.id, 1)
        if paths and project.direction is Direction.FORWARD:
            head = next((t for t in paths[0].tasks if not ground.plan.tasks[t].is_done), None)
            if head is not None and slip(ground.schedule, head, 600 * DAY_OF_WORK).finish_moves < 500 * DAY_OF_WORK:
                yield head


def _path_lengths(ground: Ground) -> dict[str, float]:
    """By project with a target: (critical path length + room to the target) / critical path length."""
    schedule, found = ground.schedule, {}
    for project in ground.projects:
        finish = schedule.project_finish.get(project.id)
        if project.target_finish is None or finish is None:
            continue
        begin = max(project.start, project.status_date or project.start)
        length = working_minutes(schedule, project.calendar, begin, finish)
        room = working_minutes(schedule, project.calendar, finish, project.target_finish)
        if length > 0:
            found[project.id] = (length + room) / length
    return found


def _path_length(ground: Ground) -> Iterator[str]:
    """What finishes last where the index is too low."""
    schedule = ground.schedule
    low = {project for project, index in _path_lengths(ground).items() if index < LEAST_INDEX}
    return (
        t.id
        for t in ground.tasks
        if t.project in low and schedule.finish[ground.slot(t)] == schedule.project_finish[t.project]
    )


def _least_path_length(ground: Ground) -> str:
    """Cut off after two digits, so that what is too low does not read as if it were not."""
    found = _path_lengths(ground)
    return f"{math.floor(min(found.values()) * 100) / 100:.2f}" if found else "no target"


def _conflicts(ground: Ground) -> Iterator[str]:
    mine = {t.id for t in ground.tasks}
    return (c.task for c in conflicts(ground.schedule) if c.task in mine)


def _same_names(ground: Ground) -> Iterator[str]:
    names: dict[tuple[str, str], list[Task]] = {}
    for task in ground.tasks:
        names.setdefault((task.project, task.name.casefold()), []).append(task)
    for same in names.values():
        if len(same) > 1:
            yield from (t.id for t in same if t.occurrence is None)


CHECKS = (
    Check(
        "open_ends",
        "Open ends",
        "It waits for nothing, or nothing waits for it, so a slip of it is not seen.",
        "DCMA 1, GAO-16-89G practice 2",
        _open_ends,
        0.05,
    ),
    Check(
        "dangling",
        "Dangling ends",
        "Only one end of it is linked: its start is not driven, or its finish drives nothing.",
        "GAO-16-89G practice 2",
        _dangling,
    ),
    Check(
        "leads",
        "Leads",
        "A negative lag hides that two tasks overlap.",
        "DCMA 2, GAO-16-89G practice 2",
        _lagged(-1),
        of_links=True,
    ),
    Check(
        "lags",
        "Lags",
        "A lag is work or waiting that nobody can see; a task can be named and followed.",
        "DCMA 3, GAO-16-89G practice 2",
        _lagged(1),
        0.05,
        of_links=True,
    ),
    Check(
        "link_types",
        "Links other than FS",
        "Most work waits for a finish; other links are harder to follow.",
        "DCMA 4",
        lambda ground: (key for key in ground.links if key[2] != LinkType.FS),
        0.10,
        of_links=True,
    ),
    Check(
        "summary_links",
        "Links of summaries",
        "What really waits for what is inside the summary, and cannot be seen.",
        "GAO-16-89G practice 2",
        _summary_links,
        of_links=True,
    ),
    Check(
        "hard_limits",
        "Hard limits",
        "A limit on the late side stops logic from telling where the plan ends.",
        "DCMA 5, GAO-16-89G practice 2",
        lambda ground: (t.id for t in ground.tasks if any(limit.kind in HARD for limit in t.limits)),
        0.05,
    ),
    Check(
        "high_float",
        f"Float above {format_length(LONG)}",
        "So much room often means that a link is missing.",
        "DCMA 6, GAO-16-89G practice 7",
        _floats(lambda room: room > LONG),
        0.05,
    ),
    Check(
        "negative_float",
        "Negative float",
        "A date that is asked for cannot be met by the work before it.",
        "DCMA 7, GAO-16-89G practice 7",
        _floats(lambda room: room < 0),
    ),
    Check(
        "long_tasks",
        f"Tasks longer than {format_length(LONG)}",
        "Nobody can tell half-way whether it is on time.",
        "DCMA 8, GAO-16-89G practice 4",
        lambda ground: (t.id for t in ground.tasks if not t.elapsed and t.minutes > LONG),
        0.05,
    ),
    Check(
        "no_duration",
        "No duration said",
        "The plan counts a day for it, which nobody has said.",
        "GAO-16-89G practice 4",
        lambda ground: (t.id for t in ground.tasks if t.duration is None and t.kind is TaskKind.TASK),
    ),
    Check(
        "unassigned",
        "Nobody assigned",
        "Whether it can be done in time has not been asked of anyone.",
        "DCMA 10, GAO-16-89G practice 3",
        lambda ground: (t.id for t in ground.tasks if t.minutes and not ground.plan.assigned.get(t.id)),
    ),
    Check(
        "critical_path_test",
        "Critical path test",
        "A long delay at the head of the driving chain must reach the finish.",
        "DCMA 12, GAO-16-89G practice 6",
        _critical_path_test,
        threshold="the finish moves by as much",
    ),
    Check(
        "path_length_index",
        "Critical path length index",
        "How likely the target is to be met with the work that is left.",
        "DCMA 13",
        _path_length,
        threshold=f"at least {LEAST_INDEX}",
        figure=_least_path_length,
    ),
    Check(
        "conflicts",
        "Conflicts",
        "Two things that the plan says cannot both be.",
        "GAO-16-89G practice 2",
        _conflicts,
    ),
    Check(
        "same_names",
        "Same name twice",
        "In a list or a report nobody can tell these tasks apart.",
        "GAO-16-89G practice 1",
        _same_names,
    ),
)
