"""The Review workspace: composes its parts and connects the keys with the desk and the film."""

from __future__ import annotations

from collections.abc import Callable
from functools import partial

from PyQt6.QtCore import Qt, pyqtSignal
from PyQt6.QtWidgets import QHBoxLayout, QLabel, QPushButton, QStackedLayout, QVBoxLayout, QWidget

from ripasso.core.table import starting_layout, table_spec
from ripasso.drawing import TableScene
from ripasso.film import Picture
from ripasso.review.describing import rack_story
from ripasso.review.ribbon import ribbon_of
from ripasso.review.snapshot import Snapshot
from ripasso.ui.actions import ActionBook, shown_key
from ripasso.ui.review.desk import ReviewDesk
from ripasso.ui.review.film_desk import FilmDesk
from ripasso.ui.review.film_player import FilmPlayer
from ripasso.ui.review.film_view import FilmView
from ripasso.ui.review.key_board import KeyBoard
from ripasso.ui.review.keys import ACTIONS, BALL_ACTIONS, POCKET_KEYS, TAG_ACTIONS
from ripasso.ui.review.ribbon_view import RibbonView
from ripasso.ui.review.score_line import ScoreLine
from ripasso.ui.review.slip import Slip
from ripasso.ui.review.transport import Block, Transport
from ripasso.ui.widgets.basics import label, panel, scrolling
from ripasso.ui.widgets.table_view import TableView
from ripasso.ui.workspace import Workspace


