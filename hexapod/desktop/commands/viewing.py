"""Actions that change what is looked at: legs, time, views, chains, reasons, the ripple of an edit."""

from __future__ import annotations

from typing import TYPE_CHECKING

from msgspec.structs import replace

from hexapod.desktop.models import hints
from hexapod.plan.records import Link
from hexapod.query.views import PLAIN
from hexapod.schedule.chains import Chain, Reach
from hexapod.worktime.clock import today

if TYPE_CHECKING:
    from hexapod.desktop.host import Host


# Looking


def look_at_build(window: Host) -> None:
    window.show_leg("build")


def look_at_link(window: Host) -> None:
    window.show_leg("link")
    window.link.main_part.setFocus()


def show_map(window: Host) -> None:
    window.show_leg("link")
    window.link.show_map(True)


def show_month(window: Host) -> None:
    window.show_month()


def toggle_strip(window: Host) -> None:
    window.show_leg("build")
    window.build.strip.toggle()


def turn_baseline(window: Host) -> None:
    """The baseline under the bars of the chart; without one, how to keep it is said."""
    desk = window.desk
    desk.looks.turn_baseline()
    has_one = any(p.baseline for p in desk.plan.projects.values())
    shown = "shown" if desk.looks.shows_baseline else "not shown"
    words = (
        f"The baseline is {shown} under the bars." if has_one else "No project has a baseline yet: keep one in Drift."
    )
    desk.told.emit(words, "", False)


def put_on_strip(window: Host) -> None:
    desk, strip = window.desk, window.build.strip
    tasks = list(desk.selected()) or [desk.current or ""]
    on = strip.put(tasks)
    if strip.isHidden():
        strip.toggle()
    names = f"“{desk.plan.tasks[tasks[0]].name}”" if len(tasks) == 1 else f"{len(tasks)} tasks"
    desk.told.emit(f"{names} {'on' if on else 'off'} the milestone strip.", "", False)


def look_at_staff(window: Host) -> None:
    window.show_leg("staff")


def look_at_track(window: Host) -> None:
    window.show_leg("track")


def turn_side(window: Host) -> None:
    window.side.turn()


def zoom_in(window: Host) -> None:
    window.chart.zoom(1.25)


def zoom_out(window: Host) -> None:
    window.chart.zoom(0.8)


def fit(window: Host) -> None:
    window.chart.fit()


def fit_selection(window: Host) -> None:
    desk = window.desk
    window.chart.fit_tasks(list(desk.selected()) or [desk.current or ""])


def go_to_today(window: Host) -> None:
    window.chart.go_to_moment(today())


def go_to_status(window: Host) -> None:
    project = window.desk.plan.projects.get(window.desk.project or "")
    if project is not None and project.status_date is not None:
        window.chart.go_to_moment(project.status_date)


def go_to_start(window: Host) -> None:
    window.chart.go_to_moment(window.chart.extent()[0])


def go_to_finish(window: Host) -> None:
    window.chart.go_to_moment(window.chart.extent()[1])


def show_task(window: Host) -> None:
    window.show_leg("build")
    window.chart.show_task(window.desk.current)


def next_part(window: Host) -> None:
    window.focus_next_part()


def toggle_fold(window: Host) -> None:
    desk = window.desk
    if desk.current:
        desk.fold(desk.current, desk.current not in desk.folded)


def fold_all(window: Host) -> None:
    window.desk.fold_all(True)


def unfold_all(window: Host) -> None:
    window.desk.fold_all(False)


def choose_text_size(window: Host) -> None:
    window.choose_text_size()


def toggle_theme(window: Host) -> None:
    window.toggle_theme()


def find(window: Host) -> None:
    window.find_box.setFocus()
    window.find_box.selectAll()


def open_menu(window: Host) -> None:
    window.open_menu()


def show_legend(window: Host) -> None:
    window.side.show_page("legend")


def turn_density(window: Host) -> None:
    window.turn_density()


def turn_hints(window: Host) -> None:
    hints.want(not hints.are_wanted())
    words = "Hints are on: what is likely next is said once." if hints.are_wanted() else "No more hints."
    window.desk.told.emit(words, "", False)
    window.registry.refresh()


def show_guide(window: Host) -> None:
    window.show_guide()


