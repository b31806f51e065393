"""The rounds of a plan for the command line: as one document, and as a table."""

from __future__ import annotations

from typing import Any

from hexapod.formats.answers import iso_or_none
from hexapod.outlook.chances import Outlook, added_by
from hexapod.outlook.levelled import simulate_levelled
from hexapod.outlook.simulation import simulate
from hexapod.plan.outline import outline_order
from hexapod.plan.plan import Plan
from hexapod.schedule.codes import NEVER
from hexapod.schedule.conflicts import conflicts
from hexapod.schedule.engine import schedule
from hexapod.system.words import count_of
from hexapod.worktime.clock import iso

QUANTILES = {"p10": 0.1, "p50": 0.5, "p80": 0.8, "p90": 0.9}
NO_RANGE = "No task has an estimate and no risk is open, so every round is the plan as it is."


def outlook_of(plan: Plan, rounds: int, seed: int, after: bool = False, with_capacities: bool = False) -> Outlook:
    """So many rounds of a plan. ``HexapodError`` where they cannot be gone."""
    go = simulate_levelled if with_capacities else simulate
    return Outlook(go(schedule(plan), rounds, seed, after=after))


def simulation_answer(outlook: Outlook, *, after: bool = False) -> dict[str, Any]:
    """Of ``hexapod simulate``: times in ISO 8601, chances 0 to 1, what risks add in minutes of its work."""
    found, plan = outlook.found, outlook.found.schedule.plan
    risks = []
    known = outlook.found.has_floats  # with capacities nobody says what one risk adds
    for risk in sorted((r for r in plan.risks.values() if r.may_happen), key=lambda r: (r.project, r.id)):
        added = added_by(outlook, risk.project, risk=risk.id, after=after) if known else None
        happened = float(outlook.found.happened[outlook.found.risks.index(risk.id)].mean())
        mean, sure = (None, None) if added is None else (added.mean, added.sure)
        risks.append({"id": risk.id, "happened": happened, "adds_mean": mean, "adds_p80": sure})
    return {
        "iterations": found.rounds,
        "seed": found.seed,
        "projects": [_project(outlook, p.id) for p in plan.projects_in_order()],
        "tasks": _tasks(outlook),
        "risks": risks,
        "notes": notes_on(outlook),
    }


def notes_on(outlook: Outlook) -> list[str]:
    """What whoever reads the figures should know of them."""
    found = outlook.found
    notes = [] if len(found.varied) or len(found.risks) else [NO_RANGE]
    there = conflicts(found.schedule)
    if there:
        notes.append(
            f"The plan contradicts itself in {count_of(len(there), 'place')}; the rounds keep what its links say."
        )
    return notes


def _project(outlook: Outlook, project: str) -> dict[str, Any]:
    plan, known = outlook.found.schedule.plan, outlook.of_project(project)
    finish, target = outlook.found.schedule.project_finish[project], plan.projects[project].target_finish
    if known is None:
        return {"id": project, "finish": iso_or_none(finish), "mean": None, **dict.fromkeys(QUANTILES),
                "chance_of_plan": None, "chance_of_target": None}  # fmt: skip
    return {
        "id": project,
        "finish": iso_or_none(finish),
        "mean": iso_or_none(outlook.mean_of_project(project)),
        **{name: iso(known.quantile(part)) for name, part in QUANTILES.items()},
        "chance_of_plan": None if finish is None else known.chance_by(finish),
        "chance_of_target": None if target is None else known.chance_by(target),
    }


def _tasks(outlook: Outlook) -> list[dict[str, Any]]:
    plan, slots = outlook.found.schedule.plan, outlook.found.schedule.slots
    quantiles = [column.tolist() for column in outlook.quantiles(QUANTILES.values())]
    crucial = {t: value for p in plan.projects for t, value in outlook.crucialities(p).items()}
    known = outlook.found.has_floats
    found = []
    for task in outline_order(plan):
        ends = [column[slots[task]] for column in quantiles]
        times = {name: None if end == NEVER else iso(end) for name, end in zip(QUANTILES, ends, strict=True)}
        critical = outlook.criticality(task) if known else None
        found.append({"id": task, **times, "criticality": critical, "cruciality": crucial.get(task)})
    return found


def simulation_rows(plan: Plan, answer: dict[str, Any]) -> list[list[str]]:
    """A table of the projects, with its headings."""
    rows = [["Project", "Plan", "Half by", "8 in 10 by", "Plan holds", "Target holds"]]
    for project in answer["projects"]:
        chances = [project["chance_of_plan"], project["chance_of_target"]]
        rows.append([
            plan.projects[project["id"]].name,
            *(_spaced(project[name]) for name in ("finish", "p50", "p80")),
            *("" if chance is None else f"{100 * chance:.0f} %" for chance in chances),
        ])  # fmt: skip
    return rows


def risk_rows(plan: Plan, answer: dict[str, Any]) -> list[list[str]]:
    """A table of the risks that may happen, with its headings; nothing where there is none."""
    rows = [["Risk", "Happened", "Adds on average", "Adds to 8 in 10"]] if answer["risks"] else []
    for risk in answer["risks"]:
        added = ["" if risk[n] is None else f"{risk[n] / 60:+.1f} h" for n in ("adds_mean", "adds_p80")]
        rows.append([plan.risks[risk["id"]].name, f"{100 * risk['happened']:.0f} %", *added])
    return rows


def _spaced(moment: str | None) -> str:
    return "" if moment is None else moment.replace("T", " ")
