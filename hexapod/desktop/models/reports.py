"""The report on show: which one, of what, of which days. It is made beside the interface, and anew with the plan."""

from __future__ import annotations

from dataclasses import dataclass, replace
from pathlib import Path
from typing import TYPE_CHECKING

from PyQt6.QtCore import QObject, pyqtSignal

from hexapod.desktop.models.background import in_background
from hexapod.desktop.models.made_of import MadeOf
from hexapod.desktop.models.scopes import DEPARTMENT, EVERY, PROJECT, meant_by, scopes_of
from hexapod.desktop.models.wording import words
from hexapod.errors import EditRefused, HexapodError
from hexapod.plan import edits
from hexapod.plan.kept import KeptReport, reports_in_order
from hexapod.plan.records import DAY
from hexapod.schedule.schedule import computed_dates
from hexapod.worktime import clock

if TYPE_CHECKING:
    from hexapod.desktop.models.desk import Desk
    from hexapod.reports.report import Asked, Report

KEPT = "kept:"
SPANS = {7: "the last 7 days", 14: "the last 2 weeks", 28: "the last 4 weeks", 91: "the last 3 months"}


@dataclass(frozen=True)
class Wish:
    """What report is wanted. ``until`` is the end of its days in minutes, None for today; ``projects`` none: those of
    the ``department``, or all."""

    title: str
    parts: tuple[str, ...]
    heading: str = ""
    text: str = ""
    projects: tuple[str, ...] = ()
    department: str = ""
    days: int = 7
    until: int | None = None
    outside: bool = False

    def before(self) -> Wish:
        """The same of the days before."""
        end = (clock.now() // DAY + 1) * DAY if self.until is None else self.until
        return replace(self, until=end - self.days * DAY)


class ReportsWork(QObject):
    """``report`` is what is on show, None until it is made; ``earlier`` the same of the days before, while that is
    wanted. ``changed`` says that a report, or what is wanted, is another; ``asked`` is what somebody points at."""

    changed = pyqtSignal()
    asked_changed = pyqtSignal()

    def __init__(self, desk: Desk) -> None:
        super().__init__(desk)
        self._desk = desk
        self.chosen = desk.memory.recall("report", str, "monday")
        self.is_beside = False
        self.as_panels = desk.memory.recall("report_panels", bool, False)
        self.report: Report | None = None
        self.earlier: Report | None = None
        self.trouble = self.earlier_trouble = ""
        self.asked: Asked | None = None
        self._made_of: dict[str, MadeOf] = {}  # what each is made of, or being made of
        self.wish = self._first_wish()

    def _first_wish(self) -> Wish:
        from hexapod.reports.catalogue import REPORTS

        kept = self._desk.plan.reports.get(self.chosen.removeprefix(KEPT))
        if self.chosen.startswith(KEPT) and kept is not None:
            return wish_of(kept)
        kind = REPORTS.get(self.chosen, REPORTS["monday"])
        self.chosen = kind.id
        return Wish(kind.title, kind.parts, days=kind.days)

    # Choosing

    def choices(self) -> list[tuple[str, str]]:
        """Kept reports first, then those that there are."""
        from hexapod.reports.catalogue import REPORTS

        kept = [(f"{KEPT}{r.id}", r.name) for r in reports_in_order(self._desk.plan.reports.values())]
        return [*kept, *((kind.id, kind.title) for kind in REPORTS.values())]

    def scopes(self) -> list[tuple[str, str]]:
        """Of what it can be."""
        return scopes_of(self._desk.plan)

    @property
    def scope(self) -> str:
        """Of what the wish is, as ``scopes`` names it."""
        if len(self.wish.projects) == 1:
            return f"{PROJECT}{self.wish.projects[0]}"
        return f"{DEPARTMENT}{self.wish.department}" if self.wish.department else EVERY

    def choose(self, chosen: str) -> None:
        """Another report; of what it is stays, but for a kept one."""
        before = self.wish
        self.chosen = chosen
        self._desk.memory.keep("report", chosen)
        wish = self._first_wish()
        if not chosen.startswith(KEPT):
            wish = replace(wish, projects=before.projects, department=before.department)
        self.want(wish)

    def choose_scope(self, scope: str) -> None:
        projects, department = meant_by(scope)
        self.want(replace(self.wish, projects=projects, department=department))

    def choose_days(self, days: int) -> None:
        """The last so many days."""
        self.want(replace(self.wish, days=days, until=None))

    def choose_span(self, first: int, last: int) -> None:
        """From a day to a day (since 1970-01-01). ``EditRefused`` where they are none that can be told of."""
        today = clock.now() // DAY
        if last < first:
            raise EditRefused("The last day comes before the first one.")
        if first > today:
            raise EditRefused("These days are still to come.")
        last = min(last, today)
        self.want(replace(self.wish, days=last - first + 1, until=None if last == today else (last + 1) * DAY))

    @property
    def span(self) -> tuple[int, int]:
        """The first and the last day of the report."""
        end = clock.now() // DAY + 1 if self.wish.until is None else self.wish.until // DAY
        return end - self.wish.days, end - 1

    def want(self, wish: Wish) -> None:
        self.wish = wish
        self.asked = None
        self.changed.emit()

    def show_beside(self, wanted: bool) -> None:
        """The same report of the days before, beside it."""
        self.is_beside = wanted
        self.changed.emit()

    def show_panels(self, wanted: bool) -> None:
        """Its parts as panels beside one another, or as pages."""
        self.as_panels = wanted
        self._desk.memory.keep("report_panels", wanted)
        self.changed.emit()

    def ask(self, asked: Asked | None) -> None:
        if asked != self.asked:
            self.asked = asked
            self.asked_changed.emit()

    # Making

    def look(self) -> None:
        """Make what is wanted, where it is not made or under way already."""
        self._make("report", self.wish)
        if self.is_beside:
            self._make("earlier", self.wish.before())

    def _make(self, name: str, wish: Wish) -> None:
        desk = self._desk
        known = computed_dates(desk.schedule)
        if known is None:
            return
        made_of = MadeOf(known, (wish, clock.now() // DAY))
        if made_of.is_same(self._made_of.get(name)):
            return
        self._made_of[name] = made_of
        history, load = list(desk.session.history), desk.load
        demand, session, said = (None if load is None else load.demand), desk.session, words()

        def work() -> object:
            from hexapod.reporting import basis_of
            from hexapod.reports.basis import outside_basis
            from hexapod.reports.catalogue import make_report

            basis = basis_of(
                session, days=wish.days, until=wish.until, projects=wish.projects, department=wish.department,
                words=said, known=known, history=history, demand=demand,
            )  # fmt: skip
            if wish.outside:
                basis = outside_basis(basis)
            return make_report(basis, wish.parts, wish.title, heading=wish.heading, text=wish.text)

        def show(found: object, trouble: str = "") -> None:
            if self._made_of.get(name) is not made_of:
                return
            setattr(self, name, found)
            setattr(self, "trouble" if name == "report" else "earlier_trouble", trouble)
            self.changed.emit()

        def fail(error: Exception) -> None:
            is_ours = isinstance(error, HexapodError)
            show(None, str(error) if is_ours else "The report could not be made.")

        in_background(self, work, show, fail)

    # Keeping

    @property
    def kept(self) -> KeptReport | None:
        """The kept report that was chosen."""
        return self._desk.plan.reports.get(self.chosen.removeprefix(KEPT)) if self.chosen.startswith(KEPT) else None

    def keep(self, name: str) -> None:
        """Keep what is on show under a name."""
        wish = self.wish
        record = KeptReport(
            edits.new_id(), name.strip(), "", wish.parts, wish.heading, wish.text, wish.projects, wish.department,
            wish.days, wish.outside,
        )  # fmt: skip
        if self._desk.do(edits.keep_report(self._desk.plan, record)):
            kept = next(r for r in self._desk.plan.reports.values() if r.name.casefold() == name.strip().casefold())
            self.choose(f"{KEPT}{kept.id}")

    def forget(self) -> None:
        """The kept report that was chosen is not kept any more; what it shows stays on show."""
        kept = self.kept
        if kept is not None and self._desk.do(edits.forget_report(self._desk.plan, kept.id)):
            self.choose("monday")

    # Writing

    def file_name(self, ending: str) -> str:
        """What a file of it is called: its title and its last day."""
        from hexapod.worktime.clock import date_of

        title = "".join(c if c.isalnum() or c in " -_" else " " for c in self.wish.heading or self.wish.title)
        return f"{' '.join(title.split())[:80] or 'Report'} {date_of(self.span[1]).isoformat()}{ending}"

    @property
    def folder(self) -> Path:
        """Where it was written last."""
        kept = Path(self._desk.memory.recall("report_folder", str, ""))
        return kept if kept.is_absolute() and kept.is_dir() else self._desk.session.workspace.path.parent

    def wrote(self, path: Path) -> None:
        self._desk.memory.keep("report_folder", str(path.parent))
        self._desk.memory.keep("report_ending", path.suffix.lower())


def wish_of(kept: KeptReport) -> Wish:
    """What a kept report asks for, of today."""
    return Wish(
        kept.name, kept.parts, kept.heading, kept.text, kept.projects, kept.department, kept.days, None, kept.outside
    )  # fmt: skip
