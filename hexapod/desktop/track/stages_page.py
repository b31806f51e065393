"""At the side: the stages of the workspace, each with what it means and how many cards it should hold at once."""

from __future__ import annotations

from PyQt6.QtWidgets import QHBoxLayout, QLineEdit

from hexapod.desktop.frame.page import Page
from hexapod.desktop.models.desk import Desk
from hexapod.desktop.parts import card, icon_button, label
from hexapod.errors import BadText
from hexapod.plan import edits
from hexapod.plan.records import Stage
from hexapod.system.budgets import whole_number

WHAT = (
    "The columns of the board, for all projects. A card that is put into a stage is as far as its per cent says; what "
    "is told elsewhere moves the card. Without a per cent a stage says nothing of that."
)


class StagesPage(Page):
    def __init__(self, desk: Desk) -> None:
        super().__init__(desk, "Stages")
        desk.changed.connect(self.refresh)

    def fill(self) -> None:
        self.box.addWidget(label("Stages", "title"))
        self.box.addWidget(label(WHAT, "small", wrap=True))
        reason = self.reason("stageReason")
        stages = self.desk.stages.stages()
        for i, stage in enumerate(stages):
            self._fill_one(stage, i, len(stages))
        add = self.input_line("", "stageAdd", "A new stage", "One more: type its name, Enter")
        add.returnPressed.connect(lambda: self.attempt(lambda: self.desk.stages.add(add.text().strip())))
        self.box.addSpacing(6)
        self.box.addWidget(add)
        self.box.addWidget(reason)

    def _fill_one(self, stage: Stage, at: int, count: int) -> None:
        desk = self.desk
        frame, box = card()
        first, second = QHBoxLayout(), QHBoxLayout()
        name = self.input_line(stage.name, f"stageName.{stage.id}", f"The name of {stage.name}")
        name.editingFinished.connect(lambda: self._change(stage, name, "name", name.text().strip()))
        first.addWidget(name, 1)
        for icon, tip, by, is_on in (
            ("arrow-up", "Earlier", -1, at > 0),
            ("arrow-down", "Later", 1, at < count - 1),
        ):
            button = icon_button(icon, f"{tip}: {stage.name}")
            button.setEnabled(is_on and not desk.is_read_only)
            button.clicked.connect(lambda _, by=by: desk.do(edits.move_stage(desk.plan, stage.id, by)))
            first.addWidget(button)
        remove = icon_button("x", f"Delete {stage.name}")
        remove.setEnabled(not desk.is_read_only)
        remove.clicked.connect(lambda: self._remove(stage))
        first.addWidget(remove)
        percent = self.input_line(
            "" if stage.percent is None else f"{stage.percent:g} %", f"stagePercent.{stage.id}",
            f"The per cent of {stage.name}", "no per cent",
        )  # fmt: skip
        percent.setFixedWidth(76)
        percent.editingFinished.connect(
            lambda: self._change(stage, percent, "percent", lambda: read_percent(percent.text()))
        )
        most = self.input_line(
            "" if stage.most is None else str(stage.most), f"stageMost.{stage.id}",
            f"The most cards at once in {stage.name}", "any",
        )  # fmt: skip
        most.setFixedWidth(60)
        most.editingFinished.connect(lambda: self._change(stage, most, "most", lambda: read_most(most.text())))
        second.addWidget(percent)
        second.addWidget(label("at most", "small"))
        second.addWidget(most)
        second.addWidget(label("cards", "small"))
        second.addStretch(1)
        box.addLayout(first)
        box.addLayout(second)
        self.box.addWidget(frame)

    def _change(self, stage: Stage, line: QLineEdit, field: str, value: object) -> None:
        if line.isModified():
            self.attempt(lambda: self.desk.stages.change(stage, **{field: value() if callable(value) else value}))

    def _remove(self, stage: Stage) -> None:
        edit = edits.remove_stage(self.desk.plan, stage.id)
        if self.desk.do(edit):
            self.desk.told.emit(f"{edit.words}. Its cards stay on the board.", "", True)


def read_percent(text: str) -> float | None:
    """A per cent as it is typed, nothing where a stage says none."""
    said = text.strip().removesuffix("%").strip().replace(",", ".")
    if not said:
        return None
    try:
        return float(said)
    except ValueError:
        raise BadText("The per cent of a stage is a number from 0 to 100, or nothing.") from None


def read_most(text: str) -> int | None:
    said = text.strip()
    if not said:
        return None
    found = whole_number(said)
    if found is None:
        raise BadText("How many cards a stage should hold at most is a whole number, or nothing.")
    return found
