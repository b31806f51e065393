"""What each picture of the demo shows: functions that bring the window there, and say how it comes back."""

from __future__ import annotations

from collections.abc import Callable

from hexapod.demo.brought import MEETING, MOTH_ROOM
from hexapod.system.files import scratch_folder, write_whole

PutBack = Callable[[], object]  # shows the window as it was before a picture


def wait_for(what: Callable[[], object]) -> None:
    import time

    from PyQt6.QtWidgets import QApplication

    for _ in range(400):
        if what():
            return
        QApplication.processEvents()
        time.sleep(0.01)


def _build(window) -> None:  # type: ignore[no-untyped-def]
    window.show_leg("build")
    found = [t.id for t in window.desk.plan.tasks.values() if t.name == "Case frames erected"]
    window.desk.go_to(found[0])
    technicians = next(r.id for r in window.desk.plan.resources_in_order() if r.initials == "CT")
    window.desk.look_at_resource(technicians)


def _proposal(window) -> None:  # type: ignore[no-untyped-def]
    window.desk.propose(within_float=True)
    wait_for(lambda: window.desk.proposal is not None and not window.desk.levelling.is_looking)
    window.desk.go_to(next(t.id for t in window.desk.plan.tasks.values() if t.name == "Captions and signing added"))
    window.chart.show_task(next(t.id for t in window.desk.plan.tasks.values() if t.name == "Floor and lighting tracks"))


def _staff(window) -> None:  # type: ignore[no-untyped-def]
    window.desk.show_proposal(None)
    window.show_leg("staff")
    window.desk.propose(within_float=False)
    wait_for(lambda: window.desk.proposal is not None and not window.desk.levelling.is_looking)


def _roles(window) -> PutBack:  # type: ignore[no-untyped-def]
    window.desk.show_proposal(None)
    window.show_leg("staff")
    window.staff.show_view("roles")
    wait_for(lambda: window.staff.roles.table is not None)
    return lambda: window.staff.show_view("load")


def _board(window) -> PutBack:  # type: ignore[no-untyped-def]
    from hexapod.plan import edits

    desk, task = window.desk, _named(window, "Pest traps set and read")
    window.show_leg("staff")
    window.staff.show_view("board")
    wait_for(lambda: window.staff.board.lanes)
    window.staff.board.look_at("ma", task)
    desk.guard.turn(True)
    desk.do(edits.hand_over(desk.plan, task, "ma", "ro"))
    wait_for(lambda: desk.guard.stopped is None or not desk.guard.stopped.is_looking)
    return lambda: (desk.guard.turn(False), window.staff.show_view("load"))


def _reports(window) -> PutBack:  # type: ignore[no-untyped-def]
    window.show_leg("staff")
    window.staff.show_view("reports")
    wait_for(lambda: window.staff.reports.report is not None)
    window.side.show_page("pool")
    window.side.pages["pool"].search("regist")
    wait_for(lambda: window.side.pages["pool"]._found is not None)
    return lambda: window.staff.show_view("load")


def _seats(window) -> None:  # type: ignore[no-untyped-def]
    from hexapod.staffing.seats import seats

    window.desk.show_proposal(None)
    window.show_leg("staff")
    seat = seats(window.desk.schedule, window.desk.plan)[0]
    window.side.show_seat(seat.key)
    rows = window.staff.grid.table.rows
    row = next(i for i, r in enumerate(rows) if r.is_seat)
    window.staff.grid.look_at(row, int(rows[row].load.argmax()))


def _legend(window) -> None:  # type: ignore[no-untyped-def]
    window.desk.show_proposal(None)
    window.show_leg("build")
    window.side.show_page("legend")


def _calendars(window) -> None:  # type: ignore[no-untyped-def]
    from datetime import date

    from hexapod.desktop.calendars.draft import with_days

    window.show_calendars()
    view = window.calendars
    view.show_year(2026)
    view.year.choose(date(2026, 10, 12), date(2026, 10, 16))
    view._change(lambda: with_days(view.draft, view.year.chosen, (), "Stocktaking"))


