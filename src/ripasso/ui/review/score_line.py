"""The line above everything: the session, the score, who is at the table and what is on."""

from __future__ import annotations

from PyQt6.QtCore import QPointF, QRectF, QSize, Qt
from PyQt6.QtGui import QPainter, QPaintEvent, QPen
from PyQt6.QtWidgets import QFrame, QHBoxLayout, QVBoxLayout, QWidget

from ripasso.review.describing import player_name
from ripasso.review.snapshot import Snapshot
from ripasso.review.vocabulary import count, word
from ripasso.ui.review.desk import ReviewDesk, judged
from ripasso.ui.theme import CAPTION_PX, Theme
from ripasso.ui.widgets.basics import label, set_property


class BallTray(QWidget):
    """The balls still on the table by the rules, the ball that is on with a ring."""

    def __init__(self, theme: Theme) -> None:
        super().__init__()
        self._theme = theme
        self._balls: tuple[str, ...] = ()
        self._on: tuple[str, ...] = ()
        self.setAccessibleName("Balls on the table")

    def show_balls(self, balls: tuple[str, ...], on: tuple[str, ...]) -> None:
        """Show these balls."""
        self._balls, self._on = balls, on
        self.setToolTip(f"On the table: {', '.join(balls) or 'no ball'}; on: {', '.join(on) or 'none'}")
        self.setAccessibleDescription(self.toolTip())
        self.updateGeometry()
        self.update()

    def sizeHint(self) -> QSize:
        return QSize(self._theme.px(22) * len(self._balls) + 4, self._theme.px(22))

    def paintEvent(self, _event: QPaintEvent | None) -> None:
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        theme, radius = self._theme, self._theme.px(7)
        painter.setFont(theme.font(CAPTION_PX - 2, weight=600))
        for place, ball in enumerate(b for b in self._balls if b.isdigit()):
            centre = QPointF(self._theme.px(22) * (place + 0.5), self.height() / 2)
            number = int(ball)
            if ball in self._on:
                painter.setBrush(Qt.BrushStyle.NoBrush)
                painter.setPen(QPen(theme.colour("ink"), 1.5))
                painter.drawEllipse(centre, radius + 2.5, radius + 2.5)
            colour = theme.colour(f"ball.{number - 8 if number > 8 else number}")
            painter.setPen(QPen(theme.colour("ball.edge"), 1))
            painter.setBrush(theme.colour("ball.ivory") if number > 8 else colour)
            painter.drawEllipse(centre, radius, radius)
            if number > 8:
                half = radius * 0.55
                band = QRectF(centre.x() - radius * 0.84, centre.y() - half, radius * 1.68, 2 * half)
                painter.fillRect(band, colour)
            painter.setPen(Qt.PenStyle.NoPen)
            painter.setBrush(theme.colour("ball.ivory"))
            painter.drawEllipse(centre, radius * 0.7, radius * 0.7)
            painter.setPen(theme.colour("ball.number"))
            box = QRectF(centre.x() - 12, centre.y() - 12, 24, 24)
            painter.drawText(box, Qt.AlignmentFlag.AlignCenter, ball)


class ScoreLine(QFrame):
    """Reads the desk; shows, and changes nothing."""

    def __init__(self, theme: Theme, desk: ReviewDesk) -> None:
        super().__init__()
        self.setObjectName("band")
        self._theme, self._desk = theme, desk
        self._title, self._about = label("", "title"), label("", "caption")
        self._names = (label("", "title"), label("", "title"))
        self._score = label("", "figure")
        self._now, self._run = label("", "title"), label("", "caption")
        self._rack, self._reviewed = label("", "title"), label("", "caption")
        self._tray = BallTray(theme)
        layout = QHBoxLayout(self)
        layout.setContentsMargins(16, 6, 16, 6)
        layout.setSpacing(14)
        layout.addLayout(_pair(self._title, self._about))
        layout.addStretch(1)
        layout.addWidget(self._names[0])
        layout.addWidget(self._score)
        layout.addWidget(self._names[1])
        layout.addStretch(1)
        layout.addLayout(_pair(self._now, self._run))
        layout.addWidget(self._tray)
        layout.addStretch(1)
        layout.addLayout(_pair(self._rack, self._reviewed, right=True))

    def refresh(self) -> None:
        """Show what the desk has in hand."""
        snapshot = self._desk.snapshot
        if snapshot is None:
            return
        head = snapshot.head
        rules = head.rules or {}
        about = [word(head.game or ""), f"race to {rules['race_to']}" if "race_to" in rules else ""]
        self._title.setText(head.title)
        self._about.setText(" · ".join(part for part in (*about, head.date or "") if part))
        self._show_score(snapshot)
        self._show_turn(snapshot)
        rack = self._desk.rack
        place = snapshot.rack_index(rack.key) + 1 if rack else 0
        self._rack.setText(f"Rack {place} of {len(snapshot.racks)}" if rack else "No rack yet")
        done = sum(judged(shot.record) for shot in snapshot.shots)
        self._reviewed.setText(f"{done} of {count(len(snapshot.shots), 'shot')} judged")

    def _show_score(self, snapshot: Snapshot) -> None:
        players = [p for p in snapshot.head.players or () if not p.ghost]
        for place, shown in enumerate(self._names):
            known = place < len(players)
            shown.setText(player_name(snapshot.head, players[place].id) if known else "")
            set_property(shown, "role", self._theme.player_role(place))
            shown.setStyleSheet(f"color: {self._theme.hex(self._theme.player_role(place))}")
        score, rack = snapshot.score, self._desk.rack
        if score is None or rack is None or len(players) != 2:
            self._score.setText("")
            return
        # The score when the rack in hand began: the eyes are on that rack, not on the end of the match.
        before = score.score_before[snapshot.rack_index(rack.key)]
        self._score.setText(" – ".join(str(before.get(p.id, 0)) for p in players))
        self._score.setToolTip("Racks won before this one")

    def _show_turn(self, snapshot: Snapshot) -> None:
        shot, judged_shot, score = self._desk.shot, self._desk.shot_score, snapshot.score
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
        run = self._run_before(snapshot, shot.key)
        on = ", ".join(judged_shot.balls_on) or "nothing"
        self._run.setText(f"run {run} · on the {on}")
        balls = sorted(judged_shot.on_table, key=lambda ball: int(ball) if ball.isdigit() else 0)
        self._tray.show_balls(tuple(balls), judged_shot.balls_on)

    def _run_before(self, snapshot: Snapshot, key: str) -> int:
        """Balls of the running visit before the shot in hand."""
        rack, score = self._desk.rack, self._desk.rack_score
        if rack is None or score is None:
            return 0
        place = [s.key for s in rack.shots].index(key)
        visit = score.shots[place].visit
        earlier = [s for s in score.shots[:place] if s.visit == visit and s.outcome]
        return sum(len(s.outcome.counted) for s in earlier if s.outcome)


def _pair(upper: QWidget, lower: QWidget, *, right: bool = False) -> QVBoxLayout:
    layout = QVBoxLayout()
    layout.setSpacing(1)
    side = Qt.AlignmentFlag.AlignRight if right else Qt.AlignmentFlag.AlignLeft
    layout.addWidget(upper, 0, side)
    layout.addWidget(lower, 0, side)
    return layout
