"""Somebody who does anything anywhere: actions, keys, mouse, fields, menus and dialogs of all legs.

Each step is chosen by a seed, so that what fails can be done again. What asks for a file gets one from a folder of good
and bad ones; what asks a question gets an answer by chance.
"""

from __future__ import annotations

import random
from collections.abc import Callable
from pathlib import Path
from typing import Any

from PyQt6.QtCore import QPoint, QPointF, Qt, QTimer
from PyQt6.QtGui import QContextMenuEvent, QKeySequence, QWheelEvent
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import (
    QAbstractButton,
    QAbstractSpinBox,
    QApplication,
    QComboBox,
    QLineEdit,
    QMenu,
    QPlainTextEdit,
    QWidget,
)

from hexapod.desktop.models.portfolio import GROUPS, SORTS, Only
from hexapod.desktop.telling.leg import PARTS as TELLING
from hexapod.desktop.window import Window
from hexapod.errors import HexapodError
from hexapod.outlook.merge import Side
from hexapod.plan import edits
from hexapod.plan.edits import portfolio
from hexapod.plan.plan import Plan
from hexapod.plan.requests import Request
from hexapod.plan.validity import check_whole
from hexapod.schedule.engine import schedule
from hexapod.session import Session
from tests.desktop.case import APP, put_away
from tests.storm import random_edit
from tests.support import project, random_plan

KEYS = [
    Qt.Key.Key_Left, Qt.Key.Key_Right, Qt.Key.Key_Up, Qt.Key.Key_Down, Qt.Key.Key_Home, Qt.Key.Key_End, Qt.Key.Key_Tab,
    Qt.Key.Key_Backtab, Qt.Key.Key_PageUp, Qt.Key.Key_PageDown, Qt.Key.Key_Return, Qt.Key.Key_Space, Qt.Key.Key_Escape,
    Qt.Key.Key_Delete, Qt.Key.Key_Backspace, Qt.Key.Key_F2, Qt.Key.Key_Plus, Qt.Key.Key_Minus, Qt.Key.Key_A,
    Qt.Key.Key_E, Qt.Key.Key_5, Qt.Key.Key_Menu,
]  # fmt: skip
MODIFIERS = [Qt.KeyboardModifier.NoModifier] * 6 + [
    Qt.KeyboardModifier.ShiftModifier, Qt.KeyboardModifier.ControlModifier, Qt.KeyboardModifier.AltModifier,
    Qt.KeyboardModifier.ControlModifier | Qt.KeyboardModifier.ShiftModifier,
]  # fmt: skip
WORDS = (
    "", "3d", "2 w", "-5", "1e308", "99999999999999999999", "fri", "2026-10-01", "in 3 days", "31.02.2026", "1.1", "²",
    "1.1 SS 2 d later", "<b>bold</b>", "=1+1", "R0 50%", "R1 ×2", "critical and float < 3 d", "name contains (", "50 %",
    "ünï ☂", "x" * 2000, "0", "\t", "Survey\n  Glass\n  Frames", "Nobody", "start + 700 w", "1" + "+1" * 300,
    "Paint 2d after 1 with R0, ZZ by fri", "Knot after 1 before 1", "Fence 20 m after Glass",
)  # fmt: skip
NOTES = (
    "Hall\n  Paint 2d after 1.1 with ZZ\n  Fence 20 m after paint\n  Lamps 1d before Paint",
    "A 1d after C\nB 1d after A\nC 1d after B",
    "1.1 One 2d with R0\n1.2 Two 3d after 1.1 with R0, R1 50%",
    "Only names\nand more",
    "x\ty\nz\t3d",
    "",
    "\x00 5d",
    "\n".join(f"Row {i} 1d after Row {i - 1}" for i in range(260)),
)
THEN = (Qt.Key.Key_Return, Qt.Key.Key_Tab, Qt.Key.Key_Escape, Qt.Key.Key_Down)
NOT_PRESSED = ("workspace.print",)  # the printer's own dialog cannot be answered


