"""A choice that is filled anew only when what can be chosen is another."""

from __future__ import annotations

from collections.abc import Sequence

from PyQt6.QtWidgets import QComboBox


def offer(box: QComboBox, choices: Sequence[tuple[str, str]], chosen: str) -> None:
    """Fill a choice, where it has not these entries already: what each means, and its words."""
    if [(box.itemData(i), box.itemText(i)) for i in range(box.count())] != list(choices):
        box.clear()
        for data, words in choices:
            box.addItem(words, data)
    box.setCurrentIndex(max(0, box.findData(chosen)))
