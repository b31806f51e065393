"""Promises to projects, open seats on them, capacity against demand by role, and leave at the wrong moment."""

from __future__ import annotations

import random
import unittest

import numpy as np

from hexapod.formats.plan_json import read_plan, write_plan
from hexapod.plan import edits
from hexapod.plan.kinds import KINDS
from hexapod.plan.plan import Plan
from hexapod.plan.records import (
    Assignment,
    CalendarException,
    Link,
    Reservation,
    Resource,
    ResourceKind,
)
from hexapod.schedule.engine import schedule
from hexapod.staffing.away import interrupted
from hexapod.staffing.demand import Demand
from hexapod.staffing.grouping import Grouping, groups
from hexapod.staffing.load import load_by_period
from hexapod.staffing.load_table import load_table
from hexapod.staffing.overloads import overloads
from hexapod.staffing.reserved import Bookings, bounds_of
from hexapod.staffing.roles import remedies, role_table
from hexapod.staffing.seats import minutes_of, seat_of, seats, sitters, split
from hexapod.worktime.calendars import Window, compile_calendar
from tests.support import DAY, MONDAY, project, random_plan, tasks, told

FIRST = MONDAY // 1440  # the Monday that tests begin on
PEOPLE = [
    Resource("glass", "Glass", "a0", ResourceKind.ROLE),
    Resource("ada", "Ada", "a1", role="glass"),
    Resource("bo", "Bo", "a2", role="glass"),
    Resource("cy", "Cy", "a3", roles=("glass",)),
]


def weeks(count: int) -> np.ndarray:
    return (FIRST + 7 * np.arange(count + 1)) * 1440


