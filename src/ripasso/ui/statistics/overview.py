"""The overview of a player: cards with the ready figures, and the questions with their answers."""

from __future__ import annotations

from PyQt6.QtCore import QAbstractListModel, QModelIndex, QObject, QRectF, QSize, Qt, pyqtSignal
from PyQt6.QtGui import QFont, QFontMetrics, QPainter, QPaintEvent, QPen, QTextOption
from PyQt6.QtWidgets import (
    QFrame,
    QGridLayout,
    QLineEdit,
    QListView,
    QSizePolicy,
    QStyle,
    QStyledItemDelegate,
    QStyleOptionViewItem,
    QToolButton,
    QVBoxLayout,
    QWidget,
)

from ripasso.core.figures.facts import Ints
from ripasso.review.language.translation import tr
from ripasso.statistics.pages.figures import count_words
from ripasso.statistics.pages.ready import AnsweredQuestion, Card, Overview
from ripasso.ui.theme import CAPTION_PX, FIGURE_PX, TEXT_PX, Theme
from ripasso.ui.widgets.basics import label
from ripasso.ui.widgets.painted import painted

CARDS, CARDS_A_ROW = 10, 5
ANSWERED = Qt.ItemDataRole.UserRole
#: The mark beside a question and the ink of its answer, by what it found.
MARKS = {"finding": "accent", "perhaps": "quiet", "none": "", "plain": "", "few": ""}
INKS = {"finding": "ink", "perhaps": "ink", "none": "quiet", "plain": "ink", "few": "quiet"}


class CardButton(QToolButton):
    """A ready figure; pressing it shows its shots."""

    def __init__(self, theme: Theme) -> None:
        super().__init__()
        self._theme = theme
        self.card: Card | None = None
        self.setAccessibleName("A ready figure")
        self.setCheckable(True)
        self.setAutoExclusive(True)
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Fixed)
        self.setFixedHeight(theme.px(68))
        self.setCursor(Qt.CursorShape.PointingHandCursor)

    def show_card(self, card: Card) -> None:
        """Show this figure."""
        self.card = card
        value, detail = card_words(card)
        self.setAccessibleName(f"{card.caption}: {value}, {detail}")
        self.setToolTip(f"{len(card.figure.shots)} shots behind it")
        self.update()

    @painted
    def paintEvent(self, painter: QPainter, _event: QPaintEvent | None) -> None:
        if self.card is None:
            return
        theme = self._theme
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        box = QRectF(self.rect()).adjusted(1, 1, -1, -1)
        painter.setPen(QPen(theme.colour("accent" if self.isChecked() or self.hasFocus() else "line"), 1.4))
        painter.setBrush(theme.colour("accent_soft" if self.isChecked() else "raised"))
        painter.drawRoundedRect(box, 6, 6)
        inner = box.adjusted(theme.px(10), theme.px(5), -theme.px(8), -theme.px(5))
        value, detail = card_words(self.card)
        few = self.card.figure.rate is not None and self.card.figure.rate.few
        lines = (
            (self.card.caption, CAPTION_PX, 400, "quiet", Qt.AlignmentFlag.AlignTop),
            (value, FIGURE_PX, 600, "quiet" if few else "ink", Qt.AlignmentFlag.AlignVCenter),
            (detail, CAPTION_PX, 400, "quiet", Qt.AlignmentFlag.AlignBottom),
        )
        for words, size, weight, role, place in lines:
            painter.setFont(theme.font_to_fit(words, inner.width(), size, weight=weight))
            painter.setPen(theme.colour(role))
            painter.drawText(inner, place | Qt.AlignmentFlag.AlignLeft, words)


