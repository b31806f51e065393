"""The style sheet made of a palette, the shipped fonts and icons."""

from __future__ import annotations

import re
from collections.abc import Iterator
from contextlib import contextmanager
from dataclasses import fields
from functools import cache
from pathlib import Path

from PyQt6.QtCore import QByteArray, QRectF, Qt
from PyQt6.QtGui import QColor, QFont, QFontDatabase, QIcon, QPainter, QPalette, QPixmap
from PyQt6.QtSvg import QSvgRenderer
from PyQt6.QtWidgets import QApplication

from hexapod.desktop.theme.palette import DARK, LIGHT, Palette

ASSETS = Path(__file__).resolve().parent.parent / "assets"


def _colours_of(chosen: Palette) -> dict[str, QColor]:
    values = {field.name: getattr(chosen, field.name) for field in fields(chosen)}
    return {role: QColor(value) for role, value in values.items() if role not in ("name", "streams")}


_current = LIGHT
_on_paper = False
_text_scale = 1.0
_colours = _colours_of(LIGHT)


def palette() -> Palette:
    """The palette in use."""
    return _current


def color(role: str) -> QColor:
    """A role's colour in the palette in use; shared, not to be changed."""
    return _colours[role]


@cache
def _faded(name: str, alpha: int) -> QColor:
    made = QColor(name)
    made.setAlpha(alpha)
    return made


def faded(colour: QColor, alpha: int) -> QColor:
    """A colour made paler, 0 to 255."""
    return _faded(colour.name(), alpha)


def is_on_paper() -> bool:
    """Whether what is drawn now goes onto paper or into a picture."""
    return _on_paper


@contextmanager
def light_for_paper() -> Iterator[None]:
    """Paper is white: within, colours are those of the light theme, whatever the screen shows."""
    global _current, _colours, _on_paper
    kept = _current, _colours
    _current, _colours, _on_paper = LIGHT, _colours_of(LIGHT), True
    try:
        yield
    finally:
        _current, _colours = kept
        _on_paper = False


def stream_color(index: int) -> QColor:
    """The colour of the stream with that number; shared, not to be changed."""
    return _solid(_current.streams[index % len(_current.streams)])


@cache
def _solid(name: str) -> QColor:
    return QColor(name)


def load_fonts() -> None:
    for file in sorted((ASSETS / "fonts").glob("*.otf")):
        QFontDatabase.addApplicationFont(str(file))


def font(
    size: float = 9, weight: QFont.Weight = QFont.Weight.Normal, *, italic: bool = False, strike: bool = False
) -> QFont:
    """The application's face with figures of one width; ``size`` in points. Shared, not to be changed."""
    return _font(size * (1.0 if _on_paper else _text_scale), weight, italic, strike, _on_paper)


@cache
def _font(size: float, weight: QFont.Weight, italic: bool, strike: bool, on_paper: bool) -> QFont:
    made = QFont("Inter")
    made.setPointSizeF(size)
    made.setWeight(weight)
    made.setItalic(italic)
    made.setStrikeOut(strike)
    if on_paper:  # other shapes of a character have no code of their own: text taken from a PDF would be unreadable
        made.setFeature(QFont.Tag("calt"), 0)
    else:
        made.setFeature(QFont.Tag("tnum"), 1)
    return made


def icon(name: str, role: str = "ink", size: int = 18) -> QIcon:
    return QIcon(_pixmap(name, getattr(_current, role), size))


@cache
def _pixmap(name: str, colour: str, size: int) -> QPixmap:
    svg = (ASSETS / "icons" / f"{name}.svg").read_text(encoding="utf-8").replace("currentColor", colour)
    svg = svg.replace('stroke-width="2"', 'stroke-width="1.75"')
    scale = 3  # sharp also where the screen's pixels are finer
    pixmap = QPixmap(size * scale, size * scale)
    pixmap.fill(Qt.GlobalColor.transparent)
    painter = QPainter(pixmap)
    QSvgRenderer(QByteArray(svg.encode())).render(painter, QRectF(0, 0, size * scale, size * scale))
    painter.end()
    pixmap.setDevicePixelRatio(scale)
    return pixmap


