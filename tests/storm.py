"""Random edits of every kind, as a person in a hurry would make them."""

from __future__ import annotations

import random

from msgspec.structs import replace

from hexapod.control.worked import log_edit
from hexapod.errors import HexapodError
from hexapod.plan import edits
from hexapod.plan.accounts import Baseline, BaselineTask, Budget, EntryKind, Log, MoneyEntry, monday_of
from hexapod.plan.changes import Changes
from hexapod.plan.edits import Edit
from hexapod.plan.estimates import Shape
from hexapod.plan.plan import Plan
from hexapod.plan.ranks import ranks_between
from hexapod.plan.records import (
    Assignment,
    Calendar,
    CalendarException,
    Direction,
    Earns,
    Field,
    Gap,
    Held,
    LagOn,
    LimitKind,
    LinkType,
    OutOfOrder,
    Reservation,
    Resource,
    ResourceKind,
    Stage,
    TaskKind,
)
from hexapod.plan.recurrence import moment_at
from hexapod.plan.risks import AnswerKind, Risk, RiskDelay, RiskKind, RiskState
from hexapod.plan.validity import check
from hexapod.schedule.engine import reschedule
from hexapod.schedule.schedule import Schedule
from hexapod.schedule.telling import told
from hexapod.staffing.holding import keep, set_effort
from tests.support import MONDAY


def random_step(rng: random.Random, plan: Plan) -> tuple[Edit, Plan, Changes] | None:
    """A random edit made and checked; None if it was refused."""
    try:
        edit = random_edit(rng, plan)
        draft = plan.draft()
        edit.change(draft)
        after, changes = draft.finish()
        check(after, changes)
    except HexapodError:
        return None
    return edit, after, changes


def random_edit(rng: random.Random, plan: Plan) -> Edit:
    """May be one that is refused."""
    tasks = sorted(plan.tasks)
    projects = sorted(plan.projects)
    some = rng.sample(tasks, min(len(tasks), rng.choice((1, 1, 1, 2, 4)))) if tasks else []
    one = some[0] if some else None
    choices = [lambda: edits.add_text(rng.choice(projects), "New\n  Inner\n  Other", one)]
    if one is not None:
        two = rng.choice(tasks)
        resources = sorted(plan.resources)
        choices += [
            lambda: edits.add_task(plan.tasks[one].project, "Added", one, duration=rng.randrange(2000)),
            lambda: edits.rename(plan, one, f"Name {rng.randrange(1000)}"),
            lambda: edits.set_durations(plan, some, rng.choice((None, 0, rng.randrange(5000)))),
            lambda: edits.set_durations(plan, some, rng.randrange(5000)),
            lambda: edits.link(plan, one, two, rng.choice(list(LinkType)), rng.randrange(-900, 900)),
            lambda: edits.link(plan, one, two),
            lambda: edits.chain(plan, some),
            lambda: edits.unlink(plan, rng.sample(sorted(plan.links), min(2, len(plan.links)))),
            lambda: edits.indent(plan, some),
            lambda: edits.outdent(plan, some),
            lambda: edits.move_up(plan, some),
            lambda: edits.move_down(plan, some),
            lambda: edits.move_to(plan, some, plan.tasks[two].project, plan.tasks[two].parent, two),
            lambda: edits.set_limit(plan, one, rng.choice(list(LimitKind)), MONDAY + rng.randrange(90_000)),
            lambda: edits.set_task(plan, one, "Want it", target=MONDAY + rng.randrange(200_000)),
            lambda: edits.set_holds(plan, {t: rng.randrange(2000) for t in some}, "Hold"),
            lambda: edits.clear_holds(plan, some),
        ]
        choices += [lambda: _rich_edit(rng, plan, some, two)] * 12
        choices += [lambda: _staff_edit(rng, plan, one)] * 5
        choices += [lambda: _settling_edit(rng, plan, some)] * 5
        choices += [lambda: _telling_edit(rng, plan, some)] * 5
        choices += [lambda: _tracking_edit(rng, plan, some)] * 3
        choices += [lambda: _accounts_edit(rng, plan, some)] * 3
        choices += [lambda: _unsure_edit(rng, plan, some)] * 3
        choices += [lambda: _trying_edit(rng, plan, some)] * 2
        if len(tasks) > 15:
            choices.append(lambda: edits.remove_tasks(plan, some))
        if len(tasks) > 120:
            choices += [lambda: edits.remove_tasks(plan, some)] * 6
        if resources:
            who = rng.choice(resources)
            choices.append(lambda: edits.set_assignments(plan, one, [Assignment(one, who, rng.choice((0.5, 1.0)))]))
            choices.append(lambda: edits.assign(plan, some, who))
    return rng.choice(choices)()


