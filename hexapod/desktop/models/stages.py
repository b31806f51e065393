"""What of the board is on show: of which project, in rows by what; and moving its cards."""

from __future__ import annotations

from collections.abc import Sequence
from typing import TYPE_CHECKING

import numpy as np
from msgspec.structs import replace
from PyQt6.QtCore import QObject, pyqtSignal

from hexapod.control.stages import Row, RowsBy, board_of, cards_of, first_stages, fullness
from hexapod.desktop.models.works import EVERY_PROJECT
from hexapod.plan import edits
from hexapod.plan.boarding import stage_of
from hexapod.plan.ranks import ranks_between
from hexapod.plan.records import FieldKind, Stage

if TYPE_CHECKING:
    from hexapod.desktop.models.desk import Desk


class StagesWork(QObject):
    """``changed`` says that other cards, or other rows, are on show."""

    changed = pyqtSignal()

    def __init__(self, desk: Desk) -> None:
        super().__init__(desk)
        self._desk = desk
        self.project = desk.memory.recall("board_project", str, EVERY_PROJECT)
        self.by = desk.memory.recall("board_rows", str, RowsBy.NOTHING.value)

    def show(self, *, project: str | None = None, by: str | None = None) -> None:
        self.project = self.project if project is None else project
        self.by = self.by if by is None else by
        self._desk.memory.keep("board_project", self.project)
        self._desk.memory.keep("board_rows", self.by)
        self.changed.emit()

    def ways(self) -> list[tuple[str, str]]:
        """What rows can be made by: its key and its words."""
        own = [(f.id, f.name) for f in self._desk.plan.fields_in_order() if f.kind is FieldKind.CHOICE]
        return [
            (RowsBy.NOTHING.value, "One row"),
            (RowsBy.PERSON.value, "By person"),
            (RowsBy.STREAM.value, "By stream"),
            (RowsBy.PRIORITY.value, "By priority"),
            *((key, f"By {name}") for key, name in own),
        ]

    def stages(self) -> list[Stage]:
        return self._desk.plan.stages_in_order()

    def rows(self) -> list[Row]:
        """Within a cell cards stand by when they are due."""
        desk = self._desk
        project = self.project if self.project in desk.plan.projects else None
        cards = cards_of(desk.plan, project)
        dates = desk.schedule
        slots = np.array([dates.slots.get(t, -1) for t in cards], dtype=np.int64)
        there = np.flatnonzero(slots >= 0)
        order = there[np.argsort(dates.finish[slots[there]], kind="stable")]
        known = [cards[i] for i in order.tolist()]
        by = self.by if self.by in {key for key, _ in self.ways()} else RowsBy.NOTHING.value
        return board_of(desk.plan, known, by)

    def move(self, cards: Sequence[str], stage: str) -> bool:
        """Put cards into a stage; what that means for them follows. A stage that is full says so."""
        desk = self._desk
        moved = [t for t in cards if t in desk.plan.tasks and self._stage(t) != stage]
        if not moved or not desk.do(edits.put_in_stage(desk.plan, moved, stage)):
            return False
        if (words := fullness(desk.plan, stage)) is not None:
            desk.told.emit(words, "", True)
        return True

    def step(self, cards: Sequence[str], by: int) -> bool:
        """To the stage before or behind that of the first card."""
        order = [stage.id for stage in self.stages()]
        at = self._stage(cards[0]) if cards else None
        if at is None or not 0 <= order.index(at) + by < len(order):
            return False
        return self.move(cards, order[order.index(at) + by])

    def _stage(self, task: str) -> str | None:
        found = stage_of(self.stages(), self._desk.plan.tasks[task])
        return None if found is None else found.id

    def begin(self) -> None:
        """Four stages to begin with."""
        plan = self._desk.plan
        said = first_stages()
        ranks = ranks_between(None, None, len(said))
        made = [Stage(edits.new_id(), name, rank, percent) for (name, percent), rank in zip(said, ranks, strict=True)]
        self._desk.do(edits.together("Begin with four stages", [edits.save_stage(plan, stage) for stage in made]))

    def add(self, name: str) -> None:
        """One more stage, before the last one where that means that all is done."""
        stages = self.stages()
        ends = bool(stages) and stages[-1].percent == 100
        before = stages[-2].rank if ends and len(stages) > 1 else stages[-1].rank if stages and not ends else None
        behind = stages[-1].rank if ends else None
        stage = Stage(edits.new_id(), name, ranks_between(before, behind, 1)[0])
        self._desk.attempt(edits.save_stage(self._desk.plan, stage))

    def change(self, stage: Stage, **fields: object) -> None:
        """``HexapodError`` where it may not be so."""
        self._desk.attempt(edits.save_stage(self._desk.plan, replace(stage, **fields)))

    def toggle(self, tasks: Sequence[str]) -> None:
        """Put the leaves of rows on the board; take them off where all of them are on it."""
        plan = self._desk.plan
        leaves = [t for row in tasks for t in plan.branch(row) if not plan.is_summary(t)]
        if leaves:
            on = not all(plan.tasks[t].on_board for t in leaves)
            edit = edits.put_on_board(plan, tasks, on)
            if self._desk.do(edit):
                self._desk.told.emit(f"{edit.words}.", "", True)
