"""Edits of approvals: asked for, answered, asked for again, taken back; and the routes that they go."""

from __future__ import annotations

from collections.abc import Sequence

from msgspec.structs import replace

from hexapod.errors import EditRefused
from hexapod.plan.approvals import Approval, ApprovalAnswer, ApprovalState, Route
from hexapod.plan.edits.delivering import not_delivered
from hexapod.plan.edits.edit import Edit, in_steps, new_id, removing, saving
from hexapod.plan.edits.outlining import add_task
from hexapod.plan.edits.progress import finish, reopen
from hexapod.plan.outline import is_worked
from hexapod.plan.plan import Draft, Gone, Plan
from hexapod.plan.ranks import ranks_between
from hexapod.plan.records import Assignment, Link, LinkType, Task, TaskKind


def ask_approval(
    plan: Plan,
    task_id: str,
    people: Sequence[str],
    who: str,
    now: int,
    *,
    in_order: bool = True,
    deliverable: str | None = None,
) -> tuple[str, Edit]:
    """Ask people to agree to a row, or to a deliverable of it: its id, and the edit. A milestone becomes the approval
    itself; behind other work, and for a deliverable, comes a milestone of its own, and what waited for the work waits
    for that. ``EditRefused`` without people."""
    task = plan.task(task_id)
    if not people:
        raise EditRefused("Say who has to agree.")
    chosen = tuple(dict.fromkeys(plan.resource(p).id for p in people))
    if deliverable is not None:
        return _ask_about(plan, deliverable, chosen, who, now, in_order)
    if task.is_done and _is_moment(task):
        raise EditRefused(f"“{task.name}” is reached already.")
    if any(a.task == task_id for a in plan.approvals.values()):
        raise EditRefused(f"“{task.name}” waits for approval already.")
    made = new_id()
    if _is_moment(task) and not plan.is_summary(task_id):
        approval = Approval(made, task_id, chosen, in_order, None, who, now)
        return made, Edit(f"Ask for approval of “{task.name}”", lambda draft: _put(draft, approval))

    approval = Approval(made, "", chosen, in_order, task_id, who, now)
    return made, _behind(plan, task_id, task.name, approval)


def _ask_about(
    plan: Plan, deliverable: str, people: tuple[str, ...], who: str, now: int, in_order: bool
) -> tuple[str, Edit]:
    """Ask people to agree to a deliverable."""
    wanted = plan.deliverables.get(deliverable)
    if wanted is None:
        raise Gone
    if any(a.deliverable == deliverable for a in plan.approvals.values()):
        raise EditRefused(f"“{wanted.name}” waits for approval already.")
    approval = Approval(new_id(), "", people, in_order, wanted.task, who, now, deliverable=deliverable)
    return approval.id, _behind(plan, wanted.task, wanted.name, approval)


def _behind(plan: Plan, work: str, name: str, approval: Approval) -> Edit:
    """A milestone behind the work, which is reached once they agreed."""
    return in_steps(f"Ask for approval of “{name}”", [
        lambda p: add_task(plan.task(work).project, f"{name} approved", work, duration=0),
        lambda p: Edit("", lambda draft: _tie(draft, p, work, approval)),
    ])  # fmt: skip


def _tie(draft: Draft, plan: Plan, work: str, approval: Approval) -> None:
    """Put the new milestone behind the work, and what waited for its end behind the milestone. It stands beside other
    approvals of the work: what waits for those waits for this one too."""
    home = plan.tasks[work]
    siblings = plan.children_of(home.project, home.parent)
    mark = siblings[siblings.index(work) + 1]
    draft.put(replace(plan.tasks[mark], kind=TaskKind.MILESTONE, duration=0))
    beside = {a.task for a in plan.approvals.values() if a.work == work}
    for before in (work, *sorted(beside)):
        for link in plan.links_from(before):
            if link.type is LinkType.FS and link.successor not in beside:
                if before == work:
                    draft.remove("links", link.key)
                draft.put(replace(link, predecessor=mark))
    draft.put(Link(work, mark))
    _put(draft, replace(approval, task=mark))


