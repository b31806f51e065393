"""Chains against networkx, ripples and shifted bars against rescheduling from scratch, planning back with limits."""

from __future__ import annotations

import random
import unittest

import networkx

from hexapod.control.ripple import ripple
from hexapod.errors import EditRefused
from hexapod.plan import edits
from hexapod.plan.plan import Plan
from hexapod.plan.records import Limit, LimitKind, Link, Task
from hexapod.schedule.chains import Chain, Reach, chain_of
from hexapod.schedule.engine import reschedule, schedule
from hexapod.schedule.planning_back import demanded_start
from hexapod.schedule.shifting import moved_to, stretched_from
from tests.support import DAY, MONDAY, at, project, random_plan, tasks, told


class Chains(unittest.TestCase):
    def test_before_and_after_are_ancestors_and_descendants(self) -> None:
        rng = random.Random(31)
        for _ in range(60):
            plan = random_plan(rng, 30, calendars=1)
            dates = schedule(plan)
            graph = networkx.DiGraph([(link.predecessor, link.successor) for link in plan.links.values()])
            graph.add_nodes_from(plan.tasks)
            task = rng.choice(sorted(plan.tasks))
            before, after = networkx.ancestors(graph, task), networkx.descendants(graph, task)
            self.assertEqual(chain_of(dates, Chain(task, Reach.BEFORE)), before | {task})
            self.assertEqual(chain_of(dates, Chain(task, Reach.AFTER)), after | {task})
            self.assertEqual(chain_of(dates, Chain(task)), before | after | {task})
            self.assertLessEqual(chain_of(dates, Chain(task, Reach.DRIVERS)), before | {task})

    def test_what_waits_for_a_summary_waits_for_its_parts(self) -> None:
        a, b, c = tasks(("a", DAY), ("b", DAY), ("c", DAY))
        plan = Plan.of([project(), Task("sum", "p", "sum", "z0"), Task("in", "p", "in", "a0", parent="sum"),
                        a, b, c, Link("a", "sum"), Link("sum", "b")])  # fmt: skip
        dates = schedule(plan)
        self.assertEqual(chain_of(dates, Chain("in")) - {"sum"}, {"a", "in", "b"})
        self.assertEqual(chain_of(dates, Chain("b", Reach.DRIVERS)) - {"sum"}, {"b", "in", "a"})


class Ripples(unittest.TestCase):
    def test_a_ripple_is_the_difference_of_two_schedules_from_scratch(self) -> None:
        rng = random.Random(32)
        for _ in range(60):
            plan = random_plan(rng, 30, summaries=True, projects=2, calendars=2)
            before = schedule(plan)
            leaves = [t for t in sorted(plan.tasks) if not plan.is_summary(t)]
            task = rng.choice(leaves)
            edit = edits.set_durations(plan, [task], plan.tasks[task].minutes + rng.choice((-240, 480, 2400)))
            draft = plan.draft()
            edit.change(draft)
            new, changes = draft.finish()
            if new.tasks[task].minutes < 0:
                continue
            found = ripple(before, reschedule(before, new, changes))
            old, fresh = schedule(plan), schedule(new)
            moved = {t for t in leaves if old.dates(t)[:2] != fresh.dates(t)[:2]}
            self.assertEqual({m.task for m in found.moved}, moved)
            for m in found.moved:
                self.assertEqual((m.start, m.finish), fresh.dates(m.task)[:2])
            critical = {t for t in leaves if fresh.dates(t).critical and not old.dates(t).critical}
            self.assertEqual(set(found.now_critical), critical)
            finishes = {f.project: (f.before, f.after) for f in found.finishes}
            for p in plan.projects:
                pair = (old.project_finish[p], fresh.project_finish[p])
                self.assertEqual(finishes.get(p, (pair[0], pair[0])), pair)


