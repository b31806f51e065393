"""A round through 10,000 tasks: from an answer to its consequences, and how long it takes to open."""

from __future__ import annotations

import time
from collections.abc import Iterator

from msgspec.structs import replace

from bench.plans import large_plan
from bench.timing import Row, aimed, percentile
from hexapod.control.round import AS_PLANNED, Answer, What, questions
from hexapod.desktop.models.outlook import Outlook, Round, outlook_of
from hexapod.plan.plan import Plan
from hexapod.schedule.engine import schedule
from hexapod.schedule.schedule import Schedule

ANSWERS = 100


def rows() -> Iterator[Row]:
    plan = large_plan(10_000, calendars=5)
    now = _up_to_the_middle(plan)
    project = next(iter(now.plan.projects))
    at = (now.plan.projects[project].status_date or 0) + 7 * 1440
    asked = tuple(questions(now, project, at))
    if not asked:
        return
    all_asked = Round(now.plan, now, project, at, asked, frozenset(), "me", at)
    began = time.perf_counter()
    known: Outlook = outlook_of(all_asked, {}, None)
    opened = (time.perf_counter() - began) * 1000
    answers: dict[str, Answer] = {}
    times = []
    for i, question in enumerate(asked[:ANSWERS]):
        answers[question.task] = Answer(What.LEFT, amount=480) if i % 3 else AS_PLANNED
        began = time.perf_counter()
        known = outlook_of(all_asked, answers, known)
        _ = known.after.standing.late
        times.append((time.perf_counter() - began) * 1000)
    yield aimed("a round, 10,000 tasks: an answer to its consequences (p95)", percentile(times, 0.95), 60)
    yield aimed(f"a round, 10,000 tasks: what {len(asked)} questions come to as planned", opened, 1000)


def _up_to_the_middle(plan: Plan) -> Schedule:
    """Half of all tasks told as planned, up to where the other half begins."""
    dates = schedule(plan)
    leaves = [t for t in plan.tasks if not plan.is_summary(t)]
    leaves.sort(key=lambda t: dates.start[dates.slots[t]])
    status = int(dates.start[dates.slots[leaves[len(leaves) // 2]]])
    draft = plan.draft()
    for project in plan.projects.values():
        draft.put(replace(project, status_date=status))
    for task in leaves[: len(leaves) // 2]:
        start, finish = (int(column[dates.slots[task]]) for column in (dates.start, dates.finish))
        end = finish if finish <= status else None
        draft.put(replace(plan.tasks[task], actual_start=start, actual_finish=end, percent=100.0 if end else 50.0))
    return schedule(draft.finish()[0])
