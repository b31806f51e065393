"""How sure the dates are: rounds of the plan beside the interface, and of what is looked at what they say.

They go by themselves once the plan has rested: few at first, then more. An edit ends those that are under way.
"""

from __future__ import annotations

import os
from collections.abc import Callable
from operator import attrgetter
from typing import TYPE_CHECKING, Any

from PyQt6.QtCore import QTimer

from hexapod.desktop.models.background import in_background
from hexapod.desktop.models.project_work import ProjectWork
from hexapod.errors import HexapodError
from hexapod.fields.reading import NO_TROUBLES, Troubles
from hexapod.outlook.words import chance_words, share_words
from hexapod.plan import edits
from hexapod.schedule.codes import NEVER
from hexapod.schedule.schedule import Schedule, computed_dates

if TYPE_CHECKING:
    from hexapod.control.attention import Doubt
    from hexapod.desktop.models.desk import Desk
    from hexapod.outlook.chances import Chances, Outlook
    from hexapod.outlook.costs import CostRange
    from hexapod.outlook.spread import Spread
    from hexapod.plan.changes import Changes
    from hexapod.session import Applied

RESTED = 900  # milliseconds without an edit
FEW, MANY = 500, 10_000
MOST_ROUNDS = 200_000
MOST_DRAWN = 20_000_000  # tasks x rounds that go by themselves
MOST_LEVELLED = 1_000_000  # the same with capacities
SHARES = (0.5, 0.6, 0.7, 0.8, 0.9, 0.95)
SHOWN = 6  # rows of what the spread comes from


