"""Load conserves effort, overloads are those of a minute-by-minute count, levelled plans are feasible."""

from __future__ import annotations

import random
import unittest

import numpy as np
from msgspec.structs import replace

from hexapod.errors import CannotSchedule
from hexapod.plan import edits
from hexapod.plan.kinds import KINDS
from hexapod.plan.outline import outline_order
from hexapod.plan.plan import Plan
from hexapod.plan.records import Assignment, Limit, LimitKind, Resource
from hexapod.schedule.engine import schedule
from hexapod.schedule.schedule import Schedule
from hexapod.staffing.capacity import PARTS
from hexapod.staffing.demand import Demand
from hexapod.staffing.levelling.proposal import level
from hexapod.staffing.load import capacity_by_period, load_by_period, shares_in
from hexapod.staffing.overloads import overloads
from hexapod.worktime.calendars import Window
from tests.staffing.checker import capacity_at, demand_by_minute, overloaded_minutes
from tests.support import DAY, MONDAY, project, random_plan, tasks
from tests.worktime.twin import MinuteByMinute

WINDOW = Window(MONDAY // 1440 - 10, MONDAY // 1440 + 120)


def spans(found: Schedule, plan: Plan) -> dict[str, tuple[int, int]]:
    return {t: found.dates(t)[:2] for t in plan.tasks}


class Load(unittest.TestCase):
    def test_load_is_effort_to_the_minute_in_any_periods(self) -> None:
        rng = random.Random(31)
        for _ in range(40):
            plan = random_plan(rng, 12, calendars=2, resources=3, own_hours=True)
            draft = plan.draft()
            for assignment in plan.assignments.values():
                draft.put(replace(assignment, units=rng.choice((0.3, 1.0, 2.5))))
            plan = draft.finish()[0]
            try:
                found = schedule(plan)
            except CannotSchedule:
                continue
            inner = (rng.randrange(WINDOW.begin, WINDOW.end) for _ in range(20))
            edges = np.array(sorted({WINDOW.begin, *inner, WINDOW.end + 4000 * 1440}))
            for resource in plan.resources:
                effort = sum(
                    plan.tasks[t].minutes * round(plan.assignments[(t, resource)].units * PARTS)
                    for t in plan.used_by.get(resource, ())
                )
                loads = load_by_period(found, plan, resource, edges)
                self.assertEqual(loads.sum(), effort)
                shares = shares_in(found, plan, resource, int(edges[3]), int(edges[4]))
                self.assertAlmostEqual(sum(s.minutes for s in shares) * PARTS, loads[3], delta=0.01)

    def test_capacity_is_units_times_working_time(self) -> None:
        plan = Plan.of([project(), *tasks(("a", DAY)), Resource("r", "R", "a0", capacity=2.5)])
        week = np.array([MONDAY // 1440, MONDAY // 1440 + 7]) * 1440
        self.assertEqual(capacity_by_period(schedule(plan), plan, "r", week).tolist(), [2400 * 2.5 * PARTS])
        more = edits.save_resource(plan, replace(plan.resources["r"], capacity_from=((MONDAY // 1440 + 3, 4.0),)))
        after = more.applied_to(plan)
        expected = [480 * (3 * 2.5 + 2 * 4.0) * PARTS]
        self.assertEqual(capacity_by_period(schedule(after), after, "r", week).tolist(), expected)


class Overloads(unittest.TestCase):
    def test_against_a_count_of_every_minute(self) -> None:
        rng = random.Random(32)
        for _ in range(25):
            calendars = rng.choice((0, 2))
            plan = random_plan(rng, 10, calendars=calendars, resources=3, lags=0, own_hours=calendars > 0)
            step = MONDAY // 1440 + rng.randrange(2, 12)  # from this day on there is more or less of the first
            more = replace(plan.resources[min(plan.resources)], capacity_from=((step, 2.0),))
            plan = edits.save_resource(plan, more).applied_to(plan)
            try:
                found = schedule(plan)
            except CannotSchedule:
                continue
            told = overloads(found, Demand.of(found, plan))
            asked = demand_by_minute(plan, spans(found, plan), WINDOW)
            for resource, minutes in overloaded_minutes(plan, spans(found, plan), WINDOW).items():
                mine = [o for o in told if o.resource == resource]
                excess = sum(asked[resource][t] - capacity_at(plan, resource, t) for t in minutes)
                self.assertAlmostEqual(sum(o.excess for o in mine), excess)
                self.assertTrue(all(any(o.begin <= t < o.end for o in mine) for t in minutes))
                self.assertTrue(all(o.begin in minutes and o.end - 1 in minutes for o in mine))
                for over in mine:
                    within = [asked[resource][t] for t in minutes if over.begin <= t < over.end]
                    self.assertEqual(over.peak, max(within))


class Levelling(unittest.TestCase):
    def setUp(self) -> None:
        self.rng = random.Random(33)

    def plans(self, count: int, **more: object) -> list[Plan]:
        return [
            random_plan(self.rng, 14, resources=3, lags=self.rng.choice((0, 300)), projects=2, **more)  # type: ignore[arg-type]
            for _ in range(count)
        ]

    def test_free_levelling_is_feasible_and_keeps_the_logic(self) -> None:
        for plan in [*self.plans(12, calendars=1), *self.plans(12, calendars=2, own_hours=True)]:
            try:
                now = schedule(plan)
                proposal = level(now, within_float=False)
            except CannotSchedule:
                continue
            after = spans(proposal.schedule, plan)
            too_much = {a.resource for a in plan.assignments.values() if a.units > plan.resources[a.resource].capacity}
            for resource, minutes in overloaded_minutes(plan, after, WINDOW).items():
                if resource not in too_much:
                    self.assertFalse(minutes, resource)
            self._is_the_schedule_of_its_holds(plan, proposal)
            place = {task: i for i, task in enumerate(outline_order(plan))}
            told = [(move.after, place[move.task]) for move in proposal.moves]
            self.assertEqual(told, sorted(told), "moves are told by their start, then as in the outline")
            assert proposal.finish_after is not None and proposal.lower_bound is not None
            self.assertLessEqual(proposal.lower_bound, proposal.finish_after)

    def test_what_is_held_could_not_start_a_minute_sooner_beside_the_others(self) -> None:
        checked = 0
        for plan in self.plans(40, calendars=1):
            proposal = level(schedule(plan), within_float=False)
            dates = spans(proposal.schedule, plan)
            asked = demand_by_minute(plan, dates, WINDOW)
            for move in (m for m in proposal.moves if m.resource is not None):
                own = plan.tasks[move.task].calendar or plan.projects[plan.tasks[move.task].project].calendar
                works = MinuteByMinute(plan.calendars, (own,), WINDOW).works
                before = next(t for t in range(move.after - 1, WINDOW.begin, -1) if works[t - WINDOW.begin])
                there = plan.resources[move.resource]
                units = plan.assignments[(move.task, there.id)].units
                self.assertGreater(asked[there.id][before] + units, there.capacity, move)
                checked += 1
        self.assertGreater(checked, 60)

    def test_within_float_no_finish_moves_and_nothing_gets_worse(self) -> None:
        helped = 0
        for plan in self.plans(40, calendars=1):
            now = schedule(plan)
            proposal = level(now, within_float=True)
            self.assertEqual(proposal.schedule.project_finish, now.project_finish)
            for task_id in plan.tasks:
                self.assertLessEqual(proposal.schedule.dates(task_id).early_start, now.dates(task_id).late_start)
            before = sum(o.excess for o in proposal.overloads_before)
            after = sum(o.excess for o in proposal.overloads_after)
            helped += after < before
            self._is_the_schedule_of_its_holds(plan, proposal)
        self.assertGreater(helped, 15)

    def _is_the_schedule_of_its_holds(self, plan: Plan, proposal) -> None:  # type: ignore[no-untyped-def]
        held = edits.set_holds(plan, proposal.holds, "Level").applied_to(plan)
        after = schedule(held)
        for task_id in plan.tasks:
            self.assertEqual(after.dates(task_id), proposal.schedule.dates(task_id))
        cleared = edits.clear_holds(held, list(held.tasks)).applied_to(held)
        self.assertEqual(cleared, plan)

    def test_the_same_plan_gives_the_same_answer_however_it_is_stored(self) -> None:
        for plan in self.plans(8):
            records = [r for kind in KINDS for r in getattr(plan, kind).values()]
            self.rng.shuffle(records)
            one, other = (
                level(schedule(plan), within_float=False),
                level(schedule(Plan.of(records)), within_float=False),
            )
            self.assertEqual(one.moves, other.moves)

    def test_more_steps_are_never_worse(self) -> None:
        for plan in self.plans(4):
            now = schedule(plan)
            short, long = level(now, within_float=False), level(now, within_float=False, steps=600)
            assert short.finish_after is not None and long.finish_after is not None
            self.assertLessEqual(long.finish_after, short.finish_after)

    def test_pinned_and_must_tasks_stay(self) -> None:
        a, b, c = tasks(("a", 2 * DAY), ("b", 2 * DAY), ("c", 2 * DAY))
        must = replace(b, limits=(Limit(LimitKind.MUST_START, MONDAY),))
        everyone = [Resource("r", "R", "a0"), *(Assignment(t, "r") for t in "abc")]
        plan = Plan.of([project(), replace(a, pinned=True), must, c, *everyone])
        moved = {m.task for m in level(schedule(plan), within_float=False).moves}
        self.assertEqual(moved, {"c"})

    def test_a_move_names_what_it_gives_way_to(self) -> None:
        a, b, c = tasks(("a", 4 * DAY), ("b", 2 * DAY), ("c", 8 * DAY))
        plan = Plan.of([project(), a, b, c, Resource("r", "R", "a0"), Assignment("a", "r"), Assignment("b", "r")])
        move = level(schedule(plan), within_float=True).moves[0]
        self.assertEqual((move.task, move.resource, move.gives_way_to, move.hold), ("a", "r", "b", 2 * DAY))
