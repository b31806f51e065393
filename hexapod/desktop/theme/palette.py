"""Colours by the role they play. Both themes have the same roles; contrast is tested with numbers."""

from __future__ import annotations

from dataclasses import dataclass


@dataclass(frozen=True)
class Palette:
    name: str
    paper: str  # behind panels
    panel: str
    raised: str  # cards, headings
    shade: str  # time in which nobody works
    rule: str  # hairlines
    ink: str
    muted: str  # second text
    faint: str  # hints
    petrol: str  # what can be pressed and what is selected
    on_petrol: str
    selection: str
    amber: str  # attention
    brick: str  # trouble
    frame: str  # top bar and rail
    on_frame: str
    on_frame_muted: str
    frame_field: str
    frame_amber: str
    load: str  # load within capacity
    link: str
    streams: tuple[str, ...]


# The stream colours are told apart under deuteranopia, protanopia and tritanopia by lightness as well as
# by hue; tests/desktop/test_palette.py measures it.
LIGHT = Palette(
    name="light",
    paper="#F7F5F0",
    panel="#FFFFFF",
    raised="#FCFBF7",
    shade="#F0EDE4",
    rule="#E4E0D6",
    ink="#1E2B31",
    muted="#566268",
    faint="#687174",
    petrol="#0E5A63",
    on_petrol="#FFFFFF",
    selection="#DFEDEC",
    amber="#8F5C00",
    brick="#A8432A",
    frame="#24333A",
    on_frame="#FFFFFF",
    on_frame_muted="#AEBBC0",
    frame_field="#374850",
    frame_amber="#F0B04A",
    load="#8FB3B8",
    link="#8C979B",
    streams=("#1C3E63", "#468B5E", "#C77D18", "#945BA7", "#70BBCD", "#77292B"),
)

DARK = Palette(
    name="dark",
    paper="#161D20",
    panel="#1C2529",
    raised="#222C31",
    shade="#192125",
    rule="#323E44",
    ink="#E9EDED",
    muted="#A9B5B9",
    faint="#8E9BA0",
    petrol="#5FB9C2",
    on_petrol="#0B2427",
    selection="#1F4046",
    amber="#E5A83B",
    brick="#EE8A6E",
    frame="#11181B",
    on_frame="#F4F6F6",
    on_frame_muted="#9FADB2",
    frame_field="#27343A",
    frame_amber="#F0B04A",
    load="#4D7F86",
    link="#76848A",
    streams=("#848EC8", "#9ACCA3", "#E3A24A", "#8D4BC3", "#8CE4E0", "#C85F5D"),
)
