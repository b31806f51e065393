"""What is handed over: deliverables, by when, how far they are, and their files."""

from __future__ import annotations

from pathlib import PurePath

from hexapod.control.deliverables import handovers
from hexapod.plan.deliverables import DeliverableState
from hexapod.reports.basis import Basis
from hexapod.reports.report import CellKind, Column, Fact, Part, Sentence, Table, Tone
from hexapod.system.words import count_of

FROM_RECORDS = "What was told of each deliverable and of its approval; until then, when its task is to end."


def deliverables(basis: Basis) -> Part:
    """Each of its projects, by when it is due or was handed over."""
    plan = basis.plan
    found = handovers(basis.schedule, basis.inside)
    rows = []
    for each in found:
        wanted = each.deliverable
        files = ", ".join(place if "://" in place else PurePath(place).name for place in wanted.files)
        rows.append((
            wanted.name, plan.projects[each.project].name, plan.tasks[wanted.task].name, each.at,
            f"{each.state.value}{', overdue' if each.is_overdue(basis.now) else ''}",
            wanted.by, wanted.asked, files,
        ))  # fmt: skip
    owed = sum(each.is_owed for each in found)
    overdue = sum(each.is_overdue(basis.now) for each in found)
    agreed = sum(each.state is DeliverableState.AGREED for each in found)
    text = (
        f"{count_of(len(found), 'deliverable')}: {owed} still to come, {overdue} of them overdue, {agreed} agreed to."
    )
    if not found:
        text = "No deliverable is named."
    tone = Tone.TROUBLE if overdue else Tone.PLAIN
    fact = Fact("deliverables", (), (len(found), owed, overdue, agreed))
    columns = (
        Column("Deliverable"), Column("Project"), Column("Of"),
        Column("Date", CellKind.FINISH, FROM_RECORDS), Column("How it is", source=FROM_RECORDS),
        Column("By"), Column("What makes it good"), Column("Files"),
    )  # fmt: skip
    table = Table(columns, tuple(rows), tuple(h.deliverable.task for h in found)) if rows else None
    return Part("deliverables", "What is handed over", (Sentence(text, fact, tone, source=FROM_RECORDS),), table=table)
