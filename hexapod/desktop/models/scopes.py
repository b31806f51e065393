"""Of what a report or a page is: all projects, those of a department, or one."""

from __future__ import annotations

from hexapod.plan.plan import Plan

EVERY, DEPARTMENT, PROJECT = "", "department:", "project:"


def scopes_of(plan: Plan) -> list[tuple[str, str]]:
    """What a choice of them offers: what each means, and its words."""
    shown = [p for p in plan.projects_in_order() if not p.archived]
    departments = sorted({p.department for p in shown if p.department}, key=str.casefold)
    return [(EVERY, "All projects"), *((f"{DEPARTMENT}{name}", name) for name in departments),
            *((f"{PROJECT}{p.id}", p.name) for p in shown)]  # fmt: skip


def meant_by(scope: str) -> tuple[tuple[str, ...], str]:
    """The projects and the department of a choice; neither where it is all."""
    projects = (scope.removeprefix(PROJECT),) if scope.startswith(PROJECT) else ()
    return projects, scope.removeprefix(DEPARTMENT) if scope.startswith(DEPARTMENT) else ""
