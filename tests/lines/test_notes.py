"""Many lines at once: plans printed and read back, rows that name each other, loops and people whom nobody knows."""

from __future__ import annotations

import random
import unittest

from hexapod.lines.known import Known
from hexapod.lines.line import read_line
from hexapod.lines.notes import Notes, read_notes
from hexapod.lines.printing import lines_of
from hexapod.plan import edits
from hexapod.plan.outline import number_of, rows
from hexapod.plan.plan import Plan
from hexapod.plan.records import Assignment, Limit, LimitKind, Link, LinkType
from hexapod.system.budgets import OverBudget
from hexapod.worktime.clock import iso
from tests.lines.test_line import STAFF, museum, read_date
from tests.support import MONDAY

WORDS = ["Pins", "case 12", "after", "with", "by", "2d", "Fence 20 m", "MO", "care", "on", "3D", "“Ants”", "(red)",
         "from", "12", "1.2", "until", "half", "sun", "Hall, west", "a-b", "two", "the"]  # fmt: skip


def staffed() -> Plan:
    draft = museum().draft()
    for task in list(draft.children_of("p", None)):
        draft.remove_task(task)
    return draft.finish()[0]


def notes_of(text: str, plan: Plan | None = None, **more: object) -> Notes:
    return read_notes(text, plan or staffed(), "p", None, read_date, **more)  # type: ignore[arg-type]


def taken(notes: Notes) -> Plan:
    return notes.edit().applied_to(notes.plan)


def written_links(plan: Plan) -> set[tuple[str, str]]:
    return {(plan.tasks[k.predecessor].name, plan.tasks[k.successor].name) for k in plan.links.values()}


def random_plan(rng: random.Random) -> Plan:
    """Rows with names that are hard to tell from what a line says, and all that a line can say."""
    level, outline = 0, []
    for _ in range(rng.randint(2, 14)):
        level = rng.randint(0, min(level + 1, 3)) if outline else 0
        outline.append((level, f"{' '.join(rng.sample(WORDS, rng.randint(1, 4)))} x{len(outline)}"))
        if rng.random() < 0.6:  # so that the name ends with a word that may be a clause
            outline[-1] = (level, f"R{len(outline)} {' '.join(rng.sample(WORDS, rng.randint(1, 3)))}")
    plan = edits.add_rows("p", outline).applied_to(staffed())
    draft = plan.draft()
    order = [row.task for row in rows(plan, "p")]
    for i, t in enumerate(order):
        is_summary = plan.is_summary(t)
        task = draft.task(t)
        fields: dict[str, object] = {}
        if not is_summary and rng.random() < 0.7:
            fields |= {"duration": rng.choice([0, 15, 60, 480, 720, 2400, 7 * 480]), "elapsed": rng.random() < 0.1}
            kinds = [LimitKind.START_NO_EARLIER, LimitKind.MUST_START, LimitKind.FINISH_NO_LATER]
            some = rng.sample(kinds, rng.choice([0, 0, 1, 2]))
            fields["limits"] = tuple(Limit(kind, MONDAY + 60 * rng.randint(-900, 900)) for kind in some)
        if rng.random() < 0.3:
            fields["target"] = MONDAY + 30 * rng.randint(0, 2000)
        draft.put(type(task)(**{f: getattr(task, f) for f in task.__struct_fields__} | fields))
        for before in rng.sample(order[:i], min(i, rng.choice([0, 0, 1, 3]))):
            if before not in plan.ancestors(t) and t not in plan.ancestors(before):
                lag = rng.choice([0, 0, 480, -60, 90])
                draft.put(
                    Link(before, t, rng.choice(list(LinkType)), lag, lag_percent=0.0 if lag else rng.choice([0, 50]))
                )
        if not is_summary:
            for who in rng.sample(sorted(STAFF), rng.choice([0, 0, 1, 2, 3])):
                draft.put(Assignment(t, who, units=rng.choice([1.0, 1.0, 2.0, 0.5])))
    return draft.finish()[0]


def as_written(plan: Plan) -> list[tuple[object, ...]]:
    """All that a line can say, by number instead of id."""
    found: list[tuple[object, ...]] = []
    for row in rows(plan, "p"):
        task = plan.tasks[row.task]
        links = {(number_of(plan, k.predecessor), k.type, k.lag, k.lag_percent) for k in plan.links_into(task.id)}
        people = {(a.resource, a.units) for a in plan.assignments_of(task.id)}
        found.append((row.number, task.name, task.duration, task.elapsed, set(task.limits), task.target, links, people))
    return found


