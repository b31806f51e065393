"""Levelling that may interrupt work: where it gains, what it keeps, and what of it can be left out."""

from __future__ import annotations

import os
import random
import subprocess
import sys
import unittest

from msgspec.structs import replace

from hexapod.errors import CannotSchedule
from hexapod.formats.plan_json import write_plan
from hexapod.plan.plan import Plan
from hexapod.plan.records import Assignment, Limit, LimitKind, Link, Record, Resource
from hexapod.schedule.engine import schedule
from hexapod.schedule.schedule import Schedule
from hexapod.staffing.levelling.parting import LEAST_PART, level_in_parts
from hexapod.staffing.levelling.parts import worked_between
from hexapod.staffing.levelling.placing import Scope
from hexapod.staffing.levelling.proposal import Proposal, accepting, level, without
from hexapod.worktime.calendars import Window
from tests.staffing.checker import demand_by_minute, overloaded_minutes
from tests.support import DAY, MONDAY, project, random_plan, tasks, told

WINDOW = Window(MONDAY // 1440 - 10, MONDAY // 1440 + 250)


def long_work(more: tuple[Record, ...] = (), **of_a: object) -> Plan:
    """Ten days of Ada's work that something waits for; on the fifth day something of hers could begin that much waits
    for. Whole: 23 days, whichever is first. In parts: 4 + 3 + 6 + 7 = 20."""
    a, b, x, u, c = tasks(("a", 10 * DAY), ("b", 7 * DAY), ("x", 4 * DAY), ("u", 3 * DAY), ("c", 10 * DAY))
    links = (Link("a", "b"), Link("x", "u"), Link("u", "c"))
    ada = (Resource("ada", "Ada", "a0"), Assignment("a", "ada"), Assignment("u", "ada"))
    return Plan.of([project(), replace(a, **of_a), b, x, u, c, *links, *ada, *more])


def working_days(found: Proposal) -> float:
    assert found.finish_after is not None
    return worked_between(found.schedule, "a", MONDAY, found.finish_after) / DAY


def too_much(found: Proposal) -> float:
    return sum(o.excess for o in found.overloads_after)


def spans(found: Schedule, plan: Plan) -> dict[str, tuple[int, int]]:
    return {t: found.dates(t)[:2] for t in plan.tasks}


def long_random_plan(rng: random.Random, size: int = 12, **more: object) -> Plan:
    """As others, with tasks that are long enough to be parted."""
    plan = random_plan(rng, size, resources=2, lags=0, **more)  # type: ignore[arg-type]
    draft = plan.draft()
    for task in plan.tasks.values():
        draft.put(replace(task, duration=task.minutes * 3))
    return draft.finish()[0]


class Parting(unittest.TestCase):
    def test_long_work_is_interrupted_for_what_much_waits_for(self) -> None:
        plan = long_work()
        now = schedule(plan)
        self.assertEqual(working_days(level(now, within_float=False)), 23)
        for effort in ({}, {"steps": 40}, {"steps": 300}):
            found = level_in_parts(now, within_float=False, **effort)  # type: ignore[arg-type]
            self.assertEqual([(p.task, p.minutes) for p in found.parts], [("a", 4 * DAY)])
            self.assertEqual((working_days(found), too_much(found)), (20, 0))
            self.assertEqual(found.finish_after, found.lower_bound, "which proves that nothing ends sooner")
            self.assertIs(found.plan, plan)
            (rest,) = (m for m in found.moves if m.task == found.parts[0].rest)
            self.assertEqual((rest.resource, rest.gives_way_to), ("ada", "u"))
            self.assertEqual(worked_between(found.schedule, "a", rest.before, rest.after), 3 * DAY)

    def test_what_is_accepted_is_what_was_proposed(self) -> None:
        plan = long_work()
        found = level_in_parts(schedule(plan), within_float=False)
        after_plan = accepting(found, "Level").applied_to(plan)
        again = schedule(after_plan)
        self.assertEqual(again.last_finish, found.finish_after)
        self.assertEqual(spans(again, after_plan), spans(found.schedule, after_plan))
        self.assertEqual(sum(t.minutes for t in after_plan.tasks.values()), sum(t.minutes for t in plan.tasks.values()))

    def test_without_the_move_of_its_rest_a_task_is_not_parted(self) -> None:
        plan = long_work()
        now = schedule(plan)
        found = level_in_parts(now, within_float=False)
        rest = found.parts[0].rest
        whole = without(now, found, {rest})
        self.assertEqual((whole.parts, set(whole.holds) - {rest}), ((), set(whole.holds)))
        self.assertFalse(whole.schedule.has(rest))
        self.assertGreater(too_much(whole), 0, "Ada is asked for twice again, and that is said")
        same = without(now, found, set())
        self.assertEqual((same.parts, same.moves, same.finish_after), (found.parts, found.moves, found.finish_after))

    def test_what_may_not_be_touched_is_not_parted(self) -> None:
        fixed = (Limit(LimitKind.MUST_START, MONDAY),)
        for plan, scope in (
            (long_work(limits=fixed), Scope()),
            (long_work(pinned=True), Scope()),
            (long_work(), Scope(tasks={"u"})),
            (long_work(), Scope(projects={"other"})),
        ):
            found = level_in_parts(schedule(plan), within_float=False, scope=scope)
            self.assertEqual(found.parts, ())

    def test_what_is_begun_is_interrupted_behind_what_is_done_of_it(self) -> None:
        for percent, minutes in ((30.0, 4 * DAY), (50.0, None)):
            found = level_in_parts(schedule(told(long_work(percent=percent))), within_float=False)
            self.assertEqual([p.minutes for p in found.parts], [] if minutes is None else [minutes])

    def test_random_plans_are_never_worse_off_and_stay_whole(self) -> None:
        rng, gained = random.Random(71), 0
        for k in range(6):
            plan = long_random_plan(rng, calendars=k % 2, projects=1 + k % 2)
            within = k % 3 == 0
            try:
                now = schedule(plan)
                whole = level(now, within_float=within, steps=30)
            except CannotSchedule:
                continue
            found = level_in_parts(now, within_float=within, steps=30)
            again = level_in_parts(schedule(plan), within_float=within, steps=30)
            self.assertEqual((found.parts, found.holds, found.moves), (again.parts, again.holds, again.moves))
            finishes = [sum(f or 0 for f in p.schedule.project_finish.values()) for p in (found, whole)]
            self.assertLessEqual((too_much(found), finishes[0]), (too_much(whole), finishes[1]))
            gained += (too_much(found), finishes[0]) < (too_much(whole), finishes[1])
            self._is_sound(plan, now, found, within)
        self.assertGreater(gained, 1, "some of them gain")

    def _is_sound(self, plan: Plan, now: Schedule, found: Proposal, within: bool) -> None:
        after_plan = accepting(found, "Level").applied_to(plan)
        after = schedule(after_plan)
        dates = spans(after, after_plan)
        if within:
            self.assertEqual(after.project_finish, now.project_finish)
        elif found.lower_bound is not None and found.finish_after is not None:
            self.assertLessEqual(found.lower_bound, found.finish_after)
        for part in found.parts:
            first, rest = after_plan.tasks[part.task], after_plan.tasks[part.rest]
            self.assertEqual(first.minutes + rest.minutes, plan.tasks[part.task].minutes)
            self.assertGreaterEqual(min(first.minutes, rest.minutes), LEAST_PART)
            self.assertGreaterEqual(dates[part.rest][0], dates[part.task][1])
        before_work = demand_by_minute(plan, spans(now, plan), WINDOW)
        after_work = demand_by_minute(after_plan, dates, WINDOW)
        over = {o.resource for o in found.overloads_after}
        for resource, minutes in overloaded_minutes(after_plan, dates, WINDOW).items():
            self.assertAlmostEqual(sum(before_work[resource].values()), sum(after_work[resource].values()))
            self.assertTrue(not minutes or resource in over)

    def test_the_answer_is_the_same_however_the_plan_is_stored(self) -> None:
        script = (
            "import sys; from hexapod.formats.plan_json import read_plan; from hexapod.schedule.engine import schedule;"
            "from hexapod.staffing.levelling.parting import level_in_parts;"
            "p = level_in_parts(schedule(read_plan(sys.stdin.buffer.read())), within_float=False, steps=40);"
            "print(p.parts, [(m.task, m.after) for m in p.moves])"
        )
        plan, said = write_plan(long_random_plan(random.Random(76), 16)), set()
        for order in ("1", "2"):
            environment = {**os.environ, "PYTHONHASHSEED": order}
            done = subprocess.run(
                [sys.executable, "-c", script], input=plan, env=environment, capture_output=True, check=True
            )
            said.add(done.stdout)
        self.assertEqual(len(said), 1)
        self.assertIn(b"Part(", said.pop(), "something is interrupted")

    def test_interrupting_closes_part_of_the_gap_to_the_preemptive_bound_of_one_machine(self) -> None:
        """Of one machine with heads and tails the bound is what interrupting freely reaches (Carlier, "The one-machine
        sequencing problem", 1982)."""
        rng = random.Random(72)
        gaps = [0, 0]
        for _ in range(12):
            plan = self._one_machine(rng)
            now = schedule(plan)
            for i, look in enumerate((level, level_in_parts)):
                found = look(now, within_float=False, steps=60)
                assert found.finish_after is not None and found.lower_bound is not None
                self.assertGreaterEqual(found.finish_after, found.lower_bound)
                gaps[i] += found.finish_after - found.lower_bound
        self.assertLess(gaps[1], gaps[0] / 2)

    @staticmethod
    def _one_machine(rng: random.Random) -> Plan:
        records: list[Record] = [project(), Resource("saw", "Saw", "a0")]
        reaches = {"h": (1, 20), "w": (2, 9), "t": (1, 25)}
        made = tasks(*((f"{kind}{i}", DAY * rng.randint(*reach)) for i in range(5) for kind, reach in reaches.items()))
        for head, work, tail in zip(made[::3], made[1::3], made[2::3], strict=True):
            chain = (Link(head.id, work.id), Link(work.id, tail.id))
            records += [head, work, tail, *chain, Assignment(work.id, "saw")]
        return Plan.of(records)
