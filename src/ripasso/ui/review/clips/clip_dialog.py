"""What goes out as a film: this shot, its rack or what was found; with stops and lines, or as it was."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from pathlib import Path
from typing import TYPE_CHECKING

from PyQt6.QtWidgets import (
    QComboBox,
    QFormLayout,
    QHBoxLayout,
    QLineEdit,
    QPushButton,
    QVBoxLayout,
    QWidget,
)

from ripasso.review.record.report import DIAGRAM_WORDS, ReportPage, ReportShot
from ripasso.ui.help.guided_dialog import GuidedDialog
from ripasso.ui.widgets.basics import choose_file, label, save_or_cancel

if TYPE_CHECKING:
    from ripasso.report.teaching.clips import Way

WAYS: Sequence[tuple[Way, str]] = (
    ("teaching", "teaching film: stops before the stroke, with what is drawn"),
    ("exact", "the film alone, cut to the frame"),
    ("copied", "the film alone, copied: quick, begins at a key frame"),
)


@dataclass(frozen=True)
class Offered:
    """Shots that may go out, in words, and what their file may be called."""

    words: str
    name: str
    shots: Sequence[ReportShot]


class ClipDialog(GuidedDialog):
    """Return writes what is proposed; every choice is remembered for the next time."""

    place = "writes a film at once"

    def __init__(
        self, parent: QWidget, offered: Sequence[Offered], folder: Path, way: str, diagram: str
    ) -> None:
        super().__init__(parent)
        self.setWindowTitle("Write a film")
        self._offered, self._folder = offered, folder
        self.what, self.way, self.diagram = QComboBox(), QComboBox(), QComboBox()
        for one in offered:
            self.what.addItem(one.words)
        for name, words in WAYS:
            self.way.addItem(words, name)
        for seat, words in DIAGRAM_WORDS:
            self.diagram.addItem(words, seat)
        self.way.setCurrentIndex(max(0, self.way.findData(way)))
        self.diagram.setCurrentIndex(max(0, self.diagram.findData(diagram)))
        self.file = QLineEdit()
        choose = QPushButton("Choose")
        choose.setAutoDefault(False)
        choose.clicked.connect(self._choose)
        line = QHBoxLayout()
        line.addWidget(self.file, 1)
        line.addWidget(choose)
        form = QFormLayout()
        for words, field in (("Shots", self.what), ("How", self.way), ("Table", self.diagram)):
            field.setAccessibleName(words)
            form.addRow(words, field)
        self.file.setAccessibleName("File")
        form.addRow("File", line)
        whole = QVBoxLayout(self)
        whole.addLayout(form)
        whole.addWidget(label("An existing file of this name is replaced.", "caption"))
        whole.addWidget(save_or_cancel(self, "Write"))
        self.what.currentIndexChanged.connect(self._name)
        self.way.currentIndexChanged.connect(self._show_table)
        self._name()
        self._show_table()
        self.setMinimumWidth(560)

    def _name(self) -> None:
        self.file.setText(str(self._folder / f"{self._offered[self.what.currentIndex()].name}.mp4"))

    def _show_table(self) -> None:
        self.diagram.setEnabled(self.way.currentData() == "teaching")

    def _choose(self) -> None:
        name = choose_file(self, "Write a film", str(self._folder), "Film (*.mp4)", save=self.path.name)
        if name:
            self.file.setText(name)

    @property
    def path(self) -> Path:
        """Where it goes; a name without an ending gets one."""
        path = Path(self.file.text().strip())
        return path if path.suffix.lower() == ".mp4" else path.with_name(f"{path.name}.mp4")

    @property
    def page(self) -> ReportPage:
        """What is shown, as a page of a report says it."""
        shots = tuple(self._offered[self.what.currentIndex()].shots)
        return ReportPage(kind="film", shots=shots, diagram=self.diagram.currentData() or None)
