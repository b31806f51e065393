"""A table becomes rows of a plan: which column is what, what each row would do, and the one edit that does it.

A row that has the id of a task, or its path of names, changes that task; any other adds one. So a file
that is imported again brings the plan up to date, and doubles nothing.
"""

from __future__ import annotations

import itertools
import math
import re
from collections.abc import Callable, Iterator, Mapping
from dataclasses import dataclass, field
from datetime import datetime
from enum import StrEnum
from typing import Any

from msgspec.structs import replace

from hexapod.errors import BadText, HexapodError
from hexapod.fields.assignment_text import known_people, parse_assignments
from hexapod.fields.field import Texts
from hexapod.fields.link_text import parse_link, parse_links
from hexapod.fields.own_text import parse_value
from hexapod.fields.table import BY_ID
from hexapod.formats.import_columns import ColumnMap, ImportedField, title_of
from hexapod.formats.tables import Cell, Sheet
from hexapod.plan import edits
from hexapod.plan.edits import Edit, new_id
from hexapod.plan.kept import TASKS
from hexapod.plan.outline import rows as outline_rows
from hexapod.plan.plan import Draft, Plan
from hexapod.plan.ranks import ranks_between
from hexapod.plan.records import Assignment, FieldKind, Limit, LimitKind, Link, Project, Resource, Task
from hexapod.plan.uncollected import uncollected
from hexapod.system import budgets
from hexapod.system.words import count_of
from hexapod.worktime.calendars import units_of
from hexapod.worktime.clock import minutes_of
from hexapod.worktime.dates import parse_moment
from hexapod.worktime.lengths import parse_duration
from hexapod.worktime.spans import WorkSpan

MOST_RESOURCES = 2000  # added by one import


_MOMENTS = (ImportedField.NOT_BEFORE, ImportedField.START, ImportedField.FINISH, ImportedField.TARGET,
            ImportedField.ACTUAL_START, ImportedField.ACTUAL_FINISH)  # fmt: skip
_PLAIN = ("name", "duration", "elapsed", "notes", "tags", "stream", "priority", "target", "percent", "remaining",
          "actual_start", "actual_finish")  # fmt: skip
Reader = Callable[[str], int]


class Action(StrEnum):
    ADD = "add"
    CHANGE = "change"
    SAME = "same"
    UNREADABLE = "unreadable"


@dataclass
class Outcome:
    """What a row of the file does. ``row`` is its number in the file; ``troubles`` name fields and reasons."""

    row: int
    name: str
    action: Action
    task: str = ""
    troubles: list[str] = field(default_factory=list)


@dataclass(frozen=True)
class ImportProposal:
    outcomes: list[Outcome]
    resources: tuple[str, ...]  # names of people who are added
    edit: Edit | None

    def count(self, action: Action) -> int:
        return sum(1 for outcome in self.outcomes if outcome.action is action)


@dataclass
class _Row:
    """A row of the file, read."""

    outcome: Outcome
    project: str
    level: int
    number: str
    said: dict[str, Any] = field(default_factory=dict)
    links: str = ""
    who: str = ""
    begins: int | None = None


