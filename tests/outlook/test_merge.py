"""The three-way merge, against a plain one of dictionaries, and as a thing that never breaks a plan."""

from __future__ import annotations

import random
import unittest
from typing import Any

import msgspec
from msgspec.structs import replace

from hexapod.outlook.merge import Place, Side, merge
from hexapod.plan import edits
from hexapod.plan.changes import diff
from hexapod.plan.kinds import KINDS
from hexapod.plan.plan import Plan
from hexapod.plan.records import Link, LinkType
from hexapod.plan.validity import broken_records
from hexapod.schedule.engine import schedule
from tests.budgets import deep_or
from tests.storm import random_step
from tests.support import project, random_plan, tasks

TOGETHER = {"tasks": [{"project", "parent", "rank"}], "assignments": [{"units", "hours_a_day", "total"}]}


def as_dictionaries(plan: Plan) -> dict[tuple[str, Any], dict[str, Any]]:
    return {
        (kind, key): {f.name: getattr(record, f.name) for f in msgspec.structs.fields(record)}
        for kind in KINDS
        if kind != "scenarios"
        for key, record in getattr(plan, kind).items()
    }


def plainly_merged(base: Any, theirs: Any, mine: Any) -> tuple[dict[Any, Any], set[tuple[Any, str]]]:
    """The oracle: a merge of dictionaries of dictionaries, written from the rules page. What is asked has the plan's
    value."""
    found, asked = dict(theirs), set()
    for key in {*base, *mine}:
        b, t, m = base.get(key), theirs.get(key), mine.get(key)
        if m == b or m == t:
            continue
        if t == b:
            if m is None:
                found.pop(key, None)
            else:
                found[key] = m
        elif b is not None and (t is None or m is None):
            asked.add((key, ""))
        else:
            found[key], fields = merged_fields(key[0], b or {}, t, m)
            asked |= {(key, field) for field in fields}
    return found, asked


def merged_fields(kind: str, b: Any, t: Any, m: Any) -> tuple[dict[str, Any], set[str]]:
    groups = TOGETHER.get(kind, [])
    parts = [*groups, *({f} for f in t if not any(f in g for g in groups))]
    found, asked = dict(t), set()
    for part in parts:
        old, new, own = ({f: x.get(f) for f in part} for x in (b, t, m))
        if own == old or own == new:
            continue
        if new == old:
            found.update(own)
        else:
            asked |= part
    return found, asked


