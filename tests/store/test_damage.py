"""Files that are not what we wrote: a sentence, what is sound is still shown, and nothing in them runs."""

from __future__ import annotations

import os
import random
import sqlite3
import unittest
from typing import Any
from unittest.mock import patch

import msgspec
from hypothesis import given, settings
from hypothesis import strategies as st

from hexapod.cli import main
from hexapod.errors import BadFile
from hexapod.formats.files import load
from hexapod.plan import edits
from hexapod.plan.changes import diff
from hexapod.plan.plan import Plan
from hexapod.plan.validity import check_whole
from hexapod.session import Session
from hexapod.store.schema import TABLES
from hexapod.store.workspace import Workspace
from tests.budgets import deep_or
from tests.store.signing import sign_again
from tests.store.test_workspace import InAFolder
from tests.support import project, random_plan

FLIPS = deep_or(60, 2000)
# Values that a damaged or forged column may hold.
ODD = (
    "[" * 5000, "{" * 5000, '"\\ud800"', "null", "1e999", "[[1,2],[3]]", "x" * 2000, -(2**63), 2**63 - 1, 1e308, "",
    float("inf"), b"\xff\xfe", "\x00", "[9223372036854775807,9223372036854775807]", '{"a":' * 3000,
)  # fmt: skip


class Damage(InAFolder):
    def setUp(self) -> None:
        super().setUp()
        cache = patch.dict(os.environ, {"XDG_CACHE_HOME": str(self.path.parent / "cache")})
        cache.start()
        self.addCleanup(cache.stop)
        plan = random_plan(random.Random(7), 40, calendars=2, summaries=True, resources=3, projects=2)
        workspace = Workspace.create(self.path)
        workspace.write(diff(Plan(), plan), "All", "me")
        workspace.close()
        self.plan = plan
        self.whole = self.path.read_bytes()

    def opened(self) -> Plan | str:
        """The plan, or the sentence; any other exception is a failure."""
        try:
            session = Session.open(self.path)
        except BadFile as error:
            return str(error)
        try:
            session.compute()
            if session.workspace.missing_rows():
                return "rows are missing"
            for row in session.history:
                before, after = session.plan_after(row.number - 1), session.plan_after(row.number)
                assert (before, after) == (Plan(), self.plan), "another past in silence"
            return session.plan
        except BadFile as error:
            return str(error)
        finally:
            session.close()

    def sound(self) -> Session | str:
        try:
            return Session.open(self.path, sound_only=True)
        except BadFile as error:
            return str(error)

    def test_flipped_bytes_are_a_sentence_and_what_is_sound_is_a_plan(self) -> None:
        rng = random.Random(13)
        said = offered = 0
        for _ in range(FLIPS):
            data = bytearray(self.whole)
            for at in rng.sample(range(100, len(data)), rng.choice((1, 1, 40))):
                data[at] ^= 1 << rng.randrange(8)
            self.path.write_bytes(data)
            for suffix in ("-wal", "-shm"):
                self.path.with_name(self.path.name + suffix).unlink(missing_ok=True)
            found = self.opened()
            said += isinstance(found, str)
            if not isinstance(found, str):
                self.assertEqual(found, self.plan, "never another plan in silence")
            self.path.write_bytes(data)
            session = self.sound()
            if isinstance(session, Session):
                check_whole(session.plan)
                offered += 1
                with self.assertRaisesRegex(BadFile, "open to read"):
                    session.apply(edits.save_project(session.plan, project("new")))
                session.close()
        self.assertGreater(said, FLIPS // 20)
        self.assertGreater(offered, FLIPS // 2)

    def sql(self, statement: str, *values: object) -> None:
        connection = sqlite3.connect(self.path, isolation_level=None)
        connection.execute("PRAGMA writable_schema = ON")
        connection.execute(statement, values)
        connection.close()

    def test_odd_values_in_any_column_are_a_sentence_and_cost_only_their_row(self) -> None:
        refused = 0
        for table in TABLES.values():
            for column in table.columns:
                if column in table.key:
                    continue
                for value in random.Random(f"{table.kind}.{column}").sample(ODD, 4):
                    self.path.write_bytes(self.whole)
                    try:
                        where = f"{table.key[0]} = (SELECT min({table.key[0]}) FROM {table.kind})"
                        self.sql(f"UPDATE {table.kind} SET {column} = ? WHERE {where}", value)
                    except (sqlite3.Error, OverflowError):
                        continue  # the table itself does not take it
                    found = self.opened()
                    if isinstance(found, Plan):
                        continue
                    refused += 1
                    self.assertIn("damaged", found)
                    session = self.sound()
                    assert isinstance(session, Session), (table.kind, column, session)
                    self.assertTrue(session.workspace.left_out)
                    session.close()
        self.assertGreater(refused, 40)

    def test_rot_behind_a_true_cache_is_found_and_mended_from_what_is_open(self) -> None:
        """The copy in the cache is true; nobody would look at the tables before they are edited."""
        Session.open(self.path).close()
        session = Session.open(self.path)
        plan = session.plan
        self.assertEqual(session.look_over(), "")
        victim, gone = sorted(plan.tasks)[:2]
        connection = session.workspace._connection
        connection.execute("UPDATE tasks SET name = 'Rotten' WHERE id = ?", (victim,))
        connection.execute("DELETE FROM links")
        connection.execute("UPDATE history SET words = 'Rotten' WHERE number = 1")
        words = session.look_over()
        for part in ("2 rows", "written again", "1 edit of its history", "another disk"):
            self.assertIn(part, words)
        self.assertEqual(session.workspace.read_plan(), plan)
        session.apply(edits.rename(plan, gone, "Still edited"))
        self.assertNotIn("row", session.look_over().split("history")[0].replace("rows of", ""), "mended once")
        session.close()
        again = Session.open(self.path)
        self.assertEqual(again.plan.tasks[gone].name, "Still edited")
        with self.assertRaisesRegex(BadFile, "edit 1"):
            again.plan_after(0)
        again.close()

    def test_a_damaged_row_in_the_middle_costs_what_depends_on_it(self) -> None:
        victim = next(t for t in sorted(self.plan.tasks) if not self.plan.is_summary(t))
        self.sql("UPDATE tasks SET duration = -5, name = 'Broken' WHERE id = ?", victim)
        self.assertIn("“Broken” is not what was written", self.opened())
        sign_again(self.path)
        self.assertIn("duration of “Broken”", self.opened())
        session = self.sound()
        assert isinstance(session, Session)
        self.assertEqual(set(self.plan.tasks) - set(session.plan.tasks), {victim})
        out = self.path.with_name("sound.json")
        self.assertEqual(main(["convert", str(self.path), str(out)]), 2)
        self.assertEqual(main(["convert", "--sound", str(self.path), str(out)]), 0)
        self.assertEqual(set(load(str(out)).tasks), set(session.plan.tasks))
        self.assertRegex(" ".join(session.workspace.left_out), "Broken")
        session.close()

    def test_what_belonged_to_a_lost_row_is_kept_elsewhere(self) -> None:
        summary = next(t for t in sorted(self.plan.tasks) if self.plan.is_summary(t))
        self.sql("UPDATE projects SET calendar = '[' , unit = 'x' WHERE id = 'p0'")
        self.sql("UPDATE tasks SET limits = '[[[' WHERE id = ?", summary)
        session = self.sound()
        assert isinstance(session, Session)
        self.assertEqual(set(self.plan.tasks) - set(session.plan.tasks), {summary})
        session.compute()
        session.close()

    def test_a_schema_that_is_not_ours_to_the_letter_is_refused(self) -> None:
        for statement in (
            "CREATE TRIGGER x AFTER INSERT ON history BEGIN DELETE FROM tasks; END",
            "CREATE VIEW more AS SELECT 1",
            "CREATE TABLE more (x)",
            "CREATE VIRTUAL TABLE more USING fts5(x)",
            "CREATE INDEX more ON tasks(name)",
            "ALTER TABLE tasks ADD COLUMN more TEXT",
            "ALTER TABLE tasks ADD COLUMN more TEXT GENERATED ALWAYS AS (name) VIRTUAL",
            "ALTER TABLE tasks DROP COLUMN notes",
            "ALTER TABLE tasks RENAME COLUMN notes TO note",
            "UPDATE sqlite_schema SET sql = replace(sql, 'notes TEXT', 'notes BLOB') WHERE name = 'tasks'",
            "UPDATE sqlite_schema SET sql = replace(sql, 'notes TEXT', 'notes TEXT CHECK (notes > name)')"
            " WHERE name = 'tasks'",
            "UPDATE sqlite_schema SET sql = sql || printf('/*%.*c*/', 30000, 'x') WHERE name = 'tasks'",
        ):
            self.path.write_bytes(self.whole)
            self.sql(statement)
            before = self.path.read_bytes()
            found = self.opened()
            self.assertIsInstance(found, str, statement)
            self.assertRegex(str(found), "changed by another program|damaged")
            self.assertEqual(self.path.read_bytes(), before, "a refused file stays as it is")

    def test_a_state_that_is_odd_is_dropped(self) -> None:
        kinds: tuple[Any, ...] = (list[str], dict[str, int], str, int, bool, dict[str, list[str]], tuple[str, int])
        for value in ODD:
            self.path.write_bytes(self.whole)
            try:
                self.sql("REPLACE INTO state VALUES ('x', ?)", value)
                for name in ("open_since", "open_by", "snapshot", "finishes", "starts"):
                    self.sql("REPLACE INTO state VALUES (?, ?)", name, value)
            except sqlite3.Error:
                continue
            workspace = Workspace.open(self.path)
            for kind in kinds:
                found = workspace.remembered("x", kind, None)
                if found is not None:
                    msgspec.convert(found, kind)
            workspace.close()
            self.assertIsInstance(self.opened(), Plan, repr(value)[:50])


class States(InAFolder):
    @settings(max_examples=deep_or(40, 2000), deadline=None)
    @given(st.recursive(st.none() | st.booleans() | st.integers() | st.floats() | st.text(), lambda x: st.lists(x)
                        | st.dictionaries(st.text(), x), max_leaves=8))  # fmt: skip
    def test_whatever_is_remembered_a_session_opens(self, value: object) -> None:
        if not self.path.exists():
            self.new_session().close()
        try:
            text = msgspec.json.encode(value).decode()
        except (OverflowError, UnicodeEncodeError):
            return
        connection = sqlite3.connect(self.path, isolation_level=None)
        for name in ("open_since", "open_by", "snapshot", "finishes", "starts"):
            connection.execute("REPLACE INTO state VALUES (?, ?)", (name, text))
        connection.close()
        session = Session.open(self.path)
        self.assertEqual(len(session.plan.tasks), 3)
        session.close()


if __name__ == "__main__":
    unittest.main()
