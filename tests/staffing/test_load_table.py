"""The load grid's figures: rows that add up exactly, excess to the minute, and who could take some of it."""

from __future__ import annotations

import random
import unittest

import numpy as np
from msgspec.structs import replace

from hexapod.errors import BadText, CannotSchedule
from hexapod.fields.assignment_text import format_assignments, parse_assignments
from hexapod.formats.plan_json import read_plan, write_plan
from hexapod.plan import edits
from hexapod.plan.changes import diff
from hexapod.plan.kinds import KINDS
from hexapod.plan.plan import Plan
from hexapod.plan.records import Assignment, Curve, Resource, ResourceKind, Skill
from hexapod.schedule.effort import effort_of
from hexapod.schedule.engine import reschedule, schedule
from hexapod.staffing.candidates import candidates
from hexapod.staffing.demand import Demand
from hexapod.staffing.grouping import groups
from hexapod.staffing.levelling.proposal import level
from hexapod.staffing.load import shares_in
from hexapod.staffing.load_table import LoadTable, load_table
from hexapod.staffing.overloads import overloads
from hexapod.staffing.seats import seats, sitters, split
from hexapod.worktime.calendars import Window
from tests.staffing.checker import capacity_at, demand_by_minute, overloaded_minutes
from tests.support import DAY, MONDAY, project, random_plan, tasks

