"""What levelling offers beyond moves: who fills open seats, and ways out of what is left over, each tried."""

from __future__ import annotations

import random
import unittest

from msgspec.structs import replace

from hexapod.plan import edits
from hexapod.plan.plan import Plan
from hexapod.plan.records import Assignment, CalendarException, Limit, LimitKind, Resource, ResourceKind
from hexapod.schedule.engine import schedule
from hexapod.schedule.schedule import Schedule
from hexapod.staffing.demand import Demand
from hexapod.staffing.levelling.choosing import choose, fill
from hexapod.staffing.levelling.placing import Scope
from hexapod.staffing.levelling.proposal import level
from hexapod.staffing.levelling.ways_out import Way, capacity_on, ways_out, with_more
from hexapod.staffing.overloads import overloads
from tests.support import DAY, MONDAY, after, project, random_plan, tasks

FIRST = MONDAY // 1440


def too_much(now: Schedule) -> dict[str, float]:
    found: dict[str, float] = {}
    for over in overloads(now, Demand.of(now, now.network.plan)):
        found[over.resource] = found.get(over.resource, 0.0) + over.excess
    return found


class WaysOut(unittest.TestCase):
    def test_two_must_dates_on_one_crane_are_said_by_name_with_what_would_resolve_them(self) -> None:
        a, b = tasks(("a", 5 * DAY), ("b", 5 * DAY))
        must = (Limit(LimitKind.MUST_START, MONDAY),)
        crane = Resource("crane", "Crane", "a0", ResourceKind.EQUIPMENT)
        work = [Assignment("a", "crane"), Assignment("b", "crane")]
        plan = Plan.of([project(), replace(a, limits=must), replace(b, limits=must), crane, *work])
        found = level(schedule(plan), within_float=False)
        (over,) = found.overloads_after
        self.assertEqual((over.resource, set(over.tasks), found.moves), ("crane", {"a", "b"}, ()))
        ways = {w.way: w for w in ways_out(found.schedule, over)}
        self.assertEqual(set(ways), {Way.CAPACITY}, "nothing that must be then can be parted or moved")
        self.assertEqual(ways[Way.CAPACITY].units, 1)
        assert ways[Way.CAPACITY].edit is not None
        self.assertEqual(too_much(after(found.schedule, ways[Way.CAPACITY].edit)), {})

    def test_a_task_that_asks_for_more_than_there_ever_is_takes_a_smaller_share_or_more_units(self) -> None:
        (a,) = tasks(("a", 5 * DAY))
        team = Resource("team", "Team", "a0", ResourceKind.TEAM, capacity=2.0)
        plan = Plan.of([project(), a, team, Assignment("a", "team", 3.0)])
        found = level(schedule(plan), within_float=False)
        ways = {w.way: w for w in ways_out(found.schedule, found.overloads_after[0])}
        self.assertEqual({w: x.units for w, x in ways.items()}, {Way.CAPACITY: 1, Way.SHARE: 2.0})
        for way in ways.values():
            assert way.edit is not None
            self.assertEqual(too_much(after(found.schedule, way.edit)), {})

    def test_work_that_is_in_the_way_of_a_fixed_date_is_done_in_two_parts(self) -> None:
        a, b, c = tasks(("a", 10 * DAY), ("b", 2 * DAY), ("c", 20 * DAY))
        b = replace(b, limits=(Limit(LimitKind.MUST_START, MONDAY + 2 * 1440),))
        a = replace(a, limits=(Limit(LimitKind.START_NO_EARLIER, MONDAY),))
        plan = Plan.of([project(), a, b, c, Resource("ada", "Ada", "a0"),
                        Assignment("a", "ada"), Assignment("b", "ada")])  # fmt: skip
        now = schedule(plan)
        (over,) = overloads(now, Demand.of(now, plan))
        best = ways_out(now, over)[0]
        self.assertEqual((best.way, best.task, best.units, best.later), (Way.SPLIT, "a", 2 * DAY, 0))
        assert best.edit is not None
        parted = after(now, best.edit)
        self.assertEqual(too_much(parted), {})
        self.assertEqual(parted.dates("a").start, MONDAY)

    def test_what_is_begun_is_interrupted_behind_what_is_done_of_it(self) -> None:
        a, b, c = tasks(("a", 10 * DAY), ("b", 2 * DAY), ("c", 30 * DAY))
        a = replace(a, percent=40.0, actual_start=MONDAY)
        b = replace(b, limits=(Limit(LimitKind.MUST_START, MONDAY + 4 * 1440),))
        plan = Plan.of([project(), a, b, c, Resource("ada", "Ada", "a0"),
                        Assignment("a", "ada"), Assignment("b", "ada")])  # fmt: skip
        now = schedule(plan)
        (over,) = overloads(now, Demand.of(now, plan))
        best = ways_out(now, over)[0]
        self.assertEqual((best.way, best.task, best.units), (Way.SPLIT, "a", 4 * DAY))
        assert best.edit is not None
        parted = after(now, best.edit)
        self.assertEqual(too_much(parted), {})
        done = {t.name: t.percent for t in parted.network.plan.tasks.values()}
        self.assertEqual((done["a"], done["a, the rest"]), (100.0, 0.0))

    def test_every_way_out_of_random_plans_does_what_it_says(self) -> None:
        rng = random.Random(12)
        kinds: set[Way] = set()
        for _ in range(25):
            plan = random_plan(rng, 14, resources=3, lags=0, projects=2)
            found = level(schedule(plan), within_float=True)
            for over in found.overloads_after[:2]:
                for way in ways_out(found.schedule, over):
                    kinds.add(way.way)
                    if way.edit is None:
                        continue
                    then = after(found.schedule, way.edit)
                    left = overloads(then, Demand.of(then, then.network.plan))  # type: ignore[union-attr]
                    here = [o for o in left if o.resource == over.resource]
                    self.assertFalse([o for o in here if o.begin < over.end and o.end > over.begin], way)
                    later = [
                        f - found.schedule.project_finish[p]  # type: ignore[operator]
                        for p, f in then.project_finish.items()
                        if f is not None
                    ]
                    self.assertEqual(max(0, *later), way.later)
        self.assertLessEqual({Way.CAPACITY, Way.SPLIT, Way.FINISH}, kinds)

    def test_more_for_some_days_leaves_the_other_days_as_they_were(self) -> None:
        rng = random.Random(2)
        for _ in range(50):
            days = sorted(rng.sample(range(40), 3))
            steps = tuple((d, float(rng.randrange(4))) for d in days)
            resource = Resource("r", "R", "a0", capacity=1.0, capacity_from=steps)
            first = rng.randrange(40)
            last = first + rng.randrange(1, 10)
            more = with_more(resource, 2, first, last)
            for day in range(60):
                extra = 2 if first <= day < last else 0
                self.assertEqual(capacity_on(more, day), capacity_on(resource, day) + extra)


