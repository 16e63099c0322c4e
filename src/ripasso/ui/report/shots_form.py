"""The shots of a page: their order, what is said of each, and in a teaching film which stand side by side."""

from __future__ import annotations

import re
from collections.abc import Mapping, Sequence
from pathlib import Path

from PyQt6.QtCore import Qt, pyqtSignal
from PyQt6.QtWidgets import QCheckBox, QGridLayout, QLineEdit, QListWidget, QPushButton, QVBoxLayout, QWidget

from ripasso.core.json_data import JsonObject
from ripasso.review.record.report import ReportShot
from ripasso.ui.services.microphone import Recorder
from ripasso.ui.widgets.basics import choose_file, label

SOUNDS = "Sound (*.wav *.flac *.mp3 *.m4a *.ogg *.opus);;All files (*)"
ROWS = 6
RECORD = "Record a comment"


class ShotsForm(QWidget):
    """A list of shots with fields for the chosen one; `changed` carries all of them as they are now."""

    changed = pyqtSignal(list)
    failed = pyqtSignal(str)

    def __init__(self) -> None:
        super().__init__()
        #: Where recorded comments go; the page says so once it knows the library.
        self.folder = Path.home()
        self.recorder = Recorder()
        self.recorder.said.connect(self._hear)
        self._shots: list[JsonObject] = []
        self.list = QListWidget()
        self.list.setAccessibleName("Shots of the page")
        self.list.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self.list.setTextElideMode(Qt.TextElideMode.ElideRight)
        self.list.setFixedHeight(ROWS * self.list.fontMetrics().lineSpacing() + 12)
        self.note = QLineEdit()
        self.note.setPlaceholderText("what you say of this shot")
        self.note.setAccessibleName("What you say of this shot")
        self.beside = QCheckBox("Beside the shot before it")
        self.comment, self.record = QPushButton("Spoken comment"), QPushButton(RECORD)
        self.earlier, self.later, self.out = (
            QPushButton("Earlier"),
            QPushButton("Later"),
            QPushButton("Take out"),
        )
        self.hint = label("Ctrl ⇧ E in Review puts the shot in hand here.", "caption", wrap=True)
        whole = QVBoxLayout(self)
        whole.setContentsMargins(0, 0, 0, 0)
        for part in (self.hint, self.list, self.note, self.beside, self.comment, self.record):
            whole.addWidget(part)
        buttons = QGridLayout()
        for place, button in enumerate((self.earlier, self.later, self.out)):
            buttons.addWidget(button, 0, place)
        whole.addLayout(buttons)
        self.list.currentRowChanged.connect(lambda _row: self._show_chosen())
        self.note.editingFinished.connect(lambda: self._tell("note", self.note.text().strip() or None))
        self.beside.clicked.connect(lambda on: self._tell("beside", True if on else None))
        self.comment.clicked.connect(self._choose_comment)
        self.record.clicked.connect(self._toggle_record)
        self.earlier.clicked.connect(lambda: self._move(-1))
        self.later.clicked.connect(lambda: self._move(1))
        self.out.clicked.connect(self._take_out)

    def show_shots(self, shots: Sequence[ReportShot], titles: Mapping[str, str], *, is_film: bool) -> None:
        """Show the shots of a page; `titles` are those of sessions. In a film more is said of each."""
        row = max(0, self.list.currentRow())
        self._shots = [one.model_dump(exclude_none=True) for one in shots]
        self.list.blockSignals(True)
        self.list.clear()
        for one in shots:
            side = "   beside: " if one.beside and is_film else ""
            where = titles.get(one.session, one.session)
            self.list.addItem(f"{side}rack {one.rack}, shot {one.shot} · {where}")
        self.list.setCurrentRow(min(row, len(shots) - 1))
        self.list.blockSignals(False)
        for part in (self.list, self.note, self.earlier, self.later, self.out):
            part.setVisible(bool(shots))
        self.beside.setVisible(bool(shots) and is_film)
        self.comment.setVisible(bool(shots) and is_film)
        self.record.setVisible(bool(shots) and is_film)
        self.hint.setVisible(not shots)
        if is_film:
            self.hint.setText("Without shots of its own the film shows the key shots of the report.")
        else:
            self.hint.setText("Ctrl ⇧ E in Review puts the shot in hand here.")
        self._show_chosen()

    def _chosen(self) -> JsonObject | None:
        row = self.list.currentRow()
        return self._shots[row] if 0 <= row < len(self._shots) else None

    def _show_chosen(self) -> None:
        shot, row = self._chosen(), self.list.currentRow()
        if shot is None:
            return
        if self.note.text() != shot.get("note", ""):
            self.note.setText(shot.get("note", ""))
        self.beside.setChecked(bool(shot.get("beside")))
        self.beside.setEnabled(row > 0)
        spoken = shot.get("comment")
        self.comment.setText(f"Spoken: {Path(spoken).name}" if spoken else "Spoken comment")
        self.earlier.setEnabled(row > 0)
        self.later.setEnabled(row < len(self._shots) - 1)

    def _tell(self, name: str, value: object) -> None:
        shot = self._chosen()
        if shot is not None and shot.get(name) != value:
            changed = {**shot, name: value}
            self._shots[self.list.currentRow()] = {k: v for k, v in changed.items() if v is not None}
            self.changed.emit(list(self._shots))

    def _choose_comment(self) -> None:
        """A file of sound; whoever chooses none takes the one away that was there."""
        name = choose_file(self, "Spoken comment", str(Path.home()), SOUNDS)
        self._tell("comment", name or None)

    def _toggle_record(self) -> None:
        """Record what is said of the chosen shot; again: that is the comment."""
        if self.recorder.is_recording:
            path = self.recorder.stop()
            self.record.setText(RECORD)
            if path is not None:
                self._tell("comment", str(path))
            return
        shot = self._chosen()
        if shot is None:
            return
        named = re.sub(r"\W+", "-", f"{shot['session']}-{shot['rack']}-{shot['shot']}")
        taken = sum(1 for _ in self.folder.glob(f"{named}-*.wav")) if self.folder.is_dir() else 0
        self.recorder.start(self.folder / f"{named}-{taken + 1}.wav")

    def _hear(self, words: str) -> None:
        """How long the comment is, or what went wrong."""
        if self.recorder.is_recording:
            self.record.setText(f"Stop recording, {words}")
        else:
            self.record.setText(RECORD)
            if words.endswith("."):
                self.failed.emit(words)

    def _move(self, by: int) -> None:
        row = self.list.currentRow()
        if 0 <= row + by < len(self._shots):
            self._shots.insert(row + by, self._shots.pop(row))
            self.list.setCurrentRow(row + by)
            self.changed.emit(list(self._shots))

    def _take_out(self) -> None:
        row = self.list.currentRow()
        if 0 <= row < len(self._shots):
            del self._shots[row]
            self.changed.emit(list(self._shots))
