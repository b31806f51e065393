"""Edits of the list of scenarios. What a scenario does otherwise is edited in the scenario."""

from __future__ import annotations

from collections.abc import Iterable

from hexapod.plan.edits.edit import Edit, quoted, removing, saving
from hexapod.plan.plan import Plan
from hexapod.plan.scenarios import Scenario


def save_scenario(plan: Plan, scenario: Scenario) -> Edit:
    """Add a scenario, or change its name or note."""
    return saving(plan, scenario, f"the scenario “{scenario.name}”")


def remove_scenarios(plan: Plan, scenario_ids: Iterable[str]) -> Edit:
    """They go from the list; what was kept of them stays in the file, so that undo brings them back whole."""
    gone = list(scenario_ids)
    names = quoted([plan.scenarios[s].name for s in gone], "scenarios")
    return removing(f"Delete {names}", "scenarios", gone)