class ChancesWork(ProjectWork):
    def __init__(self, desk: Desk) -> None:
        super().__init__(desk)
        self.share = desk.memory.recall("sure_share", float, 0.8)
        self.goes_by_itself = desk.memory.recall("rounds_by_themselves", bool, True)
        self.with_capacities = desk.memory.recall("rounds_levelled", bool, False)
        self._target = ""
        self.seed = 1
        self.trouble = ""  # why there are no rounds
        self._outlook: Outlook | None = None
        self._of: Schedule | None = None  # what the rounds under way, or the last ones, are of
        self._is_running = self._is_over = self._is_asked = False
        self._wanted = FEW
        self._were_doubtful: set[str] | None = None  # projects whose target was not sure enough; None: nobody knows yet
        self._known: dict[object, Any] = {}  # what was worked out of the rounds
        self._known_of: Outlook | None = None
        self._spreading: object = None
        self._ranges: bool | None = None  # None: to be looked for
        self._rest = QTimer(self, singleShot=True, interval=RESTED)
        self._rest.timeout.connect(self._run)
        desk.changed.connect(self._follow)
        for signal in (desk.computed, desk.past_changed):
            signal.connect(self._look_anew)

    # Rounds

    def _follow(self, applied: Applied | None = None) -> None:
        if applied is not None and self._ranges is not None and not self._are_ranges_the_same(applied.changes):
            self._ranges = None
        known = computed_dates(self._desk.session.schedule)
        if known is self._of and known is not None:
            return
        self._of, self._wanted, self.trouble, self._is_asked = None, FEW, "", False
        self.changed.emit()
        if known is not None and self.goes_by_itself and self.has_ranges:
            self._rest.start()

    def _look_anew(self) -> None:
        """Another plan may be on show."""
        self._ranges = None
        self._follow()

    @property
    def has_ranges(self) -> bool:
        """Whether anything of the plan may come one way or another."""
        plan = self._desk.plan
        if self._ranges is None and plan.is_whole:
            estimates = map(attrgetter("estimate"), plan.tasks.values())
            self._ranges = any(r.may_happen for r in plan.risks.values()) or any(estimates)
        return bool(self._ranges)

    def _are_ranges_the_same(self, changes: Changes | None) -> bool:
        """Whether an edit leaves it at what it is: not looked through again at each of ten thousand tasks."""
        if changes is None or changes.risks:
            return False
        wanted = (old if self._ranges else new for old, new in changes.tasks)
        return not any(task is not None and task.estimate for task in wanted)

    @property
    def is_running(self) -> bool:
        return self._is_running

    def run(self, rounds: int = MANY) -> None:
        """Go so many rounds now."""
        self._wanted, self._of, self._is_asked = rounds, None, True
        self._run()

    @property
    def can_go_more(self) -> bool:
        """Whether the rounds that go by themselves are done, and more of them would make the figures surer."""
        return self.outlook is not None and not self._is_running and self.outlook.found.rounds < MOST_ROUNDS

    def run_again(self) -> None:
        """Four times as many as there were; at first those that go by themselves."""
        rounds = 0 if self.outlook is None else self.outlook.found.rounds
        self.run(min(MOST_ROUNDS, max(MANY, 4 * rounds)))

    def _run(self) -> None:
        known = computed_dates(self._desk.session.schedule)
        if known is None or self._is_running:
            self._again_soon()
            return
        self._of, self._is_running = known, True
        wanted = self._wanted if self._wanted > MANY else self._most(known, self._wanted)
        if self.with_capacities:
            wanted = max(FEW, min(wanted, MOST_LEVELLED // max(1, known.network.size)))
        seed = self.seed
        threads = max(1, (os.cpu_count() or 1) - 1)  # one processor is left to who works

        with_capacities = self.with_capacities

        def work() -> object:
            from hexapod.outlook.chances import Outlook
            from hexapod.outlook.levelled import simulate_levelled
            from hexapod.outlook.simulation import simulate

            go = simulate_levelled if with_capacities else simulate
            return Outlook(go(known, wanted, seed, threads=threads, is_stopped=lambda: self.is_past(known)))

        in_background(self, work, self._show, self._fail)
        self.changed.emit()

    def _again_soon(self) -> None:
        """Others are wanted by now: an edit came, or somebody asked."""
        if not self._is_over and (self.goes_by_itself or self._is_asked):
            self._rest.start()

    def is_past(self, known: Schedule) -> bool:
        """Whether rounds of these dates are for nothing: an edit came, or the window is closed."""
        return self._is_over or computed_dates(self._desk.session.schedule) is not known

    @staticmethod
    def _most(known: Schedule, wanted: int) -> int:
        return max(FEW, min(wanted, MOST_DRAWN // max(1, known.network.size)))

    def _show(self, found: object) -> None:
        self._is_running = False
        self._outlook = found  # type: ignore[assignment]
        of, outlook = self._of, self.outlook
        if of is None or self.is_past(of):
            self._again_soon()
        elif outlook is not None:
            self._say_what_became_doubtful()
            if self._wanted < MANY:
                self._wanted = MANY
                if self._most(of, MANY) > outlook.found.rounds:
                    self._run()
        self.changed.emit()

    def _known_about(self, outlook: Outlook) -> dict[object, Any]:
        """What was worked out of these rounds; other rounds begin with nothing."""
        if self._known_of is not outlook:
            self._known_of, self._known = outlook, {}
        return self._known

    def _once(self, outlook: Outlook, key: object, work_out: Callable[[], Any]) -> Any:
        known = self._known_about(outlook)
        if key not in known:
            known[key] = work_out()
        return known[key]

    def doubts(self) -> list[Doubt]:
        """Targets that are met by the plan, and not surely enough: of projects, and of tasks that are still to come."""
        from hexapod.outlook.doubts import doubts_of

        outlook, share = self.outlook, self.share
        if outlook is None:
            return []
        return self._once(outlook, ("doubts", share), lambda: doubts_of(outlook, share))

    @property
    def troubles(self) -> Troubles:
        """In what part of the rounds each task drove the finish, as fields read it."""
        outlook = self.outlook
        if outlook is None or not outlook.found.has_floats:
            return NO_TROUBLES
        schedule = outlook.found.schedule
        return self._once(
            outlook,
            "troubles",
            lambda: Troubles(drives={t: outlook.criticality(t) for t in schedule.plan.tasks if schedule.has(t)}),
        )

    def band_of(self, task: str) -> tuple[int, int] | None:
        """When a task ends in one of ten rounds, and in nine; None where nobody knows, or it always ends then."""
        outlook = self.outlook
        if outlook is None:
            return None
        slot = outlook.found.schedule.slots.get(task)
        if slot is None:
            return None
        ends = self._once(outlook, "bands", lambda: outlook.quantiles((0.1, 0.9)))
        first, last = (int(each[slot]) for each in ends)
        return (first, last) if NEVER < first < last else None

    def _say_what_became_doubtful(self) -> None:
        """Once, of the targets of projects that were sure enough before."""
        doubts = {d.project: d for d in self.doubts() if d.task is None}
        for project, doubt in doubts.items():
            if self._were_doubtful is not None and project not in self._were_doubtful:
                name = self._desk.plan.projects[project].name
                holds = f"“{name}” holds its target {chance_words(doubt.chance)} now"
                self._desk.told.emit(f"{holds}: less than {share_words(self.share)}.", "trouble", False)
        self._were_doubtful = set(doubts)

    def _fail(self, error: Exception) -> None:
        self._is_running = False
        known = computed_dates(self._desk.session.schedule)
        if self._of is not known:  # an edit stopped them
            self._again_soon()
            return
        self.trouble = str(error) if isinstance(error, HexapodError) else "The rounds broke off; press Run again."
        self.changed.emit()

    @property
    def outlook(self) -> Outlook | None:
        """The rounds of the plan as it is; None while there are none."""
        found, known = self._outlook, computed_dates(self._desk.session.schedule)
        is_shown = found is not None and found.found.schedule is known and self._desk.past is None
        return found if is_shown else None

    def stop(self) -> None:
        """End the rounds that are under way; none begin any more."""
        self._is_over = True
        self._rest.stop()

    # What is looked at

    @property
    def target(self) -> str:
        """The task whose finish is looked at; "" for the project's."""
        task = self._desk.plan.tasks.get(self._target)
        return "" if task is None or task.project != self.project else task.id

    def look_at(self, target: str) -> None:
        """The finish of a task; "" for the project's."""
        self._target = target
        self.changed.emit()

    def set_share(self, share: float) -> None:
        """How sure is sure enough."""
        self.share = share
        self._desk.memory.keep("sure_share", share)
        self.changed.emit()

    def level_rounds(self, on: bool) -> None:
        """Whether each round waits for people who are busy, as levelling does."""
        self.with_capacities = on
        self._desk.memory.keep("rounds_levelled", on)
        self.run(FEW)

    def go_by_itself(self, on: bool) -> None:
        self.goes_by_itself = on
        self._desk.memory.keep("rounds_by_themselves", on)
        self._follow()
        self.changed.emit()

    def chances(self) -> Chances | None:
        """Of what is looked at."""
        outlook, project = self.outlook, self.project
        if outlook is None or project is None:
            return None
        return outlook.of_task(self.target) if self.target else outlook.of_project(project)

    def of_project(self, project: str) -> Chances | None:
        return None if self.outlook is None else self.outlook.of_project(project)

    def planned(self) -> int | None:
        """The plan's own date of what is looked at."""
        schedule = self._desk.schedule
        if self.target:
            return schedule.dates(self.target).finish if schedule.has(self.target) else None
        return schedule.project_finish.get(self.project or "")

    def wanted_by(self) -> int | None:
        """Its target."""
        plan = self._desk.plan
        if self.target:
            return plan.tasks[self.target].target
        return plan.projects[self.project].target_finish if self.project else None

    def costs(self) -> CostRange | None:
        """What the work of the project that is left costs, as a range."""
        from hexapod.outlook.costs import cost_range

        outlook, project = self.outlook, self.project
        if outlook is None or project is None:
            return None
        return self._once(outlook, ("costs", project), lambda: cost_range(outlook, project))

    # What the spread comes from

    def spread(self) -> list[Spread] | None:
        """What adds most to the date that is sure enough; None while that is worked out, beside the interface."""
        outlook, project = self.outlook, self.project
        if outlook is None or project is None:
            return None
        if not outlook.found.has_floats:
            return []
        share = self.share
        key = ("spread", project, share)
        known = self._known_about(outlook)
        if key in known:
            return known[key]
        if self._spreading != (outlook, key):
            self._spreading = (outlook, key)

            def work() -> object:
                from hexapod.outlook.spread import spread_of

                return spread_of(outlook, project, share, lambda: self.is_past(outlook.found.schedule))

            def show(found: object) -> None:
                known[key] = found
                self.changed.emit()

            def failed(error: Exception) -> None:
                self._spreading = None

            in_background(self, work, show, failed)
        return None

    def driving(self) -> list[tuple[str, float]]:
        """The tasks that had no float left in most rounds, of the project."""
        outlook, plan = self.outlook, self._desk.plan
        if outlook is None or not outlook.found.has_floats:
            return []
        here = [t.id for t in plan.tasks.values() if t.project == self.project and not plan.is_summary(t.id)]
        here = [t for t in here if outlook.found.schedule.has(t) and edits.can_be_estimated(plan, t)]
        shares = sorted(((outlook.criticality(t), t) for t in here), key=lambda each: (-each[0], each[1]))
        return [(t, share) for share, t in shares[:SHOWN] if share > 0]

    # Estimates

    def spread_out(self, tasks: list[str], less: int, more: int, words: str) -> bool:
        """Estimates for tasks from their durations: so many per cent less at best, more at worst."""
        try:
            edit = edits.spread_estimates(self._desk.plan, dict.fromkeys(tasks, (less, more)), words)
        except HexapodError as error:
            self._desk.told.emit(str(error), "trouble", False)
            return False
        if self._desk.do(edit):
            self._desk.told.emit(f"{edit.words}.", "", True)
            return True
        return False
