"""The workspaces that were opened lately, and how each window was left. Kept in the user's settings and the file."""

from __future__ import annotations

from pathlib import Path
from typing import TYPE_CHECKING, Any

from PyQt6.QtCore import QByteArray, QSettings

from hexapod.desktop.chart.timescale import TimeScale
from hexapod.worktime.spans import in_range

if TYPE_CHECKING:
    from hexapod.desktop.window import Window

MOST = 10


def recent_files() -> list[Path]:
    """The latest first; those that are gone are left out."""
    kept = QSettings().value("recent") or []
    paths = [Path(str(p)) for p in ([kept] if isinstance(kept, str) else kept)]
    return [p for p in paths if p.is_file()]


def remember(path: Path) -> None:
    """A workspace was opened."""
    here = path.absolute()
    others = [p for p in recent_files() if p != here]
    QSettings().setValue("recent", [str(p) for p in [here, *others][:MOST]])


def keep_window(window: Window) -> None:
    """How a window is left: its size, the leg, the zoom and where the rows are scrolled to."""
    chart, desk = window.chart, window.desk
    desk.session.workspace.set_state("window", {
        "geometry": bytes(window.saveGeometry().toBase64().data()).decode(),
        "split": window.build.splitter.sizes(),
        "leg": window.leg,
        "origin": chart.scale.origin,
        "pixels": chart.scale.pixels,
        "row": window.grid.verticalScrollBar().value(),
        "current": desk.current,
    })  # fmt: skip


def restore_window(window: Window) -> None:
    """As it was left. What does not fit any more is passed over."""
    kept = window.desk.session.workspace.remembered("window", dict[str, Any], {})
    try:
        window.restoreGeometry(QByteArray.fromBase64(str(kept["geometry"]).encode()))
        window.build.splitter.setSizes([int(size) for size in kept["split"]])
        if kept["leg"] in ("build", "link", "staff"):
            window.show_leg(kept["leg"])
        if kept["current"] in window.desk.plan.tasks and kept["current"] in window.desk.position:
            window.desk.select((kept["current"],), kept["current"])
        origin = int(kept["origin"])
        if in_range(origin):
            window.chart.show_scale(TimeScale(origin, float(kept["pixels"])).zoomed(1.0, 0))
        window.grid.verticalScrollBar().setValue(int(kept["row"]))
    except (KeyError, TypeError, ValueError, OverflowError):
        return
