"""Own work: who I am, whose work is looked at, and how that is narrowed. What it holds is derived from the plan."""

from __future__ import annotations

from typing import TYPE_CHECKING, NamedTuple

import numpy as np
from PyQt6.QtCore import QObject, pyqtSignal

from hexapod.control.mine import (
    WEEK,
    MyMilestone,
    When,
    Work,
    errands_when,
    milestones_of,
    tasks_of_nobody,
    tasks_of_person,
    week_end,
    work_of,
)
from hexapod.control.round import Answer, answer_edit, question_of
from hexapod.desktop.models.put_away import PutAway
from hexapod.plan import edits
from hexapod.plan.edits import Edit
from hexapod.plan.records import DAY, Errand, ResourceKind
from hexapod.plan.risks import Risk, RiskState
from hexapod.schedule.schedule import computed_dates
from hexapod.session import account_name
from hexapod.worktime import clock

if TYPE_CHECKING:
    from hexapod.desktop.models.desk import Desk

NOBODY = ""  # whose work it is, where it is nobody's
RECENT = 7 * DAY  # for which what was done is shown still


class WeekLoad(NamedTuple):
    """What a week asks of somebody, and what she can give, in minutes of work."""

    asked: float
    can: float


class MineWork(QObject):
    """``changed`` says that another person, or a narrower choice, is looked at."""

    changed = pyqtSignal()

    def __init__(self, desk: Desk) -> None:
        super().__init__(desk)
        self._desk = desk
        known = desk.memory.recall("me", str, "")
        self.me = known if known in desk.plan.resources else self._guess()
        self.whose = self.me
        self.project = ""  # narrowed to one
        self.text = ""
        self.until: int | None = None
        if known and self.me == known:
            desk.sign_as(desk.plan.resources[known].name)

    def _guess(self) -> str:
        """Whoever is called as the account is."""
        name = account_name().casefold()
        for resource in self._desk.plan.resources_in_order():
            called = {resource.name, resource.initials, resource.email.partition("@")[0]} - {""}
            if resource.kind is ResourceKind.PERSON and name in {each.casefold() for each in called}:
                return resource.id
        return ""

    def people(self) -> list[str]:
        return [r.id for r in self._desk.plan.resources_in_order() if r.kind is ResourceKind.PERSON]

    def be(self, person: str) -> None:
        """Choose who I am: what I do from now on carries that name. It is trust, not proof."""
        desk = self._desk
        self.me = person
        desk.memory.keep("me", person)
        desk.sign_as(desk.plan.resources[person].name if person else account_name())
        self.look_at(person)

    def look_at(self, person: str) -> None:
        self.whose = person
        self.changed.emit()

    def narrow(self, *, project: str | None = None, text: str | None = None) -> None:
        self.project = self.project if project is None else project
        self.text = self.text if text is None else text.strip()
        self.changed.emit()

    def narrow_until(self, until: int | None) -> None:
        self.until = until
        self.changed.emit()

    # What there is

    def _tasks(self) -> list[str]:
        desk = self._desk
        known = computed_dates(desk.schedule)
        if known is None:
            return []
        everything = tasks_of_nobody(known) if self.whose == NOBODY else tasks_of_person(desk.plan, self.whose)
        return [t for t in everything if self._is_meant(t)]

    def _is_meant(self, task_id: str) -> bool:
        plan = self._desk.plan
        task = plan.tasks[task_id]
        if self.project and task.project != self.project:
            return False
        if not self.text:
            return True
        above = (plan.tasks[t].name for t in plan.ancestors(task_id))
        said = " ".join([task.name, plan.projects[task.project].name, *above, *task.tags]).casefold()
        return all(word in said for word in self.text.casefold().split())

    def work(self) -> list[Work]:
        known = computed_dates(self._desk.schedule)
        if known is None:
            return []
        found = work_of(known, self._tasks(), clock.now())
        return found if self.until is None else [w for w in found if min(w.start, w.finish) <= self.until]

    def milestones(self) -> list[MyMilestone]:
        known = computed_dates(self._desk.schedule)
        away = self.put_away.tasks
        tasks = dict.fromkeys(self._tasks())
        if self.whose != NOBODY:  # hers is also what she is told of
            told = (t.id for t in self._desk.plan.tasks.values() if self.whose in t.also_told)
            tasks.update(dict.fromkeys(t for t in told if self._is_meant(t)))
        found = [] if known is None else milestones_of(known, tasks, clock.now())
        return [m for m in found if m.task not in away]

    def reviews(self) -> list[Risk]:
        """Entries of the register that the person looks after, and is to look at again by today."""
        today = clock.now() // DAY
        mine = (r for r in self._desk.plan.risks.values() if r.owner == self.whose and r.state is not RiskState.CLOSED)
        found = [r for r in mine if r.due is not None and r.due <= today]
        return sorted(found, key=lambda r: (r.due or 0, r.name))

    def errands(self) -> list[tuple[When | None, Errand]]:
        """Open ones by when they are due, then what was done in the last days, under None."""
        now, words = clock.now(), self.text.casefold().split()
        mine = [e for e in self._desk.plan.errands.values() if e.resource == self.whose]
        mine = [e for e in mine if all(word in e.name.casefold() for word in words)]
        still = sorted((e for e in mine if e.done is None), key=lambda e: e.rank)
        done = sorted((e for e in mine if e.done is not None and e.done > now - RECENT), key=lambda e: -(e.done or 0))
        order = list(When)
        dated = sorted(((errands_when(e, now), e) for e in still), key=lambda pair: order.index(pair[0]))
        return [*dated, *((None, e) for e in done)]

    def load(self) -> list[WeekLoad]:
        """Of this week and the next, of the person that is looked at."""
        known = computed_dates(self._desk.schedule)
        plan = self._desk.plan
        if known is None or self.whose not in plan.resources or plan is not known.plan:
            return []
        from hexapod.staffing.load import PARTS, capacity_by_period, load_by_period

        end = week_end(clock.now())
        edges = np.array([end - WEEK, end, end + WEEK])
        asked, can = load_by_period(known, plan, self.whose, edges), capacity_by_period(known, plan, self.whose, edges)
        return [WeekLoad(a / PARTS, c / PARTS) for a, c in zip(asked.tolist(), can.tolist(), strict=True)]

    # Milestones that somebody does not want to see any more

    @property
    def put_away(self) -> PutAway:
        """Of whoever is looked at."""
        return PutAway(self._desk, f"mine.away.{self.whose}")

    def put(self, task: str, away: bool) -> None:
        self.put_away.put(task, away)
        self.changed.emit()

    def bring_back_all(self) -> None:
        self.put_away.bring_back_all()
        self.changed.emit()

    # Telling

    def laid(self) -> dict[str, Answer]:
        """What forms told of the tasks on show, and nobody took yet."""
        round_, plan = self._desk.round, self._desk.plan
        projects = {plan.tasks[t].project for t in self._tasks()}
        return {
            t: a for p in sorted(projects) for t, a in round_.draft_of(p).answers.items() if a.who and t in plan.tasks
        }

    def tell(self, task: str, answer: Answer) -> bool:
        """Carry out one answer; what was laid of it is settled then."""
        desk, now = self._desk, clock.now()
        edit = answer_edit(desk.plan, question_of(desk.worked_out, task, now), answer, now, desk.session.who, now)
        if not desk.do(edit):
            return False
        if task in desk.round.draft_of(desk.plan.tasks[task].project).answers:
            desk.round.drop(task)
        return True

    def tick(self, task: str) -> bool:
        """It is done now, or was when it was planned to be: whichever is earlier."""
        edit: Edit = edits.set_percent(self._desk.plan, [task], 100)
        return self._desk.do(edit)
