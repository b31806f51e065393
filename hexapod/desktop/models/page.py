"""The page for people without the program: of what it is, whether for people outside, and what exactly would go."""

from __future__ import annotations

from typing import TYPE_CHECKING

from PyQt6.QtCore import QObject, pyqtSignal

from hexapod.desktop.models.background import in_background
from hexapod.desktop.models.made_of import MadeOf
from hexapod.desktop.models.scopes import EVERY, meant_by
from hexapod.desktop.models.wording import words
from hexapod.errors import HexapodError
from hexapod.schedule.schedule import computed_dates
from hexapod.worktime import clock

if TYPE_CHECKING:
    from hexapod.desktop.models.desk import Desk
    from hexapod.formats.page.content import PageContent
    from hexapod.reports.report import Report


class PageWork(QObject):
    """``content`` is what goes into the page and ``preview`` the same as a report, both None until they are made."""

    changed = pyqtSignal()

    def __init__(self, desk: Desk) -> None:
        super().__init__(desk)
        self._desk = desk
        self.scope, self.is_outside, self.title = EVERY, False, ""
        self.content: PageContent | None = None
        self.preview: Report | None = None
        self.trouble = ""
        self._made_of: MadeOf | None = None

    def narrow(self, *, scope: str | None = None, outside: bool | None = None, title: str | None = None) -> None:
        """Of something else, or for somebody else."""
        self.scope = self.scope if scope is None else scope
        self.is_outside = self.is_outside if outside is None else outside
        self.title = self.title if title is None else title
        self.changed.emit()

    def look(self) -> None:
        """Make it, where it is not made or under way already."""
        desk = self._desk
        known = computed_dates(desk.schedule)
        if known is None:
            return
        made_of = MadeOf(known, (self.scope, self.is_outside, self.title, clock.now() // 1440))
        if made_of.is_same(self._made_of):
            return
        self._made_of = made_of
        history, said, session = list(desk.session.history), words(), desk.session
        (projects, department), is_outside, title = meant_by(self.scope), self.is_outside, self.title

        def work() -> object:
            from hexapod.formats.page.content import page_content, page_preview
            from hexapod.reporting import basis_of
            from hexapod.reports.basis import outside_basis

            basis = basis_of(
                session, projects=projects, department=department, words=said, known=known, history=history
            )
            content = page_content(outside_basis(basis) if is_outside else basis, title)
            return content, page_preview(content)

        def show(found: object) -> None:
            if self._made_of is made_of:
                self.content, self.preview = found  # type: ignore[misc]
                self.trouble = ""
                self.changed.emit()

        def fail(error: Exception) -> None:
            if self._made_of is made_of:
                self.content, self.preview = None, None
                self.trouble = str(error) if isinstance(error, HexapodError) else "The page could not be made."
                self.changed.emit()

        in_background(self, work, show, fail)

    def data(self) -> bytes | None:
        """The file; None until it is known what goes into it."""
        from hexapod.formats.page.page import page_html

        return None if self.content is None else page_html(self.content, words())