WINDOW = Window(MONDAY // 1440 - 10, MONDAY // 1440 + 120)


def grouped(rng: random.Random, plan: Plan) -> Plan:
    """The same with roles, and capacities that change."""
    roles = [Resource(f"role{i}", f"Role {i}", f"Z{i}", ResourceKind.ROLE) for i in range(2)]
    records = [r for kind in KINDS for r in getattr(plan, kind).values() if not isinstance(r, Resource)]
    for resource in plan.resources_in_order():
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
                        excess[p] += max(0.0, units - capacity_at(plan, resource, t)) / 60
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

    def test_what_goes_to_another_project_goes_from_the_table_of_the_first(self) -> None:
        """With the same dates as before: nothing but the project of its load is another."""
        a, b = tasks(("a", DAY), ("b", DAY))
        two = [project(), replace(project(), id="q", name="Q", rank="b")]
        plan = Plan.of([*two, a, b, Resource("r", "R", "a0"), Assignment("a", "r"), Assignment("b", "r")])
        monday = MONDAY // 1440 * 1440
        edges, before = np.array([monday, monday + 7 * 1440]), schedule(plan)
        demand = Demand.of(before, plan)
        shown = load_table(before, plan, demand, overloads(before, demand), edges, {"p"})
        edit = edits.move_to(plan, ["b"], "q", None, None)
        moved = edit.applied_to(plan)
        after = reschedule(before, moved, diff(plan, moved))
        self.assertIs(demand, Demand.of(after, moved, demand))
        shown = load_table(after, moved, demand, overloads(after, demand), edges, {"p"}, before=shown)
        self.assertEqual(8.0, shown.rows[1].load[0])

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


class Assignments(unittest.TestCase):
    """Hours a day, hours in all, dates within the task and curves, against a count of every minute."""

    def varied(self, rng: random.Random, plan: Plan) -> Plan:
        records = [r for kind in KINDS for r in getattr(plan, kind).values() if not isinstance(r, Assignment)]
        day = MONDAY // 1440
        for a in sorted(plan.assignments.values(), key=lambda a: a.key):
            how = rng.choice(({}, {"hours_a_day": rng.choice((2.0, 6.5))}, {"total": rng.randrange(60, 4000)}))
            dates = rng.choice(
                ({}, {}, {"first_day": day + rng.randrange(6)}, {"last_day": day + rng.randrange(3, 12)})
            )
            records.append(replace(a, **how, **dates, curve=rng.choice(list(Curve))))
        return Plan.of(records)

    def test_loads_and_overloads_are_those_of_every_minute_and_effort_is_kept(self) -> None:
        rng = random.Random(82)
        over = kept = 0
        for _ in range(30):
            plan = self.varied(rng, random_plan(rng, 10, resources=3, lags=0))
            found = schedule(plan)
            demand = Demand.of(found, plan)
            told = overloads(found, demand)
            edges = np.arange(WINDOW.begin, WINDOW.end + 1, 1440)
            rows = {r.resource: r for r in load_table(found, plan, demand, told, edges).rows if r.resource}
            asked = demand_by_minute(plan, {t: found.dates(t)[:2] for t in plan.tasks}, WINDOW)
            for resource, minutes in asked.items():
                load = np.zeros(len(edges) - 1)
                for t, units in minutes.items():
                    load[(t - WINDOW.begin) // 1440] += units / 60
                np.testing.assert_allclose(rows[resource].load, load, atol=1 / 60, err_msg="to the minute")
                excess = sum(max(0.0, u - plan.resources[resource].capacity) for u in minutes.values())
                self.assertAlmostEqual(sum(o.excess for o in told if o.resource == resource), excess, delta=1.0)
                over += excess > 0
            for a in plan.assignments.values():
                if a.total is not None and (a.first_day, a.last_day) == (None, None) and plan.tasks[a.task].minutes:
                    mine = [s for s in shares_in(found, plan, a.resource, WINDOW.begin, WINDOW.end) if s.task == a.task]
                    self.assertAlmostEqual(mine[0].minutes, a.total, delta=1.0)
                    kept += 1
        self.assertGreater(over, 15)
        self.assertGreater(kept, 20)

    def test_what_is_levelled_with_them_exceeds_no_capacity(self) -> None:
        rng = random.Random(83)
        levelled = 0
        for _ in range(15):
            plan = random_plan(rng, 10, resources=3, lags=0)
            records = [r for kind in KINDS for r in getattr(plan, kind).values() if not isinstance(r, Assignment)]
            chosen = sorted(plan.assignments.values(), key=lambda a: a.key)
            records += [replace(a, units=0.5, curve=rng.choice(list(Curve))) for a in chosen]
            plan = Plan.of(records)
            found = level(schedule(plan), within_float=False)
            dates = {t: found.schedule.dates(t)[:2] for t in plan.tasks}
            self.assertFalse(any(overloaded_minutes(plan, dates, WINDOW).values()))
            levelled += bool(found.moves)
        self.assertGreater(levelled, 3)

    def test_they_are_typed_as_they_are_shown_and_go_through_plan_json(self) -> None:
        (a,) = tasks(("a", 5 * DAY))
        people = [Resource(r, r, f"a{i}", initials=r.upper()) for i, r in enumerate(("mo", "tb", "ct"))]
        plan = Plan.of([project(), a, *people, Assignment("a", "mo", first_day=20_000, curve=Curve.BACK)])
        text = "MO 3 h a day, TB 12.5 h in all, CT 50%"
        found = parse_assignments(plan, "a", text)
        plan = Plan.of([*(r for kind in KINDS for r in getattr(plan, kind).values()), *found])
        self.assertEqual(format_assignments(plan, "a"), text)
        self.assertEqual([effort_of(plan, x) / 60 for x in plan.assignments_of("a")], [15, 12.5, 20])
        self.assertEqual(plan.assignments[("a", "mo")].curve, Curve.BACK, "what the text does not say stays")
        self.assertEqual(read_plan(write_plan(plan)).assignments, plan.assignments)
        with self.assertRaisesRegex(BadText, "more than none"):
            parse_assignments(plan, "a", "MO 0 h a day")


class Seats(unittest.TestCase):
    def test_a_role_is_short_where_its_seats_and_members_ask_for_more_than_all_of_them_have(self) -> None:
        people = [
            Resource("glass", "Glass", "a0", ResourceKind.ROLE),
            Resource("ada", "Ada", "a1", role="glass"),
            Resource("bo", "Bo", "a2", role="glass", capacity=0.5),
        ]
        a, b = tasks(("a", 5 * DAY), ("b", 5 * DAY))
        monday = MONDAY // 1440 * 1440
        for units, short in ((0.5, 0.0), (1.0, 20.0)):
            work = [Assignment("a", "ada"), Assignment("b", "glass", units)]
            plan = Plan.of([project(), a, b, *people, *work])
            found = schedule(plan)
            demand = Demand.of(found, plan)
            told = overloads(found, demand)
            self.assertEqual(sum(o.excess for o in told) / 60, short)
            table = load_table(found, plan, demand, told, np.array([monday, monday + 7 * 1440]))
            group, seat = table.rows[:2]
            self.assertEqual((group.load[0], group.capacity[0], group.excess[0]), (40 + 40 * units, 60.0, short))
            self.assertEqual((seat.is_seat, seat.load[0], seat.is_over(0)), (True, 40 * units, False))
            self.assertEqual([(s.task, s.minutes / 60) for s in seats(found, plan)], [("b", 40 * units)])
            moved = level(found, within_float=False)
            self.assertEqual((len(moved.overloads_after), bool(moved.moves)), (0, short > 0))
        fitting = sitters(found, plan, seats(found, plan)[0], 0.5)
        self.assertEqual([(s.resource, s.over) for s in fitting], [("bo", 0.0), ("ada", 20 * 60.0)])
        taken, rest = split(found, plan, seats(found, plan)[0], "bo", 0.5)
        filled = edits.fill_seat(plan, "glass", taken, rest).applied_to(plan)
        self.assertEqual(
            {r: x.units for (_, r), x in filled.assignments.items()}, {"ada": 1.0, "glass": 0.5, "bo": 0.5}
        )


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


if __name__ == "__main__":
    unittest.main()
