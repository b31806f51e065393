"""The wheel: built, installed into an environment of its own, and used there as a command and as a window."""

from __future__ import annotations

import json
import os
import subprocess
import sys
import tempfile
import unittest
import xml.etree.ElementTree as ElementTree
from configparser import ConfigParser
from pathlib import Path

from hexapod.linux import PLACES, install_desktop, quoted, remove_desktop
from tests.run import GROUPS

ROOT = Path(__file__).resolve().parents[1]
LOOK = """
import sys
from pathlib import Path
from PyQt6.QtWidgets import QApplication
import hexapod
from hexapod.desktop.app import make_application
from hexapod.desktop.window import Window
from hexapod.session import Session
app = make_application("light")
window = Window(Session.create(Path(sys.argv[1])), lambda *_: None)
window.show()
window.show_guide("chart")
for _ in range(20):
    QApplication.processEvents()
page = window.guide.page
picture = page.document().resource(2, __import__("PyQt6.QtCore").QtCore.QUrl("pictures/legend-light.png"))
print(hexapod.__file__, page.toPlainText()[:9], picture is not None and not getattr(picture, "isNull", lambda: False)())
sys.stdout.flush()
__import__("os")._exit(0)
"""


class Everything(unittest.TestCase):
    def test_every_folder_of_tests_is_run(self) -> None:
        places = {place for _, group in GROUPS for place in group}
        files = sorted(path.relative_to(ROOT) for path in (ROOT / "tests").rglob("test_*.py"))
        left_out = [str(f) for f in files if not {str(f), str(f.parent)} & places]
        self.assertEqual(left_out, [])


class Wheel(unittest.TestCase):
    folder: Path

    @classmethod
    def setUpClass(cls) -> None:
        place = tempfile.TemporaryDirectory()
        cls.addClassCleanup(place.cleanup)
        cls.folder = Path(place.name)
        subprocess.run([ROOT / "scripts" / "package", cls.folder / "dist"], check=True, capture_output=True)
        wheel = next((cls.folder / "dist").glob("*.whl"))
        cls.venv = cls.folder / "venv"
        subprocess.run([sys.executable, "-m", "venv", "--without-pip", cls.venv], check=True)
        packages = next((cls.venv / "lib").glob("python*/site-packages"))
        # What it depends on is here already; a plain path in a .pth runs nothing that lies there.
        depends = [p for p in sys.path if p.endswith("site-packages")]
        (packages / "depends.pth").write_text("\n".join(depends))
        pip = [sys.executable, "-m", "pip", "--python", cls.venv / "bin" / "python", "--disable-pip-version-check"]
        subprocess.run([*pip, "install", "--quiet", "--no-deps", "--no-index", "--force-reinstall", wheel], check=True)

    def run_there(self, *command: str | Path, **more: str) -> subprocess.CompletedProcess[str]:
        keep = {name: os.environ[name] for name in ("NUMBA_CACHE_DIR",) if name in os.environ}
        home = {"HOME": str(self.folder), "PATH": os.environ["PATH"], "QT_QPA_PLATFORM": "offscreen", "LANG": "C.UTF-8"}
        return subprocess.run(command, capture_output=True, text=True, cwd=self.folder, env={**home, **keep, **more},
                              timeout=300)  # fmt: skip

    def test_the_command_schedules_a_plan(self) -> None:
        plan = ROOT / "hexapod" / "demo" / "warm.json"
        done = self.run_there(self.venv / "bin" / "hexapod", "schedule", "--json", plan)
        self.assertEqual(0, done.returncode, done.stderr)
        dates = json.loads(done.stdout)["tasks"]
        self.assertEqual(len(json.loads(plan.read_text())["tasks"]), len(dates))

    def test_the_window_opens_with_its_guide_and_pictures(self) -> None:
        done = self.run_there(self.venv / "bin" / "python", "-c", LOOK, self.folder / "Try.hexapod")
        self.assertEqual(0, done.returncode, done.stderr)
        where, title, has_picture = done.stdout.split()[0], done.stdout.split()[1:3], done.stdout.split()[-1]
        self.assertTrue(where.startswith(str(self.venv)), where)
        self.assertEqual((["The", "chart"], "True"), (title, has_picture))

    def test_it_comes_into_the_menu_and_goes_again(self) -> None:
        share = self.folder / "share"
        command = self.venv / "bin" / "hexapod"
        done = self.run_there(command, "install-desktop", XDG_DATA_HOME=str(share))
        self.assertEqual(0, done.returncode, done.stderr)
        for place in PLACES.values():
            self.assertTrue((share / place).is_file(), place)
        entry = (share / "applications" / "org.hexapod.Hexapod.desktop").read_text()
        self.assertIn(f"Exec={command} %f", entry)
        done = self.run_there(command, "install-desktop", "--remove", XDG_DATA_HOME=str(share))
        self.assertEqual(0, done.returncode, done.stderr)
        self.assertFalse([p for p in PLACES.values() if (share / p).exists()])


class Files(unittest.TestCase):
    def test_a_path_with_blanks_and_signs_is_one_argument(self) -> None:
        self.assertEqual("/usr/bin/hexapod", quoted("/usr/bin/hexapod"))
        self.assertEqual('"/my apps/hexapod"', quoted("/my apps/hexapod"))
        self.assertEqual('"/a\\\\$b/100%%"', quoted("/a$b/100%"))

    def test_the_files_are_what_the_specifications_ask_for(self) -> None:
        """Keys of the Desktop Entry Specification 1.5 and of AppStream 1.0 that must be there."""
        with tempfile.TemporaryDirectory() as place:
            share = Path(place)
            written = install_desktop(share, Path("/usr/bin/hexapod"))
            self.assertEqual(len(PLACES), len(written))
            entry = ConfigParser(interpolation=None)
            entry.optionxform = str  # type: ignore[assignment, method-assign]
            entry.read(share / "applications" / "org.hexapod.Hexapod.desktop")
            found = entry["Desktop Entry"]
            self.assertEqual(("Application", "Hexapod"), (found["Type"], found["Name"]))
            self.assertEqual("application/x-hexapod;", found["MimeType"])
            component = ElementTree.parse(share / "metainfo" / "org.hexapod.Hexapod.metainfo.xml").getroot()
            for tag in ("id", "metadata_license", "name", "summary", "description", "launchable", "releases"):
                self.assertIsNotNone(component.find(tag), tag)
            mime = ElementTree.parse(share / "mime" / "packages" / "hexapod.xml").getroot()
            kinds = [kind.get("type") for kind in mime if kind.tag.endswith("mime-type")]
            self.assertIn("application/x-hexapod", kinds)
            self.assertEqual(sorted(written), sorted(remove_desktop(share)))
            self.assertEqual([], remove_desktop(share))


if __name__ == "__main__":
    unittest.main()
