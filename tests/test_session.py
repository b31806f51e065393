"""The one door: a storm of edits, undone and redone to the identical plan, also across closing."""

from __future__ import annotations

import random
import tempfile
import unittest
from pathlib import Path

from hexapod.errors import EditRefused, HexapodError
from hexapod.plan import edits
from hexapod.plan.changes import diff
from hexapod.plan.plan import Plan
from hexapod.plan.validity import check_whole
from hexapod.schedule.engine import schedule
from hexapod.session import Applied, MovedOn, Session
from hexapod.store.workspace import Workspace
from tests.budgets import deep_or
from tests.storm import random_edit
from tests.support import project, random_plan


class Doors(unittest.TestCase):
    def setUp(self) -> None:
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.path = Path(folder.name) / "w.hexapod"

    def test_a_storm_is_undone_and_redone_to_the_identical_plan(self) -> None:
        rng = random.Random(51)
        start = random_plan(rng, 25, calendars=1, summaries=True, resources=3, projects=2)
        workspace = Workspace.create(self.path)
        workspace.write(diff(Plan(), start), "Begin", "me")
        workspace.close()
        session = Session.open(self.path)
        plans = [session.plan]
        while len(plans) < 250:
            try:
                if session.apply(random_edit(rng, session.plan)):
                    plans.append(session.plan)
            except HexapodError:
                self.assertIs(session.plan, plans[-1], "a refused edit changes nothing")
        for _ in range(3):
            back = rng.randrange(20, 120)
            for plan in reversed(plans[-back - 1 : -1]):
                session.undo()
                self.assertEqual(session.plan, plan)
            session.close()
            session = Session.open(self.path)
            self.assertEqual(session.plan, plans[-back - 1])
            for plan in plans[-back:]:
                session.redo()
                self.assertEqual(session.plan, plan)
        found, fresh = session.schedule, schedule(session.plan)
        for task_id in session.plan.tasks:
            self.assertEqual(found.dates(task_id), fresh.dates(task_id))
        session.close()

    def test_undo_never_sticks_whatever_calendars_and_people_come_and_go(self) -> None:
        """Undone at random moments, always to a plan whose dates are those of a fresh start."""
        done = undone = 0
        for seed in range(deep_or(3, 40)):
            rng = random.Random(500 + seed)
            path = self.path.with_name(f"{seed}.hexapod")
            start = random_plan(rng, 14, calendars=1, summaries=True, resources=3, projects=2)
            workspace = Workspace.create(path)
            workspace.write(diff(Plan(), start), "Begin", "me")
            workspace.close()
            session = Session.open(path)
            session.compute()
            for step in range(deep_or(150, 1500)):
                before = session.plan
                if rng.random() < 0.3 and session.undo_words not in (None, "Begin"):
                    for _ in range(rng.choice((1, 1, 2, 5))):
                        if session.undo_words not in (None, "Begin"):
                            session.undo()
                            undone += 1
                    if rng.random() < 0.5 and session.redo_words is not None:
                        session.redo()
                else:
                    try:
                        done += session.apply(random_edit(rng, session.plan)) is not None
                    except HexapodError:
                        self.assertIs(session.plan, before)
                if step % 10 == 0:
                    check_whole(session.plan)
                    fresh = schedule(session.plan)
                    for task_id in session.plan.tasks:
                        self.assertEqual(session.schedule.dates(task_id), fresh.dates(task_id), session.undo_words)
            while session.undo_words != "Begin":
                session.undo()
            self.assertEqual(session.plan, start)
            session.close()
        self.assertGreater(min(done, undone), 100)

    def test_listeners_are_told_once_of_each_change_and_of_what_moved(self) -> None:
        session = Session.create(self.path)
        told: list[Applied] = []
        session.apply(edits.save_project(session.plan, project()))
        session.apply(edits.add_text("p", "A\nB"))
        a, b = session.plan.children_of("p", None)
        session.listen(told.append)
        session.apply(edits.link(session.plan, a, b))
        session.apply(edits.set_durations(session.plan, [a], 960))
        session.undo()
        self.assertEqual([t.kind for t in told], ["edit", "edit", "undo"])
        self.assertEqual([t.words for t in told][1:], ["Set the duration of “A”"] * 2)
        self.assertEqual([t.moved().get(b) for t in told], [(480, 480), (480, 480), (-480, -480)])
        self.assertIsNone(session.apply(edits.set_durations(session.plan, [a], None)), "nothing changes")
        session.close()

    def test_what_is_prepared_is_what_is_committed_and_only_on_the_plan_it_was_made_of(self) -> None:
        session = Session.create(self.path)
        session.apply(edits.save_project(session.plan, project()))
        session.apply(edits.add_text("p", "A\nB"))
        a, b = session.plan.children_of("p", None)
        plan, number = session.plan, len(session.history)
        longer = session.prepare(edits.set_durations(plan, [a], 960))
        linked = session.prepare(edits.link(plan, a, b))
        self.assertIs(session.plan, plan)
        self.assertEqual(len(session.history), number, "to prepare is to change nothing")
        applied = session.commit(longer)
        assert applied is not None
        self.assertIs(session.plan, longer.plan)
        self.assertIs(session.schedule, longer.schedule, "not worked out again")
        self.assertIs(applied.after, longer.schedule)
        with self.assertRaises(MovedOn):
            session.commit(linked)
        self.assertIs(session.plan, longer.plan)
        edit = edits.rename(session.plan, a, "Other")
        self.assertIs(session.prepare(edit), session.prepare(edit), "asked twice, worked out once")
        self.assertIsNone(session.commit(session.prepare(edits.set_durations(session.plan, [a], 960))))
        session.close()

    def test_a_new_edit_after_undo_leaves_nothing_to_redo(self) -> None:
        session = Session.create(self.path)
        session.apply(edits.save_project(session.plan, project()))
        session.apply(edits.add_text("p", "A"))
        session.undo()
        self.assertEqual(session.redo_words, "Add “A”")
        session.apply(edits.add_text("p", "B"))
        with self.assertRaises(EditRefused):
            session.redo()
        session.close()
        session = Session.open(self.path)
        self.assertEqual((session.undo_words, session.redo_words), ("Add “B”", None))
        session.close()

    def test_a_loop_is_refused_at_the_door(self) -> None:
        session = Session.create(self.path)
        session.apply(edits.save_project(session.plan, project()))
        session.apply(edits.add_text("p", "A\nB\nC"))
        session.apply(edits.chain(session.plan, session.plan.children_of("p", None)))
        a, _, c = session.plan.children_of("p", None)
        before = session.plan
        with self.assertRaisesRegex(EditRefused, "“A” → “B” → “C” → “A”"):
            session.apply(edits.link(session.plan, c, a))
        self.assertIs(session.plan, before)
        session.close()
