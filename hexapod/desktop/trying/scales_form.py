"""At the side: where the bands of the matrix begin, for this workspace."""

from __future__ import annotations

from collections.abc import Callable

from hexapod.desktop.forms import Form
from hexapod.desktop.models.desk import Desk
from hexapod.desktop.models.risks import USUAL_SCALES, Scales
from hexapod.desktop.parts import label
from hexapod.errors import BadText

BOUNDS = 4  # between five bands


class ScalesForm(Form):
    def __init__(self, desk: Desk, leave: Callable[[], None]) -> None:
        super().__init__(desk, "Scales of the matrix", leave)
        self.work = desk.risks

    def fill(self) -> None:
        scales = self.work.scales
        self.box.addWidget(label("Scales of the matrix", "title"))
        said = "Where the second to the fifth band begin, in this workspace."
        self.box.addWidget(label(said, "small", wrap=True))
        self._chances = self.line(_typed([100 * c for c in scales.chances]), "scaleChances", "5 20 50 80")
        self._days = self.line(_typed(scales.days), "scaleDays", "1 3 8 15")
        self.field("How likely, in %", self._chances)
        self.field("What it adds to a task, in days", self._days)
        self.buttons("Keep them")

    def save(self) -> None:
        """An empty line stands for the usual scale."""
        chances, days = self._chances.text().strip(), self._days.text().strip()
        found = [c / 100 for c in read_scale(chances, "How likely", 100)] if chances else USUAL_SCALES.chances
        self.work.set_scales(
            Scales(tuple(found), tuple(read_scale(days, "What it adds", 10_000)) if days else USUAL_SCALES.days)
        )


def read_scale(text: str, name: str, most: float) -> list[float]:
    """Four rising numbers. ``BadText`` for what is no such scale."""
    try:
        found = [float(part) for part in text.replace("%", " ").replace(";", " ").replace(",", ".").split()]
    except ValueError:
        raise BadText(f"“{name}” is four numbers, such as 5 20 50 80.") from None
    if len(found) != BOUNDS or found != sorted(set(found)) or not found[0] > 0 or not found[-1] < most:
        raise BadText(f"“{name}” is four numbers that rise, above nothing and below {most:g}.")
    return found


def _typed(values: object) -> str:
    return " ".join(f"{value:g}" for value in values)  # type: ignore[attr-defined]
