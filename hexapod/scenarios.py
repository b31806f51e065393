"""A scenario that is open: a session of its own beside that of the plan, which it never touches.

Whatever works on a session works on this one. It stands on the plan as it was after one of its edits; the plan may go
on meanwhile, and the scenario is brought to it by a merge.
"""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from dataclasses import dataclass

from msgspec.structs import replace

from hexapod.errors import CannotSchedule, EditRefused
from hexapod.outlook.merge import NOT_MERGED, LeftOut, Merged, Place, Side, merge
from hexapod.outlook.taking import taken, touched_by
from hexapod.plan import edits
from hexapod.plan.changes import Changes, diff
from hexapod.plan.edits import Edit
from hexapod.plan.plan import Plan
from hexapod.plan.ranks import ranks_between
from hexapod.plan.records import Record, Task
from hexapod.plan.scenarios import MOST_COLOURS, Scenario
from hexapod.preparing import Prepared
from hexapod.schedule.schedule import NO_DATES, Schedule, computed_dates
from hexapod.session import Applied, Session
from hexapod.store.history import EDIT, HistoryRow
from hexapod.store.scenarios import ScenarioPlace, Step
from hexapod.worktime import clock

OF_THE_PLAN = ("logs", "sheets", "errands", "comments", "scenarios")  # kinds that a scenario leaves as they are
TOLD = ("actual_start", "actual_finish", "as_of")  # of a task: what happened, nobody tries out


class ScenarioSession(Session):
    """A scenario of the workspace that ``home`` has open."""

    workspace: ScenarioPlace

    def __init__(self, home: Session, scenario: str) -> None:
        if scenario not in home.plan.scenarios:
            raise EditRefused("This scenario is gone. Undo brings it back, where it was deleted.")
        self.home = home
        self.scenario = scenario
        super().__init__(self._place(), home.who)
        self.has_kernels = home.has_kernels
        home.listen_to_moves(self._on_moved_file)
        self._base_plan: tuple[int, Plan] | None = None
        self._moved_on: tuple[tuple[int, int], list[HistoryRow]] | None = None

    def _place(self) -> ScenarioPlace:
        place = ScenarioPlace(lambda: self.home.workspace, self.scenario, self.home.plan_after)
        if not place.steps():
            raise EditRefused("Nothing of this scenario is kept in the file.")
        return place

    @property
    def record(self) -> Scenario | None:
        """None once it is deleted."""
        return self.home.plan.scenarios.get(self.scenario)

    @property
    def mark(self) -> tuple[str, int]:
        return self.scenario, len(self.history)

    def keep_safe(self) -> str | None:
        return self.home.keep_safe()

    def _on_moved_file(self, _: str) -> None:
        """The file is another one now, and so may be the numbers in it."""
        if self.record is not None:
            self.workspace = self._place()
            self._take_history(self.workspace.read_history())
            self._base_plan = self._moved_on = None

    def save_copy(self, path, *, replace: bool = False) -> str | None:  # type: ignore[no-untyped-def]
        return self.home.save_copy(path, replace=replace)

    def close(self) -> None:
        """Nothing waits: every edit is kept already."""

    def compute(self) -> Schedule:
        with self._computing:
            known = computed_dates(self.home.schedule)
            if known is not None and not isinstance(self.schedule, Schedule):
                from hexapod.schedule.engine import reschedule

                self.schedule = reschedule(known, self.plan, diff(known.plan, self.plan))
        return super().compute()

    def rest(self) -> None:
        """Give back what can be worked out again, until it is worked in once more."""
        self.schedule, self._prepared = NO_DATES, (None, None)
        self._base_plan = None

    # The door

    def prepare(self, edit: Edit) -> Prepared:
        prepared = super().prepare(edit)
        if any(_is_told(kind, before, after) for kind, before, after in prepared.changes.pairs()):
            raise EditRefused("What happened is told in the plan, not in a scenario. Go back to the plan first.")
        return prepared

    # What it is against the plan

    @property
    def base_plan(self) -> Plan:
        """The plan that it stands on, as it was then."""
        base = self.workspace.base
        if self._base_plan is None or self._base_plan[0] != base:
            self._base_plan = (base, self.home.plan_after(base))
        return self._base_plan[1]

    def base_dates(self) -> Schedule:
        """The dates of the plan that it stands on."""
        from hexapod.schedule.engine import reschedule

        now = self.compute()
        return reschedule(now, self.base_plan, diff(now.plan, self.base_plan))

    def own(self) -> Changes:
        """All that it does otherwise than the plan it stands on."""
        return _without_scenarios(diff(self.base_plan, self.plan))

    def steps(self) -> list[Step]:
        """Its edits in force, from the one that made it."""
        return self.workspace.steps()

    def moved_on(self) -> list[HistoryRow]:
        """The edits of the plan since the one that it stands on, but for those of scenarios themselves."""
        now = (self.workspace.base, self.home.last_number)
        if self._moved_on is None or self._moved_on[0] != now:
            rows = [row for row in self.home.history if row.number > now[0]]
            is_same = not rows or not _without_scenarios(diff(self.base_plan, self.home.plan))
            self._moved_on = (now, [] if is_same else [row for row in rows if self._is_of_the_plan(row)])
        return self._moved_on[1]

    def _is_of_the_plan(self, row: HistoryRow) -> bool:
        number = row.number if row.of is None else row.of
        return bool(_without_scenarios(self.home.workspace.read_changes(number)))

    def merged(self, answers: Mapping[Place, Side] | None = None) -> Merged:
        """The scenario on the plan as it is today; nothing is changed by looking."""
        dates = computed_dates(self.home.schedule)
        return merge(self.base_plan, self.home.plan, self.plan, answers, dates)

    def bring_up(self, answers: Mapping[Place, Side]) -> Applied | None:
        """Bring it to the plan as it is today; None if it is there already. ``EditRefused`` while a question has no
        answer, or where the plan has no dates to check the links by."""
        if not self.moved_on():
            return None
        dates = self._dates_of_home()
        found = merge(self.base_plan, self.home.plan, self.plan, answers, dates)
        open_questions = [q for q in found.questions if q.place not in answers]
        if open_questions:
            raise EditRefused(f"“{open_questions[0].name}” was changed in the plan and here: say first which counts.")
        own = _without_scenarios(diff(self.home.plan, found.plan))
        words, before = "Bring it to the plan of today", self.schedule
        changes = diff(self.plan, found.plan)
        self.keep_safe()
        with self._taking:
            row = self.workspace.write_on(self.home.last_number, own, words, self.who)
            self._plan, self.schedule = found.plan, found.dates or before
            self.history.append(row)
        return self._tell(row, Applied(words, EDIT, changes, before, self.schedule))

    # Taking it over

    def take_over(self, numbers: Iterable[int] | None = None) -> Taking:
        """What would be taken over into the plan as it is today: all of it, or what some of its edits are about, by
        number. ``EditRefused`` where the plan moved on meanwhile, or the chosen ones break a rule."""
        if self.moved_on():
            raise EditRefused("The plan has moved on since. Bring the scenario to it first.")
        wanted = None if numbers is None else set(numbers)
        made, *rest = self.steps()
        own = [made, *(step for step in rest if step.base is None)]  # the others brought it to the plan
        chosen = None if wanted is None else [
            touched_by(self.workspace.read_changes(step.row.number)) for step in own if step.row.number in wanted
        ]  # fmt: skip
        found = taken(self.home.plan, self.plan, chosen)
        record = self.record
        if record is None:
            raise EditRefused("This scenario is gone. Undo brings it back, where it was deleted.")
        kept = edits.save_scenario(self.home.plan, replace(record, taken_over=clock.now()))
        words = f"Take over “{record.name}”" if chosen is None else f"Take over some of “{record.name}”"
        if found.plan == self.home.plan:
            raise EditRefused(f"“{record.name}” does nothing otherwise than the plan.")
        steps = [edits.to_plan(words, self.home.plan, found.plan), kept]
        edit = edits.together(words, steps)
        return Taking(Edit(words, edit.change, settled=chosen is None), found.needed)

    def _dates_of_home(self) -> Schedule | None:
        try:
            return self.home.compute()
        except (EditRefused, CannotSchedule):
            return None


