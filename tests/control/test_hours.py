"""Hours add up from every side, count as the sheets say, and are read as people type them."""

from __future__ import annotations

import random
import unittest
from datetime import date
from fractions import Fraction

from msgspec.structs import replace

from hexapod.control.efforts import Efforts
from hexapod.control.hours import By, hours_of, hours_rows, person_and_phase, total
from hexapod.control.ledger import Ledger
from hexapod.control.round import Answer, What, answer_edit, question_of
from hexapod.control.weeks import SheetSign, sign_of, team_weeks, week_of
from hexapod.control.worked import RunningClock, is_forgotten, log_edit, outside_words, stopped
from hexapod.errors import BadText, EditRefused
from hexapod.fields.field import Texts
from hexapod.fields.hours_text import log_words, read_log, read_minutes
from hexapod.fields.reading import Reading
from hexapod.fields.table import FIELDS
from hexapod.plan import edits
from hexapod.plan.accounts import Budget, EntryKind, Log, MoneyEntry, Sheet, SheetState, monday_of
from hexapod.plan.changes import diff
from hexapod.plan.plan import Plan
from hexapod.plan.records import DAY as CLOCK_DAY
from hexapod.plan.records import Assignment, CalendarException, Resource, TaskKind
from hexapod.plan.validity import InvalidRecord, check, check_whole
from hexapod.schedule.engine import schedule
from hexapod.staffing.demand import Demand
from tests.control.spent_plans import FIRST, leaves_of, random_log, spent_plan, with_records
from tests.support import DAY, MONDAY, at, project, tasks, told

TODAY = FIRST + 4  # Friday
WEEK = ("ro", FIRST)

LOGGED = next(field for field in FIELDS if field.id == "logged")


def counted(plan: Plan) -> list[Log]:
    """The logs that count as spent, read slowly."""
    back = {(s.resource, s.week) for s in plan.sheets.values() if s.state is SheetState.SENT_BACK}
    return [log for log in plan.logs.values() if (log.resource, monday_of(log.day)) not in back]


class AddingUp(unittest.TestCase):
    def test_from_every_side_to_the_minute(self) -> None:
        for seed in range(25):
            plan = spent_plan(random.Random(seed))
            efforts, ledger = Efforts.of(schedule(plan)), Ledger.of(plan)
            for one in ("", *plan.projects):
                wanted = sum(x.minutes for x in counted(plan) if one in ("", plan.tasks[x.task].project))
                wholes = {by: total(hours_rows(efforts, ledger, by, one)) for by in By}
                self.assertEqual({hours.logged for hours in wholes.values()}, {wanted}, seed)
                self.assertEqual(wholes[By.BRANCH], wholes[By.PHASE])
                self.assertEqual(wholes[By.BRANCH], wholes[By.STREAM])
                if one:
                    parts = person_and_phase(efforts, ledger, one)
                    self.assertEqual(sum(hours.logged for _, _, hours in parts), wanted)
            for task in plan.tasks:
                wanted = sum(x.minutes for x in counted(plan) if x.task in plan.branch(task))
                self.assertEqual(hours_of(efforts.schedule, ledger, efforts, task).logged, wanted)
                reading = Reading(plan, efforts.schedule, plan.tasks[task])
                self.assertEqual(LOGGED.read(reading), wanted, "the outline says the same")

    def test_planned_is_rate_times_length_and_the_rest_what_is_left_of_it(self) -> None:
        for seed in range(25):
            plan = spent_plan(random.Random(100 + seed), logs=5)
            said = set(leaves_of(plan)[::3])
            plan = with_records(plan, *(replace(plan.tasks[t], effort=4321) for t in said))
            dates = schedule(plan)
            efforts = Efforts.of(dates)
            for task_id in leaves_of(plan):
                task, slot = plan.tasks[task_id], dates.slots[task_id]
                if task_id in said:
                    self.assertEqual(efforts.whole[slot], 4321)
                    continue
                rates = [Fraction(str(a.units)) for a in plan.assignments_of(task_id)]
                self.assertEqual(efforts.whole[slot], (task.minutes * sum(rates) + Fraction(1, 2)).__floor__(), task_id)
                rest = 0 if task.is_done else task.rest if task.is_begun else task.minutes
                if task.kind is TaskKind.TASK:
                    self.assertAlmostEqual(int(efforts.left[slot]), float(rest * sum(rates)), delta=1)

    def test_a_ledger_that_follows_edits_is_the_one_from_scratch_in_whatever_order(self) -> None:
        for seed in range(20):
            rng = random.Random(seed)
            plan = spent_plan(rng, logs=30)
            ledger = Ledger.of(plan)
            for i in range(25):
                draft = plan.draft()
                for _ in range(rng.randrange(1, 4)):
                    if rng.random() < 0.3 and len(plan.logs) > 3:
                        draft.remove("logs", rng.choice(sorted(plan.logs)))
                    else:
                        known = rng.choice((f"n{i}", rng.choice(sorted(plan.logs))))
                        draft.put(random_log(rng, plan, known))
                if rng.random() < 0.3:
                    sheet = rng.choice(sorted(plan.sheets.values(), key=lambda s: s.id))
                    draft.put(replace(sheet, state=rng.choice(list(SheetState))))
                if rng.random() < 0.1:
                    who = rng.choice(sorted(plan.resources))
                    draft.put(replace(plan.resources[who], rate=rng.randrange(9000)))
                after, changes = draft.finish()
                ledger, plan = ledger.after(after, changes), after
                fresh = Ledger.of(plan)
                for day in (None, FIRST + 10):
                    for what in ("minutes", "cost"):
                        mine = ledger.by_task(ledger.counting(day), getattr(ledger, what))
                        self.assertEqual(mine, fresh.by_task(fresh.counting(day), getattr(fresh, what)))

    def test_the_demand_of_before_is_used_again_only_where_it_still_holds(self) -> None:
        plan = spent_plan(random.Random(3))
        before = Efforts.of(schedule(plan))
        task, who = next(iter(plan.assignments))
        plan = edits.set_assignments(plan, task, [Assignment(task, who, 3.0)]).applied_to(plan)
        again = Efforts.of(schedule(plan), Demand.of(schedule(plan), plan, before.demand))
        self.assertEqual(again.whole.sum(), Efforts.of(schedule(plan)).whole.sum())


