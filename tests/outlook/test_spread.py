"""What the spread of a finish comes from, and which targets are not sure enough."""

from __future__ import annotations

import unittest

from msgspec.structs import replace

from hexapod.errors import HexapodError
from hexapod.outlook.chances import Outlook, added_by
from hexapod.outlook.doubts import doubts_of
from hexapod.outlook.simulation import simulate
from hexapod.outlook.spread import spread_of
from hexapod.plan.plan import Plan
from hexapod.plan.records import Link, Project, Task
from hexapod.plan.risks import Risk, RiskDelay
from hexapod.schedule.engine import schedule
from tests.support import MONDAY

DAY = 1440
TWENTY_DAYS = MONDAY + 20 * DAY


def museum() -> Plan:
    """A chain of three in one project, the middle one wide, beside a short one that never counts; another project."""
    lengths = {"sure": (4, 4, 5), "wide": (5, 10, 30), "narrow": (5, 6, 8), "aside": (1, 2, 3)}
    return Plan.of([
        Project("p", "Roof", MONDAY, "a", calendar="always"),
        Project("q", "Store", MONDAY, "b", calendar="always"),
        *(Task(name, "p", name, f"a{i}", duration=likely * DAY, estimate=(best * DAY, likely * DAY, worst * DAY))
          for i, (name, (best, likely, worst)) in enumerate(lengths.items())),
        Task("store", "q", "store", "a", duration=3 * DAY, estimate=(DAY, 3 * DAY, 9 * DAY)),
        Link("sure", "wide"), Link("wide", "narrow"),
        Risk("glass", "p", "Glass breaks", chance=0.5, delays=(RiskDelay("narrow", (9 * DAY, 10 * DAY, 12 * DAY)),)),
        Risk("moth", "q", "Moth", chance=0.5, delays=(RiskDelay("store", (9 * DAY, 10 * DAY, 12 * DAY)),)),
    ])  # fmt: skip


def outlook(plan: Plan, rounds: int = 4000) -> Outlook:
    return Outlook(simulate(schedule(plan), rounds))


class WhatItComesFrom(unittest.TestCase):
    def test_what_adds_most_comes_first_and_nothing_of_another_project_counts(self) -> None:
        found = spread_of(outlook(museum(), 2000), "p", 0.8, lambda: False)
        named = [row.task or row.risk for row in found]
        self.assertEqual({*named[:2]}, {"wide", "glass"})
        self.assertTrue({"store", "moth"}.isdisjoint(named))
        self.assertEqual(found, sorted(found, key=lambda row: -row.sure))
        risk = next(row for row in found if row.risk)
        self.assertEqual(risk.name, "Risk: Glass breaks")
        alone = added_by(outlook(museum(), 2000), "p", risk="glass", part=0.8)
        self.assertEqual((risk.mean, risk.sure), (alone.mean, alone.sure))

    def test_more_rounds_than_it_compares_are_gone_anew_with_the_same_seed(self) -> None:
        many, few = (spread_of(outlook(museum(), rounds), "p", 0.8, lambda: False) for rounds in (6000, 3000))
        self.assertEqual(many, few)

    def test_somebody_may_stop_it(self) -> None:
        with self.assertRaisesRegex(HexapodError, "stopped"):
            spread_of(outlook(museum()), "p", 0.8, lambda: True)


class Doubtful(unittest.TestCase):
    def test_targets_that_the_plan_meets_and_too_few_rounds_do(self) -> None:
        base = museum()
        draft = base.draft()
        draft.put(replace(base.projects["p"], target_finish=TWENTY_DAYS))  # the plan: 20 days, rounds mostly more
        draft.put(replace(base.projects["q"], target_finish=MONDAY + 2 * DAY))  # missed already by the plan
        draft.put(replace(base.tasks["sure"], target=MONDAY + 5 * DAY))  # always met
        draft.put(replace(base.tasks["wide"], target=TWENTY_DAYS))
        found = outlook(draft.finish()[0])
        doubts = {doubt.task or doubt.project: doubt for doubt in doubts_of(found, 0.8)}
        chance = found.of_task("wide").chance_by(TWENTY_DAYS)
        self.assertEqual({*doubts}, {"p"} | ({"wide"} if chance < 0.8 else set()))
        self.assertEqual(doubts["p"].chance, found.of_project("p").chance_by(TWENTY_DAYS))
        self.assertIn("wide", {doubt.task for doubt in doubts_of(found, chance + 0.01)})
        self.assertNotIn("wide", {doubt.task for doubt in doubts_of(found, chance)})


if __name__ == "__main__":
    unittest.main()
