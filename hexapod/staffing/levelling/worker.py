"""The search in a process of its own: it takes nothing from the interface, and can be killed at any time.

The grid goes in as arrays, lists come out as arrays, each behind its length; nothing that is read is evaluated. The
process ends with whoever started it, and its solver with it.
"""

from __future__ import annotations

import contextlib
import io
import os
import select
import signal
import struct
import subprocess
import sys
import threading
from collections.abc import Iterator
from typing import IO

import numpy as np

from hexapod.staffing.levelling.grid import Grid
from hexapod.staffing.levelling.pursuit import BetterList, Limits, SearchGoal, look
from hexapod.system.children import start_python

LISTEN = 0.1  # seconds between two looks at whether it was stopped
_LENGTH = struct.Struct("<q")


def look_beside(sought: SearchGoal, limits: Limits) -> Iterator[BetterList]:
    """As ``look``, in another process. If that fails or is killed, what it found until then was all."""
    process = start_python("hexapod.staffing.levelling.worker", start_new_session=True)
    assert process.stdin is not None and process.stdout is not None
    try:
        _send(process.stdin, _packed(sought, limits))
        while _is_there(process, limits):
            data = _receive(process.stdout)
            if data is None:
                return
            yield BetterList(data["order"], int(data["made"]), int(data["proven"]))
    except OSError:
        return
    finally:
        _end(process)


def _is_there(process: subprocess.Popen[bytes], limits: Limits) -> bool:
    """Wait for the next answer, or the end; False if it is stopped."""
    assert process.stdout is not None
    while limits.is_stopped is None or not limits.is_stopped():
        if select.select([process.stdout], [], [], LISTEN)[0]:
            return True
    return False


def _end(process: subprocess.Popen[bytes]) -> None:
    """Kill it and its solver."""
    with contextlib.suppress(OSError):
        os.killpg(process.pid, signal.SIGKILL)
    process.wait()
    for pipe in (process.stdin, process.stdout):
        assert pipe is not None
        with contextlib.suppress(OSError):
            pipe.close()


def _packed(sought: SearchGoal, limits: Limits) -> dict[str, np.ndarray]:
    """By name: the fields of the grid, and what else is sought, as arrays."""
    more = {
        "wishes": sought.wishes,
        "level": sought.level,
        "within": sought.within,
        "enough": sought.enough,
        "is_exact": sought.is_exact,
        "seconds": limits.seconds,
        "steps": -1 if limits.steps is None else limits.steps,
        "seed": limits.seed,
    }
    grid = {f"grid.{name}": value for name, value in sought.grid._asdict().items()}
    return {name: np.asarray(value) for name, value in (grid | more).items()}


def _unpacked(given: dict[str, np.ndarray]) -> tuple[SearchGoal, Limits]:
    grid = Grid(*(given[f"grid.{name}"] for name in Grid._fields))
    steps = int(given["steps"])
    return (
        SearchGoal(
            grid, given["wishes"], given["level"], bool(given["within"]), int(given["enough"]), bool(given["is_exact"])
        ),
        Limits(float(given["seconds"]), None if steps < 0 else steps, int(given["seed"])),
    )


def _send(pipe: IO[bytes], arrays: dict[str, np.ndarray]) -> None:
    data = io.BytesIO()
    np.savez(data, **arrays)  # type: ignore[arg-type]
    pipe.write(_LENGTH.pack(data.tell()) + data.getvalue())
    pipe.flush()


def _receive(pipe: IO[bytes]) -> dict[str, np.ndarray] | None:
    """The next arrays; None at the end."""
    head = pipe.read(_LENGTH.size)
    if len(head) < _LENGTH.size:
        return None
    size = _LENGTH.unpack(head)[0]
    data = pipe.read(size)
    if len(data) < size:
        return None
    with np.load(io.BytesIO(data), allow_pickle=False) as found:
        return {name: found[name] for name in found.files}


def main() -> None:
    """Read what is sought from standard input, and say what is found as it is found."""
    given = _receive(sys.stdin.buffer)
    if given is None:
        return
    threading.Thread(target=_end_with_parent, daemon=True).start()
    for found in look(*_unpacked(given)):
        arrays = {"order": found.order, "made": np.asarray(found.made), "proven": np.asarray(found.proven)}
        _send(sys.stdout.buffer, arrays)


def _end_with_parent() -> None:
    """Nothing more comes in: when it ends, so does whoever reads this."""
    sys.stdin.buffer.read()
    os.killpg(0, signal.SIGKILL)


if __name__ == "__main__":
    main()
