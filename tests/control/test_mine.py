"""Own work: in which part of a list each task stands, checked against a plain reading of the rule."""

from __future__ import annotations

import random
import unittest
from datetime import date, timedelta

from msgspec.structs import replace

from hexapod.control.mine import (
    Reach,
    When,
    errands_when,
    milestones_of,
    tasks_of_nobody,
    unmet,
    week_end,
    work_of,
)
from hexapod.plan.plan import Plan
from hexapod.plan.records import DAY as CLOCK_DAY
from hexapod.plan.records import Errand, Link, LinkType, TaskKind
from hexapod.schedule.engine import schedule
from hexapod.schedule.states import State
from tests.support import DAY, MONDAY, at, project, random_plan, tasks, told

NOW = at("2026-09-09T10:00")  # a Wednesday


def plain(dates, task_id: str, now: int) -> When:  # type: ignore[no-untyped-def]
    """The rule, read slowly: with days and weeks of the calendar that everybody knows."""
    found = dates.dates(task_id)
    day = date.fromordinal(date(1970, 1, 1).toordinal() + now // CLOCK_DAY)
    first = lambda m: date(1970, 1, 1) + timedelta(days=m // CLOCK_DAY)  # noqa: E731
    ends, begins = first(found.finish - 1), first(found.start)
    this, following = day.isocalendar()[:2], (day + timedelta(days=7)).isocalendar()[:2]
    state = dates.state_of(task_id)
    if dates.late_of(task_id) or ends < day:
        return When.LATE
    if ends == day:
        return When.TODAY
    if state is State.BEGUN or (state is State.READY and begins <= day):
        return When.NOW
    is_week, is_next = begins.isocalendar()[:2] <= this, begins.isocalendar()[:2] <= following
    if state is State.WAITING:
        return When.WAITING if is_next else When.LATER
    return When.WEEK if is_week else When.NEXT if is_next else When.LATER


class Lists(unittest.TestCase):
    def test_every_open_leaf_stands_where_the_rule_puts_it(self) -> None:
        rng, seen = random.Random(11), set()
        for _ in range(60):
            plan = random_plan(rng, 25, summaries=True, resources=3, milestones=0.1)
            some = [replace(t, percent=float(rng.choice((0, 0, 30, 100)))) for t in plan.tasks.values()
                    if not plan.is_summary(t.id)]  # fmt: skip
            plan = told(Plan.of([*(r for k in ("calendars", "projects", "links", "resources", "assignments")
                                   for r in getattr(plan, k).values()),
                                 *{**plan.tasks, **{t.id: t for t in some}}.values()]))  # fmt: skip
            dates, now = schedule(plan), MONDAY + rng.randrange(0, 12 * CLOCK_DAY)
            found = work_of(dates, plan.tasks, now)
            leaves = [plan.tasks[t.id] for t in some]
            wanted = {t.id for t in leaves if not t.is_done and t.minutes}
            self.assertEqual({w.task for w in found}, wanted)
            for work in found:
                self.assertIs(work.when, plain(dates, work.task, now), plan.tasks[work.task])
                seen.add(work.when)
                if work.waits_for:
                    self.assertEqual(list(work.waits_for), unmet(plan, work.task))
                if dates.state_of(work.task) is not State.WAITING:
                    self.assertEqual(work.waits_for, ())
        self.assertGreaterEqual(len(seen), 6)

    def test_what_is_waited_for_goes_as_it_happens_also_above(self) -> None:
        first, second, third = tasks(("a", DAY), ("b", DAY), ("c", DAY))
        over = replace(third, id="s", name="s", rank="z")
        links = [Link("a", "s"), Link("b", "c", LinkType.SS)]
        plan = Plan.of([project(), first, second, over, replace(third, parent="s"), *links])
        self.assertEqual(unmet(plan, "c"), ["b", "a"])
        begun = Plan.of(
            [project(), first, replace(second, actual_start=MONDAY), over, replace(third, parent="s"), *links]
        )
        self.assertEqual(unmet(begun, "c"), ["a"])

    def test_milestones_are_overdue_coming_and_reached(self) -> None:
        over, coming, reached, task = tasks(("over", 0), ("coming", 0), ("reached", 0), ("task", DAY))
        plan = Plan.of([project(), over, replace(coming, kind=TaskKind.MILESTONE), task, Link("task", "coming"),
                        replace(reached, actual_start=MONDAY, actual_finish=MONDAY, percent=100.0)])  # fmt: skip
        dates = schedule(plan)
        found = milestones_of(dates, plan.tasks, MONDAY + 60)
        self.assertEqual(
            [(m.task, m.reach) for m in found],
            [("over", Reach.OVERDUE), ("coming", Reach.COMING), ("reached", Reach.REACHED)],
        )
        self.assertEqual(sorted(tasks_of_nobody(dates)), ["coming", "over", "task"])

    def test_what_ends_at_midnight_is_due_on_the_day_before(self) -> None:
        (task,) = tasks(("a", 16 * 60))
        night = Plan.of([project(), replace(task, calendar="always", actual_start=MONDAY)])
        self.assertEqual(schedule(night).dates("a").finish, at("2026-09-08T00:00"))
        (work,) = work_of(schedule(night), ["a"], MONDAY + 60)
        self.assertIs(work.when, When.TODAY)

    def test_errands_by_day(self) -> None:
        day = NOW // CLOCK_DAY
        for due, when in ((None, When.NOW), (day - 1, When.LATE), (day, When.TODAY), (day + 4, When.WEEK),
                          (day + 5, When.NEXT), (day + 11, When.NEXT), (day + 12, When.LATER)):  # fmt: skip
            self.assertIs(errands_when(Errand("e", "r", "x", "a", due), NOW), when, due)
        self.assertEqual(week_end(NOW), at("2026-09-14T00:00"))


if __name__ == "__main__":
    unittest.main()
