"""Where the parts of a shot under review stand: two columns with borders that move, or one part alone."""

from __future__ import annotations

from contextlib import suppress
from dataclasses import dataclass

from PyQt6.QtCore import Qt
from PyQt6.QtGui import QResizeEvent
from PyQt6.QtWidgets import QSplitter, QVBoxLayout, QWidget

from ripasso.ui.services.settings import Settings

#: How much of the room the left (upper) part takes. Seen from an end the table is taller than wide: it stands
#: beside the slip where there is room, else it has its column alone and the slip stands beside the film.
SHARES = {
    "columns": 0.608,
    "table": 0.46,
    "columns_from_end": 0.52,
    "table_from_end": 0.58,
    "table_beside_slip": 0.52,
    "film_and_slip_from_end": 0.715,
    "film_beside_slip": 0.6,
}
LEAST, MOST, STEP = 0.2, 0.8, 0.03


@dataclass(frozen=True)
class Parts:
    """The panels that are arranged."""

    ribbon: QWidget
    film: QWidget
    keys: QWidget
    table: QWidget
    slip: QWidget


class Arrangement(QWidget):
    """Film over keys, table over slip; the borders are dragged, or moved by keys, and remembered."""

    def __init__(self, parts: Parts, settings: Settings, beside_px: int, three_px: int) -> None:
        """From `beside_px` of a column on the table's end stands beside the slip; else the slip stands beside
        the film, from `three_px` of the whole on.
        """
        super().__init__()
        self._three_px = three_px
        self._parts, self._settings, self._beside_px = parts, settings, beside_px
        self._large: str | None = None
        self._film_shown, self._from_end = True, False
        self._left, self._right = QWidget(), QSplitter(Qt.Orientation.Vertical)
        self._left_box = left = QVBoxLayout(self._left)
        left.setContentsMargins(0, 0, 0, 0)
        left.setSpacing(8)
        self._upper = QSplitter(Qt.Orientation.Horizontal)
        self._upper.addWidget(parts.film)
        left.addWidget(self._upper, 1)
        left.addWidget(parts.keys)
        self._right.addWidget(parts.table)
        self._right.addWidget(parts.slip)
        self._columns = QSplitter(Qt.Orientation.Horizontal)
        self._columns.addWidget(self._left)
        self._columns.addWidget(self._right)
        for splitter in (self._columns, self._right, self._upper):
            splitter.setChildrenCollapsible(False)
            splitter.setHandleWidth(8)
            splitter.splitterMoved.connect(lambda _at, _which, moved=splitter: self._remember(moved))
        self._body = body = QVBoxLayout(self)
        body.setContentsMargins(0, 0, 0, 0)
        body.setSpacing(8)
        body.addWidget(parts.ribbon)
        body.addWidget(self._columns, 1)

    def show_film_place(self, shown: bool) -> None:
        """The film stands here, or the table has its place."""
        self._film_shown = shown
        self._show()

    def see_from_end(self, from_end: bool) -> None:
        """The table is seen from one of its ends: it is given more height."""
        self._from_end = from_end
        self._place_borders()

    def enlarge(self, what: str) -> None:
        """Let the film or the table fill the space, or bring everything back."""
        self._large = None if self._large == what else what
        self._show()

    def move_border(self, right: int, down: int) -> None:
        """Move the border between the columns, or that under the table, by steps."""
        inner = self._upper if self._slip_is_beside_film else self._right
        for splitter, steps in ((self._columns, right), (inner, down)):
            if steps:
                name = self._name(splitter)
                self._keep(name, self._share(name) + STEP * steps)
        self._place_borders()

    def resizeEvent(self, event: QResizeEvent | None) -> None:
        super().resizeEvent(event)
        self._place_borders()

    def _show(self) -> None:
        parts, large = self._parts, self._large
        for part in (parts.ribbon, parts.keys, parts.slip):
            part.setVisible(large is None)
        # Where no film is shown the table stands in the film's place already.
        parts.film.setVisible(large != "table" or not self._film_shown)
        parts.table.setVisible(large != "film" and self._film_shown)
        on_left = large == "film" or not self._film_shown
        self._left.setVisible(large is None or on_left)
        self._right.setVisible(large is None or not on_left)
        self._place_borders()

    @property
    def _slip_is_beside_film(self) -> bool:
        return self._upper.count() > 1

    def _place_borders(self) -> None:
        both = (1 - self._share("columns_from_end")) * self.width()
        is_wide = self._from_end and both >= self._beside_px
        has_room = self.width() >= self._three_px
        self._place_slip(beside_film=self._from_end and self._film_shown and has_room and not is_wide)
        self._right.setOrientation(Qt.Orientation.Horizontal if is_wide else Qt.Orientation.Vertical)
        self._place(self._columns, self.width())
        self._place(self._right, self._columns.sizes()[1] if is_wide else self._right.height())
        self._place(self._upper, self._columns.sizes()[0])

    def _place_slip(self, *, beside_film: bool) -> None:
        """Beside the film the slip leaves the whole height to the table; so does the ribbon above them."""
        if beside_film != self._slip_is_beside_film:
            (self._upper if beside_film else self._right).addWidget(self._parts.slip)
            (self._left_box if beside_film else self._body).insertWidget(0, self._parts.ribbon)

    def _place(self, splitter: QSplitter, whole: int) -> None:
        first = round(self._share(self._name(splitter)) * whole)
        splitter.setSizes([first, max(1, whole - first)])

    def _name(self, splitter: QSplitter) -> str:
        """The border as it is remembered."""
        if splitter is self._upper:
            return "film_beside_slip"
        if splitter is self._right:
            is_beside = splitter.orientation() == Qt.Orientation.Horizontal
            upright = "table_from_end" if self._from_end else "table"
            return "table_beside_slip" if is_beside else upright
        if not self._from_end:
            return "columns"
        return "film_and_slip_from_end" if self._slip_is_beside_film else "columns_from_end"

    def _share(self, name: str) -> float:
        with suppress(KeyError, ValueError):
            share = float(self._settings.get("borders")[name])
            return min(MOST, max(LEAST, share)) if share == share else SHARES[name]  # NaN is no share
        return SHARES[name]

    def _remember(self, splitter: QSplitter) -> None:
        first, second = splitter.sizes()
        self._keep(self._name(splitter), first / max(1, first + second))

    def _keep(self, name: str, share: float) -> None:
        kept = f"{min(MOST, max(LEAST, share)):.3f}"
        self._settings.set("borders", {**self._settings.get("borders"), name: kept})
