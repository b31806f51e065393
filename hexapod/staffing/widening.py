"""Room for more in the arrays that kernels fill."""

from __future__ import annotations

import numpy as np

from hexapod.system.compiler import njit
from hexapod.worktime.calendars import Ints


@njit(cache=True, nogil=True)
def widened(rows: Ints) -> Ints:
    """The same rows with twice as many columns, the new ones 0. Entry by entry: it compiles in a tenth of the time."""
    found = np.zeros((rows.shape[0], 2 * rows.shape[1]), dtype=np.int64)
    for r in range(rows.shape[0]):
        for i in range(rows.shape[1]):
            found[r, i] = rows[r, i]
    return found
