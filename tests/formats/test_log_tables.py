"""Hours out to tables and in again: nothing twice, nothing lost, and each refusal names its row and its column."""

from __future__ import annotations

import json
import random
import tempfile
import unittest
from datetime import datetime
from pathlib import Path

import openpyxl
from msgspec.structs import replace

from hexapod.errors import BadFile
from hexapod.fields.field import Texts
from hexapod.formats.log_tables import log_rows, read_logs
from hexapod.formats.plan_json import read_plan, write_plan
from hexapod.formats.tables import write_csv, write_xlsx
from hexapod.plan.accounts import Log, Sheet, SheetState
from hexapod.plan.plan import Plan
from hexapod.plan.records import Resource
from hexapod.plan.validity import check_whole
from tests.control.spent_plans import FIRST, spent_plan, with_records
from tests.support import DAY, project, tasks

TODAY = FIRST + 60


class Tables(unittest.TestCase):
    def setUp(self) -> None:
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.folder = Path(folder.name)
        self.plan = Plan.of([
            project(), *tasks(("a", DAY), ("b", DAY)), Resource("ro", "Roza Ott", "a0", initials="RO"),
            Resource("dk", "Dara", "b0", initials="DK", email="dara@alderquay.example"),
        ])  # fmt: skip

    def csv(self, text: str) -> Path:
        path = self.folder / "hours.csv"
        path.write_text(text, encoding="utf-8")
        return path

    def read(self, text: str, plan: Plan | None = None):  # type: ignore[no-untyped-def]
        return read_logs(Texts(self.plan if plan is None else plan), self.csv(text), TODAY)

    def test_there_and_back_as_spreadsheet_and_as_text(self) -> None:
        for seed in range(6):
            plan = spent_plan(random.Random(seed), logs=25)
            named = [replace(t, name=f"{t.name} of {t.id}") for t in plan.tasks.values()]
            opened = [replace(s, state=SheetState.OPEN) for s in plan.sheets.values()]
            plan = with_records(plan, *named, *opened)
            bare = plan.draft()
            for log in plan.logs:
                bare.remove("logs", log)
            empty, rows = bare.finish()[0], log_rows(plan)
            for name, data in (("h.xlsx", write_xlsx("Hours", rows)), ("h.csv", write_csv(rows))):
                path = self.folder / name
                path.write_bytes(data)
                found = read_logs(Texts(empty), path, TODAY)
                self.assertEqual(found.findings, ())
                key = lambda x: (x.task, x.resource, x.day, x.minutes, x.note)  # noqa: E731
                self.assertEqual(sorted(map(key, found.items)), sorted(map(key, plan.logs.values())), name)
                again = read_logs(Texts(plan), path, TODAY)
                self.assertEqual((again.items, again.known), ((), len(plan.logs)), "nothing is brought twice")

    def test_a_spreadsheet_as_others_write_it(self) -> None:
        workbook = openpyxl.Workbook()
        sheet = workbook.active
        assert sheet is not None
        sheet.append(["Time sheet of September"])
        sheet.append(["Date", "Who", "Activity", "Time", "Remark"])
        sheet.append([datetime(2026, 9, 8), "RO", "A", 2.25, "=HYPERLINK(1)"])
        sheet.append([datetime(2026, 9, 9), "dara@alderquay.example", "b", "1:30", None])
        path = self.folder / "theirs.xlsx"
        workbook.save(path)
        found = read_logs(Texts(self.plan), path, TODAY)
        self.assertEqual([(x.task, x.resource, x.day, x.minutes) for x in found.items],
                         [("a", "ro", FIRST + 1, 135), ("b", "dk", FIRST + 2, 90)])  # fmt: skip

    def test_each_refusal_names_its_row_and_its_column(self) -> None:
        found = self.read(
            "Day,Person,Task,Hours,Note\n2026-09-08,RO,a,2,ok\n2026-09-08,ZZ,a,2,\n2026-09-08,RO,nothing,2,\n"
            "someday,RO,a,2,\n2026-09-08,RO,a,many,\n2026-09-08,RO,a,,\n2027-09-08,RO,a,2,\n2026-09-09,RO,a,30,\n"
        )
        self.assertEqual(len(found.items), 1)
        for i, (row, column) in enumerate(((3, "Person"), (4, "Task"), (5, "Day"), (6, "Hours"), (7, "Hours"),
                                           (8, "Day"), (9, "Hours"))):  # fmt: skip
            self.assertTrue(found.findings[i].startswith(f"Row {row}, {column}:"), found.findings[i])

    def test_closed_weeks_and_days_of_more_than_24_hours_are_left_out(self) -> None:
        plan = with_records(self.plan, Sheet("s", "ro", FIRST, SheetState.APPROVED), Log("l", "b", "dk", FIRST, 900))
        text = "Day;Person;Task;Hours\n2026-09-08;RO;a;2\n2026-09-07;DK;a;8\n2026-09-07;DK;b;8\n2026-09-08;DK;b;8\n"
        found = self.read(text, plan)
        self.assertEqual([(x.resource, x.day) for x in found.items], [("dk", FIRST + 1)])
        self.assertIn("approved", found.findings[0])
        self.assertIn("31 h on 2026-09-07", found.findings[1])

    def test_a_table_of_something_else_is_refused(self) -> None:
        with self.assertRaises(BadFile):
            self.read("Name,Start\nA,2026-09-08\n")

    def test_texts_that_a_spreadsheet_would_run_are_harmless(self) -> None:
        plan = with_records(self.plan, Log("l", "a", "ro", FIRST, 60, "=cmd()"))
        self.assertIn(b"'=cmd()", write_csv(log_rows(plan)))


