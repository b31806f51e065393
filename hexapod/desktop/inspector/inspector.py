"""The inspector: all about the selected task, above all why its dates are what they are."""

from __future__ import annotations

from typing import TYPE_CHECKING

from PyQt6.QtCore import Qt, QTimer, pyqtSignal
from PyQt6.QtWidgets import QGridLayout, QHBoxLayout, QLineEdit, QMenu, QPushButton, QVBoxLayout

from hexapod.desktop import dates
from hexapod.desktop.action import Registry
from hexapod.desktop.frame.page import Page
from hexapod.desktop.inspector.files import TaskFiles
from hexapod.desktop.inspector.how_far import HowFar
from hexapod.desktop.inspector.settings import TaskSettings
from hexapod.desktop.inspector.slip_curve import Points, SlipCurve, slip_points
from hexapod.desktop.inspector.talk import TaskTalk
from hexapod.desktop.inspector.why import WhyChain
from hexapod.desktop.models.background import in_background
from hexapod.desktop.models.desk import Desk
from hexapod.desktop.parts import LineButton, card, heading, icon_button, label
from hexapod.desktop.theme.tips import plain_tip
from hexapod.desktop.ways_out import ways_out
from hexapod.errors import HexapodError
from hexapod.fields.assignment_text import handle, share_text
from hexapod.plan import edits
from hexapod.plan.outline import number_of
from hexapod.plan.records import Link, LinkType, Task
from hexapod.schedule.effort import effort_of
from hexapod.schedule.reasons import ReasonKind, base_kind
from hexapod.schedule.schedule import Schedule, TaskDates
from hexapod.schedule.words import conflict_words, lag_text, limit_words
from hexapod.worktime.lengths import DAY_OF_WORK, HOUR, parse_length

if TYPE_CHECKING:
    from hexapod.schedule.holders import Holder

SECTIONS = {"dates": "Dates", "settings": "Settings", "talk": "Notes", "files": "Files"}
FILLED_AFTER = 30  # milliseconds until a page that was asked to fill itself anew has done so
MOST_NEXT = 2  # the second and the third reason
BASES = {ReasonKind.PROJECT_START: "The project's start", ReasonKind.STATUS_DATE: "The status date"}
SLIPS = (DAY_OF_WORK, 5 * DAY_OF_WORK)


