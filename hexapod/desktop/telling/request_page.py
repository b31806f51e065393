"""At the side of the requests: one of them and its answer, a form for a new one, and the folder that they come into."""

from __future__ import annotations

from collections.abc import Callable

from PyQt6.QtWidgets import QComboBox, QFileDialog, QHBoxLayout, QLineEdit, QPushButton

from hexapod.desktop import dates
from hexapod.desktop.action import Registry
from hexapod.desktop.frame.page import Page
from hexapod.desktop.models.desk import Desk
from hexapod.desktop.parts import LineButton, card, heading, icon_button, label, narrow
from hexapod.desktop.telling.approval_part import ApprovalPart
from hexapod.desktop.telling.requests_table import TITLES
from hexapod.plan.edits import new_id
from hexapod.plan.plan import Plan
from hexapod.plan.records import DAY
from hexapod.plan.requests import Request
from hexapod.worktime import clock
from hexapod.worktime.lengths import USUAL, format_days, parse_length

MOST_FINDINGS = 8
FIELDS = (
    ("name", "What", "Lamps for the moth corner"), ("why", "Why", ""), ("wanted_by", "Wanted by", "12 dec"),
    ("size", "Days of work", "10 d"), ("benefit", "What it is good for", ""), ("who", "Who asks", ""),
    ("email", "E-mail, for the answer", ""),
)  # fmt: skip


