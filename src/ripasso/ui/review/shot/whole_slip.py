"""Everything that can be said of a shot, in groups; a line on top finds a word, Return says it.

Every press is stored at once and is one step of undo; said again, it is taken back.
"""

from __future__ import annotations

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import (
    QGridLayout,
    QHBoxLayout,
    QLineEdit,
    QPushButton,
    QVBoxLayout,
    QWidget,
)

from ripasso.review.entry.word_values import tip_radii
from ripasso.review.language.localization import tradition
from ripasso.review.language.terms import GROUPS, TERMS, Term
from ripasso.review.present.describing import shot_title
from ripasso.review.record.proposals import without_proposals
from ripasso.ui.help.guided_dialog import GuidedDialog
from ripasso.ui.review.state.review_controller import ReviewController
from ripasso.ui.theme import Theme
from ripasso.ui.widgets.basics import label, scrolling, set_property
from ripasso.ui.widgets.tip_pad import TipPad

COLUMNS = 4
#: A button gives way down to this.
LEAST_PX = 60


class WholeSlip(GuidedDialog):
    """Works on the shot in hand."""

    place = "The whole slip."

    def __init__(self, theme: Theme, controller: ReviewController, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setWindowTitle("The whole slip")
        self._theme, self._controller = theme, controller
        self.buttons: dict[str, QPushButton] = {}
        self.finder = QLineEdit()
        self.finder.setAccessibleName("Find a word")
        self.finder.setPlaceholderText("Type a word; Return says the first that is lit")
        self.finder.textChanged.connect(lambda _text: self._light())
        self.finder.returnPressed.connect(self._say_first)
        self.pad = TipPad(theme)
        self.pad.chosen.connect(self._set_tip)
        self._tip_words = label("", "caption", wrap=True)
        shot, snapshot = controller.shot, controller.snapshot
        title = (
            shot_title(shot.record, controller.shot_score, snapshot.head.game) if shot and snapshot else ""
        )
        self._game = snapshot.head.game if snapshot else None
        top = QHBoxLayout()
        top.addWidget(label(title, "title"))
        top.addWidget(self.finder, 1)
        layout = QVBoxLayout(self)
        layout.setContentsMargins(20, 16, 20, 16)
        layout.setSpacing(10)
        layout.addLayout(top)
        body = QWidget()
        columns = QHBoxLayout(body)
        columns.setContentsMargins(12, 10, 12, 10)
        columns.setSpacing(theme.px(14))
        for column in self._columns():
            columns.addLayout(column, 1)
        layout.addWidget(scrolling(body), 1)
        close = QPushButton("Close")
        close.setAutoDefault(False)
        close.clicked.connect(self.accept)
        layout.addWidget(close, 0, Qt.AlignmentFlag.AlignRight)
        self.resize(theme.px(1230), theme.px(700))
        self._refresh()
        self.finder.setFocus()

    def _columns(self) -> list[QVBoxLayout]:
        columns = [QVBoxLayout() for _ in range(COLUMNS)]
        filled = [9, 0, 0, 0]  # the ball is drawn in the first
        columns[0].addWidget(label("Tip", "title"))
        columns[0].addWidget(self.pad)
        columns[0].addWidget(self._tip_words)
        sizes = {group: sum(term.group == group for term in TERMS) for group in GROUPS}
        places: dict[str, int] = {}
        for group in sorted(GROUPS, key=lambda name: -sizes[name]):  # so that the columns end alike
            places[group] = filled.index(min(filled))
            filled[places[group]] += sizes[group] // 2 + 2
        for group in GROUPS:
            terms = [term for term in TERMS if term.group == group]
            columns[places[group]].addLayout(self._group(group, terms))
        for column in columns:
            column.setSpacing(self._theme.px(10))
            column.addStretch(1)
        return columns

    def _group(self, name: str, terms: list[Term]) -> QGridLayout:
        grid = QGridLayout()
        grid.setSpacing(self._theme.px(3))
        grid.addWidget(label(name, "title"), 0, 0, 1, 2)
        for place, term in enumerate(terms):
            button = QPushButton(term.form(tradition()))
            button.setCheckable(True)
            button.setAutoDefault(False)
            button.setProperty("small", True)
            # In a narrow window a word may be cut; its tip has it whole.
            button.setMinimumWidth(self._theme.px(LEAST_PX))
            button.setToolTip(term.form(tradition()))
            button.clicked.connect(lambda _checked=False, name=term.id: self._toggle(name))
            self.buttons[term.id] = button
            grid.addWidget(button, 1 + place // 2, place % 2)
        return grid

    def _toggle(self, name: str) -> None:
        self._controller.toggle_term(name)
        self._refresh()

    def _set_tip(self, right: float, up: float) -> None:
        self._controller.set_tip(right, up)
        self._refresh()

    def _refresh(self) -> None:
        shot = self._controller.shot
        for name, button in self.buttons.items():
            button.setChecked(self._controller.is_said(name))
        tip, width = None, tip_radii(self._game)
        if shot is not None:
            record = without_proposals(shot.record)
            if record.stroke is not None and record.stroke.tip is not None:
                right, up = record.stroke.tip
                tip = (float(right) / width, float(up) / width)
        self.pad.show_tip(tip, width)
        self._tip_words.setText(self.pad.words())

    def _matching(self) -> list[str]:
        wanted = self.finder.text().casefold().strip()
        if not wanted:
            return []
        begun, within = [], []
        for term in TERMS:
            forms = [form.casefold() for form in term.forms]
            if any(form.startswith(wanted) for form in forms):
                begun.append(term.id)
            elif any(wanted in form for form in forms):
                within.append(term.id)
        return [*begun, *within]

    def _light(self) -> None:
        found = self._matching()
        for name, button in self.buttons.items():
            set_property(button, "lit", bool(found) and name == found[0])
            button.setEnabled(not self.finder.text().strip() or name in found)

    def _say_first(self) -> None:
        found = self._matching()
        if found:
            self._toggle(found[0])
            self.finder.clear()
        elif self.finder.text().strip():
            self.finder.setToolTip("No word of the slip is like this")
        else:
            self.accept()