class Reservations(unittest.TestCase):
    def test_a_promise_is_its_share_of_every_working_minute_between_its_days(self) -> None:
        rng = random.Random(3)
        for _ in range(12):
            plan = random_plan(rng, 10, calendars=2, resources=3, projects=2)
            records = [r for kind in KINDS for r in getattr(plan, kind).values()]
            promised = []
            for i in range(4):
                first = rng.choice((None, FIRST + rng.randrange(40)))
                last = rng.choice((None, (first or FIRST) + rng.randrange(30)))
                who, where = rng.choice(sorted(plan.resources)), rng.choice(sorted(plan.projects))
                promised.append(Reservation(f"v{i}", where, who, rng.choice((0.25, 1.0, 1.5)), first, last))
            plan = Plan.of([*records, *promised])
            found = schedule(plan)
            edges = weeks(20)
            table = Bookings.of(found, plan, Demand.of(found, plan), edges)
            expected = np.zeros_like(table.reserved, dtype=float)
            for r in promised:
                begin, end = bounds_of(found, plan, r)
                calendar = plan.resources[r.resource].calendar or "standard"
                works = compile_calendar(plan.calendars, calendar, Window(FIRST - 400, FIRST + 800))
                for p in range(20):
                    low, high = max(begin, edges[p]), min(end, edges[p + 1])
                    overlap = np.minimum(works.ends, high) - np.maximum(works.begins, low)
                    place = table.resources.index(r.resource), table.projects.index(r.project), p
                    expected[place] += r.units * np.maximum(0, overlap).sum()
            np.testing.assert_allclose(table.reserved / 1e6, expected, atol=0.01)
            for i, resource in enumerate(table.resources):
                np.testing.assert_array_equal(
                    table.assigned[i].sum(axis=0), load_by_period(found, plan, resource, edges)
                )
            self.assertEqual(write_plan(read_plan(write_plan(plan))), write_plan(plan))

    def test_a_seat_on_a_project_is_filled_in_part_and_from_a_later_month(self) -> None:
        seat = Reservation("seat", "p", "glass", 1.0, FIRST, FIRST + 27)
        (a,) = tasks(("a", 20 * DAY))
        plan = Plan.of([project(), a, *PEOPLE, seat, Reservation("x", "p", "bo", 0.5, FIRST, FIRST + 27)])
        found = schedule(plan)
        open_seat = seat_of(found, plan, ("", "seat"))
        self.assertEqual((open_seat.minutes, open_seat.task), (20 * DAY, None))
        ranked = [(s.resource, s.free / DAY, s.over / DAY, s.promised) for s in sitters(found, plan, open_seat, 1.0)]
        self.assertEqual(ranked[0], ("ada", 20.0, 0.0, ()))
        self.assertIn(("bo", 20.0, 0.0, ("p",)), ranked, "what the same project has of somebody is free for it")
        filled = edits.fill_project_seat(plan, "seat", "ada", 0.5, FIRST + 14).applied_to(plan)
        said = sorted(
            (r.resource, r.units, (r.first_day or 0) - FIRST, (r.last_day or 0) - FIRST)
            for r in filled.reservations.values()
        )
        self.assertEqual(
            said,
            [("ada", 0.5, 14, 27), ("bo", 0.5, 0, 27), ("glass", 0.5, 0, 13), ("glass", 0.5, 0, 27)],
        )
        gone = edits.remove_resource(filled, "ada").applied_to(filled)
        self.assertFalse([r for r in gone.reservations.values() if r.resource == "ada"])
        self.assertFalse(edits.remove_project(filled, "p").applied_to(filled).reservations)

    def test_no_work_of_a_seat_is_lost_however_it_is_parted(self) -> None:
        (a,) = tasks(("a", 20 * DAY))
        for seat in (
            Assignment("a", "glass", 2.0),
            Assignment("a", "glass", hours_a_day=4.0),
            Assignment("a", "glass", total=6 * DAY),
        ):
            plan = Plan.of([project(), a, *PEOPLE, seat])
            found = schedule(plan)
            open_seat = seats(found, plan)[0]
            for units in (open_seat.units, open_seat.units / 4):
                for begin in (None, (FIRST + 14) * 1440):
                    taken, rest = split(found, plan, open_seat, "ada", units, begin)
                    after = edits.fill_seat(plan, "glass", taken, rest).applied_to(plan)
                    shared = sum(minutes_of(found, after, w) for w in after.assignments.values())
                    if seat.total is None or begin is None:
                        self.assertAlmostEqual(shared, open_seat.minutes, delta=1.0)
                    self.assertEqual(begin is None or taken.first_day == FIRST + 14, True)

    def test_groups_by_team_and_section_hold_everybody_once(self) -> None:
        people = [
            Resource("t", "Team", "a0", ResourceKind.TEAM, section="North"),
            Resource("ada", "Ada", "a1", team="t"),
            Resource("bo", "Bo", "a2", section="North"),
            Resource("lift", "Lift", "a3", ResourceKind.EQUIPMENT),
        ]
        plan = Plan.of([project(), *people])
        said = {by: [(title, [m.id for m in members]) for title, members in groups(plan, by)] for by in Grouping}
        self.assertEqual(said[Grouping.TEAM], [("Team", ["t", "ada"]), ("People", ["bo"]), ("Equipment", ["lift"])])
        self.assertEqual(said[Grouping.SECTION], [("North", ["t", "bo"]), ("No section", ["ada", "lift"])])


