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
    faint="#6E777A",
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
    streams=("#24507F", "#3F8F5B", "#C77D18", "#8E5AA8", "#5BA3C4", "#7A3B2E"),
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
    streams=("#6E9BD0", "#5FB57C", "#E3A24A", "#B98AD0", "#9AD3EA", "#C98270"),
)
