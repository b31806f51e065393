"""Many lines at once, such as the notes of a meeting: rows with levels, linked among each other and staffed."""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass, replace
from typing import TYPE_CHECKING

from hexapod.lines.clauses import Clause, Date, Fields, Links, Moment, Question
from hexapod.lines.edit import says, with_own_end
from hexapod.lines.known import FindRows, Known, ReadDate
from hexapod.lines.line import Line, perhaps_called, read_line
from hexapod.plan import edits
from hexapod.plan.edits import Edit
from hexapod.plan.outline import TextRow, rows_of_text, task_at
from hexapod.plan.plan import Plan
from hexapod.plan.records import Link
from hexapod.system import budgets
from hexapod.system.budgets import within
from hexapod.system.words import count_of

if TYPE_CHECKING:
    from hexapod.schedule.structure import LoopFound

ROUNDS = 6  # names are read until rows that name each other are all found
LOOPS = 100
OF_ITS_PARTS = Question("A summary has its length, people and dates from its parts.")


@dataclass(frozen=True)
class NotedRow:
    """A line and what it becomes. ``name_to`` is up to where it is a name, ``left_out`` says which links are not made
    and why."""

    task: str
    level: int
    line: Line
    name_to: int
    left_out: tuple[tuple[Link, str], ...] = ()

    @property
    def name(self) -> str:
        return self.line.name(self.name_to)

    @property
    def questions(self) -> list[Question]:
        return [c.question for c in self.line.clauses if c.question]

    @property
    def links(self) -> tuple[Link, ...]:
        """The links that it makes, both ends filled in."""
        out = {link.key for link, _ in self.left_out}
        made = (with_own_end(link, self.task) for link in self.line.fields(self.name_to).links)
        return tuple(link for link in made if link.key not in out)

    def fields(self) -> Fields:
        """What its line says, without the links that are left out."""
        return replace(self.line.fields(self.name_to), links=self.links)


@dataclass(frozen=True)
class Notes:
    """Rows to be put below ``after`` of a project."""

    plan: Plan
    project: str
    after: str | None
    rows: tuple[NotedRow, ...]

    @property
    def says_more_than_names(self) -> bool:
        return any(row.line.clauses for row in self.rows)

    def unknown(self) -> list[str]:
        """Initials that nobody has, each once."""
        asked = (name for row in self.rows for question in row.questions for name in question.unknown)
        return list(dict.fromkeys(asked))

    def with_name_to(self, index: int, name_to: int) -> Notes:
        """One line is taken in another way."""
        rows = list(self.rows)
        rows[index] = replace(rows[index], name_to=name_to, left_out=())
        return replace(self, rows=tuple(rows))

    def taken_as(self, other: Notes) -> Notes:
        """Each line in the way in which the same notes took it, read when less was known."""
        notes = self
        for i, (row, before) in enumerate(zip(self.rows, other.rows, strict=True)):
            if before.name_to >= len(before.line.text):
                notes = notes.with_name_to(i, len(row.line.text))
            elif before.name_to != before.line.usual:
                notes = notes.with_name_to(i, row.line.fullest)
        return notes

    def edit(self) -> Edit:
        """All rows with what their lines say, as one edit."""
        said = [says(row.fields(), row.task) for row in self.rows if row.line.taken(row.name_to)]
        return edits.together(f"Add {count_of(len(self.rows), 'row')}", [self.rows_only(), *said])

    def rows_only(self) -> Edit:
        """The rows with nothing but their names."""
        outline = [(row.level, row.name) for row in self.rows]
        return edits.add_rows(self.project, outline, self.after, ids=[row.task for row in self.rows])

    def without_loops(self) -> Notes:
        """The same without the links that close a loop: of each loop the last link of the notes is left out."""
        from hexapod.schedule.network import Network  # with its kernels, which a first paint must not wait for
        from hexapod.schedule.structure import LoopFound

        notes = _without_own_branch(self)
        for _ in range(LOOPS):
            plan = notes.edit().applied_to(notes.plan)
            try:
                Network.of(plan)
            except LoopFound as loop:
                notes = _without_last_of(notes, plan, loop)
            else:
                return notes
        return notes


