"""What may move and what may not, and the nearest free date against trying every hour."""

from __future__ import annotations

import random
import unittest

from msgspec.structs import replace

from hexapod.plan import edits
from hexapod.plan.plan import Plan
from hexapod.plan.records import Assignment, Direction, Limit, LimitKind, Link, Resource
from hexapod.schedule.engine import schedule
from hexapod.schedule.schedule import Schedule
from hexapod.staffing.demand import Demand
from hexapod.staffing.guard import breaches, free_dates
from hexapod.staffing.levelling.placing import Scope
from hexapod.staffing.levelling.proposal import level, without
from hexapod.staffing.overloads import overloads
from hexapod.worktime.calendars import Window
from tests.staffing.checker import overloaded_minutes
from tests.support import DAY, MONDAY, after, project, random_plan, tasks, told

HOUR = 60
WINDOW = Window(MONDAY // 1440 - 10, MONDAY // 1440 + 200)


def dates_of(now: Schedule, plan: Plan) -> dict[str, tuple[int, int]]:
    return {t: (now.dates(t).start, now.dates(t).finish) for t in plan.tasks}


class OnlySome(unittest.TestCase):
    """Of a random plan, levelled with a scope."""

    def setUp(self) -> None:
        self.rng = random.Random(61)

    def plan(self) -> Plan:
        return random_plan(self.rng, 18, resources=4, lags=0, projects=3)

    def moved_by_hold(self, plan: Plan, scope: Scope, *, within_float: bool = False) -> set[str]:
        """The tasks that are held back; others may follow them."""
        found = level(schedule(plan), within_float=within_float, scope=scope)
        return {t for t, hold in found.holds.items() if hold}

    def test_only_tasks_of_the_projects_are_held(self) -> None:
        for _ in range(20):
            plan = self.plan()
            chosen = set(self.rng.sample(sorted(plan.projects), 1))
            held = self.moved_by_hold(plan, Scope(projects=chosen))
            self.assertLessEqual({plan.tasks[t].project for t in held}, chosen)

    def test_only_those_who_work_for_the_resources_are_held(self) -> None:
        for _ in range(20):
            plan = self.plan()
            chosen = set(self.rng.sample(sorted(plan.resources), 2))
            for task in self.moved_by_hold(plan, Scope(resources=chosen)):
                self.assertTrue(chosen & set(plan.assigned[task]))

    def test_only_what_starts_in_the_time_is_held(self) -> None:
        for _ in range(20):
            plan = self.plan()
            now = schedule(plan)
            begin = MONDAY + self.rng.randrange(20) * 1440
            end = begin + self.rng.randrange(3, 15) * 1440
            for task in self.moved_by_hold(plan, Scope(begin=begin, end=end)):
                self.assertTrue(begin <= now.dates(task).start < end)

    def test_what_is_begun_done_pinned_or_must_be_then_is_never_held_and_logic_is_kept(self) -> None:
        for _ in range(30):
            plan = self.plan()
            fixed = set()
            for task in self.rng.sample(sorted(plan.tasks), 6):
                way = self.rng.choice(("percent", "pinned", "must"))
                start = schedule(plan).dates(task).start
                change = {
                    "percent": {"percent": self.rng.choice((1.0, 60.0, 100.0))},
                    "pinned": {"pinned": True},
                    "must": {"limits": (Limit(LimitKind.MUST_START, start),)},
                }[way]
                plan = told(edits.set_task(plan, task, "", **change).applied_to(plan))
                fixed.add(task)
            proposal = level(schedule(plan), within_float=self.rng.random() < 0.5)
            self.assertFalse({t for t, hold in proposal.holds.items() if hold} & fixed)
            levelled = proposal.schedule
            for link in plan.links.values():
                if link.type.value == "FS" and not link.lag:
                    first, then = levelled.dates(link.predecessor), levelled.dates(link.successor)
                    if not plan.tasks[link.successor].limits and not plan.tasks[link.successor].percent:
                        self.assertLessEqual(first.finish, max(then.start, first.finish if not then.duration else 0))

    def test_leaving_out_all_moves_is_the_plan_as_it_was_and_leaving_out_none_is_the_proposal(self) -> None:
        for _ in range(15):
            plan = self.plan()
            now = schedule(plan)
            proposal = level(now, within_float=False)
            none = without(now, proposal, set(proposal.holds))
            self.assertEqual(dates_of(none.schedule, plan), dates_of(now, plan))
            self.assertEqual((none.moves, len(none.overloads_after)), ((), len(proposal.overloads_before)))
            whole = without(now, proposal, ())
            self.assertEqual(dates_of(whole.schedule, plan), dates_of(proposal.schedule, plan))

    def test_within_a_scope_nobody_of_it_has_more_too_much_than_before_by_a_count_of_minutes(self) -> None:
        for _ in range(12):
            plan = self.plan()
            now = schedule(plan)
            chosen = set(self.rng.sample(sorted(plan.resources), 2))
            proposal = level(now, within_float=False, scope=Scope(resources=chosen))
            before = overloaded_minutes(plan, dates_of(now, plan), WINDOW)
            then = overloaded_minutes(plan, dates_of(proposal.schedule, plan), WINDOW)
            for resource in chosen:
                self.assertLessEqual(len(then[resource]), len(before[resource]))


class NearestFreeDate(unittest.TestCase):
    """A task that is moved onto somebody who is busy: what is offered against trying every hour after it."""

    def busy(self, rng: random.Random) -> tuple[Plan, Schedule]:
        """Somebody with fixed work here and there, and a free task of theirs after a predecessor."""
        count = rng.randrange(2, 6)
        fixed = tasks(*((f"f{i}", rng.randrange(1, 4) * 4 * HOUR) for i in range(count)))
        placed, day = [], 0
        for task in fixed:
            day += rng.randrange(0, 3)
            placed.append(replace(task, limits=(Limit(LimitKind.MUST_START, MONDAY + day * 1440),), pinned=True))
            day += 1 + task.minutes // DAY
        before, free, last = tasks(("before", rng.randrange(1, 3) * DAY), ("free", rng.randrange(1, 5) * 3 * HOUR),
                                   ("last", 60 * DAY))  # fmt: skip
        ranked = [replace(t, rank=f"z{i}") for i, t in enumerate((before, free, last))]
        work = [Assignment(t.id, "ada", rng.choice((0.5, 1.0))) for t in placed]
        plan = Plan.of(
            [project(), *placed, *ranked, Link("before", "free"), Resource("ada", "Ada", "a0"), *work,
             Assignment("free", "ada", rng.choice((0.5, 1.0)))]
        )  # fmt: skip
        return plan, schedule(plan)

    def test_what_is_offered_is_the_first_hour_at_which_nobody_has_too_much(self) -> None:
        rng, offered = random.Random(77), 0
        for _ in range(160):
            plan, now = self.busy(rng)
            asked = MONDAY + rng.randrange(0, 9) * 1440 + rng.choice((0, 3, 5)) * HOUR
            edit = edits.set_limit(plan, "free", LimitKind.START_NO_EARLIER, asked)
            then = after(now, edit)
            if overloads(now, Demand.of(now, plan)) or not breaches(now, then):
                continue
            later = [o for o in free_dates(now, then, edit) if o.begin > then.dates("free").start]
            self.assertTrue(later, "there is always a later one")
            first = self.first_free(plan, now, then.dates("free").start)
            self.assertEqual(later[0].begin, first)
            self.assertEqual(after(now, later[0].edit).dates("free").start, first)
            offered += 1
        self.assertGreater(offered, 5)

    def first_free(self, plan: Plan, now: Schedule, begin: int) -> int:
        """By trying one quarter of an hour after the other."""
        moment = begin
        while True:
            tried = after(now, edits.set_limit(plan, "free", LimitKind.START_NO_EARLIER, moment))
            if not breaches(now, tried):
                return tried.dates("free").start
            moment += 15

    def test_a_sooner_date_is_offered_only_where_there_is_one(self) -> None:
        rng, sooner = random.Random(78), 0
        for _ in range(60):
            plan, now = self.busy(rng)
            asked = MONDAY + rng.randrange(2, 9) * 1440
            edit = edits.set_limit(plan, "free", LimitKind.START_NO_EARLIER, asked)
            then = after(now, edit)
            if not breaches(now, then):
                continue
            for offer in free_dates(now, then, edit):
                found = after(now, offer.edit)
                self.assertEqual(breaches(now, found), ())
                self.assertEqual(found.dates("free").start, offer.begin)
                self.assertGreaterEqual(offer.begin, now.dates("before").finish)
                sooner += offer.begin < then.dates("free").start
        self.assertGreater(sooner, 3)


class NeverWorse(unittest.TestCase):
    def test_what_is_not_better_is_not_offered_and_the_reason_is_said(self) -> None:
        """Also in projects that are scheduled back from their finish, where a delay ends too late."""
        rng, nothing = random.Random(44), 0
        for _ in range(24):
            plan = random_plan(rng, 14, resources=2, lags=0, projects=2)
            draft = plan.draft()
            for p in plan.projects.values():
                if rng.random() < 0.7:
                    finish = MONDAY + rng.randrange(5_000, 60_000)
                    draft.put(replace(p, direction=Direction.BACKWARD, finish=finish))
            now = schedule(draft.finish()[0])
            for within in (True, False):
                found = level(now, within_float=within, steps=20)
                before, after = found.overloads_before, found.overloads_after
                self.assertLessEqual(after.total_excess, before.total_excess)
                self.assertLessEqual(len(after) * bool(after.total_excess), len(before))
                self.assertEqual(bool(found.nothing_because), not found.moves and not found.holds)
                if found.nothing_because:
                    nothing += 1
                    self.assertIs(found.schedule, now)
        self.assertGreater(nothing, 5)


if __name__ == "__main__":
    unittest.main()
