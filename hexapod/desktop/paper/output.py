"""Drawings onto paper and into files: PDF and printer page by page, SVG and PNG at any scale, the clipboard."""

from __future__ import annotations

import errno
from collections.abc import Generator, Iterator
from pathlib import Path

from PyQt6.QtCore import QRect, QSize
from PyQt6.QtGui import QGuiApplication, QImage, QPagedPaintDevice, QPainter, QPdfWriter

from hexapod import __version__
from hexapod.desktop.paper.drawing import Drawing
from hexapod.desktop.paper.frame import paint_frame
from hexapod.desktop.paper.paper import DPI, Paper
from hexapod.desktop.theme.style import color, light_for_paper
from hexapod.errors import BadFile, BadText
from hexapod.system.files import cannot_write, new_part, remove, replacing, write_whole

LARGEST_SIDE, LARGEST_AREA = 30_000, 120_000_000  # pixels of a picture


def pdf_pages(drawing: Drawing, paper: Paper, path: Path) -> Generator[tuple[int, int], None, Path]:
    """Write a PDF page by page; yields (pages done, of) so that it can be stopped: nothing is then left of it.

    Returns the part beside ``path`` that it is in until ``finish_pdf`` puts it in its place. ``BadText`` if it does
    not fit the paper, ``BadFile`` if the file cannot be written.
    """
    pages = drawing.pages(paper)
    part = new_part(path)
    finished = False
    try:
        writer = QPdfWriter(str(part))
        writer.setResolution(DPI)
        writer.setPageLayout(paper.layout())
        writer.setTitle(drawing.title().name)
        writer.setCreator(f"Hexapod {__version__}")
        yield from _paint_pages(writer, drawing, paper, pages)
        finished = True
    finally:
        if not finished:
            remove(part)
    return part


def finish_pdf(part: Path, path: Path) -> None:
    """Put a written PDF in its place. Knows no widget."""
    try:
        write_whole(path, part.read_bytes())
    except OSError as error:
        raise cannot_write(path, error) from None
    finally:
        remove(part)


def print_pages(drawing: Drawing, paper: Paper, printer: QPagedPaintDevice) -> Iterator[tuple[int, int]]:
    """The same onto a printer that was chosen."""
    printer.setPageLayout(paper.layout())
    yield from _paint_pages(printer, drawing, paper, drawing.pages(paper))


def _paint_pages(device: QPagedPaintDevice, drawing: Drawing, paper: Paper, pages) -> Iterator[tuple[int, int]]:  # type: ignore[no-untyped-def]
    painter = QPainter()
    if not painter.begin(device):
        raise BadFile("The page cannot be written: is the disk full, or the printer gone?")
    try:
        factor = device.logicalDpiX() / DPI
        title = drawing.title()
        for number, tile in enumerate(pages):
            if number and not device.newPage():
                raise BadFile("The next page cannot be written: is the disk full, or the printer gone?")
            painter.save()
            painter.scale(factor, factor)
            with light_for_paper():
                paint_frame(painter, paper, title, pages, number)
                drawing.paint(painter, paper, tile)
            painter.restore()
            yield number + 1, len(pages)
    finally:
        painter.end()


def picture(drawing: Drawing, times: float = 1.0) -> QImage:
    """The drawing as a whole, ``times`` as large as on screen. ``BadText`` if that is too large."""
    width, height = drawing.size()
    wide, high = round(width * times), round(height * times)
    if max(wide, high) > LARGEST_SIDE or wide * high > LARGEST_AREA:
        raise BadText(f"A picture of {wide:,} × {high:,} pixels is too large. Show less, zoom out, or take a PDF.")
    image = QImage(QSize(max(1, wide), max(1, high)), QImage.Format.Format_RGB32)
    if image.isNull():
        raise BadText("There is not enough memory for a picture so large.")
    with light_for_paper():
        image.fill(color("panel"))
        painter = QPainter(image)
        painter.scale(times, times)
        drawing.paint_whole(painter)
        painter.end()
    return image


def save_png(drawing: Drawing, path: Path, times: float = 1.0) -> None:
    image = picture(drawing, times)
    with replacing(path) as part:
        if not image.save(str(part), "PNG"):
            raise OSError(errno.EIO, "the picture was not written whole")


def save_svg(drawing: Drawing, path: Path, times: float = 1.0) -> None:
    """Vectors, in which text stays text."""
    from PyQt6.QtSvg import QSvgGenerator

    width, height = drawing.size()
    if max(width, height) * times > LARGEST_SIDE * 4:
        raise BadText(f"A picture of {width:,.0f} × {height:,.0f} pixels is too large. Show less, or take a PDF.")
    with replacing(path) as part:
        generator = QSvgGenerator()
        generator.setFileName(str(part))
        generator.setSize(QSize(round(width * times), round(height * times)))
        generator.setViewBox(QRect(0, 0, round(width * times), round(height * times)))
        generator.setResolution(DPI)
        generator.setTitle(drawing.title().name)
        painter = QPainter()
        if not painter.begin(generator):
            raise OSError(errno.EIO, "the picture was not written whole")
        with light_for_paper():
            painter.scale(times, times)
            drawing.paint_whole(painter)
        painter.end()


def copy_picture(drawing: Drawing, times: float = 1.0) -> None:
    clipboard = QGuiApplication.clipboard()
    if clipboard is not None:
        clipboard.setImage(picture(drawing, times))
