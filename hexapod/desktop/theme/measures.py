"""Heights that views side by side share, in pixels."""

from __future__ import annotations

ROW_HEIGHT = 27
HEADER_HEIGHT = 42
