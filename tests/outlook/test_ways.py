"""What would it take: each way does what it says, is the least that does it, and is priced as it says."""

from __future__ import annotations

import unittest

from msgspec.structs import replace

from hexapod.outlook.chances import Outlook
from hexapod.outlook.figures import figures_of, months_of
from hexapod.outlook.hiring import hours_between
from hexapod.outlook.side_by_side import RowKey, RowKind, month_words, rows_of, usual_rows
from hexapod.outlook.simulation import simulate
from hexapod.outlook.ways import WayKind, Wish, look_for_ways
from hexapod.plan import edits
from hexapod.plan.plan import Plan
from hexapod.plan.records import Assignment, Link, LinkType, Reservation, Resource, ResourceKind
from hexapod.schedule.engine import schedule
from hexapod.schedule.schedule import Schedule
from hexapod.staffing.demand import Demand
from hexapod.staffing.overloads import overloads
from tests.support import DAY, at, project, tasks

ROLE = Resource("role", "Joinery", "a0", ResourceKind.ROLE)
CORIN = Resource("corin", "Corin", "a1", role="role", rate=3600)
IN_LINE = [
    project(), *tasks(("a", 4 * DAY), ("b", 10 * DAY), ("c", 2 * DAY)), Link("a", "b"), Link("b", "c"), ROLE, CORIN,
    Assignment("b", "corin"),
]  # fmt: skip


