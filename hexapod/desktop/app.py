"""The application: fonts, theme, opening workspaces, and what happens when something breaks."""

from __future__ import annotations

import contextlib
import getpass
import sys
import traceback
from collections.abc import Callable
from pathlib import Path

import platformdirs
from PyQt6.QtCore import QSettings, Qt, QTimer
from PyQt6.QtGui import QGuiApplication
from PyQt6.QtWidgets import QApplication, QMessageBox

from hexapod import __version__
from hexapod.desktop.kept_window import fit_to_screen, restore_window
from hexapod.desktop.models.recent import remember
from hexapod.desktop.theme.measures import apply_density
from hexapod.desktop.theme.style import apply_text_size, apply_theme, load_fonts, theme_named
from hexapod.desktop.trouble import write_report
from hexapod.desktop.window import Window
from hexapod.errors import BadFile, HexapodError
from hexapod.session import Session
from hexapod.store.sentences import Damaged
from hexapod.store.workspace import WorkspaceInUse
from hexapod.system.files import shown

SWITCH_AFTER = 0.0005  # seconds after which work in the background lets the interface have its turn


def make_application(theme: str | None = None) -> QApplication:
    """The Qt application with our fonts and theme; the theme defaults to what was chosen, else the desktop's."""
    existing = QApplication.instance()
    app = existing if isinstance(existing, QApplication) else QApplication(sys.argv[:1])
    app.setApplicationName("hexapod")
    app.setOrganizationName("hexapod")
    app.setApplicationDisplayName("Hexapod")
    app.setApplicationVersion(__version__)
    app.setDesktopFileName("org.hexapod.Hexapod")
    app.setStyle("Fusion")
    load_fonts()
    chosen = theme or QSettings().value("theme") or _desktop_theme()
    apply_theme(app, theme_named(str(chosen)))
    apply_density(str(QSettings().value("density") or ""))
    apply_text_size(app, str(QSettings().value("text") or "usual"))
    return app


def run(arguments: list[str], find_museum: Callable[[], Path] | None = None) -> int:
    """Open the window with a workspace: the one named, the last one, or a new one in the home's documents.

    ``find_museum`` builds the workspace of the demo, for who wants to look round in it.
    """
    app = make_application()
    sys.setswitchinterval(SWITCH_AFTER)
    opener = Opener(find_museum)
    sys.excepthook = opener.on_bug
    if arguments:
        path = Path(arguments[0])
        opener.open(path, create=not path.exists() and path.suffix == ".hexapod")
    else:
        last = Path(str(QSettings().value("last") or ""))
        path = last if last.is_file() else _first_workspace()
        opener.open(path, create=not path.exists())
    if not opener.windows:
        return 2
    return app.exec()


