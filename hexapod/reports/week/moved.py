"""Which finishes moved in some days, and which edits moved them; what was finished, and who said so."""

from __future__ import annotations

from collections import Counter

from hexapod.control.drift import DriftPart, drift_parts
from hexapod.control.mine import is_milestone
from hexapod.reports.basis import Basis
from hexapod.reports.report import Fact, Sentence, Tone
from hexapod.schedule.codes import NEVER
from hexapod.schedule.slip import working_minutes
from hexapod.system.words import count_of
from hexapod.worktime.calendars import units_of
from hexapod.worktime.lengths import format_days

CHANGED, WHY = "What changed", "Why finishes moved"
MOST_PROJECTS, MOST_CAUSES, MOST_NAMES = 5, 3, 4
FROM_HISTORY = "The dates of the plan now, against those of the plan as the history has it when these days began."
FROM_REPLAY = "The history carried out again, edit by edit: each has the working time by which it moved the finish."
FROM_TOLD = "Actual dates that were told of tasks, and the names beside those edits in the history."


def moved_sentences(basis: Basis) -> list[Sentence]:
    """Finishes that moved, those that moved most first; then what moved them."""
    moved = finishes_moved(basis)
    shown = sorted(moved, key=lambda p: (-abs(moved[p]), basis.scope.index(p)))
    said = [_finish(basis, p, moved[p]) for p in shown[:MOST_PROJECTS]]
    rest = shown[MOST_PROJECTS:]
    if rest:
        most = max(abs(moved[p]) for p in rest)
        others = f"{len(rest)} other finish{'' if len(rest) == 1 else 'es'}"
        text = f"{others} moved, by {format_days(most)} at most."
        said.append(Sentence(text, Fact("moved_too", tuple(rest), (most,)), under=CHANGED, source=FROM_HISTORY))
    if not moved and basis.before is not None and basis.scope:
        what = "Its finish" if len(basis.scope) == 1 else "No finish"
        how = "did not move" if len(basis.scope) == 1 else "moved"
        text = f"{what} {how} since {basis.day(basis.since)}."
        said.append(Sentence(text, Fact("stayed", basis.scope), under=CHANGED, source=FROM_HISTORY))
    return [*said, *(s for p in shown[:MOST_PROJECTS] for s in _causes(basis, p))]


def finishes_moved(basis: Basis) -> dict[str, int]:
    """By project the working minutes, on its calendar, by which its finish is later (or less than none, sooner) than
    when the days of the report began; those that did not move are left out."""
    if basis.before is None:
        return {}
    found = {}
    for project in basis.projects():
        now, then = basis.schedule.project_finish.get(project.id), basis.before.project_finish.get(project.id)
        if now is None or then is None or now == then:
            continue
        by = working_minutes(basis.schedule, project.calendar, min(now, then), max(now, then))
        if by:
            found[project.id] = by if now > then else -by
    return found


def _finish(basis: Basis, project: str, by: int) -> Sentence:
    plan = basis.plan
    finish = basis.schedule.project_finish[project]
    assert finish is not None
    units, row = units_of(plan, project), next((r for r in basis.rows if r.project == project), None)
    how = "later" if by > 0 else "sooner"
    text = (
        f"“{plan.projects[project].name}” finishes on {basis.last_day(finish)}, "
        f"{format_days(abs(by), units)} {how} than on {basis.day(basis.since)}"
    )
    room = None if row is None else row.status.room
    if plan.projects[project].target_finish is not None and room is not None:
        text += (
            f": {format_days(-room, units)} after its target" if room < 0
            else ": on its target" if room == 0
            else f": {format_days(room, units)} before its target"
        )  # fmt: skip
    tone = Tone.TROUBLE if by > 0 and room is not None and room < 0 else Tone.ATTENTION if by > 0 else Tone.PLAIN
    fact = Fact("finish", (project,), (finish, by, room))
    return Sentence(f"{text}.", fact, tone, CHANGED, FROM_HISTORY)


def causes_of(basis: Basis, project: str) -> list[DriftPart]:
    """What each edit of the days of the report moved the finish of a project by, those that moved it most first."""
    replayed = basis.replayed
    if replayed is None or project not in replayed.targets:
        return []
    then = int(replayed.of(project)[0])
    if then == NEVER:
        return []
    parts = drift_parts(basis.schedule, replayed, project, then)
    return sorted((p for p in parts if p.edit is not None), key=lambda p: -abs(p.minutes))


