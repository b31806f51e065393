"""The plan in one piece: the same as the tables, and passed over whenever it might not be."""

from __future__ import annotations

import os
import random
import sqlite3
import stat
import tempfile
import unittest
from concurrent.futures import ThreadPoolExecutor
from pathlib import Path
from unittest.mock import patch

import numpy as np

from hexapod.errors import BadFile
from hexapod.plan import edits
from hexapod.plan.partial import NotReadYet, PartialPlan
from hexapod.plan.plan import Plan
from hexapod.plan.records import Task
from hexapod.schedule.engine import schedule
from hexapod.schedule.network import Network
from hexapod.session import Session
from hexapod.store.snapshot import SIGNED, Snapshot, decoded, encoded, place_of
from hexapod.store.workspace import Workspace
from tests.schedule.test_kept_network import columns_by_task
from tests.store.signing import sign_again
from tests.storm import random_step
from tests.support import project, random_plan


def plan_of(found: Snapshot) -> Plan:
    whole = found.whole()
    assert whole is not None
    return whole[0]


class Snapshots(unittest.TestCase):
    def setUp(self) -> None:
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        cache = patch.dict(os.environ, {"XDG_CACHE_HOME": f"{folder.name}/cache"})
        cache.start()
        self.addCleanup(cache.stop)
        self.path = Path(folder.name) / "Small.hexapod"
        session = Session.create(self.path)
        session.apply(edits.save_project(session.plan, project()))
        session.apply(edits.add_text("p", "Survey\nBuild\n  Frames\n  Glass"))
        session.compute()
        self.plan, self.dates = session.plan, session.schedule
        session.close()

    def snapshot(self) -> Snapshot | None:
        workspace = Workspace.open(self.path, read_only=True)
        try:
            return workspace.read_snapshot()
        finally:
            workspace.close()

    def forge(self, data: bytes) -> None:
        """Put other bytes behind the sign of the copy."""
        place = place_of(self.path)
        place.write_bytes(place.read_bytes()[:SIGNED] + data)

    def sql(self, statement: str, *values: object) -> None:
        connection = sqlite3.connect(self.path)
        connection.execute(statement, values)
        connection.commit()
        connection.close()

    def test_random_plans_come_back_identical(self) -> None:
        rng = random.Random(5)
        plan = random_plan(rng, 30, calendars=2, summaries=True, resources=3, projects=2)
        for _ in range(400):
            step = random_step(rng, plan)
            plan = step[1] if step else plan
        found = decoded(encoded(plan, None))
        assert found is not None
        self.assertEqual(plan_of(found), plan)
        self.assertEqual(dict(plan_of(found).children), dict(Plan.of(self._records(plan)).children))
        self.assertIsNone(found.dates)

    @staticmethod
    def _records(plan: Plan) -> list[object]:
        from hexapod.plan.kinds import KINDS

        return [record for kind in KINDS for record in getattr(plan, kind).values()]

    def test_it_is_what_a_closed_file_is_opened_from(self) -> None:
        found = self.snapshot()
        assert found is not None and found.dates is not None
        self.assertEqual(plan_of(found), self.plan)
        for task in self.plan.tasks:
            self.assertEqual(found.dates.dates(task), self.dates.dates(task))
        session = Session.open(self.path)
        self.assertEqual(session.plan, self.plan)
        self.assertEqual(session.compute().dates(next(iter(self.plan.tasks))).critical, True)
        session.close()

    def test_its_network_is_not_made_again_and_its_rules_are_not_looked_at_again(self) -> None:
        found = self.snapshot()
        assert found is not None and found.is_checked
        with patch.object(Network, "of", side_effect=AssertionError), patch.object(
            Workspace, "check_plan", side_effect=AssertionError
        ):  # fmt: skip
            session = Session.open(self.path)
            dates = session.compute()
        for task in self.plan.tasks:
            self.assertEqual(dates.dates(task), self.dates.dates(task))
        session.apply(edits.set_durations(session.plan, [sorted(self.plan.tasks)[0]], 960))
        self.assertEqual(columns_by_task(session.compute()), columns_by_task(schedule(session.plan)))
        session.close()

    def test_a_copy_of_another_version_of_the_program_is_looked_at_again(self) -> None:
        with patch("hexapod.store.snapshot.__version__", "0.0.0"):
            session = Session.open(self.path)
            session.compute()
            session.close()
        found = self.snapshot()
        assert found is not None
        self.assertFalse(found.is_checked)
        with patch.object(Workspace, "check_plan", side_effect=BadFile("looked at")):
            session = Session.open(self.path)
            with self.assertRaisesRegex(BadFile, "looked at"):
                session.compute()
        session.close()

    def test_what_a_first_picture_needs_is_there_at_once_and_the_rest_is_one_plan_for_all_who_ask(self) -> None:
        session = Session.open(self.path)
        part = session.plan_so_far
        self.assertIsInstance(part, PartialPlan)
        self.assertEqual((part.tasks, part.children), (self.plan.tasks, self.plan.children))
        for name in ("links", "assigned", "used_by", "links_at", "assignments"):
            with self.assertRaises(NotReadYet):
                getattr(part, name)
        with ThreadPoolExecutor(4) as pool:
            asked = list(pool.map(lambda _: session.plan, range(8)))
        self.assertTrue(all(plan is asked[0] for plan in asked))
        self.assertEqual(asked[0], self.plan)
        self.assertIs(session.plan_so_far, asked[0])
        session.close()

    def test_an_edit_that_came_after_makes_it_worthless(self) -> None:
        workspace = Workspace.open(self.path)
        draft = self.plan.draft()
        draft.put(Task("late", "p", "Late", "z9"))
        workspace.write(draft.finish()[1], "Add", "me")
        self.assertIsNone(self.snapshot(), "while it still waits beside the file")
        workspace.close()
        self.assertIsNone(self.snapshot())
        session = Session.open(self.path)
        self.assertIn("late", session.plan.tasks)
        session.close()

    def test_a_file_that_was_only_looked_at_is_opened_from_it_again(self) -> None:
        for has_copy in (True, False):
            if not has_copy:
                place_of(self.path).unlink()
            session = Session.open(self.path)  # and closed before its dates are there
            session.workspace.set_state("folded", ["a"])
            session.close()
            found = self.snapshot()
            assert found is not None and found.dates is not None
            self.assertEqual(plan_of(found), self.plan)
            self.assertEqual(
                [found.dates.dates(t) for t in self.plan.tasks], [self.dates.dates(t) for t in self.plan.tasks]
            )

    def test_an_edit_before_the_dates_are_there_is_in_it(self) -> None:
        session = Session.open(self.path)
        session.apply(edits.rename(session.plan, next(iter(session.plan.tasks)), "Surveyed"))
        plan = session.plan
        session.close()
        found = self.snapshot()
        assert found is not None
        self.assertEqual(plan_of(found), plan)

    def test_tables_that_somebody_else_wrote_into_come_first(self) -> None:
        self.sql("DELETE FROM tasks WHERE name = 'Glass'")
        sign_again(self.path)
        self.assertIsNone(self.snapshot())
        session = Session.open(self.path)
        self.assertNotIn("Glass", {t.name for t in session.plan.tasks.values()})
        session.close()

    def test_damage_is_passed_over(self) -> None:
        whole = place_of(self.path).read_bytes()
        rng = random.Random(6)
        for _ in range(200):
            at = rng.randrange(len(whole))
            broken = whole[:at] + bytes([whole[at] ^ (1 << rng.randrange(8))]) + whole[at + 1 :]
            place_of(self.path).write_bytes(broken)
            found = self.snapshot()
            self.assertTrue(found is None or found.whole() is None)
        for nonsense in (b"", b"nonsense", whole[:SIGNED]):
            place_of(self.path).write_bytes(nonsense)
            self.assertIsNone(self.snapshot())
        session = Session.open(self.path)
        self.assertEqual(session.plan, self.plan, "the tables are the plan")
        session.close()

    def test_what_is_read_later_comes_from_the_tables_where_its_copy_is_damaged(self) -> None:
        copy = place_of(self.path).read_bytes()
        place_of(self.path).write_bytes(copy[:-1] + bytes([copy[-1] ^ 1]))
        session = Session.open(self.path)
        self.assertIsInstance(session.plan_so_far, PartialPlan)
        self.assertEqual(session.plan, self.plan)
        session.close()
        found = self.snapshot()
        assert found is not None
        self.assertEqual(plan_of(found), self.plan, "and the copy is written anew")

    def test_a_copy_that_the_workspace_did_not_make_is_not_believed(self) -> None:
        forged = edits.rename(self.plan, next(iter(self.plan.tasks)), "Forged").applied_to(self.plan)
        self.forge(encoded(forged, None))
        self.assertIsNone(self.snapshot())
        session = Session.open(self.path)
        self.assertEqual(session.plan, self.plan)
        session.close()

    def test_a_copy_of_another_moment_is_not_believed(self) -> None:
        old_copy, old_file = place_of(self.path).read_bytes(), self.path.read_bytes()
        session = Session.open(self.path)
        session.apply(edits.rename(session.plan, next(iter(session.plan.tasks)), "Later"))
        session.close()
        place_of(self.path).write_bytes(old_copy)
        self.assertIsNone(self.snapshot(), "the copy of before, with the file of now")
        self.path.write_bytes(old_file)
        self.assertIsNone(self.snapshot(), "a file that somebody put back has another time")

    def test_copies_are_private_whatever_the_file_is(self) -> None:
        place = place_of(self.path)
        self.assertEqual([stat.S_IMODE(p.stat().st_mode) for p in (place, place.parent)], [0o600, 0o700])

    def test_one_that_breaks_a_rule_is_found_before_anything_is_computed(self) -> None:
        forged = Plan.of([project(), *(t for t in self.plan.tasks.values()), Task("x", "p", "x", "z", priority=5000)])
        glass = next(t.id for t in self.plan.tasks.values() if t.name == "Glass")
        forged = edits.remove_tasks(forged, [glass]).applied_to(forged)
        Workspace.open(self.path).close(encoded(forged, None))
        session = Session.open(self.path)
        with self.assertRaisesRegex(BadFile, "damaged.*priority"):
            session.compute()
        session.close()

    def test_a_cache_that_cannot_be_written_is_gone_without(self) -> None:
        place = place_of(self.path)
        place.unlink()
        place.parent.rmdir()
        place.parent.write_text("in the way", encoding="utf-8")
        session = Session.open(self.path)
        session.compute()
        session.close()
        self.assertIsNone(self.snapshot())

    def test_dates_are_whole_numbers_of_sixty_four_bits(self) -> None:
        found = self.snapshot()
        assert found is not None
        self.assertTrue(all(getattr(found.dates, n).dtype == np.int64 for n in ("start", "late_finish", "critical")))


if __name__ == "__main__":
    unittest.main()