TEXT_SIZES = {"small": 0.9, "usual": 1.0, "large": 1.2}


def apply_text_size(app: QApplication, name: str) -> None:
    """One of three sizes of text for every widget; an unknown name is the usual one."""
    global _text_scale
    _text_scale = TEXT_SIZES.get(name, 1.0)
    apply_theme(app, _current)


def scaled(length: float) -> int:
    """A width that text has to fit into, at the size of text that was chosen."""
    return round(length * max(1.0, _text_scale))


def points(size: float) -> str:
    """A size of text in a style sheet, at the size that was chosen."""
    return f"{size * _text_scale:.2f}pt"


def apply_theme(app: QApplication, chosen: Palette) -> None:
    """Put a palette in use for every widget."""
    global _current, _colours
    _current, _colours = chosen, _colours_of(chosen)
    p = chosen
    colours = QPalette()
    for role, value in {
        QPalette.ColorRole.Window: p.paper,
        QPalette.ColorRole.WindowText: p.ink,
        QPalette.ColorRole.Base: p.panel,
        QPalette.ColorRole.AlternateBase: p.raised,
        QPalette.ColorRole.Text: p.ink,
        QPalette.ColorRole.Button: p.raised,
        QPalette.ColorRole.ButtonText: p.ink,
        QPalette.ColorRole.Highlight: p.petrol,
        QPalette.ColorRole.HighlightedText: p.on_petrol,
        QPalette.ColorRole.PlaceholderText: p.faint,
        QPalette.ColorRole.ToolTipBase: p.raised,
        QPalette.ColorRole.ToolTipText: p.ink,
        QPalette.ColorRole.Link: p.petrol,
    }.items():
        colours.setColor(role, QColor(value))
    app.setPalette(colours)
    app.setFont(font())
    app.setStyleSheet(re.sub(r"(\d+(?:\.\d+)?)pt", lambda size: points(float(size[1])), _sheet(p)))


def theme_named(name: str) -> Palette:
    return DARK if name == "dark" else LIGHT


def _picture_file(name: str, p: Palette) -> str:
    """A picture in the colour that a palette gives it: a style sheet takes pictures from files only."""
    return (ASSETS / "sheet" / f"{name}-{p.name}.svg").as_posix()


