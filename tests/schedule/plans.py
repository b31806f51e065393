"""Plans for hypothesis to draw, and to shrink to the smallest that shows a fault."""

from __future__ import annotations

from hypothesis import strategies as st
from msgspec.structs import replace

from hexapod.plan.edits import repeat
from hexapod.plan.kinds import KINDS
from hexapod.plan.plan import Plan
from hexapod.plan.ranks import ranks_between
from hexapod.plan.records import (
    Assignment,
    Calendar,
    CalendarException,
    Direction,
    Gap,
    LagOn,
    Limit,
    LimitKind,
    Link,
    LinkType,
    OutOfOrder,
    Project,
    Record,
    Resource,
    Task,
    TaskKind,
)
from tests.support import MONDAY

FIRST_DAY = MONDAY // 1440
CALENDARS = (
    Calendar("late", "Late shift", week=(((840, 1320),),) * 5 + ((), ())),
    Calendar("night", "Night", week=(((1320, 1560),),) * 4 + ((),) * 3),
    Calendar("weekend", "Weekend", week=((),) * 4 + (((480, 720),),) * 3),
    Calendar("free", "Standard with days off", "standard", exceptions=(
        CalendarException(FIRST_DAY + 1, FIRST_DAY + 2), CalendarException(FIRST_DAY + 5, FIRST_DAY + 5, ((540,
        600),)))),
)  # fmt: skip
NAMES = ("standard", "always", *(c.id for c in CALENDARS))

_moments = st.integers(0, 20_000).map(lambda minutes: MONDAY + minutes)
_lengths = st.one_of(st.sampled_from((480, 240, 60, 960, 0)), st.integers(1, 1500))
_rarely = st.integers(0, 7).map(lambda n: n == 7)
_now_and_then = st.integers(0, 3).map(lambda n: n == 3)
_half = st.booleans()


@st.composite
def plans(draw: st.DrawFn, most: int = 12, *, only_forward: bool = False) -> Plan:
    """A plan that keeps the rules; links lead down the outline, so that there is no loop."""
    records: list[Record] = list(CALENDARS)
    projects = draw(st.integers(1, 2))
    for i, rank in enumerate(ranks_between(None, None, projects)):
        records.append(_project(draw, i, rank, only_forward))
    rows = _rows(draw, most, projects)
    records += rows
    resources = draw(st.integers(0, 2))
    for i, rank in enumerate(ranks_between(None, None, resources)):
        leave = (CalendarException(FIRST_DAY + 3, FIRST_DAY + 3 + i),) if draw(_now_and_then) else ()
        chosen = draw(st.sampled_from((None, None, "standard", "free", "late")))
        records.append(Resource(f"r{i}", f"R{i}", rank, initials=f"R{i}", calendar=chosen, leave=leave))
        for row in rows:
            if row.id.startswith("t") and draw(_now_and_then):
                records.append(Assignment(row.id, f"r{i}"))
    records += _links(draw, rows)
    plan = Plan.of(records)
    if draw(_rarely):
        first = next(t for t in rows if not plan.is_summary(t.id))
        if not plan.links_at.get(first.id) and not plan.ancestors(first.id):
            rule = "DTSTART:20260908T080000\nRRULE:FREQ=DAILY;COUNT=2"
            plan = repeat(plan, first.id, rule, MONDAY).applied_to(plan)
    return plan


@st.composite
def crowded(draw: st.DrawFn) -> Plan:
    """A few tasks of one summary and beside it, with what is rare in a large plan all over them: two work on one, each
    with a calendar, latest dates, work put as late as possible, a summary's calendar, lags to the summary's finish."""
    chosen = st.sampled_from(NAMES)
    rows = [Task("t", "p0", "T", "Zz", duration=draw(st.integers(1, 1500)))]
    rows.append(Task("s", "p0", "S", "a0", calendar=draw(chosen) if draw(_half) else None))
    inside = draw(st.integers(1, 3))
    for i in range(draw(st.integers(inside, 4))):
        parent = "s" if i < inside else None
        row = Task(f"t{i}", "p0", f"T{i}", f"a{i + 1}", parent=parent, duration=draw(st.integers(1, 1500)))
        if draw(_now_and_then):
            row = replace(row, calendar=draw(chosen))
        if draw(_half):
            kind = draw(st.sampled_from((LimitKind.FINISH_NO_LATER, LimitKind.START_NO_LATER)))
            row = replace(row, limits=(Limit(kind, draw(_moments)),))
        rows.append(replace(row, as_late_as_possible=draw(_half)))
    records: list[Record] = [*CALENDARS, Project("p0", "P0", MONDAY, "a0"), *rows]
    lagged = Link("t", "s", draw(st.sampled_from(list(LinkType))), lag=draw(st.integers(-900, 900)))
    links = {link.key: link for link in (*_links(draw, rows), *((lagged,) if draw(_half) else ()))}
    records += links.values()
    for i in range(2):
        records.append(Resource(f"r{i}", f"R{i}", f"a{i}", initials=f"R{i}", calendar=draw(chosen)))
        records += [Assignment(row.id, f"r{i}") for row in rows if row.id != "s" and draw(_now_and_then)]
    return Plan.of(records)


