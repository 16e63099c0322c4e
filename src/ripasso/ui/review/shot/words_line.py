"""One line in which a shot is said in words: chips as it is typed, completion, and what is not understood."""

from __future__ import annotations

from PyQt6.QtCore import QEvent, Qt, pyqtSignal
from PyQt6.QtGui import QKeyEvent
from PyQt6.QtWidgets import QLineEdit, QVBoxLayout, QWidget

from ripasso.review.entry.word_values import items_of
from ripasso.review.language.items import written
from ripasso.review.language.localization import manner
from ripasso.review.language.parsing import completions, parse, split, understood
from ripasso.review.language.vocabulary import sentence
from ripasso.review.present.describing import Chip
from ripasso.review.record.proposals import without_proposals
from ripasso.ui.review.state.review_controller import ReviewController
from ripasso.ui.theme import Theme
from ripasso.ui.widgets.basics import label, set_property
from ripasso.ui.widgets.chips import ChipRow
from ripasso.ui.widgets.own_keys import claims_return


class _Line(QLineEdit):
    """Tab completes, Escape leaves; `completed`, `left` say so."""

    completed = pyqtSignal()
    left = pyqtSignal()

    def event(self, event: QEvent | None) -> bool:
        if isinstance(event, QKeyEvent) and event.type() == QEvent.Type.KeyPress:
            if event.key() == Qt.Key.Key_Tab:
                self.completed.emit()
                return True
            if event.key() == Qt.Key.Key_Escape:
                self.left.emit()
                return True
        return claims_return(event) or super().event(event)


class WordsLine(QWidget):
    """Hidden until it is opened; Return says what stands there, one step of undo."""

    left = pyqtSignal()
    opened = pyqtSignal(bool)

    def __init__(self, theme: Theme, controller: ReviewController) -> None:
        super().__init__()
        self._controller = controller
        self.line = _Line()
        self.line.setAccessibleName("The shot in words")
        self.line.setFocusPolicy(Qt.FocusPolicy.ClickFocus)
        self.chips = ChipRow(theme)
        self.hint = label("", "caption", wrap=True)
        layout = QVBoxLayout(self)
        layout.setContentsMargins(0, 0, 0, 0)
        layout.setSpacing(4)
        for part in (self.chips, self.hint, self.line):
            layout.addWidget(part)
        self.line.textChanged.connect(lambda _text: self._show())
        self.line.returnPressed.connect(self._keep)
        self.line.completed.connect(self._complete)
        self.line.left.connect(self._leave)
        self.hide()

    def open_line(self) -> None:
        """Begin to type; what the shot says so far stands behind."""
        shot, snapshot = self._controller.shot, self._controller.snapshot
        if shot is None or snapshot is None:
            return
        game = snapshot.head.game
        so_far = written(items_of(without_proposals(shot.record), game), manner(game))
        self.line.setPlaceholderText(so_far or "4 foot left, draw, missed thick, by aim")
        self.line.clear()
        self.opened.emit(True)
        self.show()
        self._show()
        self.line.setFocus()

    def close_line(self) -> None:
        """Put the line away; what was not kept is gone."""
        if not self.isHidden():
            self.line.clear()
            self.hide()
            self.opened.emit(False)

    def _leave(self) -> None:
        self.close_line()
        self.left.emit()

    def _show(self) -> None:
        snapshot = self._controller.snapshot
        items, error = understood(self.line.text())
        spoken = manner(snapshot.head.game if snapshot else None)
        self.chips.show_chips([Chip(item.written(spoken)) for item in items])
        self.chips.setVisible(bool(items))
        further = completions(self.line.text())
        if further:
            text = f"Tab: {', '.join(further)}"
        elif error:
            text = error
        elif items:
            text = "↵ keeps it, Esc leaves"
        else:
            text = "Ball, pocket, stroke, outcome, position, judgement; Tab completes"
        set_property(self.hint, "tone", "bad" if error and not further else "plain")
        self.hint.setText(sentence(text))

    def _complete(self) -> None:
        """Put the first completion in the place of what is typed last."""
        further = completions(self.line.text(), 1)
        if not further:
            return
        words = split(self.line.text())
        for length in range(len(words), 0, -1):
            if further[0].startswith(" ".join(words[-length:])):
                kept = self.line.text().rstrip()
                begun = kept.casefold().rfind(words[-length])
                self.line.setText(kept[:begun] + further[0] + ", ")
                return

    def _keep(self) -> None:
        items, error = understood(self.line.text())
        if error is not None:
            self._show()
            return
        if not items or self._controller.say_words(parse(self.line.text())):
            self._leave()
