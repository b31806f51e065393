"""Work beside the interface: a plain function in a thread, its result back in the interface's own."""

from __future__ import annotations

import itertools
import queue
import threading
from collections.abc import Callable

from PyQt6 import sip
from PyQt6.QtCore import QObject, Qt, pyqtSignal

AT_MOST = 8  # errands at a time; some go on until they are stopped, the others wait their turn
_waiting: queue.SimpleQueue[Callable[[], None]] = queue.SimpleQueue()
_workers = itertools.count(1)
_idle = threading.Semaphore(0)  # workers that wait for an errand
_underway: set[_Errand] = set()  # kept until their result is in, whatever becomes of who asked


class _Errand(QObject):
    """Lives in the interface's thread; only its signal is touched from the other."""

    over = pyqtSignal(object, object)  # result, error

    def __init__(self, owner: QObject, done: Callable[[object], None], failed: Callable[[Exception], None]) -> None:
        super().__init__()
        self._owner, self._done, self._failed = owner, done, failed
        self.over.connect(self._deliver, Qt.ConnectionType.QueuedConnection)

    def _deliver(self, result: object, error: Exception | None) -> None:
        _underway.discard(self)
        if sip.isdeleted(self._owner):
            return
        if error is None:
            self._done(result)
        else:
            self._failed(error)


def is_idle() -> bool:
    """Whether nothing is under way."""
    return not _underway


def in_background(
    owner: QObject,
    work: Callable[[], object],
    done: Callable[[object], None],
    failed: Callable[[Exception], None],
) -> None:
    """Call ``done`` with what ``work`` returns, or ``failed`` with what it raises; not if ``owner`` is gone."""
    errand = _Errand(owner, done, failed)
    _underway.add(errand)

    def run() -> None:
        result, trouble = None, None
        try:
            result = work()
        except Exception as error:
            trouble = error
        if not sip.isdeleted(errand):  # the program may be over
            errand.over.emit(result, trouble)

    _waiting.put(run)
    if not _idle.acquire(blocking=False) and next(_workers) <= AT_MOST:
        threading.Thread(target=_serve, daemon=True).start()


def _serve() -> None:
    """One errand after the other, as long as the program runs."""
    while True:
        _waiting.get()()
        _idle.release()
