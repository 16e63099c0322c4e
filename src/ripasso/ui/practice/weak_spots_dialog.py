"""What costs a player most racks: each opens its shots, or becomes an exercise."""

from __future__ import annotations

from collections.abc import Sequence

from PyQt6.QtCore import pyqtSignal
from PyQt6.QtWidgets import QHBoxLayout, QPushButton, QVBoxLayout, QWidget

from ripasso.core.practice.weak_spots import WeakSpot
from ripasso.review.practice.weak_spot_words import reason_words, spot_words
from ripasso.ui.help.guided_dialog import GuidedDialog
from ripasso.ui.theme import Theme
from ripasso.ui.widgets.basics import label
from ripasso.ui.widgets.lines import LinesModel, lines_view

HEADINGS = ("Weak spot", "Why")
ABOUT = (
    "Racks in a hundred: chances missing beside the player's own average over all shots, difficulty taken "
    "out and shrunk by the count, times how often it comes up. What is not told from chance is not listed."
)
NONE = "Nothing is told from chance yet: it takes measured pots, position with a plan, or weighed choices."


class WeakSpotsDialog(GuidedDialog):
    """`chosen` is the weak spot that becomes an exercise; `played` brings the one whose shots are wanted."""

    place = "Weak spots."

    played = pyqtSignal(int)

    def __init__(
        self, theme: Theme, name: str, spots: Sequence[WeakSpot], parent: QWidget | None = None
    ) -> None:
        super().__init__(parent)
        self.setWindowTitle(f"Weak spots, {name}")
        self._spots = spots
        self.chosen: WeakSpot | None = None
        self.model = LinesModel(self)
        self.list = lines_view(theme, "Weak spots", self.model, self._choose)
        self.model.show_lines(HEADINGS, [(spot_words(one), reason_words(one)) for one in spots])
        make, shots, close = QPushButton("Make an exercise"), QPushButton("Its shots"), QPushButton("Close")
        make.setProperty("main", True)
        make.setDefault(True)
        for button in (make, shots):
            button.setEnabled(bool(spots))
        make.clicked.connect(lambda: self._choose(self.list.currentIndex().row()))
        shots.clicked.connect(lambda: self._play(self.list.currentIndex().row()))
        close.clicked.connect(self.reject)
        buttons = QHBoxLayout()
        for button in (make, shots):
            buttons.addWidget(button)
        buttons.addStretch(1)
        buttons.addWidget(close)
        layout = QVBoxLayout(self)
        layout.setContentsMargins(20, 16, 20, 16)
        layout.setSpacing(10)
        layout.addWidget(label(ABOUT if spots else NONE, "caption", wrap=True))
        layout.addWidget(self.list, 1)
        layout.addLayout(buttons)
        self.resize(980, 460)
        if spots:
            self.list.selectRow(0)
            self.list.setFocus()

    def _choose(self, row: int) -> None:
        if 0 <= row < len(self._spots):
            self.chosen = self._spots[row]
            self.accept()

    def _play(self, row: int) -> None:
        if 0 <= row < len(self._spots):
            self.played.emit(row)
            self.reject()
