"""A sheet of small tables as SVG and as a picture: on paper, whatever the colours of the screen."""

from __future__ import annotations

from PyQt6.QtCore import QByteArray, QRectF
from PyQt6.QtGui import QImage, QPainter
from PyQt6.QtSvg import QSvgRenderer

from ripasso.drawing.primitives import Drawing
from ripasso.drawing.svg import FONT, svg_text
from ripasso.style.palette import PAPER, soft_share
from ripasso.ui.theme import Theme

WIDTH_PX = 2400


def sheet_svg(drawing: Drawing, columns: int) -> str:
    """The sheet as a document of its own; so many tables stand side by side."""
    return svg_text(
        drawing,
        PAPER.__getitem__,
        soft_share,
        width_px=WIDTH_PX,
        tables_across=columns,
    )


def sheet_image(svg: str, drawing: Drawing, theme: Theme, width_px: int = WIDTH_PX) -> QImage:
    """The sheet as a picture of a width."""
    height = round(width_px * drawing.height / drawing.width)
    made = QImage(width_px, height, QImage.Format.Format_RGB32)
    made.fill(0xFFFFFFFF)
    painter = QPainter(made)
    painter.setRenderHint(QPainter.RenderHint.Antialiasing)
    # Qt takes a list of families for the name of one.
    shown = svg.replace(FONT, theme.font().family())
    QSvgRenderer(QByteArray(shown.encode())).render(painter, QRectF(0, 0, width_px, height))
    painter.end()
    return made
