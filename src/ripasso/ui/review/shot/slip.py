"""The slip of the shot in hand: what was said, what the rules make of it, and the note."""

from __future__ import annotations

from PyQt6.QtCore import QEvent, Qt, pyqtSignal
from PyQt6.QtGui import QKeyEvent
from PyQt6.QtWidgets import QHBoxLayout, QLineEdit, QVBoxLayout, QWidget

from ripasso.review.entry.break_sheet import sheet_for
from ripasso.review.language.localization import manner
from ripasso.review.language.vocabulary import clock
from ripasso.review.present.describing import (
    Chip,
    chips,
    outcome_words,
    player_name,
    shot_sentence,
    shot_title,
)
from ripasso.review.present.weighed_words import met_again_words
from ripasso.ui.actions import ActionRegistry
from ripasso.ui.review.shot.flag_row import FlagRow
from ripasso.ui.review.shot.measure_grid import MeasureGrid
from ripasso.ui.review.shot.offer_row import OfferRow
from ripasso.ui.review.shot.words_line import WordsLine
from ripasso.ui.review.state.review_controller import ReviewController
from ripasso.ui.services.drafts import NoteDrafts
from ripasso.ui.theme import Theme
from ripasso.ui.widgets.basics import label, scrolling
from ripasso.ui.widgets.chips import ChipRow
from ripasso.ui.widgets.key_button import KeyButton
from ripasso.ui.widgets.own_keys import claims_return


class NoteLine(QLineEdit):
    """One line for a note. Return keeps it, Escape leaves it as it was."""

    left = pyqtSignal()

    def __init__(self) -> None:
        super().__init__()
        self.setPlaceholderText("N writes a note")
        self.setAccessibleName("Note on the shot")
        self.setFocusPolicy(Qt.FocusPolicy.ClickFocus | Qt.FocusPolicy.TabFocus)
        self._stored = ""

    def show_note(self, text: str) -> None:
        """The stored note; what is being typed is not disturbed."""
        if text != self._stored or not self.hasFocus():
            self._stored = text
            if self.text() != text:
                self.setText(text)

    def event(self, event: QEvent | None) -> bool:
        return claims_return(event) or super().event(event)

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        if event is not None and event.key() == Qt.Key.Key_Escape:
            self.setText(self._stored)
            self.left.emit()
            return
        super().keyPressEvent(event)


