"""At the side: forms for people without this program, and what came back of them."""

from __future__ import annotations

from PyQt6.QtCore import QUrl
from PyQt6.QtGui import QDesktopServices
from PyQt6.QtWidgets import QComboBox, QFileDialog, QHBoxLayout, QLineEdit, QPushButton

from hexapod.desktop.frame.page import Page
from hexapod.desktop.models.desk import Desk
from hexapod.desktop.models.forms import Back
from hexapod.desktop.parts import LineButton, heading, icon_button, label, narrow
from hexapod.system.words import count_of

MOST_SHOWN = 40  # forms that came back
WHAT = (
    "A page for each person, and a workbook with a sheet for each. Nobody needs this program to fill them in. What is "
    "saved into the folder is laid before you in the round; nothing is taken unseen."
)


class FormsPage(Page):
    def __init__(self, desk: Desk) -> None:
        super().__init__(desk, "Forms to tell by")
        self._whom = "everybody"
        desk.forms.changed.connect(self.refresh)

    def fill(self) -> None:
        work = self.desk.forms
        self.box.addWidget(label("Forms to tell by", "title"))
        self.box.addWidget(label(WHAT, "small", wrap=True))
        self._fill_folder()
        self._fill_people()
        line = QHBoxLayout()
        write, look = QPushButton("Write the forms"), QPushButton("Look again")
        write.setObjectName("formsWrite")
        write.setProperty("role", "primary")
        write.clicked.connect(lambda: work.write(self._people()))
        look.setObjectName("formsLook")
        look.clicked.connect(work.look)
        look.setEnabled(bool(work.folder))
        for button in (write, look):
            button.setEnabled(button.isEnabled() and not self.desk.is_read_only)
            line.addWidget(button)
        self.box.addSpacing(4)
        self.box.addLayout(line)
        if work.folder:
            self._fill_back()

    def _fill_folder(self) -> None:
        work = self.desk.forms
        self.box.addWidget(heading("Folder"))
        line = QHBoxLayout()
        line.setSpacing(4)
        folder = QLineEdit(work.folder)
        folder.setObjectName("formsFolder")
        folder.setAccessibleName("The folder of the forms")
        folder.setPlaceholderText(work.usual_folder)
        folder.editingFinished.connect(lambda: work.set_folder(folder.text()))
        choose = icon_button("folder-open", "Choose a folder…")
        choose.clicked.connect(self._choose)
        line.addWidget(folder)
        line.addWidget(choose)
        self.box.addLayout(line)
        if work.folder:
            show = LineButton("Show what lies in it")
            show.clicked.connect(lambda: QDesktopServices.openUrl(QUrl.fromLocalFile(work.folder)))
            self.box.addWidget(show)

    def _choose(self) -> None:
        work = self.desk.forms
        found = QFileDialog.getExistingDirectory(self, "Folder of the forms", work.folder or work.usual_folder)
        if found:
            work.set_folder(found)

    def _fill_people(self) -> None:
        plan = self.desk.plan
        self.box.addWidget(heading("For whom"))
        whom = narrow(QComboBox())
        whom.setObjectName("formsWhom")
        whom.setAccessibleName("For whom forms are written")
        whom.addItem("Everybody who has work", "everybody")
        if self.desk.project in plan.projects:
            whom.addItem(f"Everybody in “{plan.projects[self.desk.project].name}”", "project")
        for person in self.desk.forms.people():
            whom.addItem(plan.resources[person].name, person)
        whom.setCurrentIndex(max(0, whom.findData(self._whom)))
        whom.activated.connect(lambda i: setattr(self, "_whom", whom.itemData(i)))
        self.box.addWidget(whom)

    def _people(self) -> list[str]:
        plan, everybody = self.desk.plan, self.desk.forms.people()
        if self._whom == "everybody":
            return everybody
        if self._whom == "project":
            here = {r for t, r in plan.assignments if plan.tasks[t].project == self.desk.project}
            return [person for person in everybody if person in here]
        return [self._whom]

    def _fill_back(self) -> None:
        self.box.addWidget(heading("What came back"))
        back = self.desk.forms.back
        if not back:
            self.box.addWidget(
                label("Nothing yet. What people save into the folder shows up here.", "small", wrap=True)
            )
        for each in sorted(back, key=_urgency)[:MOST_SHOWN]:
            self._fill_one(each)
        if len(back) > MOST_SHOWN:
            self.box.addWidget(label(f"and {len(back) - MOST_SHOWN} more", "small"))

    def _fill_one(self, back: Back) -> None:
        self.box.addSpacing(4)
        self.box.addWidget(label(back.name, "value", wrap=True))
        said = [f"{count_of(back.laid, 'answer')} in the round"] if back.laid else []
        said += [f"{count_of(back.again, 'answer')} read before"] if back.again else []
        self.box.addWidget(label(" · ".join([*said, back.place]), "small", wrap=True))
        for finding in back.findings:
            self.box.addWidget(label(finding, "trouble", wrap=True))
        if back.tasks and back.tasks[0] in self.desk.plan.tasks:
            button = LineButton("Show them in the round")
            button.clicked.connect(lambda: self.desk.go_to(back.tasks[0]))
            self.box.addWidget(button)
        if back.held:
            held = QPushButton(f"Lay {count_of(len(back.held), 'answer')} before me all the same")
            held.setObjectName(f"formsHeld.{back.place}")
            held.clicked.connect(lambda: self.desk.forms.lay_held(back))
            self.box.addWidget(held)


def _urgency(back: Back) -> tuple[bool, bool]:
    """What needs somebody first, then what was laid."""
    return not (back.findings or back.held), not back.laid
