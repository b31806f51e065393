"""What the desk holds of the legs Track, Try and Tell: the round, own work, stages, hours, chances and more. Each
is made when somebody first looks at it."""

from __future__ import annotations

from functools import cached_property
from typing import TYPE_CHECKING, cast

if TYPE_CHECKING:
    from hexapod.desktop.models.attention import AttentionWork
    from hexapod.desktop.models.beside import BesideWork
    from hexapod.desktop.models.calendar_folder import CalendarFolder
    from hexapod.desktop.models.chances import ChancesWork
    from hexapod.desktop.models.desk import Desk
    from hexapod.desktop.models.drift import DriftWork
    from hexapod.desktop.models.forms import FormsWork
    from hexapod.desktop.models.hours import HoursWork
    from hexapod.desktop.models.milestones import MilestonesWork
    from hexapod.desktop.models.mine import MineWork
    from hexapod.desktop.models.money import MoneyWork
    from hexapod.desktop.models.notices import NoticesWork
    from hexapod.desktop.models.page import PageWork
    from hexapod.desktop.models.portfolio import PortfolioWork
    from hexapod.desktop.models.reports import ReportsWork
    from hexapod.desktop.models.requests import RequestsWork
    from hexapod.desktop.models.risks import RisksWork
    from hexapod.desktop.models.round import RoundWork
    from hexapod.desktop.models.scenarios import ScenariosWork
    from hexapod.desktop.models.stages import StagesWork
    from hexapod.desktop.models.value import ValueWork
    from hexapod.desktop.models.ways import WaysWork

EVERY_PROJECT = ""  # where no single one is meant


class Works:
    """A part of the desk."""

    @property
    def _desk(self) -> Desk:
        return cast("Desk", self)

    @cached_property
    def round(self) -> RoundWork:
        """The round that is under way, once somebody looks at it."""
        from hexapod.desktop.models.round import RoundWork

        return RoundWork(self._desk)

    @cached_property
    def mine(self) -> MineWork:
        """Whose work is looked at, and who I am."""
        from hexapod.desktop.models.mine import MineWork

        return MineWork(self._desk)

    @cached_property
    def stages(self) -> StagesWork:
        """The board of stages, as it is on show."""
        from hexapod.desktop.models.stages import StagesWork

        return StagesWork(self._desk)

    @cached_property
    def attention(self) -> AttentionWork:
        """What needs somebody."""
        from hexapod.desktop.models.attention import AttentionWork

        return AttentionWork(self._desk)

    @cached_property
    def notices(self) -> NoticesWork:
        """What people are told by mail."""
        from hexapod.desktop.models.notices import NoticesWork

        return NoticesWork(self._desk)

    @cached_property
    def hours(self) -> HoursWork:
        """Hours that were logged, and the clock that runs."""
        from hexapod.desktop.models.hours import HoursWork

        return HoursWork(self._desk)

    @cached_property
    def drift(self) -> DriftWork:
        """What moved since a baseline, and which edits made it move."""
        from hexapod.desktop.models.drift import DriftWork

        return DriftWork(self._desk)

    @cached_property
    def money(self) -> MoneyWork:
        """Money by period, and what its figures are made of."""
        from hexapod.desktop.models.money import MoneyWork

        return MoneyWork(self._desk)

    @cached_property
    def value(self) -> ValueWork:
        """What was planned, earned and spent."""
        from hexapod.desktop.models.value import ValueWork

        return ValueWork(self._desk)

    @cached_property
    def forms(self) -> FormsWork:
        """Forms for people without this program, and what of them came back."""
        from hexapod.desktop.models.forms import FormsWork

        return FormsWork(self._desk)

    @cached_property
    def chances(self) -> ChancesWork:
        """How sure the dates are."""
        from hexapod.desktop.models.chances import ChancesWork

        return ChancesWork(self._desk)

    @cached_property
    def risks(self) -> RisksWork:
        """The register of risks."""
        from hexapod.desktop.models.risks import RisksWork

        return RisksWork(self._desk)

    @cached_property
    def scenarios(self) -> ScenariosWork:
        """What is tried out beside the plan."""
        from hexapod.desktop.models.scenarios import ScenariosWork

        return ScenariosWork(self._desk)

    @cached_property
    def portfolio(self) -> PortfolioWork:
        """All projects at a glance."""
        from hexapod.desktop.models.portfolio import PortfolioWork

        return PortfolioWork(self._desk)

    @cached_property
    def reports(self) -> ReportsWork:
        """The report that is on show."""
        from hexapod.desktop.models.reports import ReportsWork

        return ReportsWork(self._desk)

    @cached_property
    def requests(self) -> RequestsWork:
        """What somebody asks for before there is a project."""
        from hexapod.desktop.models.requests import RequestsWork

        return RequestsWork(self._desk)

    @cached_property
    def calendar_folder(self) -> CalendarFolder:
        """Calendar files that follow the plan."""
        from hexapod.desktop.models.calendar_folder import CalendarFolder

        return CalendarFolder(self._desk)

    @cached_property
    def page(self) -> PageWork:
        """The page for people without the program."""
        from hexapod.desktop.models.page import PageWork

        return PageWork(self._desk)

    @cached_property
    def milestones(self) -> MilestonesWork:
        """The milestones of all projects."""
        from hexapod.desktop.models.milestones import MilestonesWork

        return MilestonesWork(self._desk)

    @cached_property
    def range_beside(self) -> BesideWork:
        """What is laid over the range that is looked at."""
        from hexapod.desktop.models.beside import BesideWork

        return BesideWork(self._desk)

    @cached_property
    def ways(self) -> WaysWork:
        """What something would take."""
        from hexapod.desktop.models.ways import WaysWork

        return WaysWork(self._desk)

    def stop_works(self) -> None:
        """End what goes on beside the interface."""
        if "drift" in vars(self):
            self.drift.stop()
        if "chances" in vars(self):
            self.chances.stop()
        if "scenarios" in vars(self):
            self.scenarios.stop()
        if "ways" in vars(self):
            self.ways.stop()
