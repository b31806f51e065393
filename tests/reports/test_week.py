"""The week in words against a slow judge: every sentence on random histories is worked out again from the plans."""

from __future__ import annotations

import random
import re
import tempfile
import unittest
from collections import Counter
from collections.abc import Callable
from pathlib import Path

from msgspec.structs import replace

from hexapod.errors import HexapodError
from hexapod.plan import edits
from hexapod.plan.accounts import Budget
from hexapod.plan.changes import diff
from hexapod.plan.edits import Edit
from hexapod.plan.edits.portfolio import archive_projects
from hexapod.plan.plan import Plan
from hexapod.plan.records import LimitKind, Resource, ResourceKind, Task, TaskKind
from hexapod.plan.risks import Risk, RiskDelay, RiskKind, RiskState
from hexapod.reporting import basis_of
from hexapod.reports.basis import Basis, scope_of
from hexapod.reports.parts.words import week
from hexapod.reports.report import Fact, Part
from hexapod.schedule.engine import schedule
from hexapod.schedule.schedule import Schedule
from hexapod.session import Session
from hexapod.store.workspace import Workspace
from hexapod.worktime.clock import date_of, moment_of
from tests.budgets import deep_or
from tests.support import MONDAY, at, random_plan, set_clock

CLOCK_DAY = 1440
NOW = MONDAY + 21 * CLOCK_DAY + 120
PEOPLE = ("Nell Harrow", "Joss Ferro", "Tove Marchbank")


