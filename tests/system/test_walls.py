"""There is one way to write a file, one to start a process, and none to run what was read; seen in the source."""

from __future__ import annotations

import ast
import unittest
from collections.abc import Iterator
from pathlib import Path

import hexapod

ROOT = Path(hexapod.__file__).parent
WRITERS = {"system/files.py"}
# These fill a file that ``replacing``, ``new_part`` or ``scratch_folder`` has made for them.
FILL_PARTS = {"store/opening.py", "store/snapshot.py", "store/copying.py"}
READS_ITS_FILE = {"store/lock.py"}  # with ``O_RDONLY``
STARTERS = {"system/children.py"}
DATABASES = "store/"

WRITING = {
    "write_text", "write_bytes", "touch", "mkdir", "makedirs", "symlink_to", "hardlink_to", "renames",
    "rmdir", "rmtree", "mkstemp", "mkdtemp", "NamedTemporaryFile", "TemporaryFile", "TemporaryDirectory", "copyfile",
    "copy2", "copytree", "truncate", "QSaveFile", "QTemporaryFile", "QTemporaryDir", "unlink",
}  # fmt: skip
OF_OS = {"open", "replace", "rename", "remove", "link", "symlink", "chmod", "chown", "fdopen", "unlink"}
RUNNING = {"eval", "exec", "compile", "__import__"}
STARTING = {"subprocess", "multiprocessing", "pty", "asyncio", "concurrent.futures.process"}
UNPACKING = {"pickle", "marshal", "shelve", "dill", "yaml"}


def files() -> Iterator[tuple[str, ast.Module]]:
    for path in sorted(ROOT.rglob("*.py")):
        yield path.relative_to(ROOT).as_posix(), ast.parse(path.read_text(encoding="utf-8"))


def calls(tree: ast.Module) -> Iterator[tuple[ast.Call, str, str]]:
    """Each call with the name that is called, and what it is called on, as far as that is a plain name."""
    for node in ast.walk(tree):
        if isinstance(node, ast.Call):
            if isinstance(node.func, ast.Name):
                yield node, node.func.id, ""
            elif isinstance(node.func, ast.Attribute):
                on = node.func.value
                yield node, node.func.attr, on.id if isinstance(on, ast.Name) else "?"


def opens_for_writing(call: ast.Call, name: str, on: str) -> bool:
    """Whether ``open(...)`` or ``path.open(...)`` has a mode that writes, or one that cannot be seen here."""
    if name != "open" or on == "os":
        return False
    modes = [k.value for k in call.keywords if k.arg == "mode"] + call.args[1 if not on else 0 :][:1]
    for mode in modes:
        if isinstance(mode, ast.Constant) and isinstance(mode.value, str) and set(mode.value) <= set("rwabxt+"):
            return bool(set(mode.value) & set("wax+"))
    return False


class Walls(unittest.TestCase):
    def test_files_are_written_in_one_place(self) -> None:
        found = []
        for name, tree in files():
            if name in WRITERS | READS_ITS_FILE:
                continue
            for call, called, on in calls(tree):
                fills = name in FILL_PARTS and called in ("open", "fdopen", "chmod", "replace")
                is_os = on == "os" and called in OF_OS and not fills
                is_open = opens_for_writing(call, called, on) and not fills
                is_shutil = on == "shutil" and called != "disk_usage"
                if is_os or is_open or is_shutil or (called in WRITING and on != "edits"):
                    found.append(f"{name}:{call.lineno} {on}.{called}")
        self.assertEqual(found, [])
        text = (ROOT / "store/lock.py").read_text(encoding="utf-8")
        self.assertEqual((text.count("os.open("), text.count("os.O_RDONLY")), (1, 1))

    def test_processes_are_started_in_one_place_and_nothing_read_is_run(self) -> None:
        found = []
        for name, tree in files():
            for node in ast.walk(tree):
                modules = (
                    [alias.name for alias in node.names] if isinstance(node, ast.Import)
                    else [node.module or ""] if isinstance(node, ast.ImportFrom) else []
                )  # fmt: skip
                bad = [m for m in modules if m in UNPACKING or (m in STARTING and name not in STARTERS)]
                found += [f"{name} imports {m}" for m in bad]
            for call, called, on in calls(tree):
                runs = called in RUNNING and not on
                starts = on == "os" and called.startswith(("system", "popen", "exec", "spawn", "posix_spawn", "fork"))
                loads = called == "load" and on == "np" and not _forbids_pickle(call)
                if runs or starts or loads:
                    found.append(f"{name}:{call.lineno} {on}.{called}")
        self.assertEqual(found, ["staffing/levelling/worker.py imports subprocess"], "for the name of a type only")

    def test_databases_are_opened_in_the_store(self) -> None:
        found = [
            name
            for name, tree in files()
            for _, called, on in calls(tree)
            if (on, called) == ("sqlite3", "connect") and not name.startswith(DATABASES)
        ]
        self.assertEqual(found, [])

    def test_tooltips_that_are_no_fixed_text_are_shown_as_they_stand(self) -> None:
        found = []
        for name, tree in files():
            for call, called, on in calls(tree):
                if called == "setToolTip" or (called == "showText" and on == "QToolTip"):
                    text = call.args[1 if called == "showText" else 0]
                    if not _is_fixed(text) and getattr(getattr(text, "func", None), "id", "") != "plain_tip":
                        found.append(f"{name}:{call.lineno}")
        self.assertEqual(found, [])

    def test_numbers_that_somebody_typed_are_read_with_a_bound(self) -> None:
        """``isdigit`` is true of a small raised two, which ``int`` does not take."""
        found = {name for name, tree in files() for _, called, _ in calls(tree) if called in ("isdigit", "isnumeric")}
        self.assertEqual(found, {"system/files.py", "formats/tables.py"}, "of plain ASCII and of bytes")

    def test_the_wall_sees_what_it_should(self) -> None:
        for text in ("open('x', 'w')", "p.open('wb')", "p.write_text('x')", "os.open(p, 1)", "tempfile.mkdtemp()"):
            ((call, called, on),) = list(calls(ast.parse(text)))
            is_seen = opens_for_writing(call, called, on) or called in WRITING or (on == "os" and called in OF_OS)
            self.assertTrue(is_seen, text)
        ((call, called, on),) = list(calls(ast.parse("p.open('rb')")))
        self.assertFalse(opens_for_writing(call, called, on))


def _is_fixed(text: ast.expr) -> bool:
    if isinstance(text, ast.IfExp):
        return _is_fixed(text.body) and _is_fixed(text.orelse)
    return isinstance(text, ast.Constant)


def _forbids_pickle(call: ast.Call) -> bool:
    return any(
        k.arg == "allow_pickle" and isinstance(k.value, ast.Constant) and k.value.value is False for k in call.keywords
    )


if __name__ == "__main__":
    unittest.main()
