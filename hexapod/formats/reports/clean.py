"""Text of a plan made fit for files: without control characters, and not longer than anybody reads."""

from __future__ import annotations

import unicodedata

MOST = 600
_BIDI = set("\u202a\u202b\u202c\u202d\u202e\u2066\u2067\u2068\u2069\u200e\u200f")


def clean(text: str, most: int = MOST) -> str:
    """Letters that XML cannot hold become a space, marks that turn the direction of reading are left out, and what is
    too long is cut with an ellipsis."""
    kept = "".join(
        "" if c in _BIDI else c if c == "\n" or unicodedata.category(c) not in ("Cc", "Cs", "Cn", "Co") else " "
        for c in text[: most * 4]
    )
    return kept if len(kept) <= most else kept[: most - 1].rstrip() + "…"
