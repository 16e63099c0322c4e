"""The one line that shows messages, and the way to copy what a developer would ask for."""

from __future__ import annotations

from datetime import datetime

from PyQt6.QtCore import Qt, QTimer
from PyQt6.QtWidgets import QApplication, QHBoxLayout, QPushButton, QSizePolicy, QWidget

from ripasso.ui.widgets.basics import as_it_stands, label, set_property

SHOWN_MS = 8000


class MessageLine(QWidget):
    """Shows a sentence for a while, cut at its end where it is too long; the tip has all of it."""

    def __init__(self) -> None:
        super().__init__()
        self._details = ""
        self.sentence = label("", "message")
        self.sentence.setSizePolicy(QSizePolicy.Policy.Ignored, QSizePolicy.Policy.Fixed)
        self.copy_details = QPushButton("Copy details")
        self.copy_details.setAutoDefault(False)
        self.copy_details.setFocusPolicy(Qt.FocusPolicy.TabFocus)
        self.copy_details.clicked.connect(self._copy)
        self.copy_details.hide()
        self.kept = label("", "caption")
        self.kept.setToolTip(
            "Every change is in the library as soon as it is made; there is nothing to save."
        )
        self._quiet = QTimer(self)
        self._quiet.setSingleShot(True)
        self._quiet.setInterval(SHOWN_MS)
        self._quiet.timeout.connect(self.clear)
        row = QHBoxLayout(self)
        row.setContentsMargins(0, 0, 0, 0)
        row.addWidget(self.sentence, 1)
        row.addWidget(self.copy_details)
        row.addWidget(self.kept)

    def show_sentence(self, sentence: str, tone: str, details: str) -> None:
        """Show a message; with details they can be copied beside it."""
        self._details = details
        self.copy_details.setVisible(bool(details))
        set_property(self.sentence, "tone", tone)
        self.sentence.setText(sentence)
        self.sentence.setToolTip(as_it_stands(sentence))
        if sentence:
            self._quiet.start()

    def show_kept(self, at: datetime) -> None:
        """Say when the last change was stored."""
        self.kept.setText(f"Kept {at:%H:%M}")

    def text(self) -> str:
        """The sentence that is shown."""
        return self.sentence.text()

    def clear(self) -> None:
        """Show nothing."""
        self.sentence.clear()
        self.copy_details.hide()

    def _copy(self) -> None:
        clipboard = QApplication.clipboard()
        if clipboard is not None:
            clipboard.setText(self._details)
