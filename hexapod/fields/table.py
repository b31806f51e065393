"""Every field of a task, one entry each. A new column, export, import heading or query name is an entry here."""

from __future__ import annotations

from collections.abc import Callable

from hexapod.expressions.values import Kind, Value
from hexapod.fields import actual, hearing, typing
from hexapod.fields.assignment_text import format_assignments
from hexapod.fields.deliverable_text import count_owed, deliverables_text
from hexapod.fields.field import DateTexts, PlanField, Texts
from hexapod.fields.link_text import format_links
from hexapod.fields.reading import Reading
from hexapod.plan.boarding import stage_of
from hexapod.plan.edits.hours import hours_words
from hexapod.plan.outline import number_of, stream_of
from hexapod.plan.outside import is_outside
from hexapod.plan.priorities import USUAL, priority_words
from hexapod.plan.records import LimitKind, ResourceKind, TaskKind
from hexapod.schedule.effort import effort_of
from hexapod.schedule.states import State
from hexapod.worktime.calendars import find_calendar
from hexapod.worktime.clock import today
from hexapod.worktime.lengths import format_length


def _date(name: str) -> Callable[[Reading], Value]:
    return lambda r: r.date(name)


def _flag(name: str) -> Callable[[Reading], Value]:
    return lambda r: bool(r.date(name))


def _typed_day(name: str) -> Callable[[Reading, DateTexts], str]:
    def typed(reading: Reading, dates: DateTexts) -> str:
        at = reading.date(name)
        return "" if at is None else dates.typed(at).split(" ")[0]

    return typed


def _duration_text(reading: Reading, dates: DateTexts) -> str:
    task = reading.task
    if reading.is_summary or task.kind is TaskKind.SPAN:
        length = reading.date("duration")
        return "" if length is None else format_length(length, reading.units)
    assumed = typing.ASSUMED if task.duration is None and task.minutes else ""
    return assumed + typing.length_of(Texts(reading.plan), task.id)


def _duration_typed(reading: Reading, dates: DateTexts) -> str:
    return "" if reading.task.duration is None else typing.length_of(Texts(reading.plan), reading.task.id)


def _drives(reading: Reading) -> float | None:
    """In how many of a hundred rounds it had no float left; None where no rounds are known."""
    found = reading.troubles.drives.get(reading.task.id)
    return None if found is None else 100 * found


def _estimate(reading: Reading) -> str:
    return "" if reading.is_summary else typing.estimate_of(Texts(reading.plan), reading.task.id)


def _links(reading: Reading) -> str:
    return format_links(reading.plan, reading.task.id) if reading.plan.is_whole else ""


def _assignments(reading: Reading, dates: DateTexts) -> str:
    return format_assignments(reading.plan, reading.task.id) if reading.plan.is_whole else ""


def _priority_text(reading: Reading, dates: DateTexts) -> str:
    """In words; nothing where it is as usual, which is nearly everywhere."""
    return "" if reading.task.priority == USUAL else priority_words(reading.task.priority)


def _target_typed(reading: Reading, dates: DateTexts) -> str:
    return "" if reading.task.target is None else dates.typed(reading.task.target)


def _calendar(reading: Reading) -> str:
    own = reading.task.calendar
    return find_calendar(reading.plan.calendars, own).name if own else ""


def _limit(reading: Reading, name: str) -> Value:
    found = [limit.at for limit in reading.task.limits if limit.kind.value.startswith(name)]
    return max(found) if found else None


def _not_before(reading: Reading) -> Value:
    found = [x.at for x in reading.task.limits if x.kind is LimitKind.START_NO_EARLIER]
    return found[0] if found else None


def _interfering(reading: Reading) -> Value:
    total, free = reading.date("total_float"), reading.date("free_float")
    return None if total is None or free is None else total - free


def _independent(reading: Reading) -> Value:
    if reading.independent is None:
        return None
    return int(reading.independent[reading.schedule.slots[reading.task.id]])


