"""The table of fields: each entry reads, writes and takes back its own text, and everything made from it agrees."""

from __future__ import annotations

import tempfile
import unittest
from collections import Counter
from datetime import datetime
from pathlib import Path

from msgspec.structs import replace

from hexapod.demo.museum import build_demo
from hexapod.errors import HexapodError
from hexapod.expressions.values import Kind
from hexapod.fields.field import IsoDates, Texts
from hexapod.fields.formulas import fields_of, names_of
from hexapod.fields.reading import Reading, Troubles
from hexapod.fields.table import BY_ID, FIELDS
from hexapod.formats.exporting import ALL, all_rows, table_of
from hexapod.formats.import_columns import ImportedField, guess
from hexapod.formats.tables import Sheet
from hexapod.plan.edits import Edit
from hexapod.plan.records import Limit, LimitKind
from hexapod.schedule.engine import schedule
from hexapod.session import Session
from tests.support import MONDAY

HOLDS = {
    Kind.TEXT: str, Kind.NUMBER: (int, float), Kind.LENGTH: int, Kind.DATE: int, Kind.YES_NO: (bool, int),
    Kind.MONEY: int,
}  # fmt: skip
DATES = IsoDates()


class Table(unittest.TestCase):
    @classmethod
    def setUpClass(cls) -> None:
        with tempfile.TemporaryDirectory() as folder:
            build_demo(path := Path(folder) / "museum.hexapod")
            session = Session.open(path)
            cls.plan = session.plan
            session.close()
        task = next(t for t in cls.plan.tasks.values() if not cls.plan.is_summary(t.id))
        limits = tuple(Limit(kind, MONDAY + i) for i, kind in enumerate(LimitKind))
        filled = replace(
            task, tags=("loan", "glass"), stream="Build", calendar="always", limits=limits, notes="One\nTwo"
        )
        cls.plan = Edit("", lambda draft: draft.put(filled)).applied_to(cls.plan)
        cls.schedule = schedule(cls.plan)
        drives = Troubles(drives=dict.fromkeys(cls.plan.tasks, 0.4))
        cls.readings = [Reading(cls.plan, cls.schedule, cls.plan.tasks[row.task], drives) for row in all_rows(cls.plan)]

    def test_names_and_headings_belong_to_one_field_each(self) -> None:
        for said in (
            [f.id for f in FIELDS],
            [f.asked_by for f in FIELDS],
            [f.title.casefold() for f in FIELDS],
            [heading for f in FIELDS for heading in f.headings],
        ):
            self.assertEqual([each for each, n in Counter(said).items() if n > 1], [])

    def test_every_field_holds_what_its_kind_says(self) -> None:
        seen = set()
        for field in fields_of(self.plan).values():
            for reading in self.readings:
                value = field.read(reading)
                if value is not None:
                    seen.add(field.id)
                    self.assertIsInstance(value, HOLDS[field.kind], field.id)
                self.assertIsInstance(field.says(reading, DATES), str)
                self.assertIsInstance(field.cell(reading), (str, int, float, datetime, type(None)), field.id)
        self.assertLessEqual(set(BY_ID) - seen, {"independent", "as_of"})

    def test_the_text_that_typing_begins_with_means_no_change(self) -> None:
        """Of dates it means the limit that holds the task there, which is not the same: they are left out."""
        tried = Counter[str]()
        for field in fields_of(self.plan).values():
            if field.edit is None or field.typed is None or field.id in ("start", "finish"):
                continue
            for reading in self.readings:
                text, task = field.typed(reading, DATES), reading.task.id
                if not reading.is_summary or field.summaries:
                    edit = field.edit(Texts(self.plan), [task], text)
                    self.assertEqual(edit.applied_to(self.plan).tasks[task], reading.task, (field.id, text))
                    tried[field.id] += bool(text)
        self.assertTrue(
            all(tried[f] for f in ("name", "duration", "links", "who", "stream", "target", "tags", "calendar"))
        )

    def test_nonsense_is_refused_with_a_sentence_or_is_a_text(self) -> None:
        free = {"name", "stream", "tags"}  # any text is one
        task = next(r for r in self.readings if not r.is_summary)
        for field in FIELDS:
            if field.edit is not None and field.id not in free:
                with self.assertRaises(HexapodError, msg=field.id) as said:
                    field.edit(Texts(self.plan), [task.task.id], "no such thing at all, 77:88")
                self.assertTrue(str(said.exception).endswith((".", "?")), str(said.exception))

    def test_what_is_exported_is_recognised_by_the_import(self) -> None:
        table, _ = table_of(self.plan, self.schedule, all_rows(self.plan))
        parts = guess(Sheet("", table, 1), self.plan).parts
        for column, part in zip(ALL, parts, strict=False):
            if column in {str(p) for p in ImportedField}:
                self.assertEqual(part, column)

    def test_queries_know_every_field(self) -> None:
        self.assertGreaterEqual(set(names_of(self.plan)), {f.asked_by for f in FIELDS})


if __name__ == "__main__":
    unittest.main()
