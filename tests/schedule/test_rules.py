"""What links do with gaps, conflicts, scheduling back, planning back, float paths: by properties and oracles."""

from __future__ import annotations

import random
import tempfile
import unittest
from pathlib import Path

from msgspec.structs import replace

from hexapod.control.soundness import soundness
from hexapod.plan import edits
from hexapod.plan.plan import Plan
from hexapod.plan.records import (
    Calendar,
    CalendarException,
    Direction,
    Gap,
    LagOn,
    Limit,
    LimitKind,
    Link,
    LinkType,
    Resource,
    TaskKind,
)
from hexapod.schedule.conflicts import ConflictKind, conflicts
from hexapod.schedule.engine import schedule
from hexapod.schedule.float_paths import float_paths
from hexapod.schedule.holders import holders
from hexapod.schedule.planning_back import demanded_start
from hexapod.schedule.reasons import ReasonKind, chain
from hexapod.schedule.slack import independent_floats
from hexapod.session import Session
from tests.support import DAY, MONDAY, at, project, random_plan, tasks

WEEK = 5 * DAY
# Hillier and Lieberman, Introduction to Operations Research, the construction project of the PERT/CPM chapter
# (from memory): durations in weeks and what each activity waits for.
WEEKS = dict(zip("ABCDEFGHIJKLMN", (2, 4, 10, 6, 4, 5, 7, 9, 7, 8, 4, 5, 2, 6), strict=True))
BEFORE = dict(zip("BCDEFGHIJKLMN", ("A", "B", "C", "C", "E", "D", "EG", "C", "FI", "J", "J", "H", "KL"), strict=True))


def construction(**fields: object) -> Plan:
    rows = tasks(*((name, weeks * WEEK) for name, weeks in WEEKS.items()))
    links = [Link(before, after) for after, all_before in BEFORE.items() for before in all_before]
    return Plan.of([project(**fields), *rows, *links])


class Textbook(unittest.TestCase):
    PATH = list("ABCEFJLN")

    def test_forward_and_back_give_the_same_floats_and_path(self) -> None:
        forward = schedule(construction())
        finish = forward.project_finish["p"]
        back = schedule(construction(start=at("2020-01-06T08:00"), direction=Direction.BACKWARD, finish=finish))
        self.assertEqual(back.project_start["p"], MONDAY)
        for name in WEEKS:
            there, here = forward.dates(name), back.dates(name)
            self.assertEqual(here.total_float, there.total_float)
            self.assertEqual((here.early_start, here.late_finish), (there.early_start, there.late_finish))
            self.assertEqual((here.start, here.finish), (there.late_start, there.late_finish))
            self.assertEqual(here.critical, name in self.PATH)
        last = chain(back, "A")
        self.assertEqual(last[0].kind, ReasonKind.PROJECT_FINISH)

    def test_the_driving_chain_and_the_ones_next_to_it(self) -> None:
        found = float_paths(schedule(construction()), "p", 3)
        self.assertEqual(list(found[0].tasks), self.PATH)
        self.assertEqual(found[0].room, 0)
        rooms = [path.room for path in found]
        self.assertEqual(rooms, sorted(rooms))
        self.assertEqual((found[1].tasks, found[1].room), (("K",), WEEK))  # K beside L, four weeks beside five

    def test_planning_back_demands_the_latest_starts(self) -> None:
        plan = construction()
        now = schedule(plan)
        finish = now.project_finish["p"]
        self.assertEqual(demanded_start(now, "N", finish).start, MONDAY)
        found = demanded_start(now, "L", finish)
        self.assertEqual({x.task for x in found.chain}, set("ABCEFIJL"))
        self.assertEqual(found.too_late_by, 0)
        earlier = demanded_start(now, "L", now.dates("L").finish - 7 * 1440)
        self.assertEqual(earlier.too_late_by, WEEK)
        found = demanded_start(now, "N", finish + 14 * 1440)
        self.assertEqual(set(found.beside), set("DGHM"))
        chain_ = [*(x.task for x in found.chain), *found.beside]
        after = schedule(edits.plan_back(plan, "N", found.at, chain_).applied_to(plan))
        self.assertEqual(after.project_finish["p"], found.at)
        self.assertEqual(min(after.dates(x.task).start for x in found.chain), MONDAY + 14 * 1440)
        for latest in found.chain:
            self.assertEqual(after.dates(latest.task).finish, latest.finish, latest.task)