class Shifting(unittest.TestCase):
    def test_a_bar_dragged_later_starts_there_on_its_calendar(self) -> None:
        a, b = tasks(("a", DAY), ("b", DAY))
        plan = Plan.of([project(), a, b, Link("a", "b")])
        dates = schedule(plan)
        moved = moved_to(dates, "a", at("2026-09-12T10:00")).applied_to(plan)  # a Saturday
        self.assertEqual(moved.tasks["a"].limits[0].at, at("2026-09-14T08:00"))
        after = schedule(moved)
        self.assertEqual(after.dates("a").start, at("2026-09-14T08:00"))
        self.assertEqual(after.dates("b").start, at("2026-09-15T08:00"))
        early = moved_to(dates, "b", MONDAY).applied_to(plan)
        self.assertEqual(schedule(early).dates("b").start, dates.dates("b").start, "logic wins over a limit")

    def test_a_branch_moves_by_as_much_and_keeps_its_shape(self) -> None:
        rng = random.Random(33)
        for _ in range(60):
            plan = random_plan(rng, 24, summaries=True)
            dates = schedule(plan)
            summaries = [t for t in sorted(plan.tasks) if plan.is_summary(t) and plan.tasks[t].parent is None]
            if not summaries:
                continue
            task = rng.choice(summaries)
            to = dates.dates(task).start + 14 * 1440
            after = schedule(moved_to(dates, task, to).applied_to(plan))
            self.assertGreaterEqual(after.dates(task).start, dates.dates(task).start)
            by = {after.dates(t).start - dates.dates(t).start for t in plan.branch(task) if not plan.is_summary(t)}
            self.assertGreaterEqual(min(by), 0)
            self.assertIn(14 * 1440, by, "what nothing in the branch holds moves by two weeks")

    def test_what_is_done_stays(self) -> None:
        a, b = tasks(("a", DAY), ("b", DAY))
        plan = told(edits.set_percent(Plan.of([project(), a, b]), ["a"], 100).applied_to(Plan.of([project(), a, b])))
        with self.assertRaisesRegex(EditRefused, "is done"):
            moved_to(schedule(plan), "a", MONDAY + 10_000)

    def test_the_left_end_moves_the_start_and_leaves_the_finish(self) -> None:
        (a,) = tasks(("a", 4 * DAY))
        plan = Plan.of([project(), a])
        edit, duration = stretched_from(schedule(plan), "a", at("2026-09-09T08:00"))
        after = schedule(edit.applied_to(plan)).dates("a")
        self.assertEqual((duration, after.finish), (2 * DAY, schedule(plan).dates("a").finish))
        with self.assertRaisesRegex(EditRefused, "end before"):
            stretched_from(schedule(plan), "a", at("2026-09-21T08:00"))


class Progress(unittest.TestCase):
    def test_summaries_are_done_by_the_durations_below_them(self) -> None:
        rng = random.Random(34)
        for _ in range(60):
            plan = random_plan(rng, 30, summaries=True)
            draft = plan.draft()
            for t in sorted(plan.tasks):
                draft.put(_with_percent(plan.tasks[t], rng.choice((0.0, 25.0, 100.0))))
            plan = draft.finish()[0]
            dates = schedule(plan)
            for t in plan.tasks:
                leaves = [x for x in plan.branch(t) if not plan.is_summary(x)]
                whole = sum(plan.tasks[x].minutes for x in leaves)
                if plan.is_summary(t) and whole:
                    wanted = sum(plan.tasks[x].minutes * plan.tasks[x].percent for x in leaves) / whole
                    self.assertAlmostEqual(dates.network.percents[dates.slots[t]], wanted, delta=0.01)


def _with_percent(task: Task, percent: float) -> Task:
    from msgspec.structs import replace

    return replace(task, percent=percent)


class Back(unittest.TestCase):
    def test_other_dates_before_the_milestone_are_kept_where_they_are_asked_for(self) -> None:
        a, b, c = tasks(("a", DAY), ("b", DAY), ("c", 0))
        by = at("2026-09-08T17:00")
        limited = _with_limit(a, Limit(LimitKind.FINISH_NO_LATER, by))
        plan = Plan.of([project(), limited, b, c, Link("a", "b"), Link("b", "c")])
        when = at("2026-09-30T17:00")
        free = {x.task: x.finish for x in demanded_start(schedule(plan), "c", when).chain}
        bound = {x.task: x.finish for x in demanded_start(schedule(plan), "c", when, with_limits=True).chain}
        self.assertEqual(free["a"], at("2026-09-29T17:00"))
        self.assertEqual(bound["a"], by)
        self.assertEqual(bound["b"], free["b"])


def _with_limit(task: Task, limit: Limit) -> Task:
    from msgspec.structs import replace

    return replace(task, limits=(limit,))


if __name__ == "__main__":
    unittest.main()
