"""What texts that are typed into fields mean: the edits behind the table."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from typing import Any

from msgspec.structs import replace

from hexapod.errors import BadText
from hexapod.fields.assignment_text import parse_assignments
from hexapod.fields.estimate_text import echo_of, estimate_words, looks_like_a_range, read_estimate
from hexapod.fields.field import DateTexts, Texts
from hexapod.fields.link_text import parse_links
from hexapod.fields.reading import Reading
from hexapod.plan import edits
from hexapod.plan.edits import Edit
from hexapod.plan.edits.edit import quoted
from hexapod.plan.priorities import read_priority
from hexapod.plan.records import LimitKind
from hexapod.system.words import count_of
from hexapod.worktime.calendars import BUILT_IN, units_of
from hexapod.worktime.lengths import Units, format_duration, parse_duration

ASSUMED = "say "  # before a length that nobody has said


def rename(texts: Texts, tasks: Sequence[str], text: str) -> Edit:
    if not text.strip():
        raise BadText("A row needs a name. Delete the row if it is not wanted.")
    return edits.rename(texts.plan, tasks[0], text.strip())


def length_of(texts: Texts, task_id: str) -> str:
    task = texts.plan.tasks[task_id]
    return format_duration(task.minutes, task.elapsed, units_of(texts.plan, task.project))


def set_stage(texts: Texts, tasks: Sequence[str], text: str) -> Edit:
    """The stage of a name, which puts a row on the board; nothing takes it off."""
    plan, wanted = texts.plan, text.strip().casefold()
    if not wanted:
        return edits.put_on_board(plan, tasks, False)
    found = next((stage for stage in plan.stages.values() if stage.name.casefold() == wanted), None)
    if found is None:
        named = ", ".join(stage.name for stage in plan.stages_in_order()) or "none yet"
        raise BadText(f"There is no stage “{text.strip()[:60]}”. The stages are: {named}.")
    return edits.put_in_stage(plan, [t for t in tasks if not plan.is_summary(t)], found.id)


def parse_own_duration(units: Units, text: str) -> tuple[int, bool]:
    """Minutes, and whether they are elapsed time."""
    return parse_duration(text.strip().removeprefix(ASSUMED).removesuffix("?"), units)


def set_duration(texts: Texts, tasks: Sequence[str], text: str) -> Edit:
    plan = texts.plan
    if plan.is_summary(tasks[0]):
        raise BadText("A summary lasts as long as its parts; change theirs.")
    if text.strip() in ("", "?", f"{ASSUMED}{length_of(texts, tasks[0])}"):
        return edits.set_durations(plan, list(tasks), None)
    if looks_like_a_range(text):
        return set_estimate(texts, tasks, text)
    minutes, elapsed = parse_own_duration(units_of(plan, plan.tasks[tasks[0]].project), text)
    return edits.set_durations(plan, list(tasks), minutes, elapsed=elapsed)


def set_estimate(texts: Texts, tasks: Sequence[str], text: str) -> Edit:
    """Best and worst, with or without what is likely; nothing takes them back."""
    plan = texts.plan
    if plan.is_summary(tasks[0]):
        raise BadText("A summary lasts as long as its parts; estimate those.")
    if not text.strip():
        return edits.set_estimates(plan, tasks, ())
    estimate, elapsed = read_estimate(text, units_of(plan, plan.tasks[tasks[0]].project))
    return edits.set_estimates(plan, tasks, estimate, elapsed=elapsed)


def estimate_of(texts: Texts, task_id: str) -> str:
    task = texts.plan.tasks[task_id]
    return estimate_words(task.estimate, task.elapsed, units_of(texts.plan, task.project)) if task.estimate else ""


def echo_estimate(texts: Texts, task_id: str, text: str) -> str:
    task = texts.plan.tasks[task_id]
    units = units_of(texts.plan, task.project)
    estimate, elapsed = read_estimate(text, units)
    return echo_of(estimate, task.minutes, elapsed, units)


def echo_duration(texts: Texts, task_id: str, text: str) -> str:
    if looks_like_a_range(text):
        return echo_estimate(texts, task_id, text)
    units = units_of(texts.plan, texts.plan.tasks[task_id].project)
    minutes, elapsed = parse_own_duration(units, text)
    shown = format_duration(minutes, elapsed, units)
    hours = f"{minutes / 60:.1f}".rstrip("0").rstrip(".")
    return f"{shown}, {hours} hours of work" if minutes and not elapsed else shown or "a milestone"


def set_start(texts: Texts, tasks: Sequence[str], text: str) -> Edit:
    return _set_limit(texts, tasks, text, LimitKind.START_NO_EARLIER)


def set_finish(texts: Texts, tasks: Sequence[str], text: str) -> Edit:
    return _set_limit(texts, tasks, text, LimitKind.FINISH_NO_EARLIER)


def _set_limit(texts: Texts, tasks: Sequence[str], text: str, kind: LimitKind) -> Edit:
    """A typed date is a limit, and says so; nothing lifts it."""
    plan, ends = texts.plan, kind is LimitKind.FINISH_NO_EARLIER
    if plan.is_summary(tasks[0]):
        raise BadText(f"A summary {'ends with its last' if ends else 'starts with its first'} part; change that.")
    names = quoted([plan.tasks[t].name for t in tasks], "tasks")
    if not text.strip():
        lifted = [edits.set_limit(plan, t, kind, None) for t in tasks]
        return edits.together(f"Lift a limit of {names}", lifted)
    at = texts.dates.read(text, ends=ends)
    verb = ("finishes" if ends else "starts") if len(tasks) == 1 else ("finish" if ends else "start")
    limits = [edits.set_limit(plan, t, kind, at) for t in tasks]
    return edits.together(f"{names} {verb} not before {texts.dates.long(at)}", limits)


def echo_start(texts: Texts, task_id: str, text: str) -> str:
    return f"not before {texts.dates.long(texts.dates.read(text))}"


def echo_finish(texts: Texts, task_id: str, text: str) -> str:
    return f"not before {texts.dates.long(texts.dates.read(text, ends=True))}"


def echo_date(texts: Texts, task_id: str, text: str) -> str:
    return texts.dates.long(texts.dates.read(text, ends=True))


def set_links(texts: Texts, tasks: Sequence[str], text: str) -> Edit:
    return edits.set_links(texts.plan, tasks[0], parse_links(texts.plan, tasks[0], text))


def set_who(texts: Texts, tasks: Sequence[str], text: str) -> Edit:
    plan = texts.plan
    if plan.is_summary(tasks[0]) and text.strip():
        raise BadText("A summary is done by whoever does its parts; assign those.")
    wanted = parse_assignments(plan, tasks[0], text)
    each = [edits.set_assignments(plan, t, [replace(a, task=t) for a in wanted]) for t in tasks]
    return each[0] if len(each) == 1 else edits.together(f"Assign {count_of(len(each), 'task')}", each)


def parse_priority(texts: Texts, text: str) -> int:
    return read_priority(text)


def parse_percent(texts: Texts, text: str) -> float:
    said = text.strip().removesuffix("%").strip().replace(",", ".")
    try:
        percent = float(said or 0)
    except ValueError:
        percent = -1.0
    if not 0 <= percent <= 100:
        raise BadText("How much is done is a number from 0 to 100.")
    return percent


def set_percent(texts: Texts, tasks: Sequence[str], text: str) -> Edit:
    percent = parse_percent(texts, text)
    return edits.set_percent(texts.plan, list(tasks), percent)


def parse_target(texts: Texts, text: str) -> int | None:
    return texts.dates.read(text, ends=True) if text else None


def parse_calendar(texts: Texts, text: str) -> str | None:
    if not text:
        return None
    known = {c.name.casefold(): c.id for c in [*BUILT_IN.values(), *texts.plan.calendars.values()]}
    if text.casefold() not in known:
        raise BadText(f"There is no calendar “{text}”; there are {', '.join(sorted(known))}.")
    return known[text.casefold()]


def parse_tags(texts: Texts, text: str) -> tuple[str, ...]:
    """Words, parted by commas or semicolons, each once."""
    return tuple(dict.fromkeys(t.strip() for t in text.replace(";", ",").split(",") if t.strip()))


def set_tags(texts: Texts, tasks: Sequence[str], text: str) -> Edit:
    return edits.set_tags(texts.plan, list(tasks), text.split(","))


def outside_typed(reading: Reading, dates: DateTexts) -> str:
    """The mark of the row itself; nothing where it is seen as what is above it."""
    return {None: "", True: "yes", False: "no"}[reading.task.outside]


def set_outside(texts: Texts, tasks: Sequence[str], text: str) -> Edit:
    """Whether people outside may see rows: yes, no, or nothing, as what is above them."""
    said = text.strip().casefold()
    marks = {"": None, "yes": True, "y": True, "no": False, "n": False}
    if said not in marks:
        raise BadText("Whether it is seen outside is yes, no, or nothing: as what is above it.")
    return edits.mark_tasks(texts.plan, list(tasks), marks[said])


def as_it_stands(texts: Texts, text: str) -> str:
    return text


def set_plain(name: str, parse: Callable[[Texts, str], Any]) -> Callable[[Texts, Sequence[str], str], Edit]:
    """The edit of a field that is one value of the record, in a name of the record."""

    def edit(texts: Texts, tasks: Sequence[str], text: str) -> Edit:
        plan = texts.plan
        value = parse(texts, text.strip())
        each = [edits.set_task(plan, t, f"Change “{plan.tasks[t].name}”", **{name: value}) for t in tasks]
        return each[0] if len(each) == 1 else edits.together(f"Change {len(each)} tasks", each)

    return edit
