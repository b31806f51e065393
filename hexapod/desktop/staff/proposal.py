"""The levelling proposal: what would move, what it gives way to, and what is left over."""

from __future__ import annotations

from typing import TYPE_CHECKING

from PyQt6.QtWidgets import (
    QButtonGroup,
    QCheckBox,
    QComboBox,
    QGridLayout,
    QHBoxLayout,
    QLineEdit,
    QPushButton,
    QVBoxLayout,
)

from hexapod.desktop import dates
from hexapod.desktop.action import Registry
from hexapod.desktop.frame.page import Page
from hexapod.desktop.models.desk import Desk
from hexapod.desktop.parts import ActionButton, LineButton, card, choice_button, clear, label, narrow
from hexapod.desktop.staff.left_over import fill_choices, fill_left_over
from hexapod.errors import HexapodError
from hexapod.system.words import count_of

if TYPE_CHECKING:
    from hexapod.staffing.levelling.proposal import Move

MOST_MOVES = 60


class ProposalPage(Page):
    def __init__(self, desk: Desk, registry: Registry) -> None:
        super().__init__(desk, "Levelling proposal")
        self._registry = registry
        self._is_open = False  # what narrows the levelling
        self._thoughts: QVBoxLayout | None = None  # at the end of the page: what comes later than the moves
        desk.levelling.thought.connect(self._fill_thoughts)
        for signal in (desk.proposal_changed, desk.changed, desk.computed, desk.levelling.changed):
            signal.connect(self.refresh)

    def fill(self) -> None:
        self._thoughts = None
        self.box.addWidget(label("Levelling proposal", "title"))
        proposal = self.desk.proposal
        self._fill_scope()
        if proposal is None:
            self._fill_empty()
            return
        self.box.addWidget(label("Within float" if proposal.within_float else "The finish may move", "small"))
        self._fill_figures()
        self._fill_buttons()
        self._fill_looking()
        if not proposal.moves:
            usual = "No task has to move." if not proposal.overloads_before else "No move within float helps."
            says = proposal.nothing_because or usual
            self.box.addWidget(label(says, wrap=True))
        shown = self._moves()
        for move in shown[:MOST_MOVES]:
            self._fill_move(move)
        if len(shown) > MOST_MOVES:
            self.box.addWidget(label(f"and {len(shown) - MOST_MOVES} more moves", "small"))
        self._thoughts = QVBoxLayout()
        self._thoughts.setSpacing(3)
        self.box.addLayout(self._thoughts)
        self._fill_thoughts()

    def _fill_thoughts(self) -> None:
        """What is left over and who fills the seats; the rest of the page stays as it is, and under the pointer."""
        if self._thoughts is not None and self.desk.proposal is not None:
            clear(self._thoughts)
            fill_left_over(self.desk, self._registry, self._thoughts)
            fill_choices(self.desk, self._thoughts)

    def _moves(self) -> list[Move]:
        """Those of the proposal, and those that are left out of it, in the order of time."""
        desk = self.desk
        taken = {m.task: m for m in desk.proposal.moves}
        whole = desk.levelling.whole
        left_out = [m for m in whole.moves if m.task in desk.levelling.left_out] if whole is not None else []
        return sorted([*taken.values(), *(m for m in left_out if m.task not in taken)], key=lambda m: (m.after, m.task))

    def _fill_scope(self) -> None:
        """Whose tasks may move."""
        line, group = QHBoxLayout(), QButtonGroup(self)
        line.setSpacing(4)
        for text, only in (("All", False), ("This project", True)):
            button = choice_button(text, lambda x=only: self._set_scope(x))
            button.setChecked(self.desk.levelling.only_this_project is only)
            button.setToolTip(
                "Its tasks move against what the others hold" if only else "Tasks of every project may move"
            )
            group.addButton(button)
            line.addWidget(button)
        more = choice_button("Some…", self._open_narrow)
        more.setObjectName("narrowLevelling")
        more.setChecked(self._is_open or self._is_narrowed)
        more.setToolTip("Only somebody’s overloads, and only what starts in some time")
        line.addWidget(more)
        line.addStretch(1)
        self.box.addLayout(line)
        part = QCheckBox("Tasks may be interrupted")
        part.setObjectName("mayPart")
        part.setToolTip(
            "A task in two parts, a day or longer each, where that ends a project sooner or leaves less over"
        )
        part.setChecked(self.desk.levelling.may_part)
        part.toggled.connect(self._set_may_part)
        self.box.addWidget(part)
        if self._is_open or self._is_narrowed:
            self._fill_narrow()

    @property
    def _is_narrowed(self) -> bool:
        levelling = self.desk.levelling
        return levelling.only is not None or levelling.begin is not None or levelling.end is not None

    def _open_narrow(self) -> None:
        self._is_open = not self._is_open
        if not self._is_open and self._is_narrowed:
            self._narrow(None, None, None)
        self.refresh_now()

    def _fill_narrow(self) -> None:
        """Only a resource, and only what starts between two dates."""
        levelling, plan = self.desk.levelling, self.desk.plan
        who = narrow(QComboBox())
        who.setObjectName("levelOnly")
        who.setAccessibleName("Whose overloads are levelled")
        who.addItem("Everybody’s overloads", None)
        for resource in plan.resources_in_order():
            if plan.used_by.get(resource.id):
                who.addItem(f"Only {resource.name}", resource.id)
        who.setCurrentIndex(max(0, who.findData(levelling.only)))
        self.box.addWidget(who)
        lines = []
        row = QHBoxLayout()
        for name, words, at in (("levelFrom", "Starts from", levelling.begin), ("levelTo", "up to", levelling.end)):
            edit = QLineEdit("" if at is None else dates.typed(at))
            edit.setObjectName(name)
            edit.setAccessibleName(words)
            edit.setPlaceholderText(words)
            row.addWidget(edit)
            lines.append(edit)
        self.box.addLayout(row)

        def take(*_: object) -> None:
            try:
                begin, end = (self.desk.read_date(e.text()) if e.text().strip() else None for e in lines)
            except HexapodError as error:
                self.desk.told.emit(str(error), "trouble", False)
                return
            self._narrow(who.currentData(), begin, end)

        who.activated.connect(take)
        for edit in lines:
            edit.editingFinished.connect(take)

    def _narrow(self, only: str | None, begin: int | None, end: int | None) -> None:
        levelling = self.desk.levelling
        if (only, begin, end) != (levelling.only, levelling.begin, levelling.end):
            levelling.only, levelling.begin, levelling.end = only, begin, end
            self._level_again()

    def _level_again(self) -> None:
        if self.desk.proposal is not None:
            self.desk.levelling.propose(self.desk.proposal.within_float)

    def _set_scope(self, only: bool) -> None:
        levelling = self.desk.levelling
        if levelling.only_this_project is not only:
            levelling.only_this_project = only
            self._level_again()

    def _set_may_part(self, may: bool) -> None:
        self.desk.levelling.may_part = may
        self._level_again()

    def _fill_looking(self) -> None:
        """Whether there can be a better one, and the way to it."""
        levelling, proposal = self.desk.levelling, self.desk.proposal
        if levelling.is_looking:
            line = QHBoxLayout()
            line.addWidget(label("Looking for a better one…", "muted"), 1)
            stop = QPushButton("Stop")
            stop.setObjectName("stopLooking")
            stop.clicked.connect(levelling.stop)
            line.addWidget(stop)
            self.box.addLayout(line)
        elif not proposal.overloads_after and proposal.is_best:
            self.box.addWidget(label("No arrangement ends sooner.", "value"))
        elif proposal.overloads_before and not levelling.left_out:
            look = QPushButton("Look for a better one")
            look.setObjectName("lookOn")
            look.clicked.connect(levelling.look_on)
            self.box.addWidget(look)
        if proposal.bound is not None and not proposal.within_float and proposal.overloads_before:
            from hexapod.staffing.levelling import exact
            from hexapod.staffing.levelling.bound import argument

            said = argument(self.desk.plan, proposal.bound, dates.long_day)
            self.box.addWidget(label(said, "small", wrap=True))
            if not exact.is_there():
                self.box.addWidget(label(exact.WITHOUT, "small", wrap=True))

    def _fill_empty(self) -> None:
        overloads = self.desk.load.overloads if self.desk.load else []
        if overloads:
            count = count_of(len(overloads), "overload")
            text = f"{count}. Levelling delays work until no capacity is exceeded, and says why."
        else:
            text = "Nobody is overloaded."
        self.box.addWidget(label(text, "muted", wrap=True))
        self.box.addWidget(ActionButton(self._registry, "level.float", primary=True))
        self.box.addWidget(ActionButton(self._registry, "level.free"))
        self.box.addWidget(ActionButton(self._registry, "level.clear"))
        if self.desk.levelling.is_looking:
            self.box.addWidget(label("Looking…", "muted"))

    def _fill_figures(self) -> None:
        proposal = self.desk.proposal
        frame, box = card()
        grid = QGridLayout()
        before, after = proposal.finish_before, proposal.finish_after
        finish = dates.short_day(after) if before == after else f"{dates.short_day(before)} → {dates.short_day(after)}"
        cells = (
            ("Overloads", f"{len(proposal.overloads_before)} → {len(proposal.overloads_after)}"),
            ("Tasks moved", f"{len(proposal.moves)}{self._interrupted()}"),
            ("Last finish", finish if before != after else f"{finish}, unchanged"),
            *self._finishes(),
        )
        for i, (name, value) in enumerate(cells):
            shown = label(value, "value")
            shown.setObjectName(f"proposal{name.replace(' ', '')}")
            row, column = (0, i) if i < 2 else (2 * i - 2, 0)
            grid.addWidget(label(name, "small"), row, column)
            grid.addWidget(shown, row + 1, column, 1, 1 if i < 2 else 2)
        box.addLayout(grid)
        self.box.addWidget(frame)

    def _interrupted(self) -> str:
        count = len(self.desk.proposal.parts)
        return f", {count} interrupted" if count else ""

    def _finishes(self) -> list[tuple[str, str]]:
        """Where there are several projects, the finish of each that ends at another time."""
        proposal, plan = self.desk.proposal, self.desk.plan
        pairs = [(p, proposal.finishes_before.get(p), f) for p, f in proposal.schedule.project_finish.items()]
        moved = [(p, a, b) for p, a, b in pairs if a is not None and b is not None and a != b]
        if len(pairs) < 2:
            return []
        return [(plan.projects[p].name, f"{dates.short_day(a)} → {dates.short_day(b)}") for p, a, b in moved[:6]]

    def _fill_buttons(self) -> None:
        proposal = self.desk.proposal
        line = QHBoxLayout()
        line.addWidget(ActionButton(self._registry, "level.accept", primary=True, text="Accept moves"))
        line.addWidget(ActionButton(self._registry, "level.dismiss", text="Dismiss"))
        self.box.addLayout(line)
        if proposal.within_float and proposal.overloads_after:
            self.box.addWidget(ActionButton(self._registry, "level.free", text="Let the finish move"))

    def _fill_move(self, move) -> None:  # type: ignore[no-untyped-def]
        levelling = self.desk.levelling
        part = levelling.part_of(move.task)
        task, plan = part.task if part is not None else move.task, self.desk.plan
        frame, box = card()
        name = LineButton(plan.tasks[task].name)
        name.clicked.connect(lambda: self.desk.go_to(task))
        top = QHBoxLayout()
        top.addWidget(name, 1)
        if levelling.whole is not None and (part is not None or move.task in levelling.whole.holds):
            take = QCheckBox()
            take.setObjectName(f"take {move.task}")
            take.setAccessibleName(f"Take the move of {plan.tasks[task].name}")
            take.setToolTip("Take this move; without it what is left over is counted again")
            take.setChecked(move.task not in levelling.left_out)
            take.toggled.connect(lambda on, t=move.task: levelling.leave_out(t, not on))
            top.addWidget(take)
        box.addLayout(top)
        if part is not None:
            box.addWidget(
                label(f"Interrupted after {self.desk.length(part.minutes, part.task)}; the rest", "small", wrap=True)
            )
        box.addWidget(label(f"{dates.short_day(move.before)} → {dates.short_day(move.after)}", "attention"))
        other = levelling.plan.tasks.get(move.gives_way_to or "")
        if move.resource and other is not None:
            who, project = plan.resources[move.resource].name, plan.projects[other.project].name
            why = f"held {self.desk.length(move.hold, move.task)}: {who} is with “{other.name}” ({project})"
        else:
            why = "follows what it waits for"
        box.addWidget(label(why, "small", wrap=True))
        self.box.addWidget(frame)
