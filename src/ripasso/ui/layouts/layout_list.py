"""The kept layouts as small tables under a line that finds them by name, tag or game."""

from __future__ import annotations

from PyQt6.QtCore import QSize, Qt, pyqtSignal
from PyQt6.QtGui import QIcon, QPixmap
from PyQt6.QtWidgets import QLineEdit, QListView, QListWidget, QListWidgetItem, QVBoxLayout, QWidget

from ripasso.core.table import table_spec
from ripasso.drawing import TableScene, table_drawing
from ripasso.review.entry.kept_layouts import Kept, found_layouts
from ripasso.review.language.vocabulary import count
from ripasso.review.record.kept_layout import KeptLayout
from ripasso.review.table.layouts import balls_of
from ripasso.ui.painting import picture_of
from ripasso.ui.theme import Theme

#: How wide a small table is, pixels.
THUMBNAIL_PX = 168


class LayoutList(QWidget):
    """`changed`: another one is in hand; `taken`: the one in hand is wanted."""

    changed = pyqtSignal()
    taken = pyqtSignal()

    def __init__(self, theme: Theme, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._theme = theme
        self._kept: Kept = ()
        self.line = QLineEdit()
        self.line.setPlaceholderText("find by name, tag or game")
        self.line.setAccessibleName("Find a layout")
        self.line.textChanged.connect(lambda _text: self.fill())
        self.line.returnPressed.connect(self.taken.emit)
        self.list = QListWidget()
        self.list.setAccessibleName("Kept layouts")
        self.list.setViewMode(QListView.ViewMode.IconMode)
        self.list.setResizeMode(QListView.ResizeMode.Adjust)
        self.list.setMovement(QListView.Movement.Static)
        self.list.setWordWrap(True)
        self.list.setUniformItemSizes(True)
        wide, high = theme.px(THUMBNAIL_PX), theme.px(THUMBNAIL_PX) * 3 // 5
        self.list.setIconSize(QSize(wide, high))
        self.list.setGridSize(QSize(wide + theme.px(12), high + theme.px(46)))
        self.list.currentRowChanged.connect(lambda _row: self.changed.emit())
        self.list.itemActivated.connect(lambda _item: self.taken.emit())
        layout = QVBoxLayout(self)
        layout.setContentsMargins(0, 0, 0, 0)
        layout.addWidget(self.line)
        layout.addWidget(self.list, 1)

    def show_layouts(self, kept: Kept, key: str = "") -> None:
        """Show these; the one of this key is in hand, else the one that was."""
        self._kept = kept
        self.fill(key)

    def fill(self, key: str = "") -> None:
        """Those that the line finds."""
        wanted, place = key or self.key, 0
        found = found_layouts(self._kept, self.line.text())
        self.list.blockSignals(True)
        self.list.clear()
        for i, (own, one) in enumerate(found):
            tags = f"\n{' '.join(one.tags)}" if one.tags else ""
            item = QListWidgetItem(self._thumbnail(one), f"{one.title}{tags}")
            item.setData(Qt.ItemDataRole.UserRole, own)
            item.setData(Qt.ItemDataRole.AccessibleTextRole, f"{one.title}, {count(len(one.layout), 'ball')}")
            self.list.addItem(item)
            place = i if own == wanted else place
        if found:
            self.list.setCurrentRow(place)
        self.list.blockSignals(False)
        self.changed.emit()

    @property
    def key(self) -> str:
        """The key of the layout in hand; empty without one."""
        item = self.list.currentItem()
        return str(item.data(Qt.ItemDataRole.UserRole)) if item is not None else ""

    @property
    def chosen(self) -> tuple[str, KeptLayout] | None:
        """The layout in hand with its key."""
        key = self.key
        return next((pair for pair in self._kept if pair[0] == key), None)

    def _thumbnail(self, one: KeptLayout) -> QIcon:
        scene = TableScene(table_spec(one.table), balls_of(one.layout), ball_scale=2.4)
        width = self._theme.px(THUMBNAIL_PX)
        return QIcon(QPixmap.fromImage(picture_of(table_drawing(scene), self._theme, width)))