def _put(draft: Draft, approval: Approval) -> None:
    """With those who have to agree at the milestone, so that it stands among their own work."""
    draft.put(approval)
    for person in approval.people:
        if person not in draft.assigned(approval.task):
            draft.put(Assignment(approval.task, person))


def _is_moment(task: Task) -> bool:
    return task.kind is TaskKind.MILESTONE or not task.minutes


def answer_approval(plan: Plan, approval_id: str, person: str, yes: bool, word: str, now: int) -> Edit:
    """One of them says yes, or no with a word. With the last yes the milestone is reached; with a no its work goes on.
    ``EditRefused`` where it is not their turn, or the work is not done."""
    approval = _there(plan, approval_id)
    mark = plan.task(approval.task)
    if person not in approval.turn:
        waits = ", ".join(plan.resources[p].name for p in approval.turn)
        raise EditRefused(
            f"It is the turn of {waits}." if waits else "It was answered already. Ask for it again first."
        )
    if not yes and not word.strip():
        raise EditRefused("Say why not: the word goes back with it.")
    wanted = plan.deliverables.get(approval.deliverable or "")
    if yes and wanted is not None and wanted.handed is None:
        raise EditRefused(f"“{wanted.name}” was not handed over yet.")
    if yes and wanted is None and approval.work is not None and not is_worked(plan, approval.work):
        raise EditRefused(f"“{plan.task(approval.work).name}” is not done yet.")
    answer = ApprovalAnswer(person, plan.resource(person).name, yes, word.strip(), now)
    said = replace(approval, answers=(*approval.answers, answer))
    words = f"{answer.name} {'agrees to' if yes else 'sends back'} “{mark.name}”"
    steps = [lambda p: Edit("", lambda draft: draft.put(said))]
    if said.state is ApprovalState.GIVEN:
        steps.append(lambda p: finish(p, [approval.task], now))
    if not yes and wanted is not None:
        steps.append(lambda p: not_delivered(p, wanted.id))
    if not yes and approval.work is not None and is_worked(plan, approval.work):
        work = approval.work
        steps.append(lambda p: reopen(p, [work]))
    return in_steps(words, steps)


def ask_again(plan: Plan, approval_id: str, who: str, now: int) -> Edit:
    """Everybody is asked anew; what was said before is in the history."""
    approval = _there(plan, approval_id)
    if approval.state is ApprovalState.GIVEN:
        raise EditRefused("Everybody has agreed already.")
    anew = replace(approval, answers=(), by=who, asked=now)
    return Edit(f"Ask again for approval of “{plan.task(approval.task).name}”", lambda draft: draft.put(anew))


def remove_approvals(plan: Plan, approvals: Sequence[str]) -> Edit:
    """Nobody has to agree any more; the milestone stays."""
    name = plan.task(_there(plan, approvals[0]).task).name
    return removing(f"No approval of “{name}” any more", "approvals", approvals)


def keep_route(plan: Plan, name: str, people: Sequence[str], *, in_order: bool = True) -> Edit:
    """A route under a name, in place of one that has it."""
    said = name.strip()
    known = next((r for r in plan.routes.values() if r.name.casefold() == said.casefold()), None)
    last = max((r.rank for r in plan.routes.values()), default=None)
    rank = ranks_between(last, None, 1)[0] if known is None else known.rank
    route = Route(new_id() if known is None else known.id, said, rank, tuple(people), in_order)
    return saving(plan, route, f"the route “{said}”")


def remove_routes(plan: Plan, routes: Sequence[str]) -> Edit:
    names = [plan.routes[r].name for r in routes if r in plan.routes]
    return removing(f"Forget the route “{', '.join(names)}”", "routes", routes)


def _there(plan: Plan, approval_id: str) -> Approval:
    found = plan.approvals.get(approval_id)
    if found is None:
        raise Gone
    return found