def _causes(basis: Basis, project: str) -> list[Sentence]:
    plan = basis.plan
    parts, units, name = causes_of(basis, project), units_of(plan, project), plan.projects[project].name
    said = []
    for part in parts[:MOST_CAUSES]:
        assert part.edit is not None
        how = "later" if part.minutes > 0 else "sooner"
        text = (
            f"“{name}” went {format_days(abs(part.minutes), units)} {how} by what {part.edit.who} did on "
            f"{basis.day(part.at)}: {_lowered(part.edit.words)}."
        )
        fact = Fact("cause", (project,), (part.edit.number, part.minutes))
        said.append(Sentence(text, fact, under=WHY, source=FROM_REPLAY))
    if len(parts) > MOST_CAUSES:
        rest = sum(p.minutes for p in parts[MOST_CAUSES:])
        how = "later" if rest > 0 else "sooner"
        by = f"{format_days(abs(rest), units)} {how} in all" if rest else "which evens out"
        text = f"And {count_of(len(parts) - MOST_CAUSES, 'smaller change')} of “{name}”, {by}."
        fact = Fact("causes_too", (project,), (len(parts) - MOST_CAUSES, rest))
        said.append(Sentence(text, fact, under=WHY, source=FROM_REPLAY))
    return said


def _lowered(words: str) -> str:
    """The words of an edit within a sentence, without a full stop of their own."""
    text = words.strip().rstrip(".")
    return text[:1].lower() + text[1:] if text[1:2].islower() or text[1:2] == " " else text


def told_sentences(basis: Basis) -> list[Sentence]:
    """How many tasks were begun and finished in these days, which milestones were reached, and who said so."""
    done = [t for t in basis.leaves if is_within(basis, t.actual_finish) and t.is_done]
    begun = [t for t in basis.leaves if is_within(basis, t.actual_start) and not is_milestone(t)]
    marks = [t for t in done if is_milestone(t)]
    tasks = [t for t in done if not is_milestone(t)]
    said = []
    if tasks or begun:
        text = f"{count_of(len(tasks), 'task')} {'was' if len(tasks) == 1 else 'were'} finished and {len(begun)} begun"
        who = tellers(basis)
        text += f"; told by {listed(who)}." if who else "."
        fact = Fact("told", (), (len(tasks), len(begun), *who))
        said.append(Sentence(text, fact, under=CHANGED, source=FROM_TOLD))
    if marks:
        what = "milestone was" if len(marks) == 1 else "milestones were"
        text = f"{len(marks)} {what} reached: {listed([name_of(basis, t.id) for t in marks])}."
        fact = Fact("reached", tuple(t.id for t in marks), (len(marks),))
        said.append(Sentence(text, fact, under=CHANGED, source=FROM_TOLD))
    return said


def tellers(basis: Basis) -> list[str]:
    """Who told progress of its tasks in these days, those who told most first."""
    counts: Counter[str] = Counter()
    for edit, _, changes in basis.steps:
        for old, new in changes.tasks:
            if new is None or old is None or new.project not in basis.inside:
                continue
            if (old.actual_start, old.actual_finish, old.percent, old.remaining) != (
                new.actual_start, new.actual_finish, new.percent, new.remaining,
            ):  # fmt: skip
                counts[edit.who] += 1
    return [who for who, _ in sorted(counts.items(), key=lambda pair: (-pair[1], pair[0]))][:MOST_NAMES]


def is_within(basis: Basis, at: int | None) -> bool:
    """Whether a moment lies in the days of the report."""
    return at is not None and basis.since <= at < basis.until


def name_of(basis: Basis, task_id: str) -> str:
    """The name of a task in quotes; with that of its project where the report is of several."""
    task = basis.plan.tasks[task_id]
    if len(basis.scope) == 1:
        return f"“{task.name}”"
    return f"“{task.name}” of “{basis.plan.projects[task.project].name}”"


def listed(names: list[str], most: int = MOST_NAMES) -> str:
    """``a, b and c``; of many the first ones, ``and 5 more``."""
    if len(names) > most:
        return f"{', '.join(names[:most])} and {len(names) - most} more"
    return names[0] if len(names) == 1 else f"{', '.join(names[:-1])} and {names[-1]}" if names else ""
