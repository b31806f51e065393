"""Every report of every kind of plan: tables that fit their columns, figures that are the plan's, whole names."""

from __future__ import annotations

import random
import unittest

from msgspec.structs import replace

from hexapod.control.summary import summary_of
from hexapod.errors import EditRefused
from hexapod.plan.accounts import Baseline, BaselineTask, Log
from hexapod.plan.plan import Plan
from hexapod.plan.records import Assignment, Project, Resource, ResourceKind, Task, TaskKind
from hexapod.reports.basis import Basis, scope_of
from hexapod.reports.catalogue import PARTS, REPORTS, below_of, make_report, report_kind
from hexapod.reports.parts import control, projects, staff
from hexapod.reports.report import CellKind, Part, cell_text, ends_on, plain_words
from hexapod.schedule.engine import schedule
from tests.support import DAY, MONDAY, at, random_plan, told

NOW = at("2026-09-21T09:00")
WEEK = 7 * 1440


def basis_of(plan: Plan, *chosen: str, now: int = NOW) -> Basis:
    return Basis(schedule(plan), now, scope_of(plan, projects=chosen), now - WEEK, now)


def rich_plan(seed: int) -> Plan:
    """Several projects with people, hours, a baseline, milestones and something told."""
    rng = random.Random(seed)
    plan = random_plan(rng, 30, resources=4, projects=3, summaries=True, milestones=0.2)
    dates = schedule(plan)
    draft = plan.draft()
    for i, p in enumerate(plan.projects_in_order()):
        rows = tuple(
            BaselineTask(t.id, dates.dates(t.id).start, dates.dates(t.id).finish, t.minutes, 0, 100 * t.minutes)
            for t in plan.tasks.values() if t.project == p.id and not plan.is_summary(t.id)
        )  # fmt: skip
        draft.put(Baseline(f"b{i}", "First plan", MONDAY, p.id, rows))
        draft.put(replace(p, calendar="standard", department=("Estate", "Library")[i % 2], baseline=f"b{i}"))
    for i, (_, assignment) in enumerate(sorted(plan.assignments.items())):
        draft.put(Log(f"l{i}", assignment.task, assignment.resource, MONDAY // 1440 + i % 9, 60 + i))
    for task in rng.sample(sorted(plan.tasks), 6):
        if not plan.is_summary(task):
            draft.put(replace(plan.tasks[task], percent=float(rng.choice((20, 60, 100)))))
    return told(draft.finish()[0])


class Shapes(unittest.TestCase):
    def check(self, part: Part) -> None:
        self.assertTrue(part.title)
        for sentence in part.sentences:
            self.assertTrue(sentence.text.strip() and sentence.text.endswith("."), sentence.text)
        if part.table is not None:
            for row in part.table.shown_rows():
                self.assertEqual(len(row), len(part.table.columns), part.id)
                for value, column in zip(row, part.table.columns, strict=True):
                    is_text = isinstance(value, str)
                    self.assertTrue(
                        value is None or is_text == (column.kind is CellKind.TEXT), (part.id, column, value)
                    )
            if part.table.about:
                self.assertEqual(len(part.table.about), len(part.table.rows))
        if part.chart is not None:
            for series in part.chart.series:
                self.assertEqual(len(series.values), len(part.chart.categories))

    def test_every_part_of_every_plan_has_its_shape(self) -> None:
        empty = Plan.of([Project("p", "Empty", MONDAY, "a0")])
        for plan in (Plan(), empty, rich_plan(1), rich_plan(2), random_plan(random.Random(9), 12, rich=True)):
            for scope in ((), tuple(plan.projects)[:1]):
                basis = basis_of(plan, *scope)
                for part in PARTS.values():
                    made = part.make(basis)
                    self.assertEqual(made.id, part.id)
                    self.check(made)

    def test_reports_name_parts_that_there_are(self) -> None:
        for kind in REPORTS.values():
            self.assertLessEqual(set(kind.parts), set(PARTS), kind.id)
            self.assertIs(report_kind(kind.title.upper()), kind)
        with self.assertRaisesRegex(EditRefused, "monday, week"):
            report_kind("no such")

    def test_chosen_parts_stand_in_the_chosen_order_under_an_own_heading(self) -> None:
        report = make_report(
            basis_of(rich_plan(1)), ("risks", "gone", "week"), "Mine", heading="For the board", text="A"
        )
        self.assertEqual([p.id for p in report.parts], ["risks", "week"])
        self.assertEqual((report.title, report.text), ("For the board", "A"))

    def test_of_what_it_is_stands_below(self) -> None:
        plan = rich_plan(1)
        self.assertIn("All 3 projects · Mon 14 Sep to Mon 21 Sep 2026", below_of(basis_of(plan)))
        self.assertIn("P1 ·", below_of(basis_of(plan, "p1")))
        estate = Basis(schedule(plan), NOW, scope_of(plan, department="estate"), NOW - WEEK, NOW)
        self.assertEqual(estate.scope, ("p0", "p2"))
        self.assertIn("Estate, 2 projects", below_of(estate))


class Figures(unittest.TestCase):
    """Tables against the plan, row by row."""

    def test_projects_are_as_the_summary_has_them_the_worst_first(self) -> None:
        for seed in range(6):
            basis = basis_of(rich_plan(seed))
            table = projects.portfolio(basis).table
            assert table is not None
            rows = {r.project: r for r in summary_of(basis.schedule, NOW).rows}
            self.assertEqual(set(table.about), set(rows))
            for project, cells in zip(table.about, table.rows, strict=True):
                row = rows[project]
                found = dict(zip((c.title for c in table.columns), cells, strict=True))
                self.assertEqual(found["Finish"], row.finish)
                self.assertEqual(found["Late tasks"], row.status.late)
                self.assertEqual(found["Because"], row.status.because)
                self.assertAlmostEqual(found["Done"], row.status.percent, delta=0.05)
            order = ["late", "in doubt", "on course", "on hold", "done"]
            states = [order.index(str(cells[2])) for cells in table.rows]
            self.assertEqual(states, sorted(states))
            needy = projects.attention(basis).table
            self.assertEqual(0 if needy is None else len(needy.rows), sum(s < 2 for s in states))

    def test_each_person_has_what_is_assigned_and_not_done(self) -> None:
        for seed in range(6):
            basis = basis_of(rich_plan(seed))
            plan, table = basis.plan, staff.work(basis).table
            assert table is not None
            real = sorted(
                (plan.resources[a.resource].name, a.task) for a in plan.assignments.values()
                if not plan.tasks[a.task].is_done and not plan.is_summary(a.task)
            )  # fmt: skip
            self.assertEqual(sorted((str(r[0]), t) for r, t in zip(table.rows, table.about, strict=True)), real)
            soon = staff.ahead(basis).table
            last = NOW + basis.weeks * WEEK
            within = [
                (who, t) for who, t in real
                if basis.schedule.dates(t).start < last and basis.schedule.dates(t).finish > NOW
            ]  # fmt: skip
            found = [] if soon is None else sorted((str(r[0]), t) for r, t in zip(soon.rows, soon.about, strict=True))
            self.assertEqual(found, within)

    def test_hours_logged_add_up_to_all_logs(self) -> None:
        for seed in range(6):
            basis = basis_of(rich_plan(seed))
            part = staff.hours(basis)
            assert part.table is not None and part.table.total is not None
            logged = sum(log.minutes for log in basis.plan.logs.values())
            self.assertAlmostEqual(part.table.total[2], logged / 60, delta=0.06)
            one = staff.hours(basis_of(basis.plan, "p0")).table
            mine = sum(log.minutes for log in basis.plan.logs.values() if basis.plan.tasks[log.task].project == "p0")
            self.assertAlmostEqual(0 if one is None or one.total is None else one.total[2], mine / 60, delta=0.06)

    def test_months_of_money_add_up_to_the_whole(self) -> None:
        for seed in range(4):
            draft = rich_plan(seed).draft()
            for resource in list(draft.before.resources.values()):
                draft.put(replace(resource, rate=1_000))
            basis = basis_of(draft.finish()[0])
            table = control.money(basis).table
            assert table is not None and table.total is not None
            for column in (2, 3, 4):
                whole = sum(row[column] or 0 for row in table.rows)
                self.assertEqual(whole, table.total[column], table.columns[column].title)
            spent = sum(basis.ledger.cost.tolist())
            self.assertEqual(table.total[3], spent)

    def test_milestones_are_all_there_and_the_next_ones_alone(self) -> None:
        basis = basis_of(rich_plan(3))
        marks = {t.id for t in basis.leaves if t.kind is TaskKind.MILESTONE or not t.minutes}
        table = projects.milestones(basis).table
        assert table is not None
        self.assertEqual(set(table.about), marks)
        dates = [row[2] for row in table.rows]
        self.assertEqual(dates, sorted(dates))
        soon = projects.coming(basis).table
        for row in () if soon is None else soon.rows:
            self.assertTrue(row[4] != "coming" or row[2] <= NOW + 4 * WEEK, row)

    def test_a_role_that_is_short_is_said_with_its_month(self) -> None:
        people = [Resource("r", "Registration", "a0", kind=ResourceKind.ROLE, capacity=0.0)]
        task = Task("a", "p", "Objects listed", "a0", duration=10 * DAY)
        plan = Plan.of([Project("p", "Move", MONDAY, "a0"), task, *people, Assignment("a", "r")])
        basis = basis_of(plan, now=MONDAY)
        part = staff.short(basis)
        self.assertIn("Registration will be 80 h short in Sep 2026; it is wanted by “Move”.", part.sentences[0].text)
        assert part.table is not None
        self.assertEqual([row[-1] for row in part.table.rows], [-80.0])

    def test_cells_are_said_as_people_read_them(self) -> None:
        words = plain_words()
        midnight = at("2026-09-12T00:00")
        self.assertEqual(ends_on(midnight), midnight - 1)
        for value, kind, text in (
            (midnight, CellKind.FINISH, "Fri 11 Sep 2026"), (midnight, CellKind.START, "Sat 12 Sep 2026"),
            (12.0, CellKind.HOURS, "12 h"), (1234.56, CellKind.DAYS, "1,234.6 d"), (None, CellKind.MONEY, ""),
            (123_450, CellKind.MONEY, "1,234"), (-150, CellKind.MONEY, "-2"), (45.4, CellKind.PERCENT, "45 %"),
            (0.756, CellKind.RATIO, "0.76"), ("=1+1", CellKind.TEXT, "=1+1"), (1200, CellKind.COUNT, "1,200"),
        ):  # fmt: skip
            self.assertEqual(cell_text(value, kind, words), text)


if __name__ == "__main__":
    unittest.main()
