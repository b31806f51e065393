"""Forms for people without this program: written into a folder, and what comes back into it laid before the planner.

What was read is kept with the file, so that no answer is laid twice. Nothing here changes the plan.
"""

from __future__ import annotations

from collections.abc import Collection, Sequence
from dataclasses import dataclass, field, replace
from pathlib import Path
from typing import TYPE_CHECKING

from PyQt6.QtCore import QObject, pyqtSignal

from hexapod.control.forms import PersonForm, Returned, form_of, people_with_work
from hexapod.desktop.models.background import in_background
from hexapod.desktop.models.watched_folder import WatchedFolder
from hexapod.errors import BadFile, HexapodError
from hexapod.fields.field import Texts
from hexapod.fields.returned import Laid, check
from hexapod.formats.forms import forms_folder, is_returned, page_name, read_returned, written_page, written_workbook
from hexapod.schedule.schedule import computed_dates
from hexapod.system.budgets import within
from hexapod.system.files import make_folder, shown, write_whole
from hexapod.system.words import count_of
from hexapod.worktime import clock

if TYPE_CHECKING:
    from hexapod.desktop.models.desk import Desk

MOST_FILES = 2000  # of a folder that are looked at
MOST_KNOWN = 20_000  # answers that are remembered as read
READ = "forms.read"  # the name under which answers that were read are kept
Read = list[Returned | tuple[str, str]]  # forms, and of what cannot be read the file's name with a sentence


@dataclass(frozen=True)
class Back:
    """A form that came back: how many answers were laid, which are held back, and what is wrong with it."""

    place: str
    name: str
    laid: int = 0
    held: tuple[Laid, ...] = ()
    findings: tuple[str, ...] = ()
    again: int = 0
    tasks: tuple[str, ...] = field(default=())


