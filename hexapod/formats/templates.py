"""Templates: plan JSON files in the library that comes with the application, and in the user's own.

A file that cannot be read is left out of the list, with the reason for it.
"""

from __future__ import annotations

import re
from dataclasses import dataclass
from pathlib import Path

import platformdirs
from msgspec.structs import replace

from hexapod.errors import BadFile, HexapodError
from hexapod.formats.plan_json import read_plan, write_plan
from hexapod.plan.plan import Plan
from hexapod.system import budgets
from hexapod.system.files import make_folder, read_within, write_whole

SHIPPED = Path(__file__).parents[1] / "templates"


@dataclass(frozen=True)
class Template:
    """``plan`` is None where the file cannot be read, and ``trouble`` says why."""

    name: str
    path: Path
    is_shipped: bool
    plan: Plan | None
    trouble: str = ""


def own_library() -> Path:
    """Where the user's own templates are kept."""
    return Path(platformdirs.user_data_dir("hexapod")) / "templates"


def templates(own: Path) -> list[Template]:
    """The user's own templates, then those that are shipped, each by name."""
    found = []
    for folder, is_shipped in ((own, False), (SHIPPED, True)):
        for path in sorted(folder.glob("*.json")) if folder.is_dir() else []:
            found.append(_read(path, is_shipped))
    return found


def _read(path: Path, is_shipped: bool) -> Template:
    try:
        plan = read_plan(read_within(path, budgets.DOCUMENT))
        if not plan.projects or not plan.tasks:
            raise BadFile(f"{path.name} holds no rows.")
        return Template(plan.projects_in_order()[0].name, path, is_shipped, plan)
    except HexapodError as error:
        return Template(path.stem, path, is_shipped, None, str(error))


def _free_name(own: Path, title: str) -> Path:
    """The file of the template of that name, else a name that no other template has: “a/b” and “ab” are two."""
    stem = re.sub(r"[^\w\- ]+", "", title).strip()[:80] or "template"
    number, file = 1, own / f"{stem}.json"
    while file.exists() and _read(file, False).name.strip().casefold() != title.casefold():
        number += 1
        file = own / f"{stem} {number}.json"
    return file


def save_template(fragment: Plan, name: str, own: Path) -> Path:
    """Keep a fragment under a name in the user's library: without dates that were typed, people's comments or holds."""
    title = name.strip()
    if not title:
        raise BadFile("A template needs a name.")
    project = replace(fragment.projects_in_order()[0], name=title, status_date=None)
    bare = [replace(t, project=project.id, hold=0, limits=(), target=None) for t in fragment.tasks.values()]
    others = [
        record
        for kind in ("calendars", "links", "resources", "assignments", "fields", "deliverables")
        for record in getattr(fragment, kind).values()
    ]
    make_folder(own)
    file = _free_name(own, title)
    write_whole(file, write_plan(Plan.of([project, *bare, *others])))
    return file
