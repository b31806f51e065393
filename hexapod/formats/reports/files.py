"""Which endings a report may have, and writing one: beside its place first, then put there whole."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path

from hexapod.errors import BadFile, HexapodError
from hexapod.reports.report import Report, Words
from hexapod.system.files import replacing, shown, write_whole

PDF, SLIDES, SHEETS, PAGE = ".pdf", ".pptx", ".xlsx", ".html"
ENDINGS = {PDF: "PDF", SLIDES: "Slides", SHEETS: "Spreadsheet", PAGE: "Page"}


class Stopped(HexapodError):
    """Somebody did not want to wait."""

    def __init__(self) -> None:
        super().__init__("Stopped; nothing was written.")


def write_report(
    report: Report, words: Words, path: Path, goes_on: Callable[[int, int], bool] = lambda done, of: True
) -> None:
    """A report as slides, spreadsheet or page, by the ending of a path; ``goes_on`` is told of rows written and may say
    no, and ``Stopped`` is raised. ``BadFile`` for other endings and for a place that cannot be written; what lies
    there already is as it was then. PDF is painted by the desktop."""
    ending = path.suffix.lower()
    if ending == SHEETS:
        from hexapod.formats.reports.sheets import write_sheets

        with replacing(path) as part:
            for done, of in write_sheets(report, part):
                if not goes_on(done, of):
                    raise Stopped
    elif ending == SLIDES:
        from hexapod.formats.reports.slides import report_slides

        write_whole(path, report_slides(report, words))
    elif ending == PAGE:
        from hexapod.formats.reports.web import report_html

        write_whole(path, report_html(report, words))
    else:
        known = ", ".join(ENDINGS)
        raise BadFile(f"{shown(path.name)}: a report ends in one of {known}.")
