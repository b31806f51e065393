"""Calendar files that follow the plan: one a person, a project, all milestones; only what changed is written again."""

from __future__ import annotations

import tempfile
import unittest
from pathlib import Path

from icalendar import Calendar
from msgspec.structs import replace

from hexapod.errors import BadFile
from hexapod.formats.calendar_folder import CalendarKind, calendar_files, write_calendars
from hexapod.plan import edits
from hexapod.plan.records import TaskKind
from hexapod.schedule.engine import schedule
from hexapod.worktime.clock import moment_of
from tests.formats.test_reports import hostile_plan
from tests.reports.test_parts import rich_plan


class Calendars(unittest.TestCase):
    def setUp(self) -> None:
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.folder = Path(folder.name) / "calendars"

    def events(self, path: Path) -> dict[str, tuple[object, str]]:
        calendar = Calendar.from_ical(path.read_bytes())
        return {str(e["uid"]): (e["dtstart"].dt, str(e["summary"])) for e in calendar.walk("VEVENT")}

    def test_each_holds_what_is_its_own_with_the_dates_of_the_plan(self) -> None:
        plan = rich_plan(3)
        dates = schedule(plan)
        write_calendars(dates, self.folder, set(CalendarKind))
        leaves = [t for t in plan.tasks.values() if not plan.is_summary(t.id)]
        marks = {t.id for t in leaves if t.kind is TaskKind.MILESTONE or not t.minutes}
        self.assertEqual(set(self.events(self.folder / "Milestones.ics")), marks)
        for project in plan.projects.values():
            found = self.events(self.folder / f"{project.name}.ics")
            self.assertEqual(set(found), {t.id for t in leaves if t.project == project.id})
            for task, (start, name) in found.items():
                self.assertEqual((start, name), (moment_of(dates.dates(task).start), plan.tasks[task].name))
        for person in plan.resources.values():
            mine = {a.task for a in plan.assignments.values() if a.resource == person.id}
            mine = {t for t in mine if not plan.is_summary(t) and not plan.tasks[t].is_done}
            path = self.folder / f"{person.name}.ics"
            self.assertEqual(set(self.events(path)) if path.exists() else set(), mine)

    def test_what_says_the_same_is_not_written_again(self) -> None:
        plan = rich_plan(3)
        every = set(CalendarKind)
        count = write_calendars(schedule(plan), self.folder, every)
        self.assertEqual(count, len(list(self.folder.iterdir())))
        self.assertEqual(write_calendars(schedule(plan), self.folder, every), 0)
        task = next(t for t in plan.tasks if not plan.is_summary(t))
        renamed = edits.rename(plan, task, "Another name").applied_to(plan)
        self.assertTrue(1 <= write_calendars(schedule(renamed), self.folder, every) < count)

    def test_names_that_files_cannot_have_or_that_are_alike(self) -> None:
        plan = rich_plan(3)
        draft = plan.draft()
        for i, project in enumerate(sorted(plan.projects)):
            draft.put(replace(plan.projects[project], name=("../../etc", "../..\\ETC", "...")[i % 3]))
        names = [name for name, _ in calendar_files(schedule(draft.finish()[0]), {CalendarKind.PROJECTS})]
        self.assertEqual(len({n.casefold() for n in names}), len(names))
        for name in names:
            self.assertEqual(Path(name).name, name)
            self.assertFalse(name.startswith("."))
        for _, data in calendar_files(schedule(hostile_plan()), set(CalendarKind)):
            Calendar.from_ical(data)

    def test_a_folder_that_cannot_be_is_a_sentence(self) -> None:
        blocked = self.folder.parent / "file"
        blocked.write_text("x")
        with self.assertRaises(BadFile):
            write_calendars(schedule(rich_plan(1)), blocked / "inside", set(CalendarKind))


if __name__ == "__main__":
    unittest.main()
