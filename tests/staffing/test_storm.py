"""After any edits at all, what the views of the staff count agrees with each other and with a count from nothing."""

from __future__ import annotations

import contextlib
import random
import tempfile
import unittest
from collections import Counter
from pathlib import Path

import numpy as np
from msgspec.structs import replace

from hexapod.desktop.models.load import Load
from hexapod.errors import HexapodError
from hexapod.formats.plan_json import read_plan, write_plan
from hexapod.formats.pool_table import Outcome, pool_rows, propose
from hexapod.plan import edits
from hexapod.plan.edits import Edit
from hexapod.plan.plan import Plan
from hexapod.plan.ranks import ranks_between
from hexapod.plan.records import Assignment, Held, Resource, ResourceKind
from hexapod.plan.validity import check_whole
from hexapod.schedule.engine import schedule
from hexapod.schedule.schedule import Schedule
from hexapod.session import Session
from hexapod.staffing.board import lanes
from hexapod.staffing.candidates import candidates
from hexapod.staffing.capacity import PARTS
from hexapod.staffing.demand import Demand
from hexapod.staffing.guard import breaches
from hexapod.staffing.holding import effort_of_task, keep, rate_of_task, set_effort
from hexapod.staffing.levelling.proposal import level
from hexapod.staffing.load import cells_of, load_by_period, shares_in, shares_of
from hexapod.staffing.load_table import load_table
from hexapod.staffing.overloads import overloads
from hexapod.staffing.reports import REPORTS, StaffFacts
from hexapod.staffing.reserved import Bookings
from hexapod.staffing.roles import members_of, remedies, role_table
from hexapod.staffing.seats import seats, sitters, split
from tests.storm import random_edit
from tests.support import MONDAY, random_plan

FIRST = MONDAY // 1440
EDGES = (FIRST - 14 + 7 * np.arange(40)) * 1440


