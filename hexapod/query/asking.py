"""A plan asked which of its tasks something is true of: the queries of the find box and of views."""

from __future__ import annotations

from collections.abc import Iterable, Iterator
from typing import NamedTuple

from hexapod.errors import BadText
from hexapod.expressions.language import Expression
from hexapod.expressions.tokens import NAME, SIGN, WORD, Token, tokens
from hexapod.expressions.values import Kind
from hexapod.fields.formulas import FUNCTIONS, compile_formula, names_of
from hexapod.fields.reading import NO_TROUBLES, Reading, Troubles
from hexapod.plan.plan import Plan
from hexapod.schedule.schedule import Dates
from hexapod.schedule.states import Late, State

STEP = 200  # tasks between two looks at the clock


def compile_query(plan: Plan, text: str) -> Expression:
    """An expression that is true or not of each task. ``BadText`` if it is wrong, or says something else."""
    found = compile_formula(plan, text)
    if found.kind is not Kind.YES_NO:
        raise BadText(f"This gives a {found.kind}; ask something that is true or not, such as {text.strip()} = …", 0)
    return found


def is_query(plan: Plan, text: str) -> bool:
    """Whether a text is a question to the plan, and not just words to look for."""
    try:
        compile_query(plan, text)
    except BadText:
        return False
    return True


def matches(
    query: Expression, plan: Plan, schedule: Dates, tasks: Iterable[str], troubles: Troubles = NO_TROUBLES
) -> Iterator[str | None]:
    """The tasks that the query is true of; None now and then, where whoever asks may do something else."""
    for i, task_id in enumerate(tasks):
        if i % STEP == STEP - 1:
            yield None
        if query.value(Reading(plan, schedule, plan.tasks[task_id], troubles)):
            yield task_id


class Completion(NamedTuple):
    """``text`` takes the place of what was typed from ``at`` on."""

    at: int
    text: str


_JOINS = ("and", "or")
_COMPARISONS = {
    Kind.TEXT: ("contains", "is", "is not", "is empty"),
    Kind.YES_NO: _JOINS,
}
_SIGNS = ("<", ">", "=", "is empty")


def completions(plan: Plan, text: str) -> list[Completion]:
    """What may come next in a query whose text ends here: names, comparisons, or the values that a name has."""
    names = names_of(plan)
    at = len(text)
    while at and (text[at - 1].isalnum() or text[at - 1] in "_"):
        at -= 1
    begun, before = text[at:].lower(), text[:at]
    try:
        read = tokens(before, names)[:-1]
    except BadText:
        return []
    choices = _choices(plan, read, names)
    return [Completion(at, c) for c in choices if c.lower().startswith(begun) and c.lower() != begun][:40]


def _choices(plan: Plan, read: list[Token], names: dict[str, Expression]) -> list[str]:
    last = read[-1] if read else None
    if last is not None and last.kind == NAME:
        kind = names[last.text].kind if last.text in names else Kind.TEXT
        return [*_COMPARISONS.get(kind, _SIGNS)]
    subject = _compared_name(read)
    if subject is not None:
        return [f'"{value}"' if " " in value else value for value in values_of(plan, subject)]
    if last is not None and (last.kind not in (SIGN, WORD) or last.text == "empty"):
        return [*_JOINS]
    return [*names, *FUNCTIONS, "not"]


def _compared_name(read: list[Token]) -> str | None:
    """The name that stands before a comparison at the end of what was read."""
    words = list(read)
    while words and words[-1].text in ("is", "not", "contains", "=", "≠") and words[-1].kind in (WORD, SIGN):
        words.pop()
    if len(words) < len(read) and words and words[-1].kind == NAME:
        return words[-1].text
    return None


def values_of(plan: Plan, name: str) -> list[str]:
    """The texts that a name has in a plan, those to choose from."""
    if name in ("who", "role"):
        return [r.name for r in plan.resources_in_order()]
    if name == "initials":
        return [r.initials for r in plan.resources_in_order() if r.initials]
    if name == "project":
        return [p.name for p in plan.projects_in_order()]
    if name == "state":
        return [state.value for state in State]
    if name == "how late":
        return [late.value.replace("_", " ") for late in Late]
    if name == "stream":
        return sorted({t.stream for t in plan.tasks.values() if t.stream})
    if name == "tags":
        return sorted({tag for t in plan.tasks.values() for tag in t.tags})
    return next((list(f.choices) for f in plan.fields.values() if f.name.lower() == name), [])
