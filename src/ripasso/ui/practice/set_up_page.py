"""A page that says how an exercise is set up: the table in true proportions, the balls, lines to fill in."""

from __future__ import annotations

from collections.abc import Sequence
from pathlib import Path

from PyQt6.QtCore import QByteArray, QMarginsF, QRectF, Qt
from PyQt6.QtGui import QFont, QPageLayout, QPageSize, QPainter, QPdfWriter
from PyQt6.QtSvg import QSvgRenderer

from ripasso.drawing import TableScene, table_drawing
from ripasso.drawing.svg import FONT, svg_text
from ripasso.style.palette import PAPER, soft_share
from ripasso.ui.theme import Theme

MARGIN_MM, DOTS_PER_INCH = 15.0, 150
TITLE_PT, TEXT_PT = 16, 11
WIDTH_PX = 1200
#: Lines for writing by hand, and what stands over them.
BLANKS, BLANK_WORDS = 10, "Day                  Made                  Of                  Changed"


def write_set_up_page(
    file: str, theme: Theme, scene: TableScene, title: str, lines: Sequence[str], asked: str
) -> None:
    """Write the page as a PDF of A4; raises OSError where the file cannot be written."""
    Path(file).write_bytes(b"")  # Qt's writer says nothing of a file that it cannot write
    writer = QPdfWriter(file)
    writer.setTitle(title)
    writer.setPageLayout(
        QPageLayout(
            QPageSize(QPageSize.PageSizeId.A4),
            QPageLayout.Orientation.Portrait,
            QMarginsF(MARGIN_MM, MARGIN_MM, MARGIN_MM, MARGIN_MM),
            QPageLayout.Unit.Millimeter,
        )
    )
    writer.setResolution(DOTS_PER_INCH)
    painter = QPainter(writer)
    try:
        _Page(painter, theme).draw(scene, title, lines, asked)
    finally:
        painter.end()


class _Page:
    """Draws from the top down."""

    def __init__(self, painter: QPainter, theme: Theme) -> None:
        self._painter, self._theme, self._y = painter, theme, 0.0
        device = painter.device()
        assert device is not None
        self._width, self._height = float(device.width()), float(device.height())

    def draw(self, scene: TableScene, title: str, lines: Sequence[str], asked: str) -> None:
        """Title, table, balls, what is asked, and blanks."""
        self._text(title, TITLE_PT, bold=True)
        self._table(scene)
        for line in (*lines, asked):
            self._text(line, TEXT_PT)
        self._blanks()

    def _text(self, text: str, points: int, *, bold: bool = False) -> None:
        font = QFont(self._theme.font().family(), points)
        font.setBold(bold)
        self._painter.setFont(font)
        area = QRectF(0, self._y, self._width, self._height)
        flags = int(Qt.TextFlag.TextWordWrap | Qt.AlignmentFlag.AlignLeft | Qt.AlignmentFlag.AlignTop)
        took = self._painter.boundingRect(area, flags, text)
        self._painter.drawText(area, flags, text)
        self._y += took.height() + 10

    def _table(self, scene: TableScene) -> None:
        drawing = table_drawing(scene)
        text = svg_text(
            drawing,
            PAPER.__getitem__,
            soft_share,
            width_px=WIDTH_PX,
            tables_across=1,
        )
        height = self._width * drawing.height / drawing.width
        shown = text.replace(FONT, self._theme.font().family())
        renderer = QSvgRenderer(QByteArray(shown.encode()))
        renderer.render(self._painter, QRectF(0, self._y, self._width, height))
        self._y += height + 20

    def _blanks(self) -> None:
        self._y += 20
        self._text(BLANK_WORDS, TEXT_PT)
        step = (self._height - self._y) / BLANKS
        for number in range(1, BLANKS + 1):
            y = self._y + number * step - 4
            self._painter.drawLine(0, int(y), int(self._width), int(y))
