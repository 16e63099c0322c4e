"""What a person chooses for the whole program: whose words, which colours, how large, under which name."""

from __future__ import annotations

import json
from pathlib import Path

from PyQt6.QtWidgets import QComboBox, QFormLayout, QHBoxLayout, QLineEdit, QPushButton, QVBoxLayout, QWidget

from ripasso.review.language.localization import set_tradition
from ripasso.store.session_file import SessionFileError, write_whole
from ripasso.ui.help.guided_dialog import GuidedDialog
from ripasso.ui.services.settings import SUFFIX, Settings
from ripasso.ui.widgets.basics import choose_file, label, save_or_cancel, set_property
from ripasso.ui.workspace import Workspace

FILES = f"Settings of Ripasso (*{SUFFIX});;All files (*)"
#: A file of settings has no more characters than this.
LARGEST = 1_000_000
WORDS = (
    ("british", "British: pot, white, cushion, screw"),
    ("american", "American: pocket, cue ball, rail, draw"),
)
COLOURS = (("paper", "Paper (light)"), ("evening", "Evening (dark)"), ("contrast", "High contrast"))
SIZES = ((1.0, "100 %"), (1.25, "125 %"), (1.5, "150 %"), (2.0, "200 %"))


def choose(workspace: Workspace) -> None:
    """Let the choices in the settings hold from now on."""
    settings = workspace.settings
    set_tradition("american" if settings.get("words") == "american" else "british")
    workspace.theme.use(settings.get("theme"))
    workspace.theme.scale = settings.get("text_scale")


class SettingsDialog(GuidedDialog):
    """Keeps the choices in the settings; `wants_backups` when the way to the backups was taken."""

    place = "Choose words, colours, keys"

    def __init__(self, settings: Settings, backups_key: str, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.wants_backups = False
        self.setWindowTitle("Settings")
        self._settings = settings
        self.words = _box("Whose trade words", WORDS, settings.get("words"))
        self.colours = _box("Colours", COLOURS, settings.get("theme"))
        self.text_size = _box("Size of texts", SIZES, settings.get("text_scale"))
        self.reviewer = QLineEdit(settings.get("reviewer"))
        self.reviewer.setAccessibleName("Your name")
        self.reviewer.setPlaceholderText("named beside comments")
        self.backups = QPushButton(f"Backups   {backups_key}")
        self.backups.setAutoDefault(False)
        self.backups.clicked.connect(self._to_backups)
        self.export = QPushButton("Export")
        self.bring = QPushButton("Import")
        self.told = label("What is stored stays the same in all of them.", "caption", wrap=True)
        both = QHBoxLayout()
        for button, act in ((self.export, self._export), (self.bring, self._import)):
            button.setAutoDefault(False)
            button.clicked.connect(act)
            both.addWidget(button)
        form = QFormLayout()
        for name, field in (
            ("Words", self.words),
            ("Colours", self.colours),
            ("Size of texts", self.text_size),
            ("Your name", self.reviewer),
            ("Library", self.backups),
        ):
            form.addRow(label(name), field)
        form.addRow(label("Settings and keys"), both)
        layout = QVBoxLayout(self)
        layout.setContentsMargins(20, 16, 20, 16)
        layout.setSpacing(12)
        layout.addLayout(form)
        layout.addWidget(self.told)
        layout.addWidget(save_or_cancel(self, "Save", self._keep))

    def _to_backups(self) -> None:
        self.wants_backups = True
        self._keep()

    def _export(self) -> None:
        """Write what was chosen, and the keys, for another machine or another person."""
        folder = self._settings.get("last_folder") or str(Path.home())
        name = choose_file(self, "Export settings and keys", folder, FILES, save=f"my{SUFFIX}")
        if not name:
            return
        self._store()
        try:
            write_whole(json.dumps(self._settings.shared(), indent=1, ensure_ascii=False), Path(name))
        except SessionFileError as error:
            self._tell(str(error), "bad")
        else:
            self._tell(f"Settings and keys are in {Path(name).name}.", "good")

    def _import(self) -> None:
        """Take over what somebody exported; it holds at once."""
        folder = self._settings.get("last_folder") or str(Path.home())
        name = choose_file(self, "Import settings and keys", folder, FILES)
        if not name:
            return
        try:
            with Path(name).open(encoding="utf-8") as file:
                text = file.read(LARGEST + 1)
            if len(text) > LARGEST:
                raise ValueError("That file is too large to hold settings.")
            self._settings.take_over(json.loads(text))
        except (json.JSONDecodeError, UnicodeDecodeError, RecursionError):
            self._tell(f"{Path(name).name} is no file of settings.", "bad")
        except OSError as error:
            self._tell(f"{Path(name).name} cannot be read: {error.strerror or error}.", "bad")
        except ValueError as error:
            self._tell(str(error), "bad")
        else:
            self.accept()

    def _tell(self, sentence: str, tone: str) -> None:
        set_property(self.told, "tone", tone)
        self.told.setText(sentence)

    def _keep(self) -> None:
        self._store()
        self.accept()

    def _store(self) -> None:
        self._settings.set("words", self.words.currentData())
        self._settings.set("theme", self.colours.currentData())
        self._settings.set("text_scale", float(self.text_size.currentData()))
        self._settings.set("reviewer", self.reviewer.text().strip())


def _box(name: str, lines: tuple[tuple[object, str], ...], now: object) -> QComboBox:
    box = QComboBox()
    box.setAccessibleName(name)
    for value, text in lines:
        box.addItem(text, value)
    box.setCurrentIndex(max(0, box.findData(now)))
    return box
