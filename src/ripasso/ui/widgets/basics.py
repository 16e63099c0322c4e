"""Labels and panels in the house style."""

from __future__ import annotations

import html
from collections.abc import Callable

from PyQt6.QtCore import QPoint, Qt
from PyQt6.QtWidgets import (
    QDialog,
    QDialogButtonBox,
    QFileDialog,
    QFrame,
    QLabel,
    QLayout,
    QMenu,
    QMessageBox,
    QPushButton,
    QScrollArea,
    QWidget,
)


def label(text: str = "", name: str = "", *, wrap: bool = False) -> QLabel:
    """A label; `name` is caption, title or figure. Its text never reads as markup."""
    made = QLabel()
    made.setTextFormat(Qt.TextFormat.PlainText)
    made.setText(text)
    made.setObjectName(name)
    made.setWordWrap(wrap)
    return made


def as_it_stands(text: str) -> str:
    """A text for a tooltip or a message box, where Qt takes what looks like markup for markup."""
    if "<" not in text:
        return text
    return f"<qt>{html.escape(text)}</qt>".replace("\n", "<br>")


def question_box(parent: QWidget | None, title: str, text: str, more: str) -> QMessageBox:
    """A question whose texts, which may hold what people typed, never read as markup."""
    box = QMessageBox(parent)
    box.setWindowTitle(title)
    box.setTextFormat(Qt.TextFormat.PlainText)
    box.setText(text)
    box.setInformativeText(as_it_stands(more))
    return box


def panel(layout: QLayout, margins: tuple[int, int, int, int] = (12, 10, 12, 10)) -> QFrame:
    """A raised sheet around a layout."""
    frame = QFrame()
    frame.setObjectName("panel")
    layout.setContentsMargins(*margins)
    frame.setLayout(layout)
    return frame


def empty(layout: QLayout) -> None:
    """Take every widget out of a layout, and away.

    A layout shows what was put into it a moment later: a widget that is not hidden by then would be shown as
    a window of its own.
    """
    while (item := layout.takeAt(0)) is not None:
        if (widget := item.widget()) is not None:
            widget.hide()
            widget.setParent(None)
            widget.deleteLater()


def scrolling(widget: QWidget) -> QScrollArea:
    """A widget that scrolls up and down where its place is too low for it."""
    area = QScrollArea()
    area.setWidget(widget)
    area.setWidgetResizable(True)
    area.setFrameShape(QFrame.Shape.NoFrame)
    area.setFocusPolicy(Qt.FocusPolicy.NoFocus)
    area.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
    area.setObjectName("plain")
    widget.setObjectName("plain")
    return area


def save_or_cancel(dialog: QDialog, text: str, save: Callable[[], object] | None = None) -> QDialogButtonBox:
    """The two buttons that close a dialog: one that takes what it says (`save`, else accept), and Cancel."""
    buttons = QDialogButtonBox()
    main = QPushButton(text)
    main.setProperty("main", True)
    main.setDefault(True)
    buttons.addButton(main, QDialogButtonBox.ButtonRole.AcceptRole)
    buttons.addButton(QDialogButtonBox.StandardButton.Cancel)
    buttons.accepted.connect(save or dialog.accept)
    buttons.rejected.connect(dialog.reject)
    return buttons


def run_dialog(dialog: QDialog) -> bool:
    """Show a dialog until it is closed; True when it was accepted. Its parent would keep it for ever else."""
    try:
        return dialog.exec() == QDialog.DialogCode.Accepted
    finally:
        dialog.deleteLater()


def choose_file(parent: QWidget, title: str, folder: str, kinds: str, *, save: str | None = None) -> str:
    """The program's own file dialog: the same on every desktop, usable by keyboard alone.

    Asks for a file that is there, or with `save` (a proposed name) where one goes; "" for none.
    """
    dialog = QFileDialog(parent, title, folder, kinds)
    dialog.setOption(QFileDialog.Option.DontUseNativeDialog)
    if save is not None:
        dialog.setAcceptMode(QFileDialog.AcceptMode.AcceptSave)
        dialog.selectFile(save)
    else:
        dialog.setFileMode(QFileDialog.FileMode.ExistingFile)
    if not run_dialog(dialog):
        return ""
    return dialog.selectedFiles()[0]


def pop_up(menu: QMenu, place: QPoint) -> None:
    """Show a menu at a place of the screen; those its parent showed before are let go.

    Not when it is closed: what is chosen in it may still be at work then.
    """
    parent = menu.parent()
    direct = Qt.FindChildOption.FindDirectChildrenOnly
    for old in parent.findChildren(QMenu, options=direct) if parent is not None else ():
        if old is not menu and not old.isVisible():
            old.deleteLater()
    menu.popup(place)


def set_property(widget: QWidget, name: str, value: object) -> None:
    """Change a property that the style sheet looks at."""
    if widget.property(name) != value:
        widget.setProperty(name, value)
        style = widget.style()
        if style is not None:
            style.unpolish(widget)
            style.polish(widget)


def whole_window(widget: QWidget) -> QWidget:
    """The window that a widget stands in; itself while it stands in none."""
    return widget.window() or widget
