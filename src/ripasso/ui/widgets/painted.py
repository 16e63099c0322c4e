"""Painting that cannot raise: an error in it is told where all are, and its widget says one sentence."""

from __future__ import annotations

import sys
from collections.abc import Callable
from functools import wraps
from typing import TypeVar

from PyQt6.QtCore import Qt
from PyQt6.QtGui import QPainter, QPaintEvent
from PyQt6.QtWidgets import QWidget

W = TypeVar("W", bound=QWidget)
SENTENCE = "This could not be drawn."


def painted(
    paint: Callable[[W, QPainter, QPaintEvent | None], None],
) -> Callable[[W, QPaintEvent | None], None]:
    """A `paintEvent` that is given its painter. Whatever happens, the painter ends before Qt goes on.

    An exception that leaves a paint event, or a painter that is still open after it, ends the process.
    """

    @wraps(paint)
    def paint_event(widget: W, event: QPaintEvent | None) -> None:
        painter = QPainter(widget)
        try:
            paint(widget, painter, event)
        except Exception:  # noqa: BLE001 - the next picture must come
            sys.excepthook(*sys.exc_info())
            painter.resetTransform()
            painter.setClipping(False)
            painter.setPen(widget.palette().windowText().color())
            painter.drawText(widget.rect(), Qt.AlignmentFlag.AlignCenter, SENTENCE)
        finally:
            painter.end()

    return paint_event
