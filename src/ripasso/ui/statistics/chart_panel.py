"""The charts of a page: one is in sight, the others are chosen above it."""

from __future__ import annotations

from collections.abc import Sequence

from PyQt6.QtCore import pyqtSignal
from PyQt6.QtWidgets import QComboBox, QHBoxLayout, QSizePolicy, QVBoxLayout, QWidget

from ripasso.drawing.charts import Chart
from ripasso.ui.theme import Theme
from ripasso.ui.widgets.basics import label
from ripasso.ui.widgets.chart_view import ChartView


class ChartPanel(QWidget):
    """Shows a page's charts; `chosen` carries the words and the shots of a mark."""

    chosen = pyqtSignal(str, object)

    def __init__(self, theme: Theme) -> None:
        super().__init__()
        self.charts: Sequence[Chart] = ()
        self.box = QComboBox()
        self.box.setAccessibleName("Which chart")
        self.box.setSizeAdjustPolicy(QComboBox.SizeAdjustPolicy.AdjustToContents)
        self.box.activated.connect(self.show_one)
        self.view = ChartView(theme)
        self.view.chosen.connect(self.chosen)
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Expanding)
        self._row = QWidget()
        row = QHBoxLayout(self._row)
        row.setContentsMargins(8, 2, 8, 0)
        row.addWidget(label("Chart", "caption"))
        row.addWidget(self.box)
        row.addStretch(1)
        layout = QVBoxLayout(self)
        layout.setContentsMargins(0, 0, 0, 0)
        layout.setSpacing(0)
        layout.addWidget(self._row)
        layout.addWidget(self.view, 1)

    @property
    def chart(self) -> Chart | None:
        """The one in sight."""
        return self.view.chart if self.charts else None

    def show_charts(self, charts: Sequence[Chart]) -> None:
        """Show the charts of a page; the same one as before where it is among them."""
        self.setVisible(bool(charts))
        kept = self.box.currentIndex() if [c.id for c in charts] == [c.id for c in self.charts] else 0
        self.charts = charts
        self.box.clear()
        self.box.addItems([chart.name for chart in charts])
        self._row.setVisible(len(charts) > 1)
        if charts:
            self.box.setCurrentIndex(kept)
            self.show_one(kept)

    def show_one(self, index: int) -> None:
        """Bring one of them in sight."""
        self.view.show_chart(self.charts[index])
