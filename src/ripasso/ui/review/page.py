"""The Review workspace: composes its parts and connects the keys with the desk and the film."""

from __future__ import annotations

from collections.abc import Callable
from functools import partial

from PyQt6.QtCore import Qt, pyqtSignal
from PyQt6.QtWidgets import QLabel, QStackedLayout, QVBoxLayout, QWidget

from ripasso.film import Picture
from ripasso.ui.actions import ActionBook
from ripasso.ui.review.beside import Beside
from ripasso.ui.review.desk import ReviewDesk
from ripasso.ui.review.film_desk import FilmDesk
from ripasso.ui.review.film_hand import FilmHand
from ripasso.ui.review.film_player import FilmPlayer
from ripasso.ui.review.film_sound import FilmSound
from ripasso.ui.review.film_work import FilmWork
from ripasso.ui.review.find_page import FindPage
from ripasso.ui.review.find_work import FindWork
from ripasso.ui.review.keys import (
    ACTIONS,
    BALL_ACTIONS,
    FLAG_ACTIONS,
    PLAN_ACTIONS,
    POCKET_KEYS,
    TAG_ACTIONS,
)
from ripasso.ui.review.match_page import MatchPage
from ripasso.ui.review.parts import Parts
from ripasso.ui.review.picture_desk import PictureDesk
from ripasso.ui.review.reading_work import ReadingWork
from ripasso.ui.review.score_line import ScoreLine
from ripasso.ui.review.seating import Seating
from ripasso.ui.review.sheet_work import SheetWork
from ripasso.ui.review.shots_view import ShotsView
from ripasso.ui.review.table_work import TableWork, table_functions
from ripasso.ui.widgets.basics import label
from ripasso.ui.workspace import Workspace

#: Keys that hold in every view of Review.
ALWAYS = ("match", "find", "found_next", "found_previous")
#: The places of the views in the stack.
SHOTS, MATCH, FIND = 0, 1, 2


