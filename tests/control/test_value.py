"""Earned value and earned schedule: by hand, as identities, and against a reading of the rules minute by minute."""

from __future__ import annotations

import random
import unittest

from msgspec.structs import replace

from hexapod.control.baselines import baseline_of, finish_of, project_drift
from hexapod.control.earned import TIME, WHOLE, earned_part
from hexapod.control.planned_value import Measure, Planned
from hexapod.control.soundness import soundness
from hexapod.control.value import Value, Valuing, with_branches
from hexapod.fields.reading import Reading
from hexapod.formats.answers import status_answer
from hexapod.plan.accounts import Baseline, BaselineTask, EntryKind, Log, MoneyEntry, Sheet, SheetState, monday_of
from hexapod.plan.plan import Plan
from hexapod.plan.records import DAY as CLOCK_DAY
from hexapod.plan.records import Assignment, Curve, Earns, Link, Resource, Task, TaskKind
from hexapod.query.asking import compile_query
from hexapod.schedule.drifting import drifts
from hexapod.schedule.engine import schedule
from tests.control.value_twin import Minutes, earned_schedule, planned_value
from tests.support import DAY, MONDAY, at, project, random_plan, tasks, told

WEEK = 5 * DAY
FRIDAY = at("2026-09-18T17:00")  # of the second week


def with_records(plan: Plan, *records: object) -> Plan:
    draft = plan.draft()
    for record in records:
        draft.put(record)  # type: ignore[arg-type]
    return draft.finish()[0]


def gallery(**fields: object) -> Plan:
    """Three weeks of work, one a week; after two, half of the second is done.

    The case is ours, worked by hand from the definitions of EIA-748: 40 h each at 50.00 an hour, BAC 120 h; by the end
    of the second week 80 h were planned, 60 h are earned, and 70 h and 100.00 besides are spent.
    """
    a, b, c = tasks(("a", WEEK), ("b", WEEK), ("c", WEEK))
    a = replace(a, percent=100.0, actual_start=MONDAY, actual_finish=at("2026-09-11T17:00"))
    b = replace(b, percent=50.0, actual_start=at("2026-09-14T08:00"))
    weeks = [("a", "2026-09-07", "2026-09-11"), ("b", "2026-09-14", "2026-09-18"), ("c", "2026-09-21", "2026-09-25")]
    rows = [BaselineTask(t, at(f"{s}T08:00"), at(f"{f}T17:00"), WEEK, WEEK, 200_000) for t, s, f in weeks]
    day = MONDAY // CLOCK_DAY
    return Plan.of([
        project(baseline="first", status_date=FRIDAY), a, replace(b, **fields), c, Link("a", "b"), Link("b", "c"),
        Resource("ro", "Roza Ott", "a0", rate=5000), *(Assignment(t, "ro") for t in "abc"),
        Log("l1", "a", "ro", day + 1, 50 * 60), Log("l2", "b", "ro", day + 8, 20 * 60),
        MoneyEntry("glue", "p", "Glue", EntryKind.COST, 10_000, day + 3, day + 3),
        Baseline("first", "First plan", MONDAY - 9000, "p", tuple(rows)),
    ])  # fmt: skip


def by_hand(plan: Plan, measure: Measure = Measure.HOURS, when: int | None = None) -> Value:
    moment = FRIDAY if when is None else when
    valuing = Valuing.of(plan, "p", None, moment)
    return valuing.at(moment, measure, valuing.parts() if moment >= FRIDAY else None)