class Ways(unittest.TestCase):
    def setUp(self) -> None:
        self.now = schedule(Plan.of(IN_LINE))

    def finish(self, found: Schedule, project_id: str = "p") -> int:
        finish = found.project_finish[project_id]
        assert finish is not None
        return finish

    def test_the_fewest_people_that_do_it_and_what_they_cost(self) -> None:
        """16 days in line; with one more on b 11, with two 9 1/3, with three 8.5."""
        for days, count in ((11, 1), (10, 2), (8.75, 3)):
            by = self.finish(schedule(Plan.of([project(), *tasks(("x", round(days * DAY)))])))
            answer = look_for_ways(self.now, Wish("p", None, by))
            assert answer is not None
            way = next(w for w in answer.ways if w.kind is WayKind.PEOPLE)
            self.assertEqual((way.count, way.who), (count, "role"), days)
            after = schedule(way.edit.applied_to(self.now.plan))
            self.assertEqual(self.finish(after), way.at)
            self.assertLessEqual(way.at, by)
            b = after.dates("b")
            hours = hours_between(after.plan, "role", b.start // 1440, (b.finish - 1) // 1440)
            self.assertEqual(way.price, round(count * 3600 * hours))
            self.assertEqual(sum(e.amount for e in after.plan.entries.values()), way.price)
            self.assertEqual(list(overloads(after, Demand.of(after, after.plan))), [], "who is hired does it")

    def test_work_in_line_overlaps_by_as_few_links_as_do_it(self) -> None:
        answer = look_for_ways(self.now, Wish("p", None, at("2026-09-24T17:00")))
        assert answer is not None
        way = next(w for w in answer.ways if w.kind is WayKind.SIDE_BY_SIDE)
        plan = way.edit.applied_to(self.now.plan)
        changed = [link for link in plan.links.values() if link.type is LinkType.SS]
        self.assertIn(("b", "c", "FF"), plan.links)
        self.assertEqual([(x.predecessor, x.successor, x.lag_percent) for x in changed], [("b", "c", 50.0)])
        self.assertEqual(self.finish(schedule(plan)), way.at)
        self.assertEqual((way.price, way.later), (0, {}))
        self.assertEqual(answer.ways[0], way, "the cheapest is first")

    def test_a_project_that_gives_way_ends_later_by_what_is_said(self) -> None:
        """Two projects need one person at once; what both have is levelled with the other first."""
        plan = Plan.of([
            project("p", priority=5), project("q", priority=3), CORIN, ROLE,
            *tasks(("a", 5 * DAY)), *tasks(("z", 5 * DAY), project="q"),
            Assignment("a", "corin"), Assignment("z", "corin"),
        ])  # fmt: skip
        held = schedule(edits.set_holds(plan, {"a": 5 * DAY}, "Levelled").applied_to(plan))
        by = self.finish(schedule(plan))
        answer = look_for_ways(held, Wish("p", None, by))
        assert answer is not None
        way = next(w for w in answer.ways if w.kind is WayKind.GIVES_WAY)
        after = schedule(way.edit.applied_to(held.plan))
        self.assertEqual(way.later, {"q": 5 * DAY})
        self.assertEqual(self.finish(after), way.at)
        self.assertEqual(list(overloads(after, Demand.of(after, after.plan))), [])

    def test_what_is_met_already_needs_nothing_and_what_cannot_be_says_why(self) -> None:
        answer = look_for_ways(self.now, Wish("p", None, self.finish(self.now)))
        assert answer is not None
        self.assertEqual(answer.now, self.finish(self.now))
        answer = look_for_ways(self.now, Wish("p", None, at("2026-09-08T17:00")))
        assert answer is not None and answer.held_by is not None
        self.assertEqual((answer.ways, answer.held_by.task), ((), "b"))
        self.assertEqual(answer.earliest, min(w.at for w in answer.nearly))

    def test_a_date_that_is_sure_enough_is_met_by_the_rounds(self) -> None:
        estimates = {"b": (8 * DAY, 10 * DAY, 20 * DAY)}
        plan = edits.together(
            "Estimate", [edits.set_estimates(self.now.plan, [t], e) for t, e in estimates.items()]
        ).applied_to(self.now.plan)
        now = schedule(plan)
        by = at("2026-09-25T17:00")
        answer = look_for_ways(now, Wish("p", None, by, 0.8))
        assert answer is not None
        self.assertGreater(answer.now, self.finish(now))
        for way in answer.ways:
            rounds = Outlook(simulate(schedule(way.edit.applied_to(plan)), 400, 1))
            known = rounds.of_project("p")
            assert known is not None
            self.assertGreaterEqual(known.chance_by(by), 0.8, way.kind)

    def test_it_stops_where_it_is_told_to(self) -> None:
        parts: list[float] = []

        def report(part: float) -> bool:
            parts.append(part)
            return len(parts) < 2

        self.assertIsNone(look_for_ways(self.now, Wish("p", None, at("2026-09-08T17:00")), report))
        self.assertEqual(parts[0], 0.0)


class Figures(unittest.TestCase):
    def plan(self) -> Plan:
        reserved = Reservation("r", "p", "role", 2.0, at("2026-10-01") // 1440, at("2026-10-30") // 1440)
        return Plan.of([*IN_LINE, Assignment("a", "role", 1.0), reserved])

    def test_needs_are_those_of_the_calendar_month_by_month(self) -> None:
        """October 2026 has 22 weekdays: two are promised, one is there."""
        found = figures_of(schedule(self.plan()), at("2026-09-07") // 1440)
        october = at("2026-10-01") // 1440
        need = found.needs["role"][october]
        self.assertEqual((need.have, need.need, need.short), (176, 352, 176))
        self.assertEqual(found.short, sum(n.short for n in found.needs["role"].values()))

    def test_months_go_from_the_first_day_to_the_last(self) -> None:
        plan = Plan.of([project(start=at("2026-11-30T08:00")), *tasks(("a", 45 * DAY))])
        months = [month_words(m) for m in months_of(schedule(plan))]
        self.assertEqual(months, ["November 2026", "December 2026", "January 2027", "February 2027"])

    def test_the_best_of_a_row_is_where_it_is_better_and_nowhere_where_all_are_alike(self) -> None:
        plan = Plan.of(IN_LINE)
        shorter = edits.set_durations(plan, ["b"], 5 * DAY).applied_to(plan)
        held = edits.put_on_hold(plan, "p").applied_to(plan)
        today = at("2026-09-07") // 1440
        columns = [figures_of(schedule(p), today, before=schedule(plan)) for p in (plan, shorter, held)]
        rows = {row.key: row for row in rows_of(plan, columns)}
        finish = rows[RowKey(RowKind.FINISH, "p")]
        self.assertEqual((finish.best, finish.held, finish.values[2]), ({1}, {2}, None))
        self.assertEqual(rows[RowKey(RowKind.COST)].best, {2})
        self.assertEqual(rows[RowKey(RowKind.OVERLOADS)].best, set())
        self.assertEqual(rows[RowKey(RowKind.MOVED)].values, (0, 2, 0))
        self.assertEqual(rows[RowKey(RowKind.MOVED)].best, set())
        self.assertIn(finish.key, usual_rows(list(rows.values())))
        self.assertEqual(finish.difference(1), finish.values[1] - finish.values[0])

    def test_targets_of_projects_on_hold_or_in_the_archive_do_not_count(self) -> None:
        wanted = replace(project(), target_finish=at("2026-12-31T17:00"))
        plan = Plan.of([wanted, *(r for r in IN_LINE[1:])])
        today = at("2026-09-07") // 1440
        for fields, counts in (({}, (1, 1)), ({"on_hold": True}, (0, 0)), ({"archived": True}, (0, 0))):
            changed = edits.save_project(plan, replace(wanted, **fields)).applied_to(plan)
            found = figures_of(schedule(changed), today)
            self.assertEqual((found.targets, found.met), counts, fields)


if __name__ == "__main__":
    unittest.main()
