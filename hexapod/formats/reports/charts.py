"""A chart as an SVG picture: bars, stacked bars, lines. Its letters are text; colours may be names of a style sheet."""

from __future__ import annotations

import math
from collections.abc import Callable
from html import escape

from hexapod.formats.reports.looks import FONT, INK, MUTED, RULE, series_color
from hexapod.reports.report import Chart, ChartKind

WIDTH, HEIGHT = 720, 230
LEFT, TOP, BOTTOM, LEGEND = 52, 12, 34, 22
MOST_LETTERS = 18
LETTER = 6.2  # pixels of one at this size, about
Color = Callable[[str], str]


def as_named(color: str) -> str:
    """Colours as they are."""
    return color


def chart_svg(chart: Chart, color: Color = as_named, face: str = FONT) -> str:
    """The picture; ``color`` puts another colour in the place of ink, second text and rules, as a dark page needs, and
    ``face`` is the family of its letters."""
    top, count = _scale(chart)
    floor, right = HEIGHT - BOTTOM - (LEGEND if len(chart.series) > 1 else 0), WIDTH - 8
    high, wide = floor - TOP, right - LEFT
    parts = [_axis(top, floor, high, right, chart.unit, color)]
    step = wide / max(1, count)
    if chart.kind is ChartKind.LINES:
        parts += _lines(chart, top, floor, high, step)
    else:
        parts += _bars(chart, top, floor, high, step, color)
    parts += _categories(chart, floor, step, color)
    if len(chart.series) > 1:
        parts += _legend(chart, color)
    return (
        f"<svg xmlns='http://www.w3.org/2000/svg' viewBox='0 0 {WIDTH} {HEIGHT}' width='{WIDTH}' height='{HEIGHT}' "
        f"font-family='{face}' font-size='11' role='img'><title>{escape(chart.title)}</title>"
        f"{''.join(parts)}</svg>"
    )


def _scale(chart: Chart) -> tuple[float, int]:
    """The round number that the axis ends at, and how many places there are along it."""
    count = len(chart.categories)
    if chart.kind is ChartKind.STACKED:
        most = max((sum(s.values[i] or 0 for s in chart.series) for i in range(count)), default=0)
    else:
        most = max((v or 0 for s in chart.series for v in s.values), default=0)
    return nice_above(most), count


def nice_above(most: float) -> float:
    """The least of 1, 2, 2.5 and 5 times a power of ten that is at least so much."""
    if most <= 0:
        return 1.0
    power = 10.0 ** math.floor(math.log10(most))
    return next(power * step for step in (1, 2, 2.5, 5, 10) if power * step >= most * (1 - 1e-9))


def _axis(top: float, floor: float, high: float, right: float, unit: str, color: Color) -> str:
    found = []
    for i in range(5):
        value, y = top * i / 4, floor - high * i / 4
        found.append(f"<line x1='{LEFT}' y1='{y:.1f}' x2='{right}' y2='{y:.1f}' stroke='{color(RULE)}'/>")
        if i % 2 == 0:
            text = f"{value:,.1f}".removesuffix(".0") + (f" {unit}" if i == 4 and len(unit) < 3 and unit else "")
            found.append(
                f"<text x='{LEFT - 6}' y='{y + 4:.1f}' text-anchor='end' fill='{color(MUTED)}'>{escape(text)}</text>"
            )
    return "".join(found)


def _bars(chart: Chart, top: float, floor: float, high: float, step: float, color: Color) -> list[str]:
    found, stacked, several = [], chart.kind is ChartKind.STACKED, len(chart.series)
    room = step * 0.66
    for i in range(len(chart.categories)):
        left, y = LEFT + step * (i + 0.5) - room / 2, floor
        width = room if stacked else room / several
        for j, series in enumerate(chart.series):
            value = series.values[i] or 0
            size = max(0.0, high * value / top)
            x = left if stacked else left + width * j
            base = y if stacked else floor
            if size > 0:
                found.append(
                    f"<rect x='{x:.1f}' y='{base - size:.1f}' width='{width:.1f}' height='{size:.1f}' "
                    f"fill='{series_color(j, several)}'/>"
                )
            if stacked:
                y -= size
            elif several == 1:
                found.append(
                    f"<text x='{x + width / 2:.1f}' y='{base - size - 3:.1f}' text-anchor='middle' "
                    f"fill='{color(INK)}'>{value:,.0f}</text>"
                )
    return found


def _lines(chart: Chart, top: float, floor: float, high: float, step: float) -> list[str]:
    found = []
    for j, series in enumerate(chart.series):
        points = [
            f"{LEFT + step * (i + 0.5):.1f},{floor - high * v / top:.1f}"
            for i, v in enumerate(series.values) if v is not None
        ]  # fmt: skip
        stroke = series_color(j, max(2, len(chart.series)))
        found.append(f"<polyline points='{' '.join(points)}' fill='none' stroke='{stroke}' stroke-width='2'/>")
    return found


def _categories(chart: Chart, floor: float, step: float, color: Color) -> list[str]:
    """Their names, as many as there is room for."""
    names = [_short(name, max(4, int(step / LETTER))) for name in chart.categories]
    longest = max(map(len, names), default=1) * LETTER + 8
    every = max(1, math.ceil(longest / step))
    return [
        f"<text x='{LEFT + step * (i + 0.5):.1f}' y='{floor + 16:.1f}' text-anchor='middle' "
        f"fill='{color(MUTED)}'>{escape(name)}</text>"
        for i, name in enumerate(names) if i % every == 0
    ]  # fmt: skip


def _legend(chart: Chart, color: Color) -> list[str]:
    found, x, y = [], float(LEFT), HEIGHT - 10
    for j, series in enumerate(chart.series):
        name = _short(series.name, MOST_LETTERS)
        found.append(
            f"<rect x='{x:.1f}' y='{y - 9}' width='10' height='10' fill='{series_color(j, len(chart.series))}'/>"
        )
        found.append(f"<text x='{x + 15:.1f}' y='{y}' fill='{color(INK)}'>{escape(name)}</text>")
        x += 15 + LETTER * len(name) + 18
    return found


def _short(name: str, most: int) -> str:
    most = max(most, 4)
    return name if len(name) <= most else name[: most - 1] + "…"
