"""Progress as the rules say: what is done lies still, what is begun has a rest, what is not lies ahead."""

from __future__ import annotations

import random
import unittest

from msgspec.structs import replace

from hexapod.plan import edits
from hexapod.plan.plan import Plan
from hexapod.plan.records import (
    Assignment,
    Calendar,
    Direction,
    LimitKind,
    Link,
    LinkType,
    OutOfOrder,
    Resource,
    Task,
    TaskKind,
)
from hexapod.schedule.engine import schedule
from hexapod.schedule.reasons import ReasonKind, chain, reason_of
from hexapod.schedule.states import Late, State
from tests.support import MONDAY, at, project, random_plan, tasks, told

DAY = 480
FRIDAY = at("2026-09-11T17:00")  # of the week of MONDAY


def under_way(*told: Task, links: tuple[Link, ...] = (), **fields: object) -> Plan:
    return Plan.of([project(**fields), *told, *links])


class TheRest(unittest.TestCase):
    def test_what_is_left_is_worked_from_the_status_date(self) -> None:
        (a,) = tasks(("a", 5 * DAY))
        begun = replace(a, actual_start=MONDAY, percent=20.0)
        for status, finish in (
            (None, at("2026-09-11T17:00")),  # as if nothing had been told
            (at("2026-09-08T08:00"), at("2026-09-11T17:00")),  # as planned
            (at("2026-09-09T17:00"), at("2026-09-15T17:00")),  # four days from Thursday on
        ):
            self.assertEqual(schedule(under_way(begun, status_date=status)).dates("a").finish, finish)

    def test_a_rest_that_is_said_gives_the_dates_and_the_moment_counts(self) -> None:
        (a,) = tasks(("a", 5 * DAY))
        begun = replace(a, actual_start=MONDAY, percent=80.0, remaining=3 * DAY, as_of=at("2026-09-10T12:00"))
        dates = schedule(under_way(begun, status_date=at("2026-09-09T17:00"))).dates("a")
        self.assertEqual((dates.start, dates.finish), (MONDAY, at("2026-09-15T12:00")))

    def test_the_per_cent_leaves_minutes_rounded_half_up_by_its_digits(self) -> None:
        for minutes, percent, rest in ((1000, 0.05, 1000), (3, 50.0, 2), (480, 33.33, 320), (480, 30.0, 336)):
            (a,) = tasks(("a", minutes))
            self.assertEqual(replace(a, actual_start=MONDAY, percent=percent).rest, rest)

    def test_out_of_order_the_rest_waits_or_goes_on(self) -> None:
        a, b = tasks(("a", 5 * DAY), ("b", 2 * DAY))
        b = replace(b, actual_start=MONDAY, percent=50.0)
        status = at("2026-09-08T08:00")
        for policy, finish in ((OutOfOrder.WAITS, "2026-09-15T17:00"), (OutOfOrder.GOES_ON, "2026-09-08T17:00")):
            plan = under_way(a, b, links=(Link("a", "b"),), status_date=status, out_of_order=policy)
            dates = schedule(plan)
            self.assertEqual(dates.dates("b").finish, at(finish), policy)
            self.assertEqual(dates.dates("a").total_float, 0)
            held = under_way(a, b, links=(Link("a", "b", LinkType.FF),), status_date=status, out_of_order=policy)
            self.assertEqual(schedule(held).dates("b").finish, at("2026-09-14T17:00"), "both ways")

    def test_a_crew_goes_on_where_each_of_them_stopped(self) -> None:
        """Also behind what ended long ago: a link to it does not begin the rest any sooner."""
        a, b = tasks(("a", DAY), ("b", 4 * DAY))
        a = replace(a, actual_start=MONDAY - 7 * 1440, actual_finish=MONDAY - 7 * 1440 + 540, percent=100.0)
        b = replace(b, actual_start=MONDAY, percent=50.0)
        week = (((480, 960),), *[()] * 6)  # on Mondays only
        monday = Calendar("monday", "Mondays", week=week)
        crew = [
            *(Resource(r, r, f"a{i}", calendar=c) for i, (r, c) in enumerate((("mo", "standard"), ("bo", "monday")))),
            *(Assignment("b", r) for r in ("mo", "bo")),
        ]
        found = [schedule(Plan.of([project(), a, b, monday, *crew, *links])) for links in ((), (Link("a", "b"),))]
        alone, linked = ((each.dates("b"), each.free_start[each.slots["b"]]) for each in found)
        self.assertEqual(linked[0][:2], alone[0][:2])
        self.assertEqual(linked[1], alone[1])
        self.assertGreater(alone[1], MONDAY)

    def test_what_is_done_asks_nothing_of_what_it_should_have_waited_for(self) -> None:
        """Not by what waits for its start either: that start has been."""
        p, d, e = tasks(("p", 2 * DAY), ("d", DAY), ("e", 10 * DAY))
        d = replace(d, actual_start=MONDAY, actual_finish=MONDAY + 540, percent=100.0)
        links = (Link("p", "d"), Link("d", "e", LinkType.SS))
        found = schedule(under_way(p, d, e, links=links))
        self.assertEqual(found.dates("p").total_float, 8 * DAY)
        self.assertEqual(found.dates("e").total_float, 0)

    def test_what_is_done_has_no_float_and_is_not_critical(self) -> None:
        a, b = tasks(("a", DAY), ("b", DAY))
        a = replace(a, actual_start=MONDAY, actual_finish=MONDAY + 300, percent=100.0)
        found = schedule(under_way(a, b, links=(Link("a", "b"),)))
        dates = found.dates("a")
        self.assertEqual((dates.total_float, dates.free_float, dates.critical), (None, None, False))
        self.assertEqual((dates.late_start, dates.late_finish), (MONDAY, MONDAY + 300))
        self.assertTrue(dates.longest_path, "it drives what follows")
        self.assertEqual(found.dates("b").start, MONDAY + 300)

    def test_reasons_end_at_what_is_a_fact_and_at_the_status_date(self) -> None:
        a, b, c, d = tasks(("a", DAY), ("b", DAY), ("c", DAY), ("d", DAY))
        a = replace(a, actual_start=FRIDAY - 540, actual_finish=FRIDAY, percent=100.0)
        found = schedule(under_way(a, b, c, d, links=(Link("a", "b"), Link("b", "c")), status_date=FRIDAY - 540))
        self.assertEqual([r.kind for r in chain(found, "c")], [ReasonKind.LINK, ReasonKind.LINK, ReasonKind.ACTUAL])
        self.assertIs(reason_of(found, "d").kind, ReasonKind.STATUS_DATE)


