"""What was asked of the museum: requests for projects, approvals that wait, and the report of the gallery."""

from __future__ import annotations

from collections.abc import Callable

from hexapod.plan import edits
from hexapod.plan.kept import KeptReport
from hexapod.plan.outline import task_at
from hexapod.plan.records import DAY
from hexapod.plan.requests import Request
from hexapod.session import Session

# What, why, wanted by, days of work, what it is good for, who, when.
REQUESTS = (
    ("Lamps for the moth corner", "The labels there cannot be read after four.", "2026-12-01", 6,
     "Fewer questions at the desk", "Hale Birkby", "2026-10-05"),
    ("Touch table for the school room", "Classes wait for the one that there is.", "2027-02-15", 25,
     "Twice as many classes", "Schools office", "2026-10-07"),
    ("Herbarium sheets photographed", "A loan of forty sheets is asked for in spring.", "2027-03-31", 40,
     "The sheets stay in the house", "Botany", "2026-10-08"),
)  # fmt: skip
ROUTE = "Designer, then project manager"
# Row of the gallery, what it hands over, what makes it good, where it lies, and when it was handed over.
DELIVERABLES = (
    ("1.3", "Case drawings", "Every case at 1:10, with its fixings", ("https://drawings.alderquay.example/cases",),
     "2026-09-25"),
    ("1.3", "Case schedule", "Sizes and glass of each case", (), None),
    ("1.5", "Label text", "Read by the curator and by a class", (), None),
    ("4.2", "Four films with sound", "Two minutes each, with captions", (), None),
)  # fmt: skip
APPROVALS = (("gallery", "3.9", ("dk", "jf")), ("store", "2.6", ("jf",)))  # who is asked, in this order


def ask(session: Session, projects: dict[str, str], at: Callable[[str, int], int]) -> None:
    """Three requests, two approvals that are open where the rows are milestones, deliverables, and a kept report."""
    requests = []
    for what, why, wanted, days, good, who, when in REQUESTS:
        asked, wanted_by = at(when, 10 * 60), at(wanted, 0) // DAY
        requests.append(Request(edits.new_id(), what, asked, why, wanted_by, days * 480, good, who))
    session.apply(edits.save_requests(session.plan, requests))
    session.apply(edits.keep_route(session.plan, ROUTE, ["dk", "jf"]))
    weekly = KeptReport(
        "", "Weekly report of the gallery", "", ("status", "week", "coming", "risks"),
        heading="Six-Legs Gallery, week by week", projects=(projects["gallery"],),
    )  # fmt: skip
    session.apply(edits.keep_report(session.plan, weekly))
    for number, name, good, files, handed in DELIVERABLES:
        row = task_at(session.plan, projects["gallery"], number)
        assert row
        session.apply(edits.add_deliverables(session.plan, row, [name]))
        made = session.plan.deliverables_of(row)[-1].id
        given = None if handed is None else at(handed, 600)
        by = "" if handed is None else "Dara Kestrel"
        session.apply(edits.set_deliverable(
            session.plan, made, f"Say how “{name}” stands", asked=good, files=files, handed=given, by=by))  # fmt: skip
    for project, number, people in APPROVALS:
        row = task_at(session.plan, projects[project], number)
        assert row
        session.apply(edits.ask_approval(session.plan, row, people, session.who, at("2026-10-08", 600))[1])
