"""What the side says of an approval: who has to agree, what they said, an answer; and asking for one."""

from __future__ import annotations

from pathlib import Path
from typing import Any

from PyQt6.QtWidgets import QCheckBox, QComboBox, QHBoxLayout, QPushButton

from hexapod.desktop import dates
from hexapod.desktop.frame.open_place import open_place
from hexapod.desktop.frame.page import Page
from hexapod.desktop.models.desk import Desk
from hexapod.desktop.parts import LineButton, card, heading, label, narrow
from hexapod.errors import BadText
from hexapod.formats.attached import WEB
from hexapod.plan import edits
from hexapod.plan.approvals import Approval, ApprovalState
from hexapod.plan.records import ResourceKind
from hexapod.worktime import clock

STATES = {
    ApprovalState.OPEN: "Waits for an answer", ApprovalState.SENT_BACK: "Sent back", ApprovalState.GIVEN: "Agreed to",
}  # fmt: skip


class ApprovalPart:
    """Fills the box of a page; ``said`` keeps what was typed while the page is filled anew."""

    def __init__(self, page: Page, desk: Desk) -> None:
        self._page, self._desk = page, desk
        self._said: dict[str, Any] = {}

    def fill(self, approval: Approval) -> None:
        """One that was asked for."""
        plan, box = self._desk.plan, self._page.box
        mark = plan.tasks[approval.task]
        box.addWidget(label(mark.name, "title", wrap=True))
        asked = f"Asked for by {approval.by or 'somebody'} on {dates.long_day(approval.asked)}"
        box.addWidget(label(f"{plan.projects[mark.project].name} · {asked}", "small", wrap=True))
        frame, inside = card()
        inside.addWidget(label(STATES[approval.state], "value"))
        for answer in approval.answers:
            word = f": {answer.word}" if answer.word else ""
            how = "yes" if answer.yes else "no"
            tone = "small" if answer.yes else "trouble"
            inside.addWidget(label(f"{answer.name}, {dates.short_day(answer.at)}: {how}{word}", tone, wrap=True))
        for person in approval.turn:
            inside.addWidget(label(f"{plan.resources[person].name} has not answered", "small", wrap=True))
        if not approval.people:
            inside.addWidget(label("Nobody is left to agree to it.", "trouble", wrap=True))
        box.addWidget(frame)
        if approval.work in plan.tasks:
            show = LineButton(f"Show “{plan.tasks[approval.work].name}”")
            show.clicked.connect(lambda: self._desk.go_to(approval.work or ""))
            box.addWidget(show)
        for place in self._files(approval):
            look = LineButton(f"Open {place if WEB.match(place) else Path(place).name}")
            look.clicked.connect(lambda _, p=place: open_place(self._desk, p))
            box.addWidget(look)
        if approval.turn:
            self._fill_answer(approval)
        box.addWidget(self._page.reason("approvalReason"))
        if approval.state is not ApprovalState.GIVEN:
            self._buttons(
                ("Ask again", "approvalAgain", lambda: edits.ask_again(plan, approval.id, self._who, clock.now())),
                ("No approval any more", "approvalRemove", lambda: edits.remove_approvals(plan, [approval.id])),
            )  # fmt: skip

    def _files(self, approval: Approval) -> tuple[str, ...]:
        """What is looked at before one answers."""
        plan = self._desk.plan
        wanted = plan.deliverables.get(approval.deliverable or "")
        if wanted is not None:
            return wanted.files
        return plan.tasks[approval.work or approval.task].attachments

    @property
    def _who(self) -> str:
        return self._desk.session.who

    def _fill_answer(self, approval: Approval) -> None:
        plan, box = self._desk.plan, self._page.box
        box.addWidget(heading("The answer"))
        who = narrow(QComboBox())
        who.setObjectName("approvalWho")
        who.setAccessibleName("Who answers")
        for person in approval.turn:
            who.addItem(plan.resources[person].name, person)
        box.addWidget(who)
        box.addWidget(label("Word", "muted"))
        word = self._page.input_line(self._said.get("word", ""), "approvalWord", "A word with the answer", "")
        word.textEdited.connect(lambda text: self._said.update(word=text))
        box.addWidget(word)

        def answer(yes: bool) -> edits.Edit:
            return edits.answer_approval(plan, approval.id, who.currentData(), yes, word.text(), clock.now())

        self._buttons(
            ("Yes", "approvalYes", lambda: answer(True)), ("No, it goes back", "approvalNo", lambda: answer(False)),
        )  # fmt: skip

    # Asking

    def subjects(self, task_id: str) -> list[tuple[str | None, str]]:
        """What of a row people can be asked to agree to, and nobody was yet: the row itself, as None, and its
        deliverables; each with its name."""
        plan = self._desk.plan
        asked = [a for a in plan.approvals.values() if task_id in (a.task, a.work)]
        found: list[tuple[str | None, str]] = []
        if all(a.deliverable is not None for a in asked):
            found.append((None, plan.tasks[task_id].name))
        known = {a.deliverable for a in asked}
        return found + [(d.id, d.name) for d in plan.deliverables_of(task_id) if d.id not in known]

    def fill_ask(self, task_id: str) -> None:
        """A form for what nobody has to agree to yet."""
        plan, box = self._desk.plan, self._page.box
        subjects = self.subjects(task_id)
        box.addWidget(label(f"Approval of “{plan.tasks[task_id].name}”", "title", wrap=True))
        of = narrow(QComboBox())
        of.setObjectName("approvalOf")
        of.setAccessibleName("What they are to agree to")
        for key, name in subjects:
            of.addItem(name if key is None else f"What it hands over: {name}", key)
        of.setCurrentIndex(max(0, of.findData(self._said.get("of", subjects[-1][0]))))
        of.activated.connect(lambda i: self._said.update(of=of.itemData(i)))
        if len(subjects) > 1 or subjects[0][0] is not None:
            box.addWidget(label("To be agreed to", "muted"))
            box.addWidget(of)
        hint = "A milestone behind it stays open until they said yes; what waits for the row waits for that."
        box.addWidget(label(hint, "small", wrap=True))
        routes = sorted(plan.routes.values(), key=lambda r: (r.rank, r.id))
        if routes:
            box.addWidget(label("A kept route", "muted"))
            kept = narrow(QComboBox())
            kept.setObjectName("approvalRoute")
            kept.setAccessibleName("A kept route")
            kept.addItem("None", None)
            for route in routes:
                kept.addItem(route.name, route)
            kept.activated.connect(lambda i: self._take_route(kept.itemData(i)))
            box.addWidget(kept)
        box.addWidget(label("Who has to agree, in this order", "muted"))
        people = self._page.input_line(
            self._said.get("people", ""), "approvalPeople", "Who has to agree", "Initials or names, parted by commas"
        )  # fmt: skip
        people.textEdited.connect(lambda text: self._said.update(people=text))
        box.addWidget(people)
        aside = QCheckBox("Side by side, in any order")
        aside.setObjectName("approvalAside")
        aside.setChecked(self._said.get("aside", "") == "1")
        aside.toggled.connect(lambda on: self._said.update(aside="1" if on else ""))
        box.addWidget(aside)
        box.addWidget(self._page.reason("approvalReason"))
        ask = QPushButton("Ask for approval")
        ask.setObjectName("approvalAsk")
        ask.setProperty("role", "primary")
        ask.setEnabled(not self._desk.is_read_only)

        def asking() -> edits.Edit:
            chosen = self._people(people.text())
            return edits.ask_approval(plan, task_id, chosen, self._who, clock.now(), in_order=not aside.isChecked(),
                                      deliverable=of.currentData())[1]  # fmt: skip

        ask.clicked.connect(lambda: self._do(asking))
        people.returnPressed.connect(ask.click)
        box.addWidget(ask)
        box.addWidget(label("Keep this route as", "muted"))
        line = QHBoxLayout()
        name = self._page.input_line("", "approvalRouteName", "Name of the route", "Board")
        keep = QPushButton("Keep")
        keep.setObjectName("approvalKeep")
        keep.setEnabled(not self._desk.is_read_only)
        keep.clicked.connect(lambda: self._do(lambda: edits.keep_route(
            plan, name.text(), self._people(people.text()), in_order=not aside.isChecked())))  # fmt: skip
        line.addWidget(name, 1)
        line.addWidget(keep)
        box.addLayout(line)

    def _take_route(self, route: object) -> None:
        plan = self._desk.plan
        people = [plan.resources[p] for p in getattr(route, "people", ())]
        self._said.update(
            people=", ".join(p.initials or p.name for p in people),
            aside="" if getattr(route, "in_order", True) else "1",
        )  # fmt: skip
        self._page.refresh()

    def _people(self, text: str) -> list[str]:
        """Persons by what is typed. ``BadText`` for who is nobody."""
        found = []
        for said in (part.strip() for part in text.replace(";", ",").split(",")):
            if said:
                known = [r.id for r in self._desk.plan.resources_in_order() if r.kind is ResourceKind.PERSON
                         and said.casefold() in (r.initials.casefold(), r.name.casefold())]  # fmt: skip
                if not known:
                    raise BadText(f"“{said[:60]}” is nobody among the people.")
                found.append(known[0])
        return found

    def _buttons(self, *shown) -> None:  # type: ignore[no-untyped-def]
        """Some beside one another: words, name, and the edit that each makes."""
        line = QHBoxLayout()
        for words, name, make in shown:
            button = QPushButton(words)
            button.setObjectName(name)
            button.setEnabled(not self._desk.is_read_only)
            button.clicked.connect(lambda _, make=make: self._do(make))
            line.addWidget(button)
        self._page.box.addLayout(line)

    def _do(self, make) -> None:  # type: ignore[no-untyped-def]
        if self._page.attempt(lambda: self._desk.attempt(make())):
            self._said.clear()