class FormsWork(QObject):
    """``changed`` says that the folder, or what came back, is another."""

    changed = pyqtSignal()

    def __init__(self, desk: Desk) -> None:
        super().__init__(desk)
        self._desk = desk
        self.back: list[Back] = []
        self._folder = WatchedFolder(self, desk, "forms_folder", self.usual_folder)
        self._folder.wanted.connect(self.look)
        for signal in (desk.computed, desk.past_changed):
            signal.connect(lambda *_: self._folder.soon())
        self._folder.watch()

    @property
    def usual_folder(self) -> str:
        """Beside the workspace."""
        return str(forms_folder(self._desk.session.workspace.path))

    @property
    def folder(self) -> str:
        return self._folder.path

    def set_folder(self, folder: str) -> None:
        if self._folder.choose(folder):
            self.back = []
            self.changed.emit()

    # Writing

    def people(self) -> list[str]:
        return people_with_work(self._desk.plan)

    def write(self, people: Sequence[str]) -> None:
        """Write a page for each of some people, and a workbook with all of them, beside the interface."""
        desk = self._desk
        if desk.scenario is not None:
            desk.told.emit("Forms ask about the plan, not about a scenario. Go back to the plan first.", "", False)
            return
        known = computed_dates(desk.schedule)
        if known is None:
            desk.told.emit("The dates are being computed; try again in a moment.", "", False)
            return
        if not self.folder:
            self.set_folder(self.usual_folder)
        folder, made, plan = self._folder.place, clock.now(), desk.session.plan
        identity, texts = desk.session.identity(), desk.columns.dates

        def work() -> object:
            forms = [form_of(known, person, identity, made, made) for person in people]
            return _write(folder, [form for form in forms if form.rows], Texts(plan, texts), made)

        def done(found: object) -> None:
            self._folder.watch()
            desk.told.emit(f"{count_of(found, 'form')} in {shown(folder.name)}.", "", False)  # type: ignore[arg-type]
            self.changed.emit()

        in_background(self, work, done, lambda error: desk.told.emit(str(error), "trouble", False))

    # Reading

    def look(self) -> None:
        """Read what lies in the folder, and lay before the planner what is new."""
        desk = self._desk
        if not self.folder or desk.is_read_only or computed_dates(desk.schedule) is None or desk.scenario is not None:
            return
        folder = self._folder.place
        self._folder.read(lambda: _read(folder), self._take, self._failed)

    def _failed(self, error: Exception) -> None:
        self._desk.told.emit(str(error), "trouble", False)

    def _take(self, read: object) -> None:
        assert isinstance(read, list)
        desk = self._desk
        if desk.scenario is not None:
            return  # they are read once the plan is back
        known = self._known()
        found, fresh = [], 0
        for each in read:
            back, digests = self._checked(each, known)
            known.update(dict.fromkeys(digests))
            fresh += back.laid
            found.append(back)
        if fresh:
            desk.session.workspace.set_state(READ, list(known)[-MOST_KNOWN:])
        told = {b.place: b for b in self.back}
        self.back = [self._with_earlier(b, told.get(b.place)) for b in found]
        if fresh:
            names = list(dict.fromkeys(b.name for b in found if b.laid))
            who = names[0] if len(names) == 1 else f"{len(names)} people"
            desk.told.emit(f"{count_of(fresh, 'answer')} from {who} in the round, to look at and take.", "", False)
        self.changed.emit()

    def _with_earlier(self, now: Back, before: Back | None) -> Back:
        """What was laid when a form was read first is still said while it lies there."""
        return now if before is None or now.laid else replace(now, laid=before.laid, again=0, tasks=before.tasks)

    def _checked(self, each: Returned | tuple[str, str], known: Collection[str]) -> tuple[Back, list[str]]:
        """What a form comes to, with the digests of what was laid."""
        desk = self._desk
        if isinstance(each, tuple):
            return Back(each[0], each[0], findings=(each[1],)), []
        name = each.name[:60] or each.place
        try:
            found = check(each, Texts(desk.plan, desk.columns.dates), desk.session.identity(), known)
        except HexapodError as error:
            return Back(each.place, name, findings=(str(error),)), []
        kept = set(desk.round.lay({laid.task: laid.answer for laid in found.laid}))
        held = (*found.held, *(laid for laid in found.laid if laid.task in kept))
        said = [f"“{desk.plan.tasks[t].name}”: you answered it otherwise; your answer stays." for t in sorted(kept)]
        laid = [each for each in found.laid if each.task not in kept]
        tasks = tuple(each.task for each in laid)
        return Back(each.place, name, len(laid), held, (*found.findings, *said), found.again, tasks), [
            each.digest for each in laid
        ]

    def _known(self) -> dict[str, None]:
        """The digests of answers that were laid, the latest last."""
        return dict.fromkeys(self._desk.session.workspace.remembered(READ, list[str], []))

    def lay_held(self, back: Back) -> None:
        """Lay before the planner what was held back, in the place of what was answered."""
        desk = self._desk
        told = {laid.task: laid.answer for laid in back.held if laid.task in desk.plan.tasks}
        desk.round.lay(told, over=True)
        known = self._known()
        known.update(dict.fromkeys(laid.digest for laid in back.held))
        desk.session.workspace.set_state(READ, list(known)[-MOST_KNOWN:])
        laid = replace(back, laid=back.laid + len(told), held=(), tasks=(*back.tasks, *told))
        self.back = [laid if each is back else each for each in self.back]
        self.changed.emit()


def _write(folder: Path, forms: list[PersonForm], texts: Texts, made: int) -> int:
    make_folder(folder)
    taken: set[str] = set()
    for form in forms:
        name, number = page_name(form), 1
        while name.casefold() in taken:
            number += 1
            name = page_name(form).replace(".html", f" {number}.html")
        taken.add(name.casefold())
        write_whole(folder / name, written_page(form, texts.plan, texts.dates))
    write_whole(_free(folder, f"forms {clock.iso(made)[:10]}"), written_workbook(forms, texts.plan))
    return len(forms)


def _free(folder: Path, stem: str) -> Path:
    """A workbook that nobody has: what somebody filled in is never written over."""
    path, number = folder / f"{stem}.xlsx", 1
    while path.exists():
        number += 1
        path = folder / f"{stem} ({number}).xlsx"
    return path


def _read(folder: Path) -> Read:
    """Every form in a folder; the later file of one person comes later."""
    try:
        files = [path for path in folder.iterdir() if is_returned(path) and path.is_file()]
        within(f"The folder {shown(folder.name)}", len(files), "files", MOST_FILES)
        files.sort(key=lambda path: (path.stat().st_mtime, path.name))
    except OSError as error:
        raise BadFile(f"{shown(folder.name)} cannot be read: {error.strerror}.") from None
    found: Read = []
    for path in files:
        try:
            found += read_returned(path)
        except HexapodError as error:
            found.append((shown(path.name), str(error)))
    return found