class _Import:
    def __init__(self, plan: Plan, project: str, read_date: Reader) -> None:
        self.plan, self.project, self.read_date = plan, project, read_date
        self.units, self.texts = units_of(plan, project), Texts(plan)
        self.span = WorkSpan(plan.calendars, plan.projects[project].calendar)
        self.lengths: dict[str, tuple[int, bool]] = {}  # those that were read already
        self.fields = {f.name: f for f in plan.fields_of(TASKS) if f.kind is not FieldKind.COMPUTED}
        self.paths: dict[tuple[str, ...], str] = {}
        self.projects: dict[str, str] = {}
        for each in plan.projects_in_order():
            self.projects.setdefault(each.name.strip().casefold(), each.id)
            path = [each.id]
            for row in outline_rows(plan, each.id):
                del path[row.level + 1 :]
                path.append(plan.tasks[row.task].name.strip().casefold())
                self.paths.setdefault(tuple(path), row.task)
        self.new_projects: dict[str, Project] = {}
        self.resources: dict[str, Resource] = {}

    # Reading

    def rows(self, sheet: Sheet, mapping: ColumnMap) -> Iterator[_Row]:
        columns = {part: i for i, part in enumerate(mapping.parts) if part != ImportedField.NOTHING}
        for at, cells in enumerate(sheet.rows):
            if at <= mapping.header or not any(cell not in (None, "") for cell in cells):
                continue
            get = {part: cells[i] if i < len(cells) else None for part, i in columns.items()}
            yield self._row(sheet.first_row + at, get)

    def _row(self, number: int, get: Mapping[str, Cell]) -> _Row:
        raw = get.get(ImportedField.NAME)
        name = "" if raw is None else str(raw)
        outcome = Outcome(number, name.strip(), Action.ADD)
        project = self._project(_text(get.get(ImportedField.PROJECT)).strip())
        row = _Row(outcome, project, self._level(get, name), _text(get.get(ImportedField.NUMBER)))
        if not name.strip():
            outcome.action = Action.UNREADABLE
            outcome.troubles.append("there is no name")
            return row
        for part, cell in get.items():
            if cell is None or (isinstance(cell, str) and not cell.strip()):
                continue
            try:
                self._take(row, part, cell)
            except HexapodError as error:
                outcome.troubles.append(f"{title_of(part)}: {error}")
        self._tie_dates(row, says_limits=ImportedField.NOT_BEFORE in get)
        return row

    def _project(self, name: str) -> str:
        """The project of that name, a new one if there is none; without a name, the one that is imported into."""
        if not name:
            return self.project
        known = self.projects.get(name.casefold())
        if known is None:
            last = [*self.plan.projects_in_order(), *self.new_projects.values()][-1]
            home = self.plan.projects[self.project]
            known = self.projects[name.casefold()] = new_id()
            rank = ranks_between(last.rank, None, 1)[0]
            self.new_projects[known] = Project(known, name, home.start, rank, calendar=home.calendar)
        return known

    @staticmethod
    def _level(get: Mapping[str, Cell], name: str) -> int:
        level, number = get.get(ImportedField.LEVEL), _text(get.get(ImportedField.NUMBER)).rstrip(".")
        if isinstance(level, int | float):
            return min(max(0, int(level) - 1), budgets.LEVELS) if math.isfinite(level) else 0
        if number and re.fullmatch(r"\d+(\.\d+)*", number):
            return number.count(".")
        return (len(name.expandtabs(4)) - len(name.expandtabs(4).lstrip())) // 2

    def _take(self, row: _Row, part: str, cell: Cell) -> None:
        said, text = row.said, _text(cell)
        if part == ImportedField.NAME:
            said["name"] = text.strip()
        elif part == ImportedField.DURATION:
            said["duration"], said["elapsed"] = self._duration(cell)
        elif part in _MOMENTS:
            said[part] = self._moment(cell)
        elif part == ImportedField.REMAINING:
            said[part] = self._duration(cell)[0]
        elif part == ImportedField.LINKS:
            row.links = text
        elif part == ImportedField.WHO:
            row.who = text
        elif part == ImportedField.ID:
            row.outcome.task = text if text in self.plan.tasks else ""
            said["id"] = text
        elif part in BY_ID and (parse := BY_ID[part].parse):
            written = _percent_text(cell) if part == ImportedField.PERCENT else text
            said[BY_ID[part].id] = parse(self.texts, written)
        elif part in self.fields:
            value = parse_value(self.plan, self.fields[part], self._field_text(cell), self.read_date)
            said.setdefault("fields", {})[part] = value

    def _duration(self, cell: Cell) -> tuple[int, bool]:
        if isinstance(cell, int | float) and not isinstance(cell, bool):
            return parse_duration(f"{max(0, cell):.6f}".rstrip("0").rstrip("."), self.units)
        text = _text(cell).strip().removesuffix("?")
        if text not in self.lengths:
            self.lengths[text] = parse_duration(text, self.units)
        return self.lengths[text]

    def _moment(self, cell: Cell) -> int:
        if isinstance(cell, datetime):
            if not 1970 <= cell.year <= 2129:
                raise BadText(f"{cell:%Y-%m-%d} lies outside 1970 to 2129")
            return minutes_of(cell.replace(second=0, microsecond=0))
        if isinstance(cell, int | float):
            raise BadText(f"{cell:g} is a number, and no date")
        return self.read_date(_text(cell))

    @staticmethod
    def _field_text(cell: Cell) -> str:
        if isinstance(cell, datetime):
            return cell.strftime("%Y-%m-%d %H:%M") if cell.hour or cell.minute else cell.strftime("%Y-%m-%d")
        return _text(cell)

    def _tie_dates(self, row: _Row, *, says_limits: bool) -> None:
        """A start and a finish without a duration give one.

        A start becomes a limit, unless links give it, or the file has a column for limits.
        """
        said = row.said
        start, finish = said.pop(ImportedField.START, None), said.pop(ImportedField.FINISH, None)
        row.begins = start
        if start is not None and finish is not None and "duration" not in said:
            end = finish if finish % 1440 else finish + 1440
            said["duration"] = self.span.minutes(start, max(start, end))
        limit = said.pop(ImportedField.NOT_BEFORE, None)
        if not says_limits and start is not None and not row.links.strip():
            limit = start
        if limit is not None:
            said["start"] = limit
        target = said.pop(ImportedField.TARGET, None)
        if target is not None:
            said["target"] = target

    # Placing

    def placed(self, rows: list[_Row]) -> None:
        """Find for each row the task that it is about, by id or by its path of names."""
        path: list[str] = []
        good = [row for row in rows if row.outcome.action is not Action.UNREADABLE]
        for row, below in itertools.pairwise(good):
            if below.project == row.project and below.level > row.level:
                for name in ("duration", "elapsed", "start"):  # which its parts give
                    row.said.pop(name, None)
        for row in good:
            if path[:1] != [row.project]:
                path = [row.project]
            row.level = min(row.level, len(path) - 1)
            del path[row.level + 1 :]
            path.append(row.outcome.name.casefold())
            known = row.outcome.task or self.paths.get(tuple(path), "")
            if known and self.plan.tasks[known].project == row.project:
                row.outcome.task, row.outcome.action = known, Action.CHANGE
            else:
                wanted = row.said.get("id")
                is_free = isinstance(wanted, str) and wanted and wanted not in self.plan.tasks and len(wanted) < 200
                row.outcome.task = wanted if is_free else new_id()  # type: ignore[assignment]

    # Editing

    def tasks_edit(self, rows: list[_Row]) -> Edit:
        begun = self._begins(rows)

        def change(draft: Draft) -> None:
            for project in self.new_projects.values():
                draft.put(replace(project, start=begun.get(project.id, project.start)))
            new = self._new_tasks(draft, rows)
            for row in rows:
                known = draft.get("tasks", row.outcome.task) or new[row.outcome.task]
                draft.put(self._said(known, row.said))

        return Edit("Import", change)

    @staticmethod
    def _new_tasks(draft: Draft, rows: list[_Row]) -> dict[str, Task]:
        """The rows that are no tasks yet, each behind what is below the same summary already."""
        below: dict[tuple[str, str | None], list[str]] = {}
        above: list[str] = []
        for row in rows:
            del above[row.level :]
            parent = above[-1] if above else None
            if draft.get("tasks", row.outcome.task) is None:
                below.setdefault((row.project, parent), []).append(row.outcome.task)
            above.append(row.outcome.task)
        found = {}
        for (project, parent), ids in below.items():
            siblings = draft.children_of(project, parent)
            last = draft.task(siblings[-1]).rank if siblings else None
            for task_id, rank in zip(ids, ranks_between(last, None, len(ids)), strict=True):
                found[task_id] = Task(task_id, project, "", rank, parent=parent)
        return found

    @staticmethod
    def _begins(rows: list[_Row]) -> dict[str, int]:
        """A new project begins with the first of the dates that its rows say."""
        found: dict[str, int] = {}
        for row in rows:
            if row.begins is not None:
                found[row.project] = min(row.begins, found.get(row.project, row.begins))
        return found

    def _said(self, task: Task, said: Mapping[str, Any]) -> Task:
        """What the file does not speak of stays as it is."""
        changed = {name: said[name] for name in _PLAIN if name in said}
        if "start" in said:
            others = tuple(x for x in task.limits if x.kind is not LimitKind.START_NO_EARLIER)
            same = [x for x in task.limits if x.kind is LimitKind.START_NO_EARLIER and x.at == said["start"]]
            limit = same[0] if same else Limit(LimitKind.START_NO_EARLIER, said["start"])
            changed["limits"] = (*others, limit) if not same else task.limits
        if "fields" in said:
            kept = {**dict(task.fields), **said["fields"]}
            changed["fields"] = tuple((k, v) for k, v in kept.items() if v is not None)
        return replace(task, **changed)

    def people_edit(self, rows: list[_Row]) -> Edit:
        """People who are named and not known yet."""
        known = {r.initials.casefold() for r in self.plan.resources.values()}
        known |= {r.name.casefold() for r in self.plan.resources.values()}
        last = self.plan.resources_in_order()
        said = dict.fromkeys(row.who for row in rows)
        names = dict.fromkeys(name for who in said for name in _names(who) if name.casefold() not in known)
        names = dict(list(names.items())[:MOST_RESOURCES])
        ranks = ranks_between(last[-1].rank if last else None, None, len(names))
        added = [
            Resource(new_id(), name, rank, initials=name if re.fullmatch(r"[A-Z]{2,4}\d?", name) else "")
            for name, rank in zip(names, ranks, strict=True)
        ]
        self.resources = {r.name.casefold(): r for r in added}

        def change(draft: Draft) -> None:
            for resource in added:
                draft.put(resource)

        return Edit("Import", change)

    def ties_edit(self, plan: Plan, rows: list[_Row], goes_on: Callable[[int], None]) -> Edit:
        """Links and who works on it; what cannot be understood is told with its row."""
        by_number = {(row.project, row.number.rstrip(".")): row.outcome.task for row in rows if row.number}
        by_id = {str(row.said["id"]): row.outcome.task for row in rows if "id" in row.said}
        puts: list[Link | Assignment] = []
        known = known_people(plan)
        read: dict[str, list[Assignment]] = {}  # what a text means for a task on which nobody works yet
        for i, row in enumerate(rows):
            goes_on(i)
            task_id = row.outcome.task
            if row.links.strip():
                try:
                    puts += self._links(plan, task_id, row.links, by_number, by_id)
                except HexapodError as error:
                    row.outcome.troubles.append(f"{title_of(ImportedField.LINKS)}: {error}")
            if row.who.strip() and not plan.is_summary(task_id):
                try:
                    if plan.assigned.get(task_id):
                        puts += parse_assignments(plan, task_id, _with_commas(row.who), known)
                        continue
                    if row.who not in read:
                        read[row.who] = parse_assignments(plan, task_id, _with_commas(row.who), known)
                    puts += [replace(a, task=task_id) for a in read[row.who]]
                except HexapodError as error:
                    row.outcome.troubles.append(f"{title_of(ImportedField.WHO)}: {error}")

        def change(draft: Draft) -> None:
            for record in puts:
                draft.put(record)

        return Edit("Import", change)

    def _links(
        self, plan: Plan, task_id: str, text: str, by_number: Mapping[tuple[str, str], str], by_id: Mapping[str, str]
    ) -> list[Link]:
        """As they are typed; numbers and ids are those of the file."""
        found = []
        for piece in re.split(r"[,;]", text):
            words = piece.strip().split(" ", 1)
            if not words[0]:
                continue
            home = plan.tasks[task_id].project
            other = by_number.get((home, words[0].rstrip("."))) or by_id.get(words[0])
            if other is None:
                found += parse_links(plan, task_id, piece)
                continue
            found.append(parse_link(plan, other, task_id, words[1] if len(words) > 1 else ""))
        return found


