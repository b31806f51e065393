"""Drives a real window by its events and prints, as JSON, how long each frame took, in milliseconds.

``python -m bench.in_window FILE``: the workspace in the window of the application.
``python -m bench.in_window --bare ROWS``: a bare list of as many rows, and an empty window, of the same size.
"""

from __future__ import annotations

import json
import sys
import time
from collections.abc import Callable
from pathlib import Path

from PyQt6.QtCore import QAbstractTableModel, QModelIndex, QPoint, QPointF, Qt
from PyQt6.QtGui import QWheelEvent
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QApplication, QMainWindow, QTableView, QWidget

SIZE = (1280, 800)
STEPS = 120


PACE = 1 / 60  # seconds from one event to the next, as a screen and a hand have it


def frame(app: QApplication, act: Callable[[], object]) -> float:
    """The longest frame that one event brings about, until the next event comes at the pace of a screen."""
    began = time.perf_counter()
    act()
    app.processEvents()
    longest = time.perf_counter() - began
    while (now := time.perf_counter()) - began < PACE:
        app.processEvents()
        longest = max(longest, time.perf_counter() - now)
        time.sleep(0.0005)
    return longest * 1000


def whole(app: QApplication, act: Callable[[], object], is_done: Callable[[], bool]) -> float:
    """What one event takes until nothing is left to be drawn, over as many frames as that needs."""
    began = time.perf_counter()
    act()
    app.processEvents()
    while not is_done():
        app.processEvents()
    return (time.perf_counter() - began) * 1000


def wheel(view: QWidget, turned: int, keys: Qt.KeyboardModifier = Qt.KeyboardModifier.NoModifier) -> None:
    at = QPointF(view.rect().center())
    event = QWheelEvent(at, QPointF(view.mapToGlobal(at.toPoint())), QPoint(), QPoint(0, turned),
                        Qt.MouseButton.NoButton, keys, Qt.ScrollPhase.NoScrollPhase, False)  # fmt: skip
    QApplication.sendEvent(view, event)


