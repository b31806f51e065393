"""The view bar: which view, what is asked, how rows are grouped and ordered, and which chain is looked at."""

from __future__ import annotations

from collections.abc import Callable

from msgspec.structs import replace
from PyQt6.QtGui import QAction, QActionGroup
from PyQt6.QtWidgets import QFrame, QMenu, QPushButton, QToolButton

from hexapod.desktop.action import Registry
from hexapod.desktop.chart.coloring import ways
from hexapod.desktop.models.desk import Desk
from hexapod.desktop.parts import bar_line, icon_button, label, menu_heading
from hexapod.desktop.theme.tips import plain_tip
from hexapod.desktop.views.query_line import QueryLine
from hexapod.errors import HexapodError
from hexapod.plan.records import FieldKind
from hexapod.query.views import Finished, Labels, Links, View
from hexapod.schedule.chains import Reach

GROUPS = {"": "Outline", "stream": "Stream", "who": "Person", "role": "Role", "project": "Project", "state": "State"}
SORTS = {
    "": "As in the outline", "start": "Start", "finish": "Finish", "float": "Float", "duration": "Duration",
    "name": "Name", "priority": "Priority", "target": "Wanted by", "done": "Done",
}  # fmt: skip
REACHES = {
    Reach.ALL: "Before and after", Reach.BEFORE: "Before", Reach.AFTER: "After", Reach.DRIVERS: "What drives",
}  # fmt: skip


