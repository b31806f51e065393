"""Pictures of the main views, made from the demo without a monitor."""

from __future__ import annotations

import contextlib
import os
from collections.abc import Iterator
from functools import partial
from pathlib import Path

from hexapod.demo.shot_views import OF_MANY, VIEWS, wait_for
from hexapod.guide import pages
from hexapod.system.files import make_folder, replacing, scratch_folder

SIZE = (1280, 800)
PUT_OFF = 300  # milliseconds; what waits longer, such as a notice that goes, is not waited for
GUIDE_WIDTH = 760  # pixels
FOR_GUIDE_ONLY = ("milestones", "page", "requests", "money", "scenario", "lanes",
                  "legend", "seats", "ripple", "progress", "roles", "history", "guide", "import", "notes", "soundness",
                  "calendars", "reports", "proposal")  # fmt: skip
THE_DAY = "2026-10-12T09:00"  # of all pictures: the Monday after what was told
IN_THE_DARK = ("build",)


def take_shots(folder: Path, guide: Path | None = None) -> None:
    """Write a PNG of each main view of the demo at 1280x800, of some in the dark theme too.

    The pictures that the guide names go to the folder ``guide``, smaller.
    """
    os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")
    from PyQt6.QtCore import Qt

    from hexapod.demo.museum import build_demo
    from hexapod.desktop.app import make_application
    from hexapod.desktop.theme.style import apply_theme, theme_named
    from hexapod.desktop.window import Window
    from hexapod.session import Session

    make_folder(folder)
    for_guide = {Path(name).stem for page in pages() for name in page.pictures} if guide else set()
    app = make_application("light")
    with scratch_folder() as place, contextlib.ExitStack() as stack:
        path, large = place / "Alder Quay Museum.hexapod", place / "All projects" / "Alder Quay Museum.hexapod"
        make_folder(large.parent)
        build_demo(path)
        build_demo(large, many=True)
        stack.enter_context(_on_the_day())
        for theme, opened, views in (("light", path, VIEWS), ("dark", path, VIEWS), ("light", large, OF_MANY)):
            apply_theme(app, theme_named(theme))
            session = Session.open(opened)
            session.compute()
            window = Window(session, lambda *_: None)
            window.resize(*SIZE)
            window.show()
            window.desk.computed.emit()
            for name, prepare in views.items():
                if theme == "dark" and name not in IN_THE_DARK:
                    continue
                put_back = prepare(window)
                wait_for(partial(_is_at_rest, window))
                picture = window.grab().toImage()
                if name not in FOR_GUIDE_ONLY:
                    _keep(picture, folder / f"{name}-{theme}.png")
                if guide is not None and f"{name}-{theme}" in for_guide:
                    smooth = Qt.TransformationMode.SmoothTransformation
                    _keep(picture.scaledToWidth(GUIDE_WIDTH, smooth), guide / f"{name}-{theme}.png")
                if put_back is not None:
                    put_back()
            window.close()


@contextlib.contextmanager
def _on_the_day() -> Iterator[None]:
    """What is due and late is that of one day, whenever the pictures are made."""
    from hexapod.worktime import clock
    from hexapod.worktime.dates import parse_moment

    real, the_day = clock.now, parse_moment(THE_DAY)
    clock.now = lambda: the_day
    try:
        yield
    finally:
        clock.now = real


def _keep(picture, path: Path) -> None:  # type: ignore[no-untyped-def]
    with replacing(path) as part:
        picture.save(str(part), "PNG")


def _is_at_rest(window) -> bool:  # type: ignore[no-untyped-def]
    """Whether nothing is put off, and nothing is left to later frames."""
    from PyQt6.QtCore import QTimer
    from PyQt6.QtWidgets import QApplication

    from hexapod.desktop.theme.allowance import Allowance

    for _ in range(6):
        QApplication.processEvents()
    timers = window.findChildren(QTimer)
    if any(t.isActive() and t.isSingleShot() and t.interval() <= PUT_OFF for t in timers):
        return False
    window.grab()  # what is seen for the first time may take several frames
    return not any(a.is_due and a.view.isVisible() for a in window.findChildren(Allowance))
