"""What leaves the house: nothing that is marked inside, in any byte of any file; and dates that are the plan's."""

from __future__ import annotations

import io
import random
import tempfile
import unittest
import zipfile
from pathlib import Path

from msgspec.structs import replace

from hexapod.formats.page.content import page_content, page_preview
from hexapod.formats.page.page import page_html
from hexapod.formats.plan_json import write_plan
from hexapod.formats.reports.files import write_report
from hexapod.plan.deliverables import Deliverable
from hexapod.plan.kept import PROJECTS
from hexapod.plan.outside import is_outside, outside_tasks
from hexapod.plan.plan import Plan
from hexapod.plan.records import (
    Assignment,
    Calendar,
    CalendarException,
    Comment,
    Field,
    FieldKind,
    Project,
    Resource,
    Task,
    TaskKind,
)
from hexapod.plan.risks import Risk, RiskDelay
from hexapod.reports.basis import Basis, outside_basis, scope_of
from hexapod.reports.catalogue import PARTS, make_report
from hexapod.reports.outside import NOT_NAMED, outside_plan
from hexapod.reports.report import plain_words
from hexapod.schedule.engine import schedule
from tests.budgets import deep_or
from tests.reports.test_parts import NOW, WEEK, rich_plan
from tests.support import DAY, MONDAY, told

SECRET, OPEN = "Zqx", "Vky"  # what no other word of a file has in it