class RequestPage(Page):
    def __init__(self, desk: Desk, registry: Registry) -> None:
        super().__init__(desk, "Request")
        self.work = desk.requests
        self._registry = registry
        self._said: dict[str, str] = {}  # what was typed and not taken yet
        self._about: str | None = None
        self._approval = ApprovalPart(self, desk)
        self.work.changed.connect(self.refresh)

    def fill(self) -> None:
        request = self.work.request
        if self._about != self.work.chosen:
            self._about, self._said = self.work.chosen, {}
        approval = self.work.approval
        if approval is not None:
            self._approval.fill(approval)
            return
        if request is None:
            self._fill_new()
        else:
            self._fill_request(request)
            if request.is_open:
                self._fill_answer()
        self._fill_folder()

    # One that is there

    def _fill_request(self, request: Request) -> None:
        self.box.addWidget(label(request.name, "title", wrap=True))
        who = f"{request.who} on {dates.long_day(request.asked)}" if request.who else dates.long_day(request.asked)
        self.box.addWidget(label(f"Asked by {who}" if request.who else f"Asked on {who}", "small", wrap=True))
        frame, inside = card()
        inside.addWidget(label(TITLES[request.state], "value"))
        if request.by:
            inside.addWidget(label(f"by {request.by}", "small", wrap=True))
        if request.word:
            inside.addWidget(label(request.word, wrap=True))
        self.box.addWidget(frame)
        for words, text in (
            ("Why", request.why), ("What it is good for", request.benefit),
            ("Wanted by", "" if request.wanted_by is None else dates.long_day(request.wanted_by * DAY)),
            ("Size", f"{format_days(request.size, USUAL)} of work" if request.size else ""),
            ("E-mail", request.email),
        ):  # fmt: skip
            if text:
                self.box.addWidget(label(words, "muted"))
                self.box.addWidget(label(text, wrap=True))
        if request.project in self.desk.plan.projects:
            button = LineButton(f"Open “{self.work.project_of(request)}”")
            button.setObjectName("requestProject")
            button.clicked.connect(lambda: self._open(request.project or ""))
            self.box.addWidget(button)

    def _open(self, project: str) -> None:
        self.desk.portfolio.look_at(project)
        self._registry.qt("projects.open").trigger()

    def _fill_answer(self) -> None:
        self.box.addWidget(heading("Your answer"))
        self.box.addWidget(label("As a project made from", "muted"))
        self._template = narrow(QComboBox())
        self._template.setObjectName("requestTemplate")
        self._template.setAccessibleName("From which template it becomes a project")
        self._template.addItem("One task of its size", None)
        for template in self.work.templates():
            self._template.addItem(template.name, template)
        self.box.addWidget(self._template)
        self.box.addWidget(label("Begins on", "muted"))
        begin = self._said.get("start", dates.typed(clock.now() // DAY * DAY + dates.DAY_BEGINS))
        self._start = self._line("start", begin, "requestStart", "On which day the project begins", "mon")
        self.box.addWidget(label("Word back", "muted"))
        self._word = self._line("word", self._said.get("word", ""), "requestWord", "The word back to who asks", "")
        self.box.addWidget(self.reason("requestReason"))
        self._buttons(("Accept", "requestAccept", self._accept), ("Decline", "requestDecline", self._decline))
        self._buttons(
            ("Try it first", "requestTry", self._try), ("I look at it", "requestLook", self.work.begin_to_look)
        )
        hint = "Trying makes a scenario with the project in it, beside the plan: there it is laid against who is free."
        self.box.addWidget(label(hint, "small", wrap=True))

    def _buttons(self, *shown: tuple[str, str, Callable[[], object]]) -> None:
        """Some beside one another: words, name, what they do."""
        line = QHBoxLayout()
        for words, name, run in shown:
            button = QPushButton(words)
            button.setObjectName(name)
            button.setEnabled(not self.desk.is_read_only)
            button.clicked.connect(lambda _, run=run: run())
            line.addWidget(button)
        self.box.addLayout(line)

    def _chosen(self) -> tuple[int, Plan | None]:
        template = self._template.currentData()
        return dates.read_start(self._start.text()), None if template is None else template.plan

    def _accept(self) -> None:
        def run() -> None:
            start, template = self._chosen()
            self.work.accept(self._word.text(), start, template)

        self.attempt(run)

    def _decline(self) -> None:
        self.attempt(lambda: self.work.decline(self._word.text()))

    def _try(self) -> None:
        def run() -> None:
            start, template = self._chosen()
            if self.work.try_out(start, template):
                self._registry.qt("trying.scenarios").trigger()

        self.attempt(run)

    # A new one

    def _fill_new(self) -> None:
        self.box.addWidget(label("A request", "title"))
        self.box.addWidget(label("What somebody asks for, before anybody promises it.", "small", wrap=True))
        for key, words, hint in FIELDS:
            self.box.addWidget(label(words, "muted"))
            self._line(key, self._said.get(key, ""), f"request.{key}", words, hint)
        self.box.addWidget(self.reason("requestReason"))
        take = QPushButton("Take it down")
        take.setObjectName("requestSave")
        take.setProperty("role", "primary")
        take.setEnabled(not self.desk.is_read_only)
        take.clicked.connect(lambda: self.attempt(self._save))
        self.box.addWidget(take)

    def _line(self, key: str, text: str, name: str, accessible: str, hint: str) -> QLineEdit:
        field = self.input_line(text, name, accessible, hint)
        field.textEdited.connect(lambda said: self._said.update({key: said}))
        self.box.addWidget(field)
        return field

    def _save(self) -> None:
        said = {key: self._said.get(key, "").strip() for key, *_ in FIELDS}
        wanted = dates.read(said["wanted_by"]) // DAY if said["wanted_by"] else None
        size = parse_length(said["size"], USUAL) if said["size"] else 0
        request = Request(
            new_id(), said["name"], clock.now(), said["why"], wanted, size, said["benefit"], said["who"], said["email"]
        )  # fmt: skip
        self.work.save(request)

    # The folder

    def _fill_folder(self) -> None:
        self.box.addWidget(heading("From others"))
        self.box.addWidget(label("What is put into this folder is taken in: files of the form, or rows of the table.",
                                 "small", wrap=True))  # fmt: skip
        line = QHBoxLayout()
        line.setSpacing(4)
        folder = self.input_line(self.work.folder, "requestFolder", "The folder that requests come into", "A folder")
        folder.editingFinished.connect(lambda: self.work.set_folder(folder.text()))
        choose = icon_button("folder-open", "Choose a folder…")
        choose.clicked.connect(self._choose)
        line.addWidget(folder)
        line.addWidget(choose)
        self.box.addLayout(line)
        if self.work.folder:
            write, again = self.work.write_forms, self.work.look
            self._buttons(("Write form and table", "requestForms", write), ("Look again", "requestAgain", again))
        for said in self.work.findings[:MOST_FINDINGS]:
            self.box.addWidget(label(said, "trouble", wrap=True))
        if len(self.work.findings) > MOST_FINDINGS:
            self.box.addWidget(label(f"and {len(self.work.findings) - MOST_FINDINGS} more", "small"))

    def _choose(self) -> None:
        found = QFileDialog.getExistingDirectory(self, "Folder of the requests", self.work.folder)
        if found:
            self.work.set_folder(found)
