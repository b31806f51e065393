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


def _of_screen(window: Host) -> str:
    """The name under which a window is kept: a screen of another size has places and sizes of its own."""
    screen = window.screen()
    size = screen.size() if screen is not None else QSize()
    return f"window {size.width()}x{size.height()}"


def keep_window(window: Host) -> None:
    """How a window is left: its size on this screen, the leg, the zoom and where the rows are scrolled to."""
    chart, desk = window.chart, window.desk
    desk.memory.keep(
        _of_screen(window),
        {
            "geometry": bytes(window.saveGeometry().toBase64().data()).decode(),
            "split": window.build.split_by_hand,
        },
    )
    desk.memory.keep("window", {
        "leg": window.leg,
        "origin": chart.scale.origin,
        "pixels": chart.scale.pixels,
        "row": window.grid.verticalScrollBar().value(),
        "current": desk.current,
    })  # fmt: skip


def restore_window(window: Host) -> None:
    """As it was left. What does not fit any more is passed over."""
    placed = window.desk.memory.recall(_of_screen(window), dict[str, Any], {})
    kept = window.desk.memory.recall("window", dict[str, Any], {})
    try:
        if "geometry" in placed:
            window.restoreGeometry(QByteArray.fromBase64(str(placed["geometry"]).encode()))
        if placed.get("split"):
            window.build.split([int(size) for size in placed["split"]])
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
