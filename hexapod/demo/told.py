"""Forms that came back: what two people told, as their pages save it, in the folder beside the demo's workspace."""

from __future__ import annotations

import msgspec

from hexapod.control.forms import ReturnedAnswer
from hexapod.formats.forms import FORMAT, VERSION, forms_folder
from hexapod.plan.outline import task_at
from hexapod.session import Session
from hexapod.system.files import make_folder, write_whole
from hexapod.worktime.clock import iso


def write_forms(session: Session, project: str, text: str) -> None:
    """A file for each person, from rows of who, outline number, done on, left, hours and note."""
    plan = session.plan
    told: dict[str, list[ReturnedAnswer]] = {}
    status = plan.projects[project].status_date
    assert status is not None
    for line in text.strip().splitlines():
        who, number, done, left, hours, note = (part.strip() for part in line.split("|"))
        task = task_at(plan, project, number)
        assert task
        answer = ReturnedAnswer(task, plan.tasks[task].name, iso(status), "", done, left, hours, note)
        told.setdefault(who, []).append(answer)
    folder = forms_folder(session.workspace.path)
    make_folder(folder)
    for who, answers in told.items():
        person = next(r for r in plan.resources.values() if r.initials == who)
        document = {
            "format": FORMAT, "version": VERSION, "workspace": session.identity(), "person": person.id,
            "name": person.name, "made": iso(status), "answers": answers,
        }  # fmt: skip
        write_whole(folder / f"told {person.name}.json", msgspec.json.format(msgspec.json.encode(document)))