class PlanJson(unittest.TestCase):
    def test_all_kinds_of_accounts_there_and_back(self) -> None:
        for seed in range(8):
            plan = spent_plan(random.Random(seed))
            again = read_plan(write_plan(plan))
            for kind in ("logs", "sheets", "entries", "budgets"):
                self.assertEqual(getattr(again, kind), getattr(plan, kind))
            check_whole(again)
            self.assertEqual(write_plan(again), write_plan(plan))

    def read(self, **lists: object) -> Plan:
        document = {
            "format": "hexapod-plan", "version": 1, "projects": [{"id": "p", "start": "2026-09-07"}],
            "tasks": [{"id": "a", "project": "p"}], "resources": [{"id": "r"}], **lists,
        }  # fmt: skip
        return read_plan(json.dumps(document).encode())

    def test_wrong_values_name_their_place(self) -> None:
        log = {"id": "l", "task": "a", "resource": "r", "day": "2026-09-07", "minutes": 60}
        sheet = {"id": "s", "resource": "r", "week": "2026-W02"}
        entry = {"id": "e", "project": "p", "kind": "cost", "amount": 5, "day": "2026-09-07"}
        undated = {"id": "e", "project": "p", "kind": "cost", "amount": 5}
        backwards = {"task": "gone", "start": "2026-09-08", "finish": "2026-09-07"}
        baseline = {"id": "b", "project": "p", "at": "2026-09-07"}
        for kind, entries, place in (
            ("logs", [{**log, "task": "x"}], "$.logs[0]"),
            ("logs", [{**log, "minutes": 0}], "$.logs[0]"),
            ("logs", [{**log, "day": "2026-09-07T08:00"}], "$.logs[0].day"),
            ("logs", [{**log, "percent": 130}], "$.logs[0]"),
            ("logs", [log, log], "$.logs[1]"),
            ("sheets", [{**sheet, "week": "2026-W54"}], "$.sheets[0].week"),
            ("sheets", [{**sheet, "state": "lost"}], "$.sheets"),
            ("sheets", [sheet, {**sheet, "id": "t"}], "$.sheets[0]"),
            ("entries", [undated], "$.entries[0]"),
            ("entries", [{**entry, "to": "2026-09-08"}], "$.entries[0]"),
            ("entries", [{**entry, "amount": 1.5}], "$.entries[0].amount"),
            ("entries", [{**entry, "amount": 10**17}], "$.entries[0]"),
            ("budgets", [{"id": "b", "project": "p"}], "$.budgets[0]"),
            ("budgets", [{"id": "b", "project": "p", "amount": 1, "from": "2026-09-07"}], "$.budgets[0]"),
            ("baselines", [{**baseline, "project": "q"}], "$.baselines[0]"),
            ("baselines", [{**baseline, "tasks": [backwards]}], "$.baselines[0]"),
        ):
            with self.assertRaises(BadFile, msg=str(entries)) as refused:
                self.read(**{kind: entries})
            self.assertIn(place, str(refused.exception))

    def test_a_baseline_of_deleted_tasks_is_kept(self) -> None:
        gone = {"task": "gone", "start": "2026-09-07", "finish": "2026-09-08", "effort": 60}
        plan = self.read(baselines=[{"id": "b", "project": "p", "at": "2026-09-07", "tasks": [gone]}])
        self.assertEqual(plan.baselines["b"].tasks[0].effort, 60)
