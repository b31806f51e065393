"""What the answers of a round do: against the plan in which all goes as planned. Worked out in any thread."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field

from hexapod.control.round import AS_PLANNED, Answer, Question, round_edit
from hexapod.plan.edits import Edit, together
from hexapod.plan.plan import Draft, Plan
from hexapod.preparing import Prepared, prepare
from hexapod.schedule.schedule import Dates, Schedule, computed_dates

MOST_NAMED = 3  # of what an answer moves


@dataclass(frozen=True)
class Round:
    """What is asked of a project at a date, in a plan with its dates. ``told`` are tasks that were told already."""

    plan: Plan
    dates: Dates
    project: str
    at: int
    asked: tuple[Question, ...]
    told: frozenset[str]
    who: str
    now: int


@dataclass(frozen=True)
class Effect:
    """What one answer does alone: by how many working minutes it moves the finish, how many other tasks move, and the
    first of them with by how much."""

    finish: int
    count: int = 0
    first: tuple[tuple[str, int], ...] = ()


@dataclass(frozen=True)
class Outlook:
    """``planned`` is the plan in which all goes as planned, ``after`` the dates with the answers and the ways that were
    chosen to win time back, ``before_ways`` without those; ``effects`` is by answer what it does alone."""

    planned: Prepared
    after: Schedule
    before_ways: Schedule
    otherwise: dict[str, Answer] = field(default_factory=dict)  # the answers that are not as planned
    effects: dict[tuple[str, Answer], Effect] = field(default_factory=dict)


def outlook_of(
    asked: Round, answers: Mapping[str, Answer], known: Outlook | None, ways: Sequence[Edit] = ()
) -> Outlook:
    """What some answers do; what is ``known`` of the same plan is not worked out again. ``HexapodError`` if one of them
    would be refused."""
    planned = known.planned if known is not None and known.planned.base is asked.plan else _as_planned(asked)
    base = computed_dates(planned.schedule)
    if base is None:
        raise ValueError("the plan has no dates")
    otherwise = {q.task: (q, a) for q in asked.asked if (a := answers.get(q.task)) is not None and a != AS_PLANNED}
    effects = dict(known.effects) if known is not None and known.planned is planned else {}
    for task, pair in otherwise.items():
        if (task, pair[1]) not in effects:
            effects[task, pair[1]] = _effect(base, _with(asked, planned, base, {task: pair}), asked.project, task)
    said = {task: answer for task, (_, answer) in otherwise.items()}
    is_same = known is not None and known.planned is planned and known.otherwise == said
    before_ways = known.before_ways if known is not None and is_same else _with(asked, planned, base, otherwise)
    after = before_ways
    if ways:
        taken = prepare(together("Ways", list(ways)), after.plan, after, asked.who, now=asked.now)
        after = computed_dates(taken.schedule) or after
    return Outlook(planned, after, before_ways, said, effects)


def _as_planned(asked: Round) -> Prepared:
    everything = {q.task: AS_PLANNED for q in asked.asked if q.task not in asked.told}
    edit = round_edit(asked.plan, asked.project, asked.at, asked.asked, everything, asked.who, asked.now)
    return prepare(edit, asked.plan, asked.dates, asked.who, now=asked.now)


def _with(asked: Round, planned: Prepared, base: Schedule, some: Mapping[str, tuple[Question, Answer]]) -> Schedule:
    """The dates with other answers of some tasks."""
    if not some:
        return base
    answers = {task: answer for task, (_, answer) in some.items()}
    chosen = [question for question, _ in some.values()]

    def as_before(draft: Draft) -> None:
        for task in some:
            draft.put(asked.plan.tasks[task])

    told = round_edit(planned.plan, asked.project, asked.at, chosen, answers, asked.who, asked.now)
    edit = together("Answer", [Edit("", as_before), told])
    found = computed_dates(prepare(edit, planned.plan, base, asked.who, now=asked.now).schedule)
    return base if found is None else found


def _effect(before: Schedule, after: Schedule, project: str, task: str) -> Effect:
    from hexapod.control.ripple import ripple
    from hexapod.schedule.slip import working_minutes

    first, then = before.project_finish[project], after.project_finish[project]
    by = 0
    if first is not None and then is not None:
        by = working_minutes(after, after.plan.projects[project].calendar, first, then)
    moved = [(m.task, m.by) for m in ripple(before, after).moved if m.task != task]
    return Effect(by, len(moved), tuple(moved[:MOST_NAMED]))