def drive(path: Path) -> dict[str, list[float]]:
    from hexapod.desktop.app import SWITCH_AFTER, make_application
    from hexapod.desktop.theme.allowance import Allowance
    from hexapod.desktop.window import Window
    from hexapod.query.views import PLAIN, View
    from hexapod.session import Session

    app = make_application("light")
    window = Window(Session.open(path), lambda *_: None)
    window.resize(*SIZE)
    window.show()
    QTest.qWaitForWindowExposed(window)
    desk, chart = window.desk, window.chart
    sys.setswitchinterval(SWITCH_AFTER)
    window.start()
    while desk.load is None or desk.load.schedule is not desk.schedule:
        app.processEvents()
        time.sleep(0.01)
    _settle(app)
    found: dict[str, list[float]] = {}
    view = chart.viewport()
    found["scroll"] = [frame(app, lambda: wheel(view, -360)) for _ in range(STEPS)]
    middle = len(desk.rows) * 27 // 2
    window.grid.verticalScrollBar().setValue(middle)
    found["scroll"] += [frame(app, lambda: wheel(view, -120)) for _ in range(STEPS)]
    shift, control = Qt.KeyboardModifier.ShiftModifier, Qt.KeyboardModifier.ControlModifier
    found["sideways"] = [frame(app, lambda: wheel(view, -120, shift)) for _ in range(STEPS)]
    found["zoom"] = [frame(app, lambda i=i: wheel(view, 40 if i % 60 < 30 else -40, control)) for i in range(STEPS)]
    found["jump"] = [
        frame(app, lambda i=i: window.grid.verticalScrollBar().setValue(i * middle // 60)) for i in range(60)
    ]
    allowances = window.findChildren(Allowance)
    found["jump in all"] = [
        whole(app, lambda i=i: window.grid.verticalScrollBar().setValue(middle + i * middle // 20),
              lambda: not any(allowance.is_due for allowance in allowances)) for i in range(20)
    ]  # fmt: skip
    window.grid.verticalScrollBar().setValue(0)
    chart.show_task(desk.rows.task(1))
    summaries = [desk.rows.outline.tasks[i] for i in desk.rows.outline.summaries[:40].tolist()]
    found["fold"] = [frame(app, lambda t=t: desk.fold(t, True)) for t in summaries]
    found["fold"] += [frame(app, lambda t=t: desk.fold(t, False)) for t in summaries]
    found["fold all"] = [frame(app, lambda: desk.fold_all(True)), frame(app, lambda: desk.fold_all(False))] * 2
    found["filter"] = []
    for query in ("float < 2 d and not summary", "name contains 99 or critical"):
        found["filter"].append(frame(app, lambda q=query: desk.on_show.show_view(View(query=q))))
        began = time.perf_counter()
        while desk.on_show.is_searching:
            found["filter"].append(frame(app, lambda: wheel(view, -120)))
        found.setdefault("filter in all", []).append((time.perf_counter() - began) * 1000)
        found["filter"].append(frame(app, lambda: None))
    desk.on_show.show_view(PLAIN)
    app.processEvents()
    window.grid.verticalScrollBar().setValue(middle)
    app.processEvents()
    found["drag"] = _drag(app, window)
    desk.close()
    return found


def _settle(app: QApplication) -> None:
    """Until what was begun beside the interface is done."""
    from hexapod.desktop.models.background import is_idle

    for _ in range(20):
        app.processEvents()
        time.sleep(0.01)
    while not is_idle():
        app.processEvents()
        time.sleep(0.01)


def _drag(app: QApplication, window) -> list[float]:  # type: ignore[no-untyped-def]
    """A bar dragged to and fro; the ghosts follow by moments, the frames must not wait for them."""
    desk, chart = window.desk, window.chart
    view = chart.viewport()
    for row in chart.visible_rows():
        task = desk.rows.task(row)
        if task and not desk.plan.is_summary(task):
            chart.show_task(task)
            app.processEvents()
            bar = chart.bar_of(task)
            if bar is not None and bar.width() > 6:
                break
    at = bar.center().toPoint()
    found = []
    QTest.mousePress(view, Qt.MouseButton.LeftButton, pos=at)
    for i in range(STEPS):
        to = at + QPoint(i * 3 if i < STEPS // 2 else (STEPS - i) * 3, 0)
        found.append(frame(app, lambda to=to: QTest.mouseMove(view, to)))
        time.sleep(0.008)  # as a hand moves
    window.chart.gestures.cancel()
    QTest.mouseRelease(view, Qt.MouseButton.LeftButton, pos=at)
    return found


class BareRows(QAbstractTableModel):
    """As many rows of plain text."""

    def __init__(self, rows: int) -> None:
        super().__init__()
        self._rows = rows

    def rowCount(self, parent: QModelIndex = QModelIndex()) -> int:  # noqa: B008
        return self._rows

    def columnCount(self, parent: QModelIndex = QModelIndex()) -> int:  # noqa: B008
        return 6

    def data(self, index: QModelIndex, role: int = Qt.ItemDataRole.DisplayRole) -> object:
        return f"Task {index.row()} {index.column()}" if role == Qt.ItemDataRole.DisplayRole else None


def bare(rows: int) -> dict[str, list[float]]:
    app = QApplication([])
    window = QMainWindow()
    window.resize(*SIZE)
    window.show()
    QTest.qWaitForWindowExposed(window)
    empty = [frame(app, window.repaint) for _ in range(STEPS)]
    table = QTableView()
    table.setModel(BareRows(rows))
    window.setCentralWidget(table)
    app.processEvents()
    view = table.viewport()
    scroll = [frame(app, lambda: wheel(view, -120)) for _ in range(STEPS)]
    return {"empty": empty, "scroll": scroll}


if __name__ == "__main__":
    made = bare(int(sys.argv[2])) if sys.argv[1] == "--bare" else drive(Path(sys.argv[1]))
    print(json.dumps(made))
