"""The columns of a network that are kept beside the plan: the network made of them is the one made of the plan."""

from __future__ import annotations

import random
import unittest

import msgspec
from msgspec.structs import replace

from hexapod.plan.plan import Plan
from hexapod.plan.records import CalendarException
from hexapod.schedule.engine import schedule, schedule_network
from hexapod.schedule.kept_network import KeptNetwork, kept_of, network_of
from hexapod.schedule.schedule import Schedule
from tests.budgets import deep_or
from tests.storm import moved_on
from tests.support import MONDAY, random_plan

COLUMNS = ("early_start", "early_finish", "late_start", "late_finish", "start", "finish", "total_float", "free_float",
           "critical", "longest_path", "duration")  # fmt: skip


def columns_by_task(dates: Schedule) -> dict[str, tuple[int, ...]]:
    return {t: tuple(int(getattr(dates, name)[dates.slots[t]]) for name in COLUMNS) for t in dates.plan.tasks}


def from_kept(plan: Plan, kept: KeptNetwork) -> Schedule:
    again = msgspec.msgpack.decode(msgspec.msgpack.encode(kept), type=KeptNetwork)
    network = network_of(plan, again)
    assert network is not None
    return schedule_network(network)


NOW = MONDAY + 30_000


class Kept(unittest.TestCase):
    def storm(self, seed: int, steps: int) -> Schedule:
        """A plan with leave and calendars after many edits, its network brought up to date from each to the next."""
        rng = random.Random(seed)
        plan = random_plan(rng, 25, calendars=2, summaries=True, resources=4, projects=2)
        draft = plan.draft()
        for resource in sorted(plan.resources)[:2]:
            day = MONDAY // 1440 + rng.randrange(30)
            draft.put(replace(plan.resources[resource], leave=(CalendarException(day, day + 3),)))
        dates = schedule(draft.finish()[0])
        for _ in range(steps):
            dates = moved_on(rng, dates, NOW)
        return dates

    def test_dates_are_those_of_the_plan_also_after_many_edits_and_before_many_more(self) -> None:
        for seed in range(deep_or(25, 400)):
            dates = self.storm(seed, 40)
            again = from_kept(dates.plan, kept_of(dates.network))
            self.assertEqual(columns_by_task(again), columns_by_task(schedule(dates.plan)), seed)
            rng = random.Random(seed)
            for _ in range(10):
                again = moved_on(rng, again, NOW)
            self.assertEqual(columns_by_task(again), columns_by_task(schedule(again.plan)), seed)

    def test_what_nobody_uses_is_not_kept(self) -> None:
        for seed in range(10):
            dates = self.storm(seed, 60)
            kept = kept_of(dates.network)
            self.assertEqual(sorted(kept.tasks), sorted(dates.plan.tasks))
            self.assertEqual(kept.links, len(dates.plan.links))
            fresh = schedule(dates.plan).network.timing
            self.assertEqual((kept.sets, kept.crews), (sorted(fresh.index), sorted(fresh.crews)), seed)
            again = network_of(dates.plan, kept)
            assert again is not None
            links = again.links
            ahead, behind = links.predecessor[links.alive == 1], links.successor[links.alive == 1]
            leaves = (again.structure.leaf[ahead] == 1) & (again.structure.leaf[behind] == 1)
            self.assertTrue((ahead < behind)[leaves].all(), "the passes go through memory from front to back")

    def test_columns_of_another_plan_or_of_another_form_are_passed_over(self) -> None:
        dates = self.storm(3, 20)
        kept, plan = kept_of(dates.network), dates.plan
        other = self.storm(4, 25).plan
        self.assertIsNone(network_of(other, kept))
        one = sorted(plan.tasks)[0]
        swapped = ["gone" if t == one else t for t in kept.tasks]
        for wrong in (
            msgspec.structs.replace(kept, tasks=swapped),
            msgspec.structs.replace(kept, links=kept.links + 1),
            msgspec.structs.replace(kept, projects=["x"]),
            msgspec.structs.replace(kept, task_columns=kept.task_columns[1:]),
            msgspec.structs.replace(kept, link_columns=[b"123", *kept.link_columns[1:]]),
        ):
            self.assertIsNone(network_of(plan, wrong))


if __name__ == "__main__":
    unittest.main()