class ImportStopped(HexapodError):
    """Whoever watched an import asked it to stop; nothing was changed."""


Watch = Callable[[int, int], bool]  # rows read, rows in all; False stops


def propose(
    plan: Plan,
    project: str,
    sheet: Sheet,
    mapping: ColumnMap,
    read_date: Reader = parse_moment,
    watch: Watch = lambda read, total: True,
) -> ImportProposal:
    """What importing a sheet would do; nothing is changed. ``edit`` is None if it would change nothing.

    ``ImportStopped`` as soon as ``watch`` says so.
    """
    job = _Import(plan, project, read_date)
    rows: list[_Row] = []
    total = len(sheet.rows)

    def goes_on(read: int) -> None:
        if read % 200 == 0 and not watch(read, total):
            raise ImportStopped("The import was stopped; nothing was changed.")

    with uncollected():
        for row in job.rows(sheet, mapping):
            rows.append(row)
            goes_on(len(rows))
        return _proposed(job, plan, sheet, rows, goes_on)


def _proposed(
    job: _Import, plan: Plan, sheet: Sheet, rows: list[_Row], goes_on: Callable[[int], None]
) -> ImportProposal:
    job.placed(rows)
    good = [row for row in rows if row.outcome.action is not Action.UNREADABLE]
    after = edits.together("", [job.tasks_edit(good), job.people_edit(good)]).applied_to(plan)
    goes_on(0)
    after = job.ties_edit(after, good, goes_on).applied_to(after)
    outcomes = [row.outcome for row in rows]
    for row in good:
        before = plan.tasks.get(row.outcome.task)
        if before is not None and alike(plan, after, row.outcome.task):
            row.outcome.action = Action.SAME
    if after == plan:
        return ImportProposal(outcomes, (), None)
    made = edits.to_plan(f"Import {count_of(len(good), 'row')} from “{sheet.name}”", plan, after)
    return ImportProposal(outcomes, tuple(r.name for r in job.resources.values()), made)


