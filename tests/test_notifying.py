"""Notices: who is told what and when, as mails that the standard parser reads, none twice, also after a kill."""

from __future__ import annotations

import contextlib
import json
import random
import re
import tempfile
import unittest
from email import policy
from email.message import EmailMessage
from email.parser import BytesParser
from pathlib import Path
from unittest.mock import patch

from msgspec.structs import replace

from hexapod.control.notices import is_named
from hexapod.errors import HexapodError
from hexapod.notifying import LEDGER, Made, Told, make_notices
from hexapod.plan import edits
from hexapod.plan.edits import Edit
from hexapod.plan.notice_kinds import NoticeKind, NoticeWhen
from hexapod.plan.plan import Plan
from hexapod.plan.records import DAY as CLOCK_DAY
from hexapod.plan.records import LinkType, Resource
from hexapod.services.mail import Outbox
from hexapod.session import Session
from tests.support import DAY, at, project, set_clock, tasks

MORNING = at("2026-09-07T09:00")
HANA = Resource("hana", "Hana Brook", "a0", initials="HB", email="hana@museum.example")
ITO = Resource("ito", "Ito Vale", "a1", initials="IV", email="ito@museum.example")
LEE = Resource("lee", "Lee Marsh", "a2", initials="LM", email="lee@museum.example")


class Case(unittest.TestCase):
    def setUp(self) -> None:
        self.now = MORNING
        set_clock(self, lambda: self.now)
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.outbox = Outbox(Path(folder.name) / "outbox")
        self.session = Session.create(Path(folder.name) / "Museum.hexapod")
        self.addCleanup(self.session.close)
        made = [*tasks(("a", 10 * DAY), ("b", 20 * DAY), ("c", 30 * DAY)), HANA, ITO, LEE]
        self.do(edits.save_project(self.plan, project(led_by=None)))
        self.do(Edit("Add", lambda draft: [draft.put(r) for r in made] and None))
        self.do(edits.save_project(self.plan, project(led_by="lee", target_finish=at("2027-12-31T17:00"))))
        self.do(edits.link(self.plan, "a", "b", LinkType.FS))
        self.do(edits.assign(self.plan, ["a"], "ito"))
        self.do(edits.assign(self.plan, ["b"], "hana"))
        self.make()

    @property
    def plan(self) -> Plan:
        return self.session.plan

    def do(self, edit: Edit, who: str = "Joss Ferro") -> None:
        self.session.who = who
        self.assertIsNotNone(self.session.apply(edit), edit.words)

    def make(self) -> Made:
        s = self.session
        told = Told(s.compute(), tuple(s.history), s.plan_after, "Museum", s.identity())
        return make_notices(told, self.outbox, self.outbox.folder, self.now)

    def told(self) -> dict[tuple[str, NoticeKind], list[str]]:
        """What was mailed now: by person and kind the lines."""
        found: dict[tuple[str, NoticeKind], list[str]] = {}
        for mail in self.make().mails:
            for item in mail.items:
                found.setdefault((item.person, item.kind), []).append(item.words)
        return found

    def mails(self) -> list[EmailMessage]:
        files = sorted(self.outbox.folder.glob("*.eml"))
        return [BytesParser(policy=policy.default).parsebytes(f.read_bytes()) for f in files]  # type: ignore[misc]


