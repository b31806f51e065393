"""Answers of a round as they are typed."""

from __future__ import annotations

import unittest

from msgspec.structs import replace

from hexapod.control.round import AS_PLANNED, Answer, Group, Question, What
from hexapod.errors import BadText
from hexapod.fields.answering import answer_words, read_answer
from hexapod.fields.field import IsoDates, Texts
from hexapod.plan.plan import Plan
from tests.support import DAY, MONDAY, at, project, set_clock, tasks

FRIDAY = at("2026-09-11T17:00")
MIDDAY = at("2026-09-09T12:00")
READ = (  # group, what is typed, what it means
    (Group.FINISH, "p", AS_PLANNED),
    (Group.FINISH, "As Planned", AS_PLANNED),
    (Group.FINISH, "done", Answer(What.DONE)),
    (Group.FINISH, "done 2026-09-10", Answer(What.DONE, at=at("2026-09-10T17:00"))),
    (Group.FINISH, "done on 2026-09-10", Answer(What.DONE, at=at("2026-09-10T17:00"))),
    (Group.FINISH, "finished 2026-09-10", Answer(What.DONE, at=at("2026-09-10T17:00"))),
    (Group.FINISH, "2026-09-10", Answer(What.DONE, at=at("2026-09-10T17:00"))),
    (Group.BEGIN, "2026-09-10", Answer(What.BEGAN, at=at("2026-09-10T08:00"))),
    (Group.BEGIN, "began 2026-09-10T10:00", Answer(What.BEGAN, at=at("2026-09-10T10:00"))),
    (Group.BEGIN, "began 2026-09-06", Answer(What.BEGAN, at=at("2026-09-06"))),  # a Sunday
    (Group.BEGIN, "begun", Answer(What.BEGAN)),
    (Group.FINISH, "3d", Answer(What.LEFT, amount=3 * DAY)),
    (Group.FINISH, "3", Answer(What.LEFT, amount=3 * DAY)),
    (Group.FINISH, "left 4h", Answer(What.LEFT, amount=240)),
    (Group.FINISH, "1.5 d left", Answer(What.LEFT, amount=720)),
    (Group.FINISH, "left 0", Answer(What.DONE)),
    (Group.GO_ON, "60%", Answer(What.PERCENT, amount=60.0)),
    (Group.GO_ON, "62,5 %", Answer(What.PERCENT, amount=62.5)),
    (Group.GO_ON, "100%", Answer(What.DONE)),
    (Group.BEGIN, "no", Answer(What.NOT_BEGUN)),
    (Group.BEGIN, "not begun", Answer(What.NOT_BEGUN)),
    (Group.BEGIN, "no: waits for 3.2", Answer(What.NOT_BEGUN, because="waits for 3.2")),
    (Group.BEGIN, "not begun because the glass is late", Answer(What.NOT_BEGUN, because="the glass is late")),
    (Group.BEGIN, "  ", None),
)  # fmt: skip
REFUSED = ("soon", "140%", "2026-09-30", "done 2026-09-01", "left 3 moons", "=1+1", "done done")


class Answers(unittest.TestCase):
    def setUp(self) -> None:
        (a,) = tasks(("a", 5 * DAY))
        plan = Plan.of([project(status_date=MONDAY), replace(a, actual_start=MONDAY, percent=10.0)])
        self.texts = Texts(plan, IsoDates())
        set_clock(self, MIDDAY)

    def read(self, group: Group, text: str) -> Answer | None:
        return read_answer(self.texts, Question("a", group, MONDAY, FRIDAY, DAY), text, FRIDAY)

    def test_a_few_characters_do(self) -> None:
        for group, text, answer in READ:
            if text.startswith(("done", "finished", "2026")) and group is Group.FINISH and answer and answer.at:
                answer = Answer(What.DONE, at=answer.at)  # without an hour: when the calendar ends that day
            self.assertEqual(self.read(group, text), answer, text)

    def test_a_milestone_is_reached_or_not(self) -> None:
        plan = Plan.of([project(status_date=MONDAY), *tasks(("m", 0))])
        texts, question = Texts(plan, IsoDates()), Question("m", Group.FINISH, FRIDAY, FRIDAY, 0)
        for text in ("50%", "left 2d", "1d"):
            with self.assertRaisesRegex(BadText, "reached, or not", msg=text):
                read_answer(texts, question, text, FRIDAY)
        for text, answer in (("100%", Answer(What.DONE)), ("0%", Answer(What.PERCENT, amount=0.0)), ("p", AS_PLANNED)):
            self.assertEqual(read_answer(texts, question, text, FRIDAY), answer)

    def test_what_nobody_can_read_or_what_is_still_to_come_is_said(self) -> None:
        for text in REFUSED:
            with self.assertRaises(BadText, msg=text) as caught:
                self.read(Group.FINISH, text)
            self.assertTrue(str(caught.exception).endswith((".", "?")), text)

    def test_an_answer_in_words_is_read_as_the_same_answer(self) -> None:
        question = Question("a", Group.FINISH, MONDAY, FRIDAY, DAY)
        for group, text, answer in READ:
            if answer is not None:
                words = answer_words(self.texts, replace_group(question, group), answer)
                again = self.read(group, words)
                self.assertEqual(again, answer, (text, words))

    def test_who_told_it_is_said(self) -> None:
        question = Question("a", Group.FINISH, MONDAY, FRIDAY, DAY)
        words = answer_words(self.texts, question, Answer(What.DONE, who="YD"))
        self.assertEqual(words, "told: done · YD")


def replace_group(question: Question, group: Group) -> Question:
    return Question(question.task, group, question.start, question.finish, question.rest)


if __name__ == "__main__":
    unittest.main()
