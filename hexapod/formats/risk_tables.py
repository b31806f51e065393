"""The register as a table: out of a plan, and from a file into it. What cannot be read is named by row and column."""

from __future__ import annotations

from collections.abc import Sequence
from enum import StrEnum
from pathlib import Path
from typing import TypeVar

from hexapod.errors import BadFile, BadText
from hexapod.fields.field import Texts
from hexapod.fields.risk_text import (
    chance_text,
    costs_text,
    delays_text,
    read_chance,
    read_costs,
    read_delays,
    read_rows,
)
from hexapod.formats.table_rows import (
    Proposed,
    RowReader,
    Table,
    by_what_they_are_called,
    day_cell,
    proposed,
    table_in,
)
from hexapod.formats.tables import Cell, Sheet, read_table
from hexapod.plan.bounds import LONGEST_NAME, LONGEST_TEXT
from hexapod.plan.edits.edit import new_id
from hexapod.plan.outline import number_of
from hexapod.plan.plan import Plan
from hexapod.plan.risks import AnswerKind, Risk, RiskDelay, RiskKind, RiskState

TITLES = (
    "Project", "What", "Kind", "Because of", "Leads to", "Chance", "Adds", "Costs", "Owner", "State", "Look again",
    "Until", "Answer", "In words", "Answer costs", "Taken", "Chance then", "Adds then", "Costs then", "About", "Notes",
    "Id",
)  # fmt: skip
HEADINGS = {
    "project": ("project",),
    "name": ("what", "name", "risk", "title", "issue", "event"),
    "kind": ("kind", "type"),
    "cause": ("because of", "cause"),
    "effect": ("leads to", "effect", "consequence", "impact"),
    "chance": ("chance", "likelihood", "probability", "how likely"),
    "delays": ("adds", "delay", "delays", "adds to"),
    "cost": ("costs", "cost"),
    "owner": ("owner", "who", "by"),
    "state": ("state", "status"),
    "due": ("look again", "due", "review", "next review"),
    "until": ("until", "expires"),
    "answer": ("answer", "response", "strategy"),
    "answer_note": ("in words", "measure", "mitigation", "action"),
    "answer_cost": ("answer costs", "cost of answer"),
    "answered": ("taken", "answered"),
    "chance_after": ("chance then", "residual chance"),
    "delays_after": ("adds then", "residual delay"),
    "cost_after": ("costs then", "residual cost"),
    "about": ("about", "tasks"),
    "notes": ("notes", "note", "remarks", "comment"),
    "id": ("id", "key", "reference"),
}
YES = ("yes", "true", "1", "x", "taken")
Kind = TypeVar("Kind", bound=StrEnum)


def risk_rows(plan: Plan) -> list[list[Cell]]:
    """A row of headings, and a row an entry, by project and name."""
    rows: list[list[Cell]] = [list(TITLES)]
    order = {p.id: i for i, p in enumerate(plan.projects_in_order())}
    for risk in sorted(plan.risks.values(), key=lambda r: (order[r.project], r.name, r.id)):
        owner = plan.resources[risk.owner].name if risk.owner is not None else ""
        after = "" if risk.delays_after is None else delays_text(plan, risk.project, risk.delays_after) or "none"
        rows.append([
            plan.projects[risk.project].name, risk.name, risk.kind.value, risk.cause, risk.effect,
            chance_text(risk.chance), delays_text(plan, risk.project, risk.delays), costs_text(risk.cost, _plain),
            owner, risk.state.value, day_cell(risk.due), day_cell(risk.until),
            "" if risk.answer is None else risk.answer.value.replace("_", " "), risk.answer_note,
            _plain(risk.answer_cost) if risk.answer_cost else "", "yes" if risk.answered else "",
            "" if risk.chance_after is None else chance_text(risk.chance_after), after,
            costs_text(risk.cost_after, _plain), "; ".join(number_of(plan, t) for t in risk.about), risk.notes, risk.id,
        ])  # fmt: skip
    return rows


def _plain(amount: int) -> str:
    """An amount as every reader of tables understands it: ``1234.50``."""
    return f"{amount // 100}.{amount % 100:02}"


def read_risks(texts: Texts, path: Path, project: str | None) -> Proposed[Risk]:
    """What a CSV or XLSX file says; rows that name no project belong to ``project``. ``BadFile`` for no such table."""
    found = next(filter(None, map(_table_in, read_table(path))), None)
    if found is None:
        raise BadFile(f"{path.name} has no row of headings with what may happen and its chance, kind or state.")
    return propose_risks(texts, path.name, found, project)


