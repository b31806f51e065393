"""The board: cards in the stages that a workspace names, in rows by what somebody chooses, and how they came there.

What a card in a stage means for its per cent follows where an edit is prepared: see ``plan.boarding``.
"""

from __future__ import annotations

from collections import Counter
from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from enum import StrEnum

from hexapod.plan.boarding import meant_by, stage_of
from hexapod.plan.changes import Changes
from hexapod.plan.field_values import own_value
from hexapod.plan.outline import stream_of
from hexapod.plan.plan import Plan
from hexapod.plan.priorities import priority_words
from hexapod.plan.records import DAY, FieldKind, Stage, Task
from hexapod.system.words import count_of

NOT_SAID = ""  # the row of cards of which nothing is said


class RowsBy(StrEnum):
    """What the rows of the board are; a choice field is named by its id instead."""

    NOTHING = "nothing"
    PERSON = "person"
    STREAM = "stream"
    PRIORITY = "priority"


@dataclass(frozen=True)
class Row:
    """A row of the board: what it is called, and its cards by the place of their stage."""

    key: str
    name: str
    cells: tuple[tuple[str, ...], ...]

    @property
    def tallest(self) -> int:
        return max((len(cell) for cell in self.cells), default=0)


def first_stages() -> list[tuple[str, float | None]]:
    """What a workspace without stages may begin with: names, and the per cent that they mean."""
    return [("To come", 0.0), ("In hand", 10.0), ("To be checked", 90.0), ("Done", 100.0)]


def cards_of(plan: Plan, project: str | None = None) -> list[str]:
    """Leaves that are on the board, of one project or all that are not archived."""
    return [
        t.id
        for t in plan.tasks.values()
        if t.on_board
        and (t.project == project if project else not plan.projects[t.project].archived)
        and not plan.is_summary(t.id)
    ]


def board_of(plan: Plan, cards: Sequence[str], by: str) -> list[Row]:
    """Cards in rows and stages; within a cell as in ``cards``."""
    stages = plan.stages_in_order()
    places = places_of(plan, stages, cards)
    rows: dict[str, list[list[str]]] = {}
    for task_id, place in zip(cards, places if stages else (), strict=bool(stages)):
        key = NOT_SAID if by == RowsBy.NOTHING else _row_key(plan, task_id, by)
        cells = rows.get(key)
        if cells is None:
            cells = rows[key] = [[] for _ in stages]
        cells[place].append(task_id)
    named = sorted((_order(plan, key, by), key) for key in rows)
    return [Row(key, _row_name(plan, key, by), tuple(map(tuple, rows[key]))) for _, key in named]


def places_of(plan: Plan, stages: Sequence[Stage], cards: Iterable[str]) -> list[int]:
    """At which place among the stages each card is shown, as ``plan.boarding.stage_of`` has it; of many at once."""
    own = {stage.id: i for i, stage in enumerate(stages)}
    meant: dict[float, int] = {}
    found = []
    for task_id in cards:
        task = plan.tasks[task_id]
        place = own.get(task.stage or "")
        if place is None:
            if task.percent not in meant:
                stage = meant_by(stages, task.percent)
                meant[task.percent] = 0 if stage is None else own[stage.id]
            place = meant[task.percent]
        found.append(place)
    return found


def counts_of(plan: Plan, cards: Iterable[str]) -> dict[str, int]:
    """How many cards are in each stage."""
    stages = plan.stages_in_order()
    found = Counter(stage.id for t in cards if (stage := stage_of(stages, plan.tasks[t])) is not None)
    return {stage.id: found[stage.id] for stage in stages}


def fullness(plan: Plan, stage_id: str) -> str | None:
    """The sentence for a stage that has reached the most cards it should hold at once, or holds more; it is said, and
    forbids nothing."""
    stage = plan.stages[stage_id]
    count = counts_of(plan, cards_of(plan))[stage_id]
    if stage.most is None or count < stage.most:
        return None
    cards = count_of(count, "card")
    if count == stage.most:
        return f"“{stage.name}” holds {cards} now, the most that were wanted there."
    return f"“{stage.name}” holds {cards}; at most {stage.most} were wanted there."


