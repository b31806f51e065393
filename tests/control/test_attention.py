"""What needs somebody: each open leaf under the first kind that applies, read slowly from the rule."""

from __future__ import annotations

import random
import unittest

from msgspec.structs import replace

from hexapod.control.attention import Need, NeedKind, needs
from hexapod.plan.plan import Plan
from hexapod.plan.records import DAY as CLOCK_DAY
from hexapod.plan.records import Limit, LimitKind
from hexapod.schedule.conflicts import conflicts
from hexapod.schedule.engine import schedule
from hexapod.schedule.states import Late, State
from tests.support import DAY, MONDAY, at, project, random_plan, tasks, told


def plain(dates, task_id: str, now: int, days: int) -> NeedKind | None:  # type: ignore[no-untyped-def]
    task, found, late = dates.plan.tasks[task_id], dates.dates(task_id), dates.late_of(task_id)
    if dates.plan.is_summary(task_id) or task.is_done:
        return None
    kind = None if late is None else late[0]
    if not task.minutes and (found.finish < now or kind is Late.TO_BEGIN):
        return NeedKind.MILESTONE
    if kind is not None:
        return {Late.TO_FINISH: NeedKind.TO_FINISH, Late.TO_BEGIN: NeedKind.TO_BEGIN, Late.BEHIND: NeedKind.BEHIND}[
            kind
        ]
    if found.finish < now:
        return NeedKind.OVER
    midnight = (now // CLOCK_DAY + 1) * CLOCK_DAY
    if dates.state_of(task_id) is State.WAITING and found.start < midnight:
        return NeedKind.BLOCKED
    return NeedKind.DUE if found.finish <= midnight + days * CLOCK_DAY else None


class Needs(unittest.TestCase):
    def test_every_leaf_is_named_once_under_the_first_kind_that_applies(self) -> None:
        rng, seen = random.Random(21), set()
        for _ in range(60):
            plan = random_plan(rng, 25, summaries=True, projects=2, milestones=0.2)
            changed = {
                t.id: replace(t, percent=float(rng.choice((0, 0, 40, 100))),
                              target=None if rng.random() < 0.8 else MONDAY + rng.randrange(9000))
                for t in plan.tasks.values() if not plan.is_summary(t.id)
            }  # fmt: skip
            status = {p.id: replace(p, status_date=None if rng.random() < 0.3 else p.start + rng.randrange(20000))
                      for p in plan.projects.values()}  # fmt: skip
            rest = (r for k in ("calendars", "links") for r in getattr(plan, k).values())
            plan = told(Plan.of([*rest, *status.values(), *{**plan.tasks, **changed}.values()]))
            dates, now, days = schedule(plan), MONDAY + rng.randrange(30000), rng.randrange(8)
            found = {n.task: n.kind for n in needs(dates, now, days) if n.task is not None}
            wanted = {t: kind for t in plan.tasks if (kind := plain(dates, t, now, days)) is not None}
            self.assertEqual(found, wanted)
            seen |= set(found.values())
        self.assertGreaterEqual(len(seen), 7, seen)

    def test_a_finish_that_passed_its_target_since_yesterday_is_told_from_one_that_did_before(self) -> None:
        (task,) = tasks(("a", 10 * DAY))
        wanted = at("2026-09-11T17:00")
        dates = schedule(Plan.of([project(target_finish=wanted), task]))
        kinds = lambda before: [n.kind for n in needs(dates, MONDAY, 0, yesterday=before)]  # noqa: E731
        self.assertEqual(kinds({"p": wanted}), [NeedKind.PASSED])
        self.assertEqual(kinds({"p": wanted + 60}), [NeedKind.BEYOND])
        self.assertEqual(kinds(None), [NeedKind.BEYOND])
        (need,) = needs(dates, MONDAY, 0)
        self.assertEqual((need.by, need.at), (5 * DAY, wanted))

    def test_a_contradiction_stands_beside_and_archived_projects_are_quiet(self) -> None:
        a, b = tasks(("a", DAY), ("b", DAY))
        late = replace(b, limits=(Limit(LimitKind.FINISH_NO_LATER, MONDAY),))
        dates = schedule(Plan.of([project(), a, late]))
        found = needs(dates, MONDAY + 30 * CLOCK_DAY, 0, conflicts(dates))
        self.assertEqual([(n.task, n.kind) for n in found],
                         [("b", NeedKind.CONFLICT), ("a", NeedKind.OVER), ("b", NeedKind.OVER)])  # fmt: skip
        self.assertIsInstance(found[0], Need)
        quiet = schedule(Plan.of([project(archived=True, target_finish=MONDAY), a, late]))
        self.assertEqual(needs(quiet, MONDAY + 30 * CLOCK_DAY, 0, conflicts(quiet)), [])


if __name__ == "__main__":
    unittest.main()
