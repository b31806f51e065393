"""What gives a row its colour: its stream, who does it, its state, or a choice of one's own fields."""

from __future__ import annotations

from collections.abc import Callable

from PyQt6.QtGui import QColor

from hexapod.desktop.models.desk import Desk
from hexapod.desktop.theme.style import stream_color
from hexapod.fields.assignment_text import handle
from hexapod.plan.field_values import own_value
from hexapod.plan.outline import stream_of
from hexapod.plan.records import FieldKind
from hexapod.schedule.schedule import computed_dates
from hexapod.schedule.states import State

STREAM, PERSON, STATE, PROGRESS, DRIVES = "stream", "person", "state", "progress", "drives"
CRITICAL, NEAR, ROOM = "critical", "nearly critical", "with room"
NOBODY, LATE, DONE = "nobody", "late", "done"
MOSTLY, AT_TIMES, SELDOM, NEVER = "drives in most rounds", "at times", "seldom", "never, or not known"
MOST, SOME = 2 / 3, 1 / 3  # parts of the rounds


def ways(desk: Desk) -> dict[str, str]:
    """What rows can be coloured by: its id, and what it is called."""
    own = {f"field.{f.id}": f.name for f in desk.plan.fields_in_order() if f.kind is FieldKind.CHOICE}
    return {
        STREAM: "Stream",
        PERSON: "Person",
        STATE: "Float",
        PROGRESS: "Progress",
        DRIVES: "How often it drives",
        **own,
    }


def row_color(desk: Desk, task_id: str) -> QColor:
    """The colour of a row; of the same key always the same, and of two keys never the same while there are enough."""
    key = _KEYS.get(desk.looks.color_by, _choice)(desk, task_id)
    return stream_color(desk.looks.color_index(key, lambda: keys(desk)))


def keys(desk: Desk) -> list[str]:
    """The keys in use in the project on show, in the order of its rows."""
    if desk.looks.color_by == STATE:
        return [CRITICAL, NEAR, ROOM, DONE]
    if desk.looks.color_by == DRIVES:
        return [MOSTLY, AT_TIMES, SELDOM, NEVER]
    if desk.looks.color_by == PROGRESS:
        return [LATE, *(state.value for state in (State.BEGUN, State.READY, State.WAITING, State.DONE))]
    plan, outline = desk.plan, desk.on_show.project_outline()
    if desk.looks.color_by == STREAM:  # rows without a stream of their own have one that came before
        own = [t for t in plan.tasks.values() if t.stream or t.parent is None]
        found = sorted((outline.index[t.id], t.stream or t.name) for t in own if t.id in outline.index)
        return list(dict.fromkeys(name for _, name in found))
    key = _KEYS.get(desk.looks.color_by, _choice)
    return list(dict.fromkeys(key(desk, task) for task in outline.tasks))


def _stream(desk: Desk, task_id: str) -> str:
    return stream_of(desk.plan, task_id)


def _person(desk: Desk, task_id: str) -> str:
    assigned = desk.plan.assignments_of(task_id)
    return handle(desk.plan, assigned[0].resource) if assigned else NOBODY


def _state(desk: Desk, task_id: str) -> str:
    if not desk.schedule.has(task_id):
        return ROOM
    found = desk.schedule.dates(task_id)
    if found.total_float is None:
        return DONE
    if found.critical:
        return CRITICAL
    project = desk.plan.projects[desk.plan.tasks[task_id].project]
    return NEAR if found.total_float <= project.near_critical_float else ROOM


def _progress(desk: Desk, task_id: str) -> str:
    known = computed_dates(desk.schedule)
    if known is None or not known.has(task_id):
        return State.WAITING.value
    return LATE if known.late_of(task_id) is not None else known.state_of(task_id).value


def _drives(desk: Desk, task_id: str) -> str:
    """In what part of the rounds it had no float left (its criticality)."""
    part = desk.chances.troubles.drives.get(task_id, 0.0)
    return MOSTLY if part >= MOST else AT_TIMES if part >= SOME else SELDOM if part else NEVER


def _choice(desk: Desk, task_id: str) -> str:
    field = desk.plan.fields.get(desk.looks.color_by.removeprefix("field."))
    value = None if field is None else own_value(desk.plan, desk.plan.tasks[task_id], field)
    return "–" if value is None else str(value)


_KEYS: dict[str, Callable[[Desk, str], str]] = {
    STREAM: _stream,
    PERSON: _person,
    STATE: _state,
    PROGRESS: _progress,
    DRIVES: _drives,
}
