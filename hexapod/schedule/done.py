"""How much is done, of leaves and of what they add up to."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from hexapod.system.compiler import njit
from hexapod.worktime.calendars import Ints

MILESTONE = 1e-6  # minutes that a milestone weighs: nothing, unless there is nothing else


@njit(cache=True, nogil=True)
def gathered_percents(
    bottom_up: Ints, parent: Ints, leaf: Ints, duration: Ints, effort: Ints, millionths: Ints
) -> NDArray[np.float64]:
    """Per cent by slot: of a leaf as entered, of a summary weighted by the durations of the leaves below it, or by
    their efforts where each that has a duration has one."""
    found = millionths / 1_000_000.0
    weight = np.where(leaf == 1, duration + MILESTONE, 0.0)
    work = np.where(leaf == 1, effort + MILESTONE, 0.0)
    done, worked = weight * found, work * found
    lacks = leaf * (duration > 0) * (effort == 0)
    for j in bottom_up:
        if not leaf[j] and weight[j] > 0:
            found[j] = min(100.0, done[j] / weight[j] if lacks[j] else worked[j] / work[j])
        p = parent[j]
        if p >= 0:
            weight[p] += weight[j]
            done[p] += done[j]
            work[p] += work[j]
            worked[p] += worked[j]
            lacks[p] = max(lacks[p], lacks[j])
    return found
