"""Edits as a list of JSON: what a script asks of a plan, carried out in order as one edit, all of it or nothing.

``{"add": {task}}``, ``{"set": {"task": id, ...}}``, ``{"delete": id}``, ``{"move": {"task", "parent", "before"}}``,
``{"link": {...}}``, ``{"unlink": {"predecessor", "successor", "type"}}``; for the other lists of plan JSON their
singular goes in between: ``{"add": {"resource": {...}}}``. Keys and values are those of plan JSON. What has no id is
named by its ends: ``{"set": {"link": {"predecessor", "successor", "type"}, "lag": 480}}``.
"""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

import msgspec
from msgspec.structs import fields, replace

from hexapod.errors import BadFile, EditRefused, HexapodError
from hexapod.formats.plan_json import read_record, written_record
from hexapod.plan import edits
from hexapod.plan.edits import Edit
from hexapod.plan.kinds import KINDS
from hexapod.plan.plan import Draft, Plan
from hexapod.plan.ranks import ranks_between
from hexapod.plan.records import LinkType, Record
from hexapod.plan.validity import check
from hexapod.schedule.network import Network
from hexapod.schedule.structure import LoopFound
from hexapod.system import budgets
from hexapod.system.budgets import within
from hexapod.system.words import count_of

Entry = dict[str, Any]
PLURAL = {  # in such an order that none is a key of what comes before it
    "log": "logs", "sheet": "sheets", "entry": "entries", "budget": "budgets",
    "risk": "risks",
    "reservation": "reservations", "assignment": "assignments", "link": "links", "comment": "comments", "view": "views",
    "report": "reports",
    "request": "requests",
    "approval": "approvals",
    "deliverable": "deliverables",
    "route": "routes",
    "threshold": "thresholds",
    "errand": "errands", "field": "fields", "task": "tasks", "stage": "stages", "resource": "resources",
    "project": "projects", "baseline": "baselines", "calendar": "calendars",
}  # fmt: skip
DELETES: dict[str, Callable[[Plan, Any], Edit]] = {
    "tasks": lambda plan, key: edits.remove_tasks(plan, [key]),
    "projects": edits.remove_project,
    "calendars": edits.remove_calendar,
    "resources": edits.remove_resource,
    "stages": edits.remove_stage,
    "errands": lambda plan, key: edits.remove_errands(plan, [key]),
    "reservations": edits.remove_reservation,
    "fields": edits.remove_field,
    "baselines": edits.remove_baseline,
    "logs": lambda plan, key: edits.remove_logs(plan, [key]),
    "risks": lambda plan, key: edits.remove_risks(plan, [key]),
    "deliverables": edits.remove_deliverable,
}


def read_edits(data: bytes) -> list[Entry]:
    """The list of a file. ``BadFile`` if it is none."""
    within("The list of edits", len(data), "bytes", budgets.DOCUMENT)
    try:
        return msgspec.json.decode(data, type=list[Entry])
    except (msgspec.MsgspecError, RecursionError, ValueError) as error:
        raise BadFile(f"The list of edits cannot be read: {str(error)[:200]}") from None


def edit_of(entries: list[Entry]) -> Edit:
    """One edit that carries out all entries. When it is applied, ``BadFile`` names the entry that is wrong."""
    words = f"Carry out {count_of(len(entries), 'edit')}"

    def change(draft: Draft) -> None:
        plans = [draft.before]
        for i, entry in enumerate(entries):
            plans.append(_step(plans[-1], i, entry).applied_to(plans[-1]))
        if _loop_in(plans[0]) is None:  # what was broken before is nobody's fault here
            _refuse_loop(plans)
        edits.to_plan(words, plans[0], plans[-1]).change(draft)

    return Edit(words, change)


def _loop_in(plan: Plan) -> LoopFound | None:
    try:
        Network.of(plan)
    except LoopFound as loop:
        return loop
    return None


def _refuse_loop(plans: list[Plan]) -> None:
    """Name the entry that closes a loop: the first after which there is one, found by halving."""
    loop = _loop_in(plans[-1])
    if loop is None:
        return
    sound, looped = 0, len(plans) - 1
    while looped - sound > 1:
        middle = (sound + looped) // 2
        found = _loop_in(plans[middle])
        if found is None:
            sound = middle
        else:
            looped, loop = middle, found
    raise BadFile(f"edit {looped}: {loop}")


def _step(plan: Plan, index: int, entry: Entry) -> Edit:
    place = f"edit {index + 1}"
    if len(entry) != 1 or next(iter(entry)) not in VERBS:
        raise BadFile(f"{place}: it must have one of the keys {', '.join(VERBS)}.")
    (verb, said) = next(iter(entry.items()))
    try:
        edit = VERBS[verb](plan, said)
        draft = plan.draft()
        edit.change(draft)
        check(*draft.finish())
        return edit
    except (HexapodError, KeyError, TypeError, ValueError) as error:
        what = f"{error} is missing" if isinstance(error, KeyError) else str(error)
        raise BadFile(f"{place}, {verb}: {what}") from None


