"""The top bar: the workspace and its projects, the find box, the vitals, the menu."""

from __future__ import annotations

from typing import TYPE_CHECKING

from PyQt6.QtCore import QPoint, QPointF, QRectF, QSize, Qt
from PyQt6.QtGui import QColor, QFont, QIcon, QPainter, QPaintEvent, QPen, QPixmap
from PyQt6.QtWidgets import QFrame, QHBoxLayout, QLabel, QMenu, QSizePolicy, QToolButton

from hexapod.desktop.chart.geometry import hexagon
from hexapod.desktop.frame.find import FindBox
from hexapod.desktop.frame.vitals import Vitals
from hexapod.desktop.models.recent import recent_files
from hexapod.desktop.parts import PaintedButton, menu_heading
from hexapod.desktop.theme.style import color, font, icon, points, stream_color
from hexapod.desktop.theme.text import draw_text, width_of
from hexapod.desktop.theme.tips import plain_tip
from hexapod.system.words import count_of

if TYPE_CHECKING:
    from hexapod.desktop.frame.portfolio_vitals import PortfolioVitals
    from hexapod.desktop.host import Host

HEIGHT, LEAST_CHIP = 46, 96


class _Place(QLabel):
    """Words that give way where there is no room for them."""

    def minimumSizeHint(self) -> QSize:
        return QSize(0, super().minimumSizeHint().height())

    def paintEvent(self, event: QPaintEvent) -> None:
        painter = QPainter(self)
        painter.setPen(color("on_frame_muted"))
        words = self.fontMetrics().elidedText(self.text(), Qt.TextElideMode.ElideRight, self.width())
        painter.drawText(self.rect(), Qt.AlignmentFlag.AlignVCenter | Qt.AlignmentFlag.AlignLeft, words)
        painter.end()


class ScenarioChip(PaintedButton):
    """The word that says that it is a scenario, and which; its end is left out where there is no room for it."""

    def __init__(self) -> None:
        super().__init__()
        self.setObjectName("scenarioChip")
        self.setSizePolicy(QSizePolicy.Policy.Maximum, QSizePolicy.Policy.Fixed)
        self._tone = color("on_frame")
        self.hide()

    def show_scenario(self, name: str, tone: QColor) -> None:
        self._tone = tone
        self.setText(f"Scenario: {name}")
        self.setAccessibleName(f"In the scenario {name}; press to see it beside the plan")
        self.setToolTip(plain_tip(f"In the scenario “{name}”. Press to see it beside the plan."))
        self.updateGeometry()
        self.show()
        self.update()

    def sizeHint(self) -> QSize:
        return QSize(round(width_of(font(9.5, QFont.Weight.DemiBold), self.text())) + 24, 26)

    def minimumSizeHint(self) -> QSize:
        return QSize(min(LEAST_CHIP, self.sizeHint().width()), 26)

    def paintEvent(self, event: QPaintEvent) -> None:
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        is_near = self.underMouse() or self.hasFocus()
        painter.setPen(QPen(color("on_frame") if is_near else self._tone, 2))
        painter.setBrush(color("frame_field"))
        painter.drawRoundedRect(QRectF(self.rect()).adjusted(1, 1, -1, -1), 5, 5)
        painter.setPen(color("on_frame"))
        draw_text(
            painter, font(9.5, QFont.Weight.DemiBold), self.text(), QRectF(10, 0, self.width() - 18, self.height())
        )
        painter.end()


