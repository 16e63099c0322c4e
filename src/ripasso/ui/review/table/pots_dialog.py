"""Ball by pocket: what passes and what does not, also after one named ball is gone."""

from __future__ import annotations

from collections.abc import Mapping

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import (
    QComboBox,
    QHBoxLayout,
    QTableWidget,
    QTableWidgetItem,
    QVBoxLayout,
    QWidget,
)

from ripasso.core.measures.errors import Thresholds
from ripasso.core.table import POCKETS, table_spec
from ripasso.review.language.translation import tr
from ripasso.review.language.vocabulary import pocket_word
from ripasso.review.measuring.measuring import spread_of
from ripasso.review.present.measure_words import level_words
from ripasso.review.present.pot_table import PotCell, pot_table
from ripasso.review.record.model import Session
from ripasso.ui.help.guided_dialog import GuidedDialog
from ripasso.ui.theme import Theme
from ripasso.ui.widgets.basics import label
from ripasso.ui.widgets.plain_table import header_of

FAIR = Thresholds().fair


class PotsDialog(GuidedDialog):
    """A row a ball; the combo box takes one ball away."""

    place = "⇧A"

    def __init__(
        self,
        theme: Theme,
        session: Session,
        layout: Mapping[str, tuple[float, float]],
        parent: QWidget | None = None,
    ) -> None:
        super().__init__(parent)
        self.setWindowTitle("Ball by pocket")
        self._theme, self._layout = theme, layout
        self._spec, self._spread = table_spec(session.table), spread_of(session)
        self.gone = QComboBox()
        self.gone.setAccessibleName("A ball that is gone")
        self.gone.addItem("as it lies", None)
        for ball in layout:
            if ball != "cue":
                self.gone.addItem(f"when {ball} is gone", ball)
        self.gone.currentIndexChanged.connect(lambda _place: self._fill())
        self.table = QTableWidget(0, len(POCKETS))
        self.table.setAccessibleName(tr("Pots of all balls"))
        self.table.setHorizontalHeaderLabels([pocket_word(name, session.game) for name in POCKETS])
        self.table.setEditTriggers(QTableWidget.EditTrigger.NoEditTriggers)
        self.table.setTabKeyNavigation(False)
        header_of(self.table).setSectionResizeMode(header_of(self.table).ResizeMode.Stretch)
        top = QHBoxLayout()
        top.addWidget(label(tr("Direct pots from where the cue ball lies"), "title"), 1)
        top.addWidget(self.gone)
        body = QVBoxLayout(self)
        body.setContentsMargins(20, 16, 20, 16)
        body.setSpacing(10)
        body.addLayout(top)
        body.addWidget(self.table)
        body.addWidget(label(f"Chances of a {level_words(session)}", "caption"))
        self.resize(theme.px(860), theme.px(440))
        self._fill()

    def _fill(self) -> None:
        rows = pot_table(self._spec, self._layout, self._spread, self.gone.currentData())
        self.table.setRowCount(len(rows))
        self.table.setVerticalHeaderLabels([row[0].ball for row in rows])
        for i, row in enumerate(rows):
            for j, cell in enumerate(row):
                self.table.setItem(i, j, self._item(cell))

    def _item(self, cell: PotCell) -> QTableWidgetItem:
        item = QTableWidgetItem(cell.words)
        item.setTextAlignment(Qt.AlignmentFlag.AlignCenter)
        possible = cell.obstacle is None and cell.chance is not None
        fair = possible and cell.chance is not None and cell.chance >= FAIR
        item.setForeground(self._theme.colour("ink" if possible else "quiet"))
        if fair:
            item.setForeground(self._theme.colour("good"))
            item.setFont(self._theme.font(weight=600))
        return item