class WhoIsTold(Case):
    def test_the_first_look_tells_nothing_of_the_past(self) -> None:
        self.assertEqual(self.told(), {})

    def test_assigned_and_moved_and_by_whom_but_not_of_ones_own_doing(self) -> None:
        self.do(edits.assign(self.plan, ["c"], "ito"))
        self.do(edits.set_durations(self.plan, ["a"], 12 * DAY), "Nell Harrow")
        told = self.told()
        self.assertEqual(
            set(told), {("ito", NoticeKind.ASSIGNED), ("ito", NoticeKind.MOVED), ("hana", NoticeKind.MOVED)}
        )
        (words,) = told["hana", NoticeKind.MOVED]
        self.assertEqual(words, "b (P): 2 d later, to Tue 20 Oct 2026, by Joss Ferro, Nell Harrow")
        self.do(edits.set_durations(self.plan, ["b"], 5 * DAY), "Hana Brook")
        self.assertEqual(self.told(), {}, "what she did herself")
        self.do(edits.set_durations(self.plan, ["a"], 15 * DAY))
        self.session.undo()
        self.assertEqual(self.told(), {}, "undone before anybody was told")

    def test_ready_once_what_was_waited_for_is_done(self) -> None:
        self.now = at("2026-09-17T16:00")
        self.make()
        self.do(edits.finish(self.plan, ["a"], self.now - 60))
        told = self.told()
        self.assertIn(("hana", NoticeKind.READY), told)
        self.assertNotIn(("ito", NoticeKind.READY), told)

    def test_due_overdue_and_reminders_are_told_once_for_each_date(self) -> None:
        self.do(edits.tell_also(self.plan, ["a"], ["lee"]))
        self.do(edits.set_reminders(self.plan, ["a"], [7]))
        self.make()
        seen = []
        for day in range(20):
            self.now = MORNING + day * CLOCK_DAY
            seen += [(day, person, kind) for (person, kind) in self.told()]
        kinds = [(day, kind) for day, person, kind in seen if person == "ito"]
        self.assertEqual(kinds, [(4, NoticeKind.REMINDER), (8, NoticeKind.DUE), (12, NoticeKind.OVERDUE)])
        self.assertEqual([(d, k) for d, p, k in seen if p == "lee"], kinds, "who is told besides")
        self.do(edits.set_durations(self.plan, ["a"], 17 * DAY))
        self.assertIn(("ito", NoticeKind.DUE), self.told(), "another date is another notice")

    def test_named_in_a_comment(self) -> None:
        self.do(edits.add_comment(self.plan, "c", "Joss Ferro", self.now, "Could Hana Brook look? @IV too"))
        told = self.told()
        self.assertEqual(set(told), {("hana", NoticeKind.NAMED), ("ito", NoticeKind.NAMED)})
        for text, is_hers in (("hana brook", True), ("ask @hana", True), ("@hb?", True), ("a hanabrook", False),
                              ("HB", False), ("hana", False), ("@hba", False)):  # fmt: skip
            self.assertEqual(is_named(HANA, text), is_hers, text)

    def test_a_finish_beyond_its_target_is_told_to_who_leads_each_time_it_passes(self) -> None:
        wanted = self.session.compute().project_finish["p"]
        assert wanted is not None
        self.do(edits.save_project(self.plan, replace(self.plan.projects["p"], target_finish=wanted)))
        self.make()
        for _ in range(2):
            self.do(edits.set_durations(self.plan, ["a"], 30 * DAY))
            self.assertEqual(len(self.told()["lee", NoticeKind.TARGET]), 1)
            self.assertNotIn(("lee", NoticeKind.TARGET), self.told())
            self.do(edits.set_durations(self.plan, ["a"], 10 * DAY))
            self.make()

    def test_what_somebody_wants_once_a_day_waits_for_tomorrow_in_one_mail(self) -> None:
        wishes = ((NoticeKind.MOVED, NoticeWhen.DAILY), (NoticeKind.NAMED, NoticeWhen.DAILY),
                  (NoticeKind.ASSIGNED, NoticeWhen.NEVER))  # fmt: skip
        self.do(edits.save_resource(self.plan, replace(HANA, notices=wishes)))
        self.make()
        self.do(edits.set_durations(self.plan, ["a"], 12 * DAY))
        self.do(edits.add_comment(self.plan, "c", "Joss Ferro", self.now, "@Hana, see this"))
        self.do(edits.assign(self.plan, ["c"], "hana"))
        self.assertFalse([key for key in self.told() if key[0] == "hana"])
        self.now += CLOCK_DAY
        mails = [m for m in self.make().mails if m.person == "Hana Brook"]
        self.assertEqual([len(m.items) for m in mails], [2])
        self.assertEqual(mails[0].subject, "2 things for you today")

    def test_who_has_no_address_is_named_and_told_once_there_is_one(self) -> None:
        self.do(edits.save_resource(self.plan, replace(ITO, email="not an address")))
        self.now = at("2026-09-17T16:00")
        self.assertEqual(self.make().unreached, ["Ito Vale"])
        self.do(edits.save_resource(self.plan, ITO))
        self.assertIn(("ito", NoticeKind.DUE), self.told())