class Roles(unittest.TestCase):
    def plan(self) -> Plan:
        a, b, c = tasks(("a", 10 * DAY), ("b", 5 * DAY), ("c", 15 * DAY))
        work = [Assignment("a", "ada"), Assignment("b", "bo"), Assignment("c", "glass", 1.0)]
        promised = [Reservation("x", "p", "bo", 1.0, FIRST, FIRST + 11)]
        return Plan.of([project(), a, b, c, *PEOPLE, *work, Link("b", "a"), *promised])

    def test_need_is_the_larger_of_promise_and_work_and_the_gap_can_be_closed(self) -> None:
        plan = self.plan()
        found = schedule(plan)
        demand = Demand.of(found, plan)
        table = role_table(found, plan, demand, weeks(3))
        (row,) = table.rows
        self.assertEqual(row.have.tolist(), [80.0, 80.0, 80.0])
        self.assertEqual(row.filled.sum(axis=0).tolist(), [40.0, 80.0, 40.0], "Bo is promised in week 2 as well")
        self.assertEqual(row.open.sum(axis=0).tolist(), [40.0, 40.0, 40.0])
        self.assertEqual([row.short(p) for p in range(3)], [0.0, 40.0, 0.0])
        ways = remedies(found, plan, demand, table, "glass", 1)
        self.assertEqual([(h.resource, h.free) for h in ways.helpers], [("cy", 40.0)])
        assert ways.hire is not None
        self.assertEqual((ways.hire.count, ways.hire.begin), (1, int(weeks(3)[1])))
        self.assertEqual(remedies(found, plan, demand, table, "glass", 0).hire, None)

    def test_what_waits_within_its_float_frees_what_a_new_schedule_says(self) -> None:
        a, b, c = tasks(("a", 5 * DAY), ("b", 5 * DAY), ("c", 20 * DAY))
        work = [Assignment("a", "ada"), Assignment("b", "ada"), Assignment("c", "bo")]
        plan = Plan.of([project(), a, b, c, *PEOPLE, *work, Assignment("c", "glass")])
        found = schedule(plan)
        demand = Demand.of(found, plan)
        table = role_table(found, plan, demand, weeks(5))
        ways = remedies(found, plan, demand, table, "glass", 0)
        self.assertEqual({(x.task, x.by, x.hours) for x in ways.later}, {("a", 15 * DAY, 40.0), ("b", 15 * DAY, 40.0)})

    def test_how_many_more_would_do_for_a_whole_stretch_of_short_months(self) -> None:
        (a,) = tasks(("a", DAY))
        months = [(FIRST, FIRST + 20, 3.0), (FIRST + 21, FIRST + 34, 5.0), (FIRST + 42, FIRST + 48, 4.0)]
        promised = [Reservation(f"v{i}", "p", "glass", n, b, e) for i, (b, e, n) in enumerate(months)]
        plan = Plan.of([project(), a, *PEOPLE, *promised])
        found = schedule(plan)
        demand = Demand.of(found, plan)
        table = role_table(found, plan, demand, weeks(8))
        (row,) = table.rows
        self.assertEqual([row.short(p) / 40 for p in range(8)], [1.0, 1.0, 1.0, 3.0, 3.0, -2.0, 2.0, -2.0])
        edges = weeks(8)
        for period, count, first, last in ((0, 3, 0, 5), (4, 3, 0, 5), (6, 2, 6, 7)):
            hire = remedies(found, plan, demand, table, "glass", period).hire
            assert hire is not None
            self.assertEqual((hire.count, hire.begin, hire.end), (count, int(edges[first]), int(edges[last])))
        self.assertIsNone(remedies(found, plan, demand, table, "glass", 5).hire)

    def test_seats_on_projects_stand_in_the_load_table_apart(self) -> None:
        seat = Reservation("seat", "p", "glass", 0.5, FIRST, FIRST + 6)
        (a,) = tasks(("a", 5 * DAY))
        plan = Plan.of([project(), a, *PEOPLE, seat, Assignment("a", "ada")])
        found = schedule(plan)
        demand = Demand.of(found, plan)
        table = load_table(found, plan, demand, overloads(found, demand), weeks(1))
        said = [(r.title, float(r.load[0]), float(r.reserved[0])) for r in table.rows[:3]]
        self.assertEqual(said, [("Glass", 40.0, 20.0), ("Open seats: Glass", 0.0, 20.0), ("Ada", 40.0, 0.0)])


class Leave(unittest.TestCase):
    def test_leave_in_the_midst_of_work_is_found_and_other_leave_is_not(self) -> None:
        weekly = "DTSTART:20260911T000000\nRRULE:FREQ=WEEKLY;COUNT=3"
        leave = (
            CalendarException(FIRST + 1, FIRST + 2),
            CalendarException(FIRST + 60, FIRST + 70),
            CalendarException(FIRST, FIRST, rule=weekly),
            CalendarException(FIRST + 5, FIRST + 5, working=((480, 720),)),
        )
        (a,) = tasks(("a", 5 * DAY))
        plan = Plan.of([project(), a, Resource("ada", "Ada", "a1", leave=leave), Assignment("a", "ada")])
        found = interrupted(schedule(plan), plan)
        self.assertEqual(
            [(i.first_day - FIRST, i.last_day - FIRST) for i in found], [(1, 2), (4, 4), (11, 11)][: len(found)]
        )
        self.assertGreaterEqual(len(found), 2)
        done = told(edits.set_percent(plan, ["a"], 100).applied_to(plan))
        self.assertEqual(interrupted(schedule(done), done), [])


if __name__ == "__main__":
    unittest.main()
