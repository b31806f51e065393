"""What computed fields say of tasks; each formula is understood once."""

from __future__ import annotations

from typing import TYPE_CHECKING

from hexapod.errors import HexapodError
from hexapod.plan.records import Field

if TYPE_CHECKING:
    from hexapod.desktop.models.desk import Desk
    from hexapod.query.language import Expression


class Computed:
    def __init__(self, desk: Desk) -> None:
        self._desk = desk
        self._formulas: dict[str, Expression | None] = {}

    def text(self, field: Field, task_id: str) -> str:
        """What a field says of a task; a formula that cannot be understood says so, and a date that is out of range."""
        from hexapod.query.fields import Reading, compile_formula
        from hexapod.query.language import OutOfRange
        from hexapod.query.values import format_value

        desk = self._desk
        if field.formula not in self._formulas:
            try:
                self._formulas[field.formula] = compile_formula(desk.plan, field.formula, field)
            except HexapodError:
                self._formulas[field.formula] = None
        found = self._formulas[field.formula]
        if found is None:
            return "?"
        try:
            return format_value(found.kind, found.run(Reading(desk.plan, desk.schedule, desk.plan.tasks[task_id])))
        except OutOfRange as error:
            return str(error)

    def forget(self) -> None:
        """The fields are others."""
        self._formulas.clear()
