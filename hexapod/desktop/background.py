"""Work beside the interface: a plain function in a thread, its result back in the interface's own."""

from __future__ import annotations

import threading
from collections.abc import Callable

from PyQt6.QtCore import QObject, pyqtSignal


class _Return(QObject):
    came = pyqtSignal(object)
    failed = pyqtSignal(object)


def in_background(
    owner: QObject,
    work: Callable[[], object],
    done: Callable[[object], None],
    failed: Callable[[Exception], None],
) -> None:
    """Call ``done`` with what ``work`` returns, or ``failed`` with what it raises; not if ``owner`` is gone."""
    way_back = _Return(owner)
    way_back.came.connect(done)
    way_back.failed.connect(failed)
    way_back.came.connect(way_back.deleteLater)
    way_back.failed.connect(way_back.deleteLater)

    def run() -> None:
        try:
            result = work()
        except Exception as error:
            _emit(way_back.failed, error)
        else:
            _emit(way_back.came, result)

    threading.Thread(target=run, daemon=True).start()


def _emit(signal: object, value: object) -> None:
    try:
        signal.emit(value)  # type: ignore[attr-defined]
    except RuntimeError:
        return  # the window was closed meanwhile
