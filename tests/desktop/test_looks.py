"""What can be proved of the looks without a screen: contrast, colours, the geometry of the chart."""

from __future__ import annotations

import itertools
import random
import unittest

import numpy as np

from hexapod.desktop.chart import geometry
from hexapod.desktop.chart.timescale import CLOSEST, WIDEST, TimeScale, marks
from hexapod.desktop.theme.palette import DARK, LIGHT, Palette
from hexapod.plan.records import DAY
from hexapod.schedule.schedule import TaskDates
from tests.support import MONDAY


def linear(colour: str) -> np.ndarray:
    """sRGB hex as linear light (IEC 61966-2-1)."""
    channels = np.array([int(colour[i : i + 2], 16) / 255 for i in (1, 3, 5)])
    return np.where(channels <= 0.04045, channels / 12.92, ((channels + 0.055) / 1.055) ** 2.4)


def contrast(a: str, b: str) -> float:
    """WCAG 2.2 contrast ratio."""
    light, dark = sorted((float(linear(c) @ (0.2126, 0.7152, 0.0722)) for c in (a, b)), reverse=True)
    return (light + 0.05) / (dark + 0.05)


# Machado, Oliveira and Fernandes, "A physiologically-based model for simulation of color vision
# deficiency" (2009), severity 1.0 (from memory).
DEFICIENCIES = {
    "protanopia": [[0.152286, 1.052583, -0.204868], [0.114503, 0.786281, 0.099216], [-0.003882, -0.048116, 1.051998]],
    "deuteranopia": [[0.367322, 0.860646, -0.227968], [0.280085, 0.672501, 0.047413], [-0.011820, 0.042940, 0.968881]],
    "tritanopia": [[1.255528, -0.076749, -0.178779], [-0.078411, 0.930809, 0.147602], [0.004733, 0.691367, 0.303900]],
    "none": np.eye(3).tolist(),
}


def lab(light: np.ndarray) -> np.ndarray:
    """CIE L*a*b* (1976) of linear sRGB, white D65."""
    matrix = np.array([[0.4124, 0.3576, 0.1805], [0.2126, 0.7152, 0.0722], [0.0193, 0.1192, 0.9505]])
    xyz = matrix @ np.clip(light, 0, 1) / (0.9505, 1.0, 1.089)
    f = np.where(xyz > 0.008856, np.cbrt(xyz), 7.787 * xyz + 16 / 116)
    return np.array([116 * f[1] - 16, 500 * (f[0] - f[1]), 200 * (f[1] - f[2])])


class Colours(unittest.TestCase):
    PAIRS = (
        ("ink", "panel"), ("ink", "paper"), ("ink", "raised"), ("ink", "selection"), ("ink", "shade"),
        ("muted", "panel"), ("muted", "raised"), ("muted", "selection"), ("faint", "panel"), ("faint", "raised"),
        ("petrol", "panel"), ("petrol", "selection"), ("on_petrol", "petrol"), ("amber", "panel"),
        ("amber", "raised"), ("amber", "selection"), ("brick", "panel"), ("brick", "raised"), ("brick", "selection"),
        ("on_frame", "frame"), ("on_frame_muted", "frame"), ("on_frame", "frame_field"), ("frame_amber", "frame"),
    )  # fmt: skip

    def test_text_has_a_contrast_of_4_5_in_both_themes(self) -> None:
        for palette in (LIGHT, DARK):
            for text, ground in self.PAIRS:
                found = contrast(getattr(palette, text), getattr(palette, ground))
                self.assertGreaterEqual(round(found, 2), 4.5, f"{palette.name}: {text} on {ground}")

    def test_streams_are_told_apart_under_every_deficiency(self) -> None:
        for palette in (LIGHT, DARK):
            for name, matrix in DEFICIENCIES.items():
                seen = [lab(np.array(matrix) @ linear(c)) for c in palette.streams]
                for (i, a), (j, b) in itertools.combinations(enumerate(seen), 2):
                    apart = float(np.linalg.norm(a - b))
                    self.assertGreaterEqual(apart, 18.0, f"{palette.name}, {name}: {i} and {j}")

    def test_both_palettes_fill_every_role(self) -> None:
        for palette in (LIGHT, DARK):
            self.assertIsInstance(palette, Palette)
            self.assertEqual(len(palette.streams), len(LIGHT.streams))


def dates(start: int, finish: int) -> TaskDates:
    return TaskDates(start, finish, start, finish, start, finish, 0, 0, False, False, finish - start)


class ChartGeometry(unittest.TestCase):
    def scales(self) -> list[TimeScale]:
        rng = random.Random(71)
        return [TimeScale(MONDAY + rng.randrange(-(10**6), 10**6), p) for p in (0.05, 0.5, 3.0, 20.0, 200.0, 900.0)]

    def test_a_bars_ends_are_its_dates_under_every_zoom(self) -> None:
        for scale in self.scales():
            start, finish = MONDAY, MONDAY + 3000 * DAY
            bar = geometry.bar_rect(scale, dates(start, finish), 0)
            self.assertAlmostEqual(bar.left(), scale.x(start))
            self.assertAlmostEqual(bar.right(), scale.x(finish))
            error = DAY / scale.pixels / 2 + 1
            self.assertLessEqual(abs(scale.minute(scale.x(start)) - start), error)

    def test_zooming_keeps_the_moment_under_the_pointer_and_ends_at_the_limits(self) -> None:
        for scale in self.scales():
            for factor in (0.5, 1.3, 4.0):
                zoomed = scale.zoomed(factor, 333.0)
                self.assertLessEqual(abs(zoomed.x(scale.minute(333.0)) - 333.0), 1.0)
                self.assertTrue(WIDEST <= zoomed.pixels <= CLOSEST)

    def test_marks_cover_the_axis_without_gap_or_overlap(self) -> None:
        for scale in self.scales():
            for line in marks(scale, 800):
                self.assertLessEqual(scale.x(line[0].minute), 0.5)
                self.assertGreaterEqual(scale.x(line[-1].end), 799)
                self.assertTrue(all(a.end == b.minute for a, b in itertools.pairwise(line)))

    def test_weeks_begin_on_iso_mondays(self) -> None:
        _, weeks = marks(TimeScale(MONDAY, 5.3), 600)
        self.assertTrue(all((mark.minute // DAY + 3) % 7 == 0 for mark in weeks))
