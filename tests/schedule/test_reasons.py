"""Reasons in words for every kind of them, and gaps that are kept along a chain."""

from __future__ import annotations

import random
import tempfile
import unittest
from pathlib import Path

from msgspec.structs import replace

from hexapod.plan import edits
from hexapod.plan.outline import outline_order
from hexapod.plan.plan import Plan
from hexapod.plan.records import (
    Assignment,
    CalendarException,
    Direction,
    Gap,
    LagOn,
    Limit,
    LimitKind,
    Link,
    LinkType,
    Resource,
    Task,
)
from hexapod.schedule.all_reasons import all_reasons
from hexapod.schedule.conflicts import conflicts
from hexapod.schedule.engine import schedule
from hexapod.schedule.reasons import ReasonKind, chain, reason_of
from hexapod.schedule.schedule import driving_links
from hexapod.schedule.words import conflict_words, lag_text, reason_words
from hexapod.session import Session
from hexapod.worktime.clock import iso
from tests.support import DAY, MONDAY, at, project, random_plan, tasks


def words(plan: Plan, task_id: str) -> list[str]:
    return [reason_words(plan, reason) for reason in chain(schedule(plan), task_id)]


class OfAll(unittest.TestCase):
    def test_the_reasons_of_all_at_once_are_those_of_each(self) -> None:
        """In plans of tasks that are equally long, so that several links often hold one of them."""
        several = placed_back = 0
        for seed in range(24):
            rng = random.Random(seed)
            made = random_plan(rng, 30, calendars=1, summaries=seed % 2 == 0, projects=2)
            back = {"direction": Direction.BACKWARD, "finish": MONDAY + 90 * 1440} if seed % 4 == 3 else {}
            links = [replace(link, lag=0) for link in made.links.values()]
            rng.shuffle(links)  # the first of several must not be the first that was read
            plan = Plan.of([
                *(replace(p, **back) for p in made.projects.values()), *made.calendars.values(),
                *(replace(t, duration=DAY, calendar=None) for t in made.tasks.values()), *map(replace, links),
            ])  # fmt: skip
            found, order = schedule(plan), list(outline_order(plan))
            reasons = all_reasons(found, order)
            self.assertEqual(reasons, [reason_of(found, task_id) for task_id in order], seed)
            drives = driving_links(found)[found.network.slots.of_links(plan.links)]
            ends = [key[1] for key, holds in zip(plan.links, drives, strict=True) if holds]
            several += len(ends) - len(set(ends))
            placed_back += sum(reason.kind is ReasonKind.PROJECT_FINISH for reason in reasons)
        self.assertGreater(several, 50)
        self.assertGreater(placed_back, 20)


