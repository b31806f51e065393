"""A round of twenty tasks by keyboard alone, and the chain behind a task that is told done."""

from __future__ import annotations

from hexapod.plan import edits
from hexapod.plan.records import LinkType
from hexapod.schedule.states import State
from tests.journeys.case import Journey, screen
from tests.support import DAY, at, set_clock

TWENTY = "\n".join(f"Case {i + 1} fitted" for i in range(20))


class ByKeyboardAlone(Journey):
    ROWS = f"{TWENTY}\nCases handed over"

    def setUp(self) -> None:
        set_clock(self, at("2026-09-18T12:00"))
        super().setUp()
        last = self.id_of("Cases handed over")
        cases = [t for t in self.plan.tasks if t != last]
        links = [edits.link(self.plan, case, last, LinkType.FS) for case in cases]
        self.desk.do(edits.together("Link them", links))
        self.desk.do(edits.set_status_date(self.plan, "p", at("2026-09-07T08:00")))
        screen.settle()

    def id_of(self, name: str) -> str:
        return next(t.id for t in self.plan.tasks.values() if t.name == name)

    def test_twenty_answers_and_the_round_taken(self) -> None:
        screen.keys("ctrl+4")
        self.window.track.work.set_date(at("2026-09-08T17:00"))
        screen.settle()
        self.assertEqual(len(self.window.track.work.asked), 21)
        screen.keys("Home")
        typed = 0
        for i in range(20):
            text = ("", "", "done 2026-09-08", "2h", "60%", "no: the glass is late")[i % 6]
            if text:
                screen.type_text(text)
                screen.keys("Return")
            else:
                screen.keys("space")
            typed += len(text) + 1
        screen.keys("Delete")  # of the last question: nothing is deleted but an answer
        screen.settle()
        self.assertEqual(len(self.window.track.work.answers), 20)
        self.assertLess(typed, 20 * 8, "keys for twenty answers")
        screen.keys("ctrl+alt+t")
        screen.settle()
        self.assertEqual(len(self.plan.tasks), 21)
        done = [t for t in self.plan.tasks.values() if t.is_done]
        begun = [t for t in self.plan.tasks.values() if t.is_begun]
        self.assertEqual((len(done), len(begun)), (11, 6))
        self.assertEqual(self.plan.projects["p"].status_date, at("2026-09-08T17:00"))
        self.assertEqual(sum("glass" in c.text for c in self.plan.comments.values()), 3)
        screen.keys("ctrl+z")
        screen.settle()
        self.assertFalse([t for t in self.plan.tasks.values() if t.actual_start is not None])

    def test_what_is_told_done_makes_the_chain_behind_it_ready(self) -> None:
        last = self.id_of("Cases handed over")
        self.assertIs(self.desk.worked_out.state_of(last), State.WAITING)
        screen.keys("ctrl+1")
        self.window.grid.setFocus()
        screen.keys("ctrl+Home")
        self.desk.select(tuple(t for t in self.plan.tasks if t != last), self.id_of("Case 1 fitted"))
        screen.settle()
        screen.keys("ctrl+alt+d")
        screen.settle()
        self.assertTrue(all(t.is_done for t in self.plan.tasks.values() if t.id != last))
        self.assertIs(self.desk.worked_out.state_of(last), State.READY)
        self.assertEqual(self.desk.worked_out.dates(last).duration, DAY)
