"""At the side: what a figure of earned value is made of, in its own numbers and task by task."""

from __future__ import annotations

from hexapod.control.value_words import BY_KEY, made_of, parts_of, said
from hexapod.desktop.action import Registry
from hexapod.desktop.frame.page import Page
from hexapod.desktop.models.desk import Desk
from hexapod.desktop.parts import LineButton, heading, label
from hexapod.desktop.track.value_table import Saying

MOST_SHOWN = 60
MEANS = {
    "spi": "Less than 1: less was done than was planned by then. More than 1: more.",
    "cpi": "Less than 1: what was done took more than its budget. More than 1: less.",
    "tcpi": "How much the rest must be worth for what it takes, to end within the budget.",
    "es": "Where the plan had stood when it had planned as much as is earned now.",
    "spi_t": "Unlike SPI it does not end at 1 when a late project is done.",
    "finish": "If it goes on at the pace that it had, on the project's calendar.",
}


class ValuePage(Page):
    def __init__(self, desk: Desk, registry: Registry) -> None:
        super().__init__(desk, "What a figure is made of")
        self._registry = registry
        for signal in (desk.changed, desk.value.changed, desk.computed, desk.looked_at_changed):
            signal.connect(self.refresh)

    def fill(self) -> None:
        work, plan = self.desk.value, self.desk.plan
        figure = BY_KEY[work.figure]
        self.box.addWidget(label(figure.words, "title", wrap=True))
        value = work.value()
        if value is None:
            return
        say = Saying(self.desk, work.measure)
        words = said(value, figure.key, say)
        if words:
            self.box.addWidget(label(f"{figure.short} {words}".strip()))
        else:
            why = value.missing.get(figure.key) or next(iter(value.missing.values()), "It has no value.")
            self.box.addWidget(label(why, "trouble", wrap=True))
        self.box.addWidget(label(made_of(value, figure.key, say), "small", wrap=True))
        if figure.key in MEANS:
            self.box.addWidget(label(MEANS[figure.key], "small", wrap=True))
        parts = parts_of(value, figure.key)
        if not parts:
            return
        self.box.addSpacing(6)
        self.box.addWidget(
            heading("Task by task" if figure.key not in ("spi", "cpi") else "What is ahead, what is behind")
        )
        for task, amount in parts[:MOST_SHOWN]:
            known = plan.tasks.get(task)
            line = LineButton(f"{say.amount(amount)} · {known.name if known is not None else 'a deleted task'}")
            line.setObjectName(f"valueOf.{task}")
            line.setEnabled(known is not None)
            line.clicked.connect(lambda _, t=task: self._show(t))
            self.box.addWidget(line)
        if len(parts) > MOST_SHOWN:
            self.box.addWidget(label(f"… and {len(parts) - MOST_SHOWN} more", "small"))

    def _show(self, task: str) -> None:
        """The hours of a task where it is about what was spent; else its bar in the chart."""
        self.desk.select((task,), task)
        self._registry.qt("hours.log" if self.desk.value.figure in ("ac", "cv", "cpi") else "look.task").trigger()
