"""Help (F1): the guide, and the sheet of keys: every action with its key, which can be changed.

Beside them stand the words of the language, and the glossary of the trade.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence

from PyQt6.QtCore import QEvent, Qt
from PyQt6.QtGui import QKeyEvent, QKeySequence
from PyQt6.QtWidgets import (
    QDialog,
    QGridLayout,
    QHBoxLayout,
    QLabel,
    QPushButton,
    QScrollArea,
    QTabWidget,
    QVBoxLayout,
    QWidget,
)

from ripasso.review.language.glossary import GLOSSARY
from ripasso.review.language.parsing import SPECIALS
from ripasso.review.language.terms import GROUPS, TERMS
from ripasso.review.language.translation import tr
from ripasso.review.language.vocabulary import sentence
from ripasso.ui.actions import ActionSpec, KeyTaken, checked_key, shown_key, with_own_keys
from ripasso.ui.help.guide import GuideView
from ripasso.ui.services.settings import Settings
from ripasso.ui.theme import Theme
from ripasso.ui.widgets.basics import label, run_dialog, set_property

COLUMNS = 3
#: Pockets and balls keep their keys: their shape is their meaning.
FIXED = ("pocket_", "ball_")
_ALONE = (Qt.Key.Key_Shift, Qt.Key.Key_Control, Qt.Key.Key_Alt, Qt.Key.Key_Meta, Qt.Key.Key_AltGr)


def ask_keys(theme: Theme, settings: Settings, specs: Sequence[ActionSpec], parent: QWidget) -> bool:
    """Show the sheet of keys; whether one was changed."""
    sheet = KeySheet(theme, specs, settings.get("keys"), parent)
    run_dialog(sheet)
    if sheet.own == settings.get("keys"):
        return False
    settings.set("keys", sheet.own)
    return True


class KeySheet(QDialog):
    """Shows the keys by group. `own` holds the keys that were given to other actions."""

    _asked: str | None = None  # Qt asks about events before everything is built

    def __init__(
        self,
        theme: Theme,
        specs: Sequence[ActionSpec],
        own: Mapping[str, str],
        parent: QWidget | None = None,
    ) -> None:
        super().__init__(parent)
        self.setWindowTitle("Help")
        self._theme, self._plain = theme, tuple(specs)
        self.own = dict(own)
        self.buttons: dict[str, QPushButton] = {}
        self.told = label("Click a key to give another one. Esc leaves it as it is.", "caption")
        self._usual = QPushButton("Reset all keys")
        self._usual.clicked.connect(self._reset)
        keys = QVBoxLayout()
        keys.addWidget(_columns(theme, self._groups()))
        foot = QHBoxLayout()
        foot.addWidget(self.told, 1)
        foot.addWidget(self._usual)
        keys.addLayout(foot)
        sheet = QWidget()
        sheet.setLayout(keys)
        self.tabs = QTabWidget()
        self.guide = GuideView()
        self.tabs.addTab(self.guide, "Guide")
        self.tabs.addTab(sheet, "Keys")
        self.tabs.addTab(_columns(theme, _words(theme)), "Words")
        self.tabs.addTab(_columns(theme, _glossary(theme)), "Glossary")
        close = QPushButton("Close")
        close.clicked.connect(self.accept)
        layout = QVBoxLayout(self)
        layout.addWidget(self.tabs)
        layout.addWidget(close, 0, Qt.AlignmentFlag.AlignRight)
        self.resize(theme.px(1160), theme.px(720))

    @property
    def specs(self) -> tuple[ActionSpec, ...]:
        """All actions with the keys they have now."""
        return with_own_keys(self._plain, self.own)

    def _groups(self) -> list[tuple[int, QGridLayout]]:
        groups: dict[str, list[ActionSpec]] = {}
        for spec in self.specs:
            groups.setdefault(spec.group, []).append(spec)
        return [(len(members) + 2, self._group(name, members)) for name, members in groups.items()]

    def _group(self, name: str, members: Sequence[ActionSpec]) -> QGridLayout:
        grid = _grid(self._theme, name)
        for row, spec in enumerate(members, start=1):
            words = sentence(tr(spec.tip or spec.text))
            if spec.id.startswith(FIXED) or spec.group == "Ball":
                key: QWidget = label(spec.hint, "title")
            else:
                button = QPushButton(spec.hint)
                button.setAutoDefault(False)
                button.setAccessibleName(f"{words}: key {spec.hint}; press to change it")
                button.clicked.connect(lambda _checked=False, name=spec.id: self.ask(name))
                self.buttons[spec.id] = button
                key = button
            key.setMinimumWidth(self._theme.px(56))
            grid.addWidget(key, row, 0)
            grid.addWidget(label(words, wrap=True), row, 1)
        return grid

    def ask(self, name: str) -> None:
        """Wait for the key that is to stand for an action."""
        self._asked = name
        spec = next(spec for spec in self.specs if spec.id == name)
        self._tell(f"Press the key for “{tr(spec.text)}”", "plain")
        self.setFocus()

    def event(self, event: QEvent | None) -> bool:
        wanted = self._asked is not None and isinstance(event, QKeyEvent)
        if wanted and isinstance(event, QKeyEvent) and event.type() == QEvent.Type.ShortcutOverride:
            event.accept()
            return True
        if wanted and isinstance(event, QKeyEvent) and event.type() == QEvent.Type.KeyPress:
            if Qt.Key(event.key()) not in _ALONE:
                self._take(event)
            return True
        return super().event(event)

    def _take(self, event: QKeyEvent) -> None:
        name, self._asked = self._asked, None
        if name is None:
            return
        if event.key() == Qt.Key.Key_Escape:
            self._tell("The key is as it was.", "plain")
            return
        key = QKeySequence(event.keyCombination()).toString()
        try:
            self.own[name] = checked_key(self.specs, name, key)
        except KeyTaken as error:
            self._tell(str(error), "bad")
            return
        usual = next(spec for spec in self._plain if spec.id == name)
        if usual.keys and usual.keys[0] == key:
            del self.own[name]
        self.buttons[name].setText(shown_key(key))
        self._tell(f"{shown_key(key)} stands for “{tr(usual.text)}” from now on.", "good")

    def _reset(self) -> None:
        self.own.clear()
        for spec in self._plain:
            if spec.id in self.buttons:
                self.buttons[spec.id].setText(spec.hint)
        self._tell("Every key is as it was at first.", "good")

    def _tell(self, sentence_: str, tone: str) -> None:
        set_property(self.told, "tone", tone)
        self.told.setText(sentence_)


def _grid(theme: Theme, name: str) -> QGridLayout:
    grid = QGridLayout()
    grid.setHorizontalSpacing(theme.px(12))
    grid.setVerticalSpacing(theme.px(3))
    grid.addWidget(label(name, "title"), 0, 0, 1, 2)
    grid.setColumnStretch(1, 1)
    return grid


def _columns(theme: Theme, groups: Sequence[tuple[int, QGridLayout]]) -> QScrollArea:
    """Groups in columns of about the same length, with their lengths in lines."""
    columns = [QVBoxLayout() for _ in range(COLUMNS)]
    filled = [0] * COLUMNS
    for length, group in groups:
        place = filled.index(min(filled))
        filled[place] += length
        columns[place].addLayout(group)
    body = QWidget()
    body.setObjectName("page")
    whole = QGridLayout(body)
    whole.setContentsMargins(20, 16, 20, 16)
    whole.setHorizontalSpacing(theme.px(32))
    for place, column in enumerate(columns):
        column.addStretch(1)
        column.setSpacing(theme.px(16))
        whole.addLayout(column, 0, place)
        whole.setColumnStretch(place, 1)
    area = QScrollArea()
    area.setWidget(body)
    area.setWidgetResizable(True)
    area.setFrameShape(QScrollArea.Shape.NoFrame)
    area.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
    return area


def _words(theme: Theme) -> list[tuple[int, QGridLayout]]:
    """The language: each term in both traditions, and the phrases that take a ball or a number."""
    groups = []
    for group in GROUPS:
        members = [term for term in TERMS if term.group == group]
        grid = _grid(theme, group)
        for row, term in enumerate(members, start=1):
            american, british = term.american[0], term.british[0]
            both = american if american == british else f"{american} / {british}"
            further = [form for form in term.forms if form not in (american, british)]
            grid.addWidget(_verbatim(both), row, 0)
            grid.addWidget(_verbatim(", ".join(further), "caption", wrap=True), row, 1)
        groups.append((len(members) + 2, grid))
    grid = _grid(theme, "With a ball or a number")
    for row, text in enumerate(SPECIALS.values(), start=1):
        grid.addWidget(_verbatim(text), row, 0, 1, 2)
    groups.append((len(SPECIALS) + 2, grid))
    return groups


def _glossary(theme: Theme) -> list[tuple[int, QGridLayout]]:
    groups = []
    for heading, entries in GLOSSARY.items():
        grid = _grid(theme, heading)
        for row, (term, meaning) in enumerate(entries, start=1):
            name = _verbatim(term)
            name.setAlignment(Qt.AlignmentFlag.AlignTop)
            grid.addWidget(name, row, 0)
            grid.addWidget(_verbatim(meaning, wrap=True), row, 1)
        groups.append((2 * len(entries) + 2, grid))
    return groups


def _verbatim(text: str, name: str = "", *, wrap: bool = False) -> QLabel:
    """A label whose words are not exchanged: here both traditions stand side by side."""
    made = QLabel(text)
    made.setTextFormat(Qt.TextFormat.PlainText)
    made.setObjectName(name)
    made.setWordWrap(wrap)
    made.setProperty("verbatim", True)
    return made
