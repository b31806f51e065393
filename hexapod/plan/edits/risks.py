"""Edits of the register: risks, issues, actions and decisions."""

from __future__ import annotations

from collections.abc import Iterable

from msgspec.structs import replace

from hexapod.plan.bounds import LONGEST_NAME
from hexapod.plan.edits.edit import Edit, quoted, removing, saving
from hexapod.plan.edits.outlining import add_task
from hexapod.plan.plan import Draft, Plan
from hexapod.plan.records import Assignment, Task
from hexapod.plan.risks import Risk, RiskKind, RiskState

KIND_WORDS = {RiskKind.RISK: "risk", RiskKind.ISSUE: "issue", RiskKind.ACTION: "action", RiskKind.DECISION: "decision"}


def save_risk(plan: Plan, risk: Risk) -> Edit:
    """Add an entry of the register, or change the one with its id."""
    return saving(plan, risk, f"the {KIND_WORDS[risk.kind]} “{risk.name}”")


def remove_risks(plan: Plan, risk_ids: Iterable[str]) -> Edit:
    gone = list(risk_ids)
    return removing(f"Delete {quoted([plan.risk(r).name for r in gone], 'risks')}", "risks", gone)


def take_answer(plan: Plan, risk_id: str, taken: bool = True) -> Edit:
    """The answer of a risk is in force, or not any more."""
    risk = plan.risk(risk_id)
    words = f"Take the answer to “{risk.name}”" if taken else f"Take back the answer to “{risk.name}”"
    return Edit(words, lambda draft: draft.put(replace(draft.get("risks", risk_id), answered=taken)))


def risk_came(plan: Plan, risk_id: str) -> Edit:
    """A risk happened: it is an issue from now on, and what it was most likely to add is added to its tasks."""
    risk = plan.risk(risk_id)

    def change(draft: Draft) -> None:
        draft.put(replace(draft.get("risks", risk_id), kind=RiskKind.ISSUE, state=RiskState.HAPPENED))
        for delay in risk.delays_of(after=False):
            task = draft.task(delay.task)
            if not task.is_done and not plan.is_summary(task.id):
                draft.put(_longer(task, delay.minutes[1]))

    return Edit(f"“{risk.name}” has happened", change)


def _longer(task: Task, minutes: int) -> Task:
    """A task that takes so much longer: what is left of it, and what it was estimated to take."""
    left = None if task.remaining is None else task.remaining + minutes
    estimate = tuple(each + minutes for each in task.estimate)
    percent = task.percent * task.minutes / (task.minutes + minutes) if task.minutes + minutes else task.percent
    return replace(task, duration=task.minutes + minutes, remaining=left, estimate=estimate, percent=percent)


def task_of_action(plan: Plan, risk_id: str, project: str, task_id: str) -> Edit:
    """A row at the end of a project for what an action, or an answer, asks to be done; the entry is about it."""
    risk = plan.risk(risk_id)
    name = risk.answer_note.strip() or risk.name if risk.kind is RiskKind.RISK else risk.name
    row = add_task(project, name[:LONGEST_NAME], task_id=task_id)

    def change(draft: Draft) -> None:
        row.change(draft)
        if risk.owner is not None:
            draft.put(Assignment(task_id, risk.owner))
        draft.put(replace(draft.get("risks", risk_id), about=(*risk.about, task_id)))

    return Edit(f"Make a task of “{risk.name}”", change)
