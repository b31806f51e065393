"""The capacity guard: on or off, what it stopped and why, and what could be done instead."""

from __future__ import annotations

from PyQt6.QtWidgets import QPushButton

from hexapod.desktop import dates
from hexapod.desktop.action import Registry
from hexapod.desktop.frame.page import Page
from hexapod.desktop.models.desk import Desk
from hexapod.desktop.models.guard import Stopped
from hexapod.desktop.parts import ActionButton, LineButton, card, heading, label
from hexapod.desktop.strip.periods import hours
from hexapod.system.words import count_of


class GuardPage(Page):
    def __init__(self, desk: Desk, registry: Registry) -> None:
        super().__init__(desk, "Capacity guard")
        self._registry = registry
        for signal in (desk.guard.changed, desk.changed, desk.computed, desk.load_changed):
            signal.connect(self.refresh)

    def fill(self) -> None:
        guard = self.desk.guard
        self.box.addWidget(label(f"Capacity guard is {'on' if guard.is_on else 'off'}", "title"))
        if guard.stopped is not None:
            self._fill_stopped(guard.stopped)
        else:
            self._fill_state(guard.is_on)
        self.box.addSpacing(8)
        turn = QPushButton("Turn the guard off" if guard.is_on else "Turn the guard on")
        turn.setObjectName("turnGuard")
        turn.clicked.connect(lambda: guard.turn(not guard.is_on))
        self.box.addWidget(turn)

    def _fill_state(self, is_on: bool) -> None:
        load = self.desk.load
        overloads = load.overloads if load is not None else []
        says = (
            "No edit and no drag can overload anybody. What would is held back, with the nearest free dates and people."
            if is_on
            else "Turn it on to keep any drag or edit from overloading anybody."
        )
        self.box.addWidget(label(says, "muted", wrap=True))
        if overloads:
            count = "1 overload is" if len(overloads) == 1 else f"{len(overloads)} overloads are"
            self.box.addWidget(label(f"{count} there already. Levelling resolves them.", "attention", wrap=True))
            self.box.addWidget(ActionButton(self._registry, "level.float"))
            self.box.addWidget(ActionButton(self._registry, "level.free"))

    def _fill_stopped(self, stopped: Stopped) -> None:
        plan = self.desk.plan
        self.box.addWidget(label(f"Not done: {stopped.edit.words}", "value", wrap=True))
        for breach in stopped.breaches[:6]:
            first = breach.overloads[0]
            name = plan.resources[breach.resource].name if breach.resource in plan.resources else "Somebody new"
            more = hours(round(breach.more / 60, 1))
            when = f"{dates.short_day(first.begin)} to {dates.last_day(breach.overloads[-1].end)}"
            self.box.addWidget(label(f"{name} would have {more} too much, {when}", "trouble", wrap=True))
        if stopped.is_looking:
            self.box.addWidget(label("Looking for what could be done instead…", "muted"))
            return
        self._fill_dates(stopped)
        self._fill_people(stopped)
        if not stopped.dates and not stopped.people:
            says = "No other date and nobody else would do. It needs more capacity, or less of it."
            self.box.addWidget(label(says, "muted", wrap=True))
        leave = QPushButton("Leave it")
        leave.setObjectName("leaveIt")
        leave.clicked.connect(self.desk.guard.forget)
        self.box.addWidget(leave)

    def _fill_dates(self, stopped: Stopped) -> None:
        if stopped.dates:
            self.box.addWidget(heading("The nearest free dates"))
        for i, instead in enumerate(stopped.dates):
            frame, box = card()
            take = LineButton(f"Start {dates.long_day(instead.begin)}")
            take.setObjectName(f"insteadDate {i}")
            take.clicked.connect(lambda _, e=instead.edit: self.desk.guard.take(e))
            box.addWidget(take)
            asked = stopped.after.dates(instead.task).start
            apart = (instead.begin // 1440) - (asked // 1440)
            said = (
                f"{count_of(abs(apart), 'day')} {'later' if apart > 0 else 'sooner'} than asked for"
                if apart
                else "the same day"
            )
            box.addWidget(label(said, "small"))
            self.box.addWidget(frame)

    def _fill_people(self, stopped: Stopped) -> None:
        if stopped.people:
            self.box.addWidget(heading("Somebody else, who is free then"))
        for instead in stopped.people:
            frame, box = card()
            take = LineButton(self.desk.plan.resources[instead.resource or ""].name)
            take.setObjectName(f"insteadPerson {instead.resource}")
            take.clicked.connect(lambda _, e=instead.edit: self.desk.guard.take(e))
            box.addWidget(take)
            box.addWidget(label(f"from {dates.short_day(instead.begin)}", "small"))
            self.box.addWidget(frame)