def _sheet(p: Palette) -> str:
    return f"""
    QWidget {{ font-family: Inter; font-size: 9pt; color: {p.ink}; }}
    QToolTip {{ background: {p.raised}; color: {p.ink}; border: 1px solid {p.rule}; padding: 4px 6px; }}
    #topbar, #rail {{ background: {p.frame}; }}
    #topbar QLabel, #rail QLabel {{ color: {p.on_frame}; background: transparent; }}
    #topbar QLabel[role="muted"] {{ color: {p.on_frame_muted}; }}
    #find {{ background: {p.frame_field}; color: {p.on_frame}; border: 1px solid transparent; border-radius: 13px;
             padding: 3px 14px; }}
    #find:focus {{ border-color: {p.on_frame_muted}; }}
    #topbar QToolButton {{ background: transparent; border: none; border-radius: 6px; color: {p.on_frame};
                           padding: 4px; }}
    #topbar QToolButton:hover, #topbar QToolButton:focus {{ background: {p.frame_field}; }}
    #topbar QToolButton::menu-indicator {{ image: none; }}
    #toolbar {{ background: {p.raised}; border-bottom: 1px solid {p.rule}; }}
    #toolbar QToolButton {{ background: transparent; border: 1px solid transparent; border-radius: 5px; padding: 3px; }}
    #toolbar QToolButton:hover {{ background: {p.selection}; }}
    #toolbar QToolButton:focus {{ border-color: {p.petrol}; }}
    #viewbar {{ background: transparent; }}
    #foot {{ background: {p.raised}; border-top: 1px solid {p.rule}; }}
    #foot QPushButton {{ padding: 0 6px; border: none; font-size: 8pt; }}
    #hintCard {{ background: {p.panel}; border: 1px solid {p.amber}; border-radius: 6px; }}
    #noticeBox {{ background: {p.panel}; border: 1px solid {p.petrol}; border-radius: 6px; }}
    #viewbar QToolButton {{ background: transparent; border: 1px solid transparent; border-radius: 5px;
                           padding: 3px 8px; color: {p.petrol}; font-weight: 500; }}
    #viewbar QToolButton:hover {{ background: {p.selection}; }}
    #viewbar QToolButton:focus {{ border-color: {p.petrol}; }}
    #viewbar QToolButton::menu-indicator {{ image: none; }}
    #viewbar QLineEdit {{ border-color: {p.rule}; padding: 2px 6px; }}
    #viewbar QLineEdit:focus {{ border-color: {p.petrol}; }}
    #notice {{ color: {p.ink}; }}
    #notice[tone="trouble"] {{ color: {p.brick}; }}
    #panel {{ background: {p.panel}; border-left: 1px solid {p.rule}; }}
    #panel QScrollArea, #panel QScrollArea > QWidget > QWidget {{ background: {p.panel}; border: none; }}
    QLabel[role="title"] {{ font-size: 12.5pt; font-weight: 600; }}
    QLabel[role="head"] {{ font-weight: 600; margin: 8px 0 0 0; padding: 0; }}
    QLabel[role="muted"] {{ color: {p.muted}; }}
    QLabel[role="small"] {{ color: {p.muted}; font-size: 8pt; }}
    QLabel[role="value"] {{ font-weight: 600; }}
    QLabel[role="trouble"] {{ color: {p.brick}; font-weight: 500; }}
    QLabel[role="attention"] {{ color: {p.amber}; font-weight: 500; }}
    QFrame[role="card"] {{ background: {p.raised}; border: 1px solid {p.rule}; border-radius: 6px; }}
    QFrame[role="card"] QLabel {{ background: transparent; border: none; }}
    QPushButton {{ background: {p.panel}; color: {p.petrol}; border: 1px solid {p.petrol}; border-radius: 5px;
                   padding: 5px 12px; font-weight: 500; }}
    QPushButton:hover {{ background: {p.selection}; }}
    QPushButton:focus {{ border-width: 2px; padding: 4px 11px; }}
    QPushButton[role="primary"] {{ background: {p.petrol}; color: {p.on_petrol}; font-weight: 600; }}
    QPushButton[role="primary"]:focus {{ border: 2px solid {p.ink}; padding: 4px 11px; }}
    QPushButton:disabled {{ color: {p.faint}; border-color: {p.rule}; background: {p.raised}; }}
    QPushButton[role="row"] {{ text-align: left; border: none; border-bottom: 1px solid transparent; color: {p.ink};
                               padding: 1px 0; background: transparent; font-weight: 500; border-radius: 0; }}
    QPushButton[role="row"]:hover, QPushButton[role="row"]:focus {{ color: {p.petrol};
                               border-bottom: 1px solid {p.petrol}; }}
    QPushButton[role="quiet"] {{ border: 1px solid transparent; padding: 3px 6px 3px 0; background: transparent; }}
    QPushButton[role="quiet"]:hover {{ background: {p.selection}; }}
    QPushButton[role="quiet"]:focus {{ border: 1px solid {p.petrol}; }}
    QPushButton[role="way"] {{ text-align: left; padding: 6px 9px; border: 1px solid {p.rule}; border-radius: 6px;
        background: {p.raised}; }}
    QPushButton[role="way"]:checked {{ background: {p.selection}; border-color: {p.petrol}; }}
    QPushButton[role="way"]:focus {{ border: 1px solid {p.petrol}; }}
    QPushButton[role="choice"] {{ background: {p.shade}; color: {p.ink}; border: none; border-radius: 4px;
                   padding: 3px 9px; margin-left: 2px; }}
    QPushButton[role="choice"]:checked {{ background: {p.petrol}; color: {p.on_petrol}; }}
    QPushButton[role="choice"]:focus {{ border: 1px solid {p.ink}; padding: 2px 8px; }}
    #lineChips {{ background: {p.raised}; border: 1px solid {p.rule}; border-radius: 4px; }}
    QPushButton[role="chip"] {{ background: transparent; color: {p.muted}; border: 1px dashed {p.muted};
                   border-radius: 9px; padding: 1px 8px; font-weight: 500; }}
    QPushButton[role="chip"]:checked {{ background: {p.selection}; color: {p.petrol}; border: 1px solid {p.petrol}; }}
    QPushButton[role="day"] {{ background: {p.shade}; color: {p.ink}; border: none; border-radius: 4px;
                   padding: 4px 0; }}
    QPushButton[role="day"]:checked {{ background: {p.petrol}; color: {p.on_petrol}; }}
    QPushButton[role="day"]:focus {{ border: 1px solid {p.ink}; padding: 3px 0; }}
    #calendarList {{ border: 1px solid {p.rule}; border-radius: 4px; }}
    #loadInfo, #loadCanvas {{ background: {p.raised}; }}
    #loadInfo {{ border-top: 1px solid {p.rule}; }}
    QLineEdit, QComboBox, QDoubleSpinBox, QSpinBox, QPlainTextEdit {{
                 background: {p.panel}; border: 1px solid {p.rule}; border-radius: 4px;
                 padding: 4px 6px; selection-background-color: {p.petrol}; selection-color: {p.on_petrol}; }}
    QLineEdit:focus, QComboBox:focus, QDoubleSpinBox:focus, QSpinBox:focus, QPlainTextEdit:focus {{
                 border-color: {p.petrol}; }}
    QSpinBox::up-button, QSpinBox::down-button, QDoubleSpinBox::up-button, QDoubleSpinBox::down-button {{ width: 0; }}
    QCheckBox::indicator {{ width: 13px; height: 13px; border: 1px solid {p.link}; border-radius: 3px;
                 background: {p.panel}; }}
    QCheckBox::indicator:checked {{ background: {p.petrol}; border-color: {p.petrol};
                 image: url({_picture_file("check", p)}); }}
    QCheckBox:focus {{ color: {p.petrol}; }}
    QComboBox[role="flat"] {{ border: none; background: transparent; font-weight: 600; padding: 0 4px; }}
    QComboBox::drop-down {{ border: none; width: 18px; }}
    QComboBox::down-arrow {{ image: url({_picture_file("chevron-down", p)}); width: 12px; height: 12px; }}
    QComboBox QAbstractItemView {{ background: {p.panel}; border: 1px solid {p.rule}; outline: none;
                 selection-background-color: {p.selection}; selection-color: {p.ink}; }}
    QListView, QTableView {{ background: {p.panel}; border: none; outline: none;
                 selection-background-color: {p.selection}; selection-color: {p.ink}; }}
    QHeaderView {{ background: {p.raised}; border: none; }}
    QHeaderView::section {{ background: {p.raised}; color: {p.muted}; border: none; padding: 0 6px;
                 border-bottom: 1px solid {p.rule}; font-size: 8.5pt; }}
    #findList, #completions {{ border: 1px solid {p.link}; border-radius: 4px; padding: 3px; }}
    QListView::item {{ padding: 4px 8px; }}
    QListView::item:selected {{ background: {p.selection}; color: {p.ink}; }}
    QMenu {{ background: {p.panel}; border: 1px solid {p.rule}; padding: 4px; }}
    QMenu::item {{ padding: 5px 26px 5px 24px; border-radius: 4px; }}
    QMenu::item:selected {{ background: {p.selection}; }}
    QMenu::item:disabled {{ color: {p.faint}; }}
    QMenu::separator {{ height: 1px; background: {p.rule}; margin: 4px 8px; }}
    QMenu::icon {{ padding-left: 6px; }}
    QSplitter::handle {{ background: {p.rule}; }}
    QScrollBar:vertical {{ background: transparent; width: 10px; margin: 0; }}
    QScrollBar:horizontal {{ background: transparent; height: 10px; margin: 0; }}
    QScrollBar::handle {{ background: {p.rule}; border-radius: 4px; min-height: 28px; min-width: 28px; margin: 1px; }}
    QScrollBar::handle:hover {{ background: {p.link}; }}
    QScrollBar::add-line, QScrollBar::sub-line {{ width: 0; height: 0; }}
    QScrollBar::add-page, QScrollBar::sub-page {{ background: transparent; }}
    """
