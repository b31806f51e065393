"""Asking a plan: queries against the same said in Python, mistakes with their place, views and what they show."""

from __future__ import annotations

import random
import unittest
from collections.abc import Callable
from itertools import pairwise

from msgspec.structs import replace

from hexapod.errors import BadText
from hexapod.fields.reading import Troubles
from hexapod.plan.outline import rows as outline_rows
from hexapod.plan.plan import Plan
from hexapod.plan.records import Assignment, Field, FieldKind, Resource, Task
from hexapod.plan.rowlist import Outline, RowList
from hexapod.query.arranging import Rows, arrange, lanes
from hexapod.query.asking import compile_query, completions, is_query, matches
from hexapod.query.views import NEWEST, PLAIN, SHIPPED, Finished, View, kept_form, read_views
from hexapod.schedule.codes import FOREVER
from hexapod.schedule.engine import schedule
from hexapod.schedule.schedule import Schedule
from hexapod.schedule.states import Late, State
from tests.support import DAY, random_plan, told


def plan_of(rng: random.Random) -> Plan:
    """Random, with streams, people by name, things done, and a choice of one's own."""
    plan = random_plan(rng, 40, summaries=True, resources=3, projects=2)
    draft = plan.draft()
    for number, resource in enumerate(list(plan.resources.values())):
        draft.put(replace(resource, name=("Rosa Okonjo", "Milan Adeyo", "Scissor lift")[number], initials=f"R{number}"))
    for task in list(plan.tasks.values()):
        fields = (("Room", rng.choice(("North", "South"))),) if rng.random() < 0.7 else ()
        draft.put(replace(task, stream=rng.choice(("", "Build", "Media")), percent=rng.choice((0.0, 40.0, 100.0)),
                          fields=fields, priority=rng.randrange(1, 10)))  # fmt: skip
    draft.put(Field("f", "Room", "a0", FieldKind.CHOICE, ("North", "South")))
    return told(draft.finish()[0])


class Asking(unittest.TestCase):
    def found(self, plan: Plan, dates: Schedule, query: str, troubles: Troubles = Troubles()) -> set[str]:  # noqa: B008
        return {t for t in matches(compile_query(plan, query), plan, dates, plan.tasks, troubles) if t}

    def test_queries_find_what_the_same_in_python_finds(self) -> None:
        rng = random.Random(12)

        def who(plan: Plan, task: Task) -> str:
            return ", ".join(plan.resources[r].name for r in plan.assigned.get(task.id, ())).lower()

        def has_float(dates: Schedule, task: Task) -> bool:
            return dates.dates(task.id).total_float is not None

        Test = Callable[[Plan, Schedule, Task], bool]
        said: dict[str, Test] = {
            "critical and not summary": lambda p, s, t: s.dates(t.id).critical and not p.is_summary(t.id),
            "float < 3 d": lambda p, s, t: (s.dates(t.id).total_float or 0) < 3 * DAY and has_float(s, t),
            "late": lambda p, s, t: s.late_of(t.id) is not None,
            "ready and percent < 40": lambda p, s, t: s.state_of(t.id) is State.READY,
            "late by > 1 d": lambda p, s, t: (s.late_of(t.id) or (None, 0))[1] > DAY,
            "how late is behind": lambda p, s, t: (s.late_of(t.id) or (None, 0))[0] is Late.BEHIND,
            "left = 0 d and not summary": lambda p, s, t: not p.is_summary(t.id) and t.rest == 0,
            "actual start < 2026-10-01": lambda p, s, t: (
                not p.is_summary(t.id) and (t.actual_start or 1 << 40) < 29_846_880
            ),
            "who contains rosa": lambda p, s, t: "rosa" in who(p, t),
            "who is empty or duration >= 2 d": lambda p, s, t: not who(p, t) or s.dates(t.id).duration >= 2 * DAY,
            "room is north": lambda p, s, t: dict(t.fields).get("Room") == "North",
            "room is not north": lambda p, s, t: dict(t.fields).get("Room") != "North",
            "priority > 5 and start < 2026-10-01": lambda p, s, t: t.priority > 5 and s.dates(t.id).start < 29_846_880,
            "not (done = 0) and not summary": lambda p, s, t: t.percent > 0 and not p.is_summary(t.id),
            "state is done and not summary": lambda p, s, t: t.percent == 100 and not p.is_summary(t.id),
            'name contains "1"': lambda p, s, t: "1" in t.name,
        }
        for _ in range(12):
            plan = plan_of(rng)
            dates = schedule(plan)
            for query, test in said.items():
                wanted = {t.id for t in plan.tasks.values() if test(plan, dates, t)}
                self.assertEqual(self.found(plan, dates, query), wanted, query)

    def test_troubles_are_asked_for_by_name(self) -> None:
        plan = plan_of(random.Random(1))
        dates, one, two = schedule(plan), *sorted(plan.tasks)[:2]
        troubles = Troubles({one}, {two})
        self.assertEqual(self.found(plan, dates, "conflict", troubles), {one})
        self.assertEqual(self.found(plan, dates, "overload or conflict", troubles), {one, two})

    def test_a_mistake_has_its_place_and_a_sentence(self) -> None:
        plan = plan_of(random.Random(2))
        for query, at, says in (
            ("critcal and late", 0, "Do you mean critical"), ("float < 3 d and foo", 16, "nothing called “foo”"),
            ("float < ", 8, "missing at the end"), ("critical)", 8, "not expected"), ("float + 1 d", 0, "true or not"),
            ("name contains", 13, "missing"), ("float < 3 % 2", 10, "cannot stand"), ("", 0, "missing"),
            ("late and (critical", 18, "missing"), ("float < yes", 11, "compared"),
        ):  # fmt: skip
            with self.assertRaisesRegex(BadText, says, msg=query) as caught:
                compile_query(plan, query)
            self.assertEqual(caught.exception.at, at, query)
            self.assertFalse(is_query(plan, query))

    def test_completions_lead_to_a_query_that_is_understood(self) -> None:
        """From every beginning, taking any that is offered, a query can be typed to its end."""
        plan, rng = plan_of(random.Random(3)), random.Random(4)
        reached = 0
        for _ in range(400):
            text = rng.choice(("cri", "flo", "who ", "room is ", "state is ", "not ", "proj"))
            for _ in range(rng.randrange(1, 6)):
                offered = completions(plan, text)
                if not offered:
                    break
                chosen = rng.choice(offered)
                text = f"{text[: chosen.at]}{chosen.text} "
                self.assertTrue(0 <= chosen.at <= len(text))
            reached += is_query(plan, text.strip())
        self.assertGreater(reached, 60)
        self.assertIn("North", [c.text for c in completions(plan, "room is N")])
        self.assertIn('"Rosa Okonjo"', [c.text for c in completions(plan, "who contains ")])