class Words(unittest.TestCase):
    def setUp(self) -> None:
        self.a, self.b, self.c = tasks(("a", DAY), ("b", DAY), ("c", DAY))

    def test_each_kind_of_reason(self) -> None:
        a, b, c = self.a, self.b, self.c
        link = Link("a", "b", LinkType.SS, DAY)
        self.assertEqual(
            words(Plan.of([project(), a, b, link]), "b"),
            ["waits for the start of “a”, 1 d later", "starts with the project"],
        )
        held = Plan.of([project(), replace(b, hold=2 * DAY), a, Link("a", "b")])
        self.assertEqual(words(held, "b")[:2], ["is held back 2 d by levelling", "waits for the finish of “a”"])
        limited = replace(a, limits=(Limit(LimitKind.START_NO_EARLIER, MONDAY + 2880),))
        self.assertIn("starts not before", words(Plan.of([project(), limited]), "a")[0])
        status = Plan.of([project(status_date=MONDAY + 1440), a])
        self.assertIn("status date", words(status, "a")[0])
        away = Resource("r", "Mo", "a0", leave=(CalendarException(MONDAY // 1440, MONDAY // 1440),))
        self.assertEqual(
            words(Plan.of([project(), a, away, Assignment("a", "r")]), "a"),
            ["starts when Mo can work", "starts with the project"],
        )
        late = Plan.of([project(), replace(a, as_late_as_possible=True), replace(b, duration=5 * DAY), c,
                        Link("a", "c"), Link("b", "c")])  # fmt: skip
        self.assertEqual(words(late, "a")[0], "is as late as it can be: done just in time for “c”")
        self.assertEqual(reason_of(schedule(late), "a").kind, ReasonKind.AS_LATE_AS_POSSIBLE)
        back = Plan.of([project(direction=Direction.BACKWARD, finish=at("2026-09-30T17:00")), a, b, Link("a", "b")])
        self.assertEqual(
            words(back, "a"),
            ["is planned back: done just in time for “b”",
             "is planned back: done just in time for the finish of the project"],
        )  # fmt: skip

    def test_a_summary_starts_with_its_first_part_and_passes_links_on(self) -> None:
        inner = Task("in", "p", "in", "a0", parent="b", duration=DAY)
        plan = Plan.of([project(), self.a, self.b, inner, self.c, Link("a", "b"), Link("b", "c")])
        found = words(plan, "c")
        self.assertEqual(found[0], "waits for the finish of “b”")
        self.assertEqual(found[1], "ends with the last of its parts, “in”")
        self.assertEqual(found[2], "waits for the finish of “a” (as part of “b”)")
        self.assertEqual(words(plan, "b")[0], "starts with the first of its parts, “in”")

    def test_lags_in_words(self) -> None:
        for link, text in (
            (Link("a", "b"), ""), (Link("a", "b", lag=960), "2 d later"), (Link("a", "b", lag=-90), "1.5 h sooner"),
            (Link("a", "b", lag_percent=50.0), "50 % later"), (Link("a", "b", lag_percent=-12.5), "12.5 % sooner"),
            (Link("a", "b", lag=1440, lag_on=LagOn.ELAPSED), "1 d elapsed later"),
            (Link("a", "b", lag=480, lag_on=LagOn.PREDECESSOR), "1 d by its own calendar later"),
            (Link("a", "b", lag=480, lag_on=LagOn.PROJECT), "1 d by the project's calendar later"),
        ):  # fmt: skip
            self.assertEqual(lag_text(link), text)

    def test_conflicts_in_words(self) -> None:
        must = replace(self.b, limits=(Limit(LimitKind.MUST_START, MONDAY),), target=MONDAY)
        plan = Plan.of([project(), replace(self.a, duration=3 * DAY), must, Link("a", "b")])
        said = {conflict_words(plan, c) for c in conflicts(schedule(plan))}
        self.assertEqual(
            said,
            {
                "A limit is not kept: it must start on a date that it passes by 3 d.",
                "The target date is missed by 4 d.",
            },
        )
        tight = project(direction=Direction.BACKWARD, finish=at("2026-09-08T17:00"))
        limited = replace(self.a, limits=(Limit(LimitKind.START_NO_EARLIER, at("2026-09-08T08:00")),), duration=2 * DAY)
        plan = Plan.of([tight, limited])
        (found,) = conflicts(schedule(plan))
        self.assertEqual(conflict_words(plan, found), "“P” needs 1 d more than there is before its required finish.")


class Chains(unittest.TestCase):
    """Gaps kept along a chain of links, each task with room of its own before it."""

    def test_each_moves_by_as_much_and_one_undo_takes_all_back(self) -> None:
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        session = Session.create(Path(folder.name) / "w.hexapod")
        self.addCleanup(session.close)
        rows = tasks(*((f"t{i}", DAY) for i in range(6)))
        days = (7, 9, 11, 15, 17, 21)
        limits = [Limit(LimitKind.START_NO_EARLIER, at(f"2026-09-{d:02}T08:00")) for d in days]
        records = [replace(t, limits=(x,)) for t, x in zip(rows, limits, strict=True)]
        links = [Link(f"t{i}", f"t{i + 1}") for i in range(5)]

        def begin(draft) -> None:  # type: ignore[no-untyped-def]
            for record in (project(gap=Gap.KEEP), *records, *links):
                draft.put(record)

        session.apply(edits.Edit("Begin", begin))
        before = session.plan
        session.apply(edits.set_limit(session.plan, "t0", LimitKind.START_NO_EARLIER, at("2026-09-09T08:00")))
        moved = [iso(session.schedule.dates(t.id).start)[8:10] for t in rows]
        self.assertEqual(moved, ["09", "11", "15", "17", "21", "23"])
        session.apply(edits.set_limit(session.plan, "t0", LimitKind.START_NO_EARLIER, at("2026-09-08T08:00")))
        self.assertEqual(
            [iso(session.schedule.dates(t.id).start)[8:10] for t in rows], ["08", "10", "14", "16", "18", "22"]
        )
        for _ in range(2):
            session.undo()
        self.assertEqual(session.plan, before)
        fresh = schedule(session.plan)
        self.assertTrue(all(session.schedule.dates(t.id) == fresh.dates(t.id) for t in rows))


if __name__ == "__main__":
    unittest.main()
