"""At the side: the register out to a table, and from one."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from pathlib import Path

from hexapod.desktop.frame.table_files import TableFilesPage
from hexapod.fields.risk_text import chance_text
from hexapod.formats.risk_tables import read_risks, risk_rows
from hexapod.formats.table_rows import Proposed
from hexapod.formats.tables import Cell
from hexapod.plan import edits
from hexapod.plan.edits import Edit
from hexapod.plan.risks import Risk, RiskKind


class RiskFilesPage(TableFilesPage):
    title, one, key, file = "The register in and out", "entry", "risks", "Risks"
    what = (
        "A table with what may happen, and its chance, kind or state, in each row. An entry that is there already is "
        "changed. Nothing is taken before you have seen it."
    )

    def reading(self, path: Path) -> Callable[[], Proposed[Risk]]:
        texts, project = self.desk.columns.texts(), self.desk.project
        return lambda: read_risks(texts, path, project)

    def line_of(self, item: Risk) -> str:
        verb = "changed" if item.id in self.desk.plan.risks else "new"
        chance = f", {chance_text(item.chance)}" if item.kind is RiskKind.RISK else ""
        return f"{item.name}: {verb}{chance}"

    def edit_of(self, items: Sequence[Risk]) -> Edit:
        plan = self.desk.plan
        return edits.together("", [edits.save_risk(plan, risk) for risk in items])

    def rows(self) -> Callable[[], list[list[Cell]]]:
        plan = self.desk.plan
        return lambda: risk_rows(plan)

    def count(self) -> int:
        return len(self.desk.plan.risks)
