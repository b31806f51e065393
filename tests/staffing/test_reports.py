"""Reports: their figures add up to what the load says, and their sentences name the right people."""

from __future__ import annotations

import random
import unittest

import numpy as np

from hexapod.plan.plan import Plan
from hexapod.plan.records import Assignment, CalendarException, Project, Reservation, Resource, ResourceKind
from hexapod.schedule.engine import schedule
from hexapod.staffing.demand import Demand
from hexapod.staffing.load import capacity_by_period, load_by_period
from hexapod.staffing.overloads import overloads
from hexapod.staffing.reports import REPORTS, StaffFacts, assigned_and_reserved, over_and_free, roles_against_demand
from hexapod.worktime.clock import iso
from tests.support import DAY, MONDAY, project, random_plan, tasks

FIRST = MONDAY // 1440


def facts(plan: Plan, weeks: int) -> StaffFacts:
    found = schedule(plan)
    demand = Demand.of(found, plan)
    edges = (FIRST + 7 * np.arange(weeks + 1)) * 1440
    return StaffFacts(found, plan, demand, tuple(overloads(found, demand)), edges, iso, iso)


class Reports(unittest.TestCase):
    def test_the_rows_add_up_to_the_load_of_each_and_the_free_to_what_is_left(self) -> None:
        rng = random.Random(6)
        for _ in range(10):
            plan = random_plan(rng, 20, calendars=1, resources=4, projects=2)
            known = facts(plan, 30)
            report = assigned_and_reserved(known)
            told = {r.name: 0.0 for r in plan.resources.values()}
            for who, _, _, _, assigned, _ in report.rows:
                told[str(who)] += float(assigned)
            span = np.array([known.edges[0], known.edges[-1]])
            for r in plan.resources.values():
                load = load_by_period(known.schedule, plan, r.id, span)[0] / 6e7
                self.assertAlmostEqual(told[r.name], load, delta=0.06 * (len(report.rows) + 1))
            for who, _, there, planned, free, _ in over_and_free(known).rows:
                resource = next(r.id for r in plan.resources.values() if r.name == who)
                capacity = capacity_by_period(known.schedule, plan, resource, span)[0] / 6e7
                load = load_by_period(known.schedule, plan, resource, span)[0] / 6e7
                self.assertAlmostEqual(float(there), capacity, delta=0.1)
                self.assertAlmostEqual(float(planned), load, delta=0.1)
                self.assertAlmostEqual(float(free), max(0.0, capacity - load), delta=0.2)
            for report in (make(known) for make in REPORTS.values()):
                self.assertTrue(report.gist and all(len(row) == len(report.headings) for row in report.rows))

    def test_the_gist_names_who_and_what(self) -> None:
        people = [
            Resource("glass", "Glass", "a0", ResourceKind.ROLE),
            Resource("ada", "Ada", "a1", role="glass"),
            Resource("bo", "Bo", "a2", role="glass", leave=(CalendarException(FIRST + 1, FIRST + 1),)),
            Resource("cy", "Cy", "a3"),
        ]
        a, b, c = tasks(("a", 5 * DAY), ("b", 5 * DAY), ("c", 10 * DAY))
        other = Project("q", "Other", MONDAY, "b0")
        week = (FIRST, FIRST + 6)
        promised = [Reservation("x", "p", "ada", 0.75, *week), Reservation("y", "q", "ada", 0.5, *week)]
        work = [Assignment("a", "ada"), Assignment("b", "ada"), Assignment("c", "glass"), Assignment("c", "bo")]
        plan = Plan.of([project(), other, a, b, c, *people, *promised, *work])
        known = facts(plan, 2)
        over = over_and_free(known).gist
        self.assertTrue(over[0].startswith("The role Glass has 72 h too much"), over)
        self.assertTrue(over[1].startswith("Ada has 40 h too much"), over)
        self.assertIn("Nothing is planned for Cy.", over)
        self.assertTrue(any("Bo is away" in s and "“c”" in s for s in over), over)
        (promise,) = assigned_and_reserved(known).gist
        self.assertTrue(promise.startswith("Ada is promised for 50 h of 40 h in 2026-09-07"), promise)
        self.assertTrue(promise.endswith("to P and Other."), promise)
        short = roles_against_demand(known).gist
        self.assertTrue(short[0].startswith("Glass is"), short)
        quiet = Plan.of([project(), a, *people, Assignment("a", "ada")])
        self.assertEqual(over_and_free(facts(quiet, 2)).gist[0], "Nobody has too much.")


if __name__ == "__main__":
    unittest.main()
