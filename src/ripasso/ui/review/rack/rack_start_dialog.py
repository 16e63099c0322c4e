"""Asks how the next rack begins: after racks that are not shown, in the middle, or from a layout."""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence

from PyQt6.QtWidgets import (
    QComboBox,
    QFormLayout,
    QLineEdit,
    QPushButton,
    QSpinBox,
    QVBoxLayout,
    QWidget,
)

from ripasso.core.json_data import JsonObject
from ripasso.core.rules.snooker import is_red
from ripasso.core.table import table_spec
from ripasso.core.table.places import Place
from ripasso.review.document.snapshot import Snapshot
from ripasso.review.entry.rack_start import RackStart, parse_balls
from ripasso.review.entry.rack_words import parse_stated, with_player
from ripasso.review.language.parsing import NotAWord
from ripasso.review.language.vocabulary import ball_word, count, intent_word, rack_word, sentence
from ripasso.review.present.describing import player_name
from ripasso.ui.help.guided_dialog import GuidedDialog
from ripasso.ui.review.rack.place_balls_dialog import PlaceBallsDialog
from ripasso.ui.theme import Theme
from ripasso.ui.widgets.basics import label, run_dialog, save_or_cancel, set_property

#: How a rack may begin.
BREAK, MIDDLE, LAYOUT = "break", "middle", "layout"
#: Games with points within a rack, and those whose visits are counted in points.
RACK_POINTS = ("snooker", "rotation")

Layout = Mapping[str, Sequence[float]]


