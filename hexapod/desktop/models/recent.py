"""The workspaces that were opened lately, kept in the user's settings."""

from __future__ import annotations

from pathlib import Path

from PyQt6.QtCore import QSettings

MOST = 10


def recent_files() -> list[Path]:
    """The latest first; those that are gone are left out."""
    kept = QSettings().value("recent") or []
    paths = [Path(str(p)) for p in ([kept] if isinstance(kept, str) else kept)]
    return [p for p in paths if p.is_file()]


def remember(path: Path) -> None:
    """A workspace was opened."""
    here = path.absolute()
    others = [p for p in recent_files() if p != here]
    QSettings().setValue("recent", [str(p) for p in [here, *others][:MOST]])
