"""Edits of several projects at once, each undone as one."""

from __future__ import annotations

from collections.abc import Iterable, Mapping

from msgspec.structs import replace

from hexapod.errors import EditRefused
from hexapod.plan.edits.edit import Edit, quoted, together
from hexapod.plan.edits.settling import save_project
from hexapod.plan.edits.trying import delay_project
from hexapod.plan.plan import Plan


def hold_projects(plan: Plan, project_ids: Iterable[str], held: bool = True) -> Edit:
    """They ask for nobody as long as they are on hold; their dates stay. Or they go on."""
    verb, end = ("Put", " on hold") if held else ("Go on with", "")
    return _change(plan, project_ids, verb, end, on_hold=held)


def put_on_hold(plan: Plan, project_id: str, held: bool = True) -> Edit:
    """The same of one project. ``Gone`` where it is not there."""
    return hold_projects(plan, [plan.project(project_id).id], held)


def archive_projects(plan: Plan, project_ids: Iterable[str]) -> Edit:
    """They are put out of sight, with all that is known of them."""
    return _change(plan, project_ids, "Archive", "", archived=True)


def lead_projects(plan: Plan, project_ids: Iterable[str], resource_id: str | None) -> Edit:
    """Somebody answers for them, or nobody in particular. ``Gone`` for who is not there."""
    who = "nobody in particular" if resource_id is None else plan.resource(resource_id).name
    return _change(plan, project_ids, "Say that", f" led by {who}", led_by=resource_id)


def place_projects(plan: Plan, project_ids: Iterable[str], department: str) -> Edit:
    """They belong to a department, or to none."""
    where = department.strip()
    return _change(plan, project_ids, "Say that", f" of {where or 'no department'}", department=where)


def want_projects(plan: Plan, project_ids: Iterable[str], at: int | None) -> Edit:
    """They should be finished by a moment, or have no target any more."""
    verb = "Give a target to" if at is not None else "Take the target from"
    return _change(plan, project_ids, verb, "", target_finish=at)


def prioritise_projects(plan: Plan, project_ids: Iterable[str], priority: int) -> Edit:
    """They come before others, or after them: 1 is first of all, 9 last of all."""
    return _change(plan, project_ids, "Change the priority of", "", priority=priority)


def judge_project(plan: Plan, project_id: str, word: str, who: str, now: int) -> Edit:
    """A word of judgement beside the state, with whose it is; an empty one takes it back."""
    said = word.strip()
    by, at = (who, now) if said else ("", None)
    project = replace(plan.project(project_id), word=said, word_by=by, word_at=at)
    return save_project(plan, project).named(f"{'Judge' if said else 'No judgement of'} “{project.name}”")


def delay_projects(plan: Plan, minutes: Mapping[str, int]) -> Edit:
    """What of them has not begun waits for so many working minutes more, by project."""
    ids = _there(plan, minutes)
    return together(f"Delay {_named(plan, ids)}", [delay_project(plan, p, minutes[p]) for p in ids])


def _change(plan: Plan, project_ids: Iterable[str], verb: str, end: str, **fields: object) -> Edit:
    ids = _there(plan, project_ids)
    are = "" if verb != "Say that" else " is" if len(ids) == 1 else " are"
    words = f"{verb} {_named(plan, ids)}{are}{end}"
    return together(words, [save_project(plan, replace(plan.project(p), **fields)) for p in ids])


def _there(plan: Plan, project_ids: Iterable[str]) -> list[str]:
    ids = [p for p in dict.fromkeys(project_ids) if p in plan.projects]
    if not ids:
        raise EditRefused("Choose one or more projects first.")
    return ids


def _named(plan: Plan, ids: list[str]) -> str:
    return quoted([plan.projects[p].name for p in ids], "projects")