def read_notes(
    text: str, plan: Plan, project: str, after: str | None, read_date: ReadDate,
    people: Mapping[str, str] | None = None, *, finds_loops: bool = True,
) -> Notes:  # fmt: skip
    """What pasted lines mean. ``OverBudget`` if they are too many. Finding loops needs the kernels of the passes.

    A row is named by the number that the notes give it, else by that of the plan, else by the one that it is going to
    have; or by its name. ``people`` are those whom the reader said that unknown initials mean.
    """
    within("What is pasted", text.count("\n") + 1, "lines", budgets.PASTED)
    lines = rows_of_text(text)
    ids = [edits.new_id() for _ in lines]
    outline = [(row.level, row.name) for row in lines]
    planned = edits.add_rows(project, outline, after, ids=ids).applied_to(plan)
    known = Known.of(plan, project, read_date)
    known = replace(
        known,
        people={**known.people, **{name.casefold(): r for name, r in (people or {}).items()}},
        numbers=_numbers(lines, ids, plan, planned, project),
    )
    is_summary = [i + 1 < len(lines) and lines[i + 1].level > row.level for i, row in enumerate(lines)]
    read = _read_until_names_stay(lines, ids, is_summary, known)
    rows = [NotedRow(t, row.level, line, line.usual) for t, row, line in zip(ids, lines, read, strict=True)]
    notes = Notes(plan, project, after, tuple(rows))
    return notes.without_loops() if finds_loops else notes


def _numbers(
    lines: Sequence[TextRow], ids: Sequence[str], plan: Plan, planned: Plan, project: str
) -> Callable[[str], str | None]:
    own: dict[str, str] = {}
    given = [row.number for row in lines if row.number]
    if len(set(given)) == len(given):
        own = {row.number: task for row, task in zip(lines, ids, strict=True) if row.number}
    return lambda number: own.get(number) or task_at(plan, project, number) or task_at(planned, project, number)


def _read_until_names_stay(
    lines: Sequence[TextRow], ids: Sequence[str], is_summary: Sequence[bool], known: Known
) -> list[Line]:
    """A line that waits for another names it as it is called once that one is read: ``after cables laid`` finds the
    row ``Cables laid 3d``, wherever it stands."""
    names = [perhaps_called(row.name) for row in lines]
    of_the_plan = known.rows
    perhaps = _also(names, ids, lambda _: ())  # where in the end no row is called so

    def before(name: str) -> Sequence[tuple[str, str]]:
        return of_the_plan(name) or perhaps(name)

    read: list[Line] = []
    for _ in range(ROUNDS):
        known = replace(known, rows=_also(names, ids, before))
        read = [
            _as_summary(line) if above else line
            for above, line in zip(
                is_summary,
                (read_line(row.name, replace(known, own=t)) for row, t in zip(lines, ids, strict=True)),
                strict=True,
            )
        ]
        now = [line.short_name(line.usual) for line in read]
        if now == names:
            break
        names = now
    return read


def _also(names: Sequence[str], ids: Sequence[str], before: FindRows) -> FindRows:
    """Rows that are called so here; else those of ``before``."""
    called: dict[str, list[tuple[str, str]]] = {}
    for task_id, name in zip(ids, names, strict=True):
        called.setdefault(name.casefold(), []).append((task_id, name))
    return lambda name: called.get(name) or before(name)


def _as_summary(line: Line) -> Line:
    """What a summary cannot have of its own stays in its name, and says so."""

    def asked(clause: Clause) -> Clause:
        is_target = isinstance(clause.meaning, Date) and clause.meaning.moment is Moment.BY
        if clause.question or is_target or isinstance(clause.meaning, Links):
            return clause
        return replace(clause, meaning=None, question=OF_ITS_PARTS)

    return replace(line, clauses=tuple(asked(clause) for clause in line.clauses))


def _left_out(notes: Notes, index: int, link: Link, why: str) -> Notes:
    rows = list(notes.rows)
    rows[index] = replace(rows[index], left_out=(*rows[index].left_out, (link, why)))
    return replace(notes, rows=tuple(rows))


def _without_own_branch(notes: Notes) -> Notes:
    """No row waits for a summary that it belongs to, or for a row below it."""
    plan = notes.rows_only().applied_to(notes.plan)
    for i, row in enumerate(notes.rows):
        for link in row.links:
            one, other = link.predecessor, link.successor
            if one in plan.ancestors(other) or other in plan.ancestors(one):
                notes = _left_out(notes, i, link, "A row cannot wait for a row above or below it in its own branch.")
    return notes


def _without_last_of(notes: Notes, plan: Plan, loop: LoopFound) -> Notes:
    """The last link of the notes that belongs to a loop is left out. Raises the loop where none of them does."""
    within_it = set(loop.tasks)
    for task_id in loop.tasks:
        within_it |= {*plan.ancestors(task_id), *plan.branch(task_id)}
    for i in range(len(notes.rows) - 1, -1, -1):
        for link in reversed(notes.rows[i].links):
            if link.predecessor in within_it and link.successor in within_it:
                return _left_out(notes, i, link, str(loop))
    raise loop