class Typing(unittest.TestCase):
    def setUp(self) -> None:
        self.plan = Plan.of([project(), *tasks(("a", 5 * DAY))])
        self.texts = Texts(self.plan)

    def test_hours_alone(self) -> None:
        for text, minutes in (
            ("2h", 120), ("2 h", 120), ("45m", 45), ("45 min", 45), ("1:30", 90), ("1.5", 90), ("1,5 h", 90),
            ("1h30", 90), ("1h 30m", 90), ("0.25h", 15), ("-2h", -120), ("−30m", -30), ("8", 480), ("2 hours", 120),
        ):  # fmt: skip
            self.assertEqual(read_minutes(text), minutes, text)
        for text in ("", "h", "two", "1:75", "2d", "1.5.5", "2h of", "=2", "²"):
            with self.assertRaises(BadText, msg=text):
                read_minutes(text)

    def test_a_day_before_and_progress_and_a_note_behind(self) -> None:
        iso = date.fromordinal(date(1970, 1, 1).toordinal() + TODAY).isoformat()
        for text, wanted in (
            ("2h", (TODAY, 120, "", None, None)),
            ("2h pins cleaned", (TODAY, 120, "pins cleaned", None, None)),
            (f"{iso} 3h pins cleaned", (TODAY, 180, "pins cleaned", None, None)),
            ("2026-09-08 45m", (FIRST + 1, 45, "", None, None)),
            ("2h 60% labels", (TODAY, 120, "labels", 60.0, None)),
            ("2h 60 %: labels", (TODAY, 120, "labels", 60.0, None)),
            ("4h left 1d", (TODAY, 240, "", None, 480)),
            ("4h 2d left, wire is bent", (TODAY, 240, "2d left, wire is bent", None, None)),
            ("4h 2d left wire", (TODAY, 240, "wire", None, 960)),
            ("3h done", (TODAY, 180, "", 100.0, None)),
            ("3h done in the yard", (TODAY, 180, "in the yard", 100.0, None)),
            ("3h 3 drawers", (TODAY, 180, "3 drawers", None, None)),
            ("-2h not mine", (TODAY, -120, "not mine", None, None)),
        ):
            found = read_log(self.texts, "a", text, TODAY)
            self.assertEqual((found.day, found.minutes, found.note, found.percent, found.remaining), wanted, text)
            self.assertTrue(log_words(self.texts, found, TODAY))

    def test_what_is_still_to_come_or_says_nothing_is_refused_in_a_sentence(self) -> None:
        tomorrow = date.fromordinal(date(1970, 1, 1).toordinal() + TODAY + 1).isoformat()
        for text in (f"{tomorrow} 2h", "", "pins cleaned", "0h", "2h 130%", "2h " + "x" * 3000):
            with self.assertRaises(BadText, msg=text) as refused:
                read_log(self.texts, "a", text, TODAY)
            self.assertTrue(str(refused.exception).endswith("."), refused.exception)


