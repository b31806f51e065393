"""Requests: who asks for which project, and what became of it."""

from __future__ import annotations

from PyQt6.QtWidgets import QPushButton

from hexapod.desktop.action import Registry
from hexapod.desktop.frame.part import Part
from hexapod.desktop.models.desk import Desk
from hexapod.desktop.telling.requests_table import RequestsTable
from hexapod.plan.requests import RequestState
from hexapod.system.words import count_of


class RequestsView(Part):
    def __init__(self, desk: Desk, registry: Registry) -> None:
        super().__init__(desk, registry, "requests")
        self.work = desk.requests
        self.table = RequestsTable(self.work)
        self.main_part = self.table
        self._new = QPushButton("A request…")
        self._new.setObjectName("requestNew")
        self._new.clicked.connect(self.work.begin_new)
        self._line.addWidget(self._new)
        self._says.setText("Enter leads to the answer at the side. Nothing is promised before it is given there.")
        box = self.column()
        box.addWidget(self._title)
        box.addWidget(self._says)
        box.addWidget(self.table, 1)
        self.follow(self.work.changed)

    def refresh(self) -> None:
        rows = self.work.rows()
        self.table.show_requests(rows, self.work.approvals())
        self._new.setEnabled(not self._desk.is_read_only)
        counts = {state: sum(r.state is state for r in rows) for state in RequestState}
        open_ = counts[RequestState.NEW] + counts[RequestState.LOOKED_AT]
        said = f"{count_of(open_, 'request')} {'waits' if open_ == 1 else 'wait'} for an answer"
        ended = (RequestState.ACCEPTED, RequestState.DECLINED)
        said = ", ".join([said, *(f"{counts[state]} {state.value}" for state in ended if counts[state])])
        self._title.setText(said)
        if not self.work.is_new:
            self.table.look_at(self.work.chosen)
