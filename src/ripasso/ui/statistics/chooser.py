"""The band over the figures: which page, which shots, whose, and what is put beside it."""

from __future__ import annotations

from collections.abc import Mapping, Sequence

from PyQt6.QtCore import pyqtSignal
from PyQt6.QtWidgets import QComboBox, QFrame, QHBoxLayout, QLineEdit, QVBoxLayout, QWidget

from ripasso.core.figures.slices import SLICES
from ripasso.core.finding import FIELDS, parse_query
from ripasso.core.json_data import JsonObject
from ripasso.review.language.translation import tr
from ripasso.review.language.vocabulary import count, word
from ripasso.statistics.answers import BEFORE, EVERYBODY, Choice
from ripasso.statistics.pages.pages import (
    ATTEMPTS,
    COUNTED,
    CROSSED,
    OVERVIEW,
    PAGE_WORDS,
    PRACTICE,
    WAY_WORDS,
)
from ripasso.store.session_list import SessionLine, told_apart
from ripasso.ui.widgets.basics import label

NOBODY = "nobody"
#: Before a game, and before a year or a month, where a session's key would stand.
GAME, DATE = "game:", "date:"
#: So many letters of each choice are in sight in an open list.
LONGEST_TITLE = 44
#: Pages of one player.
ALONE = (OVERVIEW, ATTEMPTS, PRACTICE, CROSSED)