def _is_near_critical(reading: Reading) -> Value:
    room = reading.date("total_float")
    if room is None or reading.date("critical"):
        return False
    return room <= reading.plan.projects[reading.task.project].near_critical_float


def _state(reading: Reading) -> Value:
    found = reading.computed_dates
    return None if found is None else found.state_of(reading.task.id).value


def _is_ready(reading: Reading) -> Value:
    return _state(reading) == State.READY.value


def _is_late(reading: Reading) -> Value:
    found = reading.computed_dates
    return None if found is None else found.late_of(reading.task.id) is not None


def _late_by(reading: Reading) -> Value:
    found = reading.computed_dates
    late = None if found is None else found.late_of(reading.task.id)
    return None if late is None else late[1]


def _how_late(reading: Reading) -> Value:
    found = reading.computed_dates
    late = None if found is None else found.late_of(reading.task.id)
    return None if late is None else late[0].value.replace("_", " ")


def _stage(reading: Reading) -> Value:
    """The stage of a card; nothing of a row that is none."""
    if reading.is_summary or not reading.task.on_board:
        return ""
    found = stage_of(reading.plan.stages_in_order(), reading.task)
    return "" if found is None else found.name


def _remaining(reading: Reading) -> Value:
    """What is left of a leaf that has begun; of one that has not it is its duration."""
    if reading.is_summary:
        return None
    return reading.task.rest if reading.task.actual_start is not None else reading.date("duration")


def _remaining_typed(reading: Reading, dates: DateTexts) -> str:
    left = reading.task.rest
    return format_length(left, reading.units) if reading.task.is_begun else ""


def _actual(name: str) -> Callable[[Reading], Value]:
    return lambda r: None if r.is_summary else getattr(r.task, name)


def _actual_typed(name: str) -> Callable[[Reading, DateTexts], str]:
    def typed(reading: Reading, dates: DateTexts) -> str:
        at = getattr(reading.task, name)
        return "" if at is None else dates.typed(at)

    return typed


def _people(reading: Reading, part: str = "name", kind: ResourceKind | None = None) -> str:
    found = (reading.plan.resources[x] for x in reading.plan.assigned.get(reading.task.id, ()))
    return ", ".join(getattr(x, part) for x in found if kind is None or x.kind is kind)


def _drift(end: str) -> Callable[[Reading], Value]:
    def read(reading: Reading) -> Value:
        found = reading.computed_dates
        drift = None if found is None or not reading.plan.is_whole else found.drifts.get(reading.task.id)
        return None if drift is None else int(getattr(drift, end))

    return read


def _then(end: str) -> Callable[[Reading], Value]:
    def read(reading: Reading) -> Value:
        found = reading.computed_dates
        row = None if found is None or not reading.plan.is_whole else found.baseline_rows.get(reading.task.id)
        return None if row is None else int(getattr(row, end))

    return read


def _drift_text(end: str) -> Callable[[Reading, DateTexts], str]:
    """With its sign, so that sooner and later are told apart at a glance."""

    def text(reading: Reading, dates: DateTexts) -> str:
        drift = _drift(end)(reading)
        if not drift:
            return "" if drift is None else "–"
        return f"{'+' if int(drift) > 0 else ''}{format_length(int(drift), reading.units)}"

    return text


def _logged(reading: Reading) -> Value:
    """Minutes that are logged on a row and below it, but for sheets that are sent back."""
    plan = reading.plan
    if not plan.is_whole:
        return None
    rows = plan.branch(reading.task.id) if reading.is_summary else [reading.task.id]
    logs = (plan.logs[x] for row in rows for x in plan.logs_on.get(row, ()))
    return sum(log.minutes for log in logs if plan.counts(log))


def _spent_text(reading: Reading, dates: DateTexts) -> str:
    minutes = _logged(reading)
    return hours_words(int(minutes)) if minutes else ""