def propose_risks(texts: Texts, name: str, table: Table, project: str | None) -> Proposed[Risk]:
    """The entries of a table. One whose id, or else whose project and name, is known changes that entry."""
    reader = _Reader(texts, table, project)
    risks: dict[str, Risk] = {}
    findings, known = [], 0
    for where, row in table.rows():
        try:
            risk = reader.risk(row)
        except BadText as error:
            findings.append(f"{where}, {error}")
            continue
        if texts.plan.risks.get(risk.id) == risk:
            known += 1
        else:
            risks[risk.id] = risk
    return proposed(name, risks.values(), findings, known)


def _table_in(sheet: Sheet) -> Table | None:
    return table_in(
        sheet, HEADINGS, lambda found: "name" in found and not {"chance", "kind", "state"}.isdisjoint(found)
    )


class _Reader(RowReader):
    """Reads rows; names are looked up once. What a file has no column for stays as it is in the plan."""

    def __init__(self, texts: Texts, table: Table, project: str | None) -> None:
        super().__init__(texts, table, HEADINGS)
        self._project, plan = project, texts.plan
        self._projects = {p.name.casefold(): p.id for p in plan.projects.values()}
        self._people = by_what_they_are_called(plan.resources_in_order())
        self._known = {(r.project, r.name.casefold()): r.id for r in plan.risks.values()}

    def risk(self, row: Sequence[Cell]) -> Risk:
        """``BadText`` names the column."""
        plan, name = self.texts.plan, self.text(row, "name")
        if not name or len(name) > LONGEST_NAME:
            raise BadText(f"What: it needs a name of at most {LONGEST_NAME} characters.")
        project = self._project_of(row)
        key = self.text(row, "id")
        is_mine = key in plan.risks and plan.risks[key].project == project
        known = key if is_mine else self._known.get((project, name.casefold()), "")
        old = plan.risks.get(known) or Risk(new_id(), project, name)
        said = {
            "kind": lambda t: _one_of(RiskKind, t, RiskKind.RISK),
            "chance": lambda t: read_chance(t) if t else 0.0,
            "delays": lambda t: read_delays(plan, project, t),
            "cost": lambda t: read_costs(t, _read_amount),
            "owner": self._owner,
            "state": lambda t: _one_of(RiskState, t, RiskState.OPEN),
            "answer": lambda t: _one_of(AnswerKind, t, None),
            "answer_cost": lambda t: _read_amount(t) if t else 0,
            "answered": lambda t: t.casefold() in YES,
            "chance_after": lambda t: read_chance(t) if t else None,
            "delays_after": lambda t: _delays_after(plan, project, t),
            "cost_after": lambda t: read_costs(t, _read_amount),
            "about": lambda t: read_rows(plan, project, t),
        }  # fmt: skip
        fields = {f: getattr(old, f) for f in old.__struct_fields__}
        fields.update(name=name, project=project)
        for column in ("cause", "effect", "answer_note", "notes"):
            if column in self.columns:
                fields[column] = self.text(row, column)[:LONGEST_TEXT]
        for column in ("due", "until"):
            if column in self.columns:
                fields[column] = self.day(row, column)
        for column, read in said.items():
            if column in self.columns:
                fields[column] = self.read(row, column, read)
        return Risk(**fields)

    def _project_of(self, row: Sequence[Cell]) -> str:
        name = self.text(row, "project")
        found = self._projects.get(name.casefold()) if name else self._project
        if found is None:
            raise BadText(f"Project: there is none called “{name[:60]}”." if name else "Project: it names none.")
        return found

    def _owner(self, text: str) -> str | None:
        if not text:
            return None
        if text.casefold() not in self._people:
            raise BadText(f"“{text[:60]}” is nobody among the resources.")
        return self._people[text.casefold()]


def _one_of(kind: type[Kind], text: str, usual: Kind | None) -> Kind | None:
    said = text.casefold().replace(" ", "_").replace("-", "_")
    if not said:
        return usual
    try:
        return kind(said)
    except ValueError:
        choices = ", ".join(each.value.replace("_", " ") for each in kind)
        raise BadText(f"“{text[:40]}” is none of {choices}.") from None


def _delays_after(plan: Plan, project: str, text: str) -> tuple[RiskDelay, ...] | None:
    if not text:
        return None
    return () if text.casefold() in ("none", "nothing") else read_delays(plan, project, text)


def _read_amount(text: str) -> int:
    """``1234.5`` in the smallest unit of money, exactly."""
    whole, _, part = text.strip().replace(",", "").partition(".")
    if not whole.isascii() or not whole.isdecimal() or len(part) > 2 or (part and not part.isdecimal()):
        raise BadText(f"“{text[:40]}” is no amount of money. Type for example 1234.50.")
    return int(whole) * 100 + int(part.ljust(2, "0") or 0)
