"""A real X screen without a monitor, with real keys and a real pointer (XTEST, by xdotool)."""

from __future__ import annotations

import atexit
import os
import subprocess
from collections.abc import Callable

from PyQt6.QtCore import QPoint, QPointF, QRect, QTimer
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QApplication, QMenu, QWidget

from tests import at_rest

wait_for = at_rest.wait_for
SETTLE = 90  # milliseconds in which the window takes what was pressed


def start_screen() -> None:
    """Start Xvfb for this process, once."""
    if os.environ.get("QT_QPA_PLATFORM") == "xcb":
        return
    read, write = os.pipe()
    # Without ``-r`` a key repeats while a busy machine leaves it pressed for long.
    command = ["Xvfb", "-displayfd", str(write), "-screen", "0", "1480x940x24", "-nolisten", "tcp", "-r"]
    server = subprocess.Popen(
        command, pass_fds=[write], stdin=subprocess.DEVNULL, stdout=subprocess.DEVNULL, stderr=subprocess.DEVNULL
    )
    atexit.register(server.kill)
    os.close(write)
    with os.fdopen(read) as pipe:
        os.environ["DISPLAY"] = f":{pipe.readline().strip()}"
    os.environ["QT_QPA_PLATFORM"] = "xcb"


def settle(milliseconds: int = SETTLE) -> None:
    """Let what was pressed arrive, and the window do what follows from it."""
    QTest.qWait(milliseconds)
    at_rest.settle()


def focus(window: QWidget) -> None:
    """There is no window manager: give the window the keyboard ourselves."""
    _xdotool("windowfocus", str(int(window.winId())))
    settle()
    QApplication.setActiveWindow(window)


def keys(*names: str) -> None:
    """Press keys one after another, such as ``Return`` or ``ctrl+z``."""
    for name in names:
        _xdotool("key", "--clearmodifiers", name)
        settle(45)
    settle()


def key_while_held(name: str) -> None:
    """A key while a mouse button is down; clearing modifiers would let the button go."""
    _xdotool("key", name)
    settle()


def type_text(text: str) -> None:
    _xdotool("type", "--delay", "4", text)
    settle(45)


def point(widget: QWidget, at: QPoint | QPointF) -> tuple[int, int]:
    spot = widget.mapToGlobal(QPointF(at))
    return round(spot.x()), round(spot.y())


def move(widget: QWidget, at: QPoint | QPointF) -> None:
    x, y = point(widget, at)
    _xdotool("mousemove", str(x), str(y))
    settle(45)


def click(widget: QWidget, at: QPoint | QPointF | QRect | None = None, *, button: int = 1, times: int = 1) -> None:
    """Click a widget, in its middle if no place is given."""
    spot = widget.rect().center() if at is None else at.center() if isinstance(at, QRect) else at
    move(widget, spot)
    _xdotool("click", "--repeat", str(times), "--delay", "40", str(button))
    settle()


def choose(button: QWidget, text: str) -> None:
    """Click a button that opens a menu, and in it the entry that begins with a text.

    Such a menu holds the click until it is closed, so the second click is made from within it.
    """

    def pick() -> None:
        menu = QApplication.activePopupWidget()
        if not isinstance(menu, QMenu):
            QTimer.singleShot(50, pick)
            return
        entry = next(a for a in menu.actions() if a.text().startswith(text))
        x, y = point(menu, menu.actionGeometry(entry).center())
        _xdotool("mousemove", str(x), str(y))
        QTimer.singleShot(50, lambda: _xdotool("click", "1"))

    QTimer.singleShot(150, pick)
    click(button)
    settle()


def drag(widget: QWidget, start: QPointF, end: QPointF, *, before_release: Callable[[], None] | None = None) -> None:
    """Press, move in steps, release."""
    move(widget, start)
    _xdotool("mousedown", "1")
    for step in range(1, 7):
        move(widget, start + (end - start) * (step / 6))
    settle()
    if before_release:
        before_release()
    _xdotool("mouseup", "1")
    settle()


def _xdotool(*arguments: str) -> None:
    subprocess.run(["xdotool", *arguments], check=True, stdout=subprocess.DEVNULL, timeout=20)
