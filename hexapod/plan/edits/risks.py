"""Edits of the register: risks, issues, actions and decisions."""

from __future__ import annotations

from collections.abc import Iterable

from msgspec.structs import replace

from hexapod.plan.edits.edit import Edit, quoted
from hexapod.plan.plan import Draft, Plan
from hexapod.plan.risks import Risk, RiskKind, RiskState

KIND_WORDS = {RiskKind.RISK: "risk", RiskKind.ISSUE: "issue", RiskKind.ACTION: "action", RiskKind.DECISION: "decision"}


def save_risk(plan: Plan, risk: Risk) -> Edit:
    """Add an entry of the register, or change the one with its id."""
    word = "Change" if risk.id in plan.risks else "Add"
    return Edit(f"{word} the {KIND_WORDS[risk.kind]} “{risk.name}”", lambda draft: draft.put(risk))


def remove_risks(plan: Plan, risk_ids: Iterable[str]) -> Edit:
    gone = list(risk_ids)

    def change(draft: Draft) -> None:
        for risk_id in gone:
            draft.remove("risks", risk_id)

    return Edit(f"Delete {quoted([plan.risk(r).name for r in gone], 'risks')}", change)


def take_answer(plan: Plan, risk_id: str, taken: bool = True) -> Edit:
    """The answer of a risk is in force, or not any more."""
    risk = plan.risk(risk_id)
    words = f"Take the answer to “{risk.name}”" if taken else f"Take back the answer to “{risk.name}”"
    return Edit(words, lambda draft: draft.put(replace(draft.get("risks", risk_id), answered=taken)))


def has_happened(plan: Plan, risk_id: str) -> Edit:
    """A risk happened: it is an issue from now on."""
    risk = plan.risk(risk_id)
    made = replace(risk, kind=RiskKind.ISSUE, state=RiskState.HAPPENED)
    return Edit(f"“{risk.name}” has happened", lambda draft: draft.put(made))
