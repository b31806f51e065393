"""The flat list of rows: the same as walking the outline, whatever is folded, kept or made room for."""

from __future__ import annotations

import random
import unittest

import numpy as np

from hexapod.plan import edits
from hexapod.plan.outline import rows
from hexapod.plan.plan import Plan
from hexapod.plan.rowlist import Outline, RowList
from tests.support import project


def random_outline(rng: random.Random, size: int) -> Plan:
    lines, level = [], 0
    for i in range(size):
        level = rng.randrange(0, min(level + 2, 6)) if i else 0
        lines.append("  " * level + f"Row {i}")
    return edits.add_text("p", "\n".join(lines)).applied_to(Plan.of([project()]))


class Lists(unittest.TestCase):
    def test_folding_hides_the_same_rows_as_a_walk(self) -> None:
        rng = random.Random(3)
        for _ in range(200):
            plan = random_outline(rng, rng.randrange(1, 40))
            folded = {t for t in plan.tasks if rng.random() < 0.3}
            made, walked = RowList.of(plan, "p", folded), rows(plan, "p", folded)
            self.assertEqual(list(made), walked)
            self.assertEqual([made[i] for i in range(len(made))], walked)
            for row, found in enumerate(walked):
                self.assertEqual(made.position[found.task], row)
            hidden = set(plan.tasks) - {r.task for r in walked}
            self.assertFalse(any(t in made.position for t in hidden))
            self.assertEqual(made[2:5], walked[2:5])

    def test_room_for_a_row_is_made_and_taken_away(self) -> None:
        rng = random.Random(4)
        for _ in range(100):
            plan = random_outline(rng, rng.randrange(1, 20))
            made = RowList.of(plan, "p")
            at = rng.randrange(len(made) + 1)
            with_gap = made.with_gap(at, 2)
            self.assertEqual((with_gap[at].task, with_gap[at].level), ("", 2))
            self.assertEqual(list(with_gap.without_gaps()), list(made))
            for row in range(len(with_gap)):
                if with_gap.task(row):
                    self.assertEqual(with_gap.position[with_gap.task(row)], row)

    def test_what_is_kept_has_its_summaries_above_it(self) -> None:
        rng = random.Random(5)
        for _ in range(200):
            plan = random_outline(rng, rng.randrange(1, 40))
            outline = Outline(plan, ["p"])
            kept = np.array([rng.random() < 0.2 for _ in outline.tasks])
            wanted = {t for i, t in enumerate(outline.tasks) if kept[i]}
            wanted |= {a for t in wanted for a in plan.ancestors(t)}
            shown = outline.with_ancestors(kept)
            self.assertEqual({t for i, t in enumerate(outline.tasks) if shown[i]}, wanted)
            for i in outline.summaries.tolist():
                self.assertTrue(plan.is_summary(outline.tasks[i]))


if __name__ == "__main__":
    unittest.main()
