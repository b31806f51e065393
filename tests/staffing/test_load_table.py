"""The load grid's figures: rows that add up exactly, excess to the minute, and who could take some of it."""

from __future__ import annotations

import random
import unittest

import numpy as np
from msgspec.structs import replace

from hexapod.errors import CannotSchedule
from hexapod.plan.plan import Plan
from hexapod.plan.records import KINDS, Assignment, Resource, ResourceKind, Skill
from hexapod.schedule.engine import schedule
from hexapod.staffing.candidates import candidates
from hexapod.staffing.demand import Demand
from hexapod.staffing.load_table import LoadTable, groups, load_table
from hexapod.staffing.overloads import overloads
from hexapod.worktime.calendars import Window
from tests.staffing.checker import demand_by_minute
from tests.support import DAY, MONDAY, project, random_plan, tasks

WINDOW = Window(MONDAY // 1440 - 10, MONDAY // 1440 + 120)


def grouped(rng: random.Random, plan: Plan) -> Plan:
    """The same with roles, and capacities that change."""
    roles = [Resource(f"role{i}", f"Role {i}", f"Z{i}", ResourceKind.ROLE) for i in range(2)]
    records = [r for kind in KINDS for r in getattr(plan, kind).values() if not isinstance(r, Resource)]
    for resource in plan.resources.values():
        step = ((MONDAY // 1440 + rng.randrange(1, 12), rng.choice((0.5, 1.0, 3.0))),)
        records.append(
            replace(
                resource, role=rng.choice((None, "role0", "role1")), capacity_from=step if rng.random() < 0.5 else ()
            )
        )
    return Plan.of([*records, *roles])


class Tables(unittest.TestCase):
    def setUp(self) -> None:
        self.rng = random.Random(81)

    def table(self, plan: Plan, edges: np.ndarray, projects: set[str] | None = None) -> LoadTable:
        found = schedule(plan)
        demand = Demand.of(found, plan)
        return load_table(found, plan, demand, overloads(found, demand), edges, projects)

    def plans(self) -> list[Plan]:
        made = (random_plan(self.rng, 14, calendars=1, resources=4, lags=0, projects=2) for _ in range(15))
        return [grouped(self.rng, plan) for plan in made]

    def test_cells_are_a_count_of_every_minute_and_groups_are_the_sum_of_their_members(self) -> None:
        over = 0
        for plan in self.plans():
            edges = np.arange(WINDOW.begin, WINDOW.end + 1, 1440 * self.rng.choice((1, 7)))
            try:
                found = schedule(plan)
                table = self.table(plan, edges)
            except CannotSchedule:
                continue
            asked = demand_by_minute(plan, {t: found.dates(t)[:2] for t in plan.tasks}, WINDOW)
            rows = {row.resource: row for row in table.rows if row.resource}
            for resource, minutes in asked.items():
                if resource not in rows:
                    continue
                row = rows[resource]
                load, excess = np.zeros(len(edges) - 1), np.zeros(len(edges) - 1)
                for t, units in minutes.items():
                    p = int(np.searchsorted(edges, t, side="right")) - 1
                    if 0 <= p < len(load):
                        load[p] += units / 60
                        excess[p] += max(0.0, units - capacity_at(plan.resources[resource], t)) / 60
                np.testing.assert_allclose(row.load, load, atol=1e-6)
                np.testing.assert_allclose(row.excess, excess, atol=1e-6)
                over += int((excess > 0).sum())
            for row in table.rows:
                if row.resource is None:
                    for name in ("load", "capacity", "excess", "tasks"):
                        total = sum(getattr(rows[m], name) for m in row.members)
                        np.testing.assert_allclose(getattr(row, name), total)
        self.assertGreater(over, 20)

    def test_projects_apart_add_up_to_all_of_them_and_periods_to_longer_ones(self) -> None:
        for plan in self.plans():
            days = np.arange(WINDOW.begin, WINDOW.end + 1, 1440)
            try:
                whole = self.table(plan, days)
                parts = [self.table(plan, days, {p}) for p in plan.projects]
                weeks = self.table(plan, days[::7])
            except CannotSchedule:
                continue
            for i, row in enumerate(whole.rows):
                np.testing.assert_allclose(row.load, sum(part.rows[i].load for part in parts))
                fine, coarse = row.load, weeks.rows[i].load
                np.testing.assert_allclose(fine[: 7 * len(coarse)].reshape(-1, 7).sum(axis=1), coarse)
                np.testing.assert_allclose(
                    row.excess[: 7 * len(coarse)].reshape(-1, 7).sum(axis=1), weeks.rows[i].excess, atol=1e-6
                )

    def test_a_coarse_period_does_not_hide_what_is_too_much(self) -> None:
        a, b = tasks(("a", DAY), ("b", DAY))
        plan = Plan.of([project(), a, b, Resource("r", "R", "a0"), Assignment("a", "r"), Assignment("b", "r")])
        monday = MONDAY // 1440 * 1440
        row = self.table(plan, np.array([monday, monday + 7 * 1440])).rows[1]
        self.assertEqual((row.load[0], row.capacity[0], row.excess[0], row.tasks[0]), (16.0, 40.0, 8.0, 2))
        self.assertTrue(row.is_over(0))

    def test_groups_follow_roles_then_sections_then_kinds(self) -> None:
        plan = Plan.of([
            Resource("g", "Glass", "a0", ResourceKind.ROLE),
            Resource("a", "Ada", "a1", role="g"),
            Resource("b", "Bo", "a2", section="Night shift"),
            Resource("c", "Lift", "a3", ResourceKind.EQUIPMENT),
            Resource("d", "Sand", "a4", ResourceKind.MATERIAL),
            Resource("e", "Eli", "a5", role="g"),
        ])  # fmt: skip
        found = [(title, [r.id for r in members]) for title, members in groups(plan)]
        self.assertEqual(found, [("Glass", ["a", "e"]), ("Night shift", ["b"]), ("Equipment", ["c"])])


class Candidates(unittest.TestCase):
    def test_the_same_role_comes_before_another_and_before_a_skill_and_only_who_has_time(self) -> None:
        people = [
            Resource("glass", "Glass", "a0", ResourceKind.ROLE),
            Resource("ada", "Ada", "a1", role="glass", skills=(Skill("lead"),)),
            Resource("bo", "Bo", "a2", role="glass"),
            Resource("cy", "Cy", "a3", roles=("glass",), skills=(Skill("Lead"),)),
            Resource("di", "Di", "a4", skills=(Skill("lead"),)),
            Resource("ed", "Ed", "a5", role="glass"),
            Resource("lift", "Lift", "a6", ResourceKind.EQUIPMENT, skills=(Skill("lead"),)),
            Resource("fi", "Fi", "a7"),
        ]
        a, b, c = tasks(("a", 5 * DAY), ("b", 5 * DAY), ("c", 2 * DAY))
        work = [Assignment("a", "ada"), Assignment("b", "ed"), Assignment("c", "bo")]
        plan = Plan.of([project(), a, b, c, *people, *work])
        monday = MONDAY // 1440 * 1440
        found = candidates(schedule(plan), plan, "ada", monday, monday + 7 * 1440)
        self.assertEqual(
            [(x.resource, x.free / 60, x.rank) for x in found], [("bo", 24, 0), ("cy", 40, 1), ("di", 40, 2)]
        )
        self.assertEqual(found[1].skills, ("lead",))


def capacity_at(resource: Resource, minute: int) -> float:
    found = resource.capacity
    for day, capacity in resource.capacity_from:
        if minute >= day * 1440:
            found = capacity
    return found


if __name__ == "__main__":
    unittest.main()
