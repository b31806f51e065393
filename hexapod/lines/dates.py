"""Dates at the end of a line: ``by 12 dec``, ``from mon``, ``on 17 dec``."""

from __future__ import annotations

import re
from datetime import timedelta

from hexapod.errors import BadText
from hexapod.lines.clauses import Date, Moment
from hexapod.lines.known import Known

DAY = timedelta(days=1) // timedelta(minutes=1)
WORDS = {  # what stands before a date; longer ones first
    "no later than": (Moment.NOT_AFTER, True),
    "not after": (Moment.NOT_AFTER, True),
    "not before": (Moment.FROM, True),
    "starting on": (Moment.FROM, True),
    "starting": (Moment.FROM, True),
    "from": (Moment.FROM, True),
    "due by": (Moment.BY, True),
    "due on": (Moment.BY, True),
    "due": (Moment.BY, True),
    "by": (Moment.BY, True),
    "on": (Moment.ON, True),
    "until": (Moment.BY, False),
    "before": (Moment.BY, False),
    "after": (Moment.FROM, False),
    "in": (Moment.FROM, False),
}
_A_DATE = re.compile(
    r"\d{4}-\d\d-\d\d.*|\d{1,2}[./-]\d{1,2}(?:[./-](?:\d\d|\d{4})?)?|today|tomorrow|\+.*|(?:in )?\d+ \w+(?: \d+)?"
    r"|(?:end|start|beginning|middle|mid)\b.*|(?:next |this )?[^\W\d]{3,}\.?"
    r"|(?:next |this )?[^\W\d]{3,}\.? \d{1,2}(?:st|nd|rd|th)?(?:,? \d{4})?"
    r"|\d{1,2}(?:st|nd|rd|th|\.)?(?: of)? ?[^\W\d]{3,}\.?(?:,? \d{4})?|(?:week|wk|w) ?\d{1,2}(?: \d{4})?",
    re.IGNORECASE,
)
_HOUR = re.compile(r",? (?:at )?\d{1,2}(?::\d\d|\s?[ap]m)$", re.IGNORECASE)
_ALSO_WORDS = {"sun", "sat"}


def date_of(word: str, text: str, known: Known) -> tuple[Date, bool] | None:
    """The date that ``text`` behind ``word`` says, and whether it can hardly mean anything else."""
    moment, sure = WORDS[word]
    said = re.sub(r"\s+on$", "", text, flags=re.IGNORECASE) if moment is Moment.FROM else text
    said = re.sub(r"^the\s+", "", said, flags=re.IGNORECASE)
    if word == "in":
        said = f"in {said}" if not said.lower().startswith(("week", "wk")) else said
    if not _A_DATE.fullmatch(_HOUR.sub("", said)):
        return None
    try:
        at = known.read_date(said, moment in (Moment.BY, Moment.NOT_AFTER))
    except BadText:
        return None
    if word in ("before", "after"):
        at += -DAY if word == "before" else DAY
    is_plain = said.lower() in _ALSO_WORDS or "-" in said[:4] or said == "24/7" or known.row_at(said) is not None
    return Date(moment, at), sure and not is_plain
