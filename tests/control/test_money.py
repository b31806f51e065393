"""Money adds up to the cent, by whatever periods it is divided, and is read as people type it."""

from __future__ import annotations

import random
import unittest
from dataclasses import fields
from itertools import pairwise

from hexapod.control.efforts import Efforts
from hexapod.control.ledger import Ledger, rate_on
from hexapod.control.money import Costing, Step, over_budgets, periods_of
from hexapod.control.spreading import share, until
from hexapod.errors import BadText
from hexapod.fields.money_text import Currency
from hexapod.plan.accounts import Budget, EntryKind, Log, MoneyEntry, SheetState, monday_of
from hexapod.plan.plan import Plan
from hexapod.plan.records import Assignment, Resource
from hexapod.schedule.engine import schedule
from hexapod.worktime.clock import date_of
from tests.control.spent_plans import FIRST, spent_plan, with_records
from tests.support import DAY, project, tasks

TODAY = FIRST + 20


def costing(plan: Plan, of: str, today: int = TODAY) -> Costing:
    return Costing.of(Efforts.of(schedule(plan)), Ledger.of(plan), of, today)


def spent_slowly(plan: Plan, of: str, inside: set[str] | None, first: int, last: int, today: int) -> int:
    """The rule read log by log and day by day."""
    back = {(s.resource, s.week) for s in plan.sheets.values() if s.state is SheetState.SENT_BACK}
    found = 0
    for log in plan.logs.values():
        in_place = plan.tasks[log.task].project == of and (inside is None or log.task in inside)
        if in_place and first <= log.day <= last and (log.resource, monday_of(log.day)) not in back:
            rate = rate_on(plan.resources[log.resource], log.day)
            found += (2 * log.minutes * rate + 60) // 120
    for entry in plan.entries.values():
        if entry.project != of or entry.planned or entry.kind is not EntryKind.COST:
            continue
        if inside is not None and entry.task not in inside:
            continue
        for day in range(max(first, entry.first_day), min(last, entry.last_day, today) + 1):
            found += until(entry, day) - until(entry, day - 1)
    return found


class AddingUp(unittest.TestCase):
    def test_all_divisions_come_to_the_same_to_the_cent(self) -> None:
        for seed in range(20):
            plan = spent_plan(random.Random(seed))
            for of in plan.projects:
                made = costing(plan, of)
                branches = [None, *(t for t in plan.children_of(of, None) if plan.is_summary(t))]
                for task in branches:
                    tables = [made.table(step, TODAY, task) for step in Step]
                    for name in (f.name for f in fields(tables[0].whole)):
                        amounts = {getattr(t.whole, name) for t in tables}
                        self.assertEqual(len(amounts), 1, (seed, of, task, name))
                        if name != "budget":
                            for table in tables:
                                parts = sum(getattr(p.money, name) for p in table.periods)
                                self.assertEqual(parts, getattr(table.whole, name))

    def test_what_is_spent_agrees_with_a_slow_reading(self) -> None:
        for seed in range(15):
            plan = spent_plan(random.Random(50 + seed))
            for of in plan.projects:
                made = costing(plan, of)
                tops = [t for t in plan.children_of(of, None) if plan.is_summary(t)]
                for task in (None, *tops[:2]):
                    inside = None if task is None else set(plan.branch(task))
                    for period in made.table(Step.WEEK, TODAY, task).periods:
                        wanted = spent_slowly(plan, of, inside, *period.days, TODAY)
                        self.assertEqual(period.money.spent, wanted, (seed, of, task, period.days))

    def test_what_is_to_come_is_the_rest_at_its_rates(self) -> None:
        """Ten days of one person, of which four are done; her rate goes up in the second week."""
        rates = ((FIRST + 7, 6000),)
        (a,) = tasks(("a", 10 * DAY))
        plan = Plan.of([project(), a, Resource("ro", "R", "a0", rate=5000, rate_from=rates), Assignment("a", "ro")])
        whole = costing(plan, "p").table(Step.WEEK, FIRST).periods
        self.assertEqual([p.money.expected for p in whole], [5 * 8 * 5000, 5 * 8 * 6000])
        self.assertEqual(
            [p.money.planned for p in whole], [220_000, 220_000], "without a baseline spread like the hours"
        )
        half = with_records(plan, Budget("b", "p", None, FIRST + 2, FIRST + 8, 1000))
        money = costing(half, "p").money_in((FIRST + 2, FIRST + 8), FIRST)
        self.assertEqual(money.expected, 3 * 8 * 5000 + 2 * 8 * 6000)

    def test_a_share_of_each_day_adds_up_to_all(self) -> None:
        rng = random.Random(5)
        for _ in range(400):
            begin, days, amount = rng.randrange(50), rng.randrange(1, 40), rng.randrange(-(10**6), 10**6)
            end = begin + days - 1
            parts = [share(amount, begin, end, d, d) for d in range(begin - 2, end + 3)]
            self.assertEqual(sum(parts), amount)
            self.assertLessEqual(max(parts[2:-2]) - min(parts[2:-2]), 1, "it is even")

    def test_periods_are_whole_and_follow_each_other(self) -> None:
        for step in Step:
            found = periods_of(step, FIRST + 3, FIRST + 400)
            self.assertTrue(all(a[1] + 1 == b[0] for a, b in pairwise(found)))
            self.assertTrue(found[0][0] <= FIRST + 3 and found[-1][1] >= FIRST + 400)
            starts = [date_of(first) for first, _ in found]
            if step is Step.WEEK:
                self.assertEqual({d.weekday() for d in starts}, {0})
            else:
                months = {1, 4, 7, 10} if step is Step.QUARTER else set(range(1, 13))
                self.assertTrue(all(d.day == 1 and d.month in months for d in starts))