def standard_minutes(begin: int, end: int) -> int:
    """Working minutes of the standard week, counted hour by hour; less than none backwards."""
    if end < begin:
        return -standard_minutes(end, begin)
    found = 0
    for day in range(begin // CLOCK_DAY, end // CLOCK_DAY + 1):
        if date_of(day).weekday() < 5:
            for first, last in ((480, 720), (780, 1020)):
                found += max(0, min(end, day * CLOCK_DAY + last) - max(begin, day * CLOCK_DAY + first))
    return found


class History:
    """A session with a plan to which something happens, and what the plan was after every edit."""

    def __init__(self, seed: int, folder: Path) -> None:
        self.rng = random.Random(seed)
        plan = random_plan(self.rng, 14, resources=3, projects=2, summaries=True, lags=0, types="FS FS SS")
        target = MONDAY + self.rng.randrange(10, 60) * CLOCK_DAY
        draft = plan.draft()
        for i, project in enumerate(plan.projects_in_order()):
            draft.put(replace(project, calendar="standard", target_finish=target + i * CLOCK_DAY))
        draft.put(Resource("boss", "The boss", "z0", role=None))
        draft.put(Budget("x", "p0", amount=self.rng.randrange(1, 40) * 10_000))
        for resource in list(plan.resources.values()):
            draft.put(replace(resource, rate=5_000))
        plan = draft.finish()[0]
        path = folder / f"w{seed}.hexapod"
        workspace = Workspace.create(path)
        self.moment = MONDAY - 3 * CLOCK_DAY
        workspace.clock = lambda: moment_of(self.moment)
        workspace.write(diff(Plan(), plan), "Begin", PEOPLE[0])
        workspace.close()
        self.session = Session.open(path)
        self.session.workspace.clock = lambda: moment_of(self.moment)
        self.past: list[tuple[int, str, Plan]] = [(self.moment, PEOPLE[0], self.session.plan)]
        self.numbers = [self.session.history[-1].number]
        self.session.compute()
        for _ in range(self.rng.randrange(8, 30)):
            self.step()
        self.moment = NOW

    def step(self) -> None:
        self.moment = min(NOW - 5, self.moment + self.rng.randrange(200, 3500))
        self.session.who = self.rng.choice(PEOPLE)
        try:
            done = self.session.undo() if self.rng.random() < 0.1 and self.session.undo_words != "Begin" else (
                self.session.apply(self.edit(self.session.plan)))  # fmt: skip
        except HexapodError:
            return
        if done is not None:
            self.past.append((self.moment, self.session.who, self.session.plan))
            self.numbers.append(self.session.history[-1].number)

    def edit(self, plan: Plan) -> Edit:
        rng = self.rng
        leaves = sorted(t for t in plan.tasks if not plan.is_summary(t))
        one = rng.choice(leaves)
        marks = [t for t in leaves if not plan.tasks[t].minutes] or leaves
        delay = RiskDelay(one, (60, 480, 900))
        project = plan.tasks[one].project
        kind = rng.choice(list(RiskKind))
        due = NOW // CLOCK_DAY + rng.randrange(-5, 20) if rng.random() < 0.7 else None
        risk = Risk(edits.new_id(), project, f"Risk {rng.randrange(99)}", kind, chance=rng.random(), delays=(delay,),
                    owner=rng.choice((None, "boss")), due=due, state=rng.choice(list(RiskState)))  # fmt: skip
        choices = (
            lambda: edits.set_durations(plan, [one], rng.randrange(3000)),
            lambda: edits.set_percent(plan, [one], rng.choice((0, 30, 100))),
            lambda: edits.finish(plan, [rng.choice(marks)], min(self.moment, NOW - rng.randrange(9) * CLOCK_DAY)),
            lambda: edits.finish(plan, [one], min(self.moment, MONDAY + rng.randrange(20) * CLOCK_DAY)),
            lambda: edits.finish(plan, [rng.choice(leaves)], self.moment),
            lambda: edits.set_task(plan, one, "Target", target=MONDAY + rng.randrange(30) * CLOCK_DAY),
            lambda: edits.set_task(plan, one, "Milestone", kind=TaskKind.MILESTONE, duration=0),
            lambda: edits.set_limit(
                plan, rng.choice(marks), LimitKind.START_NO_EARLIER, NOW + rng.randrange(9) * CLOCK_DAY
            ),
            lambda: edits.save_risk(plan, risk),
            lambda: edits.put_on_hold(plan, project, rng.random() < 0.5),
            lambda: archive_projects(plan, [project]),
            lambda: edits.set_percent(plan, rng.sample(leaves, min(3, len(leaves))), rng.choice((20, 100))),
            lambda: edits.save_project(
                plan, replace(plan.projects[project], target_finish=MONDAY + rng.randrange(60) * CLOCK_DAY + 480)
            ),
            lambda: edits.set_status_date(plan, project, min(self.moment, MONDAY + rng.randrange(20) * CLOCK_DAY)),
            lambda: edits.rename(plan, one, f"Name {rng.randrange(100)}"),
            lambda: edits.remove_tasks(plan, [one]),
            *(self.handing(plan, one) for _ in range(5)),
        )
        return rng.choice(choices)()

    def handing(self, plan: Plan, task: str) -> Callable[[], Edit]:
        """Something about what is handed over, and who agrees to it."""
        rng, known = self.rng, sorted(plan.deliverables)
        if not known or rng.random() < 0.3:
            return lambda: edits.add_deliverables(plan, task, [f"Drawing {rng.randrange(99)}"])
        one, asked = rng.choice(known), sorted(plan.approvals)
        if asked and rng.random() < 0.5:
            approval = rng.choice(asked)
            turn = plan.approvals[approval].turn or ("boss",)
            return lambda: edits.answer_approval(plan, approval, turn[0], rng.random() < 0.5, "No", self.moment)
        return rng.choice((
            lambda: edits.deliver(plan, one, "Ada", self.moment - rng.randrange(12) * CLOCK_DAY),
            lambda: edits.not_delivered(plan, one),
            lambda: edits.ask_approval(
                plan, plan.deliverables[one].task, ("boss",), "Ada", self.moment, deliverable=one)[1],
            lambda: edits.ask_approval(plan, task, ("boss", sorted(plan.resources)[0]), "Ada", self.moment)[1],
        ))  # fmt: skip

    def plan_before(self, moment: int) -> Plan:
        found = Plan()
        for made, _, plan in self.past:
            if made < moment:
                found = plan
        return found


class Judge:
    """Works out each fact of a part again."""

    def __init__(self, history: History, basis: Basis, part: Part) -> None:
        self.history, self.basis, self.part = history, basis, part
        self.plan = history.session.plan
        self.now: Schedule = schedule(self.plan)
        self.before: Schedule = schedule(history.plan_before(basis.since))
        self.scope = set(basis.scope)
        self.leaves = [t for t in self.plan.tasks.values()
                       if t.project in self.scope and not self.plan.is_summary(t.id)]  # fmt: skip

    def moved(self, project: str) -> int:
        now, then = self.now.project_finish.get(project), self.before.project_finish.get(project)
        return 0 if now is None or then is None else standard_minutes(then, now)

    def is_milestone(self, task: Task) -> bool:
        return task.kind is TaskKind.MILESTONE or not task.minutes

    def late(self, dates: Schedule) -> list[tuple[int, str]]:
        found = []
        for task in dates.plan.tasks.values():
            if task.project in self.scope and not dates.plan.is_summary(task.id):
                late = dates.late_of(task.id)
                if late is not None and dates.plan.projects[task.project].is_at_work:
                    found.append((late[1], task.id))
        return found

    # A method for each kind of fact; true where it holds.

    def counts(self, fact: Fact) -> bool:
        return fact.figures == (len(self.scope),)

    def finish(self, fact: Fact) -> bool:
        (project,), (finish, by, room) = fact.about, fact.figures
        target = self.plan.projects[project].target_finish
        assert target is not None
        archived = self.plan.projects[project].archived  # nobody holds it to its target any more
        return (finish, by) == (self.now.project_finish[project], self.moved(project)) and (
            room == (None if archived else standard_minutes(finish, target))
        )

    def moved_too(self, fact: Fact) -> bool:
        return False  # two projects are never too many

    def stayed(self, fact: Fact) -> bool:
        return not any(self.moved(p) for p in fact.about) and set(fact.about) == self.scope

    def cause(self, fact: Fact) -> bool:
        (project,), (number, minutes) = fact.about, fact.figures
        place = self.history.numbers.index(number)
        made, _, after = self.history.past[place]
        before = self.history.past[place - 1][2]
        then = schedule(before).project_finish.get(project)
        now = schedule(after).project_finish.get(project)
        if then is None or now is None:
            return True  # it came into being or had nothing in it: counted from what was there before
        return made >= self.basis.since and minutes == standard_minutes(then, now)

    def causes_too(self, fact: Fact) -> bool:
        (project,), (count, rest) = fact.about, fact.figures
        shown = [s.fact for s in self.part.sentences if s.fact.kind == "cause" and s.fact.about == (project,)]
        return len(shown) == 3 and count > 0 and sum(f.figures[1] for f in shown) + rest == self.moved(project)

    def told(self, fact: Fact) -> bool:
        finished, begun, *who = fact.figures
        within = range(self.basis.since, self.basis.until)
        real = [t for t in self.leaves if not self.is_milestone(t)]
        tellers: Counter[str] = Counter()
        for (_, _, before), (made, who_did, after) in zip(self.history.past, self.history.past[1:], strict=False):
            if made >= self.basis.since:
                for task in after.tasks.values():
                    old = before.tasks.get(task.id)
                    if (
                        old is not None
                        and task.project in self.scope
                        and any(
                            getattr(old, f) != getattr(task, f)
                            for f in ("actual_start", "actual_finish", "percent", "remaining")
                        )
                    ):
                        tellers[who_did] += 1
        return (
            finished == sum(t.is_done and t.actual_finish in within for t in real)
            and begun == sum(t.actual_start in within for t in real)
            and set(who) == set(tellers)
            and [tellers[w] for w in who] == sorted(tellers.values(), reverse=True)
        )

    def reached(self, fact: Fact) -> bool:
        within = range(self.basis.since, self.basis.until)
        real = {t.id for t in self.leaves if self.is_milestone(t) and t.is_done and t.actual_finish in within}
        return set(fact.about) == real and fact.figures == (len(real),)

    def late_(self, fact: Fact) -> bool:
        found, (count, by, before) = self.late(self.now), fact.figures
        return (count, by, before) == (len(found), max(found)[0], len(self.late(self.before))) and (
            (by, fact.about[0]) in found
        )

    def overdue(self, fact: Fact) -> bool:
        real = {
            t.id for t in self.leaves
            if self.is_milestone(t) and not t.is_done and self.plan.projects[t.project].is_at_work
            and (self.now.dates(t.id).finish < NOW or self.now.late_of(t.id) is not None)
        }  # fmt: skip
        return set(fact.about) <= real

    def state(self, fact: Fact) -> bool:
        (project,), (state, because) = fact.about, fact.figures
        finish, target = self.now.project_finish[project], self.plan.projects[project].target_finish
        assert finish is not None and target is not None
        if self.plan.projects[project].on_hold:
            return False
        past = standard_minutes(target, finish)
        if state == "late":
            days = re.search(r"(\d+(?:\.\d)?) d after", because)
            return finish > target and days is not None and abs(float(days[1]) - past / 480) < 0.051
        return finish <= target

    def risk(self, fact: Fact) -> bool:
        risk, (chance, adds, owner) = self.plan.risks[fact.about[0]], fact.figures
        open_ = [r for r in self.plan.risks.values() if r.project in self.scope and r.state is RiskState.OPEN]
        heavier = [r for r in open_ if r.kind is RiskKind.RISK
                   and len(r.delays) * r.chance > len(risk.delays) * risk.chance]  # fmt: skip
        likely = risk.delays[0].minutes[1] if risk.delays else 0
        return (chance, adds, owner) == (risk.chance, likely, risk.owner) and len(heavier) < 3

    def risks_too(self, fact: Fact) -> bool:
        open_ = [r for r in self.plan.risks.values()
                 if r.project in self.scope and r.kind is RiskKind.RISK and r.state is RiskState.OPEN]  # fmt: skip
        return fact.figures == (len(open_),) and len(open_) > 3

    def decide(self, fact: Fact) -> bool:
        risk = self.plan.risks[fact.about[0]]
        return (
            risk.kind in (RiskKind.DECISION, RiskKind.ISSUE)
            and risk.state is RiskState.OPEN
            and (fact.figures == (risk.due,))
        )

    def target(self, fact: Fact) -> bool:
        (project,), (by, first) = fact.about, fact.figures
        finish, target = self.now.project_finish[project], self.plan.projects[project].target_finish
        assert finish is not None and target is not None
        open_ = [
            (self.now.dates(t.id).start, t.id) for t in self.leaves
            if t.project == project and t.actual_start is None and t.minutes and t.kind is TaskKind.TASK
            and self.now.dates(t.id).critical and self.now.dates(t.id).start >= NOW
        ]  # fmt: skip
        start = None if first is None else self.now.dates(first).start
        return by == standard_minutes(target, finish) and start == min((s for s, _ in open_), default=None)

    def budget(self, fact: Fact) -> bool:
        cost, budget = fact.figures
        kept = [b.amount for b in self.plan.budgets.values() if b.project == fact.about[0]]
        return [budget] == kept and cost > budget

    def over(self, fact: Fact) -> bool:
        return fact.figures[0] >= 1 and fact.figures[1] > 0

    def short(self, fact: Fact) -> bool:
        return self.plan.resources[fact.about[0]].kind is ResourceKind.ROLE

    def is_worked(self, task: str) -> bool:
        return all(self.plan.tasks[t].is_done for t in self.plan.branch(task) if not self.plan.is_summary(t))

    def handed(self, fact: Fact) -> bool:
        within = range(self.basis.since, self.basis.until)
        real = {d.id for d in self.plan.deliverables.values()
                if d.handed in within and self.plan.tasks[d.task].project in self.scope}  # fmt: skip
        return set(fact.figures[1:]) == real and fact.figures[0] == len(real)

    def owed_now(self) -> set[str]:
        return {
            d.id for d in self.plan.deliverables.values()
            if d.handed is None and self.plan.tasks[d.task].project in self.scope
            and self.plan.projects[self.plan.tasks[d.task].project].is_at_work
            and (self.is_worked(d.task) or self.now.dates(d.task).finish < NOW)
        }  # fmt: skip

    def owed(self, fact: Fact) -> bool:
        tasks = tuple(self.plan.deliverables[d].task for d in fact.figures[1:])
        return set(fact.figures[1:]) == self.owed_now() and (fact.figures[0], fact.about) == (len(tasks), tasks)

    def waiting(self) -> dict[str, tuple[int | str, ...]]:
        """By milestone when it was asked for, how it stands and whose turn it is, where somebody is to answer."""
        found: dict[str, tuple[int | str, ...]] = {}
        for approval in self.plan.approvals.values():
            mark = self.plan.tasks[approval.task]
            noes = [a for a in approval.answers if not a.yes]
            left = [p for p in approval.people if p not in {a.person for a in approval.answers}]
            wanted = self.plan.deliverables.get(approval.deliverable or "")
            ready = wanted.handed is not None if wanted else approval.work is None or self.is_worked(approval.work)
            is_given = not noes and not left and approval.people
            at_work = self.plan.projects[mark.project].is_at_work and mark.project in self.scope
            if at_work and not mark.is_done and not is_given and (noes or ready):
                turn = [] if noes else left[:1] if approval.in_order else left
                found[approval.task] = (approval.asked, "sent_back" if noes else "open", *turn)
        return found

    def agree(self, fact: Fact) -> bool:
        return self.waiting().get(fact.about[0]) == fact.figures

    def coming(self, fact: Fact) -> bool:
        real = {
            t.id for t in self.leaves
            if self.is_milestone(t) and not t.is_done and NOW <= self.now.dates(t.id).finish <= NOW + 7 * CLOCK_DAY
        }  # fmt: skip
        return set(fact.about) <= real and fact.figures == (len(fact.about),)


class Week(unittest.TestCase):
    def setUp(self) -> None:
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.folder = Path(folder.name)
        set_clock(self, NOW)

    def test_every_sentence_holds_on_random_histories(self) -> None:
        seen: Counter[str] = Counter()
        for seed in range(deep_or(90, 800)):
            history = History(seed, self.folder)
            self.addCleanup(history.session.close)
            for projects in ((), ("p0",)):
                basis = basis_of(history.session, projects=projects)
                part = week(basis)
                judge = Judge(history, basis, part)
                for sentence in part.sentences:
                    fact = sentence.fact
                    seen[fact.kind] += 1
                    if fact.kind in ("empty", "no_past", "state_too"):
                        continue
                    holds = getattr(judge, f"{fact.kind}_" if fact.kind == "late" else fact.kind)
                    self.assertTrue(holds(fact), (seed, projects, sentence.text, fact))
                    self.assertTrue(sentence.text.endswith("."), sentence.text)
                self.check_nothing_is_kept_quiet(judge, part)
        for kind in ("finish", "cause", "told", "reached", "late", "state", "risk", "decide", "target", "coming",
                     "handed", "owed", "agree"):  # fmt: skip
            self.assertTrue(seen[kind], kind)

    def check_nothing_is_kept_quiet(self, judge: Judge, part: Part) -> None:
        """What moved, is late or is to be decided is in a sentence."""
        said = Counter(s.fact.kind for s in part.sentences)
        moved = sum(bool(judge.moved(p)) for p in judge.scope)
        self.assertEqual(said["finish"], moved)
        self.assertEqual(bool(said["late"]), bool(judge.late(judge.now)))
        self.assertEqual(bool(said["owed"]), bool(judge.owed_now()))
        self.assertEqual(said["agree"], min(5, len(judge.waiting())))
        for p in judge.scope:
            causes = [s.fact for s in part.sentences if s.fact.kind in ("cause", "causes_too") and s.fact.about == (p,)]
            self.assertEqual(sum(f.figures[1] for f in causes), judge.moved(p), p)
            sizes = [abs(f.figures[1]) for f in causes if f.kind == "cause"]
            self.assertEqual(sizes, sorted(sizes, reverse=True), p)

    def test_names_and_numbers_in_the_words_are_those_of_the_facts(self) -> None:
        """What a person reads is what was checked: the days of a finish and the minutes that it moved by."""
        for seed in range(deep_or(10, 100)):
            history = History(seed, self.folder)
            self.addCleanup(history.session.close)
            for sentence in week(basis_of(history.session)).sentences:
                if sentence.fact.kind == "finish":
                    _, by, _ = sentence.fact.figures
                    days = re.search(r", (\d+(?:\.\d)?) d (later|sooner) than", sentence.text)
                    assert days is not None
                    self.assertAlmostEqual(float(days[1]), abs(by) / 480, delta=0.051)
                    self.assertEqual(days[2], "later" if by > 0 else "sooner")
                    name = history.session.plan.projects[sentence.fact.about[0]].name
                    self.assertTrue(sentence.text.startswith(f"“{name}” finishes on "))

    def test_days_that_are_past_are_told_of_the_plan_as_it_was(self) -> None:
        history = History(3, self.folder)
        self.addCleanup(history.session.close)
        end = (MONDAY // CLOCK_DAY + 14) * CLOCK_DAY
        basis = basis_of(history.session, until=end)
        then = history.plan_before(end)
        self.assertEqual(basis.plan, then)
        self.assertEqual((basis.now, basis.until, basis.since), (end, end, end - 7 * CLOCK_DAY))
        self.assertTrue(all(end - 7 * CLOCK_DAY <= made < end for _, made, _ in basis.steps))
        with self.assertRaisesRegex(HexapodError, "not there yet"):
            basis_of(history.session, until=MONDAY - 30 * CLOCK_DAY)

    def test_an_empty_project_and_a_plan_without_a_past_say_so(self) -> None:
        from hexapod.plan.records import Project

        empty = Plan.of([Project("p", "Empty hall", MONDAY, "a0")])
        basis = Basis(schedule(empty), NOW, scope_of(empty), NOW - 7 * CLOCK_DAY, NOW)
        self.assertEqual([s.fact.kind for s in week(basis).sentences], ["empty"])
        plan = random_plan(random.Random(1), 6)
        basis = Basis(schedule(plan), NOW, scope_of(plan), NOW - 7 * CLOCK_DAY, NOW)
        kinds = [s.fact.kind for s in week(basis).sentences]
        self.assertEqual(kinds[0], "no_past")
        self.assertNotIn("finish", kinds)
        self.assertNotIn("stayed", kinds)

    def test_it_is_told_who_moved_a_finish_and_how(self) -> None:
        plan = random_plan(random.Random(2), 5, milestones=0)
        path = self.folder / "who.hexapod"
        workspace = Workspace.create(path)
        workspace.clock = lambda: moment_of(at("2026-09-10T10:00"))
        workspace.write(diff(Plan(), plan), "Begin", "Nell Harrow")
        workspace.close()
        session = Session.open(path)
        self.addCleanup(session.close)
        session.compute()
        session.who = "Joss Ferro"
        session.workspace.clock = lambda: moment_of(NOW - 2 * CLOCK_DAY)
        last = max(plan.tasks, key=lambda t: session.schedule.dates(t).finish)
        session.apply(edits.set_durations(session.plan, [last], plan.tasks[last].minutes + 960))
        text = " ".join(s.text for s in week(basis_of(session)).sentences)
        name = plan.tasks[last].name
        self.assertIn(f"went 2 d later by what Joss Ferro did on Sat 26 Sep: set the duration of “{name}”.", text)


if __name__ == "__main__":
    unittest.main()