class Merge(unittest.TestCase):
    def edited(self, rng: random.Random, plan: Plan, count: int) -> Plan:
        for _ in range(count):
            step = random_step(rng, plan)
            if step is not None:
                plan = step[1]
        return plan

    def test_random_sides_are_merged_as_dictionaries_are_and_never_to_a_broken_plan(self) -> None:
        asked = left_out = agreed = 0
        for seed in range(deep_or(60, 4000)):
            rng = random.Random(seed)
            base = random_plan(rng, 14, calendars=1, summaries=True, resources=3, projects=2)
            plan, mine = (self.edited(rng, base, rng.randrange(1, 9)) for _ in range(2))
            merged = merge(base, plan, mine)
            self.assertEqual([], broken_records(merged.plan), seed)
            wanted, questions = plainly_merged(*map(as_dictionaries, (base, plan, mine)))
            found = {((q.place.kind, q.place.key), f) for q in merged.questions for f in asked_in(q.place)}
            self.assertEqual(questions, found, seed)
            asked, left_out = asked + bool(merged.questions), left_out + bool(merged.left_out)
            if not merged.left_out:
                self.assertEqual(wanted, as_dictionaries(merged.plan), seed)
                agreed += 1
        self.assertGreater(min(asked, left_out, agreed), 0, "the plans are worth looking at")

    def test_every_question_is_answered_by_the_side_that_was_chosen(self) -> None:
        for seed in range(deep_or(30, 1500)):
            rng = random.Random(seed)
            base = random_plan(rng, 10, summaries=True, resources=2)
            plan, mine = (self.edited(rng, base, 8) for _ in range(2))
            for side in Side:
                answers = {q.place: side for q in merge(base, plan, mine).questions}
                merged = merge(base, plan, mine, answers)
                out = {(x.kind, x.key) for x in merged.left_out}
                self.assertEqual([], broken_records(merged.plan), seed)
                for question in merged.questions:
                    kind, key, field = question.place
                    record = getattr(merged.plan, kind).get(key)
                    if (kind, key) in out or not field or field in ("place", "amount"):
                        continue
                    wanted = question.in_plan if side is Side.PLAN else question.in_scenario
                    self.assertEqual(wanted, getattr(record, field), (seed, question))

    def test_one_side_alone_is_taken_whole_and_both_alike_are_not_asked(self) -> None:
        for seed in range(30):
            rng = random.Random(seed)
            base = random_plan(rng, 12, summaries=True, resources=2)
            other = self.edited(rng, base, 8)
            for plan, mine in ((base, other), (other, base), (other, other)):
                merged = merge(base, plan, mine)
                self.assertEqual((other, (), ()), (merged.plan, merged.questions, merged.left_out), seed)

    def test_a_link_of_a_task_that_the_plan_deleted_is_left_out_with_its_sentence(self) -> None:
        base = Plan.of([project(), *tasks(("a", 60), ("b", 60))])
        mine = edits.link(base, "a", "b").applied_to(base)
        plan = edits.remove_tasks(base, ["b"]).applied_to(base)
        merged = merge(base, plan, mine)
        self.assertEqual(plan, merged.plan)
        ((kind, sentence),) = [(x.kind, x.sentence) for x in merged.left_out]
        self.assertEqual("links", kind)
        self.assertIn("does not exist", sentence)

    def test_a_task_that_the_plan_deleted_comes_back_with_its_links_where_that_is_wanted(self) -> None:
        base = Plan.of([project(), *tasks(("a", 60), ("b", 60), ("c", 60)), Link("a", "b"), Link("b", "c")])
        mine = edits.set_durations(base, ["b"], 600).applied_to(base)
        plan = edits.remove_tasks(base, ["b"]).applied_to(base)
        (question,) = merge(base, plan, mine).questions
        self.assertEqual((Place("tasks", "b", ""), None), (question.place, question.in_plan))
        self.assertEqual(plan, merge(base, plan, mine, {question.place: Side.PLAN}).plan)
        self.assertEqual(mine, merge(base, plan, mine, {question.place: Side.SCENARIO}).plan)

    def test_links_that_would_close_a_loop_are_left_out(self) -> None:
        base = Plan.of([project(), *tasks(("a", 60), ("b", 60), ("c", 60)), Link("a", "b")])
        plan = edits.link(base, "b", "c").applied_to(base)
        mine = edits.link(base, "c", "a").applied_to(base)
        mine = edits.set_durations(mine, ["a"], 600).applied_to(mine)
        merged = merge(base, plan, mine, None, schedule(plan))
        ((key,),) = [(x.key,) for x in merged.left_out]
        self.assertEqual(("c", "a", LinkType.FS.value), key)
        self.assertEqual(600, merged.plan.tasks["a"].duration)
        assert merged.dates is not None
        self.assertEqual(schedule(merged.plan).dates("c"), merged.dates.dates("c"))

    def test_a_place_is_one_thing_however_many_fields_say_it(self) -> None:
        """The plan moves a row below another one, the scenario up among its own."""
        base = Plan.of([project(), *tasks(("s", 60), ("a", 60), ("b", 60), ("c", 60))])
        plan = edits.move_to(base, ["c"], "p", "s", None).applied_to(base)
        mine = edits.move_up(base, ["c"]).applied_to(base)
        (question,) = merge(base, plan, mine).questions
        self.assertEqual("place", question.place.field)
        for side, wanted in ((Side.PLAN, plan), (Side.SCENARIO, mine)):
            merged = merge(base, plan, mine, {question.place: side}).plan
            places = [(p.tasks["c"].parent, p.tasks["c"].rank) for p in (wanted, merged)]
            self.assertEqual(places[0], places[1], side)

    def test_one_field_of_both_sides_is_asked_and_the_others_are_taken(self) -> None:
        base = Plan.of([project(), *tasks(("a", 480))])
        plan = Plan.of([*base.projects.values(), replace(base.tasks["a"], duration=12 * 480, stream="Shell")])
        mine = Plan.of([*base.projects.values(), replace(base.tasks["a"], duration=10 * 480, name="Store inventoried")])
        merged = merge(base, plan, mine)
        (question,) = merged.questions
        values = (question.place.field, question.before, question.in_plan, question.in_scenario)
        self.assertEqual(("duration", 480, 12 * 480, 10 * 480), values)
        self.assertEqual("Store inventoried", question.name)
        task = merged.plan.tasks["a"]
        self.assertEqual((12 * 480, "Shell", "Store inventoried"), (task.duration, task.stream, task.name))
        self.assertTrue(diff(plan, merged.plan))


def asked_in(place: Place) -> set[str]:
    return TOGETHER[place.kind][0] if place.field in ("place", "amount") else {place.field}


if __name__ == "__main__":
    unittest.main()