class Budgets(unittest.TestCase):
    def plan(self, *more: object) -> Plan:
        (a,) = tasks(("a", 5 * DAY))
        base = Plan.of([project(), a, Resource("ro", "R", "a0", rate=5000), Assignment("a", "ro")])
        return with_records(base, *more)

    def test_burst_and_to_be_burst_are_told_apart(self) -> None:
        month = (FIRST - 6, FIRST + 23)
        log = Log("l", "a", "ro", FIRST, 10 * 60)
        for amount, wanted in ((40_000, [True]), (150_000, [False]), (300_000, [])):
            plan = self.plan(log, Budget("b", "p", None, *month, amount))
            found = over_budgets(costing(plan, "p", FIRST), FIRST)
            self.assertEqual([o.is_burst for o in found], wanted, amount)
        whole = self.plan(log, Budget("b", "p", None, None, None, 100_000), Budget("h", "p", minutes=60))
        (over,) = over_budgets(costing(whole, "p", FIRST), FIRST)
        self.assertEqual((over.days, over.budget, over.amount, over.is_burst), (None, 100_000, 250_000, False))

    def test_what_is_still_to_be_charged(self) -> None:
        day = FIRST + 2
        plan = self.plan(
            MoneyEntry("sum", "p", "Agreed", EntryKind.INVOICED, 900_000, day + 60, day + 60, None, True),
            MoneyEntry("one", "p", "First part", EntryKind.INVOICED, 300_000, day, day),
            MoneyEntry("two", "p", "Second part", EntryKind.INVOICED, 200_000, day + 31, day + 31),
        )
        table = costing(plan, "p", day + 90).table(Step.MONTH, day + 90)
        self.assertEqual(table.whole.to_invoice, 400_000)
        self.assertEqual([table.to_invoice_after(p) for p in table.periods][:2], [600_000, 400_000])
        self.assertEqual(table.whole.spent, 0, "what is charged is never a cost")


class Typing(unittest.TestCase):
    def test_amounts_in_the_signs_of_a_locale(self) -> None:
        pounds = Currency("£", "GBP")
        for text, amount in (
            ("1250", 125_000), ("1,250", 125_000), ("1,250.50", 125_050), ("£1,250.5", 125_050),
            ("1250.50 GBP", 125_050),
            ("-3", -300), ("1 250", 125_000), ("0.07", 7), (".5", 50), ("1,234,567.89", 123_456_789), ("12,5", 1_250),
        ):  # fmt: skip
            self.assertEqual(pounds.read(text), amount, text)
        euros = Currency("€", "EUR", ",", ".")
        for text, amount in (
            ("1.250,50", 125_050),
            ("1.250", 125_000),
            ("12,5", 1_250),
            ("1250,50 €", 125_050),
            ("12.5", 1250),
        ):
            self.assertEqual(euros.read(text), amount, text)

    def test_two_commas_other_currencies_and_noise_are_refused_in_a_sentence(self) -> None:
        pounds = Currency("£", "GBP")
        for text in ("1,2,5", "1,25,50", "1.2.3", "12,34.5,6", "$5", "5 EUR", "", "abc", "1.234", "9" * 25, "²", "1e5",
                     "5%", "=1+1"):  # fmt: skip
            with self.assertRaises(BadText, msg=text) as refused:
                pounds.read(text)
            self.assertTrue(str(refused.exception).endswith("."), text)

    def test_what_is_said_is_read_back(self) -> None:
        rng = random.Random(2)
        for say in (Currency("£", "GBP"), Currency("€", "EUR", ",", "."), Currency()):
            for _ in range(300):
                amount = rng.randrange(-(10**12), 10**12)
                self.assertEqual(say.read(say.plain(amount)), amount)
                self.assertEqual(say.read(say.words(amount)), amount)
