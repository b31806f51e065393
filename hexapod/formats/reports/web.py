"""A report as one HTML file: readable without a network or script, on a phone, in the dark, and on paper."""

from __future__ import annotations

from html import escape

from hexapod.formats.reports.charts import chart_svg
from hexapod.formats.reports.clean import clean
from hexapod.formats.reports.looks import INK, MUTED, RULE
from hexapod.formats.web.files import web_file
from hexapod.reports.report import Part, Report, Sentence, Table, Words, cell_text

_VARIABLES = {INK: "var(--ink)", MUTED: "var(--muted)", RULE: "var(--line)"}


def report_html(report: Report, words: Words) -> bytes:
    """The whole file; everything that people entered is escaped."""
    text = "".join(f"<p>{_said(line)}</p>" for line in report.text.splitlines() if line.strip())
    return web_file(
        "reports/report.html",
        title=_said(report.title),
        below=_said(report.below),
        text=f"<section class='own'>{text}</section>" if text else "",
        parts="".join(part_html(part, words) for part in report.parts),
        made=_said(words.long_day(report.made)),
    )


def part_html(part: Part, words: Words) -> str:
    """A section of its sentences, chart and table."""
    chart = ""
    if part.chart is not None:
        picture = chart_svg(part.chart, lambda color: _VARIABLES.get(color, color), "inherit")
        chart = f"<figure>{picture}<figcaption>{_said(part.chart.title)}</figcaption></figure>"
    table = "" if part.table is None else table_html(part.table, words, part.title)
    title, said = f"<h2>{_said(part.title)}</h2>", _sentences(part.sentences)
    return f"<section id='{escape(part.id)}'>{title}{said}{chart}{table}</section>"


def _sentences(sentences: tuple[Sentence, ...]) -> str:
    found, under = [], ""
    for sentence in sentences:
        if sentence.under != under:
            under = sentence.under
            found.append(f"<h3>{_said(under)}</h3>" if under else "")
        title = f" title='{_said(sentence.source)}'" if sentence.source else ""
        found.append(f"<p class='{sentence.tone.value}'{title}>{_said(sentence.text)}</p>")
    return "".join(found)


def table_html(table: Table, words: Words, caption: str) -> str:
    """Numbers at the right, a caption for those who only hear it."""
    sides = ["n" if column.kind.is_number else "" for column in table.columns]
    heads = "".join(
        f"<th scope='col'{_class(side)}{_title(column.source)}>{_said(column.title)}</th>"
        for column, side in zip(table.columns, sides, strict=True)
    )
    rows = "".join(
        "<tr>" + "".join(
            f"<td{_class(side)}>{_said(cell_text(value, column.kind, words))}</td>"
            for value, column, side in zip(row, table.columns, sides, strict=True)
        ) + "</tr>"
        for row in table.shown_rows()
    )  # fmt: skip
    total = " class='total'" if table.total is not None else ""
    return (
        f"<div class='wide' tabindex='0' role='region' aria-label='{_said(caption)}'><table{total}>"
        f"<caption>{_said(caption)}</caption><thead><tr>{heads}</tr></thead><tbody>{rows}</tbody></table></div>"
    )


def _class(side: str) -> str:
    return f" class='{side}'" if side else ""


def _title(source: str) -> str:
    return f" title='{_said(source)}'" if source else ""


def _said(text: str) -> str:
    return escape(clean(text), quote=True)
