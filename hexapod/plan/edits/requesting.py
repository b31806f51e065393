"""Edits of requests: they come in, are looked at, declined with a word, or become a project."""

from __future__ import annotations

from collections.abc import Sequence

from msgspec.structs import replace

from hexapod.errors import EditRefused
from hexapod.plan.edits.copying import duplicate_project
from hexapod.plan.edits.edit import Edit, new_id, quoted, removing, together
from hexapod.plan.plan import Draft, Gone, Plan
from hexapod.plan.ranks import ranks_between
from hexapod.plan.records import DAY, Project, Task
from hexapod.plan.requests import Request, RequestState


def save_requests(plan: Plan, requests: Sequence[Request]) -> Edit:
    """Put requests in, or change those that are there."""

    def change(draft: Draft) -> None:
        for request in requests:
            draft.put(request)

    verb = "Change" if all(r.id in plan.requests for r in requests) else "Take in"
    return Edit(f"{verb} the request {quoted([r.name for r in requests], 'requests')}", change)


def remove_requests(plan: Plan, requests: Sequence[str]) -> Edit:
    names = [plan.requests[r].name for r in requests if r in plan.requests]
    return removing(f"Delete the request {quoted(names, 'requests')}", "requests", requests)


def look_at_request(plan: Plan, request_id: str, who: str) -> Edit:
    """Say that somebody looks at it."""
    request = _open(plan, request_id)
    changed = replace(request, state=RequestState.LOOKED_AT, by=who)
    return Edit(f"Look at the request “{request.name}”", lambda draft: draft.put(changed))


def decline_request(plan: Plan, request_id: str, who: str, word: str, now: int) -> Edit:
    """Say no, with a word. ``EditRefused`` without one."""
    request = _open(plan, request_id)
    if not word.strip():
        raise EditRefused("Say why: whoever asked gets the word.")
    changed = replace(request, state=RequestState.DECLINED, by=who, word=word.strip(), answered=now)
    return Edit(f"Decline the request “{request.name}”", lambda draft: draft.put(changed))


def accept_request(
    plan: Plan, request_id: str, who: str, word: str, now: int, start: int, template: Plan | None
) -> tuple[str, Edit]:
    """Say yes: it becomes a project that begins at ``start``, as a template has it, else with one task of its size. Its
    target is the day by which it is wanted. The project's id, and the edit."""
    request = _open(plan, request_id)
    made, making = project_of_request(plan, request, start, template)
    changed = replace(
        request, state=RequestState.ACCEPTED, by=who, word=word.strip(), answered=now, project=made
    )  # fmt: skip
    saying = Edit("", lambda draft: draft.put(changed))
    return made, together(f"Accept the request “{request.name}”", [making, saying])


def project_of_request(plan: Plan, request: Request, start: int, template: Plan | None) -> tuple[str, Edit]:
    """The project that a request would become: its id, and the edit that makes it."""
    target = None if request.wanted_by is None else request.wanted_by * DAY + 17 * 60
    if template is not None:
        made, making = duplicate_project(plan, template, request.name, start, people=False)
    else:
        made = new_id()
        making = Edit("", lambda draft: _put_plain(draft, plan, request, made, start))

    def aim(draft: Draft) -> None:
        draft.put(replace(draft.get("projects", made), target_finish=target))

    return made, together(f"Add the project “{request.name}”", [making, Edit("", aim)])


def _put_plain(draft: Draft, plan: Plan, request: Request, made: str, start: int) -> None:
    last = plan.projects_in_order()
    draft.put(Project(made, request.name, start, ranks_between(last[-1].rank if last else None, None, 1)[0]))
    rank = ranks_between(None, None, 1)[0]
    draft.put(Task(new_id(), made, request.name, rank, duration=request.size or None, notes=request.why))


def _open(plan: Plan, request_id: str) -> Request:
    request = plan.requests.get(request_id)
    if request is None:
        raise Gone
    if not request.is_open:
        raise EditRefused(f"The request “{request.name}” was {request.state.value} already.")
    return request
