"""How we start other processes: our own interpreter, or a program of the system; never what lies in the current folder.

``python -m`` puts the current directory in front of everything else, so that a file ``json.py`` there would run in
place of the library's. A child therefore begins without it (``-P``) and without what the environment says of Python
(``-E``). It then appends, behind the standard library, where its parent has found its packages.
"""

from __future__ import annotations

import os
import subprocess
import sys
from pathlib import Path
from typing import Any

SYSTEM = ("/usr/bin", "/bin", "/usr/local/bin")
PATIENCE = 60  # seconds for a program of the system
PACKAGE_ROOT = Path(__file__).resolve().parents[2]
_START = (
    "import runpy, sys\n"
    "count = int(sys.argv[1])\n"
    "sys.path += [p for p in sys.argv[2 : 2 + count] if p not in sys.path]\n"
    "module = sys.argv[2 + count]\n"
    "sys.argv[1:] = sys.argv[3 + count :]\n"
    "runpy.run_module(module, run_name='__main__', alter_sys=True)\n"
)


def python_command(module: str, *arguments: str) -> list[str]:
    """The command that runs one of our modules in a process of its own."""
    here = Path.cwd().resolve()
    known = [p for p in sys.path if os.path.isabs(p) and Path(p).resolve() != here]
    places = [*known, str(PACKAGE_ROOT)]  # the package's own folder counts also where it is the current one
    interpreter = os.path.abspath(sys.executable)
    return [interpreter, "-E", "-P", "-c", _START, str(len(places)), *places, module, *arguments]


def run_of_the_system(program: str, *arguments: str) -> bool:
    """Run a program of the system, such as ``update-mime-database``, to its end; False where it is not there or fails.

    It is looked for only where the system keeps its own.
    """
    path = next((p for folder in SYSTEM if (p := Path(folder) / program).is_file()), None)
    if path is None:
        return False
    try:
        done = subprocess.run([path, *arguments], capture_output=True, timeout=PATIENCE, check=False, cwd="/")
    except (OSError, subprocess.TimeoutExpired):
        return False
    return done.returncode == 0


def start_python(module: str, *arguments: str, **options: Any) -> subprocess.Popen[bytes]:
    """Start one of our modules with pipes for what goes in and comes out; ``options`` are those of ``Popen``."""
    return subprocess.Popen(
        python_command(module, *arguments),
        stdin=subprocess.PIPE,
        stdout=subprocess.PIPE,
        stderr=subprocess.DEVNULL,
        cwd="/",
        **options,
    )
