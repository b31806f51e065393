"""What an edit would do, in words, before it is made."""

from __future__ import annotations

from hexapod.desktop import dates
from hexapod.desktop.models.desk import Desk
from hexapod.errors import HexapodError
from hexapod.plan.edits import Edit
from hexapod.system.words import count_of
from hexapod.worktime.lengths import format_days

MOST_NAMED = 4


def consequences(desk: Desk, edit: Edit) -> str:
    """Which finishes move, how many tasks, and the first of them with their amounts."""
    try:
        after = desk.preview(edit)
    except HexapodError as error:
        return str(error)
    if after is None:
        return "The dates are being computed."
    from hexapod.schedule.shift import shift

    moved = shift(desk.worked_out, after)
    plan, network = desk.plan, after.network
    leaves = [i for i in range(len(moved.slots)) if network.structure.leaf[moved.slots[i]]]
    if not leaves:
        return "No task would move."
    parts = []
    for project in plan.projects_in_order():
        before, then = desk.schedule.project_finish.get(project.id), after.project_finish.get(project.id)
        if before is not None and then is not None and before != then:
            way = "later" if then > before else "sooner"
            parts.append(f"{project.name} finishes {way}, {dates.long_day(then)}")
    leaves.sort(key=lambda i: -abs(int(moved.finish[i])))
    named = []
    for i in leaves[:MOST_NAMED]:
        name = plan.tasks[network.slots.tasks[moved.slots[i]]].name
        amount = int(moved.finish[i]) or int(moved.start[i])
        named.append(f"{name} {'+' if amount > 0 else ''}{format_days(amount)}")
    count = f"{count_of(len(leaves), 'task')} would move"
    rest = " …" if len(leaves) > MOST_NAMED else ""
    finishes = "; ".join(parts) if parts else "No project's finish moves"
    return f"{count}: {', '.join(named)}{rest} {finishes}."
