"""Bookings over time against a list of every minute, and the lower bound against what can be reached."""

from __future__ import annotations

import random
import unittest

import numpy as np
from msgspec.structs import replace

from hexapod.plan.plan import Plan
from hexapod.plan.records import Assignment, Resource
from hexapod.schedule.codes import NEVER
from hexapod.schedule.engine import schedule
from hexapod.staffing.capacity import PARTS, in_parts
from hexapod.staffing.levelling.bound import Argument, argument
from hexapod.staffing.levelling.profile import BEGINNING, END, book, clash, free_profiles
from hexapod.staffing.levelling.proposal import level
from hexapod.staffing.widening import widened
from hexapod.worktime.arithmetic import advance, next_working
from hexapod.worktime.calendars import Window, compile_calendar, pool_of
from hexapod.worktime.clock import iso
from tests.support import DAY, MONDAY, project, random_calendar, random_plan, tasks
from tests.worktime.twin import MinuteByMinute

WINDOW = Window(MONDAY // 1440, MONDAY // 1440 + 40)


class Profiles(unittest.TestCase):
    def setUp(self) -> None:
        self.rng = random.Random(111)
        self.calendars = {c: random_calendar(self.rng, c) for c in ("a", "b")}
        compiled = [compile_calendar(self.calendars, c, WINDOW) for c in ("a", "b")]
        self.pool = pool_of(compiled, WINDOW)
        self.twins = [MinuteByMinute(self.calendars, (c,), WINDOW) for c in ("a", "b")]

    def random_span(self) -> tuple[int, int, int]:
        c = self.rng.randrange(2)
        start = next_working(self.pool, c, WINDOW.begin + self.rng.randrange(15_000))
        return c, start, advance(self.pool, c, start, self.rng.randrange(1, 900))

    def profile(self, *steps: tuple[int, int]) -> tuple[list[np.ndarray], int]:
        """Times, levels and holders with room for many bookings, and how many steps there are."""
        begins, levels = (np.array(column) for column in zip(*steps, strict=True))
        rows = free_profiles(np.array([0, len(steps)]), begins, levels, np.array([levels.max()]))
        (times,), (booked,) = (widened(widened(widened(r))) for r in rows[:2])
        return [times, booked, np.full(len(times), -1)], int(rows[2][0])

    def test_bookings_clashes_and_holders_are_those_of_a_count_of_every_minute(self) -> None:
        for _ in range(25):
            (times, levels, holders), size = self.profile((NEVER, PARTS))
            minutes = np.zeros(WINDOW.end - WINDOW.begin, dtype=np.int64)
            held = np.full_like(minutes, -1)
            for holder in range(8):
                c, start, finish = self.random_span()
                works = np.array(self.twins[c].works)
                span = np.zeros_like(works)
                span[start - WINDOW.begin : finish - WINDOW.begin] = True
                room = self.rng.randrange(0, 4)
                step = clash(self.pool, c, start, finish, times[:size], levels[:size], room)
                too_much = np.flatnonzero(works & span & (minutes > room))
                self.assertEqual(step >= 0, len(too_much) > 0)
                if len(too_much):
                    self.assertTrue(times[step] <= WINDOW.begin + too_much[0] < times[step + 1])
                    self.assertEqual(held[too_much[0]], holders[step])
                units = self.rng.randrange(1, 3)
                size = book(self.pool, c, start, finish, times, levels, holders, size, units, holder, True)
                minutes[works & span] += units
                held[works & span] = holder
                self._same(times[:size], levels[:size], minutes)
                self._same(times[:size], holders[:size], held)
                self.assertTrue((np.diff([levels[: size - 1], holders[: size - 1]]) != 0).any(axis=0).all(),
                                "steps that change nothing are not kept")  # fmt: skip

    def test_where_all_work_in_one_calendar_a_stretch_clashes_as_its_working_intervals_do(self) -> None:
        for _ in range(25):
            parted, size1 = self.profile((NEVER, PARTS), (WINDOW.begin + 9000, PARTS - 2))
            whole, size2 = self.profile((NEVER, PARTS), (WINDOW.begin + 9000, PARTS - 2))
            for holder in range(12):
                start = next_working(self.pool, 0, WINDOW.begin + self.rng.randrange(15_000))
                finish, room = advance(self.pool, 0, start, self.rng.randrange(1, 900)), self.rng.randrange(0, 4)
                one = clash(self.pool, 0, start, finish, parted[0][:size1], parted[1][:size1], room)
                other = clash(self.pool, 0, start, finish, whole[0][:size2], whole[1][:size2], room)
                self.assertEqual(one >= 0, other >= 0)
                if one >= 0:
                    self.assertEqual(parted[2][one], whole[2][other])
                    self.assertLessEqual(whole[0][other], parted[0][one])
                    self.assertGreaterEqual(whole[0][other + 1], parted[0][one + 1], "it goes on over the pauses")
                units = self.rng.randrange(1, 3)
                size1 = book(self.pool, 0, start, finish, *parted, size1, units, holder, True)
                size2 = book(self.pool, 0, start, finish, *whole, size2, units, holder, False)

    def _same(self, times: np.ndarray, values: np.ndarray, minutes: np.ndarray) -> None:
        self.assertEqual((times[0], times[-1]), (BEGINNING, END))
        at = np.searchsorted(times, np.arange(WINDOW.begin, WINDOW.end), side="right") - 1
        self.assertEqual(values[at].tolist(), minutes.tolist())


class Bounds(unittest.TestCase):
    def test_no_levelled_plan_ends_before_the_bound(self) -> None:
        rng = random.Random(112)
        for _ in range(40):
            plan = random_plan(rng, 12, resources=2, lags=0)
            proposal = level(schedule(plan), within_float=False)
            if proposal.lower_bound is not None and proposal.finish_after is not None:
                self.assertLessEqual(proposal.lower_bound, proposal.finish_after)

    def test_work_that_fills_a_resource_is_the_bound(self) -> None:
        three = tasks(("a", 2 * DAY), ("b", 3 * DAY), ("c", 4 * DAY))
        everyone = [Resource("r", "R", "a0"), *(Assignment(t, "r") for t in "abc")]
        now = schedule(Plan.of([project(), *three, *everyone]))
        found = level(now, within_float=False)
        self.assertEqual(found.lower_bound, found.finish_after)
        assert found.bound is not None
        self.assertEqual((found.bound.by, found.bound.resource, found.bound.count), (Argument.WORK, "r", 3))
        self.assertEqual(
            argument(found.plan, found.bound, lambda at: iso(at)[:10]),
            "No arrangement ends before 2026-09-17, because there is only R: 3 tasks that cannot begin before "
            "2026-09-07 ask for 72 h of it.",
        )

    def test_half_shares_fit_side_by_side(self) -> None:
        two = tasks(("a", 2 * DAY), ("b", 2 * DAY))
        half = [Assignment("a", "r", 0.5), Assignment("b", "r", 0.5)]
        found = level(schedule(Plan.of([project(), *two, Resource("r", "R", "a0"), *half])), within_float=False)
        self.assertFalse(found.moves or found.overloads_before)
        self.assertEqual(in_parts(0.5), PARTS // 2)

    def test_what_no_capacity_can_hold_is_left_over_and_named(self) -> None:
        (a,) = tasks(("a", DAY))
        plan = Plan.of([project(), a, Resource("r", "R", "a0", capacity=1.0), Assignment("a", "r", 2.0)])
        found = level(schedule(plan), within_float=False)
        self.assertFalse(found.moves)
        self.assertEqual([(o.resource, o.peak, o.tasks) for o in found.overloads_after], [("r", 2.0, ("a",))])

    def test_a_higher_priority_goes_first(self) -> None:
        a, b = tasks(("a", 2 * DAY), ("b", 2 * DAY))
        everyone = [Resource("r", "R", "a0"), Assignment("a", "r"), Assignment("b", "r")]
        for first, other in (("a", "b"), ("b", "a")):
            ranked = [replace(t, priority=2 if t.id == first else 5) for t in (a, b)]
            moves = level(schedule(Plan.of([project(), *ranked, *everyone])), within_float=False).moves
            self.assertEqual([m.task for m in moves], [other])
