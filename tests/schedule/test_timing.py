"""The window of days that calendars are compiled for, and the calendars of a task and who works on it."""

from __future__ import annotations

import unittest

from msgspec.structs import replace

from hexapod.errors import CannotSchedule
from hexapod.plan import edits
from hexapod.plan.plan import Plan
from hexapod.plan.records import Assignment, Calendar, Limit, LimitKind, Link, LinkType, Resource
from hexapod.schedule.engine import reschedule, schedule
from hexapod.schedule.timing import EARLIEST_DAY, HORIZON_DAY, TaskTime, Timing, compile_set, first_window, widened
from hexapod.worktime.calendars import BUILT_IN, Window
from tests.support import DAY, MONDAY, at, project, tasks

EARLY = Calendar("early", "Early shift", week=(((360, 600),),) * 7)
LATE = Calendar("late", "Late shift", week=(((900, 1140),),) * 7)


class Windows(unittest.TestCase):
    def test_decades_of_work_are_no_trouble(self) -> None:
        chained = tasks(*((f"t{i}", 2000 * DAY) for i in range(12)))
        links = [Link(f"t{i}", f"t{i + 1}") for i in range(11)]
        found = schedule(Plan.of([project(), *chained, *links]))
        self.assertEqual(found.dates("t11").early_finish, at("2118-09-02T17:00"))
        self.assertEqual(found.dates("t0").total_float, 0)

    def test_a_target_long_before_the_start_gives_its_float_exactly(self) -> None:
        (a,) = tasks(("a", DAY))
        found = schedule(Plan.of([project(calendar="always"), replace(a, target=at("1990-01-01T00:00"))]))
        self.assertEqual(found.dates("a").total_float, at("1990-01-01T00:00") - MONDAY - DAY)

    def test_all_that_was_typed_lies_in_the_first_window(self) -> None:
        (a,) = tasks(("a", DAY))
        far = replace(a, limits=(Limit(LimitKind.START_NO_EARLIER, at("2040-05-01T08:00")),))
        window = first_window(Plan.of([project(), far]))
        self.assertLess(window.begin, MONDAY)
        self.assertGreater(window.end, at("2041-05-01T08:00"))

    def test_a_window_widens_to_the_horizon_and_no_further(self) -> None:
        window: Window | None = Window(20_000, 24_000)
        last = window
        while window is not None:
            last, window = window, widened(window, early=True, late=True)
        assert last is not None
        self.assertEqual((last.first_day, last.last_day), (EARLIEST_DAY, HORIZON_DAY))

    def test_calendars_that_came_one_by_one_keep_their_numbers(self) -> None:
        """A crew may share the calendar of the task itself, which then comes twice at once."""
        book = {**BUILT_IN, "early": EARLY, "late": LATE}
        early, late, both = ("early",), ("late",), ("late", "standard")
        found = Timing.of(book, [("standard",)], Window(20_000, 20_400))
        for worked in (TaskTime(early, (early, late)), TaskTime(both), TaskTime(late)):
            found = found.including(book, worked)
        self.assertEqual(sorted(found.index.values()), list(range(len(found.compiled))))
        for chosen, number in found.index.items():
            fresh = compile_set(book, chosen, found.window)
            self.assertEqual(found.compiled[number].begins.tolist(), fresh.begins.tolist(), chosen)

    def test_dates_do_not_depend_on_the_window(self) -> None:
        records = [project(), *tasks(("a", DAY), ("b", 3 * DAY)), Link("a", "b", LinkType.SS, 240)]
        found = schedule(Plan.of(records))
        wider = found.network.widened(early=True, late=True)
        assert wider is not None
        from hexapod.schedule.engine import schedule_network

        again = schedule_network(wider)
        self.assertEqual([again.dates(t) for t in "ab"], [found.dates(t) for t in "ab"])


class CalendarsOfATask(unittest.TestCase):
    def plan(self, *records: object) -> Plan:
        return Plan.of([project(), EARLY, LATE, *tasks(("a", 4 * 60)), *records])  # type: ignore[list-item]

    def test_assigned_work_runs_only_where_task_and_resource_both_work(self) -> None:
        found = schedule(self.plan(Resource("r", "R", "a0", calendar="early"), Assignment("a", "r")))
        self.assertEqual(found.dates("a").early_start, at("2026-09-07T08:00"))
        self.assertEqual(found.dates("a").early_finish, at("2026-09-08T10:00"))

    def test_calendars_that_never_meet_are_named(self) -> None:
        plan = self.plan(Resource("r", "R", "a0", calendar="early"), Assignment("a", "r"))
        draft = plan.draft()
        draft.put(replace(plan.tasks["a"], calendar="late"))
        with self.assertRaisesRegex(CannotSchedule, "“Late shift” and “Early shift”|“Early shift” and “Late shift”"):
            schedule(draft.finish()[0])

    def test_assigning_and_a_changed_calendar_move_dates_as_a_fresh_start_does(self) -> None:
        plan = self.plan(Resource("r", "R", "a0", calendar="early"))
        found = schedule(plan)
        for edit in (
            edits.assign(plan, ["a"], "r"),
            edits.save_calendar(plan, replace(EARLY, week=(((420, 660),),) * 7)),
            edits.save_resource(plan, Resource("r", "R", "a0", calendar=None)),
            edits.save_project(plan, project(calendar="always")),
        ):
            draft = plan.draft()
            edit.change(draft)
            after, changes = draft.finish()
            found, plan = reschedule(found, after, changes), after
            self.assertEqual(found.dates("a"), schedule(plan).dates("a"), edit.words)

    def test_a_summarys_people_do_not_hold_its_parts(self) -> None:
        s, a = tasks(("s", 0), ("a", 480))
        plan = Plan.of(
            [
                project(),
                EARLY,
                s,
                replace(a, parent="s"),
                Resource("r", "R", "a0", calendar="early"),
                Assignment("s", "r"),
            ]
        )
        self.assertEqual(schedule(plan).dates("a").early_finish, at("2026-09-07T17:00"))
