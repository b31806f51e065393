"""What can be said on the command line: each command with its options."""

from __future__ import annotations

import argparse

from hexapod import __version__


def parser() -> argparse.ArgumentParser:
    """Of ``hexapod``, with a parser for each command."""
    made = argparse.ArgumentParser(
        prog="hexapod",
        description="Project schedules. `hexapod FILE` opens the window; the commands need no screen.",
    )
    made.add_argument("--version", action="version", version=f"Hexapod {__version__}")
    commands = made.add_subparsers(dest="command", required=True)

    def command(name: str, help: str, *, file: bool = True) -> argparse.ArgumentParser:
        added = commands.add_parser(name, help=help, description=help)
        if file:
            added.add_argument("file", metavar="FILE", help="a .hexapod workspace or plan JSON; - is standard input")
            added.add_argument("--json", action="store_true", help="print one JSON document")
        return added

    command("schedule", "early and late dates, floats, the critical path")
    levelling = command("level", "delay work until no capacity is exceeded")
    levelling.add_argument("--within-float", action="store_true", help="never move a project's finish")
    levelling.add_argument("--seconds", type=float, default=0.0, metavar="S", help="time to look for better answers")
    levelling.add_argument(
        "--steps", type=int, metavar="N", help="steps to look for better answers, the same every time"
    )
    levelling.add_argument("--seed", type=int, default=1, metavar="N", help="another one looks in another order")
    levelling.add_argument("--interrupt", action="store_true", help="tasks may be done in two parts where that gains")
    why = command("why", "the chain of reasons behind a task's dates")
    why.add_argument("task", metavar="TASK", help="the task's id, outline number or name")
    command("status", "how far each task is, and what is late")
    command("summary", "all projects at a glance: how each stands, and because of what")
    value = command("value", "earned value: what was planned, earned and spent, and the forecasts")
    value.add_argument("--at", metavar="DATE", help="the end of that day; by default each project's status date")
    value.add_argument(
        "--in", dest="measure", choices=("hours", "money"), default="hours", help="what it is counted in"
    )
    rounds = command("simulate", "many rounds with lengths and risks as they may come: finishes with their chances")
    rounds.add_argument("--iterations", type=int, default=10_000, metavar="N", help="how many rounds")
    rounds.add_argument("--seed", type=int, default=1, metavar="N", help="another one draws other rounds")
    rounds.add_argument("--with-capacities", action="store_true", help="each round waits for people who are busy")
    rounds.add_argument("--after", action="store_true", help="with the answers to the risks taken")
    command("scenarios", "the plan and its scenarios side by side")
    notices = command("notices", "make what people are to be told, as mails in the outbox; for a timer")
    notices.add_argument("--outbox", metavar="DIR", help="where the mails go; by default among the user's data")
    report = command("report", "a report as .pdf, .pptx, .xlsx or .html; without a name the list of them")
    report.add_argument("name", nargs="?", metavar="NAME", help="which one")
    report.add_argument("target", nargs="?", metavar="OUT", help="where it goes, by its ending")
    report.add_argument("--project", default="", metavar="NAME", help="of one project")
    report.add_argument("--department", default="", metavar="NAME", help="of the projects of a department")
    report.add_argument("--days", type=int, metavar="N", help="how many days it looks back on")
    report.add_argument("--until", metavar="DAY", help="the last of these days, such as 2026-10-09; else today")
    page = command("page", "the read-only page: one HTML file of all projects, or of one")
    page.add_argument("target", metavar="OUT.html", help="where it goes")
    page.add_argument("--outside", action="store_true", help="only what is marked for people outside")
    page.add_argument("--project", default="", metavar="NAME", help="of one project")
    page.add_argument("--department", default="", metavar="NAME", help="of the projects of a department")
    page.add_argument("--title", default="", metavar="TEXT", help="what stands above it")
    command("check", "soundness of the plan: each check with its threshold and its rows")
    edit = command("edit", "carry out a list of edits, all of them or none")
    edit.add_argument("edits", metavar="EDITS.json", help="the list; - is standard input")
    convert = command("convert", "between the formats, by file ending", file=False)
    convert.add_argument("source", metavar="IN")
    convert.add_argument("target", metavar="OUT")
    convert.add_argument("--scenario", metavar="NAME", help="of a workspace, the plan as a scenario has it")
    convert.add_argument("--sound", action="store_true", help="of a damaged workspace take what is sound")
    shots = command("shots", "a PNG of each main view of the demo, 1280x800", file=False)
    shots.add_argument("folder", metavar="DIR")
    shots.add_argument("--guide", metavar="DIR", help="where the pictures of the guide go")
    demo = command("demo", "open the museum's demo workspace", file=False)
    demo.add_argument("--file", help="where to keep it", metavar="FILE")
    demo.add_argument("--many", action="store_true", help="with 240 small projects more")
    menu = command("install-desktop", "menu entry, icon and file type for this user", file=False)
    menu.add_argument("--remove", action="store_true", help="take them away again")
    warm = command("warm", "compile the kernels, so that the first start is quick", file=False)
    warm.add_argument("--part", choices=("passes", "load", "placing", "search", "rounds"), help="some of them only")
    return made