def card_words(card: Card) -> tuple[str, str]:
    """The value, and its interval with the number of shots."""
    figure = card.figure
    if figure.rate is not None:
        found = figure.rate
        if found.rate is None or found.low is None or found.high is None:
            return "–", "no shots"
        return f"{100 * found.rate:.0f} %", f"{100 * found.low:.0f}–{100 * found.high:.0f} · of {found.of}"
    words = count_words(figure.count) if figure.count is not None else figure.words
    value, _, rest = words.partition(" (")
    number = f"of {len(figure.shots)}" if len(figure.shots) else "no shots"
    ends = rest.rstrip(")").replace(" to ", "–")
    return value, f"{ends} · {number}" if ends else number


class QuestionModel(QAbstractListModel):
    """The questions in their order."""

    def __init__(self, parent: QObject) -> None:
        super().__init__(parent)
        self.questions: tuple[AnsweredQuestion, ...] = ()
        self._all: tuple[AnsweredQuestion, ...] = ()

    def show_questions(self, questions: tuple[AnsweredQuestion, ...]) -> None:
        """Show these."""
        self._all = questions
        self.find("")

    def find(self, text: str) -> None:
        """Only questions in which every word of a text stands; all of them for none."""
        wanted = text.casefold().split()
        self.beginResetModel()
        self.questions = tuple(
            one
            for one in self._all
            if all(word in f"{one.question} {one.sentence}".casefold() for word in wanted)
        )
        self.endResetModel()

    def rowCount(self, parent: QModelIndex | None = None) -> int:
        return 0 if parent is not None and parent.isValid() else len(self.questions)

    def data(self, index: QModelIndex, role: int = 0) -> object:
        one = self.questions[index.row()]
        if role == ANSWERED:
            return one
        if role in (Qt.ItemDataRole.DisplayRole, Qt.ItemDataRole.AccessibleTextRole):
            return f"{one.question} {one.sentence}"
        if role == Qt.ItemDataRole.ToolTipRole:
            return f"{len(one.shots)} shots behind it; Return opens them"
        return None


class QuestionDelegate(QStyledItemDelegate):
    """Paints a question small and its answer below, a mark before what was found."""

    def __init__(self, theme: Theme) -> None:
        super().__init__()
        self._theme = theme

    def _font(self, one: AnsweredQuestion) -> QFont:
        return self._theme.font(TEXT_PX, weight=600 if one.state == "finding" else 400)

    def _answer_height(self, one: AnsweredQuestion, width: int) -> int:
        metrics, words = QFontMetrics(self._font(one)), one.sentence
        room = max(80, width - self._theme.px(34))
        return metrics.boundingRect(0, 0, room, 2000, int(Qt.TextFlag.TextWordWrap), words).height()

    def sizeHint(self, option: QStyleOptionViewItem, index: QModelIndex) -> QSize:
        one: AnsweredQuestion = index.data(ANSWERED)
        view = option.widget
        shown = view.viewport() if isinstance(view, QListView) else None
        width = shown.width() if shown is not None else self._theme.px(600)
        return QSize(width, self._theme.px(14 + CAPTION_PX + 4) + self._answer_height(one, width))

    def paint(self, painter: QPainter | None, option: QStyleOptionViewItem, index: QModelIndex) -> None:
        if painter is None:
            return
        one: AnsweredQuestion = index.data(ANSWERED)
        theme, box = self._theme, QRectF(option.rect)
        painter.save()
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        if option.state & QStyle.StateFlag.State_Selected:
            painter.fillRect(box, theme.colour("accent_soft"))
        left = box.left() + theme.px(22)
        if MARKS[one.state]:
            painter.setPen(Qt.PenStyle.NoPen)
            painter.setBrush(theme.colour(MARKS[one.state]))
            painter.drawRoundedRect(
                QRectF(box.left() + theme.px(8), box.top() + theme.px(8), 3, box.height() - theme.px(16)),
                1.5,
                1.5,
            )
        painter.setFont(theme.font(CAPTION_PX))
        painter.setPen(theme.colour("quiet"))
        top = QRectF(
            left, box.top() + theme.px(5), box.right() - left - theme.px(8), theme.px(CAPTION_PX + 5)
        )
        painter.drawText(top, Qt.AlignmentFlag.AlignLeft | Qt.AlignmentFlag.AlignVCenter, one.question)
        painter.setFont(self._font(one))
        painter.setPen(theme.colour(INKS[one.state]))
        option_ = QTextOption()
        option_.setWrapMode(QTextOption.WrapMode.WordWrap)
        painter.drawText(
            QRectF(left, top.bottom() + 1, top.width(), box.bottom() - top.bottom()),
            one.sentence,
            option_,
        )
        painter.restore()


