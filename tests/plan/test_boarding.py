"""Cards and stages: a card that is moved says how far it is, what is told elsewhere moves the card, undo is exact."""

from __future__ import annotations

import random
import tempfile
import unittest
from pathlib import Path

from msgspec.structs import replace

from hexapod.errors import EditRefused
from hexapod.plan import edits
from hexapod.plan.boarding import stage_of
from hexapod.plan.plan import Plan
from hexapod.plan.records import Stage, Task
from hexapod.session import Session
from tests.support import DAY, MONDAY, at, project, set_clock, tasks

NOW = at("2026-10-30T12:00")
STAGES = (("come", 0.0), ("hand", 30.0), ("held", None), ("check", 90.0), ("done", 100.0))


def last_not_above(percent: float) -> str:
    """The rule of scheduling-rules.md, read slowly."""
    return [name for name, own in STAGES if own is not None and own <= percent][-1]


class Boarding(unittest.TestCase):
    def setUp(self) -> None:
        set_clock(self, NOW)
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.session = Session.create(Path(folder.name) / "b.hexapod")
        self.addCleanup(self.session.close)
        self.session.apply(edits.save_project(self.plan, project()))
        made = edits.Edit("Add", lambda draft: [draft.put(t) for t in tasks(("a", 4 * DAY), ("b", DAY))] and None)
        self.session.apply(made)
        for i, (name, percent) in enumerate(STAGES):
            self.session.apply(edits.save_stage(self.plan, Stage(name, name.title(), f"a{i}", percent)))
        self.session.apply(edits.put_on_board(self.plan, ["a", "b"], True))

    @property
    def plan(self) -> Plan:
        return self.session.plan

    def card(self, task_id: str = "a") -> Task:
        return self.plan.tasks[task_id]

    def move(self, stage: str, task_id: str = "a") -> Task:
        self.session.apply(edits.put_in_stage(self.plan, [task_id], stage))
        return self.card(task_id)

    def test_a_card_moved_says_its_per_cent_and_the_dates_that_follow(self) -> None:
        self.assertEqual(self.card().stage, "come")
        card = self.move("hand")
        self.assertEqual((card.percent, card.actual_start, card.actual_finish), (30.0, MONDAY, None))
        card = self.move("done")
        self.assertEqual((card.percent, card.actual_finish), (100.0, at("2026-09-10T17:00")))
        card = self.move("check")
        self.assertEqual((card.percent, card.actual_start, card.actual_finish), (90.0, MONDAY, None))

    def test_what_is_told_elsewhere_moves_the_card(self) -> None:
        for edit, stage in (
            (edits.set_percent(self.plan, ["a"], 29), "come"),
            (edits.set_percent(self.plan, ["a"], 30), "hand"),
            (edits.set_rest(self.plan, ["a"], DAY), "hand"),
            (edits.set_percent(self.plan, ["a"], 95), "check"),
            (edits.finish(self.plan, ["a"], MONDAY + 600), "done"),
            (edits.take_back(self.plan, ["a"]), "come"),
        ):
            self.session.apply(edit)
            self.assertEqual(self.card().stage, stage, edit.words)

    def test_a_stage_without_a_per_cent_keeps_its_card_and_a_card_further_on_keeps_its_own(self) -> None:
        self.move("held")
        self.session.apply(edits.set_percent(self.plan, ["a"], 60))
        self.assertEqual(self.card().stage, "held")
        card = self.move("hand")
        self.assertEqual(card.percent, 60, "it is in hand with any per cent from 30 up to the next stage's")
        self.session.apply(edits.set_rest(self.plan, ["a"], 2 * DAY - 7))
        card = self.move("held")
        self.assertEqual(card.rest, 2 * DAY - 7, "a stage that says nothing of it leaves what was told")

    def test_a_stage_deleted_leaves_its_cards_on_the_board(self) -> None:
        self.move("check")
        with self.assertRaises(EditRefused):
            self.session.apply(edits.Edit("Delete", lambda draft: draft.remove("stages", "check")))
        self.session.apply(edits.remove_stage(self.plan, "check"))
        shown = stage_of(self.plan.stages_in_order(), self.card())
        assert shown is not None
        self.assertEqual((self.card().stage, self.card().percent, shown.id), ("hand", 90.0, "hand"))
        self.session.undo()
        self.assertEqual(self.card().stage, "check")

    def test_a_storm_keeps_the_rule_and_every_undo_is_exact(self) -> None:
        rng = random.Random(8)
        for _ in range(120):
            before, card = self.plan, rng.choice(("a", "b"))
            told = rng.random() < 0.5
            stage = rng.choice(STAGES)[0]
            was = self.card(card)
            edit = rng.choice((
                edits.set_percent(self.plan, [card], rng.randrange(101)),
                edits.set_rest(self.plan, [card], rng.randrange(0, 4 * DAY)),
                edits.take_back(self.plan, [card]), edits.finish(self.plan, [card], MONDAY + rng.randrange(9000)),
            )) if told else edits.put_in_stage(self.plan, [card], stage)  # fmt: skip
            if self.session.apply(edit) is None:
                continue
            now = self.card(card)
            if told and (now.percent, now.actual_start) != (was.percent, was.actual_start):
                stays = dict(STAGES)[was.stage] in (None, now.percent)  # type: ignore[index]
                self.assertEqual(now.stage, was.stage if stays else last_not_above(now.percent))
            elif not told:
                self.assertEqual(now.stage, stage)
                own = dict(STAGES)[stage]
                self.assertTrue(own in (None, now.percent) or last_not_above(now.percent) == stage)
            after = self.plan
            self.session.undo()
            self.assertEqual(self.plan, before)
            self.session.redo()
            self.assertEqual(self.plan, after)
            self.assertEqual(now.is_done, now.percent == 100)

    def test_what_no_stage_can_be_is_refused_in_a_sentence(self) -> None:
        good = self.plan.stages["hand"]
        for bad, says in (
            (replace(good, name=" "), "name"),
            (replace(good, name="DONE"), "already"),
            (replace(good, percent=101.0), "from 0 to 100"),
            (replace(good, percent=float("nan")), "from 0 to 100"),
            (replace(good, most=0), "at once"),
        ):
            with self.assertRaisesRegex(EditRefused, says):
                self.session.apply(edits.save_stage(self.plan, bad))


if __name__ == "__main__":
    unittest.main()
