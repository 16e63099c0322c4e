"""Every shot of a rack as a small table: tip, route, zone, landing and result; copied or saved."""

from __future__ import annotations

from pathlib import Path

from PyQt6.QtCore import QMimeData, Qt
from PyQt6.QtGui import QGuiApplication, QImage, QPixmap
from PyQt6.QtWidgets import QFileDialog, QHBoxLayout, QLabel, QPushButton, QVBoxLayout, QWidget

from ripasso.drawing.primitives import Drawing
from ripasso.report.shot_sheet import COLUMNS
from ripasso.review.document.snapshot import RackRow, Snapshot
from ripasso.review.language.vocabulary import rack_word, sentence
from ripasso.ui.help.guided_dialog import GuidedDialog
from ripasso.ui.review.state.selection import Say
from ripasso.ui.sheet_picture import WIDTH_PX, sheet_image, sheet_svg
from ripasso.ui.theme import Theme
from ripasso.ui.widgets.basics import label, scrolling


class ShotSheetDialog(GuidedDialog):
    """The sheet of the rack in hand, on paper whatever the colours of the screen."""

    place = "is the sheet of shots"

    def __init__(
        self, theme: Theme, of: tuple[Snapshot, RackRow], drawing: Drawing, say: Say, parent: QWidget | None
    ) -> None:
        super().__init__(parent)
        self._theme, self._say, self.drawing = theme, say, drawing
        snapshot, rack = of
        what = f"{sentence(rack_word(snapshot.head.game))} {rack.record.number}"
        self.setWindowTitle(f"Sheet of shots: {what}")
        self.svg = sheet_svg(self.drawing, COLUMNS)
        self.picture = QLabel()
        self.picture.setAccessibleName(self.drawing.words)
        self.picture.setAlignment(Qt.AlignmentFlag.AlignHCenter | Qt.AlignmentFlag.AlignTop)
        self._width = theme.px(1120)
        self.picture.setPixmap(QPixmap.fromImage(self.image(self._width)))
        buttons = QHBoxLayout()
        buttons.addWidget(label(f"{len(rack.shots)} shots; planned dashed, played solid", "caption"), 1)
        for words, call in (("Copy the picture", self.copy), ("Save", self._save), ("Close", self.accept)):
            button = QPushButton(words)
            button.setAutoDefault(words == "Close")
            button.clicked.connect(lambda _checked=False, call=call: call())
            buttons.addWidget(button)
        layout = QVBoxLayout(self)
        layout.setContentsMargins(16, 12, 16, 12)
        layout.addWidget(scrolling(self.picture), 1)
        layout.addLayout(buttons)
        self.resize(theme.px(1180), theme.px(720))

    def image(self, width_px: int = WIDTH_PX) -> QImage:
        """The sheet as a picture."""
        return sheet_image(self.svg, self.drawing, self._theme, width_px)

    def copy(self) -> None:
        """Put the sheet on the clipboard, as a picture and as SVG."""
        data = QMimeData()
        data.setImageData(self.image())
        data.setData("image/svg+xml", self.svg.encode())
        clipboard = QGuiApplication.clipboard()
        if clipboard is not None:
            clipboard.setMimeData(data)
            self._say("The sheet is copied, as a picture and as SVG.", "good")

    def _save(self) -> None:
        name, _ = QFileDialog.getSaveFileName(
            self, "Save the sheet", "shots.svg", "SVG drawing (*.svg);;PNG picture (*.png)"
        )
        if name:
            self.save(Path(name))

    def save(self, path: Path) -> None:
        """Save the sheet, by the file's ending as SVG or PNG; what fails is said."""
        try:
            if path.suffix.lower() == ".png":
                done = self.image().save(str(path), "PNG")
            else:
                path.write_text(self.svg, encoding="utf-8")
                done = True
        except OSError as error:
            self._say(f"{path.name} cannot be written: {error.strerror or 'unknown reason'}.", "bad")
            return
        words = f"Saved as {path.name}." if done else f"{path.name} cannot be written there."
        self._say(words, "good" if done else "bad")