class Choosing(unittest.TestCase):
    def test_each_seat_gets_somebody_free_for_all_of_it_and_the_freer_one_waits_for_longer_work(self) -> None:
        leave = (CalendarException(FIRST + 1, FIRST + 1),)
        people = [
            Resource("glass", "Glass", "a0", ResourceKind.ROLE),
            Resource("ada", "Ada", "a1", role="glass"),
            Resource("bo", "Bo", "a2", role="glass", leave=leave),
            Resource("cy", "Cy", "a3", role="glass"),
        ]
        a, b, c, d = tasks(("a", 5 * DAY), ("b", 10 * DAY), ("c", 5 * DAY), ("d", 5 * DAY))
        work = [
            Assignment("a", "glass"),
            Assignment("b", "glass"),
            Assignment("c", "glass"),
            Assignment("d", "cy", 0.5),
        ]
        plan = Plan.of([project(), a, b, c, d, *people, *work])
        now = schedule(plan)
        found = {x.task: x.resource for x in choose(now)}
        self.assertEqual(sorted(filter(None, found.values())), ["ada"], "Bo is away, and Cy half taken")
        fixed = Plan.of([project(), a, b, *people[:2], replace(people[3], kind=ResourceKind.PERSON), *work[:2]])
        now = schedule(fixed)
        choices = choose(now)
        self.assertEqual({x.resource for x in choices}, {"ada", "cy"})
        edit = fill(now, choices)
        assert edit is not None
        then = after(now, edit)
        self.assertEqual(too_much(then), {})
        self.assertEqual([then.dates(t) for t in "ab"], [now.dates(t) for t in "ab"])
        self.assertFalse([k for k in then.network.plan.assignments if k[1] == "glass"])  # type: ignore[union-attr]

    def test_levelled_seats_of_random_plans_are_filled_without_an_overload_more(self) -> None:
        rng, filled = random.Random(9), 0
        role = Resource("role", "Role", "Z", ResourceKind.ROLE)
        for _ in range(20):
            plan = random_plan(rng, 12, resources=3, lags=0)
            people = [replace(r, role="role") for r in plan.resources.values()]
            spare = sorted(t for t in plan.tasks if not plan.assigned.get(t) and plan.tasks[t].minutes)[:3]
            plan = edits.together("", [edits.save_resource(plan, r) for r in (role, *people)]).applied_to(plan)
            plan = edits.assign(plan, spare, "role", 0.5).applied_to(plan) if spare else plan
            found = level(schedule(plan), within_float=False)
            choices = choose(found.schedule)
            edit = fill(found.schedule, choices)
            if edit is None:
                continue
            then = after(found.schedule, edit)
            before = too_much(found.schedule)
            for resource, more in too_much(then).items():
                self.assertLessEqual(more, before.get(resource, 0.0) + 0.5)
            self.assertEqual(then.project_finish, found.schedule.project_finish)
            filled += sum(c.resource is not None for c in choices)
        self.assertGreater(filled, 10)

    def test_only_some_are_levelled(self) -> None:
        a, b, c, d = tasks(("a", 5 * DAY), ("b", 5 * DAY), ("c", 5 * DAY), ("d", 5 * DAY))
        late = (Limit(LimitKind.START_NO_EARLIER, MONDAY + 28 * 1440),)
        work = [("a", "ada"), ("b", "ada"), ("a", "bo"), ("c", "bo"), ("d", "ada")]
        e = replace(d, id="e", rank="z", limits=late)
        plan = Plan.of([project(), a, b, c, replace(d, limits=late), e, Resource("ada", "Ada", "a0"),
                        Resource("bo", "Bo", "a1"), *(Assignment(*w) for w in (*work, ("e", "ada")))])  # fmt: skip
        now = schedule(plan)
        for scope, moved, left in (
            (Scope(resources={"bo"}), {"a", "c"}, "ada"),
            (Scope(begin=MONDAY + 20 * 1440), {"d", "e"}, "ada"),
            (Scope(end=MONDAY + 20 * 1440), {"a", "b", "c"}, "ada"),
            (Scope(tasks={"b"}), {"b"}, "ada"),
        ):
            found = level(now, within_float=False, scope=scope)
            self.assertTrue({m.task for m in found.moves} <= moved, scope)
            self.assertTrue(found.moves and left in {o.resource for o in found.overloads_after}, scope)


if __name__ == "__main__":
    unittest.main()
