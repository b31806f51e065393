"""The scenarios of the workspace: which are there, what each comes to, and which one is open."""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass
from typing import TYPE_CHECKING

from PyQt6.QtCore import QObject, pyqtSignal

from hexapod.desktop.models.background import in_background
from hexapod.desktop.models.scenario_figures import Effect, Known, effects_of, worked_out
from hexapod.errors import EditRefused, HexapodError
from hexapod.plan import edits
from hexapod.plan.edits import Edit
from hexapod.plan.records import DAY
from hexapod.plan.scenarios import Scenario
from hexapod.worktime import clock

if TYPE_CHECKING:
    from hexapod.desktop.models.desk import Desk
    from hexapod.outlook.figures import Figures
    from hexapod.outlook.merge import Merged, Place, Side
    from hexapod.outlook.side_by_side import Row
    from hexapod.scenarios import ScenarioSession
    from hexapod.session import Session
    from hexapod.store.scenarios import Step

THE_PLAN = ""  # in place of the id of a scenario
AS_IT_IS = "As it is"
MOST_READ = 200  # edits that are looked through for who made them

Mark = tuple[object, ...]  # what tells a column from what it was before


@dataclass(frozen=True)
class Column:
    """``figures`` are None until they are worked out; ``behind`` counts edits of the plan since the one that it stands
    on, ``asked`` what both changed."""

    id: str
    name: str
    scenario: Scenario | None
    figures: Figures | None
    behind: int = 0
    asked: int = 0


