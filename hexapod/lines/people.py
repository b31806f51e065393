"""People at the end of a line: ``with RO and TB 50%``, ``with two carpenters``, ``by MO``."""

from __future__ import annotations

import re

from hexapod.errors import BadText
from hexapod.fields.assignment_text import split_share
from hexapod.lines.clauses import People, Question
from hexapod.lines.known import Found, Known
from hexapod.lines.lengths import COUNTS
from hexapod.plan.records import Assignment

_GROUPS = re.compile(r"\s*[,;](?!\d)\s*|\s+and\s+|\s*&\s*", re.IGNORECASE)
_COUNT = re.compile(rf"(?:(\d{{1,4}})\s*[x×]?|({'|'.join(COUNTS)})|the)\s+", re.IGNORECASE)
INITIALS = re.compile(r"[A-Z]{2,4}")


def people_of(text: str, known: Known) -> tuple[People, bool] | Question | None:
    """Who a text names and whether it can hardly mean anything else; a question where some are known, or initials
    nobody has; None where it names nobody."""
    found: dict[str, Assignment] = {}
    sure, names_somebody, unknown = True, False, []
    for group in _GROUPS.split(text.strip()):
        try:
            names, share = split_share(re.sub(r"\s+at(?=\s+\d+\s*%)", "", group))
        except BadText:
            return None
        counted = _COUNT.match(names)
        if counted and not known.who(names).ids:
            names = names[counted.end() :]
            count = int(counted[1]) if counted[1] else COUNTS.get((counted[2] or "one").lower(), 1)
            share = share | {"units": float(count)} if count > 1 and share == {"units": 1.0} else share
        whole = known.who(names)
        for name, who in [(names, whole)] if whole.ids else [(n, known.who(n)) for n in names.split()]:
            if not who.ids:
                unknown.append(name)
                continue
            names_somebody = True
            doubt = _doubt(name, who, known, found)
            if doubt:
                return Question(doubt)
            found[who.ids[0]] = Assignment("", who.ids[0], **share)  # type: ignore[arg-type]
            sure &= who.sure
    if unknown:
        is_meant = all(INITIALS.fullmatch(name) for name in unknown)
        return Question(f"Nobody has the initials {' or '.join(unknown)}.", tuple(unknown)) if is_meant else None
    return (People(tuple(found.values())), sure) if names_somebody else None


def _doubt(name: str, who: Found, known: Known, found: dict[str, Assignment]) -> str:
    if len(who.ids) > 1:
        names = " or ".join(known.plan.resources[r].name for r in who.ids[:3])
        return f"“{name}” may be {names}."
    return f"{known.plan.resources[who.ids[0]].name} is there twice." if who.ids[0] in found else ""
