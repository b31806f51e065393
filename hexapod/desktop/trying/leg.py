"""The Try leg: scenarios side by side, the range of the dates, and the register of risks."""

from __future__ import annotations

from hexapod.desktop.frame.parts_leg import PartsLeg

PARTS = {
    "scenarios": ("Scenarios", "trying.scenarios_view", "ScenariosView"),
    "range": ("Range", "trying.range_view", "RangeView"),
    "risks": ("Risks", "trying.risks_view", "RisksView"),
}


class TryLeg(PartsLeg):
    name, parts, sides = "trying", PARTS, {"scenarios": "scenario"}
