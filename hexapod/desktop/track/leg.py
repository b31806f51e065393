"""The Track leg: the round, own work, stages, hours, money, drift and value, and what needs attention."""

from __future__ import annotations

from typing import TYPE_CHECKING, Any, cast

from hexapod.desktop.frame.parts_leg import PartsLeg

if TYPE_CHECKING:
    from hexapod.desktop.track.consequences import Consequences
    from hexapod.desktop.track.round_table import RoundTable
    from hexapod.desktop.track.round_view import RoundView

ROUND = "round"
PARTS = {
    ROUND: ("Round", "track.round_view", "RoundView"),
    "mine": ("Mine", "track.mine_view", "MineView"),
    "stages": ("Stages", "track.stages_view", "StagesView"),
    "hours": ("Hours", "track.hours_view", "HoursView"),
    "money": ("Money", "track.money_view", "MoneyView"),
    "drift": ("Drift", "track.drift_view", "DriftView"),
    "value": ("Value", "track.value_view", "ValueView"),
    "attention": ("Attention", "track.attention_view", "AttentionView"),
}


class TrackLeg(PartsLeg):
    name, parts, sides = "track", PARTS, {ROUND: "round"}

    # The round, of which the window asks more

    @property
    def round(self) -> RoundView:
        return cast("RoundView", self[ROUND])

    @property
    def table(self) -> RoundTable:
        return self.round.table

    @property
    def work(self) -> Any:
        return self._desk.round

    @property
    def consequences(self) -> Consequences:
        return self.round.consequences

    def take(self) -> None:
        self.round.take()
