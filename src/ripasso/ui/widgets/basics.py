"""Labels and panels in the house style."""

from __future__ import annotations

from PyQt6.QtWidgets import QFrame, QLabel, QLayout, QSizePolicy, QWidget


def label(text: str = "", name: str = "", *, wrap: bool = False) -> QLabel:
    """A label; `name` is caption, title or figure. Its text never reads as markup."""
    from PyQt6.QtCore import Qt

    made = QLabel(text)
    made.setTextFormat(Qt.TextFormat.PlainText)
    made.setObjectName(name)
    made.setWordWrap(wrap)
    return made


def panel(layout: QLayout, margins: tuple[int, int, int, int] = (12, 10, 12, 10)) -> QFrame:
    """A raised sheet around a layout."""
    frame = QFrame()
    frame.setObjectName("panel")
    layout.setContentsMargins(*margins)
    frame.setLayout(layout)
    return frame


def spacer() -> QWidget:
    """Empty room that takes what is left."""
    made = QWidget()
    made.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Expanding)
    return made


def set_property(widget: QWidget, name: str, value: object) -> None:
    """Change a property that the style sheet looks at."""
    if widget.property(name) != value:
        widget.setProperty(name, value)
        style = widget.style()
        if style is not None:
            style.unpolish(widget)
            style.polish(widget)
