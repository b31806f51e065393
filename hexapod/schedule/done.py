"""How much is done, of leaves and of what they add up to."""

from __future__ import annotations

import numpy as np
from numba import njit
from numpy.typing import NDArray

from hexapod.worktime.calendars import Ints

MILESTONE = 1e-6  # minutes that a milestone weighs: nothing, unless there is nothing else


@njit(cache=True, nogil=True)
def gathered_percents(
    bottom_up: Ints, parent: Ints, leaf: Ints, duration: Ints, hundredths: Ints
) -> NDArray[np.float64]:
    """Per cent by slot: of a leaf as entered, of a summary weighted by the durations of the leaves below it."""
    found = hundredths / 100.0
    weight = np.where(leaf == 1, duration + MILESTONE, 0.0)
    done = weight * found
    for j in bottom_up:
        if not leaf[j] and weight[j] > 0:
            found[j] = min(100.0, done[j] / weight[j])
        p = parent[j]
        if p >= 0:
            weight[p] += weight[j]
            done[p] += done[j]
    return found
