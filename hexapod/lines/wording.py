"""What a line was taken for, in words."""

from __future__ import annotations

from collections.abc import Callable

from hexapod.fields.assignment_text import handle, share_text
from hexapod.lines.clauses import Clause, Date, Length, Links, Moment, People
from hexapod.plan.plan import Plan
from hexapod.plan.records import Link, LinkType
from hexapod.schedule.words import lag_text
from hexapod.worktime.lengths import Units, format_duration

DATE_WORDS = {
    Moment.FROM: "starts not before", Moment.ON: "on", Moment.BY: "target", Moment.NOT_AFTER: "finishes not after",
}  # fmt: skip


def words_of(
    clause: Clause, plan: Plan, units: Units, name_row: Callable[[str], str], long_date: Callable[[int], str]
) -> str:
    """``after 1.1 Measure hall SS 2 d later``; of what is asked, the question. ``name_row`` names the row of an id."""
    meaning = clause.meaning
    if isinstance(meaning, Length):
        return format_duration(meaning.minutes, meaning.elapsed, units) if meaning.minutes else "milestone"
    if isinstance(meaning, Links):
        way = "before" if clause.slot == "out" else "after"
        return f"{way} {', '.join(link_words(link, name_row) for link in meaning.links)}"
    if isinstance(meaning, People):
        return f"with {', '.join(f'{handle(plan, a.resource)}{share_text(a)}' for a in meaning.assignments)}"
    if isinstance(meaning, Date):
        return f"{DATE_WORDS[meaning.moment]} {long_date(meaning.at)}"
    return clause.question.text if clause.question else ""


def link_words(link: Link, name_row: Callable[[str], str]) -> str:
    """The row at the other end, the type if it is not the usual one, and the lag."""
    parts = [name_row(link.predecessor or link.successor)]
    if link.type is not LinkType.FS:
        parts.append(link.type.value)
    if link.lag or link.lag_percent:
        parts.append(lag_text(link))
    return " ".join(parts)