class Views(unittest.TestCase):
    def setUp(self) -> None:
        self.rng = random.Random(7)
        self.plan = plan_of(self.rng)
        self.dates = schedule(self.plan)
        self.project = sorted(self.plan.projects)[0]

    def shown(self, view: View, **how: object) -> RowList:
        projects = list(self.plan.projects) if view.everywhere else [self.project]
        return arrange(view, Rows(self.plan, self.dates, Outline(self.plan, projects), **how))

    def test_every_shipped_view_can_be_asked_and_shown(self) -> None:
        names = [v.name for v in SHIPPED]
        self.assertEqual(len(names), len(set(names)))
        for view in SHIPPED:
            tasks = None
            if view.query:
                query = compile_query(self.plan, view.query)
                tasks = {t for t in matches(query, self.plan, self.dates, self.plan.tasks) if t}
            found = self.shown(view, matching=tasks)
            here = {t.id for t in self.plan.tasks.values() if view.everywhere or t.project == self.project}
            wanted = here if tasks is None else here & tasks
            self.assertLessEqual(wanted, set(found.tasks()) if not view.lanes else here)

    def test_the_plain_view_is_the_outline(self) -> None:
        self.assertEqual(list(self.shown(PLAIN)), outline_rows(self.plan, self.project))

    def test_sorting_orders_and_loses_nothing(self) -> None:
        for sort, name in (("start", "start"), ("-finish", "finish"), ("float", "total_float")):
            found = self.shown(View(sort=sort)).tasks()
            values = [getattr(self.dates.dates(t), name) for t in found]
            values = [FOREVER if value is None else value for value in values]
            self.assertEqual(values, sorted(values, reverse=sort.startswith("-")))
            self.assertEqual(set(found), {t.id for t in self.plan.tasks.values() if t.project == self.project})

    def test_a_task_of_several_people_stands_in_each_of_their_groups(self) -> None:
        draft = self.plan.draft()
        task = next(t for t in sorted(self.plan.tasks) if self.plan.tasks[t].project == self.project)
        for resource in self.plan.resources:
            draft.put(Assignment(task, resource))
        self.plan = draft.finish()[0]
        found = self.shown(View(group="who"))
        self.assertEqual(sum(row.task == task for row in found), 3)
        headings = [row.heading for row in found if row.heading]
        self.assertEqual(headings[-1].split(" (")[0], "–", "those without anybody come last")

    def test_finished_rows_can_be_hidden(self) -> None:
        found = self.shown(View(finished=Finished.HIDDEN)).tasks()
        leaves = [t for t in found if not self.plan.is_summary(t)]
        self.assertTrue(leaves)
        self.assertTrue(all(self.plan.tasks[t].percent < 100 for t in leaves))

    def test_lanes_are_as_few_as_the_busiest_moment_asks_for(self) -> None:
        for _ in range(60):
            tasks = self.rng.sample(sorted(self.plan.tasks), 12)
            made = lanes(self.dates, tasks, between=0)
            spans = {t: (self.dates.dates(t).start, self.dates.dates(t).finish) for t in tasks}
            for lane in made:
                for before, after in pairwise(lane):
                    self.assertLessEqual(spans[before][1], spans[after][0])
            busiest = max(sum(s <= at < max(f, s + 1) for s, f in spans.values()) for at, _ in spans.values())
            self.assertLessEqual(len(made), max(1, busiest) + sum(s == f for s, f in spans.values()))
            self.assertEqual(sorted(t for lane in made for t in lane), sorted(tasks))

    def test_kept_views_come_back_and_a_newer_one_is_left_alone(self) -> None:
        views = [View("Mine", "critical", group="who", lanes=True, starred=True), View("Other", sort="-start")]
        newer = ("From later", f'{{"form": {NEWEST + 1}, "shape": "round"}}')
        others = [newer, ("Broken", '{"lanes": "perhaps"}'), ("Rotten", "17")]
        found, said = read_views([*((v.name, kept_form(v)) for v in views), *others])
        self.assertEqual(found, views)
        self.assertEqual(len(said), 3)
        self.assertIn("newer Hexapod", said[0])
        self.assertIn("Broken", said[1])
        self.assertEqual(read_views([]), ([], []))


class SomebodyElse(unittest.TestCase):
    def test_names_of_people_are_those_of_the_plan(self) -> None:
        plan = Plan.of([Resource("r", "Ines Tamsin", "a0", initials="IT")])
        self.assertEqual([c.text for c in completions(plan, "initials is ")], ["IT"])


if __name__ == "__main__":
    unittest.main()
