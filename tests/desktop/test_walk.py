"""Every view, page, form and menu is opened, in three sizes of window: nothing is cut off and no menu is endless."""

from __future__ import annotations

import os
import subprocess
import sys
import tempfile
import unittest
from pathlib import Path

from PyQt6.QtWidgets import QAbstractButton, QCheckBox, QComboBox, QLabel, QMenu, QPushButton, QToolButton, QWidget

from hexapod.desktop.action import MOST_ENTRIES
from hexapod.desktop.parts import Sentence
from tests.desktop.case import put_away
from tests.walk import SIZES, open_museum, walk

SMALLEST = 1024  # pixels: it works in a window as wide as this, where boxes of choices may have to cut theirs
ARROW = 24  # pixels of a box of choices that are not text


def cut_off(root: QWidget) -> list[str]:
    """Words that have not the room they need."""
    found = []
    for widget in root.findChildren(QWidget):
        if not widget.isVisible() or widget.visibleRegion().isEmpty():
            continue
        if isinstance(widget, QLabel) and widget.text() and not widget.wordWrap() and not isinstance(widget, Sentence):
            needed, room = widget.sizeHint().width(), widget.width()
        elif isinstance(widget, QComboBox) and root.width() > SMALLEST:
            needed, room = widget.fontMetrics().horizontalAdvance(widget.currentText()), widget.width() - ARROW
        elif isinstance(widget, QPushButton | QCheckBox | QToolButton) and widget.text():
            needed, room = _button_needs(widget), widget.width()
        else:
            continue
        if needed > room + 1:
            name = widget.text() if isinstance(widget, QLabel | QAbstractButton) else widget.currentText()
            found.append(f"{type(widget).__name__} “{name}” needs {needed}, has {room}")
    return found


def _button_needs(button: QPushButton | QCheckBox | QToolButton) -> int:
    """Its words, with the room around them that its style wants."""
    if not button.icon().isNull():
        return 0
    is_plain = isinstance(button, QPushButton)
    return button.sizeHint().width() if is_plain else button.fontMetrics().horizontalAdvance(button.text())


def judge() -> None:
    """Say what is cut off anywhere on a walk."""
    found = {}
    with tempfile.TemporaryDirectory() as place:
        window = open_museum(Path(place))
        assert window.devicePixelRatioF() == float(os.environ["QT_SCALE_FACTOR"])
        window.resize(*SIZES[0])
        for name, widget in walk(window):
            if not isinstance(widget, QMenu) and cut_off(widget):
                found[name] = cut_off(widget)
        window.close()
    print(found or "nothing is cut off", flush=True)
    os._exit(0)


class Walk(unittest.TestCase):
    def test_all_of_it_has_the_room_it_needs(self) -> None:
        place = tempfile.TemporaryDirectory()
        self.addCleanup(place.cleanup)
        window = open_museum(Path(place.name))
        self.addCleanup(put_away, window)
        visited: set[str] = set()
        for size in SIZES:
            window.resize(*size)
            for name, widget in walk(window):
                visited.add(name)
                with self.subTest(stop=name, size=size):
                    if isinstance(widget, QMenu):
                        entries = [a for a in widget.actions() if not a.isSeparator() and a.isVisible()]
                        self.assertLessEqual(len(entries), self.most_of(name), [a.text() for a in entries])
                        continue
                    self.assertEqual(size, (window.width(), window.height()), "no view makes the window larger")
                    self.assertEqual([], cut_off(widget))
        self.assertGreater(len(visited), 50)

    def test_at_twice_the_scale_too(self) -> None:
        """In a process of its own: the scale of a screen is chosen before the application is there."""
        environment = {**os.environ, "QT_SCALE_FACTOR": "2", "QT_QPA_PLATFORM": "offscreen"}
        command = [sys.executable, "-c", "from tests.desktop.test_walk import judge; judge()"]
        done = subprocess.run(command, env=environment, capture_output=True, text=True, timeout=300)
        self.assertEqual((0, "nothing is cut off"), (done.returncode, done.stdout.strip()), done.stderr[-2000:])

    @staticmethod
    def most_of(name: str) -> int:
        """Lists of files, and the columns to order by, are as long as they are."""
        return 40 if "recent" in name or "Order" in name else MOST_ENTRIES + 2


if __name__ == "__main__":
    unittest.main()
