"""Own work, stages and attention over 10,000 tasks and 200 people: how long each takes to open, and after an edit."""

from __future__ import annotations

import os
import tempfile
import time
from collections.abc import Callable, Iterator
from pathlib import Path

from msgspec.structs import replace

from bench.plans import large_plan
from bench.timing import Row, aimed, percentile
from hexapod.plan import edits
from hexapod.plan.records import ResourceKind, Stage
from hexapod.session import Session

EDITS = 25
OPENINGS = 7


def rows() -> Iterator[Row]:
    os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")
    from PyQt6.QtWidgets import QApplication

    from hexapod.desktop.app import make_application
    from hexapod.desktop.window import Window

    app = make_application("light")
    with tempfile.TemporaryDirectory() as folder:
        session = Session.create(Path(folder) / "Bench.hexapod")
        _fill(session)
        window = Window(session, lambda *_: None)
        window.resize(1280, 800)
        window.show()
        window.desk.computed.emit()
        window.desk.mine.look_at("r7")
        for part, words in (
            ("mine", "own work"),
            ("stages", "stages, all are cards"),
            ("attention", "attention"),
        ):
            window.show_part(part)  # what is loaded once is not part of it
            times = [_opened(app, window, part) for _ in range(OPENINGS)]
            yield aimed(f"{words}: open, 10,000 tasks, 200 people (p95)", percentile(times, 0.95), 150)
        table = window.track["attention"].table
        times = [_after_an_edit(app, session, i, lambda: window.desk.load is not None) for i in range(EDITS)]
        yield aimed(
            f"attention: {len(table.needs)} needs, from an edit to the list (p95)", percentile(times, 0.95), 150
        )
        window.close()
    QApplication.processEvents()


def _fill(session: Session) -> None:
    """Half of the first tasks are told, all leaves are cards, everybody has work."""
    plan = large_plan(10_000, resources=200)
    draft = plan.draft()
    for i, (name, percent) in enumerate(
        (("To come", 0.0), ("In hand", 10.0), ("To be checked", 90.0), ("Done", 100.0))
    ):
        draft.put(Stage(name, name, f"a{i}", percent))
    for resource in plan.resources.values():
        draft.put(replace(resource, kind=ResourceKind.PERSON))
    for task in plan.tasks.values():
        if not plan.is_summary(task.id):
            draft.put(replace(task, on_board=True))
    session.apply(edits.to_plan("Fill", session.plan, draft.finish()[0]))
    dates = session.compute()
    leaves = [t for t in plan.tasks if not plan.is_summary(t)]
    leaves.sort(key=lambda t: dates.start[dates.slots[t]])
    middle = int(dates.start[dates.slots[leaves[len(leaves) // 2]]])
    session.apply(edits.set_percent(session.plan, leaves[: len(leaves) // 2 : 2], 100))
    session.apply(edits.set_percent(session.plan, leaves[1 : len(leaves) // 2 : 4], 40))
    session.apply(edits.set_status_date(session.plan, "p", middle))


def _opened(app, window, part: str) -> float:  # type: ignore[no-untyped-def]
    """From Build to a part of Track, until it is painted."""
    window.show_leg("build")
    app.processEvents()
    began = time.perf_counter()
    window.show_part(part)
    app.processEvents()
    window.track[part].repaint()
    return (time.perf_counter() - began) * 1000


def _after_an_edit(app, session: Session, number: int, is_counted: Callable[[], bool]) -> float:  # type: ignore[no-untyped-def]
    """From an edit until the list is there and painted, whatever else is drawn anew on the way."""
    leaves = [t for t in session.plan.tasks.values() if t.is_begun]
    edit = edits.set_rest(session.plan, [leaves[number * 7 % len(leaves)].id], 60 * (number % 9 + 1))
    began = time.perf_counter()
    session.apply(edit)
    app.processEvents()
    found = (time.perf_counter() - began) * 1000
    while not is_counted():
        app.processEvents()
    return found