class TopBar(QFrame):
    def __init__(self, window: Host) -> None:
        super().__init__()
        self.setObjectName("topbar")
        self.setFixedHeight(HEIGHT)
        self._window = window
        self.menu_button = QToolButton()
        self.menu_button.setObjectName("menuButton")
        self.menu_button.setAccessibleName("Menu")
        self.menu_button.setToolTip("Menu (F10)")
        self.menu_button.setPopupMode(QToolButton.ToolButtonPopupMode.InstantPopup)
        self.menu_button.setIconSize(QSize(22, 22))
        self._menu = QMenu(self.menu_button)
        self.menu_button.setMenu(self._menu)
        self._project = QToolButton()
        self._project.setObjectName("projectButton")
        self._project.setPopupMode(QToolButton.ToolButtonPopupMode.InstantPopup)
        self._project.setToolButtonStyle(Qt.ToolButtonStyle.ToolButtonTextBesideIcon)
        self._project.setLayoutDirection(Qt.LayoutDirection.RightToLeft)
        self._project.setFont(font(11, QFont.Weight.DemiBold))
        self._projects = QMenu(self._project)
        self._projects.setLayoutDirection(Qt.LayoutDirection.LeftToRight)  # only the button has its arrow behind
        self._project.setMenu(self._projects)
        self._projects.aboutToShow.connect(self._fill_projects)
        self.scenario = ScenarioChip()
        self.scenario.clicked.connect(lambda: window.show_part("scenarios", "trying"))
        self._place = _Place()
        self._place.setTextFormat(Qt.TextFormat.PlainText)
        self.find_box = FindBox(window)
        self.vitals = Vitals(window.desk)
        self.vitals.range_asked.connect(lambda: window.show_part("range", "trying"))
        self.vitals.attention_asked.connect(lambda: window.show_part("attention"))
        self.all_vitals: PortfolioVitals | None = None  # once somebody looks at all projects
        line = QHBoxLayout(self)
        line.setContentsMargins(10, 0, 8, 0)
        line.setSpacing(6)
        line.addWidget(self.menu_button)
        line.addWidget(self._project)
        line.addWidget(self.scenario)
        line.addWidget(self._place)
        line.addSpacing(8)
        self.find_box.setMaximumWidth(330)
        line.addWidget(self.find_box, 1)
        line.addStretch(1)
        line.addWidget(self.vitals)
        desk = window.desk
        for signal in (desk.changed, desk.looked_at_changed, desk.past_changed, desk.home_changed):
            signal.connect(self.refresh)

    def show_vitals(self, *, of_all: bool) -> None:
        """Those of all projects, or of the one on show."""
        if of_all and self.all_vitals is None:
            from hexapod.desktop.frame.portfolio_vitals import PortfolioVitals

            self.all_vitals, line = PortfolioVitals(self._window.desk), self.layout()
            assert isinstance(line, QHBoxLayout)
            self.all_vitals.asked.connect(lambda part: self._window.show_part(part, "telling"))
            line.addWidget(self.all_vitals)
        others = [] if self.all_vitals is None else [self.all_vitals]
        for widget in (self.vitals, *others) if of_all else (*others, self.vitals):
            widget.setVisible((widget is self.vitals) is not of_all)  # never both: that would widen the window

    def build_menu(self) -> None:
        """Fill the main menu from the registry."""
        self._menu.clear()
        for title, actions in self._window.registry.menus().items():
            inner = self._menu.addMenu(title)
            for action in actions:
                if self._window.registry.begins_a_group(action):
                    inner.addSeparator()
                inner.addAction(action)
                if action.objectName() == "workspace.open":
                    self._recent = inner.addMenu("Open a recent one")
                    self._recent.aboutToShow.connect(self._fill_recent)
        self.refresh()

    def _fill_recent(self) -> None:
        self._recent.clear()
        here = self._window.desk.session.workspace.path.absolute()
        for path in recent_files():
            choice = self._recent.addAction(f"{path.stem}    {path.parent}")
            choice.setEnabled(path != here)
            choice.triggered.connect(lambda _, p=path: self._window.open_path(p))
        if not self._recent.actions():
            self._recent.addAction("None yet").setEnabled(False)

    def open_menu(self) -> None:
        """Open the main menu for the keyboard."""
        self._menu.popup(self.menu_button.mapToGlobal(QPoint(0, self.menu_button.height())))
        first = self._menu.actions()[0]
        self._menu.setActiveAction(first)

    def refresh(self, *_: object) -> None:
        desk = self._window.desk
        self.menu_button.setIcon(QIcon(_emblem()))
        project = desk.plan.projects.get(desk.project or "")
        self._project.setStyleSheet(f"font-size: {points(11)}; font-weight: 600;")
        self._project.setText(project.name if project else "No project yet")
        self._project.setIcon(icon("chevron-down", "on_frame_muted", 14))
        self._project.setAccessibleName(f"Project: {self._project.text()}")
        count = count_of(len(desk.plan.projects), "project")
        name = desk.session.workspace.path.stem
        mode = " · open to read" if desk.is_read_only else ""
        if desk.past is not None:
            mode = f" · as it was {desk.past.words}"
        self._place.setText(f"{name} · {count}{mode}" if desk.scenario is None else "")
        self._show_scenario()

    def _show_scenario(self) -> None:
        """The word that says that it is not the plan."""
        opened = self._window.desk.scenario
        record = None if opened is None else opened.record
        if record is None:
            self.scenario.hide()
        else:
            self.scenario.show_scenario(record.name, stream_color(record.colour))

    def _fill_projects(self) -> None:
        desk = self._window.desk
        self._projects.clear()
        folder = ""
        at_work = [p for p in desk.plan.projects_in_order() if not p.archived or p.id == desk.project]
        for project in sorted(at_work, key=lambda p: (bool(p.folder), p.folder.casefold())):
            if project.folder != folder:
                folder = project.folder
                menu_heading(self._projects, folder)
            choice = self._projects.addAction(project.name)
            choice.setCheckable(True)
            choice.setChecked(project.id == desk.project)
            choice.triggered.connect(lambda _, p=project.id: desk.look_at_project(p))
        self._projects.addSeparator()
        for action_id in ("project.new", "project.edit", "project.all"):
            self._projects.addAction(self._window.registry.qt(action_id))


def _emblem() -> QPixmap:
    """The hexagon."""
    pixmap = QPixmap(66, 66)
    pixmap.fill(Qt.GlobalColor.transparent)
    painter = QPainter(pixmap)
    painter.setRenderHint(QPainter.RenderHint.Antialiasing)
    painter.setPen(QPen(color("frame_amber"), 5))
    painter.drawPolygon(hexagon(QPointF(33, 33), 26))
    painter.end()
    pixmap.setDevicePixelRatio(3)
    return pixmap
