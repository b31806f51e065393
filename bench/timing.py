"""Medians and percentiles of repeated calls."""

from __future__ import annotations

import statistics
import time
from collections.abc import Callable

Row = tuple[str, str, str, str]


def median_ms(work: Callable[[], object], times: int = 7) -> float:
    """The median of several calls after one that does not count, in milliseconds."""
    work()
    return statistics.median(timed_ms(work) for _ in range(times))


def least_side_by_side(*works: Callable[[], object], times: int = 12) -> list[float]:
    """The least of several calls of each, taken in turn, so that a slow moment of the machine meets all alike."""
    found = [[timed_ms(work) for work in works] for _ in range(times)]
    return [min(column) for column in zip(*found, strict=True)]


def timed_ms(work: Callable[[], object]) -> float:
    began = time.perf_counter()
    work()
    return (time.perf_counter() - began) * 1000


def percentile(values: list[float], share: float) -> float:
    return sorted(values)[min(len(values) - 1, int(share * len(values)))]


def row(what: str, ours: float, reference: float, name: str, unit: str = "ms") -> Row:
    return what, f"{ours:.1f} {unit}", f"{name} {reference:.1f} {unit}", f"{ours / reference:.2f}"


def aimed(what: str, ours: float, aim: float, unit: str = "ms") -> Row:
    return what, f"{ours:.1f} {unit}", f"aim {aim:g} {unit}", f"{ours / aim:.2f}"
