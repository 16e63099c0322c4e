"""The figures as a table: a row a figure, a column a player, intervals drawn to one scale."""

from __future__ import annotations

from collections.abc import Sequence

from PyQt6.QtCore import QAbstractTableModel, QModelIndex, QObject, QRectF, QSize, Qt
from PyQt6.QtGui import QFontMetrics, QPainter, QPen
from PyQt6.QtWidgets import QStyle, QStyledItemDelegate, QStyleOptionViewItem

from ripasso.review.language.vocabulary import sentence
from ripasso.statistics.pages.figures import (
    Figure,
    FigurePage,
    FigureRow,
    count_words,
    difference_words,
    rate_words,
)
from ripasso.ui.theme import CAPTION_PX, TEXT_PX, Theme
from ripasso.ui.widgets.basics import as_it_stands

TIGHT_PX = 120  # in narrower columns a rate is without its ends: they are in the tip
NARROW_PX = 46  # a bar beside its words is no narrower
WIDEST_RATE = "100 % (100–100)"
FIGURE = Qt.ItemDataRole.UserRole
ROW = Qt.ItemDataRole.UserRole + 1
CLEAR = Qt.ItemDataRole.UserRole + 2
COMPARED = Qt.ItemDataRole.UserRole + 3


class FigureModel(QAbstractTableModel):
    """Rows of figures; group headings are rows of their own."""

    def __init__(self, parent: QObject) -> None:
        super().__init__(parent)
        self.page: FigurePage | None = None
        self.rows: list[FigureRow | str] = []
        self._names: Sequence[str] = ()

    def show_page(self, page: FigurePage) -> None:
        """Show these figures."""
        self.beginResetModel()
        self.page, self.rows = page, []
        self._names = [page.heads.get(key, key) for key in page.persons]
        for row in page.rows:
            if not self.rows or row.group != self._last_group():
                self.rows.append(row.group)
            self.rows.append(row)
        self.endResetModel()

    def _last_group(self) -> str:
        last = self.rows[-1]
        return last if isinstance(last, str) else last.group

    def rowCount(self, parent: QModelIndex | None = None) -> int:
        return 0 if parent is not None and parent.isValid() else len(self.rows)

    def columnCount(self, _parent: QModelIndex | None = None) -> int:
        return 1 + len(self._names) + self.has_difference

    @property
    def has_difference(self) -> bool:
        """The last column says how far two others are apart."""
        return self.page is not None and self.page.compared and len(self._names) == 2

    def headerData(self, section: int, orientation: Qt.Orientation, role: int = 0) -> object:
        if orientation == Qt.Orientation.Horizontal and role == Qt.ItemDataRole.DisplayRole:
            return ("", *self._names, "Difference, points")[section]
        if role == Qt.ItemDataRole.TextAlignmentRole:
            return Qt.AlignmentFlag.AlignLeft | Qt.AlignmentFlag.AlignVCenter
        return None

    def flags(self, index: QModelIndex) -> Qt.ItemFlag:
        if self.figure(index) is None:
            return Qt.ItemFlag.NoItemFlags
        return Qt.ItemFlag.ItemIsEnabled | Qt.ItemFlag.ItemIsSelectable

    def figure(self, index: QModelIndex) -> Figure | None:
        """The figure of a cell; None for words."""
        row = self.rows[index.row()] if index.isValid() else ""
        if isinstance(row, str) or index.column() == 0 or self.page is None:
            return None
        if index.column() > len(self.page.persons):
            return None
        return row.figures[self.page.persons[index.column() - 1]]

    def data(self, index: QModelIndex, role: int = 0) -> object:
        row = self.rows[index.row()]
        if role == ROW:
            return row
        figure = self.figure(index)
        if role == FIGURE:
            return figure
        if self.has_difference and index.column() == 3:
            return self._difference(row, role)
        if role in (Qt.ItemDataRole.DisplayRole, Qt.ItemDataRole.AccessibleTextRole):
            if index.column() == 0:
                return sentence(row if isinstance(row, str) else row.text)
            return figure_words(figure) if figure is not None else ""
        if role == COMPARED:
            return self.page is not None and self.page.compared
        if role == Qt.ItemDataRole.ToolTipRole and figure is not None:
            what = "attempts" if self.page is not None and self.page.attempts is not None else "shots"
            return f"{figure_words(figure)}: {len(figure.shots)} {what} behind it; Return opens them"
        return None

    def _difference(self, row: FigureRow | str, role: int) -> object:
        if isinstance(row, str) or self.page is None:
            return "" if role == Qt.ItemDataRole.DisplayRole else None
        one, other = (row.figures[person].rate for person in self.page.persons)
        words, is_clear = difference_words(one, other)
        if role == CLEAR:
            return is_clear
        if role in (Qt.ItemDataRole.DisplayRole, Qt.ItemDataRole.AccessibleTextRole):
            return words
        if role == Qt.ItemDataRole.ToolTipRole and words:
            return as_it_stands(f"{self._names[0]} beside {self._names[1]}, 95 % interval (Newcombe)")
        return None


