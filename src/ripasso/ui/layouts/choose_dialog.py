"""Which of the kept layouts is planned."""

from __future__ import annotations

from PyQt6.QtCore import QTimer
from PyQt6.QtWidgets import QHBoxLayout, QPushButton, QVBoxLayout, QWidget

from ripasso.core.table import table_spec
from ripasso.drawing import TableScene
from ripasso.review.entry.kept_layouts import Kept
from ripasso.review.language.vocabulary import count, word
from ripasso.review.record.kept_layout import KeptLayout
from ripasso.review.table.layouts import balls_of
from ripasso.ui.help.guided_dialog import GuidedDialog
from ripasso.ui.layouts.layout_list import LayoutList
from ripasso.ui.theme import Theme
from ripasso.ui.widgets.basics import label, panel
from ripasso.ui.widgets.table_view import TableView


class ChooseLayoutDialog(GuidedDialog):
    """Accepted with `chosen`, the layout that is wanted."""

    place = "a kept layout is planned"

    def __init__(self, theme: Theme, kept: Kept, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setWindowTitle("Plan a kept layout")
        self.pick = LayoutList(theme)
        self.table = TableView(theme)
        self.title, self.told = label("", "title", wrap=True), label("", "caption", wrap=True)
        self.take = QPushButton("Plan it")
        self.take.setDefault(True)
        self.take.clicked.connect(self._taken)
        close = QPushButton("Cancel")
        close.setAutoDefault(False)
        close.clicked.connect(self.reject)
        self.pick.changed.connect(self._show)
        self.pick.taken.connect(self._taken)
        left, right = QVBoxLayout(), QVBoxLayout()
        left.addWidget(self.pick)
        right.addWidget(self.title)
        right.addWidget(self.table, 1)
        right.addWidget(self.told)
        middle = QHBoxLayout()
        middle.setSpacing(8)
        middle.addWidget(panel(left), 2)
        middle.addWidget(panel(right), 3)
        row = QHBoxLayout()
        row.addStretch(1)
        row.addWidget(close)
        row.addWidget(self.take)
        layout = QVBoxLayout(self)
        layout.setContentsMargins(16, 12, 16, 12)
        layout.addLayout(middle, 1)
        layout.addLayout(row)
        self.resize(theme.px(1020), theme.px(560))
        self.pick.show_layouts(kept)
        QTimer.singleShot(0, self.pick.line.setFocus)

    @property
    def chosen(self) -> KeptLayout | None:
        """The layout in hand."""
        return self.pick.chosen[1] if self.pick.chosen is not None else None

    def _show(self) -> None:
        one = self.chosen
        self.take.setEnabled(one is not None)
        if one is None:
            self.title.setText("None has these words")
            self.table.show_scene(TableScene(table_spec(None), {}))
            self.told.clear()
            return
        self.title.setText(one.title)
        game = f", {word(one.game)}" if one.game else ""
        tags = f"; {' '.join(one.tags)}" if one.tags else ""
        self.told.setText(f"{count(len(one.layout), 'ball')}{game}{tags}")
        self.table.show_scene(TableScene(table_spec(one.table), balls_of(one.layout)))

    def _taken(self) -> None:
        if self.chosen is not None:
            self.accept()
