"""Pictures of the main views, made from the demo without a monitor."""

from __future__ import annotations

import os
import tempfile
from collections.abc import Callable
from pathlib import Path

SIZE = (1280, 800)


def take_shots(folder: Path) -> None:
    """Write a PNG of each main view of the demo at 1280x800, in both themes."""
    os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")
    from PyQt6.QtWidgets import QApplication

    from hexapod.demo.museum import build_demo
    from hexapod.desktop.app import make_application
    from hexapod.desktop.theme.style import apply_theme, theme_named
    from hexapod.desktop.window import Window
    from hexapod.session import Session

    folder.mkdir(parents=True, exist_ok=True)
    app = make_application("light")
    with tempfile.TemporaryDirectory() as place:
        path = Path(place) / "Alder Quay Museum.hexapod"
        build_demo(path)
        for theme in ("light", "dark"):
            apply_theme(app, theme_named(theme))
            session = Session.open(path)
            session.compute()
            window = Window(session, lambda *_: None)
            window.resize(*SIZE)
            window.show()
            window.desk.computed.emit()
            for name, prepare in VIEWS.items():
                prepare(window)
                for _ in range(6):
                    QApplication.processEvents()
                window.grab().save(str(folder / f"{name}-{theme}.png"))
            window.close()


def _build(window) -> None:  # type: ignore[no-untyped-def]
    window.show_leg("build")
    found = [t.id for t in window.desk.plan.tasks.values() if t.name == "Case frames erected"]
    window.desk.go_to(found[0])
    technicians = next(r.id for r in window.desk.plan.resources_in_order() if r.initials == "CT")
    window.desk.look_at_resource(technicians)


def _proposal(window) -> None:  # type: ignore[no-untyped-def]
    from hexapod.staffing.levelling import level

    window.desk.show_proposal(level(window.desk.schedule, within_float=True))
    window.desk.go_to(next(t.id for t in window.desk.plan.tasks.values() if t.name == "Captions and signing added"))
    window.chart.show_task(next(t.id for t in window.desk.plan.tasks.values() if t.name == "Floor and lighting tracks"))


def _staff(window) -> None:  # type: ignore[no-untyped-def]
    window.show_leg("staff")


def _legend(window) -> None:  # type: ignore[no-untyped-def]
    window.desk.show_proposal(None)
    window.show_leg("build")
    window.side.show_page("legend")


VIEWS: dict[str, Callable[[object], None]] = {
    "build": _build,
    "proposal": _proposal,
    "staff": _staff,
    "legend": _legend,
}