def _import(window) -> None:  # type: ignore[no-untyped-def]
    with scratch_folder() as place:
        path = place / "moth-room.csv"
        write_whole(path, MOTH_ROOM.encode())
        window.show_import(path)
        wait_for(lambda: window.importing.proposal is not None)


def _notes(window) -> None:  # type: ignore[no-untyped-def]
    window.show_notes(MEETING, None)
    window.notes.table.selectRow(6)


def _guide(window) -> None:  # type: ignore[no-untyped-def]
    window.show_guide("lines")


def _soundness(window) -> None:  # type: ignore[no-untyped-def]
    window.show_leg("build")
    window.side.show_page("soundness")
    page = window.side.pages["soundness"]
    page.opened = {"lags"}
    wait_for(lambda: page._found)
    page.refresh_now()


def _progress(window) -> None:  # type: ignore[no-untyped-def]
    window.side.show_page("inspector")
    window.side.open_now()
    window.desk.go_to(_named(window, "Floor and lighting tracks"))
    wait_for(lambda: window.desk.load is not None)


def _round(window) -> PutBack:  # type: ignore[no-untyped-def]
    """Some of the questions answered, one of them late, and what could be done about it."""
    from hexapod.control.round import AS_PLANNED, Answer, What

    window.show_leg("track")
    window.desk.forms.look()
    wait_for(lambda: window.desk.forms.back)
    window.desk.told.emit("", "", False)
    work, table = window.desk.round, window.track.table
    asked = {window.desk.plan.tasks[q.task].name: q.task for q in work.asked}
    for name, answer in (
        ("Freeze treatment, batch C", AS_PLANNED),
        ("Pinned drawers cleaned", Answer(What.DONE, at=work.at - 1440)),
        ("Floor and lighting tracks", Answer(What.LEFT, amount=4 * 480)),
        ("Sound recordings edited", Answer(What.DONE)),
        ("Mounts made", Answer(What.NOT_BEGUN, because="waits for 2.4")),
    ):
        work.answer(asked[name], answer)
    window.side.open_now()
    table.go(
        next(i for i, row in enumerate(table.rows) if getattr(row, "task", "") == asked["Floor and lighting tracks"])
    )
    wait_for(lambda: window.side.pages["round"].ways)

    def put_back() -> None:
        for task in asked.values():
            work.answer(task, None)
        window.show_leg("build")

    return put_back


def _mine(window) -> PutBack:  # type: ignore[no-untyped-def]
    """The Monday of a conservator who is late with some of it."""
    people = {r.initials: r.id for r in window.desk.plan.resources.values()}
    window.desk.mine.be(people["RO"])
    window.show_part("mine")
    window.side.go_home("inspector")
    window.track.main_part.setFocus()
    return lambda: (window.show_part("round"), window.show_leg("build"))


def _stages(window) -> PutBack:  # type: ignore[no-untyped-def]
    window.show_part("stages")
    window.track["stages"].board.go(_named(window, "Sound recordings edited"))
    return lambda: (window.show_part("round"), window.show_leg("build"))


def _hours(window) -> PutBack:  # type: ignore[no-untyped-def]
    """A week whose sheet was sent back, with the word why."""
    people = {r.initials: r.id for r in window.desk.plan.resources.values()}
    window.desk.mine.be(people["YD"])
    window.show_part("hours")
    window.desk.hours.look_at(people["YD"], window.desk.hours.monday - 14, "week")
    window.track.main_part.setFocus()
    window.track["hours"].week.go_to_day(4)
    return lambda: (window.show_part("round"), window.show_leg("build"))


def _money(window) -> PutBack:  # type: ignore[no-untyped-def]
    """The month whose budget is burst, and what burst it."""
    window.desk.look_at_project(window.desk.plan.projects_in_order()[0].id)
    window.show_part("money")
    table = window.track["money"].table
    table.go(1)
    table.edit("")
    return lambda: (window.show_part("round"), window.show_leg("build"))


