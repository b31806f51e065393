"""Arrays that kernels fill: more room in them, and copying into them.

Both go entry by entry: where one slice is put into another, numba also compiles the text of an error, for seconds.
"""

from __future__ import annotations

import numpy as np

from hexapod.system.compiler import njit
from hexapod.worktime.calendars import Ints


@njit(cache=True, nogil=True)
def widened(rows: Ints) -> Ints:
    """The same rows with twice as many columns, the new ones 0."""
    found = np.zeros((rows.shape[0], 2 * rows.shape[1]), dtype=np.int64)
    for r in range(rows.shape[0]):
        for i in range(rows.shape[1]):
            found[r, i] = rows[r, i]
    return found


@njit(cache=True, nogil=True)
def copied(values: Ints, into: Ints, begin: int = 0) -> None:
    """Copy values into an array, from some place on."""
    for i in range(len(values)):
        into[begin + i] = values[i]