class Slip(QWidget):
    """Reads the controller; only the note is written here."""

    left = pyqtSignal()

    def __init__(
        self, theme: Theme, controller: ReviewController, actions: ActionRegistry, drafts: NoteDrafts
    ) -> None:
        super().__init__()
        self.setAccessibleName("The shot in hand")
        self._controller, self._drafts = controller, drafts
        self.offers = OfferRow(theme, controller, actions)
        self._proposal = _proposal_row(theme, actions)
        self._shown: str | None = None
        self._is_drafted = False
        self._title, self._player = label("", "title", wrap=True), label("", "caption", wrap=True)
        self._chips = ChipRow(theme)
        self._waiting = label("", "caption")
        self._outcome = label("", wrap=True)
        self._warning = label("", wrap=True)
        self._warning.setStyleSheet(f"color: {theme.hex('unsure')}")
        self._marks = label("", "caption", wrap=True)
        self.measures = MeasureGrid(theme)
        self.note = NoteLine()
        self.note.textEdited.connect(self._keep_draft)
        self.note.editingFinished.connect(self._keep_note)
        self.note.returnPressed.connect(self.left.emit)
        self.note.left.connect(self._leave_note)
        top = QHBoxLayout()
        top.addWidget(self._title, 2)
        who = QVBoxLayout()
        who.setSpacing(0)
        for words in (self._player, self._marks):
            words.setAlignment(Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignTop)
            who.addWidget(words)
        top.addLayout(who, 3)
        # What was said may be long: it scrolls, and the line that is typed in is always in sight.
        said = QWidget()
        inner = QVBoxLayout(said)
        inner.setContentsMargins(0, 0, 0, 0)
        inner.setSpacing(6)
        for part in (
            self.offers,
            self._chips,
            self._proposal,
            self._waiting,
            self._outcome,
            self._warning,
            self.measures,
        ):
            inner.addWidget(part)
        inner.addStretch(1)
        layout = QVBoxLayout(self)
        layout.setContentsMargins(0, 0, 0, 0)
        layout.setSpacing(6)
        layout.addLayout(top)
        layout.addWidget(scrolling(said), 1)
        self.flags = FlagRow(theme, controller, actions)
        layout.addWidget(self.flags)
        self.words = WordsLine(theme, controller)
        self.words.opened.connect(self._make_room)
        self.words.left.connect(self.left.emit)
        layout.addWidget(self.words)
        layout.addWidget(self.note)

    def refresh(self) -> None:
        """Show the shot in hand."""
        snapshot, shot = self._controller.snapshot, self._controller.shot
        if snapshot is None:
            return
        self.offers.refresh()
        self.flags.refresh()
        self._proposal.setVisible(shot is not None and bool(shot.record.proposed))
        self.note.setEnabled(shot is not None)
        if shot is None:
            self._title.setText("No shot in hand")
            self.setAccessibleDescription("No shot in hand.")
            self._player.setText("")
            self._chips.show_chips([])
            for part in (self._outcome, self._warning, self._marks, self._waiting):
                part.setText("")
            self.note.show_note("")
            return
        if self._shown is not None and self._shown != shot.key:
            self._keep_note_of(self._shown)
            self.note.clearFocus()
            self.words.close_line()
        self._shown = shot.key
        record, judged = shot.record, self._controller.shot_score
        self._title.setText(shot_title(record, judged, snapshot.head.game))
        self._player.setText(player_name(snapshot.head, record.player))
        spoken = manner(snapshot.head.game)
        again = [Chip(text) for text in met_again_words(snapshot, shot)]
        self._chips.show_chips([*chips(record, spoken), *again])
        heard = [shot_sentence(snapshot.head, record, judged, spoken), *(f"{chip.text}." for chip in again)]
        self.setAccessibleDescription(" ".join(heard))
        words, warnings = outcome_words(snapshot.head, judged)
        told = record.facts is not None or not warnings
        self._outcome.setText(words if told else "")
        doubts = [*self._controller.problems, *(f"{warning}." for warning in warnings)]
        self._warning.setText(" ".join(doubts))
        self._warning.setVisible(bool(doubts))
        self._waiting.setText(self._controller.waits_for)
        self._waiting.setVisible(bool(self._controller.waits_for))
        marks = _marks(record.t_strike, record.t_rest)
        has_sheet = bool(sheet_for(snapshot.head.game, record))
        self._marks.setText(f"{marks} · ⇧E: break sheet" if has_sheet else marks)
        self.note.show_note(record.note or "")

    def _make_room(self, opened: bool) -> None:
        """While words are typed, what was measured and the note give their room."""
        for part in (self.measures, self.flags, self.note):
            part.setVisible(not opened)

    def _keep_note(self) -> None:
        shot = self._controller.shot
        if shot is not None and shot.key == self._shown:
            self._controller.set_note(self.note.text().strip())
            if self._is_drafted and self.is_note_kept:
                self._is_drafted = False
                self._drafts.forget(shot.key)

    def _keep_note_of(self, shot: str) -> None:
        """Another shot comes into hand while a note is typed: it belongs to the one before."""
        if self._is_drafted:
            self._is_drafted = False
            if self._controller.set_note_of(shot, self.note.text().strip()):
                self._drafts.forget(shot)

    def _keep_draft(self, text: str) -> None:
        """With every key: a killed program loses no more than that."""
        snapshot = self._controller.snapshot
        if snapshot is not None and self._shown is not None:
            self._is_drafted = True
            self._drafts.keep(snapshot.key, self._shown, text)

    def _leave_note(self) -> None:
        if self._is_drafted and self._shown is not None:
            self._is_drafted = False
            self._drafts.forget(self._shown)
        self.left.emit()

    @property
    def is_note_kept(self) -> bool:
        """What stands in the line is what is stored."""
        shot = self._controller.shot
        return shot is None or shot.key != self._shown or (shot.record.note or "") == self.note.text().strip()


def _proposal_row(theme: Theme, actions: ActionRegistry) -> QWidget:
    """What is dashed is only proposed: the keys that accept it."""
    row = QWidget()
    layout = QHBoxLayout(row)
    layout.setContentsMargins(0, 0, 0, 0)
    layout.addWidget(label("Dashed: proposed, not counted yet", "caption"))
    layout.addStretch(1)
    for name in ("accept", "accept_rack"):
        layout.addWidget(KeyButton(theme, actions[name], actions.spec(name).hint))
    return row


def _marks(strike: float | None, rest: float | None) -> str:
    if strike is None:
        return "Not marked yet; F marks the strike"
    if rest is None:
        return f"Struck at {clock(strike)}; R marks all at rest"
    return f"Struck at {clock(strike)}, at rest after {rest - strike:.1f} s"
