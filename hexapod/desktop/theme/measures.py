"""Heights that views side by side share, in pixels, and how close their rows are."""

from __future__ import annotations

HEADER_HEIGHT = 42
DENSITIES = {"roomy": 27, "close": 22}
TALLEST_ROW = max(DENSITIES.values())
_density = "roomy"


def row_height() -> int:
    """The height of a row of the outline and the chart."""
    return DENSITIES[_density]


def density() -> str:
    return _density


def apply_density(name: str) -> None:
    """Rows as close as this from now on; an unknown name is the usual one."""
    global _density
    _density = name if name in DENSITIES else "roomy"


def lift() -> int:
    """How much higher than in a roomy row the bar of a row lies."""
    return (TALLEST_ROW - row_height()) // 2
