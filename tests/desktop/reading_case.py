"""A window with a chain of tasks to be read, and what a mouse does to it."""

from __future__ import annotations

from PyQt6.QtCore import QRectF

from hexapod.plan import edits
from tests.desktop.case import QPoint, QPointF, Qt, QTest, WindowCase, settle

LEFT = Qt.MouseButton.LeftButton


class Reading(WindowCase):
    def setUp(self) -> None:
        super().setUp()
        self.window.resize(1280, 800)
        self.window.side.open_now()
        order = [self.id_of(n) for n in ("Survey", "Draw", "Frames", "Open")]
        self.desk.do(edits.chain(self.desk.plan, order))
        self.desk.do(edits.link(self.desk.plan, order[1], self.id_of("Glass")))
        self.desk.do(edits.set_durations(self.desk.plan, [self.id_of("Open")], 0))
        self.chart.fit()
        settle()

    def drag(self, widget, start: QPointF, *by: QPoint, release: bool = True) -> None:  # type: ignore[no-untyped-def]
        place = start.toPoint()
        QTest.mouseMove(widget, place)
        QTest.mousePress(widget, LEFT, pos=place)
        for step in by:
            for part in (0.5, 1.0):
                QTest.mouseMove(widget, place + QPoint(round(step.x() * part), round(step.y() * part)))
                settle()
        if release:
            QTest.mouseRelease(widget, LEFT, pos=place + by[-1])
            settle()

    def bar(self, name: str) -> QRectF:
        found = self.chart.bar_of(self.id_of(name))
        assert found is not None
        return found

    def days(self, count: float) -> int:
        return round(count * self.chart.scale.pixels)