class Opener:
    """Opens windows and keeps them."""

    def __init__(self, find_museum: Callable[[], Path] | None = None) -> None:
        self.windows: list[Window] = []
        self._find_museum = find_museum

    def open(self, path: Path, create: bool = False) -> Window | None:
        """A window on a workspace; None if it cannot be opened and the reader was told why."""
        try:
            if path.suffix == ".json":
                path = _workspace_of(path)
            session = Session.create(path) if create else Session.open(path)
        except WorkspaceInUse as error:
            found = self._ask_about_second_window(path, error)
            if found is None:
                return None
            session = found
        except Damaged as error:
            found = self._ask_about_damage(path, error)
            if found is None:
                return None
            session = found
        except HexapodError as error:
            _warn(error)
            return None
        session.who = str(QSettings().value("name") or "") or session.who
        try:
            window = Window(session, self.open)
            window.find_museum = self._find_museum
            window.give_hints()
        except BaseException:
            session.close()  # the file must not stay locked behind a window that nobody sees
            raise
        for closed in [w for w in self.windows if not w.isVisible()]:
            self.windows.remove(closed)
            closed.deleteLater()
        self.windows.append(window)
        QSettings().setValue("last", str(path.absolute()))
        remember(path)
        fit_to_screen(window)
        restore_window(window)
        window.show()
        QTimer.singleShot(0, window.start)
        return window

    def _ask_about_second_window(self, path: Path, error: WorkspaceInUse) -> Session | None:
        box = QMessageBox(QMessageBox.Icon.Question, "Hexapod", f"{shown(path.name)} is open already.")
        box.setTextFormat(Qt.TextFormat.PlainText)
        box.setInformativeText(f"By {error.holder}. Only one window can change a workspace at a time.")
        read = box.addButton("Open to read", QMessageBox.ButtonRole.AcceptRole)
        copy = box.addButton("Work on a copy", QMessageBox.ButtonRole.ActionRole)
        box.addButton(QMessageBox.StandardButton.Cancel)
        box.exec()
        try:
            if box.clickedButton() is read:
                return Session.open(path, read_only=True)
            if box.clickedButton() is copy:
                return Session.open(copy_of(path))
        except HexapodError as failure:
            _warn(failure)
        return None

    def _ask_about_damage(self, path: Path, error: Damaged) -> Session | None:
        box = QMessageBox(QMessageBox.Icon.Warning, "Hexapod", f"{shown(path.name)} is damaged.")
        box.setTextFormat(Qt.TextFormat.PlainText)
        what = error.what[:1].upper() + error.what[1:]
        box.setInformativeText(f"{what}. What is sound of it can be opened to read, and saved as a copy.")
        read = box.addButton("Open what is sound", QMessageBox.ButtonRole.AcceptRole)
        box.addButton(QMessageBox.StandardButton.Cancel)
        box.exec()
        if box.clickedButton() is not read:
            return None
        try:
            return Session.open(path, sound_only=True)
        except HexapodError as failure:
            _warn(failure)
        return None

    def on_bug(self, kind, value, trace) -> None:  # type: ignore[no-untyped-def]
        """A bug of ours: keep a report, say that nothing is lost, go on. A refusal that nobody has shown is shown."""
        if isinstance(value, HexapodError):
            for window in self.windows:
                window.desk.told.emit(str(value), "trouble", False)
            return
        sys.stderr.write("".join(traceback.format_exception(kind, value, trace)))
        where = write_report(kind, trace)
        sentence = "Something went wrong in Hexapod itself. Every edit is kept"
        sentence += f"; a report without anything of your plan is in {where}." if where else "."
        for window in self.windows:
            with contextlib.suppress(Exception):  # a broken window must not keep the others from being told
                window.desk.told.emit(sentence, "trouble", False)


def _warn(error: HexapodError) -> None:
    """Say it in a box of its own; names in it are no markup."""
    box = QMessageBox(QMessageBox.Icon.Warning, "Hexapod", str(error))
    box.setTextFormat(Qt.TextFormat.PlainText)
    box.exec()


def copy_of(path: Path) -> Path:
    """A copy of a workspace beside it, under a name that is free."""
    from hexapod.store.workspace import Workspace

    number = 1
    while (target := path.with_stem(f"{path.stem} copy {number}")).exists():
        number += 1
    source = Workspace.open(path, read_only=True)
    try:
        source.save_copy(target)
    finally:
        source.close()
    return target


def _workspace_of(document: Path) -> Path:
    """A new workspace beside a plan JSON document, with its plan. ``BadFile`` if there is one already."""
    from hexapod.formats.files import load, save

    path = document.with_suffix(".hexapod")
    if path.exists():
        raise BadFile(f"{document.name} was opened before: its workspace is {path.name}, beside it. Open that.")
    save(load(str(document)), str(path), getpass.getuser(), f"Read {document.name}")
    return path


def _desktop_theme() -> str:
    hints = QGuiApplication.styleHints()
    return "dark" if hints is not None and hints.colorScheme() == Qt.ColorScheme.Dark else "light"


def _first_workspace() -> Path:
    folder = Path(platformdirs.user_documents_dir())
    return (folder if folder.is_dir() else Path.home()) / "Projects.hexapod"
