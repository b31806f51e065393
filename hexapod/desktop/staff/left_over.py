"""What a levelling proposal leaves over, with the ways out of it, and who could fill the open seats then."""

from __future__ import annotations

from typing import TYPE_CHECKING

from PyQt6.QtWidgets import QCheckBox, QHBoxLayout, QPushButton, QVBoxLayout

from hexapod.desktop import dates
from hexapod.desktop.action import Registry
from hexapod.desktop.models.desk import Desk
from hexapod.desktop.models.levelling import MOST_WAYS
from hexapod.desktop.parts import ActionButton, card, heading, label
from hexapod.plan.records import DAY
from hexapod.worktime.lengths import format_length

if TYPE_CHECKING:
    from hexapod.staffing.levelling.ways_out import WayOut
    from hexapod.staffing.overloads import Overload


def fill_left_over(desk: Desk, registry: Registry, box: QVBoxLayout) -> None:
    """A card for each overload that is left."""
    left = desk.proposal.overloads_after
    if not left:
        return
    box.addWidget(heading("Left over"))
    for i, over in enumerate(left[:MOST_WAYS]):
        frame, inside = card()
        inside.addWidget(label(overload_words(desk, over), "muted", wrap=True))
        ways = desk.levelling.ways[i] if i < len(desk.levelling.ways) else []
        for way in ways:
            inside.addWidget(label(way_words(desk, way), "small", wrap=True))
            if way.edit is None:
                inside.addWidget(ActionButton(registry, "level.free", text="Let the finish move"))
                continue
            take = QPushButton(TAKE[way.way.value])
            take.setProperty("role", "quiet")
            take.setObjectName(f"way {i} {way.way.value}")
            take.clicked.connect(lambda _, e=way.edit: _take(desk, e))
            inside.addWidget(take)
        if not ways:
            is_known = i < len(desk.levelling.ways)
            says = "No single step resolves it." if is_known else "Looking for ways out…"
            inside.addWidget(label(says, "small", wrap=True))
        box.addWidget(frame)
    if len(left) > MOST_WAYS:
        box.addWidget(label(f"and {len(left) - MOST_WAYS} more", "small"))


TAKE = {"capacity": "Have that many", "share": "Ask for that much", "split": "Split it so"}


def _take(desk: Desk, edit) -> None:  # type: ignore[no-untyped-def]
    """The moves of the proposal with the way out of what they leave over, as one edit."""
    moves = desk.levelling.accepted(edit)
    if moves is not None and desk.do(moves):
        desk.told.emit(f"{edit.words}, with the moves.", "", True)


def overload_words(desk: Desk, over: Overload) -> str:
    plan = desk.levelling.plan
    tasks = " and ".join(f"“{plan.tasks[t].name}”" for t in over.tasks[:3])
    when = f"{dates.short_day(over.begin)} to {dates.last_day(over.end)}"
    return f"{plan.resources[over.resource].name}, {when}: {over.peak:g} asked for by {tasks}."


def way_words(desk: Desk, way: WayOut) -> str:
    """What a way out is and costs."""
    plan = desk.levelling.plan
    cost = "no finish moves" if not way.later else f"a project ends {_clock_days(way.later)} later"
    when = f"from {dates.short_day(way.begin)} to {dates.last_day(way.end)}"
    name = plan.tasks[way.task].name if way.task is not None else ""
    if way.way.value == "capacity":
        return f"{way.units:g} more {when}: {cost}."
    if way.way.value == "share":
        return f"Only {way.units:g} for “{name}”: {cost}."
    if way.way.value == "split":
        first = format_length(int(way.units))
        return f"“{name}” in two: {first}, then the rest from {dates.short_day(way.begin)}: {cost}."
    return f"Levelling that lets the finish move parts them: {cost}."


def _clock_days(minutes: int) -> str:
    days = round(minutes / DAY)
    return f"{days} days" if days > 1 else "a day" if days == 1 else f"{round(minutes / 60)} h"


def fill_choices(desk: Desk, box: QVBoxLayout) -> None:
    """Who would fill the open seats; each can be left open."""
    levelling, plan = desk.levelling, desk.levelling.plan
    if not levelling.choices:
        return
    box.addWidget(heading("Open seats"))
    for choice in levelling.choices:
        frame, inside = card()
        task, role = plan.tasks[choice.task].name, plan.resources[choice.role].name
        if choice.resource is None:
            inside.addWidget(label(f"“{task}”: no one of {role} is free for all of it", "muted", wrap=True))
        else:
            line = QHBoxLayout()
            line.addWidget(label(f"{plan.resources[choice.resource].name} does “{task}”", wrap=True), 1)
            take = QCheckBox()
            take.setObjectName(f"seat {choice.task}")
            take.setAccessibleName(f"Fill the seat of {task}")
            take.setChecked(choice.task not in levelling.unfilled)
            take.toggled.connect(lambda on, t=choice.task: levelling.fill_seat(t, on))
            line.addWidget(take)
            inside.addLayout(line)
            inside.addWidget(label(f"{role}; free for all of it, and no date moves", "small", wrap=True))
        box.addWidget(frame)
