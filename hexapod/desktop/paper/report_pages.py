"""A report as PDF, page by page as it is on screen."""

from __future__ import annotations

from pathlib import Path

from PyQt6.QtCore import QBuffer, QByteArray
from PyQt6.QtGui import QPagedPaintDevice, QPainter, QPdfWriter

from hexapod import __version__
from hexapod.desktop.paper.report_document import DPI, ReportDocument
from hexapod.desktop.theme.style import light_for_paper
from hexapod.errors import BadFile
from hexapod.formats.reports.files import PDF
from hexapod.formats.reports.files import write_report as write_other
from hexapod.reports.report import Report, Words
from hexapod.system.files import write_whole

FINER = 8  # dots of paper in a pixel


def write_report(report: Report, words: Words, path: Path) -> None:
    """A report as PDF, slides, spreadsheet or page, by the ending; whole or not at all. ``BadFile`` if it cannot be
    written."""
    if path.suffix.lower() == PDF:
        write_whole(path, pdf_of(report, words))
    else:
        write_other(report, words, path)


def pdf_of(report: Report, words: Words) -> bytes:
    """All its pages."""
    data = QByteArray()
    buffer = QBuffer(data)
    buffer.open(QBuffer.OpenModeFlag.WriteOnly)
    with light_for_paper():
        document = ReportDocument(report, words)
        document.go_on()
        writer = QPdfWriter(buffer)
        writer.setResolution(DPI * FINER)
        writer.setTitle(report.title)
        writer.setCreator(f"Hexapod {__version__}")
        paint_pages(document, writer)
    del writer
    buffer.close()
    return data.data()


def paint_pages(document: ReportDocument, device: QPagedPaintDevice) -> None:
    """Every page onto a PDF or a printer."""
    device.setPageLayout(document.layout())
    painter = QPainter()
    if not painter.begin(device):
        raise BadFile("The page cannot be written: is the disk full, or the printer gone?")
    try:
        scale = device.logicalDpiX() / DPI
        for page in range(document.pages):
            if page and not device.newPage():
                raise BadFile("The next page cannot be written: is the disk full, or the printer gone?")
            painter.save()
            painter.scale(scale, scale)
            document.paint(painter, page)
            painter.restore()
    finally:
        painter.end()