class Monkey:
    """One window on a random workspace, and what has been done in it."""

    def __init__(self, path: Path, files: Path, seed: int) -> None:
        self.rng = random.Random(seed)
        self.files = files
        self.path = path
        self.done: list[str] = []
        self.failures: list[str] = []
        session = Session.create(path)
        size = self.rng.randrange(2, 30)
        plan = random_plan(self.rng, size, calendars=1, summaries=True, resources=3, projects=2, rich=True)
        session.apply(edits.to_plan("Begin", Plan(), plan))
        for _ in range(self.rng.randrange(30)):
            try:
                session.apply(random_edit(self.rng, session.plan))
            except HexapodError:
                continue
        session.close()
        self.window = self._opened()
        self._unblock = QTimer(interval=20)  # also within the loop of a menu or a box that waits for an answer
        self._unblock.timeout.connect(self.answer_popups)
        self._unblock.start()

    def answer_popups(self) -> None:
        popup = QApplication.activePopupWidget() or QApplication.activeModalWidget()
        if isinstance(popup, QMenu):
            self.take_from(popup)
        if popup is not None:
            popup.close()

    def _opened(self) -> Window:
        window = Window(Session.open(self.path), lambda *_: None)
        window.resize(*self.rng.choice(((1280, 800), (1024, 640), (1366, 720))))
        window.show()
        window.start()
        return window

    # Steps

    def step(self) -> None:
        """Do something; what it was is kept."""
        kinds: dict[Callable[[], str], int] = {
            self.act: 9, self.key: 6, self.click: 6, self.drag: 4, self.press_button: 6, self.choose: 2, self.fill: 4,
            self.edit_beneath: 3, self.undo: 2, self.right_click: 2, self.wheel: 1, self.look: 2,
            self.paste: 2, self.try_out: 2, self.tell: 2,
        }  # fmt: skip
        step = self.rng.choices(list(kinds), list(kinds.values()))[0]
        self.done.append(step.__name__)
        self.done[-1] = f"{step.__name__}: {step()}"
        del self.done[:-12]
        if QApplication.mouseButtons() != Qt.MouseButton.NoButton:  # where what was pressed is gone
            QTest.mouseRelease(self.window, Qt.MouseButton.LeftButton)
        QApplication.processEvents()
        for menu in APP.topLevelWidgets():
            if isinstance(menu, QMenu) and menu.isVisible():
                menu.close()

    def act(self) -> str:
        registry = self.window.registry
        chosen = [a for a in registry if not a.id.startswith(NOT_PRESSED) and a.id != "workspace.close"]
        action = self.rng.choice(chosen)
        made = registry.qt(action.id)
        if made.isEnabled():
            made.trigger()
        return action.id

    def visible(self, *kinds: type[QWidget]) -> list[Any]:
        found = [w for kind in kinds for w in self.window.findChildren(kind)]
        return [w for w in found if w.isVisible() and w.isEnabled() and not w.property("putAway")]

    def target(self) -> QWidget:
        focused = QApplication.focusWidget()
        if focused is not None and self.rng.random() < 0.6:
            return focused
        return self.rng.choice(self.visible(QWidget) or [self.window])

    def key(self) -> str:
        target, key, modifier = self.target(), self.rng.choice(KEYS), self.rng.choice(MODIFIERS)
        if QKeySequence(modifier.value | key.value).toString() in ("Ctrl+Q", "Alt+F4"):
            return "kept from leaving"
        name = type(target).__name__
        QTest.keyClick(target, key, modifier)
        return f"{name} {key.name} {modifier.name}"

    def spot(self, widget: QWidget) -> QPoint:
        return QPoint(self.rng.randrange(max(1, widget.width())), self.rng.randrange(max(1, widget.height())))

    def click(self) -> str:
        target = self.rng.choice(self.visible(QWidget) or [self.window])
        name, spot = type(target).__name__, self.spot(target)
        modifier = self.rng.choice(MODIFIERS)
        if self.rng.random() < 0.2:
            QTest.mouseDClick(target, Qt.MouseButton.LeftButton, modifier, spot)
        else:
            QTest.mouseClick(target, Qt.MouseButton.LeftButton, modifier, spot)
        return f"{name} {spot.x()} {spot.y()}"

    def right_click(self) -> str:
        target = self.rng.choice(self.visible(QWidget) or [self.window])
        name, spot = type(target).__name__, self.spot(target)
        event = QContextMenuEvent(QContextMenuEvent.Reason.Mouse, spot, target.mapToGlobal(spot))
        QApplication.sendEvent(target, event)
        self.take_from_menus()
        return f"{name} {spot.x()} {spot.y()}"

    def take_from_menus(self) -> None:
        for menu in APP.topLevelWidgets():
            if isinstance(menu, QMenu) and menu.isVisible():
                self.take_from(menu)

    def take_from(self, menu: QMenu) -> None:
        actions = [a for a in menu.actions() if a.isEnabled() and not a.isSeparator() and a.menu() is None
                   and a.objectName() not in ("workspace.close", *NOT_PRESSED)]  # fmt: skip
        if actions and self.rng.random() < 0.7:
            self.rng.choice(actions).trigger()

    def drag(self) -> str:
        big = [w for w in self.visible(QWidget) if w.width() > 150 and w.height() > 60] or [self.window]
        target = self.rng.choice(big)
        name, spots = type(target).__name__, [self.spot(target) for _ in range(4)]
        QTest.mousePress(target, Qt.MouseButton.LeftButton, pos=spots[0])
        for i, spot in enumerate(spots[1:]):
            if i == 1 and self.rng.random() < 0.15:
                self.edit_beneath()  # while it is being dragged
            QTest.mouseMove(target, spot)
            QApplication.processEvents()
        if self.rng.random() < 0.2:
            QTest.keyClick(self.window, Qt.Key.Key_Escape)
        QTest.mouseRelease(target, Qt.MouseButton.LeftButton, pos=spots[-1])
        return name

    def wheel(self) -> str:
        target = self.rng.choice(self.visible(QWidget) or [self.window])
        spot = QPointF(self.spot(target))
        delta = QPoint(0, self.rng.choice((-120, 120)))
        event = QWheelEvent(spot, QPointF(target.mapToGlobal(spot.toPoint())), delta, delta, Qt.MouseButton.NoButton,
                            self.rng.choice(MODIFIERS), Qt.ScrollPhase.NoScrollPhase, False)  # fmt: skip
        QApplication.sendEvent(target, event)
        return type(target).__name__

    def press_button(self) -> str:
        buttons = [b for b in self.visible(QAbstractButton) if not b.objectName().startswith("paperPrint")]
        if not buttons:
            return "none"
        button = self.rng.choice(buttons)
        name = button.objectName() or button.text() or button.toolTip()
        button.click()
        self.take_from_menus()
        return name

    def choose(self) -> str:
        boxes = [b for b in self.visible(QComboBox) if b.count()]
        if not boxes:
            return "none"
        box = self.rng.choice(boxes)
        name = box.objectName()
        box.setCurrentIndex(self.rng.randrange(box.count()))
        box.activated.emit(box.currentIndex())
        return name

    def fill(self) -> str:
        fields = self.visible(QLineEdit, QPlainTextEdit, QAbstractSpinBox)
        if not fields:
            return "none"
        field, words = self.rng.choice(fields), self.rng.choice(WORDS)
        name = field.objectName() or type(field).__name__
        if isinstance(field, QAbstractSpinBox):
            field.setFocus()
            QTest.keyClicks(field, "".join(c for c in words[:20] if c.isascii() and c.isprintable()))
        elif isinstance(field, QPlainTextEdit):
            field.setPlainText(words)
        else:
            field.setFocus()
            field.selectAll()
            field.insert(words)
            field.textEdited.emit(field.text())
        if self.rng.random() < 0.7:
            QTest.keyClick(
                field, self.rng.choice((Qt.Key.Key_Return, Qt.Key.Key_Tab, Qt.Key.Key_Escape, Qt.Key.Key_Down))
            )
        return f"{name} {words[:20]!r}"

    def paste(self) -> str:
        """Text from elsewhere, wherever the keyboard is; and what the preview of notes offers."""
        text = self.rng.choice(NOTES)
        clipboard = QApplication.clipboard()
        assert clipboard is not None
        clipboard.setText(text)
        action = self.window.registry.qt("edit.paste")
        if action.isEnabled():
            action.trigger()
        if self.window.shows("notes"):
            view = self.window.notes
            ways = (view.take, view.take_names, view.take_another_way, lambda: view.say_new(["ZZ"]), view._leave)
            for way in self.rng.sample(ways, 2):
                way()
        return repr(text[:20])

    def edit_beneath(self) -> str:
        """An edit by another way, under whatever is open; often a row that is looked at goes."""
        desk = self.window.desk
        plan = desk.plan
        if not plan.projects:
            desk.do(edits.save_project(plan, project(f"new{self.rng.randrange(99)}")))
            return "a project"
        try:
            gone = [t for t in desk.selected() if len(plan.tasks) > 4]
            is_removal = bool(gone) and self.rng.random() < 0.3
            edit = edits.remove_tasks(plan, gone) if is_removal else random_edit(self.rng, plan)
        except HexapodError as error:
            return str(error)
        desk.do(edit)
        return edit.words

    def try_out(self) -> str:
        """Scenarios: made, gone into and left, brought up to date, taken over, and dropped beneath whatever is open."""
        desk, work = self.window.desk, self.window.desk.scenarios
        there = [s.id for s in work.listed()]
        name = f"Way {self.rng.randrange(9)}"
        one = self.rng.choice(there) if there else ""
        ways: list[tuple[str, Callable[[], object]]] = [("make", lambda: work.make(name)), ("leave", work.leave)]
        if one:
            ways += [
                ("enter", lambda: work.enter(one)), ("enter", lambda: work.enter(one)),
                ("copy", lambda: work.make(name, source=one)),
                ("bring up", lambda: self.bring_up(one)), ("take over", lambda: work.take_over(one)),
                ("edit", lambda: self.edit_in(one)),
                ("drop", lambda: work.drop(one)), ("look", lambda: work.look_at(one)),
            ]  # fmt: skip
        words, way = self.rng.choice(ways)
        try:
            if desk.home.is_computed:
                way()
        except HexapodError as error:
            return f"{words}: {error}"
        return words

    def _approve(self) -> None:
        """Ask for an approval, or answer one."""
        desk, rng = self.window.desk, self.rng
        plan, people = desk.plan, sorted(desk.plan.resources)
        if plan.approvals and rng.random() < 0.6:
            one = plan.approvals[rng.choice(sorted(plan.approvals))]
            who = rng.choice([*one.people, *people, "gone"])
            desk.attempt(
                edits.answer_approval(plan, one.id, who, rng.random() < 0.6, rng.choice(("", "x")), 29_900_000)
            )
        elif plan.tasks and people:
            some = rng.sample(people, min(len(people), 2))
            asking = edits.ask_approval(
                plan, rng.choice(sorted(plan.tasks)), some, "", 29_900_000, in_order=rng.random() < 0.5
            )
            desk.attempt(asking[1])

    def _deliver(self) -> None:
        """Name something that a row hands over, hand it over, ask people to agree to it, delete it."""
        desk, rng = self.window.desk, self.rng
        plan, people = desk.plan, sorted(desk.plan.resources)
        if plan.deliverables and rng.random() < 0.7:
            one = plan.deliverables[rng.choice(sorted(plan.deliverables))]
            ways: list[Callable[[], edits.Edit]] = [
                lambda: edits.deliver(plan, one.id, "Ada", 29_900_000),
                lambda: edits.not_delivered(plan, one.id),
                lambda: edits.attach_to(plan, one.id, rng.choice(("a.pdf", "x" * 5000, "https://museum.example"))),
                lambda: edits.remove_deliverable(plan, one.id),
                lambda: edits.ask_approval(plan, one.task, people[:2], "", 29_900_000, deliverable=one.id)[1],
            ]  # fmt: skip
            desk.attempt(rng.choice(ways)())
        elif plan.tasks:
            names = [rng.choice(("", "Drawing", "x" * 2000))]
            desk.attempt(edits.add_deliverables(plan, rng.choice(sorted(plan.tasks)), names))

    def tell(self) -> str:
        """All projects and milestones: narrowed, marked, changed together, put away."""
        desk, rng = self.window.desk, self.rng
        projects, work, marks = desk.portfolio, portfolio, desk.milestones
        some = [p for p in sorted(desk.plan.projects) if rng.random() < 0.6]
        request = Request(edits.new_id(), rng.choice(("", "Lamps")), 29_000_000)
        ways: list[tuple[str, Callable[[], object]]] = [
            ("show", lambda: self.window.show_part(rng.choice(list(TELLING)), "telling")),
            ("narrow", lambda: projects.narrow(only=rng.choice(list(Only)))),
            ("group", lambda: projects.narrow(group_by=rng.choice(list(GROUPS)), sort_by=rng.choice(list(SORTS)))),
            ("text", lambda: projects.narrow(text=rng.choice(("", "a", "<b>")))),
            ("whose", lambda: marks.narrow(whose=rng.choice(marks.choices())[0])),
            ("month", lambda: marks.look_at_month(rng.choice([None, *(m for m, _ in marks.months())]))),
            ("report", lambda: desk.reports.choose(rng.choice(desk.reports.choices())[0])),
            ("scope", lambda: desk.reports.choose_scope(rng.choice(desk.reports.scopes())[0])),
            ("beside", lambda: desk.reports.show_beside(rng.random() < 0.5)),
            ("keep", lambda: desk.reports.keep(rng.choice(("", "Mine", "Mine", "x" * 2000)))),
            ("forget", lambda: desk.reports.forget()),
            ("outside", lambda: desk.do(edits.mark_projects(desk.plan, some, rng.random() < 0.5))),
            ("ask", lambda: desk.do(edits.save_requests(desk.plan, [request]))),
            ("request", lambda: desk.requests.look_at(rng.choice(["", *sorted(desk.plan.requests)]))),
            ("accept", lambda: desk.requests.accept("", 29_900_000, None)),
            ("decline", lambda: desk.requests.decline(rng.choice(("", "No")))),
            ("try", lambda: desk.requests.try_out(29_900_000, None)),
            ("approve", lambda: self._approve()),
            ("deliver", lambda: self._deliver()),
            ("page", lambda: desk.page.narrow(scope=rng.choice(desk.reports.scopes())[0], outside=rng.random() < 0.5)),
            ("hold", lambda: desk.staging.show(work.hold_projects(desk.plan, some, rng.random() < 0.5))),
            ("archive", lambda: desk.staging.show(work.archive_projects(desk.plan, some))),
            ("delay", lambda: desk.staging.show(work.delay_projects(desk.plan, dict.fromkeys(some, 960)))),
        ]
        if some:
            ways += [("mark", lambda: projects.mark(some[0])), ("look", lambda: projects.look_at(some[0]))] * 2
        words, way = rng.choice(ways)
        try:
            if desk.is_computed and not desk.is_read_only:
                way()
        except HexapodError as error:
            return f"{words}: {error}"
        return words

    def edit_in(self, scenario: str) -> None:
        plan = self.window.desk.scenarios.opened(scenario).plan
        if plan.projects:
            self.window.desk.scenarios.carry_out(scenario, random_edit(self.rng, plan))

    def bring_up(self, scenario: str) -> None:
        work = self.window.desk.scenarios
        for question in work.merged(scenario).questions:
            work.answer(scenario, question.place, self.rng.choice(list(Side)))
        work.bring_up(scenario)

    def undo(self) -> str:
        desk = self.window.desk
        count = self.rng.choice((1, 1, 2, 5, 1000))
        step = desk.undo if self.rng.random() < 0.7 else desk.redo
        for _ in range(count):
            before = len(desk.session.history)
            step()
            if len(desk.session.history) == before:
                break
        return f"{step.__name__} {count}"

    def look(self) -> str:
        """Elsewhere: another leg, project or theme; or away, and back again."""
        desk, what = self.window.desk, self.rng.random()
        if what < 0.15:
            self.reopen()
            return "closed and opened again"
        if what < 0.3:
            desk.look_at_today()
            desk.staging.ask_first(False)
            desk.guard.turn(False)
            return "today"
        if what < 0.5 and desk.plan.projects:
            desk.look_at_project(self.rng.choice(sorted(desk.plan.projects)))
            return "a project"
        leg = self.rng.choice(("build", "link", "staff", "track", "trying", "telling"))
        self.window.show_leg(leg)
        return leg

    def reopen(self) -> None:
        put_away(self.window)
        self.window = self._opened()

    # At the end

    def check(self) -> None:
        """The plan is sound, its dates are those of a fresh start, and all of it can be undone."""
        desk = self.window.desk
        desk.look_at_today()
        desk.staging.ask_first(False)
        desk.levelling.stop()
        desk.scenarios.leave()
        for scenario in desk.scenarios.listed():
            check_whole(desk.scenarios.opened(scenario.id).plan)
        session = desk.session
        session.compute()
        check_whole(session.plan)
        fresh = schedule(session.plan)
        for task in session.plan.tasks:
            assert fresh.dates(task) == session.schedule.dates(task), task
        while session.undo_words is not None:
            before = len(session.history)
            desk.undo()
            assert len(session.history) > before, f"undo sticks at “{session.undo_words}”"
        assert not session.plan.tasks

    def close(self) -> None:
        self._unblock.stop()
        put_away(self.window)