class Sheets(unittest.TestCase):
    def setUp(self) -> None:
        self.plan = Plan.of([
            project(), *tasks(("a", 5 * DAY), ("b", 5 * DAY)), Resource("ro", "Roza", "a0", initials="RO"),
            Resource("dk", "Dara", "b0", initials="DK"), Assignment("a", "ro"), Log("l1", "a", "ro", FIRST, 300),
        ])  # fmt: skip

    def do(self, edit: edits.Edit) -> None:
        after = edit.applied_to(self.plan)
        check(after, diff(self.plan, after))
        self.plan = after

    def refused(self, make: object) -> str:
        with self.assertRaises((EditRefused, InvalidRecord)) as found:
            self.do(make())  # type: ignore[operator]
        return str(found.exception)

    def state(self) -> SheetState | None:
        sheet = self.plan.sheet_in(WEEK)
        return None if sheet is None else sheet.state

    def test_the_way_of_a_week(self) -> None:
        self.assertIn("not handed in", self.refused(lambda: edits.approve(self.plan, WEEK, "Nell")))
        self.do(edits.hand_in(self.plan, WEEK, "Roza"))
        self.assertIn("handed in", self.refused(lambda: edits.save_logs(self.plan, [Log("l2", "a", "ro", FIRST, 60)])))
        self.do(edits.take_sheet_back(self.plan, WEEK, "Roza"))
        self.do(edits.save_logs(self.plan, [Log("l2", "a", "ro", FIRST + 6, 60)]))
        self.do(edits.hand_in(self.plan, WEEK, "Roza"))
        self.assertIn("word", self.refused(lambda: edits.send_back(self.plan, WEEK, "Nell", "  ")))
        self.do(edits.send_back(self.plan, WEEK, "Nell", "Sunday?"))
        sheet = self.plan.sheet_in(WEEK)
        assert sheet is not None
        self.assertEqual((sheet.state, sheet.by, sheet.word), (SheetState.SENT_BACK, "Nell", "Sunday?"))
        self.do(edits.remove_logs(self.plan, ["l2"]))
        self.do(edits.hand_in(self.plan, WEEK, "Roza"))
        self.do(edits.approve(self.plan, WEEK, "Nell"))
        self.assertIs(self.state(), SheetState.APPROVED)
        self.do(edits.save_logs(self.plan, [Log("l3", "a", "ro", FIRST + 7, 60)]))  # another week is open

    def test_what_is_approved_stays_whatever_way_it_is_tried(self) -> None:
        self.do(edits.hand_in(self.plan, WEEK, "Roza"))
        self.do(edits.approve(self.plan, WEEK, "Nell"))
        log = self.plan.logs["l1"]
        tries = (
            lambda: edits.save_logs(self.plan, [replace(log, minutes=10)]),
            lambda: edits.save_logs(self.plan, [replace(log, day=FIRST + 7)]),
            lambda: edits.remove_logs(self.plan, ["l1"]),
            lambda: edits.remove_tasks(self.plan, ["a"]),
            lambda: edits.Edit("By a back door", lambda draft: draft.put(replace(log, minutes=1))),
            lambda: edits.Edit("By another", lambda draft: draft.put(replace(log, resource="dk"))),
        )
        for attempt in tries:
            self.assertIn("approved", self.refused(attempt))
        self.do(edits.correct(self.plan, Log("c1", "a", "ro", FIRST, -120, "Tuesday was leave")))
        self.assertEqual(sum(x.minutes for x in self.plan.logs_about("a")), 180)
        self.assertEqual(self.plan.logs["l1"], log)
        self.assertIn("stays", self.refused(lambda: edits.remove_resource(self.plan, "ro")))

    def test_a_day_has_24_hours(self) -> None:
        self.assertIn("30 h", self.refused(lambda: edits.save_logs(self.plan, [Log("l2", "b", "ro", FIRST, 1800)])))
        said = self.refused(lambda: edits.save_logs(self.plan, [Log("l2", "b", "ro", FIRST, 1200)]))
        self.assertIn("25 h on one day", said)
        self.do(edits.save_logs(self.plan, [Log("l2", "b", "ro", FIRST, 1140), Log("l3", "b", "dk", FIRST, 1440)]))
        self.do(edits.save_logs(self.plan, [replace(self.plan.logs["l1"], minutes=200)]))

    def test_one_sheet_a_week(self) -> None:
        double = [Sheet("s1", "ro", FIRST), Sheet("s2", "ro", FIRST)]
        with self.assertRaises(InvalidRecord):
            check_whole(Plan.of([*self.plan.resources.values(), *double]))
        with self.assertRaises(InvalidRecord):
            check_whole(Plan.of([*self.plan.resources.values(), Sheet("s1", "ro", FIRST + 1)]))

    def test_hours_begin_what_has_not_begun_and_say_how_far_it_is(self) -> None:
        self.do(log_edit(self.plan, [Log("l2", "b", "dk", FIRST + 1, 120, "", 40.0)]))
        task = self.plan.tasks["b"]
        self.assertEqual((task.actual_start, task.percent), (at("2026-09-08T08:00"), 40.0))
        self.do(log_edit(self.plan, [Log("l3", "b", "dk", FIRST + 2, 120, "", None, 960)]))
        self.assertEqual((self.plan.tasks["b"].rest, self.plan.tasks["b"].actual_start), (960, at("2026-09-08T08:00")))

    def test_a_task_that_goes_takes_its_hours_along_and_undo_brings_them_back(self) -> None:
        before = self.plan
        edit = edits.remove_tasks(self.plan, ["a"])
        self.do(edit)
        self.assertEqual((len(self.plan.logs), self.plan.logs_in.get(WEEK)), (0, None))
        back = diff(before, self.plan).inverse().applied_to(self.plan)
        self.assertEqual(back, before)
        self.assertEqual(back.logs_on["a"], ("l1",))
        again = edits.bring_back(self.plan, before, "a").applied_to(self.plan)
        self.assertEqual(again.logs_on["a"], ("l1",))


