"""What a plan must always be: every rule refuses what breaks it, in a sentence that names it."""

from __future__ import annotations

import unittest
from typing import Any

from msgspec.structs import replace

from hexapod.plan.bounds import LONGEST
from hexapod.plan.plan import Plan
from hexapod.plan.records import (
    DEEPEST,
    Assignment,
    Calendar,
    CalendarException,
    Comment,
    Direction,
    Field,
    FieldKind,
    Limit,
    LimitKind,
    Link,
    LinkType,
    Project,
    Resource,
    Task,
)
from hexapod.plan.validity import InvalidRecord, check
from tests.support import DAY, MONDAY, project, tasks

DAYTIME = ((480, 720), (780, 1020))


class Rules(unittest.TestCase):
    def setUp(self) -> None:
        a, b = tasks(("a", DAY), ("b", DAY))
        self.plan = Plan.of(
            [
                project(), replace(project("q"), rank="a1"), a, b, replace(a, id="sum", rank="z0"),
                replace(b, id="in", parent="sum", rank="a0"), Link("a", "b"), Resource("r", "Mo", "a0", initials="MO"),
                Assignment("a", "r"), Calendar("c", "Own", base="standard"), Field("f", "Cost", "a0"),
                Comment("k", "a", "Mo", MONDAY, "Said"),
            ]
        )  # fmt: skip

    def refused(self, record: Any, says: str) -> None:
        draft = self.plan.draft()
        draft.put(record)
        plan, changes = draft.finish()
        with self.assertRaisesRegex(InvalidRecord, says, msg=str(record)) as caught:
            check(plan, changes)
        self.assertLess(len(str(caught.exception)), 300)
        self.assertEqual(caught.exception.key, record.key)

    def taken(self, record: Any) -> None:
        draft = self.plan.draft()
        draft.put(record)
        check(*draft.finish())

    def test_tasks(self) -> None:
        task: Task = self.plan.tasks["a"]
        for fields, says in (
            ({"project": "none"}, "does not exist"), ({"name": "x" * 1001}, "longer than"),
            ({"parent": "none"}, "does not exist"), ({"parent": "a"}, "below itself"),
            ({"duration": -1}, "duration"), ({"duration": LONGEST + 1}, "duration"), ({"hold": -5}, "hold"),
            ({"priority": 10}, "priority"), ({"calendar": "none"}, "calendar"),
            ({"limits": (Limit(LimitKind.MUST_START, -1),)}, "1970"), ({"target": 10**9}, "1970"),
            ({"tags": ("a,b",)}, "tag"), ({"tags": ("",)}, "tag"), ({"fields": (("", 1),)}, "needs a name"),
            ({"attachments": ("x" * 5000,)}, "is attached"), ({"notes": "x" * 100_001}, "notes"),
            ({"repeats": "RRULE:FREQ=DAILY"}, "DTSTART"), ({"occurrence": -1}, "1970"),
        ):  # fmt: skip
            self.refused(replace(task, **fields), says)
        self.refused(replace(task, parent="in", project="q"), "different projects")
        self.taken(replace(task, repeats="DTSTART:20260907T080000\nRRULE:FREQ=DAILY;COUNT=3", tags=("a", "b")))

    def test_links(self) -> None:
        for link, says in (
            (Link("a", "none"), "does not exist"), (Link("a", "a"), "wait for itself"),
            (Link("sum", "in"), "is part of"), (Link("in", "sum"), "is part of"),
            (Link("b", "a", lag=LONGEST + 1), "hundred years"), (Link("b", "a", lag_percent=1e6), "10,000 %"),
            (Link("b", "a", lag_percent=float("nan")), "10,000 %"), (Link("b", "a", lag=5, lag_percent=5), "not both"),
        ):  # fmt: skip
            self.refused(link, says)
        self.taken(Link("in", "b", lag_percent=-50))

    def test_a_branch_is_right_in_its_new_place(self) -> None:
        a = self.plan.tasks["a"]
        draft = self.plan.draft()
        draft.put(replace(a, id="new", parent="b"))
        draft.put(Link("b", "in", type=LinkType.SS))
        plan = draft.finish()[0]
        moving = plan.draft()
        moving.put(replace(plan.tasks["sum"], parent="b"))
        with self.assertRaisesRegex(InvalidRecord, "“b” is part|is part of “b”"):
            check(*moving.finish())
        deep = plan.draft()
        for i in range(DEEPEST):
            deep.put(replace(a, id=f"d{i}", parent=f"d{i - 1}" if i else None))
        plan = deep.finish()[0]
        moving = plan.draft()
        moving.put(replace(plan.tasks["d0"], parent="new"))
        with self.assertRaisesRegex(InvalidRecord, f"more than {DEEPEST} levels"):
            check(*moving.finish())

    def test_people_and_who_is_assigned(self) -> None:
        someone = Resource("s", "Tam", "a1", initials="TB")
        for fields, says in (
            ({"name": " "}, "needs a name"), ({"capacity": -1.0}, "capacity"), ({"capacity": float("inf")}, "capacity"),
            ({"calendar": "none"}, "calendar"), ({"initials": "mo"}, "already has"), ({"initials": "A B"}, "one word"),
            ({"leave": (CalendarException(5, 4),)}, "ends before it begins"),
            ({"leave": (CalendarException(5, 5, ((600, 500),)),)}, "in order"),
        ):  # fmt: skip
            self.refused(replace(someone, **fields), says)
        self.refused(Assignment("none", "r"), "does not exist")
        self.refused(Assignment("a", "none"), "not among")
        self.refused(Assignment("b", "r", 0.0), "more than 0")

    def test_projects(self) -> None:
        home: Project = self.plan.projects["p"]
        for fields, says in (
            ({"name": ""}, "needs a name"), ({"calendar": "none"}, "calendar"), ({"start": -1}, "1970"),
            ({"priority": 0}, "priority"), ({"critical_float": -1}, "critical float"),
            ({"near_critical_float": -1}, "near-critical"), ({"direction": Direction.BACKWARD}, "needs one"),
            ({"unit": "y"}, "d, h or w"),
        ):  # fmt: skip
            self.refused(replace(home, **fields), says)
        self.taken(replace(home, direction=Direction.BACKWARD, finish=MONDAY + 90_000))

    def test_calendars(self) -> None:
        own: Calendar = self.plan.calendars["c"]
        week = (DAYTIME,) * 7
        for fields, says in (
            ({"id": "standard"}, "built-in"), ({"base": "none"}, "does not exist"), ({"base": "c"}, "built on itself"),
            ({"week": week[:6]}, "hours"), ({"week": (((780, 1020), (480, 720)),) * 7}, "in order"),
            ({"week": (((0, 2000),),) * 7}, "begin in their day"),
            ({"week": (((1500, 1600),),) * 7}, "begin in their day"),
            ({"holidays": "XX"}, "not known"), ({"holidays": "GB-XYZ"}, "not known"),
            ({"day_minutes": 0}, "hours a day"),
            ({"exceptions": (CalendarException(9, 8),)}, "ends before"),
            ({"exceptions": (CalendarException(9, 9, (), "RRULE:FREQ=DAILY"),)}, "DTSTART"),
            ({"exceptions": (CalendarException(9, 9),) * 10_001}, "more than"),
        ):  # fmt: skip
            self.refused(replace(own, **fields), says)
        self.taken(replace(own, week=(((1320, 1800),),) * 7, holidays="DE-BY"))

    def test_fields_and_comments(self) -> None:
        self.refused(Field("g", " ", "a1"), "needs a name")
        self.refused(Field("g", "COST", "a1"), "already")
        self.refused(Field("g", "Kind", "a1", FieldKind.CHOICE), "choose from")
        self.refused(Field("g", "Kind", "a1", FieldKind.CHOICE, ("a", " ")), "empty")
        self.refused(Comment("n", "none", "Mo", MONDAY, "x"), "does not exist")
        self.refused(Comment("n", "a", "Mo", MONDAY, " "), "some words")
        self.refused(Comment("n", "a", "Mo", -1, "x"), "1970")

    def test_what_is_in_use_is_not_removed_by_itself(self) -> None:
        for kind, key, says in (
            ("tasks", "a", "still in use"), ("resources", "r", "still assigned"), ("projects", "p", "still has"),
        ):  # fmt: skip
            draft = self.plan.draft()
            draft.remove(kind, key)
            with self.assertRaisesRegex(InvalidRecord, says):
                check(*draft.finish())
        draft = self.plan.draft()
        draft.put(replace(self.plan.tasks["b"], calendar="c"))
        plan = draft.finish()[0]
        draft = plan.draft()
        draft.remove("calendars", "c")
        with self.assertRaisesRegex(InvalidRecord, "still used by “b”"):
            check(*draft.finish())


if __name__ == "__main__":
    unittest.main()
