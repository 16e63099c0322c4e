"""The dialog that changes what a session says of itself: title, date, venue, players, target, equipment."""

from __future__ import annotations

from datetime import date

from PyQt6.QtWidgets import (
    QFormLayout,
    QLineEdit,
    QSpinBox,
    QVBoxLayout,
    QWidget,
)

from ripasso.core.json_data import JsonObject
from ripasso.review.document.edits import REMOVE, Path
from ripasso.review.document.snapshot import Snapshot
from ripasso.review.record.model import serialize
from ripasso.ui.help.guided_dialog import GuidedDialog
from ripasso.ui.widgets.basics import label, save_or_cancel

#: Rules that a number ends, by game; every other game is a race to racks.
TARGET_OF = {"straight_pool": "target_points", "rotation": "target_points"}


class DetailsDialog(GuidedDialog):
    """`values()` are what was changed, by their paths in the session."""

    place = "what is agreed on in it"

    def __init__(self, snapshot: Snapshot, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setWindowTitle("The session")
        self._head = head = snapshot.head
        state = serialize(head).get("table_state") or {}
        self.title_line, self.date_line = QLineEdit(head.title), QLineEdit(head.date or "")
        self.date_line.setPlaceholderText("2026-11-29")
        self.venue, self.note = QLineEdit(head.venue or ""), QLineEdit(head.note or "")
        self.players = {
            player.id: QLineEdit(player.name or "") for player in head.players or () if not player.ghost
        }
        self.target = QSpinBox()
        self.target.setRange(0, 9999)
        self.target.setSpecialValueText("none")
        self.target.setButtonSymbols(QSpinBox.ButtonSymbols.NoButtons)
        self.target.setValue(int((head.rules or {}).get(self._rule, 0) or 0))
        equipment = state.get("own_equipment")
        self.equipment = QLineEdit(equipment if isinstance(equipment, str) else "own" * bool(equipment))
        self.equipment.setPlaceholderText("own cue, club cue, new tip …")
        self._problem = label("", "message", wrap=True)
        self._problem.setProperty("tone", "bad")
        self._compose()
        self.title_line.setFocus()

    @property
    def _rule(self) -> str:
        return TARGET_OF.get(self._head.game or "", "race_to")

    def _compose(self) -> None:
        form = QFormLayout()
        form.setSpacing(8)
        fields: list[tuple[str, QWidget]] = [
            ("Title", self.title_line),
            ("Date", self.date_line),
            ("Venue", self.venue),
            *((f"Player {place}", field) for place, field in enumerate(self.players.values(), start=1)),
            ("Race to" if self._rule == "race_to" else "Target", self.target),
            ("Equipment", self.equipment),
            ("Note", self.note),
        ]
        for words, field in fields:
            field.setAccessibleName(words)
            form.addRow(words, field)
        layout = QVBoxLayout(self)
        layout.setContentsMargins(20, 16, 20, 16)
        layout.setSpacing(12)
        layout.addLayout(form)
        layout.addWidget(self._problem)
        layout.addWidget(save_or_cancel(self, "Save", self._accept))
        self.setMinimumWidth(460)

    def _accept(self) -> None:
        if not self.title_line.text().strip():
            self._problem.setText("A session needs a title.")
        elif not all(field.text().strip() for field in self.players.values()):
            self._problem.setText("A player needs a name: figures are counted by it.")
        elif not _is_date(self.date_line.text().strip()):
            self._problem.setText("A date is year, month and day: 2026-11-29; or leave it empty.")
        else:
            self.accept()

    def values(self) -> dict[Path, object]:
        """What differs from the session as it was."""
        before = serialize(self._head)
        said = {
            "title": self.title_line.text().strip(),
            "date": self.date_line.text().strip() or None,
            "venue": self.venue.text().strip() or None,
            "note": self.note.text().strip() or None,
            "players": self._named(before.get("players") or []),
            "rules": {**(before.get("rules") or {}), self._rule: self.target.value() or None},
            "table_state": {**(before.get("table_state") or {}), "own_equipment": self._equipment()},
        }
        values: dict[Path, object] = {}
        for key, value in said.items():
            kept = {k: v for k, v in value.items() if v is not None} if isinstance(value, dict) else value
            if (kept or None) != (before.get(key) or None):
                values[(key,)] = kept if kept else REMOVE
        return values

    def _named(self, players: list[JsonObject]) -> list[JsonObject]:
        """The players under the names that stand in the fields."""
        named = []
        for player in players:
            field = self.players.get(player["id"])
            renamed = field is not None and field.text().strip() != (player.get("name") or "")
            named.append({**player, "name": field.text().strip()} if field and renamed else player)
        return named

    def _equipment(self) -> object:
        text = self.equipment.text().strip()
        return True if text == "own" else text or None


def _is_date(text: str) -> bool:
    try:
        return not text or bool(date.fromisoformat(text))
    except ValueError:
        return False