class Money(unittest.TestCase):
    def test_what_was_entered_for_rows_that_go_stays_with_their_project(self) -> None:
        day = FIRST
        plan = Plan.of([
            project(), *tasks(("a", DAY), ("b", DAY)),
            MoneyEntry("e", "p", "Glass", EntryKind.COST, 500, day, day, "a"), Budget("x", "p", "a", amount=9),
            Budget("y", "p", "b", amount=9),
        ])  # fmt: skip
        after = edits.remove_tasks(plan, ["a", "b"]).applied_to(plan)
        check(after, diff(plan, after))
        self.assertEqual((after.entries["e"].task, after.entries["e"].amount, len(after.budgets)), (None, 500, 0))
        gone = edits.remove_project(plan, "p").applied_to(plan)
        self.assertFalse(gone.entries or gone.budgets or gone.projects)
        both = edits.together("Both", [edits.remove_tasks(plan, ["a"]), edits.remove_tasks(plan, ["b"])])
        self.assertFalse(both.applied_to(plan).budgets)
        back = edits.bring_back(after, plan, "a").applied_to(after)
        self.assertEqual((back.entries["e"].task, set(back.budgets)), ("a", {"x"}))


class Weeks(unittest.TestCase):
    def plan(self) -> Plan:
        leave = (CalendarException(FIRST + 2, FIRST + 3),)
        a, b, c = tasks(("a", 3 * DAY), ("b", 5 * DAY), ("c", DAY))
        b = replace(b, percent=100.0)
        return told(Plan.of([
            project(), a, b, c, Resource("ro", "Roza", "a0", leave=leave, calendar="standard"),
            Resource("dk", "Dara", "b0", capacity=0.5, calendar="standard"), Resource("new", "New", "c0"),
            Assignment("a", "ro"), Assignment("b", "ro"), Assignment("c", "dk"), Assignment("c", "new"),
            Log("l1", "a", "ro", FIRST, 200), Log("l2", "a", "ro", FIRST, 100), Log("l3", "b", "ro", FIRST - 5, 60),
            Log("l4", "c", "ro", FIRST - 6, 60),
        ]))  # fmt: skip

    def test_a_week_shows_what_was_logged_offers_the_rest_and_knows_leave(self) -> None:
        week = week_of(schedule(self.plan()), "ro", FIRST)
        self.assertEqual([row.task for row in week.rows if not row.is_offered], ["a"])
        self.assertEqual([row.task for row in week.rows if row.is_offered], ["c"], "done work is not offered")
        self.assertEqual((week.total, week.by_day[0]), (300, 300))
        self.assertEqual(week.can, (480, 480, 0, 0, 480, 0, 0))
        self.assertEqual(week.away, (False, False, True, True, False, False, False))

    def test_a_team_at_a_glance(self) -> None:
        plan = self.plan()
        rows = {r.person: r for r in team_weeks(schedule(plan), ["ro", "dk", "new"], FIRST, 3, FIRST + 7)}
        self.assertEqual([c.sign for c in rows["ro"].cells], [SheetSign.NOTHING, SheetSign.MISSING, SheetSign.MISSING])
        self.assertEqual({c.sign for c in rows["new"].cells}, {SheetSign.NOTHING})
        self.assertEqual([(c.logged, c.can) for c in rows["ro"].cells][2], (300, 1440))
        self.assertEqual(rows["dk"].cells[2].can, 1200)
        for state, sign in (
            (SheetState.HANDED_IN, SheetSign.HANDED_IN),
            (SheetState.APPROVED, SheetSign.APPROVED),
            (SheetState.SENT_BACK, SheetSign.SENT_BACK),
            (SheetState.OPEN, SheetSign.MISSING),
        ):
            handed = with_records(plan, Sheet("s", "ro", FIRST, state))
            self.assertIs(sign_of(handed, ("ro", FIRST), 60.0, FIRST + 7, FIRST - 7), sign)
        self.assertIs(sign_of(plan, ("ro", FIRST), 60.0, FIRST + 6, FIRST), SheetSign.OPEN)
        self.assertIs(sign_of(plan, ("dk", FIRST), 0.0, FIRST + 9, FIRST - 7), SheetSign.AWAY)


