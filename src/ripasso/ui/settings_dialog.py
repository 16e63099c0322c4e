"""What a person chooses for the whole program: whose words, which colours, how large, under which name."""

from __future__ import annotations

from PyQt6.QtWidgets import QComboBox, QFormLayout, QLineEdit, QPushButton, QVBoxLayout, QWidget

from ripasso.review.language.localization import set_tradition
from ripasso.ui.help.guided_dialog import GuidedDialog
from ripasso.ui.services.settings import Settings
from ripasso.ui.widgets.basics import label, save_or_cancel
from ripasso.ui.workspace import Workspace

WORDS = (
    ("british", "British: pot, white, cushion, screw"),
    ("american", "American: pocket, cue ball, rail, draw"),
)
COLOURS = (("paper", "Paper (light)"), ("evening", "Evening (dark)"))
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
        form = QFormLayout()
        for name, field in (
            ("Words", self.words),
            ("Colours", self.colours),
            ("Size of texts", self.text_size),
            ("Your name", self.reviewer),
            ("Library", self.backups),
        ):
            form.addRow(label(name), field)
        layout = QVBoxLayout(self)
        layout.setContentsMargins(20, 16, 20, 16)
        layout.setSpacing(12)
        layout.addLayout(form)
        layout.addWidget(label("What is stored stays the same in all of them.", "caption"))
        layout.addWidget(save_or_cancel(self, "Save", self._keep))

    def _to_backups(self) -> None:
        self.wants_backups = True
        self._keep()

    def _keep(self) -> None:
        self._settings.set("words", self.words.currentData())
        self._settings.set("theme", self.colours.currentData())
        self._settings.set("text_scale", float(self.text_size.currentData()))
        self._settings.set("reviewer", self.reviewer.text().strip())
        self.accept()


def _box(name: str, lines: tuple[tuple[object, str], ...], now: object) -> QComboBox:
    box = QComboBox()
    box.setAccessibleName(name)
    for value, text in lines:
        box.addItem(text, value)
    box.setCurrentIndex(max(0, box.findData(now)))
    return box