class ViewBar(QFrame):
    def __init__(self, desk: Desk, registry: Registry) -> None:
        super().__init__()
        self._desk, self._registry = desk, registry
        self.views = self._button("viewButton", self._fill_views)
        self.query = QueryLine(desk)
        self.query.asked.connect(lambda text: self._show(query=text))
        self.groups = self._button("groupButton", self._fill_groups)
        self.order = self._button("orderButton", self._fill_order)
        self.looks = self._button("lookButton", self._fill_looks)
        self.count = label("")
        self.count.setProperty("role", "small")
        self.count.setObjectName("viewCount")
        self._stop = icon_button("x", "Stop searching, and keep the rows as they were")
        self._stop.clicked.connect(desk.on_show.stop_searching)
        self._stop.hide()
        self.chip = QPushButton()
        self.chip.setProperty("role", "quiet")
        self.chip.setObjectName("chainChip")
        self.chip.setToolTip("Show every row again")
        self.chip.setAccessibleName("Show every row again")
        self.chip.clicked.connect(lambda: desk.on_show.show_chain(None))
        line = bar_line(self)
        line.addWidget(self.views)
        line.addWidget(self.query, 1)
        for widget in (self.count, self._stop, self.chip, self.groups, self.order, self.looks):
            line.addWidget(widget)
        on_show = desk.on_show
        on_show.view_changed.connect(self.refresh)
        on_show.changed.connect(self._show_count)
        on_show.searching.connect(self._show_progress)
        desk.looked_at_changed.connect(self.refresh)
        self.refresh()

    def _button(self, name: str, fill: Callable[[QMenu], None]) -> QToolButton:
        button = QToolButton()
        button.setObjectName(name)
        button.setPopupMode(QToolButton.ToolButtonPopupMode.InstantPopup)
        menu = QMenu(button)
        menu.aboutToShow.connect(lambda: (menu.clear(), fill(menu)))
        button.setMenu(menu)
        return button

    def refresh(self) -> None:
        view = self._desk.on_show.view
        self.views.setText(f"{'★ ' if view.starred else ''}{view.name or 'View of your own'}")
        self.views.setAccessibleName(f"View: {view.name or 'of your own'}")
        self.query.show_query(view.query)
        group = GROUPS.get(view.group, view.group.capitalize())
        self.groups.setText(
            f"Lanes: {group.lower()}" if view.lanes else f"By {group.lower()}" if view.group else "Rows"
        )
        self.groups.setAccessibleName("Groups and lanes")
        said = SORTS.get(view.sort.removeprefix("-"), view.sort.removeprefix("-").capitalize())
        arrow = "↑ " if view.sort.startswith("-") else "↓ "
        self.order.setText(arrow + said if view.sort else "Order")
        self.order.setAccessibleName("Order of rows")
        self.looks.setText("Looks")
        self.looks.setAccessibleName("Labels, links and finished rows")
        chain = self._desk.on_show.chain
        name = self._desk.plan.tasks[chain.task].name if chain and chain.task in self._desk.plan.tasks else ""
        self.chip.setVisible(bool(name))
        shown = name if len(name) < 26 else name[:25] + "…"
        self.chip.setText(f"✕  {REACHES[chain.reach]} “{shown}”" if chain else "")
        self._show_count()

    def _show_count(self) -> None:
        on_show = self._desk.on_show
        is_whole = on_show.view.is_outline and not on_show.is_narrowed
        all_rows, shown = len(on_show.outline()), len(on_show.rows.position)
        self.count.setText("" if is_whole else f"{shown:,} of {all_rows:,}")

    def _show_progress(self, done: int, total: int) -> None:
        is_over = done >= total
        self._stop.setVisible(not is_over)
        if is_over:
            self._show_count()
        else:
            self.count.setText(f"{100 * done // total} %")

    # Changing the view

    def _show(self, **changes: object) -> None:
        view = self._desk.on_show.view
        named = "" if set(changes) - {"labels", "links", "finished", "rolled_up"} else view.name
        self._take(replace(view, **{"name": named, "starred": False, **changes}))

    def _take(self, view: View) -> None:
        try:
            self._desk.on_show.show_view(view)
        except HexapodError as error:
            self._desk.told.emit(f"“{view.name}” cannot be shown: {error}", "trouble", False)

    # Menus

    def _choice(self, menu: QMenu, words: str, on: bool, take: Callable[[], object]) -> QAction:
        action = menu.addAction(words)
        assert action is not None
        action.setCheckable(True)
        action.setChecked(on)
        action.triggered.connect(lambda _: take())
        return action

    def _fill_views(self, menu: QMenu) -> None:
        on_show = self._desk.on_show
        group = QActionGroup(menu)
        for view in on_show.views():
            words = f"{'★  ' if view.starred else '     '}{view.name}"
            action = self._choice(menu, words, view.name == on_show.view.name, lambda v=view: self._take(v))
            action.setToolTip(plain_tip(view.query))
            group.addAction(action)
        menu.addSeparator()
        for action_id in ("view.keep", "view.star", "view.forget"):
            menu.addAction(self._registry.qt(action_id))
        for said in on_show.unreadable:
            menu.addAction(said).setEnabled(False)  # type: ignore[union-attr]

    def _fill_groups(self, menu: QMenu) -> None:
        view = self._desk.on_show.view
        own = {f.name.lower(): f.name for f in self._desk.plan.fields_in_order() if f.kind is FieldKind.CHOICE}
        for group, words in {**GROUPS, **own}.items():
            text = words if not group else f"By {words.lower()}"
            self._choice(
                menu, text, view.group == group, lambda g=group: self._show(group=g, lanes=bool(g) and view.lanes)
            )
        menu.addSeparator()
        lanes = self._choice(
            menu,
            "As lanes: several tasks on one row",
            view.lanes,
            lambda: self._show(lanes=not view.lanes, group=view.group or "stream", query=view.query or "not summary"),
        )
        lanes.setObjectName("lanes")
        self._choice(
            menu,
            "All projects",
            view.everywhere,
            lambda: self._show(
                everywhere=not view.everywhere, group=view.group or ("" if view.everywhere else "project")
            ),
        )
        fold = menu.addMenu("Fold to level")
        assert fold is not None
        for level in range(1, 6):
            fold.addAction(str(level)).triggered.connect(lambda _, n=level: self._desk.on_show.fold_to(n))  # type: ignore[union-attr]

    def _fill_order(self, menu: QMenu) -> None:
        view = self._desk.on_show.view
        for sort, words in SORTS.items():
            self._choice(menu, words, view.sort.removeprefix("-") == sort, lambda s=sort: self._show(sort=s))
        menu.addSeparator()
        is_down = view.sort.startswith("-")
        turned = f"{'' if is_down else '-'}{view.sort.removeprefix('-') or 'start'}"
        self._choice(menu, "From the last to the first", is_down, lambda: self._show(sort=turned))

    def _fill_looks(self, menu: QMenu) -> None:
        view = self._desk.on_show.view
        menu_heading(menu, "On bars")
        for on_bars in Labels:
            is_on = view.labels is on_bars
            self._choice(menu, on_bars.value.capitalize(), is_on, lambda x=on_bars: self._show(labels=x))
        drawn = menu.addMenu("Links")
        words = {Links.WHEN_CLEAR: "Unless they are a thicket", Links.ALL: "All of them",
                 Links.CHOSEN: "Of selected and critical tasks", Links.NONE: "None"}  # fmt: skip
        for links, said in words.items():
            self._choice(drawn, said, view.links is links, lambda x=links: self._show(links=x))
        rows = menu.addMenu("Finished rows")
        for finished in Finished:
            text = {"struck": "Struck through"}.get(finished.value, finished.value.capitalize())
            self._choice(rows, text, view.finished is finished, lambda x=finished: self._show(finished=x))
        menu_heading(menu, "Folded summaries")
        self._choice(
            menu, "Show their parts on one row", view.rolled_up, lambda: self._show(rolled_up=not view.rolled_up)
        )
        colours = menu.addMenu("Colour")
        for way, said in ways(self._desk).items():
            self._choice(
                colours, said, self._desk.looks.color_by == way, lambda w=way: self._desk.looks.set_color_by(w)
            )
