"""When the file under an open workspace is gone: everything goes on in a new file, and nothing is lost."""

from __future__ import annotations

import contextlib
from datetime import datetime
from pathlib import Path

import platformdirs

from hexapod.errors import BadFile
from hexapod.plan.changes import diff
from hexapod.plan.plan import Plan
from hexapod.store.port import Storage
from hexapod.store.watch import FileLost
from hexapod.store.workspace import Workspace
from hexapod.system.files import make_folder, remove, shown


def rescued(old: Storage, lost: FileLost, plan: Plan, who: str) -> Workspace:
    """A workspace that holds ``plan``: beside the old file, else among the user's documents or data.

    With all of the history where the old database can still be read, else with one edit that holds the plan.
    ``BadFile`` if there is no place for it.
    """
    home = Path(platformdirs.user_data_dir("hexapod"))
    with contextlib.suppress(BadFile):
        make_folder(home)
    why = ""
    for folder in (old.path.parent, Path(platformdirs.user_documents_dir()), home):
        if not folder.is_dir():
            continue
        try:
            return kept_as(old, lost, plan, who, _free_name(folder, old.path))
        except BadFile as error:
            why = why or str(error)
    raise BadFile(f"{lost} It could not be kept elsewhere: {why} Nothing is lost yet; save a copy to another place.")


def kept_as(old: Storage, lost: FileLost, plan: Plan, who: str, target: Path) -> Workspace:
    """The same under a name that the user chose. ``BadFile`` if it cannot be written there."""
    if lost.is_ours:
        with contextlib.suppress(BadFile):
            old.save_copy(target)
            found = Workspace.open(target)
            with contextlib.suppress(BadFile):
                if found.read_plan() == plan:
                    return found
            found.close()
            remove(target)
    made = Workspace.create(target)
    try:
        made.write(diff(Plan(), plan), f"Keep what was in {shown(old.path.name)}", who)
    except BaseException:
        made.close()
        remove(target)
        raise
    return made


def _free_name(folder: Path, path: Path) -> Path:
    stem = f"{path.stem} kept {datetime.now():%Y-%m-%d %H.%M}"
    number, target = 1, folder / f"{stem}.hexapod"
    while target.exists():
        number += 1
        target = folder / f"{stem} {number}.hexapod"
    return target