class ByHand(unittest.TestCase):
    def test_hours_by_the_definitions_of_eia_748(self) -> None:
        whole = by_hand(gallery()).whole
        hours = (whole.pv, whole.ev, whole.ac, whole.bac, whole.sv, whole.cv)
        self.assertEqual(hours, (80 * 60, 60 * 60, 70 * 60, 120 * 60, -20 * 60, -10 * 60))
        self.assertEqual((whole.spi, whole.cpi), (60 / 80, 60 / 70))
        self.assertEqual(whole.eac, 140 * 60)  # 70 + 60 / (60 / 70)
        self.assertEqual((whole.eac_as_planned, whole.etc, whole.vac), (130 * 60, 70 * 60, -20 * 60))
        self.assertEqual(whole.eac_with_both, round((70 + 60 / ((60 / 70) * (60 / 80))) * 60))
        self.assertEqual(whole.tcpi, 60 / 50)

    def test_money_counts_rates_and_costs_that_were_entered(self) -> None:
        whole = by_hand(gallery(), Measure.MONEY).whole
        self.assertEqual((whole.pv, whole.ev, whole.ac, whole.bac), (400_000, 300_000, 350_000 + 10_000, 600_000))
        self.assertEqual((whole.cpi, whole.eac), (300 / 360, 720_000))
        dearer = Resource("ro", "Roza Ott", "a0", rate=5000, rate_from=((MONDAY // CLOCK_DAY + 8, 6000),))
        self.assertEqual(by_hand(with_records(gallery(), dearer), Measure.MONEY).whole.ac, 250_000 + 120_000 + 10_000)

    def test_earned_schedule_by_lipke(self) -> None:
        """60 h were planned to be earned by the middle of the second week: ES 7.5 d, AT 10 d, so 15 d take 20."""
        found = by_hand(gallery())
        self.assertEqual((found.es, found.time, found.spi_t, found.sv_t), (7.5 * DAY, 10 * DAY, 0.75, -2.5 * DAY))
        self.assertEqual((found.planned_time, found.finish), (15 * DAY, at("2026-10-02T17:00")))

    def test_a_sheet_that_was_sent_back_is_not_spent(self) -> None:
        week = monday_of(MONDAY // CLOCK_DAY + 8)
        for state in SheetState:
            plan = with_records(gallery(), Sheet("s", "ro", week, state))
            self.assertEqual(by_hand(plan).whole.ac, (50 if state is SheetState.SENT_BACK else 70) * 60)

    def test_a_newer_task_has_no_budget_and_a_deleted_one_is_never_earned(self) -> None:
        plan = gallery()
        draft = plan.draft()
        draft.remove_task("b")
        draft.put(Task("new", "p", "New", "z9", duration=DAY, percent=100.0, actual_start=MONDAY, actual_finish=MONDAY))
        found = by_hand(draft.finish()[0])
        self.assertEqual((found.whole.pv, found.whole.ev, found.whole.ac), (80 * 60, 40 * 60, 50 * 60))
        rows = with_branches(draft.finish()[0], found)
        self.assertEqual((rows["b"].pv, rows["b"].ev, rows["new"].ev, rows["new"].bac), (40 * 60, 0, 0, 0))

    def test_a_summary_adds_to_what_is_below_it_only_what_is_its_own(self) -> None:
        plan = gallery()
        first = plan.baselines["first"]
        below = [replace(plan.tasks[t], parent="top") for t in "ab"]
        for own, hours in ((False, 120), (True, 140)):
            top = BaselineTask("top", MONDAY, FRIDAY, 0, 20 * 60, own=own)
            rows = replace(first, tasks=(top, *first.tasks))
            found = by_hand(with_records(plan, Task("top", "p", "Cases", "0a"), *below, rows))
            self.assertEqual(found.whole.bac, hours * 60)

    def test_each_way_to_earn(self) -> None:
        for earns, hours in (
            (Earns.PERCENT, 60), (Earns.AT_END, 40), (Earns.HALF, 60), (Earns.TIME, 80), (Earns.MILESTONES, 60),
        ):  # fmt: skip
            self.assertEqual(by_hand(gallery(earns=earns)).whole.ev, hours * 60, earns)
        self.assertEqual(by_hand(gallery(earns=Earns.HALF, percent=10.0)).whole.ev, 60 * 60)
        self.assertEqual(by_hand(gallery(earns=Earns.AT_END, percent=90.0)).whole.ev, 40 * 60)

    def test_a_branch_earns_by_the_weights_of_its_milestones(self) -> None:
        top = Task("top", "p", "Cases", "a0", earns=Earns.MILESTONES)
        work = Task("w", "p", "Work", "a0", parent="top", duration=WEEK, percent=90.0, actual_start=MONDAY)
        first = Task("m1", "p", "Drawn", "b0", parent="top", duration=0, weight=1.0)
        second = Task("m2", "p", "Built", "c0", parent="top", kind=TaskKind.MILESTONE, weight=3.0)
        done = {"percent": 100.0, "actual_start": MONDAY, "actual_finish": MONDAY}
        rows = (BaselineTask("w", MONDAY, MONDAY + 9 * CLOCK_DAY, WEEK, 1000),)
        for reached, part in (((first, second), 0), ((replace(first, **done), second), 250),
                              ((first, replace(second, **done)), 750)):  # fmt: skip
            plan = Plan.of([project(baseline="b"), top, work, *reached, Baseline("b", "B", MONDAY, "p", rows)])
            self.assertEqual(by_hand(plan).whole.ev, part)

    def test_what_has_no_value_says_why(self) -> None:
        plan = gallery()
        early = by_hand(plan, when=MONDAY)  # before anything was planned, and before the status date
        self.assertEqual((early.whole.pv, early.whole.ev, early.whole.spi, early.es), (0, None, None, None))
        self.assertIn("history", early.missing["ev"])
        bare = by_hand(with_records(plan, replace(plan.projects["p"], baseline=None)))
        self.assertEqual((bare.whole.pv, bare.whole.ev, bare.whole.ac), (None, None, 70 * 60))
        self.assertIn("baseline", bare.missing["pv"])
        draft = plan.draft()
        for log in plan.logs:
            draft.remove("logs", log)
        unspent = by_hand(draft.finish()[0])
        self.assertEqual((unspent.whole.cpi, unspent.whole.eac), (None, None))
        self.assertIn("spent", unspent.missing["cpi"])
        untold = replace(plan.tasks["b"], percent=0.0, actual_start=None)
        none = by_hand(with_records(plan, untold, replace(plan.tasks["a"], percent=0.0, actual_start=None,
                                                          actual_finish=None)))  # fmt: skip
        self.assertEqual((none.whole.ev, none.es, none.spi_t, none.finish), (0, 0.0, 0.0, None))


class AgainstTheBaseline(unittest.TestCase):
    def test_missed_tasks_and_the_execution_index_of_dcma_11_and_14(self) -> None:
        """By hand: two of three were due by the status date; one is done in time, the other is to end a week late."""
        findings = {f.check: f for f in soundness(schedule(gallery()))}
        missed, index = findings["missed_tasks"], findings["execution_index"]
        self.assertEqual((missed.tasks, missed.figure, missed.passed), (("b",), "50% of 2", False))
        self.assertEqual((index.tasks, index.figure, index.passed), (("b",), "0.50", False))
        plain = gallery()
        bare = with_records(plain, replace(plain.projects["p"], baseline=None))
        findings = {f.check: f for f in soundness(schedule(bare))}
        self.assertEqual({findings[c].figure for c in ("missed_tasks", "execution_index")}, {"no baseline"})
        self.assertTrue(findings["missed_tasks"].passed and findings["execution_index"].passed)
        unbegun = with_records(plain, Log("l9", "c", "ro", MONDAY // CLOCK_DAY + 8, 60))
        findings = {f.check: f for f in soundness(schedule(unbegun))}
        self.assertEqual(findings["hours_before_begin"].tasks, ("c",))

    def test_status_says_drift_and_what_was_expected(self) -> None:
        answer = {t["id"]: t for t in status_answer(schedule(gallery()), MONDAY // CLOCK_DAY)["tasks"]}
        self.assertEqual([answer[t]["expected_percent"] for t in "abc"], [100.0, 100.0, 0.0])
        self.assertEqual(answer["b"]["drift"], {"start": 0, "finish": WEEK // 2})
        self.assertEqual(answer["c"]["drift"], {"start": WEEK // 2, "finish": WEEK // 2})

    def test_a_query_asks_for_drift(self) -> None:
        plan = gallery()
        dates = schedule(plan)
        for text, wanted in (("drift > 2 d", {"b", "c"}), ("drift = 0 d", {"a"}), ("start drift > 0 d", {"c"})):
            query = compile_query(plan, text)
            found = {t for t in plan.tasks if query.value(Reading(plan, dates, plan.tasks[t]))}
            self.assertEqual(found, wanted, text)


class OnRandomPlans(unittest.TestCase):
    def plans(self, count: int) -> list[tuple[random.Random, Plan]]:
        found = []
        for seed in range(count):
            rng = random.Random(seed)
            plan = random_plan(rng, 12, calendars=1, summaries=seed % 2 == 1, resources=2, milestones=0.15)
            curves = [replace(a, curve=rng.choice(list(Curve))) for a in plan.assignments.values()]
            rates = [replace(r, rate=rng.randrange(9000)) for r in plan.resources.values()]
            plan = with_records(plan, *curves, *rates)
            baseline = baseline_of(schedule(plan), "p0", "b", "B", MONDAY)
            plan = with_records(plan, baseline, replace(plan.projects["p0"], baseline="b"))
            some = [t for t in plan.tasks.values() if not plan.is_summary(t.id)]
            said = [replace(t, percent=float(rng.choice((0, 25, 99.5, 100))), earns=rng.choice(list(Earns)))
                    for t in some]  # fmt: skip
            found.append((rng, told(with_records(plan, *said))))
        return found

    def test_planned_value_and_earned_schedule_agree_with_the_minutes(self) -> None:
        for rng, plan in self.plans(14):
            baseline = plan.baselines["b"]
            first, last = plan.projects["p0"].start, finish_of(baseline) or 0
            planned = Planned.of(plan, baseline, last + 9 * CLOCK_DAY)
            minutes = Minutes(plan, first, last)
            rows = [row for row in baseline.tasks if row.task in planned.tasks]
            for moment in (first, last, *(rng.randrange(first, last + 1) for _ in range(6))):
                self.assertEqual(planned.total(moment, Measure.HOURS), planned_value(minutes, rows, moment), moment)
            for part in (0.0, 0.3, 0.77, 1.0):
                earned = round(part * sum(row.effort for row in rows))
                wanted = earned_schedule(plan, minutes, baseline, rows, earned) if earned else 0
                self.assertAlmostEqual(planned.earned_schedule(earned, Measure.HOURS), float(wanted), places=6)

    def test_identities(self) -> None:
        for _, plan in self.plans(25):
            dates = schedule(plan)
            for measure in Measure:
                end = (finish_of(plan.baselines["b"]) or 0) + CLOCK_DAY
                valuing = Valuing.of(plan, "p0", None, end)
                value = valuing.at(end, measure, valuing.parts())
                whole = value.whole
                self.assertEqual(whole.pv, whole.bac)
                self.assertEqual(whole.pv, sum(f.pv or 0 for f in value.tasks.values()))
                self.assertEqual(whole.ev, sum(f.ev or 0 for f in value.tasks.values()))
                rows = with_branches(plan, value)
                tops = [rows[t] for t in plan.children_of("p0", None)]
                self.assertEqual(whole.ev, sum(f.ev or 0 for f in tops))
                done = dict.fromkeys(plan.tasks, WHOLE)
                all_done = Valuing.of(plan, "p0", None, end).at(end, measure, done)
                self.assertEqual((all_done.whole.ev, all_done.whole.left), (whole.bac, 0))
            there = {t.id for t in plan.tasks.values() if t.project == "p0"}
            self.assertEqual(set(drifts(dates, plan.baselines["b"])), there)

    def test_nothing_drifts_from_a_baseline_of_now(self) -> None:
        for _, plan in self.plans(10):
            dates = schedule(plan)
            fresh = baseline_of(dates, "p0", "now", "Now", MONDAY)
            self.assertEqual({d for drift in drifts(dates, fresh).values() for d in drift}, {0})
            self.assertEqual(project_drift(dates, fresh), 0)

    def test_a_part_counts_by_its_digits(self) -> None:
        task = Task("t", "p", "T", "a0", duration=DAY, percent=33.3, actual_start=MONDAY)
        self.assertEqual(earned_part(Plan.of([project(), task]), "t"), WHOLE * 333 // 1000)
        span = replace(task, earns=Earns.TIME)
        self.assertEqual(earned_part(Plan.of([project(), span]), "t"), TIME)
