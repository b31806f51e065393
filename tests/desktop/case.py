"""A window without a screen on a small plan of its own, for tests that press and click by Qt's means."""

from __future__ import annotations

import os
import tempfile
import unittest
from pathlib import Path

os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")

from PyQt6 import sip
from PyQt6.QtCore import QEvent, QPoint, QPointF, QSettings, Qt
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QLabel, QLineEdit, QPushButton, QWidget

from hexapod.desktop.app import make_application
from hexapod.desktop.theme.measures import apply_density
from hexapod.desktop.theme.style import apply_text_size, apply_theme, theme_named
from hexapod.desktop.theme.text import forget_texts
from hexapod.desktop.window import Window
from hexapod.plan import edits
from hexapod.session import Session
from tests.at_rest import settle, wait_for
from tests.support import DAY, project

_settings = tempfile.TemporaryDirectory(prefix="hexapod-desktop-", ignore_cleanup_errors=True)
QSettings.setPath(QSettings.Format.NativeFormat, QSettings.Scope.UserScope, _settings.name)
APP = make_application("light")


def as_it_was() -> None:
    """The usual size of text and the light theme: what a test chooses is not left to those after it."""
    QSettings().clear()
    apply_density("roomy")
    apply_text_size(APP, "usual")
    apply_theme(APP, theme_named("light"))
    forget_texts()


def put_away(window: Window) -> None:
    """Close a window and let Qt forget it: what is left of it would be styled again with every theme."""
    if not sip.isdeleted(window):
        window.close()
        window.deleteLater()
        APP.sendPostedEvents(None, QEvent.Type.DeferredDelete)
    if QSettings().value("text") or QSettings().value("theme"):
        as_it_was()


class WindowCase(unittest.TestCase):
    ROWS = "Survey\nDraw\nBuild\n  Frames\n  Glass\nOpen"

    def setUp(self) -> None:
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        session = Session.create(Path(folder.name) / "Small.hexapod")
        session.apply(edits.save_project(session.plan, project()))
        session.apply(edits.add_text("p", self.ROWS))
        leaves = [t for t in session.plan.tasks if not session.plan.is_summary(t)]
        session.apply(edits.set_durations(session.plan, leaves, 2 * DAY))
        session.compute()
        self.window = Window(session, lambda *_: None)
        self.window.show()
        self.addCleanup(put_away, self.window)
        self.desk = self.window.desk
        self.desk.computed.emit()
        self.grid, self.chart = self.window.grid, self.window.chart
        settle()

    def id_of(self, name: str) -> str:
        return next(t.id for t in self.desk.plan.tasks.values() if t.name == name)

    def outline(self) -> list[str]:
        return ["  " * r.level + (self.desk.plan.tasks[r.task].name if r.task else "·") for r in self.desk.rows]

    def editor(self) -> QLineEdit | None:
        found = [e for e in self.window.findChildren(QLineEdit, "cellEditor") if e.isVisible()]
        return found[-1] if found else None

    def type(self, text: str, *then: Qt.Key) -> None:
        """Type into whatever is open to type in, else into the grid; then press keys."""
        QTest.keyClicks(self.editor() or self.grid, text[:1])
        QTest.keyClicks(self.editor() or self.grid, text[1:])
        for key in then:
            self.press(key)

    def press(self, key: Qt.Key, modifier: Qt.KeyboardModifier = Qt.KeyboardModifier.NoModifier) -> None:
        QTest.keyClick(self.editor() or self.grid, key, modifier)
        settle()

    def go_to(self, name: str, column: int = 1) -> None:
        self.grid.go(self.desk.position[self.id_of(name)], column)

    wait_for = staticmethod(wait_for)

    def texts(self, widget: QWidget) -> list[str]:
        """All that a part of the window says."""
        settle()
        found = [w for kind in (QLabel, QPushButton) for w in widget.findChildren(kind) if w.isVisible()]
        return [w.text() for w in found]

    def said(self) -> str:
        notice = self.window.findChild(QLabel, "notice")
        assert notice is not None
        return notice.text()


__all__ = ["QPoint", "QPointF", "QTest", "Qt", "WindowCase", "put_away", "settle"]