def show_keys(window: Host) -> None:
    window.show_guide("keys")


def show_inspector(window: Host) -> None:
    window.side.show_page("inspector")
    window.side.open_now()


def show_paper(window: Host) -> None:
    window.show_paper()


def show_calendars(window: Host) -> None:
    window.show_calendars()


def show_columns(window: Host) -> None:
    window.side.show_page("columns")


def show_float_paths(window: Host) -> None:
    window.side.show_page("float_paths")


def show_soundness(window: Host) -> None:
    window.side.show_page("soundness")


# Walking the reasons


def why_finish(window: Host) -> None:
    """To the task that ends last, with the keyboard in the chain of its reasons."""
    desk = window.desk
    leaves = [t for t in desk.on_show.outline().tasks if not desk.plan.is_summary(t) and desk.schedule.has(t)]
    leaves = [t for t in leaves if desk.plan.tasks[t].project == desk.project]
    if not leaves:
        desk.told.emit("Nothing is planned yet.", "", False)
        return
    finish = desk.schedule.finish
    ends = [(int(finish[desk.schedule.slots[t]]), not desk.plan.links_from(t), i) for i, t in enumerate(leaves)]
    last = leaves[max(ends)[2]]
    desk.go_to(last)
    window.side.show_page("inspector")
    window.side.open_now()
    inspector = window.side.pages.inspector
    inspector.show_section("dates")
    inspector.focus_why()


def walk_back(window: Host) -> None:
    _walk(window, back=True)


def walk_on(window: Host) -> None:
    _walk(window, back=False)


def _walk(window: Host, *, back: bool) -> None:
    """Along a link, one that drives if there is one; else the one with the least room."""
    desk = window.desk
    current = desk.current or ""
    links = desk.plan.links_into(current) if back else desk.plan.links_from(current)
    if not links:
        desk.told.emit("It waits for nothing." if back else "Nothing waits for it.", "", False)
        return
    schedule = desk.schedule

    def closeness(link: Link) -> tuple[bool, int]:
        other = link.predecessor if back else link.successor
        at = schedule.slots[other]
        return not desk.is_driving(link), -int(schedule.finish[at]) if back else int(schedule.start[at])

    best = min(links, key=closeness)
    desk.go_to(best.predecessor if back else best.successor)


# The ripple of an edit


def show_moved(window: Host) -> None:
    window.side.show_page("ripple")


def toggle_asking(window: Host) -> None:
    desk, staging = window.desk, window.desk.staging
    staging.ask_first(not staging.asks_first)
    said = "Every edit shows what it would do before it is done." if staging.asks_first else "Edits are done at once."
    desk.told.emit(said, "", False)
    window.registry.refresh()


def take_staged(window: Host) -> None:
    window.desk.staging.take()


# Views and chains


def ask_query(window: Host) -> None:
    window.show_leg("build")
    window.build.bar.query.setFocus()
    window.build.bar.query.selectAll()


def show_whole(window: Host) -> None:
    window.desk.on_show.show_chain(None)
    window.desk.on_show.show_view(PLAIN)


def keep_view(window: Host) -> None:
    window.side.show_view_form()
    window.side.pages.view.first_line.setFocus()


def star_view(window: Host) -> None:
    on_show = window.desk.on_show
    view = replace(on_show.view, starred=not on_show.view.starred)
    on_show.keep_view(view)
    on_show.show_view(view)


def forget_view(window: Host) -> None:
    on_show = window.desk.on_show
    name = on_show.view.name
    on_show.forget_view(name)
    on_show.show_view(PLAIN)
    window.desk.told.emit(f"The view “{name}” is forgotten.", "", False)


def chain_all(window: Host) -> None:
    _show_chain(window, Reach.ALL)


def chain_before(window: Host) -> None:
    _show_chain(window, Reach.BEFORE)


def chain_after(window: Host) -> None:
    _show_chain(window, Reach.AFTER)


def chain_drivers(window: Host) -> None:
    _show_chain(window, Reach.DRIVERS)


def _show_chain(window: Host, reach: Reach) -> None:
    """Asked for again, it is every row again."""
    desk = window.desk
    wanted = Chain(desk.current, reach) if desk.current else None
    desk.on_show.show_chain(None if desk.on_show.chain == wanted else wanted)
