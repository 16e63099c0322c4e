"""A button that shows its key, and whether what it says is already said."""

from __future__ import annotations

from PyQt6.QtCore import QEvent, QRectF, QSize, Qt
from PyQt6.QtGui import QAction, QFontMetrics, QKeyEvent, QPainter, QPaintEvent, QPen
from PyQt6.QtWidgets import QAbstractButton, QSizePolicy

from ripasso.ui.theme import CAPTION_PX, Theme
from ripasso.ui.widgets.own_keys import claims_return
from ripasso.ui.widgets.painted import painted


class KeyButton(QAbstractButton):
    """Triggers an action; its words at the left, its key at the right.

    Chosen it is filled: in ink, or in the role of its tone (good, bad, unsure).
    """

    def __init__(self, theme: Theme, action: QAction, hint: str, tone: str = "ink") -> None:
        super().__init__()
        self._theme, self._hint, self._tone = theme, hint, tone
        self._action = action
        self._proposed = False
        self.setText(action.text())
        self.setToolTip(action.toolTip())
        self.setAccessibleName(f"{action.text()}, key {hint}" if hint else action.text())
        # Reached by Tab, never by a click: a clicked button must not swallow the next key.
        self.setFocusPolicy(Qt.FocusPolicy.TabFocus)
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Fixed)
        self.setCheckable(True)
        self.clicked.connect(self._trigger)

    def _trigger(self) -> None:
        # The document decides what is chosen, not the click.
        self.setChecked(not self.isChecked())
        self._action.trigger()

    def set_tone(self, tone: str) -> None:
        """The role it is filled with when it is chosen."""
        if tone != self._tone:
            self._tone = tone
            self.update()

    def set_proposed(self, proposed: bool) -> None:
        """Show, dashed, that the program proposes this."""
        if proposed != self._proposed:
            self._proposed = proposed
            self.update()

    def set_chosen(self, chosen: bool) -> None:
        """Show that this is said of the shot."""
        if chosen != self.isChecked():
            self.setChecked(chosen)

    def event(self, event: QEvent | None) -> bool:
        return claims_return(event) or super().event(event)

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        if event is not None and event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter):
            self.click()
            return
        super().keyPressEvent(event)

    def sizeHint(self) -> QSize:
        return QSize(self._needed_px() + self._theme.px(6), self._theme.px(24))

    def minimumSizeHint(self) -> QSize:
        return QSize(self._needed_px(), self._theme.px(22))

    def _needed_px(self) -> int:
        words = QFontMetrics(self._theme.font(weight=500)).horizontalAdvance(self.text())
        hint = QFontMetrics(self._theme.font(CAPTION_PX)).horizontalAdvance(self._hint)
        return words + hint + self._theme.px(2 * 7 + 8)

    @painted
    def paintEvent(self, painter: QPainter, _event: QPaintEvent | None) -> None:
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        theme, chosen = self._theme, self.isChecked()
        box = QRectF(self.rect()).adjusted(0.5, 0.5, -0.5, -0.5)
        fill = self._tone if chosen else "raised"
        if not chosen and self.underMouse() and self.isEnabled():
            fill = "accent_soft"
        painter.setBrush(theme.colour(fill))
        dashed = self._proposed and not chosen
        style = Qt.PenStyle.DashLine if dashed else Qt.PenStyle.SolidLine
        painter.setPen(QPen(theme.colour(self._tone if chosen or dashed else "line"), 1, style))
        painter.drawRoundedRect(box, 4, 4)
        if self.hasFocus():
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.setPen(QPen(theme.colour("accent"), 2))
            painter.drawRoundedRect(box.adjusted(1, 1, -1, -1), 4, 4)
        pad = theme.px(7)
        inner = box.adjusted(pad, 0, -pad, 0)
        middle = Qt.AlignmentFlag.AlignVCenter
        shown = self._hint if self._has_room(inner.width()) else ""
        hint = QFontMetrics(theme.font(CAPTION_PX)).horizontalAdvance(shown)
        room = inner.width() - hint - theme.px(4)
        painter.setFont(theme.font_to_fit(self.text(), room, weight=500 if chosen else 400))
        painter.setPen(theme.colour("on_accent" if chosen else "ink"))
        painter.drawText(inner, Qt.AlignmentFlag.AlignLeft | middle, self.text())
        painter.setFont(theme.font(CAPTION_PX))
        painter.setPen(theme.colour("on_accent" if chosen else "quiet"))
        painter.drawText(inner, Qt.AlignmentFlag.AlignRight | middle, shown)

    def _has_room(self, width: float) -> bool:
        """Words and key fit side by side at the smallest size; else only the tip has the key."""
        words = QFontMetrics(self._theme.font(CAPTION_PX, weight=500)).horizontalAdvance(self.text())
        hint = QFontMetrics(self._theme.font(CAPTION_PX)).horizontalAdvance(self._hint)
        return words + hint + self._theme.px(4) <= width