class Inspector(Page):
    """``assignment_asked`` with the task and the resource of an assignment that is to be changed."""

    assignment_asked = pyqtSignal(str, str)

    def __init__(self, desk: Desk, registry: Registry) -> None:
        super().__init__(desk, "Inspector")
        self._registry = registry
        self.section = "dates"
        self._focus_soon = QTimer(self, singleShot=True, interval=FILLED_AFTER)
        self._focus_soon.timeout.connect(self._focus_why)
        for signal in (desk.selection_changed, desk.changed, desk.computed, desk.looked_at_changed):
            signal.connect(self.refresh)

    def fill(self) -> None:
        desk = self.desk
        task = desk.plan.tasks.get(desk.current or "")
        if task is None:
            self._fill_empty()
            return
        self.box.addWidget(label(task.name, "title", wrap=True))
        above = [desk.plan.tasks[t].name for t in reversed(desk.plan.ancestors(task.id))]
        place = " · ".join([number_of(desk.plan, task.id), *above])
        self.box.addWidget(label(place, "small", wrap=True))
        self._fill_tabs()
        if not desk.plan.is_whole:
            self.box.addWidget(label("The links are being read.", "muted"))
            return
        if self.section == "settings":
            self.box.addWidget(TaskSettings(desk, task))
            return
        if self.section == "talk":
            self.box.addWidget(TaskTalk(desk, task))
            return
        if self.section == "files":
            self.box.addWidget(TaskFiles(desk, task, self._registry.qt("approvals.show").trigger))
            return
        if not desk.schedule.has(task.id):
            self.box.addWidget(label("The dates are being computed.", "muted"))
            return
        found = desk.schedule.dates(task.id)
        self._fill_dates(found)
        if not desk.plan.is_summary(task.id):
            self._fill_duration(task)
        self.box.addSpacing(4)
        self.box.addWidget(HowFar(desk, task))
        self._fill_limits(task, found)
        self._fill_conflicts(task)
        if desk.is_computed:
            self.box.addWidget(heading("Why these dates"))
            self.box.addWidget(WhyChain(desk, task.id))
            if not desk.plan.is_summary(task.id) and not task.is_done:
                self._fill_next_reasons(task)
                self._fill_slips(task)
        self._fill_links(task)
        if not desk.plan.is_summary(task.id):
            self._fill_assigned(task)

    def _fill_tabs(self) -> None:
        line = QHBoxLayout()
        line.setSpacing(0)
        for name, words in SECTIONS.items():
            button = QPushButton(words)
            button.setObjectName(f"inspector.{name}")
            button.setProperty("role", "choice")
            button.setCheckable(True)
            button.setChecked(name == self.section)
            button.clicked.connect(lambda _, n=name: self.show_section(n))
            line.addWidget(button)
        line.addStretch(1)
        self.box.addSpacing(4)
        self.box.addLayout(line)

    def show_section(self, name: str) -> None:
        """Dates and their reasons, what the task says of itself, what is said about it, or what it hands over."""
        self.section = name
        self.refresh_now()

    def focus_why(self) -> None:
        """The keyboard goes to the chain of reasons, once it is there."""
        self._focus_soon.start()

    def _focus_why(self) -> None:
        self.focus_part("whyChain")

    def _fill_empty(self) -> None:
        if self.desk.project is None:
            self.box.addWidget(label("Nothing planned yet", "title"))
            words = "Once there is a task, the reasons of its dates stand here, and what a slip of it would do."
            self.box.addWidget(label(words, "muted", wrap=True))
            return
        self.box.addWidget(label("Nothing selected", "title"))
        hint = "Select a task to see why its dates are what they are, and what a slip of it would do."
        self.box.addWidget(label(hint, "muted", wrap=True))

    def _fill_dates(self, found: TaskDates) -> None:
        frame, box = card()
        grid = QGridLayout()
        grid.setHorizontalSpacing(8)
        cells = (
            ("Start", dates.short_day(found.start), dates.moment(found.start)),
            ("Finish", dates.short_day(found.finish), dates.moment(found.finish)),
            ("Float", self.desk.length(found.total_float), self._float_tip(found)),
        )
        for i, (name, value, tip) in enumerate(cells):
            grid.addWidget(label(name, "small"), 0, i)
            shown = label(value, "trouble" if name == "Float" and (found.total_float or 0) < 0 else "value")
            shown.setToolTip(plain_tip(tip))
            shown.setObjectName(f"inspector{name}")
            grid.addWidget(shown, 1, i)
        box.addLayout(grid)
        if found.total_float is not None:
            late = f"At the latest {dates.short_day(found.late_start)} to {dates.short_day(found.late_finish)}"
            box.addWidget(label(late, "small"))
        self.box.addSpacing(4)
        self.box.addWidget(frame)

    def _float_tip(self, found: TaskDates) -> str:
        if found.total_float is None or found.free_float is None:
            return "What is done has no float: it cannot move any more"
        between = self.desk.length(found.total_float - found.free_float)
        return f"Free float {self.desk.length(found.free_float)}, interfering float {between}"

    def _fill_conflicts(self, task: Task) -> None:
        """What is not kept, and the ways out of it, a press each."""
        load = self.desk.load
        for conflict in [c for c in load.conflicts if c.task == task.id] if load is not None else []:
            self.box.addWidget(label(conflict_words(self.desk.plan, conflict), "trouble", wrap=True))
            for words, edit in ways_out(self.desk.plan, self.desk.worked_out, conflict):
                button = QPushButton(words)
                button.setProperty("role", "quiet")
                button.setEnabled(self._can_edit())
                button.clicked.connect(lambda _, e=edit: self.desk.do(e))
                self.box.addWidget(button, 0, Qt.AlignmentFlag.AlignLeft)

    def _fill_duration(self, task: Task) -> None:
        """Shorter and longer by the mouse; the grid is where it is typed."""
        line = QHBoxLayout()
        said = "" if task.duration is not None else " (nobody has said yet)"
        line.addWidget(label(f"Lasts {self.desk.length(task.minutes)}{said}"), 1)
        step = DAY_OF_WORK if task.minutes > DAY_OF_WORK else HOUR
        for name, sign, words in (("minus", -1, "Shorter"), ("plus", 1, "Longer")):
            by = DAY_OF_WORK if sign > 0 and task.minutes >= DAY_OF_WORK else step
            button = icon_button(name, f"{words} by {self.desk.length(by)}")
            button.setEnabled(self._can_edit() and task.minutes + sign * by >= 0)
            wanted = task.minutes + sign * by
            button.clicked.connect(lambda _, w=wanted: self.desk.do(edits.set_durations(self.desk.plan, [task.id], w)))
            line.addWidget(button)
        self.box.addLayout(line)

    def _fill_limits(self, task: Task, found: TaskDates) -> None:
        for limit in task.limits:
            by = f", set by {limit.by}" if limit.by else ""
            text = f"{limit_words(limit.kind).capitalize()} {dates.short_day(limit.at)}{by}"
            lift = edits.set_limit(self.desk.plan, task.id, limit.kind, None)
            self._removable(text, "attention", "Lift this limit", lift)
        if task.as_late_as_possible:
            early = edits.set_task(
                self.desk.plan, task.id, f"“{task.name}” as early as may be", as_late_as_possible=False
            )
            self._removable("As late as it can", "attention", "As early as it can again", early)
        if task.hold:
            clear_hold = edits.clear_holds(self.desk.plan, [task.id])
            self._removable(
                f"Held back {self.desk.length(task.hold)} by levelling", "attention", "Clear this hold", clear_hold
            )
        if task.target is not None:
            missed = found.finish > task.target
            text = f"Target {dates.short_day(task.target)}" + (", missed" if missed else ", met")
            self.box.addWidget(label(text, "trouble" if missed else "muted"))

    def _removable(self, text: str, role: str, tip: str, edit: edits.Edit) -> None:
        line = QHBoxLayout()
        line.addWidget(label(text, role, wrap=True), 1)
        button = icon_button("x", tip)
        button.setEnabled(self._can_edit())
        button.clicked.connect(lambda: self.desk.do(edit))
        line.addWidget(button)
        self.box.addLayout(line)

    def _fill_next_reasons(self, task: Task) -> None:
        """What would hold it next, and how far that is from driving; worked out beside the interface."""
        place, schedule = QVBoxLayout(), self.desk.worked_out
        self.box.addLayout(place)
        title = heading("What would hold it next")
        title.hide()
        place.addWidget(title)

        def work() -> object:
            from hexapod.schedule.holders import holders

            return [h for h in holders(schedule, task.id) if h.slack > 0][:MOST_NEXT]

        def show(found: object) -> None:
            if schedule is self.desk.schedule and self.desk.current == task.id and found:
                title.show()
                for holder in found:  # type: ignore[attr-defined]
                    place.addLayout(self._next_reason(task, holder))

        in_background(title, work, show, lambda error: None)

    def _next_reason(self, task: Task, holder: Holder) -> QHBoxLayout:
        line = QHBoxLayout()
        if holder.link is not None:
            button = LineButton(self.desk.plan.tasks[holder.link.predecessor].name)
            button.setObjectName("nextReason")
            button.clicked.connect(lambda _, t=holder.link.predecessor: self.desk.go_to(t))
            line.addWidget(button, 1)
        else:
            project = self.desk.plan.projects[task.project]
            text = limit_words(holder.limit).capitalize() if holder.limit else BASES[base_kind(project)]
            line.addWidget(label(text, wrap=True), 1)
        away = label(f"{self.desk.length(holder.slack)} away", "muted")
        away.setToolTip("How much it could start earlier before this held it")
        line.addWidget(away)
        return line

    def _fill_slips(self, task: Task) -> None:
        """Worked out beside the interface: each point of the curve is a schedule of its own."""
        self.box.addWidget(heading("If it slips"))
        lines = [label(f"{self.desk.length(delay)} late: …", wrap=True) for delay in SLIPS]
        for line in lines:
            self.box.addWidget(line)
        schedule = self.desk.worked_out
        by = QLineEdit()
        by.setObjectName("slipBy")
        by.setAccessibleName("If it slips by")
        by.setPlaceholderText("by another amount: 8 d")
        by.returnPressed.connect(lambda: lines[-1].setText(self._slip_said(task.id, by.text())))
        lines.append(label("", wrap=True))

        def read(delay: int, moves: int) -> None:
            finish = f"finish moves {self.desk.length(moves)}" if moves else "finish stays"
            lines[-1].setText(f"{self.desk.length(delay)} late: {finish}")

        curve = SlipCurve(read)
        self.box.addWidget(curve)
        self.box.addWidget(by)
        self.box.addWidget(lines[-1])

        def is_wanted() -> bool:
            return schedule is self.desk.schedule and self.desk.current == task.id

        def work() -> tuple[list[str], Points]:
            words = [slip_words(self.desk, schedule, task.id, delay) for delay in SLIPS]
            return words, slip_points(schedule, task.id, is_wanted)

        def show(found: object) -> None:
            if is_wanted():
                words, points = found  # type: ignore[misc]
                for line, text in zip(lines, words, strict=False):
                    line.setText(text)
                curve.show_points(points)

        in_background(curve, work, show, lambda error: lines[0].setText(str(error)))

    def _slip_said(self, task_id: str, text: str) -> str:
        if task_id not in self.desk.plan.tasks:
            return "The task is gone."
        try:
            return slip_words(self.desk, self.desk.worked_out, task_id, parse_length(text, self.desk.units(task_id)))
        except HexapodError as error:
            return str(error)

    def _fill_links(self, task: Task) -> None:
        plan = self.desk.plan
        for title, links in (("Waits for", plan.links_into(task.id)), ("Holds up", plan.links_from(task.id))):
            if links:
                self.box.addWidget(heading(title))
            for link in links:
                self.box.addLayout(self._link_line(task, link))

    def _link_line(self, task: Task, link: Link) -> QHBoxLayout:
        plan = self.desk.plan
        other = link.predecessor if link.successor == task.id else link.successor
        kind = "" if link.type is LinkType.FS else link.type.value
        words = ", ".join(w for w in (plan.tasks[other].name, kind, lag_text(link)) if w)
        line = QHBoxLayout()
        line.setSpacing(0)
        button = LineButton(words)
        button.clicked.connect(lambda: self.desk.go_to(other))
        line.addWidget(button, 1)
        change = icon_button("link", "Change the link")
        change.setEnabled(self._can_edit())
        change.clicked.connect(lambda: self.desk.link_asked.emit(link.key))
        line.addWidget(change)
        remove = icon_button("x", "Remove the link")
        remove.setEnabled(self._can_edit())
        remove.clicked.connect(lambda: self.desk.do(edits.unlink(self.desk.plan, [link.key])))
        line.addWidget(remove)
        return line

    def _fill_assigned(self, task: Task) -> None:
        plan = self.desk.plan
        self.box.addWidget(heading("Assigned"))
        for assignment in plan.assignments_of(task.id):
            resource = plan.resources[assignment.resource]
            work = format_hours(effort_of(plan, assignment))
            line = QHBoxLayout()
            line.setSpacing(0)
            share = share_text(assignment).strip() or "100%"
            who = LineButton(f"{handle(plan, resource.id)}  {resource.name}")
            who.clicked.connect(lambda _, r=resource.id: self.desk.look_at_resource(r))
            line.addWidget(who, 1)
            change = QPushButton(f"{share} · {work}")
            change.setProperty("role", "row")
            change.setObjectName(f"assignment {resource.id}")
            change.setToolTip("Change how much, from when to when, and where the work lies")
            change.setAccessibleName(f"{resource.name}: {share}, {work}. Change it")
            change.setEnabled(self._can_edit())
            change.clicked.connect(lambda _, r=resource.id: self.assignment_asked.emit(task.id, r))
            line.addWidget(change)
            off = icon_button("x", f"Take {resource.name} off")
            off.setEnabled(self._can_edit())
            off.clicked.connect(lambda _, r=resource.id: self.desk.do(edits.unassign(self.desk.plan, task.id, r)))
            line.addWidget(off)
            self.box.addLayout(line)
        add = QPushButton("Assign…")
        add.setProperty("role", "quiet")
        add.setObjectName("assignMenu")
        add.setEnabled(self._can_edit() and bool(plan.resources))
        menu = QMenu(add)
        taken = set(plan.assigned.get(task.id, ()))
        for resource in plan.resources_in_order():
            if resource.id not in taken:
                choice = menu.addAction(f"{resource.initials}  {resource.name}".strip())
                choice.triggered.connect(
                    lambda _, r=resource.id: self.desk.do(edits.assign(self.desk.plan, [task.id], r))
                )
        add.setMenu(menu)
        self.box.addWidget(add, 0, Qt.AlignmentFlag.AlignLeft)

    def _can_edit(self) -> bool:
        return not self.desk.is_read_only


def slip_words(desk: Desk, schedule: Schedule, task_id: str, delay: int) -> str:
    """What a later start would do, such as ``1 d late: finish moves 1 d, 5 tasks move``."""
    from hexapod.schedule.slip import slip

    try:
        found = slip(schedule, task_id, delay)
    except HexapodError as error:
        return str(error)
    finish = f"finish moves {desk.length(found.finish_moves)}" if found.finish_moves else "finish stays"
    moved = found.tasks_moved
    others = {0: "no other task moves", 1: "1 task moves"}.get(moved, f"{moved} tasks move")
    return f"{desk.length(delay)} late: {finish}, {others}"


def format_hours(minutes: float) -> str:
    return f"{minutes / 60:.1f}".rstrip("0").rstrip(".") + " h"
