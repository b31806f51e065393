"""How many rounds a test goes: a few each time, many with ``scripts/test --deep``."""

from __future__ import annotations

import os

IS_DEEP = bool(os.environ.get("HEXAPOD_DEEP"))


def deep_or(usual: int, deep: int) -> int:
    """So many rounds, or steps."""
    return deep if IS_DEEP else usual
