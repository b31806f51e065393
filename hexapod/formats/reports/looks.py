"""The colours of what leaves the program, as on its screens."""

from __future__ import annotations

from hexapod.reports.report import Tone

INK, MUTED, RULE, PAPER, PANEL = "#1E2B31", "#566268", "#E4E0D6", "#F7F5F0", "#FFFFFF"
PETROL, FRAME, AMBER, BRICK, LOAD = "#0E5A63", "#24333A", "#8F5C00", "#A8432A", "#8FB3B8"
HONEY = "#F0B04A"  # the mark on dark ground
SERIES = ("#0E5A63", "#C77D18", "#468B5E", "#945BA7", "#70BBCD", "#77292B", "#1C3E63", "#8FB3B8")
TONES = {Tone.PLAIN: INK, Tone.ATTENTION: AMBER, Tone.TROUBLE: BRICK}
FONT = "Inter"


def series_color(place: int, of: int) -> str:
    """One series alone is in the pale colour of load; several are told apart."""
    return LOAD if of == 1 else SERIES[place % len(SERIES)]
