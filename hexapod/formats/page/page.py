"""The page as HTML. Everything is read without script; with it, the chart folds, zooms, filters and finds.

The policy inside allows this file's own script and nothing else: no network, no frame, no form.
"""

from __future__ import annotations

from datetime import date
from html import escape
from importlib.resources import files

from hexapod.formats.page.content import PageContent, PageRow, span_of
from hexapod.formats.reports.clean import clean
from hexapod.formats.reports.web import part_html
from hexapod.formats.web.files import web_file
from hexapod.plan.records import DAY
from hexapod.reports.report import Words, ends_on
from hexapod.worktime.clock import date_of

STATES = ("late", "in doubt", "on hold", "done")
MOST_MONTHS = 400  # ticks of the axis
FIRST_ZOOM = 620  # pixels that the whole span has at first, and at most so many a day
WIDEST_DAY = 14.0


def page_html(content: PageContent, words: Words) -> bytes:
    """The whole file."""
    first, last = span_of(content)
    day = max(0.2, min(WIDEST_DAY, FIRST_ZOOM / (last - first)))
    return web_file(
        "page/page.html",
        script="page/page.js",
        title=_said(content.title),
        below=_said(content.below),
        style=files("hexapod.formats.page").joinpath("page.css").read_text("utf-8") + _levels(content),
        days=last - first,
        day=f"{day:.2f}",
        today=_place(content.made, first),
        axis=_axis(first, last),
        rows="".join(_row(row, first, words) for row in content.rows),
        count=f"{sum(r.kind in ('task', 'milestone') for r in content.rows):,}",
        parts="".join(part_html(part, words) for part in content.parts),
        below_parts="".join(part_html(part, words) for part in content.below_parts),
        made=_said(words.long_day(content.made)),
    )


def _row(row: PageRow, first: int, words: Words) -> str:
    """A row of the chart: what it is in words, and its bar."""
    state = f" {row.state.replace(' ', '-')}" if row.state in STATES else ""
    classes = f"{row.kind}{state}{' critical' if row.is_critical else ''}"
    start = "" if row.start is None else _said(words.long_day(row.start))
    finish = "" if row.finish is None else _said(words.long_day(ends_on(row.finish)))
    says = f"{row.state}{', critical' if row.is_critical and row.state else 'critical' if row.is_critical else ''}"
    more = "".join(f" · {_said(name)}: {_said(value)}" for name, value in row.fields)
    wanted = f" · wanted by {_said(words.long_day(ends_on(row.target)))}" if row.target is not None else ""
    beside = f"<small>{more}{wanted}</small>" if more or wanted else ""
    # Rows are laid out as boxes of their own (see page.css), so what they are to who has them read aloud is said.
    return (
        f"<tr role=row class='{classes}' data-l='{row.level}'><th scope=row role=rowheader>"
        f"<span>{_said(row.name) or '–'}</span>{beside}</th><td role=cell>{start}</td><td role=cell>{finish}</td>"
        f"<td role=cell class='n'>{row.percent:.0f} %</td><td role=cell>{says}</td>"
        f"<td role=cell class='who'>{_said(row.who)}</td><td role=cell class='c'>{_bar(row, first)}</td></tr>"
    )


def _levels(content: PageContent) -> str:
    """A line of the style sheet for each level that there is; faster to read than one in each row."""
    deepest = max((row.level for row in content.rows), default=0)
    return "\n".join(f"[data-l='{level}'] {{ --l: {level} }}" for level in range(deepest + 1))


def _bar(row: PageRow, first: int) -> str:
    """Its place in days from the first one; the style sheet makes pixels of it."""
    if row.start is None or row.finish is None:
        return ""
    wide = max(0.0, (row.finish - row.start) / DAY)
    target = f"<u style='--s:{_place(row.target, first)}'></u>" if row.target is not None else ""
    return f"<b style='--s:{_place(row.start, first)};--w:{wide:.2f};--d:{row.percent:.0f}%'></b>{target}"


def _place(minutes: int, first: int) -> str:
    return f"{minutes / DAY - first:.2f}"


def _axis(first: int, last: int) -> str:
    """The months that begin within the span."""
    found: list[str] = []
    on = date_of(first).replace(day=1)
    while (begin := (on - date(1970, 1, 1)).days) <= last and len(found) < MOST_MONTHS:
        if begin >= first:
            name = f"{on:%b}" if on.month != 1 else f"{on:%b %Y}"
            found.append(f"<i style='--s:{begin - first}'>{name}</i>")
        on = on.replace(year=on.year + on.month // 12, month=on.month % 12 + 1)
    return "".join(found)


def _said(text: str) -> str:
    return escape(clean(text), quote=True)
