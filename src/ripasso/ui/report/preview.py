"""The true page: a PDF in memory, shown by Qt, and printed."""

from __future__ import annotations

from PyQt6.QtCore import QBuffer, QByteArray, QIODevice, QRectF, QSize
from PyQt6.QtGui import QPainter
from PyQt6.QtPdf import QPdfDocument
from PyQt6.QtPdfWidgets import QPdfView
from PyQt6.QtPrintSupport import QPrinter
from PyQt6.QtWidgets import QVBoxLayout, QWidget

#: Dots an inch of a printed page: it is sent as a picture.
PRINT_DPI = 200


class Preview(QWidget):
    """Shows the pages of a PDF one under another, as wide as there is room."""

    def __init__(self) -> None:
        super().__init__()
        self.document = QPdfDocument(self)
        self._data, self._buffer = QByteArray(), QBuffer(self)
        self.view = QPdfView(self)
        self.view.setDocument(self.document)
        self.view.setPageMode(QPdfView.PageMode.MultiPage)
        self.view.setZoomMode(QPdfView.ZoomMode.FitToWidth)
        self.view.setAccessibleName("The page as it is printed")
        layout = QVBoxLayout(self)
        layout.setContentsMargins(0, 0, 0, 0)
        layout.addWidget(self.view)

    def show_pdf(self, data: bytes) -> None:
        """Show other pages; none for no data."""
        self.document.close()
        self._buffer.close()
        self._data = QByteArray(data)
        if data:
            self._buffer.setData(self._data)
            self._buffer.open(QIODevice.OpenModeFlag.ReadOnly)
            self.document.load(self._buffer)


def print_pdf(data: bytes, printer: QPrinter) -> int:
    """Print every page of a PDF; returns how many."""
    document, buffer = QPdfDocument(None), QBuffer()
    buffer.setData(QByteArray(data))
    buffer.open(QIODevice.OpenModeFlag.ReadOnly)
    document.load(buffer)
    printer.setResolution(PRINT_DPI)
    painter = QPainter(printer)
    try:
        for number in range(document.pageCount()):
            if number:
                printer.newPage()
            place = QRectF(painter.viewport())
            points = document.pagePointSize(number)
            scale = min(place.width() / points.width(), place.height() / points.height())
            size = QSize(round(points.width() * scale), round(points.height() * scale))
            painter.drawImage(0, 0, document.render(number, size))
    finally:
        painter.end()
    pages = document.pageCount()
    document.close()
    return pages