@st.composite
def summaries(draw: st.DrawFn) -> Plan:
    """A summary with a few leaves, tasks around it, and links among all of them, with nothing else that hides one."""
    inner = draw(st.integers(0, 2))
    rows = [Task("before", "p0", "Before", "a0"), Task("s", "p0", "S", "a1")]
    rows += [Task(f"t{i}", "p0", f"T{i}", f"a{i}", parent="s") for i in range(draw(st.integers(1, 3)))]
    if inner:
        rows.append(Task("u", "p0", "U", "a5", parent="s"))
        rows += [Task(f"v{i}", "p0", f"V{i}", f"a{i}", parent="u") for i in range(inner)]
    rows += [Task("after", "p0", "After", "a2"), Task("last", "p0", "Last", "a3")]
    plan = Plan.of(rows)
    lengths = st.integers(1, 5).map(lambda days: days * 480)
    rows = [t if plan.is_summary(t.id) else replace(t, duration=draw(lengths)) for t in rows]
    links = _links(draw, rows, plain=True)
    return Plan.of([Project("p0", "P0", MONDAY, "a0"), *rows, *links])


def _project(draw: st.DrawFn, i: int, rank: str, only_forward: bool) -> Project:
    found = Project(f"p{i}", f"P{i}", MONDAY + 1440 * i, rank, draw(st.sampled_from(NAMES[:4])))
    if draw(_now_and_then):
        found = replace(found, status_date=draw(_moments))
    if draw(_now_and_then):
        found = replace(found, critical_float=480)
    if draw(_now_and_then):
        found = replace(found, gap=Gap.WARN)
    if not only_forward and draw(_now_and_then):
        found = replace(found, direction=Direction.BACKWARD, finish=MONDAY + draw(st.integers(10, 40)) * 1440)
    return found


def _rows(draw: st.DrawFn, most: int, projects: int) -> list[Task]:
    """Rows of an outline in order; summaries are named s, leaves t."""
    rows: list[Task] = []
    parents: list[str] = []
    size = draw(st.integers(1, most))
    project = "p0"
    for i, rank in enumerate(ranks_between(None, None, size)):
        if projects == 2 and i == size // 2:
            project, parents = "p1", []
        if parents and draw(_now_and_then):
            parents.pop()
        parent = parents[-1] if parents else None
        if len(parents) < 3 and draw(_now_and_then):
            calendar = draw(st.sampled_from(NAMES)) if draw(_now_and_then) else None
            rows.append(Task(f"s{i}", project, f"S{i}", rank, parent=parent, calendar=calendar))
            parents.append(f"s{i}")
            rows.append(_leaf(draw, f"t{i}", project, "a0", f"s{i}"))  # no summary without a leaf
        else:
            rows.append(_leaf(draw, f"t{i}", project, rank, parent))
    return rows


def _leaf(draw: st.DrawFn, name: str, project: str, rank: str, parent: str | None) -> Task:
    task = Task(name, project, name.upper(), rank, parent=parent, duration=draw(_lengths))
    if draw(_now_and_then):
        task = replace(task, calendar=draw(st.sampled_from(NAMES)))
    if draw(_now_and_then):
        kind, at = draw(st.sampled_from(list(LimitKind))), draw(_moments)
        task = replace(task, limits=(Limit(kind, at),))
    if draw(_rarely):
        task = replace(task, target=draw(_moments))
    if draw(_rarely):
        task = replace(task, hold=draw(st.integers(1, 700)))
    if draw(_rarely):
        task = replace(task, elapsed=True)
    if draw(_rarely):
        task = replace(task, kind=TaskKind.SPAN)
    elif draw(_rarely):
        task = replace(task, as_late_as_possible=True)
    return task


@st.composite
def under_way(draw: st.DrawFn, most: int = 12, *, only_forward: bool = False) -> Plan:
    """A plan of which much was told: what is done, what is begun, at any moment and in any order."""
    plan = draw(plans(most, only_forward=only_forward))
    records: list[Record] = [record for kind in KINDS for record in getattr(plan, kind).values()]
    for project in plan.projects.values():
        at = draw(_moments) if draw(_half) else None
        policy = draw(st.sampled_from(list(OutOfOrder)))
        records.append(replace(project, status_date=at, out_of_order=policy))
    for task in plan.tasks.values():
        if not plan.is_summary(task.id) and draw(_half):
            records.append(told(draw, task))
    return Plan.of(records)


def told(draw: st.DrawFn, task: Task) -> Task:
    """A task that has begun, and perhaps ended."""
    begun = draw(_moments)
    if draw(_half):
        return replace(task, actual_start=begun, actual_finish=begun + draw(st.integers(0, 4000)), percent=100.0)
    said = draw(st.sampled_from((0.0, 25.0, 33.33, 50.0, 99.99)))
    rest = draw(st.integers(0, 2000)) if draw(_now_and_then) else None
    as_of = draw(_moments) if draw(_now_and_then) else None
    return replace(task, actual_start=begun, percent=said, remaining=rest, as_of=as_of)


def _links(draw: st.DrawFn, rows: list[Task], *, plain: bool = False) -> list[Link]:
    plan = Plan.of(rows)
    found: dict[tuple[str, str, str], Link] = {}
    for _ in range(draw(st.integers(0, 2 * len(rows)))):
        i, j = draw(st.integers(0, len(rows) - 1)), draw(st.integers(0, len(rows) - 1))
        before, after = rows[min(i, j)].id, rows[max(i, j)].id
        if before == after or after in plan.branch(before):
            continue
        link = Link(before, after, draw(st.sampled_from(list(LinkType))))
        if draw(_now_and_then):
            link = replace(link, lag=draw(st.integers(-900, 900)), lag_on=draw(st.sampled_from(list(LagOn))))
        elif draw(_rarely):
            link = replace(link, lag_percent=float(draw(st.integers(-80, 200))))
        if not plain and draw(_rarely):
            link = replace(link, gap=draw(st.sampled_from(list(Gap))), gap_kept=draw(st.integers(0, 900)))
        found[link.key] = link
    return list(found.values())
