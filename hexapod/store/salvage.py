"""What is sound of a damaged file, to read: the rest is named and left out.

Each table is read from both of its ends, so that a damaged page in the middle costs only what lies on it. Then what
breaks a rule is taken out, with all that depends on it, until the rest is a plan.
"""

from __future__ import annotations

import contextlib
import sqlite3
from collections import Counter
from pathlib import Path

from msgspec.structs import replace

from hexapod.errors import BadFile
from hexapod.plan.kinds import BUILT_IN_CALENDARS, KINDS
from hexapod.plan.plan import Plan
from hexapod.plan.ranks import ranks_between
from hexapod.plan.records import DAY, Calendar, Project, Record, Resource, Task
from hexapod.plan.scenarios import Scenario
from hexapod.plan.validity import InvalidRecord, broken_records
from hexapod.store.checksums import BAD_ROW
from hexapod.store.lock import OpenFile
from hexapod.store.opening import in_memory, inspect, located
from hexapod.store.schema import OTHER_TABLES, TABLES, Table
from hexapod.store.sentences import NEVER_READ
from hexapod.store.workspace import Workspace
from hexapod.system.words import count_of
from hexapod.worktime.clock import today

MOST_NAMED = 50
MOST_ROUNDS = 200


def open_sound(path: Path) -> Workspace:
    """A workspace to read that holds what is sound; ``left_out`` names the rest. ``BadFile`` if nothing is."""
    path = located(path)
    file = OpenFile(path)
    try:
        inspect(path, file)
        source = in_memory(path, file)
    finally:
        file.close()
    left_out: list[str] = []
    try:
        records = [record for table in TABLES.values() for record in _records(source, table, left_out)]
    finally:
        source.close()
    scenarios = [record for record in records if isinstance(record, Scenario)]
    if scenarios:
        _name(left_out, f"what {count_of(len(scenarios), 'scenario')} did otherwise")
    plan = _sound([record for record in records if not isinstance(record, Scenario)], left_out)
    if not plan.tasks and not plan.projects:
        raise BadFile(f"{path.name} is damaged, and nothing of its plan can be read.")
    workspace = Workspace(path, _in_tables(plan), read_only=True)
    workspace.left_out = tuple(left_out)
    return workspace


def _records(source: sqlite3.Connection, table: Table, left_out: list[str]) -> list[Record]:
    found: dict[object, Record] = {}
    for direction in ("ASC", "DESC"):
        order = ", ".join(f"{name} {direction}" for name in table.key)
        is_whole = False
        with contextlib.suppress(sqlite3.Error, *NEVER_READ):
            for row in source.execute(f"{table.select()} ORDER BY {order}"):
                try:
                    (record,) = table.records([row])
                except BAD_ROW:
                    if direction == "ASC":
                        named = row[table.columns.index("name")] if "name" in table.columns else row[0]
                        _name(left_out, f"“{str(named)[:60]}”, of the {table.kind}")
                    continue
                found.setdefault(table.key_of(record), record)
            is_whole = True
        if is_whole:
            return list(found.values())
    _name(left_out, f"what lies on a damaged page of {table.kind}")
    return list(found.values())


def _reattached(records: list[Record], left_out: list[str]) -> list[Record]:
    """What lay below a lost summary lies on the top level; what was in a lost project, in one in its place.

    What used a lost calendar uses the usual one.
    """
    tasks = {r.id: r for r in records if isinstance(r, Task)}
    projects = {r.id for r in records if isinstance(r, Project)}
    calendars = {r.id for r in records if isinstance(r, Calendar)} | set(BUILT_IN_CALENDARS)
    lost = sorted({t.project for t in tasks.values()} - projects)
    ranks = ranks_between(None, None, len(lost))
    found: list[Record] = []
    for project, rank in zip(lost, ranks, strict=True):
        _name(left_out, f"the project “{project[:60]}”: its rows are in one that stands in its place")
        found.append(Project(project, "A project that could not be read", today() + DAY // 3, rank))
    for record in records:
        has_calendar = isinstance(record, Project | Task | Resource) and record.calendar is not None
        if has_calendar and record.calendar not in calendars:  # type: ignore[attr-defined]
            _name(left_out, f"the calendar of “{record.name[:60]}”")  # type: ignore[attr-defined]
            record = replace(record, calendar="standard" if isinstance(record, Project) else None)
        if isinstance(record, Task) and record.parent is not None:
            above = tasks.get(record.parent)
            if above is None or above.project != record.project:
                _name(left_out, f"what “{record.name[:60]}” lay below")
                record = replace(record, parent=None)
        found.append(record)
    return found


def _sound(records: list[Record], left_out: list[str]) -> Plan:
    """A plan of the records that break no rule, round by round: what depends on one that is left out may break one."""
    gone: Counter[str] = Counter()
    for _ in range(MOST_ROUNDS):
        plan = Plan.of(_reattached(records, left_out))
        broken = broken_records(plan)
        if not broken:
            for kind, count in gone.items():
                _name(left_out, f"{count} {kind if count > 1 else kind[:-1]} of what is left out")
            return plan
        out = {(error.kind, error.key) for error in broken}
        gone.update(error.kind for error in broken if _is_dangling(plan, error))
        for error in broken:
            if not _is_dangling(plan, error):
                _name(left_out, str(error))
        records = [r for kind in KINDS for r in getattr(plan, kind).values() if (kind, r.key) not in out]
    return Plan()


def _is_dangling(plan: Plan, error: InvalidRecord) -> bool:
    """Whether a link, an assignment or the like only lacks what it is about."""
    record = getattr(plan, error.kind)[error.key]
    ends = [getattr(record, name, None) for name in ("predecessor", "successor", "task")]
    return any(end is not None and end not in plan.tasks for end in ends)


def _name(left_out: list[str], what: str) -> None:
    if len(left_out) < MOST_NAMED and what not in left_out:
        left_out.append(what)


def _in_tables(plan: Plan) -> sqlite3.Connection:
    """A workspace in memory."""
    connection = sqlite3.connect(":memory:", isolation_level=None, check_same_thread=False)
    for table in TABLES.values():
        connection.execute(table.create())
        connection.executemany(table.upsert(), [table.row(r) for r in getattr(plan, table.kind).values()])
    for statement in OTHER_TABLES:
        connection.execute(statement)
    return connection
