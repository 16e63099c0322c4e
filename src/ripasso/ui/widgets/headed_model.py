"""A table model whose headings are fixed words, aligned to the left."""

from __future__ import annotations

from PyQt6.QtCore import QAbstractTableModel, QModelIndex, Qt


class HeadedModel(QAbstractTableModel):
    """Give `HEADINGS`, `rowCount` and `data`."""

    HEADINGS: tuple[str, ...] = ()

    def columnCount(self, _parent: QModelIndex | None = None) -> int:
        return len(self.HEADINGS)

    def headerData(self, section: int, orientation: Qt.Orientation, role: int = 0) -> object:
        if orientation == Qt.Orientation.Horizontal and role == Qt.ItemDataRole.DisplayRole:
            return self.HEADINGS[section]
        if role == Qt.ItemDataRole.TextAlignmentRole:
            return Qt.AlignmentFlag.AlignLeft | Qt.AlignmentFlag.AlignVCenter
        return None
