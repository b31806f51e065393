"""Random lengths: the same for the same seed, whichever thread draws them, and whatever else is drawn beside them.

Every number belongs to a key, of the seed and what is drawn, and to a round: it is a hash of both (SplitMix64; Steele,
Lea and Flood, "Fast splittable pseudorandom number generators", 2014), made normal by the transform of Box and Muller
(1958). A normal number is turned into a length by the inverse of its distribution. So lengths that move together are
drawn from normal numbers that do, whose rank correlation is 6/π · arcsin(r/2) for a correlation r (Pearson 1907).
"""

from __future__ import annotations

import hashlib
import math
from collections.abc import Iterable
from functools import cache
from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from hexapod.plan.estimates import Points, Shape
from hexapod.system.compiler import njit
from hexapod.worktime.calendars import Ints

Floats = NDArray[np.float64]
Keys = NDArray[np.uint64]

SHAPES = {Shape.PERT: 0, Shape.TRIANGULAR: 1, Shape.UNIFORM: 2}
PERT, TRIANGULAR, UNIFORM = range(3)
REACH, FINE = 8.0, 64  # normal numbers from -8 to 8, so many steps to one
LEANS = 129  # rows of the table of beta distributions: where the likely length lies between best and worst
_GOLDEN, _FIRST, _SECOND = np.uint64(0x9E3779B97F4A7C15), np.uint64(0xBF58476D1CE4E5B9), np.uint64(0x94D049BB133111EB)


class Lengths(NamedTuple):
    """What is drawn: a row a length that may be one or another. ``best`` and ``width`` are minutes, ``likely`` is where
    the likely length lies between best and worst, 0 to 1; ``together`` is the row of the key of a stream, or -1,
    ``pull`` how far it goes with that."""

    key: Keys
    best: Ints
    width: Ints
    likely: Floats
    shape: Ints
    together: Ints
    pull: Floats


class Table(NamedTuple):
    """Of normal numbers, by steps: the part of the normal distribution below, and the value of each beta distribution
    with that part below it."""

    below: Floats
    betas: Floats  # (LEANS, steps)


def lengths_of(rows: Iterable[tuple[str, Points, Shape, int, float]], seed: int) -> Lengths:
    """Of names, ranges, shapes, streams (as rows of their keys, or -1) and pulls; see ``Lengths``."""
    found = list(rows)
    best, likely, worst = (np.array([points[i] for _, points, *_ in found], dtype=np.int64) for i in range(3))
    width = worst - best
    return Lengths(
        np.array([key_of(seed, name) for name, *_ in found], dtype=np.uint64),
        best,
        width,
        np.where(width > 0, (likely - best) / np.maximum(width, 1), 0.0),
        np.array([SHAPES[shape] for _, _, shape, _, _ in found], dtype=np.int64),
        np.array([stream for *_, stream, _ in found], dtype=np.int64),
        np.array([pull for *_, pull in found], dtype=np.float64),
    )


def key_of(seed: int, *names: str) -> int:
    """The key of something that is drawn."""
    text = "\0".join((str(seed), *names)).encode()
    return int.from_bytes(hashlib.blake2b(text, digest_size=8).digest(), "little")


def pull_of(rank_correlation: float) -> float:
    """The correlation of normal numbers whose ranks have this one."""
    return 2 * math.sin(math.pi * rank_correlation / 6)


@cache
def table() -> Table:
    """The distributions that all lengths are drawn by, worked out once."""
    from scipy.special import betaincinv, ndtr  # type: ignore[import-untyped]

    z = np.linspace(-REACH, REACH, int(2 * REACH * FINE) + 1)
    lower = z <= 0
    tail = ndtr(-np.abs(z))  # of both tails the small part, which keeps its digits
    betas = np.empty((LEANS, len(z)))
    for i, lean in enumerate(np.linspace(0, 1, LEANS)):
        a, b = 1 + 4 * lean, 5 - 4 * lean
        betas[i] = np.where(lower, betaincinv(a, b, tail), 1 - betaincinv(b, a, tail))
    return Table(ndtr(z), betas)


@njit(cache=True, nogil=True)
def hashed(key: np.uint64, count: int) -> np.uint64:
    """A number of a key, all of whose bits look random."""
    x = key + np.uint64(count + 1) * _GOLDEN
    x = (x ^ (x >> np.uint64(30))) * _FIRST
    x = (x ^ (x >> np.uint64(27))) * _SECOND
    return x ^ (x >> np.uint64(31))


@njit(cache=True, nogil=True)
def uniform(key: np.uint64, count: int) -> float:
    """Of a key and a round: between 0 and 1, and neither of them."""
    return (float(hashed(key, count) >> np.uint64(11)) + 0.5) * 2.0**-53


@njit(cache=True, nogil=True)
def draw_normals(key: np.uint64, first: int, found: Floats) -> None:
    """Normal numbers of a key, from an even round on."""
    for i in range(0, len(found), 2):
        far = np.sqrt(-2.0 * np.log(uniform(key, first + i)))
        turn = 2.0 * np.pi * uniform(key, first + i + 1)
        found[i] = far * np.cos(turn)
        if i + 1 < len(found):
            found[i + 1] = far * np.sin(turn)


@njit(cache=True, nogil=True)
def part_between(table: Table, shape: int, likely: float, z: float) -> float:
    """Where between best and worst a length lies, 0 to 1, that has the part below it that a normal number has."""
    at = (min(max(z, -REACH), REACH) + REACH) * FINE
    k = min(int(at), len(table.below) - 2)
    on = at - k
    if shape == PERT:
        lean = likely * (LEANS - 1)
        i = min(int(lean), LEANS - 2)
        across = lean - i
        lower = table.betas[i, k] + on * (table.betas[i, k + 1] - table.betas[i, k])
        upper = table.betas[i + 1, k] + on * (table.betas[i + 1, k + 1] - table.betas[i + 1, k])
        return lower + across * (upper - lower)
    u = table.below[k] + on * (table.below[k + 1] - table.below[k])
    if shape == UNIFORM:
        return u
    if u < likely:
        return np.sqrt(u * likely)
    return 1.0 - np.sqrt((1.0 - u) * (1.0 - likely))


@njit(cache=True, nogil=True)
def draw_length(
    lengths: Lengths, table: Table, row: int, first: int, common: Floats, normals: Floats, found: Ints
) -> None:
    """One length in several rounds from an even one on. ``common`` are the normal numbers of each stream in them."""
    best, width = lengths.best[row], lengths.width[row]
    if width == 0:
        found[:] = best
        return
    draw_normals(lengths.key[row], first, normals)
    stream, pull = lengths.together[row], lengths.pull[row]
    shape, likely = lengths.shape[row], lengths.likely[row]
    along, across = np.sqrt(pull), np.sqrt(1.0 - pull)
    for i in range(len(found)):
        z = normals[i]
        if stream >= 0:
            z = along * common[stream, i] + across * z
        found[i] = best + int(np.floor(width * part_between(table, shape, likely, z) + 0.5))
