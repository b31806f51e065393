"""The week in words, and the gist of it."""

from __future__ import annotations

from collections import Counter

from hexapod.control.summary import sentence
from hexapod.reports.basis import Basis
from hexapod.reports.report import Fact, Part, Sentence
from hexapod.reports.week.handed import answer_sentences, handed_sentences, owed_sentences
from hexapod.reports.week.moved import CHANGED, moved_sentences, told_sentences
from hexapod.reports.week.needs import coming_sentences, decision_sentences, short_sentences
from hexapod.reports.week.trouble import late_sentences, risk_sentences, state_sentences

NO_PAST = "What changed is not known: this plan has no history."


def week(basis: Basis) -> Part:
    """Sentences under their headings: what changed and why, what is late, at risk, short, and to be decided."""
    said: list[Sentence] = []
    if not basis.leaves:
        text = "There is nothing to report yet: no tasks." if basis.scope else "There is no project to report of."
        return Part("week", "The week in words", (Sentence(text, Fact("empty", basis.scope)),))
    if len(basis.scope) > 1:
        said.append(_counts(basis))
    if basis.past is None and not basis.outside:
        said.append(Sentence(NO_PAST, Fact("no_past"), under=CHANGED))
    moved = moved_sentences(basis)
    said += [s for s in moved if s.under == CHANGED]
    said += told_sentences(basis) + handed_sentences(basis)
    said += [s for s in moved if s.under != CHANGED]
    late, states = late_sentences(basis) + owed_sentences(basis), state_sentences(basis)
    at_risk = [s for s in states if s.under != states[0].under] if states else []
    first = [s for s in states if s not in at_risk]
    said += sorted([*first, *late, *at_risk, *risk_sentences(basis)], key=lambda s: s.under != "What is late")
    said += short_sentences(basis) + decision_sentences(basis) + answer_sentences(basis) + coming_sentences(basis)
    return Part("week", "The week in words", tuple(said))


def _counts(basis: Basis) -> Sentence:
    states = Counter(row.status.state.value for row in basis.rows)
    text = sentence(states)
    return Sentence(text, Fact("counts", (), (len(basis.rows),)), source="The state of each project.")
