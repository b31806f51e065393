"""Edits of hours: what was worked on a task, corrections, and the sheets in which people hand their weeks in."""

from __future__ import annotations

from collections.abc import Iterable, Sequence

from msgspec.structs import replace

from hexapod.errors import EditRefused
from hexapod.plan.accounts import Log, Sheet, SheetState, WeekKey
from hexapod.plan.edits.edit import Edit, new_id, quoted, removing
from hexapod.plan.plan import Draft, Plan
from hexapod.plan.records import DAY

CLOSED = (SheetState.HANDED_IN, SheetState.APPROVED)


def save_logs(plan: Plan, logs: Sequence[Log]) -> Edit:
    """Add logs, or change those with their ids. ``EditRefused`` in a week that is handed in or approved, or where a
    person's day gets more hours than it has."""
    refuse_closed(plan, [log.week for log in logs])
    refuse_closed(plan, [plan.logs[log.id].week for log in logs if log.id in plan.logs])
    _refuse_long_days(plan, logs)

    def change(draft: Draft) -> None:
        for log in logs:
            draft.put(log)

    return Edit(f"{hours_words(sum(log.minutes for log in logs))} on {_tasks(plan, logs)}", change)


def remove_logs(plan: Plan, log_ids: Iterable[str]) -> Edit:
    """Take hours out that nobody has approved yet."""
    logs = [plan.log(log_id) for log_id in log_ids]
    refuse_closed(plan, [log.week for log in logs])
    words = f"Take out {hours_words(sum(log.minutes for log in logs))} on {_tasks(plan, logs)}"
    return removing(words, "logs", [log.id for log in logs])


def correct(plan: Plan, log: Log) -> Edit:
    """A row of its own that corrects hours which are approved, or handed in: more, or less than none."""
    name = plan.resource(log.resource).name
    words = f"Correct the hours of {name} on “{plan.task(log.task).name}” by {hours_words(log.minutes)}"
    _refuse_long_days(plan, [log])
    return Edit(words, lambda draft: draft.put(log))


def hand_in(plan: Plan, week: WeekKey, by: str) -> Edit:
    """A person's week is complete, even an empty one."""
    return _moved(plan, week, SheetState.HANDED_IN, by, "", "Hand in", (SheetState.OPEN, SheetState.SENT_BACK))


def take_sheet_back(plan: Plan, week: WeekKey, by: str) -> Edit:
    """What was handed in and not yet approved is open again."""
    return _moved(plan, week, SheetState.OPEN, by, "", "Take back", (SheetState.HANDED_IN,))


def approve(plan: Plan, week: WeekKey, by: str) -> Edit:
    """The hours of a week count as they are: none of them is changed any more."""
    return _moved(plan, week, SheetState.APPROVED, by, "", "Approve", (SheetState.HANDED_IN,))


def send_back(plan: Plan, week: WeekKey, by: str, word: str) -> Edit:
    """A week goes back to whoever wrote it, with a word about why; its hours count no longer until it comes again."""
    if not word.strip():
        raise EditRefused("A sheet that goes back needs a word about why.")
    return _moved(plan, week, SheetState.SENT_BACK, by, word.strip(), "Send back", CLOSED)


def refuse_closed(plan: Plan, weeks: Iterable[WeekKey]) -> None:
    """``EditRefused`` for a week whose hours are with somebody else, or approved."""
    for week in weeks:
        sheet = plan.sheet_in(week)
        if sheet is None or sheet.state not in CLOSED:
            continue
        name = plan.resources[week[0]].name
        if sheet.state is SheetState.APPROVED:
            raise EditRefused(f"That week of {name} is approved: write a correction, which is a row of its own.")
        raise EditRefused(f"That week of {name} is handed in: take it back first, or write a correction.")


def hours_words(minutes: int) -> str:
    """``2 h``, ``1.5 h``, ``0:20 h`` for what is no quarter of an hour."""
    if minutes % 15:
        sign = "−" if minutes < 0 else ""
        return f"{sign}{abs(minutes) // 60}:{abs(minutes) % 60:02} h"
    return f"{minutes / 60:g} h".replace("-", "−")


def _moved(
    plan: Plan, week: WeekKey, state: SheetState, by: str, word: str, verb: str, allowed: Sequence[SheetState]
) -> Edit:
    resource, monday = week
    name = plan.resource(resource).name
    old = plan.sheet_in(week)
    now = SheetState.OPEN if old is None else old.state
    if now not in allowed:
        raise EditRefused(f"That week of {name} is {state_words(now)}.")
    fields = {"state": state, "by": by, "word": word}
    sheet = Sheet(new_id(), resource, monday) if old is None else old
    return Edit(f"{verb} a week of {name}", lambda draft: draft.put(replace(sheet, **fields)))


def state_words(state: SheetState) -> str:
    return {
        SheetState.OPEN: "not handed in",
        SheetState.HANDED_IN: "handed in",
        SheetState.APPROVED: "approved",
        SheetState.SENT_BACK: "sent back",
    }[state]


def _refuse_long_days(plan: Plan, logs: Sequence[Log]) -> None:
    ids = {log.id for log in logs}
    for log in logs:
        if log.minutes > DAY:
            raise EditRefused(f"{hours_words(log.minutes)} are more than a day has.")
    for (resource, day), minutes in _minutes_by_day(logs).items():
        week = next(log.week for log in logs if (log.resource, log.day) == (resource, day))
        there = (plan.logs[log_id] for log_id in plan.logs_in.get(week, ()) if log_id not in ids)
        total = minutes + sum(log.minutes for log in there if log.day == day)
        if total > DAY:
            raise EditRefused(f"{plan.resource(resource).name} would have {hours_words(total)} on one day.")


def _minutes_by_day(logs: Sequence[Log]) -> dict[tuple[str, int], int]:
    found: dict[tuple[str, int], int] = {}
    for log in logs:
        found[(log.resource, log.day)] = found.get((log.resource, log.day), 0) + log.minutes
    return found


def _tasks(plan: Plan, logs: Sequence[Log]) -> str:
    return quoted(list(dict.fromkeys(plan.task(log.task).name for log in logs)), "tasks") if logs else "nothing"
