"""The examples of docs/scripting.md, run in their order in one folder, as a reader would."""

from __future__ import annotations

import json
import os
import re
import subprocess
import sys
import tempfile
import unittest
from pathlib import Path

from hexapod.demo.museum import build_demo
from hexapod.session import Session

PAGE = Path(__file__).parents[2] / "docs" / "scripting.md"
BLOCK = re.compile(r"^```(sh|python)\n(.*?)^```$", re.MULTILINE | re.DOTALL)


class Examples(unittest.TestCase):
    def test_every_example_runs_and_does_what_is_said(self) -> None:
        with tempfile.TemporaryDirectory() as name:
            folder = Path(name)
            build_demo(folder / "museum.hexapod")
            programs = folder / "bin"
            programs.mkdir()
            for program, words in (("hexapod", '-m hexapod "$@"'), ("python3", '"$@"')):
                (programs / program).write_text(f'#!/bin/sh\nexec "{sys.executable}" {words}\n')
                (programs / program).chmod(0o755)
            environment = {**os.environ, "PATH": f"{programs}:{os.environ['PATH']}", "PYTHONPATH": str(PAGE.parents[1])}
            said = [self.run_one(kind, text, folder, environment) for kind, text in BLOCK.findall(PAGE.read_text())]
            self.assertEqual(len(said), 5)
            self.assertIn("tasks", json.loads((folder / "dates.json").read_text()))
            self.assertEqual(json.loads((folder / "moved.json").read_text()), {"moved": []})
            self.assertIn("Case frames erected", said[2])
            self.assertRegex(said[3], r"moves \d+ rows")
            self.assertRegex(said[4], r"\d+ moves leave \d+ overloads")
            session = Session.open(folder / "museum.hexapod")
            self.assertEqual(session.plan.tasks["banner"].notes, "By the north door")
            session.close()

    def run_one(self, kind: str, text: str, folder: Path, environment: dict[str, str]) -> str:
        command = ["bash", "-euo", "pipefail", "-c", text] if kind == "sh" else [sys.executable, "-c", text]
        done = subprocess.run(command, cwd=folder, env=environment, capture_output=True, text=True, check=False)
        self.assertEqual(done.returncode, 0, f"{text}\n{done.stderr[-800:]}")
        return done.stdout


if __name__ == "__main__":
    unittest.main()
