"""The command line: everything that needs no screen, and the window."""

from __future__ import annotations

import argparse
import getpass
import os
import sys
from collections.abc import Callable
from pathlib import Path
from typing import TYPE_CHECKING, Any

import msgspec

from hexapod.arguments import parser
from hexapod.errors import BadFile, HexapodError
from hexapod.plan.outline import number_of, outline_order
from hexapod.plan.plan import Plan
from hexapod.plan.records import DAY
from hexapod.plan.uncollected import uncollected
from hexapod.system import budgets
from hexapod.system.files import read_within, shown
from hexapod.worktime.clock import iso
from hexapod.worktime.lengths import format_length

if TYPE_CHECKING:
    from hexapod.plan.edits import Edit
    from hexapod.schedule.schedule import Schedule


def main(arguments: list[str] | None = None) -> int:
    """Run a command; without one, open the window. 0, or 2 with one line on standard error."""
    arguments = list(sys.argv[1:] if arguments is None else arguments)
    try:
        if arguments and arguments[0] in COMMANDS:
            options = parser().parse_args(arguments)
            COMMANDS[options.command](options)
            return 0
        if arguments and arguments[0] in ("-h", "--help", "--version"):
            parser().parse_args(arguments)
            return 0
        return _open_window(arguments)
    except HexapodError as error:
        print(f"hexapod: {' '.join(str(error).split())}", file=sys.stderr)
        return 2
    except BrokenPipeError:
        return 0


def _load(options: argparse.Namespace) -> Plan:
    from hexapod.formats.files import load

    return load(options.file)


def _print_json(document: Any) -> None:
    print(msgspec.json.format(msgspec.json.encode(document), indent=1).decode())


def _print_table(rows: list[list[str]], right: set[int]) -> None:
    """Columns as wide as their widest cell; those in ``right`` are aligned right."""
    widths = [max(len(row[i]) for row in rows) for i in range(len(rows[0]))]
    for row in rows:
        cells = [c.rjust(w) if i in right else c.ljust(w) for i, (c, w) in enumerate(zip(row, widths, strict=True))]
        print("  ".join(cells).rstrip())


def _schedule(options: argparse.Namespace) -> None:
    from hexapod.formats.answers import schedule_answer
    from hexapod.schedule.engine import schedule

    with uncollected():
        plan = _load(options)
        dates = schedule(plan)
        answer = schedule_answer(dates) if options.json else None
    if answer is not None:
        _print_json(answer)
        return
    rows = [["#", "Task", "Duration", "Start", "Finish", "Float", "Free", ""]]
    for task_id in outline_order(plan):
        d = dates.dates(task_id)
        rows.append([
            number_of(plan, task_id), plan.tasks[task_id].name, format_length(d.duration), _spaced(d.start),
            _spaced(d.finish), _float(d.total_float), _float(d.free_float),
            "critical" if d.critical else "",
        ])  # fmt: skip
    _print_table(rows, {2, 5, 6})
    for project in plan.projects_in_order():
        finish = dates.project_finish[project.id]
        print(f"{project.name}: " + (f"finishes {_spaced(finish)}" if finish is not None else "has no tasks"))


def _float(minutes: int | None) -> str:
    return "" if minutes is None else format_length(minutes)


def _spaced(minutes: int) -> str:
    return iso(minutes).replace("T", " ")


def _level(options: argparse.Namespace) -> None:
    from hexapod.formats.answers import level_answer
    from hexapod.schedule.engine import schedule
    from hexapod.staffing.levelling import exact
    from hexapod.staffing.levelling.bound import argument
    from hexapod.staffing.levelling.parting import level_in_parts
    from hexapod.staffing.levelling.proposal import level

    proposal = (level_in_parts if options.interrupt else level)(
        schedule(_load(options)),
        within_float=options.within_float,
        seconds=options.seconds,
        seed=options.seed,
        steps=options.steps,
    )
    plan = proposal.schedule.network.plan  # with the rests of what is interrupted
    name = {t.id: t.name for t in plan.tasks.values()} | {r.id: r.name for r in plan.resources.values()}
    bound = proposal.bound
    because = "" if bound is None else argument(plan, bound, _spaced)
    if options.json:
        _print_json(level_answer(proposal, because, with_parts=options.interrupt))
        return
    print(f"Overloads {len(proposal.overloads_before)} → {len(proposal.overloads_after)}")
    if proposal.finish_before is not None and proposal.finish_after is not None:
        print(f"Finish    {_spaced(proposal.finish_before)} → {_spaced(proposal.finish_after)}")
    if because and not options.within_float:
        print(because)
    if proposal.nothing_because:
        print(proposal.nothing_because)
    if options.seconds and not exact.is_there():
        print(exact.WITHOUT)
    for part in proposal.parts:
        print(f"Interrupted: {name[part.task]}, after {format_length(part.minutes)}")
    if proposal.moves:
        rows = [["Task", "From", "To", "Because of"]]
        for m in proposal.moves:
            why = "what it waits for"
            if m.resource is not None and m.gives_way_to is not None:
                why = f"{name[m.resource]} is with {name[m.gives_way_to]}"
            rows.append([name[m.task], _spaced(m.before), _spaced(m.after), why])
        _print_table(rows, set())
    for over in proposal.overloads_after:
        print(f"Left over: {name[over.resource]}, {iso(over.begin)} to {iso(over.end)}, {over.peak:g} asked for")


