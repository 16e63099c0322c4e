"""Copying from Statistics: tables as CSV, charts as pictures."""

from __future__ import annotations

from PyQt6.QtCore import QMimeData
from PyQt6.QtGui import QImage
from PyQt6.QtWidgets import QApplication, QStackedWidget

from ripasso.drawing.chart_document import chart_bytes
from ripasso.review.language.vocabulary import count
from ripasso.statistics.pages.figures import FigurePage
from ripasso.statistics.tables import chart_csv, page_csv
from ripasso.style.fonts import FONTS, font_path
from ripasso.style.palette import PAPER
from ripasso.ui.statistics.chart_panel import ChartPanel
from ripasso.ui.workspace import Workspace


class CopyController:
    """Puts what the page shows on the clipboard."""

    def __init__(self, workspace: Workspace) -> None:
        self._workspace = workspace

    def table(self, page: object, panel: ChartPanel) -> None:
        """The figures of a page, or the marks of its chart where that has the focus, as CSV."""
        if not isinstance(page, FigurePage):
            self._workspace.messages.say("The overview is no table; choose another page to copy.", "quiet")
            return
        chart = panel.chart
        on_chart = chart is not None and panel.isAncestorOf(QApplication.focusWidget() or panel)
        text = chart_csv(chart) if on_chart and chart is not None else page_csv(page)
        data = QMimeData()
        data.setText(text)
        data.setData("text/csv", text.encode())
        self._put(data, f"{count(text.count(chr(10)) - 1, 'row')} copied as CSV.")

    def picture(self, views: QStackedWidget, panel: ChartPanel) -> None:
        """The chart as PNG and SVG, or the figures as they are seen."""
        chart, shown = panel.chart, views.currentWidget()
        if views.currentIndex() == 0 or chart is None:
            data = QMimeData()
            data.setImageData((shown or views).grab().toImage())
            self._put(data, "The figures are copied as a picture.")
            return
        fonts = [font_path(name) for name in FONTS]

        def draw() -> tuple[bytes, bytes]:
            # On paper, whatever the theme of the screen.
            return chart_bytes(chart, PAPER, fonts, "png"), chart_bytes(chart, PAPER, fonts, "svg")

        self._workspace.background.run(draw, self._put_chart)

    def _put_chart(self, drawn: tuple[bytes, bytes]) -> None:
        png, svg = drawn
        data = QMimeData()
        data.setImageData(QImage.fromData(png))
        data.setData("image/svg+xml", svg)
        self._put(data, "The chart is copied as a picture (PNG and SVG).")

    def _put(self, data: QMimeData, sentence: str) -> None:
        board = QApplication.clipboard()
        if board is not None:
            board.setMimeData(data)
            self._workspace.messages.say(sentence, "quiet")
