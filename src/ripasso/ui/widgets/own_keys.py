"""Keys for the thing that has the focus: there they act on it instead of doing what they do elsewhere."""

from __future__ import annotations

from PyQt6.QtCore import QEvent, Qt
from PyQt6.QtGui import QKeyEvent

STEPS = {Qt.Key.Key_Right: 1, Qt.Key.Key_Down: 1, Qt.Key.Key_Left: -1, Qt.Key.Key_Up: -1}


def claims_arrow(event: QEvent | None) -> bool:
    """Accept the offer of an arrow key before a shortcut takes it; True when that was done."""
    offered = isinstance(event, QKeyEvent) and event.type() == QEvent.Type.ShortcutOverride
    if offered and isinstance(event, QKeyEvent) and event.key() in STEPS:
        event.accept()
        return True
    return False


def claims_return(event: QEvent | None) -> bool:
    """Accept the offer of Return before a shortcut takes it; True when that was done."""
    offered = isinstance(event, QKeyEvent) and event.type() == QEvent.Type.ShortcutOverride
    if offered and isinstance(event, QKeyEvent) and event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter):
        event.accept()
        return True
    return False


def arrow_step(event: QKeyEvent | None) -> int:
    """1 or -1 for an arrow key, 0 for any other."""
    return STEPS.get(Qt.Key(event.key()), 0) if event is not None else 0