class FormsAndClocks(unittest.TestCase):
    def test_hours_of_a_form_become_a_log_of_whoever_told(self) -> None:
        plan = Plan.of([project(), *tasks(("a", 5 * DAY)), Resource("ro", "Roza", "a0", initials="RO")])
        now = at("2026-09-09T12:00")
        question = question_of(schedule(plan), "a", now)
        answer = Answer(What.LEFT, amount=960.0, who="ro", note="two drawers", worked=150)
        after = answer_edit(plan, question, answer, now, "Nell", now).applied_to(plan)
        (log,) = after.logs.values()
        self.assertEqual((log.resource, log.minutes, log.note, log.day), ("ro", 150, "two drawers", FIRST + 2))
        self.assertFalse(after.comments)
        unknown = answer_edit(plan, question, replace(answer, who="ZZ"), now, "Nell", now).applied_to(plan)
        self.assertEqual([c.text for c in unknown.comments.values()], ["2.5 h worked. two drawers"])

    def test_hours_of_who_is_not_on_it_or_had_left_are_taken_and_said(self) -> None:
        left = Resource("ro", "Roza", "a0", capacity_from=((FIRST + 3, 0.0),))
        plan = Plan.of([project(), *tasks(("a", DAY)), left, Resource("dk", "Dara", "b0"), Assignment("a", "ro")])
        self.assertEqual(outside_words(plan, "a", "ro", FIRST + 2), "")
        self.assertIn("has no time", outside_words(plan, "a", "ro", FIRST + 3))
        self.assertIn("is not on “a”", outside_words(plan, "a", "dk", FIRST))

    def test_a_clock_that_was_forgotten_is_asked_about(self) -> None:
        plan = Plan.of([project(), *tasks(("a", DAY)), Resource("ro", "Roza", "a0")])
        clock = RunningClock("a", MONDAY)
        self.assertFalse(is_forgotten(clock, MONDAY + 180))
        self.assertTrue(is_forgotten(clock, MONDAY + CLOCK_DAY))
        self.assertTrue(is_forgotten(clock, MONDAY + 13 * 60))
        (log,) = stopped(plan, "ro", clock, MONDAY + 42)
        self.assertEqual((log.minutes, log.day), (42, FIRST))
        (log,) = stopped(plan, "ro", clock, MONDAY + 4 * CLOCK_DAY, 90)
        self.assertEqual((log.minutes, log.day), (90, FIRST))
        self.assertEqual(stopped(plan, "ro", clock, MONDAY + 42, 0), [])
        self.assertEqual(stopped(plan, "ro", RunningClock("gone", MONDAY), MONDAY + 42), [])
