"""What the rounds say, as sentences."""

from __future__ import annotations

from hexapod.desktop import dates
from hexapod.desktop.currency import currency
from hexapod.desktop.models.chances import ChancesWork
from hexapod.outlook.chances import Chances
from hexapod.outlook.meeting import worst_meeting
from hexapod.outlook.words import NEVER, chance_words, share_words
from hexapod.worktime.lengths import format_days


def headline(name: str, chances: Chances, planned: int | None, target: int | None) -> str:
    """The question that the plan or its target asks, and its answer."""
    asked = planned if target is None else target
    if asked is None:
        return f"“{name}”: half the time by {dates.long_day(chances.quantile(0.5))}."
    chance = chances.chance_by(asked)
    said = chance_words(chance)
    said = f"only {said}" if NEVER <= chance < 0.5 else said
    return f"“{name}” by {dates.long_day(asked)}? {said[0].upper()}{said[1:]}."


def reasons(work: ChancesWork, chances: Chances) -> str:
    """The date that is sure enough, why the plan is not, and how sure the figures are."""
    outlook = work.outlook
    assert outlook is not None
    sure, finish = chances.quantile(work.share), work.planned()
    said = [f"{share_words(work.share).capitalize()} by {dates.long_day(sure)}"]
    error = chances.error_of_quantile(work.share) / 1440
    if error >= 0.5:
        said[0] += f" (give or take {error:.0f} d: more rounds make it surer)"
    if finish is not None and work.wanted_by() is not None:
        holds = chance_words(chances.chance_by(finish))
        said.append(f"the plan's own date, {dates.short_day(finish)}, holds {holds}")
    meeting = worst_meeting(outlook, work.project or "")
    if meeting is not None and finish is not None and chances.chance_by(finish) < 0.5:
        name = outlook.found.schedule.plan.tasks[meeting.task].name
        later = format_days(meeting.later)
        said.append(f"{meeting.chains} chains meet at “{name}”, and the latest one counts: {later} on average")
    costs = work.costs()
    if costs is not None:
        say, most = currency(), costs.chances.quantile(work.share)
        planned = say.short(costs.planned)
        said.append(f"what is left costs {planned} as planned, {share_words(work.share)} hold {say.short(most)}")
    rounds = f"{chances.rounds:,} rounds, seed {outlook.found.seed}"
    return "; ".join(said) + f". {rounds}."