class OverviewPanel(QWidget):
    """Cards and questions; `chosen` carries the words of what was chosen and its shots."""

    chosen = pyqtSignal(str, object)
    activated = pyqtSignal()

    def __init__(self, theme: Theme) -> None:
        super().__init__()
        self.cards = [CardButton(theme) for _ in range(CARDS)]
        self.model = QuestionModel(self)
        self.questions = QListView()
        self.questions.setModel(self.model)
        self.questions.setAccessibleName("Questions")
        self.questions.setItemDelegate(QuestionDelegate(theme))
        self.questions.setFrameShape(QFrame.Shape.NoFrame)
        self.questions.setResizeMode(QListView.ResizeMode.Adjust)
        self.questions.setVerticalScrollMode(QListView.ScrollMode.ScrollPerPixel)
        # Answers are wrapped: there is nothing to the side, whatever was measured before the bar beside came.
        self.questions.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self.questions.activated.connect(lambda _index: self.activated.emit())
        selection = self.questions.selectionModel()
        assert selection is not None
        selection.currentChanged.connect(self._choose_question)
        self._summary = label("", "caption", wrap=True)
        self.finder = QLineEdit()
        self.finder.setAccessibleName("Find a question")
        self.finder.setPlaceholderText(tr("find a question: break, side, cushions, under pressure"))
        self.finder.setClearButtonEnabled(True)
        self.finder.textChanged.connect(self._find)
        grid = QGridLayout()
        grid.setSpacing(6)
        for place, card in enumerate(self.cards):
            card.clicked.connect(lambda _on, button=card: self._choose_card(button))
            grid.addWidget(card, place // CARDS_A_ROW, place % CARDS_A_ROW)
        layout = QVBoxLayout(self)
        layout.setContentsMargins(6, 6, 8, 4)
        layout.setSpacing(8)
        layout.addLayout(grid)
        layout.addWidget(self.finder)
        layout.addWidget(self.questions, 1)
        layout.addWidget(self._summary)

    def show_overview(self, overview: Overview) -> None:
        """Show a player; the first question is chosen."""
        for button, card in zip(self.cards, overview.cards, strict=True):
            button.show_card(card)
        kept = self.questions.currentIndex().row()
        self.model.show_questions(overview.questions)
        if self.finder.text():
            self.model.find(self.finder.text())
        self._summary.setText(overview.summary[0].upper() + overview.summary[1:])
        self.questions.setCurrentIndex(self.model.index(min(max(0, kept), self.model.rowCount() - 1), 0))

    def _find(self, text: str) -> None:
        self.model.find(text)
        if self.model.questions:
            self.questions.setCurrentIndex(self.model.index(0, 0))

    def _choose_card(self, button: CardButton) -> None:
        if button.card is not None:
            self.questions.setCurrentIndex(QModelIndex())  # so that the same question can be chosen again
            self.chosen.emit(button.card.caption, button.card.figure.shots)

    def _choose_question(self, index: QModelIndex, _before: QModelIndex) -> None:
        if not index.isValid():
            return
        for card in self.cards:
            card.setAutoExclusive(False)
            card.setChecked(False)
            card.setAutoExclusive(True)
        one = self.model.questions[index.row()]
        shots: Ints = one.shots
        self.chosen.emit(one.question, shots)
