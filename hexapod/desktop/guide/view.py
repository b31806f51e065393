"""The guide in place of the leg: its pages and a search at the left, the page that is read at the right."""

from __future__ import annotations

from collections.abc import Callable

from PyQt6.QtCore import Qt, QTimer, QUrl
from PyQt6.QtGui import QColor, QKeyEvent, QResizeEvent, QTextCharFormat, QTextCursor
from PyQt6.QtWidgets import (
    QHBoxLayout,
    QLineEdit,
    QListWidget,
    QListWidgetItem,
    QPushButton,
    QTextBrowser,
    QVBoxLayout,
    QWidget,
)

from hexapod.desktop.action import Registry
from hexapod.desktop.parts import label
from hexapod.desktop.theme.style import palette
from hexapod.guide import FOLDER, GuidePage, page_of, pages, search

KEYS = "keys"
PAGES_WIDTH = 250
MARGIN = 18
WIDEST_PICTURE = 760
PAGE_OF_LEG = {
    "build": "lines",
    "link": "network",
    "staff": "load",
    "telling": "projects",
}  # read first, where F1 is pressed
TYPING = (
    ("Next row", "Enter"), ("Row before", "Shift+Enter"), ("A level down, up", "Tab, Shift+Tab"),
    ("Take the line another way", "Alt+Down"), ("Leave the cell as it was", "Esc"),
    ("Fold, unfold a summary", "Left, Right"),
)  # fmt: skip


