"""What was handed over and is overdue, and whose yes is waited for."""

from __future__ import annotations

from hexapod.control.attention import awaited
from hexapod.control.deliverables import Handover, handovers
from hexapod.plan.approvals import ApprovalState
from hexapod.reports.basis import Basis
from hexapod.reports.report import Fact, Sentence, Tone
from hexapod.reports.week.moved import CHANGED, is_within, listed, name_of
from hexapod.reports.week.needs import DECIDE
from hexapod.reports.week.trouble import LATE

FROM_RECORDS = "What was told of each deliverable; until then, when its task is to end."
FROM_ANSWERS = "The approvals that were asked for, and what was answered."
MOST_ANSWERS = 5


def handed_sentences(basis: Basis) -> list[Sentence]:
    """How many deliverables were handed over in these days."""
    found = [h for h in handovers(basis.schedule, basis.inside) if is_within(basis, h.deliverable.handed)]
    return _counted(found, "handed", "handed over", CHANGED, Tone.PLAIN)


def owed_sentences(basis: Basis) -> list[Sentence]:
    """How many are overdue: their work is done, or was to be by now."""
    found = [h for h in handovers(basis.schedule, basis.inside) if h.is_overdue(basis.now) and _is_at_work(basis, h)]
    return _counted(found, "owed", "overdue", LATE, Tone.TROUBLE)


def _counted(found: list[Handover], kind: str, how: str, under: str, tone: Tone) -> list[Sentence]:
    if not found:
        return []
    was = ("was" if len(found) == 1 else "were") if kind == "handed" else "is" if len(found) == 1 else "are"
    what = "deliverable" if len(found) == 1 else "deliverables"
    text = f"{len(found)} {what} {was} {how}: {listed([f'“{h.deliverable.name}”' for h in found])}."
    fact = Fact(kind, tuple(h.deliverable.task for h in found), (len(found), *(h.deliverable.id for h in found)))
    return [Sentence(text, fact, tone, under, FROM_RECORDS)]


def answer_sentences(basis: Basis) -> list[Sentence]:
    """Whose yes is waited for, those who were asked first; and what was sent back."""
    plan, said = basis.plan, []
    waiting = [a for a in awaited(plan) if plan.tasks[a.task].project in basis.inside]
    for approval in sorted(waiting, key=lambda a: (a.asked, a.id))[:MOST_ANSWERS]:
        name = name_of(basis, approval.task)
        if approval.state is ApprovalState.SENT_BACK:
            no = [answer for answer in approval.answers if not answer.yes][-1]
            text = f"{name} was sent back by {no.name}: “{no.word}”."
        else:
            who = listed([plan.resources[p].name for p in approval.turn]) or "somebody who agrees"
            text = f"{name} waits for {who} to agree, since {basis.day(approval.asked)}."
        fact = Fact("agree", (approval.task,), (approval.asked, approval.state.value, *approval.turn))
        said.append(Sentence(text, fact, Tone.ATTENTION, DECIDE, FROM_ANSWERS))
    return said


def _is_at_work(basis: Basis, handover: Handover) -> bool:
    return basis.plan.projects[handover.project].is_at_work