class Gaps(unittest.TestCase):
    """Through the session, which knows where tasks were before an edit."""

    def setUp(self) -> None:
        self.folder = tempfile.TemporaryDirectory()
        self.addCleanup(self.folder.cleanup)

    def session(self, *records: object, gap: Gap = Gap.USE) -> Session:
        session = Session.create(Path(self.folder.name) / f"{random.random()}.hexapod")
        self.addCleanup(session.close)

        def change(draft) -> None:  # type: ignore[no-untyped-def]
            for record in (project(gap=gap), *records):
                draft.put(record)

        session.apply(edits.Edit("Begin", change))
        return session

    def with_gap(self, gap: Gap) -> Session:
        a, b = tasks(("a", DAY), ("b", DAY))
        b = replace(b, limits=(Limit(LimitKind.START_NO_EARLIER, at("2026-09-10T08:00")),))
        return self.session(a, b, Link("a", "b"), gap=gap)

    def starts(self, session: Session) -> str:
        found = session.schedule.dates("b").start
        return ["Mon", "Tue", "Wed", "Thu", "Fri", "Sat", "Sun"][(found // 1440 + 3) % 7]

    def test_use_keep_and_warn(self) -> None:
        moved = {}
        for gap in Gap:
            session = self.with_gap(gap)
            before = self.starts(session)
            session.apply(edits.set_durations(session.plan, ["a"], 2 * DAY))
            later = self.starts(session)
            session.apply(edits.set_durations(session.plan, ["a"], 5 * DAY))
            far = self.starts(session)
            session.apply(edits.set_durations(session.plan, ["a"], DAY))
            moved[gap] = (before, later, far, self.starts(session))
            for _ in range(3):
                session.undo()
            self.assertEqual(self.starts(session), "Thu")
        self.assertEqual(moved[Gap.USE], ("Thu", "Thu", "Mon", "Thu"))
        self.assertEqual(moved[Gap.KEEP], ("Thu", "Fri", "Wed", "Thu"))
        self.assertEqual(moved[Gap.WARN], ("Thu", "Thu", "Thu", "Thu"))

    def test_a_gap_that_an_edit_noted_is_kept_by_the_edits_after_it(self) -> None:
        a, b, c = tasks(("a", DAY), ("b", DAY), ("c", 5 * DAY))
        session = self.session(a, b, c, Link("a", "b", gap=Gap.KEEP), Link("c", "b"))
        session.apply(edits.set_durations(session.plan, ["a"], 2 * DAY))
        held = session.schedule.dates("b")
        self.assertEqual(session.plan.links[("a", "b", "FS")].gap_kept, 4 * DAY)
        session.apply(edits.set_durations(session.plan, ["c"], DAY))
        self.assertEqual(session.schedule.dates("b").start, held.start, "by the gap, no longer by C")
        self.assertEqual(session.schedule.dates("b"), schedule(session.plan).dates("b"))

    def test_a_limit_that_alone_holds_a_task_moves_forward_with_the_gap_that_is_kept(self) -> None:
        a, b = tasks(("a", 3 * DAY), ("b", DAY))
        b = replace(b, limits=(Limit(LimitKind.START_NO_EARLIER, at("2026-09-11T08:00")),))
        session = self.session(a, b, Link("a", "b"), gap=Gap.KEEP)
        self.assertEqual(self.starts(session), "Fri")
        session.apply(edits.set_durations(session.plan, ["a"], DAY))
        self.assertEqual(self.starts(session), "Wed")
        self.assertEqual(session.plan.tasks["b"].limits[0].at, at("2026-09-09T08:00"))
        session.undo()
        self.assertEqual((self.starts(session), session.plan.tasks["b"].limits[0].at), ("Fri", at("2026-09-11T08:00")))

    def test_only_warning_is_a_conflict_with_its_amount_and_stays_where_it_was(self) -> None:
        a, b = tasks(("a", DAY), ("b", DAY))
        session = self.session(a, b, Link("a", "b"))
        start = session.schedule.dates("b").start
        session.apply(edits.change_link(session.plan, ("a", "b", "FS"), Link("a", "b", gap=Gap.WARN)))
        self.assertEqual(session.schedule.dates("b").start, start)
        self.assertEqual(session.plan.tasks["b"].limits[0].by, session.who)
        session.apply(edits.set_durations(session.plan, ["a"], 3 * DAY))
        self.assertEqual(session.schedule.dates("b").start, start)
        (found,) = conflicts(session.schedule)
        self.assertEqual((found.kind, found.task, found.by), (ConflictKind.OVERLAP, "b", 2 * DAY))

    def test_every_way_of_making_a_change_gives_the_same_plan(self) -> None:
        """A cell, a drag, an import, a redo: all are edits through the door, and leave the same dates behind."""
        rng = random.Random(41)
        for gap in Gap:
            plan = random_plan(rng, 8, calendars=1, milestones=0.0)
            records = [r for kind in ("calendars", "tasks", "links") for r in getattr(plan, kind).values()]
            home = replace(plan.projects["p0"], gap=gap)
            limited = rng.choice(sorted(plan.tasks))
            sessions = [self.session(home, *records) for _ in range(3)]
            for session in sessions:
                session.apply(edits.set_limit(session.plan, limited, LimitKind.START_NO_EARLIER, MONDAY + 9 * 1440))
            wanted = {t: rng.randrange(1, 3000) for t in sorted(plan.tasks)}
            one, together, again = sessions
            for task_id, minutes in wanted.items():
                one.apply(edits.set_durations(one.plan, [task_id], minutes))
                edit = edits.set_task(together.plan, task_id, "Drag", duration=minutes)
                together.apply(edits.together("Drag", [edit]))
                draft = again.plan.draft()
                draft.put(replace(again.plan.tasks[task_id], duration=minutes))
                changes = draft.finish()[1]
                again.apply(edits.Edit("Import", lambda d, c=changes: [d.put(new) for _, new in c.tasks]))
            for _ in wanted:
                again.undo()
            for _ in wanted:
                again.redo()
            self.assertEqual(one.plan, together.plan)
            self.assertEqual(one.plan, again.plan)
            for task_id in plan.tasks:
                self.assertEqual(one.schedule.dates(task_id), schedule(one.plan).dates(task_id))
                self.assertEqual(one.schedule.dates(task_id), again.schedule.dates(task_id))


class Floats(unittest.TestCase):
    def test_independent_float_is_what_is_left_when_all_before_ends_late(self) -> None:
        rng = random.Random(42)
        for _ in range(30):
            plan = random_plan(rng, 8, lags=0, types="FS", milestones=0.0)
            found, independent = schedule(plan), None
            independent = independent_floats(found)
            for task_id in plan.tasks:
                dates = found.dates(task_id)
                late = [found.dates(x.predecessor).late_finish for x in plan.links_into(task_id)]
                rows = tasks((task_id, plan.tasks[task_id].minutes))
                alone = replace(rows[0], limits=tuple(Limit(LimitKind.START_NO_EARLIER, t) for t in late))
                begin = schedule(Plan.of([project(start=plan.projects["p0"].start), alone])).dates(task_id).start
                free_end = found.free_float[found.slots[task_id]]
                lost = max(0, _work(begin) - _work(dates.early_start))
                self.assertEqual(independent[found.slots[task_id]], max(0, free_end - lost))
                self.assertLessEqual(0, dates.free_float)
                self.assertLessEqual(independent[found.slots[task_id]], dates.free_float)

    def test_what_holds_a_task_next_is_the_room_left_when_the_driver_is_gone(self) -> None:
        rng = random.Random(43)
        checked = 0
        for _ in range(60):
            plan = random_plan(rng, 10, milestones=0.0)
            found = schedule(plan)
            for task_id in sorted(plan.tasks):
                ranked = holders(found, task_id)
                self.assertEqual([h.slack for h in ranked], sorted(h.slack for h in ranked))
                if ranked[0].link is None or ranked[0].slack or ranked[1].slack == 0:
                    continue
                draft = plan.draft()
                draft.remove("links", ranked[0].link.key)
                after = schedule(draft.finish()[0]).dates(task_id)
                self.assertEqual(_work(found.dates(task_id).start) - _work(after.start), ranked[1].slack)
                checked += 1
        self.assertGreater(checked, 40)


def _work(moment: int) -> int:
    """Working minutes of the standard week before a moment, counted by days."""
    day, minute = divmod(moment, 1440)
    weeks, weekday = divmod(day + 3, 7)
    whole = weeks * WEEK + min(weekday, 5) * DAY
    within = min(max(minute - 480, 0), 240) + min(max(minute - 780, 0), 240)
    return whole + (within if weekday < 5 else 0)


class Checks(unittest.TestCase):
    def test_each_check_finds_what_was_planted(self) -> None:
        a, b, c, d, e = tasks(("a", DAY), ("b", 50 * DAY), ("c", DAY), ("d", DAY), ("e", DAY))
        c = replace(c, limits=(Limit(LimitKind.MUST_START, at("2026-09-08T08:00")),), name="b")
        d = replace(d, duration=None)
        links = [Link("a", "b", lag=-60), Link("b", "c", lag=60), Link("b", "e", LinkType.SS)]
        plan = Plan.of([project(), a, b, c, d, e, *links])
        found = {f.check: f for f in soundness(schedule(plan))}
        planted = {
            "open_ends": {"d", "e"}, "leads": {"b"}, "lags": {"c"}, "link_types": {"e"}, "hard_limits": {"c"},
            "negative_float": {"a", "b", "c"}, "long_tasks": {"b"}, "no_duration": {"d"}, "conflicts": {"c"},
            "same_names": {"b", "c"}, "unassigned": {"a", "b", "c", "d", "e"}, "high_float": {"d", "e"},
        }  # fmt: skip
        for check, rows in planted.items():
            self.assertEqual(set(found[check].tasks), rows, check)
            self.assertFalse(found[check].passed, check)
        self.assertTrue(found["summary_links"].passed and found["critical_path_test"].passed)

    def test_a_plan_in_order_passes(self) -> None:
        rows = tasks(("a", DAY), ("b", DAY), ("c", DAY))
        plan = Plan.of([project(), *rows, Link("a", "b"), Link("b", "c")])
        failed = {f.check for f in soundness(schedule(plan)) if not f.passed}
        self.assertEqual(failed, {"unassigned"})

    def test_the_path_length_index_is_said_as_it_is_counted(self) -> None:
        """(critical path length + total float) / critical path length, at least 0.95 (DCMA point 13)."""
        rows = [*tasks(("a", 9 * DAY), ("b", 10 * DAY)), Link("a", "b")]  # Mon 7 Sep to Thu 1 Oct
        for target, wanted in (("2026-09-30T17:00", "0.94"), ("2026-10-01T17:00", "1.00"), (None, "no target")):
            target_finish = None if target is None else at(target)
            plan = Plan.of([replace(project(), target_finish=target_finish), *rows])
            found = next(f for f in soundness(schedule(plan)) if f.check == "path_length_index")
            self.assertEqual((found.outcome, found.tasks), (wanted, ("b",) if wanted == "0.94" else ()))


class OneByOne(unittest.TestCase):
    """Small cases whose dates can be told by heart."""

    def day(self, plan: Plan, task_id: str) -> tuple[str, str]:
        from hexapod.worktime.clock import iso

        found = schedule(plan).dates(task_id)
        return iso(found.start), iso(found.finish)

    def test_lags_by_another_calendar_elapsed_and_in_percent(self) -> None:
        a, b = tasks(("a", DAY), ("b", DAY))
        weekend = Calendar("we", "Weekend", week=((),) * 5 + (((480, 960),),) * 2)
        for link, start in (
            (Link("a", "b", lag=24 * 60, lag_on=LagOn.ELAPSED), "2026-09-09T08:00"),
            (Link("a", "b", lag_percent=200), "2026-09-10T08:00"),
            (Link("a", "b", lag=DAY), "2026-09-09T08:00"),
        ):
            self.assertEqual(self.day(Plan.of([project(), a, b, link]), "b")[0], start)
        away = Plan.of(
            [project(), weekend, a, replace(b, calendar="we"), Link("a", "b", lag=DAY, lag_on=LagOn.PROJECT)]
        )
        self.assertEqual(self.day(away, "b"), ("2026-09-12T08:00", "2026-09-12T16:00"))

    def test_who_is_away_works_later_and_is_the_reason(self) -> None:
        from hexapod.plan.records import Assignment

        a, b = tasks(("a", DAY), ("b", 2 * DAY))
        monday = MONDAY // 1440
        away = Resource("r", "Moth", "a0", leave=(CalendarException(monday + 1, monday + 2),), initials="MO")
        other = Resource("s", "Other", "a1", initials="OT")
        records = [project(), a, b, away, other, Link("a", "b"), Assignment("b", "r")]
        self.assertEqual(self.day(Plan.of(records), "b"), ("2026-09-10T08:00", "2026-09-11T17:00"))
        reason = chain(schedule(Plan.of(records)), "b")
        self.assertEqual([r.kind for r in reason[:2]], [ReasonKind.RESOURCE_CALENDAR, ReasonKind.LINK])
        both = Plan.of([*records, Assignment("b", "s")])  # from the first one's start to the last one's end
        self.assertEqual(self.day(both, "b"), ("2026-09-08T08:00", "2026-09-11T17:00"))

    def test_a_span_stretches_and_is_never_critical(self) -> None:
        a, b, c = tasks(("a", DAY), ("b", 3 * DAY), ("s", DAY))
        span = replace(c, kind=TaskKind.SPAN)
        links = [Link("a", "b"), Link("a", "s", LinkType.SS), Link("b", "s", LinkType.FF)]
        found = schedule(Plan.of([project(), a, b, span, *links]))
        self.assertEqual(found.dates("s")[:2], (found.dates("a").start, found.dates("b").finish))
        self.assertFalse(found.dates("s").critical)
        self.assertTrue(found.dates("b").longest_path)


if __name__ == "__main__":
    unittest.main()
