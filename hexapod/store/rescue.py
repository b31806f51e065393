"""When the file under an open workspace is gone: everything goes on in a new file, and nothing is lost."""

from __future__ import annotations

import contextlib
from datetime import datetime
from functools import partial
from pathlib import Path

import platformdirs
from msgspec.structs import replace

from hexapod.errors import BadFile
from hexapod.plan.changes import Changes, diff
from hexapod.plan.plan import Plan
from hexapod.store.history import EDIT
from hexapod.store.port import Storage
from hexapod.store.scenarios import ScenarioPlace
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
    scenarios = _scenarios_in(old, plan)
    made = Workspace.create(target)
    try:
        words = f"Keep what was in {shown(old.path.name)}"
        row = made.write(diff(Plan(), plan), words, who)
        for scenario, own in scenarios.items():
            made.write_scenario(scenario, row.number, own, words, who, EDIT, None)
    except BaseException:
        made.close()
        remove(target)
        raise
    return made


def _scenarios_in(old: Storage, plan: Plan) -> dict[str, Changes]:
    """What each scenario does otherwise than the plan, as far as the old database can still be read."""
    found = {}
    for scenario in plan.scenarios:
        with contextlib.suppress(BadFile):
            last = old.read_history()[-1].number
            place = ScenarioPlace(lambda: old, scenario, partial(_plan_after, old, plan, last))
            found[scenario] = replace(diff(plan, place.read_plan()), scenarios=())
    return found


def _plan_after(old: Storage, plan: Plan, last: int, number: int) -> Plan:
    return old.plan_after(plan, number, last)


def _free_name(folder: Path, path: Path) -> Path:
    stem = f"{path.stem} kept {datetime.now():%Y-%m-%d %H.%M}"
    number, target = 1, folder / f"{stem}.hexapod"
    while target.exists():
        number += 1
        target = folder / f"{stem} {number}.hexapod"
    return target
