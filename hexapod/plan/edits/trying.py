"""Edits that somebody tries out in a scenario: each is one decision, and an ordinary edit."""

from __future__ import annotations

from collections.abc import Iterable

from msgspec.structs import replace

from hexapod.errors import EditRefused
from hexapod.plan.accounts import EntryKind, MoneyEntry
from hexapod.plan.edits.edit import Edit, new_id, quoted
from hexapod.plan.edits.settling import save_project, set_holds
from hexapod.plan.plan import Draft, Plan
from hexapod.plan.ranks import ranks_between
from hexapod.plan.records import Assignment, Resource, ResourceKind

MOST_HIRED = 1000
TIMES = (0.25, 4.0)  # by which more people, or less scope, may change a length


def hire(
    plan: Plan,
    role: str,
    count: float,
    first_day: int,
    last_day: int | None = None,
    paid: MoneyEntry | None = None,
    resource_id: str | None = None,
) -> Edit:
    """``count`` more of a role from a day on, to a last one where that is said. ``paid`` is what they cost, whether
    they are busy or not: their own rate is nothing."""
    found = plan.resource(role)
    if found.kind is not ResourceKind.ROLE:
        raise EditRefused(f"“{found.name}” is no role: somebody is hired for a role.")
    if not 0 < count <= MOST_HIRED:
        raise EditRefused(f"How many are hired must be more than none, and at most {MOST_HIRED}.")
    if last_day is not None and last_day < first_day:
        raise EditRefused("The last day lies before the first.")
    steps = ((first_day, float(count)), *(() if last_day is None else ((last_day + 1, 0.0),)))
    made = Resource(
        resource_id or new_id(), f"{found.name}, {_count(count)} more", _last_rank(plan),
        ResourceKind.TEAM if count > 1 else ResourceKind.PERSON, 0.0, calendar=_calendar_of(plan, role),
        capacity_from=steps, role=role, section=_section_of(plan, role),
    )  # fmt: skip

    def change(draft: Draft) -> None:
        draft.put(made)
        if paid is not None:
            draft.put(paid)

    return Edit(f"Hire {_count(count)} for {found.name}", change)


def contract(plan: Plan, task_ids: Iterable[str], name: str, price: int, days: tuple[int, int]) -> Edit:
    """Somebody from outside does some tasks in place of who is on them, for ``price`` in all, due evenly over some
    days (first and last)."""
    tasks = [plan.task(t) for t in task_ids]
    if not tasks:
        raise EditRefused("Say first which tasks the contractor does.")
    if not name.strip():
        raise EditRefused("A contractor needs a name.")
    if any(t.is_done or plan.is_summary(t.id) for t in tasks):
        raise EditRefused("A contractor does open tasks, not summaries and not what is done.")
    capacity = float(len(tasks))
    made = Resource(new_id(), name.strip(), _last_rank(plan), ResourceKind.TEAM, capacity, section="From outside")
    entry = MoneyEntry(
        new_id(), tasks[0].project, name.strip(), EntryKind.COST, price, *days,
        task=tasks[0].id if len(tasks) == 1 else None, planned=True,
    )  # fmt: skip

    def change(draft: Draft) -> None:
        draft.put(made)
        for task in tasks:
            for resource in list(draft.assigned(task.id)):
                draft.remove("assignments", (task.id, resource))
            draft.put(Assignment(task.id, made.id, 1.0))
        if price:
            draft.put(entry)

    return Edit(f"“{name.strip()}” does {quoted([t.name for t in tasks], 'tasks')}", change)


def delay_project(plan: Plan, project_id: str, minutes: int) -> Edit:
    """What of a project has not begun waits for so many working minutes more: rows that wait for nothing that is still
    to be done are held, the others follow."""
    project = plan.project(project_id)
    if minutes <= 0:
        raise EditRefused("Say by how much it is delayed, such as 2 w.")
    rows = [t for t in plan.tasks.values() if t.project == project_id and not plan.is_summary(t.id)]
    first = [t for t in rows if t.actual_start is None and not _waits(plan, t.id)]
    if not first:
        raise EditRefused(f"All of “{project.name}” has begun already.")
    return set_holds(plan, {t.id: t.hold + minutes for t in first}, f"Delay “{project.name}”")


