"""What is likely next for who is new to this, each said once, until somebody has had enough of it."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass

from PyQt6.QtCore import QSettings

from hexapod.desktop.models.desk import Desk

LARGEST = 300  # tasks; who has more knows his way
SEEN, WANTED = "hints/seen", "hints/wanted"


@dataclass(frozen=True)
class Hint:
    """Due when ``is_due`` says so of a desk."""

    name: str
    text: str
    is_due: Callable[[Desk], bool]


def _leaves(desk: Desk) -> int:
    plan = desk.plan
    return sum(1 for t in plan.tasks.values() if t.project == desk.project and not plan.is_summary(t.id))


def _has_no_length(desk: Desk) -> bool:
    return _leaves(desk) > 0 and all(task.duration is None for task in desk.plan.tasks.values())


def _has_no_link(desk: Desk) -> bool:
    return _leaves(desk) >= 3 and not desk.plan.links


def _has_nobody(desk: Desk) -> bool:
    return len(desk.plan.links) >= 2 and not desk.plan.assignments


def _has_no_target(desk: Desk) -> bool:
    project = desk.plan.projects.get(desk.project or "")
    has_one = any(task.target is not None for task in desk.plan.tasks.values())
    return _leaves(desk) >= 5 and project is not None and project.target_finish is None and not has_one


def _has_an_overload(desk: Desk) -> bool:
    return desk.load is not None and bool(desk.load.overloads)


HINTS = (
    Hint("overload", "Somebody has too much to do. F8 proposes moves that leave the finish where it is.",
         _has_an_overload),
    Hint("length", "How long does it take? Say it in the line: Order glass 3w. Or type 3w under Duration.",
         _has_no_length),
    Hint("link", "What waits for what? Type 1.2 under Waits for, or “after 1.2” in a new line.", _has_no_link),
    Hint("people", "Who does it? Add people in Staff (Ctrl+3), then type their initials under Who.", _has_nobody),
    Hint("target", "When does it have to be done? Ctrl+D sets a target; the vitals say how far away it is.",
         _has_no_target),
)  # fmt: skip


def are_wanted() -> bool:
    return str(QSettings().value(WANTED, "true")).lower() == "true"


def want(wanted: bool) -> None:
    """Switched on again, all of them are said anew."""
    QSettings().setValue(WANTED, "true" if wanted else "false")
    if wanted:
        QSettings().remove(SEEN)


def next_hint(desk: Desk) -> Hint | None:
    """The first that is due and was not seen; from now on it was."""
    if not are_wanted() or desk.is_read_only or desk.project is None or len(desk.plan.tasks) > LARGEST:
        return None
    seen = str(QSettings().value(SEEN) or "").split()
    hint = next((hint for hint in HINTS if hint.name not in seen and hint.is_due(desk)), None)
    if hint is not None:
        QSettings().setValue(SEEN, " ".join([*seen, hint.name]))
    return hint