class Printed(unittest.TestCase):
    def test_a_plan_printed_as_lines_and_read_back_is_the_same(self) -> None:
        for seed in range(150):
            plan = random_plan(random.Random(seed))
            known = Known.of(plan, "p", read_date)
            text = lines_of(plan, rows(plan, "p"), known, lambda at: iso(at).replace("T", " "))
            back = taken(notes_of(text))
            self.assertEqual(as_written(plan), as_written(back), (seed, text))

    def test_a_line_of_anything_is_read_and_loses_no_letter_of_its_name(self) -> None:
        known = Known.of(museum(), "p", read_date)
        rng = random.Random(3)
        pieces = [*WORDS, "after 1.1", "with", "RO", "5d", "(", ")", ",", "by fri", '"', "”", "+2d", "%", "1.1", "at"]
        for _ in range(1500):
            text = " ".join(rng.choice(pieces) for _ in range(rng.randint(1, 12)))
            line = read_line(text, known)
            self.assertEqual(line.text.strip(), line.name(len(text)))
            self.assertIn(line.text, text)
            last = 0
            for clause in line.clauses:
                self.assertLess(clause.start, clause.end, text)
                self.assertGreaterEqual(clause.start, last - len(text))
            self.assertTrue(line.name(line.fullest), text)
            self.assertTrue(text.startswith(line.name(line.usual)[:1]) or text[:1] in '"“', text)


class Pasted(unittest.TestCase):
    def test_a_link_finds_a_row_that_comes_later_and_one_whose_name_has_more_behind_it(self) -> None:
        plan = taken(notes_of("Fit screens 3d after cables laid\nCables laid 2d after Order cables\nOrder cables 1w"))
        self.assertEqual({("Cables laid", "Fit screens"), ("Order cables", "Cables laid")}, written_links(plan))

    def test_numbers_of_the_notes_come_before_those_of_the_plan(self) -> None:
        plan = taken(notes_of("1.1 Order 2d\n1.2 Fit 3d after 1.1\n2.1 Try after 1.2", museum()))
        self.assertEqual({("Order", "Fit"), ("Fit", "Try")}, written_links(plan))

    def test_numbers_that_only_the_new_rows_will_have_are_found(self) -> None:
        plan = taken(notes_of("Glass\n  Order 2d\n  Fit 3d after 1.1"))
        self.assertEqual({("Order", "Fit")}, written_links(plan))

    def test_a_loop_is_named_and_only_its_last_link_left_out(self) -> None:
        notes = notes_of("Order 1d after Try out\nFit 1d after Order\nTry out 1d after Fit\nOpen after Try out")
        out = [(row.name, why) for row in notes.rows for _, why in row.left_out]
        self.assertEqual(["Try out"], [name for name, _ in out])
        self.assertIn("loop", out[0][1])
        self.assertEqual({("Try out", "Order"), ("Order", "Fit"), ("Try out", "Open")}, written_links(taken(notes)))

    def test_a_row_does_not_wait_for_its_own_summary(self) -> None:
        notes = notes_of("Big hall\n  Paint it 1d after Big hall")
        self.assertEqual(set(), written_links(taken(notes)))
        self.assertTrue(notes.rows[1].left_out)

    def test_no_row_is_named_by_its_own_line(self) -> None:
        notes = notes_of("Pin care 2d after pin care")
        self.assertEqual("Pin care 2d after pin care", notes.rows[0].name)
        self.assertEqual((), notes.rows[0].left_out, "it is a name, not a loop")
        twice = notes_of("Pin care 1d\nPin care 2d after pin care")
        self.assertEqual(1, len(taken(twice).links), "but by another of the same name")

    def test_a_person_nobody_knows_is_asked_about_and_can_be_said(self) -> None:
        text = "Cast ants 5d with ZZ by 12 dec"
        notes = notes_of(text)
        self.assertEqual(["Nobody has the initials ZZ."], [q.text for q in notes.rows[0].questions])
        self.assertEqual(["ZZ"], notes.unknown())
        self.assertEqual(len(STAFF), len(taken(notes).resources))
        self.assertEqual("Cast ants with ZZ", notes.rows[0].name)
        plan = taken(notes_of(text, people={"ZZ": "RO"}))
        self.assertEqual(["RO"], [a.resource for a in plan.assignments.values()])

    def test_a_summary_keeps_in_its_name_what_its_parts_say(self) -> None:
        notes = notes_of("Hall 5d with RO by 12 dec\n  Paint 2d")
        task = taken(notes).tasks[notes.rows[0].task]
        self.assertEqual(("Hall 5d with RO", None), (task.name, task.duration))
        self.assertIsNotNone(task.target)
        self.assertEqual(2, len(notes.rows[0].questions))

    def test_too_many_lines_are_refused_by_their_number(self) -> None:
        with self.assertRaisesRegex(OverBudget, "1,000,000 lines"):
            notes_of("x\n" * 999_999 + "x")

    def test_any_line_can_be_left_a_name(self) -> None:
        notes = notes_of("Fence 20 m\nOrder 2d")
        self.assertEqual("Fence 20 m", notes.rows[0].name)
        self.assertEqual("Fence", notes.with_name_to(0, notes.rows[0].line.fullest).rows[0].name)
        self.assertEqual("Order 2d", notes.with_name_to(1, 99).rows[1].name)


if __name__ == "__main__":
    unittest.main()
