"""Small pictures of the films of sessions, made in the background when a row of the list first wants one."""

from __future__ import annotations

from pathlib import Path
from typing import TYPE_CHECKING, Any

from PyQt6.QtCore import QObject, QRectF, QSize, Qt, pyqtSignal
from PyQt6.QtGui import QImage, QPainter, QPen, QPixmap

from ripasso.store.errors import LibraryError
from ripasso.ui.workspace import Workspace

if TYPE_CHECKING:
    import numpy as np
    import numpy.typing as npt

#: A picture's room in the list, pixels; how far into its film it lies.
STILL_WIDTH, STILL_HEIGHT, SHARE = 58, 32, 0.2
#: The height of a table that stands for a film, pixels.
TABLE_HEIGHT = 18


class SessionStills(QObject):
    """`came` says that there is a picture for a session now. A film that cannot be opened has none."""

    came = pyqtSignal(str)

    def __init__(self, workspace: Workspace, parent: QObject) -> None:
        super().__init__(parent)
        self._workspace = workspace
        self._size = QSize(workspace.theme.px(STILL_WIDTH), workspace.theme.px(STILL_HEIGHT))
        self._films: dict[str, Path] = {}
        self._pictures: dict[Path, QPixmap | None] = {}
        self._waiting: list[tuple[str, Path]] = []
        self._is_busy = False
        #: What stands for a session without a film.
        self._table = self._drawn_table()
        self._read_films()
        workspace.document.changed.connect(lambda _change: self._read_films())

    def _read_films(self) -> None:
        """Which session has which film; the first one counts."""
        try:
            films = self._workspace.library.films()
        except LibraryError:
            return  # the list itself says so
        self._films = {film.session: Path(film.file) for film in reversed(films) if film.file}

    def picture(self, session: str) -> QPixmap | None:
        """The picture of a session's film; None where there is none yet: then it is made."""
        film = self._films.get(session)
        if film is None:
            return self._table
        if film not in self._pictures:
            self._pictures[film] = None
            self._waiting.append((session, film))
            self._next()
        return self._pictures[film]

    def _next(self) -> None:
        """One film after the other: short work of the window goes between."""
        if self._is_busy or not self._waiting:
            return
        self._is_busy = True
        session, film = self._waiting.pop(0)
        height = self._size.height()

        def work() -> npt.NDArray[np.uint8]:
            from ripasso.film import known_index
            from ripasso.film.decoding.overview import still

            return still(known_index(film), SHARE, height)

        def then(pixels: npt.NDArray[np.uint8]) -> None:
            self._pictures[film] = self._fitted(pixels)
            self.came.emit(session)
            self._go_on()

        self._workspace.background.run(work, then, lambda _error: self._go_on())

    def _go_on(self) -> None:
        self._is_busy = False
        self._next()

    def _drawn_table(self) -> QPixmap:
        """An empty table, half as long as wide."""
        theme = self._workspace.theme
        room = QPixmap(self._size)
        room.fill(Qt.GlobalColor.transparent)
        painter = QPainter(room)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.setPen(QPen(theme.colour("line"), theme.px(1)))
        high = theme.px(TABLE_HEIGHT)
        left, top = (room.width() - 2 * high) / 2, (room.height() - high) / 2
        painter.drawRoundedRect(QRectF(left, top, 2 * high, high), theme.px(2), theme.px(2))
        painter.end()
        return room

    def _fitted(self, pixels: Any) -> QPixmap:
        """The picture in the middle of its room, whatever its shape."""
        height, width = pixels.shape[:2]
        image = QImage(pixels.tobytes(), width, height, 4 * width, QImage.Format.Format_RGB32)
        room = QPixmap(self._size)
        room.fill(Qt.GlobalColor.transparent)
        whole = image.scaled(
            self._size, Qt.AspectRatioMode.KeepAspectRatio, Qt.TransformationMode.SmoothTransformation
        )
        painter = QPainter(room)
        left, top = (self._size.width() - whole.width()) // 2, (self._size.height() - whole.height()) // 2
        painter.drawImage(left, top, whole)
        painter.end()
        return room
