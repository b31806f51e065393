"""Hours, money, value and drift over 10,000 tasks, 200 people and 100,000 logs: how long each takes."""

from __future__ import annotations

import gc
import os
import random
import tempfile
import time
from collections.abc import Callable, Iterator
from datetime import datetime, timedelta
from pathlib import Path

from msgspec.structs import replace

from bench.plans import large_plan
from bench.timing import Row, aimed, percentile, row
from hexapod.control.baselines import baseline_of
from hexapod.control.drift import replay
from hexapod.control.worked import log_edit
from hexapod.plan import edits
from hexapod.plan.accounts import EntryKind, Log, MoneyEntry, Sheet, SheetState, monday_of
from hexapod.plan.plan import Plan
from hexapod.plan.records import DAY, ResourceKind
from hexapod.session import Session
from hexapod.worktime.clock import minutes_of

TASKS, PEOPLE, LOGS, EDITS = 10_000, 200, 100_000, 1000
TIMES, OPENINGS = 9, 21


def rows() -> Iterator[Row]:
    os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")
    from hexapod.desktop.app import make_application
    from hexapod.desktop.window import Window

    app = make_application("light")
    with tempfile.TemporaryDirectory() as folder:
        path, without = Path(folder) / "Bench.hexapod", Path(folder) / "Without.hexapod"
        for each in (path, without):
            session = Session.create(each)
            _begin(session)
            session.close()
        session = Session.open(path)
        session.compute()
        _fill(session)
        window = Window(session, lambda *_: None)
        window.resize(1280, 800)
        window.show()
        window.desk.computed.emit()
        gc.collect()
        gc.freeze()  # as the window does, once the dates are there
        window.desk.mine.be("r7")
        desk = window.desk
        for way, words in (
            ("week", "a week of one person"),
            ("team", "weeks of 200 people"),
            ("spent", "hours by branch"),
        ):
            window.show_part("hours")
            desk.hours.look_at("r7", monday_of(_today(session.plan)), way)
            app.processEvents()
            times = [_timed(lambda: _shown(app, window, "hours")) for _ in range(TIMES)]
            yield aimed(f"hours: {words}, 100,000 logs (p95)", percentile(times, 0.95), 150)
        window.show_part("hours")
        desk.hours.look_at("r7", way="week")
        _rest(app, desk)
        times = [_timed(lambda i=i: _logged(app, desk, i)) for i in range(60)]
        yield aimed("hours: a log to its effects (p95)", percentile(times, 0.95), 30)
        for part, words, most in (("money", "money by month", 150), ("value", "earned value", 250)):
            window.show_part(part)
            _rest(app, desk)
            times = [_timed(lambda part=part: _shown(app, window, part)) for _ in range(TIMES)]
            yield aimed(f"{words}: open (p95)", percentile(times, 0.95), most)
        window.close()
        opened = [(_opened(path), _opened(without)) for _ in range(OPENINGS)]  # in turn: the machine is uneven
        after, before = (percentile(times, 0.5) for times in zip(*opened, strict=True))
        yield row("opening with 100,000 logs: plan and dates to paint", after, before, "without them")
        yield aimed("drift: a finish over 1,000 edits", _drift(path), 3000)


def _rest(app, desk) -> None:  # type: ignore[no-untyped-def]
    """Until the history is read, beside the interface."""
    app.processEvents()
    while desk.value._is_reading:
        app.processEvents()
        time.sleep(0.01)


def _today(plan: Plan) -> int:
    return (plan.projects["p"].status_date or plan.projects["p"].start) // DAY


def _fill(session: Session) -> None:
    rng = random.Random(3)
    plan = session.plan
    dates = session.compute()
    draft = plan.draft()
    leaves = _leaves(session)
    people = sorted(plan.resources)
    first = plan.projects["p"].start // DAY
    for i in range(LOGS):
        day = first + rng.randrange(250)
        draft.put(
            Log(f"l{i}", rng.choice(leaves[: len(leaves) // 2]), people[i % PEOPLE], day, rng.choice((60, 240, 480)))
        )
    for i, who in enumerate(people):
        for week in range(8):
            state = (SheetState.APPROVED, SheetState.HANDED_IN, SheetState.SENT_BACK)[(i + week) % 3]
            draft.put(Sheet(f"s{i}.{week}", who, monday_of(first) + 7 * week, state))
    for i in range(500):
        day = first + rng.randrange(250)
        draft.put(MoneyEntry(f"e{i}", "p", f"Entry {i}", EntryKind.COST, 10_000, day, day + 10, rng.choice(leaves)))
    session.apply(edits.to_plan("Fill", plan, draft.finish()[0]))
    session.apply(edits.keep_baseline(session.plan, baseline_of(dates, "p", "b", "First", first * DAY)))


def _begin(session: Session) -> None:
    """The plan with half of its work begun, and without anything spent on it."""
    plan = large_plan(TASKS, resources=PEOPLE)
    draft = plan.draft()
    for resource in plan.resources.values():
        draft.put(replace(resource, kind=ResourceKind.PERSON, rate=4000))
    session.apply(edits.to_plan("Fill", session.plan, draft.finish()[0]))
    dates, leaves = session.compute(), _leaves(session)
    middle = int(dates.start[dates.slots[leaves[len(leaves) // 2]]])
    session.apply(edits.set_percent(session.plan, leaves[: len(leaves) // 2 : 2], 100))
    session.apply(edits.set_status_date(session.plan, "p", middle))
    session.compute()


def _leaves(session: Session) -> list[str]:
    """By when they start."""
    plan, dates = session.plan, session.compute()
    return sorted((t for t in plan.tasks if not plan.is_summary(t)), key=lambda t: dates.start[dates.slots[t]])


def _opened(path: Path) -> float:
    begin = time.perf_counter()
    session = Session.open(path)
    _ = session.plan_so_far
    _ = session.schedule
    taken = (time.perf_counter() - begin) * 1000
    session.close()
    return taken


def _timed(run: Callable[[], object]) -> float:
    begin = time.perf_counter()
    run()
    return (time.perf_counter() - begin) * 1000


def _shown(app, window, part: str) -> None:  # type: ignore[no-untyped-def]
    """Fill the part anew, as if it were opened, and paint it."""
    view = window.track[part]
    window.desk.money._costing = window.desk.value._valuing = window.desk.value._value = None
    view.refresh()
    view.repaint()
    app.processEvents()


def _logged(app, desk, i: int) -> None:  # type: ignore[no-untyped-def]
    plan = desk.plan
    task = next(iter(plan.used_by["r7"]))
    log = Log(f"new{i}", task, "r7", monday_of(_today(plan)) + i % 5, 30)
    desk.do(log_edit(plan, [log]))
    app.processEvents()


def _drift(path: Path) -> float:
    """A thousand edits of durations, links and names, and where the project's finish was after each of them."""
    rng = random.Random(5)
    session = Session.open(path)
    session.compute()
    now = datetime(2026, 9, 1, 8)
    plan = session.plan
    leaves = [t for t in plan.tasks if not plan.is_summary(t) and not plan.tasks[t].is_done]
    for i in range(EDITS):
        at = now + timedelta(minutes=i)
        session.workspace.clock = lambda at=at: at
        task = rng.choice(leaves)
        session.apply(edits.set_durations(session.plan, [task], 480 * rng.randrange(1, 6)))
    past = [(row, minutes_of(datetime.fromisoformat(row.at)), found) for row, found in session.past()][:EDITS]
    begin = time.perf_counter()
    replay(session.plan, past, ["p"])
    taken = (time.perf_counter() - begin) * 1000
    session.close()
    return taken
