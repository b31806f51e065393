"""Reading and writing plans by file ending, with limits on what is read."""

from __future__ import annotations

import os
import sys
import tempfile
from pathlib import Path

from hexapod.errors import BadFile
from hexapod.formats.plan_json import LARGEST, read_plan, write_plan
from hexapod.plan.changes import diff
from hexapod.plan.plan import Plan
from hexapod.store.workspace import Workspace

WORKSPACE, JSON = ".hexapod", ".json"


def load(name: str) -> Plan:
    """The plan in a workspace or a plan JSON file; ``-`` is plan JSON on standard input."""
    if name == "-":
        return read_plan(sys.stdin.buffer.read(LARGEST + 1))
    path = Path(name)
    if path.suffix == WORKSPACE:
        workspace = Workspace.open(path, read_only=True)
        try:
            return workspace.read_plan()
        finally:
            workspace.close()
    try:
        with path.open("rb") as handle:
            return read_plan(handle.read(LARGEST + 1))
    except FileNotFoundError:
        raise BadFile(f"There is no file {path}.") from None
    except OSError as error:
        raise BadFile(f"{path} cannot be read: {error.strerror}.") from None


def save(plan: Plan, name: str, who: str, words: str) -> None:
    """Write a plan by the ending of the name. A JSON file is replaced whole or not at all."""
    path = Path(name)
    if path.suffix == WORKSPACE:
        workspace = Workspace.create(path)
        try:
            workspace.write(diff(Plan(), plan), words, who)
        finally:
            workspace.close()
    elif path.suffix == JSON or name == "-":
        _write_whole(path if name != "-" else None, write_plan(plan))
    else:
        raise BadFile(f"{path.name}: the ending must be {WORKSPACE} or {JSON}.")


def _write_whole(path: Path | None, data: bytes) -> None:
    if path is None:
        sys.stdout.buffer.write(data)
        return
    try:
        handle, temporary = tempfile.mkstemp(dir=path.parent, prefix=f".{path.name}.")
        try:
            with os.fdopen(handle, "wb") as file:
                file.write(data)
                file.flush()
                os.fsync(file.fileno())
            os.replace(temporary, path)
        except BaseException:
            os.unlink(temporary)
            raise
    except OSError as error:
        raise BadFile(f"{path} cannot be written: {error.strerror}.") from None
