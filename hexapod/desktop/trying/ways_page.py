"""At the side: what it would take to have a milestone by a date, with each way's price and what it costs others."""

from __future__ import annotations

from typing import TYPE_CHECKING

from PyQt6.QtWidgets import QCheckBox, QComboBox, QLineEdit, QProgressBar, QPushButton

from hexapod.control.mine import is_milestone
from hexapod.desktop import dates
from hexapod.desktop.currency import currency
from hexapod.desktop.frame.page import Page
from hexapod.desktop.models.desk import Desk
from hexapod.desktop.parts import card, heading, label, narrow
from hexapod.outlook.words import share_words
from hexapod.plan.outline import outline_order
from hexapod.worktime.lengths import format_days

if TYPE_CHECKING:
    from hexapod.outlook.ways import Answer, Way

MOST_SHOWN = 8


class WaysPage(Page):
    def __init__(self, desk: Desk) -> None:
        super().__init__(desk, "What would it take")
        self.work = desk.ways
        self._what, self._by, self._is_sure = "", "", False
        self._bar: QProgressBar | None = None
        for signal in (desk.changed, desk.past_changed, desk.looked_at_changed, self.work.changed):
            signal.connect(self.refresh)
        self.work.progressed.connect(self._progress)

    def fill(self) -> None:
        self._bar = None
        self.box.addWidget(label("What would it take…", "title", wrap=True))
        self.box.addWidget(label("to have this by then, in what is open now?", "small", wrap=True))
        self._fill_wish()
        self.box.addWidget(self.reason("waysReason"))
        if self.work.is_looking:
            self._bar = QProgressBar()
            self._bar.setObjectName("waysProgress")
            self._bar.setRange(0, 100)
            self._bar.setTextVisible(False)
            self._bar.setFixedHeight(8)
            stop = QPushButton("Stop")
            stop.setObjectName("waysStop")
            stop.clicked.connect(self.work.stop)
            self.box.addWidget(self._bar)
            self.box.addWidget(stop)
        elif self.work.trouble:
            self.box.addWidget(label(self.work.trouble, "trouble", wrap=True))
        elif self.work.answer is not None:
            self._fill_answer(self.work.answer)

    def _fill_wish(self) -> None:
        what = narrow(QComboBox())
        what.setObjectName("waysWhat")
        what.setAccessibleName("What is wished")
        plan, project = self.desk.plan, self.desk.project
        if project is not None:
            what.addItem(f"{plan.projects[project].name}, all of it", "")
            for task in outline_order(plan):
                found = plan.tasks[task]
                if found.project == project and is_milestone(found) and not found.is_done:
                    what.addItem(found.name, task)
        what.setCurrentIndex(max(0, what.findData(self._what)))
        self._what = what.currentData() or ""
        what.activated.connect(lambda i: setattr(self, "_what", what.itemData(i)))
        by = self.input_line(self._by or self._usual_date(), "waysBy", "By when", "18 Dec")
        by.setEnabled(True)
        by.textChanged.connect(lambda text: setattr(self, "_by", text))
        by.returnPressed.connect(self._look)
        sure = QCheckBox(f"{share_words(self.desk.chances.share)} sure")
        sure.setObjectName("waysSure")
        sure.setChecked(self._is_sure)
        sure.setEnabled(self.desk.chances.has_ranges)
        sure.toggled.connect(lambda on: setattr(self, "_is_sure", on))
        look = QPushButton("Look for ways")
        look.setObjectName("waysLook")
        look.setProperty("role", "primary")
        look.setEnabled(project is not None and self.desk.is_computed and not self.work.is_looking)
        look.clicked.connect(self._look)
        for widget in (what, by, sure, look):
            self.box.addWidget(widget)

    def _usual_date(self) -> str:
        """The target of the project, where there is one."""
        project = self.desk.plan.projects.get(self.desk.project or "")
        return "" if project is None or project.target_finish is None else dates.typed(project.target_finish)

    def _look(self) -> None:
        from hexapod.outlook.ways import Wish

        field = self.findChild(QLineEdit, "waysBy")
        text = self._by or ("" if field is None else field.text())

        def run() -> None:
            by = self.desk.read_date(text, ends=True)
            share = self.desk.chances.share if self._is_sure and self.desk.chances.has_ranges else None
            self.work.look(Wish(self.desk.project or "", self._what or None, by, share))

        self.attempt(run)

    def _progress(self, part: float) -> None:
        if self._bar is not None and self.work.is_looking:
            self._bar.setValue(round(100 * part))

    def _fill_answer(self, answer: Answer) -> None:
        wish = self.work.wish
        assert wish is not None
        if answer.now <= wish.by:
            self.box.addWidget(label(f"Nothing: it ends {dates.last_day(answer.now)} as it is.", wrap=True))
            return
        self.box.addWidget(label(f"As it is, it ends {dates.last_day(answer.now)}.", wrap=True))
        if answer.ways:
            self.box.addWidget(heading("What does it, the cheapest first"))
            for way in answer.ways[:MOST_SHOWN]:
                self._fill_way(way)
        else:
            said = f"No way was found. The earliest that can be had is {dates.last_day(answer.earliest)}"
            if answer.held_by is not None and answer.held_by.task in self.desk.plan.tasks:
                name = self.desk.plan.tasks[answer.held_by.task].name
                length = format_days(answer.held_by.minutes, self.desk.units())
                said += f"; what holds it most is “{name}”, {length}"
            self.box.addWidget(label(f"{said}.", "trouble", wrap=True))
        nearly = [way for way in answer.nearly if way.at < answer.now]
        if nearly:
            self.box.addWidget(heading("What only comes nearer"))
            for way in nearly[:MOST_SHOWN]:
                self._fill_way(way)

    def _fill_way(self, way: Way) -> None:
        frame, box = card()
        box.addWidget(label(way.edit.words, "value", wrap=True))
        box.addWidget(label(self.way_words(way), "small", wrap=True))
        make = QPushButton("Make it a scenario")
        make.setObjectName("wayMake")
        make.setEnabled(not self.desk.home.workspace.read_only)
        make.clicked.connect(lambda: self.attempt(lambda: self.work.make_scenario(way)))
        box.addWidget(make)
        self.box.addWidget(frame)

    def way_words(self, way: Way) -> str:
        """When it ends then, for what money, and what it costs others."""
        plan, said = self.desk.plan, [f"ends {dates.last_day(way.at)}"]
        if way.count and way.who:
            said.append(f"from {dates.short_day(way.first * dates.DAY)} to {dates.short_day(way.last * dates.DAY)}")
        said.append(currency().short(way.price) if way.price else "no money")
        for project, minutes in way.later.items():
            said.append(f"{plan.projects[project].name} ends {format_days(minutes, self.desk.units())} later")
        if way.overload >= 1:
            said.append(f"{way.overload:.0f} h more overloaded")
        return f"{said[0][:1].upper()}{said[0][1:]}; {'; '.join(said[1:])}."
