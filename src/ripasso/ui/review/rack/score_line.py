"""The line above everything: the session, the score, who is at the table and what is on."""

from __future__ import annotations

from PyQt6.QtCore import QPointF, QSize, Qt
from PyQt6.QtGui import QPainter, QPaintEvent, QPen
from PyQt6.QtWidgets import QFrame, QHBoxLayout, QVBoxLayout, QWidget

from ripasso.core.rules import GAMES
from ripasso.review.document.snapshot import Snapshot
from ripasso.review.language.vocabulary import count, rack_word, sentence, word
from ripasso.review.present.describing import on_words, player_name
from ripasso.review.present.standing import Standing, standing
from ripasso.ui.review.state.review_controller import ReviewController
from ripasso.ui.theme import Theme
from ripasso.ui.widgets.ball_paint import paint_ball
from ripasso.ui.widgets.basics import as_it_stands, label, set_property
from ripasso.ui.widgets.painted import painted


class BallTray(QWidget):
    """The balls still on the table by the rules, the ball that is on with a ring."""

    def __init__(self, theme: Theme) -> None:
        super().__init__()
        self._theme = theme
        self._balls: tuple[str, ...] = ()
        self._on: tuple[str, ...] = ()
        self._reds = 0
        self.setAccessibleName("Balls on the table")

    def show_balls(self, balls: tuple[str, ...], on: tuple[str, ...]) -> None:
        """Show these balls; the reds of a frame are one token with their number."""
        reds = sum(ball.startswith("red") for ball in balls)
        self._reds = reds
        self._balls = ("red",) * bool(reds) + tuple(b for b in balls if not b.startswith("red"))
        self._on = tuple("red" if ball.startswith("red") else ball for ball in on)
        told = [f"{reds} reds"] * bool(reds) + [b for b in self._balls if b != "red"]
        self.setToolTip(as_it_stands(f"On the table: {', '.join(told) or 'no ball'}; on: {on_words(on)}"))
        self.setAccessibleDescription(self.toolTip())
        self.setVisible(bool(balls))
        self.updateGeometry()
        self.update()

    def _step(self) -> int:
        return self._theme.px(22 if len(self._balls) < 11 else 18)

    def sizeHint(self) -> QSize:
        return QSize(self._step() * len(self._balls) + 4, self._theme.px(22))

    def minimumSizeHint(self) -> QSize:
        return self.sizeHint()

    @painted
    def paintEvent(self, painter: QPainter, _event: QPaintEvent | None) -> None:
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        theme, radius = self._theme, self._theme.px(7)
        everything_on = len(self._on) >= len(self._balls) > 1
        for place, ball in enumerate(self._balls):
            centre = QPointF(self._step() * (place + 0.5), self.height() / 2)
            if ball in self._on and not everything_on:
                painter.setBrush(Qt.BrushStyle.NoBrush)
                painter.setPen(QPen(theme.colour("ink"), 1.5))
                painter.drawEllipse(centre, radius + 2, radius + 2)
            paint_ball(painter, theme, centre, radius, ball, str(self._reds) if ball == "red" else None)


class ScoreLine(QFrame):
    """Reads the controller; shows, and changes nothing."""

    def __init__(self, theme: Theme, controller: ReviewController) -> None:
        super().__init__()
        self.setObjectName("band")
        self._theme, self._controller = theme, controller
        self._title, self._about = label("", "title"), label("", "caption")
        self._names = (label("", "title"), label("", "title"))
        self._score, self._counts = label("", "figure"), label("", "caption")
        self._now, self._run = label("", "title"), label("", "caption")
        self._rack, self._reviewed = label("", "title"), label("", "caption")
        self._tray = BallTray(theme)
        layout = QHBoxLayout(self)
        layout.setContentsMargins(16, 6, 16, 6)
        layout.setSpacing(14)
        layout.addLayout(_pair(self._title, self._about))
        layout.addStretch(1)
        layout.addWidget(self._names[0])
        layout.addLayout(_pair(self._score, self._counts, middle=True))
        layout.addWidget(self._names[1])
        layout.addStretch(1)
        layout.addLayout(_pair(self._now, self._run))
        layout.addWidget(self._tray)
        layout.addStretch(1)
        layout.addLayout(_pair(self._rack, self._reviewed, right=True))

    def refresh(self) -> None:
        """Show what the controller has in hand."""
        snapshot = self._controller.snapshot
        if snapshot is None:
            return
        head = snapshot.head
        rules = head.rules or {}
        about = [word(head.game or ""), f"race to {rules['race_to']}" if "race_to" in rules else ""]
        self._title.setText(head.title)
        self._about.setText(" · ".join(part for part in (*about, head.date or "") if part))
        self._show_score(snapshot)
        self._show_turn(snapshot)
        rack = self._controller.rack
        what = rack_word(head.game)
        last = snapshot.racks[-1].record.number if snapshot.racks else 0
        self._rack.setText(f"{sentence(what)} {rack.record.number} of {last}" if rack else f"No {what} yet")
        done = sum(row.judged for row in snapshot.racks)
        self._reviewed.setText(f"{done} of {count(snapshot.shot_count, 'shot')} judged")

    def _show_score(self, snapshot: Snapshot) -> None:
        players = [p for p in snapshot.head.players or () if not p.ghost]
        for place, shown in enumerate(self._names):
            known = place < len(players)
            shown.setText(player_name(snapshot.head, players[place].id) if known else "")
            set_property(shown, "role", self._theme.player_role(place))
            shown.setStyleSheet(f"color: {self._theme.hex(self._theme.player_role(place))}")
        now = self._standing(snapshot)
        if now is None:
            self._score.setText("")
            self._counts.setText("")
            return
        # The score in front of the shot in hand: the eyes are there, not at the end of the match.
        self._score.setText(" – ".join(str(value) for value in now.figures.values()))
        self._counts.setText(now.caption)

    def _standing(self, snapshot: Snapshot) -> Standing | None:
        rack, shot = self._controller.rack, self._controller.shot
        if snapshot.score is None or rack is None or shot is None:
            return None
        place = rack.place(shot.key)
        return standing(snapshot.head, snapshot.score, snapshot.rack_index(rack.key), place)

    def _show_turn(self, snapshot: Snapshot) -> None:
        shot, judged_shot, score = self._controller.shot, self._controller.shot_score, snapshot.score
        if shot is None:
            self._now.setText("")
            self._run.setText("")
            self._tray.show_balls((), ())
            return
        self._now.setText(f"At the table: {player_name(snapshot.head, shot.record.player)}")
        if score is None or judged_shot is None:
            self._run.setText(f"{word(snapshot.head.game or 'this game')}: tags and marks, no score yet")
            self._tray.show_balls((), ())
            return
        now = self._standing(snapshot)
        self._run.setText(now.line if now else "")
        order = balls_of(snapshot.head.game)
        balls = tuple(ball for ball in order if ball in judged_shot.on_table)
        self._tray.show_balls(balls, judged_shot.balls_on)


def balls_of(game: str | None) -> tuple[str, ...]:
    """The object balls of a game in their order."""
    build = GAMES.get(game or "")
    return build((), {}).balls if build is not None else ()


def _pair(upper: QWidget, lower: QWidget, *, right: bool = False, middle: bool = False) -> QVBoxLayout:
    layout = QVBoxLayout()
    layout.setSpacing(0 if middle else 1)
    side = Qt.AlignmentFlag.AlignRight if right else Qt.AlignmentFlag.AlignLeft
    side = Qt.AlignmentFlag.AlignHCenter if middle else side
    layout.addWidget(upper, 0, side)
    layout.addWidget(lower, 0, side)
    return layout