def _rich_edit(rng: random.Random, plan: Plan, some: list[str], two: str) -> Edit:
    """What the engine's full rules and the descriptions of tasks add."""
    one = some[0]
    project = plan.projects[rng.choice(sorted(plan.projects))]
    day = MONDAY // 1440 + rng.randrange(60)
    choices = [
        lambda: edits.set_task(plan, one, "Kind", kind=rng.choice(list(TaskKind))),
        lambda: edits.set_task(plan, one, "Elapsed", elapsed=rng.random() < 0.5),
        lambda: edits.set_task(plan, one, "Late", as_late_as_possible=rng.random() < 0.5),
        lambda: edits.set_task(plan, one, "Calendar", calendar=rng.choice([None, "always", "standard", "own"])),
        lambda: edits.set_tags(plan, some, rng.sample("abcde", 2)),
        lambda: edits.set_fields(plan, some, {rng.choice("xyz"): rng.choice([None, 1, 2.5, "text", True])}),
        lambda: edits.attach(plan, one, f"file{rng.randrange(5)}"),
        lambda: edits.add_comment(plan, one, "Mo", MONDAY, "Said"),
        lambda: edits.replace_text(plan, some, "name", "New", f"Old{rng.randrange(9)}", exact=False),
        lambda: edits.save_project(plan, replace(project, gap=rng.choice(list(Gap)))),
        lambda: edits.save_project(plan, replace(project, **_direction(rng))),
        lambda: edits.save_calendar(plan, Calendar("own", "Own", base="standard", exceptions=(
            CalendarException(day, day + rng.randrange(3), ((540, 900),) if rng.random() < 0.5 else ()),))),
        lambda: edits.graft(plan, edits.fragment_of(plan, [one]), project.id, two) if len(plan.tasks) < 100
        else edits.rename(plan, one, "Kept"),
        lambda: edits.move_project(plan, project.id, rng.choice((-1, 1))),
        lambda: edits.repeat(plan, one, f"DTSTART:2026090{rng.randrange(1, 9)}T080000\nRRULE:FREQ=WEEKLY;COUNT=3",
                             MONDAY),
        lambda: edits.set_rule(plan, one, rng.choice(list(edits.Scope)),
                               f"DTSTART:2026091{rng.randrange(9)}T080000\nRRULE:FREQ=DAILY;COUNT=4", MONDAY),
        lambda: edits.remove_occurrences(plan, one, rng.choice(list(edits.Scope))),
        lambda: edits.plan_back(plan, one, MONDAY + rng.randrange(90_000), some),
    ]  # fmt: skip
    if plan.links:
        link = plan.links[rng.choice(sorted(plan.links))]
        percent = rng.choice((0.0, 50.0))
        changed = replace(
            link,
            gap=rng.choice([None, *Gap]),
            lag=0 if percent else rng.randrange(-500, 500),
            lag_percent=percent,
            lag_on=rng.choice(list(LagOn)),
        )
        choices += [lambda: edits.change_link(plan, link.key, changed)] * 3
    if plan.fields:
        choices.append(lambda: edits.remove_field(plan, rng.choice(sorted(plan.fields))))
    choices.append(lambda: edits.save_field(plan, Field(rng.choice("fgh"), rng.choice("xyz"), "a0")))
    return rng.choice(choices)()


def _staff_edit(rng: random.Random, plan: Plan, one: str) -> Edit:
    """Who is there, who does what, and who is promised to what."""
    resources, project = sorted(plan.resources), rng.choice(sorted(plan.projects))
    kind = rng.choice((ResourceKind.ROLE, ResourceKind.PERSON, ResourceKind.PERSON, ResourceKind.EQUIPMENT))
    last = plan.resources_in_order()
    (rank,) = ranks_between(last[-1].rank if last else None, None, 1)
    fresh = Resource(f"n{rng.randrange(6)}", f"New {rng.randrange(99)}", rank, kind)
    first = MONDAY // 1440 + rng.randrange(40)
    choices = [
        lambda: edits.save_resource(plan, fresh),
        lambda: edits.split_task(plan, one, rng.randrange(1, 3000), f"s{rng.randrange(10**9)}"),
        lambda: keep(plan, one, rng.choice(list(Held))),
        lambda: set_effort(plan, one, rng.choice((None, rng.randrange(1, 9000)))),
    ]
    if resources:
        who, other = plan.resources[rng.choice(resources)], rng.choice(resources)
        dates = rng.choice(((None, None), (first, None), (first, first + rng.randrange(20))))
        made = Reservation(f"v{rng.randrange(9)}", project, who.id, rng.choice((0.25, 1.0, 2.0)), *dates)
        choices += [
            lambda: edits.save_reservation(plan, made),
            lambda: edits.hand_over(plan, one, rng.choice([None, *plan.assigned.get(one, ())]), other),
            lambda: edits.save_resource(plan, replace(who, role=other if other != who.id else None)),
            lambda: edits.save_resource(plan, replace(who, capacity_from=((first, rng.choice((0.0, 0.5, 2.0))),))),
            lambda: edits.remove_resource(plan, other) if len(resources) > 3 else edits.save_resource(plan, fresh),
        ]
    if plan.reservations:
        key = rng.choice(sorted(plan.reservations))
        choices.append(lambda: edits.remove_reservation(plan, key))
        if resources:
            taker = rng.choice(resources)
            choices.append(lambda: edits.fill_project_seat(plan, key, taker, 0.25, rng.choice((None, first))))
    return rng.choice(choices)()


