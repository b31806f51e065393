"""Edits of the views that a workspace keeps."""

from __future__ import annotations

from msgspec.structs import replace

from hexapod.plan.edits.edit import Edit, new_id, removing
from hexapod.plan.kept import TASKS
from hexapod.plan.plan import Plan
from hexapod.plan.ranks import ranks_between
from hexapod.plan.records import KeptView


def keep_view(plan: Plan, name: str, shows: str, of: str = TASKS) -> Edit:
    """A view under a name, in place of one of the same that has it; ``shows`` is JSON."""
    known = next((v for v in plan.views.values() if v.name == name and v.of == of), None)
    if known is None:
        last = max((v.rank for v in plan.views.values()), default=None)
        known = KeptView(new_id(), name, ranks_between(last, None, 1)[0], of=of)
    return Edit(f"Keep the view “{name}”", lambda draft: draft.put(replace(known, shows=shows)))


def forget_view(plan: Plan, name: str, of: str = TASKS) -> Edit:
    gone = [v.id for v in plan.views.values() if v.name == name and v.of == of]
    return removing(f"Forget the view “{name}”", "views", gone)