class Storm(unittest.TestCase):
    def setUp(self) -> None:
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.folder = Path(folder.name)

    def storms(self, count: int, steps: int):  # type: ignore[no-untyped-def]
        """Sessions after some random edits each, with the generator of the next."""
        for seed in range(count):
            rng = random.Random(1000 + seed)
            session = Session.create(self.folder / f"{seed}.hexapod")
            plan = random_plan(rng, 16, calendars=2, summaries=True, resources=4, projects=2)
            session.apply(edits.to_plan("Begin", Plan(), plan))
            session.compute()
            self.staff(rng, session)
            for _ in range(steps):
                try:
                    session.apply(random_edit(rng, session.plan))
                except HexapodError:
                    continue
            yield rng, session
            session.close()

    def staff(self, rng: random.Random, session: Session) -> None:
        """Two roles with members, open seats of them, and tasks that keep their effort."""
        (rank,) = ranks_between(session.plan.resources_in_order()[-1].rank, None, 1)
        for i in range(2):
            session.apply(edits.save_resource(session.plan, Resource(f"role{i}", f"Role {i}", rank, ResourceKind.ROLE)))
        for resource in session.plan.resources_in_order()[:4]:
            if resource.kind is not ResourceKind.ROLE:
                role = rng.choice(("role0", "role1"))
                session.apply(edits.save_resource(session.plan, replace(resource, role=role)))
        leaves = sorted(
            t for t in session.plan.tasks if not session.plan.is_summary(t) and session.plan.tasks[t].minutes
        )
        for task in rng.sample(leaves, 4):
            session.apply(edits.assign(session.plan, [task], rng.choice(("role0", "role1")), rng.choice((0.5, 2.0))))
        for task in leaves:
            if session.plan.assigned.get(task) and rng.random() < 0.7:
                session.apply(keep(session.plan, task, Held.EFFORT))

    def counted(self, now: Schedule, plan: Plan) -> None:
        """Each view's figures against the others'."""
        demand = Demand.of(now, plan)
        over = overloads(now, demand)
        table = load_table(now, plan, demand, over, EDGES)
        booked = Bookings.of(now, plan, demand, EDGES)
        index = {r: i for i, r in enumerate(demand.resources)}
        for row in table.rows:
            if row.resource is None:
                continue
            load = load_by_period(now, plan, row.resource, EDGES)
            np.testing.assert_allclose(row.load, load / (60 * PARTS), atol=1e-9)
            np.testing.assert_array_equal(booked.assigned[index[row.resource]].sum(axis=0), load)
            np.testing.assert_allclose(
                row.reserved, booked.reserved[index[row.resource]].sum(axis=0) / (60 * PARTS), atol=1e-9
            )
        for group in (r for r in table.rows if r.resource is None):
            inside = [r for r in table.rows if r.resource is not None and r.resource in group.members]
            np.testing.assert_allclose(group.load, np.sum([r.load for r in inside], axis=0), atol=1e-9)
            self._asked_together(now, plan, demand, [r.resource for r in inside])
        for lane in lanes(now, plan, demand, list(plan.resources)):
            shown = {p.task for p in lane.pieces}
            asked = {s.task for s in shares_in(now, plan, lane.resource, int(EDGES[0]), int(EDGES[-1]) + 10**7)}
            self.assertLessEqual(asked, shown)
            for piece in lane.pieces[:4]:
                cells = cells_of(now, demand, piece.task, EDGES).get(lane.resource, frozenset())
                for p in cells:
                    self.assertTrue(piece.begin < EDGES[p + 1] and piece.end > EDGES[p])

    def _asked_together(self, now: Schedule, plan: Plan, demand: Demand, members: list[str]) -> None:
        """What several resources are asked for is the sum of what each is, whether or not the demand is known."""
        begin, end = int(EDGES[2]), int(EDGES[5])
        each: Counter[str] = Counter()
        for resource in members:
            each.update({s.task: s.minutes for s in shares_in(now, plan, resource, begin, end)})
            self.assertEqual(
                candidates(now, plan, resource, begin, end), candidates(now, plan, resource, begin, end, demand)
            )
        of_other_slots = Demand.of(schedule(plan), plan)  # it must not be used
        for known in (None, demand, of_other_slots):
            together = {s.task: s.minutes for s in shares_of(now, plan, members, begin, end, known)}
            self.assertEqual(together.keys(), each.keys())
            for task, minutes in together.items():
                self.assertAlmostEqual(minutes, each[task])
        whole, some = Bookings.of(now, plan, demand, EDGES), Bookings.of(now, plan, demand, EDGES, members)
        at = [whole.resources.index(r) for r in some.resources]
        np.testing.assert_array_equal(whole.assigned[at], some.assigned)
        np.testing.assert_array_equal(whole.reserved[at], some.reserved)

    def test_every_view_counts_the_same(self) -> None:
        for rng, session in self.storms(8, 60):
            self.counted(session.schedule, session.plan)
            self.assertEqual(breaches(session.schedule, session.schedule), ())
            facts = StaffFacts(
                session.schedule, session.plan, Demand.of(session.schedule, session.plan), (), EDGES, str, str
            )
            for make in REPORTS.values():
                self.assertTrue(make(facts).gist)
            proposal = level(session.schedule, within_float=rng.random() < 0.5)
            self.counted(proposal.schedule, proposal.schedule.network.plan)  # type: ignore[union-attr]

    def test_what_is_used_again_after_an_edit_is_what_a_count_from_nothing_finds(self) -> None:
        for rng, session in self.storms(6, 30):
            load = Load(session.schedule, session.plan, None).counted()
            table = load_table(session.schedule, session.plan, load.demand, load.overloads, EDGES)
            some = set(rng.sample(sorted(session.plan.projects), 1))
            part = load_table(session.schedule, session.plan, load.demand, load.overloads, EDGES, some)
            for _ in range(25):
                try:
                    if session.apply(random_edit(rng, session.plan)) is None:
                        continue
                except HexapodError:
                    continue
                load = Load(session.schedule, session.plan, load)
                fresh = Load(session.schedule, session.plan, None)
                self.assertEqual(load.overloads, fresh.overloads)
                table = load_table(session.schedule, session.plan, load.demand, load.overloads, EDGES, before=table)
                again = load_table(session.schedule, session.plan, fresh.demand, fresh.overloads, EDGES)
                part = load_table(session.schedule, session.plan, load.demand, load.overloads, EDGES, some, before=part)
                part_again = load_table(session.schedule, session.plan, fresh.demand, fresh.overloads, EDGES, some)
                self.assertEqual([r.title for r in table.rows], [r.title for r in again.rows])
                pairs = zip((*table.rows, *part.rows), (*again.rows, *part_again.rows), strict=True)
                for kept, counted in pairs:
                    for name in ("load", "capacity", "excess", "tasks", "reserved"):
                        np.testing.assert_array_equal(getattr(kept, name), getattr(counted, name), kept.title)

    def test_the_file_and_plan_json_bring_everything_back(self) -> None:
        for _, session in self.storms(6, 60):
            check_whole(session.plan)
            text = write_plan(session.plan)
            self.assertEqual(write_plan(read_plan(text)), text)
            path, plan = session.workspace.path, session.plan
            copy = path.with_stem(path.stem + " copy")
            session.workspace.save_copy(copy)
            again = Session.open(copy)
            self.assertEqual(again.plan, plan)
            again.compute()
            for task in plan.tasks:
                self.assertEqual(again.schedule.dates(task), session.schedule.dates(task))
            again.close()

    def test_the_pool_goes_out_to_a_table_and_comes_back_as_it_is(self) -> None:
        for _, session in self.storms(5, 60):
            plan = session.plan
            if len({r.name.casefold() for r in plan.resources.values()}) < len(plan.resources):
                continue  # two of a name cannot be told apart
            heads, *rows = pool_rows(plan)
            names = ["name", "initials", "kind", "role", "roles", "team", "section", "capacity"]
            said = [
                (i, {n: str(c) for n, c in zip(names, row, strict=False) if c is not None})
                for i, row in enumerate(rows)
            ]
            self.assertEqual(len(heads), len(rows[0]))
            found = propose(plan, said, "")
            self.assertEqual(found.count(Outcome.LEFT_OUT), 0, [r for r in found.rows if r.trouble])
            changed = [r for r in found.rows if r.outcome is Outcome.CHANGE]
            self.assertTrue(all(not plan.resources_in_order()[r.row].initials for r in changed), "only by new initials")

    def test_a_seat_of_any_plan_can_be_filled_without_losing_work(self) -> None:
        filled = 0
        for _, session in self.storms(8, 60):
            now, plan = session.schedule, session.plan
            for seat in [s for s in seats(now, plan) if s.minutes][:4]:
                for sitter in sitters(now, plan, seat, seat.units)[:2]:
                    self.assertGreaterEqual(sitter.free, 0)
                    self.assertLessEqual(sitter.over, seat.minutes + 1)
                    if seat.task is None:
                        edit = edits.fill_project_seat(plan, seat.key[1], sitter.resource, seat.units)
                    else:
                        edit = edits.fill_seat(plan, seat.role, *split(now, plan, seat, sitter.resource, seat.units))
                    check_whole(edit.applied_to(plan))
                    filled += 1
        self.assertGreater(filled, 0)

    def test_roles_have_what_their_members_have_and_a_gap_has_remedies(self) -> None:
        gaps = 0
        for _, session in self.storms(8, 70):
            now, plan = session.schedule, session.plan
            demand = Demand.of(now, plan)
            table = role_table(now, plan, demand, EDGES)
            roles = {r.id for r in plan.resources.values() if r.kind is ResourceKind.ROLE and members_of(plan, r.id)}
            self.assertLessEqual(roles, {row.role for row in table.rows})
            for row in table.rows:
                worst = max(range(len(row.have)), key=row.short)
                found = remedies(now, plan, demand, table, row.role, worst)
                self.assertEqual(found.short > 0, row.short(worst) > 1e-9)
                gaps += found.short > 0
                for later in found.later:
                    self.assertGreater(later.hours, 0)
                    self.assertGreaterEqual(now.dates(later.task).total_float, later.by)
        self.assertGreater(gaps, 0)

    def work(self, rng: random.Random, plan: Plan) -> Edit:
        """Something about how long a task takes and who is on it."""
        task = rng.choice(sorted(t for t in plan.tasks if not plan.is_summary(t)))
        who, present = rng.choice(sorted(plan.resources)), [a.resource for a in plan.assignments_of(task)]
        share = rng.choice(({"units": 0.5}, {"units": 2.0}, {"hours_a_day": 3.0}, {"total": rng.randrange(60, 900)}))
        choices = [
            lambda: edits.set_durations(plan, [task], rng.randrange(1, 5000)),
            lambda: edits.assign(plan, [task], who, rng.choice((0.25, 1.0))),
            lambda: edits.set_assignments(plan, task, [Assignment(task, who, **share)]),
            lambda: edits.split_task(plan, task, rng.randrange(1, 3000), f"s{rng.randrange(10**9)}"),
            lambda: keep(plan, task, rng.choice(list(Held))),
            lambda: set_effort(plan, task, rng.randrange(1, 9000)),
        ]
        if present:
            choices += [
                lambda: edits.unassign(plan, task, rng.choice(present)),
                lambda: edits.hand_over(plan, task, rng.choice(present), who),
            ]
        return rng.choice(choices)()

    def test_a_kept_effort_is_never_lost_whatever_is_edited(self) -> None:
        kept = 0
        for rng, session in self.storms(8, 0):
            for _ in range(90):
                with contextlib.suppress(HexapodError):
                    session.apply(self.work(rng, session.plan))
            for task in session.plan.tasks.values():
                people = session.plan.assignments_of(task.id)
                if task.keeps is not Held.EFFORT or task.effort is None or not people:
                    continue
                by_rate = task.effort - sum(a.total or 0 for a in people)
                if session.plan.is_summary(task.id) or by_rate <= 0 or not rate_of_task(session.plan, people):
                    continue
                kept += 1
                by_people = effort_of_task(session.plan, task.id)
                least = 0.002 * task.minutes * len(people)  # no share is smaller than a thousandth
                minute = rate_of_task(session.plan, people)  # a duration is whole minutes
                self.assertAlmostEqual(by_people, task.effort, delta=2 + least + minute, msg=task)
        self.assertGreater(kept, 0)


if __name__ == "__main__":
    unittest.main()
