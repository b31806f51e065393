"""The edits a person can make, each a plain change of a draft with the words it is known by."""

from hexapod.plan.edits.assigning import assign, remove_resource, save_resource, set_assignments, unassign
from hexapod.plan.edits.edit import Edit, new_id, together
from hexapod.plan.edits.linking import chain, link, set_links, unlink
from hexapod.plan.edits.outlining import (
    add_task,
    add_text,
    indent,
    move_down,
    move_to,
    move_up,
    outdent,
    remove_tasks,
)
from hexapod.plan.edits.settling import (
    clear_holds,
    remove_project,
    rename,
    save_calendar,
    save_project,
    set_durations,
    set_holds,
    set_limit,
    set_task,
)

__all__ = [
    "Edit",
    "add_task",
    "add_text",
    "assign",
    "chain",
    "clear_holds",
    "indent",
    "link",
    "move_down",
    "move_to",
    "move_up",
    "new_id",
    "outdent",
    "remove_project",
    "remove_resource",
    "remove_tasks",
    "rename",
    "save_calendar",
    "save_project",
    "save_resource",
    "set_assignments",
    "set_durations",
    "set_holds",
    "set_limit",
    "set_links",
    "set_task",
    "together",
    "unassign",
    "unlink",
]
