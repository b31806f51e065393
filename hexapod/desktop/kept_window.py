"""How a window is placed: on a screen of any size, and as it was left."""

from __future__ import annotations

from typing import TYPE_CHECKING, Any

from PyQt6.QtCore import QByteArray, QSize
from PyQt6.QtWidgets import QWidget

from hexapod.desktop.chart.timescale import TimeScale
from hexapod.worktime.spans import in_range

if TYPE_CHECKING:
    from hexapod.desktop.host import Host


FRAME = QSize(16, 48)  # what a window manager puts around a window


def fit_to_screen(window: QWidget) -> None:
    """No larger than what the screen has room for, its frame included."""
    screen = window.screen()
    if screen is not None:
        window.resize(window.size().boundedTo(screen.availableGeometry().size() - FRAME))


def keep_window(window: Host) -> None:
    """How a window is left: its size, the leg, the zoom and where the rows are scrolled to."""
    chart, desk = window.chart, window.desk
    desk.memory.keep("window", {
        "geometry": bytes(window.saveGeometry().toBase64().data()).decode(),
        "split": window.build.splitter.sizes(),
        "leg": window.leg,
        "origin": chart.scale.origin,
        "pixels": chart.scale.pixels,
        "row": window.grid.verticalScrollBar().value(),
        "current": desk.current,
    })  # fmt: skip


def restore_window(window: Host) -> None:
    """As it was left. What does not fit any more is passed over."""
    kept = window.desk.memory.recall("window", dict[str, Any], {})
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
