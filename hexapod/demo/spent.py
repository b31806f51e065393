"""What the demo took and cost: rates, hours of six people, sheets, money, and durations that were changed on the way.

Rows are typed as a person would; days are as they are written in ``plans``.
"""

from __future__ import annotations

from collections.abc import Callable
from functools import partial

from msgspec.structs import replace

from hexapod.control.baselines import baseline_of
from hexapod.plan import edits
from hexapod.plan.accounts import Budget, EntryKind, Log, MoneyEntry, monday_of
from hexapod.plan.outline import task_at
from hexapod.plan.records import DAY, Resource
from hexapod.session import Session
from hexapod.worktime.clock import moment_of

# Initials and what an hour costs.
RATES = """
CT | 31.50
AF | 33
CV | 36
RO | 38.50
MA | 38.50
EQ | 36
TM | 39
MW | 34
DK | 42
IL | 38
HB | 35
YD | 44.50
LC | 46
IT | 33
JF | 48
NH | 48
MV | 26.75
GZ | 36.25
PL | 41
ST | 43
GD | 27.50
"""

# Who, row of the gallery, the Monday, hours from Monday on (- for none), and a note.
LOGS = """
RO | 1.1 | 2026-09-07 | 7:30 7:30 7 8 7:30 | Drawers 1 to 40
RO | 1.1 | 2026-09-14 | 7:30 7:30 6 | Moth in six drawers
JF | 1.2 | 2026-09-14 | - - - 3 3 | With the curators
DK | 1.2 | 2026-09-14 | - - - 4 4 |
JF | 1.2 | 2026-09-21 | 4 | Agreed
DK | 1.2 | 2026-09-21 | 5 |
DK | 1.3 | 2026-09-21 | - 7:30 7:30 7:30 8 |
YD | 1.4 | 2026-09-21 | - 8 8 7 8 |
HB | 1.5 | 2026-09-21 | - 6 6 6 6 |
DK | 1.3 | 2026-09-28 | 7:30 7:30 7:30 7:30 7:30 | Case drawings
YD | 1.4 | 2026-09-28 | 8 6 | Storyboard
YD | 4.1 | 2026-09-28 | - - 7 7 7 |
HB | 1.5 | 2026-09-28 | 6 6 6 6 6 | Labels of beetles and ants
RO | 2.4 | 2026-09-28 | 8 8 8 8 8 | Frozen again before they were cleaned
PL | 3.2 | 2026-09-28 | - - - - 8 |
DK | 1.3 | 2026-10-05 | 6 | Last sheets
JF | 1.6 | 2026-10-05 | - 7 6 | Two classes
YD | 4.1 | 2026-10-05 | 7 7 7 7 4 | Crickets, bees, water beetles
HB | 1.5 | 2026-10-05 | 6 6 6 6 5 |
RO | 2.4 | 2026-10-05 | 8 8 8 8 7 | Webbing in every fourth drawer
PL | 3.2 | 2026-10-05 | 8 8 7 8 8 | Tracks of the east wall
"""

# Who, the Monday, and how the sheet stands; a word where it went back.
SHEETS = """
RO | 2026-09-07 | approved |
RO | 2026-09-14 | approved |
JF | 2026-09-14 | approved |
DK | 2026-09-14 | approved |
JF | 2026-09-21 | approved |
DK | 2026-09-21 | approved |
YD | 2026-09-21 | approved |
HB | 2026-09-21 | approved |
RO | 2026-09-28 | handed in |
DK | 2026-09-28 | handed in |
YD | 2026-09-28 | sent back | Tuesday has 6 h on the storyboard, which was done on Monday
"""
APPROVES = "Project manager Nell Harrow"

# Row of the gallery, what, kind, planned or not, amount, day or first and last day: what was planned at first,
PLANNED = """
| Grant of the county fund | income | planned | 42000 | 2026-10-15 |
| Share of the partner school | invoiced | planned | 9000 | 2026-12-14 |
3 | Case glass | cost | planned | 24000 | 2026-11-16 |
3 | Light tracks and lamps | cost | planned | 5200 | 2026-10-05 |
2 | Colony tank | cost | planned | 7400 | 2026-11-02 |
"""
# and what came of it.
CAME = """
| Grant of the county fund, first part | income | | 21000 | 2026-10-02 |
| Share of the partner school, first part | invoiced | | 3000 | 2026-09-30 |
3 | Case glass, paid at the order | cost | | 18900 | 2026-10-06 |
3 | Light tracks and lamps | cost | | 5650 | 2026-10-05 |
2 | Freezer bags and traps | cost | | 480 | 2026-09-17 |
2 | Second freezing | cost | | 1150 | 2026-09-29 |
4 | Sound library | cost | | 390 | 2026-10-01 | 2026-12-31
"""
REST_OF = ("Case glass", "Case glass, rest at delivery", 5100_00)  # an entry that was changed when a part was paid
# Row of the gallery, first and last day, amount.
BUDGETS = """
| | | 105000
| 2026-09-01 | 2026-09-30 | 16000
| 2026-10-01 | 2026-10-31 | 32000
| 2026-11-01 | 2026-11-30 | 38000
| 2026-12-01 | 2026-12-31 | 12000
3 | | | 56000
"""

