"""Dialogs that lead to their place in the guide: by F1, and by a question mark at their foot."""

from __future__ import annotations

from typing import ClassVar

from PyQt6.QtCore import Qt, QTimer
from PyQt6.QtGui import QKeySequence, QShortcut, QShowEvent
from PyQt6.QtWidgets import QDialog, QHBoxLayout, QPushButton, QToolButton, QVBoxLayout, QWidget

from ripasso.ui.widgets.basics import run_dialog

#: A page of the guide beside a dialog, pixels.
WIDTH_PX, HEIGHT_PX = 1000, 640


class GuidedDialog(QDialog):
    """A dialog with a question mark; `place` is what the guide says at its place, word for word."""

    place: ClassVar[str] = ""

    def showEvent(self, event: QShowEvent | None) -> None:
        """The question mark comes when everything else is there."""
        if not self.findChild(QToolButton, "ask_guide"):
            self._add_mark()
        super().showEvent(event)

    def _add_mark(self) -> None:
        body, inside, focus = self.layout(), QWidget(self), self.focusWidget()
        if body is None:
            return
        margins = body.contentsMargins()
        inside.setLayout(body)
        mark = QToolButton()
        mark.setObjectName("ask_guide")
        mark.setText("?")
        mark.setAccessibleName("What the guide says of this")
        mark.setToolTip("What the guide says of this (F1)")
        mark.clicked.connect(self.ask_guide)
        foot = QHBoxLayout()
        foot.setContentsMargins(margins.left(), 0, margins.right(), margins.bottom())
        foot.addWidget(mark)
        foot.addStretch(1)
        body.setContentsMargins(margins.left(), margins.top(), margins.right(), 4)
        whole = QVBoxLayout(self)
        whole.setContentsMargins(0, 0, 0, 0)
        whole.setSpacing(0)
        whole.addWidget(inside, 1)
        whole.addLayout(foot)
        QShortcut(QKeySequence(Qt.Key.Key_F1), self, self.ask_guide)
        if focus is not None:
            focus.setFocus()  # what moves into another widget loses it

    def ask_guide(self) -> None:
        """Open the guide at the dialog's place."""
        run_dialog(GuideDialog(self.place, self))


class GuideDialog(QDialog):
    """The guide, opened at a place."""

    def __init__(self, place: str, parent: QWidget) -> None:
        from ripasso.ui.help.guide import GuideView

        super().__init__(parent)
        self.setWindowTitle("Guide")
        self.guide = GuideView()
        close = QPushButton("Close")
        close.clicked.connect(self.accept)
        layout = QVBoxLayout(self)
        layout.addWidget(self.guide)
        layout.addWidget(close, 0, Qt.AlignmentFlag.AlignRight)
        self.resize(WIDTH_PX, HEIGHT_PX)
        self._shown = QTimer(self)
        self._shown.setSingleShot(True)
        self._shown.timeout.connect(lambda: self.guide.show_place(place))
        self.guide.text.setFocus()  # a list that is given the focus shows its first chapter
        self.guide.show_place(place)

    def showEvent(self, event: QShowEvent | None) -> None:
        """Lines are broken when the text is on screen: then the place stands at the top."""
        super().showEvent(event)
        self._shown.start(0)
