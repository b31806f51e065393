"""What a line is read as, against a table of readings that a person would expect, written before the reader."""

from __future__ import annotations

import unittest
from datetime import date
from itertools import groupby
from pathlib import Path

from hexapod.fields.assignment_text import share_text
from hexapod.fields.link_text import format_links, reference
from hexapod.lines.clauses import Fields
from hexapod.lines.edit import says
from hexapod.lines.known import Known
from hexapod.lines.line import Line, read_line
from hexapod.plan.plan import Plan
from hexapod.plan.records import LimitKind, Resource, ResourceKind, Task
from hexapod.worktime.clock import iso
from hexapod.worktime.dates import parse_said
from hexapod.worktime.lengths import format_duration
from tests.support import project

TABLE = Path(__file__).parent / "readings.txt"
TODAY = date(2026, 11, 30)
OUTLINE = """
Survey
    Measure hall
    Count pins
Display
    Screens wired
    Lights
    Lights
Opening
    Invitations
    Speeches
After care
"""
STAFF = {
    "MO": "Mara Okoye", "TB": "Tom Bern", "RO": "Rosa Ortiz", "SL": "Sven Lund", "IT": "Irena Tal",
    "CT": "Carpenter", "PT": "Painter", "SCL": "Scissor lift",
}  # fmt: skip


def museum() -> Plan:
    from hexapod.plan import edits

    draft = Plan().draft()
    draft.put(project())
    for i, (initials, name) in enumerate(STAFF.items()):
        kind = ResourceKind.ROLE if initials in ("CT", "PT") else ResourceKind.PERSON
        draft.put(Resource(initials, name, f"a{i}", kind, initials=initials))
    plan = draft.finish()[0]
    return edits.add_text("p", OUTLINE).applied_to(plan)


def read_date(text: str, ends: bool) -> int:
    return parse_said(text, TODAY)


def written(line: Line, name_to: int, plan: Plan) -> str:
    """A reading as the table has it."""
    found = line.fields(name_to)
    draft = plan.draft()
    draft.put(Task("new", "p", line.name(name_to), "zz"))
    says(found, "new").change(draft)
    plan = draft.finish()[0]
    task = plan.tasks["new"]
    parts = [task.name]
    if task.duration is not None:
        parts.append(format_duration(task.minutes, task.elapsed) if task.minutes else "milestone")
    if format_links(plan, "new"):
        parts.append(f"after {_in_order(found, plan)}")
    if plan.links_from("new"):
        parts.append(f"before {', '.join(reference(plan, 'p', link.successor) for link in plan.links_from('new'))}")
    if found.assignments:
        groups = groupby(found.assignments, key=share_text)
        parts.append(f"with {', '.join(' '.join(a.resource for a in same) + share for share, same in groups)}")
    kinds = {LimitKind.START_NO_EARLIER: "from", LimitKind.MUST_START: "on", LimitKind.FINISH_NO_LATER: "not after"}
    parts += [f"{kinds[limit.kind]} {iso(limit.at)[:10]}" for limit in task.limits]
    if task.target is not None:
        parts.append(f"by {iso(task.target)[:10]}")
    return " | ".join(parts)


def _in_order(found: Fields, plan: Plan) -> str:
    """Links in the order in which they were said."""
    texts = {}
    for link in plan.links_into("new"):
        draft = plan.draft()
        for other in plan.links_into("new"):
            if other is not link:
                draft.remove("links", other.key)
        texts[link.predecessor] = format_links(draft.finish()[0], "new")
    return ", ".join(texts[link.predecessor] for link in found.links if link.predecessor)


class Readings(unittest.TestCase):
    def test_each_line_of_the_table_is_read_as_a_person_would(self) -> None:
        plan = museum()
        known = Known.of(plan, "p", read_date)
        seen = 0
        for number, row in enumerate(TABLE.read_text("utf-8").splitlines(), 1):
            if "=>" not in row or row.startswith("#"):
                continue
            seen += 1
            text, _, expected = row.partition(" => ")
            asks = expected.endswith(" !!")
            usual, _, other = expected.removesuffix(" !!").partition(" ?? ")
            line = read_line(text, known)
            with self.subTest(line=number, text=text):
                self.assertEqual(usual, written(line, line.usual, plan))
                self.assertEqual(asks, any(c.question for c in line.clauses))
                self.assertEqual(bool(other), line.has_two_readings)
                if other:
                    self.assertEqual(other, written(line, line.fullest, plan))
                self.assertEqual(line.text.strip(), line.name(len(text)), "all of it can be left a name")
        self.assertGreater(seen, 250)


if __name__ == "__main__":
    unittest.main()
