"""The patched network gives the dates of one built anew; loops are refused and named; slips and reasons hold."""

from __future__ import annotations

import itertools
import random
import unittest

from msgspec.structs import replace

from hexapod.errors import HexapodError
from hexapod.plan.outline import outline_order
from hexapod.plan.plan import Plan
from hexapod.plan.records import Direction, Link, LinkType
from hexapod.plan.validity import check
from hexapod.schedule.all_reasons import all_reasons
from hexapod.schedule.before import NOTHING_BEFORE
from hexapod.schedule.engine import reschedule, schedule
from hexapod.schedule.holders import holders
from hexapod.schedule.passing import passed_again
from hexapod.schedule.reasons import ReasonKind, chain, reason_of
from hexapod.schedule.schedule import driving_links
from hexapod.schedule.shift import shift
from hexapod.schedule.slack import link_slacks
from hexapod.schedule.slip import slip
from hexapod.schedule.structure import LoopFound
from hexapod.schedule.telling import told
from hexapod.worktime.calendars import Window
from tests.budgets import deep_or
from tests.schedule.late_twin import disagreements
from tests.storm import random_step
from tests.support import DAY, MONDAY, project, random_plan, tasks

WINDOW = Window(MONDAY // 1440 - 400, MONDAY // 1440 + 500)


class Patching(unittest.TestCase):
    def test_a_storm_of_edits_gives_the_dates_of_a_fresh_start(self) -> None:
        rng = random.Random(22)
        applied = judged = 0
        kinds: set[ReasonKind] = set()
        plan = random_plan(rng, 25, calendars=2, summaries=True, resources=3, projects=2)
        found = schedule(plan)
        for step in range(900):
            made = random_step(rng, plan)
            if made is None:
                continue
            edit, after, changes = made
            try:
                changes = told(found, after, changes, MONDAY + 30_000)
                after = changes.applied_to(plan)
                check(after, changes)
                moved = reschedule(found, after, changes) if changes else found
            except HexapodError:
                continue
            applied += 1
            plan, before, found = after, found, moved
            if step % 3 == 0:
                fresh = schedule(plan)
                for task_id in plan.tasks:
                    self.assertEqual(found.dates(task_id), fresh.dates(task_id), (step, edit.words))
                    self.assertEqual(reason_of(found, task_id), reason_of(fresh, task_id))
                self.assertEqual(found.project_finish, fresh.project_finish)
                order = list(outline_order(plan))
                reasons = all_reasons(found, order)
                self.assertEqual(reasons, [reason_of(found, task_id) for task_id in order], (step, edit.words))
                kinds.update(reason.kind for reason in reasons)
                self._shift_is_the_difference(before, found, plan)
            if step % 25 == 0:
                differ = disagreements(plan, found, WINDOW)
                judged += differ is not None
                self.assertIn(differ, ([], None), (step, edit.words))
        self.assertGreater(applied, 500)
        self.assertGreater(len(kinds), 7, "not many kinds of reasons were compared")
        self.assertGreater(judged, 5, "not all of it outgrew the window of the twin")

    def test_what_is_placed_again_is_what_is_placed_from_nothing(self) -> None:
        """Over the part of a network that an edit touched; each edit starts from what the ones before it left."""
        again = whole = 0
        for seed in range(deep_or(12, 200)):
            rng = random.Random(seed)
            plan = random_plan(rng, 30, calendars=2, summaries=seed % 2 == 0, resources=2, projects=2, rich=True)
            found = schedule(plan)
            for step in range(150):
                made = random_step(rng, plan)
                if made is None or self._needs_all(made[1]) or not made[2]:
                    continue
                edit, plan_after, changes = made
                try:
                    patch = found.network.patched(plan_after, changes)
                    passed = passed_again(found, patch, NOTHING_BEFORE)
                    after = reschedule(found, plan_after, changes)
                    fresh = schedule(plan_after)
                except HexapodError:
                    continue
                again, whole = again + (passed is not None), whole + (passed is None)
                self._agree(after, fresh, plan_after, (seed, step, edit.words))
                plan, found = plan_after, after
        self.assertGreater(again, whole // 2)
        self.assertGreater(again, 150)

    @staticmethod
    def _needs_all(plan: Plan) -> bool:
        back = any(p.direction is Direction.BACKWARD for p in plan.projects.values())
        return back or any(t.as_late_as_possible for t in plan.tasks.values())

    def _agree(self, one, two, plan: Plan, where: object) -> None:  # type: ignore[no-untyped-def]
        for task_id in plan.tasks:
            self.assertEqual(one.dates(task_id), two.dates(task_id), (task_id, where))
            self.assertEqual(reason_of(one, task_id), reason_of(two, task_id), (task_id, where))
        self.assertEqual(one.project_finish, two.project_finish)
        slacks = link_slacks(one), link_slacks(two)
        drives = driving_links(one), driving_links(two)
        for key in plan.links:
            a, b = one.network.slots.of_link[key], two.network.slots.of_link[key]
            self.assertEqual((slacks[0][a], drives[0][a]), (slacks[1][b], drives[1][b]), (key, where))

    def _shift_is_the_difference(self, before, after, plan: Plan) -> None:  # type: ignore[no-untyped-def]
        told = set(shift(before, after).tasks())
        for task_id in plan.tasks:
            if before.has(task_id) and before.network.tasks.alive[before.slots[task_id]]:
                a, b = before.dates(task_id), after.dates(task_id)
                moved = (a.start, a.finish) != (b.start, b.finish)
                self.assertEqual(task_id in told, moved)


class Loops(unittest.TestCase):
    def loop(self, *records) -> list[str]:  # type: ignore[no-untyped-def]
        with self.assertRaises(LoopFound) as caught:
            schedule(Plan.of([project(), *records]))
        return caught.exception.tasks

    def test_the_tasks_on_a_loop_are_listed_in_order(self) -> None:
        chained = tasks(("a", 1), ("b", 1), ("c", 1), ("d", 1))
        links = [Link("a", "b"), Link("b", "c", LinkType.SS), Link("c", "a"), Link("d", "a")]
        self.assertEqual(self.loop(*chained, *links), ["a", "b", "c"])

    def test_a_loop_through_a_summary_is_one_too(self) -> None:
        s, a, b = tasks(("s", 0), ("a", 1), ("b", 1))
        found = self.loop(s, replace(a, parent="s"), b, Link("a", "b"), Link("b", "s"))
        self.assertEqual(set(found), {"s", "a", "b"})

    def test_random_graphs_are_loops_exactly_where_networkx_says_so(self) -> None:
        import networkx

        rng = random.Random(22)
        for _ in range(300):
            names = [f"t{i}" for i in range(7)]
            pairs = {tuple(rng.sample(names, 2)) for _ in range(rng.randrange(3, 9))}
            graph = networkx.DiGraph(sorted(pairs))
            plan = Plan.of([project(), *tasks(*((t, 1) for t in names)), *(Link(a, b) for a, b in sorted(pairs))])
            try:
                schedule(plan)
                self.assertTrue(networkx.is_directed_acyclic_graph(graph))
            except LoopFound as error:
                ring = [*error.tasks, error.tasks[0]]
                self.assertTrue(all(graph.has_edge(a, b) for a, b in itertools.pairwise(ring)))


class Slips(unittest.TestCase):
    def test_a_slip_is_what_typing_the_delay_would_do(self) -> None:
        rng = random.Random(23)
        for _ in range(60):
            plan = random_plan(rng, 15, calendars=1)
            found = schedule(plan)
            task_id = rng.choice(sorted(plan.tasks))
            delay = rng.randrange(1, 3000)
            told = slip(found, task_id, delay)
            draft = plan.draft()
            draft.put(replace(plan.tasks[task_id], hold=delay))
            after = schedule(draft.finish()[0])
            moved = [t for t in plan.tasks if t != task_id and found.dates(t)[:2] != after.dates(t)[:2]]
            self.assertEqual(told.finish_after, after.project_finish["p0"])
            self.assertEqual(told.tasks_moved, len(moved))
            if delay <= found.dates(task_id).total_float and plan.tasks[task_id].minutes:
                self.assertEqual(told.finish_moves, 0)


class Reasons(unittest.TestCase):
    def test_a_chain_leads_from_driver_to_driver_back_to_a_start(self) -> None:
        rng = random.Random(24)
        for _ in range(80):
            plan = random_plan(rng, 20, summaries=True)
            try:
                found = schedule(plan)
            except HexapodError:
                continue
            for task_id in plan.tasks:
                steps = chain(found, task_id)
                self.assertIn(steps[-1].kind, (ReasonKind.PROJECT_START,))
                for step, following in itertools.pairwise(steps):
                    expected = step.child or (step.link and step.link.predecessor) or step.task
                    self.assertEqual(following.task, expected)

    def test_taking_a_driving_link_away_lets_the_task_start_sooner(self) -> None:
        rng = random.Random(25)
        checked = 0
        for _ in range(80):
            plan = random_plan(rng, 12)
            found = schedule(plan)
            for task_id in plan.tasks:
                drivers = [h.link for h in holders(found, task_id) if h.link is not None and h.slack == 0]
                if len(drivers) != 1 or reason_of(found, task_id).kind is not ReasonKind.LINK:
                    continue
                draft = plan.draft()
                draft.remove("links", drivers[0].key)
                after = schedule(draft.finish()[0]).dates(task_id)
                bound = found.dates(task_id)
                self.assertLessEqual(after.early_start, bound.early_start)
                checked += after.early_start < bound.early_start
        self.assertGreater(checked, 100)

    def test_holds_and_limits_are_reasons(self) -> None:
        a, b = tasks(("a", DAY), ("b", DAY))
        found = schedule(Plan.of([project(), a, replace(b, hold=DAY), Link("a", "b")]))
        kinds = [step.kind for step in chain(found, "b")]
        self.assertEqual(kinds, [ReasonKind.HOLD, ReasonKind.LINK, ReasonKind.PROJECT_START])
