"""Print and pictures: what of the screen goes out, onto which paper, and as which file."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from pathlib import Path
from typing import Any

from PyQt6.QtCore import QTimer
from PyQt6.QtWidgets import (
    QCheckBox,
    QComboBox,
    QFileDialog,
    QGridLayout,
    QHBoxLayout,
    QProgressBar,
    QPushButton,
    QSpinBox,
)

from hexapod.desktop.forms import Form
from hexapod.desktop.models.background import in_background
from hexapod.desktop.models.columns import NAME
from hexapod.desktop.models.desk import Desk
from hexapod.desktop.paper.drawing import Drawing
from hexapod.desktop.paper.paper import SIZES, Fit, Paper
from hexapod.desktop.parts import heading, label
from hexapod.errors import HexapodError

Make = Callable[[str, tuple[str, ...]], Drawing]
WHAT = {
    "chart": "The chart, with the rows on show",
    "network": "The network",
    "map": "The map of planning back",
    "month": "The month",
    "scenarios": "Scenarios side by side",
    "range": "Range of the finish",
    "money": "Money by period",
    "drift": "Where each milestone was expected",
    "value": "Earned value",
}


class PaperPage(Form):
    """``make`` gives the drawing of a view with some columns; pages are written one by one and can be stopped."""

    def __init__(self, desk: Desk, leave: Callable[[], None], make: Make) -> None:
        super().__init__(desk, "Print and pictures", leave)
        self._make = make
        self.what = "chart"
        self._work: Iterator[tuple[int, int]] | None = None
        self._is_finishing = False
        self._done: Callable[[Any], None] = lambda _: None
        self._next = QTimer(self, singleShot=True, interval=0)
        self._next.timeout.connect(self._go_on)

    def fill(self) -> None:
        state = self.desk.memory.recall("paper", dict[str, Any], {})
        self.box.addWidget(label("Print and pictures", "title"))
        self._what = QComboBox()
        self._what.setObjectName("paperWhat")
        for name, words in WHAT.items():
            self._what.addItem(words, name)
        self._what.setCurrentIndex(max(0, self._what.findData(self.what)))
        self.field("What", self._what)
        self._size = QComboBox()
        self._size.setObjectName("paperSize")
        self._size.addItems(list(SIZES))
        self._size.setCurrentText(str(state.get("size", "A4")))
        self.field("Paper", self._size)
        self._fit = QComboBox()
        self._fit.setObjectName("paperFit")
        for fit in Fit:
            self._fit.addItem(fit.value.capitalize(), fit)
        self._fit.setCurrentIndex(max(0, self._fit.findData(state.get("fit", Fit.WIDTH))))
        self.field("How", self._fit)
        self._landscape = self._check("Across", "paperAcross", bool(state.get("landscape", True)))
        self._title = self._check("With a title block", "paperTitle", bool(state.get("title", True)))
        self._legend = self._check("With a legend", "paperLegend", bool(state.get("legend", True)))
        self._fill_columns(state.get("columns"))
        self._count = label("", "muted", wrap=True)
        self._count.setObjectName("paperCount")
        self.box.addWidget(self._count)
        self._fill_buttons()
        for box in (self._what, self._size, self._fit):
            box.currentIndexChanged.connect(self._tell)
        for check in (self._landscape, self._title, self._legend, *self._columns.values()):
            check.toggled.connect(self._tell)
        self._tell()

    def _check(self, words: str, name: str, on: bool) -> QCheckBox:
        box = QCheckBox(words)
        box.setObjectName(name)
        box.setChecked(on)
        self.box.addWidget(box)
        return box

    def _fill_columns(self, kept: object) -> None:
        self.box.addWidget(heading("Columns"))
        shown = self.desk.columns.shown()[NAME + 1 :]
        wanted = kept if isinstance(kept, list) else ["duration", "start"]
        self._columns: dict[str, QCheckBox] = {}
        grid = QGridLayout()
        for i, column in enumerate(shown):
            box = QCheckBox(column.title)
            box.setObjectName(f"paperColumn.{column.id}")
            box.setChecked(column.id in wanted)
            self._columns[column.id] = box
            grid.addWidget(box, i // 2, i % 2)
        self.box.addLayout(grid)

    def _fill_buttons(self) -> None:
        line = QHBoxLayout()
        for words, name, run in (("PDF…", "paperPdf", self.save_pdf), ("Print…", "paperPrint", self.print)):
            line.addWidget(self._button(words, name, run, primary=name == "paperPdf"))
        line.addStretch(1)
        self.box.addSpacing(6)
        self.box.addLayout(line)
        self._progress = QProgressBar()
        self._progress.setTextVisible(False)
        self._progress.setFixedHeight(6)
        self._progress.hide()
        self._stop = self._button("Stop", "paperStop", self.stop)
        self._stop.hide()
        self.box.addWidget(self._progress)
        self.box.addWidget(self._stop)
        self.box.addWidget(heading("As a picture"))
        self._times = QSpinBox()
        self._times.setObjectName("paperTimes")
        self._times.setRange(25, 800)
        self._times.setSingleStep(25)
        self._times.setSuffix(" %")
        self._times.setValue(200)
        self.field("Scale", self._times)
        line = QHBoxLayout()
        for words, name, run in (("SVG…", "paperSvg", self.save_svg), ("PNG…", "paperPng", self.save_png),
                                 ("Copy", "paperCopy", self.copy)):  # fmt: skip
            line.addWidget(self._button(words, name, run))
        line.addStretch(1)
        self.box.addLayout(line)
        self._says = label("", "trouble", wrap=True)
        self._says.setObjectName("formReason")
        self.box.addWidget(self._says)
        self.box.addWidget(self._button("Back", "paperBack", self._leave))

    def _button(self, words: str, name: str, run: Callable[[], object], *, primary: bool = False) -> QPushButton:
        button = QPushButton(words)
        button.setObjectName(name)
        if primary:
            button.setProperty("role", "primary")
        button.clicked.connect(lambda: self._tried(run))
        return button

    # What was chosen

    def paper(self) -> Paper:
        return Paper(
            self._size.currentText(),
            self._landscape.isChecked(),
            Fit(self._fit.currentData()),
            self._title.isChecked(),
            self._legend.isChecked(),
        )

    def drawing(self) -> Drawing:
        columns = tuple(c for c, box in self._columns.items() if box.isChecked())
        return self._make(self._what.currentData(), columns)

    def _tell(self, *_: object) -> None:
        """How many pages it would be, or why it cannot be."""
        paper = self.paper()
        self.what = self._what.currentData()
        try:
            count = len(self.drawing().pages(paper))
            self._count.setText("One page" if count == 1 else f"{count:,} pages")
            self._count.setProperty("role", "muted")
        except HexapodError as error:
            self._count.setText(str(error))
            self._count.setProperty("role", "trouble")
        style = self._count.style()
        if style is not None:
            style.polish(self._count)
        self.desk.memory.keep("paper", {
            "size": paper.size, "fit": paper.fit.value, "landscape": paper.landscape, "title": paper.title,
            "legend": paper.legend, "columns": [c for c, box in self._columns.items() if box.isChecked()],
        })  # fmt: skip

    # Out

    def _tried(self, run: Callable[[], object]) -> None:
        self._says.setText("")
        try:
            run()
        except HexapodError as error:
            self._says.setText(str(error))

    def _file(self, ending: str) -> Path | None:
        project = self.desk.plan.projects.get(self.desk.project or "")
        name = project.name if project else "Plan"
        start = self.desk.session.workspace.path.with_name(f"{name} {self.drawing().name}.{ending}")
        found, _ = QFileDialog.getSaveFileName(self, ending.upper(), str(start), f"{ending.upper()} (*.{ending})")
        if not found:
            return None
        path = Path(found)
        return path if path.suffix.lower() == f".{ending}" else path.with_name(f"{path.name}.{ending}")

    def save_pdf(self) -> None:
        path = self._file("pdf")
        if path is not None:
            self.write_pdf(path)

    def write_pdf(self, path: Path) -> None:
        """Begin to write; the page shows how far it is."""
        from hexapod.desktop.paper.output import finish_pdf, pdf_pages

        def done(part: Path) -> None:
            self._is_finishing = True
            in_background(self, lambda: finish_pdf(part, path), over, lambda error: over(str(error)))

        def over(trouble: object) -> None:
            self._is_finishing = False
            if trouble is not None:
                self._says.setText(str(trouble))
            else:
                self.desk.told.emit(f"The PDF is in {path.name}.", "", False)

        self._begin(pdf_pages(self.drawing(), self.paper(), path), done)

    def print(self) -> None:
        from PyQt6.QtPrintSupport import QPrintDialog, QPrinter

        from hexapod.desktop.paper.output import print_pages

        printer = QPrinter(QPrinter.PrinterMode.HighResolution)
        printer.setPageLayout(self.paper().layout())
        if QPrintDialog(printer, self).exec():
            pages = print_pages(self.drawing(), self.paper(), printer)
            self._begin(pages, lambda _: self.desk.told.emit("The pages are with the printer.", "", False))

    def save_svg(self) -> None:
        from hexapod.desktop.paper.output import save_svg

        path = self._file("svg")
        if path is not None:
            save_svg(self.drawing(), path, self._times.value() / 100)
            self.desk.told.emit(f"The picture is in {path.name}.", "", False)

    def save_png(self) -> None:
        from hexapod.desktop.paper.output import save_png

        path = self._file("png")
        if path is not None:
            save_png(self.drawing(), path, self._times.value() / 100)
            self.desk.told.emit(f"The picture is in {path.name}.", "", False)

    def copy(self) -> None:
        from hexapod.desktop.paper.output import copy_picture

        copy_picture(self.drawing(), self._times.value() / 100)
        self.desk.told.emit("The picture is copied.", "", False)

    # Page by page

    def _begin(self, work: Iterator[tuple[int, int]], done: Callable[[Any], None]) -> None:
        """``done`` is told what the work returns at its end."""
        self._work, self._done = work, done
        self._next.start()

    def _go_on(self) -> None:
        if self._work is None:
            return
        try:
            done, total = next(self._work)
        except StopIteration as end:
            self._rest()
            self._done(end.value)
        except HexapodError as error:
            self._rest()
            self._says.setText(str(error))
        else:
            self._progress.setRange(0, total)
            self._progress.setValue(done)
            self._progress.setVisible(total > 3)
            self._stop.setVisible(total > 3)
            self._next.start()

    def stop(self) -> None:
        """Leave it; what was begun of a file is taken away."""
        work, self._work = self._work, None
        if work is not None:
            work.close()  # type: ignore[attr-defined]
            self.desk.told.emit("Stopped. Nothing was written.", "", False)
        self._rest()

    def _rest(self) -> None:
        self._work = None
        self._progress.hide()
        self._stop.hide()

    def save(self) -> None:
        self.save_pdf()