def _status(options: argparse.Namespace) -> None:
    from hexapod.control.money import over_now
    from hexapod.control.status import status_of
    from hexapod.formats.answers import status_answer
    from hexapod.schedule.engine import schedule
    from hexapod.worktime import clock

    plan = _load(options)
    dates = schedule(plan)
    if options.json:
        _print_json(status_answer(dates, clock.now() // DAY))
        return
    rows = [["#", "Task", "State", "Done", "Left", "Late", "By"]]
    for task_id in outline_order(plan):
        task, late = plan.tasks[task_id], dates.late_of(task_id)
        kind, by = ("", "") if late is None else (late[0].value.replace("_", " "), format_length(late[1]))
        left = "" if plan.is_summary(task_id) else format_length(task.rest)
        percent = f"{dates.network.percents[dates.slots[task_id]]:.0f} %"
        rows.append([number_of(plan, task_id), task.name, dates.state_of(task_id).value, percent, left, kind, by])
    _print_table(rows, {3, 4, 6})
    for status in status_of(dates, over_now(dates, clock.now() // DAY)):
        told = "" if status.status_date is None else f", told up to {_spaced(status.status_date)}"
        state = status.state.value.replace("_", " ")
        print(f"{plan.projects[status.project].name}: {state}, {status.percent:.0f} % done, {status.late} late{told}")


def _summary(options: argparse.Namespace) -> None:
    from hexapod.control.summary import sentence, summary_of
    from hexapod.formats.answers import summary_answer
    from hexapod.schedule.engine import schedule
    from hexapod.worktime import clock

    plan = _load(options)
    summary = summary_of(schedule(plan), clock.now())
    if options.json:
        _print_json(summary_answer(plan, summary))
        return
    rows = [["Project", "State", "Done", "Finish", "Late", "Because"]]
    for row in summary.rows:
        state, finish = row.status.state.value.replace("_", " "), "" if row.finish is None else _spaced(row.finish)
        rows.append([plan.projects[row.project].name, state, f"{row.status.percent:.0f} %", finish,
                     str(row.status.late), row.status.because])  # fmt: skip
    _print_table(rows, {2, 4})
    print(sentence(summary.states))


def _why(options: argparse.Namespace) -> None:
    from hexapod.formats.answers import reason_answer
    from hexapod.schedule.engine import schedule
    from hexapod.schedule.holders import holders
    from hexapod.schedule.reasons import chain
    from hexapod.schedule.words import link_words, reason_words

    plan = _load(options)
    task_id = _find_task(plan, options.task)
    dates = schedule(plan)
    reasons = chain(dates, task_id)
    known = [] if plan.is_summary(task_id) else holders(dates, task_id)
    nearly = [(h.link, h.slack) for h in known if h.link is not None and h.slack > 0]
    if options.json:
        _print_json({
            "task": task_id,
            "chain": [{"task": r.task, **msgspec.to_builtins(reason_answer(r, iso(r.at)))} for r in reasons],
            "next": [{"predecessor": x.predecessor, "type": x.type.value, "slack": slack} for x, slack in nearly],
        })  # fmt: skip
        return
    for reason in reasons:
        print(f"{number_of(plan, reason.task)} {plan.tasks[reason.task].name}: {reason_words(plan, reason)}")
    for link, slack in nearly:
        name = plan.tasks[link.predecessor].name
        print(f"next, {format_length(slack)} away: {link_words(link)} “{name}”")


def _check(options: argparse.Namespace) -> None:
    from hexapod.control.soundness import soundness
    from hexapod.formats.answers import soundness_answer
    from hexapod.schedule.engine import schedule

    plan = _load(options)
    findings = soundness(schedule(plan))
    if options.json:
        _print_json(soundness_answer(findings))
        return
    rows = [["", "Check", "Found", "Allowed", "Source"]]
    for f in findings:
        rows.append(["ok" if f.passed else "look", f.title, f.outcome, f.threshold, f.source])
    _print_table(rows, {2})


def _find_task(plan: Plan, text: str) -> str:
    if text in plan.tasks:
        return text
    found = [t for t in outline_order(plan) if number_of(plan, t) == text or plan.tasks[t].name == text]
    if len(found) != 1:
        count = "No task has" if not found else f"{len(found)} tasks have"
        raise BadFile(f"{count} the id, number or name “{text}”.")
    return found[0]


def _edit(options: argparse.Namespace) -> None:
    from hexapod.formats.edit_list import edit_of, read_edits
    from hexapod.schedule.shift import shift

    most = budgets.DOCUMENT
    data = sys.stdin.buffer.read(most + 1) if options.edits == "-" else read_within(Path(options.edits), most)
    before, after = _edited(Path(options.file), edit_of(read_edits(data)))
    moved = shift(before, after).by_task()
    if options.json:
        _print_json({"moved": [
            {"task": t, "start_by": by[0], "finish_by": by[1], "start": iso(after.dates(t).start),
             "finish": iso(after.dates(t).finish)} for t, by in moved.items()
        ]})  # fmt: skip
        return
    rows = [["#", "Task", "Start", "Finish", "Moved"]]
    for t in outline_order(after.plan):
        if t in moved:
            d = after.dates(t)
            rows.append([number_of(after.plan, t), after.plan.tasks[t].name, _spaced(d.start), _spaced(d.finish),
                         format_length(moved[t][1])])  # fmt: skip
    _print_table(rows, {4})


def _edited(path: Path, edit: Edit) -> tuple[Schedule, Schedule]:
    """The dates before and after an edit of a file: through the session, or of a document that is written anew."""
    from hexapod.formats.files import JSON, WORKSPACE, load, save
    from hexapod.preparing import prepare
    from hexapod.schedule.engine import schedule
    from hexapod.session import Session

    if path.suffix == WORKSPACE:
        session = Session.open(path)
        try:
            before = session.compute()
            session.apply(edit)
            return before, session.compute()
        finally:
            session.close()
    if path.suffix != JSON:  # a table or a calendar would lose what it has no place for
        raise BadFile(f"{shown(str(path))}: only a .hexapod workspace or a .json plan can be edited.")
    plan, who = load(str(path)), getpass.getuser()
    before = schedule(plan)
    after = schedule(prepare(edit, plan, before, who).plan)
    save(after.plan, str(path), who, edit.words)
    return before, after


def _value(options: argparse.Namespace) -> None:
    from hexapod.formats.answers import value_answer
    from hexapod.valuing import value_rows, values_of_file

    plan, at, values = values_of_file(options.file, options.at, options.measure)
    if options.json:
        _print_json(value_answer(plan, values, at))
        return
    _print_table(value_rows(values), {2, 3, 4, 5, 6, 7, 8})
    for value in values:
        for why in dict.fromkeys(value.missing.values()):
            print(f"{value.name}: {why}")


def _simulate(options: argparse.Namespace) -> None:
    from hexapod.simulating import outlook_of, risk_rows, simulation_answer, simulation_rows

    plan = _load(options)
    outlook = outlook_of(plan, options.iterations, options.seed, options.after, options.with_capacities)
    answer = simulation_answer(outlook, after=options.after)
    if options.json:
        _print_json(answer)
        return
    _print_table(simulation_rows(plan, answer), {1, 2, 3, 4, 5})
    if answer["risks"]:
        print()
        _print_table(risk_rows(plan, answer), {1, 2, 3})
    for note in answer["notes"]:
        print(note)


def _scenarios(options: argparse.Namespace) -> None:
    from hexapod.trying_out import columns_of_file, scenario_rows, scenarios_answer, standing_words

    plan, columns = columns_of_file(options.file)
    if options.json:
        _print_json(scenarios_answer(plan, columns))
        return
    _print_table(scenario_rows(plan, columns), set(range(1, len(columns) + 1)))
    for words in filter(None, map(standing_words, columns)):
        print(words)


def _notices(options: argparse.Namespace) -> None:
    from hexapod.formats.files import WORKSPACE, load
    from hexapod.notifying import Told, identity_of, make_notices
    from hexapod.schedule.engine import schedule
    from hexapod.services.mail import Outbox, outbox_folder
    from hexapod.session import Session
    from hexapod.worktime import clock

    path = Path(options.file)
    if path.suffix == WORKSPACE:
        session = Session.open(path, read_only=True)  # a window may have it open
        try:
            identity = identity_of(session.identity(), path)
            name = shown(path.stem)
            told = Told(session.compute(), tuple(session.history), session.plan_after, name, identity)
            outbox = Outbox(Path(options.outbox) if options.outbox else outbox_folder(identity))
            made = make_notices(told, outbox, outbox.folder, clock.now())
        finally:
            session.close()
    else:
        plan = load(options.file)
        identity = identity_of("", path)
        told = Told(schedule(plan), (), lambda _: plan, shown(path.stem), identity)
        outbox = Outbox(Path(options.outbox) if options.outbox else outbox_folder(identity))
        made = make_notices(told, outbox, outbox.folder, clock.now())
    if options.json:
        mails = [
            {"person": m.person, "to": m.to, "subject": m.subject,
             "items": [{"kind": i.kind.value, "task": i.task, "words": i.words} for i in m.items]}
            for m in made.mails
        ]  # fmt: skip
        _print_json({"outbox": str(outbox.folder), "mails": mails, "without_address": made.unreached})
        return
    rows = [["To", "Subject"], *([m.person, m.subject] for m in made.mails)]
    _print_table(rows if made.mails else [["Nothing new is to be told."]], set())
    if made.unreached:
        print(f"No address is known of {', '.join(made.unreached)}.")


def _report(options: argparse.Namespace) -> None:
    from hexapod.reporting import names_of_reports, report_of_file
    from hexapod.worktime.dates import parse_moment

    if options.name is None:
        names = names_of_reports(options.file)
        if options.json:
            _print_json([{"name": name, "report": what} for name, what in names])
        else:
            _print_table([["name", "report"], *map(list, names)], set())
        return
    if options.target is None:
        raise BadFile("Say where the report goes: a name that ends in .pdf, .pptx, .xlsx or .html.")
    target = Path(options.target)
    until = None if options.until is None else (parse_moment(options.until) // DAY + 1) * DAY
    report, words = report_of_file(
        options.file, options.name, days=options.days, until=until, project=options.project,
        department=options.department,
    )  # fmt: skip
    if target.suffix.lower() != ".pdf":
        from hexapod.formats.reports.files import write_report

        write_report(report, words, target)
        return
    os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")
    from hexapod.desktop.app import make_application
    from hexapod.desktop.paper.report_pages import write_report as paint_report

    app = make_application("light")
    paint_report(report, words, target)
    del app


def _page(options: argparse.Namespace) -> None:
    from hexapod.formats.page.content import page_content
    from hexapod.formats.page.page import page_html
    from hexapod.reporting import basis_of_file
    from hexapod.reports.basis import outside_basis
    from hexapod.system.files import write_whole

    target = Path(options.target)
    if target.suffix.lower() not in (".html", ".htm"):
        raise BadFile(f"{shown(target.name)}: the page ends in .html.")
    basis = basis_of_file(options.file, project=options.project, department=options.department)
    content = page_content(outside_basis(basis) if options.outside else basis, options.title)
    write_whole(target, page_html(content, basis.words))


def _convert(options: argparse.Namespace) -> None:
    from hexapod.formats.files import load, save, without_scenarios

    if options.scenario is not None:
        from hexapod.trying_out import plan_of_scenario

        plan = without_scenarios(plan_of_scenario(options.source, options.scenario))
    else:
        plan = load(options.source, sound_only=options.sound)
    save(plan, options.target, getpass.getuser(), f"Convert {shown(Path(options.source).name)}")


def _shots(options: argparse.Namespace) -> None:
    from hexapod.demo.shots import take_shots

    take_shots(Path(options.folder), Path(options.guide) if options.guide else None)


def _demo(options: argparse.Namespace) -> None:
    from hexapod.demo.museum import demo_workspace
    from hexapod.desktop.app import run

    sys.exit(run([str(demo_workspace(Path(options.file) if options.file else None, many=options.many))], _museum))


def _install_desktop(options: argparse.Namespace) -> None:
    from hexapod.linux import install_desktop, own_command, remove_desktop, shared_data

    share = shared_data()
    changed = remove_desktop(share) if options.remove else install_desktop(share, own_command())
    for path in changed:
        print(path)
    print(f"Hexapod is {'no longer ' if options.remove else ''}in the menu of this user's desktop.")


def _warm(options: argparse.Namespace) -> None:
    from hexapod.warming import warm, warm_part

    warm_part(options.part) if options.part else warm()


def _open_window(arguments: list[str]) -> int:
    if arguments and not Path(arguments[0]).exists():
        raise BadFile(
            f"“{shown(arguments[0])}” is neither a file nor a command; the commands are {', '.join(COMMANDS)}."
        )
    if len(arguments) > 1:
        raise BadFile(f"One file at a time; “{shown(arguments[1])}” is one too many.")
    from hexapod.desktop.app import run

    return run(arguments, _museum)


def _museum() -> Path:
    from hexapod.demo.museum import demo_workspace

    return demo_workspace()


COMMANDS: dict[str, Callable[[argparse.Namespace], None]] = {
    "schedule": _schedule,
    "level": _level,
    "why": _why,
    "status": _status,
    "summary": _summary,
    "value": _value,
    "simulate": _simulate,
    "scenarios": _scenarios,
    "notices": _notices,
    "report": _report,
    "page": _page,
    "check": _check,
    "edit": _edit,
    "convert": _convert,
    "shots": _shots,
    "demo": _demo,
    "install-desktop": _install_desktop,
    "warm": _warm,
}
