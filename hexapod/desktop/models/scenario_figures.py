"""What a plan or a scenario comes to, worked out beside the interface: its figures, how it stands, and what each of its
edits does."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from typing import TYPE_CHECKING

from hexapod.errors import HexapodError

if TYPE_CHECKING:
    from hexapod.outlook.chances import Outlook
    from hexapod.outlook.figures import Figures
    from hexapod.outlook.merge import Merged
    from hexapod.scenarios import ScenarioSession
    from hexapod.schedule.schedule import Schedule
    from hexapod.session import Session

ROUNDS = 1000  # of each column, for the date that is sure enough
MOST_DRAWN = 10_000_000  # tasks x rounds


@dataclass(frozen=True)
class Effect:
    """What one edit of a scenario did beside those before it: tasks that it moved, finishes that it changed (by project
    from when to when), and what it added: hours of work, money, hours of overload, hours that roles are short of."""

    moved: int
    finishes: Mapping[str, tuple[int | None, int | None]]
    hours: float
    cost: int
    overload: float
    short: float


@dataclass(frozen=True)
class Known:
    """``behind`` counts the edits of the plan since the one that it stands on; ``merged`` is what bringing it to the
    plan would make of it, None where it is there."""

    figures: Figures
    behind: int
    merged: Merged | None


def worked_out(session: Session, today: int, share: float, with_rounds: bool) -> Known:
    """Of the plan, or of a scenario; ``today`` is a day, ``share`` how sure is sure enough."""
    from hexapod.outlook.figures import figures_of
    from hexapod.scenarios import ScenarioSession

    dates = session.compute()
    before, behind, merged = None, 0, None
    if isinstance(session, ScenarioSession):
        before, behind = session.base_dates(), len(session.moved_on())
        merged = session.merged() if behind else None
    return Known(
        figures_of(dates, today, before=before, rounds=_rounds(dates) if with_rounds else None, share=share),
        behind,
        merged,
    )


def _rounds(dates: Schedule) -> Outlook | None:
    """Few rounds, with the same numbers drawn in every column; None where nothing may come otherwise."""
    from hexapod.outlook.chances import Outlook
    from hexapod.outlook.simulation import simulate

    plan = dates.plan
    if not any(r.may_happen for r in plan.risks.values()) and not any(t.estimate for t in plan.tasks.values()):
        return None
    rounds = max(100, min(ROUNDS, MOST_DRAWN // max(1, dates.network.size)))
    try:
        return Outlook(simulate(dates, rounds, 1, threads=1))
    except HexapodError:
        return None


def effects_of(session: ScenarioSession, today: int) -> dict[int, Effect]:
    """What each edit did beside those before it."""
    from hexapod.outlook.figures import figures_of
    from hexapod.plan.changes import diff
    from hexapod.schedule.engine import reschedule
    from hexapod.schedule.shift import shift

    steps, now_is = session.steps(), session.compute()
    begun = session.home.plan_after(steps[0].base or 0)
    before = reschedule(now_is, begun, diff(now_is.plan, begun))
    figures = figures_of(before, today)
    found = {}
    for step in steps:
        plan = session.workspace.plan_after(session.plan, step.row.number, 0)
        after = reschedule(before, plan, diff(before.plan, plan))
        now = figures_of(after, today)
        finishes = {
            p: (figures.finishes.get(p), end) for p, end in now.finishes.items() if figures.finishes.get(p) != end
        }
        found[step.row.number] = Effect(
            len(shift(before, after).slots), finishes, now.hours - figures.hours, now.cost - figures.cost,
            now.overload - figures.overload, now.short - figures.short,
        )  # fmt: skip
        before, figures = after, now
    return found