class GuideView(QWidget):
    """Words in the search show the passages where all of them stand."""

    def __init__(self, registry: Registry, leave: Callable[[], None]) -> None:
        super().__init__()
        self.setObjectName("guide")
        self._leave = leave
        self._registry = registry
        self._pages: tuple[GuidePage, ...] = ()
        self._again = QTimer(self, singleShot=True, interval=60)  # once the window has its new size
        self._again.timeout.connect(self._dress)
        self._lay_out()

    def _lay_out(self) -> None:
        self.search = QLineEdit()
        self.search.setObjectName("guideSearch")
        self.search.setAccessibleName("Search the guide")
        self.search.setPlaceholderText("Search the guide")
        self.search.setClearButtonEnabled(True)
        self.search.textChanged.connect(self._list)
        self.search.returnPressed.connect(self._read_first)
        self.list = QListWidget()
        self.list.setObjectName("guidePages")
        self.list.setAccessibleName("Pages of the guide")
        self.list.setWordWrap(True)
        self.list.currentItemChanged.connect(self._read_item)
        self.page = QTextBrowser()
        self.page.setObjectName("guidePage")
        self.page.setAccessibleName("Page of the guide")
        self.page.setOpenLinks(False)
        self.page.anchorClicked.connect(self._follow)
        self.page.setSearchPaths([str(FOLDER)])
        back = QPushButton("Back to the plan")
        back.setObjectName("guideBack")
        back.clicked.connect(self._leave)
        left = QVBoxLayout()
        left.addWidget(label("Guide", "title"))
        left.addWidget(self.search)
        left.addWidget(self.list, 1)
        left.addWidget(back)
        side = QWidget()
        side.setFixedWidth(PAGES_WIDTH)
        side.setLayout(left)
        left.setContentsMargins(0, 0, 0, 0)
        box = QHBoxLayout(self)
        box.addWidget(side)
        box.addWidget(self.page, 1)

    def open(self, leg: str) -> None:
        """Show the page that is about a leg; the search has the keyboard."""
        self._pages = (*pages(), page_of(KEYS, keys_as_text(self._registry)))
        self.search.clear()
        self._list()
        self.read(PAGE_OF_LEG.get(leg, "first-steps"))
        self.search.setFocus()

    def read(self, name: str, heading: str = "") -> None:
        """Show a page, from a heading on."""
        page = next((page for page in self._pages if page.name == name), None)
        if page is None:
            return
        self.page.document().setBaseUrl(QUrl.fromLocalFile(f"{FOLDER}/"))
        self.page.setMarkdown(page.text)
        self._dress()
        self._go_to(heading)
        if not self.search.text().strip():
            self.list.blockSignals(True)
            self.list.setCurrentRow(self._pages.index(page))
            self.list.blockSignals(False)

    def _dress(self) -> None:
        """What is typed in the colour of what can be pressed, pictures as wide as there is room, air above headings."""
        document = self.page.document()
        document.setDocumentMargin(MARGIN)
        block = document.begin()
        while block.isValid():
            if block.blockFormat().headingLevel() > 1:
                shape = block.blockFormat()
                shape.setTopMargin(20)
                QTextCursor(block).setBlockFormat(shape)
            pieces = []
            at = block.begin()
            while not at.atEnd():
                pieces.append((at.fragment().position(), at.fragment().length(), at.fragment().charFormat()))
                at += 1
            for start, length, shape in pieces:
                self._dress_piece(start, length, shape)
            block = block.next()

    def _dress_piece(self, start: int, length: int, shape: QTextCharFormat) -> None:
        cursor = QTextCursor(self.page.document())
        cursor.setPosition(start)
        cursor.setPosition(start + length, QTextCursor.MoveMode.KeepAnchor)
        if shape.isImageFormat():
            picture = shape.toImageFormat()
            picture.setWidth(min(WIDEST_PICTURE, max(200, self.page.viewport().width() - 3 * MARGIN)))
            cursor.setCharFormat(picture)
        elif shape.fontFixedPitch():
            colour = QTextCharFormat()
            colour.setForeground(QColor(palette().petrol))
            cursor.mergeCharFormat(colour)

    def resizeEvent(self, event: QResizeEvent) -> None:
        super().resizeEvent(event)
        self._again.start()

    def _go_to(self, heading: str) -> None:
        cursor = QTextCursor(self.page.document())
        block = self.page.document().begin()
        while heading and block.isValid():
            if block.text() == heading and block.blockFormat().headingLevel():
                cursor.setPosition(block.position())
                break
            block = block.next()
        self.page.setTextCursor(cursor)
        top = self.page.document().documentLayout().blockBoundingRect(cursor.block()).top()
        self.page.verticalScrollBar().setValue(round(top) - 12 if heading else 0)

    def _list(self) -> None:
        """All pages, or the passages that are found."""
        words = self.search.text().strip()
        self.list.blockSignals(True)
        self.list.clear()
        for passage in search(words, self._pages):
            same = passage.heading == passage.page.title
            self._add(passage.heading if same else f"{passage.heading}\n{passage.page.title}", passage.page.name,
                      passage.heading)  # fmt: skip
        if not words:
            for page in self._pages:
                self._add(page.title, page.name, "")
        elif not self.list.count():
            self._add(f"Nothing is said about “{words[:40]}”.", "", "")
        self.list.blockSignals(False)

    def _add(self, text: str, page: str, heading: str) -> None:
        item = QListWidgetItem(text)
        item.setData(Qt.ItemDataRole.UserRole, (page, heading))
        if not page:
            item.setFlags(Qt.ItemFlag.NoItemFlags)
        self.list.addItem(item)

    def _read_first(self) -> None:
        self.list.setCurrentRow(0)

    def _read_item(self, item: QListWidgetItem | None, *_: object) -> None:
        if item is not None:
            self.read(*item.data(Qt.ItemDataRole.UserRole))

    def _follow(self, link: QUrl) -> None:
        """Links lead from page to page; none leads out of the guide."""
        self.search.clear()
        self.read(link.fileName().removesuffix(".md"))

    def keyPressEvent(self, event: QKeyEvent) -> None:
        if event.key() == Qt.Key.Key_Escape:
            self._leave()
        elif event.key() == Qt.Key.Key_Down and self.search.hasFocus():
            self.list.setFocus()
            self.list.setCurrentRow(max(self.list.currentRow(), 0))
        else:
            super().keyPressEvent(event)


def keys_as_text(registry: Registry) -> str:
    """All keys as a page, grouped as in the menu."""
    by_menu: dict[str, list[tuple[str, str]]] = {"Typing rows": list(TYPING)}
    for action in registry:
        if action.keys:
            by_menu.setdefault(action.menu, []).append((action.text.rstrip("…"), action.shown_keys))
    parts = ["# Keys"]
    for menu, entries in by_menu.items():
        rows = [f"| {words} | {pressed.replace(' or ', ', ')} |" for words, pressed in entries]
        parts.append("\n".join([f"## {menu}", "", "| what it does | keys |", "|---|---|", *rows]))
    return "\n\n".join(parts) + "\n"
