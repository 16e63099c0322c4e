"""The sheet of keys (F1): every action with its key, read from the same lists as the buttons."""

from __future__ import annotations

from collections.abc import Sequence

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QDialog, QGridLayout, QPushButton, QScrollArea, QVBoxLayout, QWidget

from ripasso.review.vocabulary import sentence
from ripasso.ui.actions import ActionSpec
from ripasso.ui.theme import Theme
from ripasso.ui.widgets.basics import label

COLUMNS = 3


class KeySheet(QDialog):
    """Shows the keys by group."""

    def __init__(self, theme: Theme, specs: Sequence[ActionSpec], parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setWindowTitle("Keys")
        groups: dict[str, list[ActionSpec]] = {}
        for spec in specs:
            groups.setdefault(spec.group, []).append(spec)
        columns = [QVBoxLayout() for _ in range(COLUMNS)]
        filled = [0] * COLUMNS
        for group, members in groups.items():
            place = filled.index(min(filled))
            filled[place] += len(members) + 2
            columns[place].addLayout(_group(theme, group, members))
        body = QWidget()
        body.setObjectName("page")
        grid = QGridLayout(body)
        grid.setContentsMargins(20, 16, 20, 16)
        grid.setHorizontalSpacing(theme.px(32))
        for place, column in enumerate(columns):
            column.addStretch(1)
            column.setSpacing(theme.px(16))
            grid.addLayout(column, 0, place)
            grid.setColumnStretch(place, 1)
        area = QScrollArea()
        area.setWidget(body)
        area.setWidgetResizable(True)
        area.setFrameShape(QScrollArea.Shape.NoFrame)
        area.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        close = QPushButton("Close")
        close.clicked.connect(self.accept)
        layout = QVBoxLayout(self)
        layout.addWidget(area)
        layout.addWidget(close, 0, Qt.AlignmentFlag.AlignRight)
        self.resize(theme.px(1160), theme.px(720))


def _group(theme: Theme, name: str, members: Sequence[ActionSpec]) -> QGridLayout:
    grid = QGridLayout()
    grid.setHorizontalSpacing(theme.px(12))
    grid.setVerticalSpacing(theme.px(3))
    grid.addWidget(label(name, "title"), 0, 0, 1, 2)
    for row, spec in enumerate(members, start=1):
        key = label(spec.hint, "title")
        key.setMinimumWidth(theme.px(56))
        grid.addWidget(key, row, 0)
        grid.addWidget(label(sentence(spec.tip or spec.text), wrap=True), row, 1)
    grid.setColumnStretch(1, 1)
    return grid
