"""Many records at once, made without the garbage collector."""

from __future__ import annotations

import contextlib
import gc
from collections.abc import Iterator


@contextlib.contextmanager
def uncollected() -> Iterator[None]:
    """Without the garbage collector, which walks all the new records again and again and finds nothing."""
    gc.collect()
    was_on = gc.isenabled()
    gc.disable()
    try:
        yield
        gc.freeze()  # they stay, and it need not look at them later either
    finally:
        if was_on:
            gc.enable()