class ReviewPage(QWidget):
    """Everything that is seen of a session under review."""

    film_wanted = pyqtSignal()

    def __init__(self, workspace: Workspace) -> None:
        super().__init__()
        self.setObjectName("page")
        self._workspace = workspace
        theme = workspace.theme
        self.desk = ReviewDesk(workspace.document, workspace.messages.say)
        self.player = FilmPlayer(workspace.background, self)
        self.film_desk = FilmDesk(workspace.document, self.desk, self.player, workspace.messages.say)
        self.actions_book = ActionBook(self, ACTIONS, self._functions())
        self.score_line = ScoreLine(theme, self.desk)
        self.ribbon = RibbonView(theme)
        self.film = FilmView(theme)
        self.transport = Transport(theme, self.actions_book)
        self.table = TableView(theme)
        self.slip = Slip(theme, self.desk)
        self.key_board = KeyBoard(theme, self.desk, self.actions_book)
        self._turned = False
        self._film_shown = True
        self._large: str | None = None
        self._compose()
        self._connect()
        self._set_turned(False)

    # Building

    def _compose(self) -> None:
        ribbon_row = QHBoxLayout()
        ribbon_row.addWidget(self.ribbon, 1)
        self._story = label("", wrap=True)
        words = QVBoxLayout()
        words.addStretch(1)
        words.addWidget(self._story)
        words.addWidget(label("stem up: ran long, down: short", "caption"))
        words.addStretch(1)
        ribbon_row.addLayout(words)
        self._story.setFixedWidth(self._workspace.theme.px(300))
        self._film_box = film_box = QVBoxLayout()
        film_box.setSpacing(0)
        film_box.addWidget(self.film, 1)
        film_box.addWidget(self.transport)
        self._ribbon_panel = panel(ribbon_row, (4, 0, 12, 0))
        self._film_panel = panel(film_box, (0, 0, 0, 0))
        keys_box = QVBoxLayout()
        keys_box.addWidget(self.key_board)
        self._keys_panel = panel(keys_box, (12, 8, 12, 8))
        self._table_box = table_box = QVBoxLayout()
        table_box.addWidget(self.table)
        self._table_panel = panel(table_box, (6, 6, 6, 6))
        slip_box = QVBoxLayout()
        slip_box.addWidget(scrolling(self.slip))
        self._slip_panel = panel(slip_box)
        left, right = QVBoxLayout(), QVBoxLayout()
        for column in (left, right):
            column.setSpacing(8)
        left.addWidget(self._film_panel, 1)
        left.addWidget(self._keys_panel)
        right.addWidget(self._table_panel, 5)
        right.addWidget(self._slip_panel, 6)
        columns = QHBoxLayout()
        columns.setSpacing(8)
        columns.addLayout(left, 62)
        columns.addLayout(right, 40)
        body = QVBoxLayout()
        body.setContentsMargins(10, 8, 10, 8)
        body.setSpacing(8)
        body.addWidget(self._ribbon_panel)
        body.addLayout(columns, 1)
        work = QWidget()
        whole = QVBoxLayout(work)
        whole.setContentsMargins(0, 0, 0, 0)
        whole.setSpacing(0)
        whole.addWidget(self.score_line)
        whole.addLayout(body, 1)
        self._stack = QStackedLayout(self)
        self._stack.addWidget(_empty_state())
        self._stack.addWidget(work)
        self._film_button = QPushButton("Choose the film")
        self._film_button.setFocusPolicy(Qt.FocusPolicy.TabFocus)
        self._film_button.clicked.connect(self.film_wanted.emit)
        self.transport.layout().addWidget(self._film_button)  # type: ignore[union-attr]

    def _connect(self) -> None:
        self.desk.changed.listen(lambda _none: self.refresh())
        self.ribbon.chosen.connect(self._go_to)
        self.table.ball_clicked.connect(self.desk.meant_ball)
        self.table.pocket_clicked.connect(self.desk.pocket)
        self.slip.left.connect(self.setFocus)
        self.film.resized.connect(self.player.resize)
        self.player.shown.connect(self._show_picture)
        self.player.opened.connect(self._film_opened)
        self.player.failed.connect(self._film_failed)
        self.player.playing_changed.connect(self.transport.show_playing)
        self.transport.speed_chosen.connect(self.player.set_speed)
        self.transport.strip.sought.connect(self.player.seek)

    def _functions(self) -> dict[str, Callable[[], object]]:
        functions: dict[str, Callable[[], object]] = {
            "strike": self._strike,
            "rest": self._rest,
            "note": self._note,
            "take_back": self.desk.take_back,
            "other_player": self.desk.other_player,
            "delete_shot": self.desk.delete_shot,
            "play": self._play,
            "frame_forward": lambda: self.player.step(1),
            "frame_back": lambda: self.player.step(-1),
            "second_forward": lambda: self.film_desk.move(1.0),
            "second_back": lambda: self.film_desk.move(-1.0),
            "to_strike": lambda: self.film_desk.to_mark(rest=False),
            "to_rest": lambda: self.film_desk.to_mark(rest=True),
            "shot_next": lambda: self._walk(lambda: self.desk.step(1)),
            "shot_previous": lambda: self._walk(lambda: self.desk.step(-1)),
            "rack_next": lambda: self._walk(lambda: self.desk.step_rack(1)),
            "rack_previous": lambda: self._walk(lambda: self.desk.step_rack(-1)),
            "next_unjudged": lambda: self._walk(self.desk.next_unjudged),
            "turn": lambda: self._set_turned(not self._turned),
            "film_large": lambda: self._enlarge("film"),
            "table_large": lambda: self._enlarge("table"),
        }
        for spec in TAG_ACTIONS:
            functions[spec.id] = partial(self.desk.tag, spec.id)
        for pocket in POCKET_KEYS["side"]:
            functions[f"pocket_{pocket}"] = partial(self.desk.pocket, pocket)
        for spec in BALL_ACTIONS:
            functions[spec.id] = partial(self.desk.digit, spec.keys[0])
        return functions

    # A session and its film

    def open(self, session: str, shot: str | None = None) -> None:
        """Review a session, at a shot or at its first, with its film at the strike."""
        self.film_desk.put_away()
        self.desk.open(session, shot)
        self.film_desk.to_mark(rest=False)
        self.setFocus()

    def close_film(self) -> None:
        """Put the film away, as when the window closes."""
        self.player.close()

    def refresh(self) -> None:
        """Show what the desk has in hand."""
        snapshot = self.desk.snapshot
        self._stack.setCurrentIndex(1 if snapshot else 0)
        if snapshot is None:
            return
        self._follow_film()
        self.score_line.refresh()
        self._show_ribbon(snapshot)
        self.slip.refresh()
        self.key_board.refresh()
        self._show_table(snapshot)
        self._show_blocks(snapshot)

    def _follow_film(self) -> None:
        is_new = self.film_desk.follow()
        self._show_film_place(self.film_desk.has_film)
        if is_new:
            self.film.show_words("The film is being opened")

    def _show_film_place(self, has_film: bool) -> None:
        """Without a film the table takes the large place."""
        if has_film == self._film_shown:
            return
        self._film_shown = has_film
        self.film.setVisible(has_film)
        if has_film:
            self._table_box.addWidget(self.table)
        else:
            self._film_box.insertWidget(0, self.table, 1)
            self._show_film_open(False)
        self._table_panel.setVisible(has_film)

    def _film_opened(self) -> None:
        index = self.player.index
        if index is not None:
            self.transport.strip.show_film(index.duration_s)
            self._show_film_open(True)

    def _film_failed(self, sentence: str) -> None:
        self.film.show_words(f"{sentence} Tags work without it; “Choose the film” finds it again.")
        self._workspace.messages.say(sentence, "bad")
        self._show_film_open(False)

    def _show_film_open(self, is_open: bool) -> None:
        self._film_button.setVisible(not is_open)
        if not is_open:
            self.transport.show_no_film()

    def _show_picture(self, picture: Picture) -> None:
        self.film.show_picture(picture, late=self.player.late and not self.player.playing)
        self.transport.show_time(picture.time_s)

    # Marks

    def _strike(self) -> None:
        moment = self.film_desk.moment()
        if moment is not None:
            self.desk.strike(moment)

    def _rest(self) -> None:
        moment = self.film_desk.moment()
        if moment is not None:
            self.desk.rest(moment)

    # Moving about

    def _go_to(self, shot: str) -> None:
        self._walk(lambda: self.desk.choose(shot))

    def _walk(self, move: Callable[[], object]) -> None:
        before = self.desk.shot.key if self.desk.shot else None
        move()
        after = self.desk.shot.key if self.desk.shot else None
        if after != before:
            self.film_desk.to_mark(rest=False)

    def _play(self) -> None:
        if self.player.index is None:
            self._workspace.messages.say("There is no film to play here.", "plain")
        self.player.toggle()

    def _note(self) -> None:
        if self.desk.shot is not None:
            self.slip.note.setFocus()
            self.slip.note.selectAll()

    # Showing

    def _show_ribbon(self, snapshot: Snapshot) -> None:
        rack = self.desk.rack
        if rack is None:
            return
        players = [p.id for p in snapshot.head.players or () if not p.ghost]
        roles = {p: self._workspace.theme.player_role(i) for i, p in enumerate(players)}
        shot = self.desk.shot
        self.ribbon.show_ribbon(ribbon_of(snapshot, rack), shot.key if shot else None, roles)
        self._story.setText(rack_story(snapshot.head, rack.complete, self.desk.rack_score))

    def _show_table(self, snapshot: Snapshot) -> None:
        spec = table_spec(snapshot.head.table)
        shot, judged = self.desk.shot, self.desk.shot_score
        if shot is None:
            self.table.show_scene(TableScene(spec))
            return
        record = shot.record
        places = record.before
        note = ""
        if places is None:
            places = dict(starting_layout(snapshot.head.game, spec)) if record.intent == "break" else {}
            note = "" if places else "Where the balls lay is not recorded"
        rest = (record.after or {}).get("cue") if record.before is not None else None
        self.table.show_scene(
            TableScene(
                spec,
                {name: (float(x), float(y)) for name, (x, y) in places.items()},
                judged.balls_on if judged else (),
                record.call.pocket if record.call else None,
                (float(rest[0]), float(rest[1])) if rest is not None else None,
                note,
            )
        )

    def _show_blocks(self, snapshot: Snapshot) -> None:
        recording = self.film_desk.recording
        shot = self.desk.shot
        blocks = tuple(
            Block(s.key, float(s.record.t_strike), float(s.record.t_rest) if s.record.t_rest else None)
            for s in snapshot.shots
            if recording and s.record.recording == recording.id and s.record.t_strike is not None
        )
        self.transport.strip.show_blocks(blocks, shot.key if shot else None)

    def _set_turned(self, turned: bool) -> None:
        """Seen from the side or from the head end: the pockets' letters keep the shape that is seen."""
        from PyQt6.QtGui import QKeySequence

        self._turned = turned
        keys = POCKET_KEYS["end" if turned else "side"]
        for pocket, names in keys.items():
            self.actions_book[f"pocket_{pocket}"].setShortcuts([QKeySequence(name) for name in names])
        self.table.set_turned(turned, {pocket: shown_key(names[0]) for pocket, names in keys.items()})

    def _enlarge(self, what: str) -> None:
        """Let the film or the table fill the space, or bring everything back."""
        self._large = None if self._large == what else what
        for name, parts in (
            ("film", (self._film_panel,)),
            ("table", (self._table_panel,)),
            (None, (self._keys_panel, self._slip_panel, self._ribbon_panel)),
        ):
            for part in parts:
                part.setVisible(self._large is None or self._large == name)
        if not self._film_shown:
            # The table is in the film's place already.
            self._film_panel.setVisible(True)
            self._table_panel.setVisible(False)


def _empty_state() -> QLabel:
    made = label(
        "No session is open. Choose one under Sessions, or begin a new one there (Ctrl+N).", "caption"
    )
    made.setAlignment(Qt.AlignmentFlag.AlignCenter)
    return made