class Mails(Case):
    def test_mails_are_read_by_the_standard_parser_and_names_make_no_headers(self) -> None:
        nasty = 'Eve "E" <x@y>\r\nBcc: all@museum.example, Ünal'
        self.do(edits.save_resource(self.plan, replace(ITO, name=nasty)))
        self.do(edits.rename(self.plan, "a", "Glass\r\nSubject: no – “öl”\x00"))
        self.now = at("2026-09-17T16:00")
        self.make()
        (mail,) = [m for m in self.mails() if "ito@museum.example" in m["To"]]
        self.assertEqual(mail.defects, [])
        self.assertIsNone(mail["Bcc"])
        self.assertEqual(len(mail["To"].addresses), 1)
        self.assertEqual(mail["To"].addresses[0].addr_spec, "ito@museum.example")
        self.assertEqual(len(mail.get_all("Subject")), 1)
        self.assertEqual(mail["Auto-Submitted"], "auto-generated")
        self.assertIn("“öl”", mail.get_content())
        raw = next(iter(self.outbox.folder.glob("*.eml"))).read_bytes()
        self.assertTrue(all(len(line) <= 998 for line in raw.split(b"\r\n")), "RFC 5322, 2.1.1")
        self.assertEqual(self.outbox.letters()[0].subject, str(mail["Subject"]))

    def test_a_kill_at_any_moment_tells_nothing_twice_and_loses_nothing(self) -> None:
        """All moves that a person was told of add up to what her dates moved by, however often sending was cut short,
        with edits in between."""
        rng, real, length = random.Random(2), Outbox.send, 10
        kills = 0
        for day in range(15):
            self.now = MORNING + day * CLOCK_DAY
            for _ in range(3):
                length += 1
                self.do(edits.set_durations(self.plan, ["a"], length * DAY))
                left = [rng.randrange(3)]

                def dying(outbox: Outbox, message: EmailMessage, left: list[int] = left) -> bool:
                    left[0] -= 1
                    if left[0] < 0:
                        raise HexapodError("killed")
                    return real(outbox, message)

                with patch.object(Outbox, "send", dying), contextlib.suppress(HexapodError):
                    self.make()
                    kills -= 1
                kills += 1
        self.make()
        self.assertGreater(kills, 10)
        for name, to in (("a", "ito"), ("b", "hana")):
            texts = [str(m.get_content()) for m in self.mails() if f"{to}@" in m["To"]]
            told = [
                int(n) for text in texts for n in re.findall(rf"^- {name} \(P\): (\d+) d later", text, re.MULTILINE)
            ]
            self.assertEqual(sum(told), length - 10, to)
        ids = [m["Message-ID"] for m in self.mails()]
        self.assertEqual(len(ids), len(set(ids)))

    def test_a_ledger_that_cannot_be_read_is_set_aside(self) -> None:
        (self.outbox.folder / LEDGER).write_bytes(b"{")
        self.make()
        self.assertTrue((self.outbox.folder / "ledger.damaged").exists())
        self.assertIn("row", json.loads((self.outbox.folder / LEDGER).read_bytes()))

    def test_what_is_no_mail_in_the_outbox_is_left_out(self) -> None:
        for name, data in (("1.eml", b""), ("2.eml", b"\xff" * 500), ("3.eml", b"x" * 2_000_000)):
            (self.outbox.folder / name).write_bytes(data)
        (self.outbox.folder / "4.eml").mkdir()
        with patch("hexapod.services.mail.LARGEST", 1_000_000):
            self.assertLessEqual(len(self.outbox.letters()), 2)


if __name__ == "__main__":
    unittest.main()
