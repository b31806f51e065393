"""Tasks that somebody does not want to see any more in one place; the plan has them still. Kept in the workspace."""

from __future__ import annotations

from typing import TYPE_CHECKING

if TYPE_CHECKING:
    from hexapod.desktop.models.desk import Desk


class PutAway:
    """``name`` is that under which the workspace keeps them."""

    def __init__(self, desk: Desk, name: str) -> None:
        self._desk, self._name = desk, name

    @property
    def tasks(self) -> set[str]:
        return set(self._desk.session.workspace.remembered(self._name, list[str], []))

    def put(self, task: str, away: bool) -> None:
        """Shown no more, or again."""
        self._keep(self.tasks | {task} if away else self.tasks - {task})

    def bring_back_all(self) -> None:
        self._keep(set())

    def _keep(self, tasks: set[str]) -> None:
        self._desk.session.workspace.set_state(self._name, sorted(tasks))