def _is_told(kind: str, before: Record | None, after: Record | None) -> bool:
    if kind in OF_THE_PLAN:
        return True
    if isinstance(after, Task):
        known = before if isinstance(before, Task) else None
        return any(getattr(after, name) != getattr(known, name, None) for name in TOLD)
    return False


@dataclass(frozen=True)
class Taking:
    """``edit`` takes it over as one edit of the plan; ``needed`` came with what was chosen."""

    edit: Edit
    needed: tuple[LeftOut, ...]


def _without_scenarios(changes: Changes) -> Changes:
    return replace(changes, **dict.fromkeys(NOT_MERGED, ()))


def make_scenario(home: Session, name: str, *, note: str = "", source: ScenarioSession | None = None) -> Scenario:
    """A scenario of the plan as it is, or one that begins as another one is."""
    plan = home.plan
    there = sorted(plan.scenarios.values(), key=lambda s: (s.rank, s.id))
    rank = ranks_between(there[-1].rank if there else None, None, 1)[0]
    used = [s.colour for s in there]
    colour = min(range(MOST_COLOURS), key=lambda c: (used.count(c), c))
    made = Scenario(edits.new_id(), name, rank, note, colour, None if source is None else source.scenario)
    edit = edits.save_scenario(plan, made)
    prepared = home.prepare(edit)
    base, own = (home.last_number, Changes()) if source is None else (source.workspace.base, source.own())
    words = "Made of the plan" if source is None or source.record is None else f"Made of “{source.record.name}”"
    home.keep_safe()
    home.workspace.write_scenario(made.id, base, own, words, home.who, EDIT, None)  # first: a scenario has an edit
    home.commit(prepared)
    return made