def marked_plan(seed: int) -> Plan:
    """A plan in which every word that a person entered begins with what tells whether it may be seen."""
    rng = random.Random(seed)
    plan = rich_plan(seed)
    draft = plan.draft()
    draft.put(Calendar("own", f"{SECRET} hours", "standard", exceptions=(
        CalendarException(MONDAY // 1440 + 3, MONDAY // 1440 + 3, name=f"{SECRET} feast"),)))  # fmt: skip
    for p in sorted(plan.projects):
        draft.put(
            replace(draft.get("projects", p), outside=rng.random() < 0.4, folder=f"{SECRET} folder", calendar="own")
        )
    for t in sorted(plan.tasks):
        mark = rng.choice((None, None, True, False))
        draft.put(replace(draft.get("tasks", t), outside=mark))
    draft.put(Field("open", f"{OPEN} field", "a0", FieldKind.TEXT, outside=True))
    draft.put(Field("who", f"{OPEN} who", "a1", FieldKind.TEXT, outside=True))
    draft.put(Field("shut", f"{SECRET} field", "a2"))
    draft.put(Field("aim", f"{OPEN} aim", "a3", outside=True, of=PROJECTS))
    draft.put(Field("paid", f"{SECRET} paid", "a4", of=PROJECTS))
    for r in sorted(plan.resources):
        draft.put(
            replace(plan.resources[r], name=f"{SECRET} person {r}", initials=f"{SECRET}{r}", email=f"{SECRET}@x.y")
        )
    plan = draft.finish()[0]
    draft = plan.draft()
    for p in plan.projects.values():
        name = f"{OPEN if p.outside else SECRET} project {p.id}"
        own = ((f"{OPEN} aim", f"{OPEN if p.outside else SECRET} aim of it"), (f"{SECRET} paid", f"{SECRET} payer"))
        draft.put(replace(p, name=name, department=f"{SECRET} department", fields=own))
    for t in plan.tasks.values():
        seen = OPEN if is_outside(plan, t.id) else SECRET
        fields = ((f"{OPEN} field", f"{seen} value"), (f"{SECRET} field", f"{SECRET} value"))
        draft.put(replace(t, name=f"{seen} task {t.id}", notes=f"{SECRET} note", tags=(f"{SECRET} tag",), fields=fields,
                          stream=f"{SECRET} stream", attachments=(f"{SECRET}.pdf",)))  # fmt: skip
        draft.put(Deliverable(f"d{t.id}", t.id, f"{SECRET} drawing", "a", f"{SECRET} asked", (f"{SECRET}.pdf",)))
        draft.put(Comment(f"c{t.id}", t.id, f"{SECRET} somebody", MONDAY, f"{SECRET} words"))
    one = sorted(plan.tasks)[0]
    draft.put(Risk("r", plan.tasks[one].project, f"{SECRET} risk", chance=0.5, cause=f"{SECRET} cause",
                   delays=(RiskDelay(one, (60, 120, 600)),)))  # fmt: skip
    return told(draft.finish()[0])


def bytes_of(path: Path) -> bytes:
    """All that a file holds, unpacked."""
    data = path.read_bytes()
    if not zipfile.is_zipfile(io.BytesIO(data)):
        return data
    with zipfile.ZipFile(io.BytesIO(data)) as archive:
        parts = [archive.read(name) for name in archive.namelist()]
        inner = [zipfile.ZipFile(io.BytesIO(p)) for p in parts if zipfile.is_zipfile(io.BytesIO(p))]
        return b"\n".join([*parts, *(x.read(n) for x in inner for n in x.namelist())])


class Outside(unittest.TestCase):
    def setUp(self) -> None:
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.folder = Path(folder.name)

    def test_no_byte_of_any_file_for_outside_tells_what_is_inside(self) -> None:
        shown = 0
        for seed in range(deep_or(12, 100)):
            plan = marked_plan(seed)
            for scope in ((), (sorted(plan.projects)[0],)):
                basis = outside_basis(
                    Basis(schedule(plan), NOW, scope_of(plan, projects=scope), NOW - WEEK, NOW, past=[])
                )  # fmt: skip
                self.assertNotIn(SECRET.encode(), write_plan(basis.plan), (seed, scope))
                data = page_html(page_content(basis), plain_words())
                self.assertNotIn(SECRET.encode(), data, (seed, scope))
                shown += data.count(OPEN.encode())
                report = make_report(basis, tuple(PARTS), "Everything")
                for ending in (".html", ".xlsx", ".pptx"):
                    path = self.folder / f"all{ending}"
                    write_report(report, plain_words(), path)
                    self.assertNotIn(SECRET.encode(), bytes_of(path), (seed, scope, ending))
        self.assertGreater(shown, 500)

    def test_all_that_is_marked_goes(self) -> None:
        for seed in range(6):
            plan = marked_plan(seed)
            basis = outside_basis(Basis(schedule(plan), NOW, scope_of(plan), NOW - WEEK, NOW))
            names = {row.name for row in page_content(basis).rows}
            real = {t.name for t in plan.tasks.values() if is_outside(plan, t.id)}
            self.assertEqual({n for n in names if " task " in n}, real)
            values = {value for row in page_content(basis).rows for _, value in row.fields}
            aims = {f"{OPEN} aim of it"} if any(p.outside for p in plan.projects.values()) else set()
            self.assertEqual(values, ({f"{OPEN} value"} if real else set()) | aims)
            preview = page_preview(page_content(basis))
            work = next(p for p in preview.parts if p.id == "work")
            self.assertEqual(0 if work.table is None else len(work.table.rows), len(page_content(basis).rows))

    def test_dates_are_those_of_the_plan(self) -> None:
        for seed in range(deep_or(40, 400)):
            plan = marked_plan(seed)
            dates = schedule(plan)
            scope = [p.id for p in plan.projects_in_order()]
            made = schedule(outside_plan(dates, scope))
            for i, task_id in enumerate(outside_tasks(plan, scope)):
                if made.plan.is_summary(f"t{i}"):
                    continue
                real, found = dates.dates(task_id), made.dates(f"t{i}")
                start = real.finish if plan.tasks[task_id].kind is TaskKind.MILESTONE else real.start
                self.assertEqual((found.start, found.finish), (start, real.finish), (seed, task_id))

    def test_the_nearest_mark_above_holds(self) -> None:
        rows = [Task("a", "p", "A", "a0"), Task("b", "p", "B", "a0", parent="a", outside=False),
                Task("c", "p", "C", "a0", parent="b", duration=DAY),
                Task("d", "p", "D", "a1", parent="b", outside=True),
                Task("e", "p", "E", "a1", duration=DAY)]  # fmt: skip
        for project_mark, row_mark, seen in (
            (False, None, "d"), (True, None, "ade"), (False, True, "ad"), (True, False, "de"),
        ):  # fmt: skip
            plan = Plan.of(
                [Project("p", "P", MONDAY, "a0", outside=project_mark), replace(rows[0], outside=row_mark), *rows[1:]]
            )
            self.assertEqual(
                "".join(sorted(outside_tasks(plan, ["p"]))), "".join(sorted(seen)), (project_mark, row_mark)
            )
            for task in plan.tasks:
                self.assertEqual(is_outside(plan, task), task in seen)

    def test_a_row_whose_parent_is_inside_is_lifted_and_its_project_not_named(self) -> None:
        plan = Plan.of([
            Project("p", "Hidden", MONDAY, "a0"), Task("a", "p", "Inside", "a0"),
            Task("b", "p", "Shown", "a0", parent="a", duration=DAY, outside=True),
        ])  # fmt: skip
        made = outside_plan(schedule(plan), ["p"])
        self.assertEqual([(t.name, t.parent) for t in made.tasks.values()], [("Shown", None)])
        self.assertEqual([p.name for p in made.projects.values()], [NOT_NAMED])

    def test_people_are_never_shown_outside_and_fields_of_people_are_names(self) -> None:
        plan = Plan.of([
            Project("p", "Roof", MONDAY, "a0", outside=True), Resource("r", "Una Sorrel", "a0"),
            Field("f", "Ask", "a0", FieldKind.PERSON, outside=True),
            Task("a", "p", "Glaze", "a0", duration=DAY, fields=(("Ask", "r"),)), Assignment("a", "r"),
        ])  # fmt: skip
        (_, row) = page_content(outside_basis(Basis(schedule(plan), NOW, ("p",), NOW - WEEK, NOW))).rows
        self.assertEqual((row.who, row.fields), ("", (("Ask", "Una Sorrel"),)))


if __name__ == "__main__":
    unittest.main()