FIELDS: tuple[PlanField, ...] = (
    PlanField("id", "Id", Kind.TEXT, lambda r: r.task.id, in_files=True,
              headings=("id", "uid", "key", "reference", "ref")),
    PlanField("project", "Project", Kind.TEXT, lambda r: r.plan.projects[r.task.project].name, in_files=True,
              headings=("project",)),
    PlanField("number", "#", Kind.TEXT, lambda r: r.number or number_of(r.plan, r.task.id), width=40, in_files=True,
              headings=("#", "no", "no.", "nr", "number", "outline number", "wbs", "code")),
    PlanField("level", "Level", Kind.NUMBER, lambda r: len(r.plan.ancestors(r.task.id)) + 1,
              headings=("level", "indent", "depth")),
    PlanField("name", "Task", Kind.TEXT, lambda r: r.task.name, width=196, in_files=True, hint="The name of the row",
              typed=lambda r, dates: r.task.name, edit=typing.rename, many=False,
              headings=("name", "task", "task name", "activity", "description", "title", "what", "summary",
                        "work package")),
    PlanField("duration", "Duration", Kind.LENGTH, _date("duration"), width=60, in_files=True,
              hint="3, 3d, 4h, 2w or 1.5 d; 0 is a milestone; 3-8 d is a range", text=_duration_text,
              typed=_duration_typed, edit=typing.set_duration, echo=typing.echo_duration,
              headings=("duration", "length", "days", "how long", "dur", "effort days")),
    PlanField("estimate", "Best and worst", Kind.TEXT, _estimate, "estimate", width=110, in_files=True,
              hint="3-8 d, or with what is likely between: 3 5 9 d", typed=lambda r, dates: _estimate(r),
              edit=typing.set_estimate, echo=typing.echo_estimate,
              headings=("best and worst", "estimate", "range", "three points")),
    PlanField("start", "Start", Kind.DATE, _date("start"), width=84, in_files=True,
              hint="fri, 15 sep, in 3 days, 2026-09-07: sets “not before”", typed=_typed_day("start"),
              edit=typing.set_start, echo=typing.echo_start,
              headings=("start", "begin", "begins", "from", "start date", "starts")),
    PlanField("finish", "Finish", Kind.DATE, _date("finish"), width=86, in_files=True,
              hint="fri, end of oct, +2w: sets “finishes not before”", typed=_typed_day("finish"),
              edit=typing.set_finish, echo=typing.echo_finish,
              headings=("finish", "end", "ends", "to", "until", "finish date", "end date", "due", "done by")),
    PlanField("not_before", "Not before", Kind.DATE, _not_before, in_files=True,
              headings=("not before", "no earlier than", "earliest start")),
    PlanField("links", "Waits for", Kind.TEXT, _links, "waits for", width=78, in_files=True,
              hint="3.2, 3.2 SS, 3.2 2 d later, or a name", typed=lambda r, dates: _links(r), edit=typing.set_links,
              many=False, completes="tasks",
              headings=("waits for", "after", "predecessor", "predecessors", "depends on", "needs")),
    PlanField("who", "Who", Kind.TEXT, _people, width=70, in_files=True,
              hint="Initials, with a share: MO TB 50%, SL", text=_assignments, typed=_assignments, edit=typing.set_who,
              completes="resources",
              headings=("who", "person", "people", "assigned", "assigned to", "owner", "resource", "resources", "by")),
    PlanField("float", "Float", Kind.LENGTH, _date("total_float"), width=58, in_files=True),
    PlanField("free_float", "Free float", Kind.LENGTH, _date("free_float"), width=74, in_files=True),
    PlanField("early_start", "Earliest start", Kind.DATE, _date("early_start"), "early start", width=84),
    PlanField("early_finish", "Earliest finish", Kind.DATE, _date("early_finish"), "early finish", width=84),
    PlanField("late_start", "Latest start", Kind.DATE, _date("late_start"), width=84, in_files=True),
    PlanField("late_finish", "Latest finish", Kind.DATE, _date("late_finish"), width=84, in_files=True),
    PlanField("independent", "Independent float", Kind.LENGTH, _independent, "independent float", width=74),
    PlanField("interfering", "Interfering float", Kind.LENGTH, _interfering, "interfering float", width=74),
    PlanField("stream", "Stream", Kind.TEXT, lambda r: stream_of(r.plan, r.task.id), width=84, in_files=True,
              hint="Department, phase or trade", text=lambda r, dates: r.task.stream,
              typed=lambda r, dates: r.task.stream, parse=typing.as_it_stands,
              edit=typing.set_plain("stream", typing.as_it_stands), summaries=True,
              headings=("stream", "department", "phase", "trade", "team")),
    PlanField("priority", "Priority", Kind.NUMBER, lambda r: r.task.priority, width=96, in_files=True, right=False,
              hint="Which comes first in levelling: 1, first of all, to 9, last of all", text=_priority_text,
              typed=lambda r, dates: str(r.task.priority), parse=typing.parse_priority,
              edit=typing.set_plain("priority", typing.parse_priority), headings=("priority", "prio")),
    PlanField("percent", "Done", Kind.NUMBER, lambda r: r.percent(), "done", width=52, in_files=True,
              hint="How much is done, in per cent", text=lambda r, dates: f"{r.percent():.0f} %",
              typed=lambda r, dates: f"{r.task.percent:g}", parse=typing.parse_percent, edit=typing.set_percent,
              exported=lambda r: r.task.percent, summaries=True, also=("percent",),
              headings=("done", "percent", "% done", "percent complete", "% complete", "complete", "progress")),
    PlanField("remaining", "Left", Kind.LENGTH, _remaining, "left", width=58, in_files=True,
              hint="What is left of the work: 3d, 4h; 0 is done", typed=_remaining_typed, edit=actual.set_remaining,
              echo=actual.echo_remaining, also=("remaining",),
              headings=("left", "remaining", "remaining duration", "rest", "to go")),
    PlanField("actual_start", "Began", Kind.DATE, _actual("actual_start"), "actual start", width=84, in_files=True,
              hint="When it began: fri, 15 sep, yesterday", typed=_actual_typed("actual_start"),
              edit=actual.set_actual_start, echo=actual.echo_actual_start, summaries=True,
              headings=("began", "actual start", "started", "started on", "actual start date")),
    PlanField("actual_finish", "Ended", Kind.DATE, _actual("actual_finish"), "actual finish", width=84, in_files=True,
              hint="When it ended: fri, 15 sep, yesterday", typed=_actual_typed("actual_finish"),
              edit=actual.set_actual_finish, echo=actual.echo_actual_finish, summaries=True,
              headings=("ended", "actual finish", "finished", "completed", "completed on", "actual finish date")),
    PlanField("as_of", "Told as of", Kind.DATE, _actual("as_of"), "as of", width=84),
    PlanField("state", "State", Kind.TEXT, _state, width=84),
    PlanField("ready", "Ready", Kind.YES_NO, _is_ready, width=52),
    PlanField("late", "Late", Kind.YES_NO, _is_late, width=52),
    PlanField("late_by", "Late by", Kind.LENGTH, _late_by, width=58),
    PlanField("how_late", "How late", Kind.TEXT, _how_late, width=84),
    PlanField("also_told", "Also told", Kind.TEXT, lambda r: hearing.also_told_text(r.plan, r.task), width=84,
              hint="Names or initials, parted by commas", edit=hearing.set_also_told,
              typed=lambda r, dates: hearing.also_told_text(r.plan, r.task)),
    PlanField("reminders", "Reminders", Kind.TEXT, lambda r: hearing.reminders_text(r.task), width=84,
              hint="Days before its finish: 10 d, 2 d", edit=hearing.set_reminders,
              typed=lambda r, dates: hearing.reminders_text(r.task)),
    PlanField("stage", "Stage", Kind.TEXT, _stage, width=90, hint="The name of a stage, or nothing",
              edit=typing.set_stage),
    PlanField("on_board", "On the board", Kind.YES_NO, lambda r: r.task.on_board and not r.is_summary, width=64),
    PlanField("calendar", "Calendar", Kind.TEXT, _calendar, width=90, hint="The name of a calendar, or nothing",
              typed=lambda r, dates: _calendar(r),
              edit=typing.set_plain("calendar", typing.parse_calendar), summaries=True),
    PlanField("tags", "Tags", Kind.TEXT, lambda r: ", ".join(r.task.tags), width=90, in_files=True,
              hint="Words, parted by commas", typed=lambda r, dates: ", ".join(r.task.tags),
              parse=typing.parse_tags, edit=typing.set_tags, summaries=True,
              headings=("tags", "tag", "labels", "keywords")),
    PlanField("outside", "Seen outside", Kind.YES_NO, lambda r: is_outside(r.plan, r.task.id), width=84,
              hint="yes, no, or nothing: as what is above it", typed=typing.outside_typed,
              edit=typing.set_outside, summaries=True),
    PlanField("target", "Wanted by", Kind.DATE, lambda r: r.task.target, width=84, in_files=True,
              hint="A target date", typed=_target_typed,
              edit=typing.set_plain("target", typing.parse_target), echo=typing.echo_date,
              headings=("wanted by", "target", "target date", "deadline")),
    PlanField("delivers", "Hands over", Kind.TEXT, deliverables_text, "hands over", width=140),
    PlanField("owed", "Still owed", Kind.NUMBER, count_owed, "still owed", width=72,
              text=lambda r, dates: str(count_owed(r) or "")),
    PlanField("work", "Work", Kind.LENGTH, lambda r: round(
        sum(effort_of(r.plan, a) for a in r.plan.assignments_of(r.task.id))), width=62),
    PlanField("logged", "Logged", Kind.LENGTH, _logged, width=62, text=_spent_text),
    PlanField("drift", "Drift", Kind.LENGTH, _drift("finish"), width=62, text=_drift_text("finish")),
    PlanField("start_drift", "Drift of start", Kind.LENGTH, _drift("start"), width=74, text=_drift_text("start")),
    PlanField("start_then", "Start then", Kind.DATE, _then("start"), width=84),
    PlanField("finish_then", "Finish then", Kind.DATE, _then("finish"), width=84),
    PlanField("role", "Role", Kind.TEXT, lambda r: _people(r, kind=ResourceKind.ROLE), width=84),
    PlanField("initials", "Initials", Kind.TEXT, lambda r: _people(r, "initials")),
    PlanField("people", "People", Kind.NUMBER, lambda r: len(r.plan.assigned.get(r.task.id, ())), width=52),
    PlanField("notes", "Notes", Kind.TEXT, lambda r: r.task.notes, width=140, in_files=True,
              text=lambda r, dates: r.task.notes.split("\n")[0], parse=typing.as_it_stands,
              headings=("notes", "note", "remarks", "comment", "comments")),
    PlanField("summary", "Summary", Kind.YES_NO, lambda r: r.is_summary),
    PlanField("milestone", "Milestone", Kind.YES_NO,
              lambda r: r.task.kind is TaskKind.MILESTONE or r.task.minutes == 0),
    PlanField("critical", "Critical", Kind.YES_NO, _flag("critical"), width=58),
    PlanField("near_critical", "Near critical", Kind.YES_NO, _is_near_critical),
    PlanField("criticality", "Drives", Kind.NUMBER, _drives, width=58,
              text=lambda r, dates: "" if (found := _drives(r)) is None else f"{found:.0f} %"),
    PlanField("conflict", "Conflict", Kind.YES_NO, lambda r: r.task.id in r.troubles.conflicts),
    PlanField("overload", "Overload", Kind.YES_NO, lambda r: r.task.id in r.troubles.overloads),
    PlanField("must_start", "Must start", Kind.DATE, lambda r: _limit(r, "must_start")),
    PlanField("must_finish", "Must finish", Kind.DATE, lambda r: _limit(r, "must_finish")),
    PlanField("today", "Today", Kind.DATE, lambda r: today()),
)  # fmt: skip
BY_ID = {field.id: field for field in FIELDS}
