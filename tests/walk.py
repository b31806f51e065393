"""A walk through all views, pages, forms and menus, for one's own eyes: ``python -m tests.walk FOLDER [dark]``.

Each is photographed at 1280x800, 1366x720 and 1024x640. ``tests.desktop.test_walk`` goes the same way and judges what
can be judged by geometry.
"""

from __future__ import annotations

import sys
import tempfile
from collections.abc import Callable, Iterator
from pathlib import Path

from PyQt6.QtWidgets import QApplication, QMenu, QWidget

from hexapod.demo.museum import build_demo
from hexapod.desktop.app import make_application
from hexapod.desktop.side.pages import PAGES
from hexapod.desktop.telling.leg import PARTS as TELLING
from hexapod.desktop.theme.style import apply_theme, theme_named
from hexapod.desktop.track.leg import PARTS
from hexapod.desktop.trying.leg import PARTS as TRYING
from hexapod.desktop.window import Window
from hexapod.query.views import PLAIN, View
from hexapod.session import Session
from tests.at_rest import settle, wait_for

SIZES = ((1280, 800), (1366, 720), (1024, 640))
Stop = tuple[str, QWidget]


def open_museum(folder: Path) -> Window:
    path = folder / "Alder Quay Museum.hexapod"
    if not path.exists():
        build_demo(path)
    session = Session.open(path)
    session.compute()
    window = Window(session, lambda *_: None)
    window.show()
    window.desk.computed.emit()
    settle()
    return window


def named(window: Window, name: str) -> str:
    return next(t.id for t in window.desk.plan.tasks.values() if t.name == name)


def walk(window: Window) -> Iterator[Stop]:
    """Every view, page and menu in turn, on show."""
    yield from _views(window)
    yield from _pages(window)
    yield from _menus(window)


def _views(window: Window) -> Iterator[Stop]:
    desk = window.desk
    desk.go_to(named(window, "Case frames erected"))
    views: dict[str, Callable[[], object]] = {
        "build": lambda: window.show_leg("build"),
        "link": lambda: window.show_leg("link"),
        "staff load": lambda: (window.show_leg("staff"), window.staff.show_view("load")),
        "staff roles": lambda: window.staff.show_view("roles"),
        "staff board": lambda: window.staff.show_view("board"),
        "staff reports": lambda: window.staff.show_view("reports"),
        **{f"track {name}": lambda name=name: window.show_part(name) for name in PARTS},
        **{f"try {name}": lambda name=name: window.show_part(name, "trying") for name in TRYING},
        **{f"tell {name}": lambda name=name: window.show_part(name, "telling") for name in TELLING},
        "month": window.show_month,
        "calendars": window.show_calendars,
        "guide": lambda: window.show_guide("first-steps"),
        "notes": lambda: window.show_notes("Hall\n  Paint 2d with ZZ\n  Fence 20 m\n  Lamps 1d after Paint", None),
    }
    for name, show in views.items():
        show()
        settle()
        yield name, window
    yield from _track(window)
    yield from _in_a_scenario(window)
    window.show_leg("build")
    desk.on_show.show_view(View(query="critical", group="who", lanes=True))
    settle()
    yield "lanes", window
    desk.on_show.show_view(PLAIN)


def _track(window: Window) -> Iterator[Stop]:
    """The parts of Track and Try that have several faces, and with a page beside them."""
    shown: dict[str, Callable[[], object]] = {
        "mine log": lambda: (window.show_part("mine"), window.registry.qt("hours.log").trigger()),
        "stages log": lambda: window.show_part("stages"),
        "hours team": lambda: (window.show_part("hours"), window.desk.hours.look_at(None, None, "team")),
        "hours spent": lambda: window.desk.hours.look_at(None, None, "spent"),
        "hours log": lambda: window.registry.qt("hours.log").trigger(),
        "money entry": lambda: (window.show_part("money"), window.registry.qt("money.entry").trigger()),
        "drift baselines": lambda: (window.show_part("drift"), window.registry.qt("drift.baselines").trigger()),
        "value figure": lambda: (window.show_part("value"), window.registry.qt("value.figure").trigger()),
        "value every": lambda: window.desk.value.show(branch="", measure="hours"),
        "range estimates": lambda: (window.registry.qt("range.run").trigger(), _range_of(window)),
        "risk form": lambda: window.registry.qt("risks.add").trigger(),
        "projects glance": lambda: (window.show_part("projects", "telling"), window.side.show_page("glance")),
        "projects together": lambda: [window.desk.portfolio.mark(p) for p in window.desk.plan.projects],
    }
    for name, show in shown.items():
        show()
        settle()
        yield name, window
    window.side.leave()