def _drift(window) -> PutBack:  # type: ignore[no-untyped-def]
    window.show_part("drift")
    window.side.show_page("baselines")
    wait_for(lambda: window.desk.drift.replay is not None)
    table = window.track["drift"].table
    table.go(len(table.rows) - 1)
    return lambda: (window.side.show_page("inspector"), window.show_part("round"), window.show_leg("build"))


def _value(window) -> PutBack:  # type: ignore[no-untyped-def]
    window.show_part("value")
    wait_for(lambda: window.desk.value.has_read)
    window.track["value"].figures.go(6)
    window.side.go_home("inspector")
    return lambda: (window.show_part("round"), window.show_leg("build"))


def _range(window) -> PutBack:  # type: ignore[no-untyped-def]
    """The opening of the gallery as a range, with what it comes from."""
    window.desk.look_at_project(window.desk.plan.projects_in_order()[0].id)
    window.show_part("range", "trying")
    window.desk.chances.run()
    wait_for(lambda: window.desk.chances.outlook is not None and not window.desk.chances.is_running)
    wait_for(lambda: window.desk.chances.spread() is not None)
    return lambda: window.show_leg("build")


def _scenarios(window) -> PutBack:  # type: ignore[no-untyped-def]
    """The three ways through the spring beside the plan; the last of them has something to be asked."""
    work = window.desk.scenarios
    window.show_part("scenarios", "trying")
    window.side.open_now()
    work.look_at(work.listed()[-1].id)
    wait_for(lambda: all(column.figures is not None for column in work.columns()))
    wait_for(lambda: work.effects(work.chosen))
    return lambda: window.show_leg("build")


def _scenario(window) -> PutBack:  # type: ignore[no-untyped-def]
    """Inside one: solid where it has the work, dashed where the plan does."""
    desk = window.desk
    desk.scenarios.enter(desk.scenarios.listed()[-1].id)
    wait_for(lambda: desk.scenario is not None)
    window.registry.qt("scenario.differing").trigger()
    desk.look_at_resource(next(r.id for r in desk.plan.resources_in_order() if r.initials == "GZ"))
    window.chart.fit()

    def put_back() -> None:
        desk.scenarios.leave()
        desk.look_at_project(desk.plan.projects_in_order()[0].id)
        window.show_leg("build")

    return put_back


def _risks(window) -> PutBack:  # type: ignore[no-untyped-def]
    window.show_part("risks", "trying")
    wait_for(lambda: window.desk.risks.worth() is not None)
    window.trying["risks"].table.go(2)
    return lambda: window.show_leg("build")


def _projects(window) -> None:  # type: ignore[no-untyped-def]
    """All projects of the museum, at one that is late."""
    window.show_part("projects", "telling")
    window.side.open_now()
    work, table = window.desk.portfolio, window.telling["projects"].table
    wait_for(lambda: work.summary is not None and work._week_ago.found is not None)
    table.go(2)


def _milestones(window) -> None:  # type: ignore[no-untyped-def]
    """Those of one month."""
    window.show_part("milestones", "telling")
    work = window.desk.milestones
    wait_for(lambda: work.is_known)
    work.look_at_month(work.months()[6][0])
    window.telling["milestones"].table.go(2)


def _monday(window) -> None:  # type: ignore[no-untyped-def]
    """The Monday report, with one of its sentences asked."""
    window.show_part("reports", "telling")
    window.side.open_now()
    view = window.telling["reports"]
    wait_for(lambda: window.desk.reports.report is not None and view.preview.document is not None)
    view.preview.choose(view.preview.document.every_asked()[1])


def _page(window) -> None:  # type: ignore[no-untyped-def]
    """What of all goes to people outside."""
    from hexapod.plan import edits

    desk = window.desk
    roof = next(p for p in desk.plan.projects.values() if p.name == "Glasshouse Roof")
    if not roof.outside:
        desk.do(edits.mark_projects(desk.plan, [roof.id], True))
    desk.page.narrow(scope=f"project:{roof.id}", outside=True)
    window.show_part("page", "telling")
    wait_for(lambda: desk.page.preview is not None and "Roof" in desk.page.preview.title)


