"""What an edit would make of a plan: checked, and scheduled with all that follows from it. Nothing is changed yet.

``Session`` prepares edits and commits them. What looks before it leaps (a preview, the guard, a drag, an import) holds
the ``Prepared`` and commits that one, so that nothing is worked out twice.
"""

from __future__ import annotations

from dataclasses import dataclass

from msgspec.structs import replace

from hexapod.errors import CannotSchedule, EditRefused
from hexapod.plan.boarding import boarded
from hexapod.plan.changes import Changes
from hexapod.plan.edits import Edit
from hexapod.plan.edits.repeating import extend
from hexapod.plan.plan import Plan
from hexapod.plan.validity import check
from hexapod.schedule.schedule import Dates, Schedule, finishes_without
from hexapod.schedule.telling import told
from hexapod.staffing.holding import what_is_held
from hexapod.worktime import clock


@dataclass(frozen=True)
class Prepared:
    """An edit made on ``base``, whose dates are ``before``: the next plan, all that changes, and the next dates.

    The dates are those of ``before``, remembered, where the next plan has none: its links form a loop.
    """

    edit: Edit
    base: Plan
    before: Dates
    plan: Plan
    changes: Changes
    schedule: Dates

    @property
    def words(self) -> str:
        return self.edit.words


def prepare(
    edit: Edit, base: Plan, before: Dates, who: str, *, with_dates: bool = True, now: int | None = None
) -> Prepared:
    """What ``edit`` makes of ``base``, made by ``who``. ``changes`` are empty where it changes nothing.

    ``before`` are the dates of the base; where they are none, the next plan need not have any either: an edit is
    refused for what it breaks, not for what was broken before it. ``HexapodError`` if it is refused. Not
    ``with_dates`` it is not scheduled either, for who cannot wait for the kernels. ``now``, the minute that it is
    unless it is said, bounds the finish of what is told done.
    """
    if edit.settled:
        return prepare_again(edit, base, before, with_dates=with_dates)
    draft = base.draft()
    edit.change(draft)
    plan, changes = draft.finish()
    if not changes:
        return Prepared(edit, base, before, base, changes, before)
    check(plan, changes)
    plan, changes = _with_what_is_held(base, plan, changes)
    checked = changes
    followed = told(before, plan, boarded(plan, changes), clock.now() if now is None else now)
    if followed is not checked:
        changes = followed
        check(changes.applied_to(base), changes)
    changes = _signed(changes, who)
    plan = changes.applied_to(base) if changes.tasks else plan
    if not isinstance(before, Schedule):
        return Prepared(edit, base, before, plan, changes, _dates_if_any(plan, before) if with_dates else before)
    after, changes = _settled(before, plan, changes, who)
    return Prepared(edit, base, before, after.plan, changes, after)


def prepare_again(edit: Edit, base: Plan, before: Dates, *, with_dates: bool = True) -> Prepared:
    """What taking an edit back, or doing it again, makes of a plan. The way back is never barred, also to a plan that
    has no dates."""
    draft = base.draft()
    edit.change(draft)
    plan, changes = draft.finish()
    check(plan, changes)
    followed = told(before, plan, changes, clock.now())  # of edits from before actual dates were written
    if followed is not changes:
        changes = followed
        plan = changes.applied_to(base)
    if not isinstance(before, Schedule):
        return Prepared(edit, base, before, plan, changes, _dates_if_any(plan, before) if with_dates else before)
    from hexapod.schedule.engine import reschedule

    try:
        after: Dates = reschedule(before, plan, changes)
    except (EditRefused, CannotSchedule):
        after = before.remembered()
    return Prepared(edit, base, before, plan, changes, after)


def _dates_if_any(plan: Plan, otherwise: Dates) -> Dates:
    from hexapod.schedule.engine import schedule

    try:
        return schedule(plan)
    except (EditRefused, CannotSchedule):
        return otherwise


def _with_what_is_held(base: Plan, plan: Plan, changes: Changes) -> tuple[Plan, Changes]:
    """The edit with what follows from it for tasks that keep their effort."""
    edit = what_is_held(base, plan, changes)
    if edit is None:
        return plan, changes
    draft = plan.draft()
    edit.change(draft)
    held, more = draft.finish()
    check(held, more)
    return held, changes.then(more)


def _signed(changes: Changes, who: str) -> Changes:
    """The limits that an edit sets carry the name of who set them."""
    pairs = []
    for before, after in changes.tasks:
        if after is not None and any(not limit.by for limit in after.limits):
            known = before.limits if before is not None else ()
            limits = tuple(x if x.by or x in known else replace(x, by=who) for x in after.limits)
            after = replace(after, limits=limits)
        pairs.append((before, after))
    return replace(changes, tasks=tuple(pairs))


def _settled(before: Schedule, plan: Plan, changes: Changes, who: str) -> tuple[Schedule, Changes]:
    """The dates after an edit, and the edit with what it does to the gaps of links and to recurring work."""
    from hexapod.schedule.engine import reschedule
    from hexapod.schedule.gaps import kept_by, limits_to_stay

    after, more = kept_by(before, reschedule(before, plan, changes, keeping_gaps=True))
    changes = changes.then(more)
    after, changes = _followed(after, changes, limits_to_stay(before, after, changes), who)
    return _followed(after, changes, _longer_series(after), who)


def _followed(after: Schedule, changes: Changes, edit: Edit | None, who: str) -> tuple[Schedule, Changes]:
    """The dates and the changes with one more edit that follows from them; None is none."""
    if edit is None:
        return after, changes
    from hexapod.schedule.engine import reschedule

    draft = after.plan.draft()
    edit.change(draft)
    more = _signed(draft.finish()[1], who)
    return reschedule(after, more.applied_to(after.plan), more), changes.then(more)


def _longer_series(after: Schedule) -> Edit | None:
    """Recurring work without an end of its own goes on to the finish of its project."""
    return extend(after.plan, finishes_without(after, after.plan.series)) if after.plan.series else None