class ScenariosWork(QObject):
    """``changed`` when there are others, or more is known of them; ``chosen`` is the one that is looked at."""

    changed = pyqtSignal()

    def __init__(self, desk: Desk) -> None:
        super().__init__(desk)
        self._desk = desk
        self.chosen = THE_PLAN
        self.differences = desk.memory.recall("scenario_differences", bool, False)
        self.rows_chosen = desk.memory.recall("scenario_rows", list[str], [])
        self.milestones = desk.memory.recall("scenario_milestones", list[str], [])  # that have a row of their own
        self.trouble: dict[str, str] = {}  # by scenario why nothing is known of it
        self.answers: dict[str, dict[Place, Side]] = {}  # what was said of what both sides changed
        self.left_out: dict[str, set[int]] = {}  # edits that are not to be taken over, by number
        self._opened: dict[str, ScenarioSession] = {}
        self._known: dict[str, tuple[Mark, Known]] = {}
        self._effects: dict[str, tuple[Mark, dict[int, Effect]]] = {}
        self._merged: dict[str, tuple[object, Merged]] = {}  # what was worked out of them, and of what
        self._authors: dict[str, tuple[Mark | None, dict[Place, tuple[str, str]]]] = {}
        self._entering: set[str] = set()
        self._is_working = self._is_over = False
        for signal in (desk.changed, desk.home_changed, desk.computed, desk.past_changed):
            signal.connect(self._follow)

    def stop(self) -> None:
        """The window is closed."""
        self._is_over = True

    def _follow(self, *_: object) -> None:
        if self.chosen != THE_PLAN and self.chosen not in self._desk.home.plan_so_far.scenarios:
            self.chosen = THE_PLAN
        self.changed.emit()

    # Which there are

    def listed(self) -> list[Scenario]:
        """In the order in which they were made."""
        return sorted(self._desk.home.plan_so_far.scenarios.values(), key=lambda s: (s.rank, s.id))

    @property
    def scenario(self) -> Scenario | None:
        """The one that is looked at; None for the plan."""
        return self._desk.home.plan_so_far.scenarios.get(self.chosen)

    def look_at(self, scenario: str) -> None:
        if scenario != self.chosen:
            self.chosen = scenario
            self.changed.emit()

    def opened(self, scenario: str) -> ScenarioSession:
        """Its session, opened now if it was not yet. ``HexapodError`` if it cannot be."""
        from hexapod.scenarios import ScenarioSession

        if scenario not in self._opened:
            session = ScenarioSession(self._desk.home, scenario)
            self._desk.listen_to(session)
            self._opened[scenario] = session
        return self._opened[scenario]

    # What they come to

    def columns(self) -> list[Column]:
        """The plan first. What is not known yet is worked out beside the interface, and said by ``changed``."""
        known = self._of(THE_PLAN)
        found = [Column(THE_PLAN, AS_IT_IS, None, None if known is None else known.figures)]
        for scenario in self.listed():
            known = self._of(scenario.id)
            if known is None:
                found.append(Column(scenario.id, scenario.name, scenario, None))
            else:
                asked = 0 if known.merged is None else len(known.merged.questions)
                found.append(Column(scenario.id, scenario.name, scenario, known.figures, known.behind, asked))
        self._work_on()
        return found

    def rows(self, columns: Sequence[Column]) -> list[Row]:
        """A row a figure; none while the plan's own figures are worked out."""
        from hexapod.outlook.side_by_side import rows_of
        from hexapod.outlook.words import share_words

        first = columns[0].figures
        if first is None:
            return []
        figures = [column.figures or first for column in columns]
        return rows_of(self._desk.home.plan, figures, share_words(self._desk.chances.share))

    def _of(self, scenario: str) -> Known | None:
        mark, known = self._known.get(scenario, (None, None))
        return known if mark == self._mark(scenario) else None

    def _mark(self, scenario: str) -> Mark:
        """What a column depends on."""
        home, share = self._desk.home, self._desk.chances.share
        if scenario == THE_PLAN:
            return home.last_number, share, home.is_computed
        opened = self._opened.get(scenario)
        return home.last_number, share, -1 if opened is None else opened.workspace.last_number()

    def _work_on(self) -> None:
        """Work out the next column of which nothing is known."""
        home = self._desk.home
        if self._is_working or self._is_over or not home.is_computed or not home.plan_so_far.is_whole:
            return
        missing = (s for s in (THE_PLAN, *(s.id for s in self.listed())) if self._of(s) is None)
        scenario = next((s for s in missing if s not in self.trouble), None)
        if scenario is None:
            return
        try:
            session: Session = home if scenario == THE_PLAN else self.opened(scenario)
        except HexapodError as error:
            self.trouble[scenario] = str(error)
            self._work_on()
            return
        mark, today, share = self._mark(scenario), clock.now() // DAY, self._desk.chances.share
        with_rounds = self._desk.chances.goes_by_itself
        self._is_working = True

        def show(known: object) -> None:
            self._is_working = False
            self._let_rest(scenario)
            assert isinstance(known, Known)
            self._known[scenario] = (mark, known)
            if known.merged is not None:
                self._merged[scenario] = ((mark, ()), known.merged)
            self.changed.emit()

        def fail(error: Exception) -> None:
            self._is_working = False
            self.trouble[scenario] = str(error) if isinstance(error, HexapodError) else "Its figures are not known."
            self.changed.emit()

        in_background(self, lambda: worked_out(session, today, share, with_rounds), show, fail)

    def _let_rest(self, scenario: str) -> None:
        """The dates of one that is only looked at are not kept: ten large ones would take much memory."""
        session = self._opened.get(scenario)
        if session is not None and session is not self._desk.session and scenario not in self._entering:
            session.rest()

    # What each of its edits does

    def steps(self, scenario: str) -> list[Step]:
        """The edits that it is made of, but for the one that made it."""
        return self.opened(scenario).steps()

    def effects(self, scenario: str) -> Mapping[int, Effect]:
        """By number of the edit; what is not known yet is worked out beside the interface."""
        mark, known = self._effects.get(scenario, (None, {}))
        now = self._mark(scenario)
        if mark == now:
            return known
        if not self._is_working and self._of(scenario) is not None and not self._is_over:
            session, today = self.opened(scenario), clock.now() // DAY
            self._is_working = True

            def show(found: object) -> None:
                self._is_working = False
                self._let_rest(scenario)
                self._effects[scenario] = (now, found)  # type: ignore[assignment]
                self.changed.emit()

            def fail(_: Exception) -> None:
                self._is_working = False
                self._effects[scenario] = (now, {})

            in_background(self, lambda: effects_of(session, today), show, fail)
        return {}

    # Going into one, and back

    def enter(self, scenario: str, then: Callable[[], None] = lambda: None) -> None:
        """Work in it from now on, once its dates are computed."""
        desk = self._desk
        if desk.past is not None:
            desk.look_at_today()
        try:
            if not desk.home.is_computed:
                raise EditRefused("The dates are being computed; try again in a moment.")
            session = self.opened(scenario)
        except HexapodError as error:
            desk.told.emit(str(error), "trouble", False)
            return

        self._entering.add(scenario)

        def show(_: object) -> None:
            self._entering.discard(scenario)
            self.chosen = scenario
            desk.work_in(session)
            then()

        def fail(error: Exception) -> None:
            self._entering.discard(scenario)
            desk.told.emit(str(error), "trouble", False)

        in_background(self, session.compute, show, fail)

    def leave(self) -> None:
        """Back to the plan."""
        if self._desk.scenario is not None:
            self._desk.work_in(self._desk.home)

    def differing(self) -> set[str]:
        """The tasks that the scenario which is open moves, or changes in any way."""
        from hexapod.plan.changes import diff
        from hexapod.schedule.shift import shift

        desk = self._desk
        there, here = desk.home.schedule, desk.session.schedule
        if desk.scenario is None or not (desk.home.is_computed and desk.session.is_computed):
            return set()
        found = set(shift(there, here).tasks())  # type: ignore[arg-type]
        for kind, before, after in diff(desk.home.plan, desk.session.plan).pairs():
            key = (after or before).key
            if kind == "tasks":
                found.add(key)
            elif kind in ("links", "assignments"):
                found.update(key[:2] if kind == "links" else key[:1])
        return {task for task in found if task in desk.session.plan.tasks}

    # Changing the list

    def make(self, name: str, note: str = "", source: str = THE_PLAN) -> Scenario:
        """A new one, of the plan as it is or of another. ``HexapodError`` if it is refused."""
        from hexapod.scenarios import make_scenario

        made = make_scenario(
            self._desk.home, name, note=note, source=None if source == THE_PLAN else self.opened(source)
        )
        self.chosen = made.id
        self._tell_home()
        return made

    def save(self, scenario: Scenario) -> None:
        """Another name, or another note."""
        self._at_home(edits.save_scenario(self._desk.home.plan, scenario))

    def drop(self, scenario: str) -> None:
        """It goes from the list; undo brings it back."""
        desk = self._desk
        if desk.scenario is not None and desk.scenario.scenario == scenario:
            self.leave()
        name = desk.home.plan.scenarios[scenario].name
        self._at_home(edits.remove_scenarios(desk.home.plan, [scenario]))
        desk.told.emit(f"“{name}” is gone from the scenarios.", "", desk.scenario is None)

    def _at_home(self, edit: Edit) -> None:
        self._desk.home.apply(edit)
        self._tell_home()

    def _tell_home(self) -> None:
        if self._desk.scenario is None:
            return
        self.changed.emit()

    def carry_out(self, scenario: str, edit: Edit) -> None:
        """An edit in a scenario, whether it is open or only looked at. ``HexapodError`` if it is refused."""
        session = self.opened(scenario)
        if session is self._desk.session:
            self._desk.attempt(edit)
        else:
            session.apply(edit)
        self.changed.emit()

    # Keeping up, and taking over

    def merged(self, scenario: str) -> Merged:
        """What bringing it to the plan of today would make of it, with what was answered so far."""
        answers = self.answers.get(scenario, {})
        key, known = (self._mark(scenario), tuple(answers.items())), self._merged.get(scenario)
        if known is None or known[0] != key:
            known = self._merged[scenario] = (key, self.opened(scenario).merged(answers))
        return known[1]

    def authors(self, scenario: str, place: Place) -> tuple[str, str]:
        """Who changed it last, in the plan since the scenario stands on it, and in the scenario; "" where that is not
        known."""
        mark, known = self._authors.get(scenario, (None, {}))
        if mark != self._mark(scenario):
            known = {}
            self._authors[scenario] = (self._mark(scenario), known)
        if place not in known:
            known[place] = self._authors_of(scenario, place)
        return known[place]

    def _authors_of(self, scenario: str, place: Place) -> tuple[str, str]:
        from hexapod.outlook.taking import touched_by

        session, home = self.opened(scenario), self._desk.home
        there = [(row, home.workspace.read_changes(row.number if row.of is None else row.of))
                 for row in session.moved_on()[-MOST_READ:]]  # fmt: skip
        here = [(s.row, session.workspace.read_changes(s.row.number)) for s in session.steps()[-MOST_READ:]]
        found = []
        for rows in (there, here):
            about = [row.who for row, changes in rows
                     if tuple(place) in touched_by(changes) or (*place[:2], "") in touched_by(changes)]  # fmt: skip
            found.append(about[-1] if about else "")
        return found[0], found[1]

    def answer(self, scenario: str, place: Place, side: Side) -> None:
        self.answers.setdefault(scenario, {})[place] = side
        self.changed.emit()

    def bring_up(self, scenario: str) -> None:
        """Bring it to the plan of today. ``HexapodError`` while something is still to be answered."""
        left_out = self.merged(scenario).left_out
        self.opened(scenario).bring_up(self.answers.get(scenario, {}))
        self.answers.pop(scenario, None)
        said = f"“{self._desk.home.plan.scenarios[scenario].name}” stands on the plan of today."
        if left_out:
            said += f" Left out: {left_out[0].name}, since {left_out[0].sentence[:1].lower()}{left_out[0].sentence[1:]}"
        self._desk.told.emit(said, "trouble" if left_out else "", False)
        self.changed.emit()

    def turn_step(self, scenario: str, number: int) -> None:
        """An edit is to be taken over, or not."""
        chosen = self.left_out.setdefault(scenario, set())
        chosen.symmetric_difference_update({number})
        self.changed.emit()

    def take_over(self, scenario: str) -> None:
        """Show what taking it over would do to the plan, to be taken or left. ``HexapodError`` if it is refused."""
        session = self.opened(scenario)
        numbers = [step.row.number for step in session.steps()]
        left_out = self.left_out.get(scenario, set()) & set(numbers)
        taking = session.take_over([n for n in numbers if n not in left_out] if left_out else None)
        self.leave()
        self._desk.staging.show(taking.edit)
        if taking.needed:
            names = ", ".join(dict.fromkeys(f"“{needed.name}”" for needed in taking.needed))
            self._desk.told.emit(f"What was chosen needs {names}, which comes with it.", "", False)

    # What is shown

    def turn_differences(self) -> None:
        self.differences = not self.differences
        self._desk.memory.keep("scenario_differences", self.differences)
        self.changed.emit()

    def choose_rows(self, rows: Sequence[str]) -> None:
        """Rows by their names; none for the usual ones."""
        self.rows_chosen = list(rows)
        self._desk.memory.keep("scenario_rows", self.rows_chosen)
        self.changed.emit()

    def turn_milestone(self, task: str) -> None:
        """A milestone has a row of its own, or not any more."""
        others = [t for t in self.milestones if t != task]
        self.milestones = others if len(others) < len(self.milestones) else [*others, task]
        self._desk.memory.keep("scenario_milestones", self.milestones)
        self.changed.emit()
