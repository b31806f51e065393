"""Random edits of every kind, as a person in a hurry would make them."""

from __future__ import annotations

import random

from hexapod.errors import HexapodError
from hexapod.plan import edits
from hexapod.plan.changes import Changes
from hexapod.plan.edits import Edit
from hexapod.plan.plan import Plan
from hexapod.plan.records import Assignment, LimitKind, LinkType
from hexapod.plan.validity import check
from tests.support import MONDAY


def random_step(rng: random.Random, plan: Plan) -> tuple[Edit, Plan, Changes] | None:
    """A random edit made and checked; None if it was refused."""
    try:
        edit = random_edit(rng, plan)
        draft = plan.draft()
        edit.change(draft)
        after, changes = draft.finish()
        check(after, changes)
    except HexapodError:
        return None
    return edit, after, changes


def random_edit(rng: random.Random, plan: Plan) -> Edit:
    """May be one that is refused."""
    tasks = sorted(plan.tasks)
    projects = sorted(plan.projects)
    some = rng.sample(tasks, min(len(tasks), rng.choice((1, 1, 1, 2, 4)))) if tasks else []
    one = some[0] if some else None
    choices = [lambda: edits.add_text(rng.choice(projects), "New\n  Inner\n  Other", one)]
    if one is not None:
        two = rng.choice(tasks)
        resources = sorted(plan.resources)
        choices += [
            lambda: edits.add_task(plan.tasks[one].project, "Added", one, duration=rng.randrange(2000)),
            lambda: edits.rename(plan, one, f"Name {rng.randrange(1000)}"),
            lambda: edits.set_durations(plan, some, rng.choice((None, 0, rng.randrange(5000)))),
            lambda: edits.set_durations(plan, some, rng.randrange(5000)),
            lambda: edits.link(plan, one, two, rng.choice(list(LinkType)), rng.randrange(-900, 900)),
            lambda: edits.link(plan, one, two),
            lambda: edits.chain(plan, some),
            lambda: edits.unlink(plan, rng.sample(sorted(plan.links), min(2, len(plan.links)))),
            lambda: edits.indent(plan, some),
            lambda: edits.outdent(plan, some),
            lambda: edits.move_up(plan, some),
            lambda: edits.move_down(plan, some),
            lambda: edits.move_to(plan, some, plan.tasks[two].project, plan.tasks[two].parent, two),
            lambda: edits.set_limit(plan, one, rng.choice(list(LimitKind)), MONDAY + rng.randrange(90_000)),
            lambda: edits.set_task(plan, one, "Want it", target=MONDAY + rng.randrange(200_000)),
            lambda: edits.set_holds(plan, {t: rng.randrange(2000) for t in some}, "Hold"),
            lambda: edits.clear_holds(plan, some),
        ]
        if len(tasks) > 15:
            choices.append(lambda: edits.remove_tasks(plan, some))
        if resources:
            who = rng.choice(resources)
            choices.append(lambda: edits.set_assignments(plan, one, [Assignment(one, who, rng.choice((0.5, 1.0)))]))
            choices.append(lambda: edits.assign(plan, some, who))
    return rng.choice(choices)()