class RackStartDialog(GuidedDialog):
    """`start()` is what was said; `begin` takes it and says whether it could be done.

    `layout` are the balls of the shot in hand, which the rack may begin with.
    """

    place = "asks how the next rack begins"

    def __init__(
        self,
        theme: Theme,
        snapshot: Snapshot,
        begin: Callable[[RackStart], bool],
        layout: Layout | None = None,
        parent: QWidget | None = None,
        *,
        kind: str = BREAK,
    ) -> None:
        super().__init__(parent)
        self._theme, self._snapshot, self._begin, self._layout = theme, snapshot, begin, layout or {}
        self._placed: dict[str, Place] = {}
        self._game = snapshot.head.game
        self._what = rack_word(self._game)
        self.setWindowTitle(f"The next {self._what}")
        self._numbered = False
        self._make_fields()
        self._compose()
        self.kind.setCurrentIndex(max(0, self.kind.findData(kind)))
        self._follow()
        first = next(iter(self._scores.values()), None)
        if first is not None:
            first.setFocus()
            first.selectAll()

    def _make_fields(self) -> None:
        head, score = self._snapshot.head, self._snapshot.score
        counted = dict(score.score) if score else {}
        sides = list(counted) or [player.id for player in head.players or ()]
        people = [player.id for player in head.players or () if not player.ghost]
        self._scores = {side: _number(counted.get(side, 0), -999) for side in sides}
        self.number = _number(self._next_number(counted), 1)
        self.kind = QComboBox()
        self.kind.addItem(f"with its {intent_word('break', self._game)}", BREAK)
        self.kind.addItem("in the middle, before the film begins", MIDDLE)
        if self._layout:
            self.kind.addItem(f"from the layout in hand, {len(self._layout)} balls", LAYOUT)
        names = [player_name(head, side).split()[0].casefold() for side in people]
        self._points = {side: _number(0, -999) for side in people}
        self.player = QComboBox()
        for side in people:
            self.player.addItem(player_name(head, side), side)
        self.run = _number(0, 0)
        self.said = QLineEdit()
        self.said.setPlaceholderText(f"such as: {next(iter(names), 'ada')} streak 5 by ida")
        self.balls = QLineEdit()
        self.balls.setPlaceholderText(
            "such as: six reds, all colours" if self._game == "snooker" else "such as: 1 3 5 9, all but 2 7"
        )
        self.by_clicks = QPushButton("Place them by clicks")
        self.by_clicks.setAutoDefault(False)
        self.by_clicks.clicked.connect(lambda _checked=False: self._place_balls())
        self.asks = QComboBox()
        self.asks.addItem("a red, without reds the lowest colour", None)
        self.asks.addItem("a colour", "colour")
        self.group = QComboBox()
        for words, value in (("none yet", None), ("solids", "low"), ("stripes", "high")):
            self.group.addItem(words, value)
        for field in self._scores.values():
            field.valueChanged.connect(self._count)
        self.number.valueChanged.connect(self._take_number)
        self.kind.currentIndexChanged.connect(self._follow)
        self.balls.textChanged.connect(self._read_balls)

    def _compose(self) -> None:
        head, layout = self._snapshot.head, QVBoxLayout(self)
        self._form = form = QFormLayout()
        form.setSpacing(8)
        unit = "points" if self._game == "straight_pool" else f"{self._what}s"
        run = "Points" if self._game in (*RACK_POINTS, "straight_pool") else "Balls"
        rows: list[tuple[str, QWidget]] = [
            *((f"{player_name(head, side)}, {unit}", field) for side, field in self._scores.items()),
            (f"Number of the {self._what}", self.number),
            (f"The {self._what} begins", self.kind),
            *((f"{player_name(head, side)}, points in it", field) for side, field in self._points.items()),
            ("At the table", self.player),
            (f"{run} of this visit so far", self.run),
            ("On the table", self.balls),
            ("Where they lie", self.by_clicks),
            ("Asked for", self.asks),
            ("Group at the table", self.group),
            ("Said of what is not shown", self.said),
        ]
        for words, field in rows:
            field.setAccessibleName(words)
            name = label(words)
            name.setBuddy(field)
            form.addRow(name, field)
        self._told = label("", "caption", wrap=True)
        layout.setContentsMargins(20, 16, 20, 16)
        layout.setSpacing(12)
        layout.addWidget(label(f"How the next {self._what} begins", "title"))
        layout.addWidget(label("No streak, run or pace is counted across a gap.", "caption"))
        layout.addLayout(form)
        layout.addWidget(self._told)
        layout.addWidget(save_or_cancel(self, "Go on", self._accept))
        self.setMinimumWidth(520)

    def _next_number(self, score: Mapping[str, int]) -> int:
        """The number that the score gives, or the one after the last."""
        racks = [row.record.number for row in self._snapshot.racks if row.shots or row.record.not_shown]
        if self._game == "straight_pool":
            return max(racks, default=0) + 1
        return max(0, sum(score.values()), *racks) + 1

    def _count(self) -> None:
        """The number follows the score until it is typed."""
        if not self._numbered:
            self.number.blockSignals(True)
            self.number.setValue(self._next_number(self.score()))
            self.number.blockSignals(False)

    def _take_number(self) -> None:
        self._numbered = True

    def _follow(self) -> None:
        """Show what belongs to the way the rack begins, in its game."""
        middle = self.kind.currentData() == MIDDLE
        shown: dict[QWidget, bool] = {
            self.player: middle and self.player.count() > 1,
            self.run: middle,
            self.balls: middle,
            self.by_clicks: middle,
            self.asks: middle and self._game == "snooker",
            self.group: middle and self._game == "eight_ball",
        }
        for points in self._points.values():
            shown[points] = middle and self._game in RACK_POINTS
        for field, is_shown in shown.items():
            self._form.setRowVisible(field, is_shown)
        self._read_balls()
        self.adjustSize()

    def _read_balls(self) -> None:
        """Say what was understood of the balls."""
        words, tone = "", "plain"
        if self.kind.currentData() == MIDDLE:
            try:
                balls = parse_balls(self.balls.text(), self._snapshot.head)
                words = f"{len(balls)} on the table: {_balls_words(balls)}"
            except NotAWord as error:
                words, tone = str(error), "bad"
        set_property(self._told, "tone", tone)
        self._told.setText(words)

    def score(self) -> dict[str, int]:
        """The stated score by side."""
        return {side: field.value() for side, field in self._scores.items()}

    def start(self) -> RackStart:
        """What was said; raises `NotAWord` for balls that are not understood."""
        kind = self.kind.currentData()
        return RackStart(
            self.number.value(),
            self.score(),
            self._start_layout(),
            self._in_progress() if kind == MIDDLE else {},
            self._stated(),
        )

    def _start_layout(self) -> Layout | None:
        """Where the balls lie that the rack begins with; those clicked only while they are those said."""
        kind = self.kind.currentData()
        if kind == LAYOUT:
            return self._layout
        said = set(parse_balls(self.balls.text(), self._snapshot.head)) if kind == MIDDLE else None
        return self._placed if said is not None and said == self._placed.keys() - {"cue"} else None

    def _place_balls(self) -> None:
        """Ask for the places of the balls by clicks: those that are placed are on the table."""
        head = self._snapshot.head
        every = parse_balls("", head)
        dialog = PlaceBallsDialog(self._theme, table_spec(head.table), every, self._placed, self)
        if run_dialog(dialog):
            self._placed = dialog.placed
            self.balls.setText(" ".join(ball for ball in every if ball in self._placed))
            self.balls.setCursorPosition(0)

    def _stated(self) -> list[JsonObject]:
        """What somebody says of racks that are not shown; raises `NotAWord`."""
        said = [part.split() for part in self.said.text().split(";") if part.strip()]
        return [with_player(parse_stated(words), self._snapshot.head) for words in said]

    def _in_progress(self) -> dict[str, object]:
        player, others = (
            self.player.currentData(),
            [p for p in self._points if p != self.player.currentData()],
        )
        said: dict[str, object] = {"player": player, "run": self.run.value()}
        said["balls"] = parse_balls(self.balls.text(), self._snapshot.head)
        if self._game in RACK_POINTS:
            said["points"] = {side: field.value() for side, field in self._points.items()}
        if self._game == "snooker" and self.asks.currentData():
            said["on"] = self.asks.currentData()
        group = self.group.currentData()
        if self._game == "eight_ball" and group:
            other = {"low": "high", "high": "low"}[group]
            said["groups"] = {player: group, **dict.fromkeys(others, other)}
        return said

    def _accept(self) -> None:
        try:
            start = self.start()
        except NotAWord as error:
            set_property(self._told, "tone", "bad")
            self._told.setText(sentence(str(error)))
            (self.said if self.said.text().strip() else self.balls).setFocus()
            return
        if self._begin(start):
            self.accept()


def _balls_words(balls: Sequence[str]) -> str:
    """Balls in words, the reds by their number."""
    reds = sum(is_red(ball) for ball in balls)
    return ", ".join([count(reds, "red")] * bool(reds) + [ball_word(b) for b in balls if not is_red(b)])


def _number(value: int, low: int) -> QSpinBox:
    field = QSpinBox()
    field.setRange(low, 9999)
    field.setButtonSymbols(QSpinBox.ButtonSymbols.NoButtons)
    field.setValue(value)
    return field
