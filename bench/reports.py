"""Reports and the page: the week in words, slides, sheets of 100,000 rows, the page of 5,000 tasks in a browser."""

from __future__ import annotations

import random
import resource
import subprocess
import sys
import tempfile
from collections.abc import Iterator
from dataclasses import replace
from pathlib import Path
from statistics import median

from bench.timing import Row, aimed, row, timed_ms
from hexapod.demo.museum import build_demo
from hexapod.formats.page.content import page_content
from hexapod.formats.page.page import page_html
from hexapod.formats.reports.files import write_report
from hexapod.formats.reports.slides import report_slides
from hexapod.reporting import basis_of
from hexapod.reports.basis import Basis, scope_of
from hexapod.reports.catalogue import REPORTS, make_report
from hexapod.reports.parts.words import week
from hexapod.reports.report import CellKind, Column, Part, Report, Table, plain_words
from hexapod.session import Session
from tests.journeys.browser import DRIVER, Browser
from tests.support import MONDAY, random_plan

WORDS = plain_words()
TASKS, LINES = 5000, 100_000
# Loaded, scripts done; and all rows have a place, also those further down, which the browser puts off until then.
USED = """
const loaded = performance.getEntriesByType("navigation")[0].loadEventEnd, from = performance.now();
document.getElementById("chart").scrollIntoView();
[...document.getElementById("rows").rows].at(-1).getBoundingClientRect();
return loaded + performance.now() - from;
"""


def rows() -> Iterator[Row]:
    with tempfile.TemporaryDirectory() as folder:
        yield from _museum(Path(folder))
        yield from _page(Path(folder))
        yield from _sheets(Path(folder))


def _museum(folder: Path) -> Iterator[Row]:
    build_demo(folder / "w.hexapod", many=True)
    session = Session.open(folder / "w.hexapod")
    session.compute()
    known = basis_of(session)
    known = replace(known, until=known.now, since=MONDAY + 25 * 1440)  # of days in which there was something
    week(known)
    yield aimed("week in words, 243 projects", median(timed_ms(lambda: week(replace(known))) for _ in range(5)), 500)
    kind = REPORTS["monday"]
    report = make_report(known, kind.parts, kind.title)
    report_slides(report, WORDS)
    from pptx import Presentation

    (folder / "w.pptx").write_bytes(report_slides(report, WORDS))
    count = len(Presentation(str(folder / "w.pptx")).slides)
    took = median(timed_ms(lambda: report_slides(report, WORDS)) for _ in range(3))
    yield aimed(f"slides of the Monday report ({count} slides)", took, 3000 * count / 20)
    session.close()


def _page(folder: Path) -> Iterator[Row]:
    plan = random_plan(random.Random(1), TASKS, resources=40, projects=12, summaries=True)
    from hexapod.schedule.engine import schedule

    basis = Basis(schedule(plan), MONDAY, scope_of(plan), MONDAY - 7 * 1440, MONDAY)
    page_html(page_content(basis), WORDS)
    took = median(timed_ms(lambda: page_html(page_content(replace(basis)), WORDS)) for _ in range(3))
    yield aimed(f"the page of {TASKS:,} tasks", took, 2000)
    data = page_html(page_content(basis), WORDS)
    yield aimed("its size", len(data) / 1000, 3000, "KB")
    if DRIVER is not None:
        (folder / "page.html").write_bytes(data)
        browser = Browser(folder)
        try:
            times = []
            for _ in range(3):
                browser.open(folder / "page.html")
                times.append(browser.run(USED))
            yield aimed("until it can be used, in Chromium", median(times), 1000)
        finally:
            browser.close()


def _sheets(folder: Path) -> Iterator[Row]:
    small, large = (_memory(folder, lines) for lines in (LINES // 4, LINES))
    yield aimed(f"spreadsheet of {LINES:,} rows", large[0], 10_000)
    yield row("its memory, beside a quarter of the rows", large[1], small[1], "a quarter of them", "MB")


def _memory(folder: Path, lines: int) -> tuple[float, float]:
    """(ms, MB) of a process of its own that writes so many rows."""
    code = f"from bench.reports import write_lines; write_lines({str(folder)!r}, {lines})"
    found = subprocess.run([sys.executable, "-c", code], capture_output=True, text=True, check=True)
    took, memory = found.stdout.split()
    return float(took), float(memory)


def write_lines(folder: str, lines: int) -> None:
    """Write a report of so many rows; prints how long it took and what was needed beyond the rows themselves."""
    columns = (
        Column("Name"),
        Column("Hours", CellKind.HOURS),
        Column("On", CellKind.FINISH),
        Column("Paid", CellKind.MONEY),
    )
    cells = tuple((f"Row {i}", i / 10, MONDAY + i % 300 * 1440, i * 7) for i in range(lines))
    report = Report("Lines", "", (Part("x", "Rows", table=Table(columns, cells)),), made=MONDAY)
    before = resource.getrusage(resource.RUSAGE_SELF).ru_maxrss
    took = timed_ms(lambda: write_report(report, WORDS, Path(folder) / "lines.xlsx"))
    print(took, max(1.0, (resource.getrusage(resource.RUSAGE_SELF).ru_maxrss - before) / 1024))