def drop_project(plan: Plan, project_id: str) -> Edit:
    """A project is given up: it asks for nobody, and goes into the archive with all that is known of it."""
    project = plan.project(project_id)
    return save_project(plan, replace(project, on_hold=True, archived=True)).named(f"Drop “{project.name}”")


def scale_scope(plan: Plan, task_ids: Iterable[str], by: float) -> Edit:
    """Tasks take so much of what they took, 0.5 for half: length, effort and range; of begun ones what is left."""
    tasks = [plan.task(t) for t in task_ids if not plan.is_summary(t) and not plan.task(t).is_done]
    if not tasks:
        raise EditRefused("Nothing of that is still to be done.")
    if not TIMES[0] <= by <= TIMES[1]:
        raise EditRefused("A scope is from a quarter of what it was to four times.")

    def change(draft: Draft) -> None:
        for task in tasks:
            length = task.minutes if task.actual_start is None else task.rest
            shorter = max(1, round(length * by)) if length else 0
            draft.put(replace(
                draft.task(task.id),
                duration=task.minutes - length + shorter,
                remaining=None if task.actual_start is None else shorter,
                effort=None if task.effort is None else max(1, round(task.effort * by)),
                estimate=tuple(max(1, round(each * by)) for each in task.estimate),
            ))  # fmt: skip

    percent = f"{by * 100:.0f} %"
    return Edit(f"Scope of {quoted([t.name for t in tasks], 'tasks')} to {percent}", change)


def crowd(plan: Plan, task_ids: Iterable[str], by: float) -> Edit:
    """So many times as many people on tasks, which are that much shorter for the same work."""
    tasks = [plan.task(t) for t in task_ids if plan.assigned.get(t) and not plan.is_summary(t)]
    tasks = [t for t in tasks if t.actual_start is None and t.minutes and not t.elapsed]
    if not tasks:
        raise EditRefused("Nobody is on that, or it has begun: more people make nothing of it shorter.")
    if not 1 < by <= TIMES[1]:
        raise EditRefused("More people are from a few more to four times as many.")

    def change(draft: Draft) -> None:
        for task in tasks:
            shorter = max(1, round(task.minutes / by))
            for a in plan.assignments_of(task.id):
                more = replace(a, units=a.units * by, hours_a_day=None if a.hours_a_day is None else a.hours_a_day * by)
                draft.put(more if a.total is None else a)
            estimate = tuple(max(1, round(each / by)) for each in task.estimate)
            draft.put(replace(draft.task(task.id), duration=shorter, estimate=estimate))

    return Edit(f"More people on {quoted([t.name for t in tasks], 'tasks')}", change)


def open_to_role(plan: Plan, role: str) -> Edit:
    """What the people of a role are still to do may be done by any of them: their seats are open again."""
    members = {r.id for r in plan.resources.values() if r.role == role and r.id != role}
    steps: list[tuple[Assignment, Assignment]] = []
    for a in plan.assignments.values():
        task = plan.tasks[a.task]
        if a.resource in members and task.actual_start is None:
            steps.append((a, replace(a, resource=role)))

    def change(draft: Draft) -> None:
        for before, after in steps:
            there = draft.get("assignments", after.key)
            draft.remove("assignments", before.key)
            if isinstance(there, Assignment):
                after = replace(there, units=there.units + after.units)
            draft.put(after)

    return Edit(f"Anybody of {plan.resource(role).name} may do its work", change)


def _waits(plan: Plan, task: str) -> bool:
    """Whether a row, or what it lies below, waits for something that is still to be done."""
    return any(
        plan.tasks[key[0]].actual_finish is None
        for row in (task, *plan.ancestors(task))
        for key in plan.links_at.get(row, ())
        if key[1] == row
    )


def _last_rank(plan: Plan) -> str:
    there = plan.resources_in_order()
    return ranks_between(there[-1].rank if there else None, None, 1)[0]


def _calendar_of(plan: Plan, role: str) -> str | None:
    found = plan.resource(role).calendar
    return found or next((r.calendar for r in plan.resources.values() if r.role == role and r.calendar), None)


def _section_of(plan: Plan, role: str) -> str:
    return next((r.section for r in plan.resources_in_order() if r.role == role and r.section), "")


def _count(count: float) -> str:
    return f"{count:g}"
