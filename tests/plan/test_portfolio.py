"""Several projects changed together: as if one after the other, and undone as one."""

from __future__ import annotations

import random
import unittest

from msgspec.structs import replace

from hexapod.errors import EditRefused
from hexapod.formats.plan_json import read_plan, write_plan
from hexapod.plan import edits
from hexapod.plan.changes import diff
from hexapod.plan.edits import portfolio
from hexapod.plan.plan import Gone, Plan
from hexapod.plan.records import Resource
from tests.support import at, random_plan


class Together(unittest.TestCase):
    def setUp(self) -> None:
        plan = random_plan(random.Random(5), 30, resources=2, projects=4)
        draft = plan.draft()
        draft.put(Resource("nell", "Nell", "z0"))
        self.plan = draft.finish()[0]
        self.some = sorted(self.plan.projects)[:3]

    def test_each_change_is_that_of_each_project_and_no_other_record(self) -> None:
        wanted = at("2026-12-18T17:00")
        for edit, fields, words in (
            (portfolio.hold_projects(self.plan, self.some), {"on_hold": True}, "Put 3 projects on hold"),
            (portfolio.archive_projects(self.plan, self.some), {"archived": True}, "Archive 3 projects"),
            (portfolio.lead_projects(self.plan, self.some, "nell"), {"led_by": "nell"},
             "Say that 3 projects are led by Nell"),
            (portfolio.place_projects(self.plan, self.some, " Estate "), {"department": "Estate"},
             "Say that 3 projects are of Estate"),
            (portfolio.prioritise_projects(self.plan, self.some, 2), {"priority": 2},
             "Change the priority of 3 projects"),
            (portfolio.want_projects(self.plan, self.some, wanted), {"target_finish": wanted},
             "Give a target to 3 projects"),
        ):  # fmt: skip
            made = edit.applied_to(self.plan)
            expected = {p: replace(r, **fields) if p in self.some else r for p, r in self.plan.projects.items()}
            self.assertEqual(dict(made.projects), expected, words)
            self.assertEqual(edit.words, words)
            changes = diff(self.plan, made)
            self.assertEqual(len(list(changes.projects)), 3)
            self.assertEqual(dict(made.tasks), dict(self.plan.tasks))

    def test_a_word_of_judgement_has_a_name_and_a_day_and_can_be_taken_back(self) -> None:
        one, now = self.some[0], at("2026-10-12T09:00")
        said = portfolio.judge_project(self.plan, one, " In time ", "Joss", now).applied_to(self.plan)
        project = said.projects[one]
        self.assertEqual((project.word, project.word_by, project.word_at), ("In time", "Joss", now))
        self.assertEqual(read_plan(write_plan(said)).projects[one].word_at, now)
        back = portfolio.judge_project(said, one, "", "Joss", now).applied_to(said)
        self.assertEqual(back.projects[one], self.plan.projects[one])

    def test_one_alone_is_named(self) -> None:
        (one,) = self.some[:1]
        name = self.plan.projects[one].name
        self.assertEqual(portfolio.hold_projects(self.plan, [one, one]).words, f"Put “{name}” on hold")
        self.assertEqual(portfolio.place_projects(self.plan, [one], "").words, f"Say that “{name}” is of no department")

    def test_what_goes_on_again_is_as_before(self) -> None:
        held = portfolio.hold_projects(self.plan, self.some).applied_to(self.plan)
        self.assertEqual(portfolio.hold_projects(held, self.some, False).applied_to(held), self.plan)

    def test_a_delay_is_each_projects_own(self) -> None:
        minutes = {p: 480 * (i + 1) for i, p in enumerate(self.some)}
        made = portfolio.delay_projects(self.plan, minutes).applied_to(self.plan)
        alone: Plan = self.plan
        for p, length in minutes.items():
            alone = edits.delay_project(alone, p, length).applied_to(alone)
        self.assertEqual(made, alone)
        self.assertNotEqual(made, self.plan)

    def test_nothing_and_nobody_is_refused(self) -> None:
        for ids in ((), ("gone",)):
            with self.assertRaisesRegex(EditRefused, "Choose one or more projects"):
                portfolio.archive_projects(self.plan, ids)
        with self.assertRaises(Gone):
            portfolio.lead_projects(self.plan, self.some, "gone")


if __name__ == "__main__":
    unittest.main()
