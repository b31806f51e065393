"""A report on paper: its gist in sentences, and its table with the headings on every page. Text stays text."""

from __future__ import annotations

from html import escape
from pathlib import Path

from PyQt6.QtCore import QMarginsF
from PyQt6.QtGui import QPageLayout, QPageSize, QPdfWriter, QTextDocument

from hexapod import __version__
from hexapod.desktop.paper.output import finish_pdf
from hexapod.desktop.theme.style import font, light_for_paper
from hexapod.staffing.reports import Report, Value
from hexapod.system.files import new_part, remove

STYLE = """
p { margin: 2pt 0 } .where { color: #5b676c; font-size: 8pt }
p.title { font-size: 15pt; font-weight: 600; margin-bottom: 2pt }
th { font-weight: 600; border-bottom: 1px solid #1e2b31; text-align: left; padding: 2pt 10pt 2pt 0 }
td { padding: 1pt 10pt 1pt 0 } .number { text-align: right }
"""


def write_report(report: Report, where: str, path: Path) -> None:
    """A PDF of it, whole or not at all; ``where`` says of what and when. ``BadFile`` if it cannot be written."""
    part = new_part(path)
    try:
        writer = QPdfWriter(str(part))
        writer.setPageLayout(
            QPageLayout(
                QPageSize(QPageSize.PageSizeId.A4),
                QPageLayout.Orientation.Portrait,
                QMarginsF(),  # the document has its own, with the number of the page
                QPageLayout.Unit.Millimeter,
            )
        )
        writer.setTitle(report.title)
        writer.setCreator(f"Hexapod {__version__}")
        with light_for_paper():
            document = QTextDocument()
            document.setDefaultFont(font(9))
            document.setDefaultStyleSheet(STYLE)
            document.setHtml(html_of(report, where))
            document.print(writer)
        del writer
        finish_pdf(part, path)
    finally:
        remove(part)


def html_of(report: Report, where: str) -> str:
    """Everything in it escaped."""
    gist = "".join(f"<p>{escape(sentence)}</p>" for sentence in report.gist)
    first = report.rows[0] if report.rows else ()
    sides = ["left" if isinstance(value, str) else "right" for value in first]
    heads = "".join(f"<th align='{side}'>{escape(h)}</th>" for h, side in zip(report.headings, sides, strict=False))
    rows = "".join(f"<tr>{''.join(_cell(value) for value in row)}</tr>" for row in report.rows)
    table = (
        f"<table cellspacing='0' cellpadding='2' width='100%'><thead><tr>{heads}</tr></thead>{rows}</table>"
        if report.rows
        else ""
    )
    return f"<p class='title'>{escape(report.title)}</p><p class='where'>{escape(where)}</p>{gist}<p></p>{table}"


def _cell(value: Value) -> str:
    if isinstance(value, str):
        return f"<td>{escape(value)}</td>"
    return f"<td class='number' align='right'>{value:,.1f}</td>"
