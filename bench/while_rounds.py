"""How long a key takes in a real window while rounds go by themselves, and at rest.

``python -m bench.while_rounds FILE`` prints both as JSON, in milliseconds. The keys go from row to row in the outline,
as those of somebody do who reads.
"""

from __future__ import annotations

import json
import sys
import time
from pathlib import Path

from PyQt6.QtCore import Qt
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QApplication

from bench.in_window import SIZE, frame

KEYS = 240


def main() -> None:
    from hexapod.desktop.app import SWITCH_AFTER, make_application
    from hexapod.desktop.window import Window
    from hexapod.session import Session

    app = make_application("light")
    window = Window(Session.open(Path(sys.argv[1])), lambda *_: None)
    window.resize(*SIZE)
    window.show()
    QTest.qWaitForWindowExposed(window)
    desk = window.desk
    sys.setswitchinterval(SWITCH_AFTER)
    desk.chances.go_by_itself(False)
    window.start()
    while desk.load is None or desk.load.schedule is not desk.schedule:
        _go_on(app)
    desk.chances.run(500)  # compiled and warm
    while desk.chances.outlook is None:
        _go_on(app)
    window.grid.setFocus()
    at_rest = [_key(app, window, i) for i in range(KEYS)]
    busy: list[float] = []
    while len(busy) < KEYS:
        if not desk.chances.is_running:
            desk.chances.run(2000)
        busy.append(_key(app, window, len(busy)))
    print(json.dumps({"at_rest": at_rest, "busy": busy}), flush=True)
    window.close()


def _key(app: QApplication, window, i: int) -> float:  # type: ignore[no-untyped-def]
    key = Qt.Key.Key_Down if i // 30 % 2 == 0 else Qt.Key.Key_Up
    return frame(app, lambda: QTest.keyClick(window.grid, key))


def _go_on(app: QApplication) -> None:
    app.processEvents()
    time.sleep(0.01)


if __name__ == "__main__":
    main()
