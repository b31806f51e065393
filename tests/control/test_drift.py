"""What made a finish drift: the parts of random histories, with undo among them, add up exactly."""

from __future__ import annotations

import random
import tempfile
import unittest
from datetime import datetime, timedelta
from pathlib import Path

from msgspec.structs import replace

from hexapod.control.baselines import baseline_of, finish_of, project_drift
from hexapod.control.drift import Stopped, drift_parts, milestones_of, replay, trend
from hexapod.errors import HexapodError
from hexapod.plan import edits
from hexapod.plan.records import LinkType, TaskKind
from hexapod.schedule.codes import NEVER
from hexapod.schedule.drifting import drifts
from hexapod.schedule.engine import schedule
from hexapod.session import Session
from hexapod.worktime.clock import minutes_of
from tests.support import DAY, MONDAY, random_plan

CLOCK_DAY = 1440


class History(unittest.TestCase):
    """A session whose clock goes on by some hours at each edit."""

    def open(self, seed: int) -> tuple[random.Random, Session]:
        rng = random.Random(seed)
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        session = Session.create(Path(folder.name) / "Drift.hexapod")
        self.addCleanup(session.close)
        self.now = datetime(2026, 9, 1, 8)
        session.workspace.clock = lambda: self.now
        plan = random_plan(rng, 12, calendars=1, summaries=True, resources=2, milestones=0.2)
        session.apply(edits.to_plan("Fill", session.plan, plan))
        return rng, session

    def edit_at_random(self, rng: random.Random, session: Session) -> None:
        plan = session.plan
        leaves = [t for t in plan.tasks if not plan.is_summary(t)]
        one, other = rng.choice(leaves), rng.choice(leaves)
        choices = [
            lambda: edits.set_durations(plan, [one], rng.randrange(1, 9) * DAY // 2),
            lambda: edits.link(plan, one, other, LinkType.FS),
            lambda: edits.rename(plan, one, "Other"),
            lambda: edits.add_comment(plan, one, "Mo", MONDAY, "Said"),
            lambda: edits.set_percent(plan, [one], rng.choice((0, 50, 100))),
            lambda: edits.set_status_date(plan, "p0", plan.projects["p0"].start + rng.randrange(20) * CLOCK_DAY),
        ]
        if len(leaves) > 8:
            choices.append(lambda: edits.remove_tasks(plan, [one]))
        try:
            if rng.random() < 0.25 and session.undo_words != "Fill":
                session.undo()
            elif rng.random() < 0.1 and session.redo_words:
                session.redo()
            else:
                session.apply(rng.choice(choices)())
        except HexapodError:
            pass  # a loop, say
        self.now += timedelta(minutes=rng.choice((0, 30, 600, 2000)))

    def past(self, session: Session):  # type: ignore[no-untyped-def]
        return ((row, minutes_of(datetime.fromisoformat(row.at)), found) for row, found in session.past())

    def test_parts_add_up_exactly_also_with_undo_among_them(self) -> None:
        moved = 0
        for seed in range(12):
            rng, session = self.open(seed)
            for _ in range(rng.randrange(6)):
                self.edit_at_random(rng, session)
            baseline = baseline_of(session.compute(), "p0", "b", "First", minutes_of(self.now))
            session.apply(edits.keep_baseline(session.plan, baseline))
            kept = session.history[-1].number
            for _ in range(25):
                self.edit_at_random(rng, session)
            now = session.compute()
            targets = ["p0", *milestones_of(now.plan, "p0")]
            found = replay(now.plan, self.past(session), targets, since=baseline)
            parts = drift_parts(now, found, "p0", finish_of(baseline) or 0)
            self.assertEqual(sum(p.minutes for p in parts), project_drift(now, baseline), seed)
            moved += len(parts)
            by_task = drifts(now, baseline)
            for row in (row for row in baseline.tasks if row.task in targets and row.task in by_task):
                parts = drift_parts(now, found, row.task, row.finish)
                self.assertEqual(sum(p.minutes for p in parts), by_task[row.task].finish, (seed, row.task))
                for part in parts:
                    assert part.edit is not None
                    self.assertGreater(part.edit.number, kept, "all of it was done after the baseline")
        self.assertGreater(moved, 20)

    def test_each_finish_is_that_of_the_plan_as_it_was(self) -> None:
        for seed in range(4):
            rng, session = self.open(40 + seed)
            for _ in range(15):
                self.edit_at_random(rng, session)
            now = session.compute()
            targets = ["p0", *milestones_of(now.plan, "p0")]
            found = replay(now.plan, self.past(session), targets)
            self.assertEqual(len(found.edits), len(session.history))
            for i, row in enumerate(session.history):
                then = schedule(session.plan_after(row.number))
                for j, target in enumerate(targets):
                    known = then.project_finish.get(target) if target == "p0" else (
                        int(then.finish[then.slots[target]]) if target in then.plan.tasks else None)  # fmt: skip
                    wanted = NEVER if known is None else known
                    self.assertEqual(int(found.finishes[i + 1, j]), wanted, (seed, row.words, target))
            days = trend(found, "p0")
            self.assertEqual([day for day, _ in days], sorted({at // CLOCK_DAY * CLOCK_DAY for at in found.times}))
            self.assertEqual(days[-1][1], now.project_finish["p0"])

    def test_a_history_that_begins_after_the_baseline_says_so(self) -> None:
        _, session = self.open(7)
        leaf = next(t for t in session.plan.tasks if session.plan.tasks[t].kind is TaskKind.TASK)
        now = session.compute()
        finish = now.project_finish["p0"] or 0
        early = baseline_of(now, "p0", "b", "Of old", MONDAY - 900 * CLOCK_DAY)
        early = replace(early, tasks=tuple(replace(r, start=r.start - 7 * CLOCK_DAY, finish=r.finish - 7 * CLOCK_DAY)
                                           for r in early.tasks))  # fmt: skip
        session.apply(edits.keep_baseline(session.plan, early))
        session.apply(edits.rename(session.plan, leaf, "Other"))
        now = session.compute()
        found = replay(now.plan, self.past(session), ["p0"], since=early, most=1)
        parts = drift_parts(now, found, "p0", finish - 7 * CLOCK_DAY)
        self.assertEqual([p.edit for p in parts], [None])
        self.assertEqual(parts[0].minutes, project_drift(now, early))

    def test_it_can_be_stopped(self) -> None:
        _, session = self.open(1)
        for i in range(30):
            session.apply(edits.rename(session.plan, next(iter(session.plan.tasks)), f"N{i}"))
        seen: list[float] = []
        with self.assertRaises(Stopped):
            replay(session.plan, self.past(session), ["p0"], goes_on=lambda part: bool(seen.append(part)))
        self.assertEqual(len(seen), 1)
