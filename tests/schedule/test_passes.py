"""Both passes against slow twins and against the outside: networkx, a linear program, published figures."""

from __future__ import annotations

import itertools
import random
import unittest

import networkx
import numpy as np
from msgspec.structs import replace
from scipy.optimize import linprog

from hexapod.errors import CannotSchedule
from hexapod.plan.plan import Plan
from hexapod.plan.records import Calendar, Limit, LimitKind, Link, LinkType, Project, Task, TaskKind
from hexapod.schedule.engine import schedule
from hexapod.worktime.calendars import Window
from tests.schedule.twin import SlowSchedule
from tests.support import DAY, MONDAY, at, project, random_plan, tasks

WINDOW = Window(MONDAY // 1440 - 20, MONDAY // 1440 + 100)
MOST = 3000


class AgainstTheTwin(unittest.TestCase):
    def test_early_dates_and_floats_with_calendars_lags_and_all_links(self) -> None:
        rng = random.Random(11)
        for round_ in range(12):
            plan = random_plan(rng, rng.randrange(2, 9), calendars=rng.choice((0, 2)), projects=rng.choice((1, 2)))
            draft = plan.draft()
            for task in rng.sample([plan.tasks[t] for t in sorted(plan.tasks) if plan.tasks[t].minutes], 1):
                kind = rng.choice((LimitKind.START_NO_EARLIER, LimitKind.FINISH_NO_EARLIER))
                draft.put(replace(task, limits=(Limit(kind, MONDAY + rng.randrange(9000)),)))
            plan = draft.finish()[0]
            slow, fast = SlowSchedule(plan, WINDOW), schedule(plan)
            for task_id in slow.leaves:
                found, where = fast.dates(task_id), (round_, task_id)
                self.assertEqual(found.early_start, slow.start[task_id], where)
                self.assertEqual(found.early_finish, slow.finish[task_id], where)
                if plan.tasks[task_id].minutes:
                    self.assertEqual(min(found.total_float, MOST), slow.total_float(task_id, MOST), where)
                    self.assertEqual(min(found.free_float, MOST), slow.free_float(task_id, MOST), where)

    def test_crews_spans_elapsed_work_and_lags_of_every_kind(self) -> None:
        rng = random.Random(31)
        judged = 0
        for round_ in range(8):
            size, projects = rng.randrange(2, 7), rng.choice((1, 2))
            plan = random_plan(rng, size, calendars=3, projects=projects, resources=3, rich=True, own_hours=True)
            try:
                fast, slow = schedule(plan), SlowSchedule(plan, WINDOW)
                floats = {t: (slow.total_float(t, MOST), slow.free_float(t, MOST)) for t in self._with_float(plan)}
            except (CannotSchedule, IndexError):
                continue  # calendars that never or hardly meet
            judged += 1
            for task_id in slow.leaves:
                found, where = fast.dates(task_id), (round_, task_id)
                self.assertEqual((found.start, found.finish), (slow.start[task_id], slow.finish[task_id]), where)
                if task_id in floats and len(slow.crew(plan.tasks[task_id])) == 1:
                    self.assertEqual(
                        (min(found.total_float, MOST), min(found.free_float, MOST)), floats[task_id], where
                    )
                if plan.tasks[task_id].kind is TaskKind.SPAN:
                    self.assertFalse(found.critical or found.longest_path)
        self.assertGreater(judged, 3)

    @staticmethod
    def _with_float(plan: Plan) -> list[str]:
        return [t.id for t in plan.tasks.values() if t.minutes and t.kind is not TaskKind.SPAN]

    def test_as_late_as_possible_moves_nobody(self) -> None:
        rng = random.Random(32)
        for round_ in range(15):
            plan = random_plan(rng, rng.randrange(2, 7), calendars=rng.choice((0, 2)), milestones=0.0)
            draft = plan.draft()
            for task in rng.sample([plan.tasks[t] for t in sorted(plan.tasks)], 2):
                draft.put(replace(task, as_late_as_possible=True))
            late = draft.finish()[0]
            slow = SlowSchedule(late, WINDOW)
            start, finish = slow.as_late_as_possible(5000)
            fast = schedule(late)
            for task_id in slow.leaves:
                found = fast.dates(task_id)
                self.assertEqual((found.start, found.finish), (start[task_id], finish[task_id]), (round_, task_id))

    def test_holds_delay_as_the_twin_does(self) -> None:
        rng = random.Random(12)
        for _ in range(8):
            plan = random_plan(rng, 8, calendars=1)
            draft = plan.draft()
            for task in rng.sample([plan.tasks[t] for t in sorted(plan.tasks)], 3):
                draft.put(replace(task, hold=rng.randrange(1, 900)))
            plan = draft.finish()[0]
            slow, fast = SlowSchedule(plan, WINDOW), schedule(plan)
            for task_id in slow.leaves:
                self.assertEqual(fast.dates(task_id).early_start, slow.start[task_id])
                if plan.tasks[task_id].minutes:
                    self.assertEqual(min(fast.dates(task_id).total_float, MOST), slow.total_float(task_id, MOST))


class AgainstNetworkx(unittest.TestCase):
    """Round the clock a finish-to-start plan is a longest-path problem; networkx solves those."""

    def test_early_dates_floats_and_critical_tasks_of_two_thousand_plans(self) -> None:
        rng = random.Random(13)
        for _ in range(2000):
            plan = self._round_the_clock(random_plan(rng, rng.randrange(2, 16), types="FS", lags=0))
            fast = schedule(plan)
            graph = networkx.DiGraph()
            graph.add_nodes_from(plan.tasks)
            for link in plan.links.values():
                graph.add_edge(link.predecessor, link.successor, weight=plan.tasks[link.predecessor].minutes)
            for task_id in plan.tasks:
                graph.add_edge("begin", task_id, weight=0)
                graph.add_edge(task_id, "end", weight=plan.tasks[task_id].minutes)
            total = networkx.dag_longest_path_length(graph)
            self.assertEqual(fast.project_finish["p0"], plan.projects["p0"].start + total)
            before = self._longest_from(graph, "begin")
            after = self._longest_from(graph.reverse(), "end")
            for task_id in plan.tasks:
                found = fast.dates(task_id)
                self.assertEqual(found.early_start - plan.projects["p0"].start, before[task_id])
                self.assertEqual(found.total_float, total - before[task_id] - after[task_id])
                self.assertEqual(found.critical, found.total_float == 0)
                self.assertEqual(found.critical, found.longest_path)

    @staticmethod
    def _round_the_clock(plan: Plan) -> Plan:
        draft = plan.draft()
        draft.put(replace(plan.projects["p0"], calendar="always"))
        return draft.finish()[0]

    @staticmethod
    def _longest_from(graph: networkx.DiGraph, source: str) -> dict[str, int]:
        far = dict.fromkeys(graph, 0)
        for node in networkx.topological_sort(graph):
            for _, following, data in graph.out_edges(node, data=True):
                far[following] = max(far[following], far[node] + data["weight"])
        return far


class AgainstALinearProgram(unittest.TestCase):
    """Early starts are the least, late starts the greatest solution of the links' inequalities."""

    def test_all_link_types_with_lags_and_limits(self) -> None:
        rng = random.Random(14)
        for _ in range(60):
            plan = random_plan(rng, 12, milestones=0.0)
            draft = plan.draft()
            base = plan.projects["p0"]
            draft.put(replace(base, calendar="always"))
            limited = rng.choice(list(plan.tasks.values()))
            draft.put(replace(limited, limits=(Limit(LimitKind.START_NO_EARLIER, base.start + rng.randrange(3000)),)))
            plan = draft.finish()[0]
            fast = schedule(plan)
            ids = list(plan.tasks)
            rows, bounds = self._inequalities(plan, ids)
            least = linprog(np.ones(len(ids)), *rows, bounds=bounds).x
            end = fast.project_finish["p0"] - base.start
            bounds = [(low, end - plan.tasks[t].minutes) for (low, _), t in zip(bounds, ids, strict=True)]
            greatest = linprog(-np.ones(len(ids)), *rows, bounds=bounds).x
            for i, task_id in enumerate(ids):
                found = fast.dates(task_id)
                self.assertAlmostEqual(found.early_start - base.start, least[i], places=4)
                self.assertAlmostEqual(found.late_start - base.start, greatest[i], places=4)
                self.assertAlmostEqual(found.total_float, greatest[i] - least[i], places=4)

    @staticmethod
    def _inequalities(plan: Plan, ids: list[str]) -> tuple[tuple[np.ndarray, np.ndarray], list[tuple[float, None]]]:
        matrix, right = [], []
        for link in plan.links.values():
            row = np.zeros(len(ids))
            row[ids.index(link.predecessor)] += 1
            row[ids.index(link.successor)] -= 1
            before = plan.tasks[link.predecessor].minutes if link.type.value[0] == "F" else 0
            after = plan.tasks[link.successor].minutes if link.type.value[1] == "F" else 0
            matrix.append(row)
            right.append(after - before - link.lag)
        start = plan.projects["p0"].start
        bounds = [(max([0, *(limit.at - start for limit in plan.tasks[t].limits)]), None) for t in ids]
        empty = (np.zeros((0, len(ids))), np.zeros(0))
        return (np.array(matrix), np.array(right)) if matrix else empty, bounds


class NegativeFloat(unittest.TestCase):
    """Late dates under limits that cannot be kept: the greatest solution of the backward inequalities."""

    def test_against_a_linear_program(self) -> None:
        rng = random.Random(15)
        negative = 0
        for _ in range(40):
            plan = random_plan(rng, 10, milestones=0.0)
            draft = plan.draft()
            base = plan.projects["p0"]
            draft.put(replace(base, calendar="always"))
            until: dict[str, int] = {}
            for task_id in rng.sample(sorted(plan.tasks), 2):
                until[task_id] = base.start + rng.randrange(1500)
                draft.put(replace(plan.tasks[task_id], limits=(Limit(LimitKind.FINISH_NO_LATER, until[task_id]),)))
            plan = draft.finish()[0]
            fast, ids = schedule(plan), list(plan.tasks)
            end = fast.project_finish["p0"]
            rows, right = [], []
            for link in plan.links.values():  # start[p] + a <= start[s] + b, whatever came before the project
                row = np.zeros(len(ids))
                row[ids.index(link.predecessor)], row[ids.index(link.successor)] = 1, -1
                before, after = plan.tasks[link.predecessor].minutes, plan.tasks[link.successor].minutes
                first = before if link.type.value[0] == "F" else 0
                second = after if link.type.value[1] == "F" else 0
                rows.append(row)
                right.append(second - first - link.lag)
            bounds = [(None, min(end, until.get(t, end)) - plan.tasks[t].minutes - base.start) for t in ids]
            solved = linprog(-np.ones(len(ids)), np.array(rows) if rows else None, right or None, bounds=bounds).x
            for i, task_id in enumerate(ids):
                found = fast.dates(task_id)
                self.assertAlmostEqual(found.late_start - base.start, solved[i], places=4)
                self.assertAlmostEqual(found.total_float, solved[i] - (found.early_start - base.start), places=4)
                negative += found.total_float < 0
        self.assertGreater(negative, 50)


class Published(unittest.TestCase):
    def test_the_textbook_construction_project(self) -> None:
        """Hillier and Lieberman, Introduction to Operations Research, PERT/CPM chapter (from memory)."""
        weeks = dict(zip("ABCDEFGHIJKLMN", (2, 4, 10, 6, 4, 5, 7, 9, 7, 8, 4, 5, 2, 6), strict=True))
        text = "B:A C:B D:C E:C F:E G:D H:EG I:C J:FI K:J L:J M:H N:KL"
        before = dict(pair.split(":") for pair in text.split())
        records = [project(calendar="always"), *tasks(*((t, w * 10080) for t, w in weeks.items()))]
        records += [Link(p, t) for t, ps in before.items() for p in ps]
        found = schedule(Plan.of(records))
        self.assertEqual(found.project_finish["p"], MONDAY + 44 * 10080)
        self.assertEqual("".join(t for t in weeks if found.dates(t).longest_path), "ABCEFJLN")
        floats = {t: found.dates(t).total_float // 10080 for t in weeks}
        self.assertEqual({t: f for t, f in floats.items() if f}, {"D": 4, "G": 4, "H": 4, "I": 2, "K": 1, "M": 4})

    def test_a_chain_of_26_working_days_from_a_monday_ends_on_a_monday(self) -> None:
        """Common practice, no source."""
        names = [f"t{i}" for i in range(26)]
        links = [Link(a, b) for a, b in itertools.pairwise(names)]
        found = schedule(Plan.of([project(), *tasks(*((t, DAY) for t in names)), *links]))
        self.assertEqual(found.project_finish["p"], at("2026-10-12T17:00"))  # a Monday


class Rules(unittest.TestCase):
    """The choices of the rules, one by one."""

    def dates(self, *records, task: str = "b"):  # type: ignore[no-untyped-def]
        return schedule(Plan.of([project(), *records])).dates(task)

    def test_a_milestone_takes_the_finish_side_of_what_drives_it(self) -> None:
        found = self.dates(*tasks(("a", 5 * DAY), ("b", 0)), Link("a", "b"))
        self.assertEqual(found.early_start, at("2026-09-11T17:00"))

    def test_a_lead_never_comes_before_the_project(self) -> None:
        found = self.dates(*tasks(("a", DAY), ("b", DAY)), Link("a", "b", LinkType.FS, -3 * DAY))
        self.assertEqual(found.early_start, MONDAY)

    def test_a_lag_counts_on_the_successors_calendar(self) -> None:
        weekend = Calendar("w", "Weekend", week=((),) * 5 + (((480, 960),),) * 2)
        a, b = tasks(("a", 5 * DAY), ("b", DAY))
        found = self.dates(weekend, a, replace(b, calendar="w"), Link("a", "b", LinkType.FS, 240))
        self.assertEqual(found.early_start, at("2026-09-12T12:00"))

    def test_a_missed_target_gives_negative_float(self) -> None:
        a, b = tasks(("a", 5 * DAY), ("b", 5 * DAY))
        records = [a, replace(b, target=at("2026-09-16T17:00")), Link("a", "b")]
        self.assertEqual(self.dates(*records).total_float, -2 * DAY)
        self.assertEqual(self.dates(*records, task="a").total_float, -2 * DAY)
        self.assertTrue(self.dates(*records, task="a").critical)

    def test_links_of_summaries_act_on_their_first_start_and_last_finish(self) -> None:
        a, b, c, d, s = tasks(("a", DAY), ("b", 3 * DAY), ("c", DAY), ("d", DAY), ("s", 0))
        inside = [replace(a, parent="s"), replace(b, parent="s")]
        records = [s, *inside, c, d, Link("c", "s"), Link("s", "d", LinkType.FS, DAY)]
        self.assertEqual(self.dates(*records, task="a").early_start, at("2026-09-08T08:00"))
        self.assertEqual(self.dates(*records, task="s").early_finish, at("2026-09-10T17:00"))
        self.assertEqual(self.dates(*records, task="d").early_start, at("2026-09-14T08:00"))
        self.assertEqual(self.dates(*records, task="a").total_float, 2 * DAY)
        by_start = [s, *inside, c, d, Link("c", "a"), Link("s", "d", LinkType.SS, DAY)]
        self.assertEqual(self.dates(*by_start, task="d").early_start, at("2026-09-08T08:00"))

    def test_a_threshold_widens_what_is_critical(self) -> None:
        plan = [project(critical_float=DAY), *tasks(("a", 3 * DAY), ("b", 2 * DAY), ("c", DAY))]
        found = schedule(Plan.of(plan))
        self.assertEqual([found.dates(t).critical for t in "abc"], [True, True, False])

    def test_unfinished_work_never_lies_before_the_status_date(self) -> None:
        found = schedule(Plan.of([project(status_date=at("2026-09-16T00:00")), *tasks(("a", DAY))]))
        self.assertEqual(found.dates("a").early_start, at("2026-09-16T08:00"))

    def test_projects_linked_to_each_other_have_floats_of_their_own(self) -> None:
        records = [Project("q", "Q", MONDAY, "a1"), *tasks(("a", DAY)), *tasks(("x", 9 * DAY), ("y", DAY), project="q")]
        found = schedule(Plan.of([project(), *records, Link("a", "y")]))
        self.assertEqual(found.dates("a").total_float, 0)  # it ends its own project
        self.assertEqual(found.dates("y").early_start, at("2026-09-08T08:00"))
        self.assertEqual(found.dates("y").total_float, 7 * DAY)

    def test_work_beyond_the_horizon_names_the_task(self) -> None:
        long = [Task("z", "p", "Endless", "a0", duration=52_000_000)]
        with self.assertRaisesRegex(Exception, "Endless"):
            schedule(Plan.of([project(), *long]))
