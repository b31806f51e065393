"""Which views of a window go onto paper, and as what."""

from __future__ import annotations

from hexapod.desktop.host import Host
from hexapod.desktop.paper.drawing import Drawing
from hexapod.desktop.printing.drawings import ChartDrawing, MapDrawing, MonthDrawing, NetworkDrawing
from hexapod.desktop.printing.picture_drawing import PictureDrawing

IN_TRACK, IN_TRY = ("money", "drift", "value"), ("scenarios", "range")


def drawing_of(window: Host, what: str, columns: tuple[str, ...]) -> Drawing:
    """A view as a whole; the chart with some columns of the outline."""
    if what in IN_TRACK or what in IN_TRY:
        view = window.track[what] if what in IN_TRACK else window.trying[what]
        view.refresh()
        return PictureDrawing(window.desk, what, view.picture, view.sentence)
    if what == "network":
        window.link.lay_out_now()
        return NetworkDrawing(window.desk, window.link.diagram)
    if what == "map":
        return MapDrawing(window.desk, window.link.map.canvas)
    if what == "month":
        window.month.canvas.refresh()
        return MonthDrawing(window.desk, window.month.canvas)
    return ChartDrawing(window.desk, window.chart, columns)


def shown_in(window: Host) -> str:
    """The view that is on show, if it can be printed; else the chart."""
    if window.shows("track") and window.track.part in IN_TRACK:
        return window.track.part
    if window.shows("trying") and window.trying.part in IN_TRY:
        return window.trying.part
    if window.shows("link"):
        return "map" if window.link.shows_map else "network"
    return "month" if window.shows("month") else "chart"
