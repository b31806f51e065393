"""A schedule is a value: what is made of it leaves it as it was, and any two can be compared."""

from __future__ import annotations

import random
import sys
import threading
import unittest

import numpy as np

from hexapod.control.ripple import ripple
from hexapod.errors import HexapodError
from hexapod.plan import edits
from hexapod.plan.changes import diff
from hexapod.plan.plan import Plan
from hexapod.schedule.engine import reschedule, schedule
from hexapod.schedule.schedule import Schedule
from hexapod.schedule.shift import shift
from tests.storm import random_step
from tests.support import DAY, project, random_plan, tasks


def picture(found: Schedule) -> tuple[object, ...]:
    """All that a schedule says, to see whether it is still what it was."""
    network = found.network
    tables = (tuple(network.slots.tasks), tuple(network.slots.links), dict(network.slots.of_task))
    arrays = [*network.tasks, *network.links, found.start, found.finish, found.total_float, found.driving]
    return *tables, *(np.asarray(a).tobytes() for a in arrays)


class Values(unittest.TestCase):
    def test_previews_from_several_threads_give_each_task_a_slot_of_its_own(self) -> None:
        plan = random_plan(random.Random(1), 20)
        now = schedule(plan)
        before, wrong = picture(now), []

        def preview(number: int) -> None:
            for i in range(40):
                added = edits.add_task("p0", f"New {number} {i}", None, duration=DAY).applied_to(plan)
                after = reschedule(now, added, diff(plan, added))
                slots = after.network.slots
                right = len(set(slots.of_task.values())) == len(slots.of_task) == len(added.tasks)
                if not right or [slots.tasks[s] for s in slots.of_task.values()] != list(slots.of_task):
                    wrong.append((number, i))

        interval = sys.getswitchinterval()
        sys.setswitchinterval(1e-6)
        try:
            threads = [threading.Thread(target=preview, args=(i,)) for i in range(4)]
            for thread in threads:
                thread.start()
            for thread in threads:
                thread.join()
        finally:
            sys.setswitchinterval(interval)
        self.assertEqual(wrong, [])
        self.assertEqual(picture(now), before)

    def test_two_schedules_that_share_nothing_are_compared_task_by_task(self) -> None:
        rng = random.Random(2)
        compared = 0
        for _ in range(25):
            plan = random_plan(rng, 12, calendars=1, summaries=True, projects=2)
            others = [plan]
            for _ in range(12):
                made = random_step(rng, others[-1])
                others += [made[1]] if made else []
            try:
                one, two = schedule(plan), schedule(others[-1])
            except HexapodError:
                continue
            told = shift(one, two).by_task()
            for task_id in set(plan.tasks) & set(others[-1].tasks):
                a, b = one.dates(task_id), two.dates(task_id)
                self.assertEqual(task_id in told, (a.start, a.finish) != (b.start, b.finish), task_id)
                compared += task_id in told
            found = ripple(one, two)
            critical = {t for t in one.slots if two.has(t) and not plan.is_summary(t) and not two.plan.is_summary(t)}
            self.assertEqual(
                set(found.now_critical), {t for t in critical if two.dates(t).critical > one.dates(t).critical}
            )
        self.assertGreater(compared, 50)

    def test_one_task_moved_is_one_task_told_whatever_slots_the_two_have(self) -> None:
        rows = tasks(("a", DAY), ("b", DAY), ("c", DAY))
        one = schedule(Plan.of([project(), *rows]))
        turned = Plan.of([project(), *reversed(rows)])
        two = schedule(edits.set_durations(turned, ["b"], 2 * DAY).applied_to(turned))
        self.assertEqual(shift(one, two).by_task(), {"b": (0, DAY)})

    def test_slots_of_deleted_tasks_do_not_pile_up(self) -> None:
        plan = Plan.of([project(), *tasks(("a", DAY))])
        now = schedule(plan)
        for i in range(40):
            many = edits.add_text("p", "\n".join(f"Row {i} {k}" for k in range(200))).applied_to(plan)
            after = reschedule(now, many, diff(plan, many))
            now = reschedule(after, plan, diff(many, plan))
        self.assertLess(now.network.size, 4000)
        self.assertEqual(now.dates("a"), schedule(plan).dates("a"))


if __name__ == "__main__":
    unittest.main()