def _telling_edit(rng: random.Random, plan: Plan, some: list[str]) -> Edit:
    """What is told of how far the work is, and taken back."""
    home, moment = plan.projects[rng.choice(sorted(plan.projects))], MONDAY + rng.randrange(60_000)
    choices = [
        lambda: edits.set_percent(plan, some, rng.choice((0, 12.5, 50, 100, 100))),
        lambda: edits.set_rest(plan, some, rng.choice((0, rng.randrange(3000)))),
        lambda: edits.begin(plan, some, moment),
        lambda: edits.finish(plan, some, moment),
        lambda: edits.reopen(plan, some),
        lambda: edits.take_back(plan, some),
        lambda: edits.set_task(plan, some[0], "As of", as_of=rng.choice((None, moment))),
        lambda: edits.set_status_date(plan, home.id, rng.choice((None, moment))),
        lambda: edits.save_project(plan, replace(home, out_of_order=rng.choice(list(OutOfOrder)))),
    ]  # fmt: skip
    return rng.choice(choices)()


def _tracking_edit(rng: random.Random, plan: Plan, some: list[str]) -> Edit:
    """Stages and cards, errands, who hears of a task, who leads a project."""
    name, (rank,) = f"g{rng.randrange(4)}", ranks_between(None, None, 1)
    stage = Stage(
        name, f"Stage {name}", f"{rank}{name}", rng.choice((None, 0.0, 10.0, 50.0, 100.0)), rng.choice((None, 2))
    )
    people, home = sorted(plan.resources), plan.projects[rng.choice(sorted(plan.projects))]
    choices = [
        lambda: edits.save_stage(plan, stage),
        lambda: edits.put_on_board(plan, some, rng.random() < 0.8),
        lambda: edits.set_reminders(plan, some, [rng.randrange(20)]),
    ]
    if plan.stages:
        one = rng.choice(sorted(plan.stages))
        choices += [lambda: edits.put_in_stage(plan, some, one)] * 4
        choices += [lambda: edits.remove_stage(plan, one), lambda: edits.move_stage(plan, one, rng.choice((-1, 1)))]
    if people:
        who = rng.choice(people)
        choices += [
            lambda: edits.add_errands(plan, who, [("Pins", None), ("Bags", MONDAY // 1440)]),
            lambda: edits.tell_also(plan, some, rng.sample(people, min(2, len(people)))),
            lambda: edits.save_project(plan, replace(home, led_by=rng.choice((None, who)))),
        ]
    if plan.errands:
        errand = rng.choice(sorted(plan.errands))
        choices += [lambda: edits.tick_errand(plan, errand, rng.choice((None, MONDAY)))]
        choices += [lambda: edits.remove_errands(plan, [errand])]
    return rng.choice(choices)()


def _unsure_edit(rng: random.Random, plan: Plan, some: list[str]) -> Edit:
    """Estimates, what moves together, and the register."""
    one, people = some[0], sorted(plan.resources)
    home = plan.projects[plan.tasks[one].project]
    best = rng.randrange(1, 900)
    estimate = rng.choice(((), (best, best + 900), (best, best + 200, best + 900), (900, 300)))
    minutes = (rng.randrange(200), 300, 900)
    delays = tuple(RiskDelay(t, minutes) for t in some)
    after = rng.choice((None, (), (RiskDelay(one, (0, 1, 2)),)))
    risk = Risk(
        f"q{rng.randrange(5)}", home.id, "Glass", rng.choice(list(RiskKind)), chance=rng.choice((0.0, 0.4, 1.3)),
        delays=delays, cost=rng.choice((None, (1, 2, 3))), answer=rng.choice((None, *AnswerKind)), answer_cost=5,
        answered=rng.random() < 0.5, delays_after=after, owner=rng.choice((None, *people)),
        state=rng.choice(list(RiskState)), about=(one,),
    )  # fmt: skip
    choices = [
        lambda: edits.set_estimates(plan, some, estimate),
        lambda: edits.set_shape(plan, some, rng.choice(list(Shape))),
        lambda: edits.spread_estimates(plan, dict.fromkeys(some, (20, 50)), "Spread"),
        lambda: edits.set_moves_together(plan, home.id, {"Glass": rng.choice((0.0, 0.5, 2.0))}),
        lambda: edits.save_risk(plan, risk),
        lambda: edits.save_risk(plan, risk),
    ]
    if plan.risks:
        known = rng.choice(sorted(plan.risks))
        choices += [
            lambda: edits.remove_risks(plan, [known]),
            lambda: edits.take_answer(plan, known, rng.random() < 0.5),
            lambda: edits.risk_came(plan, known),
            lambda: edits.task_of_action(plan, known, plan.risks[known].project, edits.new_id()),
        ]
    return rng.choice(choices)()


def _trying_edit(rng: random.Random, plan: Plan, some: list[str]) -> Edit:
    """What is tried out in scenarios."""
    project = rng.choice(sorted(plan.projects))
    roles = [r.id for r in plan.resources.values() if r.kind is ResourceKind.ROLE]
    day = MONDAY // 1440 + rng.randrange(60)
    choices = [
        lambda: edits.contract(plan, some, "Firm", rng.randrange(9000), (day, day + rng.randrange(9))),
        lambda: edits.delay_project(plan, project, rng.randrange(3000)),
        lambda: edits.put_on_hold(plan, project, rng.random() < 0.5),
        lambda: edits.scale_scope(plan, some, rng.choice((0.25, 0.5, 2, 9))),
        lambda: edits.crowd(plan, some, rng.choice((1.5, 2, 9))),
    ]
    if roles:
        role = rng.choice(roles)
        choices += [
            lambda: edits.hire(plan, role, rng.choice((0.5, 1, 3)), day, rng.choice((None, day + 9))),
            lambda: edits.open_to_role(plan, role),
        ]
    return rng.choice(choices)()


def _accounts_edit(rng: random.Random, plan: Plan, some: list[str]) -> Edit:
    """Hours, sheets, money, budgets and baselines."""
    one, people = some[0], sorted(plan.resources)
    home = plan.projects[plan.tasks[one].project]
    day, name = MONDAY // 1440 + rng.randrange(30), f"a{rng.randrange(6)}"
    task = rng.choice((None, one))
    entry = MoneyEntry(name, home.id, f"E{name}", rng.choice(list(EntryKind)), rng.randrange(1, 9999), day,
                       day + rng.choice((0, 0, 20)), task, rng.random() < 0.5)  # fmt: skip
    days = rng.choice(((None, None), (day, day + 30)))
    rows = tuple(BaselineTask(t, MONDAY, MONDAY + 900, 480, 480, 99) for t in sorted(plan.tasks)[:5])
    choices = [
        lambda: edits.save_entry(plan, entry),
        lambda: edits.save_budget(
            plan, Budget(name, home.id, task, *days, rng.randrange(9999), rng.choice((None, 60)))
        ),
        lambda: edits.keep_baseline(plan, Baseline(name, f"B{name}", MONDAY, home.id, rows)),
        lambda: edits.set_task(plan, one, "Earns", earns=rng.choice(list(Earns)), weight=float(rng.randrange(4))),
    ]
    if people:
        who = rng.choice(people)
        week = (who, monday_of(day))
        log = Log(f"h{rng.randrange(40)}", one, who, day, rng.choice((30, 480, 900)), "pins", rng.choice((None, 40.0)))
        choices += [lambda: log_edit(plan, [log])] * 4
        choices += [
            lambda: edits.correct(plan, Log(edits.new_id(), one, who, day, -30)),
            lambda: edits.hand_in(plan, week, "Mo"),
            lambda: edits.approve(plan, week, "Nell"),
            lambda: edits.send_back(plan, week, "Nell", "Why?"),
            lambda: edits.take_sheet_back(plan, week, "Mo"),
        ]
    removals = (("logs", edits.remove_logs), ("entries", edits.remove_entries), ("budgets", edits.remove_budgets))
    for kind, remove in removals:
        if there := sorted(getattr(plan, kind)):
            gone = rng.choice(there)
            choices.append(lambda remove=remove, gone=gone: remove(plan, [gone]))
    if plan.baselines:
        kept = rng.choice(sorted(plan.baselines))
        choices.append(lambda: edits.remove_baseline(plan, kept))
        choices.append(lambda: edits.measure_from(plan, plan.baselines[kept].project, rng.choice((None, kept))))
    return rng.choice(choices)()


def _settling_edit(rng: random.Random, plan: Plan, some: list[str]) -> Edit:
    """What others stand on comes, changes and goes: calendars, leave, roles, fields, series, projects."""
    one, projects, resources = some[0], sorted(plan.projects), sorted(plan.resources)
    calendars = [None, "standard", "always", *sorted(plan.calendars)]
    home = plan.projects[rng.choice(projects)]
    name = rng.choice("klmn")
    day = MONDAY // 1440 + rng.randrange(90)
    off = CalendarException(day, day + rng.randrange(9), rng.choice(((), ((480, 700),))))
    yearly = CalendarException(day, day, (), f"DTSTART:{moment_at(day * 1440):%Y%m%d}\nRRULE:FREQ=YEARLY")
    base = rng.choice(("standard", *(c for c in plan.calendars if c < name)))
    far = MONDAY + rng.choice((-1, 1, 1)) * rng.randrange(1440 * 365 * 40)
    choices = [
        lambda: edits.save_calendar(plan, Calendar(name, f"Calendar {name}", base=base, exceptions=(off, yearly))),
        lambda: edits.save_calendar(plan, Calendar(name, f"Calendar {name}", week=(((480, 960),),) * 6 + ((),))),
        lambda: edits.set_task(plan, one, "Calendar", calendar=rng.choice(calendars)),
        lambda: edits.save_project(plan, replace(home, calendar=rng.choice(calendars) or "standard")),
        lambda: edits.set_limit(plan, one, LimitKind.START_NO_EARLIER, max(0, far)),
        lambda: edits.set_limit(plan, one, LimitKind.START_NO_EARLIER, None),
        lambda: edits.repeat(plan, one, "DTSTART:20260907T080000\nRRULE:FREQ=WEEKLY", MONDAY + 50_000),
        lambda: edits.set_rule(plan, one, edits.Scope.ALL, "DTSTART:20260909T080000\nRRULE:FREQ=MONTHLY", MONDAY),
        lambda: edits.save_project(plan, replace(home, archived=rng.random() < 0.5)),
        lambda: edits.save_project(plan, replace(home, critical_float=rng.choice((0, 480, 2400)))),
        lambda: edits.save_project(plan, replace(home, target_finish=MONDAY + rng.randrange(400_000))),
    ]  # fmt: skip
    if len(projects) < 4:
        rank = ranks_between(plan.projects_in_order()[-1].rank, None, 1)[0]
        choices.append(lambda: edits.save_project(plan, replace(home, id=f"q{rng.randrange(9)}", rank=rank)))
    if len(projects) > 2 or (len(projects) > 1 and rng.random() < 0.1):
        choices.append(lambda: edits.remove_project(plan, home.id))
    if plan.calendars:
        choices += [lambda: edits.remove_calendar(plan, rng.choice(sorted(plan.calendars)))] * 3
    if resources:
        who = plan.resources[rng.choice(resources)]
        choices += [
            lambda: edits.save_resource(plan, replace(who, leave=(off,))),
            lambda: edits.save_resource(plan, replace(who, leave=(), calendar=rng.choice(calendars))),
            lambda: edits.remove_resource(plan, who.id) if len(resources) > 2 else edits.assign(plan, some, who.id),
            lambda: edits.assign(plan, some, who.id, 0.5),
        ]
    if plan.series:
        series = rng.choice(sorted(plan.series))
        choices.append(lambda: edits.remove_tasks(plan, [series]))
    return rng.choice(choices)()


def _direction(rng: random.Random) -> dict[str, object]:
    if rng.random() < 0.5:
        return {"direction": Direction.FORWARD}
    return {"direction": Direction.BACKWARD, "finish": MONDAY + rng.randrange(300_000)}


def moved_on(rng: random.Random, dates: Schedule, now: int) -> Schedule:
    """The dates after a random edit of their plan, brought up to date from these; the same if it was refused."""
    made = random_step(rng, dates.plan)
    if made is None:
        return dates
    try:
        changes = told(dates, made[1], made[2], now)
        after = changes.applied_to(dates.plan)
        check(after, changes)
        return reschedule(dates, after, changes) if changes else dates
    except HexapodError:
        return dates