# Row of the gallery, how long it was at first, and when who changed it to what it is now.
CHANGED = """
3.3 | 8d | 2026-09-24 | Joiner Corin Vasper
5.4 | 8d | 2026-10-01 | Climate engineer Sabe Thorne
6.3 | 4d | 2026-10-05 | Project manager Joss Ferro
6.1 | 5d | 2026-10-07 | Project manager Joss Ferro
"""


class Spender:
    """Types in what ``session`` took and cost; ``at`` makes a moment of a day that is written and a minute of it."""

    def __init__(self, session: Session, at: Callable[[str, int], int]) -> None:
        self._session, self._at = session, at

    def set_rates(self) -> None:
        for initials, rate in _cells(RATES):
            resource = self._who(initials)
            money = round(float(rate) * 100)
            self._session.apply(edits.save_resource(self._session.plan, replace(resource, rate=money)))

    def keep_baselines(self, now: int) -> None:
        """The first plan of each project, before anything of it was done."""
        for project in self._session.plan.projects_in_order():
            baseline = baseline_of(self._session.compute(), project.id, edits.new_id(), "First plan", now)
            self._session.apply(edits.keep_baseline(self._session.plan, baseline))

    def plan_money(self, gallery: str) -> None:
        """Entries that were planned, and budgets."""
        session = self._session
        self._enter(gallery, PLANNED)
        for number, first, last_day, amount in _cells(BUDGETS):
            days = (self._day(first), self._day(last_day)) if first else (None, None)
            row, money = self._row(gallery, number), round(float(amount) * 100)
            budget = Budget(edits.new_id(), gallery, row, days[0], days[1], money)
            session.apply(edits.save_budget(session.plan, budget))

    def spend(self, gallery: str) -> None:
        """What came of the money that was planned."""
        session = self._session
        self._enter(gallery, CAME)
        name, rest, amount = REST_OF
        old = next(e for e in session.plan.entries.values() if e.name == name)
        session.apply(edits.save_entry(session.plan, replace(old, name=rest, amount=amount)))

    def _enter(self, gallery: str, text: str) -> None:
        session = self._session
        for number, name, kind, planned, amount, first, *last in _cells(text):
            begin = self._day(first)
            entry = MoneyEntry(
                edits.new_id(), gallery, name, EntryKind(kind), round(float(amount) * 100), begin,
                self._day(last[0]) if last and last[0] else begin, self._row(gallery, number), bool(planned),
            )  # fmt: skip
            session.apply(edits.save_entry(session.plan, entry))

    def change_until(self, gallery: str, durations: dict[str, int], friday: int) -> None:
        """Durations that somebody changed in the week before a Friday."""
        session = self._session
        for number, _, day, who in _cells(CHANGED):
            moment = self._at(day, 10 * 60)
            if friday - 7 * DAY < moment <= friday:
                row = self._row(gallery, number)
                assert row
                session.workspace.clock = partial(moment_of, moment)
                self._as(who, edits.set_durations(session.plan, [row], durations[number]))

    def log_until(self, gallery: str, friday: int) -> None:
        """The hours of the week before a Friday, and what became of its sheets."""
        session, monday = self._session, monday_of(friday // DAY)
        for initials, number, first, hours, note in _cells(LOGS):
            if self._day(first) != monday:
                continue
            task, who = self._row(gallery, number), self._who(initials)
            assert task
            logs = [
                Log(edits.new_id(), task, who.id, monday + d, _minutes(said), note if d == 0 else "")
                for d, said in enumerate(hours.split())
                if said != "-"
            ]
            self._as(who.name, edits.save_logs(session.plan, logs))

    def hand_in_until(self, friday: int) -> None:
        """Sheets that were handed in on the Monday before a Friday: by their owners, then approved or sent back."""
        session, monday = self._session, monday_of(friday // DAY)
        session.workspace.clock = partial(moment_of, monday * DAY + 9 * 60)
        for initials, first, state, *word in _cells(SHEETS):
            who, week = self._who(initials), (self._who(initials).id, self._day(first))
            if week[1] + 7 != monday:
                continue
            self._as(who.name, edits.hand_in(session.plan, week, who.name))
            if state == "approved":
                self._as(APPROVES, edits.approve(session.plan, week, APPROVES))
            elif state == "sent back":
                self._as(APPROVES, edits.send_back(session.plan, week, APPROVES, word[0]))

    def _as(self, who: str, edit: edits.Edit) -> None:
        session = self._session
        before, session.who = session.who, who
        session.apply(edit)
        session.who = before

    def _row(self, project: str, number: str) -> str | None:
        return task_at(self._session.plan, project, number) if number else None

    def _who(self, initials: str) -> Resource:
        return next(r for r in self._session.plan.resources.values() if r.initials == initials)

    def _day(self, text: str) -> int:
        return self._at(text, 0) // DAY


def first_durations() -> dict[str, str]:
    """Rows of the gallery that were typed with another duration at first."""
    return {number: first for number, first, *_ in _cells(CHANGED)}


def _minutes(text: str) -> int:
    hours, _, minutes = text.partition(":")
    return int(hours) * 60 + int(minutes or 0)


def _cells(text: str) -> list[list[str]]:
    return [[part.strip() for part in line.split("|")] for line in text.strip("\n").splitlines()]