def _row_key(plan: Plan, task_id: str, by: str) -> str:
    task = plan.tasks[task_id]
    if by == RowsBy.NOTHING:
        return NOT_SAID
    if by == RowsBy.PERSON:
        return next(iter(plan.assigned.get(task_id, ())), NOT_SAID)
    if by == RowsBy.STREAM:
        return stream_of(plan, task_id)
    if by == RowsBy.PRIORITY:
        return str(task.priority)
    field = plan.fields.get(by)
    value = None if field is None else own_value(plan, task, field)
    return NOT_SAID if value is None else str(value)


def _row_name(plan: Plan, key: str, by: str) -> str:
    if by == RowsBy.PERSON:
        return plan.resources[key].name if key in plan.resources else "Nobody"
    if by == RowsBy.PRIORITY:
        return priority_words(int(key))
    return key or ("" if by == RowsBy.NOTHING else "Not said")


def _order(plan: Plan, key: str, by: str) -> tuple[bool, str]:
    """Nobody and nothing last, people as in the pool, choices as they are listed."""
    if by == RowsBy.PERSON and key in plan.resources:
        return False, plan.resources[key].rank
    field = plan.fields.get(by)
    if field is not None and field.kind is FieldKind.CHOICE and key in field.choices:
        return False, f"{field.choices.index(key):04}"
    return not key, key.casefold()


# How they came there


@dataclass(frozen=True)
class Moment:
    """How many cards each stage held from a moment on."""

    at: int
    counts: tuple[int, ...]


@dataclass(frozen=True)
class StageHistory:
    """``moments`` in order, one a change; ``days`` are by stage how long cards stayed in it on average, round the
    clock, None where no card left it yet."""

    stages: tuple[Stage, ...]
    moments: tuple[Moment, ...]
    days: tuple[float | None, ...]


def stage_history(plan: Plan, past: Iterable[tuple[int, Changes]], now: int) -> StageHistory:
    """From the present plan back through the changes that led to it, the latest first, each with when it was made.

    Stages are those of now: a card that was in one which is gone counts where its per cent puts it.
    """
    stages = plan.stages_in_order()
    place = {stage.id: i for i, stage in enumerate(stages)}
    where = {t: _place_of(plan, stages, place, plan.tasks[t]) for t in cards_of(plan)}
    counts = Counter(p for p in where.values() if p is not None)
    until: dict[str, tuple[int, bool]] = dict.fromkeys(where, (now, True))  # where it is, since when it is known
    moments: list[Moment] = []
    stays: list[list[int]] = [[] for _ in stages]
    for at, changes in past:
        moved = False
        for old, new in changes.tasks:
            key = (old or new).id  # type: ignore[union-attr]
            before = None if old is None or not old.on_board else _place_of(plan, stages, place, old)
            after = where.get(key)
            if before == after:
                continue
            if not moved:
                moments.append(Moment(at, tuple(counts[i] for i in range(len(stages)))))
                moved = True
            if after is not None:
                counts[after] -= 1
                left, is_there = until.get(key, (now, True))
                if not is_there:
                    stays[after].append(left - at)
            if before is not None:
                counts[before] += 1
            where[key], until[key] = before, (at, False)
    moments.reverse()
    return StageHistory(tuple(stages), tuple(moments), tuple(_mean_days(found) for found in stays))


def _place_of(plan: Plan, stages: Sequence[Stage], place: dict[str, int], task: Task) -> int | None:
    stage = None if plan.is_summary(task.id) else stage_of(stages, task)
    return None if stage is None else place[stage.id]


def _mean_days(stays: Sequence[int]) -> float | None:
    return sum(stays) / len(stays) / DAY if stays else None
