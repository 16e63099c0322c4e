"""The film in a window of its own, as on a second monitor; every key of Review works there too."""

from __future__ import annotations

from PyQt6.QtCore import Qt, pyqtSignal
from PyQt6.QtGui import QAction, QCloseEvent
from PyQt6.QtWidgets import QVBoxLayout, QWidget


class FilmWindow(QWidget):
    """Holds the film while it is open; `closed` says that the film wants back to where it was."""

    closed = pyqtSignal()

    def __init__(self, film: QWidget, actions: list[QAction], parent: QWidget) -> None:
        super().__init__(parent, Qt.WindowType.Window)
        self.setAttribute(Qt.WidgetAttribute.WA_DeleteOnClose)
        self.addActions(actions)
        layout = QVBoxLayout(self)
        layout.setContentsMargins(0, 0, 0, 0)
        layout.addWidget(film)
        self.resize(960, 540)

    def closeEvent(self, event: QCloseEvent | None) -> None:
        self.closed.emit()
        super().closeEvent(event)