class Chooser(QFrame):
    """`changed` when something else is chosen."""

    changed = pyqtSignal()

    def __init__(self) -> None:
        super().__init__()
        self.setObjectName("band")
        self._lines: Sequence[SessionLine] = ()
        self._seconds_filled = False
        self.pages, self.sessions = QComboBox(), QComboBox()
        self.first, self.second = QComboBox(), QComboBox()
        self.counted, self.rows, self.across = QComboBox(), QComboBox(), QComboBox()
        for name, words in PAGE_WORDS.items():
            self.pages.addItem(tr(words), name)
        for name, one in COUNTED.items():
            self.counted.addItem(tr(one.words), name)
        for box, start in ((self.rows, "cut"), (self.across, "distance")):
            for name in SLICES:
                box.addItem(tr(WAY_WORDS[name]), name)
            box.setCurrentIndex(SLICES.index(start))
        for box, words in (
            (self.pages, "Which figures"),
            (self.sessions, "Which sessions"),
            (self.first, "First player"),
            (self.second, "Beside: a second player, or the same one before a date"),
            (self.counted, "What is counted"),
            (self.rows, "Cut by, down"),
            (self.across, "Cut by, across"),
        ):
            box.setAccessibleName(words)
            box.setToolTip(words)
            box.activated.connect(lambda _index: self._choose())
        self.line = QLineEdit()
        self.line.setAccessibleName("Only shots like this")
        self.line.setPlaceholderText("only shots like this: cut:30-60 pace:long -tag:final")
        self.line.setToolTip(f"Fields: {', '.join(FIELDS)}")
        self.line.returnPressed.connect(self.changed)
        for short, letters in ((self.pages, 13), (self.first, 7), (self.second, 13), (self.sessions, 8)):
            _shorten(short, letters)
        self.about = label("", "caption")
        self._compose()
        self._fit()

    def _compose(self) -> None:
        layout = QVBoxLayout(self)
        layout.setContentsMargins(16, 8, 16, 8)
        layout.setSpacing(6)
        row = QHBoxLayout()
        row.setSpacing(8)
        words = QVBoxLayout()
        words.setSpacing(1)
        words.addWidget(label("Statistics", "title"))
        words.addWidget(self.about)
        row.addLayout(words)
        row.addWidget(self.pages)
        row.addWidget(self.line, 1)
        beside = label("beside", "caption")
        self._beside = (beside, self.second)
        for widget in (self.first, beside, self.second, label("in", "caption"), self.sessions):
            row.addWidget(widget)
        layout.addLayout(row)
        self._crossing = QWidget()
        second = QHBoxLayout(self._crossing)
        second.setContentsMargins(0, 0, 0, 0)
        second.setSpacing(8)
        for text, box in (("Count", self.counted), ("by", self.rows), ("and by", self.across)):
            second.addWidget(label(text, "caption"))
            second.addWidget(box)
        second.addStretch(1)
        layout.addWidget(self._crossing)

    def _choose(self) -> None:
        self._fit()
        self.changed.emit()

    def _fit(self) -> None:
        """Only what the page can use is in sight."""
        page = self.pages.currentData()
        self._crossing.setVisible(page == CROSSED)
        for widget in self._beside:
            widget.setVisible(page not in ALONE)

    def offer(self, lines: Sequence[SessionLine], persons: Sequence[tuple[str, str]]) -> None:
        """Offer what a library has; present choices are kept."""
        self._lines = lines
        games = dict.fromkeys(line.game for line in lines if line.game)
        by_game = [(f"{GAME}{game}", f"all {word(game)}") for game in games]
        names = told_apart((line.key, line.title, line.date) for line in lines)
        titles = [(line.key, names[line.key]) for line in lines]
        _fill(self.sessions, [*by_game, ("", "all sessions"), *_spans(lines), *titles])
        together = [(EVERYBODY, EVERYBODY)] if len(persons) > 1 else []
        _fill(self.first, [*persons, *together])
        dates = sorted({line.date for line in lines if line.date}, reverse=True)[:-1]
        earlier = [(f"{BEFORE}{date}", f"before {date}") for date in dates]
        _fill(self.second, [(NOBODY, "nobody"), *persons, *earlier])
        if not self._seconds_filled and len(persons) > 1:
            self._seconds_filled = True
            self.second.setCurrentIndex(2)

    def page(self) -> str:
        """The page that is chosen."""
        return str(self.pages.currentData())

    def names(self) -> Mapping[str, str]:
        """The people that are offered."""
        return {self.first.itemData(i): self.first.itemText(i) for i in range(self.first.count())}

    def choice(self) -> Choice:
        """What is chosen; raises `NotAQuery` for a search line that cannot be read."""
        sessions = self._chosen_sessions()
        looked_at = None if sessions is None else frozenset(sessions)
        games = {line.game or "" for line in self._lines if looked_at is None or line.key in looked_at}
        page = self.page()
        other = (self.second.currentData() if page not in ALONE else None) or NOBODY
        return Choice(
            page=page,
            first=self.first.currentData() or "",
            second="" if other == NOBODY else str(other),
            sessions=sessions,
            game=games.pop() if len(games) == 1 else None,
            query=parse_query(self.line.text(), FIELDS),
            rows=str(self.rows.currentData()),
            across=str(self.across.currentData()),
            counted=str(self.counted.currentData()),
        )

    def report_page(self) -> tuple[JsonObject, str]:
        """The page as it is chosen, for a report, and its words."""
        page, words = self.page(), self.pages.currentText()
        if page == OVERVIEW:
            return {"kind": "summary"}, words
        second = (self.second.currentData() if page not in ALONE else None) or NOBODY
        beside = {} if second == NOBODY else {"second": second}
        return {"kind": "figures", "figures": page, **beside}, words

    def _chosen_sessions(self) -> tuple[str, ...] | None:
        """The sessions of a game, of a year or a month, one session, or None for all."""
        chosen = self.sessions.currentData() or ""
        if chosen.startswith(GAME):
            game = chosen.removeprefix(GAME)
            return tuple(line.key for line in self._lines if line.game == game)
        if chosen.startswith(DATE):
            span = chosen.removeprefix(DATE)
            return tuple(line.key for line in self._lines if (line.date or "").startswith(span))
        return (chosen,) if chosen else None


def _spans(lines: Sequence[SessionLine]) -> list[tuple[str, str]]:
    """The years and months that sessions were played in, the newest first, but none that holds all."""
    dates = [line.date for line in lines if line.date]
    years, months = ({date[:size] for date in dates} for size in (4, 7))
    spans = [*sorted(years, reverse=True), *sorted(months, reverse=True)]
    told = [(span, sum(date.startswith(span) for date in dates)) for span in spans]
    return [(f"{DATE}{span}", f"{span}: {count(of, 'session')}") for span, of in told if of < len(lines)]


def _shorten(box: QComboBox, letters: int) -> None:
    """A box shows so many letters, its open list more: no long title pushes the search out of sight."""
    box.setSizeAdjustPolicy(QComboBox.SizeAdjustPolicy.AdjustToMinimumContentsLengthWithIcon)
    box.setMinimumContentsLength(letters)
    popup = box.view()
    if popup is not None:
        popup.setMinimumWidth(popup.fontMetrics().averageCharWidth() * LONGEST_TITLE)


def _fill(box: QComboBox, items: list[tuple[str, str]]) -> None:
    """Put choices into a box, the present choice kept where it is still there."""
    chosen = box.currentData()
    box.clear()
    for key, text in items:
        box.addItem(text, key)
    box.setCurrentIndex(max(0, box.findData(chosen)))
