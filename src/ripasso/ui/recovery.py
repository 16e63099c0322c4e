"""What is asked when a library is damaged, gone or full, and the backups to go back to."""

from __future__ import annotations

from datetime import date
from pathlib import Path

from PyQt6.QtWidgets import (
    QLabel,
    QListWidget,
    QListWidgetItem,
    QMessageBox,
    QPushButton,
    QVBoxLayout,
    QWidget,
)

from ripasso.review.language.vocabulary import count
from ripasso.statistics.rows.shot_rows import derived_rows
from ripasso.store.errors import LibraryError
from ripasso.store.file.backups import Backup, backups_of, restore
from ripasso.store.recovering import recover
from ripasso.store.session_list import session_lines
from ripasso.ui.help.guided_dialog import GuidedDialog
from ripasso.ui.widgets.basics import choose_file, label, question_box, run_dialog, save_or_cancel

MEGABYTE = 1_000_000


def repaired(path: Path, error: LibraryError) -> str | None:
    """Ask what to do with a damaged library, and do it; the sentence of what was done, None for nothing.

    Raises `LibraryError` when it cannot be done.
    """
    backups = backups_of(path)
    more = "The damaged file is kept whatever you choose."
    question = question_box(None, "Ripasso", str(error), more)
    save = question.addButton("Save what can be read", QMessageBox.ButtonRole.AcceptRole)
    back: QPushButton | None = None
    if backups:
        back = question.addButton(
            f"Restore the backup of {backups[0].day.isoformat()}", QMessageBox.ButtonRole.ActionRole
        )
    question.addButton("Close", QMessageBox.ButtonRole.RejectRole)
    run_dialog(question)
    if question.clickedButton() is save:
        return str(recover(path, date.today(), derived_rows))
    if back is not None and question.clickedButton() is back:
        return restored(path, backups[0])
    return None


def restored(path: Path, backup: Backup) -> str:
    """Put a backup in the place of a library that nobody has open; the sentence of what was done."""
    aside = restore(path, backup.path, date.today())
    return f"The library is that of {backup.day.isoformat()}; the later one is kept as {aside.name}."


def ask_place(parent: QWidget, sentence: str, name: str) -> Path | None:
    """Where a library shall be kept that is not at its place any more; None: nowhere now."""
    more = "Nothing is lost: all of it can be saved at another place."
    question = question_box(parent, "Ripasso", f"{sentence}.", more)
    save = question.addButton("Save elsewhere", QMessageBox.ButtonRole.AcceptRole)
    question.addButton("Cancel", QMessageBox.ButtonRole.RejectRole)
    run_dialog(question)
    if question.clickedButton() is not save:
        return None
    kinds = "Ripasso libraries (*.ripasso)"
    chosen = choose_file(parent, "Save the library", str(Path.home()), kinds, save=name)
    return Path(chosen) if chosen else None


def stays_for(parent: QWidget, note: str, reason: str) -> bool:
    """Whether the window stays open for a note that cannot be stored."""
    question = question_box(parent, "Ripasso", f"A note could not be stored: “{note}”", reason)
    question.addButton("Close without it", QMessageBox.ButtonRole.DestructiveRole)
    stay = question.addButton("Stay", QMessageBox.ButtonRole.RejectRole)
    question.setDefaultButton(stay)
    run_dialog(question)
    return question.clickedButton() is stay


class BackupsDialog(GuidedDialog):
    """The backups of a library; `chosen` is the one to go back to."""

    place = "lists the copies of seven days"

    def __init__(self, library: Path, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setWindowTitle("Backups")
        self._backups = backups_of(library)
        self.list = QListWidget()
        self.list.setAccessibleName("Backups of the library")
        self.list.setSpacing(3)
        for backup in self._backups:
            self.list.addItem(QListWidgetItem(_described(backup)))
        self.list.setCurrentRow(0)
        layout = QVBoxLayout(self)
        layout.setContentsMargins(20, 16, 20, 16)
        layout.setSpacing(12)
        layout.addWidget(self._heading())
        layout.addWidget(self.list)
        layout.addWidget(
            label(
                "One is made each day that the library is opened; seven days and four weeks are kept.",
                "caption",
                wrap=True,
            )
        )
        buttons = save_or_cancel(self, "Restore")
        main = next(button for button in buttons.buttons() if button.property("main"))
        main.setEnabled(bool(self._backups))
        layout.addWidget(buttons)
        self.setMinimumWidth(460)

    def _heading(self) -> QLabel:
        if self._backups:
            return label("Go back to the library as it was at the beginning of")
        return label("There is no backup of this library yet.")

    @property
    def chosen(self) -> Backup | None:
        """The backup in hand."""
        row = self.list.currentRow()
        return self._backups[row] if 0 <= row < len(self._backups) else None


def _described(backup: Backup) -> str:
    """The day of a backup, and how much is in it."""
    day = backup.day.isoformat()
    try:
        size = f"{backup.path.stat().st_size / MEGABYTE:.1f} MB"
        lines = session_lines(backup.path)
    except (LibraryError, OSError):
        return f"{day}   (of an older version, or damaged)"
    shots = sum(line.shots for line in lines)
    return f"{day}   {count(len(lines), 'session')}, {count(shots, 'shot')}, {size}"