def _add(plan: Plan, said: Entry) -> Edit:
    kind, entry = _kind_and(said)
    record = read_record(kind, entry)
    if _known(plan, kind, record.key) is not None:  # type: ignore[attr-defined]
        raise EditRefused(f"“{_name(record.key)}” is there already.")  # type: ignore[attr-defined]
    if hasattr(record, "rank"):
        record = replace(record, rank=_last_rank(plan, kind, record))
    return Edit("Add", lambda draft: draft.put(record))


def _set(plan: Plan, said: Entry) -> Edit:
    named = next((name for name in PLURAL if name in said), "task")
    kind = PLURAL[named]
    key = _key(kind, said[named])
    record = _existing(plan, kind, key)
    before = written_record(kind, record)
    changed = {name: value for name, value in said.items() if name != named}
    if not changed:
        raise EditRefused(f"it says nothing to set of “{_name(key)}”.")
    if "id" in changed and changed["id"] != before.get("id"):
        raise EditRefused("an id stays as it is.")
    old, new = read_record(kind, before), read_record(kind, {**before, **changed})
    differs = {f.name: value for f in fields(new) if (value := getattr(new, f.name)) != getattr(old, f.name)}
    made = replace(record, **differs)
    return Edit("Set", lambda draft: draft.put(made))


def _delete(plan: Plan, said: Any) -> Edit:
    kind, key = ("tasks", said) if isinstance(said, str) else _kind_and(said)
    key = _key(kind, key)
    _existing(plan, kind, key)
    if kind in DELETES:
        return DELETES[kind](plan, key)
    return Edit("Delete", lambda draft: draft.remove(kind, key))


def _move(plan: Plan, said: Entry) -> Edit:
    unknown = said.keys() - {"task", "parent", "before", "project"}
    if unknown:
        raise EditRefused(f"“{min(unknown)}” is no key of a move.")
    task, parent, before = _existing(plan, "tasks", said["task"]), said.get("parent"), said.get("before")
    for other in (parent, before):
        if other is not None:
            _existing(plan, "tasks", other)
    if before is not None and plan.tasks[before].parent != parent:
        raise EditRefused(f"“{before}” is not below “{parent}”.")
    home = str(said.get("project", task.project))  # type: ignore[attr-defined]
    project = home if parent is None else plan.tasks[parent].project
    return edits.move_to(plan, [said["task"]], project, parent, before)


def _link(plan: Plan, said: Entry) -> Edit:
    return _add(plan, {"link": said})


def _unlink(plan: Plan, said: Entry) -> Edit:
    key = _key("links", said)
    _existing(plan, "links", key)
    return edits.unlink(plan, [key])


VERBS: dict[str, Callable[[Plan, Any], Edit]] = {
    "add": _add, "set": _set, "delete": _delete, "move": _move, "link": _link, "unlink": _unlink,
}  # fmt: skip


def _kind_and(said: Any) -> tuple[str, Any]:
    """Which list an entry is about, and what it says of it; a task where no list is named."""
    if not isinstance(said, dict):
        raise EditRefused("it must be an object.")
    if len(said) == 1 and (name := next(iter(said))) in PLURAL:
        return PLURAL[name], said[name]
    return "tasks", said


def _key(kind: str, said: Any) -> Any:
    """What a record is known by: its id, or its ends."""
    if kind == "links" and isinstance(said, dict):
        return said["predecessor"], said["successor"], LinkType(said.get("type", "FS"))
    return (said["task"], said["resource"]) if kind == "assignments" and isinstance(said, dict) else said


def _known(plan: Plan, kind: str, key: Any) -> Record | None:
    found: Record | None = getattr(plan, kind).get(key)
    return found


def _existing(plan: Plan, kind: str, key: Any) -> Record:
    found = _known(plan, kind, key)
    if found is None:
        raise EditRefused(f"there is no {KINDS[kind].one} “{_name(key)}”.")
    return found


def _name(key: Any) -> str:
    return " → ".join(map(str, key)) if isinstance(key, tuple) else str(key)[:80]


def _last_rank(plan: Plan, kind: str, record: Any) -> str:
    """Behind all others of its place."""
    if kind == "tasks":
        ids = plan.children.get((record.project, record.parent), ())
        ranks = [plan.tasks[t].rank for t in ids]
    else:
        ranks = [other.rank for other in getattr(plan, kind).values()]
    return ranks_between(max(ranks, default=None), None, 1)[0]
