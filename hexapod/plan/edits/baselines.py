"""Edits of baselines: which are kept, and which one a project is measured against."""

from __future__ import annotations

from msgspec.structs import replace

from hexapod.plan.accounts import Baseline
from hexapod.plan.edits.edit import Edit
from hexapod.plan.plan import Draft, Plan


def keep_baseline(plan: Plan, baseline: Baseline) -> Edit:
    """Keep how a project was planned. The first one of a project is what it is measured against from then on."""
    is_first = plan.project(baseline.project).baseline is None

    def change(draft: Draft) -> None:
        draft.put(baseline)
        if is_first:
            draft.put(replace(draft.get("projects", baseline.project), baseline=baseline.id))

    return Edit(f"Keep the baseline “{baseline.name}”", change)


def rename_baseline(plan: Plan, baseline_id: str, name: str) -> Edit:
    baseline = plan.baseline(baseline_id)
    words = f"Rename the baseline “{baseline.name}” to “{name}”"
    return Edit(words, lambda draft: draft.put(replace(baseline, name=name)))


def measure_from(plan: Plan, project: str, baseline_id: str | None) -> Edit:
    """The baseline that a project is measured against; None: against none."""
    name = "no baseline" if baseline_id is None else f"“{plan.baseline(baseline_id).name}”"
    record = replace(plan.project(project), baseline=baseline_id)
    return Edit(f"Measure “{record.name}” from {name}", lambda draft: draft.put(record))


def remove_baseline(plan: Plan, baseline_id: str) -> Edit:
    """A project that was measured against it is measured against none."""
    baseline = plan.baseline(baseline_id)

    def change(draft: Draft) -> None:
        project = draft.get("projects", baseline.project)
        if project.baseline == baseline_id:
            draft.put(replace(project, baseline=None))
        draft.remove("baselines", baseline_id)

    return Edit(f"Delete the baseline “{baseline.name}”", change)
