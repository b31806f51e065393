"""What the parts of a leg share: tools above a title and what else they show, which follows the plan while seen."""

from __future__ import annotations

from collections.abc import Callable, Sequence

from PyQt6.QtCore import QSize, pyqtBoundSignal, pyqtSignal
from PyQt6.QtGui import QShowEvent
from PyQt6.QtWidgets import QComboBox, QHBoxLayout, QLineEdit, QVBoxLayout, QWidget

from hexapod.desktop.action import Registry
from hexapod.desktop.models.desk import Desk
from hexapod.desktop.models.works import EVERY_PROJECT
from hexapod.desktop.parts import label, narrow
from hexapod.desktop.theme.style import scaled

FINDER = 230  # pixels at most


class _Choice(QComboBox):
    """It gives way in a narrow window, down to what ``narrow`` leaves it."""

    def __init__(self, width: int) -> None:
        super().__init__()
        self._wide = width

    def sizeHint(self) -> QSize:
        return super().sizeHint().expandedTo(QSize(self._wide, 0))


class Part(QWidget):
    """Subclasses ``refresh``, name their ``main_part`` and put what they show into a ``column``. ``bar_asked`` asks for
    the bar of a task, ``why_asked`` why a project finishes when it does."""

    bar_asked = pyqtSignal(str)
    why_asked = pyqtSignal(str)

    def __init__(self, desk: Desk, registry: Registry, name: str) -> None:
        super().__init__()
        self._desk, self._registry = desk, registry
        self._title, self._says = label("", "title", wrap=True), label("", "small", wrap=True)
        self._title.setObjectName(f"{name}Title")
        self._says.setObjectName(f"{name}Says")
        self.tools = QWidget()
        self._line = QHBoxLayout(self.tools)
        self._line.setContentsMargins(0, 0, 0, 0)
        self._line.setSpacing(6)
        self._line.addStretch(1)
        self._leading = 0  # tools at the left

    @property
    def sentence(self) -> str:
        """What it says above its picture."""
        return self._title.text()

    def column(self) -> QVBoxLayout:
        """The tools, then what is put in; its title is to be put in where it belongs."""
        box = QVBoxLayout(self)
        box.setContentsMargins(14, 8, 14, 10)
        box.setSpacing(4)
        box.addWidget(self.tools)
        return box

    def follow(self, *signals: pyqtBoundSignal) -> None:
        """Follow the plan and some more signals; at once, so that nothing is painted of a plan that is no more."""
        desk = self._desk
        for signal in (desk.changed, desk.computed, desk.past_changed, *signals):
            signal.connect(lambda *_: self.isVisible() and self.refresh())

    def showEvent(self, event: QShowEvent) -> None:
        super().showEvent(event)
        self.refresh()

    def refresh(self) -> None:
        raise AssertionError("a part shows itself")

    def choice(self, name: str, accessible: str, width: int, chosen: Callable[[str], object]) -> QComboBox:
        """A choice among the tools, so many pixels wide where there is room."""
        box = narrow(_Choice(width))
        box.setObjectName(name)
        box.setAccessibleName(accessible)
        box.activated.connect(lambda i: chosen(box.itemData(i)))
        self._line.addWidget(box)
        return box

    def finder(self, name: str, accessible: str, hint: str, typed: Callable[[str], object]) -> QLineEdit:
        """A field among the tools that narrows what is on show while somebody types."""
        field = QLineEdit()
        field.setObjectName(name)
        field.setAccessibleName(accessible)
        field.setPlaceholderText(hint)
        field.setClearButtonEnabled(True)
        field.setMaximumWidth(scaled(FINDER))
        field.textChanged.connect(lambda text: typed(text.strip()))
        return field

    def lead(self, widget: QWidget) -> None:
        """A tool at the left, behind those that are there."""
        self._line.insertWidget(self._leading, widget)
        self._leading += 1

    def show_hours(self, task: str) -> None:
        """The hours of a task, at the side, with the line in which they are logged."""
        self._desk.select((task,), task)
        self._registry.qt("hours.log").trigger()

    def projects(self) -> list[tuple[str, str]]:
        """What a choice of projects offers."""
        found = [(p.id, p.name) for p in self._desk.plan.projects_in_order() if not p.archived]
        return [(EVERY_PROJECT, "Every project"), *found]


def offer(box: QComboBox, choices: Sequence[tuple[str, str]], chosen: str) -> None:
    """Fill a choice, where it has not these entries already: what each means, and its words."""
    if [(box.itemData(i), box.itemText(i)) for i in range(box.count())] != list(choices):
        box.clear()
        for data, words in choices:
            box.addItem(words, data)
    box.setCurrentIndex(max(0, box.findData(chosen)))
