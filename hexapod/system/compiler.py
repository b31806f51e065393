"""numba as our kernels use it: without the linear algebra of SciPy.

When its first kernel is run, numba loads that to see whether it is there, for kernels that multiply matrices. None of
ours does: it would take a tenth of a second and 20 MB of each start.
"""

from __future__ import annotations

import sys
from collections.abc import Iterator
from contextlib import contextmanager


@contextmanager
def _hidden(module: str) -> Iterator[None]:
    """As if a module were not installed, unless it is loaded already."""
    if module in sys.modules:
        yield
        return
    sys.modules[module] = None  # type: ignore[assignment]
    try:
        yield
    finally:
        del sys.modules[module]


with _hidden("scipy.linalg"):
    import numba.np.arraymath  # noqa: F401 - which looks for it, once

from numba import njit  # noqa: E402

__all__ = ["njit"]