def _requests(window) -> None:  # type: ignore[no-untyped-def]
    """The first request, with its answer at the side."""
    window.show_part("requests", "telling")
    window.side.open_now()
    window.telling["requests"].table.go(1)


def _attention(window) -> PutBack:  # type: ignore[no-untyped-def]
    window.show_part("attention")
    wait_for(lambda: window.track["attention"].table.needs)
    window.track["attention"].table.go(4)
    return lambda: (window.show_part("round"), window.show_leg("build"))


def _history(window) -> None:  # type: ignore[no-untyped-def]
    desk = window.desk
    window.side.show_page("history")
    desk.look_back(next(r for r in reversed(desk.session.history) if r.words.startswith("Link")))
    wait_for(lambda: desk.past is not None)


def _lanes(window) -> PutBack:  # type: ignore[no-untyped-def]
    from hexapod.query.views import PLAIN, Labels, View

    window.desk.look_at_today()
    window.show_leg("build")
    window.desk.on_show.show_view(
        View("Lanes by stream", "not summary", group="stream", lanes=True, labels=Labels.NAME)
    )
    window.chart.fit()
    window.build.strip.setVisible(True)
    return lambda: (window.desk.on_show.show_view(PLAIN), window.build.strip.hide())


def _ripple(window) -> PutBack:  # type: ignore[no-untyped-def]
    from hexapod.plan import edits

    task = _named(window, "Freeze treatment, batch A")
    window.desk.go_to(task)
    window.grid.verticalScrollBar().setValue(0)
    window.desk.staging.show(edits.set_durations(window.desk.plan, [task], 16 * 480))
    wait_for(lambda: not window.desk.previews.refusal and window.side.shown == "ripple")

    def put_back() -> None:
        window.desk.staging.drop()
        window.desk.told.emit("", "", False)

    return put_back


def _network(window) -> None:  # type: ignore[no-untyped-def]
    window.desk.go_to(_named(window, "Case frames erected"))
    window.show_leg("link")
    wait_for(lambda: window.link.diagram.graph.tasks)
    window.link.diagram.fit()


def _map(window) -> PutBack:  # type: ignore[no-untyped-def]
    window.desk.go_to(_named(window, "Gallery opens"))
    window.link.show_lanes(True)
    window.link.show_map(True)
    return lambda: (window.link.show_lanes(False), window.link.show_map(False))


def _month(window) -> None:  # type: ignore[no-untyped-def]
    window.desk.go_to(_named(window, "Case frames erected"))
    window.show_month()


def _named(window, name: str) -> str:  # type: ignore[no-untyped-def]
    return next(t.id for t in window.desk.plan.tasks.values() if t.name == name)


VIEWS: dict[str, Callable[[object], PutBack | None]] = {
    "build": _build,
    "proposal": _proposal,
    "staff": _staff,
    "roles": _roles,
    "board": _board,
    "reports": _reports,
    "seats": _seats,
    "legend": _legend,
    "calendars": _calendars,
    "import": _import,
    "notes": _notes,
    "guide": _guide,
    "soundness": _soundness,
    "progress": _progress,
    "round": _round,
    "mine": _mine,
    "stages": _stages,
    "hours": _hours,
    "money": _money,
    "drift": _drift,
    "value": _value,
    "scenarios": _scenarios,
    "scenario": _scenario,
    "range": _range,
    "risks": _risks,
    "attention": _attention,
    "history": _history,
    "lanes": _lanes,
    "ripple": _ripple,
    "network": _network,
    "map": _map,
    "month": _month,
}

OF_MANY: dict[str, Callable[[object], PutBack | None]] = {
    "projects": _projects,
    "milestones": _milestones,
    "monday": _monday,
    "page": _page,
    "requests": _requests,
}
