"""The load strip's columns, and the shading of idle days, against counts of every minute."""

from __future__ import annotations

import os
import random
import tempfile
import unittest
from pathlib import Path

os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")

from PyQt6.QtWidgets import QApplication

from hexapod.desktop.chart.timescale import TimeScale
from hexapod.desktop.chart.workdays import Idleness
from hexapod.desktop.models.desk import Desk
from hexapod.desktop.strip.periods import WEEK, hours, period_edges, periods_of
from hexapod.formats.pool_text import propose_initials
from hexapod.plan.changes import diff
from hexapod.plan.plan import Plan
from hexapod.plan.records import DAY, Assignment, Resource
from hexapod.session import Session
from hexapod.store.workspace import Workspace
from hexapod.worktime.calendars import Window
from tests.staffing.checker import demand_by_minute
from tests.support import MONDAY, project, random_calendar, random_plan, tasks
from tests.worktime.twin import MinuteByMinute

APP = QApplication.instance() or QApplication([])
WINDOW = Window(MONDAY // DAY - 10, MONDAY // DAY + 120)


class Periods(unittest.TestCase):
    def desk(self, plan: Plan) -> Desk:
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        workspace = Workspace.create(Path(folder.name) / "strip.hexapod")
        workspace.write(diff(Plan(), plan), "All", "me")
        workspace.close()
        session = Session.open(Path(folder.name) / "strip.hexapod")
        session.compute()
        desk = Desk(session)
        self.addCleanup(desk.close)
        return desk

    def test_columns_are_the_minutes_asked_for_and_over_where_a_moment_is(self) -> None:
        rng = random.Random(91)
        for _ in range(6):
            plan = random_plan(rng, 12, calendars=1, resources=2, lags=0)
            desk = self.desk(plan)
            dates = {t: desk.schedule.dates(t)[:2] for t in plan.tasks}
            asked = demand_by_minute(plan, dates, WINDOW)
            for length in (DAY, WEEK):
                edges = period_edges(TimeScale(MONDAY, 4.0), 100.0, length)
                for resource in plan.resources:
                    capacity = plan.resources[resource].capacity
                    for period in periods_of(desk, resource, edges):
                        within = [u for t, u in asked[resource].items() if period.begin <= t < period.end]
                        self.assertAlmostEqual(period.load, sum(within) / 60)
                        too_much = max(within, default=0.0) > capacity
                        self.assertEqual(period.peak, max(within) if too_much else 0.0)
                        self.assertTrue(period.is_over or not too_much)

    def test_a_coarse_period_does_not_hide_what_nets_out(self) -> None:
        people = [Resource("r", "Rosa", "a0"), Assignment("a", "r"), Assignment("b", "r")]
        desk = self.desk(Plan.of([project(), *tasks(("a", 480), ("b", 480)), *people]))
        week = periods_of(desk, "r", period_edges(TimeScale(MONDAY, 4.0), 10.0, WEEK))[0]
        self.assertEqual((week.load, week.capacity, week.peak, week.is_over), (16.0, 40.0, 2.0, True))

    def test_edges_are_mondays_and_cover_the_width(self) -> None:
        for pixels in (0.5, 3.0, 40.0):
            scale = TimeScale(MONDAY + 3 * DAY + 17, pixels)
            edges = period_edges(scale, 500.0, WEEK)
            self.assertTrue(all((e // DAY + 3) % 7 == 0 for e in edges))
            self.assertLessEqual(scale.x(edges[0]), 0)
            self.assertGreaterEqual(scale.x(edges[-1]), 500)

    def test_hours_are_short(self) -> None:
        self.assertEqual([hours(x) for x in (0, 7.5, 40.0, 12.34)], ["0 h", "7.5 h", "40 h", "12.3 h"])


class IdleDays(unittest.TestCase):
    def test_shaded_days_are_those_without_a_worked_minute(self) -> None:
        rng = random.Random(92)
        first = MONDAY // DAY
        for _ in range(30):
            calendar = random_calendar(rng, "c")
            plan = Plan.of([calendar])
            twin = MinuteByMinute(plan.calendars, ("c",), Window(first - 5, first + 50))
            begin, end = first * DAY, (first + 40) * DAY
            shaded = {
                day
                for b, e in Idleness(plan).days("c", begin, end)
                for day in range(b // DAY, e // DAY)
                if first <= day < first + 40
            }
            idle = {d for d in range(first, first + 40) if twin.worked(d * DAY) == twin.worked((d + 1) * DAY)}
            self.assertEqual(shaded, idle)


class Initials(unittest.TestCase):
    def test_they_are_made_of_the_name_and_unique(self) -> None:
        taken: set[str] = set()
        for name, expected in (
            ("Mo Okon", "MO"),
            ("Mia Orr", "MIO"),
            ("Max Oben", "MAO"),
            ("Scissor lift", "SL"),
            ("Lift", "LI"),
            ("Mo Okon", "MOO"),
            ("Mo Okon", "MO2"),
            ("Ada van Ess", "AVE"),
        ):
            made = propose_initials(name, taken)
            self.assertEqual(made, expected)
            taken.add(made.casefold())
        self.assertEqual(propose_initials("…", taken), "")
