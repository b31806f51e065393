"""How far a task is: several pages begin with it."""

from __future__ import annotations

from PyQt6.QtWidgets import QVBoxLayout

from hexapod.desktop.chart.done_bar import DoneBar
from hexapod.desktop.models.desk import Desk
from hexapod.desktop.models.progress import late_words, left_words, state_words
from hexapod.desktop.parts import label
from hexapod.plan.records import Task


def add_standing(box: QVBoxLayout, desk: Desk, task: Task) -> None:
    """What is left of a leaf, its state and whether it is late, in words and as a bar."""
    box.addWidget(label(left_words(desk, task), "value"))
    box.addWidget(label(state_words(desk, task), "small", wrap=True))
    if task.is_begun and task.minutes:
        box.addWidget(DoneBar(desk, task))
    if late := late_words(desk, task.id):
        shown = label(late.capitalize(), "trouble", wrap=True)
        shown.setObjectName("lateWords")
        box.addWidget(shown)
