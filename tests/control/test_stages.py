"""The board: cards in rows and stages, most at once, and how they came there, against replaying the plans."""

from __future__ import annotations

import random
import tempfile
import unittest
from pathlib import Path
from unittest.mock import patch

from msgspec.structs import replace

from hexapod.control.stages import board_of, cards_of, counts_of, fullness, stage_history
from hexapod.plan import edits
from hexapod.plan.boarding import stage_of
from hexapod.plan.plan import Plan
from hexapod.plan.records import Assignment, Field, FieldKind, Resource, Stage
from hexapod.session import Session
from hexapod.store.history import UNDO
from tests.support import DAY, MONDAY, project, tasks

STAGES = [
    Stage("come", "To come", "a0", 0.0),
    Stage("hand", "In hand", "a1", 10.0, 1),
    Stage("done", "Done", "a2", 100.0),
]


def plan_of() -> Plan:
    a, b, c, d = tasks(("a", DAY), ("b", DAY), ("c", DAY), ("d", DAY))
    return Plan.of([
        project(), *STAGES, Resource("hana", "Hana", "a1"), Resource("ito", "Ito", "a0"),
        Field("f", "Where", "a0", FieldKind.CHOICE, ("West", "East")),
        replace(a, on_board=True, priority=1, fields=(("Where", "East"),)), replace(b, on_board=True, stage="hand"),
        replace(c, on_board=True, percent=100.0, stage="done", fields=(("Where", "West"),)), d,
        Assignment("a", "hana"), Assignment("b", "ito"),
    ])  # fmt: skip


class Board(unittest.TestCase):
    def rows(self, by: str) -> list[tuple[str, tuple[tuple[str, ...], ...]]]:
        plan = plan_of()
        return [(row.name, row.cells) for row in board_of(plan, sorted(cards_of(plan)), by)]

    def test_only_leaves_that_are_on_it_show_and_rows_are_by_what_is_chosen(self) -> None:
        self.assertEqual(self.rows("nothing"), [("", (("a",), ("b",), ("c",)))])
        self.assertEqual(
            self.rows("person"),
            [("Ito", ((), ("b",), ())), ("Hana", (("a",), (), ())), ("Nobody", ((), (), ("c",)))],
        )
        self.assertEqual([name for name, _ in self.rows("f")], ["West", "East", "Not said"])
        self.assertEqual(len(self.rows("priority")), 2)
        self.assertEqual([name for name, _ in self.rows("stream")], ["a", "b", "c"])

    def test_as_many_as_wanted_and_more_is_said(self) -> None:
        plan = plan_of()
        self.assertIsNone(fullness(plan, "come"), "no most was said")
        self.assertIn("holds 1 card now, the most", fullness(plan, "hand") or "")
        fewer = edits.put_in_stage(plan, ["b"], "come").applied_to(plan)
        self.assertIsNone(fullness(fewer, "hand"))
        more = edits.put_in_stage(plan, ["a"], "hand").applied_to(plan)
        self.assertEqual(counts_of(more, cards_of(more)), {"come": 0, "hand": 2, "done": 1})
        self.assertIn("holds 2 cards; at most 1", fullness(more, "hand") or "")


class History(unittest.TestCase):
    def test_walking_back_counts_what_every_plan_of_the_past_held(self) -> None:
        rng = random.Random(4)
        with tempfile.TemporaryDirectory() as folder, patch("hexapod.worktime.clock.now", return_value=MONDAY + 99_999):
            session = Session.create(Path(folder) / "h.hexapod")
            empty = session.plan
            session.apply(edits.to_plan("Fill", empty, plan_of()))
            known = []
            for at in range(1, 40):
                plan, some = session.plan, rng.sample("abcd", rng.randrange(1, 3))
                made = (
                    edits.put_in_stage(plan, some, rng.choice(STAGES).id),
                    edits.put_on_board(plan, some, rng.random() < 0.6),
                    edits.set_percent(plan, some, rng.choice((0, 50, 100))),
                )
                if rng.random() < 0.2 and session.undo_words != "Fill":
                    session.undo()
                else:
                    session.apply(rng.choice(made))
                known.append((MONDAY + at * 1440, session.plan))
            changes = []
            for row in reversed(session.history):
                found = session.workspace.read_changes(row.number if row.of is None else row.of)
                changes.append(found.inverse() if row.kind == UNDO else found)
            # Rows of the history are dated by the order in which they were made.
            dated = [(MONDAY + (len(changes) - 1 - i) * 1440, each) for i, each in enumerate(changes)]
            history = stage_history(session.plan, dated, MONDAY + 100 * 1440)
            plans = [empty]
            for each in reversed(changes):
                plans.append(each.applied_to(plans[-1]))
            self.assertEqual(plans[-1], session.plan)
            stages = session.plan.stages_in_order()
            by_moment = {m.at: m.counts for m in history.moments}
            shown = None
            for i, plan in enumerate(plans[1:]):
                cards = [plan.tasks[t] for t in plan.tasks if plan.tasks[t].on_board]
                counts = tuple(sum(stage_of(stages, c) == s for c in cards) for s in stages)
                shown = by_moment.get(MONDAY + i * 1440, shown)
                self.assertEqual(shown, counts, i)
            self.assertEqual(list(history.days), mean_stays(plans[1:], stages))
            session.close()


def mean_stays(plans: list[Plan], stages: list[Stage]) -> list[float | None]:
    """How many days cards stayed in each stage, plan by plan, one a day; a card that is there still does not count."""
    stays: list[list[int]] = [[] for _ in stages]
    for task in "abcd":
        where = [
            None if not p.tasks[task].on_board else stages.index(stage_of(stages, p.tasks[task]))  # type: ignore[arg-type]
            for p in plans
        ]
        begun = 0
        for day in range(1, len(where)):
            if where[day] != where[begun]:
                if where[begun] is not None:
                    stays[where[begun]].append(day - begun)  # type: ignore[index]
                begun = day
    return [sum(found) / len(found) if found else None for found in stays]


if __name__ == "__main__":
    unittest.main()
