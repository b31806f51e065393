"""Files that tasks name: whether they are there, and copies beside the workspace, so that they travel."""

from __future__ import annotations

import tempfile
import unittest
from pathlib import Path

from msgspec.structs import replace

from hexapod.errors import BadFile
from hexapod.formats.attached import copy_along, folder_of, is_missing, name_copies, path_of, strays
from hexapod.plan.plan import Plan
from tests.support import DAY, project, tasks


class Attached(unittest.TestCase):
    def setUp(self) -> None:
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.folder = Path(folder.name)
        self.workspace = self.folder / "here" / "Hall.hexapod"
        self.workspace.parent.mkdir()
        for name, text in (("a/drawing.pdf", "one"), ("b/drawing.pdf", "two"), ("here/beside.txt", "three")):
            path = self.folder / name
            path.parent.mkdir(exist_ok=True)
            path.write_text(text)
        self.places = (str(self.folder / "a/drawing.pdf"), str(self.folder / "b/drawing.pdf"), "beside.txt",
                       "https://example.org/plan", str(self.folder / "gone.pdf"), "bad\0name")  # fmt: skip

    def test_what_is_not_there_is_known_and_web_pages_are_no_files(self) -> None:
        missing = [is_missing(self.workspace, place) for place in self.places]
        self.assertEqual(missing, [False, False, False, False, True, True])
        self.assertIsNone(path_of(self.workspace, self.places[3]))
        self.assertEqual(path_of(self.workspace, "beside.txt"), self.workspace.parent / "beside.txt")

    def test_files_are_copied_under_names_of_their_own_and_tasks_name_the_copies(self) -> None:
        (task, other) = tasks(("a", DAY), ("b", DAY))
        plan = Plan.of([project(), replace(task, attachments=self.places), replace(other, attachments=self.places[:1])])
        made = copy_along(self.workspace, self.places)
        after = name_copies(plan, made).applied_to(plan)
        texts = []
        for place in after.tasks["a"].attachments[:3]:
            path = path_of(self.workspace, place)
            assert path is not None
            self.assertEqual(path.parent, folder_of(self.workspace))
            texts.append(path.read_text())
        self.assertEqual(texts, ["one", "two", "three"])
        self.assertEqual(after.tasks["a"].attachments[3:], self.places[3:])
        self.assertEqual(after.tasks["b"].attachments, after.tasks["a"].attachments[:1])
        self.assertEqual(strays(self.workspace, after.tasks["a"].attachments), [])
        self.assertEqual(copy_along(self.workspace, after.tasks["a"].attachments), {})
        self.assertEqual((self.folder / "a/drawing.pdf").read_text(), "one", "what was there stays")
        moved = self.folder / "elsewhere"
        self.workspace.parent.rename(moved)
        self.assertFalse(is_missing(moved / "Hall.hexapod", after.tasks["a"].attachments[0]), "it travels")

    def test_a_folder_that_cannot_be_is_a_sentence(self) -> None:
        folder_of(self.workspace).write_text("in the way")
        with self.assertRaises(BadFile):
            copy_along(self.workspace, self.places)


if __name__ == "__main__":
    unittest.main()
