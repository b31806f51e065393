"""A window without a screen on a small plan of its own, for tests that press and click by Qt's means."""

from __future__ import annotations

import os
import tempfile
import unittest
from pathlib import Path

os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")

from PyQt6 import sip
from PyQt6.QtCore import QEvent, QPoint, QPointF, QRectF, QSettings, Qt
from PyQt6.QtGui import QImage, QPainter
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QLabel, QLineEdit, QPushButton, QWidget

from hexapod.desktop.app import make_application
from hexapod.desktop.paper.drawing import Drawing
from hexapod.desktop.paper.paper import Paper
from hexapod.desktop.theme.measures import apply_density
from hexapod.desktop.theme.style import apply_text_size, apply_theme, theme_named
from hexapod.desktop.theme.text import forget_texts
from hexapod.desktop.window import Window
from hexapod.plan import edits
from hexapod.session import Session
from tests.at_rest import settle, wait_for
from tests.support import DAY, at, project, set_clock

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

    def find(self, kind: type, name: str):  # type: ignore[no-untyped-def]
        """The part of the window with a name, as it is on show."""
        found = [w for w in self.window.findChildren(kind, name) if w.isVisible() and not w.property("putAway")]
        self.assertTrue(found, name)
        return found[-1]

    def side(self) -> str:
        """What is said at the side."""
        return " ".join(w.text() for w in self.window.side.findChildren(QLabel) if w.isVisible())

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


class CasesCase(WindowCase):
    """Three tasks in line and what they lead to, on the Monday on which they begin."""

    ROWS = "Cases\n  Draw\n  Frames\n  Glass\nOpen"

    def setUp(self) -> None:
        set_clock(self, lambda: at("2026-09-07T09:00"))
        super().setUp()
        desk = self.desk
        for name, days in (("Draw", 5), ("Frames", 10), ("Glass", 4), ("Open", 0)):
            desk.do(edits.set_durations(desk.plan, [self.id_of(name)], days * DAY))
        for one, other in (("Draw", "Frames"), ("Frames", "Glass"), ("Glass", "Open")):
            desk.do(edits.link(desk.plan, self.id_of(one), self.id_of(other)))


def colours_on_paper(drawing: Drawing, width: int, height: int, step: int) -> set[int]:
    """The colours in its only page, which is drawn and looked at here and there."""
    (tile,) = drawing.pages(Paper())
    assert QRectF(tile.part).isValid()
    image = QImage(width, height, QImage.Format.Format_RGB32)
    image.fill(0xFFFFFF)
    painter = QPainter(image)
    drawing.paint(painter, Paper(), tile)
    painter.end()
    return {image.pixel(x, y) for x in range(0, width, step) for y in range(0, height, step)}


__all__ = ["CasesCase", "QPoint", "QPointF", "QTest", "Qt", "WindowCase", "colours_on_paper", "put_away", "settle"]
