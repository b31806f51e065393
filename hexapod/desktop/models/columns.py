"""The columns of the outline: the fields that have one, their texts on the screen and what typing into them means."""

from __future__ import annotations

from typing import TYPE_CHECKING

from hexapod.desktop import dates
from hexapod.fields.field import PlanField, Texts
from hexapod.fields.formulas import fields_of
from hexapod.fields.reading import Reading
from hexapod.plan.edits import Edit
from hexapod.plan.outline import Row
from hexapod.plan.plan import Plan

if TYPE_CHECKING:
    from hexapod.desktop.models.desk import Desk

NUMBER, NAME, DURATION, START, LINKS, WHO, FLOAT, FREE, FINISH = range(9)
USUAL = ("number", "name", "duration", "start", "links", "who", "float", "free_float", "finish")
FIXED = 2  # the number and the name stay in front
_USUAL_HOURS = (0, dates.DAY_BEGINS, dates.DAY_ENDS)


class DeskDates:
    """Dates as the reader's locale has them; the end of a day is when work ends in the project on show."""

    def __init__(self, desk: Desk) -> None:
        self._desk = desk

    def read(self, text: str, *, ends: bool = False) -> int:
        return self._desk.read_date(text, ends=ends)

    def short(self, at: int) -> str:
        return dates.short_day(at)

    def long(self, at: int) -> str:
        return dates.long_day(at) if at % dates.DAY in _USUAL_HOURS else dates.moment(at)

    def typed(self, at: int) -> str:
        return dates.typed(at)


class Columns:
    """Every field that can be a column, made again when a person's own fields are others."""

    def __init__(self, desk: Desk) -> None:
        self._desk = desk
        self._of: object = None  # the own fields that they were made of
        self._all: dict[str, PlanField] = {}
        self.dates = DeskDates(desk)

    def all(self) -> dict[str, PlanField]:
        """By its id: the usual ones first."""
        plan = self._desk.plan
        if self._of is not plan.fields:
            known = fields_of(plan)
            rest = (c for c in known if c not in USUAL and known[c].width)
            self._all = {c: known[c] for c in (*USUAL, *rest)}
            self._of = plan.fields
        return self._all

    def shown(self) -> tuple[PlanField, ...]:
        """Those that are on show, in order; the number and the name first."""
        known = self.all()
        chosen = [c for c in dict.fromkeys(self._desk.looks.columns or USUAL) if c in known]
        return tuple(known[c] for c in [*USUAL[:FIXED], *(c for c in chosen if c not in USUAL[:FIXED])])

    def says(self, column: PlanField, row: Row) -> str:
        """The text of a cell."""
        return column.says(self._reading(row.task, row.number), self.dates)

    def typed(self, column: PlanField, task_id: str) -> str:
        """The text to begin typing with; empty where a column cannot be typed into."""
        return column.typed(self._reading(task_id), self.dates) if column.typed else ""

    def texts(self, plan: Plan | None = None) -> Texts:
        """What is typed is read by it: the plan on show, or another."""
        return Texts(plan or self._desk.plan, self.dates)

    def edit(self, column: PlanField, tasks: list[str], text: str, plan: Plan | None = None) -> Edit:
        """The edit that a text in a column means. ``BadText`` if it cannot be read."""
        assert column.edit is not None
        return column.edit(self.texts(plan), tasks, text)

    def meant(self, column: PlanField, task_id: str) -> list[str]:
        """The tasks that typing into a row means, that row first: all selected ones if it is among them."""
        desk = self._desk
        chosen = desk.selected() if column.many else ()
        if task_id not in chosen:
            return [task_id]
        others = (t for t in chosen if t != task_id and (column.summaries or not desk.plan.is_summary(t)))
        return [task_id, *others]

    def _reading(self, task_id: str, number: str = "") -> Reading:
        desk = self._desk
        load = desk.load
        independent = None if load is None else load.independent
        troubles = desk.chances.troubles
        return Reading(
            desk.plan, desk.schedule, desk.plan.tasks[task_id], troubles, number=number, independent=independent
        )  # fmt: skip