class ReviewPage(QWidget):
    """Everything that is seen of a session under review."""

    film_wanted = pyqtSignal()

    def __init__(self, workspace: Workspace) -> None:
        super().__init__()
        self.setObjectName("page")
        self._workspace = workspace
        theme = workspace.theme
        self.desk = ReviewDesk(workspace.document, workspace.messages.say)
        self.sound = FilmSound(workspace.background)
        self.sound.on = workspace.settings.get("sound")
        self.player = FilmPlayer(workspace.background, self, self.sound)
        self.film_desk = FilmDesk(workspace.document, self.desk, self.player, workspace.messages.say)
        self.pictures = PictureDesk(self.desk, workspace.measures, workspace.messages.say)
        self.pictures.unit = workspace.settings.get("unit")
        own_keys = workspace.settings.get("keys")
        self.actions_book = ActionBook(self, ACTIONS, self._functions(), own_keys)
        self.score_line = ScoreLine(theme, self.desk)
        self.shots = shots = ShotsView(theme, self.desk, self.pictures, workspace.measures, self.actions_book)
        self.ribbon, self.film, self.transport = shots.ribbon, shots.film, shots.transport
        self.table, self.slip, self.key_board = shots.table, shots.slip, shots.key_board
        self.beside = Beside(theme, workspace.background)
        shots.show_beside(self.beside)
        self.match_page = MatchPage(theme, workspace.measures.known)
        services = (workspace.background, workspace.messages.say)
        self.film_hand = FilmHand(self.film, self.player, self.film_desk, self.pictures, services)
        self.parts = Parts(
            self,
            workspace,
            self.actions_book,
            self.desk,
            self.film_desk,
            self.player,
            self.pictures,
            shots,
            self.film_hand,
            self.refresh,
        )
        self.seating, self._sheets = Seating(self.parts), SheetWork(self.parts)
        self.table_work = TableWork(self.parts)
        self.film_work = FilmWork(self.parts, self.beside)
        self.reading = ReadingWork(self.parts)
        self.find_page = FindPage(theme, workspace.settings)
        self.finding = FindWork(self.parts, self.find_page, self._show_found)
        self._compose()
        self._connect()
        self.seating.begin()

    # Building

    def _compose(self) -> None:
        self._views = QStackedLayout()
        self._views.addWidget(self.shots)
        self._views.addWidget(self.match_page)
        self._views.addWidget(self.find_page)
        work = QWidget()
        whole = QVBoxLayout(work)
        whole.setContentsMargins(0, 0, 0, 0)
        whole.setSpacing(0)
        whole.addWidget(self.score_line)
        framed = QVBoxLayout()
        framed.setContentsMargins(10, 8, 10, 8)
        framed.addLayout(self._views)
        whole.addLayout(framed, 1)
        self._stack = QStackedLayout(self)
        self._stack.addWidget(_empty_state())
        self._stack.addWidget(work)

    def _connect(self) -> None:
        self.desk.changed.listen(lambda _none: self.refresh())
        self._workspace.measuring.measured.listen(self._measured)
        self.pictures.changed.listen(lambda _none: self._show_drawn())
        self.shots.film_wanted.connect(self.film_wanted.emit)
        self.ribbon.chosen.connect(self._go_to)
        self.table.ball_clicked.connect(self.desk.meant_ball)
        self.table.pocket_clicked.connect(self.desk.pocket)
        self.slip.left.connect(self.setFocus)
        self.match_page.opened.connect(self._leave_match)
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
            "words": self._words,
            "take_back": self.desk.take_back,
            "accept": lambda: self._help("accept") if self.pictures.looking else self.pictures.finish(),
            "read_film": partial(self._help, "read_film"),
            "forget_reading": partial(self._help, "forget_reading"),
            "next_uncertain": lambda: self._walk(self.reading.next_uncertain),
            "accept_rack": self.desk.accept_rack,
            "other_player": self.desk.other_player,
            "delete_shot": lambda: (
                self.pictures.take_off() if self.pictures.placing else self.desk.delete_shot()
            ),
            "play": self._play,
            "loop": partial(self._help, "loop"),
            "beside": partial(self._help, "beside"),
            "sound": partial(self._help, "sound"),
            "clips": partial(self._help, "clips"),
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
            "turn": partial(self._help, "turn"),
            "match": self._toggle_match,
            "find": self._toggle_find,
            "found_next": lambda: self.finding.step(1),
            "found_previous": lambda: self.finding.step(-1),
            "gap": partial(self._help, "gap"),
            "break_sheet": partial(self._help, "break_sheet"),
            "stretch_from": partial(self._help, "stretch_from"),
            "stretch_to": partial(self._help, "stretch_to"),
            "film_large": partial(self._enlarge, "film"),
            "table_large": partial(self._enlarge, "table"),
        }
        for spec in (*TAG_ACTIONS, *PLAN_ACTIONS):
            functions[spec.id] = partial(self.desk.tag, spec.id)
        for spec in FLAG_ACTIONS:
            functions[spec.id] = partial(self.desk.toggle_term, spec.id)
        for name in ("slip", "options", "rack_sheet"):
            functions[name] = partial(self._help, name)
        # 0 is the cue ball, and behind a 1 it makes 10.
        functions["foul_scratch"] = partial(self._digit, "0")
        for pocket in POCKET_KEYS["side"]:
            functions[f"pocket_{pocket}"] = partial(self.desk.pocket, pocket)
        for spec in BALL_ACTIONS:
            functions[spec.id] = partial(self._digit, spec.keys[0])
        for name in table_functions():
            functions[name] = partial(self._table_key, name)
        return functions

    def _digit(self, digit: str) -> None:
        """A digit is a ball; while balls are placed it is the one that the next click places."""
        if self.pictures.placing:
            self.pictures.digit(digit)
        else:
            self.desk.digit(digit)

    def _help(self, name: str) -> None:
        """What the seating and the sheets do."""
        helpers: dict[str, Callable[[], object]] = {
            "turn": self.seating.turn,
            "loop": self.film_work.loop,
            "beside": self.film_work.keep_beside,
            "sound": partial(self.film_work.toggle_sound, self.sound),
            "clips": self.film_work.show_clips,
            "accept": lambda: self._walk(self.reading.accept),
            "read_film": self.reading.toggle,
            "forget_reading": self.reading.forget,
            "gap": self._sheets.gap,
            "slip": self._sheets.whole_slip,
            "options": self._sheets.options,
            "rack_sheet": self._sheets.rack_sheet,
            "break_sheet": self._sheets.break_sheet,
            "stretch_from": self._sheets.begin_stretch,
            "stretch_to": self._sheets.end_stretch,
        }
        helpers[name]()

    def _table_key(self, name: str) -> None:
        self.table_work.do(name)

    # A session and its film

    def open(self, session: str, shot: str | None = None) -> None:
        """Review a session, at a shot or at its first, with its film at the strike."""
        self.reading.put_away()
        self.film_desk.put_away()
        self.beside.put_away()
        self.seating.begin()
        self._show_view(SHOTS)
        self.desk.open(session, shot)
        self._workspace.measuring.want(session)
        self.film_desk.to_mark(rest=False)
        self.setFocus()

    def close_film(self) -> None:
        """Put the film away, as when the window closes."""
        self.reading.put_away()
        self.player.close()
        self.beside.put_away()

    def refresh(self) -> None:
        """Show what the desk has in hand."""
        snapshot = self.desk.snapshot
        self._stack.setCurrentIndex(1 if snapshot else 0)
        if snapshot is None:
            return
        self._follow_film()
        self.score_line.refresh()
        self.shots.refresh(snapshot, self.film_desk.recording)
        self.show_film_layers()
        begun = self.film_desk.stretch
        self.transport.strip.show_begun(begun.t if begun else None)
        if self._views.currentIndex() == MATCH:
            self.match_page.refresh(snapshot)

    def _show_drawn(self) -> None:
        """A tool was taken or moved: the diagram and the film's lines follow."""
        self._leave_escape()
        self.shots.show_picture()
        self.show_film_layers()

    def _leave_escape(self) -> None:
        """Escape is the tool's only while one is in hand: a note has its own use for it."""
        shots = self._views.currentIndex() == SHOTS
        self.actions_book["put_down"].setEnabled(shots and not self.pictures.looking)

    def show_film_layers(self) -> None:
        """The layers of the shot in hand on the film, through its view."""
        layers = self.film_hand.layers(self.pictures.layers(), self.pictures.on_film)
        self.film.show_layers(layers, self.film_hand.film_size)

    def _measured(self, session: str) -> None:
        """A session was measured in the background: the match page shows its chances."""
        snapshot = self.desk.snapshot
        if snapshot is not None and snapshot.key == session and self._views.currentIndex() == MATCH:
            self.match_page.refresh(snapshot)

    def _follow_film(self) -> None:
        is_new = self.film_desk.follow()
        self.shots.show_film_place(self.film_desk.has_film)
        if is_new:
            self.film.show_words("The film is being opened")

    def _film_opened(self) -> None:
        index = self.player.index
        if index is not None:
            self.transport.strip.show_film(index.duration_s)
            self.shots.show_film_open(True)
            self.film_work.look_through(index)

    def _film_failed(self, sentence: str) -> None:
        self.film.show_words(f"{sentence} Tags work without it; “Choose the film” finds it again.")
        self._workspace.messages.say(sentence, "bad")
        self.shots.show_film_open(False)
        self.film_work.look_for_film()

    def _show_picture(self, picture: Picture) -> None:
        self.film.show_picture(picture, late=self.player.late and not self.player.playing)
        self.transport.show_time(picture.time_s)
        self.film_work.follow()
        self.seating.sit_at_camera()
        self.show_film_layers()

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
        if after != before and self.player.loop is not None:
            self.film_desk.follow_loop()
        elif after != before:
            self.film_desk.to_mark(rest=False)
        self.transport.strip.show_loop(self.player.loop)

    def _play(self) -> None:
        if self.player.index is None:
            self._workspace.messages.say("There is no film to play here.", "plain")
        self.player.toggle()

    def _note(self) -> None:
        if self.desk.shot is not None:
            self.slip.note.setFocus()
            self.slip.note.selectAll()

    def _words(self) -> None:
        if self.desk.shot is None:
            self._workspace.messages.say("No shot is in hand; F marks a strike and begins one.", "plain")
        else:
            self.slip.words.open_line()

    # Views

    def _toggle_match(self) -> None:
        """The match page in the place of the shots, and back."""
        if self._views.currentIndex() == MATCH:
            self._show_view(SHOTS)
            self.setFocus()
        elif self.desk.snapshot is not None:
            self.match_page.refresh(self.desk.snapshot)
            self._show_view(MATCH)
            self.match_page.racks.setFocus()

    def _toggle_find(self) -> None:
        """The search in the place of the shots, and back; it looks through every session."""
        if self._views.currentIndex() == FIND:
            self._show_view(SHOTS)
            self.setFocus()
        else:
            self._stack.setCurrentIndex(1)
            self._show_view(FIND)
            self.find_page.begin()

    def _show_found(self, session: str, shot: str) -> None:
        """A shot that was found, in hand, with the film at its strike."""
        snapshot = self.desk.snapshot
        if snapshot is None or snapshot.key != session:
            self.open(session, shot)
        else:
            self._show_view(SHOTS)
            self._go_to(shot)
            self.setFocus()

    def _show_view(self, view: int) -> None:
        """The keys of a shot hold only while it is seen: nothing is said of one behind the match page."""
        self._views.setCurrentIndex(view)
        for spec in self.actions_book.specs:
            self.actions_book[spec.id].setEnabled(view == SHOTS or spec.id in ALWAYS)
        self._leave_escape()

    def _enlarge(self, what: str) -> None:
        """Let the film or the table fill the space, or bring everything back."""
        self.shots.enlarge(what)

    def _leave_match(self, shot: str) -> None:
        """A line of the match page was opened: its shot, with the film at the strike."""
        self._show_view(SHOTS)
        self._go_to(shot)
        self.setFocus()


def _empty_state() -> QLabel:
    made = label(
        "No session is open. Choose one under Sessions, or begin a new one there (Ctrl+N).", "caption"
    )
    made.setAlignment(Qt.AlignmentFlag.AlignCenter)
    return made
