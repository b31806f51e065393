"""The levelling proposal: what would move, what it gives way to, and what is left over."""

from __future__ import annotations

from PyQt6.QtWidgets import QGridLayout, QHBoxLayout

from hexapod.desktop import dates
from hexapod.desktop.actions.action import Registry
from hexapod.desktop.desk import Desk
from hexapod.desktop.panels.page import Page
from hexapod.desktop.parts import ActionButton, LineButton, card, heading, label
from hexapod.worktime.lengths import format_length

MOST_MOVES = 60


class ProposalPage(Page):
    def __init__(self, desk: Desk, registry: Registry) -> None:
        super().__init__(desk, "Levelling proposal")
        self._registry = registry
        for signal in (desk.proposal_changed, desk.changed, desk.computed):
            signal.connect(self.refresh)

    def fill(self) -> None:
        self.box.addWidget(label("Levelling proposal", "title"))
        proposal = self.desk.proposal
        if proposal is None:
            self._fill_empty()
            return
        self.box.addWidget(label("Within float" if proposal.within_float else "The finish may move", "small"))
        self._fill_figures()
        self._fill_buttons()
        if not proposal.moves:
            says = "No task has to move." if not proposal.overloads_before else "No move within float helps."
            self.box.addWidget(label(says, wrap=True))
        for move in proposal.moves[:MOST_MOVES]:
            self._fill_move(move)
        if len(proposal.moves) > MOST_MOVES:
            self.box.addWidget(label(f"and {len(proposal.moves) - MOST_MOVES} more moves", "small"))
        self._fill_left_over()

    def _fill_empty(self) -> None:
        overloads = self.desk.load.overloads if self.desk.load else []
        if overloads:
            text = f"{len(overloads)} overloads. Levelling delays work until no capacity is exceeded, and says why."
        else:
            text = "Nobody is overloaded."
        self.box.addWidget(label(text, "muted", wrap=True))
        self.box.addWidget(ActionButton(self._registry, "level.float", primary=True))
        self.box.addWidget(ActionButton(self._registry, "level.free"))
        self.box.addWidget(ActionButton(self._registry, "level.clear"))

    def _fill_figures(self) -> None:
        proposal = self.desk.proposal
        frame, box = card()
        grid = QGridLayout()
        before, after = proposal.finish_before, proposal.finish_after
        finish = dates.short_day(after) if before == after else f"{dates.short_day(before)} → {dates.short_day(after)}"
        cells = (
            ("Overloads", f"{len(proposal.overloads_before)} → {len(proposal.overloads_after)}"),
            ("Tasks moved", str(len(proposal.moves))),
            ("Last finish", finish if before != after else f"{finish}, unchanged"),
        )
        for i, (name, value) in enumerate(cells):
            shown = label(value, "value")
            shown.setObjectName(f"proposal{name.replace(' ', '')}")
            row, column = (0, i) if i < 2 else (2, 0)
            grid.addWidget(label(name, "small"), row, column)
            grid.addWidget(shown, row + 1, column, 1, 1 if i < 2 else 2)
        box.addLayout(grid)
        self.box.addWidget(frame)

    def _fill_buttons(self) -> None:
        proposal = self.desk.proposal
        line = QHBoxLayout()
        line.addWidget(ActionButton(self._registry, "level.accept", primary=True, text="Accept moves"))
        line.addWidget(ActionButton(self._registry, "level.dismiss", text="Dismiss"))
        self.box.addLayout(line)
        if proposal.within_float and proposal.overloads_after:
            self.box.addWidget(ActionButton(self._registry, "level.free", text="Let the finish move"))

    def _fill_move(self, move) -> None:  # type: ignore[no-untyped-def]
        plan = self.desk.plan
        frame, box = card()
        name = LineButton(plan.tasks[move.task].name)
        name.clicked.connect(lambda: self.desk.go_to(move.task))
        box.addWidget(name)
        box.addWidget(label(f"{dates.short_day(move.before)} → {dates.short_day(move.after)}", "attention"))
        if move.resource and move.gives_way_to:
            other = plan.tasks[move.gives_way_to]
            who, project = plan.resources[move.resource].name, plan.projects[other.project].name
            why = f"held {format_length(move.hold)}: {who} is with “{other.name}” ({project})"
        else:
            why = "follows what it waits for"
        box.addWidget(label(why, "small", wrap=True))
        self.box.addWidget(frame)

    def _fill_left_over(self) -> None:
        plan = self.desk.plan
        left = self.desk.proposal.overloads_after
        if not left:
            return
        self.box.addWidget(heading("Left over"))
        for over in left[:8]:
            tasks = " and ".join(f"“{plan.tasks[t].name}”" for t in over.tasks[:3])
            text = (
                f"{plan.resources[over.resource].name}, {dates.short_day(over.begin)} to {dates.short_day(over.end)}: "
                f"{over.peak:g} asked for by {tasks}. No float is left to move them apart."
            )
            self.box.addWidget(label(text, "muted", wrap=True))