def figure_words(figure: Figure) -> str:
    """The value in words, its interval and what it is made of."""
    if figure.rate is not None:
        return f"{rate_words(figure.rate)} · {figure.rate.made} of {figure.rate.of}"
    if figure.count is not None:
        return f"{count_words(figure.count)} · {figure.count.count}"
    return f"{figure.words} · {len(figure.shots)}" if figure.words else str(len(figure.shots))


class FigureDelegate(QStyledItemDelegate):
    """Paints a value: the words, and for a rate the bar with its interval on the scale 0 to 100 %."""

    def __init__(self, theme: Theme, roles: Sequence[str] = ("player_a", "player_b")) -> None:
        super().__init__()
        self._theme, self._roles = theme, roles

    def sizeHint(self, option: QStyleOptionViewItem, index: QModelIndex) -> QSize:
        font = self._theme.font(CAPTION_PX if isinstance(index.data(ROW), str) else TEXT_PX)
        words = QFontMetrics(font).horizontalAdvance(str(index.data())) if index.column() == 0 else 0
        return QSize(words + self._theme.px(20), self._theme.px(26))

    def paint(self, painter: QPainter | None, option: QStyleOptionViewItem, index: QModelIndex) -> None:
        if painter is None:
            return
        painter.save()
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        theme, box = self._theme, QRectF(option.rect)
        if option.state & QStyle.StateFlag.State_Selected:
            painter.fillRect(box, theme.colour("accent_soft"))
            if option.state & QStyle.StateFlag.State_HasFocus:
                painter.setPen(QPen(theme.colour("accent"), 2))
                painter.drawRect(box.adjusted(1, 1, -1, -1))
        row, figure = index.data(ROW), index.data(FIGURE)
        inner = box.adjusted(theme.px(8), 0, -theme.px(8), 0)
        middle = Qt.AlignmentFlag.AlignVCenter
        if isinstance(row, str):
            painter.setPen(theme.colour("quiet"))
            painter.setFont(theme.font(CAPTION_PX))
            words = str(index.data()) if index.column() == 0 else ""
            painter.drawText(inner, Qt.AlignmentFlag.AlignLeft | Qt.AlignmentFlag.AlignBottom, words)
        elif isinstance(index.data(CLEAR), bool):
            painter.setFont(theme.font(CAPTION_PX, weight=600 if index.data(CLEAR) else 400))
            painter.setPen(theme.colour("ink" if index.data(CLEAR) else "quiet"))
            painter.drawText(inner, Qt.AlignmentFlag.AlignLeft | middle, str(index.data()))
        elif figure is None:
            painter.setPen(theme.colour("ink"))
            painter.drawText(inner, Qt.AlignmentFlag.AlignLeft | middle, str(index.data()))
        else:
            role = self._roles[(index.column() - 1) % 2 if index.data(COMPARED) else 0]
            self._paint_figure(painter, inner, figure, role)
        painter.restore()

    def _paint_figure(self, painter: QPainter, box: QRectF, figure: Figure, role: str) -> None:
        theme = self._theme
        few = figure.rate is not None and figure.rate.few
        tight = figure.rate is not None and box.width() < theme.px(TIGHT_PX)
        words = rate_words(figure.rate, ends=False) if tight and figure.rate else self._words(figure)
        caption = f"of {figure.rate.of}" if tight and figure.rate else self._caption(figure)
        font, small = theme.font(weight=500), theme.font(CAPTION_PX)
        # Rates of one column have one size, that of the widest.
        widest = (words, caption) if figure.rate is None or tight else (WIDEST_RATE, "100 of 100")
        wanted = sum(
            QFontMetrics(one).horizontalAdvance(text) for one, text in zip((font, small), widest, strict=True)
        )
        room = box.width() - theme.px(6)
        if wanted > room > 0:
            # Both shrink alike, so that the value stays the larger of the two.
            for shrunk in (font, small):
                shrunk.setPixelSize(max(CAPTION_PX - 1, int(shrunk.pixelSize() * room / wanted)))
        if QFontMetrics(font).horizontalAdvance(words) > room - theme.px(28) and figure.rate is None:
            caption = ""  # how many shots is in the tip and over their list
        of_px = QFontMetrics(small).horizontalAdvance(caption) + theme.px(6)
        # A rate's words have one width in the whole column, so that the bars begin below each other.
        words_px = QFontMetrics(font).horizontalAdvance(WIDEST_RATE) + theme.px(8)
        line = box.adjusted(words_px, 0, -max(of_px, theme.px(66)), 0)
        if figure.rate is not None and line.width() < theme.px(NARROW_PX):
            # No room beside the words: the bar lies below them, as wide as the column.
            line = QRectF(box.left(), box.bottom() - theme.px(7), box.width() + theme.px(8), theme.px(6))
            box = box.adjusted(0, 0, 0, -theme.px(5))
        painter.setFont(font)
        painter.setPen(theme.colour("quiet" if few else "ink"))
        shown = QFontMetrics(font).elidedText(words, Qt.TextElideMode.ElideRight, int(box.width()))
        painter.drawText(box, Qt.AlignmentFlag.AlignLeft | Qt.AlignmentFlag.AlignVCenter, shown)
        if figure.rate is not None:
            self._paint_bar(painter, line, figure, "ghost" if few else role)
        painter.setFont(small)
        painter.setPen(theme.colour("quiet"))
        right = QRectF(box.right() - of_px, box.top(), of_px, box.height())
        painter.drawText(right, Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter, caption)

    @staticmethod
    def _words(figure: Figure) -> str:
        if figure.rate is not None:
            return rate_words(figure.rate)
        if figure.count is not None:
            return count_words(figure.count)
        return figure.words or str(len(figure.shots))

    @staticmethod
    def _caption(figure: Figure) -> str:
        if figure.rate is not None:
            return f"{figure.rate.made} of {figure.rate.of}"
        if figure.count is not None:
            return f"{figure.count.count} in all"
        if figure.words:
            return f"of {len(figure.shots)}"
        return "shot" if len(figure.shots) == 1 else "shots"

    def _paint_bar(self, painter: QPainter, box: QRectF, figure: Figure, role: str) -> None:
        rate, theme = figure.rate, self._theme
        if rate is None or rate.rate is None or rate.low is None or rate.high is None or box.width() < 30:
            return
        line = box.adjusted(0, 0, -theme.px(8), 0)
        y = line.center().y()
        painter.setPen(Qt.PenStyle.NoPen)
        painter.setBrush(theme.colour("sunken"))
        half = min(3.0, box.height() / 4)
        painter.drawRoundedRect(QRectF(line.left(), y - half, line.width(), 2 * half), half, half)
        low, high = (line.left() + share * line.width() for share in (rate.low, rate.high))
        value = line.left() + rate.rate * line.width()
        painter.setPen(QPen(theme.colour(role), 2))
        painter.drawLine(int(low), int(y), int(high), int(y))
        painter.setPen(Qt.PenStyle.NoPen)
        painter.setBrush(theme.colour(role))
        dot = half + 1
        painter.drawEllipse(QRectF(value - dot, y - dot, 2 * dot, 2 * dot))
