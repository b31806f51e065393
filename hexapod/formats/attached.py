"""The files that tasks name: whether they are there, and copies of them in a folder beside the workspace, so that they
travel with it."""

from __future__ import annotations

import re
from collections.abc import Iterable
from pathlib import Path

from msgspec.structs import replace

from hexapod.errors import BadFile
from hexapod.plan.edits import Edit
from hexapod.plan.plan import Draft, Plan
from hexapod.system.files import cannot_write, copy_whole, make_folder
from hexapod.system.words import count_of

WEB = re.compile(r"https?://", re.IGNORECASE)
LARGEST = 2 * 1024**3  # bytes of one file that is taken along


def path_of(workspace: Path, place: str) -> Path | None:
    """Where an attachment lies; a relative one is beside the workspace. None for a web page."""
    if WEB.match(place):
        return None
    path = Path(place).expanduser()
    return path if path.is_absolute() else workspace.parent / path


def is_missing(workspace: Path, place: str) -> bool:
    """Whether it is a file that is not there."""
    try:
        path = path_of(workspace, place)
        return path is not None and not path.exists()
    except (OSError, ValueError, RuntimeError):  # a name that no file can have
        return True


def folder_of(workspace: Path) -> Path:
    """Where copies of attached files lie."""
    return workspace.parent / f"{workspace.stem} files"


def strays(workspace: Path, places: Iterable[str]) -> list[str]:
    """Files that are there and do not lie in that folder."""
    folder = folder_of(workspace).resolve()
    found = []
    for place in places:
        path = path_of(workspace, place)
        is_there = path is not None and not is_missing(workspace, place) and path.is_file()
        if is_there and path is not None and folder not in path.resolve().parents:
            found.append(place)
    return found


def copy_along(workspace: Path, places: Iterable[str]) -> dict[str, str]:
    """Copy files that stray into the folder; by what each was called in the plan, what it is called now. ``BadFile``
    where one cannot be copied: those that were are known by the files that lie there."""
    folder = folder_of(workspace)
    made: dict[str, str] = {}
    for place in strays(workspace, dict.fromkeys(places)):
        path = path_of(workspace, place)
        assert path is not None
        make_folder(folder)
        target = _free(folder, path.name)
        try:
            if path.stat().st_size > LARGEST:
                raise BadFile(f"“{path.name}” is larger than {LARGEST // 1024**3} GB and is not taken along.")
            copy_whole(path, target)
        except OSError as error:
            raise cannot_write(target, error) from None
        made[place] = str(target.relative_to(workspace.parent))
    return made


def _free(folder: Path, name: str) -> Path:
    """A name in a folder that no file has yet."""
    path, number = folder / name, 2
    while path.exists():
        path, number = folder / f"{Path(name).stem} {number}{Path(name).suffix}", number + 1
    return path


def name_copies(plan: Plan, made: dict[str, str]) -> Edit:
    """Let tasks name the copies in place of the files that they were made of."""

    def change(draft: Draft) -> None:
        for task in plan.tasks.values():
            if any(place in made for place in task.attachments):
                now = draft.task(task.id)
                draft.put(replace(now, attachments=tuple(made.get(place, place) for place in now.attachments)))
        for deliverable in plan.deliverables.values():
            files = tuple(made.get(place, place) for place in deliverable.files)
            draft.put(replace(deliverable, files=files))

    return Edit(f"Take {count_of(len(made), 'file')} along", change)
