"""Drift: what moved since a baseline, which edits made it move, and where each milestone was expected day by day."""

from __future__ import annotations

from PyQt6.QtWidgets import QHBoxLayout, QPushButton, QVBoxLayout, QWidget

from hexapod.desktop import dates
from hexapod.desktop.action import Registry
from hexapod.desktop.frame.part import Part, offer
from hexapod.desktop.models.desk import Desk
from hexapod.desktop.parts import ActionButton, heading, label
from hexapod.desktop.track.drift_table import DriftTable, PartsTable, drift_words
from hexapod.desktop.track.trend_picture import TrendPicture

HOW = "Drawn from the history, without anybody doing anything. Level is on time, rising is later; the slope is the day."
NONE = ""


class DriftView(Part):
    def __init__(self, desk: Desk, registry: Registry) -> None:
        super().__init__(desk, registry, "drift")
        self.work = desk.drift
        self.table, self.parts = DriftTable(desk, self.work), PartsTable(desk, self.work)
        self.picture = TrendPicture(desk, self.work)
        self.main_part = self.table
        self._of = heading("")
        self._of.setObjectName("driftOf")
        self._line.addWidget(label("Measured from", "small"))
        self._from = self.choice("driftFrom", "Measured from which baseline", 190, self._measure)
        self._line.addWidget(ActionButton(registry, "drift.baselines", text="Baselines…"))
        self._stop = QPushButton("Stop")
        self._stop.setObjectName("driftStop")
        self._stop.clicked.connect(self.work.stop)
        left, right = QVBoxLayout(), QVBoxLayout()
        for box in (left, right):
            box.setContentsMargins(0, 0, 0, 0)
            box.setSpacing(4)
        left.addWidget(heading("Then and now"))
        left.addWidget(self.table, 3)
        left.addWidget(self._of)
        left.addWidget(self.parts, 2)
        head = QHBoxLayout()
        head.addWidget(heading("Where each milestone was expected, day by day"), 1)
        head.addWidget(self._stop)
        right.addLayout(head)
        right.addWidget(self.picture, 1)
        right.addWidget(label(HOW, "small", wrap=True))
        halves, beside = QHBoxLayout(), QWidget()
        beside.setLayout(right)
        halves.setSpacing(14)
        halves.addLayout(left, 1)
        halves.addWidget(beside, 1)
        box = self.column()
        box.addWidget(self._title)
        box.addLayout(halves, 1)
        self.follow(self.work.changed, desk.looked_at_changed)

    def _measure(self, baseline: str) -> None:
        self.work.measure_from(baseline or None)

    def refresh(self) -> None:
        work, plan = self.work, self._desk.plan
        if not plan.is_whole:
            return
        project = work.project
        kept = [] if project is None else plan.baselines_of(project)
        named = [(b.id, f"{b.name}, {dates.short_day(b.at)}") for b in kept]
        chosen = work.baseline
        offer(self._from, [*named, (NONE, "No baseline")], NONE if chosen is None else chosen.id)
        self.table.refresh()
        self.parts.refresh()
        self.picture.refresh()
        rows = work.finishes()
        whole = rows[0] if rows else None
        if whole is None or whole.drift is None:
            words = "Drift" if project is None else plan.projects[project].name
        elif whole.drift == 0:
            words = f"{whole.name} finishes as in the baseline"
        else:
            later = "later" if whole.drift > 0 else "sooner"
            words = f"{whole.name}: {self._desk.length(abs(whole.drift), '')} {later} than the baseline"
        self._title.setText(words)
        row = work.chosen()
        of = "" if row is None or row.drift is None else drift_words(self._desk, row.drift, row.target)
        self._of.setText(f"The {of} of “{row.name}”, edit by edit" if row is not None and row.drift else "Edit by edit")
        self._stop.setVisible(work.is_working)
        work.look()