class NothingDoneMoves(unittest.TestCase):
    def test_whatever_is_changed_around_it(self) -> None:
        """A storm of edits of all that is not told: done work stays, and begun work keeps its start."""
        rng = random.Random(15)
        for k in range(20):
            plan = told(self._with_progress(rng, random_plan(rng, 30, summaries=True, resources=2, projects=2)))
            for _ in range(12):
                plan = self._changed(rng, plan)
                found = schedule(plan)
                for task in plan.tasks.values():
                    if task.actual_start is None or plan.is_summary(task.id):
                        continue
                    dates = found.dates(task.id)
                    self.assertEqual(dates.start, task.actual_start, k)
                    if task.actual_finish is not None:
                        self.assertEqual((dates.finish, dates.late_finish), (task.actual_finish,) * 2, k)

    def _with_progress(self, rng: random.Random, plan: Plan) -> Plan:
        leaves = [t for t in plan.tasks if not plan.is_summary(t)]
        for task in rng.sample(leaves, len(leaves) // 2):
            plan = edits.set_percent(plan, [task], rng.choice((100.0, 100.0, 40.0))).applied_to(plan)
        return plan

    def _changed(self, rng: random.Random, plan: Plan) -> Plan:
        chosen = rng.choice(list(plan.tasks.values()))
        p = rng.choice(list(plan.projects.values()))
        kind, moment = rng.choice(list(LimitKind)), MONDAY + rng.randrange(60) * 1440
        edit = rng.choice((
            lambda: edits.set_limit(plan, chosen.id, kind, moment),
            lambda: edits.set_durations(plan, [chosen.id], rng.randrange(3000)),
            lambda: edits.set_status_date(plan, p.id, max(moment, p.start)),
            lambda: edits.set_holds(plan, {chosen.id: rng.randrange(2000)}, "hold"),
            lambda: edits.set_task(plan, chosen.id, "", as_late_as_possible=True, elapsed=rng.random() < 0.5),
            lambda: edits.save_project(plan, replace(p, start=moment)),
            lambda: edits.save_project(plan, replace(p, direction=Direction.BACKWARD, finish=moment)),
            lambda: edits.save_project(plan, replace(p, direction=Direction.FORWARD)),
        ))()  # fmt: skip
        return edit.applied_to(plan)


class AsPlanned(unittest.TestCase):
    def test_a_plan_all_of_whose_progress_is_as_planned_has_the_dates_it_had(self) -> None:
        """Whatever lies before the status date is told as the plan had it, to the minute."""
        rng = random.Random(151)
        for k in range(40):
            plan = random_plan(rng, 30, summaries=True, resources=0, projects=1)
            before = schedule(plan)
            status = MONDAY + rng.randrange(1, 30) * 1440 + rng.choice((0, 480, 720, 1020))
            records: list[Task] = []
            for task in plan.tasks.values():
                dates = before.dates(task.id)
                if plan.is_summary(task.id) or dates.start >= status or task.kind is TaskKind.SPAN:
                    continue
                slot, network = before.slots[task.id], before.network
                from hexapod.worktime.arithmetic import worked

                pool, calendar = network.timing.pool, int(network.tasks.calendar[slot])
                done = int(worked(pool, calendar, status) - worked(pool, calendar, dates.start))
                if dates.finish <= status:
                    task = replace(task, actual_start=dates.start, actual_finish=dates.finish, percent=100.0)
                else:
                    task = replace(task, actual_start=dates.start, remaining=task.minutes - done)
                records.append(task)
            known = {t.id for t in records}
            p = replace(plan.projects_in_order()[0], status_date=status)
            rest = [t for t in plan.tasks.values() if t.id not in known]
            after = schedule(Plan.of([*plan.calendars.values(), p, *records, *rest, *plan.links.values()]))
            for task_id in plan.tasks:
                one, two = before.dates(task_id), after.dates(task_id)
                self.assertEqual((one.start, one.finish), (two.start, two.finish), f"{k}: {task_id}")


class Standing(unittest.TestCase):
    def test_a_leaf_is_one_of_four_and_late_in_the_first_way_that_applies(self) -> None:
        a, b, c, d, e = tasks(("a", 2 * DAY), ("b", 2 * DAY), ("c", 4 * DAY), ("d", DAY), ("e", DAY))
        a = replace(a, actual_start=MONDAY, actual_finish=MONDAY + 1980, percent=100.0)
        c = replace(c, actual_start=MONDAY, percent=25.0)
        e = replace(e, target=at("2026-09-09T17:00"))
        links = (Link("a", "b"), Link("b", "d"))
        plan = under_way(a, b, c, d, e, links=links, status_date=at("2026-09-10T08:00"))
        found = schedule(plan)
        states = {t: found.state_of(t) for t in "abcde"}
        self.assertEqual(
            states, {"a": State.DONE, "b": State.READY, "c": State.BEGUN, "d": State.WAITING, "e": State.READY}
        )
        self.assertIsNone(found.late_of("a"))
        self.assertEqual(found.late_of("b"), (Late.TO_BEGIN, DAY))  # it should have begun on Wednesday
        self.assertEqual(found.late_of("c"), (Late.BEHIND, 2 * DAY))  # three days gone, one done
        self.assertIsNone(found.late_of("d"))
        self.assertEqual(found.late_of("e"), (Late.TO_FINISH, DAY))  # also late to begin: the first counts

    def test_what_only_holds_the_finish_keeps_nobody_from_beginning(self) -> None:
        a, b, c, m = tasks(("a", DAY), ("b", DAY), ("c", DAY), ("m", 0))
        begun = replace(a, actual_start=MONDAY, percent=10.0)
        for one, kind, other, state in (
            (a, LinkType.FF, b, State.READY), (a, LinkType.SS, b, State.WAITING), (begun, LinkType.SS, b, State.READY),
            (begun, LinkType.FS, b, State.WAITING), (a, LinkType.FF, m, State.WAITING),
        ):  # fmt: skip
            plan = under_way(one, other, c, links=(Link("a", other.id, kind),))
            self.assertIs(schedule(plan).state_of(other.id), state, kind)


class Telling(unittest.TestCase):
    def test_the_actual_start_is_written_once(self) -> None:
        a, b = tasks(("a", DAY), ("b", 4 * DAY))
        plan = under_way(a, b, links=(Link("a", "b"),), status_date=at("2026-09-30T08:00"))
        half = told(edits.set_percent(plan, ["b"], 50).applied_to(plan))
        self.assertEqual(
            half.tasks["b"].actual_start, at("2026-09-08T08:00"), "where the pass without the date puts it"
        )
        longer = edits.set_durations(half, ["a"], 3 * DAY).applied_to(half)
        self.assertEqual(told(longer).tasks["b"].actual_start, at("2026-09-08T08:00"))

    def test_done_ends_where_it_was_planned_and_not_after_now(self) -> None:
        (a,) = tasks(("a", 4 * DAY))
        plan = edits.set_percent(under_way(a), ["a"], 100).applied_to(under_way(a))
        for now, begun, ended in (
            (at("2026-12-01T08:00"), MONDAY, at("2026-09-10T17:00")),
            (at("2026-09-09T12:00"), at("2026-09-03T13:00"), at("2026-09-09T12:00")),
        ):
            found = told(plan, now).tasks["a"]
            self.assertEqual((found.actual_start, found.actual_finish), (begun, ended))

    def test_a_finish_gives_the_start_from_which_it_is_reached(self) -> None:
        (a,) = tasks(("a", 2 * DAY))
        ended = replace(a, actual_finish=at("2026-09-04T17:00"))
        found = told(under_way(ended)).tasks["a"]
        self.assertEqual((found.actual_start, found.percent), (at("2026-09-03T08:00"), 100.0))

    def test_a_hundred_per_cent_and_the_finish_go_together(self) -> None:
        (a,) = tasks(("a", DAY))
        plan = told(edits.set_percent(under_way(a), ["a"], 100).applied_to(under_way(a)))
        for edit in (edits.set_percent(plan, ["a"], 60), edits.reopen(plan, ["a"])):
            found = told(edit.applied_to(plan)).tasks["a"]
            self.assertTrue(found.is_begun)
            self.assertLess(found.percent, 100)
        self.assertIsNone(edits.take_back(plan, ["a"]).applied_to(plan).tasks["a"].actual_start)


if __name__ == "__main__":
    unittest.main()
