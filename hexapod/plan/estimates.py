"""Estimates: how long a task may take at best, most likely and at worst, in working minutes.

Source: Malcolm, Roseboom, Clark and Fazar, "Application of a technique for research and development program
evaluation" (1959).
"""

from __future__ import annotations

from enum import StrEnum
from typing import NamedTuple

Estimate = tuple[int, ...]  # best and worst; or best, likely and worst


class Shape(StrEnum):
    """How likely each length between best and worst is: most near the likely one, falling in straight lines, or all
    alike."""

    PERT = "pert"
    TRIANGULAR = "triangular"
    UNIFORM = "uniform"


class Points(NamedTuple):
    best: int
    likely: int
    worst: int

    @property
    def mean_of_beta(self) -> float:
        """The mean of the beta distribution that belongs to the three: (b + 4 m + w) / 6."""
        return (self.best + 4 * self.likely + self.worst) / 6

    def lessened(self, part: float) -> Points:
        """The range of the part of a length that is left."""
        best, likely, worst = (round(part * each) for each in self)
        return Points(best, likely, worst)


def points_of(estimate: Estimate, duration: int) -> Points:
    """The three lengths of an estimate. Of two alone the likely one is the duration if it lies between them, else a
    third of the way from best to worst."""
    if len(estimate) == 3:
        return Points(*estimate)
    best, worst = estimate
    return Points(best, duration if best <= duration <= worst else a_third_of_the_way(best, worst), worst)


def scaled(estimate: Estimate, part: float) -> Estimate:
    """The estimate of a part of the work."""
    return tuple(max(1, round(part * minutes)) for minutes in estimate)


def a_third_of_the_way(best: int, worst: int) -> int:
    return best + (worst - best) // 3


def estimate_trouble(estimate: Estimate, longest: int) -> str | None:
    """What is wrong with an estimate, without its subject: “must be …”."""
    if len(estimate) not in (2, 3):
        return "needs a best and a worst length, with or without a likely one between them"
    if min(estimate) < 1 or max(estimate) > longest:
        return "must have lengths from a minute to a hundred years"
    if list(estimate) != sorted(estimate):
        return "must go from the best to the worst length"
    return None
