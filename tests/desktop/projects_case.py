"""A workspace of many projects on show: what tests of the list of projects begin with."""

from __future__ import annotations

from msgspec.structs import replace

from hexapod.control.summary import ProjectRow
from hexapod.desktop.models import background
from hexapod.plan import edits
from hexapod.plan.ranks import ranks_between
from hexapod.plan.records import DAY as CLOCK_DAY
from hexapod.plan.records import Project, Task, TaskKind
from tests.at_rest import wait_for
from tests.desktop.case import WindowCase, settle
from tests.support import DAY, MONDAY, at, set_clock

COUNT = 14


class ProjectsCase(WindowCase):
    def setUp(self) -> None:
        set_clock(self, lambda: at("2026-09-07T09:00"))
        super().setUp()
        self.desk.do(edits.together("Take over what there is", [self._many()]))
        self.work = self.desk.portfolio
        self.window.show_part("projects", "telling")
        self.view = self.window.telling["projects"]
        self.table = self.view.table
        self.known()
        self.table.setFocus()

    def _many(self) -> edits.Edit:
        """Seven late by a week, one close to its target, the others on course; in two departments."""

        def put(draft) -> None:  # type: ignore[no-untyped-def]
            for i, rank in enumerate(ranks_between(self.desk.plan.projects["p"].rank, None, COUNT)):
                off = -7 if i % 7 == 0 else 1 if i == 1 else 40
                finish = MONDAY + 4 * CLOCK_DAY + 540  # five days later, at five
                project = Project(f"q{i}", f"Hall {i:02}", MONDAY, rank, department="Estate" if i % 2 else "Learning")
                draft.put(replace(project, target_finish=finish + off * CLOCK_DAY))
                draft.put(Task(f"q{i}a", f"q{i}", "Paint", "a0", duration=5 * DAY))
                draft.put(Task(f"q{i}m", f"q{i}", "Handed over", "b0", duration=0, kind=TaskKind.MILESTONE))

        return edits.Edit("Take over many", put)

    def known(self) -> None:
        """Until the figures are those of the plan."""
        wait_for(lambda: self.work._of is self.desk.schedule and self.work.summary is not None and background.is_idle())
        settle()

    def shown(self) -> list[str]:
        plan = self.desk.plan
        return [plan.projects[r.project].name for r in self.table.rows if isinstance(r, ProjectRow)]
