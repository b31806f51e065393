"""The Link leg: which part of the network is drawn, and how; beside it the map of planning back."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass

from PyQt6.QtCore import QTimer
from PyQt6.QtWidgets import QFrame, QStackedWidget, QToolButton, QVBoxLayout, QWidget

from hexapod.desktop.action import Registry
from hexapod.desktop.link.back_map import BackMap
from hexapod.desktop.link.diagram import Diagram
from hexapod.desktop.link.graph import Graph, graph_of
from hexapod.desktop.link.layers import Layout, Stopped, lay_out
from hexapod.desktop.models.background import in_background
from hexapod.desktop.models.desk import Desk
from hexapod.desktop.models.rows_on_show import moves_rows
from hexapod.desktop.parts import Sentence, bar_line, choice_button, icon_button, label
from hexapod.plan.outline import outline_order, rows, stream_of
from hexapod.plan.plan import Plan
from hexapod.schedule.chains import Chain, Reach
from hexapod.schedule.schedule import Schedule
from hexapod.session import Applied
from hexapod.system.words import count_of

MOST_BOXES = 2000
LEVELS = (("1", 1), ("2", 2), ("3", 3), ("All", None))
WHAT = {None: "Project", Reach.ALL: "Its chain", Reach.DRIVERS: "Its drivers"}


@dataclass(frozen=True)
class Drawing:
    graph: Graph
    layout: Layout
    lanes: tuple[str, ...]
    left_out: int


class LinkLeg(QWidget):
    def __init__(self, desk: Desk, registry: Registry) -> None:
        super().__init__()
        self._desk = desk
        self.level: int | None = None
        self.reach: Reach | None = None
        self.has_lanes = False
        self._of: str | None = None  # the task whose chain is drawn
        self._asked = 0
        self._part = 0.0
        self.diagram = Diagram(desk, registry)
        self.map = BackMap(desk, registry)
        self._stack = QStackedWidget()
        self._stack.addWidget(self.diagram)
        self._stack.addWidget(self.map)
        self._says = Sentence()
        self._says.setProperty("role", "small")
        self._says.setObjectName("networkSays")
        self._stop = icon_button("x", "Stop laying out")
        self._stop.clicked.connect(self.stop)
        self._stop.hide()
        self._watch = QTimer(self, interval=120)
        self._watch.timeout.connect(self._show_progress)
        box = QVBoxLayout(self)
        box.setContentsMargins(0, 0, 0, 0)
        box.setSpacing(0)
        self.bar = self._make_bar()
        box.addWidget(self._stack, 1)
        desk.changed.connect(self._on_changed)
        desk.computed.connect(self.refresh)
        desk.looked_at_changed.connect(self._on_project)
        desk.selection_changed.connect(self._on_selection)

    def _make_bar(self) -> QFrame:
        bar = QFrame()
        line = bar_line(bar)
        self._reaches = {
            reach: choice_button(words, lambda r=reach: self.show_reach(r)) for reach, words in WHAT.items()
        }
        self._levels = {level: choice_button(words, lambda n=level: self.show_level(n)) for words, level in LEVELS}
        self._back = choice_button("Plan back", self.toggle_map)
        self._back.setObjectName("planBack")
        self._back.setToolTip("Draw what must come before a date")
        self._lanes = choice_button("Lanes", lambda: self.show_lanes(not self.has_lanes))
        self._lanes.setToolTip("A lane for each stream")
        for button in self._reaches.values():
            line.addWidget(button)
        line.addSpacing(6)
        line.addWidget(label("Level"))
        for button in self._levels.values():
            line.addWidget(button)
        line.addSpacing(6)
        line.addWidget(self._lanes)
        line.addSpacing(6)
        line.addWidget(self._back)
        line.addWidget(self._says, 1)
        line.addWidget(self._stop)
        for icon, words, run in (("zoom-out", "Zoom out", lambda: self._zoom(0.8)),
                                 ("zoom-in", "Zoom in", lambda: self._zoom(1.25)),
                                 ("maximize", "All of it, however small", self.show_whole)):  # fmt: skip
            line.addWidget(_tool(icon, words, run))
        self._mark()
        return bar

    @property
    def shows_map(self) -> bool:
        return self._stack.currentWidget() is self.map

    @property
    def main_part(self) -> QWidget:
        """What takes the keyboard."""
        return self.map if self.shows_map else self.diagram

    def _mark(self) -> None:
        for reach, button in self._reaches.items():
            button.setChecked(reach is self.reach)
        for level, button in self._levels.items():
            button.setChecked(level == self.level)
        self._lanes.setChecked(self.has_lanes)
        self._back.setChecked(self.shows_map)
        for button in (*self._reaches.values(), *self._levels.values()):
            button.setEnabled(not self.shows_map)

    # What is drawn

    def show_reach(self, reach: Reach | None) -> None:
        """The whole project, or what hangs together with the current task."""
        self.reach, self._of = reach, self._desk.current
        self._mark()
        self.refresh()

    def show_level(self, level: int | None) -> None:
        self.level = level
        self._mark()
        self.refresh()

    def show_lanes(self, on: bool) -> None:
        self.has_lanes = on
        self.map.show_lanes(on)
        self._mark()
        self.refresh()

    def toggle_map(self) -> None:
        """The network, or the map on which the plan is drawn back from its dates."""
        self.show_map(not self.shows_map)

    def show_map(self, on: bool) -> None:
        self._stack.setCurrentWidget(self.map if on else self.diagram)
        if on:
            self.map.begin()
        self._says.setText("")
        self._mark()
        self.main_part.setFocus()

    def fit(self) -> None:
        self.map.fit() if self.shows_map else self.diagram.fit()

    def show_whole(self) -> None:
        self.map.fit() if self.shows_map else self.diagram.show_whole()

    def _zoom(self, factor: float) -> None:
        self.map.zoom_by(factor) if self.shows_map else self.diagram.zoom_by(factor)

    def cancel(self) -> bool:
        return self.map.cancel() if self.shows_map else self.diagram.cancel()

    def refresh(self, *_: object) -> None:
        """Lay the network out anew beside the interface; the last drawing stays until it is there."""
        desk = self._desk
        if not self.isVisible() or not desk.is_computed or desk.project is None:
            return
        self._asked += 1
        asked, self._part = self._asked, 0.0
        plan, schedule, project = desk.plan, desk.worked_out, desk.project
        reach, of, level, has_lanes = self.reach, self._of, self.level, self.has_lanes

        def goes_on(part: float) -> bool:
            self._part = part
            return asked == self._asked

        def work() -> object:
            chain = Chain(of, reach) if reach is not None and of in plan.tasks else None
            return drawing_of(plan, schedule, project, chain, level, has_lanes, goes_on)

        def show(found: object) -> None:
            if asked != self._asked:
                return
            assert isinstance(found, Drawing)
            self._rest()
            self.diagram.show_network(found.graph, found.layout, found.lanes)
            count = len(found.graph.tasks)
            words = f"{'1 box' if count == 1 else f'{count:,} boxes'}, {count_of(len(found.graph.arcs), 'link')}"
            if found.left_out:
                words += f"; {found.left_out:,} more tasks are left out. Choose a chain or a higher level"
            self._says.setText("" if self.shows_map else words)

        def failed(error: Exception) -> None:
            if not isinstance(error, Stopped):
                self._rest()
                desk.told.emit(str(error), "trouble", False)

        self._watch.start()
        in_background(self, work, show, failed)

    def lay_out_now(self) -> None:
        """The network as it is, for paper, if it was not drawn yet."""
        desk = self._desk
        if not self.diagram.graph.tasks and desk.is_computed and desk.project is not None:
            found = drawing_of(desk.plan, desk.worked_out, desk.project, None, self.level, self.has_lanes)
            self.diagram.show_network(found.graph, found.layout, found.lanes)

    def stop(self) -> None:
        """Leave the last drawing as it is."""
        self._asked += 1
        self._rest()
        self._says.setText("Stopped")

    def _rest(self) -> None:
        self._watch.stop()
        self._stop.hide()

    def _show_progress(self) -> None:
        self._stop.show()
        self._says.setText(f"Laying out, {100 * self._part:.0f} %")

    # Being told

    def showEvent(self, event) -> None:  # type: ignore[no-untyped-def]
        super().showEvent(event)
        self.refresh()

    def _on_changed(self, applied: Applied) -> None:
        if applied.changes.links or moves_rows(applied.changes):
            self.refresh()
        self.map.refresh()

    def _on_project(self) -> None:
        self.reach = None
        self._mark()
        self.refresh()
        self.map.begin()

    def _on_selection(self) -> None:
        self.diagram.reveal(self._desk.current or "")


def drawing_of(
    plan: Plan,
    schedule: Schedule,
    project: str,
    chain: Chain | None,
    level: int | None,
    has_lanes: bool,
    goes_on: Callable[[float], bool] = lambda part: True,
) -> Drawing:
    """A project's network, or a chain's, placed in layers."""
    if chain is not None:
        from hexapod.schedule.chains import chain_of

        found = chain_of(schedule, chain)
        tasks = [t for t in outline_order(plan) if t in found]
    else:
        tasks = [row.task for row in rows(plan, project)]
    graph = graph_of(plan, [t for t in tasks if schedule.has(t)], level)
    left_out = 0
    if len(graph.tasks) > MOST_BOXES:
        left_out = len(graph.tasks) - MOST_BOXES
        first = sorted(graph.tasks, key=lambda t: int(schedule.total_float[schedule.slots[t]]))[:MOST_BOXES]
        graph = graph_of(
            plan, sorted(first, key=tasks.index if len(tasks) < 5000 else schedule.slots.__getitem__), level
        )
    order = [float(schedule.start[schedule.slots[t]]) for t in graph.tasks]
    critical = [bool(schedule.critical[schedule.slots[t]]) for t in graph.tasks]
    driving = [critical[a] and critical[b] for a, b in graph.arcs]
    lanes: tuple[str, ...] = ()
    lane_of: list[int] = []
    if has_lanes:
        names = [stream_of(plan, t) for t in graph.tasks]
        lanes = tuple(dict.fromkeys(names))
        lane_of = [lanes.index(name) for name in names]
    layout = lay_out(len(graph.tasks), graph.arcs, order=order, driving=driving, lanes=lane_of, goes_on=goes_on)
    return Drawing(graph, layout, lanes, left_out)


def _tool(icon: str, words: str, run: Callable[[], object]) -> QToolButton:
    button = icon_button(icon, words)
    button.clicked.connect(lambda: run())
    return button