def alike(plan: Plan, after: Plan, task_id: str) -> bool:
    """Whether a task is the same in two plans, its links and who works on it included."""
    same = plan.tasks[task_id] == after.tasks[task_id]
    return (
        same
        and plan.links_into(task_id) == after.links_into(task_id)
        and (plan.assignments_of(task_id) == after.assignments_of(task_id))
    )


def _text(cell: Cell) -> str:
    if cell is None:
        return ""
    if isinstance(cell, float):
        return f"{cell:.10g}"
    if isinstance(cell, datetime):
        return cell.strftime("%Y-%m-%d %H:%M")
    return str(cell)


def _percent_text(cell: Cell) -> str:
    """As it is written; a number up to 1 with a fraction is the part that a spreadsheet shows as per cent."""
    return str(round(cell * 100, 2)) if isinstance(cell, float) and 0 < cell < 1 else _text(cell)


def _names(text: str) -> list[str]:
    """The people of a cell: parted by commas, without their shares."""
    found = []
    for part in re.split(r"[,;/&\n]", text):
        name = re.sub(r"\s*(\d+([.,]\d+)?\s*%|[×x]\d+([.,]\d+)?)$", "", part.strip())
        if name and len(name) < 200:
            found.append(name)
    return found


def _with_commas(text: str) -> str:
    """The cell with commas between people."""
    return ", ".join(part.strip() for part in re.split(r"[,;/&\n]", text) if part.strip())
