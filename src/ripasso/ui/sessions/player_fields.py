"""The two fields for players: known names are completed, and a known player brings his last opponent."""

from __future__ import annotations

from collections.abc import Sequence

from PyQt6.QtCore import QObject, Qt
from PyQt6.QtWidgets import QCompleter, QLineEdit


class PlayerFields(QObject):
    """`met` holds the players of earlier sessions, the latest session first."""

    def __init__(self, met: Sequence[tuple[str, ...]], names: Sequence[str], parent: QObject) -> None:
        super().__init__(parent)
        self._met = tuple(met)
        self.first, self.other = QLineEdit(names[0]), QLineEdit(names[1])
        self.other.setPlaceholderText("nobody: practice alone")
        known = tuple(dict.fromkeys(name for players in met for name in players))
        for field in (self.first, self.other):
            completer = QCompleter(known, field)
            completer.setCaseSensitivity(Qt.CaseSensitivity.CaseInsensitive)
            completer.setCompletionMode(QCompleter.CompletionMode.InlineCompletion)
            field.setCompleter(completer)
        self._other_said = False
        self.other.textEdited.connect(self._note_other)
        self.first.editingFinished.connect(self._bring_opponent)

    def names(self) -> list[str]:
        """Who plays: the one who breaks first, then the other (empty: nobody)."""
        return [" ".join(field.text().split()) for field in (self.first, self.other)]

    def _note_other(self) -> None:
        self._other_said = True

    def _bring_opponent(self) -> None:
        """The last opponent of a known player, unless the other player was typed by hand."""
        opponent = last_opponent(self._met, self.first.text())
        if opponent is not None and not self._other_said:
            self.other.setText(opponent)


def last_opponent(met: Sequence[tuple[str, ...]], name: str) -> str | None:
    """Whom a player met last, "" when he played alone then; None for a player nobody knows."""
    wanted = " ".join(name.split()).casefold()
    for players in met:
        if wanted in [player.casefold() for player in players]:
            others = [player for player in players if player.casefold() != wanted]
            return others[0] if others else ""
    return None