def _in_a_scenario(window: Window) -> Iterator[Stop]:
    """Every leg with the frame round it; the one that has something to be asked, beside its page."""
    desk = window.desk
    desk.home.compute()
    session = desk.scenarios.opened(desk.scenarios.listed()[-1].id)
    session.compute()
    desk.work_in(session)
    for leg in ("build", "link", "staff", "track", "trying", "telling"):
        window.show_leg(leg)
        settle()
        yield f"in a scenario {leg}", window
    window.show_part("scenarios", "trying")
    desk.scenarios.look_at(session.scenario)
    window.side.open_now()
    wait_for(lambda: all(column.figures is not None for column in desk.scenarios.columns()))
    settle()
    yield "scenario beside", window
    window.registry.qt("scenario.ways").trigger()
    settle()
    yield "ways beside", window
    desk.scenarios.leave()
    window.side.leave()


def _range_of(window: Window) -> None:
    """The range with all that it says, and the estimates beside it."""
    wait_for(lambda: window.desk.chances.spread() is not None)
    window.registry.qt("range.spread").trigger()


def _pages(window: Window) -> Iterator[Stop]:
    desk, side = window.desk, window.side
    task = named(window, "Case frames erected")
    desk.go_to(task)
    assignment = desk.plan.assignments_of(task)[0]
    link = desk.plan.links_into(task)[0]
    shown: dict[str, Callable[[], object]] = {
        "project": lambda: side.show_project(desk.project),
        "resource": lambda: side.show_resource(assignment.resource),
        "reservations": side.show_reservations,
        "link": lambda: side.show_link(link.key),
        "planning_back": lambda: side.show_planning_back(task),
        "repeat": lambda: side.show_repeat(task),
        "split": lambda: side.show_split(task),
        "assignment": lambda: side.show_assignment(task, assignment.resource),
        "templates": side.show_templates,
        "save_template": side.show_save_template,
        "export": side.show_export,
        "view": side.show_view_form,
        "field": lambda: side.show_field(None),
        "file": lambda: side.show_file("The file was taken away; you go on in a new one."),
    }
    for section in ("dates", "settings", "talk", "files"):
        side.show_page("inspector")
        side.open_now()  # in a narrow window it folds where it is at home
        side.pages.inspector.show_section(section)
        settle()
        yield f"inspector {section}", window
    side.pages.inspector.show_section("dates")
    for name in PAGES:
        if name != "inspector":
            shown.get(name, lambda name=name: side.show_page(name))()
            settle()
            yield f"page {name}", window
            side.leave()
    window.show_paper()
    settle()
    yield "page paper", window
    side.leave()


def _menus(window: Window) -> Iterator[Stop]:
    window.topbar.build_menu()
    yield from _below("menu", window.topbar.menu_button.menu())
    for place in ("row", "chart"):
        menu = QMenu(window)
        window.registry.fill(menu, place)
        yield from _below(f"menu of a {place}", menu)
    for button in (window.build.bar.views, window.build.bar.groups, window.build.bar.order, window.build.bar.looks):
        menu = button.menu()
        menu.aboutToShow.emit()
        yield from _below(f"menu {button.text()}", menu)


def _below(name: str, menu: QMenu | None) -> Iterator[Stop]:
    """A menu and all that it leads to."""
    assert menu is not None
    menu.ensurePolished()
    menu.resize(menu.sizeHint())
    yield name, menu
    for action in menu.actions():
        inner = action.menu()
        if isinstance(inner, QMenu):
            inner.aboutToShow.emit()
            yield from _below(f"{name} - {action.text()}", inner)


def main() -> None:
    folder = Path(sys.argv[1])
    folder.mkdir(parents=True, exist_ok=True)
    app = make_application("light")
    with tempfile.TemporaryDirectory() as place:
        apply_theme(app, theme_named("dark" if "dark" in sys.argv[2:] else "light"))
        window = open_museum(Path(place))
        for size in SIZES:
            window.resize(*size)
            for name, widget in walk(window):
                wait_for(lambda: True)
                widget.grab().save(str(folder / f"{size[0]} {name}.png"))
        window.close()
    QApplication.processEvents()


if __name__ == "__main__":
    main()
