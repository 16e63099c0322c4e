"""The rack ribbon on screen: a token a shot, result by shape, errors of pace as stems, visits as bands."""

from __future__ import annotations

from PyQt6.QtCore import QEvent, QPointF, QRectF, QSize, Qt, pyqtSignal
from PyQt6.QtGui import QKeyEvent, QMouseEvent, QPainter, QPainterPath, QPaintEvent, QPen
from PyQt6.QtWidgets import QSizePolicy, QWidget

from ripasso.review.language.vocabulary import word
from ripasso.review.present.ribbon import Ribbon, Token
from ripasso.ui.theme import CAPTION_PX, Theme
from ripasso.ui.widgets.ball_paint import can_paint, paint_ball
from ripasso.ui.widgets.own_keys import arrow_step, claims_arrow
from ripasso.ui.widgets.painted import painted

STEP_PX, LEFT_PX = 44, 12
STEM_Y, BALL_Y, RESULT_Y, BAND_Y = 30, 46, 66, 80
#: Where the line of the chance to clear runs: certain at the top.
CLEAR_TOP, CLEAR_BOTTOM = 5, 27
HEIGHT_PX = 90


class RibbonView(QWidget):
    """Paints a ribbon; a click or the arrow keys choose a shot (`chosen` brings its key)."""

    chosen = pyqtSignal(str)

    def __init__(self, theme: Theme) -> None:
        super().__init__()
        self._theme = theme
        self._ribbon = Ribbon((), ())
        self._selected: str | None = None
        self._player_roles: dict[str, str] = {}
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Fixed)
        self.setFocusPolicy(Qt.FocusPolicy.TabFocus)
        self.setAccessibleName("Shots of the rack")

    def show_ribbon(self, ribbon: Ribbon, selected: str | None, player_roles: dict[str, str]) -> None:
        """Show a rack's shots, one of them chosen."""
        before, selected_before = self._ribbon, self._selected
        self._ribbon, self._selected = ribbon, selected
        if player_roles != self._player_roles or not _stands_alike(before, ribbon):
            self._player_roles = player_roles
            self.update()
        elif ribbon is not before or selected != selected_before:
            pairs = zip(before.tokens, ribbon.tokens, strict=True)
            changed = {token.key for old, token in pairs if old != token}
            for key in changed | ({selected, selected_before} if selected != selected_before else set()):
                box = self.token_box(key) if key is not None else None
                if box is not None:
                    self.update(box.toAlignedRect().adjusted(-1, -2, 1, 2))
        self.setAccessibleDescription(self._words())

    def sizeHint(self) -> QSize:
        return QSize(400, self._theme.px(HEIGHT_PX))

    def minimumSizeHint(self) -> QSize:
        return QSize(200, self._theme.px(HEIGHT_PX))

    def token_box(self, key: str) -> QRectF | None:
        """Where a shot's token stands."""
        for place, token in enumerate(self._ribbon.tokens):
            if token.key == key:
                return QRectF(self._x(place) - self._step() / 2, 2, self._step(), self.height() - 4)
        return None

    def _step(self) -> float:
        count = max(1, len(self._ribbon.tokens))
        room = self.width() - 2 * self._px(LEFT_PX)
        return min(float(self._px(STEP_PX)), room / count)

    def _x(self, place: int) -> float:
        return self._px(LEFT_PX) + (place + 0.5) * self._step()

    def _px(self, pixels: float) -> int:
        return self._theme.px(pixels)

    @painted
    def paintEvent(self, painter: QPainter, event: QPaintEvent | None) -> None:
        shown = QRectF(event.rect() if event is not None else self.rect())
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        if not self._ribbon.tokens:
            painter.setFont(self._theme.font())
            painter.setPen(self._theme.colour("quiet"))
            text = "No shot is marked in this rack yet. Let the film run and press F at each strike."
            painter.drawText(self.rect().adjusted(16, 0, -16, 0), Qt.AlignmentFlag.AlignVCenter, text)
            return
        reach = max(self._step(), self._px(80))  # a word may reach into the places before
        for place, token in enumerate(self._ribbon.tokens):
            if shown.left() - reach <= self._x(place) <= shown.right() + reach:
                self._paint_token(painter, place, token)
        for band in self._ribbon.bands:
            role = self._player_roles.get(band.player or "", "ghost")
            painter.setPen(QPen(self._theme.colour(role), self._px(3), cap=Qt.PenCapStyle.RoundCap))
            half = self._step() * 0.36
            y = self._px(BAND_Y)
            painter.drawLine(QPointF(self._x(band.first) - half, y), QPointF(self._x(band.last) + half, y))
        for place in self._ribbon.gaps:
            self._paint_gap(painter, place)
        self._paint_chances(painter)
        self._paint_causes(painter)

    def _paint_chances(self, painter: QPainter) -> None:
        """The chance to clear before each shot as a line over the tokens, broken where it is not known."""
        top, bottom = self._px(CLEAR_TOP), self._px(CLEAR_BOTTOM)
        line = QPainterPath()
        points, is_on = [], False
        for place, token in enumerate(self._ribbon.tokens):
            if token.clear is None:
                is_on = False
                continue
            point = QPointF(self._x(place), bottom - token.clear * (bottom - top))
            points.append(point)
            if is_on:
                line.lineTo(point)
            else:
                line.moveTo(point)
            is_on = True
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.setPen(QPen(self._theme.colour("accent"), 1.6))
        painter.drawPath(line)
        painter.setBrush(self._theme.colour("accent"))
        for point in points:
            painter.drawEllipse(point, 2, 2)

    def _paint_gap(self, painter: QPainter, place: int) -> None:
        """A torn edge between two shots: film is missing there."""
        x, top, bottom = self._x(place) + self._step() / 2, self._px(8), self._px(BAND_Y + 4)
        torn, steps = QPainterPath(QPointF(x, top)), 9
        for step in range(1, steps + 1):
            side = self._px(2.5) if step % 2 else -self._px(2.5)
            torn.lineTo(QPointF(x + side, top + (bottom - top) * step / steps))
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.setPen(QPen(self._theme.colour("bad"), 1.4))
        painter.drawPath(torn)

    def _paint_token(self, painter: QPainter, place: int, token: Token) -> None:
        theme, x = self._theme, self._x(place)
        if token.key == self._selected:
            box = QRectF(x - self._step() / 2 + 1, self._px(4), self._step() - 2, self._px(82))
            painter.setPen(QPen(theme.colour("accent"), 2 if self.hasFocus() else 1))
            painter.setBrush(theme.colour("accent_soft"))
            painter.drawRoundedRect(box, 5, 5)
        self._paint_stem(painter, x, token)
        self._paint_ball(painter, x, token)
        self._paint_result(painter, x, token)

    def _paint_stem(self, painter: QPainter, x: float, token: Token) -> None:
        """Above the line ran long, below it short; a lost position reaches twice as far."""
        theme, base = self._theme, self._px(STEM_Y)
        painter.setPen(QPen(theme.colour("line"), 1))
        painter.drawLine(QPointF(x - self._step() * 0.4, base), QPointF(x + self._step() * 0.4, base))
        if token.pace:
            size = self._px(14 if token.lost else 7)
            role = "bad" if token.lost else "quiet"
            top = base - size if token.pace == "long" else base
            width = self._px(5)
            painter.fillRect(QRectF(x - width / 2, top, width, size), theme.colour(role))
        elif token.lost:
            painter.setPen(QPen(theme.colour("bad"), 2))
            painter.drawLine(QPointF(x - 4, base), QPointF(x + 4, base))

    def _paint_ball(self, painter: QPainter, x: float, token: Token) -> None:
        theme, y = self._theme, self._px(BALL_Y)
        # In a long frame the tokens grow smaller rather than overlap.
        radius = min(float(self._px(9)), self._step() / 2 - 0.5)
        if can_paint(token.label):
            paint_ball(painter, theme, QPointF(x, y), radius, token.label)
            return
        painter.setFont(theme.font(CAPTION_PX))
        painter.setPen(theme.colour("quiet"))
        words = token.label or "–"
        if painter.fontMetrics().horizontalAdvance(words) > self._step():
            # Too wide for its place: it reaches to the left, where the margin is, not into the next ball.
            box = QRectF(x - self._px(80), y - radius, self._px(80) + self._step() / 2 - 2, 2 * radius)
            painter.drawText(box, Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter, words)
            return
        box = QRectF(x - self._step() / 2, y - radius, self._step(), 2 * radius)
        painter.drawText(box, Qt.AlignmentFlag.AlignCenter, words)

    def _paint_result(self, painter: QPainter, x: float, token: Token) -> None:
        """Filled dot potted, ring missed, bar safety, cross foul; nothing while it is not said."""
        theme, y, size = self._theme, self._px(RESULT_Y), self._px(3.5)
        role = {"potted": "good", "missed": "bad", "foul": "bad"}.get(token.outcome, "ink")
        pen = QPen(theme.colour(role), self._px(2))
        painter.setPen(pen)
        painter.setBrush(Qt.BrushStyle.NoBrush)
        if token.outcome == "potted":
            painter.setBrush(theme.colour(role))
            painter.drawEllipse(QPointF(x, y), size, size)
        elif token.outcome == "missed":
            painter.drawEllipse(QPointF(x, y), size, size)
        elif token.outcome == "safety":
            painter.drawLine(QPointF(x - size - 1, y), QPointF(x + size + 1, y))
        elif token.outcome == "foul":
            painter.drawLine(QPointF(x - size, y - size), QPointF(x + size, y + size))
            painter.drawLine(QPointF(x - size, y + size), QPointF(x + size, y - size))
        if token.proposed:
            # Dashed around what nobody has accepted yet.
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.setPen(QPen(theme.colour("ink"), 1, Qt.PenStyle.DashLine))
            painter.drawEllipse(QPointF(x, y), size + self._px(4), size + self._px(4))
        if token.warned:
            painter.setFont(theme.font(CAPTION_PX, weight=600))
            painter.setPen(theme.colour("unsure"))
            painter.drawText(QPointF(x + self._px(8), y + self._px(4)), "?")

    def _paint_causes(self, painter: QPainter) -> None:
        """A dashed arc from a failure back to the shot that caused it."""
        places = {token.number: place for place, token in enumerate(self._ribbon.tokens)}
        for place, token in enumerate(self._ribbon.tokens):
            if token.cause is None or token.cause not in places:
                continue
            start, end = self._x(place), self._x(places[token.cause])
            path = QPainterPath(QPointF(start, self._px(14)))
            path.quadTo(QPointF((start + end) / 2, -self._px(2)), QPointF(end, self._px(14)))
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.setPen(QPen(self._theme.colour("bad"), 1.4, Qt.PenStyle.DashLine))
            painter.drawPath(path)
            tip, size = QPointF(end, self._px(15)), self._px(4)
            painter.setPen(QPen(self._theme.colour("bad"), 1.4))
            painter.drawLine(tip, QPointF(tip.x() + size, tip.y() - size))
            painter.drawLine(tip, QPointF(tip.x() - size * 0.2, tip.y() - size * 1.3))

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        if event is None:
            return
        for place, token in enumerate(self._ribbon.tokens):
            if abs(event.position().x() - self._x(place)) <= self._step() / 2:
                self.chosen.emit(token.key)

    def event(self, event: QEvent | None) -> bool:
        return claims_arrow(event) or super().event(event)

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        by = arrow_step(event)
        if not by:
            super().keyPressEvent(event)
            return
        keys = [token.key for token in self._ribbon.tokens]
        if self._selected in keys:
            place = keys.index(self._selected) + by
            if 0 <= place < len(keys):
                self.chosen.emit(keys[place])

    def _words(self) -> str:
        return ", ".join(
            f"{t.number} {t.label} {word(t.outcome) if t.outcome != 'open' else 'not said'}"
            + (f", to clear {100 * t.clear:.0f} %" if t.clear is not None else "")
            + (" (proposed)" if t.proposed else "")
            + (", film missing" if place in self._ribbon.gaps else "")
            for place, t in enumerate(self._ribbon.tokens)
        )


def _stands_alike(one: Ribbon, other: Ribbon) -> bool:
    """The same shots with the same bands, gaps and arcs: only what one token shows may differ."""
    if [token.key for token in one.tokens] != [token.key for token in other.tokens]:
        return False
    # The line of chances runs from token to token as well.
    causes = [(token.cause, token.clear) for token in one.tokens] == [
        (token.cause, token.clear) for token in other.tokens
    ]
    return causes and (one.bands, one.gaps) == (other.bands, other.gaps)
